"""What a first start makes, and what a new run can choose from."""

from __future__ import annotations

from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session

from claykettle.core.errors import WorksheetError
from claykettle.core.method import Method
from claykettle.core.methods.registry import all_methods
from claykettle.core.procedure import Procedure, procedure_body, shipped_procedures
from claykettle.service.views import (
    BenchView,
    ChoiceView,
    InstrumentView,
    MethodView,
    ProcedureView,
    ShelfView,
)
from claykettle.store.tables import Bench, Day, Instrument, ProcedureRow, Section

USUAL_INSTRUMENTS = (
    ("coarse_balance", "Coarse balance", "0.01 g", 2),
    ("volume", "Gas tube", "0.05 mL", 1),
    ("liquid_volume", "Measuring cylinder", "0.5 mL", 0),
    ("thermometer", "Thermometer", "0.5 degC", 1),
    ("barometer", "Barometer", "0.5 hPa", 1),
    ("ruler", "Ruler", "0.5 mm", 0),
    ("hygrometer", "Hygrometer", "5 %", 0),
)
"""One instrument of every kind beside the balances, with half a division of what schools usually have."""


def first_start(session: Session, today: date) -> None:
    """One section, one day, one bench and one balance on an empty database.

    An instrument of every other kind where there is none yet, and the shipped procedures, always.
    """
    if session.scalar(select(Section.id).limit(1)) is None:
        section = Section(name="My section")
        session.add(section)
        session.flush()
        session.add(Day(section_id=section.id, date=today, title="Practical"))
        session.add(Bench(name="Bench 1"))
        session.add(Instrument(kind="balance", name="Balance A", half_width="0.001 g", decimals=3))
    known = set(session.scalars(select(Instrument.kind)))
    for kind, name, half_width, decimals in USUAL_INSTRUMENTS:
        if kind not in known:
            session.add(Instrument(kind=kind, name=name, half_width=half_width, decimals=decimals))
    for procedure in shipped_procedures():
        _keep_version(session, procedure)


def _keep_version(session: Session, procedure: Procedure) -> None:
    """Store a shipped procedure once a version. Raises WorksheetError where a version's text was changed."""
    wanted = select(ProcedureRow).where(ProcedureRow.name == procedure.name, ProcedureRow.version == procedure.version)
    row = session.scalar(wanted)
    body = procedure_body(procedure)
    if row is None:
        session.add(
            ProcedureRow(
                name=procedure.name,
                version=procedure.version,
                method=procedure.method,
                title=procedure.title,
                body=body,
            )
        )
    elif row.body != body:
        raise WorksheetError(f"procedure {procedure.name} was changed without raising its version {procedure.version}")


def the_day(session: Session, today: date) -> Day:
    """Today's practical of the section used last; made where today has none."""
    latest = session.scalars(select(Day).order_by(Day.date.desc(), Day.id.desc()).limit(1)).one()
    if latest.date >= today:
        return latest
    day = Day(section_id=latest.section_id, date=today, title=latest.title)
    session.add(day)
    session.flush()
    return day


def half_widths(session: Session, method: Method, balance: Instrument) -> dict[str, dict[str, str]]:
    """The half-widths of the instruments that a method reads: the balance chosen, else the first of each kind."""
    kinds = {reading.instrument for reading in method.page.readings if reading.given is None}
    rows = session.scalars(select(Instrument).order_by(Instrument.id.desc()))
    first = {row.kind: row for row in rows} | {"balance": balance}
    return {kind: {"half_width": row.half_width} for kind, row in sorted(first.items()) if kind in kinds}


def latest_procedures(session: Session) -> list[ProcedureRow]:
    """Each procedure in its latest version."""
    rows = session.scalars(select(ProcedureRow).order_by(ProcedureRow.name, ProcedureRow.version))
    return list({row.name: row for row in rows}.values())


def shelf(session: Session, today: date) -> ShelfView:
    """What the form for a new run offers."""
    day = the_day(session, today)
    section = session.get_one(Section, day.section_id)
    balances = session.scalars(select(Instrument).where(Instrument.kind == "balance").order_by(Instrument.name))
    procedures = [(row, Procedure.model_validate(row.body)) for row in latest_procedures(session)]
    return ShelfView(
        section=section.name,
        day=day.date.isoformat(),
        benches=[BenchView.model_validate(row) for row in session.scalars(select(Bench).order_by(Bench.id))],
        balances=[InstrumentView.model_validate(row) for row in balances],
        methods=[
            MethodView(
                name=method.name,
                title=method.title,
                planned=method.planned.name if method.planned else "",
                options=method.options.model_json_schema(),
                procedures=[_procedure_view(body) for row, body in procedures if row.method == method.name],
            )
            for method in all_methods().values()
        ],
    )


def _procedure_view(procedure: Procedure) -> ProcedureView:
    return ProcedureView(
        name=procedure.name,
        version=procedure.version,
        title=procedure.title,
        caution=procedure.caution,
        schools=[ChoiceView(name=name, **choice.model_dump()) for name, choice in procedure.schools.items()],
        windows={name: window.model_dump(exclude_none=True) for name, window in procedure.windows.items()},
    )
