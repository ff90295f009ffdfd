"""Errors as problem documents (RFC 9457): code, field, message. Never a stack trace."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from typing import Any
from uuid import uuid4

from flask import Flask, Response, current_app, request
from pydantic import ValidationError
from sqlalchemy.exc import DBAPIError, IntegrityError, OperationalError, SQLAlchemyError
from sqlalchemy.exc import TimeoutError as PoolTimeout
from sqlalchemy.orm.exc import StaleDataError
from werkzeug.exceptions import HTTPException, SecurityError

from claykettle.core.errors import (
    Conflict,
    Doubt,
    Fault,
    KettleError,
    NotFound,
    NotSignedIn,
    NotYours,
    Refusal,
    TooMany,
)
from claykettle.service.callers import WHO_IS_IN, Role, refuse_others
from claykettle.service.doors.signing_in import who_asks
from claykettle.service.views.base import Described
from claykettle.store.database import is_full
from claykettle.web.context import laboratory


class FaultBody(Described):
    """One fault: a stable code, the field, a message that says how to mend it, and what could stand there instead."""

    code: str
    path: str
    message: str
    suggestion: str = ""


class Problem(Described):
    """What went wrong. `code` is stable; `faults` name fields; `doubt` asks for a confirmation. Under `id` the log
    has a fault of the program.
    """

    type: str
    title: str
    status: int
    code: str
    faults: Sequence[FaultBody] = ()
    doubt: str | None = None
    suggestion: str | None = None
    id: str | None = None


ASKED: dict[int | str, Any] = {401: Problem, 403: Problem, 422: Problem, 503: Problem}
"""What every route may answer beside what it is for."""
LOOKED_UP = ASKED | {404: Problem, 409: Problem}
"""The same of a route that names something kept, or changes it."""


def problem(
    status: int,
    code: str,
    title: str,
    faults: tuple[Fault, ...] = (),
    doubt: str | None = None,
    suggestion: str | None = None,
    number: str | None = None,
) -> Response:
    """A problem document as a response."""
    body = Problem(
        type=f"urn:claykettle:{code}",
        title=title,
        status=status,
        code=code,
        faults=[FaultBody(**vars(fault)) for fault in faults],
        doubt=doubt,
        suggestion=suggestion,
        id=number,
    )
    return Response(body.model_dump_json(), status, content_type="application/problem+json")


def from_validation(error: ValidationError) -> Response:
    """A request whose shape is wrong; whoever may not ask at all is told that, and nothing of the shape."""
    turn_away()
    rows = error.errors(include_input=False, include_url=False, include_context=False)
    faults = tuple(
        Fault(row["type"].replace("_", "-"), ".".join(map(str, row["loc"])), f"{row['msg']}.") for row in rows
    )
    return problem(422, "refused", "The request does not have the right shape.", faults)


def turn_away() -> None:
    """Raises NotSignedIn, NotYours for whoever may not ask what this request asks, before its use case is reached."""
    if not request.path.startswith("/api/"):
        return
    caller = laboratory().ask(who_asks)
    rule = request.url_rule.rule if request.url_rule is not None else ""
    allowed = callers_by_route(current_app).get((re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", rule), request.method.lower()))
    refuse_others(caller, frozenset(WHO_IS_IN) if allowed is None else allowed)


def callers_by_route(app: Flask) -> Mapping[tuple[str, str], frozenset[Role]]:
    """For whom each route is, by its path in the document and its method in small letters."""
    found: Mapping[tuple[str, str], frozenset[Role]] | None = app.extensions.get("claykettle-callers")
    if found is None:
        paths: Mapping[str, Mapping[str, Any]] = getattr(app, "api_doc")["paths"]  # noqa: B009
        found = {
            (path, method): frozenset(route["x-callers"])
            for path, routes in paths.items()
            for method, route in routes.items()
            if "x-callers" in route
        }
        app.extensions["claykettle-callers"] = found
    return found


_TITLES: dict[int, tuple[str, str]] = {
    400: ("bad-request", "The request could not be read as JSON."),
    404: ("not-found", "There is nothing at this address."),
    405: ("method-not-allowed", "This address does not take such a request."),
    413: ("too-large", "This is larger than 2 MB; a run file has at most 2 MB."),
    415: ("not-json", "The request must be JSON."),
}


def init_app(app: Flask) -> None:
    """Register all error handlers."""
    app.register_error_handler(KettleError, _kettle)
    app.register_error_handler(SQLAlchemyError, _database)
    app.register_error_handler(HTTPException, _http)
    app.register_error_handler(Exception, _unexpected)


def _kettle(error: KettleError) -> Response:
    match error:
        case Refusal(faults=faults):
            return problem(422, "refused", faults[0].message, faults)
        case Doubt(doubt=doubt, suggestion=suggestion):
            return problem(409, "doubt", str(error), doubt=doubt, suggestion=suggestion)
        case Conflict():
            return problem(409, "conflict", str(error))
        case NotSignedIn():
            return problem(401, "not-signed-in", str(error))
        case NotYours():
            return problem(403, error.code, str(error))
        case TooMany(wait_s=wait_s):
            response = problem(429, "too-many", str(error))
            response.headers["Retry-After"] = str(wait_s)
            return response
        case NotFound():
            return problem(404, "not-found", str(error))
        case _:
            return _unexpected(error)


def _database(error: SQLAlchemyError) -> Response:
    if isinstance(error, IntegrityError | StaleDataError):
        return problem(
            409, "conflict", "Somebody recorded here at the same moment; look at the page and type it again."
        )
    if isinstance(error, DBAPIError) and is_full(error):
        current_app.logger.error("the database's disk is full")
        return problem(
            503,
            "disk-full",
            "The disk of the server is full: nothing is recorded until somebody makes room there.",
        )
    # a pool that has no connection left for a while is away as a database is: what was typed is sent again
    is_away = isinstance(error, OperationalError | PoolTimeout)
    if is_away or (isinstance(error, DBAPIError) and error.connection_invalidated):
        current_app.logger.warning("database away: %s", error.__class__.__name__)
        return problem(
            503, "database-away", "The database does not answer just now; what you typed is kept and sent again."
        )
    return _unexpected(error)


def _http(error: HTTPException) -> Any:
    if error.response is not None:
        return error.response
    status = error.code or 500
    if isinstance(error, SecurityError):
        return problem(status, "unknown-host", "This server does not answer to that name; use the address it printed.")
    try:
        turn_away()
    except KettleError as refused:
        return _kettle(refused)
    except SQLAlchemyError as away:
        return _database(away)
    code, title = _TITLES.get(status, ("http", error.name))
    return problem(status, code, title)


def _unexpected(error: Exception) -> Response:
    """A fault of the program: told with a number under which the log has what the page must not show."""
    number = uuid4().hex[:8]
    current_app.logger.error("unexpected error %s", number, exc_info=error)
    title = f"Something went wrong in the program; nothing was changed. The log has the details under {number}."
    return problem(500, "unexpected", title, number=number)
