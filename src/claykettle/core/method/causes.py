"""Error causes as typed disturbances, replayed through the same worksheet.

No sign and no size stands anywhere in a file: a cause says *what* it disturbs, the replay says what
that does to the result. Five kinds: a reading shifted, a reading scaled, a line replaced, an option
replaced, or the truth itself changed (then the method's own bench model makes the readings).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class ReadingShifted:
    """`reading` shows `factor` × dose more than it should (dose in SI); every weighing of a series alike."""

    reading: str
    factor: float = 1.0


@dataclass(frozen=True)
class ReadingScaled:
    """`reading` shows (1 + dose) times what it should."""

    reading: str


@dataclass(frozen=True)
class LineReplaced:
    """The calculation uses other functions for lines, by name, such as leaving a correction out. No dose.

    Lines that the page does not have stay out of it.
    """

    functions: Mapping[str, Callable[..., Any]]


@dataclass(frozen=True)
class OptionReplaced:
    """The calculation believes another option. No dose."""

    option: str
    value: Any


@dataclass(frozen=True)
class TruthChanged:
    """The matter in the vessel is not what it should be; `fault` is a field of the method's truth."""

    fault: str


def _always(_: Any) -> bool:
    return True


@dataclass(frozen=True)
class Cause:
    """One thing that can have gone wrong: its name, kind, usual and largest believable dose (SI), and why no more.

    `when` tells from the options whether it can happen at all.
    """

    code: str
    label: str
    kind: ReadingShifted | ReadingScaled | LineReplaced | OptionReplaced | TruthChanged
    unit: str = "g"
    usual: float = 0.0
    believable: float = 0.0
    limit: str = ""
    when: Callable[[Any], bool] = _always
