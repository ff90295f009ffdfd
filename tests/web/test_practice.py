"""The room Practice: a bench set up, worked at and answered; by its own clock, and where nothing counts."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from claykettle.core.matter import Act
from claykettle.core.method import Note, Wait
from claykettle.core.methods.registry import all_methods
from claykettle.core.practice import Laid, set_up
from claykettle.web.context import COOKIE
from tests.support.doors import secret_of
from tests.support.server import AppCase

THERE = {"Kettle-Rehearsal": "yes"}


class PracticeCase(AppCase):
    def begin(self, method: str = "hydrate", level: int = 0, seed: str = "7", status: int = 200) -> Any:
        """A bench of this method."""
        body = {"uuid": str(uuid4()), "method": method, "level": level, "seed": seed}
        self.found = self.post("/api/practice", body, status)
        return self.found

    def look(self) -> Any:
        """The bench as it stands."""
        self.found = self.get(f"/api/practice/{self.found['uuid']}")
        return self.found

    def do(self, act: str, value: str = "", status: int = 200, after: int | None = None) -> Any:
        """Something done there."""
        body: dict[str, Any] = {"uuid": str(uuid4()), "act": act, "value": value}
        if after is not None:
            body["after"] = after
        found = self.post(f"/api/practice/{self.found['uuid']}/acts", body, status)
        if status == 200:
            self.found = found
        return found

    def there(self, method: str, path: str, body: Any = None, status: int = 200) -> Any:
        """A request from a page beside the simulated bench."""
        response = self.client.open(path, method=method, json=body, headers=THERE)
        self.assertEqual(response.status_code, status, response.text)
        return response.json

    def step(self, key: str, kind: str = "finished") -> Any:
        """A step marked on the bench's page."""
        body = {"uuid": str(uuid4()), "step": key, "kind": kind, "trial": "1"}
        return self.there("POST", f"/api/runs/{self.found['run']}/steps", body)

    def note(self, position: int = 1, **more: Any) -> str:
        """The figure that is shown, typed on the bench's page."""
        seen = self.look()["seen"]
        self.assertTrue(seen["steady"], seen)
        body = {"uuid": str(uuid4()), "slot": seen["slot"], "position": position, "text": seen["figure"], "trial": "1"}
        self.there("POST", f"/api/runs/{self.found['run']}/readings", body | more)
        return str(seen["figure"])

    def answer(self, status: int = 200, **said: Any) -> Any:
        """What it was."""
        return self.post(f"/api/practice/{self.found['uuid']}/answer", said, status)

    def whole_hydrate(self, cooling: str = "12") -> None:
        """A hydrate by hands that are careful, where they let it cool."""
        self.do("flame", "full")
        self.do("wait", "5")
        self.do("put", "gauze")
        self.do("wait", "12")
        self.step("fire")
        self.do("put", "pan")
        self.do("wait", "0.2")
        self.note()
        self.do("load")
        self.do("wait", "0.2")
        self.note()
        number = 0
        while self.look()["step"].startswith("Heat"):
            number += 1
            self.do("flame", "low")
            self.do("wait", "8" if number == 1 else "3")
            for tag in self.found["noticed"]:
                seen = {"uuid": str(uuid4()), "tag": tag, "trial": "1"}
                self.there("POST", f"/api/runs/{self.found['run']}/observations", seen)
            self.do("put", "gauze")
            self.step(f"heat#{number}")
            self.do("wait", cooling)
            self.do("put", "pan")
            self.do("wait", "0.2")
            self.note(number, confirmed=True)


class Bench(PracticeCase):
    def test_a_whole_run_comes_to_the_truth_by_its_own_clock(self) -> None:
        self.begin()
        before = self.clock.now
        self.whole_hydrate()
        run = self.there("GET", f"/api/runs/{self.found['run']}")
        self.assertIn("constant-mass", [row["code"] for row in run["trial"]["verdicts"]])
        self.assertNotIn("weighed-warm", [row["code"] for row in run["trial"]["verdicts"]])
        found, spread = map(float, self.look()["result"].split(" ± "))
        self.assertAlmostEqual(found, 7.0, delta=1.5 * spread)
        self.assertEqual(self.clock.now, before)
        self.assertGreater(self.found["minutes"], 45)
        self.assertGreater(run["now"], before.isoformat())

    def test_what_stands_in_the_flame_is_not_weighed_and_what_is_warm_wanders(self) -> None:
        self.begin()
        self.step("fire")
        self.assertIn("nothing on the pan", self.look()["seen"]["said"])
        self.do("flame", "full")
        self.do("wait", "5")
        seen = self.look()["seen"]
        self.assertEqual((seen["figure"], seen["steady"]), ("", False))
        self.assertIn("in the flame", seen["said"])
        refused = self.do("put", "pan", 422)
        self.assertIn("take it off first", refused["faults"][0]["message"])
        self.do("put", "gauze")
        self.do("put", "pan")
        self.do("wait", "1")
        seen = self.look()["seen"]
        self.assertFalse(seen["steady"])
        self.assertIn("not steady", seen["said"])
        self.do("wait", "15")
        self.assertTrue(self.look()["seen"]["steady"])

    def test_who_looks_closer_sees_how_far_it_has_gone(self) -> None:
        self.begin()
        self.assertEqual(self.found["closer"], ["There is a film of moisture on the vessel."])
        self.do("flame", "full")
        self.do("wait", "10")
        self.assertEqual(self.found["closer"], ["The vessel is dry and empty."])
        self.do("put", "gauze")
        self.do("wait", "15")
        self.do("load")
        self.assertIn("as it came from the jar", self.found["closer"][0])
        self.do("flame", "low")
        self.do("wait", "15")
        self.assertIn("down to the bottom", self.found["closer"][0])

    def test_a_figure_stays_what_it_is_however_often_one_looks(self) -> None:
        self.begin()
        self.step("fire")
        self.do("put", "pan")
        self.do("wait", "1")
        first = self.look()["seen"]["figure"]
        self.assertEqual({self.look()["seen"]["figure"] for _ in range(5)}, {first})

    def test_its_clock_goes_ten_times_as_fast_while_somebody_looks_and_stops_when_nobody_does(self) -> None:
        self.begin()
        self.do("pace", "fast")
        self.clock.move(seconds=6)
        self.assertAlmostEqual(self.look()["minutes"], 1.0, delta=0.05)
        self.clock.move(hours=9)
        self.assertLess(self.look()["minutes"], 6)
        response = self.client.get(f"/api/runs/{self.found['run']}", headers=THERE)
        self.assertEqual(response.headers["Kettle-Pace"], "10")
        self.do("pace", "still")
        before = self.look()["minutes"]
        self.clock.move(hours=1)
        self.assertEqual(self.look()["minutes"], before)

    def test_a_real_clock_set_back_turns_none_back(self) -> None:
        self.begin()
        self.do("wait", "30")
        before = self.look()["now"]
        self.clock.move(days=-2)
        self.assertGreaterEqual(self.look()["now"], before)

    def test_senseless_things_are_refused_with_the_reason_and_change_nothing(self) -> None:
        self.begin()
        for act, value in (("rinse", "paper"), ("fly", ""), ("put", "moon"), ("wait", "-3"), ("wait", "soon")):
            with self.subTest(act, value=value):
                self.do(act, value, 422)
        self.do("wait", "10081")
        self.assertEqual(self.found["after"], 1)
        self.do("wait", "1000000", 422)
        self.begin(status=422, seed="x")
        self.begin(status=422, seed="1000000000000000001")
        self.begin(status=422, method="nothing")
        self.begin(seed=str(10**18))
        self.assertEqual(self.found["seed"], str(10**18))

    def test_two_people_at_one_bench_notice_each_other(self) -> None:
        self.begin()
        self.do("flame", "low", after=0)
        refused = self.do("put", "gauze", 409, after=0)
        self.assertIn("Somebody else", refused["title"])
        self.do("put", "gauze", after=1)

    def test_the_same_thing_sent_twice_is_done_once(self) -> None:
        self.begin()
        body = {"uuid": str(uuid4()), "act": "wait", "value": "5"}
        for _ in range(2):
            found = self.post(f"/api/practice/{self.found['uuid']}/acts", body)
        self.assertEqual((found["after"], round(found["minutes"])), (1, 5))

    def test_every_method_has_a_bench_with_something_to_do(self) -> None:
        methods = [row["name"] for row in self.get("/api/practice")["methods"]]
        self.assertEqual(len(methods), 12)
        for method in methods:
            with self.subTest(method):
                found = self.begin(method, level=2)
                self.assertTrue(found["offers"])
                self.assertTrue(found["causes"])
                self.assertTrue(found["pictures"])

    def test_a_class_that_is_rehearsed_has_only_its_own_benches(self) -> None:
        body = {"uuid": str(uuid4()), "method": "hydrate", "benches": 3, "balances": 1, "seed": "1"}
        day = self.post("/api/practice/classes", body)["day"]
        self.begin()
        cards = self.there("GET", f"/api/classes/{day}/changes")["benches"]
        self.assertEqual([row["name"] for row in cards], ["Practice 1", "Practice 2", "Practice 3"])


class Whole(PracticeCase):
    """Every method from its first step to its result, as somebody works: the step at hand, then the next."""

    def one_step(self, laid: Laid) -> bool:
        """Do the step at hand; False when all is done."""
        run = self.there("GET", f"/api/runs/{self.found['run']}")
        step = next((row for row in run["steps"] if row["state"] == "now"), None)
        if step is None:
            return False
        name = step["key"].partition("#")[0]
        minutes = (step["timer"] or {}).get("minutes") or 1.0
        moves = laid.usual.hands.get(name, ())
        times = (step["counts"] or {}).get("times", 1)
        for _ in range(times):
            for move in moves:
                if isinstance(move, Wait):
                    self.do("wait", str((move.seconds or 60 * minutes) / 60))
                elif isinstance(move, Act):
                    self.do(move.name, move.value)
                elif run["entry"] is not None:
                    self.do("wait", "0.2")
                    self.note(run["entry"]["position"], confirmed=True)
            if step["counts"]:
                seen = {"uuid": str(uuid4()), "tag": step["counts"]["tag"], "trial": "1"}
                self.there("POST", f"/api/runs/{self.found['run']}/observations", seen)
        entry = run["entry"]
        if step["slot"]:
            if entry is not None and not any(isinstance(move, Note) for move in moves):
                self.do("wait", "0.2")
                self.note(entry["position"], confirmed=True)
        elif not step["counts"]:
            if not any(isinstance(move, Wait) for move in moves):
                self.do("wait", str(minutes))
            self.step(step["key"])
        return True

    def test_every_method_is_practised_to_its_result(self) -> None:
        for method in all_methods().values():
            with self.subTest(method.name):
                laid = set_up(method, 3, 0)
                self.begin(method.name, level=0, seed="3")
                steps = 0
                while self.one_step(laid) and steps < 90:
                    steps += 1
                found = self.look()["result"]
                self.assertTrue(found, f"no result after {steps} steps, at {self.found['step']}")
                figure, spread = (float(part.split()[0]) for part in found.split(" ± "))
                true = next(iter(laid.true_results(1).values()))
                self.assertAlmostEqual(figure, true, delta=2.2 * spread)


class Answers(PracticeCase):
    def hidden(self, seed: int = 0) -> Any:
        """A hydrate whose fault leaves a trace."""
        self.begin(level=1, seed=str(seed))
        self.whole_hydrate()
        return self.look()

    def test_an_answer_is_held_against_what_was_hidden(self) -> None:
        self.hidden(3)
        run = self.found["run"]
        suspects = self.there("GET", f"/api/runs/{run}/suspects")["found"]
        best = suspects["suspects"][0]
        sign = "too large" if suspects["measured"] > suspects["expected"] else "too small"
        found = self.answer(cause=best["code"], sign=sign, size=str(best["dose"]))["debrief"]
        self.assertEqual(found["total"], sum(row["points"] for row in found["points"]))
        self.assertTrue(found["planted"].startswith("Hidden was: "))
        self.assertEqual([row["points"] for row in found["points"]], [2, 1, 1])
        self.assertIn("The suspects had it", found["suspects"])
        self.assertIn("really 7", found["true"])
        self.assertIn("min by the bench's clock", found["way"])
        listed = self.get("/api/practice")["practices"][0]
        self.assertEqual((listed["points"], listed["of"]), (4, 4))
        self.assertIn("answered already", self.answer(409, cause="spatter")["title"])

    def test_a_wrong_answer_earns_what_is_right_of_it(self) -> None:
        self.hidden(3)
        found = self.answer(cause="nothing")["debrief"]
        self.assertEqual(found["total"], 0)
        self.assertIn("Hidden was", found["planted"])

    def test_nothing_was_wrong_is_an_answer_too(self) -> None:
        self.begin()
        self.whole_hydrate()
        found = self.answer(cause="nothing")["debrief"]
        self.assertEqual((found["total"], found["of"]), (4, 4))
        self.assertIn("Nothing was hidden", found["planted"])

    def test_another_trial_begun_takes_neither_the_result_nor_what_was_said_of_it(self) -> None:
        self.hidden(3)
        result = self.found["result"]
        self.assertTrue(result)
        self.there("POST", f"/api/runs/{self.found['run']}/trials", {"label": "2"})
        self.assertEqual(self.look()["trial"], "2")
        self.assertEqual(self.found["result"], result)
        told = self.answer(cause="nothing")["debrief"]
        self.assertEqual(told["measured"], result)
        # and what is done to the run afterwards changes nothing of what was told
        self.there("POST", f"/api/runs/{self.found['run']}/trials", {"label": "3"})
        self.do("wait", "30")
        self.assertEqual(self.look()["debrief"], told)

    def test_what_was_done_wrong_at_every_weighing_is_said_once(self) -> None:
        self.begin(seed="2")  # its last two weighings agree, so that what is said of both is the same
        self.whole_hydrate(cooling="5")
        own = self.answer(cause="nothing")["debrief"]["own"]
        self.assertEqual(len(own), 1, own)
        self.assertIn("warm air lifts the pan", own[0])

    def test_without_a_result_there_is_no_answer_and_what_is_no_size_is_told_at_its_place(self) -> None:
        self.begin(level=1)
        self.assertEqual(self.answer(422, cause="spatter")["faults"][0]["code"], "no-result")
        self.whole_hydrate()
        for said, path in (
            ({"cause": "rain"}, "cause"),
            ({"cause": "spatter", "size": "much"}, "size"),
            ({"cause": "spatter", "sign": "up"}, "sign"),
        ):
            self.assertEqual(self.answer(422, **said)["faults"][0]["path"], path)


class Apart(PracticeCase):
    def test_nothing_of_it_is_anywhere_among_what_a_class_did(self) -> None:
        before = self.get("/api/runs")["runs"]
        self.begin()
        self.do("wait", "0.5")
        self.step("fire")
        self.do("put", "pan")
        self.do("wait", "0.2")
        self.note()
        uuid = self.found["run"]
        self.assertEqual(self.get("/api/runs")["runs"], before)
        self.assertEqual(self.client.get(f"/api/runs/{uuid}").status_code, 403)
        self.assertNotIn("Practice", [row["name"] for row in self.get("/api/sections")["sections"]])
        self.assertEqual(self.get("/api/search?words=practice")["runs"], [])
        self.assertEqual([row["uuid"] for row in self.there("GET", "/api/runs")["runs"]], [uuid])

    def test_a_run_file_of_it_says_so(self) -> None:
        self.begin()
        document = self.there("GET", f"/api/runs/{self.found['run']}/run-file")
        self.assertTrue(document["practised"])

    def test_what_is_the_whole_house_s_is_read_there_and_changed_only_outside(self) -> None:
        self.begin()
        section = self.get("/api/sections")["sections"][0]["id"]
        tool = {"kind": "balance", "name": "Balance Z", "half_width": "0.001 g"}
        shelf, benches = self.get("/api/today")["instruments"], self.get("/api/class")["benches"]
        for path, body in (
            ("/api/class/benches", {"name": "By the window"}),
            ("/api/class/code", {}),
            ("/api/sections", {"name": "Glaze, Saturdays"}),
            ("/api/sections/here", {"section": section}),
            ("/api/today/instruments", tool),
            ("/api/session/password", {"old": "a password", "new": "another password"}),
        ):
            with self.subTest(path):
                self.assertIn("in Practice nothing counts", self.there("POST", path, body, 403)["title"])
        self.assertEqual(self.there("GET", "/api/class")["benches"], benches)
        self.assertEqual(self.get("/api/class")["benches"], benches)
        self.assertEqual(self.get("/api/today")["instruments"], shelf)
        self.assertEqual(len(self.post("/api/class/benches", {"name": "By the window"})["benches"]), len(benches) + 1)

    def test_another_account_has_a_place_of_its_own(self) -> None:
        found = self.begin()
        self.client.set_cookie(COOKIE, secret_of(self.laboratory, "colleague"))
        self.assertEqual(self.client.get(f"/api/practice/{found['uuid']}").status_code, 404)
        self.assertEqual(self.get("/api/practice")["practices"], [])


if __name__ == "__main__":
    import unittest

    unittest.main()
