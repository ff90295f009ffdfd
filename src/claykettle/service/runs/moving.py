"""A figure that was typed on the wrong line: moved to its own in one gesture, or two that changed places exchanged."""

from __future__ import annotations

from dataclasses import dataclass, replace
from uuid import NAMESPACE_OID, uuid5

from claykettle.core.errors import Conflict, Refusal, refuse
from claykettle.core.judgement.question import Question
from claykettle.core.run import usable_readings
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.runs.doubts import doubt_of
from claykettle.service.runs.record import found, judged, parsed, reason_for
from claykettle.service.views.entries import slot_label
from claykettle.service.visit import Visit
from claykettle.store.records import StoredReading, StoredRun, StoredTrial


@dataclass(frozen=True)
class MoveReading:
    """The reading `reading` belongs on another line: that of `slot`, in a trial.

    Where that line is taken, `exchange` puts the two figures in each other's place. `confirmed` keeps a doubted one.
    """

    uuid: str
    reading: str
    slot: str
    trial: str
    reason: str = ""
    by: str = ""
    exchange: bool = False
    confirmed: bool = False


@may(BENCH, INSTRUCTOR)
def move_reading(visit: Visit, run: StoredRun, move: MoveReading) -> StoredRun:
    """Move a figure to another line; its old line is free again, and the log shows both.

    Raises Refusal (path `slot`, `reading` or `reason`), Conflict where the other line is taken and nothing is to be
    exchanged, Doubt as for a figure typed there at first.
    """
    if any(trial.reading(move.uuid) for trial in run.trials):
        return run
    old_trial, old = found(run, move.reading)
    if old not in old_trial.current:
        raise Conflict("This figure was corrected or moved already; the log shows where it stands.")
    if old_trial.position == 0:
        raise refuse("shared", "All trials share this reading; correct it in the log.", "reading")
    place = run.trial_named(move.trial)
    if (place.label, move.slot) == (old_trial.label, old.slot):
        raise refuse("same-line", "It stands on this line already.", "slot")
    definition = run.definition_of(move.slot)
    if move.slot not in usable_readings(run.method, run.options, _missed(run, place)):
        raise refuse("unused-reading", f"The run's options have no use for '{definition.label}'.", "slot")
    reason = reason_for(visit, old, move.reason) or f"typed on the line of {_name(run, old.slot)}"
    taken = [row for row in place.current if row.slot == move.slot]
    if taken and not definition.series:
        return _exchanged(visit, run, move, (old_trial, old), (place, taken[0]), reason)
    gone = _withdrawn(visit, run, old_trial, old, move, reason)
    without = run.with_reading(old_trial, gone)
    place = without.trial_named(move.trial)
    position = place.next_position(move.slot)
    left = next((row for row in place.left if row.slot == move.slot and row.position == position - 1), None)
    if left is not None:
        position -= 1
    row = replace(
        old,
        uuid=move.uuid,
        slot=move.slot,
        position=position,
        revision=place.next_revision(move.slot, position),
        supersedes=left.uuid if left is not None else None,
        unit=_unit_there(old, without, move.slot),
        by=move.by[:120] or old.by,
        reason=reason,
        doubt="",
    )
    reading = parsed(row.text, definition, row.unit)
    doubt: Question | None = doubt_of(without.evaluation, place.label, definition, reading, row.half_width)
    row = replace(row, doubt=doubt.text if doubt else "")
    after = judged(without, place, row, move.confirmed, doubt)
    return visit.keep(run, after.touched(visit.now))


def _missed(run: StoredRun, place: StoredTrial) -> frozenset[str]:
    return run.evaluation.trial(place.label).trial.sheet.shape.missed


def _name(run: StoredRun, slot: str) -> str:
    definition = run.definition_of(slot)
    return definition.labelled(run.options) if slot == definition.name else slot_label(definition, slot)


def _withdrawn(
    visit: Visit, run: StoredRun, trial: StoredTrial, old: StoredReading, move: MoveReading, reason: str
) -> StoredReading:
    """What stands in the old place from now on: nothing, and why. In the midst of a series the place stays empty."""
    last = old.position + 1 == trial.next_position(old.slot)
    return replace(
        old,
        uuid=str(uuid5(NAMESPACE_OID, move.uuid)),
        revision=trial.next_revision(old.slot, old.position),
        supersedes=old.uuid,
        text="",
        at=visit.now,
        by=move.by[:120],
        reason=f"belongs to {_name(run, move.slot)}: {reason}"
        if move.reason
        else f"belongs to {_name(run, move.slot)}",
        doubt="",
        state="withdrawn" if last else "not-taken",
    )


def _unit_there(old: StoredReading, run: StoredRun, slot: str) -> str:
    """The unit in which a figure counts on its new line: its own, or that of the line where none was typed."""
    there = run.definition_of(slot)
    same = run.definition_of(old.slot).dimension == there.dimension
    return old.unit if same else parsed(old.text, there).unit.symbol


def _exchanged(
    visit: Visit,
    run: StoredRun,
    move: MoveReading,
    one: tuple[StoredTrial, StoredReading],
    other: tuple[StoredTrial, StoredReading],
    reason: str,
) -> StoredRun:
    """Both figures corrected to each other's."""
    (first_trial, first), (second_trial, second) = one, other
    if not move.exchange:
        there = _name(run, move.slot)
        raise Conflict(f"{there} already stands as {second.written}: exchange the two, or correct that one first.")
    rows = [
        (trial, _correction(visit, run, trial, row, text, uuid, reason, move.by))
        for trial, row, text, uuid in (
            (first_trial, first, second, str(uuid5(NAMESPACE_OID, move.uuid))),
            (second_trial, second, first, move.uuid),
        )
    ]
    (first_place, first_row), (_, second_row) = rows
    halfway = run.with_reading(first_place, first_row)
    after = judged(halfway, halfway.trial_named(move.trial), second_row, move.confirmed, None, against=run)
    return visit.keep(run, after.touched(visit.now))


def _correction(
    visit: Visit,
    run: StoredRun,
    trial: StoredTrial,
    row: StoredReading,
    shown: StoredReading,
    uuid: str,
    reason: str,
    by: str,
) -> StoredReading:
    in_unit = _unit_there(shown, run, row.slot)
    try:
        parsed(shown.text, run.definition_of(row.slot), in_unit)
    except Refusal as refusal:
        raise Refusal(*(replace(fault, path="slot") for fault in refusal.faults)) from None
    return replace(
        row,
        uuid=uuid,
        revision=trial.next_revision(row.slot, row.position),
        supersedes=row.uuid,
        text=shown.text,
        unit=in_unit,
        at=visit.now,
        by=by[:120],
        reason=reason,
        doubt="",
    )
