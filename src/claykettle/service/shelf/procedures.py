"""The procedures kept here: the shipped ones, every version that was ever used."""

from __future__ import annotations

from sqlalchemy import select

from claykettle.core.errors import WorksheetError, refuse
from claykettle.core.run import Procedure, procedure_body
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.tables import ProcedureRow


class ChoiceView(View):
    """One question of a procedure."""

    name: str
    title: str
    default: str
    choices: dict[str, str]


class ProcedureView(View):
    """A procedure that a run can follow."""

    name: str
    version: int
    title: str
    caution: str
    schools: list[ChoiceView]
    windows: dict[str, dict[str, str]]


def keep_version(visit: Visit, procedure: Procedure) -> None:
    """Store a shipped procedure once a version. Raises WorksheetError where a version's text was changed."""
    wanted = select(ProcedureRow).where(ProcedureRow.name == procedure.name, ProcedureRow.version == procedure.version)
    row = visit.session.scalar(wanted)
    body = procedure_body(procedure)
    if row is None:
        row = ProcedureRow(name=procedure.name, version=procedure.version, method=procedure.method)
        row.title, row.body = procedure.title, body
        visit.session.add(row)
    elif row.body != body:
        raise WorksheetError(f"procedure {procedure.name} was changed without raising its version {procedure.version}")


def latest_procedures(visit: Visit) -> list[ProcedureRow]:
    """Each procedure in its latest version."""
    rows = visit.session.scalars(select(ProcedureRow).order_by(ProcedureRow.name, ProcedureRow.version))
    return list({row.name: row for row in rows}.values())


def procedure_for(visit: Visit, method: str, name: str | None) -> ProcedureRow:
    """The latest version of a method's procedure, the one of this name where one is given. Raises Refusal."""
    rows = [row for row in latest_procedures(visit) if row.method == method and name in (None, row.name)]
    if not rows:
        raise refuse("unknown-procedure", "This procedure is not known for the method; choose another.", "procedure")
    return rows[0]


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
