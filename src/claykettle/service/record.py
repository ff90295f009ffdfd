"""Recording: trials, readings, corrections and observations. Rows are added, never changed or taken away."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from claykettle.core.errors import Conflict, Doubt, NotFound, Refusal, refuse
from claykettle.core.judgement.alike import question_of_alike
from claykettle.core.judgement.plausibility import Weighing, question
from claykettle.core.judgement.predictions import PREDICTION, read_prediction
from claykettle.core.judgement.question import Question
from claykettle.core.methods.registry import method_named
from claykettle.core.quantity import Reading, parse_half_width, parse_reading
from claykettle.core.run import Evaluation, reading_definition, with_hint
from claykettle.core.sheet import ReadingDef
from claykettle.core.verdict import Verdict
from claykettle.service.runs import SIGNED, evaluation_of, find_run, options_of, trial_of, with_unit
from claykettle.service.steps import with_due_timer
from claykettle.store.records import StoredObservation, StoredReading, StoredRun, StoredTrial
from claykettle.store.runs import keep
from claykettle.store.tables import Instrument

MOST_TRIALS = 200
"""As many as a run file holds."""

PHOTOGRAPH = "photograph"
"""The instrument of lengths that were marked on a picture."""

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
    instrument: str = "",
    half_width: str = "",
) -> StoredRun:
    """Append one reading; the same UUID twice gives the same row.

    `instrument` names one of the shelf where it is another than the run's; a length may also come from a `photograph`,
    which tells its half-width itself.

    `typed_at` is when it was typed on a device without connection; a time that cannot be is not believed.

    Raises Refusal (path `text`, `slot` or `instrument`), Conflict where the place is taken, and Doubt where the reading
    cannot be right unless `confirmed`; the doubt then stays with the row.
    """
    run = find_run(session, run_uuid, lock=True)
    place = trial_of(run, trial)
    if _is_repeat(run, uuid, place, slot, position, text):
        return run
    definition = _definition(run, slot)
    try:
        reading = _parse(text, definition)
    except Refusal as refusal:
        raise with_hint(refusal, method_named(run.method), slot) from None
    _refuse_taken(place, slot, position, definition)
    name, half_width = _instrument(session, run, definition, instrument, half_width)
    doubt = _question(run, trial, definition, reading, half_width)
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
        instrument=name,
        half_width=half_width,
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
    if tag.strip().casefold() == SIGNED:
        raise refuse("reserved", "A signature is no observation: sign at the end of the log.", "tag")
    if trial:
        trial_of(run, trial)
    if tag == PREDICTION:
        _refuse_late(run, text)
    seen = StoredObservation(uuid, trial, now, by, tag.strip()[:60], text.strip()[:2000])
    after = run.with_observation(seen)
    if trial:
        # the last rinse that is counted ends its step, and what comes then may begin by itself
        after = with_due_timer(after, trial, now)
    return keep(session, run, after.touched(now))


def _refuse_late(run: StoredRun, text: str) -> None:
    evaluation = evaluation_of(run)
    if any(trial.result(evaluation.key) is not None for trial in evaluation.trials):
        raise refuse("too-late", "There is a result already; a prediction is noted before it.", "text")
    read_prediction(text, evaluation.key_unit)


def _instrument(session: Session, run: StoredRun, definition: ReadingDef, named: str, told: str) -> tuple[str, str]:
    """Name of the instrument that reads, and its half-width where it is another than the run's own (else empty)."""
    if named == PHOTOGRAPH and definition.dimension == "length":
        try:
            parse_half_width(told, "length")
        except Refusal as refusal:
            raise refusal.below("half_width") from None
        return named, told.strip()
    if told:
        text = "An instrument of the shelf has its own half-width; only a photograph tells one."
        raise refuse("unknown-field", text, "half_width")
    own = run.instruments.get(definition.instrument, {}).get("name", "")
    if definition.instrument == "balance":
        own = run.balance or own
    if not named or named == own:
        return own or definition.instrument.replace("_", " "), ""
    row = session.scalar(select(Instrument).where(Instrument.name == named, Instrument.kind == definition.instrument))
    if row is None:
        raise refuse("unknown-instrument", f"'{named[:40]}' does not stand on the shelf; choose another.", "instrument")
    return row.name, row.half_width


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
    definition = reading_definition(method_named(run.method), slot, options_of(run))
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


def _question(run: StoredRun, trial: str, definition: ReadingDef, reading: Reading, own_width: str) -> Question | None:
    """What is doubtful about the reading before it is kept."""
    before = evaluation_of(run)
    half_width = before.run.half_widths.get(definition.instrument)
    if own_width:
        half_width = parse_half_width(own_width, definition.dimension)
    planned = before.run.method.planned
    window = before.run.planned.get(planned.name) if planned else None
    lid = "crucible" in run.schools.values() or "lid" in run.schools
    return question(Weighing(definition, reading, before.trial(trial).trial, half_width, window, lid))


def _keep_judged(
    session: Session, now: datetime, run: StoredRun, trial: StoredTrial, row: StoredReading, confirmed: bool
) -> StoredRun:
    """Judge the run with the new row; a fresh stop asks before it is kept, and a confirmed one stays with the row."""
    after = run.with_reading(trial, row)
    fresh = [Question(verdict.code, verdict.text) for verdict in _fresh_stops(evaluation_of(run), evaluation_of(after))]
    if not fresh:
        fresh = _off_others(run, trial, row, evaluation_of(after))
    if fresh and not confirmed:
        raise Doubt(fresh[0].code, fresh[0].text, fresh[0].suggestion)
    if fresh:
        doubt = " ".join([row.doubt, *(question.text for question in fresh)]).strip()
        after = run.with_reading(trial, replace(row, doubt=doubt))
    if trial.position > 0:
        after = with_due_timer(after, trial.label, now)
    return keep(session, run, after.touched(now))


def _off_others(run: StoredRun, trial: StoredTrial, row: StoredReading, after: Evaluation) -> list[Question]:
    """Where the new reading brings this trial far off the others in what they must share."""
    name, method = after.run.method.judging.alike, after.run.method
    definition = reading_definition(method, row.slot, after.run.options)
    if name is None or definition is None or trial.position == 0:
        return []
    values = {one.label: one.trial.value(name) for one in after.trials}
    own = values.pop(trial.label)
    line = after.trial(trial.label).trial.sheet.by_name.get(name)
    others = [value for value in values.values() if value is not None]
    if own is None or line is None or not others:
        return []

    def with_digits(digits: str) -> float | None:
        swapped = run.with_reading(trial, replace(row, text=digits))
        return evaluation_of(swapped).trial(trial.label).trial.value(name)

    reading = parse_reading(with_unit(row.text, row.unit), definition.dimension)
    found = question_of_alike(line, own, others, reading, with_digits)
    return [found] if found is not None else []


def _fresh_stops(before: Evaluation, after: Evaluation) -> list[Verdict]:
    known = {(label, verdict.code, verdict.about) for label, verdict in _stops(before)}
    return [verdict for label, verdict in _stops(after) if (label, verdict.code, verdict.about) not in known]


def _stops(evaluation: Evaluation) -> list[tuple[str, Verdict]]:
    return [
        (trial.label, verdict) for trial in evaluation.trials for verdict in trial.verdicts if verdict.level == "stop"
    ]
