"""A command of `kettle` in a process of its own, forked where everything is loaded already.

A test waits for the command and not for its imports. That commands start by themselves, as the launcher starts them, is
tested in tests/launch (`serve`, `demo`) and in tests/formats/test_evaluate_command.py.
"""

from __future__ import annotations

import io
import os
import signal
import subprocess
import sys
import tempfile
import time
import traceback
import warnings
from typing import BinaryIO

from claykettle import cli

Done = subprocess.CompletedProcess


def kettle(*arguments: str, given: bytes = b"", seconds: float = 120) -> Done[bytes]:
    """What `./kettle` with these arguments and this input came to. Raises TimeoutExpired after so many seconds."""
    with tempfile.TemporaryFile() as into, tempfile.TemporaryFile() as out, tempfile.TemporaryFile() as faults:
        into.write(given)
        into.seek(0)
        pid = os.fork()
        if not pid:
            _be_the_command(arguments, into, out, faults)
        status = _waited(pid, seconds)
        for file in (out, faults):
            file.seek(0)
        said = out.read(), faults.read()
    if status is None:
        raise subprocess.TimeoutExpired(list(arguments), seconds, *said)
    return subprocess.CompletedProcess(list(arguments), os.waitstatus_to_exitcode(status), *said)


def told(done: Done[bytes]) -> Done[str]:
    """The same in letters."""
    return subprocess.CompletedProcess(done.args, done.returncode, done.stdout.decode(), done.stderr.decode())


def _waited(pid: int, seconds: float) -> int | None:
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        ended, status = os.waitpid(pid, os.WNOHANG)
        if ended:
            return status
        time.sleep(0.004)
    os.kill(pid, signal.SIGKILL)
    os.waitpid(pid, 0)
    return None


def _be_the_command(arguments: tuple[str, ...], *files: BinaryIO) -> None:
    """The rest of this process's life; nothing of the tests, no end of theirs, runs in it."""
    status = 70
    try:
        for number, file in enumerate(files):
            os.dup2(file.fileno(), number)
        sys.stdin, sys.stdout, sys.stderr = (
            io.TextIOWrapper(os.fdopen(number, mode), encoding="utf-8", write_through=True)
            for number, mode in ((0, "rb"), (1, "wb"), (2, "wb"))
        )
        # as Python does where nobody asks for more: a test run does
        warnings.simplefilter("ignore")
        signal.signal(signal.SIGINT, signal.default_int_handler)
        status = cli.main(arguments)
    except SystemExit as ended:
        status = ended.code if isinstance(ended.code, int) else 1
    except Exception:  # noqa: BLE001  # as Python tells of any
        traceback.print_exc()
    finally:
        for stream in (sys.stdout, sys.stderr):
            stream.flush()
        os._exit(status)
