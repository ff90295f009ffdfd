"""Ideal runs whose masses an independent library computes must end in the formula or equation they were made from."""

from __future__ import annotations

import unittest
from collections.abc import Iterator
from typing import Any

from molmass import Formula as Independent

from claykettle.core.chemistry.hydrates import all_hydrates
from claykettle.core.run import TrialEvaluation
from tests.core.test_crucible_methods import run

VESSEL = 24.3180
SAMPLE = 2.0000


def mass(formula: str) -> float:
    """Molar mass in g/mol by molmass, whose atomic weights are its own."""
    return float(Independent(formula).mass)


def grams(number: float) -> str:
    """A weighing on a balance that shows 0.1 mg."""
    return f"{number:.4f} g"


def weighed(method: str, options: dict[str, Any], loaded: str, heated: str, end: float) -> TrialEvaluation:
    """A run of 2.0000 g that is weighed twice at its end mass."""
    readings = {"vessel": grams(VESSEL), loaded: grams(VESSEL + SAMPLE), heated: [grams(VESSEL + end)] * 2}
    return run(method, options, readings, half_width="0.0001 g").trials[0]


class Hydrates(unittest.TestCase):
    def test_every_hydrate_of_the_list_comes_out_of_its_own_masses(self) -> None:
        compared = 0
        for hydrate in all_hydrates():
            salt = hydrate.anhydrous
            dry = mass(salt.text)
            end = SAMPLE * dry / (dry + float(hydrate.water_ratio) * mass("H2O"))
            trial = weighed("hydrate", {"salt": salt.text}, "vessel_sample", "vessel_residue", end)
            with self.subTest(hydrate.text):
                self.assertEqual(trial.words["formula"].nearest, hydrate.text)
                self.assertEqual(trial.candidates[0].status, "match")
                result = trial.result("water_ratio")
                assert result is not None
                self.assertAlmostEqual(result.value / float(hydrate.water_ratio), 1, delta=2e-3)
                compared += 1
        self.assertGreaterEqual(compared, 40)


# Binary compounds that the books make by heating an element with another; formulas are common knowledge. No chloride
# among them: IUPAC's interval for chlorine, 35.446 to 35.457, is wider than 0.1 mg in 2 g, and libraries differ in it.
COMPOUNDS = (
    ("Mg", "O", "MgO"), ("Al", "O", "Al2O3"), ("Zn", "O", "ZnO"), ("Cu", "O", "CuO"), ("Cu", "O", "Cu2O"),
    ("Ca", "O", "CaO"), ("Sn", "O", "SnO2"), ("Fe", "O", "Fe2O3"), ("Ti", "O", "TiO2"), ("Ag", "S", "Ag2S"),
    ("Cu", "S", "Cu2S"), ("Cu", "S", "CuS"), ("Fe", "S", "FeS"), ("Zn", "S", "ZnS"), ("Pb", "S", "PbS"),
    ("Sn", "S", "SnS"), ("Sn", "S", "SnS2"), ("Mg", "N", "Mg3N2"), ("Zn", "I", "ZnI2"), ("Cr", "O", "Cr2O3"),
)  # fmt: skip


class Compounds(unittest.TestCase):
    def results(self) -> Iterator[tuple[str, str, str, TrialEvaluation]]:
        for element, partner, formula in COMPOUNDS:
            # molmass gives the share of every element by itself
            share = Independent(formula).composition()[element].fraction
            options = {"element": element, "partner": partner, "product": formula}
            yield (
                element,
                partner,
                formula,
                weighed("combination", options, "vessel_element", "vessel_product", SAMPLE / share),
            )

    def test_every_compound_comes_out_of_its_own_masses(self) -> None:
        for _, _, formula, trial in self.results():
            with self.subTest(formula):
                self.assertEqual(trial.words["formula"].text, formula)
                yielded = trial.result("percent_yield")
                assert yielded is not None
                self.assertAlmostEqual(yielded.value, 100, delta=0.05)

    def test_the_composition_is_that_of_the_formula(self) -> None:
        for element, partner, formula, trial in self.results():
            expected = Independent(formula).composition()
            for name, symbol in (("element_percent", element), ("partner_percent", partner)):
                result = trial.result(name)
                assert result is not None
                with self.subTest(formula, result=name):
                    self.assertAlmostEqual(result.value, 100 * expected[symbol].fraction, delta=0.02)


# sample, what stays, mol that stays per mol of sample, the gases with their mol per mol of sample (all from the books)
DECOMPOSITIONS = (
    ("CaCO3(s) -> CaO(s) + CO2(g)", "CaCO3", "CaO", 1.0, {"CO2": 1.0}),
    ("MgCO3(s) -> MgO(s) + CO2(g)", "MgCO3", "MgO", 1.0, {"CO2": 1.0}),
    ("ZnCO3(s) -> ZnO(s) + CO2(g)", "ZnCO3", "ZnO", 1.0, {"CO2": 1.0}),
    ("2 NaHCO3(s) -> Na2CO3(s) + H2O(g) + CO2(g)", "NaHCO3", "Na2CO3", 0.5, {"H2O": 0.5, "CO2": 0.5}),
    ("2 KHCO3(s) -> K2CO3(s) + H2O(g) + CO2(g)", "KHCO3", "K2CO3", 0.5, {"H2O": 0.5, "CO2": 0.5}),
    ("Cu2(OH)2CO3(s) -> 2 CuO(s) + H2O(g) + CO2(g)", "Cu2(OH)2CO3", "CuO", 2.0, {"H2O": 1.0, "CO2": 1.0}),
    ("Cu(OH)2(s) -> CuO(s) + H2O(g)", "Cu(OH)2", "CuO", 1.0, {"H2O": 1.0}),
    ("2 Al(OH)3(s) -> Al2O3(s) + 3 H2O(g)", "Al(OH)3", "Al2O3", 0.5, {"H2O": 1.5}),
    ("2 KClO3(s) -> 2 KCl(s) + 3 O2(g)", "KClO3", "KCl", 1.0, {"O2": 1.5}),
    ("CaC2O4(s) -> CaCO3(s) + CO(g)", "CaC2O4", "CaCO3", 1.0, {"CO": 1.0}),
)


class Decompositions(unittest.TestCase):
    def test_residue_and_gases_of_every_equation(self) -> None:
        for equation, sample, solid, per_mol, gases in DECOMPOSITIONS:
            end = SAMPLE * per_mol * mass(solid) / mass(sample)
            trial = weighed("decomposition", {"equations": [equation]}, "vessel_sample", "vessel_residue", end)
            with self.subTest(equation):
                self.assertEqual(trial.words["equation"].text, equation)
                left, done = trial.result("residue_percent"), trial.result("percent_decomposed")
                assert left is not None and done is not None
                self.assertAlmostEqual(left.value, 100 * per_mol * mass(solid) / mass(sample), delta=0.01)
                self.assertAlmostEqual(done.value, 100, delta=0.05)
                amounts = trial.groups["gas_amounts"]
                self.assertEqual(set(amounts), set(gases))
                for gas, ratio in gases.items():
                    self.assertAlmostEqual(amounts[gas].value, ratio * SAMPLE / mass(sample), delta=1e-6)

    def test_mass_is_conserved_by_the_gases_found(self) -> None:
        for equation, _, _, _, gases in DECOMPOSITIONS:
            trial = weighed("decomposition", {"equations": [equation]}, "vessel_sample", "vessel_residue", 1.2)
            amounts = trial.groups["gas_amounts"]
            fraction = trial.result("theoretical_residue_mass")
            assert fraction is not None
            gone = sum(amounts[gas].value * mass(gas) for gas in gases)
            with self.subTest(equation):
                self.assertAlmostEqual(gone + fraction.value, SAMPLE, delta=2e-4)
