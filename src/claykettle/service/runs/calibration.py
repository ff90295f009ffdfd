"""Runs on known samples, for the next run to be calibrated by."""

from __future__ import annotations

from claykettle.core.methods.registry import method_named
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.revealing import held_back
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun
from claykettle.store.tables import SummaryRow


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


MOST = 20
"""So many runs, the latest, are offered."""


class KeptCalibration(View):
    """What a run tells, without the names of its bench and day."""

    uuid: str
    title: str
    texts: list[str]
    options: dict[str, str]


@may(BENCH, INSTRUCTOR)
def calibrations(visit: Visit, method: str) -> CalibrationsView:
    """What the runs of a method would tell another, were their samples known. Raises Refusal for an unknown method."""
    name = method_named(method).name
    kept = visit.summaries("calibration", SummaryRow.method == name, SummaryRow.calibrates, limit=MOST)
    return CalibrationsView(
        runs=[
            CalibrationView(
                uuid=run.uuid,
                title=run.title,
                bench=row.bench,
                date=row.date.isoformat(),
                texts=run.texts,
                options=run.options,
            )
            for row in kept
            if not held_back(visit, row.place.number)
            for run in [KeptCalibration.model_validate_json(row.text)]
        ]
    )


def calibration_text(run: StoredRun) -> str | None:
    """What a run tells another, as JSON; None where it tells nothing."""
    evaluation = run.evaluation
    whole = [trial.trial for trial in evaluation.trials if trial.result(evaluation.key) is not None]
    rows = list(run.method.aftercare.calibrates(whole)) if whole else []
    if not rows:
        return None
    options = {path: text for row in rows for path, text in row.options.items()}
    texts = [row.text for row in rows]
    return KeptCalibration(uuid=run.uuid, title=run.title, texts=texts, options=options).model_dump_json()
