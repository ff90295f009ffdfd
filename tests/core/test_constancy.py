"""Heat again or stop, and which weighing counts: the tolerance as decimals, the direction in words."""

from __future__ import annotations

import unittest
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from claykettle.core.judgement.constancy import (
    COMBINING,
    DECOMPOSING,
    DRYING,
    Process,
    is_constant,
    judge_constancy,
    milligrams,
    settled_value,
    settling_half_width,
)
from claykettle.core.methods.hydrate.options import HydrateOptions
from claykettle.core.quantity import parse_reading


def judged(*texts: str, process: Process = DRYING, tolerance: str = "0.005 g") -> tuple[str, str]:
    """Code and sentence for a series."""
    options = HydrateOptions.model_validate({"tolerance": tolerance})
    verdict = judge_constancy("vessel_residue", [parse_reading(text, "mass") for text in texts], options, process)
    return verdict.code, verdict.text


class Judged(unittest.TestCase):
    def test_the_tolerance_is_compared_as_decimals(self) -> None:
        """32.005 − 32.000 is 0.005 exactly, though not in binary."""
        for first, second in (("32.005 g", "32.000 g"), ("0.305 g", "0.300 g"), ("100.105 g", "100.110 g")):
            self.assertEqual(judged(first, second)[0], "constant-mass")
        self.assertEqual(judged("32.006 g", "32.000 g")[0], "still-losing")
        self.assertEqual(judged("32.000 g", "32.000 g", tolerance="0 g")[0], "constant-mass")

    def test_units_may_differ_within_a_series(self) -> None:
        self.assertEqual(judged("32.134 g", "32134 mg")[0], "constant-mass")

    def test_the_direction_is_told_for_each_process(self) -> None:
        for process, losing, gaining in (
            (DRYING, "still drying", "moisture"),
            (DECOMPOSING, "still decomposing", "lid on"),
            (COMBINING, "burning off", "still reacting"),
        ):
            self.assertIn(losing, judged("32.200 g", "32.100 g", process=process)[1])
            self.assertIn(gaining, judged("32.100 g", "32.200 g", process=process)[1])
            self.assertEqual(judged("32.100 g", process=process)[0], "provisional")

    def test_figures_in_the_sentences_are_the_users_own(self) -> None:
        self.assertIn("lost 15 mg, your limit is 5 mg", judged("32.151 g", "32.136 g")[1])
        self.assertEqual(milligrams(Decimal("0.0000005")), "0.5 mg")

    @given(st.decimals("0.001", "300", places=3), st.decimals("0", "0.1", places=4), st.decimals("0", "0.1", places=4))
    def test_constant_means_within_the_tolerance_whatever_the_masses(
        self, mass: Decimal, step: Decimal, tolerance: Decimal
    ) -> None:
        self.assertEqual(is_constant([mass + step, mass], tolerance), step <= tolerance)
        self.assertEqual(is_constant([mass, mass + step], tolerance), step <= tolerance)
        self.assertFalse(is_constant([mass], tolerance))


class Settled(unittest.TestCase):
    def value(self, how: str, *masses: float) -> tuple[str, float]:
        options = HydrateOptions.model_validate({"constant_value": how})
        pick = settled_value(list(masses), 0.0, options)
        return pick.key, float(pick.value)

    def test_last_mean_and_lowest(self) -> None:
        series = (0.03215, 0.032133, 0.032136)
        self.assertEqual(self.value("last", *series), ("last", 0.032136))
        self.assertAlmostEqual(self.value("mean", *series)[1], 0.0321345)
        self.assertEqual(self.value("lowest", *series), ("lowest", 0.032133))

    def test_not_constant_the_last_counts_whatever_was_chosen(self) -> None:
        for how in ("last", "mean", "lowest"):
            self.assertEqual(self.value(how, 0.0321, 0.0325), ("last", 0.0325))

    def test_what_the_last_heating_changed_may_change_again(self) -> None:
        self.assertAlmostEqual(settling_half_width([0.032151, 0.032136]), 15e-6)
        self.assertEqual(settling_half_width([0.032151]), 0.0)
