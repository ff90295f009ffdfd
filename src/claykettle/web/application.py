"""The application factory."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from urllib.parse import urlsplit

from flask import Response, request, send_from_directory
from flask_openapi import Info, OpenAPI

from claykettle import __version__
from claykettle.formats.strict_json import LARGEST_FILE
from claykettle.store.database import Database
from claykettle.web import afterwards, desks, planning, problems, run_files, runs, shelf, today
from claykettle.web.context import Context

# blob: is a photograph that was dropped on the page; it never leaves it
_POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; "
    "object-src 'none'; base-uri 'none'"
)


def _now() -> datetime:
    return datetime.now(UTC)


def create_app(database: Database, built: Path | None = None, clock: Callable[[], datetime] = _now) -> OpenAPI:
    """The application on a migrated database. `built` is the folder of the built front end; tests move the clock."""
    app = OpenAPI(
        "claykettle",
        info=Info(title="Clay Kettle", version=__version__),
        doc_ui=False,
        static_folder=None,
        validation_error_callback=problems.from_validation,
        validation_error_model=problems.Problem,
    )
    app.openapi_version = "3.1.0"
    app.config["MAX_CONTENT_LENGTH"] = LARGEST_FILE
    app.json.sort_keys = False  # type: ignore[attr-defined]  # Flask's default provider has it
    app.extensions["claykettle"] = Context(database, clock)
    problems.init_app(app)
    app.register_api(shelf.blueprint)
    app.register_api(runs.blueprint)
    app.register_api(run_files.blueprint)
    app.register_api(desks.blueprint)
    app.register_api(planning.blueprint)
    app.register_api(today.blueprint)
    app.register_api(afterwards.blueprint)
    _serve_pages(app, built)
    app.before_request(_refuse_other_sites)
    app.after_request(_headers)
    return app


def _serve_pages(app: OpenAPI, built: Path | None) -> None:
    def page(address: str = "") -> Response:
        """A file of the front end, or its page for every address that the page itself routes."""
        if address.startswith("api/") or address == "api" or built is None:
            return problems.problem(404, "not-found", "There is nothing at this address.")
        if address and (built / address).is_file():
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
    """A page of another site in the same browser may not record here."""
    origin = request.headers.get("Origin")
    if request.method in ("GET", "HEAD", "OPTIONS") or not origin or urlsplit(origin).netloc == request.host:
        return None
    return problems.problem(403, "other-site", "Another site tried to record here; that is refused.")


def _headers(response: Response) -> Response:
    response.headers["Content-Security-Policy"] = _POLICY
    response.headers["X-Content-Type-Options"] = "nosniff"
    response.headers["Referrer-Policy"] = "no-referrer"
    if request.path.startswith("/api/"):
        response.headers["Cache-Control"] = "no-store"
    return response
