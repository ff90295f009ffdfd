"""The schema: migrations make what the tables say, text is kept to the letter, keys carry the rules."""

from __future__ import annotations

import shutil
import tempfile
import unittest
from pathlib import Path

from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import inspect, text
from sqlalchemy.exc import IntegrityError

from claykettle.launch.mariadb import PrivateServer
from claykettle.service.visit import Visit
from claykettle.store.database import Database
from claykettle.store.tables import Base, Bench, Day, Section
from tests.support.kept import records_in
from tests.support.server import BEGIN, AppCase, shared_database

UUID = "00000000-0000-4000-8000-000000000001"
AT = "'2026-11-24 17:30:00'"
OLDER = (
    "INSERT INTO section (id, name) VALUES (1, 'Evening')",
    "INSERT INTO day (id, section_id, date, title) VALUES (1, 1, '2026-11-24', 'First')",
    "INSERT INTO bench (id, name) VALUES (1, 'Ball')",
    "INSERT INTO `procedure` (id, name, version, method, title, body) VALUES (1, 'hydrate', 1, 'hydrate', 'H', '"
    '{"name": "hydrate", "version": 1, "method": "hydrate", "title": "H", "caution": "Hot.", "steps": []}'
    "')",
    "INSERT INTO run (id, uuid, day_id, bench_id, procedure_id, method, title, note, options, schools, instruments,"
    " planned, balance, created_at, changed_at, version) VALUES (1, '" + UUID + "', 1, 1, 1, 'hydrate', 'Old', '',"
    f" '{{}}', '{{}}', '{{}}', '{{}}', 'A', {AT}, {AT}, 4)",
    "INSERT INTO trial (id, run_id, position, label) VALUES (1, 1, 0, 'shared'), (2, 1, 1, 'A')",
    "INSERT INTO reading (uuid, trial_id, slot, position, revision, text, unit, instrument, at, `by`, reason, doubt)"
    f" VALUES ('00000000-0000-4000-8000-000000000002', 2, 'vessel', 1, 0, '31.204', 'g', 'A', {AT}, '', '', '')",
    "INSERT INTO step_event (uuid, run_id, step, kind, seconds, at) VALUES"
    f" ('00000000-0000-4000-8000-000000000003', 1, 'fire', 'finished', 0, {AT}),"
    f" ('00000000-0000-4000-8000-000000000004', 1, 'heat#1', 'started', 480, {AT})",
)
"""A run as version 0001 of the schema held it."""


class Migrations(unittest.TestCase):
    def test_they_make_what_the_tables_say(self) -> None:
        database = shared_database()
        with database.engine.connect() as connection:
            context = MigrationContext.configure(connection, opts={"compare_type": True})
            found = [row for row in compare_metadata(context, Base.metadata) if "alembic_version" not in str(row)]
        self.assertEqual(found, [])

    def test_they_run_again_after_being_cut_short(self) -> None:
        """DDL does not roll back: tables without a version row are what a killed migration leaves."""
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        server = records_in(Path(folder.name) / "db", durable=False)
        server.start()
        self.addCleanup(server.stop)
        database = Database(server.url)
        self.addCleanup(database.close)
        with database.engine.begin() as connection:
            connection.execute(text("DELETE FROM alembic_version"))
            connection.execute(text("DROP TABLE observation"))
        database.migrate()
        self.assertIn("observation", inspect(database.engine).get_table_names())

    def test_last_version_s_data_are_brought_along(self) -> None:
        """The steps of a run from before several trials were shown belong to its first trial."""
        folder = Path(tempfile.mkdtemp(prefix="kettle-older-"))
        self.addCleanup(shutil.rmtree, folder, ignore_errors=True)
        server = PrivateServer(folder, fast=True)
        server.start()
        self.addCleanup(server.stop)
        database = Database(server.url)
        self.addCleanup(database.close)
        database.migrate("0001")
        with database.engine.begin() as connection:
            for statement in OLDER:
                connection.execute(text(statement))
        database.migrate()
        with database.transaction() as session:
            run = Visit(session, BEGIN).run(UUID)
        self.assertEqual([(event.step, event.trial) for event in run.step_events], [("fire", "A"), ("heat#1", "A")])
        self.assertEqual([(row.text, row.half_width) for row in run.own_trials[0].readings], [("31.204", "")])
        with database.transaction() as session:
            section, day = session.get_one(Section, 1), session.get_one(Day, 1)
            self.assertEqual((section.elevation, day.instruments), ("", {}))

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
