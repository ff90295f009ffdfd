"""Every form of its page, and a truth as a class meets it: what the shared tests and the practice bench start from."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import product
from typing import Any

from claykettle.core.method import Draw
from claykettle.core.methods.precipitation.bench import PrecipitationTruth
from claykettle.core.methods.precipitation.options import INDICES, PrecipitationOptions
from claykettle.core.methods.precipitation.page import is_weighed
from claykettle.core.sheet import Shape


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    blanc_fixe = "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)"
    ionic = "Ba^2+(aq) + SO4^2-(aq) -> BaSO4(s)"
    copper = "2 Al(s) + 3 CuSO4(aq) -> 3 Cu(s) + Al2(SO4)3(aq)"
    ferrite = "CoCl2 + NiCl2 + ZnCl2 + MnCl2 + 8 FeCl3 + 32 NaOH -> CoNiZnMnFe8O16(s) + 32 NaCl + 16 H2O"
    sulfate = {"formula": "Na2SO4", "concentration": {"text": "0.250 mol/L", "half_width": "0.002 mol/L"}}
    rows: Sequence[tuple[str, Sequence[Any], frozenset[str]]] = (
        (blanc_fixe, ("BaCl2.2H2O", sulfate), frozenset()),
        (blanc_fixe, (), frozenset()),
        (ionic, ("BaCl2.2H2O for Ba^2+", "Na2SO4 0.25 mol/L for SO4^2-"), frozenset()),
        (copper, ("CuSO4.5H2O", "Al"), frozenset({"leftover_2"})),
        (copper, ("Al", "CuSO4 0.500 mol/L"), frozenset({"leftover_1"})),
        (copper, ("CuSO4 0.0005 mol/L", "Al"), frozenset({"leftover_2"})),
        (ferrite, (), frozenset(f"leftover_{index}" for index in INDICES)),
    )
    ways = ("last", "mean", "lowest")
    for number, ((equation, reagents, left), collector) in enumerate(product(rows, ("paper", "papers_mean", "dish"))):
        given = {"equation": equation, "reagents": reagents, "collector": collector, "constant_value": ways[number % 3]}
        options = PrecipitationOptions.model_validate(given)
        weighed = frozenset(f"reagent_{index}" for index in INDICES if is_weighed(index)(Shape(options)))
        split = frozenset({min(weighed)}) if number % 2 else frozenset[str]()
        yield Shape(options, weighed | left, split, left)


def sample(draw: Draw) -> PrecipitationTruth:
    """A truth as a class meets it, its figures drawn."""
    # as grams or as millilitres, whatever each form takes of it: the first of the reagents, then the others
    return PrecipitationTruth((draw(1.0e-3, 1.4e-3), *(draw(1.8e-5, 2.6e-5) for _ in range(5))), draw(4e-4, 8e-4))
