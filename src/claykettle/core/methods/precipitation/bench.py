"""The forward model: what honest instruments show of a truth, fault by fault."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import partial

from claykettle.core.errors import refuse
from claykettle.core.method import PlainReadings, Setting
from claykettle.core.methods.parts import collecting
from claykettle.core.methods.parts.by_equation import as_weighed, extents_of, portions, taken_of, theoretical_kg
from claykettle.core.methods.precipitation.options import INDICES, PrecipitationOptions
from claykettle.core.methods.precipitation.page import collecting_solid, left_over
from claykettle.core.quantity import Number, nominal
from claykettle.core.sheet import Shape, Values


@dataclass(frozen=True)
class PrecipitationTruth:
    """What is really there: what is taken of each reagent (kg or m³), and the dry solid in kg."""

    reagents: tuple[float, ...]
    solid: float


def truth(shape: Shape, values: Values) -> PrecipitationTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    return PrecipitationTruth(taken_of(shape.options, values), nominal(values["actual_yield"]))


def larger(truth: PrecipitationTruth, times: float) -> PrecipitationTruth:
    """The same in so many times the amount."""
    return PrecipitationTruth(tuple(times * row for row in truth.reagents), times * truth.solid)


def expect(shape: Shape, truth: PrecipitationTruth, expected: float) -> PrecipitationTruth:
    """The same reagents, with the yield that is expected."""
    return replace(truth, solid=expected * theoretical_kg(shape.options, truth.reagents))


def beside(options: PrecipitationOptions, values: Values) -> Mapping[str, float]:
    """Where a leftover was weighed: what was used makes what the equation says."""
    return {"product_per_used": 1.0}


def play(shape: Shape, truth: PrecipitationTruth, faults: Mapping[str, float]) -> PlainReadings:
    """The readings in kg and m³ that honest instruments show of this truth.

    Faults: `oxidised` (fraction of its mass that the dry solid took up as oxygen), `other_metal` (kg of the displacing
    metal still in the solid), `bubbled` (so much more of a metal is used than the solid asks, as a fraction: less solid
    comes where the metal runs out, less metal is left where it does not).
    """
    options: PrecipitationOptions = shape.options
    possible, bubbled = extents_of(options, truth.reagents), faults.get("bubbled", 0.0)
    solid = truth.solid
    if options.reagent(1 + possible.index(min(possible))).is_metal:
        solid, bubbled = solid * (1 - bubbled), 0.0
    extent = solid / options.made.molar_mass / options.made_coefficient
    readings: PlainReadings = {}
    for index, amount in zip(range(1, len(possible) + 1), truth.reagents, strict=False):
        readings |= as_weighed(shape, f"reagent_{index}", amount, BOAT)
        if left_over(index)(shape):
            used = extent * (1 + bubbled) * options.per_extent(index) * options.reagent(index).formula.molar_mass
            readings |= as_weighed(shape, f"leftover_{index}", max(0.0, amount - used), BOAT)
    shown = solid * (1 + faults.get("oxidised", 0.0)) + faults.get("other_metal", 0.0)
    return readings | collecting_solid.weighed(shape, shown)


BOAT = 0.0012
"""A weighing boat (common practice)."""


def foresee(options: PrecipitationOptions, first: float, setting: Setting) -> PrecipitationTruth:
    """What so much of the first reagent (kg) gives: the others with the setting's excess, nothing lost.

    Raises Refusal `plan-open` where the first reagent is a solution: what is weighed is what a plan sizes.
    """
    if options.reagent(1).concentration is not None:
        message = "Name the substance that is weighed first; solutions come after it."
        raise refuse("plan-open", message, "options.reagents")
    rows = portions(options, first, setting.excess.si)
    return PrecipitationTruth(rows, theoretical_kg(options, rows))


def collects_metal(options: PrecipitationOptions) -> bool:
    return len(options.made.atoms) == 1


def has_water(options: PrecipitationOptions) -> bool:
    return any(row.formula.water and row.concentration is None for row in options.taken)


def is_solution(index: int, options: PrecipitationOptions) -> bool:
    return index <= len(options.taken) and options.reagent(index).concentration is not None


def anhydrous(index: int) -> Callable[..., Number]:
    return lambda options: options.reagent(index).formula.anhydrous.molar_mass


WORDS = {
    **collecting.WORDS,
    "collects_metal": collects_metal,
    "has_water": has_water,
    "without_water": {f"molar_mass_{index}": anhydrous(index) for index in INDICES},
    "first_is_solution": partial(is_solution, 1),
    "second_is_solution": partial(is_solution, 2),
}
"""What causes.toml calls by name."""
