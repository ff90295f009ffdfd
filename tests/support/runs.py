"""Runs made from plain texts, for tests."""

from __future__ import annotations

from typing import Any

from claykettle.core.run import Evaluation, Run, TrialEvaluation, evaluate_run
from claykettle.formats.run_file import run_from

ZINC = {"vessel": "31.204 g", "vessel_sample": "32.861 g", "vessel_residue": ["32.151 g", "32.136 g", "32.134 g"]}


def document(
    readings: dict[str, Any] | None = None, options: dict[str, Any] | None = None, **more: Any
) -> dict[str, Any]:
    """A hydrate's run file as plain values."""
    return {
        "format": "clay-kettle/run",
        "version": 1,
        "method": "hydrate",
        "options": {"salt": "ZnSO4"} if options is None else options,
        "instruments": {"balance": {"half_width": "0.001 g"}},
        "trials": [{"label": "1", "readings": dict(ZINC if readings is None else readings)}],
    } | more


def run(readings: dict[str, Any] | None = None, options: dict[str, Any] | None = None, **more: Any) -> Run:
    """A hydrate run."""
    return run_from(document(readings, options, **more))


def evaluated(
    readings: dict[str, Any] | None = None, options: dict[str, Any] | None = None, **more: Any
) -> TrialEvaluation:
    """The first trial of a hydrate run, evaluated."""
    return evaluation(readings, options, **more).trials[0]


def evaluation(
    readings: dict[str, Any] | None = None, options: dict[str, Any] | None = None, **more: Any
) -> Evaluation:
    """A hydrate run, evaluated."""
    return evaluate_run(run(readings, options, **more))


def value(trial: TrialEvaluation, name: str) -> float:
    """A result's value in its unit; there is one."""
    result = trial.result(name)
    assert result is not None, name
    return result.value


def codes(trial: TrialEvaluation) -> set[str]:
    """The codes of a trial's verdicts."""
    return {verdict.code for verdict in trial.verdicts}
