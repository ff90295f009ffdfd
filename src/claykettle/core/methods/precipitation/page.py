"""The calculation page, in the order in which a pupil writes it; computed in SI, shown in the units named."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from claykettle.core.methods.parts.by_equation import (
    declare_extent,
    declare_limiting,
    declare_molar_mass,
    declare_theory,
    is_taken,
    named,
    rule,
)
from claykettle.core.methods.parts.collecting import Collecting
from claykettle.core.methods.precipitation.options import INDICES, PrecipitationOptions
from claykettle.core.quantity import Number, exact
from claykettle.core.sheet import Page, Shape

page = Page("precipitation")


collecting_solid = Collecting(page, "actual_yield", "actual yield")


def is_weighed(index: int) -> Callable[[Shape], bool]:
    return lambda shape: is_taken(index)(shape) and shape.options.reagent(index).concentration is None


def _by_volume(index: int) -> Callable[[Shape], bool]:
    return lambda shape: is_taken(index)(shape) and shape.options.reagent(index).concentration is not None


def left_over(index: int) -> Callable[[Shape], bool]:
    return lambda shape: is_weighed(index)(shape) and f"leftover_{index}" in shape.taken


def _labelled(index: int) -> Callable[[PrecipitationOptions], str]:
    return lambda options: options.reagent(index).label


def _concentration(index: int) -> Callable[[PrecipitationOptions], Any]:
    return lambda options: options.reagent(index).concentration


def _declare_readings(index: int) -> None:
    solid: dict[str, Any] = {"net": True, "sole": True}
    page.reading(
        f"reagent_{index}",
        f"reagent {index}",
        "g",
        "balance",
        when=is_weighed(index),
        naming=_labelled(index),
        pan="added",
        change=f"reagent_{index}",
        usual=("0.005 g", "60 g"),
        **solid,
    )
    page.reading(
        f"reagent_{index}",
        f"reagent {index}",
        "mL",
        "liquid_volume",
        when=_by_volume(index),
        naming=_labelled(index),
        change=f"reagent_{index}",
    )
    page.reading(
        f"leftover_{index}",
        f"leftover {index}",
        "g",
        "balance",
        optional=True,
        when=is_weighed(index),
        naming=named(index, "{} left over"),
        **solid,
    )
    page.reading(
        f"concentration_{index}",
        f"concentration {index}",
        "mol/L",
        "",
        when=_by_volume(index),
        naming=named(index, "concentration of {}"),
        given=_concentration(index),
    )


def _declare_amounts(index: int) -> None:
    amount: dict[str, Any] = {"name": f"amount_{index}", "naming": named(index, "amount of {}")}

    declare_molar_mass(page, index, is_weighed(index))

    @page.line(
        f"amount {index}",
        "mol",
        rule(index, "({jar}) / (molar mass of {name})"),
        when=is_weighed(index),
        takes={"weighed": f"reagent_{index}", "molar": f"molar_mass_{index}"},
        positive=True,
        **amount,
    )
    def by_mass(weighed: Number, molar: Number) -> Number:
        return weighed / molar

    @page.line(
        f"amount {index}",
        "mol",
        rule(index, "({jar}) × (concentration of {name})"),
        when=_by_volume(index),
        takes={"measured": f"reagent_{index}", "concentration": f"concentration_{index}"},
        positive=True,
        **amount,
    )
    def by_volume(measured: Number, concentration: Number) -> Number:
        return measured * concentration

    declare_extent(page, index)


for _index in INDICES:
    _declare_readings(_index)


for _index in INDICES:
    _declare_amounts(_index)


declare_limiting(page)


def _declare_excess(index: int) -> None:
    @page.line(
        f"excess {index}",
        "mol",
        rule(index, "{per} × (({name} per equation) − (limiting amount))"),
        when=is_taken(index),
        name=f"excess_{index}",
        naming=named(index, "excess of {}"),
        takes={"extent": f"extent_{index}"},
    )
    def excess(extent: Number, reaction_possible: Number, options: PrecipitationOptions) -> Number:
        return options.per_extent(index) * (extent - reaction_possible)


for _index in INDICES:
    _declare_excess(_index)


declare_theory(page, "solid")


collecting_solid.declare()


@page.line("percent yield", "%", "(actual yield) / (theoretical yield) × 100 %")
def percent_yield(actual_yield: Number, theoretical_yield: Number) -> Number:
    return actual_yield / theoretical_yield


@page.line("amount of the solid", "mol", "(actual yield) / (molar mass of the solid)")
def product_amount(actual_yield: Number, solid_molar_mass: Number) -> Number:
    return actual_yield / solid_molar_mass


def _declare_used(index: int) -> None:
    @page.line(
        f"used {index}",
        "mol",
        rule(index, "(amount of {name}) − ({name} left over) / (molar mass of {name})"),
        when=left_over(index),
        name=f"used_{index}",
        naming=named(index, "{} used"),
        takes={"amount": f"amount_{index}", "left": f"leftover_{index}", "molar": f"molar_mass_{index}"},
    )
    def used(amount: Number, left: Number, molar: Number) -> Number:
        return amount - left / molar

    @page.line(
        f"solid per {index} used",
        "1",
        lambda options: (
            f"(amount of the solid) / ({options.reagent(index).formula.text} used) × "
            f"{exact(options.per_extent(index))} / {exact(options.made_coefficient)}"
        ),
        when=_is_first_left(index),
        name="product_per_used",
        naming=lambda options: f"solid per {options.reagent(index).formula.text} used, over the equation's ratio",
        takes={"used": f"used_{index}"},
    )
    def product_per_used(product_amount: Number, used: Number, options: PrecipitationOptions) -> Number:
        return product_amount / used * options.per_extent(index) / options.made_coefficient


def _is_first_left(index: int) -> Callable[[Shape], bool]:
    return lambda shape: next((other for other in INDICES if left_over(other)(shape)), 0) == index


for _index in INDICES:
    _declare_used(_index)


RESULTS = (
    *(f"amount_{index}" for index in INDICES),
    "theoretical_yield",
    "actual_yield",
    "percent_yield",
    *(f"excess_{index}" for index in INDICES),
    *(f"used_{index}" for index in INDICES),
    "product_per_used",
    "product_amount",
)
