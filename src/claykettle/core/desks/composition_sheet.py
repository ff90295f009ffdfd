"""From what was found of each element, in percent or by mass, to the formulas that fit: one line an element."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

from claykettle.core.chemistry.elements import atomic_weight
from claykettle.core.errors import Fault, Refusal, refuse
from claykettle.core.judgement.empirical import formulas_near
from claykettle.core.judgement.ratios import judge_formula
from claykettle.core.quantity import (
    Number,
    Reading,
    exact,
    nominal,
    parse_reading,
    reading_variable,
    standard_uncertainty,
    with_uncertainty,
)
from claykettle.core.verdict import Candidate, Status, Verdict

_SHARE = re.compile(r"([A-Z][a-z]?)\s*[:=]?\s*(rest\b|\d+(?:[.,]\d+)?\s*(?:%|mg\b|g\b)?)")
MOST_ELEMENTS, REST = 5, "rest"
FAR = 100
MOST_INDEX = {2: 12, 3: 12, 4: 6, 5: 6}
"""The largest index looked at, by the number of elements."""


@dataclass(frozen=True)
class ShareLine:
    """One element: what was found as typed, its amount (mol, in 100 g where percents were given), its ratio."""

    symbol: str
    found: str
    weight: str
    amount: str
    ratio: str


@dataclass(frozen=True)
class Fit:
    """A formula held against the shares: how many standard uncertainties it lies off, as a figure and as text."""

    text: str
    misfit: float
    off: str
    status: Status


@dataclass(frozen=True)
class CompositionSheet:
    """The elements, the formulas nearest to them, and what can be said of those."""

    lines: tuple[ShareLine, ...]
    candidates: tuple[Fit, ...]
    most_index: int
    formula: str | None
    verdicts: tuple[Verdict, ...]


def _fit(row: Candidate) -> Fit:
    return Fit(row.text, row.misfit, f"{row.misfit:.1f}" if row.misfit < FAR else "over 100", row.status)


def is_composition(text: str) -> bool:
    """Whether a text speaks of shares, such as `Sn 78.8 %, S 21.2 %`, and not of a formula."""
    return re.search(r"%|\brest\b|\d\s*m?g\b|[A-Z][a-z]?\s*[:=]\s*\d", text) is not None


def composition_sheet(text: str) -> CompositionSheet:
    """The sheet of what was found of two to five elements, all in percent or all by mass; one may be the `rest`.

    The last digit typed counts as the half-width. Raises Refusal for what cannot be read, one kind of unit mixed with
    another, an element twice or unknown, and shares that leave no rest.
    """
    shares = list(_shares(text))
    found = _variables(shares)
    symbols = [symbol for symbol, _ in shares]
    amounts = [found[symbol] / float(atomic_weight(symbol)) for symbol in symbols]
    most = MOST_INDEX[len(symbols)]
    candidates = formulas_near(symbols, amounts, most)
    least = min(amounts, key=nominal)
    ratios = ["1" if row is least else _shown(row / least) for row in amounts]
    measured = f"{' : '.join(symbols)} = {' : '.join(f'{nominal(row / least):.3g}' for row in amounts)}"
    formula, verdict = judge_formula("composition", measured, candidates, "Figures with more digits")
    lines = [
        ShareLine(
            symbol,
            "rest" if reading is None else reading.shown,
            str(atomic_weight(symbol)),
            _shown(amount),
            ratio,
        )
        for (symbol, reading), amount, ratio in zip(shares, amounts, ratios, strict=True)
    ]
    return CompositionSheet(
        tuple(lines),
        tuple(_fit(row) for row in candidates),
        most,
        formula.text,
        (verdict, *_sum_verdict(shares, found)),
    )


def _shown(number: Number) -> str:
    return with_uncertainty(nominal(number), standard_uncertainty(number))


def _shares(text: str) -> Iterator[tuple[str, Reading | None]]:
    """Symbol and share; None stands for the rest."""
    left = _SHARE.sub("", text).strip(" ,;\n\t+")
    if left:
        raise _faulty(f"'{left[:24]}' cannot be read; write each element with its share: Sn 78.8 %, S 21.2 %.")
    rows = [(match[1], match[2].strip()) for match in _SHARE.finditer(text)]
    by_mass = any(share.endswith("g") for _, share in rows)
    _refuse_mixed(rows, by_mass)
    for symbol, share in rows:
        try:
            atomic_weight(symbol)
            reading = None if share == REST else parse_reading(share, *(("mass", "g") if by_mass else ("ratio", "%")))
        except Refusal as refusal:
            raise Refusal(*(Fault(row.code, "text", row.message) for row in refusal.faults)) from None
        if reading is not None and reading.si <= 0:
            raise _faulty(f"The share of {symbol} must lie above zero.")
        yield symbol, reading


def _refuse_mixed(rows: list[tuple[str, str]], by_mass: bool) -> None:
    symbols, shares = [symbol for symbol, _ in rows], [share for _, share in rows]
    twice = next((symbol for symbol in symbols if symbols.count(symbol) > 1), None)
    if twice is not None:
        raise _faulty(f"{twice} stands twice; put its shares together.")
    if not 2 <= len(rows) <= MOST_ELEMENTS:
        raise _faulty(f"Give two to {MOST_ELEMENTS} elements; here are {len(rows)}.")
    if by_mass and not all(share.endswith("g") for share in shares if share != REST):
        raise _faulty("Some shares are masses and some are not; write all in percent or all in g.")
    if shares.count(REST) > 1 or (by_mass and REST in shares):
        raise _faulty("'rest' is what is missing to 100 %: it can stand once, beside percents.")


def _faulty(message: str) -> Refusal:
    return refuse("composition", message, "text")


def _variables(shares: list[tuple[str, Reading | None]]) -> dict[str, Number]:
    """Grams of each element, in 100 g where percents were given; the rest hangs on all others."""
    found: dict[str, Number] = {}
    for symbol, reading in shares:
        if reading is None:
            continue
        scale = 100 if reading.unit.symbol == "%" else 1000
        found[symbol] = reading_variable(float(reading.si) * scale, float(reading.last_digit_si) * scale, symbol)
    rest = next((symbol for symbol, reading in shares if reading is None), None)
    if rest is not None:
        found[rest] = 100 - sum(found.values())
        if nominal(found[rest]) <= 0:
            raise _faulty(f"The others add up to 100 % or more: nothing is left for {rest}.")
    return found


def _sum_verdict(shares: list[tuple[str, Reading | None]], found: dict[str, Number]) -> Iterator[Verdict]:
    readings = [reading for _, reading in shares]
    if any(reading is None or reading.unit.symbol != "%" for reading in readings):
        return
    whole = sum(found.values())
    off = abs(nominal(whole) - 100)
    if off > 2 * standard_uncertainty(whole):
        text = (
            f"The shares add up to {exact(round(nominal(whole), 6))} %, not 100 %: look for what is missing or wrong."
        )
        yield Verdict("shares-off", "watch", "composition", text)
