"""The trials of a run side by side: one scale, one table, what they say together and what was predicted."""

from __future__ import annotations

from claykettle.core.judgement.predictions import PREDICTION, Prediction, judge_predictions
from claykettle.core.quantity import COVERAGE, exact, figures
from claykettle.core.run import Evaluation, Result, Summary
from claykettle.core.verdict import Verdict
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.revealing import refuse_before_time
from claykettle.service.views.base import View
from claykettle.service.visit import Visit


class ComparisonRowView(View):
    """One trial on the scale: the key result and its expanded uncertainty (k = 2), null while there is none."""

    label: str
    value: float | None
    expanded: float | None
    text: str


class ComparedResultView(View):
    """A result over the trials, a text a trial (empty where it is missing), mean and standard deviation rounded.

    Masses and amounts go with the size of the sample: for them no mean is given.
    """

    label: str
    unit: str
    values: list[str]
    mean: str
    deviation: str


class MeanView(View):
    """The weighted mean of the key result, with its expanded uncertainty (k = 2)."""

    value: float
    expanded: float
    text: str


class ComparisonView(View):
    """The trials of a run side by side: the key result on one scale, all results as a table."""

    label: str
    unit: str
    rows: list[ComparisonRowView]
    mean: MeanView | None
    accepted: float | None
    accepted_text: str
    predictions: list[Prediction]
    results: list[ComparedResultView]
    verdicts: list[Verdict]


DEVIATION_FIGURES = 2
BY_SAMPLE = {"g", "mol"}
"""Units of what goes with the sample's size, so that a mean over the trials says nothing (common practice)."""


def predictions_of(evaluation: Evaluation) -> list[Prediction]:
    """What was predicted, against the trials' mean or the only result."""
    seen = evaluation.run.observations
    if not any(row.tag == PREDICTION for row in seen):
        return []
    rows = [trial for trial in evaluation.trials if trial.result(evaluation.key) is not None]
    one = rows[0].result(evaluation.key) if rows else None
    result = evaluation.mean or one
    band = f"band of the mean of {len(rows)}" if evaluation.mean is not None else "band"
    candidates = rows[0].candidates if rows else ()
    figures_of_it = None if result is None else (result.value, result.standard_uncertainty)
    return judge_predictions(seen, evaluation.key_unit, figures_of_it, candidates, band)


@may(BENCH, INSTRUCTOR)
def comparison_view(visit: Visit, uuid: str) -> ComparisonView:
    """The comparison page of a run."""
    run = visit.run(uuid)
    refuse_before_time(visit, run.id)
    evaluation = run.evaluation
    unit, mean = evaluation.key_unit, evaluation.mean
    accepted = evaluation.run.method.judging.accepted(evaluation.run.options)
    shown = None if accepted is None else unit.from_si(accepted)
    return ComparisonView(
        label=evaluation.key_line.label,
        unit=unit.shown,
        rows=[_row(evaluation, trial.label) for trial in evaluation.trials],
        mean=None if mean is None else MeanView(value=mean.value, expanded=_expanded(mean), text=mean.text),
        accepted=shown,
        accepted_text="" if shown is None else f"{exact(shown)} {unit.shown}".rstrip(),
        predictions=predictions_of(evaluation),
        results=[_compared(evaluation, summary) for summary in evaluation.summary],
        verdicts=list(evaluation.verdicts),
    )


def _row(evaluation: Evaluation, label: str) -> ComparisonRowView:
    key = evaluation.trial(label).result(evaluation.key)
    if key is None:
        return ComparisonRowView(label=label, value=None, expanded=None, text="no result yet")
    return ComparisonRowView(label=label, value=key.value, expanded=_expanded(key), text=key.text)


def _expanded(result: Result) -> float:
    return COVERAGE * result.standard_uncertainty


def _compared(evaluation: Evaluation, summary: Summary) -> ComparedResultView:
    rows = [trial.result(summary.name) for trial in evaluation.trials]
    some = next(row for row in rows if row is not None)
    comparable = some.unit not in BY_SAMPLE
    spread = summary.standard_deviation if comparable else None
    return ComparedResultView(
        label=some.label,
        unit="" if some.unit == "1" else some.unit,
        values=["" if row is None else _bare(row.text, some.unit) for row in rows],
        mean=exact(summary.mean) if comparable else "",
        deviation="" if spread is None else figures(spread, DEVIATION_FIGURES),
    )


def _bare(text: str, unit: str) -> str:
    """The figure without its unit, which stands in the head of the row."""
    return text.removesuffix(unit).rstrip()
