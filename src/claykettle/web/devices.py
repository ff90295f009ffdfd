"""Instruments with a line of their own, over HTTP."""

from __future__ import annotations

from typing import Annotated

from flask import Response
from flask_openapi import APIBlueprint
from pydantic import StringConstraints

from claykettle.service.shelf.devices import DevicesView, LookView, devices_there, looked_at, may_look
from claykettle.web.context import Query, answer, callers, laboratory
from claykettle.web.problems import LOOKED_UP

blueprint = APIBlueprint("devices", __name__, url_prefix="/api/devices", abp_responses=LOOKED_UP)


class NameQuery(Query):
    """The instrument, as it is called on the shelf."""

    name: Annotated[str, StringConstraints(max_length=60)]


@blueprint.get("", responses={200: DevicesView}, openapi_extensions=callers(devices_there))
def there() -> Response:
    """Which instruments read for themselves."""
    own = laboratory()
    return answer(own.ask(devices_there, own.attached))


@blueprint.get("/look", responses={200: LookView}, openapi_extensions=callers(may_look))
def look(query: NameQuery) -> Response:
    """What one of them shows now: looked at for up to two seconds, until it is steady."""
    own = laboratory()
    return answer(looked_at(own.ask(may_look, own.attached, query.name)))
