"""A simulated class on the real board: it plays by its own clock, calls come, whoever goes changes it; its debrief."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from sqlalchemy import func, select

from claykettle.store.tables import Bench, RunRow
from tests.support.classes import PrepareCase
from tests.web.test_practice import THERE


class EveningCase(PrepareCase):
    def begin(self, status: int = 200, **more: Any) -> Any:
        """A class of eight hydrates."""
        body = {"uuid": str(uuid4()), "method": "hydrate", "benches": 8, "balances": 2, "seed": "5"} | more
        self.found = self.post("/api/practice/classes", body, status)
        return self.found

    def on(self, minutes: float) -> Any:
        """The clock put on, and what happens by then."""
        self.found = self.post(f"/api/practice/classes/{self.found['uuid']}/clock", {"minutes": minutes})
        return self.found

    def to(self, minutes: float) -> Any:
        """The same up to so many minutes after it began."""
        while self.found["minutes"] < minutes:
            self.on(5)
        return self.found

    def end(self) -> Any:
        """Its debrief."""
        self.found = self.post(f"/api/practice/classes/{self.found['uuid']}/end", {})
        return self.found["ended"]

    def board(self) -> Any:
        """The board of the class, as it is seen there."""
        response = self.client.get(f"/api/classes/{self.found['day']}/changes", headers=THERE)
        self.assertEqual(response.status_code, 200, response.text)
        return response.json


class Evening(EveningCase):
    def test_a_bench_in_the_room_may_be_called_as_a_simulated_one(self) -> None:
        """Whichever was first: neither is taken for the other, and nobody renames what stands nowhere."""
        added = self.post("/api/class/benches", {"name": "Practice 1"})
        real = next(row["id"] for row in added["benches"] if row["name"] == "Practice 1")
        self.begin()
        self.post("/api/practice", {"uuid": str(uuid4()), "method": "hydrate"})
        self.assertEqual(len(self.board()["benches"]), 8)
        added = self.post("/api/class/benches", {"name": "Practice"})
        self.assertEqual(sum(row["name"].startswith("Practice") for row in added["benches"]), 2)
        with self.database.transaction() as session:
            self.assertEqual(session.scalar(select(func.count(RunRow.id)).where(RunRow.bench_id == real)), 0)
            simulated = session.scalar(select(Bench.id).where(Bench.name == "Practice 1", Bench.is_simulated))
        self.post("/api/class/benches", {"number": simulated, "name": "Window"}, 404)

    def test_it_plays_on_the_real_board_calls_and_all_and_is_nowhere_else(self) -> None:
        before = self.get("/api/runs")["runs"]
        self.begin()
        self.assertEqual(len(self.board()["benches"]), 8)
        self.to(30)
        board = self.board()
        steps = {row["step"]["title"] if isinstance(row.get("step"), dict) else str(row) for row in board["benches"]}
        self.assertGreater(len(steps), 1, "the benches are not all at one step")
        self.assertGreater(self.found["happened"], 25)
        self.to(60)
        self.assertTrue(self.board()["calls"], "somebody is wanted somewhere")
        self.assertEqual(self.get("/api/runs")["runs"], before)
        self.assertNotIn("Rehearsal", str(self.get("/api/classes")))

    def test_by_its_own_clock_it_plays_by_itself_ten_times_as_fast(self) -> None:
        self.begin()
        self.clock.move(seconds=15)
        first = self.get(f"/api/practice/classes/{self.found['uuid']}")
        self.assertAlmostEqual(first["minutes"], 2.5, delta=0.1)
        for _ in range(20):
            self.clock.move(seconds=15)
            found = self.get(f"/api/practice/classes/{self.found['uuid']}")
        self.assertGreater(found["minutes"], 45)
        self.assertGreater(found["happened"], first["happened"] + 20)

    def test_whoever_speaks_to_a_bench_in_time_saves_it(self) -> None:
        self.begin()
        self.to(130)
        alone = self.end()
        off = [row["bench"] for row in alone["benches"] if row["off"]]
        self.assertEqual((alone["off"], alone["missed"]), (len(off), len(off)))
        self.assertGreater(len(off), 1)
        hasty = [row["bench"] for row in alone["benches"] if "hurry" in row["behind"]]
        self.assertTrue(hasty)
        # the same class again: this time somebody says to all of them, early, to take their time
        self.clock.move(minutes=1)
        self.begin()
        self.on(3)
        body = {"uuid": str(uuid4()), "text": "Let it cool for the whole time."}
        path = f"/api/classes/{self.found['day']}/messages"
        response = self.client.post(path, json=body, headers=THERE)
        self.assertEqual(response.status_code, 200, response.text)
        self.to(130)
        spoken = self.end()
        self.assertLess(spoken["off"], alone["off"])
        self.assertGreater(spoken["saved"], 0)
        self.assertEqual({row["spoken_min"] for row in spoken["benches"]}, {3})

    def test_its_debrief_tells_bench_by_bench_and_what_one_balance_more_would_do(self) -> None:
        self.begin(balances=1, benches=12)
        self.to(60)
        ended = self.end()
        self.assertEqual(len(ended["benches"]), 12)
        self.assertGreater(ended["waited_min"], 0)
        self.assertLessEqual(ended["with_one_more_min"], ended["last_min"])
        first = ended["benches"][0]
        self.assertTrue(first["true"].startswith("7"))
        again = self.post(f"/api/practice/classes/{self.found['uuid']}/end", {}, 409)
        self.assertIn("ended already", again["title"])
        self.assertTrue(self.get("/api/practice/classes")["classes"][0]["ended"])

    def test_tomorrow_s_class_is_rehearsed_as_it_is_prepared(self) -> None:
        self.more_benches("China", "Flint")
        laid = self.post("/api/classes", {"uuid": str(uuid4()), "wish": self.wish(title="Zinc", sample="1.7 g")}, 201)
        found = self.begin(number=laid["id"], benches=3)
        self.assertIn("Rehearsal", found["title"])
        self.to(20)
        self.assertGreater(self.found["happened"], 3)
        # and the class that is prepared is as it was
        self.assertEqual(self.get(f"/api/classes/{laid['id']}")["title"], "Zinc")

    def test_what_makes_no_class_is_refused_at_its_place(self) -> None:
        for more, path in (
            ({"benches": 0}, "benches"),
            ({"benches": 17}, "benches"),
            ({"balances": 0}, "balances"),
            ({"seed": "soon"}, "seed"),
            ({"method": "nothing"}, "method"),
        ):
            with self.subTest(more):
                self.assertEqual(self.begin(422, **more)["faults"][0]["path"], path)
        self.begin(404, number=999)
        self.begin()
        wrong = self.post(f"/api/practice/classes/{self.found['uuid']}/clock", {"minutes": 600}, 422)
        self.assertEqual(wrong["faults"][0]["path"], "minutes")


if __name__ == "__main__":
    import unittest

    unittest.main()
