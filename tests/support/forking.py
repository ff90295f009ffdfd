"""Servers forked from one process that has the program loaded: what a browser test waits for is its page, not imports.

What is served is the same gunicorn with the same settings. That it starts by its own command, as people start it, is
tested in tests/launch.
"""

from __future__ import annotations

import atexit
import json
import os
import signal
import subprocess
import sys
import time
from collections.abc import Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from claykettle.launch.paths import ROOT
from claykettle.launch.process import die_with_parent


@dataclass(frozen=True)
class Served:
    """A server that was forked: no child of ours, so that it is asked for by its number."""

    pid: int

    def is_running(self) -> bool:
        """Whether it is still there."""
        try:
            os.kill(self.pid, 0)
        except ProcessLookupError:
            return False
        return True

    def kill(self) -> None:
        """End it and its workers at once; nothing that it holds is wanted any more."""
        with suppress(ProcessLookupError):
            os.killpg(self.pid, signal.SIGKILL)
        while self.is_running():
            time.sleep(0.01)

    def stop(self) -> None:
        """End it with SIGTERM, after 15 s with SIGKILL, and wait until it is gone."""
        for sign in (signal.SIGTERM, signal.SIGKILL):
            deadline = time.monotonic() + 15
            if self.is_running():
                os.kill(self.pid, sign)
            while self.is_running() and time.monotonic() < deadline:
                time.sleep(0.02)


def serve(command: Sequence[str], log: Path, environment: Mapping[str, str]) -> Served:
    """Start what `serve_command` says, in a fork; `environment` comes on top of what was there."""
    loaded = _loaded()
    assert loaded.stdin is not None and loaded.stdout is not None
    order = {"arguments": list(command[2:]), "log": str(log), "environment": dict(environment)}
    loaded.stdin.write(json.dumps(order) + "\n")
    loaded.stdin.flush()
    return Served(int(loaded.stdout.readline()))


@cache
def _loaded() -> subprocess.Popen[str]:
    """The process that has everything loaded; it ends when its input does, and what it forked with it."""
    environment = dict(os.environ, PYTHONPATH=f"{ROOT / 'src'}{os.pathsep}{ROOT}")
    child = subprocess.Popen(
        [sys.executable, "-m", "tests.support.forking"],
        stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, env=environment, start_new_session=True,
        preexec_fn=die_with_parent,
    )  # fmt: skip

    def end() -> None:
        child.communicate()

    atexit.register(end)
    return child


def _fork_on_order() -> None:
    from gunicorn.app.wsgiapp import WSGIApplication

    import claykettle.launch.wsgi  # loaded here, so that no fork loads it
    from claykettle.core.methods.registry import all_methods

    assert claykettle.launch.wsgi
    all_methods()
    # whatever ends is taken away by the system, so that its number is gone when it is
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)
    for line in sys.stdin:
        order = json.loads(line)
        pid = os.fork()
        if pid:
            print(pid, flush=True)
            continue
        signal.signal(signal.SIGCHLD, signal.SIG_DFL)
        die_with_parent()
        os.setsid()
        with Path(order["log"]).open("ab") as output, Path(os.devnull).open() as nothing:
            os.dup2(nothing.fileno(), 0)
            for stream in (1, 2):
                os.dup2(output.fileno(), stream)
        os.environ.update(order["environment"])
        sys.argv = order["arguments"]
        WSGIApplication("%(prog)s [OPTIONS] [APP_MODULE]").run()
        os._exit(0)


if __name__ == "__main__":
    _fork_on_order()
