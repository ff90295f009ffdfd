"""Recording: readings, corrections, observations and steps. Rows are added, never changed or taken away."""

from __future__ import annotations

from datetime import datetime, timedelta
from uuid import uuid4

from sqlalchemy import select
from sqlalchemy.orm import Session

from claykettle.core.errors import Conflict, Doubt, NotFound, Refusal, refuse
from claykettle.core.evaluation import Evaluation, evaluate_run
from claykettle.core.methods.registry import method_named
from claykettle.core.procedure import PlannedStep, Progress, steps_of
from claykettle.core.reading import Reading, parse_reading
from claykettle.core.run import reading_definition
from claykettle.core.verdict import Verdict
from claykettle.core.worksheet import ReadingDef
from claykettle.service.runs import core_run, find_run, is_current, procedure_of, with_unit
from claykettle.store.tables import ObservationRow, ReadingRow, RunRow, StepEventRow, TrialRow

REASON_AFTER = timedelta(seconds=30)
"""A correction within this time is a slip of the finger; later it needs a reason."""


def record_reading(
    session: Session,
    now: datetime,
    run_uuid: str,
    *,
    uuid: str,
    slot: str,
    position: int,
    text: str,
    trial: str = "1",
    by: str = "",
    confirmed: bool = False,
) -> RunRow:
    """Append one reading; the same UUID twice gives the same row.

    Raises Refusal (path `text` or `slot`), Conflict where the place is taken, and Doubt where the reading
    cannot be right unless `confirmed`; the doubt then stays with the row.
    """
    run = find_run(session, run_uuid, lock=True)
    row = _trial(run, trial)
    if _is_repeat(session, uuid, row, slot, position, text):
        return run
    definition = _definition(run, slot)
    reading = _parse(text, definition)
    _refuse_taken(row, slot, position, definition)
    before = evaluate_run(core_run(run))
    row.readings.append(_reading_row(run, uuid, slot, position, text, reading, now, by))
    _finish(session, run, now, before, row.readings[-1], confirmed)
    return run


def correct_reading(
    session: Session,
    now: datetime,
    run_uuid: str,
    *,
    uuid: str,
    supersedes: str,
    text: str,
    reason: str = "",
    by: str = "",
    confirmed: bool = False,
) -> RunRow:
    """Append a correction that names the row it supersedes; the old row stays as it is.

    Raises Refusal (a reason is asked 30 s after the reading), Conflict where another correction came first.
    """
    run = find_run(session, run_uuid, lock=True)
    old = session.scalar(select(ReadingRow).where(ReadingRow.uuid == supersedes))
    if old is None or old.trial.run_id != run.id:
        raise NotFound("The reading to correct does not belong to this run.")
    if _is_repeat(session, uuid, old.trial, old.slot, old.position, text):
        return run
    if not is_current(old, old.trial.readings):
        newer = next(row for row in old.trial.readings if row.supersedes_id == old.id)
        raise Conflict(f"{with_unit(old.text, old.unit)} was already corrected to {with_unit(newer.text, newer.unit)}.")
    reading = _parse(text, _definition(run, old.slot))
    if now - old.at > REASON_AFTER and not reason.strip():
        raise refuse("reason-missing", "Say why, in a word or two: 'digits swapped', 'wrong line'.", "reason")
    before = evaluate_run(core_run(run))
    row = _reading_row(run, uuid, old.slot, old.position, text, reading, now, by)
    row.revision, row.supersedes, row.supersedes_id = old.revision + 1, old, old.id
    row.reason = reason.strip()[:500] or "corrected at once"
    old.trial.readings.append(row)
    _finish(session, run, now, before, row, confirmed)
    return run


def observe(
    session: Session, now: datetime, run_uuid: str, *, uuid: str, tag: str, text: str = "", by: str = ""
) -> RunRow:
    """Note something seen. Raises Refusal for an empty tag."""
    run = find_run(session, run_uuid, lock=True)
    if session.scalar(select(ObservationRow.id).where(ObservationRow.uuid == uuid)) is not None:
        return run
    if not tag.strip():
        raise refuse("empty", "Say in a word what was seen.", "tag")
    row = ObservationRow(uuid=uuid, trial="1", at=now, by=by, tag=tag.strip()[:60], text=text.strip()[:2000])
    run.observations.append(row)
    _touch(session, run, now)
    return run


def mark_step(session: Session, now: datetime, run_uuid: str, *, uuid: str, step: str, kind: str) -> RunRow:
    """Start a step's timer, give it more time, or finish the step.

    Raises Refusal for a step that the run does not have, or a kind other than started, extended, finished.
    """
    run = find_run(session, run_uuid, lock=True)
    if session.scalar(select(StepEventRow.id).where(StepEventRow.uuid == uuid)) is not None:
        return run
    planned = next((row for row in planned_steps(run, evaluate_run(core_run(run))) if row.key == step), None)
    if planned is None:
        raise refuse(
            "unknown-step", "This step is not part of the run any more; the page shows the current ones.", "step"
        )
    minutes = planned.minutes or 0.0
    if kind == "extended" and planned.step.timer is not None:
        minutes = planned.step.timer.more or planned.step.timer.minutes
    if kind not in ("started", "extended", "finished"):
        raise refuse("unknown-kind", "A step is started, extended or finished.", "kind")
    seconds = 0 if kind == "finished" else round(minutes * 60)
    run.step_events.append(StepEventRow(uuid=uuid, step=step, kind=kind, seconds=seconds, at=now))
    session.flush()
    _start_due_timer(run, evaluate_run(core_run(run)), now)
    _touch(session, run, now)
    return run


def planned_steps(run: RunRow, evaluation: Evaluation) -> list[PlannedStep]:
    """The run's steps under its procedure, from what has been weighed and marked."""
    trial = next(row for row in run.trials if row.position == 1)
    rows = [row for row in trial.readings if is_current(row, trial.readings)]
    taken: dict[str, int] = {}
    for row in rows:
        taken[row.slot] = max(taken.get(row.slot, 0), row.position)
    verdicts = {(verdict.code, verdict.about) for verdict in evaluation.trials[0].verdicts}
    finished = {event.step for event in run.step_events if event.kind == "finished"}
    return steps_of(procedure_of(run), run.schools, Progress(taken, verdicts, finished))


def _trial(run: RunRow, label: str) -> TrialRow:
    row = next((trial for trial in run.trials if trial.position > 0 and trial.label == label), None)
    if row is None:
        raise NotFound(f"This run has no trial '{label}'.")
    return row


def _is_repeat(session: Session, uuid: str, trial: TrialRow, slot: str, position: int, text: str) -> bool:
    """Whether this very reading was recorded before. Raises Conflict where its UUID was used for another one."""
    row = session.scalar(select(ReadingRow).where(ReadingRow.uuid == uuid))
    if row is None:
        return False
    if (row.trial_id, row.slot, row.position, row.text) != (trial.id, slot, position, text):
        shown = with_unit(row.text, row.unit)
        raise Conflict(f"This entry's number was already used for {shown}; nothing was changed. Type it once more.")
    return True


def _definition(run: RunRow, slot: str) -> ReadingDef:
    definition = reading_definition(method_named(run.method), slot)
    if definition is None:
        raise refuse("unknown-field", f"'{slot[:40]}' is not a reading of this method.", "slot")
    return definition


def _parse(text: str, definition: ReadingDef) -> Reading:
    try:
        return parse_reading(text, definition.dimension, definition.unit)
    except Refusal as refusal:
        raise refusal.below("text") from None


def _refuse_taken(trial: TrialRow, slot: str, position: int, definition: ReadingDef) -> None:
    current = {row.position: row for row in trial.readings if row.slot == slot and is_current(row, trial.readings)}
    if position in current:
        row = current[position]
        which = f"heating {position}" if definition.series else definition.label
        raise Conflict(
            f"{which} already stands as {with_unit(row.text, row.unit)}; correct it in the log if it is wrong."
        )
    if position != len(current) + 1 or (position > 1 and not definition.series):
        raise refuse("position", f"The next weighing here is number {len(current) + 1}, not {position}.", "position")


def _reading_row(
    run: RunRow, uuid: str, slot: str, position: int, text: str, reading: Reading, now: datetime, by: str
) -> ReadingRow:
    return ReadingRow(
        uuid=uuid,
        slot=slot,
        position=position,
        revision=0,
        supersedes_id=None,
        text=text,
        unit=reading.unit.symbol,
        instrument=run.balance,
        at=now,
        by=by[:120],
        reason="",
        doubt="",
    )


def _finish(session: Session, run: RunRow, now: datetime, before: Evaluation, row: ReadingRow, confirmed: bool) -> None:
    """Judge the new row; a fresh stop asks before it is kept, and a confirmed one stays with the row."""
    session.flush()
    after = evaluate_run(core_run(run))
    fresh = _fresh_stops(before, after)
    if fresh and not confirmed:
        raise Doubt(fresh[0].code, fresh[0].text)
    row.doubt = " ".join(verdict.text for verdict in fresh)
    _start_due_timer(run, after, now)
    _touch(session, run, now)


def _fresh_stops(before: Evaluation, after: Evaluation) -> list[Verdict]:
    def stops(evaluation: Evaluation) -> list[Verdict]:
        return [verdict for trial in evaluation.trials for verdict in trial.verdicts if verdict.level == "stop"]

    known = {(verdict.code, verdict.about) for verdict in stops(before)}
    return [verdict for verdict in stops(after) if (verdict.code, verdict.about) not in known]


def _start_due_timer(run: RunRow, evaluation: Evaluation, now: datetime) -> None:
    """Start the timer of a step that begins by itself, such as cooling when the flame is off."""
    step = next((row for row in planned_steps(run, evaluation) if row.state == "now"), None)
    if step is None or step.step.timer is None or not step.step.timer.auto or step.minutes is None:
        return
    if any(event.step == step.key for event in run.step_events):
        return
    seconds = round(step.minutes * 60)
    run.step_events.append(StepEventRow(uuid=str(uuid4()), step=step.key, kind="started", seconds=seconds, at=now))


def _touch(session: Session, run: RunRow, now: datetime) -> None:
    # one microsecond later at least, so that the row changes and its version counts up
    run.changed_at = max(now, run.changed_at + timedelta(microseconds=1))
    session.flush()
