"""A bench's own figures over HTTP: what is asked, handing them in, and a class of them marked."""

from __future__ import annotations

from typing import Annotated

from flask import Response
from flask_openapi import APIBlueprint
from pydantic import Field, StringConstraints

from claykettle.service.desk.marking import ClassMarkingView, class_marking
from claykettle.service.desk.own_figures import HandIn, OwnFiguresView, hand_in, own_figures
from claykettle.web.context import answer, callers, laboratory
from claykettle.web.problems import LOOKED_UP
from claykettle.web.runs import Body, NumberPath, RunPath, Short, Uuid

classes = APIBlueprint("marking", __name__, url_prefix="/api/classes", abp_responses=LOOKED_UP)
blueprint = APIBlueprint("own_figures", __name__, url_prefix="/api/runs", abp_responses=LOOKED_UP)

Claim = Annotated[str, StringConstraints(max_length=400)]


class HandInBody(Body):
    """The figures of a trial by line, as typed, and whose they are (empty: the bench's)."""

    uuid: Uuid
    trial: Short
    claims: Annotated[dict[Short, Claim], Field(max_length=200)]
    student: Annotated[str, StringConstraints(max_length=400)] = ""
    by: Short = ""


@blueprint.get("/<uuid>/own-figures", responses={200: OwnFiguresView}, openapi_extensions=callers(own_figures))
def get_own_figures(path: RunPath) -> Response:
    """The lines that are asked for, and what was handed in."""
    return answer(laboratory().ask(own_figures, path.uuid))


@blueprint.post("/<uuid>/own-figures", responses={200: OwnFiguresView}, openapi_extensions=callers(hand_in))
def post_own_figures(path: RunPath, body: HandInBody) -> Response:
    """Hand in a trial's figures."""
    return answer(laboratory().ask(hand_in, path.uuid, HandIn(**body.model_dump())))


@classes.get("/<int:number>/marking", responses={200: ClassMarkingView}, openapi_extensions=callers(class_marking))
def get_marking(path: NumberPath) -> Response:
    """A class's own figures, marked. Number 0 is the class at work now."""
    return answer(laboratory().ask(class_marking, path.number))
