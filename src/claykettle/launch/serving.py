"""How the application is served: gunicorn on loopback, its command in one place."""

from __future__ import annotations

import sys

APPLICATION = "claykettle.launch.wsgi:make_app()"


def serve_command(port: int, *more: str, application: str = APPLICATION, grace_s: int = 3) -> list[str]:
    """The command that serves an application on this port of 127.0.0.1; `more` are further settings of gunicorn.

    Two processes, each with threads enough for every tablet's open request, both forked from one that has loaded the
    program: it is loaded once, and what does not change is in memory once. No control socket, which would lie in the
    home folder of whoever starts it.
    """
    return [
        sys.executable, "-m", "gunicorn", application, "--bind", f"127.0.0.1:{port}", "--workers", "2",
        "--preload", "--worker-class", "gthread", "--threads", "64", "--graceful-timeout", str(grace_s),
        "--no-control-socket", *more,
    ]  # fmt: skip
