"""Hands that do a procedure at a simulated bench step by step, with care or in haste, and write down what they see."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from claykettle.core.matter import Act, Chance, Matter
from claykettle.core.method import Move, Note, Observation, Wait
from claykettle.core.practice.laid import Laid
from claykettle.core.quantity import parse_reading
from claykettle.core.run import (
    Entry,
    PlannedStep,
    ProcedureUse,
    Progress,
    Run,
    StepMark,
    TrialRecord,
    evaluate_run,
    reading_definition,
    steps_of,
)

MOST_ROUNDS = 12
"""Nobody heats more often: something is wrong then that more heating does not mend."""
MOST_LOOKS, LOOK_S = 40, 30.0
"""How often, and how far apart, careful hands look again at a figure that wanders."""
NOTICED = 0.92
"""In how many of the cases in which there is a trace it is written down (common practice)."""
HURRIED = 0.4
"""What part of a cooling time passes before a weighing that is known to have been too early."""
SETTLING_S = 6.0


@dataclass(frozen=True)
class Skill:
    """How somebody works: what part of each waiting time they wait, how many rounds they do, how often they skip."""

    name: str
    patience: tuple[float, float]
    most_rounds: int
    skips: float
    flame: str
    looks_again: bool


CAREFUL = Skill("careful", (1.0, 1.1), MOST_ROUNDS, 0.0, "", True)
HASTY = Skill("hasty", (0.3, 0.8), 2, 0.3, "full", False)
SKILLS = {row.name: row for row in (CAREFUL, HASTY)}


@dataclass
class Record:
    """What was written down of one trial; times are seconds since the bench was begun."""

    label: str
    readings: dict[str, list[tuple[str, float]]] = field(default_factory=dict)
    marks: list[tuple[str, int, str, float, int | None]] = field(default_factory=list)
    seen: list[tuple[str, float]] = field(default_factory=list)


Stamp = Callable[[float], str]
"""Writes a moment (seconds since the bench was begun) as a date and time."""


class Hands:
    """One trial at a bench, done step by step."""

    def __init__(self, laid: Laid, trial: int, skill: Skill, began: float = 0.0):
        self.laid, self.skill, self.now = laid, skill, began
        self.matter: Matter = laid.matter(trial)
        self.chance: Chance = laid.chance.stream(f"trial {trial}").stream("hands")
        self.errors: Chance = laid.chance.stream(f"trial {trial}").stream("instruments")
        self.record = Record(str(trial))
        self.finished: set[str] = set()
        self.verdicts: frozenset[tuple[str, str]] = frozenset()
        self.waited = 0.0
        self.taking: Callable[[str, float], float] = lambda slot, now: 0.0
        """How long one waits until the instrument for a reading is free."""
        self.true: list[tuple[str, float, float]] = []
        """Each reading, what an honest instrument would have shown (SI), and the half-width."""
        self.matter.advance(1.0)
        self._traces()

    # What the planted faults leave in the record

    def _traces(self) -> None:
        causes = [row.cause for row in self.laid.faults if row.dose > 0]
        traced = [row for row in causes if self.chance.happens(NOTICED)]
        self.tags = [row.seen[0] for row in traced if row.seen]
        self.passed = {step for row in traced for step in row.passed}
        self.early = {reading for row in causes for reading in row.early}
        for part in self.matter.parts:
            part.lifts = not self.early

    # The course

    @property
    def step(self) -> PlannedStep | None:
        """The step to do now; None when all is done."""
        return next((row for row in self.steps() if row.state == "now"), None)

    def steps(self) -> list[PlannedStep]:
        """The steps of the trial as they stand."""
        laid = self.laid
        taken = {slot: len(rows) for slot, rows in self.record.readings.items()}
        few = {slot for slot in laid.sampled if taken.get(slot, 0) < self._wanted(slot)}
        ended = {(code, about) for code, about in self.verdicts if about not in few}
        if self.skill.most_rounds < MOST_ROUNDS:
            ended |= {("constant-mass", slot) for slot, n in taken.items() if n >= self.skill.most_rounds}
        ended |= {("constant-mass", slot) for slot, n in taken.items() if n >= MOST_ROUNDS}
        noted = Counter(tag for tag, _ in self.record.seen)
        progress = Progress(taken, ended, self.finished, needed=laid.needed, noted=noted, facts=laid.facts)
        return steps_of(laid.course, laid.schools, progress)

    def _wanted(self, slot: str) -> int:
        return self.laid.usual.samples if self.laid.usual.samples and slot != "papers" else 1

    def work(self) -> bool:
        """Do the next step; False when there is none."""
        step = self.step
        if step is None:
            return False
        self._do(step)
        return True

    def finish(self) -> Record:
        """Do all that is left."""
        while self.work():
            pass
        for tag in self.tags:
            self._see(tag)
        return self.record

    def _do(self, step: PlannedStep) -> None:
        row, base = step.step, step.step.id
        timed = row.timer is not None and not row.timer.auto and row.reads is None
        if self._passes_over(step):
            self.finished.add(step.key)
            return
        self._rest(self.chance.between(35.0, 90.0))
        if timed:
            self.record.marks.append((base, step.number, "started", self.now, None))
        self.waited = 0.0
        times = row.counts.times if row.counts is not None else 1
        for _ in range(times):
            for move in self._moves(step):
                self._move(move, step)
            if row.counts is not None and base not in self.passed:
                self._rest(12.0)
                self.record.seen.append((row.counts.tag, self.now))
        self._look(step)
        if row.reads is None and base not in self.passed:
            n = times if row.counts is not None else None
            self.record.marks.append((base, step.number, "done", self.now, n))
        self.finished.add(step.key)

    def _passes_over(self, step: PlannedStep) -> bool:
        """Whether hands in a hurry leave the step out: never a reading, nor what the next reading cannot do without."""
        row = step.step
        if not self.skill.skips or row.reads is not None or not row.bears:
            return False
        return self.chance.happens(self.skill.skips)

    def _moves(self, step: PlannedStep) -> Sequence[Move]:
        row = step.step
        known = self.laid.usual.hands.get(row.id)
        if known is not None:
            return known
        wait: tuple[Move, ...] = (Wait(None),) if row.timer is not None else ()
        return (*wait, Note()) if row.reads else wait

    def _move(self, move: Move, step: PlannedStep) -> None:
        match move:
            case Wait(seconds):
                self._wait(seconds, step)
            case Note():
                self._note(step)
            case Act() if self.matter.knows(move):
                self.matter.do(self._hurried(move))
                self._rest(8.0)

    def _hurried(self, act: Act) -> Act:
        if act.name == "flame" and act.value == "low" and self.skill.flame and self.chance.happens(0.5):
            return Act("flame", self.skill.flame)
        return act

    def _wait(self, seconds: float | None, step: PlannedStep) -> None:
        if seconds is None:
            whole = 60 * (step.minutes or 0.0)
            patience = self.chance.between(*self.skill.patience)
            if self._is_too_early(step):
                patience = HURRIED
            seconds = max(0.0, whole * patience - self.waited)
        self._rest(seconds)
        self.waited += seconds

    def _is_too_early(self, step: PlannedStep) -> bool:
        """Whether a planted fault makes this the wait that is too short: before the reading that it speaks of."""
        if not self.early:
            return False
        if step.step.reads in self.early:
            return True
        rows = self.steps()
        place = next((index for index, row in enumerate(rows) if row.key == step.key), 0)
        ahead = next((row.step.reads for row in rows[place + 1 :] if row.step.reads), None)
        return step.step.cools and ahead in self.early

    def _rest(self, seconds: float) -> None:
        self.matter.advance(seconds)
        self.now += seconds

    # Figures

    def _note(self, step: PlannedStep) -> None:
        slot = step.step.reads
        if slot is None:
            return
        tool = self.laid.instrument(slot)
        self._rest(self.taking(slot, self.now))
        self._rest(SETTLING_S)
        wanders = self.matter.wanders(slot) if not self.early else 0.0
        for _ in range(MOST_LOOKS):
            if not self.skill.looks_again or wanders < tool.division:
                break
            self._rest(LOOK_S)
            wanders = self.matter.wanders(slot)
        true = self._true(slot, tool.half_width)
        error = tool.error(self.errors)
        shown = tool.show(true, error, self.errors.about(0.0, wanders / 2) if wanders else 0.0, least=min(true, 0.0))
        self.true.append((slot, true, tool.half_width))
        self._rest(4.0)
        self.record.readings.setdefault(slot, []).append((shown.text, self.now))
        self.matter.takes(slot)
        if self._is_series(slot):
            self.verdicts = self._judged()

    def _true(self, slot: str, half_width: float) -> float:
        true = self.matter.true(slot)
        if slot in self.laid.sampled:
            values = self.matter.readings()[slot]
            assert isinstance(values, list)
            middle = sum(values) / len(values)
            extra = true - values[-1]
            return max(middle + extra + self.chance.about(0.0, self.laid.scatter(slot)), 2 * half_width)
        return true

    def _is_series(self, slot: str) -> bool:
        row = reading_definition(self.laid.method, slot, self.laid.options)
        return row is not None and row.series and not slot.endswith("_tare")

    def _judged(self) -> frozenset[tuple[str, str]]:
        run = Run(self.laid.method, self.laid.options, (trial_record(self.laid, self.record),), self.laid.half_widths)
        return frozenset((row.code, row.about) for row in evaluate_run(run).trials[0].verdicts)

    def _look(self, step: PlannedStep) -> None:
        """What is to be seen is written down, each thing once a trial."""
        for tag in self.matter.seen():
            if tag in step.step.observe:
                self._see(tag)
        for tag in [tag for tag in self.tags if tag in step.step.observe]:
            self._see(tag)

    def _see(self, tag: str) -> None:
        if tag not in {one for one, _ in self.record.seen}:
            self.record.seen.append((tag, self.now))


def trial_record(laid: Laid, record: Record, stamp: Stamp | None = None, began: float = 0.0) -> TrialRecord:
    """A trial as a run holds it; times are left out without a `stamp`. `began` is in seconds since 1970."""
    entries = {}
    for slot, rows in record.readings.items():
        dimension = laid.instrument(slot).unit.dimension
        entries[slot] = tuple(
            Entry(
                parse_reading(text, dimension),
                at=None if stamp is None else stamp(seconds),
                moment=None if stamp is None else began + seconds,
            )
            for text, seconds in rows
        )
    return TrialRecord(record.label, entries)


def run_of(laid: Laid, records: Sequence[Record], stamp: Stamp, began: float, title: str, note: str) -> Run:
    """The run that these records make."""
    return Run(
        laid.method,
        laid.options,
        tuple(trial_record(laid, row, stamp, began) for row in records),
        laid.half_widths,
        observations=tuple(
            Observation(tag=tag, at=stamp(seconds), trial=row.label) for row in records for tag, seconds in row.seen
        ),
        title=title,
        note=note,
        procedure=ProcedureUse(laid.course.name, laid.course.version, laid.course.chosen(laid.schools)),
        steps=tuple(
            StepMark(row.label, step, kind, number, stamp(seconds), n=n, moment=began + seconds)  # type: ignore[arg-type]
            for row in records
            for step, number, kind, seconds, n in row.marks
        ),
        course=laid.course,
        practised=True,
    )
