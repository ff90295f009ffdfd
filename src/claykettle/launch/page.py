"""Installs the page's packages and builds it, each only when something changed."""

from __future__ import annotations

import hashlib
import shutil
import subprocess
from collections.abc import Iterable
from pathlib import Path

from claykettle.launch.node import npm_environment
from claykettle.launch.paths import BUILT, FRONTEND, OPENAPI, ROOT, SETUP, SetupError, say

_SOURCES = ("src", "public")
_SETTINGS = ("index.html", "package.json", "package-lock.json", "vite.config.ts", "svelte.config.js", "tsconfig.json")


def install_packages() -> None:
    """`npm ci` where the lock file changed since it was done last. Raises SetupError."""
    wanted = _digest([FRONTEND / "package.json", FRONTEND / "package-lock.json"])
    stamp = SETUP / "stamp.npm"
    if _reads(stamp) == wanted and (FRONTEND / "node_modules").is_dir():
        return
    say("installing the page's packages (npm ci, half a minute)")
    stamp.unlink(missing_ok=True)
    _npm("ci", "--no-audit", "--no-fund")
    stamp.write_text(wanted)


def build_page() -> None:
    """Build the page where its sources changed since the last build. Raises SetupError."""
    install_packages()
    sources = [path for folder in _SOURCES for path in (FRONTEND / folder).rglob("*") if path.is_file()]
    wanted = _digest([*sources, *(FRONTEND / name for name in _SETTINGS), OPENAPI])
    stamp = SETUP / "stamp.page"
    if _reads(stamp) == wanted and (BUILT / "index.html").is_file():
        return
    say("building the page (some seconds)")
    stamp.unlink(missing_ok=True)
    _npm("run", "--silent", "build")
    stamp.write_text(wanted)


def _npm(*arguments: str) -> None:
    environment = npm_environment()
    npm = shutil.which("npm", path=environment["PATH"]) or "npm"
    done = subprocess.run([npm, *arguments], cwd=FRONTEND, env=environment, capture_output=True, text=True, check=False)
    if done.returncode:
        raise SetupError(f"npm {' '.join(arguments)} failed:\n{(done.stdout + done.stderr)[-3000:]}")


def _digest(paths: Iterable[Path]) -> str:
    digest = hashlib.sha256()
    for path in sorted(paths):
        digest.update(str(path.relative_to(ROOT)).encode())
        digest.update(path.read_bytes())
    return digest.hexdigest()


def _reads(path: Path) -> str:
    return path.read_text() if path.is_file() else ""
