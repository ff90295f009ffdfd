"""What lists say: the same as the run itself, page by page, under the names of today, and anew after an update."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from typing import Any
from unittest import mock
from urllib.parse import quote

from sqlalchemy import event, select, text, update
from sqlalchemy.exc import OperationalError

from claykettle.launch.house import sum_up_anew
from claykettle.service import summaries
from claykettle.service.laboratory import Laboratory
from claykettle.service.shelf.remains import LeftOfRun, remains_text
from claykettle.service.summaries import sum_up_numbers, to_sum_up
from claykettle.service.views.listing import PAGE, summary_view
from claykettle.service.visit import Visit
from claykettle.store.database import Database
from claykettle.store.records import StoredRun
from claykettle.store.summaries import keep_summary
from claykettle.store.tables import SummaryRow
from tests.support.demo import DemoCase
from tests.support.server import AppCase, scene


class OfTheDemo(DemoCase):
    @scene
    def play(self) -> None:
        super().play()
        self.client = self.signed_in(self.app, "demo")

    def test_every_line_is_what_the_run_itself_says(self) -> None:
        first = self.get("/api/runs")
        rest = self.get(f"/api/runs?older={quote(first['older'])}")
        rows = {row["uuid"]: row for row in (*first["runs"], *rest["runs"])}

        def lines(visit: Visit) -> list[Any]:
            return [summary_view(run).model_dump(mode="json") for run in visit.runs()]

        made = self.laboratory.ask(lines)
        self.assertGreater(len(made), 20)
        for line in made:
            self.assertEqual(rows[line["uuid"]], line)

    def test_what_is_kept_of_the_waste_is_what_the_methods_say(self) -> None:
        """Formulas become text and come back, charges and water too; amounts are not rounded on the way."""

        def as_kept(visit: Visit) -> list[tuple[Any, Any]]:
            found = []
            for run in visit.runs():
                said = []
                for trial in run.evaluation.trials:
                    word = next((word.text for word in trial.words.values()), None)
                    said.append(tuple(run.method.aftercare.remains(trial.trial, word)))
                kept = LeftOfRun.model_validate_json(remains_text(run)).left()
                found.append((said, [row.remains for row in kept]))
            return found

        pairs = self.laboratory.ask(as_kept)
        self.assertGreater(sum(len(said) > 0 and said[0] != () for said, _ in pairs), 10)
        for said, kept in pairs:
            self.assertEqual(kept, said)

    def test_the_waste_of_a_day_is_that_of_its_runs_and_of_no_other_day(self) -> None:
        rows = self.get("/api/runs")["runs"]
        latest = max(row["date"] for row in rows)
        names = sorted(f"{row['title']}, {row['bench']}" for row in rows if row["date"] == latest)
        day = self.get("/api/waste")
        self.assertEqual((day["title"], sorted(day["runs"])), (latest, names))
        self.assertTrue(any(box["lines"] for box in day["sheet"]["containers"]))
        self.assertEqual(self.get("/api/waste?day=1999-01-01")["runs"], [])

    def test_what_dries_beyond_so_many_is_said(self) -> None:
        self.assertFalse(self.get("/api/drying")["is_cut"])
        with mock.patch("claykettle.service.views.drying.MOST", 1):
            self.assertTrue(self.get("/api/drying")["is_cut"])

    def test_nothing_is_evaluated_and_no_reading_is_read_to_list(self) -> None:
        asked: list[str] = []

        def note(connection: Any, cursor: Any, statement: str, *rest: Any) -> None:
            asked.append(statement)

        event.listen(self.database.engine, "before_cursor_execute", note)
        self.addCleanup(event.remove, self.database.engine, "before_cursor_execute", note)
        with mock.patch.object(StoredRun, "evaluation", new_callable=mock.PropertyMock, side_effect=AssertionError):
            with self.assertRaises(AssertionError):
                self.laboratory.ask(lambda visit: next(visit.runs()).evaluation)  # it would be noticed
            asked.clear()
            for path in ("/api/runs", "/api/drying", "/api/waste", "/api/runs/calibrations?method=gas_by_mass_loss"):
                self.get(path)
        self.assertFalse([row for row in asked if "reading" in row or "step_event" in row])

    def test_after_an_update_all_are_made_anew(self) -> None:
        self.assertEqual(self.laboratory.ask(to_sum_up), [])
        before = self.get("/api/runs")
        with mock.patch.object(summaries, "program_mark", lambda: "another"):
            numbers = self.laboratory.ask(to_sum_up)
            self.assertGreater(len(numbers), len(before["runs"]))
            self.laboratory.ask(sum_up_numbers, numbers)
            self.assertEqual(self.laboratory.ask(to_sum_up), [])
        self.assertEqual(self.get("/api/runs"), before)

    def test_a_run_that_the_program_cannot_evaluate_keeps_no_house_shut(self) -> None:
        before = self.get("/api/runs")["runs"]
        with self.database.engine.begin() as connection:
            connection.execute(text("UPDATE run SET options = '{\"salt\": 5}' WHERE uuid = :uuid"), before[3])
            connection.execute(text("UPDATE summary SET version = 0"))
        with mock.patch("claykettle.launch.house.say") as said:
            sum_up_anew(Laboratory(Database(self.database.url)))
        self.assertEqual(said.call_count, 2)
        self.assertIn("cannot be summed up", said.call_args.args[0])
        self.assertEqual(len(self.laboratory.ask(to_sum_up)), 1)
        self.assertEqual(self.get("/api/runs")["runs"], before)

    def test_a_summary_that_is_behind_its_run_is_found(self) -> None:
        def spoil(visit: Visit) -> None:
            visit.session.execute(update(SummaryRow).where(SummaryRow.run_id == first).values(version=0))

        first = self.laboratory.ask(lambda visit: min(visit.session.scalars(select(SummaryRow.run_id))))
        self.laboratory.ask(spoil)
        self.assertEqual(self.laboratory.ask(to_sum_up), [first])


class WhenListed(AppCase):
    """A reading does not make what lists say: whoever asks for a list next does, once."""

    def test_a_list_says_at_once_what_was_recorded(self) -> None:
        run = self.start()
        for slot, figure in (("vessel", "31.204"), ("vessel_sample", "32.861")):
            self.weigh(run, slot, figure)
            with self.subTest(slot):
                self.assertEqual(self.summed_up_with(lambda: self.get("/api/class")), 1)
                self.assertEqual(self.summed_up_with(lambda: self.get("/api/runs")), 0)
                self.assertEqual(self.version_listed(), self.get(f"/api/runs/{run['uuid']}")["version"])

    def test_readings_that_nobody_lists_in_between_are_summed_up_once(self) -> None:
        run = self.start()

        def readings() -> None:
            self.weigh(run, "vessel", "31.204")
            self.weigh(run, "vessel_sample", "32.861")

        self.assertEqual(self.summed_up_with(readings), 0)
        self.assertEqual(self.summed_up_with(lambda: self.get("/api/runs")), 1)

    def test_a_question_after_a_reading_that_nobody_listed_stands_on_the_board(self) -> None:
        run = self.start()
        self.weigh(run, "vessel", "31.204")
        self.weigh(run, "vessel_sample", "32.861")
        asked = self.weigh(run, "vessel_residue", "33.151", status=409)
        for _ in range(2):
            self.assertEqual(self.asks(), asked["title"])
        self.weigh(run, "vessel_residue", "32.151")
        self.assertEqual(self.asks(), "")

    def test_what_another_is_just_recording_is_listed_as_it_stood_and_then_as_it_stands(self) -> None:
        run = self.start()
        before = self.get("/api/runs")
        self.weigh(run, "vessel", "31.204")
        with self.database.transaction() as other:
            other.execute(text("SELECT id FROM run WHERE uuid = :uuid FOR UPDATE"), {"uuid": run["uuid"]})
            # nobody waits for it, and nothing is said of it that is not committed
            self.assertEqual(self.summed_up_with(lambda: self.get("/api/runs")), 0)
            self.assertEqual(self.get("/api/runs"), before)
        self.assertEqual(self.summed_up_with(lambda: self.get("/api/runs")), 1)
        self.assertNotEqual(self.get("/api/runs"), before)

    def test_where_it_cannot_be_kept_lists_say_what_they_said(self) -> None:
        run = self.start()
        before = self.get("/api/runs")
        self.weigh(run, "vessel", "31.204")
        full = OperationalError("INSERT", {}, Exception(1021, "Disk full"))
        kept_away = mock.patch.object(summaries, "keep_summary", side_effect=full)
        with kept_away, self.assertLogs("claykettle", "WARNING"):
            self.assertEqual(self.get("/api/runs"), before)
        self.assertNotEqual(self.get("/api/runs"), before)

    def test_a_run_of_which_nothing_can_be_made_is_told_once_and_shuts_no_list(self) -> None:
        broken, whole = self.start(title="broken"), self.start(title="whole")
        before = self.get("/api/runs")["runs"]
        self.weigh(whole, "vessel", "31.204")
        with self.database.engine.begin() as connection:
            broke = (
                "UPDATE run SET options = '{\"salt\": 5}', version = version + 1, is_summed_up = 0 WHERE uuid = :uuid"
            )
            connection.execute(text(broke), broken)
        with self.assertLogs("claykettle", "ERROR") as told:
            after = self.get("/api/runs")["runs"]
        self.assertEqual(len(told.output), 1)
        self.assertEqual([row["title"] for row in after], ["whole", "broken"])
        self.assertEqual(after[1], next(row for row in before if row["title"] == "broken"))
        with self.assertNoLogs("claykettle", "ERROR"):
            self.get("/api/runs")

    def summed_up_with(self, do: Callable[[], Any]) -> int:
        """How many summaries were made by that."""
        with mock.patch.object(summaries, "keep_summary", wraps=keep_summary) as kept:
            do()
        return kept.call_count

    def version_listed(self) -> Any:
        return self.laboratory.ask(lambda visit: visit.session.scalar(select(SummaryRow.version)))

    def asks(self) -> str:
        self.get("/api/class")
        with self.database.transaction() as session:
            return str(session.scalar(select(SummaryRow.asks)))


class Pages(AppCase):
    def test_every_run_stands_on_one_page_also_where_two_were_changed_at_the_same_moment(self) -> None:
        made = []
        for number in range(2 * PAGE + 3):
            made.append(self.start(title=f"Run {number}")["uuid"])
            if number % 3:
                self.clock.move(seconds=1)
        seen: list[str] = []
        older = ""
        for size in (PAGE, PAGE, 3):
            page = self.get(f"/api/runs?older={older.replace('+', '%2B')}")
            self.assertEqual(len(page["runs"]), size)
            seen += [row["uuid"] for row in page["runs"]]
            older = page["older"]
        self.assertEqual(older, "")
        self.assertEqual(seen, made[::-1])

    def test_a_page_that_is_none_is_refused_in_words(self) -> None:
        none = ("x", "2026-01-01/x", "9999-99-99/1", "2026-01-01T00:00:00/", "1e400/1", "0001-01-01T00:00+14:00/1")
        for written in none:
            with self.subTest(written):
                problem = self.client.get("/api/runs", query_string={"older": written})
                self.assertEqual(problem.status_code, 422, problem.text)
                self.assertEqual(problem.json["faults"][0]["path"], "older")

    def test_the_runs_of_a_day(self) -> None:
        self.start(title="Monday's")
        self.clock.now += timedelta(days=1)
        self.start(title="Tuesday's")
        day = self.clock.now.date().isoformat()
        self.assertEqual([row["title"] for row in self.get(f"/api/runs?day={day}")["runs"]], ["Tuesday's"])
        self.assertEqual(len(self.get("/api/runs")["runs"]), 2)
        self.assertEqual(self.get("/api/runs?day=1999-01-01")["runs"], [])

    def test_a_bench_and_a_section_under_another_name_are_so_everywhere(self) -> None:
        run = self.start()
        here = self.get("/api/sections")["sections"][0]
        bench = self.get("/api/shelf")["benches"][0]
        self.post("/api/class/benches", {"number": bench["id"], "name": "Window", "retired": False})
        self.post(f"/api/sections/{here['id']}/name", {"name": "Thursday evening"})
        row = self.get("/api/runs")["runs"][0]
        self.assertEqual((row["bench"], row["section"]), ("Window", "Thursday evening"))
        page = self.get(f"/api/runs/{run['uuid']}?seen={run['version']}")
        self.assertEqual((page["bench"], page["section"]), ("Window", "Thursday evening"))
        self.assertEqual(self.laboratory.ask(to_sum_up), [])
        # what was looked at before goes on where it was
        self.weigh(page, "vessel", "31.204")
        self.assertEqual(self.get("/api/runs")["runs"][0]["bench"], "Window")
