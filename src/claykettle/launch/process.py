"""Child processes that end with the launcher, however it ends."""

from __future__ import annotations

import ctypes
import errno
import os
import signal
import socket
import subprocess
from collections.abc import Mapping, Sequence
from contextlib import suppress
from pathlib import Path

from claykettle.launch.paths import SetupError

_PR_SET_PDEATHSIG = 1


def die_with_parent() -> None:
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
            preexec_fn=die_with_parent,
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


def end_rest(child: subprocess.Popen[bytes]) -> None:
    """End what a child that died has left behind: its own children, which hold its port for a while."""
    with suppress(ProcessLookupError):
        os.killpg(child.pid, signal.SIGKILL)


def free_port() -> int:
    """A free port on 127.0.0.1, given by the system."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def need_port(port: int, host: str = "127.0.0.1") -> None:
    """Raises SetupError, saying how to mend it, where nothing can be served on this port of a host."""
    if not 1 <= port <= 65535:
        raise SetupError(f"--port {port}: a port is a number from 1 to 65535; leave it out for the usual one.")
    with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except socket.gaierror:
            raise SetupError(f"--listen {host}: this machine has no such address.") from None
        except PermissionError:
            text = f"port {port} is kept for root; take one from 1024 on, such as --port 8618."
            raise SetupError(text) from None
        except OSError as error:
            if error.errno == errno.EADDRNOTAVAIL:
                raise SetupError(f"--listen {host}: this machine has no such address.") from None
            text = f"port {port} is in use by another program; end that, or take another, such as --port {port + 1}."
            raise SetupError(text) from None
