"""An unknown salt: candidates from the list, how likely each is, what tells the rest apart."""

from __future__ import annotations

import math
import unittest
from typing import Any

from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.chemistry.hydrates import all_hydrates
from claykettle.core.chemistry.ion_tests import anion_test, flame
from claykettle.core.judgement.identify import tell_apart, with_likelihoods
from claykettle.core.methods.hydrate.judge import water_fraction
from claykettle.core.verdict import candidate
from tests.support.runs import codes, evaluated

FROM_THE_LIST = {"listed": True}


def weighed(hydrate: str, sample: float = 1.6) -> dict[str, Any]:
    """Honest weighings of a hydrate, in mg as a milligram balance shows them."""
    residue = 30 + sample * (1 - water_fraction(parse_formula(hydrate)))
    return {
        "vessel": "30.000 g",
        "vessel_sample": f"{30 + sample:.3f} g",
        "vessel_residue": [f"{residue:.3f} g", f"{residue:.3f} g"],
    }


class FromTheList(unittest.TestCase):
    def test_the_true_hydrate_is_always_among_the_matches(self) -> None:
        for hydrate in all_hydrates():
            trial = evaluated(weighed(hydrate.text), FROM_THE_LIST)
            matches = [row.text for row in trial.candidates if row.status == "match"]
            with self.subTest(hydrate.text):
                self.assertIn(hydrate.text, matches)

    def test_one_that_stands_alone_is_named(self) -> None:
        trial = evaluated(weighed("MgSO4.7H2O"), FROM_THE_LIST)
        self.assertEqual(trial.words["formula"].text, "MgSO4·7H2O")
        self.assertIn("formula-match", codes(trial))
        self.assertNotIn("tell-apart", codes(trial))
        self.assertGreater(trial.candidates[0].likelihood or 0, 0.99)

    def test_two_that_weighing_cannot_part_are_told_apart_otherwise(self) -> None:
        """Alum of potassium (45.6 %) and sodium acetate's neighbours: what fits is listed with looks and tests."""
        options = {"candidates": ["ZnSO4.7H2O", "FeSO4.7H2O", "Na2S2O3.5H2O"]}
        small = {
            "vessel": "30.00 g",
            "vessel_sample": "30.60 g",
            "vessel_residue": ["30.34 g", "30.34 g"],
        }
        trial = evaluated(small, options, instruments={"balance": {"half_width": "0.01 g"}})
        self.assertLessEqual({"formula-undecided", "tell-apart"}, codes(trial))
        text = next(verdict.text for verdict in trial.verdicts if verdict.code == "tell-apart")
        self.assertIn("look (ZnSO4·7H2O: white; FeSO4·7H2O: pale green)", text.replace("and Na2S2O3·5H2O ", ""))

    def test_half_hydrates_are_on_the_list(self) -> None:
        self.assertIn("CaSO4·0.5H2O", [hydrate.text for hydrate in all_hydrates()])
        trial = evaluated(weighed("CaSO4.½H2O", 3.0), FROM_THE_LIST)
        self.assertIn("CaSO4·0.5H2O", [row.text for row in trial.candidates if row.status == "match"])

    def test_the_course_that_knows_no_mole_gets_no_amounts(self) -> None:
        trial = evaluated(weighed("MgSO4.7H2O"), {**FROM_THE_LIST, "level": "percent"})
        self.assertIsNone(trial.result("water_ratio"))
        self.assertIsNone(trial.result("water_amount"))
        self.assertEqual(trial.words["formula"].text, "MgSO4·7H2O")

    def test_named_candidates_and_the_list_count_each_hydrate_once(self) -> None:
        trial = evaluated(weighed("MgSO4.7H2O"), {**FROM_THE_LIST, "candidates": ["MgSO4*7H2O"]})
        self.assertEqual([row.text for row in trial.candidates].count("MgSO4·7H2O"), 1)


class Likelihoods(unittest.TestCase):
    def test_they_are_the_shares_of_the_normal_law(self) -> None:
        """Misfits 0 and 2: exp(0) : exp(−2), so 0.8808 and 0.1192."""
        rows = with_likelihoods([candidate("CuSO4·5H2O", 5.0, 2.0), candidate("ZnSO4·7H2O", 7.0, 0.0)])
        self.assertEqual(rows[0].text, "ZnSO4·7H2O")
        self.assertAlmostEqual(rows[0].likelihood or 0, 1 / (1 + math.exp(-2)), places=12)
        self.assertAlmostEqual(sum(row.likelihood or 0 for row in rows), 1.0, places=12)

    def test_where_nothing_fits_nothing_is_likely(self) -> None:
        rows = with_likelihoods([candidate("CuSO4·5H2O", 5.0, 9.0)])
        self.assertIsNone(rows[0].likelihood)

    def test_how_much_more_sample_would_part_two(self) -> None:
        """0.4 % apart with u = 0.2 %: four standard uncertainties want u = 0.1 %, twice the sample."""
        rows = [candidate("CuSO4·5H2O", 5.0, 0.5, 36.0), candidate("ZnSO4·7H2O", 7.0, -1.0, 36.4)]
        self.assertIn("about 2 times the sample", tell_apart("water_percent", rows, 0.2)[0].text)
        self.assertIn("hardly will", tell_apart("water_percent", rows, 5.0)[0].text)


class IonTests(unittest.TestCase):
    def test_flames_and_test_tubes(self) -> None:
        """Common practice in qualitative analysis."""
        self.assertEqual(flame(parse_formula("Na2CO3")), "strong yellow")
        self.assertEqual(flame(parse_formula("MgSO4")), "")
        for salt, test in (
            ("MgSO4", "barium chloride"), ("Na2S2O3", "acid"), ("CoCl2", "silver nitrate"), ("Na2CO3", "acid: fizzes"),
        ):  # fmt: skip
            self.assertTrue(anion_test(parse_formula(salt)).startswith(test), salt)
