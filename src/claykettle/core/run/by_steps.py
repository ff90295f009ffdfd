"""What the steps and times of a record say of its result: weighed warm, not heated in between, passed over.

Nothing is concluded from silence: a trial at which no step was marked at all was worked from paper, and only the times
of its readings speak. Where steps were marked, one that bears on the result and was not marked was passed over.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

from claykettle.core.method import Evidence, Trial
from claykettle.core.quantity import exact
from claykettle.core.run.layout import Progress, Row, laid_out, worded
from claykettle.core.run.procedure import Step
from claykettle.core.run.run import Entry, Run, StepMark, TrialRecord, usable_readings
from claykettle.core.verdict import Verdict

SHORTEST_ROUND = 120.0
"""s: no round of heating, drying or filling is shorter (common practice)."""
ONE_MOMENT = 0.95
"""s: of two entries that lie no further apart nobody can say by their digits which came first; clocks write
milliseconds, microseconds or whole seconds, and a quick hand taps and types within one. A whole second is told apart.
"""
WARM, AGAIN, MISSED = "weighed-warm", "no-heating-between", "step-missed"


@dataclass(frozen=True)
class PassedOver:
    """A step that was passed over: which, what it is called, how it was, and the reading that it bears on."""

    step: str
    short: str
    how: str
    bears: str
    about: str


def judge_steps(run: Run, record: TrialRecord, trial: Trial) -> Iterator[Verdict]:
    """`weighed-warm`, `no-heating-between` and `step-missed` of one trial."""
    steps = _Steps(run, record)
    yield from steps.warm()
    yield from steps.not_heated(trial)
    for row in steps.passed_over:
        if row.bears:
            yield Verdict(MISSED, "watch", row.about, f"'{row.short}' was {row.how}: {row.bears}.")


def steps_missed(run: Run, label: str) -> tuple[str, ...]:
    """The steps of a trial that the record says were passed over, by their names, each once."""
    record = next(row for row in run.trials if row.label == label)
    return tuple(dict.fromkeys(row.step for row in _Steps(run, record).passed_over))


def evidence_of(run: Run, label: str) -> Evidence:
    """What is known of a trial beside its readings: schools, what was seen, what was passed over."""
    schools = run.procedure.schools if run.procedure is not None else {}
    record = next(row for row in run.trials if row.label == label)
    steps = _Steps(run, record)
    passed = {row.step: f"{row.short}: {row.how}" for row in steps.passed_over}
    warm = {row.step.reads or "": "weighed before it had cooled" for row, _, _ in steps.early() if steps.is_last(row)}
    return Evidence(schools, run.tags(label), passed, warm)


def is_neutralised(run: Run, label: str) -> bool:
    """Whether the record says that a trial's acid was neutralised."""
    known = {step.id for step in run.course.all_steps() if step.neutralises} if run.course is not None else set()
    return any(mark.trial == label and mark.kind == "done" and mark.step in known for mark in run.steps)


class _Steps:
    """The steps of a trial as they were laid out, and what was marked of them."""

    def __init__(self, run: Run, record: TrialRecord):
        self.run, self.record = run, record
        self.entries: Mapping[str, tuple[Entry, ...]] = {**run.shared, **record.entries}
        self.left = {
            (name, row.position) for name, rows in {**run.shared_not_taken, **record.not_taken}.items() for row in rows
        }
        self.marks: dict[tuple[str, int], list[StepMark]] = {}
        for mark in run.steps:
            if mark.trial == record.label:
                self.marks.setdefault((mark.step, mark.round), []).append(mark)

    @cached_property
    def rows(self) -> list[Row]:
        if self.run.course is None or not self.marks:
            return []
        taken = {name: self._places(name)[-1] for name in self.entries}
        for name, position in self.left:
            taken[name] = max(taken.get(name, 0), position)
        needed = usable_readings(self.run.method, self.run.options, self.run.missed(self.record))
        progress = Progress(taken, (), (), needed=needed, facts=self.facts, left=self.left)
        schools = self.run.procedure.schools if self.run.procedure is not None else {}
        return list(laid_out(self.run.course, schools, progress))

    @cached_property
    def facts(self) -> Mapping[str, str]:
        return self.run.method.facts(self.run.options)

    @cached_property
    def noted(self) -> Counter[str]:
        return Counter(self.run.tags(self.record.label))

    def _of(self, row: Row, *kinds: str) -> list[StepMark]:
        return [mark for mark in self.marks.get((row.step.id, row.number), ()) if mark.kind in kinds]

    def _entry(self, row: Row) -> Entry | None:
        name, place = row.step.reads or "", row.position or 1
        places = self._places(name)
        return self.entries[name][places.index(place)] if place in places else None

    def _places(self, name: str) -> list[int]:
        """The places of a reading's entries in their series, from 1: those that were left out are passed over."""
        rows = self.entries.get(name, ())
        left = sum(1 for one, _ in self.left if one == name)
        return [place for place in range(1, len(rows) + left + 1) if (name, place) not in self.left][: len(rows)]

    def _next_read(self, index: int) -> tuple[Row, Entry | None]:
        """The first reading after a step that was taken in the trial, and what was read; the step itself and None."""
        for row in self.rows[index + 1 :]:
            entry = self._entry(row) if row.step.reads in self.record.entries else None
            if entry is not None:
                return row, entry
        return self.rows[index], None

    # Weighed warm

    def warm(self) -> Iterator[Verdict]:
        """Weighings that were typed before their cooling timer had ended."""
        for row, entry, seconds in self.early():
            text = (
                f"{entry.reading.shown} was typed {_spell(seconds)} before it had cooled for as long as its step says: "
                "warm air lifts the pan, so it reads light. Weigh it once more, cold."
            )
            yield Verdict(WARM, "watch", row.step.reads or "", text)

    def is_last(self, row: Row) -> bool:
        """Whether a weighing is the one that counts: the last of its series."""
        return self._places(row.step.reads or "")[-1:] == [row.position]

    def early(self) -> Iterator[tuple[Row, Entry, float]]:
        """The same, and by how many seconds each was too early."""
        for index, row in enumerate(self.rows):
            if not row.step.cools:
                continue
            weighed, entry = (row, self._entry(row)) if row.step.reads else self._next_read(index)
            end = self._cool_at(index, row)
            if entry is None or entry.moment is None or end is None:
                continue
            if end > entry.moment + ONE_MOMENT:
                yield weighed, entry, end - entry.moment

    def _cool_at(self, index: int, row: Row) -> float | None:
        """When a step's timer ended: it was begun by hand, or by itself as the step before was done."""
        timer = row.step.timer
        if timer is None or row.minutes is None:
            return None
        end: float | None = None
        for mark in self._of(row, "started", "extended"):
            if mark.moment is None:
                continue
            if mark.kind == "started" or end is None:
                end = mark.moment + 60 * row.minutes
            else:
                end = max(end, mark.moment) + 60 * (timer.more or timer.minutes)
        if end is None and timer.auto and index:
            done = [mark.moment for mark in self._of(self.rows[index - 1], "done") if mark.moment is not None]
            end = done[-1] + 60 * row.minutes if done else None
        return end

    # Not heated in between

    def not_heated(self, trial: Trial) -> Iterator[Verdict]:
        """Two weighings of a series with no round between them."""
        for name, definition in trial.sheet.readings.items():
            entries = self.entries.get(name, ())
            if not definition.settles or len(entries) < 2:
                continue
            unmarked = self._unmarked_rounds(name)
            places = self._places(name)
            for number, (before, after) in zip(places[1:], pairwise(entries), strict=True):
                apart = _apart(before, after)
                if apart is not None and apart < SHORTEST_ROUND:
                    how = f"were typed {_spell(apart)} apart, and no round is as short as that"
                elif number in unmarked:
                    how = f"have no '{unmarked[number]}' between them"
                else:
                    continue
                text = (
                    f"Weighings {number - 1} and {number} ({before.reading.shown}, {after.reading.shown}) {how}: what "
                    "is weighed twice agrees with itself and says nothing. One round more, then weigh."
                )
                yield Verdict(AGAIN, "watch", name, text)
                break

    def _unmarked_rounds(self, name: str) -> dict[int, str]:
        """Rounds of a series whose work was not marked, where that of other rounds was: what it is called, by round."""
        work: dict[int, list[Row]] = {}
        weighed = {row.group for row in self.rows if row.step.reads == name}
        for row in self.rows:
            if row.group and row.group in weighed and not row.step.reads:
                work.setdefault(row.number, []).append(row)
        marked = {number for number, rows in work.items() if any(self._of(row, "done", "started") for row in rows)}
        if not marked:
            return {}
        return {number: self._called(rows[0]) for number, rows in work.items() if number not in marked}

    # Passed over

    @cached_property
    def passed_over(self) -> list[PassedOver]:
        """Steps skipped, and of those that bear on the result the ones that were not marked, or too late."""
        found = []
        for index, row in enumerate(self.rows):
            ahead, entry = self._next_read(index)
            if row.step.reads or entry is None:
                continue
            how = self._how(row, entry)
            if how:
                reading = ahead.step.reads or ""
                found.append(PassedOver(row.step.id, self._called(row), how, row.step.bears, reading))
        return found

    def _called(self, row: Row) -> str:
        return worded(row.step.short or row.step.title, row.number, "", self.facts)

    def _how(self, row: Row, ahead: Entry) -> str:
        """In which way a step was passed over; empty where it was not."""
        skipped = self._of(row, "skipped")
        if skipped:
            reason = next((mark.reason for mark in skipped if mark.reason), None)
            return f"skipped ({reason})" if reason else "skipped"
        if not row.step.bears or (row.group and not self._unlike_others(row)):
            return ""
        done = self._of(row, "done")
        counted = self._counted(row.step, done)
        if row.step.counts is not None and 0 < counted < row.step.counts.times and not any(m.n is None for m in done):
            return f"done {counted} of {row.step.counts.times} times"
        if not done and not counted:
            return "passed over"
        first = done[0].moment if done else None
        is_late = first is not None and ahead.moment is not None and first > ahead.moment + ONE_MOMENT
        return "done only after the weighing" if is_late else ""

    def _unlike_others(self, row: Row) -> bool:
        """Whether a step of a repeat was marked in another round: its rounds are told elsewhere."""
        return not any(self._of(other, "done", "started") for other in self.rows if other.step.id == row.step.id)

    def _counted(self, step: Step, done: list[StepMark]) -> int:
        if step.counts is None:
            return len(done)
        return max([self.noted[step.counts.tag], *(mark.n or 0 for mark in done)])


def _apart(before: Entry, after: Entry) -> float | None:
    if before.moment is None or after.moment is None:
        return None
    return max(0.0, after.moment - before.moment)


def _spell(seconds: float) -> str:
    return f"{seconds:.0f} s" if seconds < 90 else f"{exact(float(f'{seconds / 60:.2g}'))} min"
