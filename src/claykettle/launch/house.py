"""The house while it runs: database and application started, watched, started again where one died, ended cleanly."""

from __future__ import annotations

import json
import os
import shutil
import signal
import ssl
import subprocess
import threading
import time
import urllib.request
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from pathlib import Path
from types import FrameType
from urllib.error import HTTPError, URLError

from sqlalchemy.exc import SQLAlchemyError

from claykettle.launch.backup import make_backup, put_back, sweep
from claykettle.launch.folder import Records, Running, tell, untell
from claykettle.launch.mariadb import PrivateServer
from claykettle.launch.part import Part, Patience
from claykettle.launch.paths import BUILT, SetupError, say
from claykettle.launch.process import end_rest, start, stop
from claykettle.launch.reached import fingerprint
from claykettle.launch.sealer import KEY, Sealer
from claykettle.launch.serving import serve_command
from claykettle.launch.settings import Settings
from claykettle.service.laboratory import Laboratory
from claykettle.service.summaries import AT_ONCE, UNREADABLE, sum_up_numbers, to_sum_up
from claykettle.store.database import Database, NewerData


def sum_up_anew(laboratory: Laboratory) -> None:
    """After an update: what lists say of the runs, as this program says it.

    A run that this program cannot evaluate is told, and keeps what was said of it before: it keeps no house shut.
    """
    numbers = laboratory.ask(to_sum_up)
    if numbers:
        say(f"summing up {len(numbers)} runs for the lists, as this program does it")
    for at in range(0, len(numbers), AT_ONCE):
        some = numbers[at : at + AT_ONCE]
        try:
            laboratory.ask(sum_up_numbers, some)
        except UNREADABLE:
            for number in some:
                _sum_up_one(laboratory, number)


def _sum_up_one(laboratory: Laboratory, number: int) -> None:
    try:
        laboratory.ask(sum_up_numbers, [number])
    except UNREADABLE as error:
        say(f"run {number} cannot be summed up by this program ({error.__class__.__name__}); lists leave it as it was")


ASK_S = 10.0
"""So often the launcher asks whether the application answers."""
HEALTH = "parts.json"
"""In the data folder: how often each part was started again, for `/healthz`."""


@dataclass
class House:
    """One running house on one data folder. `prepare` fills new records, and says what is to be told once it is up."""

    settings: Settings
    prepare: Callable[[Database], str]
    environment: dict[str, str]
    addresses: list[str]
    certificate: tuple[Path, Path] | None = None
    ended: threading.Event = field(default_factory=threading.Event)
    told: str = ""
    web: subprocess.Popen[bytes] | None = None

    def run(self) -> int:
        """Serve until told to end; the exit status."""
        for sign in (signal.SIGTERM, signal.SIGINT):
            signal.signal(sign, self._end)
        data = self.settings.data
        server = None if self.settings.database else PrivateServer(data / "mariadb")
        (data / HEALTH).unlink(missing_ok=True)
        try:
            if server is not None:
                say("starting the database server")
                server.start()
                sweep(server)
            url = server.url if server is not None else self.settings.database
            told = self._prepared(url, server)
            self.web = self._start_web(url)
            self._wait_for(self.web)
            socket = str(server.socket) if server is not None else ""
            tell(data, Running(self.addresses[0], os.getpid(), url, socket, server.port if server else 0))
            if not self.ended.is_set():
                self._say_where(told)
            self._watch(server, url)
        except SetupError as error:
            say(str(error))
            return 1
        finally:
            say("ending")
            untell(data)
            if self.web is not None:
                stop(self.web)
            if server is not None:
                server.stop()
        say("ended")
        return 0

    def _end(self, signal_number: int, frame: FrameType | None) -> None:
        self.ended.set()

    def _prepared(self, url: str, server: PrivateServer | None) -> str:
        database = Database(server.keeper_url if server is not None else url)
        try:
            self._update(Records(database, server))
            told = self.prepare(database)
            sum_up_anew(Laboratory(database))
            if server is not None:
                server.limit()
            return told
        except NewerData as error:
            raise SetupError(str(error)) from None
        except SQLAlchemyError as error:
            raise SetupError(f"the database cannot be used: {str(error).splitlines()[0][:300]}") from None
        finally:
            database.close()

    def _update(self, records: Records) -> None:
        """Bring the records up to this program's form: backed up before, as they were after a failure."""
        before = records.database.revision()
        if before is None or records.server is None or before == records.database.newest():
            records.database.migrate()
            return
        kept = self.settings.data / "backups" / f"before-update-{datetime.now():%Y%m%d-%H%M%S}.kettle"
        kept.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        records.database.refuse_newer()
        say(f"this program is newer than the records: keeping them as they are in {kept.name} before they are updated")
        make_backup(records.server, kept)
        try:
            records.database.migrate()
        except Exception as error:
            records.database.close()
            put_back(records.server, kept)
            raise SetupError(
                f"the update failed ({error.__class__.__name__}: {str(error)[:200]}); the records are as they were. "
                "Start the program that you had before."
            ) from error

    def _start_web(self, url: str) -> subprocess.Popen[bytes]:
        say("starting the application")
        settings = self.settings
        more: list[str] = []
        if self.certificate is not None:
            more += ["--certfile", str(self.certificate[0]), "--keyfile", str(self.certificate[1])]
        if settings.behind_proxy:
            more += ["--forwarded-allow-ips", "127.0.0.1"]
        command = serve_command(settings.port, *more, host=settings.host)
        environment = os.environ | self.environment | {"CLAYKETTLE_DATABASE_URL": url, "CLAYKETTLE_BUILT": str(BUILT)}
        log = settings.data / "web.log"
        log.touch(mode=0o600)
        return start(command, log, environment)

    def _wait_for(self, web: subprocess.Popen[bytes]) -> None:
        """Until it answers for the first time, however slow the machine; ends only where it died. Raises SetupError."""
        patience = Patience(self._answers)
        while not self.ended.is_set():
            if web.poll() is not None:
                raise SetupError(f"the application did not start; see {self.settings.data / 'web.log'}")
            patience.look(())
            if patience.since is None:
                return
            self.ended.wait(0.1)

    def _answers(self) -> bool:
        host = "127.0.0.1" if self.settings.host in ("0.0.0.0", "::") else self.settings.host
        scheme = "https" if self.certificate is not None else "http"
        # its own certificate, asked by itself: who it is does not matter here
        trusting = ssl._create_unverified_context() if scheme == "https" else None
        address = f"{scheme}://[{host}]" if ":" in host else f"{scheme}://{host}"
        try:
            with urllib.request.urlopen(
                f"{address}:{self.settings.port}/healthz", timeout=3, context=trusting
            ) as answer:
                return bool(answer.status == 200)
        except HTTPError as unwell:
            # on a full disk it answers all the same, and says so
            return b'"full"' in unwell.read()
        except (URLError, OSError):
            return False

    def _say_where(self, told: str) -> None:
        say(f"Clay Kettle is ready: {self.addresses[0]}  (Ctrl-C ends it)")
        for other in self.addresses[1:]:
            say(f"  also reached at {other}")
        if self.certificate is not None:
            say(f"  its certificate's fingerprint (SHA-256): {fingerprint(self.certificate[0])}")
        if told:
            say(told)

    def _watch(self, server: PrivateServer | None, url: str) -> None:
        """Start again what died, make the nightly backup, keep the log short; until told to end."""
        nightly = Nightly(self.settings)
        keeper = Database(server.keeper_url if server is not None else url)
        # of several houses on one outside database that one seals to which its keeper gave the key
        seals = server is not None or (self.settings.data / KEY).exists()
        sealer = Sealer(self.settings.data, keeper) if seals else None
        parts, patience, asked = self._parts(server, url), Patience(self._answers), time.monotonic()
        while not self.ended.wait(0.5):
            started = [part.look() for part in parts]
            if any(started):
                self._tell_health(parts)
            if time.monotonic() - asked >= ASK_S:
                patience.look([part.name for part in parts if part.is_down])
                shorten(self.settings.data / "web.log")
                asked = time.monotonic()
            nightly.look(server)
            if sealer is not None:
                self._seal(sealer)
        keeper.close()

    def _parts(self, server: PrivateServer | None, url: str) -> list[Part]:
        """The database where it is the house's own, and the application, in the order in which they start."""

        def start_database() -> None:
            assert server is not None
            server.process = None
            server.start(server.port)
            server.limit()

        def start_application() -> None:
            if self.web is not None:
                end_rest(self.web)
            self.web = self._start_web(url)

        def is_ended() -> bool:
            return self.web is None or self.web.poll() is not None

        application = Part("the application", is_ended, start_application)
        if server is None:
            return [application]
        is_dead = lambda: server.process is None or server.process.poll() is not None  # noqa: E731
        return [Part("the database server", is_dead, start_database), application]

    def _tell_health(self, parts: Sequence[Part]) -> None:
        told = {part.name: part.deaths for part in parts if part.deaths}
        with suppress(OSError):
            (self.settings.data / HEALTH).write_text(json.dumps(told))

    def _seal(self, sealer: Sealer) -> None:
        """Seal what came; a database that is away just now is looked after elsewhere."""
        try:
            sealer.look()
        except SetupError as error:
            if str(error) != self.told:
                self.told = str(error)
                say(self.told)
            sealer.looked = time.monotonic()
        except SQLAlchemyError as error:
            say(f"the records could not be sealed just now ({error.__class__.__name__}); trying again")
            sealer.looked = time.monotonic()


LOG_BYTES = 20 * 1024 * 1024
"""So long the log of requests may become: an hour of a class."""


def shorten(log: Path) -> None:
    """Begin the log anew where it has become long, the last one kept beside it.

    Whoever writes appends, so that it is emptied in place. Where that fails, as on a full disk, it is tried again.
    """
    with suppress(OSError):
        if log.stat().st_size > LOG_BYTES:
            shutil.copyfile(log, log.with_suffix(".log.1"))
            os.truncate(log, 0)


SOON = timedelta(minutes=2)
"""So long after a start a backup is made that is due since more than a day."""


class Nightly:
    """The backup that the house makes by itself once a day, and so many of them kept."""

    def __init__(self, settings: Settings):
        self.settings = settings
        self.thread: threading.Thread | None = None
        now = datetime.now().astimezone()
        last = _made_at(settings.data)
        # a computer that sleeps at night makes it while it is awake
        is_late = last is None or now - last > timedelta(days=1)
        self.due = now + SOON if is_late else self._next(now)

    def _next(self, after: datetime) -> datetime:
        hour, minute = map(int, self.settings.backup_at.split(":"))
        due = after.replace(hour=hour, minute=minute, second=0, microsecond=0)
        return due if due > after else due + timedelta(days=1)

    def look(self, server: PrivateServer | None) -> None:
        """Begin the backup where it is due, beside everything else."""
        now = datetime.now().astimezone()
        if server is None or now < self.due or (self.thread is not None and self.thread.is_alive()):
            return
        self.due = self._next(now)
        self.thread = threading.Thread(target=nightly_backup, args=(self.settings, server, now), daemon=True)
        self.thread.start()


def nightly_backup(settings: Settings, server: PrivateServer, now: datetime) -> None:
    """Make the night's backup, leave word how it went, and take away the oldest beyond so many."""
    folder = settings.data / "backups"
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    target = folder / f"night-{now:%Y%m%d-%H%M%S}.kettle"
    try:
        manifest = make_backup(server, target)
    except SetupError as error:
        say(f"the night's backup failed: {error}")
        leave_word(settings.data, now, str(error))
        return
    leave_word(settings.data, now, "", target, sum(manifest.rows.values()))
    for old in sorted(folder.glob("night-*.kettle"))[: -settings.backups_kept]:
        old.unlink()


def _made_at(data: Path) -> datetime | None:
    """When the last good backup was made; None where none is known."""
    with suppress(OSError, ValueError, KeyError):
        return datetime.fromisoformat(json.loads((data / "backups/last.json").read_text())["made_at"])
    return None


def leave_word(data: Path, now: datetime, fault: str, file: Path | None = None, rows: int = 0) -> None:
    """How the last backup went, for the Shelf to tell; the last good one stays named beside a failure."""
    path = data / "backups" / "last.json"
    told: dict[str, object] = {}
    with suppress(OSError, ValueError):
        told = dict(json.loads(path.read_text()))
    told |= {"tried_at": now.isoformat(timespec="seconds"), "fault": fault}
    if file is not None:
        told |= {"made_at": told["tried_at"], "file": file.name, "rows": rows}
    path.write_text(json.dumps(told))
