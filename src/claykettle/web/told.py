"""The log of requests: one line of JSON each, who asked what, the answer's status, how long it took.

Never a body, a password, a code, a cookie, or anything that a student wrote: an address holds UUIDs and numbers only,
and what stands behind its question mark is left out.
"""

from __future__ import annotations

import sys
import time
from typing import Any

import structlog
from flask import Flask, Response, g, request

NOT_WRITTEN = "KETTLE_LOG_NOT_WRITTEN"
"""Whether the last line could not be written, as on a full disk; `/healthz` says so."""


def _who() -> str:
    """Who asked, as far as it was looked up; the name of a bench for its tablet."""
    caller = getattr(g.get("kettle_laboratory"), "caller", None)
    return "" if caller is None else str(caller.words)


def init_app(app: Flask) -> None:
    """Log every request of this application to standard error, which its launcher keeps in a file."""
    log: Any = structlog.wrap_logger(
        structlog.PrintLogger(sys.stderr),
        processors=[
            structlog.processors.TimeStamper(fmt="iso", utc=True),
            structlog.processors.JSONRenderer(),
        ],
    )

    def begin() -> None:
        g.kettle_began = time.perf_counter()

    def end(response: Response) -> Response:
        began = g.get("kettle_began")
        try:
            log.msg(
                "request",
                method=request.method,
                path=request.path[:200] if request.url_rule is not None else "unknown",
                status=response.status_code,
                ms=None if began is None else round(1000 * (time.perf_counter() - began), 1),
                who=_who(),
                address=request.remote_addr or "",
            )
            app.config[NOT_WRITTEN] = False
        except OSError:
            # what was asked is done and stored: a log that cannot be written changes nothing of that
            app.config[NOT_WRITTEN] = True
        return response

    app.before_request(begin)
    app.after_request(end)
