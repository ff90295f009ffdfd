"""Child processes that end with the launcher, however it ends."""

from __future__ import annotations

import ctypes
import os
import signal
import socket
import subprocess
from collections.abc import Mapping, Sequence
from pathlib import Path

_PR_SET_PDEATHSIG = 1


def _die_with_parent() -> None:
    """Ask Linux for SIGTERM when the launcher is gone, even when it was killed outright."""
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)


def start(command: Sequence[str], log: Path, environment: Mapping[str, str] | None = None) -> subprocess.Popen[bytes]:
    """Start a child in a session of its own (Ctrl-C reaches only the launcher), its output appended to `log`."""
    with log.open("ab") as output:
        return subprocess.Popen(
            command,
            stdin=subprocess.DEVNULL,
            stdout=output,
            stderr=output,
            env=dict(environment or os.environ),
            start_new_session=True,
            preexec_fn=_die_with_parent,
        )


def stop(child: subprocess.Popen[bytes], seconds: float = 15) -> None:
    """End a child with SIGTERM, and with SIGKILL where it does not listen."""
    if child.poll() is not None:
        return
    child.terminate()
    try:
        child.wait(seconds)
    except subprocess.TimeoutExpired:
        child.kill()
        child.wait()


def free_port(wanted: int = 0) -> int:
    """`wanted` on 127.0.0.1 where it is free, else one that the system gives."""
    for port in (wanted, 0):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", port))
            except OSError:
                continue
            return int(probe.getsockname()[1])
    raise OSError("no free port on 127.0.0.1")
