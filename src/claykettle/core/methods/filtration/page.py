"""The page: the dry solid, and what it is of the mixture or of what should have come."""

from __future__ import annotations

from claykettle.core.methods.filtration.options import FiltrationOptions
from claykettle.core.methods.parts.collecting import Collecting
from claykettle.core.quantity import Number, Quantity
from claykettle.core.sheet import Page, Shape

page = Page("filtration")


collecting_solid = Collecting(page, "solid_mass", "mass of the solid")


def from_mixture(shape: Shape) -> bool:
    """Whether the mixture was weighed before it was stirred into its liquid."""
    return "mixture" in shape.taken


def is_foreseen(shape: Shape) -> bool:
    """Whether a mass is known that should come."""
    return shape.options.expected is not None


def _foreseen(options: FiltrationOptions) -> Quantity:
    assert options.expected is not None  # asked for only where `is_foreseen` holds
    return options.expected


page.reading(
    "mixture",
    "mixture",
    "g",
    "balance",
    optional=True,
    net=True,
    pan="added",
    change="mixture",
    usual=("0.05 g", "40 g"),
)
page.given("expected_mass", "mass that should come", "g", _foreseen, when=is_foreseen)
collecting_solid.declare()


@page.line("solid in the mixture", "%", "(mass of the solid) / (mixture) × 100 %", when=from_mixture)
def solid_percent(solid_mass: Number, mixture: Number) -> Number:
    return solid_mass / mixture


@page.line("rest of the mixture", "g", "(mixture) − (mass of the solid)", when=from_mixture)
def dissolved_mass(solid_mass: Number, mixture: Number) -> Number:
    return mixture - solid_mass


@page.line("recovery", "%", "(mass of the solid) / (mass that should come) × 100 %", when=is_foreseen)
def recovery_percent(solid_mass: Number, expected_mass: Number) -> Number:
    return solid_mass / expected_mass


RESULTS = ("solid_mass", "solid_percent", "dissolved_mass", "recovery_percent")
