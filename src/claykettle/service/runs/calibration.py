"""Runs on known samples, for the next run to be calibrated by."""

from __future__ import annotations

from claykettle.core.methods.registry import method_named
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun


class CalibrationView(View):
    """What a run on a known sample tells the next: sentences, and its options by path, as typed."""

    uuid: str
    title: str
    bench: str
    date: str
    texts: list[str]
    options: dict[str, str]


class CalibrationsView(View):
    """The runs of a method that could calibrate another, the latest first."""

    runs: list[CalibrationView]


@may(BENCH, INSTRUCTOR)
def calibrations(visit: Visit, method: str) -> CalibrationsView:
    """What the runs of a method would tell another, were their samples known. Raises Refusal for an unknown method."""
    name = method_named(method).name
    found = visit.digests("calibration", lambda run: (run.method.name, _calibration(run)))
    return CalibrationsView(runs=[view for own, view in found if own == name and view is not None])


def _calibration(run: StoredRun) -> CalibrationView | None:
    evaluation = run.evaluation
    whole = [trial.trial for trial in evaluation.trials if trial.result(evaluation.key) is not None]
    rows = list(run.method.aftercare.calibrates(whole)) if whole else []
    if not rows:
        return None
    return CalibrationView(
        uuid=run.uuid,
        title=run.title,
        bench=run.bench,
        date=run.date.isoformat(),
        texts=[row.text for row in rows],
        options={path: text for row in rows for path, text in row.options.items()},
    )
