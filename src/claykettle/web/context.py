"""What a request needs from the application: its laboratory; and how it reads a body and answers."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask import Response, current_app, g, request
from pydantic import BaseModel

from claykettle.service.callers import callers_of
from claykettle.service.doors.knocking import Knock
from claykettle.service.laboratory import Laboratory
from claykettle.service.views.base import Described

REHEARSAL, PACE = "Kettle-Rehearsal", "Kettle-Pace"
"""The header by which a page asks for the place where somebody rehearses, and that which says how fast its clock is."""
COOKIE = "kettle"
"""The cookie that holds a sign-in's secret."""


def house() -> Laboratory:
    """The running application's laboratory, as the program itself uses it."""
    found = current_app.extensions["claykettle"]
    assert isinstance(found, Laboratory)
    return found


def laboratory() -> Laboratory:
    """The laboratory as whoever sent this request may use it."""
    secret = request.cookies.get(COOKIE, "")
    # the room Practice itself stands in earnest, beside the bench that it shows
    said = request.headers.get(REHEARSAL) or request.args.get("rehearsal", "")
    rehearses = said == "yes" and not request.path.startswith("/api/practice")
    opened = house().opened_to(Knock(secret[:200], request.remote_addr or "", rehearses))
    g.kettle_laboratory = opened
    return opened


def callers(*cases: Callable[..., Any]) -> dict[str, Any]:
    """What the document says of a route's callers: those for whom all of its use cases are."""
    roles: Any = frozenset.intersection(*(callers_of(case) for case in cases))
    return {"x-callers": sorted(roles)}


class Query(Described):
    """Base of query models."""


def answer(view: BaseModel, status: int = 200) -> Response:
    """A view as the response."""
    return Response(view.model_dump_json(), status, content_type="application/json")


def download(data: str | bytes, content_type: str, name: str, shown: str = "attachment") -> Response:
    """A file as the response, to be saved under this name; `inline` is shown in the browser first."""
    return Response(data, content_type=content_type, headers={"Content-Disposition": f'{shown}; filename="{name}"'})


def file_of(content_type: str) -> dict[str, Any]:
    """What the document says of an answer that is a file."""
    return {"content": {content_type: {"schema": {"type": "string", "format": "binary"}}}, "description": "The file"}
