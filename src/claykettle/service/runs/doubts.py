"""What is doubtful about a reading: looked at before it is kept, and by what the run says with it in it."""

from __future__ import annotations

from dataclasses import replace

from claykettle.core.judgement.alike import question_of_alike
from claykettle.core.judgement.expected import planned_window
from claykettle.core.judgement.plausibility import Weighing, question
from claykettle.core.judgement.question import Question
from claykettle.core.quantity import Reading, parse_half_width
from claykettle.core.run import Evaluation, TrialEvaluation
from claykettle.core.sheet import ReadingDef
from claykettle.core.verdict import Verdict
from claykettle.store.records import StoredReading, StoredRun, StoredTrial


def doubt_of(
    before: Evaluation, trial: str, definition: ReadingDef, reading: Reading, own_width: str
) -> Question | None:
    """What is doubtful about a reading before it is kept; `own_width` is its instrument's where that is another."""
    run = before.run
    half_width = run.half_widths.get(definition.instrument)
    if own_width:
        half_width = parse_half_width(own_width, definition.dimension)
    at = before.trial(trial).trial
    window = planned_window(at, run.method, definition, run.planned)
    lid = run.method.lidded(run.procedure.schools) if run.procedure else False
    expected = before.expected(trial).get(definition.name)
    return question(Weighing(definition, reading, at, half_width, window, lid, expected))


def fresh_doubts(run: StoredRun, after: StoredRun, trial: StoredTrial, row: StoredReading) -> list[Question]:
    """The stops that the run has with a new row and had not without it; else where it lies far off the other trials."""
    known = {(label, verdict.code, verdict.about) for label, verdict in _stops(run.evaluation)}
    fresh = [
        Question(verdict.code, verdict.text)
        for label, verdict in _stops(after.evaluation)
        if (label, verdict.code, verdict.about) not in known
    ]
    return fresh or _off_others(run, trial, row, after.evaluation)


def _stops(evaluation: Evaluation) -> list[tuple[str, Verdict]]:
    return [
        (trial.label, verdict) for trial in evaluation.trials for verdict in trial.verdicts if verdict.level == "stop"
    ]


def _has(trial: TrialEvaluation, name: str) -> bool:
    return trial.trial.value(name) is not None


def _off_others(run: StoredRun, trial: StoredTrial, row: StoredReading, after: Evaluation) -> list[Question]:
    """Where the new reading brings this trial far off the others in what they must share."""
    judging = run.method.judging
    own_trial = after.trial(trial.label) if trial.position else None
    name = next(
        (one for one in (judging.alike, judging.alike_at_once) if own_trial and one and _has(own_trial, one)), None
    )
    if name is None:
        return []
    values = {one.label: one.trial.value(name) for one in after.trials}
    own = values.pop(trial.label)
    line = after.trial(trial.label).trial.sheet.by_name.get(name)
    others = [value for value in values.values() if value is not None]
    if own is None or line is None or not others:
        return []

    def with_digits(digits: str) -> float | None:
        swapped = run.with_reading(trial, replace(row, text=digits))
        return swapped.evaluation.trial(trial.label).trial.value(name)

    found = question_of_alike(line, own, others, row.reading, with_digits)
    return [found] if found is not None else []
