"""What a class leaves behind if all goes as planned: the trial that the bench model foresees, and its waste."""

from __future__ import annotations

from collections.abc import Mapping

from claykettle.core.chemistry.substances import Register
from claykettle.core.method import Method, Options
from claykettle.core.planning.probe import Probe
from claykettle.core.planning.waste import Left, WasteSheet, waste_sheet
from claykettle.core.quantity import Reading, figures, parse_reading, unit
from claykettle.core.run import Entry, Procedure, Run, TrialEvaluation, TrialRecord, evaluate_run
from claykettle.core.sheet import ReadingDef

FIGURES = 6
RINSES = "rinse"


def foreseen_trial(probe: Probe, amount: float) -> TrialEvaluation:
    """The trial of so much of the sample (SI) as honest instruments would show it. Raises Refusal `plan-open`."""
    entries = {
        name: tuple(Entry(_reading(probe.sheet.readings[name], one)) for one in _taken(probe, name, value))
        for name, value in probe.readings(amount).items()
        if probe.sheet.readings[name].given is None
    }
    run = Run(probe.method, probe.options, (TrialRecord("1", entries),), half_widths=probe.instruments.half_widths)
    return evaluate_run(run).trials[0]


def _taken(probe: Probe, name: str, value: float | list[float]) -> list[float]:
    if not isinstance(value, list):
        return [value]
    # a plan counts on a last round that changes nothing more
    return value if probe.sheet.readings[name].sampled else [value[-1], value[-1]]


def _reading(row: ReadingDef, value: float) -> Reading:
    shown = unit(row.unit)
    return parse_reading(f"{figures(shown.from_si(value), FIGURES)} {shown.symbol}", shown.dimension)


def waste_foreseen(
    trial: TrialEvaluation,
    method: Method,
    course: Procedure,
    schools: Mapping[str, str],
    times: int,
    register: Register,
) -> WasteSheet:
    """The waste of so many trials like this one, with the rinses that the procedure asks for; nothing neutralised."""
    found = next((word.text for word in trial.words.values()), None)
    remains = tuple(method.aftercare.remains(trial.trial, found))
    return waste_sheet([Left(remains, False, rinses(method, trial.trial.options, course, schools))] * times, register)


def rinses(method: Method, options: Options, course: Procedure, schools: Mapping[str, str]) -> int:
    """How many rinses of a beaker or a paper the procedure asks for under these schools."""
    rows = course.under(schools, method.facts(options))
    steps = [step for row in rows for step in getattr(row, "repeat", [row])]
    return sum(step.counts.times for step in steps if step.counts is not None and step.counts.tag.startswith(RINSES))
