"""Technique drills: asked, answered at once; nothing of them is kept."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from typing import Any

from claykettle.core.practice.drills import KINDS, drill, solve
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.practice.bench import seed_of
from claykettle.service.views.base import View
from claykettle.service.visit import Visit


class DrillKindView(View):
    """A drill, by name and title."""

    name: str
    title: str


class DrillView(View):
    """A question: how it is answered (`figure`, `choice`, `order`), what is offered, what a picture must know, or which
    drawing of a technique goes with it.
    """

    kind: str
    seed: str
    ask: str
    answered: str
    unit: str
    offers: list[str]
    drawn: dict[str, Any]
    card: str


class DrillsView(View):
    """The drills that there are."""

    kinds: list[DrillKindView]


class SolvedView(View):
    """Whether an answer is right, what would be, and why."""

    right: bool
    was: str
    why: str


@may(INSTRUCTOR)
def drills(visit: Visit) -> DrillsView:
    """Which there are."""
    return DrillsView(kinds=[DrillKindView(name=name, title=title) for name, title in KINDS.items()])


@may(INSTRUCTOR)
def drill_asked(visit: Visit, kind: str, seed: str) -> DrillView:
    """A question of a kind; without a seed any. Raises Refusal (`kind`, `seed`)."""
    found = drill(kind, seed_of(seed) if seed else secrets.randbelow(10**6))
    # what would be read the wrong way round is no part of the question
    drawn = {name: value for name, value in found.drawn.items() if name != "wrong_way"}
    return DrillView(
        kind=found.kind, seed=str(found.seed), ask=found.ask, answered=found.answered, unit=found.unit,
        offers=list(found.offers), drawn=drawn, card=found.card,
    )  # fmt: skip


@may(INSTRUCTOR)
def drill_solved(visit: Visit, kind: str, seed: str, said: str, order: Sequence[str]) -> SolvedView:
    """An answer held against what is right. Raises Refusal (`kind`, `seed`, `said`)."""
    return SolvedView.model_validate(solve(kind, seed_of(seed), said, order))
