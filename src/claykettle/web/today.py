"""The day over HTTP: the room's readings, the elevation, the register of instruments."""

from __future__ import annotations

from typing import Annotated

from flask import Response
from flask_openapi import APIBlueprint
from pydantic import StringConstraints

from claykettle.service.shelf.register import KeepInstrument
from claykettle.service.shelf.room import (
    CorrectRoom,
    ReadRoom,
    TodayView,
    correct_room,
    read_room,
    set_default,
    set_elevation,
    today,
    with_instrument,
    with_instrument_back,
    without_instrument,
)
from claykettle.web.context import answer, callers, laboratory
from claykettle.web.problems import LOOKED_UP
from claykettle.web.runs import Body, CorrectionBody, NumberPath, Short, Uuid

blueprint = APIBlueprint(
    "today",
    __name__,
    url_prefix="/api/today",
    abp_responses=LOOKED_UP,
)


class RoomBody(Body):
    """One reading of the room as typed."""

    uuid: Uuid
    slot: Short
    text: Annotated[str, StringConstraints(max_length=80)]
    by: Short = ""
    confirmed: bool = False


class ElevationBody(Body):
    """How high the laboratory lies; empty where it is not known."""

    elevation: Annotated[str, StringConstraints(max_length=60)]


class DefaultBody(Body):
    """The instrument of a kind that the day's runs take."""

    kind: Short
    instrument: int


class InstrumentBody(Body):
    """An instrument as typed; with a `number` the one on the shelf that is changed."""

    number: int | None = None
    kind: Short
    name: Short
    half_width: Short = ""
    resolution: Short = ""
    capacity: Short = ""
    direction: Short = ""


@blueprint.get("", responses={200: TodayView}, openapi_extensions=callers(today))
def get_today() -> Response:
    """The day as it stands."""
    return answer(laboratory().ask(today))


@blueprint.post("/room", responses={200: TodayView}, openapi_extensions=callers(read_room))
def post_room(body: RoomBody) -> Response:
    """Record a reading of the room; the day's runs that lack it take it."""
    return answer(laboratory().ask(read_room, ReadRoom(**body.model_dump())))


@blueprint.post("/room/corrections", responses={200: TodayView}, openapi_extensions=callers(correct_room))
def post_room_correction(body: CorrectionBody) -> Response:
    """Correct a reading of the room, and in every run that took it."""
    return answer(laboratory().ask(correct_room, CorrectRoom(**body.model_dump())))


@blueprint.post("/elevation", responses={200: TodayView}, openapi_extensions=callers(set_elevation))
def post_elevation(body: ElevationBody) -> Response:
    """Say how high the laboratory lies."""
    return answer(laboratory().ask(set_elevation, body.elevation))


@blueprint.post("/defaults", responses={200: TodayView}, openapi_extensions=callers(set_default))
def post_default(body: DefaultBody) -> Response:
    """Choose the instrument of a kind for the day."""
    return answer(laboratory().ask(set_default, body.kind, body.instrument))


@blueprint.post("/instruments", responses={200: TodayView}, openapi_extensions=callers(with_instrument))
def post_instrument(body: InstrumentBody) -> Response:
    """Put an instrument on the shelf, or change what is said of one."""
    return answer(laboratory().ask(with_instrument, KeepInstrument(**body.model_dump())))


@blueprint.post(
    "/instruments/<int:number>/retire", responses={200: TodayView}, openapi_extensions=callers(without_instrument)
)
def post_retired(path: NumberPath) -> Response:
    """Take an instrument off the shelf; runs that used it keep it."""
    return answer(laboratory().ask(without_instrument, path.number))


@blueprint.post(
    "/instruments/<int:number>/restore", responses={200: TodayView}, openapi_extensions=callers(with_instrument_back)
)
def post_restored(path: NumberPath) -> Response:
    """Put an instrument back on the shelf."""
    return answer(laboratory().ask(with_instrument_back, path.number))
