"""`kettle dev`: the page with hot reload, against a demo that is running."""

from __future__ import annotations

import json
import subprocess
from urllib.error import URLError
from urllib.request import urlopen

from claykettle.launch.node import npm_environment
from claykettle.launch.page import install_packages
from claykettle.launch.paths import FRONTEND, STATE, SetupError, say


def run_dev() -> int:
    """Serve the page's sources, its questions passed on to the running demo; the exit status."""
    try:
        install_packages()
        address = _demo()
    except SetupError as error:
        say(str(error))
        return 1
    say(f"the page with hot reload, against the demo at {address} (Ctrl-C ends it)")
    environment = npm_environment() | {"CLAYKETTLE_SERVER": address}
    return subprocess.run(["npm", "run", "--silent", "dev"], cwd=FRONTEND, env=environment, check=False).returncode


def _demo() -> str:
    """The address of the demo that is running. Raises SetupError."""
    try:
        address = str(json.loads((STATE / "running.json").read_text())["address"])
        with urlopen(f"{address}/healthz", timeout=5):
            return address
    except (OSError, URLError, ValueError, KeyError):
        raise SetupError("no demo is running: start ./kettle demo in another window first.") from None
