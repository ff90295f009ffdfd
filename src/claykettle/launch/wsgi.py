"""What gunicorn serves: made once, before its workers fork; each opens its own connections at its first request."""

from __future__ import annotations

import gc
import os
from datetime import UTC, datetime, timedelta
from pathlib import Path

from flask import Flask
from werkzeug.middleware.proxy_fix import ProxyFix

from claykettle.core.methods.registry import all_methods
from claykettle.devices import attached_from
from claykettle.launch.zones import zone_named
from claykettle.store.database import Database
from claykettle.web import create_app, told

GARBAGE = 20_000
"""So many objects more than were given up are made before the collector looks: some requests' worth."""

AHEAD = "CLAYKETTLE_CLOCK_AHEAD_H"
"""By so many hours the application's clock is ahead: to rehearse the day after, and for its tests."""


HOSTS, DEMO, FIRST_CODE = "CLAYKETTLE_HOSTS", "CLAYKETTLE_DEMO", "CLAYKETTLE_FIRST_CODE"
"""Further names that it answers to, with commas; whether it is the demo; the code for the first account."""


ADDRESSES, BACKUPS, PROXY = "CLAYKETTLE_ADDRESSES", "CLAYKETTLE_BACKUPS", "CLAYKETTLE_PROXY"
LOG, ZONE, DEVICES = "CLAYKETTLE_LOG", "CLAYKETTLE_ZONE", "CLAYKETTLE_DEVICES"
"""Where it is reached, with commas; the folder of its backups; whether a proxy brings the requests, whether each is
logged; the time zone in which the laboratory lies, this machine's where none is said; instruments with a line of their
own, by name, as JSON."""


def make_app() -> Flask:
    """The application on the database and built page that the environment names."""
    ahead = timedelta(hours=float(os.environ.get(AHEAD, "0")))
    all_methods()
    app = create_app(
        Database(os.environ["CLAYKETTLE_DATABASE_URL"]),
        Path(os.environ["CLAYKETTLE_BUILT"]),
        lambda: datetime.now(UTC) + ahead,
        hosts=[name for name in os.environ.get(HOSTS, "").split(",") if name],
        demo=os.environ.get(DEMO) == "1",
        first_code=os.environ.get(FIRST_CODE, ""),
        addresses=[name for name in os.environ.get(ADDRESSES, "").split(",") if name],
        backups=os.environ.get(BACKUPS, ""),
        zone=zone_named(os.environ.get(ZONE, "")),
        attached=attached_from(os.environ.get(DEVICES, "")),
    )
    if os.environ.get(LOG):
        told.init_app(app)
    if os.environ.get(PROXY):
        app.wsgi_app = ProxyFix(app.wsgi_app, x_for=1, x_proto=1, x_host=1)  # type: ignore[method-assign]
    # what is loaded by now stays: the collector need not look through it again at every request, nor every few of them
    gc.collect()
    gc.freeze()
    gc.set_threshold(GARBAGE)
    return app
