"""Backups: one file that holds all records, by MariaDB's own tools; each is restored once on the spot to prove it.

The file is a gzipped tar of `manifest.json` (what it is, of which form, how many rows of each table, the dump's hash,
the chain's head) and `records.sql`.
"""

from __future__ import annotations

import hashlib
import io
import json
import os
import shutil
import subprocess
import tarfile
import tempfile
from collections.abc import Iterator, Mapping
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from uuid import uuid4

from sqlalchemy import text
from sqlalchemy.exc import SQLAlchemyError

from claykettle import __version__
from claykettle.launch.mariadb import DATABASE, PrivateServer
from claykettle.launch.paths import SetupError
from claykettle.launch.sealer import keep_head
from claykettle.service.laboratory import Laboratory
from claykettle.service.runs.verifying import faults_in_signatures
from claykettle.store.database import Database
from claykettle.store.ledger import last_seal

FORMAT = "clay-kettle/backup"
MANIFEST, DUMP, SEAL = "manifest.json", "records.sql", "seal.key"


@dataclass(frozen=True)
class Manifest:
    """What a backup says of itself."""

    version: int
    program: str
    revision: str
    made_at: str
    rows: Mapping[str, int]
    sha256: str
    head: str = ""


def make_backup(server: PrivateServer, target: Path) -> Manifest:
    """Write a backup and prove it; the file is there whole or not at all.

    Raises SetupError: where the place cannot be written to, is full, or the copy does not hold what was to be copied.
    """
    target = target.expanduser()
    if target.exists():
        raise SetupError(f"{target} is there already; a backup is never written over another one.")
    try:
        with tempfile.TemporaryDirectory(prefix=".kettle-backup-", dir=target.parent) as folder:
            dump = Path(folder) / DUMP
            _dump(server, dump)
            with _scratch(server) as copy:
                _load(server, copy, dump)
                manifest = _proved(server, copy, _hash(dump))
            whole = Path(folder) / "whole"
            _pack(whole, manifest, dump, server.folder.parent / SEAL)
            _give_name(whole, target)
    except FileNotFoundError:
        raise SetupError(f"{target.parent} is no folder that is there: name one for the backup.") from None
    except FileExistsError:
        raise SetupError(f"{target} is there already; a backup is never written over another one.") from None
    except OSError as error:
        raise SetupError(f"{target} cannot be written: {error.strerror}. Nothing was changed.") from None
    except SQLAlchemyError as error:
        raise SetupError(
            f"the database went away while the backup was made ({error.__class__.__name__}); there is none. Try again."
        ) from None
    return manifest


def sweep(server: PrivateServer) -> int:
    """Take away the scratch databases of backups that were cut short; how many. Only while no backup is made."""
    keeper = Database(server.address_of("mysql"))
    try:
        with keeper.engine.begin() as connection:
            left = connection.execute(text("SHOW DATABASES LIKE 'kettle\\_proof\\_%'")).scalars().all()
            for name in left:
                connection.execute(text(f"DROP DATABASE `{name}`"))
        return len(left)
    finally:
        keeper.close()


def read_manifest(file: Path) -> Manifest:
    """What a backup says of itself. Raises SetupError for what is none, or is cut off."""
    try:
        with tarfile.open(file, "r:gz") as archive:
            member = archive.extractfile(MANIFEST)
            told = json.loads(member.read(1_000_000)) if member is not None else {}
        if told.pop("format", None) != FORMAT or told.get("version") != 1:
            raise SetupError(f"{file} is no backup of Clay Kettle that this program can read. Nothing was changed.")
        return Manifest(**told)
    except FileNotFoundError:
        raise SetupError(f"{file}: there is no such file.") from None
    except (tarfile.TarError, OSError, EOFError, KeyError, TypeError, ValueError):
        raise SetupError(f"{file} is no backup of Clay Kettle, or it is cut off. Nothing was changed.") from None


def restore_backup(file: Path, data: Path) -> Manifest:
    """Bring a backup back into a new data folder, and count what came.

    Raises SetupError; the folder is then empty again. Whoever was signed in is not there: a cookie belongs to the house
    that gave it.
    """
    manifest = read_manifest(file)
    if data.exists() and any(data.iterdir()):
        raise SetupError(f"{data} is not empty: a restore never overwrites. Name a new folder with --data.")
    data.mkdir(parents=True, exist_ok=True, mode=0o700)
    server = PrivateServer(data / "mariadb")
    try:
        with tempfile.TemporaryDirectory(prefix="restore-", dir=data) as folder:
            dump = Path(folder) / DUMP
            _unpack(file, dump, manifest)
            _unpack_key(file, data / SEAL)
            server.start()
            _load(server, DATABASE, dump)
            _forget_tries(server)
        found = _counted(server, DATABASE)
        if found != dict(manifest.rows):
            raise SetupError("the backup came back with another number of rows than it was made with.")
        database = Database(server.url)
        try:
            database.migrate()
            with database.transaction() as session:
                session.execute(text("UPDATE sign_in SET ended = 1"))
                keep_head(data, last_seal(session))
        finally:
            database.close()
    except BaseException:
        server.stop()
        _clear(data)
        raise
    server.stop()
    return manifest


def _give_name(whole: Path, target: Path) -> None:
    """The finished file under its name, and never over another one. Raises FileExistsError."""
    try:
        os.link(whole, target)
    except FileExistsError:
        raise
    except OSError:
        # a stick knows no second name for a file; it was looked at a moment ago whether there is one
        if target.exists():
            raise FileExistsError from None
        whole.rename(target)


def put_back(server: PrivateServer, file: Path) -> None:
    """Put the records back as a backup holds them, into the database that it was made of. Raises SetupError."""
    manifest = read_manifest(file)
    with tempfile.TemporaryDirectory(prefix="restore-", dir=file.parent) as folder:
        dump = Path(folder) / DUMP
        _unpack(file, dump, manifest)
        keeper = Database(server.address_of("mysql"))
        try:
            with keeper.engine.begin() as connection:
                connection.execute(text(f"DROP DATABASE `{DATABASE}`"))
                connection.execute(text(f"CREATE DATABASE `{DATABASE}`"))
        finally:
            keeper.close()
        _load(server, DATABASE, dump)


def _forget_tries(server: PrivateServer) -> None:
    """Wrong passwords of before the backup shut nobody out of what was restored from it."""
    keeper = Database(server.address_of(DATABASE))
    try:
        with keeper.engine.begin() as connection:
            connection.execute(text("DELETE FROM `try`"))
    finally:
        keeper.close()


def _dump(server: PrivateServer, target: Path) -> None:
    command = server.tool("mariadb-dump", "--single-transaction", "--hex-blob", "--skip-dump-date", DATABASE)
    try:
        with target.open("wb") as output:
            done = subprocess.run(command, stdout=output, stderr=subprocess.PIPE, check=False)
    except FileNotFoundError:
        raise SetupError("mariadb-dump is missing; install Debian's package mariadb-client.") from None
    if done.returncode:
        raise SetupError(f"mariadb-dump failed: {_last_line(done.stderr)}")


def _last_line(said: bytes) -> str:
    """What a program said last: what stands before that may be the records themselves."""
    lines = said.decode(errors="replace").strip().splitlines()
    return lines[-1][-300:] if lines else "it said nothing"


def _load(server: PrivateServer, database: str, dump: Path) -> None:
    with dump.open("rb") as source:
        done = subprocess.run(
            server.tool("mariadb", "--default-character-set=utf8mb4", database), stdin=source, capture_output=True,
            check=False,
        )  # fmt: skip
    if done.returncode:
        raise SetupError(f"the records could not be read back: {_last_line(done.stderr)}")


@contextmanager
def _scratch(server: PrivateServer) -> Iterator[str]:
    """A database for the proof, taken away afterwards."""
    name = f"kettle_proof_{uuid4().hex[:12]}"
    keeper = Database(server.address_of("mysql"))
    try:
        with keeper.engine.begin() as connection:
            connection.execute(text(f"CREATE DATABASE `{name}`"))
        try:
            yield name
        finally:
            # a server that died meanwhile is swept when it starts again
            with suppress(SQLAlchemyError), keeper.engine.begin() as connection:
                connection.execute(text(f"DROP DATABASE IF EXISTS `{name}`"))
    finally:
        keeper.close()


def _proved(server: PrivateServer, copy: str, sha256: str) -> Manifest:
    """What the copy holds, once its signatures are found to hold. Raises SetupError."""
    rows = _counted(server, copy)
    database = Database(server.address_of(copy))
    try:
        with database.engine.connect() as connection:
            revision = connection.execute(text("SELECT version_num FROM alembic_version")).scalar_one()
        faults = Laboratory(database).ask(faults_in_signatures)
        with database.transaction() as session:
            head = last_seal(session)
    finally:
        database.close()
    if faults:
        raise SetupError(f"a signature does not hold in the copy: {faults[0]}")
    return Manifest(1, __version__, str(revision), datetime.now(UTC).isoformat(timespec="seconds"), rows, sha256, head)


def _counted(server: PrivateServer, database: str) -> dict[str, int]:
    keeper = Database(server.address_of(database))
    try:
        with keeper.engine.connect() as connection:
            names = connection.execute(text("SHOW TABLES")).scalars().all()
            count = {name: connection.execute(text(f"SELECT COUNT(*) FROM `{name}`")).scalar_one() for name in names}
        return {str(name): int(number) for name, number in sorted(count.items())}
    finally:
        keeper.close()


def _pack(target: Path, manifest: Manifest, dump: Path, key: Path) -> None:
    told: dict[str, Any] = {"format": FORMAT, **vars(manifest), "rows": dict(manifest.rows)}
    data = (json.dumps(told, indent=2) + "\n").encode()
    target.touch(mode=0o600)
    with target.open("wb") as output, tarfile.open(fileobj=output, mode="w:gz") as archive:
        entry = tarfile.TarInfo(MANIFEST)
        entry.size, entry.mtime = len(data), int(datetime.now(UTC).timestamp())
        archive.addfile(entry, io.BytesIO(data))
        if key.exists():
            archive.add(key, SEAL)
        archive.add(dump, DUMP)
        archive.close()
        output.flush()
        os.fsync(output.fileno())


def _unpack(file: Path, target: Path, manifest: Manifest) -> None:
    try:
        with tarfile.open(file, "r:gz") as archive:
            member = archive.extractfile(DUMP)
            if member is None:
                raise KeyError(DUMP)
            with target.open("wb") as output:
                while block := member.read(1 << 20):
                    output.write(block)
    except (tarfile.TarError, OSError, EOFError, KeyError):
        raise SetupError(f"{file} is cut off or damaged. Nothing was changed.") from None
    if _hash(target) != manifest.sha256:
        raise SetupError(f"{file} is damaged: its records are not those that it was made with. Nothing was changed.")


def _unpack_key(file: Path, target: Path) -> None:
    """The house's key for its seals, where the backup has one."""
    with tarfile.open(file, "r:gz") as archive:
        try:
            member = archive.extractfile(SEAL)
        except KeyError:
            return
        if member is not None:
            target.touch(mode=0o600)
            target.write_bytes(member.read(1000))


def _hash(file: Path) -> str:
    with file.open("rb") as source:
        return hashlib.file_digest(source, "sha256").hexdigest()


def _clear(folder: Path) -> None:
    for entry in folder.iterdir():
        shutil.rmtree(entry, ignore_errors=True) if entry.is_dir() else entry.unlink()
