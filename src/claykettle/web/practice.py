"""The room Practice over HTTP: simulated benches begun, looked at, worked at, answered."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from flask import Response
from flask_openapi import APIBlueprint
from pydantic import Field, StringConstraints

from claykettle.core.practice import Guess
from claykettle.service.practice.bench import (
    Begin,
    Do,
    answer_practice,
    begin_practice,
    do_at_practice,
    practice_seen,
    practices,
)
from claykettle.service.practice.drilling import (
    DrillsView,
    DrillView,
    SolvedView,
    drill_asked,
    drill_solved,
    drills,
)
from claykettle.service.practice.evening import (
    Act,
    BeginClass,
    begin_class,
    end_evening,
    evening_seen,
    pace_evening,
    rehearsals,
)
from claykettle.service.practice.views import EveningView, PracticesView, PracticeView, RehearsalsView
from claykettle.web.context import Query, answer, callers, laboratory
from claykettle.web.problems import LOOKED_UP
from claykettle.web.runs import LARGEST_NUMBER, Body, Short, Uuid

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


class BeginClassBody(Body):
    """A class to be rehearsed: of a method, or of a prepared class by its number."""

    uuid: Uuid
    method: Short = "hydrate"
    number: Annotated[int, Field(ge=0, le=LARGEST_NUMBER)] | None = None
    benches: int = 8
    balances: int = 2
    seed: Word = ""


class PaceBody(Body):
    """The clock of a class: `fast` or `still`, or put on by so many minutes."""

    pace: Literal["", "fast", "still"] = ""
    minutes: float = 0.0


class DrillQuery(Query):
    """Which drill, and from which seed; empty for any."""

    kind: Word
    seed: Word = ""


class SolvedBody(Body):
    """An answer to a drill: as typed or chosen, or the steps in order."""

    kind: Word
    seed: Word
    said: Short = ""
    order: list[Short] = Field(default_factory=list, max_length=20)


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
    return answer(laboratory().ask(answer_practice, path.uuid, Guess(**body.model_dump())))


@blueprint.get("/classes", **_told(rehearsals, view=RehearsalsView))
def list_rehearsals() -> Response:
    """The classes that were rehearsed."""
    return answer(laboratory().ask(rehearsals))


@blueprint.post("/classes", **_told(begin_class, view=EveningView))
def begin_a_class(body: BeginClassBody) -> Response:
    """Lay out a class of simulated benches."""
    return answer(laboratory().ask(begin_class, BeginClass(**body.model_dump())))


@blueprint.get("/classes/<uuid>", **_told(evening_seen, view=EveningView))
def look_at_class(path: PracticePath) -> Response:
    """A class as it stands; what has happened by now is played."""
    return answer(laboratory().ask(evening_seen, path.uuid))


@blueprint.post("/classes/<uuid>/clock", **_told(pace_evening, view=EveningView))
def set_clock(path: PracticePath, body: PaceBody) -> Response:
    """Its clock set otherwise."""
    return answer(laboratory().ask(pace_evening, path.uuid, Act(**body.model_dump())))


@blueprint.post("/classes/<uuid>/end", **_told(end_evening, view=EveningView))
def end_a_class(path: PracticePath) -> Response:
    """End it, and say what was missed."""
    return answer(laboratory().ask(end_evening, path.uuid))


@blueprint.get("/drills", **_told(drills, view=DrillsView))
def list_drills() -> Response:
    """Which drills there are."""
    return answer(laboratory().ask(drills))


@blueprint.get("/drill", **_told(drill_asked, view=DrillView))
def ask_drill(query: DrillQuery) -> Response:
    """A question."""
    return answer(laboratory().ask(drill_asked, query.kind, query.seed))


@blueprint.post("/drill", **_told(drill_solved, view=SolvedView))
def solve_drill(body: SolvedBody) -> Response:
    """Its answer, and why."""
    return answer(laboratory().ask(drill_solved, body.kind, body.seed, body.said, body.order))
