"""What a first start makes, once; the day of a new run; and procedures that never change under a run."""

from __future__ import annotations

from datetime import timedelta

from sqlalchemy import func, select

from claykettle.core.methods.registry import shipped_procedures
from claykettle.service.shelf.day import the_day
from claykettle.service.shelf.procedures import latest_procedures
from claykettle.service.shelf.shelf import first_start
from claykettle.service.visit import Visit
from claykettle.store.tables import Bench, Day, ProcedureRow, Section
from tests.support.server import AppCase


class FirstStart(AppCase):
    def test_a_second_start_adds_nothing(self) -> None:
        with self.database.transaction() as session:
            first_start(Visit(session, self.clock.now))
            for table in (Section, Day, Bench):
                self.assertEqual(session.scalar(select(func.count()).select_from(table)), 1)
            self.assertEqual(session.scalar(select(func.count()).select_from(ProcedureRow)), len(shipped_procedures()))

    def test_a_text_that_stands_here_otherwise_under_its_version_stays_and_the_shipped_one_comes_behind(self) -> None:
        """A run that froze version 1 must find version 1 as it was; a house still starts."""
        with self.database.transaction() as session:
            row = session.scalars(select(ProcedureRow).limit(1)).one()
            name, version, shipped = row.name, row.version, row.body
            row.body = {**row.body, "title": "Something else"}
        for _ in range(2):
            with self.database.transaction() as session:
                first_start(Visit(session, self.clock.now))
                rows = session.scalars(
                    select(ProcedureRow).where(ProcedureRow.name == name).order_by(ProcedureRow.version)
                )
                found = [(row.version, row.body["title"], row.body["version"]) for row in rows]
                self.assertEqual(
                    found,
                    [(version, "Something else", version), (version + 1, shipped["title"], version + 1)],
                )

    def test_the_latest_version_is_offered(self) -> None:
        with self.database.transaction() as session:
            old = session.scalars(select(ProcedureRow).where(ProcedureRow.name == "hydrate_constant_mass")).one()
            session.add(
                ProcedureRow(
                    name=old.name,
                    version=old.version + 1,
                    method="hydrate",
                    title="Newer",
                    body=old.body | {"title": "Newer"},
                )
            )
            session.flush()
            titles = {row.name: row.course.title for row in latest_procedures(Visit(session, self.clock.now))}
        self.assertEqual(titles["hydrate_constant_mass"], "Newer")


class Days(AppCase):
    def test_a_run_on_another_day_gets_that_day_under_the_same_title(self) -> None:
        with self.database.transaction() as session:
            today = the_day(Visit(session, self.clock.now))
            again = the_day(Visit(session, self.clock.now))
            tomorrow = the_day(Visit(session, self.clock.now + timedelta(days=1)))
            self.assertEqual(today.id, again.id)
            self.assertNotEqual(today.id, tomorrow.id)
            self.assertEqual((tomorrow.title, tomorrow.section_id), (today.title, today.section_id))


class NewRuns(AppCase):
    def test_what_is_gone_from_the_shelf_is_said_at_its_field(self) -> None:
        for field, code in (("bench_id", "unknown-bench"), ("balance_id", "unknown-balance")):
            fault = self.start(422, **{field: 999})["faults"][0]
            self.assertEqual((fault["path"], fault["code"]), (field, code))
        fault = self.start(422, procedure="combination")["faults"][0]
        self.assertEqual((fault["path"], fault["code"]), ("procedure", "unknown-procedure"))
        faults = self.start(422, schools={"weighing": "by eye"})["faults"]
        self.assertEqual(faults[0]["path"], "schools.weighing")
