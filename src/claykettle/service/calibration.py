"""Runs on known samples, for the next run to be calibrated by."""

from __future__ import annotations

from sqlalchemy.orm import Session

from claykettle.core.methods.registry import method_named
from claykettle.service.runs import all_runs, evaluation_of
from claykettle.service.views import CalibrationsView, CalibrationView


def calibrations(session: Session, method: str) -> CalibrationsView:
    """What the runs of a method would tell another, were their samples known. Raises Refusal for an unknown method."""
    found = method_named(method)
    views: list[CalibrationView] = []
    for run in all_runs(session):
        if run.method != found.name:
            continue
        evaluation = evaluation_of(run)
        whole = [trial.trial for trial in evaluation.trials if trial.result(evaluation.key) is not None]
        rows = list(found.aftercare.calibrates(whole)) if whole else []
        if rows:
            options = {path: text for row in rows for path, text in row.options.items()}
            views.append(
                CalibrationView(
                    uuid=run.uuid,
                    title=run.title,
                    bench=run.bench,
                    date=run.date.isoformat(),
                    texts=[row.text for row in rows],
                    options=options,
                )
            )
    return CalibrationsView(runs=views)
