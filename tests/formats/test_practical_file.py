"""A practical as a file: what it says comes back as it was, and what cannot be taught is refused at its place."""

from __future__ import annotations

import json
import unittest
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.methods.registry import all_methods, procedure_named
from claykettle.core.planning.trial_steps import BALANCES, HANDS, READING, WEIGHING, steps_of_trial
from claykettle.core.run import procedure_body, slots_of, usable_readings
from claykettle.formats.practical_file import practical_document, read_practical
from claykettle.formats.run_file import parse_options
from claykettle.service.demo import evening


def a_practical(**more: Any) -> dict[str, Any]:
    """Water of zinc sulfate in two trials."""
    return {
        "format": "clay-kettle/practical",
        "version": 1,
        "name": "Water of zinc sulfate",
        "method": "hydrate",
        "options": {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"},
        "trials": 2,
        "schools": {"vessel": "crucible"},
        "planned": {"sample": {"about": "1.5 g"}},
        "instruments": {"balance": "Balance A"},
        "reveal": "after_own_figures",
        "before": [
            {"ask": "How much water do you expect?", "kind": "number", "answer": "43.9 %", "about": "water_percent"},
            {"ask": "What is hot looks …", "kind": "choice", "choices": ["hot", "cold"], "answer": "cold"},
        ],
        "after": [{"ask": "Too high or too low, and why?", "kind": "text"}],
        "report": [{"line": "water_mass", "number": 4, "marks": 1}, {"line": "formula", "marks": 2}],
    } | more


def read(**more: Any) -> Any:
    """The practical with something else in it."""
    return read_practical(json.dumps(a_practical(**more)).encode())


def course(**more: Any) -> dict[str, Any]:
    """The procedure of a hydrate, with something else in it."""
    shipped = procedure_named("hydrate", None)
    assert shipped is not None
    return procedure_body(shipped) | more


class Reads(unittest.TestCase):
    def test_what_it_says(self) -> None:
        found = read()
        self.assertEqual((found.name, found.method.name, found.trials), ("Water of zinc sulfate", "hydrate", 2))
        self.assertEqual((found.schools["vessel"], found.schools["heat"]), ("crucible", "hot_flame"))
        self.assertEqual(found.planned["sample"].about.digits, "1.5")
        self.assertEqual([row.answer for row in found.before], ["43.9 %", "cold"])
        self.assertEqual(
            [(row.line, row.number, row.marks) for row in found.report], [("water_mass", 4, 1), ("formula", 0, 2)]
        )

    def test_written_and_read_again_it_is_the_same(self) -> None:
        found = read()
        document = practical_document(found)
        again = read_practical(json.dumps(document).encode())
        self.assertEqual(again, found)
        self.assertEqual(practical_document(again), document)
        # the procedure is written whole: another version of this program changes nothing of it
        self.assertEqual(document["procedure"], course())

    def test_steps_are_added_reworded_retimed_reordered_and_dropped(self) -> None:
        steps = course()["steps"]
        extra = {"id": "show", "title": "Show it to the instructor", "say": "Hold it up."}
        extra["takes"] = {"low": 1, "usual": 1, "high": 9}  # type: ignore[assignment]
        caution = steps[0]["caution"] + " Ask first."
        fire = {**steps[0], "say": "As on the board.", "timer": {"minutes": 20}, "caution": caution}
        found = read(procedure=course(steps=[extra, fire, *steps[1:]]))
        planned = steps_of_trial(found.method, found.options, found.course, found.schools)
        times = {row.name: row.takes for row in planned}
        self.assertEqual((times["show"].low, times["show"].high), (1, 9))
        self.assertEqual(times["fire"].usual, 20)
        fewer = read(procedure=course(steps=steps[1:]))
        self.assertNotIn("fire", [step.id for step in fewer.course.all_steps()])


class Refused(unittest.TestCase):
    def paths(self, **more: Any) -> list[str]:
        with self.assertRaises(Refusal) as told:
            read(**more)
        return [fault.path for fault in told.exception.faults]

    def test_each_fault_at_its_place(self) -> None:
        choice = {"ask": "Which?", "kind": "choice"}
        number = {"ask": "How much?", "kind": "number"}
        for path, more in (
            ("name", {"name": ""}),
            ("method", {"method": "alchemy"}),
            ("options.salt", {"options": {"salt": "Znso4"}}),
            ("trials", {"trials": 21}),
            ("schools.vessel", {"schools": {"vessel": "bucket"}}),
            ("planned.pan", {"planned": {"pan": {"about": "1 g"}}}),
            ("planned.sample.about", {"planned": {"sample": {"about": "1 mL"}}}),
            ("planned.sample", {"planned": {"sample": {"low": "2 g", "high": "1 g"}}}),
            ("reveal", {"reveal": "never"}),
            ("before[0].choices", {"before": [choice | {"choices": ["one"]}]}),
            ("before[0].answer", {"before": [choice | {"choices": ["a", "b"], "answer": "c"}]}),
            ("before[0].choices", {"before": [number | {"choices": ["a", "b"]}]}),
            ("after[0].answer", {"after": [number | {"answer": "some"}]}),
            ("after[0].answer", {"after": [number | {"answer": "1.2 K", "about": "water_mass"}]}),
            ("before[0].about", {"before": [number | {"about": "luck"}]}),
            ("report[0].line", {"report": [{"line": "luck"}]}),
            ("report[1].line", {"report": [{"line": "water_mass"}, {"line": "water_mass"}]}),
            ("report[0].marks", {"report": [{"line": "water_mass", "marks": -1}]}),
            ("reports", {"reports": []}),
        ):
            with self.subTest(path, **more):
                self.assertIn(path, self.paths(**more))

    def test_a_procedure_edited_until_a_reading_has_no_step(self) -> None:
        steps = [row for row in course()["steps"] if row.get("reads") != "vessel"]
        with self.assertRaises(Refusal) as told:
            read(procedure=course(steps=steps, moves=[]))
        self.assertIn("never takes", told.exception.faults[0].message)
        self.assertEqual(told.exception.faults[0].path, "procedure")

    def test_a_built_in_caution_stays(self) -> None:
        steps = course()["steps"]
        gone = {name: value for name, value in steps[0].items() if name != "caution"}
        self.assertEqual(self.paths(procedure=course(steps=[gone, *steps[1:]])), ["procedure.steps.fire.caution"])
        self.assertEqual(self.paths(procedure=course(caution="Have fun.")), ["procedure.caution"])
        self.assertEqual(self.paths(procedure=course(method="synthesis")), ["procedure.method"])

    def test_a_procedure_that_is_none(self) -> None:
        self.assertTrue(self.paths(procedure={"name": "x"})[0].startswith("procedure."))
        twice = course(steps=[course()["steps"][0]] * 2)
        self.assertEqual(self.paths(procedure=twice), ["procedure"])

    def test_one_from_a_newer_program(self) -> None:
        with self.assertRaises(Refusal) as told:
            read(version=2, something_new=True)
        self.assertEqual((told.exception.faults[0].code, told.exception.faults[0].path), ("newer", "version"))


class OfEveryMethod(unittest.TestCase):
    def test_each_run_of_the_demo_is_a_practical_whose_trial_takes_every_reading_once(self) -> None:
        methods = set()
        for run in [row for row in evening()["runs"] if "method" in row]:
            method = all_methods()[run["method"]]
            methods.add(method.name)
            document = a_practical(method=method.name, options=run["options"], schools=run.get("schools", {}))
            document |= {"planned": {}, "before": [], "report": []}
            with self.subTest(run["title"]):
                found = read_practical(json.dumps(document).encode())
                steps = steps_of_trial(found.method, found.options, found.course, found.schools)
                needed = usable_readings(method, found.options)
                slots = slots_of(found.course, found.schools, needed, method.facts(found.options))
                self.assertEqual(parse_options(method, run["options"]), found.options)
                self.assertGreaterEqual(sum(step.takes in (WEIGHING, READING) for step in steps), len(slots))
                self.assertEqual(len({step.name for step in steps}), len(steps))
                for step in steps:
                    self.assertTrue(0 < step.takes.low <= step.takes.usual <= step.takes.high, step)
                # whoever weighs stands at a balance, and leaves nothing alone there
                weighings = [step for step in steps if step.at in BALANCES]
                self.assertTrue(all(step.attended and step.takes == WEIGHING for step in weighings))
                self.assertTrue(any(step.takes == HANDS for step in steps))
        self.assertGreaterEqual(len(methods), 11)

    def test_what_cools_needs_nobody_and_never_less_than_its_time(self) -> None:
        found = read()
        steps = {row.name: row for row in steps_of_trial(found.method, found.options, found.course, found.schools)}
        cooling = [row for name, row in steps.items() if name.endswith(", before")]
        heating = [row for name, row in steps.items() if name.startswith("heat#")]
        self.assertEqual((len(cooling), len(heating)), (2, 2))
        self.assertTrue(all(not row.attended and row.takes.low == row.takes.usual for row in cooling))
        self.assertFalse(any(row.at for row in cooling))
        self.assertTrue(all(row.attended and row.takes.low < row.takes.usual for row in heating))
