"""A procedure told in the past tense, as a publication does: what the record says was done, with what was really taken.

Nothing is told that no record bears out: a step with a reading was done where the reading stands, any other where it
was marked or counted. A step of an own practical that brings no sentence is told by its short name.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from itertools import groupby

from claykettle.core.method import Method, Options
from claykettle.core.quantity import short
from claykettle.core.run import (
    Evaluation,
    Procedure,
    Progress,
    Repeat,
    Row,
    StepMark,
    TrialEvaluation,
    TrialRecord,
    laid_out,
    reading_labels,
    usable_readings,
    worded,
)
from claykettle.core.wording import listed

_ASKED = re.compile(r"\{(\w+)\}")
_FOR_MINUTES = re.compile(r" for (?:about )?\{minutes\}")
MINUTE = 60.0
"""s."""
_TIMES = ("", "once", "twice", "three times", "four times", "five times", "six times")


@dataclass(frozen=True)
class Told:
    """A trial's procedure: its sentences in order, what was passed over, and how often it was done that is repeated."""

    sentences: tuple[str, ...]
    passed: tuple[str, ...]
    rounds: Mapping[str, int]
    is_marked: bool


def told(evaluation: Evaluation, label: str, course: Procedure, matter: str) -> Told:
    """How a trial was done with this `matter`, by the steps of this course."""
    return _Telling(evaluation, label, course, matter).told()


def matter_of(method: Method, options: Options) -> str:
    """What a run works on, as its options name it: a formula, or words where they name none."""
    aim = method.aim
    template, formulas = aim.formulas(options)
    if not formulas:
        return template
    names = {str(number): row.text for number, row in enumerate(formulas)}
    return aim.in_words(template, names)


def times(number: int) -> str:
    """How often, in words up to six."""
    return _TIMES[number] if number < len(_TIMES) else f"{number} times"


class _Telling:
    def __init__(self, evaluation: Evaluation, label: str, course: Procedure, matter: str):
        self.run, self.course, self.label, self.matter = evaluation.run, course, label, matter
        self.found: TrialEvaluation = evaluation.trial(label)
        self.record: TrialRecord = next(row for row in self.run.trials if row.label == label)
        self.entries = {**self.run.shared, **self.record.entries}
        self.marks: dict[tuple[str, int], list[StepMark]] = {}
        for mark in self.run.steps:
            if mark.trial == label:
                self.marks.setdefault((mark.step, mark.round), []).append(mark)
        self.facts = self.run.method.facts(self.run.options)
        self.labels = reading_labels(self.run.method, self.run.options)

    @cached_property
    def rows(self) -> list[Row]:
        taken = {name: len(rows) for name, rows in self.entries.items()}
        verdicts = {(row.code, row.about) for row in self.found.verdicts}
        missed = self.run.missed(self.record)
        needed = usable_readings(self.run.method, self.run.options, missed)
        schools = self.run.procedure.schools if self.run.procedure is not None else {}
        known = {name: answer for name, answer in schools.items() if name in self.course.schools}
        progress = Progress(taken, verdicts, (), needed=needed, facts=self.facts)
        return list(laid_out(self.course, known, progress))

    def told(self) -> Told:
        sentences: list[str] = []
        passed: list[str] = []
        rounds: dict[str, int] = {}
        for group, rows in groupby(self.rows, key=lambda row: row.group):
            parts = list(rows)
            if group:
                rounds[group] = max((row.number for row in parts if self._is_done(row)), default=0)
                sentences += self._rounds(group, parts)
            else:
                sentences += [self._sentence(row) for row in parts if self._is_done(row)]
            passed += [self._passed(row) for row in parts if self._skipped(row) is not None]
        sentences += self._beside()
        return Told(tuple(filter(None, sentences)), tuple(passed), rounds, bool(self.marks))

    def _beside(self) -> Iterator[str]:
        """Readings that no step of this course takes, such as those of another way to weigh."""
        told = {row.step.reads for row in self.rows if self._is_done(row)}
        for name, rows in self.entries.items():
            if name not in told:
                figures = ", ".join(row.reading.shown for row in rows)
                yield f"Also read: {self.labels.get(name, name.replace('_', ' '))}, {figures}."

    def _rounds(self, group: str, rows: list[Row]) -> Iterator[str]:
        """The first round whole; of the others what they read, and what ended them."""
        yield from (self._sentence(row) for row in rows if row.number == 1 and self._is_done(row))
        read = [row for row in rows if row.step.reads and self._is_done(row)]
        later = [self._figure(row) for row in read if row.number > 1]
        if not later:
            return
        last = max(row.number for row in read)
        repeat = next(row for row in self.course.steps if isinstance(row, Repeat) and row.id == group)
        yield f"The same was done {times(last)} in all ({listed(later)}){self._ended(repeat)}."

    def _ended(self, repeat: Repeat) -> str:
        if not any((row.code, row.about) == (repeat.until, repeat.about) for row in self.found.verdicts):
            return ""
        tolerance = getattr(self.run.options, "tolerance", None)
        if repeat.until != "constant-mass" or tolerance is None:
            return ""
        return f", until two agreed within {tolerance.shown}"

    def _is_done(self, row: Row) -> bool:
        if row.step.reads:
            return len(self.entries.get(row.step.reads, ())) >= (row.position or 1)
        marked = any(mark.kind == "done" for mark in self._marks(row))
        return marked or (row.step.counts is not None and self._counted(row) > 0)

    def _marks(self, row: Row) -> list[StepMark]:
        return self.marks.get((row.step.id, row.number), [])

    def _skipped(self, row: Row) -> StepMark | None:
        if self._is_done(row):
            return None
        return next((mark for mark in self._marks(row) if mark.kind == "skipped"), None)

    def _passed(self, row: Row) -> str:
        mark = self._skipped(row)
        reason = f" ({mark.reason})" if mark is not None and mark.reason else ""
        return f"{self._short(row)}{reason}"

    def _short(self, row: Row) -> str:
        return worded(row.step.short or row.step.title, row.number, self._reading(row), self.facts)

    def _reading(self, row: Row) -> str:
        return self.labels.get(row.step.reads or "", "")

    def _counted(self, row: Row) -> int:
        tag = row.step.counts.tag if row.step.counts is not None else ""
        return sum(1 for seen in self.run.tags(self.label) if seen == tag)

    def _figure(self, row: Row) -> str:
        rows = self.entries.get(row.step.reads or "", ())
        place = (row.position or 1) - 1
        return rows[place].reading.shown if place < len(rows) else ""

    def _minutes(self, row: Row) -> str:
        """How long it really took; empty where nobody timed it, since a record tells only what was recorded."""
        begun, ended = (
            next((mark.moment for mark in self._marks(row) if mark.kind == kind), None) for kind in ("started", "done")
        )
        if begun is not None and ended is not None and ended - begun >= MINUTE:
            return f"{short((ended - begun) / MINUTE, 2)} min"
        return ""

    def _known(self, row: Row) -> dict[str, str]:
        counted = self._counted(row)
        fixed = {
            "figure": self._figure(row),
            "minutes": self._minutes(row),
            "times": times(counted) if row.step.counts is not None else "",
            "matter": self.matter,
            "reading": self._reading(row),
            "n": str(row.number),
        }
        return {**self.facts, **fixed}

    def _sentence(self, row: Row) -> str:
        known = self._known(row)
        lines = {line.name: line.result for line in self.found.working}
        missing = False

        def put(found: re.Match[str]) -> str:
            nonlocal missing
            name = found.group(1)
            value = known.get(name) or lines.get(name) or self.found.typed.get(name, "")
            missing = missing or not value
            return value

        past = row.step.past if known["minutes"] else _FOR_MINUTES.sub("", row.step.past)
        sentence = _ASKED.sub(put, past)
        if row.step.past and not missing:
            return sentence[:1].upper() + sentence[1:]
        figure = self._figure(row)
        return f"{self._short(row)}: {figure}." if figure else f"{self._short(row)}."
