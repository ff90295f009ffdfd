"""The forward model: what honest instruments show of a truth, fault by fault."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from claykettle.core.chemistry.elements import atomic_weight
from claykettle.core.errors import refuse
from claykettle.core.method import PlainReadings, Setting
from claykettle.core.methods.combination.options import CombinationOptions
from claykettle.core.methods.combination.page import crucible
from claykettle.core.quantity import nominal
from claykettle.core.sheet import Shape, Values


@dataclass(frozen=True)
class CombinationTruth:
    """What is really in the crucible, in kg: the pure element, and mol taken up per mol of it."""

    vessel: float
    element: float
    ratio: float


def truth(shape: Shape, values: Values) -> CombinationTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    element, partner = nominal(values["element_mass"]), nominal(values["partner_mass"])
    weights = _weights(shape.options)
    return CombinationTruth(nominal(values["vessel"]), element, partner / weights[1] / (element / weights[0]))


def _weights(options: CombinationOptions) -> tuple[float, float]:
    return float(atomic_weight(options.first)) / 1000, float(atomic_weight(options.second)) / 1000


def expect(shape: Shape, truth: CombinationTruth, expected: float) -> CombinationTruth:
    """The same crucible and element, with as much taken up as the expected ratio (or fraction) asks for."""
    if shape.options.level == "formula":
        return replace(truth, ratio=expected)
    element, partner = _weights(shape.options)
    return replace(truth, ratio=expected / (1 - expected) * element / partner)


def accepted_result(options: CombinationOptions) -> float | None:
    """The ratio (or fraction) of the product expected."""
    return None if options.product is None else _as_key(options, options.ratio(options.product))


def accepted_word(options: CombinationOptions) -> str:
    """The formula taught as the answer."""
    return "" if options.product is None else options.product.text


def matched_result(options: CombinationOptions, values: Values) -> float | None:
    """The ratio (or fraction) of the matching formula."""
    taken = values.get("taken_ratio")
    return None if taken is None else _as_key(options, nominal(taken))


def _as_key(options: CombinationOptions, ratio: float) -> float:
    """A ratio as the key result: itself, or the partner's mass fraction where only percents are asked."""
    if options.level == "formula":
        return ratio
    element, partner = _weights(options)
    return ratio * partner / (element + ratio * partner)


def foresee(options: CombinationOptions, sample: float, setting: Setting) -> CombinationTruth:
    """What so much of the element will take up. Raises Refusal where no product is named."""
    product = options.product or next(iter(options.candidates or ()), None)
    if product is None:
        message = "Name the product that you expect: how much is taken up depends on it."
        raise refuse("plan-open", message, "options.product")
    return CombinationTruth(setting.vessel_mass.si, sample, options.ratio(product))


NITROGEN = float(atomic_weight("N")) / 1000


def play(shape: Shape, truth: CombinationTruth, faults: Mapping[str, float]) -> PlainReadings:
    """The readings in kg that an honest balance shows of this truth.

    Faults: `unreacted` (fraction of the element that took nothing up), `nitride` (fraction that took up nitrogen in
    place of oxygen, charge for charge), `skin` (fraction of the weighed piece that was product already), `unfired`
    (kg of dirt and moisture that the crucible still held when it was weighed empty and loaded).
    """
    element_weight, partner_weight = _weights(shape.options)
    skin = faults.get("skin", 0.0) * truth.element
    amount = (truth.element - skin) / element_weight
    nitride, unreacted = faults.get("nitride", 0.0), faults.get("unreacted", 0.0)
    gain = amount * truth.ratio * (partner_weight * (1 - nitride - unreacted) + NITROGEN * 2 / 3 * nitride)
    dirt = faults.get("unfired", 0.0)
    product_mass = truth.vessel + truth.element + gain
    return crucible.weighed(shape, truth.vessel + dirt, truth.element, [product_mass, product_mass])


def in_air(options: CombinationOptions) -> bool:
    return options.second == "O"
