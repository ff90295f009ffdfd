"""Recording: trials, readings, corrections and observations. Rows are added, never changed or taken away."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from claykettle.core.errors import Conflict, Doubt, NotFound, Refusal, refuse
from claykettle.core.judgement.plausibility import UNEXPECTED
from claykettle.core.judgement.predictions import PREDICTION, read_prediction
from claykettle.core.judgement.question import Question
from claykettle.core.quantity import Reading, parse_reading
from claykettle.core.run import with_hint
from claykettle.core.sheet import ReadingDef
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.runs.doubts import doubt_of, fresh_doubts
from claykettle.service.runs.instruments import Instrument, instrument_for
from claykettle.service.runs.signing import SIGNED
from claykettle.service.visit import Visit
from claykettle.store.records import StoredObservation, StoredReading, StoredRun, StoredTrial

MOST_TRIALS = 200
"""As many as a run file holds."""

LONGEST_AWAY = timedelta(days=7)
STEADY, MOVING = "steady", "moving"
_SENT = {STEADY: "sent by the instrument, steady", MOVING: "sent by the instrument, not steady"}
REASON_AFTER = timedelta(seconds=30)
"""A correction within this time is a slip of the finger; later it needs a reason."""


@dataclass(frozen=True)
class RecordReading:
    """One reading as typed; the same UUID twice gives the same row.

    `instrument` names one of the shelf where it is another than the run's; a length may also come from a `photograph`,
    which tells its `half_width` itself. `typed_at` is when it was typed on a device without connection; a time that
    cannot be is not believed. `confirmed` keeps a doubted one, and the doubt stays with it.
    """

    uuid: str
    slot: str
    position: int
    text: str
    trial: str = "1"
    by: str = ""
    confirmed: bool = False
    typed_at: datetime | None = None
    instrument: str = ""
    half_width: str = ""
    by_itself: str = ""
    """How the instrument stood that sent the figure itself: `steady` or `moving`; empty where somebody typed it."""


@dataclass(frozen=True)
class CorrectReading:
    """What the reading `supersedes` should have said, and why; `instrument` names another that it was read with."""

    uuid: str
    supersedes: str
    text: str
    reason: str = ""
    by: str = ""
    confirmed: bool = False
    instrument: str = ""


@dataclass(frozen=True)
class StartTrial:
    """One trial more."""

    label: str


@dataclass(frozen=True)
class Observe:
    """Something seen, in a trial or (without one) of the run as a whole; or, under its tag, a prediction."""

    uuid: str
    tag: str
    text: str = ""
    by: str = ""
    trial: str = ""


@may(BENCH, INSTRUCTOR)
def record_reading(visit: Visit, run: StoredRun, typed: RecordReading) -> StoredRun:
    """Append one reading.

    Raises Refusal (path `text`, `slot` or `instrument`), Conflict where the place is taken, and Doubt where the reading
    cannot be right unless it is confirmed.
    """
    place = run.trial_named(typed.trial)
    if _is_repeat(run, typed.uuid, place, typed.slot, typed.position, typed.text):
        return run
    definition = run.definition_of(typed.slot)
    try:
        reading = parsed(typed.text, definition)
    except Refusal as refusal:
        raise with_hint(refusal, run.method, typed.slot) from None
    if typed.by_itself == MOVING and not typed.confirmed:
        raise Doubt("not-steady", "The instrument was not steady: wait until it stands, or say that it stays.")
    left = _place_for(place, typed.slot, typed.position, definition)
    used = instrument_for(visit, run, definition, typed.instrument, typed.half_width)
    doubt = doubt_of(run.evaluation, place.label, definition, reading, used.half_width)
    row = _row(typed, reading, used, _when(typed.typed_at, visit.now), doubt.text if doubt else "")
    row = replace(row, revision=place.next_revision(typed.slot, typed.position))
    if left is not None:
        row = replace(row, supersedes=left.uuid, reason="taken after all")
    return _keep_judged(visit, run, place, row, typed.confirmed, doubt)


def _when(typed_at: datetime | None, now: datetime) -> datetime:
    return typed_at if typed_at is not None and now - LONGEST_AWAY <= typed_at <= now else now


def _row(typed: RecordReading, reading: Reading, used: Instrument, at: datetime, doubt: str) -> StoredReading:
    return StoredReading(
        uuid=typed.uuid,
        slot=typed.slot,
        position=typed.position,
        revision=0,
        supersedes=None,
        text=typed.text,
        unit=reading.unit.symbol,
        instrument=used.name,
        half_width=used.half_width,
        at=at,
        by=typed.by[:120],
        reason=_SENT.get(typed.by_itself, ""),
        doubt=doubt,
    )


@may(BENCH, INSTRUCTOR)
def correct_reading(visit: Visit, run: StoredRun, typed: CorrectReading) -> StoredRun:
    """Append a correction that names the row it supersedes; the old row stays as it is.

    Raises Refusal (a reason is asked 30 s after the reading), Conflict where another correction came first, Doubt as
    for a reading typed at first.
    """
    trial, old = found(run, typed.supersedes)
    if _is_repeat(run, typed.uuid, trial, old.slot, old.position, typed.text):
        return run
    newer = trial.correction_of(old.uuid)
    if newer is not None:
        raise Conflict(_superseded(old, newer))
    if old.state != "taken":
        raise Conflict("No figure stands here: type it at the bench, where it is asked for.")
    reading = parsed(typed.text, run.definition_of(old.slot))
    reason = reason_for(visit, old, typed.reason)
    if typed.instrument:
        used = instrument_for(visit, run, run.definition_of(old.slot), typed.instrument, "")
        old = replace(old, instrument=used.name, half_width=used.half_width)
    doubt = _doubt_of_correction(run, trial, old, reading)
    row = replace(
        old,
        uuid=typed.uuid,
        revision=trial.next_revision(old.slot, old.position),
        supersedes=old.uuid,
        text=typed.text,
        unit=reading.unit.symbol,
        at=visit.now,
        by=typed.by[:120],
        reason=reason or "corrected at once",
        doubt=doubt.text if doubt else "",
    )
    return _keep_judged(visit, run, trial, row, typed.confirmed, doubt)


def reason_for(visit: Visit, old: StoredReading, typed: str) -> str:
    """The reason as typed. Raises Refusal where the figure has stood for so long that one is needed."""
    if visit.now - old.at > REASON_AFTER and not typed.strip():
        raise refuse("reason-missing", "Say why, in a word or two: 'digits swapped', 'wrong line'.", "reason")
    return typed.strip()[:500]


def _superseded(old: StoredReading, newer: StoredReading) -> str:
    if newer.state == "taken":
        return f"{old.written} was already corrected to {newer.written}."
    return f"{old.written} stands there no more ({newer.reason})."


def _doubt_of_correction(run: StoredRun, trial: StoredTrial, old: StoredReading, reading: Reading) -> Question | None:
    """What is doubtful about other figures in a reading's place; what all trials share is held against none of them."""
    if trial.position == 0:
        return None
    before = run.without(trial, old).evaluation
    return doubt_of(before, trial.label, run.definition_of(old.slot), reading, old.half_width)


@may(BENCH, INSTRUCTOR)
def start_trial(visit: Visit, run: StoredRun, wanted: StartTrial) -> StoredRun:
    """Begin one more trial of the run; a label that is there already gives the run as it is.

    Raises Refusal (path `label`) for a label without a sign in it, and beyond the 200 trials that a run file holds.
    """
    label = wanted.label.strip()
    if run.trial(label) is not None:
        return run
    if not label:
        raise refuse("empty", "Give the trial a label, such as its number.", "label")
    if len(run.own_trials) >= MOST_TRIALS:
        raise refuse("too-many-trials", f"A run holds {MOST_TRIALS} trials at most; start another run.", "label")
    return visit.keep(run, run.with_trial(label).touched(visit.now).with_due_timer(label, visit.now))


@may(BENCH, INSTRUCTOR)
def observe(visit: Visit, run: StoredRun, seen: Observe) -> StoredRun:
    """Note something seen; the same UUID twice notes it once.

    Raises Refusal for an empty tag, and for a prediction that is none or comes after the result (`too-late`).
    """
    if any(row.uuid == seen.uuid for row in run.observations):
        return run
    tag = seen.tag.strip()
    if not tag:
        raise refuse("empty", "Say in a word what was seen.", "tag")
    if tag.casefold() == SIGNED:
        raise refuse("reserved", "A signature is no observation: sign at the end of the log.", "tag")
    if seen.trial:
        run.trial_named(seen.trial)
    if seen.tag == PREDICTION:
        _refuse_late(run, seen.text)
    row = StoredObservation(seen.uuid, seen.trial, visit.now, seen.by, tag[:60], seen.text.strip()[:2000])
    after = run.with_observation(row).touched(visit.now)
    # the last rinse that is counted ends its step, and what comes then may begin by itself
    return visit.keep(run, after.with_due_timer(seen.trial, visit.now) if seen.trial else after)


def _refuse_late(run: StoredRun, text: str) -> None:
    evaluation = run.evaluation
    if any(trial.result(evaluation.key) is not None for trial in evaluation.trials):
        raise refuse("too-late", "There is a result already; a prediction is noted before it.", "text")
    read_prediction(text, evaluation.key_unit)


def found(run: StoredRun, uuid: str) -> tuple[StoredTrial, StoredReading]:
    """A reading by its UUID, and its trial. Raises NotFound."""
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
            raise Conflict(
                f"This entry's number was already used for {row.written}; nothing was changed. Type it once more."
            )
        return True
    return False


def parsed(text: str, definition: ReadingDef, in_unit: str = "") -> Reading:
    """A figure as typed for a reading, in the unit it bears, else in `in_unit` or the reading's own.

    Raises Refusal at `text`.
    """
    try:
        return parse_reading(text, definition.dimension, in_unit or definition.unit)
    except Refusal as refusal:
        raise refusal.below("text") from None


def _place_for(trial: StoredTrial, slot: str, position: int, definition: ReadingDef) -> StoredReading | None:
    """What was said of the place where a figure is to stand: that none was taken; None where nothing was said.

    Raises Conflict where a figure stands there, Refusal for a place that does not come next.
    """
    current = {row.position: row for row in trial.current if row.slot == slot}
    if position in current:
        row = current[position]
        which = f"{definition.round} {position}" if definition.series else definition.label
        raise Conflict(f"{which} already stands as {row.written}; correct it in the log if it is wrong.")
    left = next((row for row in trial.left if (row.slot, row.position) == (slot, position)), None)
    if left is not None:
        return left
    following = trial.next_position(slot)
    if position != following or (position > 1 and not definition.series):
        raise refuse("position", f"The next weighing here is number {following}, not {position}.", "position")
    return None


def _keep_judged(
    visit: Visit, run: StoredRun, trial: StoredTrial, row: StoredReading, confirmed: bool, doubt: Question | None = None
) -> StoredRun:
    after = judged(run, trial, row, confirmed, doubt).touched(visit.now)
    return visit.keep(run, after.with_due_timer(trial.label, visit.now) if trial.position > 0 else after)


def judged(
    run: StoredRun,
    trial: StoredTrial,
    row: StoredReading,
    confirmed: bool,
    doubt: Question | None = None,
    against: StoredRun | None = None,
) -> StoredRun:
    """The run with the new row; a fresh stop asks before it is kept, and a confirmed one stays with the row.

    What the run itself says of the row is said in the place of a `doubt` that only found it unexpected. Fresh is what
    was not said before of the run, or of that `against` which it is held. Raises Doubt.
    """
    if doubt is not None and doubt.code != UNEXPECTED and not confirmed:
        raise Doubt(doubt.code, doubt.text, doubt.suggestion)
    after = run.with_reading(trial, row)
    fresh = fresh_doubts(against or run, after, trial, row)
    unexpected = doubt if doubt is not None and doubt.code == UNEXPECTED else None
    if fresh and not confirmed:
        suggestion = fresh[0].suggestion or (unexpected.suggestion if unexpected else None)
        raise Doubt(fresh[0].code, fresh[0].text, suggestion)
    if unexpected is not None and not confirmed:
        raise Doubt(unexpected.code, unexpected.text, unexpected.suggestion)
    if fresh:
        said = [row.doubt] if unexpected is None else []
        after = run.with_reading(trial, replace(row, doubt=" ".join([*said, *(one.text for one in fresh)]).strip()))
    return after
