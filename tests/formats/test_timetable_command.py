"""`kettle timetable`: the plan of a class in, its timetable out; a fault at its place, and never a trace."""

from __future__ import annotations

import json
import unittest
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.planning.timetable import timetable
from claykettle.formats.plan_file import read_plan, time_of_day, timetable_document
from tests.support.commands import Done, kettle


def a_plan(**more: Any) -> dict[str, Any]:
    """Two benches, two trials, two balances and four hoods."""
    steps = [
        {"id": "weigh", "takes": "2 min", "at": "balance"},
        {"id": "heat", "takes": {"low": "6 min", "usual": "8 min", "high": "12 min"}, "at": "hood"},
        {"id": "cool", "takes": "10 min", "attended": False},
    ]
    return {
        "format": "clay-kettle/plan",
        "version": 1,
        "title": "Water of zinc sulfate",
        "date": "2026-03-05",
        "starts": "18:30",
        "length": "150 min",
        "groups": [{"benches": ["Ball", "China", "Flint"], "trials": 2, "steps": steps}],
        "room": {"balance": 1, "hood": 4},
        "stagger": "0 min",
        "overlap": False,
        "repetitions": 60,
        "seed": 7,
    } | more


def command(data: bytes) -> Done[bytes]:
    """The command as the launcher runs it, the plan on standard input."""
    return kettle("timetable", "-", given=data)


class Answers(unittest.TestCase):
    def test_the_document(self) -> None:
        done = command(json.dumps(a_plan()).encode())
        self.assertEqual((done.returncode, done.stderr), (0, b""))
        found = json.loads(done.stdout)
        self.assertEqual((found["format"], found["version"], found["unit"]), ("clay-kettle/timetable", 1, "min"))
        self.assertEqual([row["bench"] for row in found["benches"]], ["Ball", "China", "Flint"])
        self.assertEqual(set(found["benches"][0]["finish"]), {"p10", "median", "p90"})
        self.assertEqual([(row["name"], row["count"]) for row in found["resources"]], [("balance", 1), ("hood", 4)])
        # the first bench weighs at once; between it and the others lies one weighing each
        self.assertLessEqual(found["benches"][0]["waited"]["p10"], found["benches"][2]["waited"]["p10"])
        self.assertEqual((found["bottleneck"], found["fits"]), ("balance", 1.0))
        self.assertRegex(found["latest_start"], r"^\d\d:\d\d$")
        self.assertEqual(found["what_if"][0]["change"], {"room": {"balance": 2}})
        self.assertEqual([set(row["change"]) for row in found["what_if"][1:]], [{"stagger"}, {"trials"}, {"overlap"}])
        self.assertEqual(command(json.dumps(a_plan()).encode()).stdout, done.stdout)

    def test_a_practical_brings_its_steps_and_trials(self) -> None:
        practical = {
            "format": "clay-kettle/practical", "version": 1, "name": "Water", "method": "hydrate",
            "options": {"salt": "ZnSO4"}, "trials": 2,
        }  # fmt: skip
        group = {"benches": ["Ball", "China", "Flint", "Grog"], "practical": practical}
        found = read_plan(json.dumps(a_plan(groups=[group], room={"balance": 1})).encode())
        self.assertEqual((found.groups[0].trials, found.groups[0].steps[0].name), (2, "fire"))
        told = timetable_document(timetable(found))
        self.assertEqual(told["bottleneck"], "balance")
        # firing 15, two heatings of 8 and 3, two coolings of 10, four weighings: some 50 to 80 minutes a trial
        self.assertTrue(100 < told["finish_last"]["median"] < 160, told["finish_last"])
        once = timetable_document(timetable(read_plan(json.dumps(a_plan(groups=[{**group, "trials": 1}])).encode())))
        self.assertLess(once["finish_last"]["p90"], told["finish_last"]["p10"])

    def test_times_of_day(self) -> None:
        for minutes, text in ((18.5 * 60, "18:30"), (18 * 60 + 52.99, "18:52"), (24 * 60 + 9, "00:09"), (0, "00:00")):
            self.assertEqual(time_of_day(minutes), text)

    def test_what_is_left_out_is_usual(self) -> None:
        bare = {name: a_plan()[name] for name in ("format", "version", "date", "starts", "length", "groups")}
        found = read_plan(json.dumps(bare).encode())
        self.assertEqual((found.repetitions, found.overlap, found.stagger, dict(found.room)), (500, False, 0, {}))
        told = timetable_document(timetable(read_plan(json.dumps(bare | {"repetitions": 5}).encode())))
        self.assertEqual((told["bottleneck"], told["resources"]), (None, []))

    def test_other_units_of_time(self) -> None:
        found = read_plan(json.dumps(a_plan(length="2.5 h", stagger="90 s")).encode())
        self.assertEqual((found.length, found.stagger), (150, 1.5))


class Refused(unittest.TestCase):
    def step(self, **more: Any) -> dict[str, Any]:
        group = {"benches": ["Ball"], "trials": 1, "steps": [{"id": "weigh", "takes": "2 min", **more}]}
        return a_plan(groups=[group])

    def test_each_fault_at_its_place(self) -> None:
        bench = {"benches": ["Ball", "Ball"], "trials": 1, "steps": [{"id": "a", "takes": "1 min"}]}
        practical = {"format": "clay-kettle/practical", "version": 1, "name": "Water", "method": "hydrate"}
        many = {**bench, "benches": [f"B{n}" for n in range(201)]}
        window = {"low": "3 min", "usual": "2 min", "high": "4 min"}
        for path, plan in (
            ("starts", a_plan(starts="25:00")),
            ("date", a_plan(date="2026-02-30")),
            ("length", a_plan(length="150")),
            ("length", a_plan(length="150 mL")),
            ("length", a_plan(length="0 min")),
            ("groups", a_plan(groups=[])),
            ("groups[0].benches", a_plan(groups=[{**bench, "benches": []}])),
            ("groups[0].benches", a_plan(groups=[many])),
            ("groups[0].benches[1]", a_plan(groups=[bench])),
            ("groups[0].trials", a_plan(groups=[{**bench, "benches": ["Ball"], "trials": 21}])),
            ("groups[0].steps[0].at", self.step(at="balance") | {"room": {"balance": 0}}),
            ("groups[0].steps[0].takes.usual", self.step(takes=window)),
            ("groups[0].steps[0].takes", self.step(takes="20 days")),
            ("groups[0]", a_plan(groups=[{"benches": ["Ball"]}])),
            (
                "groups[0].practical.method",
                a_plan(groups=[{"benches": ["Ball"], "practical": {**practical, "method": "x"}}]),
            ),
            (
                "groups[0].practical.procedure",
                a_plan(groups=[{"benches": ["Ball"], "practical": practical}], room={"balance": 0}),
            ),
            ("room.balance", a_plan(room={"balance": -1})),
            ("repetitions", a_plan(repetitions=0)),
            ("seed", a_plan(seed=1.5)),
            ("benchs", a_plan(benchs=3)),
        ):
            with self.subTest(path):
                with self.assertRaises(Refusal) as told:
                    read_plan(json.dumps(plan).encode())
                paths = [fault.path for fault in told.exception.faults]
                self.assertTrue(any(one.startswith(path) for one in paths), paths)

    def test_more_work_than_a_class_is_worth(self) -> None:
        group = {"benches": [f"B{n}" for n in range(200)], "trials": 20, "steps": [{"id": "a", "takes": "1 min"}] * 50}
        with self.assertRaises(Refusal) as told:
            read_plan(json.dumps(a_plan(groups=[group], repetitions=10_000)).encode())
        self.assertEqual(told.exception.faults[0].path, "repetitions")
        self.assertIn("at most 25 here", told.exception.faults[0].message)

    def test_no_stack_trace_for_any_broken_file(self) -> None:
        for data in (b"", b"{", b"null", b"[" * 100_000, b'{"format": 5}', b"\x00", b'{"seed": NaN}', b'{"a":1,"a":2}'):
            with self.subTest(data[:10]):
                done = command(data)
                self.assertEqual((done.returncode, done.stdout), (2, b""))
                self.assertNotIn(b"Traceback", done.stderr)
                self.assertGreater(len(done.stderr.splitlines()), 0)
