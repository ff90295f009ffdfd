"""Where the readings must lie that are not taken yet."""

from __future__ import annotations

from claykettle.core.chemistry.formula import Formula
from claykettle.core.method import Expectations, Trial
from claykettle.core.methods.combination.options import CombinationOptions
from claykettle.core.methods.combination.page import crucible, possible
from claykettle.core.quantity import grams

SMOKE = 0.9
"""So much of the element at least is still there: more is not lost unseen (common practice)."""
EXCESS = 2.0
"""Sulfur or a halogen not burned off may be as much again as was taken up (common practice)."""


def expects(trial: Trial) -> Expectations:
    """After heating: what was taken up by the formula expected, or by any that may be."""
    options: CombinationOptions = trial.options
    element = trial.value("element_mass")
    if element is None:
        return {}
    if options.product is not None:
        gain = _gain(options, options.product)
        because = f"{grams(element)} of {options.first} take up {grams(gain * element)} as {options.product.text}"
        return crucible.expected(trial, SMOKE, 1 + EXCESS * gain, because, 1 + gain, "when done")
    most = max((_gain(options, row) for row in possible(options)), default=float(options.max_index))
    because = f"{grams(element)} of {options.first} can take up {grams(most * element)} at most"
    return crucible.expected(trial, SMOKE, 1 + EXCESS * most, because)


def _gain(options: CombinationOptions, formula: Formula) -> float:
    """Mass taken up per mass of the element."""
    return options.ratio(formula) * options.partner.molar_mass / options.element.molar_mass
