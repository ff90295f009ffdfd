"""`kettle demo`: set up, start the private server, migrate, seed once, serve until told to end."""

from __future__ import annotations

import fcntl
import json
import os
import signal
import subprocess
import threading
import time
import urllib.request
from contextlib import suppress
from types import FrameType
from urllib.error import URLError

from claykettle.launch.mariadb import PrivateServer
from claykettle.launch.paths import BUILT, ROOT, STATE, SetupError, say
from claykettle.launch.process import need_port, start, stop
from claykettle.launch.serving import serve_command
from claykettle.launch.setup import set_up
from claykettle.service.demo import seed_demo
from claykettle.service.laboratory import Laboratory
from claykettle.service.shelf.shelf import first_start
from claykettle.store.database import Database, NewerData

_ADDRESS = STATE / "demo.json"


def run_demo(port: int) -> int:
    """Set up, serve, and end cleanly on Ctrl-C or SIGTERM; the exit status."""
    try:
        need_port(port)
    except SetupError as error:
        if _is_running():
            say(f"the demo is running already: {_running_address()}")
        else:
            say(str(error))
        return 1
    STATE.mkdir(parents=True, exist_ok=True)
    with (STATE / "demo.lock").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            say(f"the demo is running already: {_running_address()}")
            return 1
        if set_up(tests=False):
            return 1
        return _serve(port)


def _is_running() -> bool:
    """Whether another start holds the demo's lock."""
    try:
        with (STATE / "demo.lock").open("r+") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except FileNotFoundError:
        return False
    except OSError:
        return True
    return False


def _running_address() -> str:
    try:
        return str(json.loads(_ADDRESS.read_text())["address"])
    except (OSError, ValueError, KeyError):
        return "it is just starting"


def _serve(port: int) -> int:
    ended = threading.Event()

    def end(signal_number: int, frame: FrameType | None) -> None:
        ended.set()

    signal.signal(signal.SIGTERM, end)
    signal.signal(signal.SIGINT, end)
    server = PrivateServer(STATE / "mariadb")
    web: subprocess.Popen[bytes] | None = None
    try:
        say("starting the database server")
        server.start()
        _prepare(server)
        web = _start_web(server, port)
        address = f"http://127.0.0.1:{port}"
        _wait_for(address, web, ended)
        _ADDRESS.write_text(json.dumps({"address": address, "pid": os.getpid()}))
        if not ended.is_set():
            say(f"Clay Kettle is ready: {address}  (Ctrl-C ends it)")
        while not ended.wait(1):
            if web.poll() is not None or server.process is None or server.process.poll() is not None:
                raise SetupError(f"the application or its database ended; see {_log_name()}")
    except SetupError as error:
        say(str(error))
        return 1
    finally:
        say("ending")
        if web is not None:
            stop(web)
        server.stop()
        with suppress(OSError):
            _ADDRESS.unlink()
    say("ended")
    return 0


def _prepare(server: PrivateServer) -> None:
    database = Database(server.url)
    laboratory = Laboratory(database)
    try:
        database.migrate()
        laboratory.ask(first_start)
        if laboratory.ask(seed_demo):
            say("filled in the demo's data")
    except NewerData as error:
        raise SetupError(str(error)) from None
    finally:
        database.close()


def _log_name() -> str:
    return os.path.relpath(STATE / "web.log", ROOT)


def _start_web(server: PrivateServer, port: int) -> subprocess.Popen[bytes]:
    say("starting the application")
    command = serve_command(port)
    environment = dict(os.environ, CLAYKETTLE_DATABASE_URL=server.url, CLAYKETTLE_BUILT=str(BUILT), CLAYKETTLE_DEMO="1")
    return start(command, STATE / "web.log", environment)


def _wait_for(address: str, web: subprocess.Popen[bytes], ended: threading.Event) -> None:
    deadline = time.monotonic() + 120
    while time.monotonic() < deadline and not ended.is_set():
        if web.poll() is not None:
            raise SetupError(f"the application did not start; see {_log_name()}")
        with suppress(URLError, OSError), urllib.request.urlopen(f"{address}/healthz", timeout=3) as answer:
            if answer.status == 200:
                return
        time.sleep(0.1)
    if not ended.is_set():
        raise SetupError(f"the application does not answer; see {_log_name()}")
