"""What every device answers when it is looked at, and how its lines are read.

A line is whatever holds a figure and its unit, such as `+   31.238 g`; words beside them may say that it still moves
(`moving`, `unstable`, `?`) or that it is over its range (`over`, `OL`, a row of dashes). A device that says nothing of
it is believed steady once it has shown the same figure for a while.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, Protocol

State = Literal["steady", "moving", "over", "silent", "nonsense", "away"]
"""`silent`: open, and nothing came; `nonsense`: what came holds no figure; `away`: it cannot be opened."""

STEADY_S, STEADY_LINES = 1.0, 3
"""A figure is steady that was the same for so long, in so many lines at least."""
LONGEST_LINE = 120
_FIGURE = re.compile(
    r"(?<![\w.,])([+-]?)\s*(\d{1,9}(?:[.,]\d{1,9})?)\s*"
    r"(kg|mg|g|mL|L|°C|degC|K|hPa|kPa|mbar|mmHg|Pa|mm|cm)(?![\w])"
)
_MOVES = re.compile(r"\b(moving|unstable|motion)\b|\?", re.IGNORECASE)
_OVER = re.compile(r"\b(over|overload|OL|under)\b|-{4,}|\^{4,}", re.IGNORECASE)


@dataclass(frozen=True)
class Line:
    """One line of a device, so many seconds after one began to look: its figure as text, or what else it says."""

    at: float
    figure: str = ""
    unit: str = ""
    moves: bool = False
    is_over: bool = False


@dataclass(frozen=True)
class Look:
    """What a device shows: digits and unit as it sent them, how it stands, and that in a sentence."""

    figure: str
    unit: str
    state: State
    said: str


class Device(Protocol):
    """Something that reads for itself."""

    def look(self, seconds: float) -> Look:
        """What it shows, after looking for at most so many seconds; never raises for what a device does wrong."""
        ...


def read_line(text: str, at: float) -> Line | None:
    """A line as it came; None where it holds nothing that is understood."""
    if len(text) > LONGEST_LINE:
        return None
    found = _FIGURE.search(text)
    if found is None:
        return Line(at, is_over=True) if _OVER.search(text) else None
    if _OVER.search(text):
        return Line(at, is_over=True)
    sign = "-" if found[1] == "-" else ""
    unit = "degC" if found[3] in ("°C", "degC") else found[3]
    return Line(at, sign + found[2].replace(",", "."), unit, moves=_MOVES.search(text) is not None)


def is_steady(lines: Sequence[Line]) -> bool:
    """Whether the last lines show one and the same figure for long enough, and none of them says that it moves."""
    last = lines[-1]
    same: list[Line] = []
    for line in reversed(lines):
        if (line.figure, line.unit) != (last.figure, last.unit) or line.moves or line.is_over:
            break
        same.append(line)
    return len(same) >= STEADY_LINES and same[0].at - same[-1].at >= STEADY_S


def judged(lines: Sequence[Line], nonsense: int) -> Look:
    """What lines come to, the latest counting; `nonsense` is how many others came."""
    if not lines:
        if nonsense:
            said = "What comes over its line holds no figure with a unit: check its speed and how the device is set."
            return Look("", "", "nonsense", said)
        return Look("", "", "silent", "Nothing comes over its line: is it switched on, and set to send?")
    last = lines[-1]
    if last.is_over:
        return Look("", "", "over", "It is beyond its range: take something off, or choose another.")
    if is_steady(lines):
        return Look(last.figure, last.unit, "steady", "steady")
    return Look(last.figure, last.unit, "moving", "not steady yet: wait until it stands")
