"""The procedures kept here: the shipped ones, every version that was ever used."""

from __future__ import annotations

import hashlib
import json

from sqlalchemy import select

from claykettle.core.errors import refuse
from claykettle.core.run import Procedure, procedure_body
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.records import StoredProcedure
from claykettle.store.runs import stored_procedure
from claykettle.store.tables import ProcedureRow

OWN = "own_"
"""How the name of a procedure begins that a practical changed."""


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
    """Store a shipped procedure once a version.

    A text that stands here under its version already, and says otherwise, came of a program between two releases: runs
    follow it, so that it stays as it is, and the shipped one takes the next version that is free.
    """
    rows = select(ProcedureRow).where(ProcedureRow.name == procedure.name).order_by(ProcedureRow.version)
    kept = visit.session.scalars(rows).all()
    body = procedure_body(procedure)
    wordings = [{**row.body, "version": procedure.version} for row in kept]
    if kept and wordings[-1] == body and kept[-1].version >= procedure.version:
        return
    version = max([procedure.version, *(row.version + 1 for row in kept)])
    row = ProcedureRow(name=procedure.name, version=version, method=procedure.method)
    row.title, row.body = procedure.title, {**body, "version": version}
    visit.session.add(row)


def latest_procedures(visit: Visit) -> list[StoredProcedure]:
    """Each procedure in its latest version; those that somebody's practical changed are not among them."""
    rows = visit.session.execute(
        select(ProcedureRow.name, ProcedureRow.id)
        .where(~ProcedureRow.name.startswith(OWN))
        .order_by(ProcedureRow.name, ProcedureRow.version)
    )
    latest = {row.name: row.id for row in rows}
    return [stored_procedure(visit.session, number) for number in latest.values()]


def course_row(visit: Visit, course: Procedure) -> ProcedureRow:
    """The stored procedure of these words: a version that is kept already, else one kept now under a name of its own.

    That name is made of what it says, so that the same words are kept once.
    """
    body = procedure_body(course)
    said = {name: value for name, value in body.items() if name not in ("name", "version")}
    rows = visit.session.scalars(
        select(ProcedureRow)
        .where(ProcedureRow.name == course.name, ProcedureRow.method == course.method)
        .order_by(ProcedureRow.version.desc())
    )
    for row in rows:
        if {name: value for name, value in row.body.items() if name not in ("name", "version")} == said:
            return row
    written = json.dumps(said, sort_keys=True, ensure_ascii=False).encode()
    name = f"{OWN}{hashlib.sha256(written).hexdigest()[:16]}"
    kept = visit.session.scalars(select(ProcedureRow).where(ProcedureRow.name == name)).one_or_none()
    if kept is None:
        kept = ProcedureRow(name=name, version=1, method=course.method)
        kept.title, kept.body = course.title, {**body, "name": name, "version": 1}
        visit.session.add(kept)
        visit.session.flush()
    return kept


def procedure_for(visit: Visit, method: str, name: str | None) -> StoredProcedure:
    """The latest version of a method's procedure, the one of this name where one is given. Raises Refusal."""
    rows = [row for row in latest_procedures(visit) if row.course.method == method and name in (None, row.name)]
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
