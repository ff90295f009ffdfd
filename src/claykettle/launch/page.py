"""Installs the page's packages and builds it, each only when something changed."""

from __future__ import annotations

import hashlib
import shutil
from collections.abc import Iterable
from pathlib import Path

from claykettle.launch.node import npm_environment
from claykettle.launch.paths import BUILT, FRONTEND, OPENAPI, ROOT, SETUP
from claykettle.launch.progress import watched

_SOURCES = ("src", "public")
_SETTINGS = ("index.html", "package.json", "package-lock.json", "vite.config.ts", "svelte.config.js", "tsconfig.json")


def install_packages(tests: bool = True) -> None:
    """`npm ci` where the lock file changed since it was done last; what only checks and tests need, only for them.

    Raises SetupError.
    """
    wanted = _digest([FRONTEND / "package.json", FRONTEND / "package-lock.json"])
    whole, lean = SETUP / "stamp.npm", SETUP / "stamp.npm.lean"
    done = [stamp for stamp in (whole, lean) if _reads(stamp) == wanted and (FRONTEND / "node_modules").is_dir()]
    if whole in done or (done and not tests):
        return
    tests = tests or whole.exists()  # a folder that had all of them keeps them
    whole.unlink(missing_ok=True)
    lean.unlink(missing_ok=True)
    leave_out = () if tests else ("--omit=dev",)
    _npm("installing the page's packages into frontend/node_modules", "ci", *leave_out)
    (whole if tests else lean).write_text(wanted)


def build_page() -> None:
    """Build the page where its sources changed since the last build. Raises SetupError."""
    sources = [path for folder in _SOURCES for path in (FRONTEND / folder).rglob("*") if path.is_file()]
    wanted = _digest([*sources, *(FRONTEND / name for name in _SETTINGS), OPENAPI])
    stamp = SETUP / "stamp.page"
    if _reads(stamp) == wanted and (BUILT / "index.html").is_file():
        return
    stamp.unlink(missing_ok=True)
    _npm("building the page", "run", "--silent", "build")
    stamp.write_text(wanted)


def _npm(what: str, *arguments: str) -> None:
    environment = npm_environment()
    npm = shutil.which("npm", path=environment["PATH"]) or "npm"
    watched(what, FRONTEND / "node_modules", [npm, *arguments], environment, FRONTEND)


def _digest(paths: Iterable[Path]) -> str:
    digest = hashlib.sha256()
    for path in sorted(paths):
        digest.update(str(path.relative_to(ROOT)).encode())
        digest.update(path.read_bytes())
    return digest.hexdigest()


def _reads(path: Path) -> str:
    return path.read_text() if path.is_file() else ""
