"""Runs over HTTP: from the start to the formula, corrections, conflicts, timers, export and import."""

from __future__ import annotations

import csv
import io
import json
from concurrent.futures import ThreadPoolExecutor
from typing import Any
from uuid import uuid4

from sqlalchemy import select

from claykettle.core.methods.registry import all_methods
from claykettle.core.run import evaluate_run
from claykettle.formats.run_file import read_run
from claykettle.store.tables import ReadingRow
from tests.support.runs import document
from tests.support.server import AppCase


class FromStartToFormula(AppCase):
    def test_a_first_start_needs_no_set_up(self) -> None:
        shelf = self.get("/api/shelf")
        self.assertEqual((len(shelf["benches"]), len(shelf["balances"])), (1, 1))
        names = [method["name"] for method in shelf["methods"]]
        self.assertEqual(names, sorted(all_methods()))
        self.assertTrue(all(method["procedures"] for method in shelf["methods"]))

    def test_a_run_grows_reading_by_reading(self) -> None:
        run = self.start()
        self.assertEqual((run["entry"]["slot"], run["answer"]["text"]), ("vessel", None))
        run = self.weigh_all(run, "32.151")
        self.assertEqual(run["answer"]["why_provisional"], "Provisional: the mass has not settled")
        self.assertEqual((run["entry"]["slot"], run["entry"]["position"]), ("vessel_residue", 2))
        run = self.weigh(run, "vessel_residue", "32.136", 2)
        self.assertIn("Heating 3 decides", " ".join(v["text"] for v in run["trial"]["verdicts"]))
        run = self.weigh(run, "vessel_residue", "32.134", 3)
        self.assertFalse(run["answer"]["provisional"])
        self.assertEqual(run["answer"]["formula"], {"text": "ZnSO4·7H2O", "nearest": "ZnSO4·7H2O", "matches": 1})
        self.assertEqual([row["text"] for row in run["stair"]], ["31.204", "32.861", "32.151", "32.136", "32.134"])
        self.assertEqual(run["entry"]["step"], None)

    def test_a_course_that_does_not_fit_the_options_is_refused_and_no_run_is_there(self) -> None:
        gas = {
            "method": "gas_over_water",
            "options": {"tube": {"reading": "inverted_burette", "mark": "50 mL"}},
            "schools": {"tube": "cylinder"},
        }
        problem = self.start(422, **gas)
        self.assertEqual([(row["code"], row["path"]) for row in problem["faults"]], [("course", "")])
        self.assertIn("dead volume", problem["title"])
        self.assertEqual(self.get("/api/runs")["runs"], [])
        self.start(201, **gas | {"schools": {"tube": "burette"}})

    def test_typed_text_is_kept_to_the_letter(self) -> None:
        run = self.start()
        self.weigh(run, "vessel", "31,20", confirmed=True)
        run = self.weigh(run, "vessel_sample", "32861 mg")
        self.assertEqual([(row["text"], row["unit"]) for row in run["readings"]], [("31,20", "g"), ("32861", "mg")])
        with self.database.transaction() as session:
            self.assertEqual(
                [row.text for row in session.scalars(select(ReadingRow).order_by(ReadingRow.id))], ["31,20", "32861 mg"]
            )
        self.assertAlmostEqual(next(r["value"] for r in run["trial"]["results"] if r["name"] == "sample_mass"), 1.661)

    def test_the_list_says_what_each_run_waits_for(self) -> None:
        self.weigh_all(self.start(), "32.151")
        row = self.get("/api/runs")["runs"][0]
        self.assertEqual((row["state"], row["doing"]), ("waiting", "Heat, round 2"))


class Entry(AppCase):
    def test_bad_input_has_its_message_at_its_place_and_nothing_is_recorded(self) -> None:
        run = self.start()
        for text, code in (
            ("thirty", "not-a-number"),
            ("31.2 mL", "wrong-dimension"),
            ("-3", "negative"),
            ("9999999", "out-of-range"),
            ("", "empty"),
        ):
            with self.subTest(text):
                problem = self.weigh(run, "vessel", text, status=422)
                self.assertEqual((problem["faults"][0]["code"], problem["faults"][0]["path"]), (code, "text"))
        self.assertEqual(self.get(f"/api/runs/{run['uuid']}")["readings"], [])

    def test_the_same_uuid_twice_is_one_reading(self) -> None:
        run, uuid = self.start(), str(uuid4())
        self.weigh(run, "vessel", "31.204", uuid=uuid)
        again = self.weigh(run, "vessel", "31.204", uuid=uuid)
        self.assertEqual(len(again["readings"]), 1)

    def test_a_uuid_used_for_another_reading_is_told(self) -> None:
        run, uuid = self.start(), str(uuid4())
        self.weigh(run, "vessel", "31.204", uuid=uuid)
        problem = self.weigh(run, "vessel_sample", "32.861", uuid=uuid, status=409)
        self.assertIn("31.204 g", problem["title"])
        # another figure for the same place under it is told too, and not dropped in silence
        problem = self.weigh(run, "vessel", "31.205", uuid=uuid, status=409)
        self.assertIn("Type it once more", problem["title"])
        self.assertEqual(len(self.get(f"/api/runs/{run['uuid']}")["readings"]), 1)

    def test_a_place_taken_by_another_page_is_told_and_not_overwritten(self) -> None:
        run = self.start()
        self.weigh(run, "vessel", "31.204")
        problem = self.weigh(run, "vessel", "31.240", status=409)
        self.assertEqual(problem["code"], "conflict")
        self.assertIn("31.204 g", problem["title"])

    def test_two_pages_at_the_same_moment_record_one_reading(self) -> None:
        run = self.start()

        def weigh(text: str) -> int:
            body = {"uuid": str(uuid4()), "slot": "vessel", "position": 1, "text": text}
            return self.signed_in(self.app).post(f"/api/runs/{run['uuid']}/readings", json=body).status_code

        for _ in range(5):
            with ThreadPoolExecutor(4) as pool:
                found = sorted(pool.map(weigh, ("31.201", "31.202", "31.203", "31.204")))
            self.assertEqual(found, [200, 409, 409, 409])
            run = self.start()

    def test_a_series_has_no_gaps(self) -> None:
        run = self.weigh_all(self.start())
        self.assertEqual(self.weigh(run, "vessel_residue", "32.1", 2, status=422)["faults"][0]["code"], "position")

    def test_an_impossible_reading_asks_before_it_is_kept(self) -> None:
        run = self.start()
        self.weigh(run, "vessel", "31.204")
        problem = self.weigh(run, "vessel_sample", "30.861", status=409)
        self.assertEqual((problem["code"], problem["doubt"]), ("doubt", "out-of-order"))
        self.assertEqual(len(self.get(f"/api/runs/{run['uuid']}")["readings"]), 1)
        run = self.weigh(run, "vessel_sample", "30.861", confirmed=True)
        self.assertIn("not heavier than the empty vessel", run["readings"][1]["doubt"])

    def test_swapped_digits_are_asked_and_the_figure_offered(self) -> None:
        run = self.weigh_all(self.start(), "32.151")
        problem = self.weigh(run, "vessel_residue", "32.163", 2, status=409)
        self.assertEqual((problem["doubt"], problem["suggestion"]), ("transposition", "32.136"))
        run = self.weigh(run, "vessel_residue", "32.163", 2, confirmed=True)
        self.assertIn("Digits swapped?", run["readings"][-1]["doubt"])

    def test_a_time_typed_without_connection_is_believed_within_a_week(self) -> None:
        run = self.start()
        run = self.weigh(run, "vessel", "31.204", typed_at="2026-11-24T17:10:00Z")
        run = self.weigh(run, "vessel_sample", "32.861", typed_at="2031-01-01T00:00:00Z")
        run = self.weigh(run, "vessel_residue", "32.151", typed_at="2026-11-16T17:30:00Z")
        told = ["2026-11-24T17:10:00Z", "2026-11-24T17:30:00Z", "2026-11-24T17:30:00Z"]
        self.assertEqual(told, [row["at"] for row in run["readings"]])
        old = self.weigh(self.start(title="Six days ago"), "vessel", "31.204", typed_at="2026-11-18T17:31:00Z")
        self.assertEqual("2026-11-18T17:31:00Z", old["readings"][0]["at"])

    def test_a_page_that_has_seen_a_version_gets_nothing_new(self) -> None:
        run = self.start()
        seen = self.client.get(f"/api/runs/{run['uuid']}?seen={run['version']}")
        self.assertEqual((seen.status_code, seen.data), (204, b""))
        self.weigh(run, "vessel", "31.204")
        self.assertEqual(self.client.get(f"/api/runs/{run['uuid']}?seen={run['version']}").status_code, 200)

    def test_unknown_slots_fields_and_runs(self) -> None:
        run = self.start()
        self.assertEqual(self.weigh(run, "crucible", "31.204", status=422)["faults"][0]["path"], "slot")
        self.weigh(run, "vessel", "31.204", colour="red", status=422)
        self.weigh({"uuid": str(uuid4())}, "vessel", "31.204", status=404)
        self.weigh({"uuid": "nonsense"}, "vessel", "31.204", status=422)


class Corrections(AppCase):
    def correct(self, run: Any, row: Any, text: str, reason: str = "", status: int = 200, **more: Any) -> Any:
        body = {"uuid": str(uuid4()), "supersedes": row["uuid"], "text": text, "reason": reason}
        return self.post(f"/api/runs/{run['uuid']}/corrections", body | more, status)

    def test_the_old_digits_stay_readable(self) -> None:
        run = self.weigh(self.start(), "vessel", "31.240")
        run = self.correct(run, run["readings"][0], "31.204")
        old, new = run["readings"]
        self.assertEqual((old["text"], old["current"]), ("31.240", False))
        self.assertEqual((new["text"], new["current"], new["corrects"]), ("31.204", True, "31.240"))
        self.assertEqual(run["stair"][0]["text"], "31.204")

    def test_a_reason_is_asked_after_thirty_seconds(self) -> None:
        run = self.weigh(self.start(), "vessel", "31.240")
        self.clock.move(seconds=31)
        problem = self.correct(run, run["readings"][0], "31.204", status=422)
        self.assertEqual(problem["faults"][0]["path"], "reason")
        run = self.correct(run, run["readings"][0], "31.204", "digits swapped")
        self.assertEqual(run["readings"][1]["reason"], "digits swapped")

    def test_the_second_of_two_corrections_is_told(self) -> None:
        run = self.weigh(self.start(), "vessel", "31.240")
        first = run["readings"][0]
        self.correct(run, first, "31.204")
        problem = self.correct(run, first, "31.244", status=409)
        self.assertIn("31.204 g", problem["title"])

    def test_a_correction_is_judged_like_a_reading(self) -> None:
        run = self.weigh_all(self.start())
        self.assertEqual(self.correct(run, run["readings"][1], "30.000", status=409)["code"], "doubt")
        self.assertEqual(self.correct(run, run["readings"][1], "abc", status=422)["faults"][0]["path"], "text")
        self.correct(run, run["readings"][1], "30.000", confirmed=True)

    def test_a_correction_is_questioned_like_an_entry(self) -> None:
        """With fewer decimals, or with more lost than there is; against what stood when it was weighed, not later."""
        run = self.weigh_all(
            self.start(options={"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}), "32.151", "32.136", "32.134"
        )
        first, residue = run["readings"][0], run["readings"][2]
        self.assertEqual(self.correct(run, first, "31.2", "read again", status=409)["doubt"], "digits")
        gone = self.correct(run, residue, "31.951", "read again", status=409)
        self.assertEqual(gone["code"], "doubt")
        # the first heating was heavier than those that came after, and an honest correction of it is not asked about
        run = self.correct(run, residue, "32.153", "read again")
        self.assertEqual(run["readings"][-1]["doubt"], "")
        kept = self.correct(run, first, "31.2", "read again", confirmed=True)
        self.assertIn("three decimals", kept["readings"][1]["doubt"] + kept["readings"][-1]["doubt"])

    def test_a_reading_of_another_run_cannot_be_corrected_from_here(self) -> None:
        row = self.weigh(self.start(), "vessel", "31.240")["readings"][0]
        self.correct(self.start(title="Other"), row, "31.204", status=404)


class Steps(AppCase):
    def mark(self, run: Any, step: str, kind: str, status: int = 200, **more: Any) -> Any:
        return self.post(
            f"/api/runs/{run['uuid']}/steps", {"uuid": str(uuid4()), "step": step, "kind": kind} | more, status
        )

    def timer(self, run: Any, step: str) -> Any:
        return next(row["timer"] for row in run["steps"] if row["key"] == step)

    def test_a_timer_is_started_by_hand_and_given_more_time(self) -> None:
        run = self.mark(self.start(), "fire", "started")
        self.assertEqual(self.timer(run, "fire")["ends_at"], "2026-11-24T17:45:00Z")
        self.clock.move(minutes=20)
        run = self.mark(run, "fire", "extended")
        self.assertEqual(self.timer(run, "fire")["ends_at"], "2026-11-24T17:55:00Z")

    def test_cooling_starts_when_heating_is_done(self) -> None:
        run = self.weigh_all(self.start())
        run = self.mark(run, "heat#1", "finished")
        now = next(row for row in run["steps"] if row["state"] == "now")
        self.assertEqual((now["key"], now["timer"]["ends_at"]), ("weigh_residue#1", "2026-11-24T17:40:00Z"))

    def test_marking_twice_with_one_uuid_counts_once(self) -> None:
        run, uuid = self.start(), str(uuid4())
        first = self.mark(run, "fire", "started", uuid=uuid)
        self.clock.move(minutes=1)
        self.assertEqual(self.timer(self.mark(run, "fire", "started", uuid=uuid), "fire"), self.timer(first, "fire"))

    def test_unknown_steps_and_kinds(self) -> None:
        self.mark(self.start(), "boil", "started", 422)
        self.mark(self.start(), "fire", "exploded", 422)

    def test_observations_are_noted_once(self) -> None:
        run, uuid = self.start(), str(uuid4())
        for _ in range(2):
            run = self.post(f"/api/runs/{run['uuid']}/observations", {"uuid": uuid, "tag": "popping"})
        self.assertEqual([row["tag"] for row in run["observations"]], ["popping"])
        self.post(f"/api/runs/{run['uuid']}/observations", {"uuid": str(uuid4()), "tag": " "}, 422)


class Starting(AppCase):
    def test_every_fault_of_the_form_is_at_its_field(self) -> None:
        problem = self.start(
            422,
            title=" ",
            bench_id=999,
            options={"salt": "Znso4"},
            planned={"sample": {"about": "lots"}},
            schools={"weighing": "guess"},
        )
        paths = {fault["path"] for fault in problem["faults"]}
        self.assertEqual(paths, {"title", "bench_id", "options.salt", "planned.sample.about", "schools.weighing"})

    def test_a_window_or_about_but_not_both(self) -> None:
        self.assertEqual(self.start(422, planned={"sample": {"about": "1", "low": "1"}})["faults"][0]["code"], "window")
        self.assertEqual(self.start(422, planned={"sample": {"low": "2", "high": "1"}})["faults"][0]["code"], "window")
        run = self.weigh_all(self.start(planned={"sample": {"high": "1.5"}}))
        self.assertIn("outside-window", [v["code"] for v in run["trial"]["verdicts"]])

    def test_the_same_uuid_starts_one_run(self) -> None:
        uuid = str(uuid4())
        self.start(uuid=uuid)
        self.start(uuid=uuid)
        self.assertEqual(len(self.get("/api/runs")["runs"]), 1)

    def test_the_schools_lay_out_the_steps(self) -> None:
        run = self.start(schools={"weighing": "boat", "heat": "hot_plate"})
        self.assertEqual(
            [step["slot"] for step in run["steps"] if step["slot"]],
            ["sample_tare", "sample_gross", "vessel", "vessel_residue"],
        )
        for slot, text in (("sample_tare", "2.000"), ("sample_gross", "3.657"), ("vessel", "31.204")):
            run = self.weigh(run, slot, text)
        for n in (1, 2):
            run = self.weigh(run, "vessel_residue", "32.134", n)
        self.assertEqual(run["answer"]["formula"]["text"], "ZnSO4·7H2O")


class InAndOut(AppCase):
    def test_an_exported_run_is_imported_as_the_same_run(self) -> None:
        run = self.weigh_all(self.start(planned={"sample": {"about": "1.6"}}), "32.151")
        self.weigh(run, "vessel_residue", "32.163", 2, confirmed=True)
        run = self.weigh(run, "vessel_residue", "32.134", 3)
        row = next(r for r in run["readings"] if r["text"] == "32.163")
        self.clock.move(minutes=2)
        body = {"uuid": str(uuid4()), "supersedes": row["uuid"], "text": "32.136", "reason": "digits swapped"}
        run = self.post(f"/api/runs/{run['uuid']}/corrections", body)
        self.post(f"/api/runs/{run['uuid']}/observations", {"uuid": str(uuid4()), "tag": "opaque"})
        exported = self.client.get(f"/api/runs/{run['uuid']}/run-file")
        self.assertIn("attachment", exported.headers["Content-Disposition"])
        found = evaluate_run(read_run(exported.data)).trials[0]
        self.assertEqual(found.words["formula"].text, "ZnSO4·7H2O")
        imported = self.client.post("/api/runs/import", data=exported.data)
        self.assertEqual(imported.status_code, 201, imported.text)
        again = imported.get_json()
        self.assertEqual(again["answer"], run["answer"])
        self.assertEqual([r["text"] for r in again["readings"]], [r["text"] for r in run["readings"]])
        self.assertEqual([r["reason"] for r in again["readings"] if r["corrects"]], ["digits swapped"])
        twice = self.client.get(f"/api/runs/{again['uuid']}/run-file")
        self.assertEqual(json.loads(twice.data)["trials"], json.loads(exported.data)["trials"])

    def test_a_refused_file_leaves_nothing_behind(self) -> None:
        bad = document({"vessel": "abc"}, bogus=1)
        for data, status in ((json.dumps(bad), 422), ("{", 422), ("x" * 3_000_000, 413)):
            response = self.client.post("/api/runs/import", data=data)
            self.assertEqual(response.status_code, status)
            self.assertEqual(response.content_type, "application/problem+json")
        self.assertEqual(self.get("/api/runs")["runs"], [])

    def test_the_csv_holds_log_results_and_observations(self) -> None:
        run = self.weigh_all(self.start(), "32.134", "32.134")
        self.post(f"/api/runs/{run['uuid']}/observations", {"uuid": str(uuid4()), "tag": "=cmd()", "text": "@x"})
        rows = list(csv.DictReader(io.StringIO(self.client.get(f"/api/runs/{run['uuid']}/csv").text)))
        self.assertEqual(
            [row["text"] for row in rows if row["kind"] == "reading"], ["31.204", "32.861", "32.134", "32.134"]
        )
        percent = next(row for row in rows if row["name"] == "water_percent")
        self.assertEqual(percent["text"], "43.874 ± 0.086 %")
        self.assertAlmostEqual(float(percent["value"]), 43.8745, places=3)
        seen = next(row for row in rows if row["kind"] == "observation")
        self.assertEqual((seen["name"], seen["text"]), ("'=cmd()", "'@x"))


class Problems(AppCase):
    def test_every_error_is_a_problem_document(self) -> None:
        for response, status in (
            (self.client.get("/api/nowhere"), 404),
            (self.client.delete("/api/runs"), 405),
            (self.client.post("/api/runs", data="{", content_type="application/json"), 422),
            (self.client.post("/api/runs", data="[]", content_type="application/json"), 422),
            (self.client.get(f"/api/runs/{uuid4()}"), 404),
        ):
            with self.subTest(response.request.path):
                self.assertEqual(response.status_code, status)
                self.assertEqual(response.content_type, "application/problem+json")
                body = json.loads(response.data)
                self.assertTrue(body["title"])
                self.assertNotIn("Traceback", response.text)

    def test_what_was_typed_is_not_echoed_by_a_refused_shape(self) -> None:
        response = self.client.post("/api/runs", json={"title": "<script>secret</script>"})
        self.assertNotIn("secret", response.text)

    def test_another_site_may_not_record(self) -> None:
        for origin, status in (("http://elsewhere.test", 403), ("http://localhost", 422)):
            response = self.client.post("/api/runs/import", data="{}", headers={"Origin": origin})
            self.assertEqual(response.status_code, status)

    def test_pages_may_load_only_from_here(self) -> None:
        response = self.client.get("/healthz")
        self.assertIn("default-src 'self'", response.headers["Content-Security-Policy"])
        self.assertEqual(response.headers["X-Content-Type-Options"], "nosniff")
