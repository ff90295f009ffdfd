"""Debian packages that the application or its tests need: installed as root, named otherwise."""

from __future__ import annotations

import os
import shutil
import subprocess
from collections.abc import Mapping

from claykettle.launch.paths import SetupError, say

_SERVER: Mapping[str, str] = {
    "mariadbd": "mariadb-server-core",
    "mariadb-install-db": "mariadb-server-core",
    "my_print_defaults": "mariadb-client-core",
}
_BROWSER: Mapping[str, str] = {"chromium": "chromium"}
_PATH = f"{os.environ.get('PATH', '')}:/usr/sbin:/usr/bin"


def need_programs(tests: bool = False) -> None:
    """Install what is missing. Raises SetupError with the one line to run where that takes another account."""
    wanted = {**_SERVER, **(_BROWSER if tests else {})}
    missing = sorted({package for program, package in wanted.items() if shutil.which(program, path=_PATH) is None})
    if not missing:
        return
    line = f"apt-get update && apt-get install -y --no-install-recommends {' '.join(missing)}"
    if os.geteuid() != 0 or shutil.which("apt-get") is None:
        raise SetupError(f"{', '.join(missing)} missing. Run this once as root, then start again:\n  {line}")
    say(f"installing Debian packages: {', '.join(missing)} (under a minute)")
    environment = dict(os.environ, DEBIAN_FRONTEND="noninteractive")
    for command in (
        ["apt-get", "update", "-qq"],
        ["apt-get", "install", "-y", "-qq", "--no-install-recommends", *missing],
    ):
        done = subprocess.run(command, env=environment, capture_output=True, text=True, check=False)
        if done.returncode:
            raise SetupError(f"'{' '.join(command)}' failed:\n{(done.stdout + done.stderr)[-1500:]}")
