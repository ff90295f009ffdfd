"""The desks: formulas taken apart, equations put to use, photographs measured. They need no run."""

from __future__ import annotations

from typing import Annotated

from flask import Response
from flask_openapi import APIBlueprint
from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from claykettle.service.desks import (
    EquationSheetView,
    FormulaDeskView,
    PhotographView,
    at_equation_desk,
    at_formula_desk,
    on_photograph,
)
from claykettle.web.context import Query, answer, callers, laboratory
from claykettle.web.problems import ASKED

blueprint = APIBlueprint("desks", __name__, url_prefix="/api", abp_responses=ASKED)


class FormulaQuery(Query):
    """A formula, or shares of elements, as typed; the core says what is wrong with it."""

    text: Annotated[str, StringConstraints(max_length=1000)] = ""


@blueprint.get("/formula", responses={200: FormulaDeskView}, openapi_extensions=callers(at_formula_desk))
def get_formula(query: FormulaQuery) -> Response:
    """A formula taken apart with its working; or, from shares of elements, the formulas that fit."""
    return answer(laboratory().ask(at_formula_desk, query.text))


class EquationBody(BaseModel):
    """An equation as typed, and the amounts given, by formula."""

    model_config = ConfigDict(extra="forbid")
    text: Annotated[str, StringConstraints(max_length=2000)]
    given: dict[
        Annotated[str, StringConstraints(max_length=200)], Annotated[str, StringConstraints(max_length=60)]
    ] = {}


@blueprint.post("/equation", responses={200: EquationSheetView}, openapi_extensions=callers(at_equation_desk))
def post_equation(body: EquationBody) -> Response:
    """An equation balanced, with the amounts that go with those given."""
    return answer(laboratory().ask(at_equation_desk, body.text, body.given))


Pixels = Annotated[float, Field(ge=0, le=100_000)]
EndsOf = tuple[tuple[Pixels, Pixels], tuple[Pixels, Pixels]]


class PhotographBody(BaseModel):
    """The points that were set on a photograph, in its pixels; the photograph itself stays where it is."""

    model_config = ConfigDict(extra="forbid")
    bar: Annotated[str, StringConstraints(max_length=60)]
    scale: EndsOf
    things: Annotated[list[EndsOf], Field(max_length=100)] = []
    click: Annotated[float, Field(gt=0, le=1000)]


@blueprint.post("/photograph", responses={200: PhotographView}, openapi_extensions=callers(on_photograph))
def post_photograph(body: PhotographBody) -> Response:
    """The lengths of what was marked on a photograph."""
    return answer(laboratory().ask(on_photograph, body.bar, body.scale, body.things, body.click))
