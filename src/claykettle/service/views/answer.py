"""Makes the views of the answer: results, verdicts, candidates, the ruler, the calculation pages."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from claykettle.core.judgement.limits import limiting_sentence
from claykettle.core.judgement.passing import ended_by_eye
from claykettle.core.judgement.standing import Standing, standing
from claykettle.core.judgement.suspects import Suspicion
from claykettle.core.method import Statement
from claykettle.core.quantity import COVERAGE, figures, nominal, percent, short
from claykettle.core.run import Evaluation, Result, TrialEvaluation
from claykettle.core.verdict import Candidate, Status, Verdict
from claykettle.service.views.base import View


class FormulaView(View):
    """The match or null, always the nearest candidate, and how many candidates fit."""

    text: str | None
    nearest: str
    matches: int


class RulerView(View):
    """The ruler: the measured figure, its expanded uncertainty (k = 2), and the candidates on the scale.

    `unit` is empty for a ratio, % where the percentage decides; marks stand at their `expected`.
    """

    unit: str
    value: float
    expanded: float
    low: float
    high: float
    marks: list[Candidate]
    said: str


class ScaleMarkView(View):
    """Something that a figure is held against on its scale: what it is called, where it lies, and that as text."""

    label: str
    value: float
    text: str


class ScaleView(View):
    """The key result with its band (half its width, `expanded`) on a scale with what it is held against; `said` tells
    the same in words.
    """

    value: float
    expanded: float
    unit: str
    marks: list[ScaleMarkView]
    said: str


class CandidateView(View):
    """A candidate, with its figures as text: the one it would give, and its share among candidates of an unknown."""

    text: str
    ratio: float | None
    misfit: float
    expected: float | None
    likelihood: float | None
    seen: str
    status: Status
    charges: bool | None
    expected_text: str
    share_text: str


class AnswerView(View):
    """The answer so far, for the bench's right-hand side: the key result as text, and both as headlines."""

    label: str
    text: str | None
    headline: str | None
    second: str | None
    statements: list[Statement]
    formula: FormulaView | None
    provisional: bool
    why_provisional: str
    ruler: RulerView | None
    scale: ScaleView | None
    remarks: list[str]
    standing: Standing


class TrialView(View):
    """The trial shown, evaluated; the nearest of `candidates_held` candidates."""

    label: str
    results: list[Result]
    verdicts: list[Verdict]
    candidates: list[CandidateView]
    candidates_held: int


class SuspicionView(View):
    """A deviation and all its suspects."""

    found: Suspicion


class ReplayView(View):
    """What a dose of one cause makes of the expected result, in the unit of the key result; both as text."""

    result: float
    result_text: str
    dose_text: str


NEARLY_ALL = 0.995
MOST_CANDIDATES = 12
"""So many candidates, the nearest, go to the bench; the evaluation itself holds all."""


def trial_view(trial: TrialEvaluation) -> TrialView:
    """One trial's results, verdicts and nearest candidates."""
    return TrialView(
        label=trial.label,
        results=list(trial.results),
        verdicts=list(trial.verdicts),
        candidates=[_candidate(row) for row in trial.candidates[:MOST_CANDIDATES]],
        candidates_held=len(trial.candidates),
    )


def _candidate(row: Candidate) -> CandidateView:
    likely = row.likelihood
    return CandidateView(
        text=row.text,
        ratio=row.ratio,
        misfit=row.misfit,
        expected=row.expected,
        likelihood=likely,
        seen=row.seen,
        status=row.status,
        charges=row.charges,
        expected_text="" if row.expected is None else f"{row.expected:.1f} %",
        share_text="" if likely is None else "> 99 %" if likely > NEARLY_ALL else percent(likely, 0),
    )


def answer_view(evaluation: Evaluation, trial: TrialEvaluation, doubts: Sequence[str] = ()) -> AnswerView:
    """The answer so far, what makes it provisional, and how it stands; `doubts` were confirmed at their readings."""
    key = trial.result(evaluation.key)
    formula = next(iter(trial.words.values()), None)
    possible = [row for row in trial.candidates if row.charges is not False]
    nearest = possible[0].text if possible else formula.nearest if formula else ""
    head = evaluation.run.method.judging.headline(evaluation.run.options)
    second = trial.result(head.second) if head.second else None
    codes = {verdict.code for verdict in trial.verdicts}
    constant = {verdict.about for verdict in trial.verdicts if verdict.code == "constant-mass"}
    matches = sum(row.status == "match" for row in possible)
    if formula is not None and not trial.candidates:
        matches = int(formula.text is not None)  # told, not chosen
    by_eye = ended_by_eye(codes)
    why = ""
    if any(verdict.level == "stop" for verdict in trial.verdicts):
        why = "Provisional: something cannot be right"
    elif "missing-reading" in codes:
        why = "Provisional: a reading is missing"
    elif not by_eye and any(row.settles and name not in constant for name, row in trial.trial.sheet.readings.items()):
        why = "Provisional: the mass has not settled"
    shares = trial.shares(evaluation.key) if key else ()
    remarks = [limiting_sentence(shares, trial.trial.sheet)]
    ruler = _ruler(evaluation, trial)
    return AnswerView(
        label=key.label if key else "",
        text=key.text if key else None,
        headline=head.template.format(key.text) if key else by_eye or None,
        second=head.second_template.format(second.text) if second else None,
        statements=list(trial.statements),
        formula=FormulaView(text=formula.text, nearest=nearest, matches=matches) if formula else None,
        provisional=bool(why),
        why_provisional=why,
        ruler=ruler,
        scale=None if ruler is not None else _scale(evaluation, trial),
        remarks=[remark for remark in remarks if remark],
        standing=standing(trial.verdicts, key is not None, doubts),
    )


def run_answer(evaluation: Evaluation, label: str, doubts: Sequence[str] = ()) -> AnswerView:
    """The answer of a run in the list: the mean of its trials where they can be held together, else the one named.

    How it stands is told by all of its trials.
    """
    answer = answer_view(evaluation, evaluation.trial(label), doubts)
    judged = [*evaluation.verdicts, *(verdict for trial in evaluation.trials for verdict in trial.verdicts)]
    answer = answer.model_copy(update={"standing": standing(judged, answer.text is not None, doubts)})
    mean, found = evaluation.mean, evaluation.comparison
    if mean is None or found is None:
        return answer
    head = evaluation.run.method.judging.headline(evaluation.run.options)
    headline = f"{head.template.format(mean.text)}, mean of {len(found.labels)}"
    return answer.model_copy(update={"text": mean.text, "headline": headline, "second": None})


def _ruler(evaluation: Evaluation, trial: TrialEvaluation) -> RulerView | None:
    """The part of the scale worth looking at: the band, and at least one whole number on each side."""
    result = trial.result(evaluation.key)
    marks = [row for row in trial.candidates if row.expected is not None]
    if result is None or result.unit not in _SCALES or not marks:
        return None
    expanded = 2 * result.standard_uncertainty
    reach = 1.15 * max(_SCALES[result.unit], expanded)
    low, high = max(0.0, result.value - reach), result.value + reach
    # of several with one place on the scale, such as halides with the same water, the nearest stands for all
    inside = {row.expected: row for row in reversed(marks) if low <= (row.expected or 0.0) <= high}
    shown = sorted(inside.values(), key=lambda row: row.expected or 0.0)
    unit = "" if result.unit == "1" else result.unit
    return RulerView(
        unit=unit,
        value=result.value,
        expanded=expanded,
        low=low,
        high=high,
        marks=shown,
        said=_said_of_ruler(result, unit, shown),
    )


def _scale(evaluation: Evaluation, trial: TrialEvaluation) -> ScaleView | None:
    """The key result beside what it is held against; None where there is nothing of that."""
    result = trial.result(evaluation.key)
    marks = [] if result is None else list(_marks(evaluation, trial))
    if result is None or not marks:
        return None
    expanded = COVERAGE * result.standard_uncertainty
    shown = ", ".join(f"{mark.label} {mark.text}" for mark in marks)
    return ScaleView(
        value=result.value,
        expanded=expanded,
        unit=evaluation.key_unit.shown,
        marks=marks,
        said=f"Measured {result.text}; beside it {shown}",
    )


def _marks(evaluation: Evaluation, trial: TrialEvaluation) -> Iterator[ScaleMarkView]:
    judging, options, unit = evaluation.run.method.judging, evaluation.run.options, evaluation.key_unit
    named = {
        word: value for line, word in judging.marks(options).items() if (value := trial.trial.value(line)) is not None
    }
    against = judging.held_against(options, trial.trial.values)
    if against is not None and not any(math.isclose(nominal(against), value, rel_tol=1e-6) for value in named.values()):
        named[judging.accepted_word(options) or "accepted"] = nominal(against)
    if judging.whole:
        named.setdefault(judging.whole, 1.0)
    for word, value in named.items():
        shown = unit.from_si(value)
        yield ScaleMarkView(label=word, value=shown, text=f"{figures(shown, 4)} {unit.shown}".rstrip())


def _said_of_ruler(result: Result, unit: str, marks: list[Candidate]) -> str:
    """The ruler in words."""
    expanded = COVERAGE * result.standard_uncertainty
    low, high = result.value - expanded, result.value + expanded
    inside = [row.text if unit else short(row.ratio or 0.0) for row in marks if row.status == "match"]
    nothing = "no listed hydrate" if unit else "no whole or half number"
    return f"Measured {result.value:.3f}{unit}, band {low:.3f} to {high:.3f}; inside: {', '.join(inside) or nothing}"


_SCALES = {"1": 1.0, "%": 5.0}
"""How far the ruler reaches on each side at least, by unit: a whole ratio, five percent."""
