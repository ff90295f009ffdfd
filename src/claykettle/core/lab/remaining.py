"""When the last bench will be done: the rest of each bench's steps with their usual times, with the room's queues."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from claykettle.core.planning.evening import Bench, Task, run_evening
from claykettle.core.planning.timetable import PlannedStep


@dataclass(frozen=True)
class Rest:
    """What a bench has still to do: trial by trial its steps; `spent` minutes of the first step are over already."""

    trials: Sequence[Sequence[PlannedStep]]
    spent: float = 0.0


def minutes_left(rests: Sequence[Rest], room: Mapping[str, int]) -> tuple[float, ...]:
    """In how many minutes each bench will be done on a usual evening; 0 for one that is."""
    benches = [Bench(0.0, [[*_tasks(row, number)] for number in range(len(row.trials))]) for row in rests]
    return tuple(run_evening(benches, room).finish)


def _tasks(rest: Rest, number: int) -> list[Task]:
    tasks = [Task(step.name, step.takes.usual, step.at, step.attended) for step in rest.trials[number]]
    if number == 0 and tasks:
        tasks[0] = tasks[0]._replace(takes=max(0.0, tasks[0].takes - rest.spent))
    return tasks
