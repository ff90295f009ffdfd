"""The class while it runs, over HTTP: what has changed since, calls answered, messages, its end."""

from __future__ import annotations

from typing import Annotated

from flask import Response
from flask_openapi import APIBlueprint
from pydantic import Field, StringConstraints

from claykettle.core.planning.practical import Reveal
from claykettle.service.lab.acting import Answer, AnswerCall, Say, answer_call, end_class, extend, open_answers, say
from claykettle.service.lab.board import BoardView, board
from claykettle.service.lab.round import RoundView, round_view
from claykettle.web.context import Query, answer, callers, laboratory
from claykettle.web.problems import LOOKED_UP
from claykettle.web.runs import LARGEST_NUMBER, Body, Long, NumberPath, Short, Uuid

blueprint = APIBlueprint("lab", __name__, url_prefix="/api/classes", abp_responses=LOOKED_UP)

Since = Annotated[str, StringConstraints(max_length=8000)]


class SinceQuery(Query):
    """The token that came with the answer before; empty for all. `lists`: tell of any change in the section."""

    since: Since = ""
    lists: bool = False


class SinceBody(Body):
    """The token that came with the answer before."""

    since: Since = ""


class AnswerCallBody(SinceBody):
    """A call answered; `key` as the call has it."""

    uuid: Uuid
    run: Uuid
    code: Short
    key: Annotated[str, StringConstraints(max_length=400)]
    kind: Answer
    text: Long = ""
    by: Short = ""


class SayBody(SinceBody):
    """Something said to a bench by its number, or to all (null)."""

    uuid: Uuid
    text: Long
    bench: Annotated[int, Field(ge=0, le=LARGEST_NUMBER)] | None = None
    by: Short = ""


class MoreTimeBody(SinceBody):
    """How many minutes later than planned the class ends."""

    minutes: Annotated[int, Field(ge=0, le=10000)]


@blueprint.get("/<int:number>/changes", responses={200: BoardView}, openapi_extensions=callers(board))
def changes(path: NumberPath, query: SinceQuery) -> Response:
    """What has changed of a class since a token; all of it without one. Number 0 is the class at work now."""
    return answer(laboratory().ask(board, path.number, query.since, query.lists))


@blueprint.post("/<int:number>/calls", responses={200: BoardView}, openapi_extensions=callers(answer_call))
def answer_a_call(path: NumberPath, body: AnswerCallBody) -> Response:
    """Answer a call of the board: reached, snoozed for five minutes, or noted in the bench's log."""
    command = AnswerCall(body.uuid, body.run, body.code, body.key, body.kind, body.text, body.by)
    return answer(laboratory().ask(answer_call, path.number, command, body.since))


@blueprint.post("/<int:number>/messages", responses={200: BoardView}, openapi_extensions=callers(say))
def say_something(path: NumberPath, body: SayBody) -> Response:
    """Say something to a bench, or to all."""
    return answer(laboratory().ask(say, path.number, Say(body.uuid, body.text, body.bench, body.by), body.since))


@blueprint.post("/<int:number>/end", responses={200: BoardView}, openapi_extensions=callers(extend))
def move_end(path: NumberPath, body: MoreTimeBody) -> Response:
    """Let a class end later than planned."""
    return answer(laboratory().ask(extend, path.number, body.minutes, body.since))


class RevealBody(SinceBody):
    """When the benches of a class see the answers."""

    reveal: Reveal


@blueprint.post("/<int:number>/answers", responses={200: BoardView}, openapi_extensions=callers(open_answers))
def post_answers(path: NumberPath, body: RevealBody) -> Response:
    """Open the answers to the benches of a class, or close them."""
    return answer(laboratory().ask(open_answers, path.number, body.reveal, body.since))


class EndedBody(SinceBody):
    """Whether the class has ended."""

    ended: bool


@blueprint.post("/<int:number>/ended", responses={200: BoardView}, openapi_extensions=callers(end_class))
def post_ended(path: NumberPath, body: EndedBody) -> Response:
    """End a class, or open it again."""
    return answer(laboratory().ask(end_class, path.number, body.ended, body.since))


@blueprint.get("/<int:number>/round", responses={200: RoundView}, openapi_extensions=callers(round_view))
def read_round(path: NumberPath) -> Response:
    """What each bench of a class reads next."""
    return answer(laboratory().ask(round_view, path.number))
