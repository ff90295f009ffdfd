"""The reagent table, substances as columns, planned beside actual; and the path from what can come to what came."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class ReagentColumn:
    """One substance; every figure as text, empty while it is not known. `why` says why it limits, empty elsewhere."""

    formula: str
    name: str
    role: str
    molar_mass: str
    planned: str
    actual: str
    amount: str
    equivalents: str
    supply: str
    is_limiting: bool
    why: str


@dataclass(frozen=True)
class YieldStep:
    """One stage of the yield: its grams, its share of what can come, and what was lost since the stage before.

    `said` is grams and share as text.
    """

    label: str
    grams: float
    text: str
    percent: float
    lost: str
    said: str


@dataclass(frozen=True)
class ReagentTable:
    """The columns, and the stages of the yield as far as they are known."""

    columns: tuple[ReagentColumn, ...]
    path: tuple[YieldStep, ...]
