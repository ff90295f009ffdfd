"""Procedures: schools add, drop and reorder steps, repeats end on a verdict, faults are named."""

from __future__ import annotations

import unittest

from claykettle.core.errors import Refusal
from claykettle.core.methods.registry import all_methods
from claykettle.core.procedure import Progress, parse_procedure, procedure_body, shipped_procedures, slots_of, steps_of
from claykettle.core.run import reading_names

HYDRATE = next(row for row in shipped_procedures() if row.method == "hydrate")
LOSING, CONSTANT = [("still-losing", "vessel_residue")], [("constant-mass", "vessel_residue")]


def laid_out(
    taken: dict[str, int], verdicts: list[tuple[str, str]] | None = None, finished: tuple[str, ...] = (), **schools: str
) -> dict[str, str]:
    steps = steps_of(HYDRATE, schools, Progress(taken, verdicts or [], finished))
    return {step.key: step.state for step in steps}


class Shipped(unittest.TestCase):
    def test_every_slot_is_a_reading_of_its_method_under_every_school(self) -> None:
        for procedure in shipped_procedures():
            names = reading_names(all_methods()[procedure.method])
            for step in procedure.all_steps():
                if step.reads:
                    self.assertIn(step.reads, names)

    def test_every_step_with_heat_shows_a_caution(self) -> None:
        for step in HYDRATE.all_steps():
            if "heat" in step.id or step.id in ("fire", "weigh_vessel", "weigh_residue"):
                self.assertTrue(step.caution, step.id)
        self.assertIn("safety officer", HYDRATE.caution)

    def test_a_version_survives_being_kept(self) -> None:
        self.assertEqual(type(HYDRATE).model_validate(procedure_body(HYDRATE)), HYDRATE)


class Schools(unittest.TestCase):
    def test_they_add_and_drop_steps(self) -> None:
        self.assertEqual(slots_of(HYDRATE, {}), ("vessel", "vessel_sample", "vessel_residue"))
        self.assertEqual(slots_of(HYDRATE, {"weighing": "tare"}), ("vessel", "sample", "vessel_residue"))
        self.assertIn("heat_plate#1", laid_out({}, heat="hot_plate"))
        self.assertNotIn("heat#1", laid_out({}, heat="hot_plate"))

    def test_they_reorder_steps(self) -> None:
        """Out of a weigh boat the sample is weighed while the vessel cools, before the vessel itself."""
        self.assertEqual(
            slots_of(HYDRATE, {"weighing": "boat"}), ("sample_tare", "sample_gross", "vessel", "vessel_residue")
        )

    def test_an_answer_nobody_offers_is_refused(self) -> None:
        with self.assertRaises(Refusal) as caught:
            HYDRATE.chosen({"weighing": "guess"})
        self.assertEqual(caught.exception.faults[0].path, "schools.weighing")


class Progressing(unittest.TestCase):
    def test_one_thing_is_to_be_done_now(self) -> None:
        self.assertEqual(laid_out({})["fire"], "now")
        states = laid_out({"vessel": 1}, finished=("fire",))
        self.assertEqual((states["weigh_vessel"], states["weigh_loaded"]), ("done", "now"))
        self.assertEqual(list(states.values()).count("now"), 1)

    def test_a_weighing_proves_the_handwork_before_it(self) -> None:
        states = laid_out({"vessel": 1, "vessel_sample": 1, "vessel_residue": 1}, [("provisional", "vessel_residue")])
        self.assertEqual((states["fire"], states["heat#1"], states["heat#2"]), ("done", "done", "now"))

    def test_the_repeat_goes_on_until_its_verdict(self) -> None:
        taken = {"vessel": 1, "vessel_sample": 1, "vessel_residue": 2}
        self.assertIn("weigh_residue#3", laid_out(taken, LOSING))
        done = laid_out(taken, CONSTANT)
        self.assertNotIn("weigh_residue#3", done)
        self.assertEqual(done["set_aside"], "now")

    def test_a_forgotten_weighing_is_said(self) -> None:
        states = laid_out({"vessel_sample": 1, "vessel_residue": 1})
        self.assertEqual((states["weigh_vessel"], states["heat#2"]), ("missed", "now"))

    def test_later_heatings_are_shorter(self) -> None:
        taken = {"vessel": 1, "vessel_sample": 1, "vessel_residue": 1}
        minutes = {step.key: step.minutes for step in steps_of(HYDRATE, {}, Progress(taken, LOSING, ()))}
        self.assertEqual((minutes["heat#1"], minutes["heat#2"]), (8, 2))


class Faults(unittest.TestCase):
    GOOD = "{name: a, version: 1, method: hydrate, title: t, caution: c, steps: [{id: s, title: t, say: s}]}"

    def test_a_good_one_is_read(self) -> None:
        self.assertEqual(parse_procedure(self.GOOD).steps[0].id, "s")

    def test_each_fault_is_named(self) -> None:
        for text, word in (
            ("{", "YAML"),
            (self.GOOD.replace("version: 1", "version: 0"), "greater than or equal to 1"),
            (self.GOOD.replace("say: s", "say: s, colour: red"), "Extra inputs"),
            (self.GOOD.replace("}]}", "}, {id: s, title: u, say: u}]}"), "two steps bear the same id"),
            (self.GOOD.replace("say: s", "say: s, when: {x: [y]}"), "no school offers"),
            (self.GOOD[:-1] + ", moves: [{when: {}, steps: [z], before: s}]}", "'z', which is no step"),
        ):
            with self.subTest(word):
                with self.assertRaises(Refusal) as caught:
                    parse_procedure(text)
                self.assertIn(word, caught.exception.faults[0].message)
