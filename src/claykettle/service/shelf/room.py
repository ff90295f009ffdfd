"""The day: readings of the room taken once for all its runs, the laboratory's elevation, the day's instruments.

A run takes the reading that stands when it begins, or the first that comes after, into what its trials share: its own
record then holds it, with its time. A later reading is for later runs; a correction goes into every run that took the
reading corrected, as a correction of its own.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID, uuid5

from sqlalchemy import select
from sqlalchemy.orm import aliased

from claykettle.core.errors import Conflict, Doubt, NotFound, Refusal, refuse
from claykettle.core.judgement.room import ROOM_SLOTS, expected_pa, question_of_room
from claykettle.core.quantity import digits_of, parse_reading, unit, with_unit
from claykettle.core.run import slots_of
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.noting import note_change
from claykettle.service.shelf.day import InstrumentView, instruments_by_kind, instruments_shown, the_day
from claykettle.service.shelf.register import (
    KINDS,
    KeepInstrument,
    keep_instrument,
    restore_instrument,
    retire_instrument,
)
from claykettle.service.views.base import View
from claykettle.service.views.log import LoggedView
from claykettle.service.visit import Visit
from claykettle.store.records import StoredReading, StoredRun, iso
from claykettle.store.runs import load_run
from claykettle.store.tables import Day, ReadingRow, RoomRow, RunRow, Section


class RoomReadingView(LoggedView):
    """A reading of the room: whether a correction has superseded it, and how many runs use it."""

    corrected: bool
    runs: int


class RoomSlotView(View):
    """What can be read of the room: its name, the unit taken where none is typed, and the reading that stands."""

    slot: str
    label: str
    unit: str
    help: str
    stands: RoomReadingView | None


class TodayView(View):
    """The day: its room and its instruments."""

    section: str
    day: str
    now: str
    elevation: str
    expected: str
    slots: list[RoomSlotView]
    log: list[RoomReadingView]
    instruments: list[InstrumentView]
    defaults: dict[str, int]
    kinds: dict[str, str]


@dataclass(frozen=True)
class ReadRoom:
    """A reading of the room as typed; `confirmed` keeps a doubted one."""

    uuid: str
    slot: str
    text: str
    by: str = ""
    confirmed: bool = False


@dataclass(frozen=True)
class CorrectRoom:
    """What the reading `supersedes` should have said, and why."""

    uuid: str
    supersedes: str
    text: str
    reason: str
    by: str = ""
    confirmed: bool = False


@may(INSTRUCTOR)
def read_room(visit: Visit, typed: ReadRoom) -> TodayView:
    """Keep a reading of the room and give it to the day's runs that lack it; the same UUID twice is one reading.

    Raises Refusal (path `text` or `slot`), and Doubt for one that cannot be what it is called unless `confirmed`.
    """
    if not _is_kept(visit, typed.uuid):
        day = the_day(visit)
        row = _checked(visit, day, typed.slot, typed)
        _add(visit, row)
        for run in _runs_of(visit, day, lock=True):
            _keep_taken(visit, run, [row])
    return today(visit)


@may(INSTRUCTOR)
def correct_room(visit: Visit, typed: CorrectRoom) -> TodayView:
    """Correct a reading of the room, and in every run that took it.

    Raises Refusal (path `text` or `reason`), Conflict where it was corrected already, Doubt as `read_room`.
    """
    if not _is_kept(visit, typed.uuid):
        old = _standing_row(visit, typed.supersedes)
        if not typed.reason.strip():
            raise refuse("reason-missing", "Say why, in a word or two: 'digits swapped', 'wrong unit'.", "reason")
        day = visit.session.get_one(Day, old.day_id)
        row = _checked(visit, day, old.slot, typed)
        row.supersedes_id, row.reason = old.id, typed.reason.strip()[:500]
        _add(visit, row)
        for run in _runs_of(visit, day, lock=True):
            _keep_corrected(visit, run, old, row)
    return today(visit)


def _is_kept(visit: Visit, uuid: str) -> bool:
    return visit.session.scalar(select(RoomRow.id).where(RoomRow.uuid == uuid)) is not None


def _add(visit: Visit, row: RoomRow) -> None:
    visit.session.add(row)
    visit.session.flush()


def _standing_row(visit: Visit, uuid: str) -> RoomRow:
    """The reading of the room with this UUID. Raises NotFound, Conflict where it does not stand any more."""
    old = visit.session.scalar(select(RoomRow).where(RoomRow.uuid == uuid))
    if old is None:
        raise NotFound("There is no such reading of the room here.")
    newer = visit.session.scalar(select(RoomRow).where(RoomRow.supersedes_id == old.id))
    if newer is not None:
        raise Conflict(f"{with_unit(old.text, old.unit)} was already corrected to {with_unit(newer.text, newer.unit)}.")
    return old


def _keep_corrected(visit: Visit, run: StoredRun, old: RoomRow, row: RoomRow) -> None:
    """A run that took the reading corrected takes the correction."""
    taken = next((one for one in run.shared if one.uuid == _own_uuid(old, run.uuid)), None)
    if taken is not None:
        visit.keep(run, run.with_shared(_as_taken(row, run.uuid, taken.slot, taken)).touched(visit.now))


def with_room(visit: Visit, run: StoredRun) -> StoredRun:
    """A run that has just begun, with the readings of the room that stand."""
    day = visit.session.get_one(Day, visit.session.scalars(select(RunRow.day_id).where(RunRow.uuid == run.uuid)).one())
    return _keep_taken(visit, run, list(_standing(visit, day).values()))


def take_room_along(visit: Visit, day: Day) -> None:
    """Give a class that is laid out today the readings of the room that stand: the room is the same."""
    others = select(Day).where(Day.section_id == day.section_id, Day.date == day.date, Day.id != day.id)
    taken: dict[str, RoomRow] = {}
    for other in visit.session.scalars(others.order_by(Day.id)):
        for slot, row in _standing(visit, other).items():
            if slot not in taken or row.at > taken[slot].at:
                taken[slot] = row
    for row in taken.values():
        visit.session.add(
            RoomRow(
                uuid=str(uuid5(UUID(row.uuid), f"day {day.id}")), day_id=day.id, slot=row.slot, text=row.text,
                unit=row.unit, instrument=row.instrument, half_width=row.half_width, at=row.at, by=row.by,
                reason=row.reason, doubt=row.doubt,
            )
        )  # fmt: skip
    visit.session.flush()


@may(INSTRUCTOR)
def set_elevation(visit: Visit, text: str) -> TodayView:
    """How high the laboratory lies; empty where it is not known. Raises Refusal with path `elevation`."""
    if text.strip():
        try:
            parse_reading(text, "length", "m")
        except Refusal as refusal:
            raise refusal.below("elevation") from None
    section = visit.session.get_one(Section, the_day(visit).section_id)
    written = with_unit(text.strip(), "m") if text.strip() else ""
    note_change(visit, "elevation changed", section.elevation, written)
    section.elevation = written
    return today(visit)


@may(INSTRUCTOR)
def set_default(visit: Visit, kind: str, instrument_id: int) -> TodayView:
    """The instrument of a kind that the day's runs take where nobody chooses another. Raises Refusal."""
    day = the_day(visit)
    instruments_by_kind(visit, day, {kind: instrument_id})
    note_change(visit, f"the day's {kind.replace('_', ' ')} changed", day.instruments.get(kind), instrument_id)
    day.instruments = {**day.instruments, kind: instrument_id}
    return today(visit)


@may(BENCH, INSTRUCTOR)
def today(visit: Visit) -> TodayView:
    """The day as it stands: room, elevation, instruments."""
    day = the_day(visit)
    section = visit.session.get_one(Section, day.section_id)
    views = _log(visit, day)
    return TodayView(
        section=section.name,
        day=day.date.isoformat(),
        now=iso(visit.now),
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
        instruments=instruments_shown(visit),
        defaults={kind: row.id for kind, row in instruments_by_kind(visit, day, {}).items()},
        kinds=dict(KINDS),
    )


def _log(visit: Visit, day: Day) -> list[RoomReadingView]:
    """The day's readings of the room in order."""
    rows = list(visit.session.scalars(select(RoomRow).where(RoomRow.day_id == day.id).order_by(RoomRow.id)))
    standing = {row.id for row in _standing(visit, day).values()}
    texts = {row.id: row.text for row in rows}
    corrected = {row.supersedes_id for row in rows}
    taken = _taken(visit, day, rows)
    return [
        RoomReadingView(
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
            state="taken",
            runs=taken[row.uuid],
        )
        for row in rows
    ]


def _taken(visit: Visit, day: Day, rows: Sequence[RoomRow]) -> Counter[str]:
    """How many runs of the day hold each of these readings, as it stands there."""
    runs = visit.session.scalars(select(RunRow.uuid).where(RunRow.day_id == day.id)).all()
    own = {_own_uuid(row, uuid): row.uuid for row in rows for uuid in runs}
    newer = aliased(ReadingRow)
    held = (
        select(ReadingRow.uuid)
        .outerjoin(newer, newer.supersedes_id == ReadingRow.id)
        .where(ReadingRow.uuid.in_(own), newer.id.is_(None))
    )
    return Counter(own[uuid] for uuid in visit.session.scalars(held)) if own else Counter()


@may(INSTRUCTOR, house=True)
def with_instrument(visit: Visit, typed: KeepInstrument) -> TodayView:
    """The day with an instrument more, or changed. Raises as `keep_instrument`."""
    keep_instrument(visit, typed)
    return today(visit)


@may(INSTRUCTOR, house=True)
def without_instrument(visit: Visit, number: int) -> TodayView:
    """The day with an instrument less; runs that used it keep it. Raises as `retire_instrument`."""
    retire_instrument(visit, number)
    return today(visit)


@may(INSTRUCTOR, house=True)
def with_instrument_back(visit: Visit, number: int) -> TodayView:
    """The day with an instrument back on the shelf. Raises as `restore_instrument`."""
    restore_instrument(visit, number)
    return today(visit)


def standing_texts(visit: Visit) -> dict[str, str]:
    """The room's readings that stand, with their units, by slot."""
    day = the_day(visit)
    return {slot: with_unit(row.text, row.unit) for slot, row in _standing(visit, day).items()}


def _expected(elevation: str) -> str:
    if not elevation:
        return ""
    low, high = expected_pa(float(parse_reading(elevation, "length").si))
    return f"{low / 100:.0f} to {high / 100:.0f} hPa"


def _checked(visit: Visit, day: Day, slot: str, typed: ReadRoom | CorrectRoom) -> RoomRow:
    """A row for a reading that can be read and is believable, or confirmed."""
    if slot not in ROOM_SLOTS:
        raise refuse("unknown-field", f"'{slot[:40]}' is not read of a room.", "slot")
    known = ROOM_SLOTS[slot]
    try:
        reading = parse_reading(typed.text, known.dimension, known.unit)
    except Refusal as refusal:
        raise refusal.below("text") from None
    elevation = visit.session.get_one(Section, day.section_id).elevation
    if slot == "sea_level" and not elevation:
        raise refuse("elevation-missing", "Fill in the elevation first: a sea-level figure needs it.", "text")
    doubt = question_of_room(slot, reading, float(parse_reading(elevation, "length").si) if elevation else None)
    if doubt is not None and not typed.confirmed:
        raise Doubt(doubt.code, doubt.text, doubt.suggestion)
    instrument = instruments_by_kind(visit, day, {}).get(known.instrument)
    usual = known.instrument.replace("_", " "), ""
    name, half_width = (instrument.name, instrument.half_width) if instrument is not None else usual
    return RoomRow(
        uuid=typed.uuid,
        day_id=day.id,
        slot=slot,
        text=typed.text,
        unit=reading.unit.symbol,
        instrument=name if slot != "sea_level" else "weather service",
        half_width=half_width,
        at=visit.now,
        by=typed.by[:120],
        reason="",
        doubt=doubt.text if doubt is not None else "",
    )


def _standing(visit: Visit, day: Day) -> dict[str, RoomRow]:
    """Of each slot the latest reading of the day; a correction stands where what it corrects stood."""
    rows = list(visit.session.scalars(select(RoomRow).where(RoomRow.day_id == day.id).order_by(RoomRow.id)))
    by_old = {row.supersedes_id: row for row in rows if row.supersedes_id is not None}
    found: dict[str, RoomRow] = {}
    for row in rows:
        if row.supersedes_id is not None:
            continue
        while row.id in by_old:
            row = by_old[row.id]
        found[row.slot] = row
    return found


def standing_room(visit: Visit, number: int) -> list[tuple[str, str, datetime]]:
    """Of a day by its number the readings of the room that stand: what each is called, its figure, and when."""
    rows = _standing(visit, visit.session.get_one(Day, number)).values()
    return [
        (_capital(ROOM_SLOTS[row.slot].label), f"{digits_of(row.text)} {unit(row.unit).shown}", row.at) for row in rows
    ]


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def _runs_of(visit: Visit, day: Day, lock: bool = False) -> list[StoredRun]:
    """The day's runs; `lock` keeps others from changing them until the transaction ends."""
    uuids = visit.session.scalars(select(RunRow.uuid).where(RunRow.day_id == day.id).order_by(RunRow.id))
    found = (load_run(visit.session, uuid, lock) for uuid in uuids.all())
    return [run for run in found if run is not None]


def _keep_taken(visit: Visit, run: StoredRun, rows: list[RoomRow]) -> StoredRun:
    """The run with those readings of the room that it asks for and nobody has taken yet."""
    after = run
    for slot, row in _wanted(run, {row.slot: row for row in rows}):
        after = after.with_shared(_as_taken(row, run.uuid, slot, None))
    return run if after is run else visit.keep(run, after.touched(visit.now))


def _wanted(run: StoredRun, rows: Mapping[str, RoomRow]) -> Iterator[tuple[str, RoomRow]]:
    """The run's readings that the room can give, and which of the room's: none to a run that came in a file.

    Such a run was read in another room, perhaps; no balance of this shelf was chosen for it.
    """
    if not run.balance:
        return
    method, options = run.method, run.options
    taken = {row.slot for trial in run.trials for row in trial.current}
    asked = set(slots_of(run.course, run.schools, facts=method.facts(options)))
    for reading in method.page.readings:
        slot = reading.room(options) if reading.room is not None else None
        if slot is not None and slot in rows and reading.name in asked and reading.name not in taken:
            yield reading.name, rows[slot]


def _own_uuid(row: RoomRow, run: str) -> str:
    """The UUID under which a run holds a reading of the room: its own, and always the same."""
    return str(uuid5(UUID(run), row.uuid))


def _as_taken(row: RoomRow, run: str, slot: str, corrects: StoredReading | None) -> StoredReading:
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
