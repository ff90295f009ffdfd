"""Go now: which bench wants somebody, in which order, and why. Moments are seconds on one clock, times in minutes.

The rule, as an instructor goes round (common practice in teaching laboratories; decision 0060):

1. `stop`: something cannot be right; every further step is built on it.
2. `time`: the timer of a step at which somebody must stay has run out, such as a flame.
3. `doubt`: a figure was asked about and nobody has answered yet.
4. `sign`: a bench waits for an instructor to look at something before it goes on.
5. `look`: the results say that something is off.
6. `balance`: a bench waits for its balance, longer than a weighing takes, while another of its kind is free.
7. `stuck`: a step takes longer than the longest that it takes as a rule, or what cools stands `GRACE_MIN` over its
   time and its balance is free.
8. `early`: done while there is time for more.

Of one kind whoever waits longest goes first, of those the bench that stands first. A bench is called once, for the
first of these that holds. What was tapped away is not said again until it is another thing.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from claykettle.core.judgement.standing import GOING, Standing
from claykettle.core.planning.timetable import Takes

Code = Literal["stop", "time", "doubt", "sign", "look", "balance", "stuck", "early"]
ORDER: tuple[Code, ...] = ("stop", "time", "doubt", "sign", "look", "balance", "stuck", "early")
GRACE_MIN = 3.0
"""So long over its time may stand what nobody need attend."""
SPARE_MIN = 20.0
"""Who is done so long before the class ends has time for more."""
WEIGHING_MIN = 4.0
"""Longer than this nobody is at a balance for one weighing."""
MINUTE = 60.0
AGAIN = "“Read it again, digit by digit.”"
"""What to say where a figure itself is in doubt."""


@dataclass(frozen=True)
class Now:
    """What a bench does now. `step` is what it is called, `since` when it began, `takes` how long it takes as a rule.

    `balance` is the balance that the step is done at, empty for none; `asks` a question that nobody has answered yet,
    since `asked_at`; `signs` what an instructor is to look at, asked for at `signs_at`; `done_at` when all was done,
    None before.
    """

    bench: int
    name: str
    place: int
    step: str
    since: float
    standing: Standing
    takes: Takes | None = None
    attended: bool = True
    timer_ends: float | None = None
    balance: str = ""
    asks: str = ""
    asked_at: float = 0.0
    signs: str = ""
    signs_at: float = 0.0
    done_at: float | None = None
    changed_at: float = 0.0
    done_label: str = ""

    @property
    def ready_at(self) -> float:
        """When it may go on: what cools is not at the balance yet."""
        return self.since if self.timer_ends is None else max(self.since, self.timer_ends)


@dataclass(frozen=True)
class Call:
    """A bench that wants somebody: since when, why, in the bench's own numbers, and what to say there.

    `say` is empty where that is to be asked of the suspects; `key` is another one as soon as it is another thing.
    """

    code: Code
    bench: int
    name: str
    since: float
    reason: str
    say: str
    key: str


@dataclass(frozen=True)
class Queue:
    """Who is at a balance (None: it is free), and who waits for it, in their order."""

    balance: str
    at: Now | None
    waiting: tuple[Now, ...]


def queues(benches: Sequence[Now], balances: Sequence[str], now: float) -> tuple[Queue, ...]:
    """Who has which balance: of those whose step is done at it and whose vessel is cold, whoever came first."""
    found = []
    for name in balances:
        ready = (row for row in benches if row.balance == name and row.ready_at <= now and row.done_at is None)
        rows = sorted(ready, key=lambda row: (row.ready_at, row.place))
        found.append(Queue(name, rows[0] if rows else None, tuple(rows[1:])))
    return tuple(found)


def calls(
    benches: Sequence[Now],
    now: float,
    ends_at: float | None,
    lines: Sequence[Queue] = (),
    answered: Collection[tuple[int, str]] = (),
) -> tuple[Call, ...]:
    """Everybody who wants somebody, in order. `answered` are the bench and key of calls that were tapped away."""
    found: list[tuple[int, float, int, Call]] = []
    for row in benches:
        for call in _of(row, now, ends_at, lines):
            if (row.bench, call.key) not in answered:
                found.append((ORDER.index(call.code), call.since, row.place, call))
                break
    return tuple(row[-1] for row in sorted(found, key=lambda one: one[:3]))


def next_change(benches: Sequence[Now], now: float, ends_at: float | None) -> float | None:
    """The next moment at which time alone may call somebody; None where none is known."""
    moments = [moment for row in benches for moment in _moments(row)]
    if ends_at is not None:
        moments.append(ends_at - SPARE_MIN * MINUTE)
    return min((moment for moment in moments if moment > now), default=None)


def _moments(row: Now) -> Iterator[float]:
    if row.done_at is not None:
        return
    if row.timer_ends is not None:
        yield row.timer_ends
    if row.balance:
        yield row.ready_at + WEIGHING_MIN * MINUTE
    if row.takes is not None:
        yield _longest(row)


def _longest(row: Now) -> float:
    """Until when the step may take: the longest that it takes as a rule, or its timer where that is later."""
    assert row.takes is not None
    end = row.since + row.takes.high * MINUTE
    return end if row.timer_ends is None else max(end, row.timer_ends + GRACE_MIN * MINUTE)


def _of(row: Now, now: float, ends_at: float | None, lines: Sequence[Queue]) -> Iterator[Call]:
    """Why this bench wants somebody, the weightiest first."""
    if row.standing.level == "stop":
        yield _call(row, "stop", row.changed_at, row.standing.why, "", row.standing.why)
    if row.done_at is None:
        yield from _over_time(row, now, lines)
    if row.asks:
        yield _call(row, "doubt", row.asked_at, row.asks, AGAIN, row.asks)
    if row.signs:
        reason = f"{row.step}: waits to be signed off, {row.signs}."
        yield _call(row, "sign", row.signs_at, reason, "“Show me.”", f"sign {row.step} {row.signs_at:.0f}")
    if row.standing.level == "watch" and row.standing.word not in GOING:
        yield _call(row, "look", row.changed_at, row.standing.why, "", row.standing.why)
    if row.done_at is None:
        yield from _at_balance(row, now, lines)
        yield from _stuck(row, now, lines)
    elif ends_at is not None and ends_at - now >= SPARE_MIN * MINUTE:
        left = int((ends_at - now) // MINUTE)
        yield _call(row, "early", row.done_at, f"Done, {left} min before the end.", "“Write it out; clear up.”", "done")


def _over_time(row: Now, now: float, lines: Sequence[Queue]) -> Iterator[Call]:
    if row.timer_ends is None or _waits(row, lines):
        return
    over = (now - row.timer_ends) / MINUTE
    if over < 0 or not row.attended:
        return
    how = f"{over:.0f} min over its time" if over >= 1 else "its time is up"
    say = f"“Time is up: {row.done_label[:1].lower()}{row.done_label[1:]}?”" if row.done_label else "“Time is up.”"
    yield _call(row, "time", row.timer_ends, f"{row.step}: {how}.", say, _work(row))


def _waits(row: Now, lines: Sequence[Queue]) -> bool:
    return any(row in line.waiting for line in lines)


def _at_balance(row: Now, now: float, lines: Sequence[Queue]) -> Iterator[Call]:
    own = next((line for line in lines if row in line.waiting), None)
    free = next((line.balance for line in lines if line.at is None), "")
    if own is None or own.at is None or not free or now - row.ready_at < WEIGHING_MIN * MINUTE:
        return
    reason = f"Waits {(now - row.ready_at) / MINUTE:.0f} min for {own.balance}, where {own.at.name} is; {free} is free."
    say = f"“{free}, unless this trial was begun on {own.balance}.”"
    yield _call(row, "balance", row.ready_at, reason, say, _work(row))


def _stuck(row: Now, now: float, lines: Sequence[Queue]) -> Iterator[Call]:
    if row.takes is None or now < _longest(row) or _waits(row, lines):
        return
    if row.timer_ends is not None:  # somebody who attends it was called when its time was up
        reason = f"{row.step}: {(now - row.timer_ends) / MINUTE:.0f} min over its time, and nobody is there."
    else:
        spread = f"{row.takes.low:g} to {row.takes.high:g}"
        reason = f"{row.step}: {(now - row.since) / MINUTE:.0f} min so far, as a rule {spread}."
    yield _call(row, "stuck", row.since, reason, "“What are you waiting for?”", _work(row))


def _call(row: Now, code: Code, since: float, reason: str, say: str, key: str) -> Call:
    return Call(code, row.bench, row.name, since, reason, say, key[:400])


def _work(row: Now) -> str:
    """What is done now: whoever was there for its time was there for its being stuck too."""
    return f"work {row.step} {row.since:.0f}"
