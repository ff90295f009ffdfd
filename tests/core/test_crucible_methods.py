"""Combination and decomposition: results, candidates, verdicts, bad input."""

from __future__ import annotations

import unittest
from itertools import product
from math import gcd
from typing import Any

from claykettle.core.chemistry.charges import charges_balance
from claykettle.core.chemistry.equation import parse_equation
from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.errors import Refusal
from claykettle.core.methods.combination.options import CombinationOptions
from claykettle.core.methods.combination.page import all_formulas, possible
from claykettle.core.methods.decomposition.page import residue_fraction
from claykettle.core.run import Evaluation, TrialEvaluation, evaluate_run
from claykettle.formats.run_file import run_from
from tests.support.runs import codes

TIN = {"element": "Sn", "partner": "S"}
SODA = [
    "2 NaHCO3(s) -> Na2CO3(s) + H2O(g) + CO2(g)",
    "NaHCO3(s) -> NaOH(s) + CO2(g)",
    "2 NaHCO3(s) -> Na2O(s) + H2O(g) + 2 CO2(g)",
]


def run(method: str, options: dict[str, Any], *trials: dict[str, Any], half_width: str = "0.001 g") -> Evaluation:
    """A run of readings in g."""
    document = {
        "format": "clay-kettle/run",
        "version": 1,
        "method": method,
        "options": options,
        "instruments": {"balance": {"half_width": half_width}},
        "trials": [{"label": str(n), "readings": readings} for n, readings in enumerate(trials, start=1)],
    }
    return evaluate_run(run_from(document))


def tin(*products: str, loaded: str = "25.506 g", half_width: str = "0.001 g", **options: Any) -> TrialEvaluation:
    """One tin run from a crucible of 24.318 g."""
    readings = {"vessel": "24.318 g", "vessel_element": loaded, "vessel_product": list(products)}
    return run("combination", {**TIN, **options}, readings, half_width=half_width).trials[0]


def soda(*residues: str, equations: list[str] | None = None, **options: Any) -> TrialEvaluation:
    """One run of 2.000 g of sodium hydrogencarbonate from a crucible of 25.000 g."""
    readings = {"vessel": "25.000 g", "vessel_sample": "27.000 g", "vessel_residue": list(residues)}
    return run("decomposition", {"equations": equations or SODA, **options}, readings).trials[0]


def text_of(trial: TrialEvaluation, code: str) -> str:
    """The sentence of a verdict."""
    return next(verdict.text for verdict in trial.verdicts if verdict.code == code)


class Combining(unittest.TestCase):
    def test_the_formula_of_a_clean_run(self) -> None:
        trial = tin("25.831 g", "25.828 g", product="SnS")
        self.assertEqual(trial.words["formula"].text, "SnS")
        self.assertLessEqual({"formula-match", "constant-mass"}, codes(trial))
        result = trial.result("percent_yield")
        assert result is not None
        self.assertAlmostEqual(result.value, 100, delta=0.3)

    def test_known_mass_ratios_give_their_formulas(self) -> None:
        """Facts anyone can recompute: MgO/Mg 1.658, Cu2S/2Cu 1.252, CuS/Cu 1.505."""
        for element, partner, ratio, formula in (
            ("Mg", "O", 1.658, "MgO"), ("Cu", "S", 1.252, "Cu2S"), ("Cu", "S", 1.505, "CuS"),
        ):  # fmt: skip
            end = f"{20 + 2 * ratio:.3f} g"
            readings = {"vessel": "20.000 g", "vessel_element": "22.000 g", "vessel_product": [end, end]}
            trial = run("combination", {"element": element, "partner": partner}, readings).trials[0]
            with self.subTest(formula):
                self.assertEqual(trial.words["formula"].text, formula)

    def test_1_3_with_a_fine_balance_does_not_become_1(self) -> None:
        trial = tin("25.926 g", "25.926 g", product="SnS")
        self.assertIsNone(trial.words["formula"].text)
        self.assertIn("formula-none", codes(trial))
        statements = {row.title: row.text for row in trial.statements}
        self.assertEqual(list(statements), ["The data say", "Chemistry allows", "You expected"])
        self.assertIn("SnS, SnS2", statements["Chemistry allows"])
        self.assertRegex(statements["You expected"], r"^SnS, 1 : 1; measured \d+\.?\d* times the band above it\.$")

    def test_a_coarse_balance_shows_the_odd_formulas_for_what_they_are(self) -> None:
        trial = tin("25.90 g", "25.90 g", loaded="25.51 g", half_width="0.05 g")
        fits = [row for row in trial.candidates if row.status == "match"]
        self.assertGreaterEqual(len([row for row in fits if not row.charges]), 4)
        formula = trial.words["formula"].text
        self.assertIn(formula, (None, "SnS"))

    def test_what_only_the_data_would_name_is_said_to_be_unbalanced(self) -> None:
        """Sn3S4 fits 1.333, but one charge an element never balances there."""
        trial = tin("25.9338 g", "25.9338 g", half_width="0.0001 g", loaded="25.5060 g")
        nearest = trial.candidates[0]
        self.assertEqual((nearest.text, nearest.charges), ("Sn3S4", False))
        self.assertIn("unbalanced-charge", codes(trial))
        self.assertIsNone(trial.words["formula"].text)

    def test_a_mixture_of_the_two_candidates(self) -> None:
        trial = tin("25.957 g", "25.957 g", candidates=["SnS", "SnS2"])
        result = trial.result("mixture_fraction")
        assert result is not None
        self.assertAlmostEqual(result.value, 40.6, delta=1)
        self.assertIn("as a mixture of the two", text_of(trial, "mixture"))

    def test_gaining_is_still_reacting_and_losing_is_not_drying(self) -> None:
        self.assertIn("still reacting", text_of(tin("25.700 g", "25.750 g"), "still-gaining"))
        self.assertIn("burning off", text_of(tin("25.850 g", "25.830 g"), "still-losing"))

    def test_a_product_lighter_than_the_metal_stops(self) -> None:
        trial = tin("25.400 g")
        self.assertIn("out-of-order", codes(trial))
        self.assertIn("cannot be lighter", text_of(trial, "out-of-order"))
        self.assertEqual(trial.candidates, ())

    def test_too_much_product_needs_a_suspect(self) -> None:
        self.assertIn("yield-over-100", codes(tin("25.900 g", "25.900 g", product="SnS")))

    def test_the_percent_level_names_no_amount(self) -> None:
        trial = tin("25.828 g", "25.828 g", level="percent")
        self.assertIsNone(trial.result("partner_ratio"))
        result = trial.result("partner_percent")
        assert result is not None
        self.assertAlmostEqual(result.value, 21.3, delta=0.1)

    def test_options_without_the_two_elements_are_refused_at_their_place(self) -> None:
        readings = {"vessel": "24.318 g"}
        for options, path in (
            ({**TIN, "product": "SnO"}, "options.product"),
            ({**TIN, "candidates": ["SnS", "ZnS"]}, "options.candidates"),
            ({"element": "SnS", "partner": "S"}, "options.element"),
            ({"element": "S", "partner": "S"}, "options.partner"),
            ({"element": "Sn"}, "options.partner"),
        ):
            with self.subTest(path), self.assertRaises(Refusal) as caught:
                run("combination", options, readings)
            self.assertTrue(caught.exception.faults[0].path.startswith(path), caught.exception.faults)


class Ratios(unittest.TestCase):
    def test_the_candidates_are_every_small_ratio_once(self) -> None:
        """Against an exhaustive search."""
        options = CombinationOptions.model_validate({**TIN, "max_index": 9})
        ratios = {(b, a) for a, b in product(range(1, 10), repeat=2) if gcd(a, b) == 1}
        found = [(int(row.counts["S"]), int(row.counts["Sn"])) for row in all_formulas(options)]
        self.assertEqual(len(found), len(set(found)))
        self.assertEqual(set(found), ratios)

    def test_what_charges_allow(self) -> None:
        """Common ions of the table in data/ion_charges.toml."""
        for text, allowed in (
            ("MgO", True), ("Al2O3", True), ("SnS2", True), ("Cu2S", True), ("Fe2O3", True), ("NaCl", True),
            ("Sn3S4", False), ("MgO2", False), ("Al3O4", False), ("Fe3O4", True), ("Pb3O4", True),
            ("Fe4O5", False), ("Fe3S4", False), ("InCl3", True), ("In2O3", True), ("ArF", None),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(charges_balance(parse_formula(text)), allowed)

    def test_a_named_candidate_may_be_the_answer_all_the_same(self) -> None:
        options = CombinationOptions.model_validate({"element": "Fe", "partner": "O", "candidates": ["Fe3O4"]})
        self.assertIn("Fe3O4", [row.text for row in possible(options)])


class Decomposing(unittest.TestCase):
    def test_residue_ratios_of_sodium_hydrogencarbonate(self) -> None:
        """Facts anyone can recompute: Na2CO3 0.631, NaOH 0.476, Na2O 0.369."""
        for text, ratio in zip(SODA, (0.631, 0.476, 0.369), strict=True):
            self.assertAlmostEqual(residue_fraction(parse_equation(text)), ratio, delta=0.0005)

    def test_the_equation_that_the_residue_speaks_for(self) -> None:
        trial = soda("26.270 g", "26.262 g", "26.262 g")
        self.assertEqual(trial.words["equation"].text, parse_equation(SODA[0]).text)
        self.assertIn("formula-match", codes(trial))
        self.assertAlmostEqual(trial.groups["gas_amounts"]["CO2"].value, 2.000 / 84.006 / 2, delta=1e-6)
        self.assertEqual(list(trial.groups["gas_amounts"]), ["H2O", "CO2"])

    def test_a_mixture_that_was_found_is_the_answer(self) -> None:
        """SnS and SnS2 half and half take up 1.5 S per Sn: 1.188 g of tin (10.008 mmol) take up 0.4814 g."""
        found = tin("25.987 g", "25.987 g", candidates=["SnS", "SnS2"])
        said = next(row.text for row in found.verdicts if row.code == "formula-none")
        self.assertIn("that of a mixture", said)
        self.assertNotIn("Something happened", said)
        share = found.result("mixture_fraction")
        assert share is not None
        self.assertAlmostEqual(share.value, 50, delta=0.5)

    def test_an_under_heated_one_fits_none_and_says_how_far_it_came(self) -> None:
        trial = soda("26.450 g", "26.448 g", equations=SODA[:1])
        self.assertIn("formula-none", codes(trial))
        # more left than the equation leaves is a reaction that has not ended, and no yield over 100 %
        self.assertIn("unfinished", codes(trial))
        self.assertNotIn("yield-over-100", codes(trial))
        result = trial.result("percent_decomposed")
        assert result is not None
        self.assertAlmostEqual(result.value, 74.8, delta=0.3)

    def test_more_lost_than_any_equation_loses(self) -> None:
        self.assertIn("loss-too-large", codes(soda("26.200 g", "26.199 g", equations=SODA[:1])))

    def test_a_residue_heavier_than_the_sample_stops(self) -> None:
        self.assertIn("out-of-order", codes(soda("27.400 g")))

    def test_a_single_weighing_is_provisional(self) -> None:
        self.assertIn("provisional", codes(soda("26.262 g")))

    def test_replicates(self) -> None:
        readings = [
            {"vessel": "25.000 g", "vessel_sample": "27.000 g", "vessel_residue": [end, end]}
            for end in ("26.262 g", "26.261 g", "26.300 g")
        ]
        for some, code in ((readings[:2], "replicates-agree"), (readings, "replicates-disagree")):
            verdicts = run("decomposition", {"equations": SODA}, *some).verdicts
            self.assertEqual(verdicts[0].code, code)

    def test_faulty_equations_are_refused_at_their_place(self) -> None:
        for equations, words in (
            (["NaHCO3(s) -> Na2CO3(s) + H2O(g) + CO2(g)"], "Balanced: 2 NaHCO3(s)"),
            (["CaCO3 -> CaO + CO2"], "mark what stays in the vessel with (s)"),
            ([SODA[0], "CaCO3(s) -> CaO(s) + CO2(g)"], "one sample a run"),
            (["CaCO3(s) -> CaO(s) + N2(g)"], "stands only"),
            ([], "at least 1 item"),
        ):
            with self.subTest(words), self.assertRaises(Refusal) as caught:
                run("decomposition", {"equations": equations}, {"vessel": "25.000 g"})
            self.assertIn(words, caught.exception.faults[0].message)
            self.assertTrue(caught.exception.faults[0].path.startswith("options"))
