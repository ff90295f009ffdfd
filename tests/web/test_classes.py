"""Classes laid out: all benches or none, students, the room, who comes late, several a day; taken along."""

from __future__ import annotations

import csv
import io
from datetime import UTC, datetime, timedelta
from typing import Any
from unittest import mock
from uuid import uuid4

import vobject
from python_calamine import CalamineWorkbook
from sqlalchemy import func, select

from claykettle.service.planning import laying_out
from claykettle.store.tables import Day, Place, ReadingRow, RunRow
from tests.support.classes import BLANC_FIXE, ZINC, PrepareCase

FOUR = ("China", "Flint", "Grog")


class ClassCase(PrepareCase):
    def lay_out(self, status: int = 201, students: dict[int, list[str]] | None = None, **more: Any) -> Any:
        """Lay out a class of zinc sulfate."""
        body = {"uuid": more.pop("uuid", str(uuid4())), "students": students or {}}
        for name in ("practical_id", "version"):
            if name in more:
                body[name.removesuffix("_id")] = more.pop(name)
        return self.post("/api/classes", body | {"wish": self.wish(more.pop("practical", None), **more)}, status)

    def count(self, table: Any) -> int:
        """How many rows a table has."""
        with self.database.transaction() as session:
            return session.scalar(select(func.count()).select_from(table)) or 0

    def titles(self) -> list[tuple[str, str]]:
        """Bench and title of the runs listed."""
        return sorted((row["bench"], row["title"]) for row in self.get("/api/runs")["runs"])


class LaidOut(ClassCase):
    def test_every_bench_has_its_run_its_students_and_what_was_planned(self) -> None:
        self.more_benches(*FOUR)
        first, second, *_ = self.benches()
        found = self.lay_out(
            students={first: ["Ada Quill", "Bo Thrush"], second: ["Cy Wren"]}, title="Zinc on Thursday", sample="1.5 g"
        )
        self.assertEqual([place["bench"] for place in found["places"]], ["Bench 1", *FOUR])
        self.assertEqual(found["places"][0]["students"], ["Ada Quill", "Bo Thrush"])
        roster = [row["name"] for row in self.get("/api/roster")["students"]]
        self.assertEqual(roster, ["Ada Quill", "Bo Thrush", "Cy Wren"])
        self.assertEqual(len(self.titles()), 4)
        run = self.get(f"/api/runs/{found['places'][2]['run']}")
        self.assertEqual((run["title"], run["bench"]), ("Zinc on Thursday", "Flint"))
        self.assertEqual([row["label"] for row in run["trials"]], ["1", "2"])
        weighing = next(row for row in run["upcoming"] if row["slot"] == "vessel_sample")
        self.assertEqual(weighing["slot"], "vessel_sample")
        self.assertEqual(self.get("/api/classes")["classes"][0]["title"], "Zinc on Thursday")

    def test_a_laid_out_bench_is_worked_at_like_any_other(self) -> None:
        """31.204, 32.861, 32.135, 32.134 g: water 0.727 of 1.657 g; 0.727/18.015 over 0.930/161.43 is 7.00."""
        found = self.lay_out(practical=ZINC | {"trials": 1}, sample="1.6 g")
        run = self.weigh_all({"uuid": found["places"][0]["run"]}, "32.135", "32.134")
        self.assertIn("7.0", run["answer"]["headline"])

    def test_the_same_class_sent_twice_is_one(self) -> None:
        self.more_benches(*FOUR)
        key = str(uuid4())
        one, other = self.lay_out(uuid=key), self.lay_out(uuid=key)
        self.assertEqual(one["id"], other["id"])
        # its answer was lost on the way, and its name was thought better of
        again = self.lay_out(uuid=key, title="Another name")
        self.assertEqual((again["id"], again["title"]), (one["id"], one["title"]))
        self.assertEqual(self.count(RunRow), 4)

    def test_nobody_stands_at_two_benches(self) -> None:
        self.more_benches("China")
        first, second = self.benches()
        problem = self.lay_out(422, students={first: ["Ada Quill"], second: [" ada  quill", "Bo Thrush"]})
        self.assertEqual([row["path"] for row in problem["faults"]], [f"students.{second}"])
        self.assertIn("Bench 1", problem["faults"][0]["message"])

    def test_all_benches_or_none(self) -> None:
        """The third bench fails: there is no class, no run and no place."""
        self.more_benches(*FOUR)
        begin, calls = laying_out._begin, []

        def failing(*told: Any) -> Any:
            calls.append(told)
            if len(calls) == 3:
                raise RuntimeError("the third bench fails")
            return begin(*told)

        days = self.count(Day)
        with mock.patch.object(laying_out, "_begin", failing), self.assertLogs(self.app.logger, "ERROR"):
            self.lay_out(500)
        self.assertEqual((self.count(RunRow), self.count(Place), self.count(Day)), (0, 0, days))
        self.lay_out()
        self.assertEqual(self.count(RunRow), 4)

    def test_what_is_wrong_is_told_and_nothing_laid_out(self) -> None:
        problem = self.lay_out(422, date="2020-01-01", length="")
        self.assertEqual({row["path"] for row in problem["faults"]}, {"date", "length"})
        self.assertEqual(self.count(RunRow), 0)
        bench = self.benches()[0]
        problem = self.lay_out(422, students={bench: ["Ada", "ada"]})
        self.assertEqual({row["path"] for row in problem["faults"]}, {f"students.{bench}"})
        self.assertEqual((self.count(RunRow), self.count(Place)), (0, 0))

    def test_two_of_one_name_on_a_day_are_told_apart(self) -> None:
        self.lay_out(title="Zinc")
        problem = self.lay_out(422, title="Zinc")
        self.assertEqual(problem["faults"][0]["path"], "title")
        self.lay_out(title="Zinc, second group", starts="20:00")

    def test_the_room_s_readings_of_today_come_along(self) -> None:
        self.post("/api/today/room", {"uuid": str(uuid4()), "slot": "barometer", "text": "952.4"})
        zinc = {"method": "gas_over_water", "options": {"reagent": "Zn", "equation": "Zn + 2 HCl -> ZnCl2 + H2"}}
        found = self.lay_out(practical=zinc, sample="0.1 g")
        run = self.get(f"/api/runs/{found['places'][0]['run']}")
        self.assertEqual([row["text"] for row in run["readings"] if row["slot"] == "barometer"], ["952.4"])

    def test_tomorrow_s_class_is_not_today_s(self) -> None:
        tomorrow = (self.clock.now + timedelta(days=1)).date().isoformat()
        before = self.get("/api/today")["day"]
        self.lay_out(title="Tomorrow", date=tomorrow)
        self.assertEqual(self.get("/api/today")["day"], before)
        self.clock.move(days=1)
        self.client = self.signed_in(self.app)
        self.assertEqual(self.get("/api/class")["title"], "Tomorrow")

    def test_of_several_a_day_that_is_at_work_which_began_last(self) -> None:
        """The tests' clock stands at 17:30 UTC."""
        self.lay_out(title="Morning", starts="09:00")
        self.lay_out(title="Evening", starts="18:30")
        self.assertEqual(self.get("/api/class")["title"], "Morning")
        self.clock.move(minutes=40)
        self.assertEqual(self.get("/api/class")["title"], "Evening")

    def test_a_practical_s_own_steps_are_those_of_its_runs(self) -> None:
        document = self.post("/api/practicals", {"document": ZINC | {"name": "Zinc"}}, 201)["document"]
        steps = document["procedure"]["steps"]
        steps.insert(1, {"id": "show", "title": "Show the instructor", "say": "Before it is weighed."})
        found = self.lay_out(practical=document)
        again = self.lay_out(practical=document, title="Again")
        runs = [self.get(f"/api/runs/{row['places'][0]['run']}") for row in (found, again)]
        for run in runs:
            self.assertIn("show", [step["key"] for step in run["steps"]])
        plain = self.start()
        self.assertNotIn("show", [step["key"] for step in plain["steps"]])
        self.assertNotIn("own_", str(self.get("/api/shelf")["methods"]))

    def test_a_practical_s_own_window_goes_before_what_was_sized(self) -> None:
        """Between 1.4 and 1.6 g, whatever would be best; 32.4 g on a 30 g vessel is outside."""
        window = {"planned": {"sample": {"low": "1.4 g", "high": "1.6 g"}}}
        run = {"uuid": self.lay_out(practical=ZINC | window)["places"][0]["run"]}
        self.weigh(run, "vessel", "30.000")
        problem = self.weigh(run, "vessel_sample", "32.400", status=409)
        self.assertIn("1.4", problem["title"])
        self.weigh(run, "vessel_sample", "31.500")
        problem = self.post("/api/prepare", self.wish(ZINC | {"planned": {"sample": {"low": "2 g", "high": "1 g"}}}))
        self.assertEqual([row["part"] for row in problem["faults"]], ["sample"])

    def test_a_stranger_sees_nothing_of_it(self) -> None:
        found = self.lay_out()
        self.client.delete_cookie("kettle")
        self.get(f"/api/classes/{found['id']}", 401)
        self.get(f"/api/classes/{found['id']}/calendar", 401)


class Places(ClassCase):
    def test_a_bench_drops_out_and_comes_back_with_all_that_it_recorded(self) -> None:
        self.more_benches(*FOUR)
        found = self.lay_out()
        place = found["places"][1]
        self.weigh({"uuid": place["run"]}, "vessel", "31.204")
        out = self.post(f"/api/classes/{found['id']}/places", {"bench": place["bench_id"], "is_out": True})
        self.assertTrue(out["places"][1]["is_out"])
        listed = {row["bench"]: row["is_out"] for row in self.get("/api/runs")["runs"]}
        self.assertEqual(listed, {"Bench 1": False, "China": True, "Flint": False, "Grog": False})
        self.assertEqual(self.count(ReadingRow), 1)
        back = self.post(f"/api/classes/{found['id']}/places", {"bench": place["bench_id"], "is_out": False})
        self.assertEqual((back["places"][1]["is_out"], back["places"][1]["run"]), (False, place["run"]))

    def test_a_bench_that_comes_late_begins_the_same_practical(self) -> None:
        found = self.lay_out(sample="1.5 g")
        self.more_benches("Marl")
        late = next(row["id"] for row in self.get("/api/shelf")["benches"] if row["name"] == "Marl")
        self.clock.move(hours=3)
        after = self.post(f"/api/classes/{found['id']}/places", {"bench": late, "students": ["Dee Finch"]})
        self.assertEqual(after["places"][-1]["students"], ["Dee Finch"])
        runs = [self.get(f"/api/runs/{place['run']}") for place in after["places"]]
        self.assertEqual(runs[0]["steps"], runs[1]["steps"])
        self.assertEqual(len(runs[1]["trials"]), 2)

    def test_a_bench_that_is_not_there_is_told(self) -> None:
        found = self.lay_out()
        self.post(f"/api/classes/{found['id']}/places", {"bench": 99999}, 422)
        self.post("/api/classes/99999/places", {"bench": 1}, 404)


class TakenBack(ClassCase):
    def test_a_class_laid_out_by_mistake_is_taken_back_and_its_name_is_free(self) -> None:
        found = self.lay_out(title="Zinc", practical=ZINC | {"trials": 1}, sample="1.6 g")
        self.assertEqual(self.client.delete(f"/api/classes/{found['id']}").status_code, 200)
        self.assertEqual(self.get("/api/classes")["classes"], [])
        self.assertEqual([row["is_out"] for row in self.get("/api/runs")["runs"]], [True])
        place = {"bench": found["places"][0]["bench_id"]}
        self.post(f"/api/classes/{found['id']}/places", place, 422)
        again = self.lay_out(title="Zinc", practical=ZINC | {"trials": 1}, sample="1.6 g")
        self.assertNotEqual(again["id"], found["id"])
        self.weigh({"uuid": again["places"][0]["run"]}, "vessel", "31.204")
        refused = self.client.delete(f"/api/classes/{again['id']}")
        self.assertEqual(refused.status_code, 422)
        self.assertIn("recorded already", refused.json["faults"][0]["message"])
        self.assertEqual(len(self.get("/api/classes")["classes"]), 1)

    def test_the_room_s_readings_are_not_the_bench_s_own(self) -> None:
        self.post("/api/today/room", {"uuid": str(uuid4()), "slot": "barometer", "text": "952.4"})
        zinc = {"method": "gas_over_water", "options": {"reagent": "Zn", "equation": "Zn + 2 HCl -> ZnCl2 + H2"}}
        found = self.lay_out(practical=zinc, sample="0.1 g")
        self.assertEqual(self.client.delete(f"/api/classes/{found['id']}").status_code, 200)


class TakenAlong(ClassCase):
    """The calendar is read by a library that did not write it (vobject), the spreadsheet by a third (calamine)."""

    def calendar(self, number: int) -> Any:
        """The class's calendar as another library reads it."""
        return vobject.readOne(self.client.get(f"/api/classes/{number}/calendar").get_data(as_text=True))

    def test_the_calendar_says_when_in_whatever_zone(self) -> None:
        """18:30 in Berlin on 2027-03-27, a winter day, is 17:30 UTC; the day after, in summer time, 16:30."""
        self.in_zone("Europe/Berlin")
        for day, hour in (("2027-03-27", 17), ("2027-03-28", 16)):
            found = self.lay_out(date=day, length="150 min", sample="1.5 g")
            events = {row.summary.value: row for row in self.calendar(found["id"]).vevent_list}
            event = events[found["title"]]
            year, month, date = (int(part) for part in day.split("-"))
            begins = datetime(year, month, date, hour, 30, tzinfo=UTC)
            self.assertEqual((event.dtstart.value, event.dtend.value), (begins, begins + timedelta(minutes=150)))
            self.assertEqual(event.valarm.trigger.value, timedelta(days=-1))
            self.assertIn("3.60 g", event.description.value)
            self.assertEqual(events[f"Set out: {found['title']}"].dtend.value, begins)

    def test_what_dries_over_night_is_to_be_fetched(self) -> None:
        found = self.lay_out(practical={"method": "precipitation", "options": BLANC_FIXE}, length="3 h")
        [todo] = self.calendar(found["id"]).vtodo_list
        event = next(row for row in self.calendar(found["id"]).vevent_list if row.summary.value == found["title"])
        self.assertEqual(todo.due.value - event.dtend.value, timedelta(hours=16))
        self.assertIn("oven", todo.summary.value)

    def test_the_lists_as_a_spreadsheet_and_as_csv_say_the_same(self) -> None:
        self.more_benches(*FOUR)
        found = self.lay_out(students={self.benches()[0]: ["Ada Quill"]}, sample="1.5 g")
        path = f"/api/classes/{found['id']}/lists"
        book = CalamineWorkbook.from_filelike(io.BytesIO(self.client.get(path).get_data()))
        sheets = {name: book.get_sheet_by_name(name).to_python() for name in book.sheet_names}
        self.assertEqual(sheets["Store"][1][:2], ["zinc sulfate heptahydrate", "14.4 g"])  # 4 × 2 × 1.5 g × 1.2
        self.assertEqual(sheets["Benches"][1][:2], ["Bench 1", "Ada Quill"])
        self.assertEqual([row[0] for row in sheets["Timetable"][1:]], ["Bench 1", *FOUR])
        self.assertEqual(len([row for row in sheets["Labels"] if row[1] == "pencil"]), 8)
        text = self.client.get(f"{path}?written=csv").get_data().decode("utf-8-sig")
        rows = list(csv.reader(io.StringIO(text)))
        for name, sheet in sheets.items():
            mine = [[cell for cell in row[1:] if cell] for row in rows if row[0] == name]
            self.assertEqual(mine, [[cell for cell in row if cell != ""] for row in sheet], name)

    def test_a_class_long_ago_is_taken_along_too(self) -> None:
        found = self.lay_out(sample="1.5 g")
        self.clock.move(days=100)
        self.client = self.signed_in(self.app)
        data = self.client.get(f"/api/classes/{found['id']}/lists").get_data()
        book = CalamineWorkbook.from_filelike(io.BytesIO(data))
        self.assertEqual(len(book.get_sheet_by_name("Timetable").to_python()), 2)
