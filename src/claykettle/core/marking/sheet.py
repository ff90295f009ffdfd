"""What is marked, and what comes of it: a sheet, and its lines."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from claykettle.core.run import Run

SPOKEN: Mapping[str, str] = {"formula": "formula", "equation": "equation", "limiting": "what runs out first"}
"""What is claimed in words, beside the lines of a working: name and label."""
Status = Literal["right", "follows", "wrong", "unit", "missing"]
EARNS: frozenset[str] = frozenset({"right", "follows"})


@dataclass(frozen=True)
class Sheet:
    """A student's figures of one trial as typed, by line; `marks` says what is asked and what each earns."""

    run: Run
    trial: str
    claims: Mapping[str, str]
    marks: Mapping[str, int] = field(default_factory=dict)
    student: str = ""


@dataclass(frozen=True)
class Line:
    """One line marked: what was claimed, what the readings give (`true`), what the student's own earlier figures give
    (`carried`), the slip that a replay reproduces, and what is remarked of its digits. Texts are empty where there is
    nothing of that.
    """

    name: str
    label: str
    claimed: str
    true: str
    carried: str
    status: Status
    marks: int
    of: int
    slip: str | None
    text: str
    remarks: tuple[str, ...] = ()
