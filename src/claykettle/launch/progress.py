"""Long commands, run quietly: every five seconds how long and how much; nothing is left of one that is stopped."""

from __future__ import annotations

import os
import signal
import subprocess
import time
from collections.abc import Mapping, Sequence
from pathlib import Path

from claykettle.launch.paths import SETUP, SetupError, say

EVERY_S = 5
LAST_LINES = 12
_NO_NETWORK = ("ENOTFOUND", "ECONNREFUSED", "EAI_AGAIN", "ETIMEDOUT", "ENETUNREACH", "resolve", "network", "connection")


def watched(what: str, folder: Path, command: Sequence[str], environment: Mapping[str, str], where: Path) -> None:
    """Run a command in the folder `where`, saying how large `folder` has grown.

    Raises SetupError with the command's last lines where it fails. Whatever stops the launcher stops the command too.
    """
    say(what)
    log = SETUP / "setup.log"
    with log.open("wb") as output:
        child = subprocess.Popen(
            command, cwd=where, env=dict(environment), stdin=subprocess.DEVNULL, stdout=output,
            stderr=subprocess.STDOUT, start_new_session=True,
        )  # fmt: skip
        try:
            _wait(child, folder)
        except BaseException:
            _end(child)
            raise
    if child.returncode:
        raise SetupError(_why(what, log.read_text(errors="replace")))


def _wait(child: subprocess.Popen[bytes], folder: Path) -> None:
    begun = time.monotonic()
    while True:
        try:
            child.wait(EVERY_S)
        except subprocess.TimeoutExpired:
            say(f"  {time.monotonic() - begun:.0f} s, {megabytes(folder)} MB so far")
        else:
            return


def _end(child: subprocess.Popen[bytes]) -> None:
    """End a command and all that it started."""
    for number in (signal.SIGTERM, signal.SIGKILL):
        if child.poll() is None:
            os.killpg(child.pid, number)
            try:
                child.wait(5)
            except subprocess.TimeoutExpired:
                continue


def _why(what: str, said: str) -> str:
    tail = "\n".join(said.strip().splitlines()[-LAST_LINES:])
    if any(word in said for word in _NO_NETWORK):
        return (
            f"{tail}\n{what}: it could not be fetched. Is there a network? Nothing is lost; start again when there is."
        )
    return f"{tail}\n{what}: failed; the lines above say why (all of them: .kettle/setup.log)."


def megabytes(folder: Path) -> int:
    """The size of a folder in MB, as far as it can be read."""
    total = 0
    for path, _, names in os.walk(folder):
        for name in names:
            try:
                total += Path(path, name).lstat().st_size
            except OSError:
                continue
    return total // 1_000_000
