"""The schema: migrations make what the tables say, text is kept to the letter, keys carry the rules."""

from __future__ import annotations

import unittest

from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import inspect, text
from sqlalchemy.exc import IntegrityError

from claykettle.store.tables import Base, Bench
from tests.support.server import AppCase, shared_database


class Migrations(unittest.TestCase):
    def test_they_make_what_the_tables_say(self) -> None:
        database = shared_database()
        with database.engine.connect() as connection:
            context = MigrationContext.configure(connection, opts={"compare_type": True})
            found = [row for row in compare_metadata(context, Base.metadata) if "alembic_version" not in str(row)]
        self.assertEqual(found, [])

    def test_they_run_again_after_being_cut_short(self) -> None:
        """DDL does not roll back: tables without a version row are what a killed migration leaves."""
        database = shared_database()
        with database.engine.begin() as connection:
            connection.execute(text("DELETE FROM alembic_version"))
            connection.execute(text("DROP TABLE observation"))
        database.migrate()
        self.assertIn("observation", inspect(database.engine).get_table_names())

    def test_every_text_is_case_sensitive_utf8(self) -> None:
        query = (
            "SELECT DISTINCT collation_name FROM information_schema.columns WHERE table_schema = DATABASE() "
            "AND table_name <> 'alembic_version' AND collation_name IS NOT NULL AND data_type <> 'longtext'"
        )
        with shared_database().engine.connect() as connection:
            self.assertEqual(list(connection.scalars(text(query))), ["utf8mb4_nopad_bin"])


class Keys(AppCase):
    def test_co_is_not_co2_s_lower_case_nor_its_subscript(self) -> None:
        with self.database.transaction() as session:
            session.add_all([Bench(name="Co"), Bench(name="CO"), Bench(name="CO₂"), Bench(name="CO2")])

    def test_a_name_stands_once(self) -> None:
        with self.assertRaises(IntegrityError), self.database.transaction() as session:
            session.add_all([Bench(name="Ball"), Bench(name="Ball")])
