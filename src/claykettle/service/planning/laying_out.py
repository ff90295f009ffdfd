"""Laying out a class: its day, its benches with their students and all its runs in one transaction; who comes late."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, fields
from typing import Any
from uuid import UUID, uuid5

from sqlalchemy import func, select

from claykettle.core.errors import Fault, NotFound, NotYours, Refusal, refuse
from claykettle.core.planning.practical import Practical
from claykettle.formats.practical_file import practical_document
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.noting import note
from claykettle.service.planning.practicals import version_row
from claykettle.service.planning.preparing import title_of
from claykettle.service.planning.roster import students_named
from claykettle.service.planning.wishes import Read, Wish, read_wish
from claykettle.service.shelf.day import half_widths, the_day
from claykettle.service.shelf.procedures import course_row
from claykettle.service.shelf.room import take_room_along, with_room
from claykettle.service.shelf.substances import register
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun
from claykettle.store.tables import (
    Bench,
    ChangeRow,
    ClassSession,
    Day,
    Instrument,
    ObservationRow,
    Place,
    PracticalVersion,
    ReadingRow,
    RunRow,
    Seat,
    StepEventRow,
    TrialRow,
)


class PlaceView(View):
    """A bench in a class: who stands there, its run, whether it dropped out."""

    bench_id: int
    bench: str
    students: list[str]
    run: str
    is_out: bool


class SessionView(View):
    """A further session of a class."""

    date: str
    starts: str
    length_min: int


class LaidOutView(View):
    """A class that was laid out, with the plan that it was laid out by."""

    id: int
    title: str
    date: str
    starts: str
    is_closed: bool
    practical: int | None
    version: int | None
    plan: dict[str, Any]
    is_taken_back: bool
    places: list[PlaceView]
    sessions: list[SessionView]


class ClassLine(View):
    """A class in the list: when, what, how many benches."""

    id: int
    title: str
    date: str
    starts: str
    method: str
    benches: int


class ClassesView(View):
    """The classes of the section where the caller works, the latest first; `is_cut` where there are more."""

    classes: list[ClassLine]
    is_cut: bool


@dataclass(frozen=True)
class LayOut:
    """A class to be laid out: its wish, by bench the names of who stands there, and which practical it came from."""

    uuid: str
    wish: Wish
    students: Mapping[int, list[str]] = field(default_factory=dict)
    practical: int | None = None
    version: int | None = None


@dataclass(frozen=True)
class ChangePlace:
    """A bench that drops out, comes back, or comes late to a class; with the names of who stands there."""

    bench: int
    is_out: bool = False
    students: tuple[str, ...] | None = None


MOST = 200


@may(INSTRUCTOR)
def lay_out(visit: Visit, command: LayOut) -> LaidOutView:
    """Lay out a class: all its runs, or none. The same UUID twice is one class.

    Raises Refusal with every fault, paths as the sentence's fields.
    """
    laid = _laid_out_already(visit, command)
    if laid is not None:
        return laid_out_view(visit, laid)
    read = read_wish(visit, command.wish)
    title = title_of(read, register(visit))
    section = the_day(visit).section_id
    if read.day is not None:
        twice = select(Day).where(Day.section_id == section, Day.date == read.day, Day.title == title)
        other = visit.session.scalars(twice).one_or_none()
        if other is not None:
            text = "There is a class of this name on that day; give this one a name of its own."
            read.faults.append(Fault("taken", "title", text))
    read.faults += _seated_twice(read, command)
    practical = read.practical
    if read.faults or practical is None or read.day is None:
        raise Refusal(*read.faults)
    day = Day(
        section_id=section, date=read.day, title=title, starts=_written(read),
        instruments={kind: row.id for kind, row in read.chosen.items()},
        reveal=practical.reveal, plan={"uuid": command.uuid, **_planned(command.wish, practical)},
        practical_version_id=(
            version_row(visit, command.practical, command.version).id
            if command.practical is not None and command.version is not None
            else None
        ),
    )  # fmt: skip
    visit.session.add(day)
    visit.session.flush()
    if read.day == visit.today:
        take_room_along(visit, day)
    for position, bench in enumerate(read.benches, start=1):
        place = Place(day_id=day.id, bench_id=bench.id, position=position, is_out=False)
        visit.session.add(place)
        visit.session.flush()
        _seat(visit, place, section, command.students.get(bench.id, []), f"students.{bench.id}")
        _begin(visit, place, day, bench, read)
    note(visit, "class laid out", f"{title}, {day.date.isoformat()}, {len(read.benches)} benches")
    return laid_out_view(visit, day)


def _laid_out_already(visit: Visit, command: LayOut) -> Day | None:
    """The class that was laid out under this UUID, whatever was said of it since: its answer was lost on the way."""
    runs = [_run_of(command.uuid, bench) for bench in command.wish.benches[:MOST]]
    number = visit.session.scalar(select(RunRow.day_id).where(RunRow.uuid.in_(runs)).limit(1))
    return class_day(visit, number) if number is not None else None


def _run_of(uuid: str, bench: int) -> str:
    return str(uuid5(UUID(uuid), f"bench {bench}"))


def _seated_twice(read: Read, command: LayOut) -> Iterator[Fault]:
    """Nobody stands at two benches."""
    seen: dict[str, str] = {}
    for bench in read.benches:
        for name in command.students.get(bench.id, []):
            other = seen.setdefault(" ".join(name.split()).casefold(), bench.name)
            if other != bench.name:
                yield Fault("twice", f"students.{bench.id}", f"{name.strip()} stands at {other} already.")


@may(INSTRUCTOR)
def classes(visit: Visit) -> ClassesView:
    """The classes that were laid out in the section where the caller works."""
    is_kept = func.json_value(Day.plan, "$.taken_back").is_(None)
    query = (
        select(Day)
        .where(Day.section_id == the_day(visit).section_id, Day.plan.is_not(None), is_kept)
        .order_by(Day.date.desc(), Day.starts.desc(), Day.id.desc())
        .limit(MOST + 1)
    )
    rows = visit.session.scalars(query).all()
    return ClassesView(classes=[_line(row) for row in rows[:MOST]], is_cut=len(rows) > MOST)


@may(INSTRUCTOR)
def laid_out_class(visit: Visit, number: int) -> LaidOutView:
    """A class that was laid out. Raises NotFound, NotYours."""
    return laid_out_view(visit, class_day(visit, number))


@may(INSTRUCTOR)
def change_place(visit: Visit, number: int, command: ChangePlace) -> LaidOutView:
    """Let a bench drop out of a class or come back, or begin one that comes late.

    What a bench has recorded stays. Raises NotFound, NotYours, Refusal.
    """
    day = class_day(visit, number)
    if _is_taken_back(day):
        raise refuse("taken-back", "This class was taken back; prepare it again.", "number")
    bench = visit.session.get(Bench, command.bench)
    if bench is None:
        raise refuse("unknown-bench", "This bench is not on the list any more; choose another.", "bench")
    place = next((row for row in day.places if row.bench_id == bench.id), None)
    if place is None:
        if command.is_out:
            raise refuse("unknown-bench", "This bench has no place in the class.", "bench")
        place = Place(day_id=day.id, bench_id=bench.id, position=len(day.places) + 1, is_out=False)
        visit.session.add(place)
        visit.session.flush()
        read = read_wish(visit, wish_of(day))
        # when the class was to begin does not matter to who comes late
        faults = [row for row in read.faults if row.path not in ("date", "starts", "benches")]
        if faults:
            raise Refusal(*faults)
        _begin(visit, place, day, bench, read)
        note(visit, "bench came late", f"{bench.name}, {day.title}")
    elif place.is_out != command.is_out:
        place.is_out = command.is_out
        note(visit, "bench dropped out" if command.is_out else "bench came back", f"{bench.name}, {day.title}")
    if command.students is not None:
        _seat(visit, place, day.section_id, list(command.students), "students")
    visit.session.flush()
    visit.session.expire(day, ["places"])
    return laid_out_view(visit, day)


@may(INSTRUCTOR)
def take_back_class(visit: Visit, number: int) -> LaidOutView:
    """Take back a class that was laid out by mistake: its benches are out, its name is free again.

    Raises NotFound, NotYours, Refusal where something was recorded already.
    """
    day = class_day(visit, number)
    runs = [place.run_id for place in day.places if place.run_id is not None]
    if _is_begun(visit, runs):
        text = "Something was recorded already: let single benches drop out, what they recorded stays."
        raise refuse("begun", text, "number")
    for place in day.places:
        place.is_out = True
    day.is_closed = True
    day.plan = {**(day.plan or {}), "taken_back": True}
    day.title = f"{day.title[:100]} (taken back {day.id})"
    note(visit, "class taken back", f"{day.title}, {day.date.isoformat()}")
    visit.session.flush()
    return laid_out_view(visit, day)


def _is_taken_back(day: Day) -> bool:
    return bool((day.plan or {}).get("taken_back"))


def _is_begun(visit: Visit, runs: list[int]) -> bool:
    """Whether a bench of these runs has weighed, seen or done anything; the room's readings are not its own."""
    own = select(ReadingRow.id).join(TrialRow).where(TrialRow.run_id.in_(runs), TrialRow.position > 0)
    others = (select(table.id).where(table.run_id.in_(runs)) for table in (ObservationRow, StepEventRow, ChangeRow))
    return any(visit.session.scalar(query.limit(1)) is not None for query in (own, *others))


def class_day(visit: Visit, number: int) -> Day:
    """The day of a class that was laid out. Raises NotFound, NotYours."""
    day = visit.session.get(Day, number)
    if day is None or not day.plan:
        raise NotFound("There is no such class.")
    if not visit.caller.is_program and day.section_id not in visit.caller.sections:
        raise NotYours("This class belongs to a section that is not yours.")
    return day


def wish_of(day: Day) -> Wish:
    """The wish by which a class was laid out."""
    return Wish(**_wished(day))


def _wished(day: Day) -> dict[str, Any]:
    """What the class was wished as; whatever another version kept beside it is left out."""
    known = {row.name for row in fields(Wish)}
    return {name: value for name, value in (day.plan or {}).items() if name in known}


def _planned(wish: Wish, practical: Practical) -> dict[str, Any]:
    """The wish as it is kept: its practical whole, in the words in which the class begins."""
    return {**vars(wish), "practical": practical_document(practical), "benches": list(wish.benches)}


def _written(read: Read) -> str:
    assert read.starts is not None  # else among the faults
    return f"{read.starts // 60:02}:{read.starts % 60:02}"


def _seat(visit: Visit, place: Place, section: int, names: list[str], path: str) -> None:
    students = students_named(visit, section, names, path)
    place.seats = [Seat(place_id=place.id, student_id=row.id) for row in students]
    visit.session.flush()


def _begin(visit: Visit, place: Place, day: Day, bench: Bench, read: Read) -> StoredRun:
    """The run of a bench, with all its trials, and the room's readings that stand."""
    practical, plan = read.practical, day.plan or {}
    assert practical is not None  # else among the faults
    instruments = {**read.chosen, "balance": _balance_of(visit, place, read)}
    row = RunRow(
        uuid=_run_of(plan["uuid"], bench.id),
        day_id=day.id,
        bench_id=bench.id,
        procedure_id=course_row(visit, practical.course).id,
        method=practical.method.name,
        title=day.title,
        note="",
        options=practical.options.model_dump(mode="json", exclude_defaults=True),
        schools=dict(practical.schools),
        instruments=half_widths(practical.method, instruments),
        planned=dict(_windows(read, practical)),
        balance=instruments["balance"].name,
        created_at=visit.now,
        changed_at=visit.now,
        version=1,
    )
    row.trials += [TrialRow(position=number, label=str(number)) for number in range(1, read.trials + 1)]
    run = with_room(visit, visit.begun(row))
    place.run_id = run.id
    return run


def _balance_of(visit: Visit, place: Place, read: Read) -> Instrument:
    """The balance of a bench: where nobody named one, the room's balances that are alike have their turns."""
    chosen = read.chosen["balance"]
    if (read.wish.practical.get("instruments") or {}).get("balance"):
        return chosen
    query = select(Instrument).where(
        Instrument.kind == chosen.kind, Instrument.half_width == chosen.half_width, ~Instrument.retired
    )
    alike = sorted(visit.session.scalars(query), key=lambda row: (row.id != chosen.id, row.id))
    count = max(1, min(len(alike), read.wish.room.get("balance", 1)))
    return alike[(place.position - 1) % count]


def _windows(read: Read, practical: Practical) -> Iterator[tuple[str, dict[str, str]]]:
    """Where the planned readings should lie: as the practical says, else about what the class was sized for."""
    for name, window in practical.planned.items():
        rows = {key: f"{row.digits} {row.unit.symbol}" for key, row in vars(window).items() if row is not None}
        if rows:
            yield name, rows
    planned, sizing = practical.method.planned, read.sizing
    look = sizing.asked or sizing.about if sizing is not None else None
    if look is None or sizing is None or sizing.unit != "g" or planned is None or planned.name in practical.planned:
        return
    yield planned.name, {"about": look.text}


def laid_out_view(visit: Visit, day: Day) -> LaidOutView:
    """A class as it was laid out, with where it goes on."""
    version = day.practical_version_id
    row = visit.session.get_one(PracticalVersion, version) if version is not None else None
    return LaidOutView(
        id=day.id,
        title=day.title,
        date=day.date.isoformat(),
        starts=day.starts,
        is_closed=day.is_closed,
        practical=row.practical_id if row is not None else None,
        version=row.number if row is not None else None,
        plan=_wished(day),
        is_taken_back=_is_taken_back(day),
        places=[
            PlaceView(
                bench_id=place.bench_id,
                bench=place.bench.name,
                students=[seat.student.name for seat in place.seats],
                run=place.run.uuid if place.run is not None else "",
                is_out=place.is_out,
            )
            for place in day.places
        ],
        sessions=[
            SessionView(date=row.date.isoformat(), starts=row.starts, length_min=row.length_min)
            for row in visit.session.scalars(
                select(ClassSession).where(ClassSession.day_id == day.id).order_by(ClassSession.date)
            )
        ],
    )


def _line(day: Day) -> ClassLine:
    practical = (day.plan or {}).get("practical", {})
    return ClassLine(
        id=day.id,
        title=day.title,
        date=day.date.isoformat(),
        starts=day.starts,
        method=str(practical.get("method", "")),
        benches=len(day.places),
    )
