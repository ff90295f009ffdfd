"""A judgement in one sentence, with a stable code for programs and a level for the page."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Level = Literal["good", "watch", "stop"]
Status = Literal["match", "near", "no"]


@dataclass(frozen=True)
class Verdict:
    """`about` names the reading, line or instrument; `text` is a sentence in the user's own numbers."""

    code: str
    level: Level
    about: str
    text: str


@dataclass(slots=True)  # not frozen: three dozen are made at every reading, and that costs six times as much
class Candidate:
    """A formula held against the measurement; `misfit` in standard uncertainties, measured minus candidate.

    `expected` is the figure it would give, in the unit of the result it is held against; `likelihood` its share among
    candidates of an unknown (0 to 1); `seen` how it looks. `status` is match up to 2 standard uncertainties, near up to
    3, otherwise no; `charges` whether chemistry lets it be the answer, None where that is not asked.
    """

    text: str
    ratio: float | None
    misfit: float
    expected: float | None
    likelihood: float | None
    seen: str
    status: Status
    charges: bool | None


def candidate(
    text: str, ratio: float | None, misfit: float, expected: float | None = None, charges: bool | None = None
) -> Candidate:
    """A candidate with its status."""
    size = abs(misfit)
    status: Status = "match" if size <= 2 else "near" if size <= 3 else "no"
    return Candidate(text, ratio, misfit, expected, None, "", status, charges)
