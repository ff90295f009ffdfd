"""What a request needs from the application: its laboratory; and how it reads a body and answers."""

from __future__ import annotations

from functools import cache
from typing import Any

from flask import Response, current_app
from pydantic import BaseModel

from claykettle.service.laboratory import Laboratory


def laboratory() -> Laboratory:
    """The running application's laboratory."""
    found = current_app.extensions["claykettle"]
    assert isinstance(found, Laboratory)
    return found


class Query(BaseModel):
    """Base of query models: the framework asks for the schema at every request, so it is made once a class.

    The override is the same call, answered from memory; hence the type checker's exception.
    """

    @classmethod
    @cache
    def model_json_schema(cls, *arguments: Any, **named: Any) -> dict[str, Any]:  # type: ignore[override]
        """The model's JSON Schema."""
        return super().model_json_schema(*arguments, **named)


def answer(view: BaseModel, status: int = 200) -> Response:
    """A view as the response."""
    return Response(view.model_dump_json(), status, content_type="application/json")
