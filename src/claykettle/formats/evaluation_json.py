"""The evaluation as the JSON that `kettle evaluate` prints and the application answers with."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from claykettle.core.judgement.expected import in_unit
from claykettle.core.run import Evaluation, Result, TrialEvaluation, reading_definition, steps_missed
from claykettle.core.verdict import Candidate, Verdict


def evaluation_document(evaluation: Evaluation) -> dict[str, Any]:
    """The evaluation as plain JSON values."""
    return {
        "format": "clay-kettle/evaluation",
        "version": 1,
        "method": evaluation.run.method.name,
        "key": evaluation.key,
        "trials": [_trial(evaluation, trial) for trial in evaluation.trials],
        "summary": {
            row.name: {"mean": row.mean, "standard_deviation": row.standard_deviation, "n": row.n, "unit": row.unit}
            for row in evaluation.summary
        },
        "verdicts": [_verdict(verdict) for verdict in evaluation.verdicts],
    }


def _trial(evaluation: Evaluation, trial: TrialEvaluation) -> dict[str, Any]:
    results: dict[str, Any] = {row.name: _result(row) for row in trial.results}
    results |= {name: {key: _result(row) for key, row in rows.items()} for name, rows in trial.groups.items()}
    results |= {name: {"text": word.text, "nearest": word.nearest} for name, word in trial.words.items()}
    results |= {name: {"text": word} for name, word in trial.said.items()}
    return {
        "label": trial.label,
        "results": results,
        "verdicts": [_verdict(verdict) for verdict in trial.verdicts],
        "working": [asdict(line) for line in trial.working],
        "budget": [asdict(share) for share in trial.budget],
        "candidates": [_candidate(row) for row in trial.candidates],
        "statements": [vars(statement) for statement in trial.statements],
        "steps_missed": list(steps_missed(evaluation.run, trial.label)),
        "expected": _expected(evaluation, trial.label),
    }


def _expected(evaluation: Evaluation, label: str) -> dict[str, Any]:
    run = evaluation.run
    rows: dict[str, Any] = {}
    for name, row in evaluation.expected(label).items():
        definition = reading_definition(run.method, name, run.options)
        if definition is not None:
            rows[name] = in_unit(row, definition.unit)
    return rows


def _result(row: Result) -> dict[str, Any]:
    return {
        "value": row.value,
        "standard_uncertainty": row.standard_uncertainty,
        "unit": row.unit,
        "text": row.text,
        "label": row.label,
    }


def _candidate(row: Candidate) -> dict[str, Any]:
    return {
        "text": row.text,
        "ratio": row.ratio,
        "misfit": row.misfit,
        "status": row.status,
        "expected": row.expected,
        "likelihood": row.likelihood,
        "seen": row.seen,
        "charges": row.charges,
    }


def _verdict(verdict: Verdict) -> dict[str, Any]:
    return {"code": verdict.code, "level": verdict.level, "about": verdict.about, "text": verdict.text}
