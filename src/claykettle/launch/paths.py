"""Where things lie in a checkout, and how the launcher says what it is doing."""

from __future__ import annotations

import os
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[3]
SETUP = ROOT / ".kettle"
"""What set-up made: the Python environment and the stamps of what was installed."""
STATE = Path(os.environ.get("CLAYKETTLE_STATE", SETUP)).resolve()
"""What a running demo keeps: its database, logs and locks. A test has its own beside a running demo."""
FRONTEND = ROOT / "frontend"
BUILT = FRONTEND / "dist"
OPENAPI = ROOT / "docs/openapi.json"
VENV = SETUP / "venv"


def say(text: str) -> None:
    """One line to the person who waits."""
    print(f"kettle: {text}", file=sys.stderr, flush=True)


class SetupError(Exception):
    """The machine lacks something that cannot be put there without the person; the message says what to do."""
