"""A formula taken apart for reading: molar mass, composition and crystal water, each as a line a pupil can follow."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction

from claykettle.core.chemistry.elements import atomic_weight
from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.chemistry.hydrates import known_salt
from claykettle.core.chemistry.substances import formula_of
from claykettle.core.quantity import plain, round_to_place

PERCENT_PLACES = 2


@dataclass(frozen=True)
class ElementLine:
    """One element's share: `count × weight = mass`, and its percent of the whole."""

    symbol: str
    count: str
    weight: str
    mass: str
    percent: str


@dataclass(frozen=True)
class WaterLine:
    """The crystal water of a hydrate: its mass, its percent, and both as worked lines."""

    count: str
    mass: str
    percent: str
    rule: str
    anhydrous: str
    anhydrous_mass: str


@dataclass(frozen=True)
class FormulaSheet:
    """Everything that the formula desk shows. Masses in g/mol, rounded to the coarsest atomic weight used."""

    text: str
    charge: int
    lines: tuple[ElementLine, ...]
    sum: str
    molar_mass: str
    water: WaterLine | None
    name: str
    relatives: tuple[str, ...]


def formula_sheet(text: str) -> FormulaSheet:
    """The sheet of a formula, or of a substance by its name. Raises Refusal as `formula_of`, `no-atomic-weight`."""
    formula = formula_of(text)
    whole, places = formula.molar_mass_g, _places(formula)
    lines = tuple(_line(symbol, count, whole) for symbol, count in formula.atoms)
    known = known_salt(formula.anhydrous if formula.water else formula)
    return FormulaSheet(
        text=formula.text,
        charge=formula.charge,
        lines=lines,
        sum=" + ".join(line.mass for line in lines),
        molar_mass=_round(whole, places),
        water=_water(formula, whole, places) if formula.water else None,
        name=known.name if known else "",
        relatives=tuple(row.text for row in known.hydrates if row.text != formula.text) if known else (),
    )


def _line(symbol: str, count: Fraction, whole: Decimal) -> ElementLine:
    weight = atomic_weight(symbol)
    mass = weight * count.numerator / count.denominator
    # a half count may need one decimal more than the weight has
    decimals = max(-int(number.as_tuple().exponent) for number in (weight, mass))
    return ElementLine(symbol, _count(count), f"{weight}", _round(mass, decimals), _percent(mass, whole))


def _water(formula: Formula, whole: Decimal, places: int) -> WaterLine:
    water = parse_formula("H2O")
    mass = water.molar_mass_g * formula.water.numerator / formula.water.denominator
    count, anhydrous = _count(formula.water), formula.anhydrous
    percent = _percent(mass, whole)
    rule = f"{count} × {_round(water.molar_mass_g, _places(water))} / {_round(whole, places)} × 100 % = {percent} %"
    return WaterLine(
        count,
        _exact(mass),
        percent,
        rule,
        anhydrous.text,
        _round(anhydrous.molar_mass_g, _places(anhydrous)),
    )


def _places(formula: Formula) -> int:
    """Decimals of the least precise atomic weight in the formula."""
    exponents = [atomic_weight(symbol).as_tuple().exponent for symbol, _ in formula.atoms]
    return min(-exponent for exponent in exponents if isinstance(exponent, int))


def _count(count: Fraction) -> str:
    return str(count.numerator) if count.denominator == 1 else _exact(Decimal(count.numerator) / count.denominator)


def _exact(number: Decimal) -> str:
    return plain(number.normalize()) if number == number.quantize(Decimal("1e-6")) else _round(number, 4)


def _percent(part: Decimal, whole: Decimal) -> str:
    return _round(100 * part / whole, PERCENT_PLACES)


def _round(number: Decimal, places: int) -> str:
    return plain(round_to_place(number, -places))
