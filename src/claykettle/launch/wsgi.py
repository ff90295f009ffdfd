"""What gunicorn serves: made once, before its workers fork; each opens its own connections at its first request."""

from __future__ import annotations

import gc
import os
from datetime import UTC, datetime, timedelta
from pathlib import Path

from flask import Flask

from claykettle.core.methods.registry import all_methods
from claykettle.store.database import Database
from claykettle.web import create_app

GARBAGE = 20_000
"""So many objects more than were given up are made before the collector looks: some requests' worth."""

AHEAD = "CLAYKETTLE_CLOCK_AHEAD_H"
"""By so many hours the application's clock is ahead: to rehearse the day after, and for its tests."""


def make_app() -> Flask:
    """The application on the database and built page that the environment names."""
    ahead = timedelta(hours=float(os.environ.get(AHEAD, "0")))
    all_methods()
    app = create_app(
        Database(os.environ["CLAYKETTLE_DATABASE_URL"]),
        Path(os.environ["CLAYKETTLE_BUILT"]),
        lambda: datetime.now(UTC) + ahead,
    )
    # what is loaded by now stays: the collector need not look through it again at every request, nor every few of them
    gc.collect()
    gc.freeze()
    gc.set_threshold(GARBAGE)
    return app
