"""Lengths read off a photograph: two points on a scale bar of known length, then two on each thing that is measured.

The bar lies in the plane of the things, the picture is taken straight from above; neither can be seen by computing.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from math import dist, sqrt

from claykettle.core.errors import Fault, Refusal
from claykettle.core.quantity import (
    RECTANGULAR,
    Number,
    figures,
    nominal,
    parse_reading,
    plain,
    reading_variable,
    round_significant,
    round_to_place,
    standard_uncertainty,
    with_uncertainty,
)

Point = tuple[float, float]
"""Across and down, in pixels of the picture."""
Ends = tuple[Point, Point]

SHORTEST_BAR_CLICKS = 10.0
"""A bar shorter than so many clicks is wide says too little: its length is then unsure by a tenth and more."""


@dataclass(frozen=True)
class MeasuredLength:
    """One length as a reading takes it (`7.9 mm`), its half-width (`0.2 mm`), and for the eye (`7.9 ± 0.2 mm`)."""

    text: str
    half_width: str
    shown: str


@dataclass(frozen=True)
class PhotographSheet:
    """What the scale is worth, in words, and the lengths in the order of measuring."""

    scale: str
    lengths: tuple[MeasuredLength, ...]


def measured(bar: str, scale: Ends, things: Sequence[Ends], click: float) -> PhotographSheet:
    """The lengths in mm of what lies between each two points.

    `bar` is the length of the scale bar as typed, with its unit; `click` (pixels, above zero) is how far off a point
    may be set: each distance is taken for unsure by two such, rectangular and independent of all others (GUM 4.3.7).

    Raises Refusal with a path: `bar` where it is no length or none above zero, `scale` where the bar's ends lie closer
    than ten clicks, `things[n]` where two points are one.
    """
    faults = []
    try:
        length = float(parse_reading(bar, "length").si)
    except Refusal as refusal:
        raise refusal.below("bar") from None
    if length <= 0:
        faults.append(Fault("not-positive", "bar", "A scale bar is longer than nothing; write it as 10 mm."))
    pixels = dist(*scale)
    if pixels < SHORTEST_BAR_CLICKS * click:
        text = "The ends of the scale bar lie too close for a scale. Set them anew, or take a picture from closer by."
        faults.append(Fault("too-short", "scale", text))
    faults += [
        Fault("no-length", f"things[{number}]", f"Both points of number {number + 1} are one; set its ends anew.")
        for number, ends in enumerate(things)
        if dist(*ends) == 0
    ]
    if faults:
        raise Refusal(*faults)
    per_pixel = length / _distance(scale, click, "scale")
    lengths = tuple(_length(per_pixel * _distance(ends, click, f"thing {n}")) for n, ends in enumerate(things))
    one = figures(1000 * nominal(per_pixel), 3)
    return PhotographSheet(f"{bar.strip()} over {pixels:.0f} pixels, {one} mm each", lengths)


def _distance(ends: Ends, click: float, name: str) -> Number:
    return reading_variable(dist(*ends), sqrt(2) * click, name)


def _length(length: Number) -> MeasuredLength:
    """Rounded to the place of its half-width; the scale that all lengths share is in each of them."""
    value, spread = 1000 * nominal(length), 1000 * standard_uncertainty(length)
    half_width = round_significant(Decimal(repr(RECTANGULAR * spread)), 1)
    digits = plain(round_to_place(Decimal(repr(value)), half_width.adjusted()))
    return MeasuredLength(f"{digits} mm", f"{plain(half_width)} mm", with_uncertainty(value, spread, "mm"))
