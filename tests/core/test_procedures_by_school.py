"""The steps of each procedure under each school: what is added, dropped and asked, and that every caution is there."""

from __future__ import annotations

import unittest
from itertools import product
from typing import Any

from claykettle.core.methods.registry import method_named, shipped_procedures
from claykettle.core.run import Procedure, Progress, course_faults, slots_of, steps_of, usable_readings
from claykettle.formats.run_file import parse_options

PROCEDURES = {row.method: row for row in shipped_procedures()}
# The step that ends each method's course, and a reading that none of its schools can do without.
ENDS = {
    "hydrate": ("set_aside", "vessel"),
    "combination": ("set_aside", "vessel"),
    "decomposition": ("set_aside", "vessel"),
    "gas_over_water": ("clear", "volume_end"),
    "gas_by_mass_loss": ("neutralise", "vessel_after"),
    "gas_density": ("neutralise", "flask_air"),
    "precipitation": ("set_aside", "collected"),
    "filtration": ("set_aside", "collected"),
    "composition": ("set_aside", "collected"),
    "recrystallization": ("set_aside", "crystals"),
    "crystal_growth": ("set_aside", "volume_1"),
    "synthesis": ("set_aside", "reagent_1"),
}
NOTHING = Progress({}, (), ())
NEEDS_LENGTH = "This procedure needs the mass per length: fill it in."
NEEDS_DENSITY = "This procedure needs the density of the sample: fill it in."


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

    def test_every_course_fits_some_options_once_their_fields_are_filled_in(self) -> None:
        for procedure in PROCEDURES.values():
            method = method_named(procedure.method)
            forms = [shape.options for shape in method.bench.shapes()]
            names = list(procedure.schools)
            for answers in product(*(procedure.schools[name].choices for name in names)):
                chosen = procedure.chosen(dict(zip(names, answers, strict=True)))
                faults = [
                    course_faults(method, options, slots_of(procedure, chosen, usable_readings(method, options)))
                    for options in forms
                ]
                with self.subTest(procedure=procedure.name, **chosen):
                    self.assertTrue(any(all(fault.path for fault in row) for row in faults))
                    if chosen == procedure.chosen({}):
                        self.assertIn([], faults)

    def test_a_course_and_options_that_need_other_readings_are_told(self) -> None:
        method, procedure = method_named("gas_over_water"), PROCEDURES["gas_over_water"]
        never = "This procedure never takes 'dead volume', which these options need: change one or the other."
        no_use = "This procedure takes 'dead volume', which these options have no use for: change one or the other."
        upright: dict[str, Any] = {"tube": {"reading": "direct"}}
        turned: dict[str, Any] = {"tube": {"reading": "inverted_burette", "mark": "50 mL"}}
        length, density = {"linear_density": "1.02 mg/mm"}, {"density": "1.01 g/mL"}
        for options, schools, expected in (
            (upright, {"tube": "cylinder"}, []),
            (upright, {"tube": "burette"}, [("", no_use)]),
            (turned, {"tube": "burette"}, []),
            (turned, {"tube": "cylinder"}, [("", never)]),
            (turned, {"tube": "long"}, [("", never)]),
            (turned, {"tube": "burette", "sample": "ribbon"}, [("options.linear_density", NEEDS_LENGTH)]),
            (turned | length, {"tube": "burette", "sample": "ribbon"}, []),
            (upright, {"sample": "liquid"}, [("options.density", NEEDS_DENSITY)]),
            (upright | density, {"sample": "liquid"}, []),
        ):
            parsed = parse_options(method, options)
            faults = course_faults(method, parsed, slots_of(procedure, procedure.chosen(schools)))
            with self.subTest(options=options, schools=schools):
                self.assertEqual([(row.path, row.message) for row in faults], expected)

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
