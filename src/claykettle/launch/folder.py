"""Where the records lie, and how a command gets at them: beside a running server, or by itself."""

from __future__ import annotations

import fcntl
import json
import os
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import asdict, dataclass
from pathlib import Path

from claykettle.launch.mariadb import PrivateServer
from claykettle.launch.paths import ROOT, SetupError, say
from claykettle.store.database import Database, NewerData

NEVER_SEEN = "there are no records in {}: start with ./kettle serve, or name another folder with --data."


def usual_data() -> Path:
    """The user's own data folder, where the system keeps such things; never in the checkout."""
    home = os.environ.get("XDG_DATA_HOME") or str(Path.home() / ".local/share")
    return Path(home) / "claykettle"


def checked_data(folder: Path) -> Path:
    """A data folder as it may be used. Raises SetupError for one inside the checkout, where a clean-up takes it."""
    path = folder.expanduser().resolve()
    if path == ROOT or ROOT in path.parents:
        raise SetupError(
            f"{path} lies inside the program's own folder, where a clean-up takes it along: "
            f"name another with --data, or leave it out for {usual_data()}."
        )
    return path


@dataclass(frozen=True)
class Running:
    """What a running server says of itself: where it is reached, and how its database is."""

    address: str
    pid: int
    url: str
    socket: str
    port: int


@contextmanager
def held(data: Path) -> Iterator[None]:
    """The data folder held for this process alone. Raises SetupError where another one has it."""
    data.mkdir(parents=True, exist_ok=True, mode=0o700)
    with (data / "lock").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            found = running(data)
            raise SetupError(f"running already: {found.address if found else 'it is just starting'}") from None
        yield


def is_held(data: Path) -> bool:
    """Whether another process has the data folder."""
    try:
        with (data / "lock").open("r+") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except FileNotFoundError:
        return False
    except OSError:
        return True
    return False


def tell(data: Path, told: Running) -> None:
    """Leave word for other commands; it holds a password, so that only this user may read it."""
    path = data / "running.json"
    path.touch(mode=0o600)
    path.write_text(json.dumps(asdict(told)))


def untell(data: Path) -> None:
    """The server has ended."""
    with suppress(OSError):
        (data / "running.json").unlink()


def running(data: Path) -> Running | None:
    """The server that runs on this folder, None where none does."""
    if not is_held(data):
        return None
    try:
        return Running(**json.loads((data / "running.json").read_text()))
    except (OSError, ValueError, TypeError):
        return None


@dataclass(frozen=True)
class Records:
    """The records while a command works on them. `server` is None where the database is somebody else's."""

    database: Database
    server: PrivateServer | None


@contextmanager
def opened(data: Path, url: str = "", make: bool = False) -> Iterator[Records]:
    """The records of a data folder, or of an outside database; `make` begins new ones where there are none.

    Raises SetupError.
    """
    if url:
        database = Database(url)
        try:
            yield Records(database, None)
        finally:
            database.close()
        return
    beside = running(data)
    if beside is not None:
        server = PrivateServer(data / "mariadb") if beside.socket else None
        if server is not None:
            server.join(Path(beside.socket), beside.port)
        database = Database(server.keeper_url if server is not None else beside.url)
        try:
            yield Records(database, server)
        finally:
            database.close()
        return
    if not (data / "mariadb/data").exists() and not make:
        raise SetupError(NEVER_SEEN.format(data))
    with held(data):
        server = PrivateServer(data / "mariadb")
        say("starting the database server")
        try:
            server.start()
            database = Database(server.keeper_url)
            try:
                yield Records(database, server)
            finally:
                database.close()
        finally:
            server.stop()


def migrated(records: Records) -> None:
    """Bring the records up to this program's form. Raises SetupError for those of a newer one."""
    try:
        records.database.migrate()
    except NewerData as error:
        raise SetupError(str(error)) from None
