"""Where things lie in a checkout, and how the launcher says what it is doing."""

from __future__ import annotations

import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[3]
STATE = ROOT / ".kettle"
FRONTEND = ROOT / "frontend"
BUILT = FRONTEND / "dist"
VENV = STATE / "venv"


def say(text: str) -> None:
    """One line to the person who waits."""
    print(f"kettle: {text}", file=sys.stderr, flush=True)


class SetupError(Exception):
    """The machine lacks something that cannot be put there without the person; the message says what to do."""
