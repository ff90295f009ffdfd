"""A whole record out and in again: each run with all of its rows, its bench and day, and what all runs share."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any, TypeVar
from uuid import NAMESPACE_OID, uuid4, uuid5

from sqlalchemy import select

from claykettle.core.errors import Refusal, refuse
from claykettle.core.judgement.room import ROOM_SLOTS
from claykettle.core.quantity import parse_reading
from claykettle.core.run import Procedure
from claykettle.formats.record import (
    ChangePart,
    HousePart,
    InstrumentPart,
    ObservationPart,
    ProcedurePart,
    ReadingPart,
    RoomPart,
    RunPart,
    SignaturePart,
    StepPart,
    SubstancePart,
    TrialPart,
    WithdrawalPart,
)
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.doors.sections import new_section
from claykettle.service.shelf.register import KeepInstrument, keep_instrument
from claykettle.service.shelf.substances import AddSubstance, checked_substance
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun
from claykettle.store.runs import in_earnest
from claykettle.store.tables import (
    Base,
    Bench,
    ChangeRow,
    Day,
    Instrument,
    Membership,
    ObservationRow,
    ProcedureRow,
    ReadingRow,
    RoomRow,
    RunRow,
    Section,
    SignatureRow,
    StepEventRow,
    SubstanceRow,
    TrialRow,
    WithdrawalRow,
)

Row = TypeVar("Row", bound=Base)


def house_part(visit: Visit) -> HousePart:
    """What all runs share: the shelf, the room of each day, the substances that were added."""
    session = visit.session
    sections = [row for row in session.scalars(select(Section).where(in_earnest(Section.id))) if _is_own(visit, row)]
    own = select(Day, Section).join(Section).where(Section.id.in_([row.id for row in sections]))
    days = {day.id: (day, section) for day, section in session.execute(own).all()}
    rooms = session.scalars(select(RoomRow).where(RoomRow.day_id.in_(days)).order_by(RoomRow.id)).all()
    return HousePart(
        elevations={row.name: row.elevation for row in sections},
        instruments=[InstrumentPart.model_validate(row) for row in session.scalars(select(Instrument))],
        rooms=[
            RoomPart(
                **_values(row, "day_id", "supersedes_id"),
                supersedes=row.supersedes.uuid if row.supersedes else None,
                section=days[row.day_id][1].name,
                date=days[row.day_id][0].date,
                day=days[row.day_id][0].title,
            )
            for row in rooms
        ],
        substances=[
            SubstancePart.model_validate(row) for row in session.scalars(select(SubstanceRow).order_by(SubstanceRow.id))
        ],
    )


def run_part(visit: Visit, uuid: str, file: str) -> RunPart:
    """One run as it is kept, beside its run file `file`."""
    session = visit.session
    row = session.scalars(select(RunRow).where(RunRow.uuid == uuid)).one()
    section = session.get_one(Section, row.day.section_id)
    withdrawals = session.scalars(
        select(WithdrawalRow).where(WithdrawalRow.run_id == row.id).order_by(WithdrawalRow.id)
    )
    signatures = session.scalars(select(SignatureRow).where(SignatureRow.run_id == row.id).order_by(SignatureRow.id))
    return RunPart(
        **_values(row, "day_id", "bench_id", "procedure_id", "version", "is_summed_up"),
        file=file,
        section=section.name,
        date=row.day.date,
        day=row.day.title,
        bench=row.bench.name,
        procedure=ProcedurePart.model_validate(row.procedure),
        trials=[
            TrialPart(
                position=trial.position, label=trial.label, readings=[_reading_part(one) for one in trial.readings]
            )
            for trial in row.trials
        ],
        observations=[ObservationPart.model_validate(one) for one in row.observations],
        step_events=[StepPart.model_validate(one) for one in row.step_events],
        changes=[ChangePart.model_validate(one) for one in row.changes],
        withdrawals=[WithdrawalPart.model_validate(one) for one in withdrawals],
        signatures=[SignaturePart.model_validate(one) for one in signatures],
    )


def _reading_part(row: ReadingRow) -> ReadingPart:
    supersedes = row.supersedes.uuid if row.supersedes else None
    return ReadingPart(**_values(row, "trial_id", "supersedes_id"), supersedes=supersedes)


def _values(row: Base, *without: str) -> dict[str, Any]:
    """The columns of a row, but for its key and those that lead to other rows."""
    names = [column.name for column in row.__table__.columns if column.name not in ("id", "run_id", *without)]
    return {name: getattr(row, name) for name in names}


@may(INSTRUCTOR, house=True)
def bring_back_house(visit: Visit, house: HousePart) -> None:
    """Put on the shelf, into the rooms and the register what is not there yet; what is there stays as it is.

    Raises Refusal `record` for anything that could not have been typed here.
    """
    try:
        _bring_back_shelf(visit, house)
        _bring_back_rooms(visit, house)
    except Refusal as refusal:
        raise refuse("record", f"The record's house cannot be kept: {refusal.faults[0].message}") from None
    visit.session.flush()


def _bring_back_shelf(visit: Visit, house: HousePart) -> None:
    session = visit.session
    known = set(session.scalars(select(Instrument.name)))
    for tool in house.instruments:
        if tool.name not in known:
            values = tool.model_dump(exclude={"decimals", "retired"})
            keep_instrument(visit, KeepInstrument(number=None, **values)).retired = tool.retired
    kept = set(session.scalars(select(SubstanceRow.uuid)))
    for part in house.substances:
        if part.uuid not in kept:
            values = part.model_dump(exclude={"at", "hazards"})
            row = checked_substance(visit, AddSubstance(hazards="\n".join(part.hazards), **values))
            row.at = part.at
            session.add(row)


def _bring_back_rooms(visit: Visit, house: HousePart) -> None:
    session = visit.session
    for text in house.elevations.values():
        _ = parse_reading(text, "length", "m") if text else None
    rooms = {row.uuid: row for row in session.scalars(select(RoomRow))}
    for part in house.rooms:
        if part.uuid in rooms:
            continue
        if part.slot not in ROOM_SLOTS:
            raise refuse("unknown-field", f"'{part.slot}' is not read of a room.")
        for text in (part.text, part.half_width):
            parse_reading(text, ROOM_SLOTS[part.slot].dimension, part.unit)
        day = day_of(visit, part.section, part.date, part.day, house.elevations)
        before = rooms.get(part.supersedes) if part.supersedes else None
        values = part.model_dump(exclude={"section", "date", "day", "supersedes"})
        rooms[part.uuid] = RoomRow(day_id=day.id, supersedes=before, **values)
        session.add(rooms[part.uuid])


def bring_back(visit: Visit, part: RunPart, elevations: Mapping[str, str]) -> tuple[StoredRun, str]:
    """Keep a run of a record with all of its rows; the run, and what could not be brought back, empty where all was.

    A run that is here already is kept as a copy of its own, which nobody has signed.
    """
    session = visit.session
    there = session.scalar(select(RunRow.id).where(RunRow.uuid == part.uuid)) is not None
    if there:
        part = _copied(part)
    row = RunRow(
        **part.model_dump(
            include={
                "uuid", "method", "title", "note", "options", "schools", "instruments", "planned", "balance",
                "created_at", "changed_at",
            }
        ),
        day_id=day_of(visit, part.section, part.date, part.day, elevations).id,
        bench_id=bench_named(visit, part.bench).id,
        procedure_id=_procedure(visit, part).id,
        version=1,
    )  # fmt: skip
    row.trials = [TrialRow(position=trial.position, label=trial.label) for trial in part.trials]
    row.observations = [ObservationRow(**one.model_dump()) for one in part.observations]
    row.step_events = [StepEventRow(**one.model_dump()) for one in part.step_events]
    row.changes = [ChangeRow(**one.model_dump()) for one in part.changes]
    session.add(row)
    session.flush()
    for place, trial in zip(row.trials, part.trials, strict=True):
        _add_readings(visit, place, trial)
    session.add_all(WithdrawalRow(run_id=row.id, **one.model_dump()) for one in part.withdrawals)
    session.add_all(SignatureRow(run_id=row.id, **one.model_dump()) for one in part.signatures)
    session.flush()
    try:
        run = visit.run_as_begun(row.uuid)
        _ = run.evaluation
    except (ValueError, LookupError):
        # options, schools or texts that this program could never have kept
        raise refuse("record", "The record beside the run file cannot be evaluated.") from None
    return run, "This run is here already: it was kept as a copy, without its signatures." if there else ""


def _add_readings(visit: Visit, place: TrialRow, part: TrialPart) -> None:
    """The rows of a trial, each kept before the next: their order is that of the log."""
    rows: dict[str, ReadingRow] = {}
    for one in part.readings:
        if one.supersedes is not None and one.supersedes not in rows:
            raise refuse("record", f"A correction names the row {one.supersedes}, which is not there.")
        before = rows[one.supersedes] if one.supersedes is not None else None
        rows[one.uuid] = ReadingRow(**one.model_dump(exclude={"supersedes"}), supersedes=before, trial=place)
        visit.session.add(rows[one.uuid])
        visit.session.flush()


def _copied(part: RunPart) -> RunPart:
    """The same run with UUIDs of its own. A signature is given for rows by name, and so does not go along."""
    new = str(uuid4())

    def of(uuid: str) -> str:
        return uuid if uuid.startswith("trial ") else str(uuid5(NAMESPACE_OID, f"{new} {uuid}"))

    def renamed(rows: Iterable[Any], *names: str) -> list[Any]:
        return [
            row.model_copy(update={name: of(getattr(row, name)) for name in names if getattr(row, name)})
            for row in rows
        ]

    return part.model_copy(
        update={
            "uuid": new,
            "trials": [
                trial.model_copy(update={"readings": renamed(trial.readings, "uuid", "supersedes")})
                for trial in part.trials
            ],
            "observations": renamed(part.observations, "uuid"),
            "step_events": renamed(part.step_events, "uuid"),
            "changes": renamed(part.changes, "uuid"),
            "withdrawals": renamed(part.withdrawals, "uuid", "row_uuid"),
            "signatures": [],
        }
    )


def day_of(visit: Visit, section: str, date: Any, title: str, elevations: Mapping[str, str]) -> Day:
    group = visit.session.scalar(select(Section).where(Section.name == section))
    if group is not None and not _is_own(visit, group):
        # a section of somebody else by the same name stays theirs
        section = f"{section} of {visit.caller.login}"[:120]
        group = visit.session.scalar(select(Section).where(Section.name == section))
    if group is None:
        group = new_section(visit, section, elevations.get(section, ""))
    wanted = select(Day).where(Day.section_id == group.id, Day.date == date, Day.title == title)
    day = visit.session.scalar(wanted)
    if day is None:
        day = Day(section_id=group.id, date=date, title=title)
        visit.session.add(day)
        visit.session.flush()
    return day


def _is_own(visit: Visit, section: Section) -> bool:
    """Whether the caller may work in a section; one that was made just now is theirs."""
    sections = visit.caller.whose.sections
    if sections is None or section.id in sections:
        return True
    wanted = select(Membership.id).where(
        Membership.section_id == section.id, Membership.account_id == visit.caller.account
    )
    return visit.session.scalar(wanted) is not None


def bench_named(visit: Visit, name: str) -> Bench:
    bench = visit.session.scalar(select(Bench).where(Bench.name == name, ~Bench.is_simulated))
    if bench is None:
        bench = Bench(name=name)
        visit.session.add(bench)
        visit.session.flush()
    return bench


def _procedure(visit: Visit, part: RunPart) -> ProcedureRow:
    """The procedure in its version, as it is here; where it is not, as the record tells it."""
    told = part.procedure
    wanted = select(ProcedureRow).where(ProcedureRow.name == told.name, ProcedureRow.version == told.version)
    row = visit.session.scalar(wanted)
    if row is not None and row.method == part.method:
        return row
    if row is not None:
        raise refuse("record", f"The procedure '{told.name}' belongs to another method here.")
    try:
        Procedure.model_validate(told.body)
    except ValueError as error:
        raise refuse("record", f"The procedure '{told.name}' cannot be read: {error}") from None
    row = ProcedureRow(method=part.method, **told.model_dump())
    visit.session.add(row)
    visit.session.flush()
    return row
