"""The day: readings of the room taken once for all its runs, the laboratory's elevation, the day's instruments.

A run takes the reading that stands when it begins, or the first that comes after, into what its trials share: its own
record then holds it, with its time. A later reading is for later runs; a correction goes into every run that took the
reading corrected, as a correction of its own.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from datetime import UTC, date, datetime
from uuid import UUID, uuid5

from sqlalchemy import select
from sqlalchemy.orm import Session

from claykettle.core.errors import Conflict, Doubt, NotFound, Refusal, refuse
from claykettle.core.judgement.room import ROOM_SLOTS, expected_pa, question_of_room
from claykettle.core.methods.registry import method_named
from claykettle.core.quantity import Reading, digits_of, parse_reading, unit
from claykettle.core.run import slots_of
from claykettle.service.register import KINDS
from claykettle.service.runs import core_run, iso, procedure_of, with_unit
from claykettle.service.shelf import instruments_by_kind, instruments_shown, the_day
from claykettle.service.views import RoomReadingView, RoomSlotView, TodayView
from claykettle.store.records import StoredReading, StoredRun
from claykettle.store.runs import keep, load_run
from claykettle.store.tables import Day, RoomRow, RunRow, Section


def read_room(
    session: Session, now: datetime, *, uuid: str, slot: str, text: str, by: str = "", confirmed: bool = False
) -> None:
    """Keep a reading of the room and give it to the day's runs that lack it; the same UUID twice is one reading.

    Raises Refusal (path `text` or `slot`), and Doubt for one that cannot be what it is called unless `confirmed`.
    """
    if session.scalar(select(RoomRow.id).where(RoomRow.uuid == uuid)) is not None:
        return
    day = the_day(session, now.astimezone(UTC).date())
    row = _checked(session, now, day, slot, text, by, confirmed)
    row.uuid = uuid
    session.add(row)
    session.flush()
    for run in _runs_of(session, day, lock=True):
        _keep_taken(session, now, run, [row])


def correct_room(
    session: Session,
    now: datetime,
    *,
    uuid: str,
    supersedes: str,
    text: str,
    reason: str,
    by: str = "",
    confirmed: bool = False,
) -> None:
    """Correct a reading of the room, and in every run that took it.

    Raises Refusal (path `text` or `reason`), Conflict where it was corrected already, Doubt as `read_room`.
    """
    if session.scalar(select(RoomRow.id).where(RoomRow.uuid == uuid)) is not None:
        return
    old = session.scalar(select(RoomRow).where(RoomRow.uuid == supersedes))
    if old is None:
        raise NotFound("There is no such reading of the room here.")
    newer = session.scalar(select(RoomRow).where(RoomRow.supersedes_id == old.id))
    if newer is not None:
        raise Conflict(f"{with_unit(old.text, old.unit)} was already corrected to {with_unit(newer.text, newer.unit)}.")
    if not reason.strip():
        raise refuse("reason-missing", "Say why, in a word or two: 'digits swapped', 'wrong unit'.", "reason")
    day = session.get_one(Day, old.day_id)
    row = _checked(session, now, day, old.slot, text, by, confirmed)
    row.uuid, row.supersedes_id, row.reason = uuid, old.id, reason.strip()[:500]
    session.add(row)
    session.flush()
    for run in _runs_of(session, day, lock=True):
        taken = next((one for one in run.shared if one.uuid == _own_uuid(old, run)), None)
        if taken is not None:
            corrected = _as_taken(row, run, taken.slot, taken)
            keep(session, run, run.with_shared(corrected).touched(now))


def with_room(session: Session, now: datetime, run: StoredRun) -> StoredRun:
    """A run that has just begun, with the readings of the room that stand."""
    day = session.get_one(Day, session.scalars(select(RunRow.day_id).where(RunRow.uuid == run.uuid)).one())
    return _keep_taken(session, now, run, list(_standing(session, day).values()))


def set_elevation(session: Session, now: datetime, text: str) -> None:
    """How high the laboratory lies; empty where it is not known. Raises Refusal with path `elevation`."""
    if text.strip():
        try:
            parse_reading(text, "length", "m")
        except Refusal as refusal:
            raise refusal.below("elevation") from None
    section = session.get_one(Section, the_day(session, now.astimezone(UTC).date()).section_id)
    section.elevation = with_unit(text.strip(), "m") if text.strip() else ""


def set_default(session: Session, now: datetime, kind: str, instrument_id: int) -> None:
    """The instrument of a kind that the day's runs take where nobody chooses another. Raises Refusal."""
    day = the_day(session, now.astimezone(UTC).date())
    instruments_by_kind(session, day, {kind: instrument_id})
    day.instruments = {**day.instruments, kind: instrument_id}


def today(session: Session, now: datetime) -> TodayView:
    """The day as it stands: room, elevation, instruments."""
    day = the_day(session, now.astimezone(UTC).date())
    section = session.get_one(Section, day.section_id)
    rows = list(session.scalars(select(RoomRow).where(RoomRow.day_id == day.id).order_by(RoomRow.id)))
    standing = {row.id for row in _standing(session, day).values()}
    texts = {row.id: row.text for row in rows}
    corrected = {row.supersedes_id for row in rows}
    runs = _runs_of(session, day)

    def view(row: RoomRow) -> RoomReadingView:
        own = {run.uuid: _own_uuid(row, run) for run in runs}
        return RoomReadingView(
            uuid=row.uuid,
            slot=row.slot,
            label=ROOM_SLOTS[row.slot].label,
            text=digits_of(row.text),
            unit=unit(row.unit).shown,
            at=iso(row.at),
            by=row.by,
            instrument=row.instrument,
            current=row.id in standing,
            corrected=row.id in corrected,
            corrects=digits_of(texts[row.supersedes_id]) if row.supersedes_id in texts else None,
            reason=row.reason,
            doubt=row.doubt,
            runs=sum(any(one.uuid == own[run.uuid] for one in run.shared) for run in runs),
        )

    views = [view(row) for row in rows]
    return TodayView(
        section=section.name,
        day=day.date.isoformat(),
        now=iso(now),
        elevation=section.elevation,
        expected=_expected(section.elevation),
        slots=[
            RoomSlotView(
                slot=slot,
                label=row.label,
                unit=unit(row.unit).shown,
                help=row.help,
                stands=next((one for one in views if one.slot == slot and one.current), None),
            )
            for slot, row in ROOM_SLOTS.items()
        ],
        log=views[::-1],
        instruments=instruments_shown(session),
        defaults={kind: row.id for kind, row in instruments_by_kind(session, day, {}).items()},
        kinds=dict(KINDS),
    )


def standing_texts(session: Session, on: date) -> dict[str, str]:
    """The room's readings that stand, with their units, by slot."""
    day = the_day(session, on)
    return {slot: with_unit(row.text, row.unit) for slot, row in _standing(session, day).items()}


def _expected(elevation: str) -> str:
    if not elevation:
        return ""
    low, high = expected_pa(float(parse_reading(elevation, "length").si))
    return f"{low / 100:.0f} to {high / 100:.0f} hPa"


def _checked(session: Session, now: datetime, day: Day, slot: str, text: str, by: str, confirmed: bool) -> RoomRow:
    """A row for a reading that can be read and is believable, or confirmed."""
    if slot not in ROOM_SLOTS:
        raise refuse("unknown-field", f"'{slot[:40]}' is not read of a room.", "slot")
    known = ROOM_SLOTS[slot]
    try:
        reading: Reading = parse_reading(text, known.dimension, known.unit)
    except Refusal as refusal:
        raise refusal.below("text") from None
    elevation = session.get_one(Section, day.section_id).elevation
    if slot == "sea_level" and not elevation:
        raise refuse("elevation-missing", "Fill in the elevation first: a sea-level figure needs it.", "text")
    doubt = question_of_room(slot, reading, float(parse_reading(elevation, "length").si) if elevation else None)
    if doubt is not None and not confirmed:
        raise Doubt(doubt.code, doubt.text, doubt.suggestion)
    instrument = instruments_by_kind(session, day, {})[known.instrument]
    return RoomRow(
        day_id=day.id,
        slot=slot,
        text=text,
        unit=reading.unit.symbol,
        instrument=instrument.name if slot != "sea_level" else "weather service",
        half_width=instrument.half_width,
        at=now,
        by=by[:120],
        reason="",
        doubt=doubt.text if doubt is not None else "",
    )


def _standing(session: Session, day: Day) -> dict[str, RoomRow]:
    """Of each slot the latest reading of the day; a correction stands where what it corrects stood."""
    rows = list(session.scalars(select(RoomRow).where(RoomRow.day_id == day.id).order_by(RoomRow.id)))
    by_old = {row.supersedes_id: row for row in rows if row.supersedes_id is not None}
    found: dict[str, RoomRow] = {}
    for row in rows:
        if row.supersedes_id is not None:
            continue
        while row.id in by_old:
            row = by_old[row.id]
        found[row.slot] = row
    return found


def _runs_of(session: Session, day: Day, lock: bool = False) -> list[StoredRun]:
    """The day's runs; `lock` keeps others from changing them until the transaction ends."""
    uuids = session.scalars(select(RunRow.uuid).where(RunRow.day_id == day.id).order_by(RunRow.id))
    found = (load_run(session, uuid, lock) for uuid in uuids.all())
    return [run for run in found if run is not None]


def _keep_taken(session: Session, now: datetime, run: StoredRun, rows: list[RoomRow]) -> StoredRun:
    """The run with those readings of the room that it asks for and nobody has taken yet."""
    after = run
    for slot, row in _wanted(run, {row.slot: row for row in rows}):
        after = after.with_shared(_as_taken(row, run, slot, None))
    return run if after is run else keep(session, run, after.touched(now))


def _wanted(run: StoredRun, rows: Mapping[str, RoomRow]) -> Iterator[tuple[str, RoomRow]]:
    """The run's readings that the room can give, and which of the room's: none to a run that came in a file.

    Such a run was read in another room, perhaps; no balance of this shelf was chosen for it.
    """
    if not run.balance:
        return
    method, options = method_named(run.method), core_run(run).options
    taken = {row.slot for trial in run.trials for row in trial.current}
    asked = set(slots_of(procedure_of(run), run.schools))
    for reading in method.page.readings:
        slot = reading.room(options) if reading.room is not None else None
        if slot is not None and slot in rows and reading.name in asked and reading.name not in taken:
            yield reading.name, rows[slot]


def _own_uuid(row: RoomRow, run: StoredRun) -> str:
    """The UUID under which a run holds a reading of the room: its own, and always the same."""
    return str(uuid5(UUID(run.uuid), row.uuid))


def _as_taken(row: RoomRow, run: StoredRun, slot: str, corrects: StoredReading | None) -> StoredReading:
    return StoredReading(
        uuid=_own_uuid(row, run),
        slot=slot,
        position=1,
        revision=0 if corrects is None else corrects.revision + 1,
        supersedes=None if corrects is None else corrects.uuid,
        text=row.text,
        unit=row.unit,
        instrument=f"{row.instrument}, for the room",
        at=row.at,
        by=row.by,
        reason=row.reason,
        doubt=row.doubt,
        half_width=row.half_width,
    )
