"""A run that changes its mind: not taken, another line, decided otherwise, taken back. Nothing is lost."""

from __future__ import annotations

import json
from datetime import timedelta
from typing import Any
from uuid import uuid4

from sqlalchemy import text as sql

from claykettle.store.ledger import check, highest, seal_new
from tests.support.server import AppCase


class Minds(AppCase):
    def say(self, run: Any, what: str, status: int = 200, **body: Any) -> Any:
        return self.post(f"/api/runs/{run['uuid']}/{what}", {"uuid": str(uuid4()), **body}, status)

    def leave(self, run: Any, slot: str, status: int = 200, position: int = 1, **more: Any) -> Any:
        body = {"slot": slot, "position": position, "reason": "forgotten", **more}
        return self.say(run, "not-taken", status, **body)

    def codes(self, run: Any) -> set[str]:
        return {row["code"] for row in run["trial"]["verdicts"]}

    def typed(self, run: Any, slot: str) -> list[tuple[str, bool]]:
        return [(row["text"], row["current"]) for row in run["readings"] if row["slot"] == slot]

    def row(self, run: Any, slot: str) -> str:
        return str(next(row["uuid"] for row in run["readings"] if row["slot"] == slot and row["current"]))


class NotTaken(Minds):
    def filtering(self) -> Any:
        return self.start(title="Sand", method="filtration", options={"expected": "1.00 g"})

    def test_a_forgotten_paper_asks_for_ten_others_and_comes_to_a_result(self) -> None:
        run = self.leave(self.filtering(), "paper")
        self.assertEqual(next(row["state"] for row in run["steps"] if row["slot"] == "paper"), "left")
        self.assertEqual((run["entry"]["slot"], run["entry"]["position"]), ("papers", 1))
        for number in range(1, 11):
            run = self.weigh(run, "papers", f"0.9{number:02d}", number)
        self.assertEqual(run["entry"]["slot"], "collected")
        run = self.weigh(run, "collected", "1.893")
        self.assertIn("solid_mass", {row["name"] for row in run["trial"]["results"]})
        self.assertIn("not-taken", self.codes(run))

    def test_the_box_ends_after_six(self) -> None:
        run = self.leave(self.filtering(), "paper")
        for number in range(1, 7):
            run = self.weigh(run, "papers", f"0.9{number:02d}", number)
        run = self.leave(run, "papers", position=7, reason="the box is empty")
        self.assertEqual(run["entry"]["slot"], "collected")
        run = self.weigh(run, "papers", "0.911", 7)
        self.assertEqual(self.typed(run, "papers")[-1], ("0.911", True))
        self.assertEqual(run["readings"][-1]["reason"], "taken after all")

    def test_the_last_weighing_of_a_series_that_should_not_count_is_asked_for_again(self) -> None:
        run = self.start(title="Warm", options={"salt": "ZnSO4"})
        for slot, text in (("vessel", "31.204"), ("vessel_sample", "32.861"), ("vessel_residue", "32.151")):
            run = self.weigh(run, slot, text)
        run = self.leave(run, "vessel_residue", reason="read before it was cool")
        self.assertEqual((run["entry"]["slot"], run["entry"]["position"]), ("vessel_residue", 1))
        run = self.weigh(run, "vessel_residue", "32.134")
        self.assertEqual(self.typed(run, "vessel_residue"), [("32.151", False), ("", False), ("32.134", True)])
        self.assertNotIn("not-taken", self.codes(run))

    def test_it_was_found_after_all(self) -> None:
        run = self.leave(self.filtering(), "paper")
        run = self.weigh(run, "paper", "0.908")
        self.assertNotIn("not-taken", self.codes(run))
        self.assertEqual(self.typed(run, "paper"), [("", False), ("0.908", True)])
        self.assertEqual(next(row["state"] for row in run["steps"] if row["slot"] == "paper"), "done")

    def test_a_weighing_that_stands_is_left_out_and_stays_in_the_log(self) -> None:
        run = self.weigh_all(self.start(), "32.151")
        run = self.weigh(run, "vessel_residue", "32.136", 2)
        run = self.leave(run, "vessel_residue", position=1, reason="spilled")
        self.assertEqual(self.typed(run, "vessel_residue"), [("32.151", False), ("32.136", True), ("", True)])
        self.assertEqual((run["entry"]["slot"], run["entry"]["position"]), ("vessel_residue", 3))
        run = self.weigh(run, "vessel_residue", "32.134", 3)
        self.assertIn("constant-mass", self.codes(run))

    def test_the_only_reading_of_a_run(self) -> None:
        run = self.leave(self.start(), "vessel")
        self.assertRegex(
            next(row["text"] for row in run["trial"]["verdicts"] if row["code"] == "not-taken"), "there is no mass of"
        )
        self.assertEqual(run["entry"]["slot"], "vessel_sample")

    def test_bad_input(self) -> None:
        run = self.start()
        self.assertEqual(self.leave(run, "vessel", 422, reason="  ")["faults"][0]["path"], "reason")
        self.assertEqual(self.leave(run, "pan", 422)["faults"][0]["path"], "slot")
        self.assertEqual(self.leave(run, "vessel_residue", 422, position=3)["faults"][0]["path"], "position")
        self.leave(run, "vessel")
        self.assertEqual(self.leave(run, "vessel", 409)["code"], "conflict")
        same = str(uuid4())
        body = {"uuid": same, "slot": "vessel_sample", "reason": "broken"}
        for _ in range(2):
            again = self.post(f"/api/runs/{run['uuid']}/not-taken", body, 200)
        self.assertEqual(len(self.typed(again, "vessel_sample")), 1)

    def test_it_is_taken_along_and_brought_back(self) -> None:
        run = self.leave(self.filtering(), "paper")
        run = self.weigh(run, "papers", "0.911")
        run = self.leave(run, "papers", position=2, reason="the box is empty")
        file = self.get(f"/api/runs/{run['uuid']}/run-file")
        self.assertEqual(file["trials"][0]["readings"]["papers"][1]["reason"], "the box is empty")
        back = self.post("/api/runs/import", file, 201)
        self.assertEqual(self.get(f"/api/runs/{back['uuid']}/run-file")["trials"], file["trials"])
        self.assertEqual([row["state"] for row in back["steps"] if row["slot"] == "paper"], ["left"])


class AnotherLine(Minds):
    def move(self, run: Any, reading: str, slot: str, status: int = 200, **more: Any) -> Any:
        body = {"reading": self.row(run, reading), "slot": slot, "trial": run["trial"]["label"], **more}
        return self.say(run, "moves", status, **body)

    def test_a_figure_is_moved_and_its_old_line_is_free(self) -> None:
        run = self.weigh(self.start(), "vessel", "32.861")
        run = self.move(run, "vessel", "vessel_sample")
        self.assertEqual(self.typed(run, "vessel_sample"), [("32.861", True)])
        self.assertEqual(self.typed(run, "vessel"), [("32.861", False), ("", False)])
        self.assertEqual((run["entry"]["slot"], run["entry"]["position"]), ("vessel", 1))
        run = self.weigh(run, "vessel", "31.204")
        self.assertEqual([row["text"] for row in run["stair"]], ["31.204", "32.861"])
        file = self.get(f"/api/runs/{run['uuid']}/run-file")
        self.assertEqual(file["changes"][0]["what"], "readings.1.vessel.1")
        self.assertEqual(file["changes"][0]["from"], "32.861 g")

    def test_two_that_changed_places_are_exchanged(self) -> None:
        run = self.weigh(self.start(), "vessel", "32.861")
        run = self.weigh(run, "vessel_sample", "31.204", confirmed=True)
        problem = self.move(run, "vessel", "vessel_sample", 409)
        self.assertEqual(problem["code"], "conflict")
        self.assertIn("exchange", problem["title"])
        run = self.move(run, "vessel", "vessel_sample", exchange=True)
        self.assertEqual([row["text"] for row in run["stair"]], ["31.204", "32.861"])
        self.assertNotIn("out-of-order", self.codes(run))

    def test_two_that_stand_right_are_not_exchanged_without_a_question(self) -> None:
        """Half-way both stand as 32.861 g; what is wrong with that is wrong at the end too, and is asked."""
        run = self.weigh(self.weigh(self.start(), "vessel", "31.204"), "vessel_sample", "32.861")
        problem = self.move(run, "vessel", "vessel_sample", 409, exchange=True)
        self.assertEqual("doubt", problem["code"])
        self.assertEqual([("31.204", True)], self.typed(self.get(f"/api/runs/{run['uuid']}"), "vessel"))

    def test_it_is_questioned_there_as_if_it_were_typed(self) -> None:
        run = self.weigh_all(self.start(), "32.134")
        run = self.post(f"/api/runs/{run['uuid']}/trials", {"label": "2"}, 200)
        run = self.weigh(run, "vessel", "35.118", trial="2")
        run = self.get(f"/api/runs/{run['uuid']}")
        body = {"reading": self.row(run, "vessel_residue"), "slot": "vessel_sample", "trial": "2"}
        problem = self.say(run, "moves", 409, **body)
        self.assertEqual(problem["code"], "doubt")
        self.assertIn("32.134", problem["title"])
        run = self.say(run, "moves", **body, confirmed=True)
        rows = self.get(f"/api/runs/{run['uuid']}")["readings"]
        kept = next(row for row in rows if row["slot"] == "vessel_sample" and row["trial"] == "2")
        self.assertTrue(kept["doubt"])

    def test_another_trial(self) -> None:
        run = self.weigh(self.start(), "vessel", "30.118")
        run = self.post(f"/api/runs/{run['uuid']}/trials", {"label": "2"}, 200)
        run = self.get(f"/api/runs/{run['uuid']}")
        body = {"reading": self.row(run, "vessel"), "slot": "vessel", "trial": "2"}
        self.say(run, "moves", **body)
        rows = self.get(f"/api/runs/{run['uuid']}")["readings"]
        self.assertEqual([(row["trial"], row["text"]) for row in rows if row["current"]], [("2", "30.118")])

    def test_what_cannot_be(self) -> None:
        run = self.weigh(self.start(), "vessel", "31.204")
        self.assertEqual(self.move(run, "vessel", "vessel", 422)["faults"][0]["code"], "same-line")
        self.assertEqual(self.move(run, "vessel", "pan", 422)["faults"][0]["path"], "slot")
        self.clock.move(minutes=2)
        self.assertEqual(self.move(run, "vessel", "vessel_sample", 422)["faults"][0]["path"], "reason")
        self.move(run, "vessel", "vessel_sample", reason="wrong line")


class DecidedOtherwise(Minds):
    def change(self, run: Any, status: int = 200, **more: Any) -> Any:
        return self.say(run, "changes", status, **{"known": len(run["changes"]), "reason": "label found", **more})

    def test_a_run_that_a_wrong_clock_put_on_another_day_is_put_on_its_own(self) -> None:
        run = self.weigh_all(self.start(), "32.134")
        self.post(f"/api/runs/{run['uuid']}/signatures", {"uuid": str(uuid4()), "name": "Marl"})
        with self.database.transaction() as session:
            seal_new(session, b"key", self.clock.now, highest(session))
        was = run["date"]
        yesterday = (self.clock.now - timedelta(days=1)).date().isoformat()
        tomorrow = (self.clock.now + timedelta(days=1)).date().isoformat()
        problem = self.change(run, 422, day=tomorrow, reason="the clock was wrong")
        self.assertEqual(problem["faults"][0]["path"], "day")
        self.assertEqual(self.change(run, 422, day=was)["faults"][0]["code"], "nothing-changed")
        moved = self.change(run, day=yesterday, reason="the clock was wrong")
        self.assertEqual(moved["date"], yesterday)
        self.assertEqual([row["title"] for row in self.get(f"/api/runs?day={yesterday}")["runs"]], [run["title"]])
        self.assertEqual(self.get(f"/api/runs?day={was}")["runs"], [])
        whole = self.get(f"/api/runs/{run['uuid']}")
        self.assertEqual(whole["changes"][-1]["text"], f"day: {yesterday}, before {was}")
        # what was signed still stands, and the chain knows where it was begun
        self.assertEqual([row["holds"] for row in whole["signatures"]], [True])
        with self.database.transaction() as session:
            self.assertEqual(check(session, b"key").faults, ())
        file = self.get(f"/api/runs/{run['uuid']}/run-file")
        self.assertEqual((file["changes"][-1]["from"], file["changes"][-1]["to"]), (was, yesterday))
        self.assertEqual(self.client.post("/api/runs/import", json=file).status_code, 201)
        # into a copy, the history goes along; sealed there, it agrees with itself
        archive = self.client.get(f"/api/runs/archive?uuid={run['uuid']}").data
        back = self.client.post("/api/runs/import-archive", data=archive, content_type="application/zip").json["files"][
            0
        ]
        self.assertEqual(back["faults"], [])
        copied = self.get(f"/api/runs/{back['uuid']}")
        self.assertEqual((copied["date"], copied["changes"][-1]["text"]), (yesterday, whole["changes"][-1]["text"]))
        with self.database.transaction() as session:
            seal_new(session, b"key", self.clock.now, highest(session))
            self.assertEqual(check(session, b"key").faults, ())
        # by hand in the database it is told
        with self.database.engine.begin() as connection:
            other = connection.execute(sql("SELECT MAX(id) FROM day")).scalar_one()
            told = {"date": was, "number": other}
            connection.execute(sql("UPDATE run_change SET `before` = :told"), {"told": json.dumps(told)})
        with self.database.transaction() as session:
            self.assertIn("run", "; ".join(check(session, b"key").faults))

    def test_a_label_that_was_found_is_judged_against_at_once(self) -> None:
        run = self.weigh_all(self.start(), "32.134", "32.134")
        self.assertNotIn("agrees", self.codes(run))
        run = self.change(run, options={"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"})
        self.assertIn("agrees", self.codes(run))
        self.assertEqual(run["changes"][0]["text"], "Accepted hydrate: ZnSO4·7H2O, before nothing")
        self.assertEqual(run["options"], {"salt": "ZnSO4", "accepted": "ZnSO4·7H2O"})
        again = self.get(f"/api/runs/{run['uuid']}")
        self.assertEqual(again["options"], run["options"])

    def test_a_signature_made_before_still_holds_and_one_after_covers_it(self) -> None:
        run = self.weigh_all(self.start(), "32.134")
        run = self.say(run, "signatures", name="Marl")
        run = self.change(run, options={"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"})
        run = self.say(run, "signatures", name="Terra")
        first, second = run["signatures"]
        self.assertEqual((first["holds"], first["later"]), (True, 1))
        self.assertEqual((second["holds"], second["later"]), (True, 0))

    def test_steps_are_signed_too(self) -> None:
        run = self.weigh(self.start(), "vessel", "31.204")
        run = self.say(run, "signatures", name="Marl")
        run = self.say(run, "steps", step=run["steps"][0]["key"], kind="finished")
        self.assertEqual(run["signatures"][0]["later"], 1)

    def test_the_wrong_school_sets_the_figure_aside_when_asked(self) -> None:
        run = self.weigh(self.start(), "vessel", "31.204")
        run = self.weigh(run, "vessel_sample", "32.861")
        self.assertEqual(run["entry"]["slot"], "vessel_residue")
        problem = self.change(run, 409, schools={"weighing": "tare"}, reason="it was tared")
        self.assertEqual((problem["code"], problem["faults"]), ("doubt", []))
        self.assertIn("32.861 g", problem["title"])
        run = self.change(run, schools={"weighing": "tare"}, reason="it was tared", aside=True)
        self.assertEqual(run["entry"]["slot"], "sample")
        self.assertEqual(self.typed(run, "vessel_sample"), [("32.861", False), ("", False)])
        run = self.weigh(run, "sample", "1.657")
        run = self.weigh(run, "vessel_residue", "32.134")
        self.assertTrue(next(row for row in run["trial"]["results"] if row["name"] == "water_ratio"))
        file = self.get(f"/api/runs/{run['uuid']}/run-file")
        self.assertEqual([row["what"] for row in file["changes"]], ["schools.weighing", "readings.1.vessel_sample.1"])
        self.post("/api/runs/import", file, 201)

    def test_another_balance_judges_anew(self) -> None:
        run = self.weigh_all(self.start(), "32.134")
        ratio = next(row for row in run["trial"]["results"] if row["name"] == "water_ratio")
        self.post(
            "/api/today/instruments",
            {"kind": "balance", "name": "Coarse", "half_width": "0.01 g"},
            200,
        )
        coarse = next(row for row in self.get("/api/shelf")["instruments"] if row["name"] == "Coarse")
        run = self.change(run, instruments={"balance": coarse["id"]}, reason="wrong balance chosen")
        wider = next(row for row in run["trial"]["results"] if row["name"] == "water_ratio")
        self.assertAlmostEqual(wider["standard_uncertainty"] / ratio["standard_uncertainty"], 10, delta=0.01)
        self.assertEqual(run["balance"]["name"], "Coarse")

    def test_two_tabs(self) -> None:
        run = self.weigh(self.start(), "vessel", "31.204")
        self.change(run, options={"salt": "ZnSO4", "tolerance": "0.002 g"})
        problem = self.change(run, 409, options={"salt": "ZnSO4", "tolerance": "0.010 g"})
        self.assertEqual(problem["code"], "conflict")
        self.assertEqual(self.get(f"/api/runs/{run['uuid']}")["options"]["tolerance"], "0.002 g")

    def test_every_fault_at_its_field(self) -> None:
        run = self.start()
        faults = self.change(run, 422, options={"salt": "Xx"}, schools={"weighing": "spoon"})["faults"]
        self.assertEqual([row["path"] for row in faults], ["options.salt", "schools.weighing"])
        self.assertEqual(self.change(run, 422, reason=" ", options={"salt": "ZnSO4"})["faults"][0]["path"], "reason")
        self.assertEqual(self.change(run, 422, options={"salt": "ZnSO4"})["faults"][0]["code"], "nothing-changed")
        self.assertEqual(
            self.change(run, 422, instruments={"balance": 999})["faults"][0]["path"], "instruments.balance"
        )


class TakenBack(Minds):
    def undo(self, run: Any, row: str, status: int = 200, **more: Any) -> Any:
        return self.say(run, "undo", status, row=row, **more)

    def test_a_step_done_by_mistake_and_the_timer_that_began_with_it(self) -> None:
        run = self.weigh_all(self.start())
        key = next(row["key"] for row in run["steps"] if row["state"] == "now")
        run = self.say(run, "steps", step=key, kind="finished")
        cooling = next(row for row in run["steps"] if row["state"] == "now")
        self.assertIsNotNone(cooling["timer"]["started_at"])
        self.assertIn("done", run["undo"]["text"])
        run = self.undo(run, run["undo"]["row"])
        self.assertEqual(next(row["key"] for row in run["steps"] if row["state"] == "now"), key)
        self.assertIsNone(next(row for row in run["steps"] if row["key"] == cooling["key"])["timer"]["started_at"])
        marks = self.get(f"/api/runs/{run['uuid']}/steps")["marks"]
        self.assertEqual([bool(row["taken_back"]) for row in marks], [True, True])
        self.assertNotIn("steps", self.get(f"/api/runs/{run['uuid']}/run-file"))

    def test_after_a_minute_or_after_somebody_went_on_it_takes_a_reason(self) -> None:
        run = self.weigh(self.start(), "vessel", "31.204")
        key = next(row["key"] for row in run["steps"] if row["state"] == "now" or row["state"] == "passed")
        run = self.say(run, "steps", step=key, kind="finished")
        tap = run["undo"]["row"]
        self.clock.move(seconds=5)
        run = self.weigh(run, "vessel_sample", "32.861")
        self.assertIsNone(run["undo"])
        self.assertEqual(self.undo(run, tap, 422)["faults"][0]["path"], "reason")
        run = self.undo(run, tap, reason="another bench's")
        self.assertEqual(self.undo(run, tap, 409)["code"], "conflict")

    def test_what_was_noted(self) -> None:
        run = self.say(self.start(), "observations", tag="popping", trial="1")
        run = self.undo(run, run["undo"]["row"])
        self.assertEqual([row["taken_back"] for row in run["observations"]], ["taken back at once"])
        self.assertNotIn("observations", self.get(f"/api/runs/{run['uuid']}/run-file"))

    def test_a_trial_that_was_added_while_it_is_empty(self) -> None:
        run = self.weigh(self.start(), "vessel", "31.204")
        run = self.post(f"/api/runs/{run['uuid']}/trials", {"label": "2"}, 200)
        self.assertEqual(run["undo"], {"row": "trial 2", "text": "trial 2 added", "until": None})
        run = self.undo(run, "trial 2")
        self.assertEqual([row["label"] for row in run["trials"]], ["1"])
        run = self.post(f"/api/runs/{run['uuid']}/trials", {"label": "2"}, 200)
        run = self.weigh(run, "vessel", "30.118", trial="2")
        self.assertEqual(self.undo(run, "trial 2", 409)["code"], "conflict")
        self.assertEqual(self.undo(run, "trial 7", 404)["code"], "not-found")
        self.assertEqual(self.undo(run, str(uuid4()), 404)["code"], "not-found")
