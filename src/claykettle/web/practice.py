"""The room Practice over HTTP: simulated benches begun, looked at, worked at, answered."""

from __future__ import annotations

from typing import Annotated, Any

from flask import Response
from flask_openapi import APIBlueprint
from pydantic import Field, StringConstraints

from claykettle.service.practice.bench import (
    Answer,
    Begin,
    Do,
    answer_practice,
    begin_practice,
    do_at_practice,
    practice_seen,
    practices,
)
from claykettle.service.practice.views import PracticesView, PracticeView
from claykettle.web.context import answer, callers, laboratory
from claykettle.web.problems import LOOKED_UP
from claykettle.web.runs import Body, Short, Uuid

blueprint = APIBlueprint("practice", __name__, url_prefix="/api/practice", abp_responses=LOOKED_UP)

Word = Annotated[str, StringConstraints(max_length=40)]


class BeginBody(Body):
    """A practice to be begun: of which method, how well hidden its fault is (0: none), and from which seed."""

    uuid: Uuid
    method: Short
    level: Annotated[int, Field(ge=0, le=3)] = 2
    seed: Word = ""


class DoBody(Body):
    """Something done: an act at hand, `wait` so many minutes, or `pace` fast or still. `after` counts what was done."""

    uuid: Uuid
    act: Word
    value: Word = ""
    after: Annotated[int, Field(ge=0)] | None = None


class WhatItWasBody(Body):
    """What somebody says it was: the cause, which way it pushes the result, and how much."""

    cause: Word
    sign: Word = ""
    size: Word = ""


class PracticePath(Body):
    """The practice's UUID in the address."""

    uuid: Uuid


def _told(*cases: Any, view: Any = PracticeView) -> dict[str, Any]:
    return {"responses": {200: view}, "openapi_extensions": callers(*cases)}


@blueprint.get("", **_told(practices, view=PracticesView))
def list_practices() -> Response:
    """What can be practised, and what was."""
    return answer(laboratory().ask(practices))


@blueprint.post("", **_told(begin_practice))
def begin(body: BeginBody) -> Response:
    """Set up a simulated bench."""
    return answer(laboratory().ask(begin_practice, Begin(**body.model_dump())))


@blueprint.get("/<uuid>", **_told(practice_seen))
def look(path: PracticePath) -> Response:
    """A bench as it stands."""
    return answer(laboratory().ask(practice_seen, path.uuid))


@blueprint.post("/<uuid>/acts", **_told(do_at_practice))
def do(path: PracticePath, body: DoBody) -> Response:
    """Do something there."""
    return answer(laboratory().ask(do_at_practice, path.uuid, Do(**body.model_dump())))


@blueprint.post("/<uuid>/answer", **_told(answer_practice))
def say(path: PracticePath, body: WhatItWasBody) -> Response:
    """Say what it was."""
    return answer(laboratory().ask(answer_practice, path.uuid, Answer(**body.model_dump())))
