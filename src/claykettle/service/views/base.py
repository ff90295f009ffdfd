"""What a use case answers with, and so the shape of the API: the core's own values, and views made of stored rows."""

from __future__ import annotations

from functools import cache
from typing import Any

from pydantic import BaseModel, ConfigDict


class Described(BaseModel):
    """A model of the API whose JSON Schema is made once: every route that names it asks for it, some at each request.

    The override is the same call, answered from memory; hence the type checker's exception.
    """

    @classmethod
    @cache
    def model_json_schema(cls, *arguments: Any, **named: Any) -> dict[str, Any]:  # type: ignore[override]
        """The model's JSON Schema."""
        return super().model_json_schema(*arguments, **named)


class View(Described):
    """Base of all answers."""

    model_config = ConfigDict(from_attributes=True)
