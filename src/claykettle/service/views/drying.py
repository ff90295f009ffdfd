"""What stands and waits overnight: where, since when, under which pencilled name; and the names for the next papers."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.method import Method
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.views.base import View
from claykettle.service.views.lines import RestView, rest_of
from claykettle.service.views.steps import timer_end
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun, StoredTrial, iso
from claykettle.store.summaries import Kept
from claykettle.store.tables import SummaryRow

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
    """Everything that stands and waits, and the names for papers and dishes; `is_cut` where there is more than that."""

    now: str
    is_cut: bool
    places: list[str]
    resting: list[RestingView]
    names: list[PencilView]


MOST = 200
"""So many runs, the latest, are told of; that there are more is said."""


class KeptResting(View):
    """Something that stands and waits, without the names of its bench and day."""

    trial: str
    doing: str
    rest: RestView
    due: str | None


class KeptPencil(View):
    """A name for a paper, without those of its bench and day."""

    trial: str
    weighed: bool


class DryingOfRun(View):
    """What of a run stands and waits, and the names that its papers and dishes bear."""

    uuid: str
    title: str
    has_trials: bool
    resting: list[KeptResting]
    names: list[KeptPencil]


@may(INSTRUCTOR)
def drying_view(visit: Visit) -> DryingView:
    """Everything that waits, the longest first, and the names that papers and dishes bear."""
    kept = visit.summaries("drying", SummaryRow.waits, limit=MOST + 1)
    runs = [(row, DryingOfRun.model_validate_json(row.text)) for row in kept[:MOST]]
    resting = [
        RestingView(
            uuid=run.uuid,
            title=run.title,
            bench=row.bench,
            trial=one.trial,
            label=_label(row, run, one.trial),
            doing=one.doing,
            rest=one.rest,
            due=one.due,
        )
        for row, run in runs
        for one in run.resting
    ]
    names = [
        PencilView(
            uuid=run.uuid, trial=one.trial, label=_label(row, run, one.trial), title=run.title, weighed=one.weighed
        )
        for row, run in runs
        for one in run.names
    ]
    resting.sort(key=lambda row: row.rest.since)
    return DryingView(now=iso(visit.now), is_cut=len(kept) > MOST, places=list(PLACES), resting=resting, names=names)


def drying_text(run: StoredRun) -> str | None:
    """What of a run stands and waits as JSON; None where nothing does."""
    unfinished = [trial for trial in run.own_trials if run.step_now(trial.label) is not None]
    carriers = _carriers(run.method)
    found = DryingOfRun(
        uuid=run.uuid,
        title=run.title,
        has_trials=len(run.own_trials) > 1,
        resting=[row for trial in unfinished for row in _resting(run, trial)],
        names=[
            KeptPencil(trial=trial.label, weighed=any(row.slot in carriers for row in trial.current))
            for trial in unfinished
            if carriers
        ],
    )
    return found.model_dump_json() if found.resting or found.names else None


def _carriers(method: Method) -> frozenset[str]:
    """The readings of what a solid is collected on, such as a paper: whatever stands on a pan but the vessel."""
    rows = (row for row in method.page.readings if row.stand and (row.pan == "empty" or row.sampled))
    return frozenset(row.name for row in rows)


def _label(kept: Kept, run: DryingOfRun, trial: str) -> str:
    """What is pencilled on the paper: bench, trial where there are several, day and month."""
    several = f" {trial}" if run.has_trials else ""
    return f"{kept.bench}{several} · {kept.date.day} {kept.date:%b}"


def _resting(run: StoredRun, trial: StoredTrial) -> Iterator[KeptResting]:
    step = run.step_now(trial.label)
    rest = rest_of(run, trial.label, step)
    if step is None or rest is None:
        return
    end = timer_end(run.events(trial.label), step.key)
    doing = step.text(step.step.title)
    yield KeptResting(trial=trial.label, doing=doing, rest=rest, due=iso(end) if end else None)
