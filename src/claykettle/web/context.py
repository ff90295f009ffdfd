"""What a request needs from the application: its database and its clock."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime

from flask import Response, current_app
from pydantic import BaseModel

from claykettle.store.database import Database


@dataclass(frozen=True)
class Context:
    """The application's database and clock."""

    database: Database
    clock: Callable[[], datetime]


def context() -> Context:
    """The running application's context."""
    found = current_app.extensions["claykettle"]
    assert isinstance(found, Context)
    return found


def answer(view: BaseModel, status: int = 200) -> Response:
    """A view as the response."""
    return Response(view.model_dump_json(), status, content_type="application/json")
