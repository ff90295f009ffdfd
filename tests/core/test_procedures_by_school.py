"""The steps of each procedure under each school: what is added, dropped and asked, and that every caution is there."""

from __future__ import annotations

import unittest
from itertools import product

from claykettle.core.procedure import Procedure, Progress, shipped_procedures, slots_of, steps_of

PROCEDURES = {row.method: row for row in shipped_procedures()}
# The step that ends each method's course, and a reading that none of its schools can do without.
ENDS = {
    "hydrate": ("set_aside", "vessel"),
    "combination": ("set_aside", "vessel"),
    "decomposition": ("set_aside", "vessel"),
    "gas_over_water": ("clear", "volume_end"),
    "gas_by_mass_loss": ("neutralise", "vessel_after"),
    "gas_density": ("neutralise", "flask_air"),
}
NOTHING = Progress({}, (), ())


def keys(procedure: Procedure, **schools: str) -> list[str]:
    """The keys of the steps that a fresh run under these schools shows."""
    return [row.key for row in steps_of(procedure, schools, NOTHING)]


class Schools(unittest.TestCase):
    def test_every_combination_of_schools_has_a_course_that_ends(self) -> None:
        for procedure in PROCEDURES.values():
            names = list(procedure.schools)
            for answers in product(*(procedure.schools[name].choices for name in names)):
                chosen = dict(zip(names, answers, strict=True))
                steps = steps_of(procedure, chosen, NOTHING)
                with self.subTest(procedure=procedure.name, **chosen):
                    self.assertEqual([row.state for row in steps].count("now"), 1)
                    last, slot = ENDS[procedure.method]
                    self.assertEqual(steps[-1].key, last)
                    self.assertIn(slot, slots_of(procedure, chosen))

    def test_the_combination_follows_what_the_metal_is_heated_with(self) -> None:
        procedure = PROCEDURES["combination"]
        self.assertIn("heat_air#1", keys(procedure))
        self.assertNotIn("nitride#1", keys(procedure))
        self.assertIn("nitride#1", keys(procedure, nitride="yes"))
        sulfur = keys(procedure, partner="sulfur", nitride="yes")
        self.assertLess(sulfur.index("add_sulfur"), sulfur.index("heat_hood#1"))
        self.assertNotIn("nitride#1", sulfur)

    def test_tare_asks_the_net_figure_and_gross_the_loaded_crucible(self) -> None:
        self.assertEqual(
            slots_of(PROCEDURES["combination"], {"weighing": "tare"}), ("vessel", "element", "vessel_product")
        )
        self.assertEqual(slots_of(PROCEDURES["decomposition"], {}), ("vessel", "vessel_sample", "vessel_residue"))

    def test_a_verdict_ends_the_repeats(self) -> None:
        procedure = PROCEDURES["decomposition"]
        taken = {"vessel": 1, "vessel_sample": 1, "vessel_residue": 2}
        going = steps_of(procedure, {}, Progress(taken, (), ()))
        self.assertIn("weigh_residue#3", [row.key for row in going])
        ended = steps_of(procedure, {}, Progress(taken, {("constant-mass", "vessel_residue")}, ()))
        self.assertNotIn("weigh_residue#3", [row.key for row in ended])
        self.assertEqual(next(row for row in ended if row.state == "now").key, "set_aside")


class Cautions(unittest.TestCase):
    def test_every_procedure_defers_to_local_rules(self) -> None:
        for procedure in PROCEDURES.values():
            self.assertIn("local rules and your safety officer", procedure.caution)

    def test_every_step_at_the_flame_and_every_hot_weighing_carries_its_caution(self) -> None:
        for procedure in PROCEDURES.values():
            for step in procedure.all_steps():
                if step.timer is not None or "heat" in step.id:
                    with self.subTest(procedure=procedure.name, step=step.id):
                        self.assertTrue(step.caution)

    def test_the_cautions_that_hurt_when_missing(self) -> None:
        """Common practice: sulfur in the hood, water only onto a cold crucible, no staring at burning metal."""
        steps = {step.id: step.caution for step in PROCEDURES["combination"].all_steps()}
        for step, words in (
            ("add_sulfur", "hood"), ("heat_hood", "hood"), ("nitride", "cold crucible"), ("heat_air", "Do not stare"),
        ):  # fmt: skip
            self.assertIn(words, steps[step])
