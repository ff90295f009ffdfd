"""What every test process needs and one of them makes: kept beside the set-up, until what it is made of changes."""

from __future__ import annotations

import fcntl
import hashlib
import shutil
import subprocess
from collections.abc import Callable, Iterable
from pathlib import Path

from claykettle.launch import mariadb
from claykettle.launch.mariadb import PrivateServer
from claykettle.launch.paths import SETUP
from claykettle.store import tables
from claykettle.store.database import MIGRATIONS, Database

KEPT = SETUP / "tests"


def migrated_folder() -> Path:
    """A stopped server's folder whose database has every table and no row."""
    version = subprocess.run(["mariadbd", "--no-defaults", "--version"], capture_output=True, check=True).stdout
    sources = [*sorted(MIGRATIONS.rglob("*.py")), Path(str(tables.__file__)), Path(str(mariadb.__file__))]
    return made_once("migrated", _mark(version, sources), _make)


def records_in(folder: Path, durable: bool = True) -> PrivateServer:
    """A server, not started, on a folder whose database has every table and no row: what a first start would make."""
    shutil.copytree(migrated_folder(), folder)
    return PrivateServer(folder, fast=not durable)


def made_once(name: str, mark: str, make: Callable[[Path], None]) -> Path:
    """A folder under this name that was made from what the mark stands for; two processes wait for each other."""
    folder = KEPT / f"{name}-{mark}"
    KEPT.mkdir(parents=True, exist_ok=True)
    with (KEPT / f"{name}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not folder.exists():
            for old in KEPT.glob(f"{name}-*"):
                shutil.rmtree(old)
            unfinished = KEPT / f"{name}.unfinished"
            shutil.rmtree(unfinished, ignore_errors=True)
            unfinished.mkdir()
            make(unfinished)
            unfinished.rename(folder)
    return folder


def _mark(version: bytes, sources: Iterable[Path]) -> str:
    mark = hashlib.sha256(version)
    for path in sources:
        mark.update(path.read_bytes())
    return mark.hexdigest()[:16]


def _make(folder: Path) -> None:
    server = PrivateServer(folder, fast=True)
    try:
        server.start()
        database = Database(server.url)
        database.migrate()
        database.close()
    finally:
        server.stop()
    for left in ("tmp", "error.log", "mysqld.pid"):
        path = folder / left
        shutil.rmtree(path) if path.is_dir() else path.unlink(missing_ok=True)
