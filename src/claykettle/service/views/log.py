"""A run's log: every reading that was typed, what was seen."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.quantity import digits_of, unit
from claykettle.service.views.base import View
from claykettle.service.views.entries import slot_label
from claykettle.store.records import StoredObservation, StoredReading, StoredRun, StoredTrial, iso


class LoggedView(View):
    """A reading as a log shows it. `current` is false for one that no longer stands."""

    uuid: str
    slot: str
    label: str
    text: str
    unit: str
    at: str
    by: str
    instrument: str
    current: bool
    corrects: str | None
    reason: str
    doubt: str


class ReadingView(LoggedView):
    """One row of a run's log."""

    trial: str
    position: int


class ObservationView(View):
    """Something seen at the bench."""

    uuid: str
    trial: str
    at: str
    by: str
    tag: str
    text: str


def reading_views(run: StoredRun) -> list[ReadingView]:
    """All readings of a run, the shared ones first, each trial in order."""
    return [view for trial in run.trials for view in _rows(trial, {slot: _label(run, slot) for slot in _slots(trial)})]


def _slots(trial: StoredTrial) -> set[str]:
    return {row.slot for row in trial.readings}


def _label(run: StoredRun, slot: str) -> tuple[str, str]:
    """What a slot is called, and the round that its positions count; empty where there is none."""
    definition = run.definition(slot)
    if definition is None:
        return slot, ""
    label = definition.labelled(run.options) if slot == definition.name else slot_label(definition, slot)
    return label, definition.round if definition.series else ""


def _rows(trial: StoredTrial, labels: dict[str, tuple[str, str]]) -> Iterator[ReadingView]:
    current = {row.uuid for row in trial.current}
    for row in trial.readings:
        label, counted = labels[row.slot]
        old = trial.reading(row.supersedes) if row.supersedes else None
        yield _row(row, trial.label, f"{label}, {counted} {row.position}" if counted else label, old, current)


def _row(row: StoredReading, trial: str, label: str, old: StoredReading | None, current: set[str]) -> ReadingView:
    return ReadingView(
        uuid=row.uuid,
        trial=trial,
        slot=row.slot,
        position=row.position,
        label=label,
        text=row.digits,
        unit=unit(row.unit).shown,
        at=iso(row.at),
        by=row.by,
        instrument=row.instrument,
        current=row.uuid in current,
        corrects=digits_of(old.text) if old else None,
        reason=row.reason,
        doubt=row.doubt,
    )


def observation_view(row: StoredObservation) -> ObservationView:
    """One thing seen."""
    return ObservationView(uuid=row.uuid, trial=row.trial, at=iso(row.at), by=row.by, tag=row.tag, text=row.text)
