"""Composition of a hydrated halide: the chain, its candidates, its judgements and what is refused."""

from __future__ import annotations

import unittest
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.run import TrialEvaluation, evaluate_run
from claykettle.formats.run_file import run_from
from tests.support.runs import value

# 1.500 g of CoCl2·6H2O (237.93 g/mol): 0.6815 g of water, 0.3715 g of cobalt, 0.4470 g of chlorine.
COBALT = {
    "vessel": "28.104 g", "vessel_sample": "29.604 g", "vessel_residue": ["28.930 g", "28.923 g", "28.922 g"],
    "paper": "0.915 g", "collected": ["1.291 g", "1.287 g", "1.286 g"],
}  # fmt: skip


def document(readings: Any = None, **options: Any) -> dict[str, Any]:
    """A run of cobalt chloride, or of what the options say."""
    return {
        "format": "clay-kettle/run", "version": 1, "method": "composition",
        "options": {"metal": "Co", "accepted": "CoCl2.6H2O"} | options,
        "instruments": {"balance": {"half_width": "0.001 g"}},
        "trials": [{"label": "1", "readings": dict(COBALT if readings is None else readings)}],
    }  # fmt: skip


def trial(readings: Any = None, **options: Any) -> TrialEvaluation:
    """Its first trial."""
    return evaluate_run(run_from(document(readings, **options))).trials[0]


class Chain(unittest.TestCase):
    def test_the_whole_chain_by_hand(self) -> None:
        found = trial()
        for name, wanted in (
            ("sample_mass", 1.500), ("water_mass", 0.682), ("residue_mass", 0.818), ("metal_mass", 0.371),
            ("halogen_mass", 0.447), ("metal_percent", 100 * 0.371 / 1.5), ("halogen_percent", 29.8),
            ("metal_amount", 0.371 / 58.933), ("halogen_amount", 0.447 / 35.45), ("water_amount", 0.682 / 18.015),
        ):  # fmt: skip
            with self.subTest(name):
                self.assertAlmostEqual(value(found, name) / wanted, 1, places=4)
        self.assertAlmostEqual(value(found, "water_ratio"), 6.0136, places=3)
        self.assertAlmostEqual(value(found, "halogen_ratio"), 2.0030, places=3)

    def test_the_percents_sum_to_a_hundred(self) -> None:
        found = trial()
        total = sum(value(found, f"{name}_percent") for name in ("water", "metal", "halogen"))
        self.assertAlmostEqual(total, 100, places=9)

    def test_the_formula_is_found_and_compared(self) -> None:
        found = trial()
        self.assertEqual(found.words["formula"].text, "CoCl2·6H2O")
        self.assertAlmostEqual(value(found, "percent_error"), 100 * (0.371 / 1.5 / (58.933 / 237.93) - 1), places=2)

    def test_a_candidate_must_fit_in_both_ratios(self) -> None:
        """Dried too little: water per metal falls, what is counted as halogen rises; no formula is forced on that."""
        found = trial(COBALT | {"vessel_residue": ["28.990 g", "28.990 g"]})
        self.assertIsNone(found.words["formula"].text)

    def test_of_equal_ratios_only_what_the_charges_allow_is_the_formula(self) -> None:
        by_text = {row.text: row.charges for row in trial(max_index=3, max_ratio=7).candidates}
        self.assertTrue(by_text["CoCl2·6H2O"])
        self.assertFalse(all(by_text.values()))

    def test_what_is_collected_in_a_dish_needs_no_paper(self) -> None:
        readings = {name: row for name, row in COBALT.items() if name != "paper"}
        readings |= {"dish": "20.000 g", "collected": ["20.371 g", "20.371 g"]}
        self.assertAlmostEqual(value(trial(readings, collector="dish"), "metal_mass"), 0.371, places=9)


class Judgements(unittest.TestCase):
    def test_both_series_have_a_verdict_of_their_own(self) -> None:
        constant = {row.about for row in trial().verdicts if row.code == "constant-mass"}
        self.assertEqual(constant, {"vessel_residue", "collected"})

    def test_more_metal_than_dry_salt_stops(self) -> None:
        found = trial(COBALT | {"collected": ["1.800 g", "1.800 g"]})
        self.assertIn("leaves nothing for the halogen", " ".join(row.text for row in found.verdicts))


class Refused(unittest.TestCase):
    def test_options_that_are_no_halide(self) -> None:
        for options, path in (
            ({"metal": "Xx"}, "options.metal"), ({"metal": "Cl"}, "options.metal"),
            ({"halogen": "O"}, "options.halogen"),
            ({"accepted": "CuCl2.2H2O"}, "options.accepted"), ({"accepted": "CoSO4.7H2O"}, "options.accepted"),
        ):  # fmt: skip
            with self.subTest(options), self.assertRaises(Refusal) as refused:
                run_from(document(**options))
            self.assertEqual([row.path for row in refused.exception.faults], [path])
