"""The application factory."""

from __future__ import annotations

import json
import os
from collections.abc import Callable, Mapping, Sequence
from datetime import UTC, datetime, tzinfo
from pathlib import Path
from shutil import disk_usage
from typing import Any
from urllib.parse import urlsplit

from flask import Response, current_app, g, request, send_from_directory
from flask.json.provider import DefaultJSONProvider
from flask_compress import Compress
from flask_openapi import Info, OpenAPI
from sqlalchemy.exc import SQLAlchemyError

from claykettle import __version__
from claykettle.devices import Attached
from claykettle.formats import strict_json
from claykettle.service.laboratory import NONE_ATTACHED, Laboratory
from claykettle.store.database import Database
from claykettle.web import (
    afterwards,
    desk,
    desks,
    devices,
    doors,
    lab,
    planning,
    practice,
    preparing,
    problems,
    run_files,
    runs,
    shelf,
    today,
    told,
)
from claykettle.web.context import PACE, house

# blob: is a photograph that was dropped on the page; it never leaves it
_POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; object-src 'none'; base-uri 'none'; form-action 'self'; "
    "frame-ancestors {}"
)

REHEARSED = "/rehearsal/"
"""Where the pages stand on which an account rehearses."""
_PERMISSIONS = "camera=(), microphone=(), geolocation=(), payment=(), usb=(), interest-cohort=()"

COMPRESSED = ["text/html", "text/css", "text/javascript", "application/json", "image/svg+xml", "text/csv"]
"""What a slow network carries smaller; fonts and archives are packed already."""

PACKINGS = ["br", "deflate"]
"""How it is packed: browsers take the second where the address begins with http."""

OWN_NAMES = ("127.0.0.1", "localhost")
"""What this machine calls itself: a page under another name that resolves to it may not read what is kept here."""


ROOM = 32 * 1024 * 1024
"""Bytes free on the disk of the records, below which the house is not well."""


def _now() -> datetime:
    return datetime.now(UTC)


class _StrictJson(DefaultJSONProvider):
    """Bodies are read as run files are: a key that stands twice, half a character, any depth is a refusal."""

    sort_keys = False

    def loads(self, s: str | bytes, **kwargs: Any) -> Any:
        """Parse a body. Raises Refusal."""
        return strict_json.loads(s.encode() if isinstance(s, str) else s)


def create_app(
    database: Database,
    built: Path | None = None,
    clock: Callable[[], datetime] = _now,
    hosts: Sequence[str] = (),
    demo: bool = False,
    first_code: str = "",
    addresses: Sequence[str] = (),
    zone: tzinfo = UTC,
    backups: str = "",
    attached: Attached = NONE_ATTACHED,
) -> OpenAPI:
    """The application on a migrated database. `built` is the folder of the built front end; tests move the clock.

    It answers to this machine's own names and to `hosts`, and to no other name that may point here. A `demo` says its
    login at the door; `first_code` makes the first account of a house that has none. `addresses` are those at which it
    is reached, `zone` where its days begin, `backups` the folder in which word is left of them; `attached` are the
    instruments that have a line of their own.
    """
    app = OpenAPI(
        "claykettle",
        info=Info(title="Clay Kettle", version=__version__),
        doc_ui=False,
        static_folder=None,
        validation_error_callback=problems.from_validation,
        validation_error_model=problems.Problem,
    )
    app.openapi_version = "3.1.0"
    app.config["MAX_CONTENT_LENGTH"] = strict_json.LARGEST_FILE
    app.config["TRUSTED_HOSTS"] = [*OWN_NAMES, *hosts]
    app.config["KETTLE_DEMO"], app.config["KETTLE_FIRST_CODE"] = demo, first_code
    app.config["KETTLE_ADDRESSES"], app.config["KETTLE_BACKUPS"] = tuple(addresses), backups
    app.json = _StrictJson(app)
    app.extensions["claykettle"] = Laboratory(database, clock, zone=zone, attached=attached)
    problems.init_app(app)
    app.register_api(doors.front)
    app.register_api(doors.blueprint)
    app.register_api(shelf.blueprint)
    app.register_api(runs.blueprint)
    app.register_api(desk.blueprint)
    app.register_api(desk.classes)
    app.register_api(desk.finding)
    app.register_api(run_files.blueprint)
    app.register_api(desks.blueprint)
    app.register_api(planning.blueprint)
    app.register_api(preparing.blueprint)
    app.register_api(lab.blueprint)
    app.register_api(practice.blueprint)
    app.register_api(devices.blueprint)
    app.register_api(today.blueprint)
    app.register_api(afterwards.blueprint)
    app.add_url_rule("/healthz", "healthz", _healthy)
    _serve_pages(app, built)
    app.config["COMPRESS_ALGORITHM"] = app.config["COMPRESS_ALGORITHM_STREAMING"] = PACKINGS
    app.config["COMPRESS_MIMETYPES"] = COMPRESSED
    Compress(app)
    app.before_request(_refuse_other_sites)
    app.after_request(_headers)
    return app


def _healthy() -> Response:
    """Whether the server and its database answer, for whoever watches them; nobody has to sign in for it."""
    try:
        house().database.ping()
    except SQLAlchemyError:
        return _said(503, {"status": "away", "reason": "the database does not answer"})
    backups = current_app.config["KETTLE_BACKUPS"]
    if backups and disk_usage(Path(backups).parent).free < ROOM:
        return _said(503, {"status": "full", "reason": "the disk of the records is full"})
    more: dict[str, Any] = {"restarted": restarted} if (restarted := _restarted(backups)) else {}
    if current_app.config.get(told.NOT_WRITTEN):
        more["log"] = "the log of requests cannot be written"
    return _said(200, {"status": "ok"} | more)


def _restarted(backups: str) -> dict[str, int]:
    """How often the launcher has started each part again, from the word that it leaves beside the backups."""
    try:
        return dict(json.loads((Path(backups).parent / "parts.json").read_text())) if backups else {}
    except (OSError, ValueError):
        return {}


def _said(status: int, body: Mapping[str, Any]) -> Response:
    return Response(json.dumps(body), status, content_type="application/json")


def _serve_pages(app: OpenAPI, built: Path | None) -> None:
    def page(address: str = "") -> Response:
        """A file of the front end, or its page for every address that the page itself routes."""
        if address.startswith("api/") or address == "api" or built is None:
            problems.turn_away()
            return problems.problem(404, "not-found", "There is nothing at this address.")
        # a name that is too long, or holds what no name may, is no file either
        if address and os.path.isfile(built / address):  # noqa: PTH113
            response = send_from_directory(built, address)
            if address.startswith("assets/"):
                response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
            return response
        response = send_from_directory(built, "index.html")
        response.headers["Cache-Control"] = "no-cache"
        return response

    app.add_url_rule("/", "page", page)
    app.add_url_rule("/<path:address>", "page", page)


def _refuse_other_sites() -> Response | None:
    """A page of another site in the same browser may not record here, nor read what is kept."""
    origin, site = request.headers.get("Origin"), request.headers.get("Sec-Fetch-Site", "")
    is_look = request.method in ("GET", "HEAD", "OPTIONS")
    if site in ("cross-site", "same-site") and not (is_look and not request.path.startswith("/api/")):
        return problems.problem(403, "other-site", "Another site asked for this; that is refused.")
    if is_look or not origin or urlsplit(origin).netloc == request.host:
        return None
    return problems.problem(403, "other-site", "Another site tried to record here; that is refused.")


def _headers(response: Response) -> Response:
    # a report brings its styles and letters along, and a stricter policy of its own
    # the page of a simulated bench, and the board of a rehearsal, stand inside the room Practice: nothing else does
    framed = request.path.startswith(REHEARSED)
    response.headers.setdefault("Content-Security-Policy", _POLICY.format("'self'" if framed else "'none'"))
    response.headers["X-Content-Type-Options"] = "nosniff"
    response.headers["X-Frame-Options"] = "SAMEORIGIN" if framed else "DENY"
    response.headers["Referrer-Policy"] = "no-referrer"
    response.headers["Permissions-Policy"] = _PERMISSIONS
    response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
    response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
    if request.path.startswith("/api/"):
        response.headers["Cache-Control"] = "no-store"
    asked: Laboratory | None = g.get("kettle_laboratory")
    if asked is not None and asked.pace != 1.0:
        response.headers[PACE] = f"{asked.pace:g}"
    return response
