"""What reacts with what: every reagent's amount per equation coefficient, what is used of it and what is left."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class ReagentBar:
    """One reagent: `possible` is how far the reaction could go with it alone, in mmol of the equation as written.

    `used` is how far it does go, `left` what then remains (mmol of the reagent as text; empty for the limiting one).
    """

    label: str
    possible: float
    amount: str
    used: float
    left: str
    is_limiting: bool


@dataclass(frozen=True)
class Reacting:
    """All reagents that are known so far; `open` names those still to come, `sentence` says what runs out first."""

    bars: tuple[ReagentBar, ...]
    open: tuple[str, ...]
    sentence: str
