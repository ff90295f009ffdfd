"""After the reaction over HTTP: what dries and where, the register of substances, the waste sheet of a run or a day."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from flask import Response
from flask_openapi import APIBlueprint
from pydantic import StringConstraints

from claykettle.service.shelf.substances import (
    AddSubstance,
    RegisterView,
    RunSubstancesView,
    WasteView,
    add_substance,
    register_view,
    run_substances,
    waste_of_day,
    waste_of_run,
)
from claykettle.service.views.drying import DryingView, drying_view
from claykettle.web.context import Query, answer, callers, laboratory
from claykettle.web.problems import LOOKED_UP
from claykettle.web.runs import Body, Long, RunPath, Short, Uuid

blueprint = APIBlueprint(
    "afterwards",
    __name__,
    url_prefix="/api",
    abp_responses=LOOKED_UP,
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


@blueprint.get("/drying", responses={200: DryingView}, openapi_extensions=callers(drying_view))
def get_drying() -> Response:
    """Everything that stands and waits, and the names for papers."""
    return answer(laboratory().ask(drying_view))


@blueprint.get("/substances", responses={200: RegisterView}, openapi_extensions=callers(register_view))
def get_substances() -> Response:
    """The register."""
    return answer(laboratory().ask(register_view))


@blueprint.post("/substances", responses={200: RegisterView}, openapi_extensions=callers(add_substance))
def post_substance(body: SubstanceBody) -> Response:
    """Add a substance; the answer is the register with it."""
    return answer(laboratory().ask(add_substance, AddSubstance(**body.model_dump())))


@blueprint.get(
    "/runs/<uuid>/substances", responses={200: RunSubstancesView}, openapi_extensions=callers(run_substances)
)
def get_run_substances(path: RunPath) -> Response:
    """What a run works with."""
    return answer(laboratory().ask(run_substances, path.uuid))


@blueprint.get("/runs/<uuid>/waste", responses={200: WasteView}, openapi_extensions=callers(waste_of_run))
def get_run_waste(path: RunPath) -> Response:
    """The waste sheet of a run."""
    return answer(laboratory().ask(waste_of_run, path.uuid))


class DayQuery(Query):
    """The day that is asked about; without one, the latest that has a run."""

    day: date | None = None


@blueprint.get("/waste", responses={200: WasteView}, openapi_extensions=callers(waste_of_day))
def get_waste(query: DayQuery) -> Response:
    """The waste sheet of all runs of a day."""
    return answer(laboratory().ask(waste_of_day, query.day))
