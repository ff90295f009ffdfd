"""After the reaction over HTTP: what dries and where, the register of substances, the waste sheet of a run or a day."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from flask import Response
from flask_openapi import APIBlueprint
from pydantic import StringConstraints

from claykettle.service.drying import drying_view
from claykettle.service.runs import all_runs, find_run
from claykettle.service.substances import add_substance, register_view, run_substances, waste_of
from claykettle.service.views import DryingView, RegisterView, RunSubstancesView, WasteView
from claykettle.web.context import Query, answer, context
from claykettle.web.problems import Problem
from claykettle.web.runs import Body, Long, RunPath, Short, Uuid

blueprint = APIBlueprint(
    "afterwards", __name__, url_prefix="/api", abp_responses={404: Problem, 409: Problem, 422: Problem, 503: Problem}
)


class SubstanceBody(Body):
    """A substance as typed; one hazard a line."""

    uuid: Uuid
    formula: Annotated[str, StringConstraints(max_length=200)]
    name: Short
    hazards: Long = ""
    density: Short = ""
    dissolved: Short = ""
    solid: Short = ""
    remarks: Long = ""
    source: Long = ""
    by: Short = ""


@blueprint.get("/drying", responses={200: DryingView})
def get_drying() -> Response:
    """Everything that stands and waits, and the names for papers."""
    here = context()
    with here.database.transaction() as session:
        return answer(drying_view(all_runs(session), here.clock()))


@blueprint.get("/substances", responses={200: RegisterView})
def get_substances() -> Response:
    """The register."""
    with context().database.transaction() as session:
        return answer(register_view(session))


@blueprint.post("/substances", responses={200: RegisterView})
def post_substance(body: SubstanceBody) -> Response:
    """Add a substance; the answer is the register with it."""
    here = context()
    with here.database.transaction() as session:
        add_substance(session, here.clock(), **body.model_dump())
        return answer(register_view(session))


@blueprint.get("/runs/<uuid>/substances", responses={200: RunSubstancesView})
def get_run_substances(path: RunPath) -> Response:
    """What a run works with."""
    with context().database.transaction() as session:
        return answer(run_substances(session, find_run(session, path.uuid)))


@blueprint.get("/runs/<uuid>/waste", responses={200: WasteView})
def get_run_waste(path: RunPath) -> Response:
    """The waste sheet of a run."""
    with context().database.transaction() as session:
        run = find_run(session, path.uuid)
        return answer(waste_of(session, run.title, [run]))


class DayQuery(Query):
    """The day that is asked about; without one, the latest that has a run."""

    day: date | None = None


@blueprint.get("/waste", responses={200: WasteView})
def get_waste(query: DayQuery) -> Response:
    """The waste sheet of all runs of a day."""
    with context().database.transaction() as session:
        runs = all_runs(session)
        day = query.day or max((run.date for run in runs), default=None)
        chosen = sorted((run for run in runs if run.date == day), key=lambda run: run.bench)
        return answer(waste_of(session, day.isoformat() if day else "", chosen))
