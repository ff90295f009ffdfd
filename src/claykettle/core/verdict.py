"""A judgement in one sentence, with a stable code for programs and a level for the page."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Level = Literal["good", "watch", "stop"]


@dataclass(frozen=True)
class Verdict:
    """`about` names the reading, line or instrument; `text` is a sentence in the user's own numbers."""

    code: str
    level: Level
    about: str
    text: str


@dataclass(frozen=True)
class Candidate:
    """A formula held against the measurement; `misfit` in standard uncertainties, measured minus candidate."""

    text: str
    ratio: float | None
    misfit: float

    @property
    def status(self) -> Literal["match", "near", "no"]:
        """match up to 2 standard uncertainties, near up to 3, otherwise no."""
        size = abs(self.misfit)
        return "match" if size <= 2 else "near" if size <= 3 else "no"
