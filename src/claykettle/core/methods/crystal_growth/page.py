"""The calculation page, in the order in which a pupil writes it; computed in SI, shown in the units named."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import permutations
from math import sqrt
from typing import Any

from claykettle.core.methods.crystal_growth.options import INDICES, CrystalGrowthOptions
from claykettle.core.quantity import Number, nominal
from claykettle.core.sheet import SERIES_WORDS, SPREAD, LineDef, Page, Pick, Shape

page = Page("crystal_growth")


def _is_there(index: int) -> Callable[[Shape], bool]:
    return lambda shape: index <= len(shape.options.portions)


def _named(index: int, words: str) -> Callable[[CrystalGrowthOptions], str]:
    return lambda options: words.format(options.portion(index).label)


def _declare(index: int) -> None:
    here: dict[str, Any] = {"when": _is_there(index)}
    page.reading(
        f"volume_{index}", f"volume {index}", "mL", "liquid_volume", naming=_named(index, "volume of {}"), **here
    )
    page.reading(
        f"cooling_time_{index}", f"cooling time {index}", "min", "clock", optional=True,
        naming=_named(index, "cooling time of {}"), **here,
    )  # fmt: skip
    page.reading(
        f"lengths_{index}", f"lengths {index}", "mm", "ruler", series=True, sampled=True, round="crystal",
        naming=_named(index, "lengths of {}"), **here,
    )  # fmt: skip

    @page.line(
        f"mean length {index}", "mm", _named(index, "mean of (lengths of {})"), name=f"mean_length_{index}",
        naming=_named(index, "mean length of {}"), positive=True,
        takes={"lengths": f"lengths_{index}", "spread": f"lengths_{index}{SPREAD}"}, **here,
    )  # fmt: skip
    def mean_length(lengths: Sequence[Number], spread: Number) -> Number:
        # how far one more crystal may lie off is s √(1 + 1/n); over √(n + 1) that is s / √n, the mean's own
        return sum(lengths[1:], lengths[0]) / len(lengths) + spread / sqrt(len(lengths) + 1)

    @page.line(
        f"standard deviation {index}", "mm", _named(index, "standard deviation of (lengths of {})"),
        name=f"standard_deviation_{index}", naming=_named(index, "standard deviation of {}"),
        takes={"lengths": f"lengths_{index}"}, **here,
    )  # fmt: skip
    def standard_deviation(lengths: Sequence[Number]) -> Number | None:
        # one crystal does not tell how far they scatter
        return None if len(lengths) < 2 else SERIES_WORDS["standard deviation of"](lengths)


for _index in INDICES:
    _declare(_index)


def _widest(**volumes: Number) -> Pick:
    """How much the largest portion is above the smallest, over the largest; decided on nominal values."""
    low = min(volumes, key=lambda name: nominal(volumes[name]))
    high = max(volumes, key=lambda name: nominal(volumes[name]))
    if low == high:
        low = next(name for name in volumes if name != high)
    key = f"{high.removeprefix('volume_')},{low.removeprefix('volume_')}"
    return Pick(key, (volumes[high] - volumes[low]) / volumes[high])


def _widest_rules(options: CrystalGrowthOptions) -> dict[str, str]:
    pairs = permutations(options.numbers, 2)
    name = {number: f"(volume of {options.portion(number).label})" for number in options.numbers}
    return {f"{high},{low}": f"({name[high]} − {name[low]}) / {name[high]} × 100 %" for high, low in pairs}


page.lines.append(
    LineDef(
        "volume_difference_percent", "difference of the volumes", "%", _widest_rules, _widest, kind="choice",
        taking=lambda options: {f"volume_{number}": f"volume_{number}" for number in options.numbers},
    )
)  # fmt: skip


@page.line(
    "length ratio",
    "1",
    lambda options: f"(mean length of {options.portion(1).label}) / (mean length of {options.portion(2).label})",
)
def length_ratio(mean_length_1: Number, mean_length_2: Number) -> Number:
    return mean_length_1 / mean_length_2


RESULTS = (
    *(f"mean_length_{index}" for index in INDICES),
    *(f"standard_deviation_{index}" for index in INDICES),
    "volume_difference_percent",
    "length_ratio",
)
