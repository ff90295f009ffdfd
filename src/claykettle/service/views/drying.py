"""What stands and waits overnight: where, since when, under which pencilled name; and the names for the next papers."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from claykettle.core.method import Method
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.views.base import View
from claykettle.service.views.lines import RestView, rest_of
from claykettle.service.views.steps import timer_end
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun, StoredTrial, iso

PLACES = tuple(f"shelf {shelf}, place {place}" for shelf in (1, 2, 3) for place in (1, 2, 3, 4))
"""The places of the oven map: three shelves of four, as most drying ovens have."""


class RestingView(View):
    """Something that stands and waits: of which run, what on its label, where, since when, and when it is due."""

    uuid: str
    title: str
    bench: str
    trial: str
    label: str
    doing: str
    rest: RestView
    due: str | None


class PencilView(View):
    """A name to be pencilled on a paper or dish before it is weighed; whether it was weighed already."""

    uuid: str
    trial: str
    label: str
    title: str
    weighed: bool


class DryingView(View):
    """Everything that stands and waits, and the names for papers and dishes."""

    now: str
    places: list[str]
    resting: list[RestingView]
    names: list[PencilView]


@dataclass(frozen=True)
class _OfARun:
    """What of a run stands and waits, and the names that its papers and dishes bear."""

    resting: tuple[RestingView, ...]
    names: tuple[PencilView, ...]


@may(INSTRUCTOR)
def drying_view(visit: Visit) -> DryingView:
    """Everything that waits, the longest first, and the names that papers and dishes bear."""
    runs = visit.digests("drying", _of_a_run)
    resting = sorted((row for run in runs for row in run.resting), key=lambda row: row.rest.since)
    names = [row for run in runs for row in run.names]
    return DryingView(now=iso(visit.now), places=list(PLACES), resting=resting, names=names)


def _of_a_run(run: StoredRun) -> _OfARun:
    unfinished = [trial for trial in run.own_trials if run.step_now(trial.label) is not None]
    carriers = _carriers(run.method)
    return _OfARun(
        tuple(row for trial in unfinished for row in _resting(run, trial)),
        tuple(_pencilled(run, trial, carriers) for trial in unfinished if carriers),
    )


def _carriers(method: Method) -> frozenset[str]:
    """The readings of what a solid is collected on, such as a paper: whatever stands on a pan but the vessel."""
    rows = (row for row in method.page.readings if row.stand and (row.pan == "empty" or row.sampled))
    return frozenset(row.name for row in rows)


def _label(run: StoredRun, trial: StoredTrial) -> str:
    """What is pencilled on the paper: bench, trial where there are several, day and month."""
    several = f" {trial.label}" if len(run.own_trials) > 1 else ""
    return f"{run.bench}{several} · {run.date.day} {run.date:%b}"


def _resting(run: StoredRun, trial: StoredTrial) -> Iterator[RestingView]:
    step = run.step_now(trial.label)
    rest = rest_of(run, trial.label, step)
    if step is None or rest is None:
        return
    end = timer_end(run.events(trial.label), step.key)
    yield RestingView(
        uuid=run.uuid,
        title=run.title,
        bench=run.bench,
        trial=trial.label,
        label=_label(run, trial),
        doing=step.text(step.step.title),
        rest=rest,
        due=iso(end) if end else None,
    )


def _pencilled(run: StoredRun, trial: StoredTrial, carriers: frozenset[str]) -> PencilView:
    weighed = any(row.slot in carriers for row in trial.current)
    return PencilView(uuid=run.uuid, trial=trial.label, label=_label(run, trial), title=run.title, weighed=weighed)
