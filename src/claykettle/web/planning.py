"""Planning over HTTP: sizes of samples, what a class needs, solutions."""

from __future__ import annotations

from typing import Annotated, Any

from flask import Response
from flask_openapi import APIBlueprint
from pydantic import Field

from claykettle.core.planning.stock import MOST_BENCHES
from claykettle.service.planning.planning import (
    Plan,
    PlanShelfView,
    PlanView,
    ReagentPlanView,
    RecipeView,
    plan,
    plan_shelf,
    reagents_planned,
    solution,
)
from claykettle.web.context import answer, callers, laboratory
from claykettle.web.problems import ASKED
from claykettle.web.runs import Body, Short

blueprint = APIBlueprint("planning", __name__, url_prefix="/api/plan", abp_responses=ASKED)


class PlanBody(Body):
    """What is planned: a method under its options and schools, the setting as typed, instruments by kind, the class."""

    method: Short
    options: dict[str, Any] = Field(default_factory=dict)
    schools: dict[Short, Short] = Field(default_factory=dict)
    setting: dict[Short, Short] = Field(default_factory=dict)
    sample: Short = ""
    instruments: dict[Short, int] = Field(default_factory=dict)
    benches: Annotated[int, Field(ge=1, le=MOST_BENCHES)] = 8
    trials: Annotated[int, Field(ge=1, le=20)] = 1
    spare: Short = "20 %"


class SolutionBody(Body):
    """The solution wanted, its fields as typed."""

    wish: dict[Short, str | int]


@blueprint.get("", responses={200: PlanShelfView}, openapi_extensions=callers(plan_shelf))
def get_plan_shelf() -> Response:
    """What a plan can choose from."""
    return answer(laboratory().ask(plan_shelf))


@blueprint.post("", responses={200: PlanView}, openapi_extensions=callers(plan))
def post_plan(body: PlanBody) -> Response:
    """The window of a sample, what one size of it brings, and what the class needs."""
    return answer(laboratory().ask(plan, Plan(**body.model_dump())))


class ReagentsBody(Body):
    """A reagent table as typed: the options of the method that it belongs to."""

    method: Short
    options: dict[str, Any]


@blueprint.post("/reagents", responses={200: ReagentPlanView}, openapi_extensions=callers(reagents_planned))
def post_reagents(body: ReagentsBody) -> Response:
    """What a reagent table plans: what to take, what runs out, what can come."""
    return answer(laboratory().ask(reagents_planned, body.method, body.options))


@blueprint.post("/solution", responses={200: RecipeView}, openapi_extensions=callers(solution))
def post_solution(body: SolutionBody) -> Response:
    """How a solution for the class is made."""
    return answer(laboratory().ask(solution, body.wish))
