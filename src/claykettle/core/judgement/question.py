"""What is doubtful about a reading before it is kept."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Question:
    """A doubt about a reading: a stable code, the sentence, and the figure it may have meant."""

    code: str
    text: str
    suggestion: str | None = None
