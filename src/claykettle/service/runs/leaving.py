"""A reading that was not taken: declared so with its reason, and taken after all where it can still be had."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from claykettle.core.errors import Conflict, refuse
from claykettle.core.quantity import unit
from claykettle.core.sheet import ReadingDef
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.visit import Visit
from claykettle.store.records import StoredReading, StoredRun, StoredTrial

LONGEST_REASON = 500


@dataclass(frozen=True)
class LeaveOut:
    """A reading declared not taken, in its place of a trial, with the reason; in the next place of a series it ends it.

    A figure that stands there is left out: it stays in the log, struck through. Of a series its last place is free
    again then, such as for the weighing after another heating.
    """

    uuid: str
    slot: str
    position: int
    reason: str
    trial: str = "1"
    by: str = ""


@may(BENCH, INSTRUCTOR)
def leave_out(visit: Visit, run: StoredRun, said: LeaveOut) -> StoredRun:
    """Append that a reading was not taken; the same UUID twice says it once.

    Raises Refusal (path `reason`, `slot` or `position`), Conflict where it was said already.
    """
    if any(trial.reading(said.uuid) for trial in run.trials):
        return run
    place = run.trial_named(said.trial)
    definition = run.definition_of(said.slot)
    reason = said.reason.strip()[:LONGEST_REASON]
    if not reason:
        raise refuse("reason-missing", "Say why, in a word or two: 'forgotten', 'spilled', 'no thermometer'.", "reason")
    standing = _standing(run, place, said)
    if standing is not None and standing.state == "not-taken":
        raise Conflict(f"{definition.labelled(run.options)} was declared not taken already ({standing.reason}).")
    if standing is None and said.position != place.next_position(said.slot):
        raise refuse("position", f"The next place here is number {place.next_position(said.slot)}.", "position")
    if standing is None and said.position > 1 and not definition.series:
        raise refuse("position", "This reading is taken once; correct it where it stands.", "position")
    row = left_row(said.uuid, said.slot, said.position, unit(definition.unit).symbol, visit.now)
    row = replace(
        row,
        revision=place.next_revision(said.slot, said.position),
        supersedes=standing.uuid if standing is not None else None,
        by=said.by[:120],
        reason=reason,
        state="withdrawn" if _is_last_of_series(place, definition, standing) else "not-taken",
    )
    return visit.keep(run, run.with_reading(place, row).touched(visit.now).with_due_timer(place.label, visit.now))


def _is_last_of_series(place: StoredTrial, definition: ReadingDef, standing: StoredReading | None) -> bool:
    last = standing is not None and standing.position + 1 == place.next_position(standing.slot)
    return definition.series and last


def left_row(uuid: str, slot: str, position: int, in_unit: str, at: datetime) -> StoredReading:
    """A row that says of a place that nothing was taken there."""
    return StoredReading(
        uuid=uuid,
        slot=slot,
        position=position,
        revision=0,
        supersedes=None,
        text="",
        unit=in_unit,
        instrument="",
        at=at,
        by="",
        reason="",
        doubt="",
        state="not-taken",
    )


def _standing(run: StoredRun, place: StoredTrial, said: LeaveOut) -> StoredReading | None:
    """What stands in the place now; what all trials share is not left out of one of them."""
    if any(row.slot == said.slot for row in run.shared):
        raise refuse("shared", "All trials share this reading; it cannot be left out of one of them.", "slot")
    rows = (*place.current, *place.left)
    return next((row for row in rows if (row.slot, row.position) == (said.slot, said.position)), None)
