"""A whole class of simulated benches: students of different skill at a few balances, and what an instructor changes.

Everything follows from the seed and from when somebody was spoken to: the same evening can be worked out again up to
any moment, and what has happened by then stays as it was.
"""

from __future__ import annotations

import heapq
from bisect import insort
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from claykettle.core.matter import Chance
from claykettle.core.practice.hands import CAREFUL, HASTY, Hands, Record, Skill, run_of
from claykettle.core.practice.laid import Laid
from claykettle.core.quantity import figures
from claykettle.core.run import Run, evaluate_run, reading_definition

MOST_BENCHES, MOST_BALANCES = 16, 16
BEGINS_S, BETWEEN_TRIALS_S = 90.0, 150.0
"""How far apart benches begin, and what lies between two trials of one."""
WEIGHING_S = 75.0
"""How long somebody holds a balance for one weighing (common practice)."""
USUAL = Skill("usual", (0.85, 1.1), 4, 0.08, "", True)
SKILLS: tuple[tuple[float, Skill], ...] = ((0.4, CAREFUL), (0.35, USUAL), (0.25, HASTY))
"""How many of a class work how (common practice)."""
FAULTY = 0.3
"""In so many of the benches something is wrong from the start."""

Kind = Literal["reading", "started", "done", "seen", "trial"]


@dataclass(frozen=True)
class Event:
    """Something that happens at a bench, so many seconds after the class began."""

    seconds: float
    trial: str
    kind: Kind
    what: str
    text: str = ""
    position: int = 1
    count: int | None = None


@dataclass(frozen=True)
class Spoken:
    """Somebody went to a bench (by its place, from 0) and spoke to those there."""

    seconds: float
    place: int


@dataclass(frozen=True)
class Played:
    """A bench's evening: who works there how, what happens, when it is done, and how long it waited for a balance."""

    place: int
    laid: Laid
    skill: Skill
    events: tuple[Event, ...]
    finish: float
    waited: float


@dataclass
class _Bench:
    """A bench while it is worked out."""

    place: int
    laid: Laid
    skill: Skill
    trials: int
    spoken: tuple[float, ...]
    hands: Hands | None = None
    trial: int = 0
    events: list[Event] = field(default_factory=list)
    now: float = 0.0
    waited: float = 0.0


class _Balances:
    """The balances of the room: the spans (seconds) for which each is held."""

    def __init__(self, count: int):
        self.held: list[list[tuple[float, float]]] = [[] for _ in range(count)]

    def taken(self, now: float, seconds: float) -> float:
        """When whoever asks now has one, for so long: in the first gap, since what is worked out is not in order."""
        if not self.held:
            return now
        found = [(_gap(spans, now, seconds), number) for number, spans in enumerate(self.held)]
        start, number = min(found)
        insort(self.held[number], (start, start + seconds))
        return start


def _gap(spans: Sequence[tuple[float, float]], now: float, seconds: float) -> float:
    """The first moment from which a balance with these spans is free for so long."""
    start = now
    for begins, ends in spans:
        if begins >= start + seconds:
            break
        start = max(start, ends)
    return start


def play(laid: Laid, benches: int, balances: int, trials: int = 1, spoken: Sequence[Spoken] = ()) -> tuple[Played, ...]:
    """The evening of a class whose benches are all laid as this one, each with a seed of its own.

    `balances` 0 means that nobody waits for one. A bench that was spoken to works with care from then on.
    """
    chance = laid.chance.stream("class")
    rows = [_bench(laid, place, chance.stream(f"bench {place}"), trials, spoken) for place in range(benches)]
    room = _Balances(balances)
    heap = [(row.now, row.place) for row in rows]
    heapq.heapify(heap)
    while heap:
        _, place = heapq.heappop(heap)
        row = rows[place]
        if _step(row, room):
            heapq.heappush(heap, (row.now, place))
    return tuple(Played(row.place, row.laid, row.skill, tuple(row.events), row.now, row.waited) for row in rows)


def _bench(laid: Laid, place: int, chance: Chance, trials: int, spoken: Sequence[Spoken]) -> _Bench:
    own = replace(laid, seed=(laid.seed * 1009 + place) % 10**18)
    if chance.happens(FAULTY):
        own = own.hidden()
    share = chance.between(0.0, 1.0)
    skill = CAREFUL
    for part, one in SKILLS:
        share -= part
        if share < 0:
            skill = one
            break
    times = tuple(sorted(row.seconds for row in spoken if row.place == place))
    return _Bench(place, own, skill, trials, times, now=place * BEGINS_S + chance.between(0.0, 60.0))


def _step(row: _Bench, room: _Balances) -> bool:
    """One step more at a bench; False when it is done."""
    if row.hands is None:
        row.trial += 1
        if row.trial > row.trials:
            return False
        if row.trial > 1:
            row.now += BETWEEN_TRIALS_S
            row.events.append(Event(row.now, str(row.trial), "trial", str(row.trial)))
        row.hands = Hands(row.laid, row.trial, row.skill, row.now)
        row.hands.taking = lambda slot, now: _taken(row, room, slot, now)
    hands = row.hands
    if row.spoken and row.spoken[0] <= hands.now:
        hands.skill = row.skill = CAREFUL
    before = _counts(hands.record)
    went_on = hands.work()
    if not went_on:
        row.hands = None
    row.events += _since(hands.record, before)
    row.now = hands.now
    return True


def _taken(row: _Bench, room: _Balances, slot: str, now: float) -> float:
    """How long a bench waits before it has the balance for a reading."""
    definition = reading_definition(row.laid.method, slot, row.laid.options)
    if definition is None or definition.instrument != "balance":
        return 0.0
    waits = room.taken(now, WEIGHING_S) - now
    row.waited += waits
    return waits


Counts = tuple[Mapping[str, int], int, int]


def _counts(record: Record) -> Counts:
    return {slot: len(rows) for slot, rows in record.readings.items()}, len(record.marks), len(record.seen)


def _since(record: Record, before: Counts) -> list[Event]:
    """What a step has added to a record, in the order in which it happened."""
    readings, marks, seen = before
    found = [
        Event(seconds, record.label, "reading", slot, text, number + 1)
        for slot, rows in record.readings.items()
        for number, (text, seconds) in enumerate(rows)
        if number >= readings.get(slot, 0)
    ]
    for step, number, kind, seconds, count in record.marks[marks:]:
        what: Kind = "started" if kind == "started" else "done"
        found.append(Event(seconds, record.label, what, step, position=number, count=count))
    found += [Event(seconds, record.label, "seen", tag) for tag, seconds in record.seen[seen:]]
    return sorted(found, key=lambda row: row.seconds)


# What is said of it afterwards


@dataclass(frozen=True)
class Outcome:
    """How a bench's evening came out: its result, the truth, what was behind it, and its first sign (in seconds)."""

    place: int
    result: str
    true: str
    is_off: bool
    behind: str
    first_sign: float | None
    first_said: str
    finish: float
    waited: float


def outcome(played: Played) -> Outcome:
    """How a bench came out."""
    laid, true = played.laid, played.laid.true_results(1)
    first: float | None = None
    said = result = ""
    is_off = False
    readings: list[Event] = [row for row in played.events if row.kind == "reading" and row.trial == "1"]
    for upto in range(1, len(readings) + 1):
        found = evaluate_run(_run_upto(played, readings[upto - 1].seconds)).trials[0]
        bad = next((row for row in found.verdicts if row.level == "stop" or row.code in SIGNS), None)
        if bad is not None and first is None:
            first, said = readings[upto - 1].seconds, bad.text
        key = found.result(next(iter(true)))
        if key is not None:
            result = key.text
            is_off = abs(key.value - true[key.name]) > 2 * key.standard_uncertainty
    name, value = next(iter(true.items()))
    line = laid.method.page.build(laid.shape).by_name[name]
    behind = [row.cause.label for row in laid.faults]
    if played.skill is HASTY:
        behind.append("worked in a hurry")
    return Outcome(
        played.place,
        result,
        f"{figures(value, 4)} {line.shown_unit.shown}".strip(),
        is_off,
        " and ".join(behind),
        first,
        said,
        played.finish,
        played.waited,
    )


SIGNS = frozenset({"weighed-warm", "no-heating-between", "step-missed", "off-accepted", "loss-too-large"})
"""Verdicts by which a board shows that somebody is wanted at a bench."""


def _run_upto(played: Played, seconds: float) -> Run:
    """The first trial of a bench as it stood at a moment."""
    laid, record = played.laid, Record("1")
    for event in played.events:
        if event.seconds > seconds or event.trial != "1":
            continue
        if event.kind == "reading":
            record.readings.setdefault(event.what, []).append((event.text, event.seconds))
        elif event.kind in ("started", "done"):
            record.marks.append((event.what, event.position, event.kind, event.seconds, event.count))
        elif event.kind == "seen":
            record.seen.append((event.what, event.seconds))
    return run_of(laid, [record], lambda at: f"{at:.0f}", 0.0, "", "")
