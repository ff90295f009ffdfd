"""What a first start makes, and what a new run can choose from."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from sqlalchemy import select

from claykettle.core.method import Method
from claykettle.core.methods.registry import all_methods, shipped_procedures
from claykettle.core.run import Procedure
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.shelf.day import FIRST_BENCH, InstrumentView, instruments_by_kind, instruments_shown, the_day
from claykettle.service.shelf.procedures import ProcedureView, keep_version, latest_procedures, procedure_view
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.tables import Bench, Day, Instrument, Section

USUAL_INSTRUMENTS = (
    ("coarse_balance", "Coarse balance", "0.01 g", 2, "2000 g"),
    ("volume", "Gas tube", "0.05 mL", 1, ""),
    ("liquid_volume", "Measuring cylinder", "0.5 mL", 0, ""),
    ("thermometer", "Thermometer", "0.5 degC", 1, ""),
    ("barometer", "Barometer", "0.5 hPa", 1, ""),
    ("ruler", "Ruler", "0.5 mm", 0, ""),
    ("hygrometer", "Hygrometer", "5 %", 0, ""),
    ("clock", "Clock", "1 s", 0, ""),
)
"""One instrument of every kind beside the balances, with half a division of what schools usually have, and what it
carries where that is known."""


class BenchView(View):
    """A place in the laboratory."""

    id: int
    name: str


class MethodView(View):
    """A method: the reading that a plan sizes, the kinds of instruments, its options as JSON Schema (`answers` are
    those that tell what is to be found), its procedures.
    """

    name: str
    title: str
    usual_first: bool
    planned: str
    planned_label: str
    reads: list[str]
    options: dict[str, Any]
    answers: list[str]
    procedures: list[ProcedureView]


class ShelfView(View):
    """What a new run can choose from."""

    section: str
    day: str
    benches: list[BenchView]
    balances: list[InstrumentView]
    instruments: list[InstrumentView]
    defaults: dict[str, int]
    elevation: str
    methods: list[MethodView]


def first_start(visit: Visit) -> None:
    """One section, one day, one bench and one balance on an empty database.

    An instrument of every other kind where there is none yet, and the shipped procedures, always.
    """
    session = visit.session
    if session.scalar(select(Section.id).limit(1)) is None:
        section = Section(name="My section")
        session.add(section)
        session.flush()
        session.add(Day(section_id=section.id, date=visit.today, title="Practical"))
        session.add(Bench(name=FIRST_BENCH))
        session.add(Instrument(kind="balance", name="Balance A", half_width="0.001 g", decimals=3, capacity="200 g"))
    known = set(session.scalars(select(Instrument.kind)))
    for kind, name, half_width, decimals, carries in USUAL_INSTRUMENTS:
        if kind not in known:
            session.add(Instrument(kind=kind, name=name, half_width=half_width, decimals=decimals, capacity=carries))
    open_house(visit)


def open_house(visit: Visit) -> None:
    """What every house has whether somebody was in it or not: the shipped procedures. Nothing is invented."""
    for procedure in shipped_procedures():
        keep_version(visit, procedure)


@may(BENCH, INSTRUCTOR)
def shelf(visit: Visit) -> ShelfView:
    """What the form for a new run offers."""
    day = the_day(visit)
    section = visit.session.get_one(Section, day.section_id)
    instruments = instruments_shown(visit)
    courses = [row.course for row in latest_procedures(visit)]
    benches = benches_of(visit)
    return ShelfView(
        section=section.name,
        day=day.date.isoformat(),
        benches=benches,
        balances=[row for row in instruments if row.kind == "balance"],
        instruments=instruments,
        defaults={kind: row.id for kind, row in instruments_by_kind(visit, day, {}).items()},
        elevation=section.elevation,
        methods=[_method(method, courses) for method in all_methods().values()],
    )


def benches_of(visit: Visit) -> list[BenchView]:
    """The benches at which the caller may begin a run: a tablet's own, else all that are in use."""
    query = select(Bench).where(~Bench.retired).order_by(Bench.id)
    if visit.caller.bench is not None:
        query = query.where(Bench.id == visit.caller.bench)
    return [BenchView.model_validate(row) for row in visit.session.scalars(query)]


def _method(method: Method, courses: Sequence[Procedure]) -> MethodView:
    return MethodView(
        name=method.name,
        title=method.title,
        usual_first=method.usual_first,
        planned=method.planned.name if method.planned else "",
        planned_label=_planned_label(method),
        reads=sorted({row.instrument for row in method.page.readings if row.given is None and row.instrument}),
        options=method.options.described(),
        answers=list(method.judging.answers),
        procedures=[procedure_view(course) for course in courses if course.method == method.name],
    )


def _planned_label(method: Method) -> str:
    """What is planned, as a form calls it; empty where a method plans nothing."""
    if method.planned is None:
        return ""
    return (method.foresight.label if method.foresight else method.planned.label).capitalize()
