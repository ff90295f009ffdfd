"""How the application is served: gunicorn, its command in one place."""

from __future__ import annotations

import sys

from claykettle.store.database import CONNECTIONS

APPLICATION = "claykettle.launch.wsgi:make_app()"


def serve_command(
    port: int, *more: str, application: str = APPLICATION, grace_s: int = 3, host: str = "127.0.0.1"
) -> list[str]:
    """The command that serves an application on this port of a host; `more` are further settings of gunicorn.

    Two processes, each with threads enough for every tablet's open request, both forked from one that has loaded the
    program: it is loaded once, and what does not change is in memory once. No control socket, which would lie in the
    home folder of whoever starts it.
    """
    bind = f"[{host}]:{port}" if ":" in host else f"{host}:{port}"
    return [
        sys.executable, "-m", "gunicorn", application, "--bind", bind, "--workers", "2",
        "--preload", "--worker-class", "gthread", "--threads", str(CONNECTIONS), "--graceful-timeout", str(grace_s),
        "--no-control-socket", "--limit-request-line", "8190", *more,
    ]  # fmt: skip
