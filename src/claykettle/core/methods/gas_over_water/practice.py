"""The matter of the simulated bench: a piece that dissolves and its gas in a tube over water."""

from __future__ import annotations

from dataclasses import replace

from claykettle.core.matter import Chance, Part, Tube
from claykettle.core.method import Jar, Rehearsal, read_usual
from claykettle.core.methods.gas_over_water.bench import GasOverWaterTruth, accepted_result, expect
from claykettle.core.methods.gas_over_water.options import GasOverWaterOptions
from claykettle.core.sheet import Shape


def class_of(truth: GasOverWaterTruth, options: GasOverWaterOptions, chance: Chance) -> GasOverWaterTruth:
    """A real gas, and a tube in which the water does not stand quite as high as outside."""
    accepted = accepted_result(options)
    if accepted is not None:
        truth = expect(Shape(options), truth, accepted)
    level = chance.between(0.03, 0.16)
    return replace(truth, setting=replace(truth.setting, level=level, level_start=0.0))


def parts(jar: Jar) -> tuple[Part, ...]:
    """One tube."""
    return (Tube(jar.truth.sample * jar.truth.gas_per_kg, jar.truth.temperature),)


METALS = (("Zn", 2), ("Mg", 2), ("Al", 3), ("Fe", 2))
"""Unknown metals of a class, and how many electrons an atom gives to acid (common practice)."""


def named(options: GasOverWaterOptions, chance: Chance) -> GasOverWaterOptions:
    """One of these metals with hydrochloric acid."""
    symbol, charge = METALS[chance.one_of(len(METALS))]
    once, acid, gas = (2, 2 * charge, charge) if charge % 2 else (1, charge, charge // 2)
    equation = f"{once} {symbol}(s) + {acid} HCl(aq) -> {once} {symbol}Cl{charge}(aq) + {gas} H2(g)"
    document = options.model_dump(mode="json", exclude_defaults=True)
    return GasOverWaterOptions.model_validate(document | {"reagent": symbol, "equation": equation})


REHEARSAL = Rehearsal(read_usual(__package__), parts, class_of, named=named)
