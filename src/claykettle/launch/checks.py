"""`kettle check`: style, types, contracts, side by side; a part that passed runs again only when its files change."""

from __future__ import annotations

import hashlib
import subprocess
import sys
import time
from collections.abc import Iterable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

from claykettle.launch.node import npm_environment
from claykettle.launch.page import install_packages
from claykettle.launch.paths import FRONTEND, ROOT, SETUP, VENV, SetupError, say

PYTHON = ("src/**/*.py", "tests/**/*.py", "pyproject.toml", "requirements*.txt", "constraints.txt")
PAGE = ("frontend/src/**/*", "frontend/tests/**/*", "frontend/*.json", "frontend/*.[jt]s", "docs/openapi.json")
SHOWN = 6000
"""So many of a failed part's last letters are shown."""


@dataclass(frozen=True)
class Part:
    """One check: its command, the folder it runs in, and the files that it looks at."""

    name: str
    command: Sequence[str]
    folder: Path
    looks_at: Sequence[str]

    @property
    def stamp(self) -> Path:
        """Where it is noted what the files were when it passed."""
        return SETUP / f"stamp.check.{self.name.replace(' ', '-')}"

    def digest(self) -> str:
        """What the files are now."""
        found = hashlib.sha256(" ".join(self.command).encode())
        for path in _files(self.looks_at):
            found.update(str(path.relative_to(ROOT)).encode())
            found.update(path.read_bytes())
        return found.hexdigest()


def parts() -> list[Part]:
    """Every check, the longest first."""
    python = [sys.executable, "-m"]
    return [
        Part("svelte-check", ["npm", "run", "--silent", "check"], FRONTEND, PAGE),
        Part("eslint and prettier", ["npm", "run", "--silent", "lint"], FRONTEND, PAGE),
        Part("mypy --strict", [*python, "mypy"], ROOT, PYTHON),
        Part("import contract", [sys.executable, str(VENV / "bin/lint-imports"), "--no-cache"], ROOT, PYTHON),
        Part("ruff check", [*python, "ruff", "check", "src", "tests"], ROOT, PYTHON),
        Part("ruff format", [*python, "ruff", "format", "--check", "-q", "src", "tests"], ROOT, PYTHON),
    ]


def run_checks() -> int:
    """Run what has changed, two at a time; the exit status."""
    try:
        install_packages()
    except SetupError as error:
        say(str(error))
        return 1
    begun = time.monotonic()
    with ThreadPoolExecutor(max_workers=2) as pool:
        fine = list(pool.map(_is_fine, parts()))
    say(f"took {time.monotonic() - begun:.0f} s")
    return 0 if all(fine) else 1


def _is_fine(part: Part) -> bool:
    digest = part.digest()
    if part.stamp.is_file() and part.stamp.read_text() == digest:
        say(f"{part.name}: fine, and unchanged since")
        return True
    environment = npm_environment() | {"PYTHONPATH": str(ROOT / "src")}
    done = subprocess.run(part.command, cwd=part.folder, env=environment, capture_output=True, text=True, check=False)
    say(f"{part.name}: {'failed' if done.returncode else 'fine'}")
    if done.returncode:
        part.stamp.unlink(missing_ok=True)
        print((done.stdout + done.stderr)[-SHOWN:], flush=True)
        return False
    part.stamp.write_text(digest)
    return True


def _files(globs: Iterable[str]) -> list[Path]:
    found = {path for glob in globs for path in ROOT.glob(glob) if path.is_file() and "__pycache__" not in path.parts}
    return sorted(found)
