"""Procedures: schools add, drop and reorder steps, repeats end on a verdict, faults are named."""

from __future__ import annotations

import unittest

from claykettle.core.errors import Refusal
from claykettle.core.methods.registry import all_methods, shipped_pieces, shipped_procedures
from claykettle.core.run import Piece, Progress, parse_procedure, procedure_body, reading_names, slots_of, steps_of

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

    def test_handwork_before_a_weighing_is_passed_over_not_done(self) -> None:
        states = laid_out({"vessel": 1, "vessel_sample": 1, "vessel_residue": 1}, [("provisional", "vessel_residue")])
        self.assertEqual((states["fire"], states["heat#1"], states["heat#2"]), ("passed", "passed", "now"))

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


class Each(unittest.TestCase):
    """What is alike for every reagent is written once."""

    TEXT = """
    {name: tea, version: 1, method: hydrate, title: T, caution: C, steps: [
      {id: boil, title: Boil, say: "."},
      {each: 3, id: "take_{i}", title: "Take {i}, round {n}", say: "{reading}", reads: "reagent_{i}", when: {}}]}
    """

    def test_it_stands_for_so_many_numbered_from_one(self) -> None:
        steps = list(parse_procedure(self.TEXT).all_steps())
        self.assertEqual([row.id for row in steps], ["boil", "take_1", "take_2", "take_3"])
        self.assertEqual([row.reads for row in steps], [None, "reagent_1", "reagent_2", "reagent_3"])
        self.assertEqual((steps[3].title, steps[3].say), ("Take 3, round {n}", "{reading}"))

    def test_a_number_that_is_none_is_refused(self) -> None:
        with self.assertRaises(Refusal):
            parse_procedure(self.TEXT.replace("each: 3", "each: many"))


class Elsewhere(unittest.TestCase):
    """A reading that was not taken in the trial, such as the room's barometer or a vessel that all trials share."""

    def states(self, elsewhere: tuple[str, ...]) -> dict[str, str]:
        """The steps of a tube whose barometer has been read."""
        tube = next(row for row in shipped_procedures() if row.method == "gas_over_water")
        return {row.key: row.state for row in steps_of(tube, {}, Progress({"barometer": 1}, (), (), elsewhere))}

    def test_taken_in_the_trial_it_passes_the_steps_before_it(self) -> None:
        states = self.states(())
        self.assertEqual((states["leak_test"], states["end_volume"]), ("passed", "missed"))

    def test_taken_elsewhere_it_is_done_and_proves_nothing(self) -> None:
        states = self.states(("barometer",))
        self.assertEqual((states["pressure"], states["leak_test"], states["end_volume"]), ("done", "now", "ahead"))


class Pieces(unittest.TestCase):
    PIECE = Piece.model_validate({"steps": [{"id": "pour", "title": "Pour", "say": "Slowly."}], "observe": ["milky"]})
    TEXT = """
name: one
version: 1
method: precipitation
title: One
caution: Follow your local rules.
steps:
  - { id: first, title: First, say: Do it. }
  - { use: PIECE }
  - { id: last, title: Last, say: Do it. }
"""

    def test_a_piece_stands_in_the_place_of_its_step(self) -> None:
        found = parse_procedure(self.TEXT.replace("PIECE", "pouring"), {"pouring": self.PIECE})
        self.assertEqual([row.id for row in found.steps], ["first", "pour", "last"])
        self.assertEqual(found.observe, ["milky"])

    def test_only_some_of_its_steps_bring_only_their_schools(self) -> None:
        piece = shipped_pieces()["filtration"]
        found = parse_procedure(self.TEXT.replace("PIECE", "filtration, only: [draw_air]"), {"filtration": piece})
        self.assertEqual([row.id for row in found.steps], ["first", "draw_air", "last"])
        self.assertEqual(set(found.schools), {"filter"})
        with self.assertRaises(Refusal):
            parse_procedure(self.TEXT.replace("PIECE", "filtration, only: [stir]"), {"filtration": piece})

    def test_a_piece_may_be_used_in_some_schools_only(self) -> None:
        """Its steps take the condition on, also in a repeat; one that asks about the school itself keeps its answer."""
        piece = shipped_pieces()["filtration"]
        used = "filtration, when: { filter: [gravity] }"
        found = parse_procedure(self.TEXT.replace("PIECE", used), {"filtration": piece})
        steps = {step.id: step for step in found.all_steps()}
        self.assertEqual(steps["pour"].when, {"filter": ["gravity"]})
        self.assertEqual(steps["set_up_vacuum"].when, {"filter": ["vacuum"]})
        self.assertEqual(steps["dry_oven"].when, {"filter": ["gravity"], "drying": ["oven"]})
        self.assertEqual(steps["first"].when, {})

    def test_particles_are_held_by_a_magnet_in_place_of_a_paper(self) -> None:
        """Common practice: co-precipitated particles are washed and decanted magnetically, and pass or fail."""
        synthesis = next(row for row in shipped_procedures() if row.method == "synthesis")
        here = [step.id for step in synthesis.all_steps() if "magnet" in step.when.get("filter", ["magnet"])]
        self.assertLess({"settle", "wash_particles", "try_magnet"}, set(here))
        self.assertFalse({"pour", "draw_air", "fold_quarter", "set_up_vacuum"} & set(here))
        steps = {step.id: step for step in synthesis.all_steps()}
        washed = steps["wash_particles"].counts
        assert washed is not None
        self.assertEqual(washed.times, 3)
        self.assertLessEqual({"pass", "fail"}, set(steps["try_magnet"].observe))
        self.assertIn("pacemakers", steps["settle"].caution)

    def test_the_procedure_s_own_usual_answer_comes_first(self) -> None:
        recrystallization = next(row for row in shipped_procedures() if row.method == "recrystallization")
        self.assertEqual(recrystallization.schools["filter"].default, "vacuum")

    def test_one_that_is_not_there_is_named(self) -> None:
        with self.assertRaises(Refusal) as refused:
            parse_procedure(self.TEXT.replace("PIECE", "sieving"), {"pouring": self.PIECE})
        self.assertIn("'sieving'", refused.exception.faults[0].message)

    def test_filtration_serves_every_method_that_collects_a_solid(self) -> None:
        """One piece: whatever it asks is asked in both, with the same cautions."""
        rows = [row for row in shipped_procedures() if row.method in ("precipitation", "composition")]
        self.assertEqual(len(rows), 2)
        for procedure in rows:
            steps = {step.id: step for step in procedure.all_steps()}
            for step in shipped_pieces()["filtration"].steps:
                self.assertIn(step["id"], {*steps, *(row.id for row in procedure.steps)})
            self.assertIn("Break the vacuum", steps["set_up_vacuum"].caution.capitalize() + steps["draw_air"].caution)
            self.assertIn("ethanol", steps["dry_oven"].caution)

    def test_a_step_taken_if_needed_takes_a_reading(self) -> None:
        text = self.TEXT.replace("  - { use: PIECE }", "  - { id: odd, title: Odd, say: Do it., if_needed: true }")
        with self.assertRaises(Refusal):
            parse_procedure(text)


class Counted(unittest.TestCase):
    def steps(self, **noted: int) -> list[str]:
        """States of a fresh precipitation's rinses."""
        precipitation = next(row for row in shipped_procedures() if row.method == "precipitation")
        progress = Progress({}, (), (), noted={"rinse, beaker": noted.get("beaker", 0)})
        return [row.state for row in steps_of(precipitation, {}, progress) if row.step.id == "rinse_beaker"]

    def test_it_is_done_when_it_was_noted_so_often(self) -> None:
        self.assertEqual(self.steps(beaker=2), ["ahead"])
        self.assertEqual(self.steps(beaker=3), ["done"])
