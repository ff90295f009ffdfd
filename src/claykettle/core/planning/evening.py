"""One evening of a class, event by event: benches, what they wait for, and when each is done.

A bench does the steps of its trials one after another. A step holds one of what it is done at for its whole length; who
comes first is served first, and of those who come at the same moment the bench that stands first. Times in minutes.

With overlap a bench begins its next trial while a step that nobody need attend runs. Its two hands do one attended step
at a time; an earlier trial goes before a later one as soon as a step is done.
"""

from __future__ import annotations

from bisect import insort
from collections.abc import Generator, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, NamedTuple

import simpy

Events = Generator[Any, Any, None]


class Task(NamedTuple):
    """A step as it turns out that evening: how long it takes, at what of the room (empty: at none that is scarce)."""

    step: str
    takes: float
    at: str = ""
    attended: bool = True


@dataclass(frozen=True)
class Bench:
    """A bench: when it begins, and the steps of each of its trials."""

    begins: float
    trials: Sequence[Sequence[Task]]


class Bar(NamedTuple):
    """A step as it was done: from when it was asked for, from when and until when it was done."""

    bench: int
    trial: int
    step: str
    at: str
    asked: float
    begun: float
    done: float

    @property
    def waited(self) -> float:
        """How long it had to wait for what it is done at."""
        return self.begun - self.asked


@dataclass
class Evening:
    """How an evening went: every step, and when each bench was done."""

    bars: list[Bar] = field(default_factory=list)
    finish: list[float] = field(default_factory=list)

    @cached_property
    def waited(self) -> list[float]:
        """How long each bench waited in all."""
        found = [0.0] * len(self.finish)
        for bar in self.bars:
            found[bar.bench] += bar.waited
        return found

    def waited_at(self, name: str) -> float:
        """How long was waited in all for what is called so."""
        return sum(bar.waited for bar in self.bars if bar.at == name)

    def busy(self, name: str, count: int) -> float:
        """The share of the time until the last bench is done in which what is called so was in use, over all of it."""
        end = max(self.finish, default=0.0)
        return sum(bar.done - bar.begun for bar in self.bars if bar.at == name) / (count * end) if end else 0.0

    def longest_queue(self, name: str) -> int:
        """How many waited at once at most."""
        waits = [bar for bar in self.bars if bar.at == name and bar.waited > 0]
        # who is served at a moment has left the queue before somebody joins it
        changes = sorted([(bar.asked, 1) for bar in waits] + [(bar.begun, -1) for bar in waits])
        most = now = 0
        for _, change in changes:
            now += change
            most = max(most, now)
        return most


def run_evening(benches: Sequence[Bench], room: Mapping[str, int], overlap: bool = False) -> Evening:
    """Let an evening pass. `room` says how many there are of each thing at which steps are done; of others, enough."""
    return _Passing(benches, room, overlap).passed()


class _Place:
    """Something of the room: how many are free, and who waits, by when they came and where they stand."""

    def __init__(self, count: int):
        self.free = count
        self.queue: list[tuple[float, int, simpy.Event]] = []
        self.is_due = False


class _Passing:
    def __init__(self, benches: Sequence[Bench], room: Mapping[str, int], overlap: bool):
        self.clock = simpy.Environment()
        self.room = {name: _Place(count) for name, count in room.items()}
        self.evening = Evening(finish=[0.0] * len(benches))
        work = self._overlapping if overlap else self._in_turn
        for number, bench in enumerate(benches):
            self.clock.process(work(number, bench))

    def passed(self) -> Evening:
        self.clock.run()
        return self.evening

    def _in_turn(self, number: int, bench: Bench) -> Events:
        yield self.clock.timeout(bench.begins)
        for trial, tasks in enumerate(bench.trials):
            for task in tasks:
                yield from self._do(number, trial, task)
        self.evening.finish[number] = self.clock.now

    def _overlapping(self, number: int, bench: Bench) -> Events:
        yield self.clock.timeout(bench.begins)
        hands = simpy.PriorityResource(self.clock, 1)
        may_begin = self.clock.event().succeed()
        trials = []
        for trial, tasks in enumerate(bench.trials):
            may_go_on = self.clock.event()
            trials.append(self.clock.process(self._trial(number, trial, tasks, hands, may_begin, may_go_on)))
            may_begin = may_go_on
        yield self.clock.all_of(trials)
        self.evening.finish[number] = self.clock.now

    def _trial(
        self,
        number: int,
        trial: int,
        tasks: Iterable[Task],
        hands: simpy.PriorityResource,
        may_begin: simpy.Event,
        may_go_on: simpy.Event,
    ) -> Events:
        yield may_begin
        held: Any = None
        for task in tasks:
            if not task.attended:
                if held is not None:
                    hands.release(held)
                    held = None
                if not may_go_on.triggered:
                    may_go_on.succeed()
            else:
                if held is not None and any(one.priority < trial for one in hands.queue):
                    hands.release(held)
                    held = None
                if held is None:
                    held = hands.request(priority=trial)
                    yield held
            yield from self._do(number, trial, task)
        if held is not None:
            hands.release(held)
        if not may_go_on.triggered:
            may_go_on.succeed()

    def _do(self, number: int, trial: int, task: Task) -> Events:
        asked = begun = self.clock.now
        place = self.room.get(task.at)
        if place is None:
            yield self.clock.timeout(task.takes)
        else:
            turn = self.clock.event()
            insort(place.queue, (asked, number, turn), key=_order)
            self._settle_soon(place)
            yield turn
            begun = self.clock.now
            yield self.clock.timeout(task.takes)
            place.free += 1
            self._settle_soon(place)
        self.evening.bars.append(Bar(number, trial, task.step, task.at, asked, begun, self.clock.now))

    def _settle_soon(self, place: _Place) -> None:
        """Serve once all who come and go at this moment have done so, so that it does not matter who did first."""
        if place.is_due:
            return
        place.is_due = True
        callbacks = self.clock.timeout(0).callbacks
        assert callbacks is not None
        callbacks.append(lambda _: self._settle(place))

    @staticmethod
    def _settle(place: _Place) -> None:
        place.is_due = False
        while place.free and place.queue:
            place.free -= 1
            place.queue.pop(0)[2].succeed()


def _order(waiting: tuple[float, int, simpy.Event]) -> tuple[float, int]:
    return waiting[:2]
