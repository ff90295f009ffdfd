"""`kettle serve`: the house on a data folder of its own, for years. `kettle admin`, `backup`, `restore`, `export`."""

from __future__ import annotations

import getpass
import io
import json
import sys
from argparse import Namespace
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

import segno
from sqlalchemy.exc import SQLAlchemyError

from claykettle.core.errors import KettleError, Refusal
from claykettle.launch.backup import make_backup, restore_backup
from claykettle.launch.exporting import export_to
from claykettle.launch.folder import Records, checked_data, held, migrated, opened, running, usual_data
from claykettle.launch.house import House, leave_word
from claykettle.launch.paths import SetupError, say
from claykettle.launch.process import need_port
from claykettle.launch.reached import addresses, names, own_certificate
from claykettle.launch.sealer import Sealer, checked, head_of, keep_head, seal_key
from claykettle.launch.settings import Settings, settings_of
from claykettle.launch.setup import set_up
from claykettle.service.doors.accounts import (
    NewAccount,
    account_named,
    accounts_view,
    create_account,
    has_accounts,
    set_disabled,
    set_password,
)
from claykettle.service.doors.knocking import new_code
from claykettle.service.laboratory import Laboratory
from claykettle.service.runs.verifying import faults_in_signatures
from claykettle.service.shelf.shelf import open_house
from claykettle.store.database import Database, NewerData
from claykettle.store.withholding import withhold


def run_serve(options: Namespace) -> int:
    """Serve a house until told to end; the exit status."""
    return _told(lambda: _serve(settings_of(options)))


def _serve(settings: Settings) -> int:
    with held(settings.data):
        need_port(settings.port, settings.host)
        if set_up(tests=False):
            return 1
        hosts = [*addresses(settings.host), *settings.names]
        certificate = None
        if settings.self_signed:
            certificate = own_certificate(settings.data / "tls", [*hosts, *names(), "localhost"])
        elif settings.certificate is not None and settings.key is not None:
            certificate = settings.certificate, settings.key
        scheme = "https" if settings.has_tls or settings.behind_proxy else "http"
        reached = [f"{scheme}://{f'[{host}]' if ':' in host else host}:{settings.port}" for host in hosts]
        if settings.behind_proxy and settings.names:
            # the proxy is what people reach, by its own port
            reached = [f"https://{name}" for name in settings.names]
        code = "-".join(new_code(4) for _ in range(2))
        environment = {
            "CLAYKETTLE_HOSTS": ",".join([*hosts, *names()]),
            "CLAYKETTLE_FIRST_CODE": code,
            "CLAYKETTLE_ADDRESSES": ",".join(reached),
            "CLAYKETTLE_BACKUPS": "" if settings.database else str(settings.data / "backups"),
            "CLAYKETTLE_LOG": "1",
            "CLAYKETTLE_ZONE": settings.timezone,
            "CLAYKETTLE_PROXY": "1" if settings.behind_proxy else "",
            "CLAYKETTLE_DEVICES": json.dumps(dict(settings.devices)),
        }

        def prepare(database: Database) -> str:
            laboratory = Laboratory(database)
            laboratory.ask(open_house)
            if settings.host != "127.0.0.1":
                _say_open(settings, reached[0])
            if laboratory.ask(has_accounts):
                return ""
            return f"open that address and make the first account there with the code {code}"

        return House(settings, prepare, environment, reached, certificate).run()


def _say_open(settings: Settings, address: str) -> None:
    if not settings.has_tls and not settings.behind_proxy:
        say("whoever is in this network can read what is typed here, passwords too: take --self-signed in a network")
        say("that is not yours alone, or put the house behind a proxy (docs/operating.md)")
    print(_drawn(address), file=sys.stderr)


def _drawn(address: str) -> str:
    """An address as a code that a tablet's camera reads."""
    drawn = io.StringIO()
    segno.make(address, error="m").terminal(out=drawn, compact=True)
    return drawn.getvalue()


def run_admin(options: Namespace) -> int:
    """Make, list, reset and disable accounts, beside a running server too; the exit status."""
    return _told(lambda: _admin(options))


def _admin(options: Namespace) -> int:
    data = Path(options.data).expanduser().resolve() if options.data else usual_data()
    password = _password() if options.password_stdin else ""
    if options.action in ("create", "reset") and not password:
        raise SetupError(f"admin {options.action} reads the password from standard input: add --password-stdin.")
    with opened(data, options.database, make=options.action == "create") as records:
        migrated(records)
        laboratory = Laboratory(records.database)
        match options.action:
            case "create":
                laboratory.ask(open_house)
                laboratory.ask(create_account, NewAccount(options.login, options.name, password, options.admin))
                say(f"made the account '{options.login}'")
            case "reset":
                laboratory.ask(lambda visit: set_password(visit, account_named(visit, options.login), password))
                say(f"'{options.login}' has the new password; its browsers are signed out")
            case "disable" | "enable":
                disabled = options.action == "disable"
                laboratory.ask(lambda visit: set_disabled(visit, account_named(visit, options.login), disabled))
                say(f"'{options.login}' can {'not sign in any more' if disabled else 'sign in again'}")
            case _:
                for row in laboratory.ask(accounts_view).accounts:
                    about = ["administrator"] * row.is_admin + ["disabled"] * row.is_disabled
                    print(f"{row.login}\t{row.name}\t{', '.join(about)}")
    return 0


def run_backup(options: Namespace) -> int:
    """Write a backup of a running or standing house, and prove it; the exit status."""

    def made(records: Records) -> None:
        now = datetime.now().astimezone()
        if records.server is None:
            raise SetupError("an outside database is backed up by its own keeper's tools; see docs/operating.md.")
        manifest = make_backup(records.server, Path(options.file))
        rows = sum(manifest.rows.values())
        if (data / "backups").is_dir():
            leave_word(data, now, "", Path(options.file), rows)
        say(f"{options.file}: {rows} rows in {len(manifest.rows)} tables, restored once to prove it")

    data = Path(options.data).expanduser().resolve() if options.data else usual_data()
    return _told(lambda: _with_records(data, made))


def run_restore(options: Namespace) -> int:
    """Bring a backup back into a new data folder; the exit status."""

    def restored() -> int:
        manifest = restore_backup(Path(options.file), checked_data(Path(options.data)))
        say(f"{options.data}: {sum(manifest.rows.values())} rows, as on {manifest.made_at}; serve it with --data")
        return 0

    return _told(restored)


def run_verify(options: Namespace) -> int:
    """Hold every record against its seal, and every signature against what it signed; the exit status."""
    data = Path(options.data).expanduser().resolve() if options.data else usual_data()
    faults: list[str] = []

    def held_against(records: Records) -> None:
        found = checked(data, records.database)
        faults.extend(found.faults)
        faults.extend(f"the signature of {row}" for row in Laboratory(records.database).ask(faults_in_signatures))
        reach = f"head {found.head[:16]}" if found.head else "no head yet"
        say(f"{found.rows} rows sealed in {found.links} links, {reach}; {found.unsealed} rows not sealed yet")
        for fault in faults:
            say(f"does not hold: {fault}")

    status = _told(lambda: _with_records(data, held_against))
    return status or (1 if faults else 0)


def run_withhold(options: Namespace) -> int:
    """Withhold a student's name from all records of a house that stands still; the exit status."""
    data = Path(options.data).expanduser().resolve() if options.data else usual_data()

    def withheld() -> int:
        if running(data) is not None:
            raise SetupError("the house is being served: end it first, then nothing is written meanwhile.")
        with opened(data) as records:
            migrated(records)
            Sealer(data, records.database).seal_all()
            with records.database.transaction() as session:
                found = withhold(
                    session, options.name, seal_key(data), head_of(data), datetime.now(UTC), getpass.getuser()
                )
            keep_head(data, found.head)
            say(f"'{found.pseudonym}' stands now in {found.rows} rows in place of the name")
            say(f"{found.signatures} signatures that held were made anew; the hashes that they had stay on record")
            say("backups and packages made before still hold the name: they are yours to keep or delete")
        return 0

    return _told(withheld)


def run_export(options: Namespace) -> int:
    """Write everything in open formats; the exit status."""

    def written(records: Records) -> None:
        count = export_to(Laboratory(records.database), Path(options.target))
        say(f"{options.target}: {count} runs as run files and CSV, and the whole record beside them")

    data = Path(options.data).expanduser().resolve() if options.data else usual_data()
    return _told(lambda: _with_records(data, written))


def _with_records(data: Path, work: Callable[[Records], None]) -> int:
    with opened(data) as records:
        migrated(records)
        work(records)
    return 0


def _password() -> str:
    """A password from standard input, without the line's end."""
    return sys.stdin.readline().rstrip("\r\n")


def _told(work: Callable[[], int]) -> int:
    """Do it; what cannot be done is told in sentences, with status 1, or 2 for what was refused."""
    try:
        return work()
    except (SetupError, NewerData) as error:
        say(str(error))
        return 1
    except SQLAlchemyError as error:
        say(f"the database cannot be used: {str(error).splitlines()[0][:300]}")
        return 1
    except Refusal as refusal:
        for fault in refusal.faults:
            say(fault.line())
        return 2
    except KettleError as error:
        say(str(error))
        return 2
