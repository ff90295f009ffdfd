"""From a run to its results, verdicts, working and budget. One way for every method."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, NamedTuple

from claykettle.core.errors import Refusal
from claykettle.core.judgement.agreement import judge_agreement
from claykettle.core.judgement.constancy import settling_half_width
from claykettle.core.judgement.expected import expectations
from claykettle.core.judgement.next_heating import judge_next_heating
from claykettle.core.judgement.passing import judge_passing
from claykettle.core.judgement.replicates import Comparison, compare, judge_alike, judge_replicates, sample_deviation
from claykettle.core.judgement.suspects import Suspicion, suspicion
from claykettle.core.judgement.window import judge_window
from claykettle.core.method import Expectation, Formulated, Share, Statement, Trial
from claykettle.core.quantity import (
    Number,
    Quantity,
    Reading,
    Unit,
    exact,
    nominal,
    reading_variable,
    shares,
    spread_variable,
    with_uncertainty,
)
from claykettle.core.run.by_steps import evidence_of, judge_steps
from claykettle.core.run.not_taken import judge_not_taken
from claykettle.core.run.run import Entry, Run, StepMark, TrialRecord, reading_definition, shape_of
from claykettle.core.sheet import SETTLING, SPREAD, LineDef, ReadingDef, WorkingLine, Worksheet
from claykettle.core.verdict import Candidate, Verdict
from claykettle.core.wording import listed


@dataclass(frozen=True)
class Result:
    """A number with its standard uncertainty in the unit shown, and the one rounded text."""

    name: str
    label: str
    value: float
    standard_uncertainty: float
    unit: str
    text: str


@dataclass(frozen=True)
class TrialEvaluation:
    """All that can be said about one trial. `trial` keeps the numbers for pictures and replays.

    The working and the budget are worked out when they are first asked for.
    """

    label: str
    trial: Trial
    results: tuple[Result, ...]
    words: Mapping[str, Formulated]
    verdicts: tuple[Verdict, ...]
    candidates: tuple[Candidate, ...]
    statements: tuple[Statement, ...] = ()
    groups: Mapping[str, Mapping[str, Result]] = field(default_factory=dict)
    said: Mapping[str, str] = field(default_factory=dict)

    @cached_property
    def working(self) -> tuple[WorkingLine, ...]:
        """The calculation page."""
        return self.working_in({})

    def working_in(self, shown_in: Mapping[str, str]) -> tuple[WorkingLine, ...]:
        """The calculation page in a class's units: by unit the one in which that is written."""
        trial = self.trial
        return tuple(trial.sheet.working(trial.values, self.typed, _decimals(trial), shown_in))

    @cached_property
    def typed(self) -> Mapping[str, str]:
        """The readings as typed, units set, by name; a series with all its weighings."""
        return _shown(self.trial)

    @cached_property
    def budget(self) -> tuple[Share, ...]:
        """The shares of every result's variance."""
        return tuple([share for row in self.results for share in self.shares(row.name)])

    def shares(self, result: str) -> list[Share]:
        """The shares of one result's variance, the largest first."""
        return [Share(result, name, share) for name, share in shares(self.trial.values.variances(result))]

    def result(self, name: str) -> Result | None:
        """The result of this name, None while it cannot be had."""
        return next((row for row in self.results if row.name == name), None)


@dataclass(frozen=True)
class Summary:
    """A result over the trials."""

    name: str
    mean: float
    standard_deviation: float | None
    n: int
    unit: str


@dataclass(frozen=True)
class Evaluation:
    """A run, evaluated."""

    run: Run
    trials: tuple[TrialEvaluation, ...]
    summary: tuple[Summary, ...]
    comparison: Comparison | None
    verdicts: tuple[Verdict, ...]
    common: dict[str, dict[str, Number]] = field(default_factory=dict, repr=False, compare=False)
    """What all trials share, one quantity each."""

    @cached_property
    def key(self) -> str:
        """Name of the result that the method is about."""
        return _key(self.run, self.trials)

    @cached_property
    def _expected(self) -> dict[str, dict[str, Expectation]]:
        return {}

    def expected(self, label: str) -> Mapping[str, Expectation]:
        """Where the next readings of a trial must lie, by their names; worked out when it is first asked."""
        if label not in self._expected:
            place = next(index for index, row in enumerate(self.trials) if row.label == label)
            before = self.trials[place - 1].trial if place else None
            trial = self.trials[place].trial
            found = expectations(trial, self.run.method, self.run.planned, before)
            missed = trial.sheet.shape.missed
            self._expected[label] = (
                {name: row for name, row in found.items() if name not in missed} if missed else found
            )
        return self._expected[label]

    def suspicion(self, label: str, expect: str | None = None) -> Suspicion:
        """Every cause held against a trial's deviation, with all that the run knows of the bench. Raises Refusal as
        `core.judgement.suspects.suspicion` does.
        """
        return suspicion(self.trial(label).trial, self.run.method, expect, evidence_of(self.run, label))

    @cached_property
    def _deviations(self) -> dict[str, Suspicion | None]:
        return {}

    def deviation(self, label: str) -> Suspicion | None:
        """The same against what was accepted, worked out when it is first asked; None while there is no result, or
        nothing that it could be held against.
        """
        if label not in self._deviations:
            try:
                self._deviations[label] = self.suspicion(label)
            except Refusal:
                self._deviations[label] = None
        return self._deviations[label]

    @cached_property
    def mean(self) -> Result | None:
        """The weighted mean of the key result over the trials, None where they cannot be held together."""
        if self.comparison is None:
            return None
        line, found = self.key_line, self.comparison
        return _result(Figure(line, *_in_unit(line, found.mean, found.standard_uncertainty)))

    @property
    def key_unit(self) -> Unit:
        """The unit that the key result is shown in."""
        return self.key_line.shown_unit

    @property
    def key_line(self) -> LineDef:
        """The line of the key result, on the first page that has it."""
        return next(row.trial.sheet.by_name[self.key] for row in self.trials if self.key in row.trial.sheet.by_name)

    def trial(self, label: str) -> TrialEvaluation:
        """The trial with this label. Raises KeyError for an unknown one."""
        return self._by_label[label]

    @cached_property
    def _by_label(self) -> Mapping[str, TrialEvaluation]:
        return {trial.label: trial for trial in self.trials}


def evaluate_run(run: Run, before: Evaluation | None = None) -> Evaluation:
    """Evaluate every trial and hold them together. Raises Refusal `both-forms` with the trial's path.

    `before` is an evaluation of the same run as it was: a trial of which nothing has changed since is taken from it.
    """
    if before is None or not _on_same_ground(run, before.run):
        before, common = None, _common(run, _Variables(run))
    else:
        # what all trials share stays one quantity, so that its uncertainty is known as shared
        common = before.common
    known = _unchanged(run, before) if before is not None else {}
    trials = tuple(
        known.get(record.label) or _trial(run, record, common, index) for index, record in enumerate(run.trials)
    )
    compared = _compared(run, trials)
    verdicts = (
        *_replicates(run, trials, compared),
        *_alike(run, trials),
        *run.method.judging.over_trials(run.options, [row.trial for row in trials]),
    )
    return Evaluation(run, trials, _summary(trials), compared, verdicts, common)


def _on_same_ground(run: Run, before: Run) -> bool:
    """Whether all that bears on every trial is the same in both."""
    return (
        run.method is before.method
        and run.course is before.course
        and all(getattr(run, name) == getattr(before, name) for name in _GROUND)
    )


_GROUND = ("options", "half_widths", "shared", "shared_not_taken", "planned", "procedure")


def _unchanged(run: Run, before: Evaluation) -> dict[str, TrialEvaluation]:
    """The trials of which nothing has changed: no reading, nothing seen, no step marked."""
    now, then = _said(run), _said(before.run)
    evaluated = {row.label: row for row in before.trials}
    records = {record.label: record for record in before.run.trials}
    return {
        record.label: evaluated[record.label]
        for record in run.trials
        if records.get(record.label) is record and now.of(record.label) == then.of(record.label)
    }


@dataclass(frozen=True)
class _Said:
    """What was seen and marked, by trial; under the empty label what was seen of the run as a whole."""

    tags: Mapping[str, tuple[str, ...]]
    marks: Mapping[str, tuple[StepMark, ...]]

    def of(self, label: str) -> tuple[Any, ...]:
        return self.tags.get("", ()), self.tags.get(label, ()), self.marks.get(label, ())


def _said(run: Run) -> _Said:
    tags: dict[str, tuple[str, ...]] = {}
    marks: dict[str, tuple[StepMark, ...]] = {}
    for seen in run.observations:
        tags[seen.trial or ""] = (*tags.get(seen.trial or "", ()), seen.tag)
    for mark in run.steps:
        marks[mark.trial] = (*marks.get(mark.trial, ()), mark)
    return _Said(tags, marks)


class Figure(NamedTuple):
    """A result's line, its value and its standard uncertainty in the unit shown, not yet rounded."""

    line: LineDef
    value: float
    standard_uncertainty: float


def figures_of(run: Run) -> list[list[Figure]]:
    """Only the figures of every trial: no judgement, working or text. Raises Refusal as `evaluate_run` does."""
    common = _common(run, _Variables(run))
    return [
        list(_figures(_valued(run, record, common, _Variables(run), index), run.method.results))
        for index, record in enumerate(run.trials)
    ]


def _common(run: Run, shared: _Variables) -> dict[str, dict[str, Number]]:
    return {name: shared.of(name, entries) for name, entries in run.shared.items()}


class _Variables:
    """Makes one independent variable a reading, and remembers which half-widths had to be assumed."""

    def __init__(self, run: Run):
        self.run = run
        self.assumed: dict[str, Reading] = {}

    def of(self, name: str, entries: tuple[Entry, ...]) -> dict[str, Number]:
        """The inputs of the worksheet that these entries give: the reading, and a series' settling."""
        reading = _definition(self.run, name)
        if reading.sampled and len(entries) > 1:
            # their scatter holds what the balance adds as well: the single figures count as exact
            plain = [float(entry.reading.si) for entry in entries]
            width = max(self._half_width(entry, reading.instrument) for entry in entries)
            return {name: plain, name + SPREAD: spread_variable(plain, name, width)}
        numbers = [self._number(name, entry, reading.instrument) for entry in entries]
        if not reading.series or name.endswith("_tare"):
            return {name: numbers[0]}
        if reading.sampled:
            return {name: numbers}
        half_width = settling_half_width(numbers)
        settling = reading_variable(0.0, half_width, f"{name}.settling") if half_width else 0.0
        return {name: numbers, name + SETTLING: settling}

    def _number(self, name: str, entry: Entry, instrument: str) -> Number:
        return reading_variable(float(entry.reading.si), self._half_width(entry, instrument), name)

    def _half_width(self, entry: Entry, instrument: str) -> float:
        half_width = entry.half_width if entry.half_width is not None else self.run.half_widths.get(instrument)
        if half_width is None:
            self.assumed.setdefault(instrument, entry.reading)
            half_width = entry.reading.last_digit_si
        return float(half_width)


def _definition(run: Run, name: str) -> ReadingDef:
    found = reading_definition(run.method, name, run.options)
    if found is None:
        raise KeyError(name)
    return found


def _valued(
    run: Run, record: TrialRecord, common: dict[str, dict[str, Number]], variables: _Variables, index: int
) -> Trial:
    """The trial with the numbers of its worksheet, not yet judged."""
    entries = {**run.shared, **record.entries}
    path = f"trials[{index}].readings"
    shape = shape_of(run.method, run.options, frozenset(entries), path, run.missed(record))
    sheet = run.method.page.build(shape)
    inputs: dict[str, Number] = {}
    for name, rows in entries.items():
        inputs |= common[name] if name in common and name not in record.entries else variables.of(name, rows)
    given = {name: row.given(run.options) for name, row in sheet.readings.items() if row.given is not None}
    for name, quantity in given.items():
        # what the options give is one quantity for the whole run, whichever trial asks for it first
        inputs |= common.setdefault(name, {name: _given(name, quantity)})
    typed = _typed(sheet, entries) | {name: quantity.reading for name, quantity in given.items()}
    own_widths = {name: rows[-1].half_width for name, rows in entries.items() if rows[-1].half_width is not None}
    return Trial(sheet, typed, sheet.evaluate(inputs), own_widths)


def _given(name: str, quantity: Quantity) -> Number:
    value = quantity.si
    return value if quantity.half_width is None else reading_variable(value, float(quantity.half_width), name)


def _trial(run: Run, record: TrialRecord, common: dict[str, dict[str, Number]], index: int) -> TrialEvaluation:
    variables = _Variables(run)
    trial = _valued(run, record, common, variables, index)
    judgement = run.method.judging.judge(trial)
    results = tuple(_results(run, trial))
    passing = tuple(judge_passing(run.tags(record.label), run.method.key_on(trial.sheet)))
    verdicts = (
        *judgement.verdicts,
        *run.method.judging.seen(trial, run.tags(record.label)),
        *judge_steps(run, record, trial),
        *passing,
        *judge_window(trial, run.planned),
        *judge_next_heating(trial, run.method.key_on(trial.sheet)),
        *_too_coarse(run, trial),
        *judge_not_taken(run, record, trial),
        *(_missing(trial, run.method.results) if not passing else ()),
        *_assumed(variables),
    )
    verdicts += tuple(_without_figure(trial, verdicts, run.method.results))
    verdicts += tuple(judge_agreement(trial, run.method, verdicts))
    return TrialEvaluation(
        record.label,
        trial,
        results,
        judgement.words,
        verdicts,
        judgement.candidates,
        judgement.statements,
        _groups(run, trial),
        judgement.said,
    )


def _groups(run: Run, trial: Trial) -> dict[str, dict[str, Result]]:
    """The results that stand under one name by key, such as the amount of each gas."""
    found: dict[str, dict[str, Result]] = {}
    for name, lines in run.method.judging.grouped(run.options).items():
        rows = {row.name: row for row in _shown_results(trial, lines.values())}
        found[name] = {key: rows[line] for key, line in lines.items() if line in rows}
    return {name: rows for name, rows in found.items() if rows}


def _typed(sheet: Worksheet, entries: Mapping[str, tuple[Entry, ...]]) -> dict[str, Reading | tuple[Reading, ...]]:
    typed: dict[str, Reading | tuple[Reading, ...]] = {}
    for name, rows in entries.items():
        definition = sheet.readings.get(name)
        series = definition is not None and definition.series
        typed[name] = tuple(row.reading for row in rows) if series else rows[0].reading
    return typed


def _shown(trial: Trial) -> dict[str, str]:
    """The readings as typed, units set; a series with all its weighings."""
    return {
        name: ", ".join(one.shown for one in reading) if isinstance(reading, tuple) else reading.shown
        for name, reading in trial.readings.items()
    }


def _decimals(trial: Trial) -> dict[str, int]:
    """The most decimals that a reading has, by unit."""
    most: dict[str, int] = {}
    for reading in trial.readings.values():
        for one in reading if isinstance(reading, tuple) else (reading,):
            most[one.unit.symbol] = max(most.get(one.unit.symbol, 0), one.decimals)
    return most


def _results(run: Run, trial: Trial) -> list[Result]:
    return _shown_results(trial, run.method.results)


def _shown_results(trial: Trial, names: Iterable[str]) -> list[Result]:
    return [_result(row) for row in _figures(trial, names)]


def _result(row: Figure) -> Result:
    unit = row.line.shown_unit
    text = with_uncertainty(row.value, row.standard_uncertainty, unit.shown)
    return Result(row.line.name, row.line.label, row.value, row.standard_uncertainty, unit.symbol, text)


def _in_unit(line: LineDef, value: float, spread: float) -> tuple[float, float]:
    return line.shown_unit.from_si(value), line.shown_unit.step_from_si(spread)


def _figures(trial: Trial, names: Iterable[str]) -> Iterator[Figure]:
    lines = trial.sheet.by_name
    for name in names:
        number = trial.values.get(name)
        if number is None or name not in lines:
            continue
        value, spread = _in_unit(lines[name], nominal(number), trial.values.spread(name))
        if math.isfinite(value) and math.isfinite(spread):
            yield Figure(lines[name], value, spread)


def _missing(trial: Trial, results: tuple[str, ...]) -> list[Verdict]:
    """One verdict a missing reading, naming the results that wait for it."""
    waiting: dict[str, list[str]] = {}
    labels = trial.sheet.labels
    for name in results:
        reason = trial.values.lacking.get(name)
        if reason in trial.sheet.readings and reason not in trial.sheet.shape.missed:
            waiting.setdefault(str(reason), []).append(labels[name])
    return [
        Verdict("missing-reading", "watch", name, f"'{labels[name]}' is still missing for {listed(lines)}.")
        for name, lines in waiting.items()
    ]


def _without_figure(trial: Trial, said: Iterable[Verdict], results: Iterable[str]) -> Iterator[Verdict]:
    """Why a line has no figure, or one on which nothing can be built: no result goes without a word."""
    stopped = {verdict.about for verdict in said if verdict.level == "stop"}
    lines = trial.sheet.by_name
    for name, why in trial.values.outside.items():
        if stopped.isdisjoint((name, *lines[name].needs)):
            yield Verdict("out-of-range", "stop", name, f"{why} So there is no {lines[name].label}, nor what needs it.")
    for name in () if stopped else trial.values.barred:
        line = lines[name]
        came = f"{exact(line.shown_unit.from_si(trial.value(name) or 0.0))} {line.shown_unit.shown}".rstrip()
        text = f"The {line.label} comes to {came}, and nothing can be built on that: look at what it comes from."
        yield Verdict("unphysical", "stop", name, text)
    for name in results:
        if name in lines and name in trial.values.numbers and not math.isfinite(trial.uncertainty(name)):
            text = f"How sure the {lines[name].label} is cannot be told here, so it is not shown."
            yield Verdict("out-of-range", "stop", name, text)


def _too_coarse(run: Run, trial: Trial) -> list[Verdict]:
    """A tolerance finer than the balance shows: only the same display twice can meet it."""
    tolerance, half_width = getattr(run.options, "tolerance", None), run.half_widths.get("balance")
    series = next((name for name, row in trial.sheet.readings.items() if row.settles and trial.series(name)), None)
    if tolerance is None or half_width is None or series is None or tolerance.si >= half_width:
        return []
    shown = f"± {float(half_width) * 1000:g} g"
    text = (
        f"Your limit of {tolerance.shown} lies below what the balance shows ({shown}): only the same figure twice "
        "meets it."
    )
    return [Verdict("tolerance-below-balance", "watch", series, text)]


def _assumed(variables: _Variables) -> list[Verdict]:
    return [
        Verdict(
            "assumed-uncertainty",
            "watch",
            instrument,
            f"Nobody said how exact the {instrument.replace('_', ' ')} is: one unit in the last digit typed is "
            f"assumed ({reading.shown} as ± {reading.last_digit:f} {reading.unit.shown}).",
        )
        for instrument, reading in variables.assumed.items()
    ]


def _summary(trials: tuple[TrialEvaluation, ...]) -> tuple[Summary, ...]:
    columns: dict[str, list[Result]] = {}
    for trial in trials:
        for row in trial.results:
            columns.setdefault(row.name, []).append(row)
    return tuple(
        Summary(
            name,
            math.fsum(r.value for r in rows) / len(rows),
            sample_deviation([r.value for r in rows]),
            len(rows),
            rows[0].unit,
        )
        for name, rows in columns.items()
    )


def _compared(run: Run, trials: tuple[TrialEvaluation, ...]) -> Comparison | None:
    """The trials that have a key result, held together on it."""
    return _held_together(run, trials, _key(run, trials), run.method.judging.accepted(run.options))


def _key(run: Run, trials: tuple[TrialEvaluation, ...]) -> str:
    """The key result that some trial's page has, the method's own before its fallback."""
    names = {run.method.key_on(trial.trial.sheet) for trial in trials}
    own = run.method.judging.key(run.options)
    return own if own in names or not names else names.pop()


def _alike(run: Run, trials: tuple[TrialEvaluation, ...]) -> tuple[Verdict, ...]:
    """The same on what all trials must share however large the sample, where the method knows such a result."""
    name = run.method.judging.alike
    found = _held_together(run, trials, name, None) if name is not None else None
    if name is None or found is None:
        return ()
    line = trials[0].trial.sheet.by_name[name]
    return (judge_alike(found, name, line.label, line.shown_unit),)


def _held_together(
    run: Run, trials: tuple[TrialEvaluation, ...], key: str, accepted: float | None
) -> Comparison | None:
    rows = [trial for trial in trials if trial.result(key) is not None]
    shared = {name for reading in run.shared for name in (reading, f"{reading}.settling")}
    shared |= {name for row in rows for name in row.trial.sheet.given}
    numbers = [trial.trial.values[key] for trial in rows]
    return compare([trial.label for trial in rows], numbers, shared, accepted)


def _replicates(run: Run, trials: tuple[TrialEvaluation, ...], found: Comparison | None) -> tuple[Verdict, ...]:
    if found is None:
        return ()
    key = _key(run, trials)
    line = next(trial for trial in trials if trial.result(key) is not None).trial.sheet.by_name[key]
    options: Any = run.options
    reaches = options.class_tolerance
    share = None if reaches is None else float(reaches.si)
    return tuple(judge_replicates(found, key, line.label, line.shown_unit, share))
