"""Do replicates agree with what the instruments explain? Precise is not the same as accurate."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

SIGNIFICANCE = 0.05


@dataclass(frozen=True)
class Agreement:
    """Chi-squared of the weighted mean, its degrees of freedom, and the probability of a larger one."""

    chi_squared: float
    degrees: int
    probability: float

    @property
    def agrees(self) -> bool:
        """Whether the spread is one that the uncertainties explain, at 95 %."""
        return self.probability >= SIGNIFICANCE


def agreement(values: Sequence[float], uncertainties: Sequence[float]) -> Agreement | None:
    """The test of the weighted mean (Bevington and Robinson, Data Reduction and Error Analysis, ch. 4).

    None for fewer than two values, or where one has no uncertainty of its own.
    """
    if len(values) < 2 or not all(u > 0 for u in uncertainties):
        return None
    weights = [1 / u**2 for u in uncertainties]
    mean = math.fsum(w * v for w, v in zip(weights, values, strict=True)) / math.fsum(weights)
    chi_squared = math.fsum(w * (v - mean) ** 2 for w, v in zip(weights, values, strict=True))
    degrees = len(values) - 1
    return Agreement(chi_squared, degrees, chi_squared_tail(chi_squared, degrees))


def chi_squared_tail(chi_squared: float, degrees: int) -> float:
    """Probability that chi-squared with `degrees` ≥ 1 exceeds the value: Q(degrees/2, χ²/2).

    For whole and half-whole arguments Q is a finite sum (NIST Digital Library of Mathematical
    Functions, 8.4.10 with 8.8.2), so no numerical library is needed.
    """
    x = chi_squared / 2
    if x > 700:
        return 0.0
    half = degrees / 2
    term_order = 0.5 if degrees % 2 else 1.0
    tail = math.erfc(math.sqrt(x)) if degrees % 2 else math.exp(-x)
    while term_order < half:
        tail += math.exp(term_order * math.log(x) - x - math.lgamma(term_order + 1)) if x > 0 else 0.0
        term_order += 1
    return min(1.0, tail)


def sample_deviation(values: Sequence[float]) -> float | None:
    """Standard deviation of a sample (n − 1), None for fewer than two values."""
    if len(values) < 2:
        return None
    mean = math.fsum(values) / len(values)
    return math.sqrt(math.fsum((value - mean) ** 2 for value in values) / (len(values) - 1))
