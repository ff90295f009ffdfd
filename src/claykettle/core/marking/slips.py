"""How a wrong figure came about: named slips, each done again in the student's own working until one gives the figure.

The order is that of the list in which they are told: what the trade knows first, then what a calculator does. Each is a
line that was worked out otherwise; everything below it is worked out from that (common practice in marking).
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from claykettle.core.chemistry.equation import Equation
from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.errors import Refusal
from claykettle.core.marking.carried import Own, Stretch, called
from claykettle.core.marking.claims import Claim
from claykettle.core.method import LIMITING, LineReplaced
from claykettle.core.quantity import nominal, unit
from claykettle.core.sheet import LineDef

ORDER = (
    "dead-volume-subtracted", "vapour-left-out", "column-left-out", "column-as-mercury", "air-left-out",
    "celsius-for-kelvin", "pressure-unit", "formula-without-water", "atom-for-molecule", "mole-ratio-one",
    "limiting-swapped", "ratio-forced", "circular", "digits-swapped", "inverted", "percent-100", "power-of-ten", "sign",
    "other-reading", "truncated-weight",
)  # fmt: skip
WORDS = {
    "dead-volume-subtracted": "the dead volume was subtracted where it is added",
    "vapour-left-out": "the vapour pressure of the water was left out",
    "column-left-out": "the column of water was left out",
    "column-as-mercury": "the column of water was taken for one of mercury",
    "air-left-out": "the air that is displaced was left out",
    "celsius-for-kelvin": "°C stands where K belongs",
    "pressure-unit": "a pressure stands in another unit than the rest",
    "formula-without-water": "the molar mass is that of the formula without its water",
    "atom-for-molecule": "the molar mass is that of an atom where a molecule counts, or the other way round",
    "mole-ratio-one": "the equation's coefficients were taken as one",
    "limiting-swapped": "it was worked out from the reagent that does not run out",
    "ratio-forced": "your own ratio does not give this formula",
    "circular": "it is the figure that was to be expected, not the one that follows from your readings",
    "digits-swapped": "two digits are the other way round",
    "inverted": "the fraction stands upside down",
    "percent-100": "a factor of 100 is missing or too many",
    "power-of-ten": "the decimal mark is in another place",
    "sign": "the sign is the other way round",
    "other-reading": "another reading or line was taken",
    "truncated-weight": "the atomic weights were cut off",
}
CAUSES = {
    "dead-subtracted": "dead-volume-subtracted", "vapour-ignored": "vapour-left-out",
    "column-ignored": "column-left-out", "air-left-out": "air-left-out", "water-forgotten": "formula-without-water",
}  # fmt: skip
"""Slips that a method knows as causes of its own: by the cause's code."""
ZERO_CELSIUS = 273.15
MERCURY = 13.5951
"""Density of mercury over that of water at 0 °C, as conventional mmHg have it (NIST SP 811)."""
PRESSURES = ("kPa", "hPa", "mmHg", "atm", "bar", "Pa", "inHg", "psi")
TENS = tuple(place for place in range(-6, 7) if place)
LONGEST_NAME = 20
"""A longer option is no formula."""
Known = Mapping[str, float]


@dataclass(frozen=True)
class Looking:
    """A wrong claim, and what it may be told apart by."""

    own: Own
    claim: Claim
    stretch: Stretch
    carried: float
    near: Callable[[float], bool]
    expected: Known
    """What the line, or another, was to be: by the name of the line."""


def slips_of(looking: Looking) -> list[str]:
    """The slips that give the claim, within its rounding, in their order."""
    return [code for code in ORDER if code in _FINDERS and any(looking.near(one) for one in _figures(code, looking))]


def _figures(code: str, looking: Looking) -> Iterator[float]:
    for value in _FINDERS[code](looking):
        if value is not None:
            yield value


def _everywhere(looking: Looking, wrong: Callable[[LineDef], Iterator[float | None]]) -> Iterator[float | None]:
    """The claim with any one line of its stretch worked out wrongly."""
    for line in looking.stretch.lines:
        for value in wrong(line):
            yield looking.stretch.ends(line, value)


def _changed(looking: Looking, line: LineDef, parameter: str, value: object) -> float | None:
    arguments = looking.stretch.arguments(line)
    return None if arguments is None else called(line, arguments | {parameter: value})


def _by_cause(code: str) -> Callable[[Looking], Iterator[float | None]]:
    """A slip that the method knows as a cause: its own functions in place of the lines', one by one and together."""

    def found(looking: Looking) -> Iterator[float | None]:
        own, stretch = looking.own, looking.stretch
        for cause in own.method.bench.causes:
            if CAUSES.get(cause.code) != code or not isinstance(cause.kind, LineReplaced):
                continue
            if not cause.when(own.trial.options):
                continue
            instead: dict[str, float] = {}
            for name, function in cause.kind.functions.items():
                line = own.sheet.by_name.get(name)
                value = called(replace(line, function=function), stretch.arguments(line)) if line is not None else None
                if value is not None:
                    instead[name] = value
            for line in stretch.lines:
                if line.name in instead:
                    yield stretch.ends(line, instead[line.name])
                for parameter, name in line.takes.items():
                    if name in instead:
                        # the student has the line, and left it out of what follows
                        yield stretch.ends(line, _changed(looking, line, parameter, instead[name]))
            above = own.above(looking.claim.name)
            overrides = {row.name: row.value for row in own.claims.values() if row.name in above}
            whole = own.sheet.evaluate(own.readings, overrides, cause.kind.functions, barring=False).get(
                looking.claim.name
            )
            yield None if whole is None else nominal(whole)

    return found


def _column_as_mercury(looking: Looking) -> Iterator[float | None]:
    def wrong(line: LineDef) -> Iterator[float | None]:
        if line.name in looking.own.method.judging.columns:
            value = looking.stretch.numbers.get(line.name)
            yield None if value is None else value * MERCURY

    return _everywhere(looking, wrong)


def _dimension(looking: Looking, name: str) -> str:
    own = looking.own
    if name in own.sheet.by_name:
        return unit(own.sheet.by_name[name].unit).dimension
    return unit(own.sheet.readings[name].unit).dimension if name in own.sheet.readings else ""


def _celsius(looking: Looking) -> Iterator[float | None]:
    def wrong(line: LineDef) -> Iterator[float | None]:
        for parameter, name, value in looking.stretch.with_arguments(line):
            if _dimension(looking, name) == "temperature":
                yield _changed(looking, line, parameter, value - ZERO_CELSIUS)

    return _everywhere(looking, wrong)


def _pressure_unit(looking: Looking) -> Iterator[float | None]:
    factors = {float(unit(one).factor / unit(other).factor) for one in PRESSURES for other in PRESSURES if one != other}

    def wrong(line: LineDef) -> Iterator[float | None]:
        for parameter, name, value in looking.stretch.with_arguments(line):
            if _dimension(looking, name) == "pressure":
                for factor in factors:
                    yield _changed(looking, line, parameter, value * factor)

    return _everywhere(looking, wrong)


def _formulas(options: Any) -> Iterator[Formula]:
    """Every formula that the options name, also in their equations and lists."""
    rows = [getattr(options, name) for name in type(options).model_fields]
    while rows:
        row = rows.pop()
        match row:
            case Formula():
                yield row
                if len(row.counts) > 1:
                    rows += [one for symbol in row.counts for one in _named(symbol)]
            case Equation():
                rows += [species.formula for species in (*row.reactants, *row.products)]
            case list() | tuple():
                rows += row
            case str() if row[:1].isupper() and len(row) <= LONGEST_NAME:
                rows += _named(row)
            case _ if hasattr(type(row), "model_fields"):
                rows += [getattr(row, name) for name in type(row).model_fields]


def _named(text: str) -> list[Formula]:
    try:
        return [parse_formula(text)]
    except Refusal:
        return []


def _molar(looking: Looking, other: Callable[[Formula], Iterator[float]]) -> Iterator[float | None]:
    """With another molar mass in place of that of a formula, in the line itself or where it is taken."""
    formulas = list(_formulas(looking.own.trial.options))

    def instead(value: float) -> Iterator[float]:
        for formula in formulas:
            if abs(formula.molar_mass - value) <= 1e-9 * value:
                yield from other(formula)

    def wrong(line: LineDef) -> Iterator[float | None]:
        value = looking.stretch.numbers.get(line.name)
        if unit(line.unit).dimension == "molar_mass" and value is not None:
            yield from instead(value)
        for parameter, name, taken in looking.stretch.with_arguments(line):
            if _dimension(looking, name) == "molar_mass":
                for mass in instead(taken):
                    yield _changed(looking, line, parameter, mass)

    return _everywhere(looking, wrong)


def _without_water(looking: Looking) -> Iterator[float | None]:
    yield from _by_cause("formula-without-water")(looking)

    def dry(formula: Formula) -> Iterator[float]:
        if formula.water:
            yield formula.anhydrous.molar_mass

    yield from _molar(looking, dry)


def _atom(looking: Looking) -> Iterator[float | None]:
    def atoms(formula: Formula) -> Iterator[float]:
        if len(formula.counts) == 1:
            count = float(next(iter(formula.counts.values())))
            if count > 1:
                yield formula.molar_mass / count
            else:
                yield formula.molar_mass * 2

    return _molar(looking, atoms)


def _coefficients_one(looking: Looking) -> Iterator[float | None]:
    """The same with every coefficient of the equation taken as one."""
    own = looking.own
    options = own.trial.options
    ones = {
        name: _ones(value)
        for name in type(options).model_fields
        if isinstance(value := getattr(options, name), Equation)
    }
    if not ones:
        return
    plain = options.model_copy(update=ones)
    # what was worked out from the equation once is worked out anew
    for kind in type(options).__mro__:
        for name in [name for name, row in vars(kind).items() if isinstance(row, cached_property)]:
            plain.__dict__.pop(name, None)
    asking = [line for line in looking.stretch.lines if "options" in line.takes.values()]
    for line in asking:
        parameter = next(key for key, name in line.takes.items() if name == "options")
        yield looking.stretch.ends(line, _changed(looking, line, parameter, plain))
    # in every line at once

    def plainly(line: LineDef, wrong: Known) -> float | None:
        arguments = looking.stretch.arguments(line, wrong)
        if arguments is not None:
            arguments |= {key: plain for key, name in line.takes.items() if name == "options"}
        return called(line, arguments)

    yield looking.stretch.through(plainly)


def _ones(equation: Equation) -> Equation:
    def ones(rows: Any) -> Any:
        return tuple(replace(row, coefficient=type(row.coefficient)(1)) for row in rows)

    return replace(equation, reactants=ones(equation.reactants), products=ones(equation.products))


def _other_reagent(looking: Looking) -> Iterator[float | None]:
    def wrong(line: LineDef) -> Iterator[float | None]:
        if line.name == LIMITING:
            yield from (value for _, name, value in looking.stretch.with_arguments(line) if name.startswith("extent_"))

    return _everywhere(looking, wrong)


def _circular(looking: Looking) -> Iterator[float | None]:
    yield looking.expected.get(looking.claim.name)


def _digits(looking: Looking) -> Iterator[float | None]:
    # the claim with its digits turned back is what was to come out: told as the claim itself
    for value in looking.claim.swapped():
        yield looking.claim.value + (looking.carried - value)


def _inverted(looking: Looking) -> Iterator[float | None]:
    own = unit(looking.own.sheet.by_name[looking.claim.name].unit)
    for shown in {own, looking.claim.unit}:
        figure = shown.from_si(looking.carried)
        if figure and shown.dimension == own.dimension:
            yield float(shown.factor) / figure + float(shown.offset)

    def wrong(line: LineDef) -> Iterator[float | None]:
        value = looking.stretch.numbers.get(line.name)
        if line.name != looking.claim.name and value:
            shown = unit(line.unit)
            figure = shown.from_si(value)
            yield float(shown.factor) / figure if figure else None

    yield from _everywhere(looking, wrong)


def _hundred(looking: Looking) -> Iterator[float | None]:
    def wrong(line: LineDef) -> Iterator[float | None]:
        value = looking.stretch.numbers.get(line.name)
        if value is not None and unit(line.unit).dimension == "ratio":
            yield value * 100
            yield value / 100

    return _everywhere(looking, wrong)


def _ten(looking: Looking) -> Iterator[float | None]:
    shown = unit(looking.own.sheet.by_name[looking.claim.name].unit)
    figure = shown.from_si(looking.carried)
    for place in TENS:
        yield float(shown.factor) * figure * 10.0**place + float(shown.offset)

    def wrong(line: LineDef) -> Iterator[float | None]:
        value = looking.stretch.numbers.get(line.name)
        if line.name != looking.claim.name and value is not None:
            yield from (value * 10.0**place for place in TENS)

    yield from _everywhere(looking, wrong)


def _sign(looking: Looking) -> Iterator[float | None]:
    yield -looking.carried

    def wrong(line: LineDef) -> Iterator[float | None]:
        if line.name != looking.claim.name:
            value = looking.stretch.numbers.get(line.name)
            yield None if value is None else -value
        for parameter, _, value in looking.stretch.with_arguments(line):
            yield _changed(looking, line, parameter, -value)

    yield from _everywhere(looking, wrong)


def _other_reading(looking: Looking) -> Iterator[float | None]:
    """Another reading or line of the same kind: in place of the line, or of something that it is worked out from."""
    own, figures = looking.own, _all_figures(looking)

    def wrong(line: LineDef) -> Iterator[float | None]:
        kind = unit(line.unit).dimension
        for name, value in figures:
            if name != line.name and _dimension(looking, name) == kind:
                yield value
        for parameter, name in line.takes.items():
            if name == "options":
                continue
            taken = own.readings.get(name)
            if isinstance(taken, list | tuple):
                yield from (_changed(looking, line, parameter, [one]) for one in taken)
                yield from (_changed(looking, line, parameter, one) for one in taken)
                continue
            for other, value in figures:
                if other != name and _dimension(looking, other) == _dimension(looking, name):
                    yield _changed(looking, line, parameter, value)

    return _everywhere(looking, wrong)


def _all_figures(looking: Looking) -> list[tuple[str, float]]:
    """Every reading, each weighing of a series, and every line as the student has it."""
    found: list[tuple[str, float]] = []
    for name, value in looking.own.readings.items():
        rows = value if isinstance(value, list | tuple) else [value]
        found += [(name, float(one)) for one in rows]
    lines = [(name, value) for name, value in looking.stretch.numbers.items() if name in looking.own.sheet.by_name]
    return found + [row for row in lines if row[0] != looking.claim.name]


def _cut_weights(looking: Looking) -> Iterator[float | None]:
    """With atomic weights cut off in one molar mass, or in all of them: taken from a table at once."""
    options, stretch = looking.own.trial.options, looking.stretch
    for cut in (_whole, round, _one_decimal):

        def cut_off(line: LineDef, cut: Callable[[float], float] = cut) -> float | None:
            is_molar_mass = unit(line.unit).dimension == "molar_mass"
            return _summed(line.rule_text(options, None), cut) if is_molar_mass else None

        def all_cut(line: LineDef, wrong: Known, cut_off: Callable[[LineDef], float | None] = cut_off) -> float | None:
            value = cut_off(line)
            return value if value is not None else called(line, stretch.arguments(line, wrong))

        yield from (stretch.ends(line, cut_off(line)) for line in stretch.lines)
        yield stretch.through(all_cut)


def _whole(weight: float) -> float:
    return float(int(weight))


def _one_decimal(weight: float) -> float:
    return int(10 * weight) / 10


_WEIGHTS = re.compile(r"\(?([^()]+?)\)? g/mol")


def _summed(rule: str, cut: Callable[[float], float]) -> float | None:
    """A molar mass by its rule, `(65.38 + 4 × 15.999) g/mol` or `118.71 g/mol`, each weight cut off (kg/mol)."""
    match = _WEIGHTS.fullmatch(rule)
    if match is None:
        return None
    total = 0.0
    for term in match.group(1).split(" + "):
        factor, _, weight = term.rpartition(" × ")
        try:
            total += (float(factor) if factor else 1.0) * cut(float(weight))
        except ValueError:
            return None
    return total / 1000


_FINDERS: Mapping[str, Callable[[Looking], Iterator[float | None]]] = {
    "dead-volume-subtracted": _by_cause("dead-volume-subtracted"),
    "vapour-left-out": _by_cause("vapour-left-out"),
    "column-left-out": _by_cause("column-left-out"),
    "column-as-mercury": _column_as_mercury,
    "air-left-out": _by_cause("air-left-out"),
    "celsius-for-kelvin": _celsius,
    "pressure-unit": _pressure_unit,
    "formula-without-water": _without_water,
    "atom-for-molecule": _atom,
    "mole-ratio-one": _coefficients_one,
    "limiting-swapped": _other_reagent,
    "circular": _circular,
    "digits-swapped": _digits,
    "inverted": _inverted,
    "percent-100": _hundred,
    "power-of-ten": _ten,
    "sign": _sign,
    "other-reading": _other_reading,
    "truncated-weight": _cut_weights,
}
