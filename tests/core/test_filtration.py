"""Filtering as a run of its own: sand and salt taken apart, a known amount recovered; figures by hand."""

from __future__ import annotations

import math
import unittest
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.run import Run, evaluate_run
from claykettle.formats.run_file import run_from
from tests.support.runs import codes, value

SAND = {"mixture": "2.415 g", "paper": "0.908 g", "collected": ["2.131 g", "2.114 g", "2.112 g"]}


def run(readings: dict[str, Any] | None = None, **options: Any) -> Run:
    return run_from({
        "format": "clay-kettle/run", "version": 1, "method": "filtration", "options": options,
        "instruments": {"balance": {"half_width": "0.001 g"}},
        "trials": [{"label": "1", "readings": SAND if readings is None else readings}],
    })  # fmt: skip


class Mixture(unittest.TestCase):
    def test_the_solid_and_its_share(self) -> None:
        """2.112 − 0.908 = 1.204 g; of 2.415 g that is 49.86 %; 1.211 g went through."""
        trial = evaluate_run(run()).trials[0]
        self.assertAlmostEqual(value(trial, "solid_mass"), 1.204, places=9)
        self.assertAlmostEqual(value(trial, "solid_percent"), 100 * 1.204 / 2.415, places=9)
        self.assertAlmostEqual(value(trial, "dissolved_mass"), 1.211, places=9)
        self.assertLessEqual({"constant-mass"}, codes(trial))

    def test_its_uncertainty_by_hand(self) -> None:
        """Paper and end rectangular ± 1 mg, and the settling of ± 2 mg: √(1 + 1 + 4)/√3 mg."""
        result = evaluate_run(run()).trials[0].result("solid_mass")
        assert result is not None
        self.assertAlmostEqual(result.standard_uncertainty, 1e-3 * math.sqrt(6 / 3), places=9)

    def test_more_on_the_paper_than_there_was(self) -> None:
        wet = SAND | {"collected": ["3.731 g", "3.730 g"]}
        self.assertIn("yield-over-100", codes(evaluate_run(run(wet)).trials[0]))
        self.assertIn("unphysical", codes(evaluate_run(run(SAND | {"collected": ["6.100 g", "6.100 g"]})).trials[0]))

    def test_without_a_mixture_only_the_mass_is_told(self) -> None:
        trial = evaluate_run(run({name: row for name, row in SAND.items() if name != "mixture"})).trials[0]
        self.assertIsNone(trial.result("solid_percent"))
        self.assertAlmostEqual(value(trial, "solid_mass"), 1.204, places=9)
        self.assertNotIn("missing-reading", codes(trial))


class Recovery(unittest.TestCase):
    def test_all_of_it_came(self) -> None:
        trial = evaluate_run(run(expected="1.205 g")).trials[0]
        self.assertLessEqual({"agrees", "yield-good"}, codes(trial))
        self.assertAlmostEqual(value(trial, "recovery_percent"), 100 * 1.204 / 1.205, places=9)

    def test_a_little_is_missing_and_how_much_is_said(self) -> None:
        trial = evaluate_run(run(expected="1.240 g")).trials[0]
        good = next(row for row in trial.verdicts if row.code == "yield-good")
        self.assertIn("0.036 g of the solid did not reach the balance", good.text)

    def test_fifty_milligrams_of_fines_are_flagged(self) -> None:
        """Common practice: a class is content within five percent; 70 of 1274 mg are more."""
        trial = evaluate_run(run(expected="1.274 g")).trials[0]
        short = next(row for row in trial.verdicts if row.code == "yield-short")
        self.assertEqual(short.level, "watch")
        self.assertIn("Fine solid through the paper", short.text)
        within = evaluate_run(run(expected="1.274 g", class_tolerance="8 %")).trials[0]
        self.assertNotIn("yield-short", codes(within))

    def test_while_it_still_dries_nothing_is_said_of_the_yield(self) -> None:
        trial = evaluate_run(run(SAND | {"collected": ["2.131 g", "2.114 g"]}, expected="1.300 g")).trials[0]
        self.assertEqual(codes(trial) & {"yield-good", "yield-short", "agrees", "off-accepted"}, set())

    def test_what_should_come_lies_above_zero(self) -> None:
        for wrong in ("0 g", "-1 g"):
            with self.assertRaises(Refusal) as caught:
                run(expected=wrong)
            self.assertEqual([row.path for row in caught.exception.faults], ["options.expected"])

    def test_the_next_weighing_is_foreseen(self) -> None:
        readings = {"paper": "0.908 g"}
        expected = evaluate_run(run(readings, expected="1.204 g")).expected("1")["collected"]
        assert expected.about is not None
        self.assertAlmostEqual(expected.about, 2.112e-3, places=9)
        self.assertLess(expected.low, 0.909e-3)
        self.assertNotIn("collected", evaluate_run(run(readings)).expected("1"))
