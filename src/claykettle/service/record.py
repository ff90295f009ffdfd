"""Recording: trials, readings, corrections and observations. Rows are added, never changed or taken away."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from claykettle.core.errors import Conflict, Doubt, NotFound, Refusal, refuse
from claykettle.core.evaluation import Evaluation
from claykettle.core.judgement.plausibility import Question, Weighing, question
from claykettle.core.judgement.predictions import PREDICTION, read_prediction
from claykettle.core.methods.registry import method_named
from claykettle.core.reading import Reading, parse_reading
from claykettle.core.run import reading_definition
from claykettle.core.verdict import Verdict
from claykettle.core.worksheet import ReadingDef
from claykettle.service.runs import evaluation_of, find_run, trial_of, with_unit
from claykettle.service.steps import with_due_timer
from claykettle.store.records import StoredObservation, StoredReading, StoredRun, StoredTrial
from claykettle.store.runs import keep

MOST_TRIALS = 200
"""As many as a run file holds."""

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
    place = trial_of(run, trial)
    if _is_repeat(run, uuid, place, slot, position, text):
        return run
    definition = _definition(run, slot)
    reading = _parse(text, definition)
    _refuse_taken(place, slot, position, definition)
    doubt = _question(run, trial, definition, reading)
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
        instrument=_instrument(run, definition),
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
    definition = _definition(run, old.slot)
    reading = _parse(text, definition)
    if now - old.at > REASON_AFTER and not reason.strip():
        raise refuse("reason-missing", "Say why, in a word or two: 'digits swapped', 'wrong line'.", "reason")
    row = replace(
        old,
        uuid=uuid,
        revision=old.revision + 1,
        supersedes=old.uuid,
        text=text,
        unit=reading.unit.symbol,
        instrument=_instrument(run, definition),
        at=now,
        by=by[:120],
        reason=reason.strip()[:500] or "corrected at once",
        doubt="",
    )
    return _keep_judged(session, now, run, trial, row, confirmed)


def start_trial(session: Session, now: datetime, run_uuid: str, *, label: str) -> StoredRun:
    """Begin one more trial of the run; a label that is there already gives the run as it is.

    Raises Refusal (path `label`) for a label without a sign in it, and beyond the 200 trials that a run file holds.
    """
    run = find_run(session, run_uuid, lock=True)
    label = label.strip()
    if run.trial(label) is not None:
        return run
    if not label:
        raise refuse("empty", "Give the trial a label, such as its number.", "label")
    if len(run.own_trials) >= MOST_TRIALS:
        raise refuse("too-many-trials", f"A run holds {MOST_TRIALS} trials at most; start another run.", "label")
    return keep(session, run, with_due_timer(run.with_trial(label), label, now).touched(now))


def next_label(run: StoredRun) -> str:
    """The label of the trial that would come next: the first number that is free."""
    number = len(run.own_trials) + 1
    while run.trial(str(number)) is not None:
        number += 1
    return str(number)


def observe(
    session: Session,
    now: datetime,
    run_uuid: str,
    *,
    uuid: str,
    tag: str,
    text: str = "",
    by: str = "",
    trial: str = "",
) -> StoredRun:
    """Note something seen, in a trial or (without one) of the run as a whole; or, under its tag, a prediction.

    Raises Refusal for an empty tag, and for a prediction that is none or comes after the result (`too-late`).
    """
    run = find_run(session, run_uuid, lock=True)
    if any(row.uuid == uuid for row in run.observations):
        return run
    if not tag.strip():
        raise refuse("empty", "Say in a word what was seen.", "tag")
    if trial:
        trial_of(run, trial)
    if tag == PREDICTION:
        _refuse_late(run, text)
    seen = StoredObservation(uuid, trial, now, by, tag.strip()[:60], text.strip()[:2000])
    return keep(session, run, run.with_observation(seen).touched(now))


def _refuse_late(run: StoredRun, text: str) -> None:
    evaluation = evaluation_of(run)
    if any(trial.result(evaluation.key) is not None for trial in evaluation.trials):
        raise refuse("too-late", "There is a result already; a prediction is noted before it.", "text")
    read_prediction(text, evaluation.key_unit)


def _instrument(run: StoredRun, definition: ReadingDef) -> str:
    """The balance that the run uses, or the kind of another instrument."""
    return run.balance if definition.instrument == "balance" else definition.instrument.replace("_", " ")


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
        which = f"{definition.round} {position}" if definition.series else definition.label
        raise Conflict(
            f"{which} already stands as {with_unit(row.text, row.unit)}; correct it in the log if it is wrong."
        )
    if position != len(current) + 1 or (position > 1 and not definition.series):
        raise refuse("position", f"The next weighing here is number {len(current) + 1}, not {position}.", "position")


def _question(run: StoredRun, trial: str, definition: ReadingDef, reading: Reading) -> Question | None:
    """What is doubtful about the reading before it is kept."""
    before = evaluation_of(run)
    half_width = before.run.half_widths.get(definition.instrument)
    planned = before.run.method.planned
    window = before.run.planned.get(planned.name) if planned else None
    lid = "crucible" in run.schools.values() or "lid" in run.schools
    return question(Weighing(definition, reading, before.trial(trial).trial, half_width, window, lid))


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
    return keep(session, run, with_due_timer(after, trial.label, now).touched(now))


def _fresh_stops(before: Evaluation, after: Evaluation) -> list[Verdict]:
    known = {(label, verdict.code, verdict.about) for label, verdict in _stops(before)}
    return [verdict for label, verdict in _stops(after) if (label, verdict.code, verdict.about) not in known]


def _stops(evaluation: Evaluation) -> list[tuple[str, Verdict]]:
    return [
        (trial.label, verdict) for trial in evaluation.trials for verdict in trial.verdicts if verdict.level == "stop"
    ]
