"""What stands and waits overnight: where, since when, under which pencilled name; and the names for the next papers."""

from __future__ import annotations

from datetime import datetime

from claykettle.core.methods.registry import method_named
from claykettle.core.run import PlannedStep
from claykettle.service.present import rest_of, timer_end
from claykettle.service.runs import iso
from claykettle.service.steps import events_of, planned_steps
from claykettle.service.views import DryingView, PencilView, RestingView
from claykettle.store.records import StoredRun, StoredTrial

PLACES = tuple(f"shelf {shelf}, place {place}" for shelf in (1, 2, 3) for place in (1, 2, 3, 4))
"""The places of the oven map: three shelves of four, as most drying ovens have."""
CARRIERS = ("paper", "papers", "dish")


def drying_view(runs: list[StoredRun], now: datetime) -> DryingView:
    """Everything that waits, the longest first, and the names that papers and dishes bear."""
    resting: list[RestingView] = []
    names: list[PencilView] = []
    for run in runs:
        for trial in run.own_trials:
            steps = planned_steps(run, trial.label)
            current = next((step for step in steps if step.state == "now"), None)
            if current is not None:
                resting += _resting(run, trial, current)
            if "collected" in {row.name for row in method_named(run.method).page.readings} and current is not None:
                names.append(_pencilled(run, trial))
    return DryingView(
        now=iso(now), places=list(PLACES), resting=sorted(resting, key=lambda row: row.rest.since), names=names
    )


def _label(run: StoredRun, trial: StoredTrial) -> str:
    """What is pencilled on the paper: bench, trial where there are several, day and month."""
    several = f" {trial.label}" if len(run.own_trials) > 1 else ""
    return f"{run.bench}{several} · {run.date.day} {run.date:%b}"


def _resting(run: StoredRun, trial: StoredTrial, step: PlannedStep) -> list[RestingView]:
    rest = rest_of(run, trial, step)
    if rest is None:
        return []
    end = timer_end(events_of(run, trial.label), step.key)
    return [
        RestingView(
            uuid=run.uuid,
            title=run.title,
            bench=run.bench,
            trial=trial.label,
            label=_label(run, trial),
            doing=step.text(step.step.title),
            rest=rest,
            due=iso(end) if end else None,
        )
    ]


def _pencilled(run: StoredRun, trial: StoredTrial) -> PencilView:
    weighed = any(row.slot in CARRIERS for row in trial.current)
    return PencilView(uuid=run.uuid, trial=trial.label, label=_label(run, trial), title=run.title, weighed=weighed)
