"""A procedure laid out for one run: its steps, which are done or were passed over, and the one to do now."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Literal, NamedTuple

from claykettle.core.run.procedure import Procedure, Repeat, Step, applies

State = Literal["done", "now", "ahead", "missed", "passed", "left"]
"""`missed`: a weighing was taken after this one, which is lacking; `passed`: the same of a step that was not marked;
`left`: its reading was declared not taken.
"""


NO_FACTS: Mapping[str, str] = {}
"""Where nothing is told of the options."""


@dataclass(frozen=True)
class PlannedStep:
    """A step laid out for a run: its key (`heat#2` in a repeat), number of the repeat and state."""

    key: str
    number: int
    step: Step
    state: State
    position: int | None
    reading: str = ""
    counted: int = 0
    facts: Mapping[str, str] = field(default_factory=dict)

    def text(self, template: str) -> str:
        """A text of the step with the number of the repeat, the name of its reading and what the options are put in."""
        return worded(template, self.number, self.reading, self.facts)

    @property
    def minutes(self) -> float | None:
        """How long this step takes this time."""
        return minutes_of(self.step, self.number)


def minutes_of(step: Step, number: int) -> float | None:
    """How long a step takes in its round of this number; None where it has no timer."""
    return None if step.timer is None else step.timer.in_round(number)


def worded(template: str, number: int, reading: str, facts: Mapping[str, str]) -> str:
    """A text of a step with `{n}`, `{reading}` and the facts by name put in, a sentence beginning with a capital."""
    if "{" not in template:
        return template
    text = template.replace("{n}", str(number)).replace("{reading}", reading)
    for name, fact in facts.items():
        text = text.replace("{" + name + "}", fact)
    return text[:1].upper() + text[1:]


@dataclass(frozen=True)
class Progress:
    """What the procedure needs to know of a run: weighings taken by slot, verdicts, steps marked done.

    `elsewhere` names readings not taken in the trial, such as the room's: they prove nothing of its steps.
    `needed` names the readings that the options have a use for, None where that is not asked; `noted` counts by tag
    what was seen, `labels` says what each reading is called, `facts` tell in the procedure's words how the options are.
    `left` holds reading and place of what was declared not taken.
    """

    taken: Mapping[str, int]
    verdicts: Collection[tuple[str, str]]
    finished: Collection[str]
    elsewhere: Collection[str] = ()
    needed: Collection[str] | None = None
    noted: Mapping[str, int] = field(default_factory=dict)
    labels: Mapping[str, str] = field(default_factory=dict)
    facts: Mapping[str, str] = field(default_factory=dict)
    left: Collection[tuple[str, int]] = ()

    def is_left(self, step: Step, position: int | None) -> bool:
        """Whether the reading that a step takes in its place was declared not taken."""
        return step.reads is not None and (step.reads, position or 1) in self.left


def steps_of(procedure: Procedure, schools: Mapping[str, str], progress: Progress) -> list[PlannedStep]:
    """The run's steps in order: what is done, the one thing to do now, what lies ahead."""
    rows = list(laid_out(procedure, schools, progress))
    done = [_is_done(row.key, row.step, row.position, progress) for row in rows]
    # work goes on after a weighing, and what was not marked before it was passed over
    own = [row.step.reads is not None and row.step.reads not in progress.elsewhere for row in rows]
    read_up_to = max((i for i in range(len(rows)) if done[i] and own[i]), default=-1)
    states: list[State] = []
    for index, row in enumerate(rows):
        passed: State = "missed" if row.step.reads else "passed"
        if progress.is_left(row.step, row.position):
            states.append("left")
        else:
            states.append("done" if done[index] else passed if index < read_up_to else "ahead")
    if "ahead" in states:
        states[states.index("ahead")] = "now"
    return [
        PlannedStep(
            row.key,
            row.number,
            row.step,
            state,
            row.position,
            progress.labels.get(row.step.reads or "", ""),
            progress.noted.get(row.step.counts.tag, 0) if row.step.counts else 0,
            progress.facts,
        )
        for row, state in zip(rows, states, strict=True)
    ]


class Row(NamedTuple):
    """A step in its place: its key, the number of its round, what it reads there, and the repeat that it belongs to."""

    key: str
    number: int
    step: Step
    position: int | None
    group: str = ""

    @property
    def minutes(self) -> float | None:
        """How long the step takes this time."""
        return minutes_of(self.step, self.number)


def laid_out(procedure: Procedure, schools: Mapping[str, str], progress: Progress) -> Iterator[Row]:
    """The run's steps in order, under its schools and what its options are, the rounds of a repeat one by one."""
    for row in procedure.under(schools, progress.facts):
        if isinstance(row, Step):
            if _is_needed(row, progress):
                yield Row(row.id, 1, row, 1 if row.reads else None)
            continue
        steps = [step for step in row.repeat if _is_needed(step, progress)]
        for number in range(1, _rounds(row, progress) + 1):
            for step in steps:
                if number == 1 or not step.once:
                    yield Row(f"{step.id}#{number}", number, step, number if step.reads else None, row.id)


def _rounds(repeat: Repeat, progress: Progress) -> int:
    """How many rounds of a repeat there are: those weighed, and one more until the verdict ends it."""
    weighed = progress.taken.get(repeat.about, 0)
    ended = (repeat.until, repeat.about) in progress.verdicts or (repeat.about, weighed) in progress.left
    return weighed if ended else weighed + 1


def _is_needed(step: Step, progress: Progress) -> bool:
    if not step.if_needed or progress.needed is None or step.reads in progress.needed:
        return True
    return progress.is_left(step, 1)


def _is_done(key: str, step: Step, position: int | None, progress: Progress) -> bool:
    if step.reads:
        return progress.taken.get(step.reads, 0) >= (position or 1)
    return key in progress.finished or (
        step.counts is not None and progress.noted.get(step.counts.tag, 0) >= step.counts.times
    )


def slots_of(
    procedure: Procedure,
    schools: Mapping[str, str],
    needed: Collection[str] | None = None,
    facts: Mapping[str, str] = NO_FACTS,
) -> tuple[str, ...]:
    """The readings that a run under these schools takes, in order; of steps taken `if_needed` those that are."""
    nothing = Progress({}, (), (), needed=needed, facts=facts)
    rows = laid_out(procedure, schools, nothing)
    return tuple(dict.fromkeys(row.step.reads for row in rows if row.step.reads))


@dataclass(frozen=True)
class KitLine:
    """How many of something lie ready, for a bench or once for the room."""

    item: str
    count: int
    place: Literal["bench", "room"]


def kit_of(
    procedure: Procedure, schools: Mapping[str, str], trials: int, facts: Mapping[str, str] = NO_FACTS
) -> list[KitLine]:
    """What one bench needs for so many trials under these schools, then what the room needs once."""
    chosen = procedure.holding(schools, facts)
    rows = (item for item in procedure.kit if applies(item.when, chosen))
    lines = [
        KitLine(
            item.item, item.count * (trials if item.per == "trial" else 1), "room" if item.per == "room" else "bench"
        )
        for item in rows
    ]
    return sorted(lines, key=lambda line: line.place)


def apparatus_of(
    procedure: Procedure, schools: Mapping[str, str], facts: Mapping[str, str] = NO_FACTS
) -> tuple[str, ...]:
    """The parts of the kit that the picture of the apparatus shows, under these schools."""
    chosen = procedure.holding(schools, facts)
    rows = (item.drawn for item in procedure.kit if item.drawn and applies(item.when, chosen))
    return tuple(dict.fromkeys(rows))
