"""Recording: readings, corrections, observations and steps. Rows are added, never changed or taken away."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from functools import lru_cache
from uuid import uuid4

from sqlalchemy.orm import Session

from claykettle.core.errors import Conflict, Doubt, NotFound, Refusal, refuse
from claykettle.core.evaluation import Evaluation
from claykettle.core.judgement.plausibility import Question, Weighing, question
from claykettle.core.methods.registry import method_named
from claykettle.core.procedure import PlannedStep, Progress, steps_of
from claykettle.core.reading import Reading, parse_reading
from claykettle.core.run import reading_definition
from claykettle.core.verdict import Verdict
from claykettle.core.worksheet import ReadingDef
from claykettle.service.runs import evaluation_of, find_run, procedure_of, with_unit
from claykettle.store.records import StoredObservation, StoredReading, StoredRun, StoredStepEvent, StoredTrial
from claykettle.store.runs import keep

LONGEST_AWAY = timedelta(days=7)
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
    typed_at: datetime | None = None,
) -> StoredRun:
    """Append one reading; the same UUID twice gives the same row.

    `typed_at` is when it was typed on a device without connection; a time that cannot be is not believed.

    Raises Refusal (path `text` or `slot`), Conflict where the place is taken, and Doubt where the reading
    cannot be right unless `confirmed`; the doubt then stays with the row.
    """
    run = find_run(session, run_uuid, lock=True)
    place = _trial(run, trial)
    if _is_repeat(run, uuid, place, slot, position, text):
        return run
    definition = _definition(run, slot)
    reading = _parse(text, definition)
    _refuse_taken(place, slot, position, definition)
    doubt = _question(run, definition, reading)
    if doubt is not None and not confirmed:
        raise Doubt(doubt.code, doubt.text, doubt.suggestion)
    at = typed_at if typed_at is not None and now - LONGEST_AWAY <= typed_at <= now else now
    row = StoredReading(
        uuid=uuid,
        slot=slot,
        position=position,
        revision=0,
        supersedes=None,
        text=text,
        unit=reading.unit.symbol,
        instrument=run.balance,
        at=at,
        by=by[:120],
        reason="",
        doubt=doubt.text if doubt else "",
    )
    return _keep_judged(session, now, run, place, row, confirmed)


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
) -> StoredRun:
    """Append a correction that names the row it supersedes; the old row stays as it is.

    Raises Refusal (a reason is asked 30 s after the reading), Conflict where another correction came first.
    """
    run = find_run(session, run_uuid, lock=True)
    trial, old = _found(run, supersedes)
    if _is_repeat(run, uuid, trial, old.slot, old.position, text):
        return run
    newer = next((row for row in trial.readings if row.supersedes == old.uuid), None)
    if newer is not None:
        raise Conflict(f"{with_unit(old.text, old.unit)} was already corrected to {with_unit(newer.text, newer.unit)}.")
    reading = _parse(text, _definition(run, old.slot))
    if now - old.at > REASON_AFTER and not reason.strip():
        raise refuse("reason-missing", "Say why, in a word or two: 'digits swapped', 'wrong line'.", "reason")
    row = replace(
        old,
        uuid=uuid,
        revision=old.revision + 1,
        supersedes=old.uuid,
        text=text,
        unit=reading.unit.symbol,
        instrument=run.balance,
        at=now,
        by=by[:120],
        reason=reason.strip()[:500] or "corrected at once",
        doubt="",
    )
    return _keep_judged(session, now, run, trial, row, confirmed)


def observe(
    session: Session, now: datetime, run_uuid: str, *, uuid: str, tag: str, text: str = "", by: str = ""
) -> StoredRun:
    """Note something seen. Raises Refusal for an empty tag."""
    run = find_run(session, run_uuid, lock=True)
    if any(row.uuid == uuid for row in run.observations):
        return run
    if not tag.strip():
        raise refuse("empty", "Say in a word what was seen.", "tag")
    seen = StoredObservation(uuid, "1", now, by, tag.strip()[:60], text.strip()[:2000])
    return keep(session, run, run.with_observation(seen).touched(now))


def mark_step(session: Session, now: datetime, run_uuid: str, *, uuid: str, step: str, kind: str) -> StoredRun:
    """Start a step's timer, give it more time, or finish the step.

    Raises Refusal for a step that the run does not have, or a kind other than started, extended, finished.
    """
    run = find_run(session, run_uuid, lock=True)
    if any(row.uuid == uuid for row in run.step_events):
        return run
    planned = next((row for row in planned_steps(run) if row.key == step), None)
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
    after = run.with_step_event(StoredStepEvent(uuid, step, kind, seconds, now))
    return keep(session, run, _with_due_timer(after, now).touched(now))


def planned_steps(run: StoredRun) -> tuple[PlannedStep, ...]:
    """The run's steps under its procedure, from what has been weighed and marked."""
    return _laid_out(_Course(run.id, run.trials, run.step_events, run))


@dataclass(frozen=True)
class _Course:
    """What the steps depend on."""

    run_id: int
    trials: tuple[StoredTrial, ...]
    step_events: tuple[StoredStepEvent, ...]
    run: StoredRun = field(compare=False)


@lru_cache(maxsize=256)
def _laid_out(course: _Course) -> tuple[PlannedStep, ...]:
    run = course.run
    taken: dict[str, int] = {}
    for row in run.first_trial.current:
        taken[row.slot] = max(taken.get(row.slot, 0), row.position)
    verdicts = {(verdict.code, verdict.about) for verdict in evaluation_of(run).trials[0].verdicts}
    finished = {event.step for event in run.step_events if event.kind == "finished"}
    return tuple(steps_of(procedure_of(run), run.schools, Progress(taken, verdicts, finished)))


def _trial(run: StoredRun, label: str) -> StoredTrial:
    trial = run.trial(label)
    if trial is None:
        raise NotFound(f"This run has no trial '{label}'.")
    return trial


def _found(run: StoredRun, uuid: str) -> tuple[StoredTrial, StoredReading]:
    for trial in run.trials:
        row = trial.reading(uuid)
        if row is not None:
            return trial, row
    raise NotFound("The reading to correct does not belong to this run.")


def _is_repeat(run: StoredRun, uuid: str, place: StoredTrial, slot: str, position: int, text: str) -> bool:
    """Whether this very reading was recorded before. Raises Conflict where its UUID was used for another one."""
    for trial in run.trials:
        row = trial.reading(uuid)
        if row is None:
            continue
        if (trial.id, row.slot, row.position, row.text) != (place.id, slot, position, text):
            shown = with_unit(row.text, row.unit)
            raise Conflict(f"This entry's number was already used for {shown}; nothing was changed. Type it once more.")
        return True
    return False


def _definition(run: StoredRun, slot: str) -> ReadingDef:
    definition = reading_definition(method_named(run.method), slot)
    if definition is None:
        raise refuse("unknown-field", f"'{slot[:40]}' is not a reading of this method.", "slot")
    return definition


def _parse(text: str, definition: ReadingDef) -> Reading:
    try:
        return parse_reading(text, definition.dimension, definition.unit)
    except Refusal as refusal:
        raise refusal.below("text") from None


def _refuse_taken(trial: StoredTrial, slot: str, position: int, definition: ReadingDef) -> None:
    current = {row.position: row for row in trial.current if row.slot == slot}
    if position in current:
        row = current[position]
        which = f"heating {position}" if definition.series else definition.label
        raise Conflict(
            f"{which} already stands as {with_unit(row.text, row.unit)}; correct it in the log if it is wrong."
        )
    if position != len(current) + 1 or (position > 1 and not definition.series):
        raise refuse("position", f"The next weighing here is number {len(current) + 1}, not {position}.", "position")


def _question(run: StoredRun, definition: ReadingDef, reading: Reading) -> Question | None:
    """What is doubtful about the reading before it is kept."""
    before = evaluation_of(run)
    half_width = before.run.half_widths.get(definition.instrument)
    planned = before.run.method.planned
    window = before.run.planned.get(planned.name) if planned else None
    lid = "crucible" in run.schools.values() or "lid" in run.schools
    return question(Weighing(definition, reading, before.trials[0].trial, half_width, window, lid))


def _keep_judged(
    session: Session, now: datetime, run: StoredRun, trial: StoredTrial, row: StoredReading, confirmed: bool
) -> StoredRun:
    """Judge the run with the new row; a fresh stop asks before it is kept, and a confirmed one stays with the row."""
    after = run.with_reading(trial, row)
    fresh = _fresh_stops(evaluation_of(run), evaluation_of(after))
    if fresh and not confirmed:
        raise Doubt(fresh[0].code, fresh[0].text)
    if fresh:
        doubt = " ".join([row.doubt, *(verdict.text for verdict in fresh)]).strip()
        after = run.with_reading(trial, replace(row, doubt=doubt))
    return keep(session, run, _with_due_timer(after, now).touched(now))


def _fresh_stops(before: Evaluation, after: Evaluation) -> list[Verdict]:
    def stops(evaluation: Evaluation) -> list[Verdict]:
        return [verdict for trial in evaluation.trials for verdict in trial.verdicts if verdict.level == "stop"]

    known = {(verdict.code, verdict.about) for verdict in stops(before)}
    return [verdict for verdict in stops(after) if (verdict.code, verdict.about) not in known]


def _with_due_timer(run: StoredRun, now: datetime) -> StoredRun:
    """Start the timer of a step that begins by itself, such as cooling when the flame is off."""
    step = next((row for row in planned_steps(run) if row.state == "now"), None)
    if step is None or step.step.timer is None or not step.step.timer.auto or step.minutes is None:
        return run
    if any(event.step == step.key for event in run.step_events):
        return run
    return run.with_step_event(StoredStepEvent(str(uuid4()), step.key, "started", round(step.minutes * 60), now))
