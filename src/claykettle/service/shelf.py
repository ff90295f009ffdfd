"""What a first start makes, and what a new run can choose from."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session

from claykettle.core.errors import Fault, Refusal, WorksheetError, refuse
from claykettle.core.method import Method
from claykettle.core.methods.registry import all_methods, shipped_procedures
from claykettle.core.run import Procedure, procedure_body
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
        session.add(Instrument(kind="balance", name="Balance A", half_width="0.001 g", decimals=3, capacity="200 g"))
    known = set(session.scalars(select(Instrument.kind)))
    for kind, name, half_width, decimals, carries in USUAL_INSTRUMENTS:
        if kind not in known:
            session.add(Instrument(kind=kind, name=name, half_width=half_width, decimals=decimals, capacity=carries))
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


def instruments_by_kind(session: Session, day: Day, chosen: Mapping[str, int]) -> dict[str, Instrument]:
    """Of each kind the instrument chosen, else the day's, else the first on the shelf.

    Raises Refusal (`unknown-instrument`, path `instruments.KIND`) for one that is not there.
    """
    rows = list(session.scalars(select(Instrument).where(~Instrument.retired).order_by(Instrument.id.desc())))
    found = {row.kind: row for row in rows}
    by_id = {row.id: row for row in rows}
    usual = {kind: by_id[number] for kind, number in day.instruments.items() if number in by_id}
    faults = [
        Fault("unknown-instrument", f"instruments.{kind}", "This instrument is not on the shelf; choose another.")
        for kind, number in chosen.items()
        if number not in by_id or by_id[number].kind != kind
    ]
    if faults:
        raise Refusal(*faults)
    return found | usual | {kind: by_id[number] for kind, number in chosen.items()}


def instruments_shown(session: Session) -> list[InstrumentView]:
    """All instruments that are offered, by kind and name."""
    rows = select(Instrument).where(~Instrument.retired).order_by(Instrument.kind, Instrument.name)
    return [InstrumentView.model_validate(row) for row in session.scalars(rows)]


def half_widths(method: Method, instruments: Mapping[str, Instrument]) -> dict[str, dict[str, str]]:
    """The instruments that a method reads: half-width and name by kind."""
    kinds = {reading.instrument for reading in method.page.readings if reading.given is None}
    return {
        kind: {"half_width": row.half_width, "name": row.name}
        for kind, row in sorted(instruments.items())
        if kind in kinds
    }


def latest_procedures(session: Session) -> list[ProcedureRow]:
    """Each procedure in its latest version."""
    rows = session.scalars(select(ProcedureRow).order_by(ProcedureRow.name, ProcedureRow.version))
    return list({row.name: row for row in rows}.values())


def procedure_for(session: Session, method: str, name: str | None) -> ProcedureRow:
    """The latest version of a method's procedure, the one of this name where one is given. Raises Refusal."""
    rows = [row for row in latest_procedures(session) if row.method == method and name in (None, row.name)]
    if not rows:
        raise refuse("unknown-procedure", "This procedure is not known for the method; choose another.", "procedure")
    return rows[0]


def shelf(session: Session, today: date) -> ShelfView:
    """What the form for a new run offers."""
    day = the_day(session, today)
    section = session.get_one(Section, day.section_id)
    instruments = instruments_shown(session)
    procedures = [(row, Procedure.model_validate(row.body)) for row in latest_procedures(session)]
    return ShelfView(
        section=section.name,
        day=day.date.isoformat(),
        benches=[BenchView.model_validate(row) for row in session.scalars(select(Bench).order_by(Bench.id))],
        balances=[row for row in instruments if row.kind == "balance"],
        instruments=instruments,
        defaults={kind: row.id for kind, row in instruments_by_kind(session, day, {}).items()},
        elevation=section.elevation,
        methods=[
            MethodView(
                name=method.name,
                title=method.title,
                planned=method.planned.name if method.planned else "",
                reads=sorted({row.instrument for row in method.page.readings if row.given is None and row.instrument}),
                options=method.options.model_json_schema(),
                procedures=[procedure_view(body) for row, body in procedures if row.method == method.name],
            )
            for method in all_methods().values()
        ],
    )


def procedure_view(procedure: Procedure) -> ProcedureView:
    """A procedure as the forms offer it."""
    return ProcedureView(
        name=procedure.name,
        version=procedure.version,
        title=procedure.title,
        caution=procedure.caution,
        schools=[ChoiceView(name=name, **choice.model_dump()) for name, choice in procedure.schools.items()],
        windows={name: window.model_dump(exclude_none=True) for name, window in procedure.windows.items()},
    )
