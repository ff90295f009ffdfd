"""Who of a class wants somebody, as the board says it: the rule's calls, what to say there, and how the others are."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import or_, select

from claykettle.core.lab.calls import Call, Now, Queue, calls
from claykettle.service.lab.cards import Laid
from claykettle.service.lab.results import listed
from claykettle.service.lab.state import State
from claykettle.service.lab.words import brief, words_for
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.tables import CallAnswer

MOST_CALLS = 3
LATE = timedelta(hours=6)
"""So long after its end a class is over, whether anybody closed it or not."""
OF_RESULTS = ("stop", "doubt", "look")
"""Calls whose reason is a verdict or a question: it explains itself, and is read at arm's length without that."""


class CallView(View):
    """A bench to go to: why, in its own numbers, and what to say there."""

    code: str
    key: str
    bench: int
    name: str
    run: str
    reason: str
    say: str


class CallsView(View):
    """Who wants somebody, at most three; how many more there are, and how the others are, in a sentence."""

    go: list[CallView]
    more: int
    said: str


@dataclass(frozen=True)
class Answered:
    """Calls that were tapped away, by bench and key; and when the first of them comes back, None for never."""

    keys: frozenset[tuple[int, str]]
    again: float | None


def answered(visit: Visit, state: State, rows: Sequence[Laid]) -> Answered:
    """The calls that are not said again: as long as it is the same thing, or until a moment."""
    by_run = {row.run: row.bench for row in rows}
    query = select(CallAnswer.run_id, CallAnswer.call_key, CallAnswer.until).where(
        CallAnswer.day_id == state.number, or_(CallAnswer.until.is_(None), CallAnswer.until > visit.now)
    )
    found = [row for row in visit.session.execute(query) if row.run_id in by_run]
    again = min((row.until.timestamp() for row in found if row.until is not None), default=None)
    return Answered(frozenset((by_run[row.run_id], row.call_key) for row in found), again)


def calls_view(
    visit: Visit, state: State, rows: Sequence[Laid], benches: Sequence[Now], lines: Sequence[Queue], known: Answered
) -> CallsView:
    """Who wants somebody now. Nobody does of a class that has not begun, is closed or over."""
    begins, ends = state.begins(visit), state.ends(visit)
    if state.is_closed:
        return CallsView(go=[], more=0, said="The class is closed.")
    if _is_over(visit, state, ends):
        return CallsView(go=[], more=0, said="The class is over.")
    if begins is not None and visit.now < begins:
        return CallsView(go=[], more=0, said=f"The class begins at {begins.astimezone(visit.zone):%H:%M}.")
    by_bench = {row.bench: row for row in rows}
    found = calls(benches, visit.now.timestamp(), ends.timestamp() if ends else None, lines, known.keys)
    go = [_view(visit, one, by_bench[one.bench]) for one in found[:MOST_CALLS]]
    return CallsView(go=go, more=len(found) - len(go), said=_said_of_others(benches, found, lines))


def _is_over(visit: Visit, state: State, ends: datetime | None) -> bool:
    return visit.now > ends + LATE if ends is not None else state.session(visit).date < visit.today


def _view(visit: Visit, call: Call, row: Laid) -> CallView:
    return CallView(
        code=call.code, key=call.key, bench=call.bench, name=call.name, run=row.uuid,
        reason=brief(call.reason) if call.code in OF_RESULTS else call.reason,
        say=call.say or words_for(visit, row.uuid, call.code),
    )  # fmt: skip


def _said_of_others(benches: Sequence[Now], found: Sequence[Call], lines: Sequence[Queue]) -> str:
    """How the benches are that nobody need go to."""
    called = {call.bench for call in found}
    well = [row for row in benches if row.bench not in called]
    done = sum(row.done_at is not None for row in well)
    rows = []
    working = len(well) - done
    if working:
        rows.append(f"{_counted(working)} {'goes' if working == 1 else 'go'} well")
    if done:
        rows.append(f"{_counted(done)} {'is' if done == 1 else 'are'} done")
    waiting = [one.name for line in lines for one in line.waiting if one.bench not in called]
    if waiting:
        rows.append(f"{listed(waiting)} {'waits' if len(waiting) == 1 else 'wait'} for a balance")
    said = ", ".join(rows)
    return f"{said[:1].upper()}{said[1:]}." if said else "No bench has begun yet." if not benches else ""


def _counted(count: int) -> str:
    words = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")
    return f"{words[count] if count < len(words) else count} {'bench' if count == 1 else 'benches'}"
