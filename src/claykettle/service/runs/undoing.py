"""Taking back what a tap did: a step marked, something noted, a trial begun. The log keeps it, struck through."""

from __future__ import annotations

from dataclasses import dataclass
from uuid import NAMESPACE_OID, uuid5

from claykettle.core.errors import Conflict, NotFound, refuse
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.views.undo import AT_ONCE, Tap, begun_with, is_begun, went_on
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun, StoredWithdrawal


@dataclass(frozen=True)
class TakeBack:
    """The row that counts no more: the UUID of a step's mark or an observation, or `trial LABEL`."""

    uuid: str
    row: str
    reason: str = ""
    by: str = ""


@may(BENCH, INSTRUCTOR)
def take_back(visit: Visit, run: StoredRun, wanted: TakeBack) -> StoredRun:
    """Take a tap back; the same UUID twice does it once.

    Raises NotFound, Conflict where it was taken back already or a trial has something in it, Refusal `reason-missing`
    a minute after it, or where somebody went on in the trial.
    """
    if any(row.uuid == wanted.uuid for row in run.withdrawals):
        return run
    if wanted.row.startswith("trial "):
        return _without_trial(visit, run, wanted)
    taps: tuple[Tap, ...] = (*run.step_events, *run.observations)
    tap = next((row for row in taps if row.uuid == wanted.row), None)
    if tap is None:
        raise NotFound("What is to be taken back does not belong to this run.")
    if tap.uuid in run.withdrawn:
        raise Conflict("This was taken back already.")
    if not wanted.reason.strip() and (visit.now - tap.at > AT_ONCE or went_on(run, tap)):
        text = "Somebody went on since, or more than a minute has passed: say why, in a word or two."
        raise refuse("reason-missing", text, "reason")
    after = run
    for index, row in enumerate([tap, *begun_with(run, tap)]):
        uuid = wanted.uuid if index == 0 else str(uuid5(NAMESPACE_OID, f"{wanted.uuid} {index}"))
        after = after.with_withdrawal(_withdrawal(visit, wanted, uuid, row.uuid))
    return visit.keep(run, after.touched(visit.now))


def _withdrawal(visit: Visit, wanted: TakeBack, uuid: str, row: str) -> StoredWithdrawal:
    reason = wanted.reason.strip()[:500] or "taken back at once"
    return StoredWithdrawal(uuid, row, reason, visit.now, wanted.by[:120])


def _without_trial(visit: Visit, run: StoredRun, wanted: TakeBack) -> StoredRun:
    trial = run.trial(wanted.row.removeprefix("trial "))
    if trial is None:
        raise NotFound("This run has no such trial; it may have been taken back already.")
    if len(run.own_trials) == 1:
        raise Conflict("A run keeps its last trial.")
    if is_begun(run, trial):
        raise Conflict(f"Trial {trial.label} has something in it; declare what was not taken, its record stays.")
    return visit.keep(
        run, run.with_withdrawal(_withdrawal(visit, wanted, wanted.uuid, trial.row_uuid)).touched(visit.now)
    )
