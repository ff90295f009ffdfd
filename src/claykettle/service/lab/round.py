"""A round: the reading that each bench of a class has next, so that all of them are typed from one place."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.lab.cards import Laid, laid_cards
from claykettle.service.lab.state import class_at
from claykettle.service.views.base import View
from claykettle.service.views.entries import entry_views
from claykettle.service.views.shown import trial_shown
from claykettle.service.visit import Visit


class RoundRowView(View):
    """What a bench reads next: its run and trial, the reading by slot and position, what it is called, its unit.

    `expected` says where it will likely lie, empty where nothing is known.
    """

    bench: int
    name: str
    run: str
    trial: str
    slot: str
    position: int
    label: str
    unit: str
    instrument: str
    expected: str


class RoundView(View):
    """The benches that have something to read, in the order of the room."""

    title: str
    rows: list[RoundRowView]


@may(INSTRUCTOR)
def round_view(visit: Visit, number: int) -> RoundView:
    """What each bench of a class reads next. Raises NotFound, NotYours."""
    state = class_at(visit, number)
    rows, _ = laid_cards(visit, state)
    return RoundView(title=state.title, rows=[found for row in rows for found in _next(visit, row)])


def _next(visit: Visit, row: Laid) -> Iterator[RoundRowView]:
    if row.is_out or row.card.done_at:
        return
    shown = trial_shown(visit.run(row.uuid), row.card.trial)
    # a series that is constant is weighed on only where somebody wants to
    for entry in [one for one in entry_views(shown)[:1] if one.step is not None]:
        yield RoundRowView(
            bench=row.bench, name=row.name, run=row.uuid, trial=row.card.trial, slot=entry.slot,
            position=entry.position, label=entry.label, unit=entry.unit, instrument=entry.instrument,
            expected=entry.expected,
        )  # fmt: skip
