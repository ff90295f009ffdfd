"""Suspects: sign and size by replay, the dose that explains, in the sentences an instructor would say."""

from __future__ import annotations

import random
import tomllib
import unittest
from pathlib import Path
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.judgement.replay import replay
from claykettle.core.judgement.suspects import Suspect, Suspicion, result_at, suspicion
from claykettle.core.method import Evidence, Method, ReadingScaled, ReadingShifted, Trial, TruthChanged
from claykettle.core.methods.composition.bench import CompositionTruth
from claykettle.core.methods.registry import all_methods, shipped_procedures
from claykettle.core.quantity import Reading, nominal, parse_reading, reading_variable, unit
from claykettle.core.run import evaluate_run
from claykettle.core.sheet import Shape
from claykettle.formats.run_file import run_from
from tests.core.test_crucible_methods import run, soda, tin
from tests.support.methods import shape_with, truth_for
from tests.support.runs import document

# Which way each cause pushes the key result: common practice, told in every lab manual's discussion of errors.
UP, DOWN = 1, -1
FOLDER = Path(__file__).parents[1] / "signs"


def signs(method: str) -> dict[str, int]:
    """Which way each cause of a method pushes its key result, from tests/signs."""
    rows = tomllib.loads((FOLDER / f"{method}.toml").read_text(encoding="utf-8"))
    return {code: sign for word, sign in (("up", UP), ("down", DOWN)) for code in rows[word]}


FINE = {
    "mass": ("mg", 1e6),
    "temperature": ("K", 1),
    "pressure": ("Pa", 1),
    "ratio": ("%", 100),
    "volume": ("uL", 1e9),
    "length": ("mm", 1e3),
    "concentration": ("mol/L", 1e-3),
    "density": ("kg/m3", 1),
    "time": ("s", 1),
}


def weighed(method: Method, shape: Shape, readings: dict[str, Any]) -> Trial:
    """A trial of plain SI readings, typed to the nanogram so that no rounding hides a dose."""
    sheet = method.page.build(shape)

    def written(name: str, value: float) -> Reading:
        dimension = sheet.readings[name].dimension
        symbol, factor = FINE[dimension]
        return parse_reading(f"{value * factor:.9f} {symbol}", dimension)

    typed = {
        name: tuple(written(name, one) for one in row) if isinstance(row, list) else written(name, row)
        for name, row in readings.items()
    }

    def number(name: str, value: float) -> Any:
        return reading_variable(
            value, 1e-6 * (abs(value) or 1) if sheet.readings[name].dimension != "mass" else 1e-6, name
        )

    numbers = {
        name: [number(name, one) for one in row] if isinstance(row, list) else number(name, row)
        for name, row in readings.items()
    }
    return Trial(sheet, typed, sheet.evaluate(numbers))


def row_of(found: Suspicion, code: str) -> Suspect:
    """The suspect with this code."""
    return next(row for row in found.suspects if row.code == code)


class Signs(unittest.TestCase):
    def test_every_cause_pushes_the_way_the_trade_says(self) -> None:
        for method in all_methods().values():
            self.assertEqual({cause.code for cause in method.bench.causes}, set(signs(method.name)))
            for cause in method.bench.causes:
                shape = shape_with(method, cause)
                readings = method.bench.play(shape, method.bench.sample(random.Random(3).uniform), {})
                with self.subTest(method=method.name, cause=cause.code):
                    shift = replay(method, shape, readings, cause, cause.usual, method.judging.key(shape.options)).shift
                    self.assertGreater(shift * signs(method.name)[cause.code], 0)

    def test_for_an_unknown_metal_each_gas_cause_pushes_the_other_way(self) -> None:
        """Molar and equivalent mass: leak, metal lost, oxide, metal left up; vapour, column, air down (manuals)."""
        method = all_methods()["gas_over_water"]
        compared = 0
        for shape in method.bench.shapes():
            if shape.options.reagent is not None:
                continue
            readings = method.bench.play(shape, method.bench.sample(random.Random(3).uniform), {})
            for cause in method.bench.causes:
                if not cause.when(shape.options):
                    continue
                shift = replay(method, shape, readings, cause, cause.usual, "equivalent_mass").shift
                if cause.code == "column-ignored" and "level_difference" not in shape.taken:
                    self.assertEqual(shift, 0)
                    continue
                with self.subTest(cause.code):
                    self.assertLess(shift * signs(method.name)[cause.code], 0)
                    compared += 1
        self.assertGreaterEqual(compared, 14)


class Doses(unittest.TestCase):
    def test_a_planted_cause_is_found_again_with_its_dose(self) -> None:
        """One cause planted in a simulated run, the true result expected: the replay recovers the dose."""
        for method in all_methods().values():
            shape = next(method.bench.shapes())
            key = method.judging.key(shape.options)
            for seed in range(6):
                draw = random.Random(seed)
                truth = truth_for(method, shape, draw)
                sheet = method.page.build(shape)
                labels = {name: row for name, row in sheet.given.items() if sheet.readings[name].dimension in FINE}
                clean = {**labels, **method.bench.play(shape, truth, {})}
                expected = nominal(method.page.build(shape).evaluate(clean)[key])
                for cause in method.bench.causes:
                    if not cause.when(shape.options) or cause.usual == 0:
                        continue  # cannot happen here, or is done or not done: there is no dose
                    dose = cause.usual * draw.uniform(0.5, 2)
                    if isinstance(cause.kind, TruthChanged):
                        dirty = method.bench.play(shape, truth, {cause.kind.fault: dose})
                    else:
                        assert isinstance(cause.kind, ReadingShifted | ReadingScaled)
                        dirty, name = dict(clean), cause.kind.reading
                        factor = clean[name] if isinstance(cause.kind, ReadingScaled) else cause.kind.factor
                        step = factor * dose
                        dirty[name] = _shifted(clean[name], step)
                    twice = replay(method, shape, clean, cause, 2 * cause.usual, key)
                    if twice.flips or abs(twice.shift) < 1e-12:
                        continue  # what runs out changes on the way, or it is there in excess: no dose is to be had
                    trial = weighed(method, shape, dirty)
                    shown = next(line for line in trial.sheet.lines if line.name == key).shown_unit
                    found = row_of(suspicion(trial, method, repr(shown.from_si(expected))), cause.code)
                    with self.subTest(method=method.name, cause=cause.code, seed=seed):
                        assert found.dose is not None
                        self.assertAlmostEqual(found.dose * float(unit(cause.unit).factor) / dose, 1, delta=2e-3)


def _shifted(value: Any, step: float) -> Any:
    return [one + step for one in value] if isinstance(value, list) else value + step


class WholeRun(unittest.TestCase):
    """A cause must move every result of the run the right way."""

    def halide(self, **faults: float) -> Suspicion:
        """Cobalt chloride with these planted in the bench model, its label accepted."""
        method = all_methods()["composition"]
        options = method.options.model_validate({"metal": "Co", "accepted": "CoCl2.6H2O"})
        shape = Shape(options)
        # CoCl2·6H2O: 45.43 % water and 24.77 % cobalt, by atomic weights typed here
        whole = 58.933 + 2 * 35.45 + 6 * 18.015
        truth = CompositionTruth(0.030, 1.113e-3, 6 * 18.015 / whole, 58.933 / whole)
        return suspicion(weighed(method, shape, method.bench.play(shape, truth, faults)), method)

    def test_what_was_planted_is_never_refuted(self) -> None:
        for fault, code, doses in (
            ("water_left", "not-fully-heated", (0.02, 0.06, 0.2)),
            ("spattered", "spatter", (5e-6, 20e-6, 60e-6)),
            ("metal_left", "metal-left", (0.01, 0.03, 0.1)),
            ("oxidised", "oxidised", (0.01, 0.04, 0.1)),
        ):
            for dose in doses:
                row = row_of(self.halide(**{fault: dose}), code)
                with self.subTest(code, dose=dose):
                    self.assertIn(row.standing, ("believable", "stretch"))
                    assert row.dose is not None
                    self.assertAlmostEqual(row.dose * float(unit(row.unit).factor) / dose, 1, delta=0.1)

    def test_what_would_leave_the_halogen_where_it_is_not_is_refuted_by_name(self) -> None:
        """Metal left in solution raises water and chlorine per metal; spatter takes metal and chlorine together."""
        found = self.halide(metal_left=0.05)
        spatter = row_of(found, "spatter")
        self.assertEqual(spatter.standing, "refuted")
        self.assertIn("But it leaves halogen per metal at 2; measured is 2.1", spatter.text)
        standings = [row.standing for row in found.suspects]
        self.assertEqual(found.suspects[0].standing, "believable")
        self.assertLess(standings.index("believable"), standings.index("refuted"))

    def test_one_dose_is_fitted_to_all_results(self) -> None:
        """Readings rounded to the milligram: the dose that fits water and chlorine together is the planted one."""
        method = all_methods()["composition"]
        shape = Shape(method.options.model_validate({"metal": "Co", "accepted": "CoCl2.6H2O"}))
        whole = 58.933 + 2 * 35.45 + 6 * 18.015
        truth = CompositionTruth(0.030, 1.113e-3, 6 * 18.015 / whole, 58.933 / whole)
        readings = method.bench.play(shape, truth, {"water_left": 0.06})
        rounded = {
            name: [round(one, 6) for one in row] if isinstance(row, list) else round(row, 6)
            for name, row in readings.items()
        }
        row = row_of(suspicion(weighed(method, shape, rounded), method), "not-fully-heated")
        self.assertEqual(row.standing, "believable")
        assert row.dose is not None
        self.assertAlmostEqual(row.dose, 6, delta=0.4)

    def test_two_causes_where_one_will_not_do(self) -> None:
        """Water left and metal left pull the water per metal apart: no single cause brings the chlorine right too."""
        for water, metal in ((0.03, 0.03), (0.06, 0.05), (0.12, 0.08)):
            found = self.halide(water_left=water, metal_left=metal)
            self.assertEqual({row.standing for row in found.suspects} & {"believable", "stretch"}, set())
            pair = next(row for row in found.together if row.codes == ("not-fully-heated", "metal-left"))
            with self.subTest(water=water):
                self.assertAlmostEqual(pair.doses[0] / (100 * water), 1, delta=0.1)
                self.assertAlmostEqual(pair.doses[1] / (100 * metal), 1, delta=0.1)
                self.assertIn("Not fully heated (", pair.text)

    def test_where_one_does_nobody_is_paired(self) -> None:
        self.assertEqual(self.halide(water_left=0.06).together, ())
        self.assertEqual(self.halide().together, ())

    def test_a_key_inside_its_band_does_not_hide_another_result_that_is_not(self) -> None:
        found = self.halide(water_left=0.0315, metal_left=0.0315)
        self.assertLess(found.gap, 2)
        self.assertIn("halogen per metal is 2.2", found.text)
        self.assertIn("wants explaining", found.text)
        self.assertTrue(found.together)

    def test_a_crude_that_came_speaks_against_a_reaction_that_had_not_ended(self) -> None:
        """93 % of crude and 72 % pure: not 28 % unreacted, but little lost and much kept in the liquor."""
        method = all_methods()["synthesis"]
        shape = next(row for row in method.bench.shapes() if "pure_percent_yield" in method.page.build(row).by_name)
        truth = method.bench.expect(shape, method.bench.sample(random.Random(3).uniform), 1.0)
        readings = method.bench.play(shape, truth, {"lost": 0.07, "kept_back": 0.226})
        found = suspicion(weighed(method, shape, readings), method)
        row = row_of(found, "incomplete")
        self.assertEqual(row.standing, "refuted")
        self.assertIn("crude percent yield to 72 %; measured is 93 %", row.text)
        pair = next(row for row in found.together if row.codes == ("lost", "kept-back"))
        self.assertAlmostEqual(pair.doses[0], 7, delta=0.7)
        self.assertAlmostEqual(pair.doses[1], 22.6, delta=2.3)
        self.assertIn("counts as a good yield", found.text)

    def test_of_one_result_two_that_reach_it_together(self) -> None:
        """A gap that no dose explains alone: doses of two causes, each at the same share of its most."""
        method = all_methods()["hydrate"]
        shape = Shape(method.options.model_validate({"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}))
        draw = random.Random(3)
        truth = method.bench.expect(shape, method.bench.sample(draw.uniform), 7.0)
        readings = method.bench.play(shape, truth, {})
        series = readings["vessel_residue"]
        assert isinstance(series, list)
        sample = readings["vessel_sample"] - readings["vessel"]  # type: ignore[operator]
        readings["vessel_residue"] = [one + 0.3 * sample for one in series]
        found = suspicion(weighed(method, shape, readings), method)
        alone = {row.code for row in found.suspects if row.standing in ("believable", "stretch")}
        self.assertEqual(bool(found.together), not alone)

    def test_of_somebody_else_s_figure_nothing_else_is_known(self) -> None:
        method = all_methods()["composition"]
        shape = Shape(method.options.model_validate({"metal": "Co", "accepted": "CoCl2.6H2O"}))
        readings = method.bench.play(shape, method.bench.sample(random.Random(3).uniform), {})
        found = suspicion(weighed(method, shape, readings), method, "6.4")
        self.assertNotIn("refuted", [row.standing for row in found.suspects])


class OnlyWhatCanBe(unittest.TestCase):
    def test_a_slip_that_this_program_cannot_make_is_no_suspect(self) -> None:
        for method in all_methods().values():
            shape = next(method.bench.shapes())
            readings = method.bench.play(shape, truth_for(method, shape, random.Random(4)), {})
            trial = weighed(method, shape, readings)
            value = trial.value(method.key_on(trial.sheet))
            assert value is not None
            shown = trial.sheet.by_name[method.key_on(trial.sheet)].shown_unit
            found = suspicion(trial, method, repr(1.1 * shown.from_si(value)))
            codes = {row.code for row in found.suspects}
            with self.subTest(method.name):
                self.assertFalse(codes & {"vapour-ignored", "column-ignored", "dead-subtracted", "air-left-out"})

    def test_hydrogen_hardly_dissolves(self) -> None:
        """Henry's law: 50 mL of water at 20 °C keep 1.9 mmol of carbon dioxide and 0.04 mmol of hydrogen."""
        for equation, gas, most in (
            ("CaCO3 + 2 HCl -> CaCl2 + H2O + CO2", "CO2", 2.0), ("Zn + 2 HCl -> ZnCl2 + H2", "H2", 0.05),
        ):  # fmt: skip
            readings = {"vessel_before": "98.412 g", "sample": "1.500 g", "vessel_after": "99.400 g"}
            if gas == "H2":
                readings |= {"vessel_after": "99.872 g"}
            trial = run("gas_by_mass_loss", {"equations": [equation], "gas": gas}, readings).trials[0].trial
            row = row_of(suspicion(trial, all_methods()["gas_by_mass_loss"], "100"), "still-dissolved")
            with self.subTest(gas):
                self.assertLess(row.most, most)
                self.assertEqual(row.standing == "believable", row.dose is not None and row.dose <= row.most)

    def test_a_paper_dried_in_air_lost_nothing_in_an_oven(self) -> None:
        readings = {"reagent_1": "0.500 g", "reagent_2": "0.400 g", "paper": "0.800 g", "collected": ["1.300 g"] * 2}
        options = {"equation": "BaCl2 + Na2SO4 -> BaSO4 + 2 NaCl", "product": "BaSO4"}
        trial = run("precipitation", options, readings).trials[0].trial
        method = all_methods()["precipitation"]
        for school, there in (({"drying": "oven"}, True), ({"drying": "air"}, False), ({}, True)):
            codes = {row.code for row in suspicion(trial, method, None, Evidence(school)).suspects}
            with self.subTest(school):
                self.assertEqual("paper-dried" in codes, there)

    def test_what_moves_nothing_is_said_to_have_no_effect(self) -> None:
        """A solution that is there in excess: its strength does not touch the yield."""
        readings = {"reagent_1": "0.500 g", "reagent_2": "40.0 mL", "paper": "0.800 g", "collected": ["1.300 g"] * 2}
        options = {
            "equation": "BaCl2 + Na2SO4 -> BaSO4 + 2 NaCl",
            "product": "BaSO4",
            "reagents": [{"formula": "BaCl2"}, {"formula": "Na2SO4", "concentration": "0.250 mol/L"}],
        }
        trial = run("precipitation", options, readings).trials[0].trial
        row = row_of(suspicion(trial, all_methods()["precipitation"]), "concentration-2")
        self.assertEqual((row.standing, row.text.endswith("no effect on this.")), ("none", True))

    def test_there_is_no_lid_of_a_tenth_of_a_gram(self) -> None:
        trial = tin("25.941 g", "25.941 g", product="SnS").trial
        row = row_of(suspicion(trial, METHOD), "lid")
        self.assertEqual(row.standing, "not-this")
        self.assertIn("there is none below 4 g", row.text)
        whole = row_of(suspicion(tin("33.900 g", "33.900 g", product="SnS").trial, METHOD), "lid")
        self.assertEqual(whole.standing, "believable")

    def test_a_wet_vessel_dries_with_its_sample(self) -> None:
        """0.050 g of water on the crucible, until it is heated: found again, and not 2.3 times that."""
        method = all_methods()["hydrate"]
        shape = Shape(method.options.model_validate({"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}))
        # by hand: 2.000 g of ZnSO4·7H2O hold 0.8771 g of water
        readings: dict[str, Any] = {
            "vessel": 30.050e-3, "vessel_sample": 32.050e-3, "vessel_residue": [31.12288e-3, 31.12288e-3]
        }  # fmt: skip
        row = row_of(suspicion(weighed(method, shape, readings), method), "vessel-wet")
        assert row.dose is not None
        self.assertAlmostEqual(row.dose, 0.050, delta=0.005)


class Seen(unittest.TestCase):
    """What was seen at the bench ranks the suspects and is named in their reason."""

    def test_what_popped_is_looked_at_first_and_says_so(self) -> None:
        readings = {"vessel": "31.204 g", "vessel_sample": "32.861 g", "vessel_residue": ["32.104 g", "32.104 g"]}
        options = {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}
        trial = run("hydrate", options, readings).trials[0].trial
        method = all_methods()["hydrate"]
        for tags, first in ((("popping",), "spatter"), (("fumes", "brown edge"), "decomposed")):
            found = suspicion(trial, method, None, Evidence(tags=tags)).suspects
            with self.subTest(tags):
                self.assertEqual((found[0].code, found[0].standing), (first, "believable"))
                self.assertIn(f"Noted at the bench: {', '.join(tags)}.", found[0].reason)
                self.assertEqual(sum("Noted" in row.reason for row in found), 1)
        self.assertFalse(any("Noted" in row.reason for row in suspicion(trial, method).suspects))

    def test_what_was_seen_makes_no_wrong_sign_right(self) -> None:
        readings = {"vessel": "31.204 g", "vessel_sample": "32.861 g", "vessel_residue": ["32.204 g", "32.204 g"]}
        options = {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}
        trial = run("hydrate", options, readings).trials[0].trial
        found = suspicion(trial, all_methods()["hydrate"], None, Evidence(tags=("popping",)))
        self.assertEqual(row_of(found, "spatter").standing, "wrong-sign")

    def test_every_tag_that_speaks_for_a_cause_can_be_tapped_at_the_bench(self) -> None:
        for method in all_methods().values():
            courses = [row for row in shipped_procedures() if row.method == method.name]
            taps = {tag for course in courses for tag in course.observe}
            for cause in method.bench.causes:
                with self.subTest(method=method.name, cause=cause.code):
                    self.assertEqual(set(cause.seen) - taps, set())


class Sentences(unittest.TestCase):
    def smoke(self, expect: str | None = None) -> Suspicion:
        trial = tin("25.700 g", "25.700 g", product="SnS")
        return suspicion(trial.trial, METHOD, expect)

    def test_the_likeliest_come_first_and_each_says_why(self) -> None:
        found = self.smoke()
        order = [row.standing for row in found.suspects]
        ranks = ["believable", "stretch", "too-large", "refuted", "not-this", "wrong-sign", "none"]
        self.assertEqual(order, sorted(order, key=ranks.index))
        self.assertIn("believable", row_of(found, "unreacted").text)
        self.assertIn("the other way", row_of(found, "excess").text)
        self.assertTrue(all(row.reason for row in found.suspects))
        self.assertIn("times the band", found.text)

    def test_causes_that_cannot_happen_here_are_left_out(self) -> None:
        self.assertNotIn("nitride", [row.code for row in self.smoke().suspects])

    def test_a_gap_that_is_small_for_a_class_is_said_to_be_small(self) -> None:
        measured = self.smoke().measured
        for times, word in ((1.03, "small for a class"), (2, "Something happened at the bench")):
            with self.subTest(times):
                self.assertIn(word, self.smoke(f"{times * measured}").text)

    def test_a_chosen_expectation_counts(self) -> None:
        self.assertEqual(self.smoke("2").expected, 2)
        self.assertIn("nothing needs explaining", self.smoke(f"{self.smoke().measured}").text)

    def test_where_only_percents_are_asked_the_percents_are_explained(self) -> None:
        """MgO is 39.7 % oxygen, ZnSO4·7H2O 43.9 % water (handbook figures)."""
        readings = {"vessel": "20.000 g", "vessel_element": "22.000 g", "vessel_product": ["23.200 g", "23.200 g"]}
        magnesium = {"element": "Mg", "partner": "O", "product": "MgO", "level": "percent"}
        trial = run("combination", magnesium, readings).trials[0].trial
        found = suspicion(trial, METHOD)
        self.assertAlmostEqual(found.expected, 39.7, places=1)
        self.assertEqual(found.unit, "%")
        zinc = {"vessel": "31.204 g", "vessel_sample": "32.861 g", "vessel_residue": ["32.200 g", "32.200 g"]}
        options = {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O", "level": "percent"}
        trial = run("hydrate", options, zinc).trials[0].trial
        found = suspicion(trial, all_methods()["hydrate"])
        self.assertAlmostEqual(found.expected, 43.9, places=1)
        dose = row_of(found, "not-fully-heated").dose or 0
        tried = result_at(trial, all_methods()["hydrate"], "not-fully-heated", dose)
        self.assertAlmostEqual(tried.result, found.measured, places=3)

    def test_of_several_equations_the_matching_one_is_what_was_expected(self) -> None:
        trial = soda("26.262 g", "26.262 g").trial
        self.assertAlmostEqual(suspicion(trial, all_methods()["decomposition"]).expected, 63.1, places=1)

    def test_the_slider_replays_the_explaining_dose_to_the_measured_result(self) -> None:
        found = self.smoke()
        trial = tin("25.700 g", "25.700 g", product="SnS").trial
        for row in found.suspects:
            if row.dose is not None:
                with self.subTest(row.code):
                    self.assertAlmostEqual(
                        result_at(trial, METHOD, row.code, row.dose).result, found.measured, delta=2e-3
                    )

    def test_where_nothing_could_come_there_is_nothing_to_compare_with(self) -> None:
        """A recrystallization whose temperatures changed places: by them no crystal comes."""
        readings = {
            "crude": "12.40 g", "solvent": "36.00 g", "hot_temperature": "55.0 degC", "cold_temperature": "60 degC",
            "crystals": "8.21 g",
        }  # fmt: skip
        absurd = run_from(document(readings, {"solute": "KAl(SO4)2.12H2O"}, method="recrystallization", instruments={}))
        with self.assertRaises(Refusal) as caught:
            suspicion(evaluate_run(absurd).trials[0].trial, absurd.method)
        self.assertEqual("nothing-expected", caught.exception.faults[0].code)

    def test_bad_input_is_refused_at_its_place(self) -> None:
        trial = tin("25.700 g", "25.700 g").trial
        faults = {None: "nothing-expected", "abc": "not-a-number", "-1": "not-a-number", "nan": "not-a-number"}
        for expect, code in faults.items():
            with self.subTest(expect), self.assertRaises(Refusal) as caught:
                suspicion(trial, METHOD, expect)
            self.assertEqual((caught.exception.faults[0].code, caught.exception.faults[0].path), (code, "expect"))
        for code, dose in (("nothing", 1.0), ("smoke", -1.0)):
            with self.assertRaises(Refusal):
                result_at(trial, METHOD, code, dose, "1")


METHOD = all_methods()["combination"]
