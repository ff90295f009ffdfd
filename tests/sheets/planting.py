"""Sheets as students hand them in: honest ones in their own rounding and tables, and ones with a slip planted."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from random import Random
from typing import Any

from tests.sheets.by_hand import METHODS, TABLES, Line, Values, Work, rounded

OF_THE_PEN = ("digits-swapped", "power-of-ten", "sign")
"""Slips that can happen to any figure."""
CLEARLY = 0.03
"""A slip changes its figure by more than this, or nobody could tell it from rounding."""


@dataclass(frozen=True)
class Handed:
    """A sheet, and where it was made to go wrong: at which line, by which slip (empty: nowhere)."""

    work: Work
    claims: Mapping[str, str]
    line: str = ""
    slip: str = ""

    def document(self, **more: Any) -> dict[str, Any]:
        """The sheet file."""
        return {
            "format": "clay-kettle/sheet", "version": 1, "student": "", "run": self.work.document(), "trial": "1",
            "claims": dict(self.claims),
        } | more  # fmt: skip


def honest(method: str, draw: Random) -> Handed:
    """Every line as it comes, each rounded, worked on with what is on paper or in the calculator."""
    work = METHODS[method](draw)
    weights = TABLES[draw.choice(sorted(TABLES))]
    on_paper = draw.random() < 0.5
    return Handed(work, _claims(work, draw, weights, on_paper) | dict(work.words))


def planted(method: str, draw: Random) -> Handed:
    """One slip, in a figure with digits enough to tell; everything below follows from it."""
    while True:
        work = METHODS[method](draw)
        weights = TABLES[draw.choice(["abridged", "longer"])]
        line = draw.choice(work.lines)
        ways = work.wrong_ways.get(line.name, {})
        slip = draw.choice([*ways, *ways, *OF_THE_PEN])
        found = _claims(work, draw, weights, True, line.name, slip)
        if found:
            return Handed(work, found, line.name, slip)


def _claims(
    work: Work, draw: Random, weights: Mapping[str, float], on_paper: bool, wrong: str = "", slip: str = ""
) -> dict[str, str]:
    """The claims in order; empty where the slip cannot be told from none."""
    values: Values = dict(work.values)
    claims: dict[str, str] = {}
    figures = draw.randint(4, 5) if wrong else draw.randint(3, 6)
    for line in work.lines:
        honest_value = line.of(values, weights)
        value, text = honest_value, ""
        if line.name == wrong:
            value = _wrong(work, line, slip, values, weights, honest_value, draw)
            if slip == "digits-swapped":
                text = _swapped(_written(line, honest_value, figures), draw)
                if not text:
                    return {}
                value = float(text)
            scale = max(abs(honest_value), 1e-12)
            if abs(value - honest_value) < CLEARLY * scale:
                return {}
        text = text or _written(line, value, figures)
        values[line.name] = float(text) if on_paper else value
        claims[line.name] = _with_unit(line, text, draw)
    return claims


def _wrong(
    work: Work, line: Line, slip: str, values: Values, weights: Mapping[str, float], honest_value: float, draw: Random
) -> float:
    way = work.wrong_ways.get(line.name, {}).get(slip)
    if way is not None:
        return way(values, weights)
    if slip == "power-of-ten":
        return honest_value * 10.0 ** draw.choice([-3, -1, 1, 3])
    return -honest_value


def _written(line: Line, value: float, figures: int) -> str:
    return f"{value:.{line.decimals}f}" if line.decimals is not None else rounded(value, figures)


def _swapped(text: str, draw: Random) -> str:
    """Two neighbouring digits, of those that count, the other way round; empty where none differ."""
    places = [
        place
        for place in range(len(text) - 1)
        if text[place].isdigit() and text[place + 1].isdigit() and text[place] != text[place + 1]
        and float(text[:place] or "0" if text[:place] not in ("-", ".") else "0") != 0
    ]  # fmt: skip
    if not places:
        return ""
    place = draw.choice(places[:2])
    return text[:place] + text[place + 1] + text[place] + text[place + 2 :]


def _with_unit(line: Line, text: str, draw: Random) -> str:
    """With its unit, sometimes a thousandth of it, sometimes with a comma."""
    small = {"mol": "mmol", "g": "mg"}.get(line.unit)
    if small and draw.random() < 0.25 and "." in text:
        digits = text.partition(".")[2]
        if len(digits) >= 3:
            text = f"{float(text) * 1000:.{len(digits) - 3}f}"
            return f"{text} {small}"
    text = text.replace(".", ",") if draw.random() < 0.2 else text
    return f"{text} {line.unit}".rstrip()


def honest_sheets(count: int, seed: int) -> Iterator[Handed]:
    """So many honest sheets, the methods in turn."""
    draw, methods = Random(seed), sorted(METHODS)
    yield from (honest(methods[number % len(methods)], draw) for number in range(count))


def planted_sheets(each: int, seed: int) -> Iterator[Handed]:
    """So many sheets with a slip of every method."""
    draw = Random(seed)
    yield from (planted(method, draw) for method in sorted(METHODS) for _ in range(each))
