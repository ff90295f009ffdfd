"""The class at its doors: the code by which tablets join it, the tablets themselves, the board's link, its end."""

from __future__ import annotations

from datetime import timedelta

from sqlalchemy import Select, select, update

from claykettle.core.errors import NotFound, Refusal, refuse
from claykettle.core.wording import fault_in_name
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.doors.knocking import new_code, new_secret, token_of
from claykettle.service.noting import note, note_change
from claykettle.service.shelf.day import classes_beside, day_numbered
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.records import iso
from claykettle.store.summaries import count_on
from claykettle.store.tables import Bench, Day, RunRow, Section, SignIn

LENGTH = 6
CODE_LASTS = timedelta(hours=12)
BOARD_LASTS = timedelta(hours=16)


class TabletView(View):
    """A tablet that joined."""

    id: int
    bench: str
    joined_at: str
    address: str


class BenchRowView(View):
    """A bench of the laboratory."""

    id: int
    name: str
    retired: bool


class ClassHereView(View):
    """Another class of the section today."""

    number: int
    title: str
    starts: str


class ClassView(View):
    """A class at its doors, and those that are held beside it today. `code` is empty while none is given out; `link` is
    the board's, told once.
    """

    number: int
    section: str
    date: str
    title: str
    is_closed: bool
    code: str
    code_until: str
    tablets: list[TabletView]
    benches: list[BenchRowView]
    starts: str
    beside: list[ClassHereView]
    link: str = ""


def valid_code(visit: Visit, day: Day) -> str:
    """The code by which tablets join the class of a day, empty where none is good now."""
    is_valid = day.code_until is not None and day.code_until > visit.now and not day.is_closed
    return day.code or "" if is_valid else ""


@may(INSTRUCTOR)
def class_view(visit: Visit, number: int = 0) -> ClassView:
    """A class at its doors; number 0 is the one at work now. Raises NotFound, NotYours."""
    day = day_numbered(visit, number)
    code = valid_code(visit, day)
    joined = (
        select(SignIn, Bench.name)
        .join(Bench, SignIn.bench_id == Bench.id)
        .where(SignIn.day_id == day.id, SignIn.kind == "bench", ~SignIn.ended, SignIn.until > visit.now)
        .order_by(SignIn.bench_id, SignIn.id)
    )
    return ClassView(
        number=day.id,
        section=visit.session.get_one(Section, day.section_id).name,
        date=day.date.isoformat(),
        title=day.title,
        is_closed=day.is_closed,
        code=code,
        code_until=iso(day.code_until) if code and day.code_until is not None else "",
        tablets=[
            TabletView(id=row.id, bench=bench, joined_at=iso(row.began_at), address=row.address)
            for row, bench in visit.session.execute(joined)
        ],
        benches=[BenchRowView.model_validate(row) for row in visit.session.scalars(_benches_here())],
        starts=day.starts,
        beside=[
            ClassHereView(number=row.id, title=row.title, starts=starts) for starts, row in classes_beside(visit, day)
        ],
    )


def _benches_here() -> Select[Bench]:
    return select(Bench).where(~Bench.is_simulated).order_by(Bench.id)


@may(INSTRUCTOR, house=True)
def renew_code(visit: Visit, number: int = 0) -> ClassView:
    """A new code for the class, in place of the one before; the class is open. Tablets that joined stay."""
    day = day_numbered(visit, number)
    day.code, day.code_until, day.is_closed = new_code(LENGTH), visit.now + CODE_LASTS, False
    visit.session.flush()
    note(visit, "code given out", f"class of {day.date.isoformat()}")
    return class_view(visit, day.id)


@may(INSTRUCTOR)
def close_class(visit: Visit, closed: bool, number: int = 0) -> ClassView:
    """Close the class: its tablets record nothing more; or open it again."""
    day = day_numbered(visit, number)
    day.is_closed = closed
    visit.session.flush()
    note(visit, "class closed" if closed else "class opened", f"class of {day.date.isoformat()}")
    return class_view(visit, day.id)


@may(INSTRUCTOR)
def turn_out(visit: Visit, tablet: int, number: int = 0) -> ClassView:
    """Let a tablet in no more. Raises NotFound for one that is not of this class."""
    day = day_numbered(visit, number)
    done = visit.session.execute(update(SignIn).where(SignIn.id == tablet, SignIn.day_id == day.id).values(ended=True))
    if not done.rowcount:  # type: ignore[attr-defined]
        raise NotFound("There is no such tablet in this class.")
    note(visit, "tablet turned out", f"tablet {tablet}")
    return class_view(visit, day.id)


@may(INSTRUCTOR, house=True)
def board_link(visit: Visit, shows_answers: bool, number: int = 0) -> ClassView:
    """A link for the projector, which reads only; it ends the one before. What it holds is told this once."""
    day = day_numbered(visit, number)
    visit.session.execute(update(SignIn).where(SignIn.day_id == day.id, SignIn.kind == "board").values(ended=True))
    secret = new_secret()
    visit.session.add(
        SignIn(
            token=token_of(secret), kind="board", section_id=day.section_id, day_id=day.id,
            shows_answers=shows_answers, began_at=visit.now, until=visit.now + BOARD_LASTS,
        )
    )  # fmt: skip
    visit.session.flush()
    note(visit, "board's link given out", f"class of {day.date.isoformat()}")
    return class_view(visit, day.id).model_copy(update={"link": secret})


@may(INSTRUCTOR, house=True)
def name_bench(visit: Visit, number: int | None, name: str, retired: bool) -> ClassView:
    """A bench more, or one under another name, or used no more. Raises Refusal with path `name`, NotFound."""
    name = " ".join(name.split())
    fault = fault_in_name(name, "name", "Give the bench a name that stands on it: Flint, 3, window.")
    if fault is not None:
        raise Refusal(fault)
    if len(name) > 60:
        raise refuse("too-long", "At most 60 characters.", "name")
    other = visit.session.scalar(_benches_here().where(Bench.name == name, Bench.id != (number or 0)))
    if other is not None:
        raise refuse("taken", "There is a bench of this name; take another.", "name")
    if number is None:
        visit.session.add(Bench(name=name, retired=retired))
        note(visit, "bench added", name)
    else:
        bench = visit.session.scalar(_benches_here().where(Bench.id == number))
        if bench is None:
            raise NotFound("There is no such bench.")
        told = [f"{row}{', not in use' if out else ''}" for row, out in ((bench.name, bench.retired), (name, retired))]
        note_change(visit, "bench changed", *told)
        if bench.name != name:
            count_on(visit.session, RunRow.bench_id == bench.id)
        bench.name, bench.retired = name, retired
    visit.session.flush()
    return class_view(visit)
