"""What a use case answers with, and so the shape of the API: the core's own values, and views made of stored rows."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class View(BaseModel):
    """Base of all answers."""

    model_config = ConfigDict(from_attributes=True)
