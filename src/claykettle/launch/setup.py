"""What a start needs beyond Debian's and Python's packages, which the launcher has seen to: the built page."""

from __future__ import annotations

import fcntl
import sys
from collections.abc import Iterator
from contextlib import contextmanager

from claykettle.launch.page import build_page, install_packages
from claykettle.launch.paths import SETUP, SetupError, say


@contextmanager
def one_at_a_time() -> Iterator[None]:
    """Two starts at once set up one after the other."""
    SETUP.mkdir(exist_ok=True)
    with (SETUP / "page.lock").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            say("another start is setting up; waiting for it")
            fcntl.flock(lock, fcntl.LOCK_EX)
        yield


def set_up(tests: bool = True) -> int:
    """Install and build all that is missing; the exit status. `tests`: also what only checks and tests need."""
    try:
        with one_at_a_time():
            install_packages(tests)
            build_page()
    except SetupError as error:
        say(str(error))
        return 1
    if tests:
        say(f"set up: Python {sys.version.split()[0]}, database server, browser and page are there")
    return 0
