"""The timetable of a class: many evenings with times drawn from their ranges, and what they come to. Times in minutes.

A range is drawn from a triangular distribution whose mode is the usual time. Quantiles lie between order statistics by
linear interpolation.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from random import Random
from statistics import fmean, median

from claykettle.core.planning.evening import Bench, Evening, Task, run_evening

IN_TIME = 0.9
"""The share of evenings that must end within the period for a start to be in time."""
STAGGERS = (2.0, 4.0, 6.0, 8.0)
"""Minutes between benches that are tried."""
DAY = 24 * 60
OFTEN = 4000
"""After so many steps it is told how far it is: who has gone away is noticed then."""


@dataclass(frozen=True)
class Takes:
    """How long a step takes: at least, as a rule, at most."""

    low: float
    usual: float
    high: float

    def drawn(self, random: Random) -> float:
        """A time of this range."""
        return self.usual if self.low == self.high else random.triangular(self.low, self.high, self.usual)


@dataclass(frozen=True)
class PlannedStep:
    """A step of a trial: how long, at what of the room, whether somebody must stay; what it is called."""

    name: str
    takes: Takes
    at: str = ""
    attended: bool = True
    label: str = ""


LONG_MIN = 240.0
"""A wait of so many minutes is not sat through: what comes after it is another session."""


@dataclass(frozen=True)
class Session:
    """Steps of a trial that belong to one meeting, and what it waited for before: None for the first."""

    steps: tuple[PlannedStep, ...]
    after: PlannedStep | None = None


def sessions(steps: Sequence[PlannedStep]) -> tuple[Session, ...]:
    """The steps of a trial cut where something waits over night or longer. One that is left without steps is none."""
    found: list[Session] = []
    after: PlannedStep | None = None
    rows: list[PlannedStep] = []
    for step in steps:
        if step.attended or step.takes.usual < LONG_MIN:
            rows.append(step)
            continue
        if rows:
            found.append(Session(tuple(rows), after))
        rows, after = [], step
    return (*found, Session(tuple(rows), after)) if rows else tuple(found)


@dataclass(frozen=True)
class Group:
    """Benches that do the same: the steps of one trial, so many times."""

    benches: tuple[str, ...]
    trials: int
    steps: tuple[PlannedStep, ...]


@dataclass(frozen=True)
class Plan:
    """A class as it is planned. `starts` in minutes since midnight, `length` and `stagger` in minutes."""

    title: str
    date: str
    starts: float
    length: float
    groups: tuple[Group, ...]
    room: Mapping[str, int]
    stagger: float = 0.0
    overlap: bool = False
    repetitions: int = 500
    seed: int = 0

    @property
    def benches(self) -> tuple[str, ...]:
        """The benches in the order of the plan."""
        return tuple(name for group in self.groups for name in group.benches)


@dataclass(frozen=True)
class Spread:
    """What a figure comes to over many evenings."""

    p10: float
    median: float
    p90: float


@dataclass(frozen=True)
class BenchTimes:
    """When a bench is done, and how long it waits."""

    bench: str
    finish: Spread
    waited: Spread


@dataclass(frozen=True)
class Scarce:
    """Something of the room of which there are so many: how busy it is, and who waits for it."""

    name: str
    count: int
    busy: float
    waited_total: Spread
    longest_queue: Spread


@dataclass(frozen=True)
class Otherwise:
    """What the plan would come to with one thing otherwise: in which words of the plan, and how it would end."""

    room: Mapping[str, int] = field(default_factory=dict)
    stagger: float | None = None
    overlap: bool | None = None
    trials: int | None = None
    finish_last: Spread = Spread(0.0, 0.0, 0.0)
    waited: Spread = Spread(0.0, 0.0, 0.0)
    fits: float = 0.0


@dataclass(frozen=True)
class Timetable:
    """What many evenings come to. `latest_start` in minutes since midnight, None where even the planned one is late."""

    repetitions: int
    benches: tuple[BenchTimes, ...]
    resources: tuple[Scarce, ...]
    finish_last: Spread
    bottleneck: str | None
    fits: float
    latest_start: float | None
    what_if: tuple[Otherwise, ...]
    usual: Evening


def timetable(plan: Plan, what_if: bool = True) -> Timetable:
    """The timetable of a plan, and with `what_if` what one thing otherwise would change."""
    found = _summed(plan, list(evenings_of(plan)))
    return replace(found, what_if=tuple(_otherwise(plan, found.bottleneck))) if what_if else found


@dataclass(frozen=True)
class Known:
    """A timetable as far as it is known: how much of the work is done, from 0 to 1; None before the first evenings."""

    done: float
    table: Timetable | None


def unfolding(plan: Plan, first: int | None = None, otherwise: int | None = None) -> Iterator[Known]:
    """The timetable as it becomes known: after the `first` evenings (one of twenty-five), after all of them, and then
    with each thing otherwise, over so many evenings (a fifth of all). Whoever stops asking stops the computing.
    """
    first = max(4, plan.repetitions // 25) if first is None else first
    otherwise = max(1, plan.repetitions // 5) if otherwise is None else otherwise
    steps = sum(len(group.benches) * group.trials * len(group.steps) for group in plan.groups)
    every = max(1, min(25, OFTEN // max(1, steps)))
    evenings: list[Evening] = []
    others = 7 * otherwise
    for evening in evenings_of(plan):
        evenings.append(evening)
        done = len(evenings) / (plan.repetitions + others)
        if len(evenings) == first < plan.repetitions:
            yield Known(done, _summed(replace(plan, repetitions=first), evenings))
        elif not len(evenings) % every:
            yield Known(done, None)
    found = _summed(plan, evenings)
    yield Known(plan.repetitions / (plan.repetitions + others), found)
    rest = replace(plan, repetitions=min(plan.repetitions, otherwise))
    tried: list[Otherwise] = []
    for row in _otherwise(rest, found.bottleneck):
        tried.append(row)
        yield Known(min(0.99, 0.6 + 0.1 * len(tried)), replace(found, what_if=tuple(tried)))
    yield Known(1.0, replace(found, what_if=tuple(tried)))


def _summed(plan: Plan, evenings: Sequence[Evening]) -> Timetable:
    last = [max(evening.finish, default=0.0) for evening in evenings]
    resources = tuple(_scarce(name, count, evenings) for name, count in plan.room.items())
    total = {name: sum(one.waited_at(name) for one in evenings) for name in plan.room}
    longest = max(total, key=lambda name: total[name], default=None)
    bottleneck = longest if longest is not None and total[longest] > 0 else None
    return Timetable(
        repetitions=plan.repetitions,
        benches=tuple(_bench(name, number, evenings) for number, name in enumerate(plan.benches)),
        resources=resources,
        finish_last=spread(last),
        bottleneck=bottleneck,
        fits=_share_within(last, plan.length),
        latest_start=_latest_start(plan, last),
        what_if=(),
        usual=min(evenings, key=lambda one: abs(max(one.finish, default=0.0) - median(last))),
    )


def evenings_of(plan: Plan) -> Iterator[Evening]:
    """The evenings of a plan, one after another: each with times drawn anew, all of them from its seed."""
    random = Random(plan.seed)
    for _ in range(plan.repetitions):
        benches = [
            Bench(number * plan.stagger, [[_drawn(step, random) for step in group.steps] for _ in range(group.trials)])
            for number, group in enumerate(group for group in plan.groups for _ in group.benches)
        ]
        yield run_evening(benches, plan.room, plan.overlap)


def _drawn(step: PlannedStep, random: Random) -> Task:
    return Task(step.name, step.takes.drawn(random), step.at, step.attended)


def spread(values: Sequence[float]) -> Spread:
    """The tenth, the middle and the ninetieth percentile."""
    ordered = sorted(values)
    return Spread(*(_quantile(ordered, share) for share in (0.1, 0.5, 0.9)))


def _quantile(ordered: Sequence[float], share: float) -> float:
    place = share * (len(ordered) - 1)
    low = math.floor(place)
    high = min(low + 1, len(ordered) - 1)
    return ordered[low] + (place - low) * (ordered[high] - ordered[low])


def _bench(name: str, number: int, evenings: Sequence[Evening]) -> BenchTimes:
    return BenchTimes(
        name, spread([one.finish[number] for one in evenings]), spread([one.waited[number] for one in evenings])
    )


def _scarce(name: str, count: int, evenings: Sequence[Evening]) -> Scarce:
    return Scarce(
        name,
        count,
        fmean(one.busy(name, count) for one in evenings),
        spread([one.waited_at(name) for one in evenings]),
        spread([one.longest_queue(name) for one in evenings]),
    )


def _share_within(last: Sequence[float], length: float) -> float:
    return sum(end <= length for end in last) / len(last)


def _latest_start(plan: Plan, last: Sequence[float]) -> float | None:
    """The latest begin after which nine of ten evenings still end within the period."""
    needed = sorted(last)[math.ceil(IN_TIME * len(last)) - 1]
    return plan.starts + plan.length - needed if needed <= plan.length else None


def _otherwise(plan: Plan, bottleneck: str | None) -> Iterator[Otherwise]:
    if bottleneck is not None:
        more = {bottleneck: plan.room[bottleneck] + 1}
        yield _tried(replace(plan, room={**plan.room, **more}), Otherwise(room=more))
        apart = [
            _tried(replace(plan, stagger=minutes), Otherwise(stagger=minutes))
            for minutes in STAGGERS
            if minutes != plan.stagger and len(plan.benches) > 1
        ]
        if apart:
            # that which ends soonest; of those that end as soon, that which waits least
            yield min(apart, key=lambda one: (round(one.finish_last.median), one.waited.median))
    most = max(group.trials for group in plan.groups)
    if most > 1:
        fewer = tuple(replace(group, trials=max(1, group.trials - 1)) for group in plan.groups)
        yield _tried(replace(plan, groups=fewer), Otherwise(trials=most - 1))
        if any(not step.attended for group in plan.groups for step in group.steps):
            yield _tried(replace(plan, overlap=not plan.overlap), Otherwise(overlap=not plan.overlap))


def _tried(plan: Plan, change: Otherwise) -> Otherwise:
    evenings = list(evenings_of(plan))
    last = [max(evening.finish, default=0.0) for evening in evenings]
    waited = [sum(one.waited) for one in evenings]
    return replace(change, finish_last=spread(last), waited=spread(waited), fits=_share_within(last, plan.length))
