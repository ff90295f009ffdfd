"""The laws by which simulated matter changes, each in its closed form, so that a step of any length is exact."""

from __future__ import annotations

import math

GAS_CONSTANT = 8.314462618
"""J/(mol·K), exact (SI 2019)."""


def approached(start: float, end: float, seconds: float, time_constant: float) -> float:
    """Newton's law of cooling: what `start` has become after so many seconds beside something at `end`.

    Any unit, the same for both; `time_constant` in s, above zero. Source: Newton's law of cooling,
    dT/dt = −(T − T_end)/τ, solved.
    """
    return end + (start - end) * math.exp(-seconds / time_constant)


def left_of(amount: float, rate: float, seconds: float) -> float:
    """What is left of an amount that goes at a first-order `rate` (1/s) for so many seconds."""
    return amount * math.exp(-rate * seconds)


def rate_at(rate: float, reference: float, energy: float, temperature: float) -> float:
    """A rate (1/s) known at one temperature (K), at another: Arrhenius' law with an activation `energy` in J/mol."""
    return rate * math.exp(-energy / GAS_CONSTANT * (1 / temperature - 1 / reference))
