"""What gunicorn serves: each worker makes its own application and pool of connections."""

from __future__ import annotations

import gc
import os
from pathlib import Path

from flask import Flask

from claykettle.store.database import Database
from claykettle.web import create_app


def make_app() -> Flask:
    """The application on the database and built page that the environment names."""
    # what is loaded by now stays: the collector need not look through it again at every request
    gc.collect()
    gc.freeze()
    return create_app(Database(os.environ["CLAYKETTLE_DATABASE_URL"]), Path(os.environ["CLAYKETTLE_BUILT"]))
