"""The house as a teacher starts it: an empty folder, the first account, tablets, a backup that comes back elsewhere.

One machine, its other address standing in for the tablets' network.
"""

from __future__ import annotations

import http.cookiejar
import json
import os
import re
import signal
import ssl
import subprocess
import sys
import time
import unittest
import urllib.request
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import date, datetime, timedelta
from pathlib import Path
from typing import Any
from unittest import mock
from urllib.error import HTTPError, URLError
from uuid import uuid4

from sqlalchemy import Connection, select, text
from sqlalchemy.exc import DatabaseError

from claykettle.launch import backup
from claykettle.launch.backup import make_backup, sweep
from claykettle.launch.folder import Records
from claykettle.launch.house import House as HouseAtWork
from claykettle.launch.house import Nightly, nightly_backup
from claykettle.launch.mariadb import PrivateServer
from claykettle.launch.paths import ROOT, SetupError
from claykettle.launch.process import free_port
from claykettle.launch.reached import fingerprint, own_certificate
from claykettle.launch.sealer import Sealer, checked
from claykettle.launch.settings import Settings
from claykettle.service.desk.own_figures import HandIn, hand_in, own_figures
from claykettle.service.doors.accounts import account_named, set_password
from claykettle.service.laboratory import Laboratory
from claykettle.service.planning.laying_out import ChangePlace, change_place, laid_out_class
from claykettle.service.planning.sessions import AddSession, add_session, drop_session
from claykettle.service.runs.record import RecordReading, record_reading
from claykettle.service.shelf.shelf import first_start
from claykettle.store.database import Database
from claykettle.store.tables import Day
from tests.launch.test_server import folder_for, is_running, wait_until
from tests.support.commands import Done, kettle, told
from tests.support.demo import demo_rows
from tests.support.kept import records_in

PASSWORD = "slip and glaze"


class Browser:
    """Somebody's browser: it keeps its cookie, and trusts the certificate that it is shown."""

    def __init__(self, address: str):
        self.address = address
        context = ssl.create_default_context()
        context.check_hostname, context.verify_mode = False, ssl.CERT_NONE
        self.cookies = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(
            urllib.request.HTTPCookieProcessor(self.cookies),
            urllib.request.HTTPSHandler(context=context),
        )

    def ask(self, path: str, body: Any = None, method: str | None = None) -> Any:
        """What the address answers; the status alone where it refuses."""
        data = None if body is None else json.dumps(body).encode()
        asked = urllib.request.Request(self.address + path, data, {"Content-Type": "application/json"}, method=method)
        try:
            with self.opener.open(asked, timeout=20) as answer:
                text = answer.read()
                return json.loads(text) if text and text[:1] in b"[{" else text.decode()
        except HTTPError as refused:
            return refused.code


class House(unittest.TestCase):
    """Commands run as people run them, with the Python that the tests run on."""

    def command(self, *arguments: str) -> list[str]:
        return [sys.executable, "-m", "claykettle.cli", *arguments]

    def environment(self) -> dict[str, str]:
        return dict(os.environ, PYTHONPATH=str(ROOT / "src"))

    def run_command(self, *arguments: str, typed: str = "") -> Done[str]:
        return told(kettle(*arguments, given=typed.encode()))

    def serve(self, data: Path, *arguments: str) -> tuple[subprocess.Popen[str], Path]:
        """A served house, and the file that holds what it says."""
        said = folder_for(self) / "said"
        with said.open("w") as output:
            process = subprocess.Popen(
                self.command("serve", "--data", str(data), *arguments),
                env=self.environment(), stdin=subprocess.DEVNULL, stdout=output, stderr=output, text=True,
            )  # fmt: skip

        def end() -> None:
            process.send_signal(signal.SIGTERM)
            try:
                process.wait(60)
            except subprocess.TimeoutExpired:
                process.kill()
                process.wait()

        self.addCleanup(end)
        ready = wait_until(lambda: "is ready" in said.read_text() or process.poll() is not None)
        self.assertTrue(ready and process.poll() is None, said.read_text())
        return process, said

    def first(self, browser: Browser, said: Path) -> None:
        wait_until(lambda: "with the code" in said.read_text(), 10)
        code = re.search(r"with the code (\S+)", said.read_text())
        assert code is not None, said.read_text()
        body = {"code": code[1], "login": "kaolin", "name": "K. Aolin", "password": PASSWORD, "section": "Glaze"}
        self.assertEqual(browser.ask("/door/first", body), "")


class FromNothing(House):
    def test_a_house_a_class_a_backup_and_the_same_run_elsewhere(self) -> None:
        folder, port = folder_for(self), free_port()
        data, copy = folder / "house", folder / "copy"
        _, said = self.serve(data, "--listen", f"0.0.0.0:{port}", "--self-signed", "--name", "127.0.0.2")
        here = f"https://127.0.0.1:{port}"
        teacher = Browser(here)
        self.assertEqual(teacher.ask("/healthz"), {"status": "ok"})
        self.assertEqual(teacher.ask("/api/runs"), 401)
        self.assertEqual(teacher.ask("/door"), {"is_new": True, "is_demo": False})
        self.first(teacher, said)

        # nothing is invented: benches and a balance are named first
        shelf = teacher.ask("/api/shelf")
        self.assertEqual((shelf["section"], shelf["benches"], shelf["instruments"]), ("Glaze", [], []))
        for name in ("Flint", "Marl"):
            teacher.ask("/api/class/benches", {"name": name})
        teacher.ask("/api/today/instruments", {"kind": "balance", "name": "A", "half_width": "0.001 g"})
        code = teacher.ask("/api/class/code", {})["code"]

        # two tablets, on other addresses of the machine
        tablets = {name: Browser(f"https://127.0.0.2:{port}") for name in ("Flint", "Marl")}
        for name, tablet in tablets.items():
            self.assertEqual(tablet.ask("/api/session"), 401)
            self.assertEqual(tablet.ask("/api/join", {"code": code, "bench": name}), "")
        flint, marl = tablets["Flint"], tablets["Marl"]
        shelf = flint.ask("/api/shelf")
        uuid = str(uuid4())
        form = {"uuid": uuid, "title": "Zinc", "method": "hydrate", "options": {"salt": "ZnSO4"}}
        form |= {"bench_id": shelf["benches"][0]["id"], "balance_id": shelf["balances"][0]["id"]}
        flint.ask("/api/runs", form)
        for slot, position, figure in (("vessel", 1, "31.204"), ("vessel_sample", 1, "32.861"),
                                     ("vessel_residue", 1, "32.134"), ("vessel_residue", 2, "32.134")):  # fmt: skip
            body = {"uuid": str(uuid4()), "slot": slot, "position": position, "text": figure, "confirmed": True}
            self.assertIsInstance(flint.ask(f"/api/runs/{uuid}/readings", body), dict)
        flint.ask(f"/api/runs/{uuid}/signatures", {"uuid": str(uuid4()), "name": "Ann"})
        self.assertEqual(marl.ask(f"/api/runs/{uuid}"), 403)
        before = teacher.ask(f"/api/runs/{uuid}")
        self.assertEqual([row["name"] for row in before["signatures"]], ["Ann, Flint"])

        # beside the running server: another account, a backup, everything in open formats
        made = self.run_command("admin", "create", "terra", "--password-stdin", "--data", str(data), typed=PASSWORD)
        self.assertEqual(made.returncode, 0, made.stderr)
        self.assertEqual(Browser(here).ask("/api/session", {"login": "terra", "password": PASSWORD}), "")
        listed = self.run_command("admin", "list", "--data", str(data))
        self.assertEqual([line.split("\t")[0] for line in listed.stdout.splitlines()], ["kaolin", "terra"])
        kept = self.run_command("backup", str(folder / "night.kettle"), "--data", str(data))
        self.assertEqual(kept.returncode, 0, kept.stderr)
        self.assertIn("restored once to prove it", kept.stderr)
        self.assertEqual((folder / "night.kettle").stat().st_mode & 0o077, 0)
        out = self.run_command("export", str(folder / "all.zip"), "--data", str(data))
        self.assertEqual(out.returncode, 0, out.stderr)
        with zipfile.ZipFile(folder / "all.zip") as archive:
            names = archive.namelist()
        self.assertTrue(any(name.startswith("csv/") for name in names) and "record.jsonl" in names, names)
        again = self.run_command("backup", str(folder / "night.kettle"), "--data", str(data))
        self.assertEqual(again.returncode, 1)
        self.assertIn("never written over", again.stderr)

        # elsewhere: the same run with its signature, and nobody signed in by a cookie of the house before
        back = self.run_command("restore", str(folder / "night.kettle"), "--data", str(copy))
        self.assertEqual(back.returncode, 0, back.stderr)
        over = self.run_command("restore", str(folder / "night.kettle"), "--data", str(copy))
        self.assertEqual((over.returncode, "never overwrites" in over.stderr), (1, True))
        other = free_port()
        self.serve(copy, "--listen", f"127.0.0.1:{other}")
        there = Browser(f"http://127.0.0.1:{other}")
        self.assertEqual(there.ask("/door"), {"is_new": False, "is_demo": False})
        self.assertEqual(there.ask("/api/session", {"login": "kaolin", "password": PASSWORD}), "")
        after = there.ask(f"/api/runs/{uuid}")
        for key in ("readings", "signatures", "answer", "trial", "bench", "section", "date"):
            self.assertEqual(after[key], before[key], key)
        self.assertTrue(all(row["holds"] for row in after["signatures"]))
        verified = self.run_command("verify", "--data", str(copy))
        self.assertEqual(verified.returncode, 0, verified.stderr)

    def test_a_backup_that_is_cut_foreign_or_damaged_brings_nothing(self) -> None:
        folder = folder_for(self)
        data = folder / "house"
        records_in(data / "mariadb")
        self.run_command("admin", "create", "kaolin", "--password-stdin", "--data", str(data), typed=PASSWORD)
        whole = folder / "whole.kettle"
        kept = self.run_command("backup", str(whole), "--data", str(data))
        self.assertEqual(kept.returncode, 0, kept.stderr)
        held = whole.read_bytes()
        for name, content in (
            ("cut", held[: len(held) // 2]), ("short", held[:40]), ("empty", b""), ("words", b"not a backup\n" * 50),
        ):  # fmt: skip
            with self.subTest(name):
                file, there = folder / f"{name}.kettle", folder / f"house-{name}"
                file.write_bytes(content)
                done = self.run_command("restore", str(file), "--data", str(there))
                self.assertEqual(done.returncode, 1, done.stderr)
                self.assertNotIn("Traceback", done.stderr)
                self.assertIn("Nothing was changed", done.stderr)
                self.assertEqual(list(there.iterdir()) if there.exists() else [], [])
        missing = self.run_command("restore", str(folder / "none.kettle"), "--data", str(folder / "x"))
        self.assertIn("no such file", missing.stderr)

    def test_what_died_is_started_again_and_what_was_acknowledged_is_there(self) -> None:
        folder, port = folder_for(self), free_port()
        data = folder / "house"
        records_in(data / "mariadb")
        process, said = self.serve(data, "--listen", f"127.0.0.1:{port}")
        teacher = Browser(f"http://127.0.0.1:{port}")
        self.first(teacher, said)
        teacher.ask("/api/class/benches", {"name": "Flint"})
        told = json.loads((data / "running.json").read_text())
        self.assertEqual((data / "running.json").stat().st_mode & 0o077, 0)
        database = int((data / "mariadb/mysqld.pid").read_text())
        for victim, what in ((database, "the database server"), (0, "the application")):
            if not victim:
                children = Path(f"/proc/{process.pid}/task/{process.pid}/children").read_text().split()
                victim = next(int(pid) for pid in children if "gunicorn" in Path(f"/proc/{pid}/cmdline").read_text())
            os.kill(victim, signal.SIGKILL)
            start, words = time.monotonic(), f"{what} ended by itself; starting it again"
            self.assertTrue(wait_until(lambda: not is_running(victim), 10))  # noqa: B023
            self.assertTrue(wait_until(lambda: words in said.read_text(), 20))  # noqa: B023
            self.assertTrue(wait_until(lambda: self.is_well(teacher), 60))
            self.assertLess(time.monotonic() - start, 60)
        self.assertEqual(teacher.ask("/healthz")["restarted"], {"the database server": 1, "the application": 1})
        self.assertEqual([row["name"] for row in teacher.ask("/api/class")["benches"]], ["Flint"])
        self.assertTrue(told["address"].endswith(str(port)))

    def is_well(self, browser: Browser) -> bool:
        try:
            told = browser.ask("/healthz")
            return isinstance(told, dict) and told["status"] == "ok"
        except (URLError, OSError):
            return False


class OnOneDatabase(House):
    """Two houses, each on a data folder of its own, as on two hosts; the database is somebody else's."""

    def test_two_houses_are_one(self) -> None:
        folder = folder_for(self)
        server = empty_records(folder / "outside")
        self.addCleanup(server.stop)
        ports = free_port(), free_port()
        houses = [
            self.serve(folder / f"house{number}", "--listen", f"127.0.0.1:{port}", "--database", server.url)
            for number, port in enumerate(ports)
        ]
        here, there = (Browser(f"http://127.0.0.1:{port}") for port in ports)
        self.first(here, houses[0][1])
        # the first account was made at the one: the other knows it, and lets nobody make a first one any more
        self.assertEqual(there.ask("/door"), {"is_new": False, "is_demo": False})
        for cookie in here.cookies:
            there.cookies.set_cookie(cookie)
        here.ask("/api/class/benches", {"name": "Flint"})
        there.ask("/api/today/instruments", {"kind": "balance", "name": "A", "half_width": "0.001 g"})
        shelf = here.ask("/api/shelf")
        uuid, figures = (
            str(uuid4()),
            (("vessel", 1, "31.204"), ("vessel_sample", 1, "32.861"), ("vessel_residue", 1, "32.151")),
        )
        here.ask("/api/runs", {
            "uuid": uuid, "title": "By turns", "method": "hydrate", "options": {"salt": "ZnSO4"},
            "bench_id": shelf["benches"][0]["id"], "balance_id": shelf["balances"][0]["id"],
        })  # fmt: skip
        for turn, (slot, position, text_) in enumerate(figures):
            body = {"uuid": str(uuid4()), "slot": slot, "position": position, "text": text_}
            browser, other = (there, here) if turn % 2 else (here, there)
            recorded = browser.ask(f"/api/runs/{uuid}/readings", body)
            # the other shows it at once, and the same entry sent there once more is no second one
            self.assertEqual(other.ask(f"/api/runs/{uuid}")["version"], recorded["version"])
            self.assertEqual(other.ask(f"/api/runs/{uuid}/readings", body)["version"], recorded["version"])
            self.assertEqual(other.ask("/api/runs")["runs"][0]["version"], recorded["version"])
        self.assertEqual(
            [row["text"] for row in here.ask(f"/api/runs/{uuid}")["readings"]], [row[2] for row in figures]
        )
        # one of the two dies: the other goes on
        houses[0][0].kill()
        houses[0][0].wait()
        there.ask(f"/api/runs/{uuid}/observations", {"uuid": str(uuid4()), "tag": "popping"})
        self.assertEqual([row["tag"] for row in there.ask(f"/api/runs/{uuid}")["observations"]], ["popping"])
        # signed out at the one is signed out everywhere
        there.ask("/api/session", method="DELETE")
        self.assertEqual(there.ask("/api/runs"), 401)


class Rights(unittest.TestCase):
    def test_the_application_adds_to_records_and_neither_changes_nor_deletes_them(self) -> None:
        server = empty_records(folder_for(self) / "db")
        self.addCleanup(server.stop)
        keeper = Database(server.keeper_url)
        demo_rows().lay(keeper, None)
        server.limit()
        keeper.close()
        application = Database(server.url)
        self.addCleanup(application.close)
        # what the program does, it can
        laboratory = Laboratory(application)
        run = laboratory.ask(lambda visit: next(row for row in visit.runs() if "Borax" in row.title))
        typed = RecordReading(uuid=str(uuid4()), slot="vessel_residue", position=3, text="29.230", confirmed=True)
        laboratory.change(record_reading, run.uuid, typed)
        laboratory.ask(lambda visit: set_password(visit, account_named(visit, "demo"), PASSWORD))
        # a class: who sits where, when it goes on, what a bench hands in
        day = laboratory.ask(
            lambda visit: (
                visit.session.scalars(select(Day).where(Day.starts != "").order_by(Day.date.desc())).first().id
            )
        )
        place = laboratory.ask(laid_out_class, day).places[2]
        laboratory.ask(change_place, day, ChangePlace(place.bench_id, students=("Ada Quill",)))
        on = (date.today() + timedelta(days=7)).isoformat()
        laboratory.ask(add_session, day, AddSession(on, "18:30", "90 min"))
        laboratory.ask(drop_session, day, on)
        claims = laboratory.ask(own_figures, place.run).handed[0].claims
        laboratory.ask(hand_in, place.run, HandIn(str(uuid4()), "1", claims))
        # what nobody does, nobody can
        for statement in (
            "UPDATE reading SET text = '29.999' LIMIT 1",
            "DELETE FROM reading LIMIT 1",
            "DELETE FROM signature",
            "UPDATE signature SET name = 'somebody'",
            "DELETE FROM run LIMIT 1",
            "UPDATE run_change SET reason = ''",
            "DELETE FROM audit",
            "UPDATE audit SET who = 'nobody'",
            "UPDATE room_reading SET text = '1000'",
            "UPDATE sheet SET claims = '{}'",
            "UPDATE answer SET text = ''",
            "DELETE FROM mark",
            "UPDATE given_back SET `by` = ''",
            "DELETE FROM withheld",
            "DELETE FROM message",
            "UPDATE call_answer SET reason = ''",
            "UPDATE practical_version SET note = ''",
            "DROP TABLE reading",
            "ALTER TABLE reading ADD COLUMN x INT",
        ):
            with (
                self.subTest(statement),
                self.assertRaisesRegex(DatabaseError, "denied"),
                application.engine.begin() as connection,
            ):
                connection.execute(text(statement))


class Kept(unittest.TestCase):
    """What the house does by itself: the night's backup, and an update that fails."""

    def setUp(self) -> None:
        self.data = folder_for(self) / "house"
        self.server = empty_records(self.data / "mariadb")
        self.addCleanup(self.server.stop)
        self.keeper = Database(self.server.keeper_url)
        self.addCleanup(self.keeper.close)
        Laboratory(self.keeper).ask(first_start)

    def last(self) -> dict[str, Any]:
        return dict(json.loads((self.data / "backups/last.json").read_text()))

    def test_the_night_s_backup_is_kept_told_and_the_oldest_goes(self) -> None:
        settings = Settings(data=self.data, backups_kept=2)
        for minute in (1, 2, 3):
            now = datetime(2026, 11, 28, 2, minute).astimezone()
            nightly_backup(settings, self.server, now)
        names = sorted(path.name for path in (self.data / "backups").glob("*.kettle"))
        self.assertEqual(names, ["night-20261128-020200.kettle", "night-20261128-020300.kettle"])
        self.assertEqual((self.last()["file"], self.last()["fault"]), (names[-1], ""))
        # one that fails is told, and the last good one beside it
        with mock.patch("claykettle.launch.house.make_backup", side_effect=SetupError("the disk is full")):
            nightly_backup(settings, self.server, datetime(2026, 11, 29, 2, 1).astimezone())
        self.assertEqual((self.last()["file"], self.last()["fault"]), (names[-1], "the disk is full"))

    def test_a_house_that_sleeps_at_night_makes_it_soon_after_its_start(self) -> None:
        settings, now = Settings(data=self.data), datetime.now().astimezone()
        self.assertLess(Nightly(settings).due - now, timedelta(minutes=5))
        nightly_backup(settings, self.server, now)
        self.assertEqual(f"{Nightly(settings).due:%H:%M}", settings.backup_at)
        nightly_backup(settings, self.server, now - timedelta(hours=25))
        self.assertLess(Nightly(settings).due - now, timedelta(minutes=5))

    def test_a_stick_that_knows_no_second_name_takes_one_too_and_never_over_another(self) -> None:
        target = self.data / "stick.kettle"
        with mock.patch("os.link", side_effect=PermissionError(1, "Operation not permitted")):
            make_backup(self.server, target)
            held = target.read_bytes()
            with self.assertRaisesRegex(SetupError, "never written over"):
                make_backup(self.server, target)
        self.assertEqual(target.read_bytes(), held)
        self.assertEqual(list(self.data.glob(".kettle-backup-*")), [])

    def test_a_full_disk_is_told_and_leaves_nothing_half_written(self) -> None:
        target = self.data / "full.kettle"
        with (
            mock.patch("claykettle.launch.backup._pack", side_effect=OSError(28, "No space left on device")),
            self.assertRaisesRegex(SetupError, "No space left"),
        ):
            make_backup(self.server, target)
        self.assertFalse(target.exists())
        self.assertEqual(list(self.data.glob(".kettle-backup-*")), [])
        with self.keeper.engine.connect() as connection:
            names = connection.execute(text("SHOW DATABASES")).scalars().all()
        self.assertEqual([name for name in names if "proof" in name], [])

    def test_a_database_that_dies_meanwhile_is_told_and_swept_when_it_is_back(self) -> None:
        """While the dump is read back, and while the copy is looked at."""
        for moment in ("_load", "_proved"):
            with self.subTest(moment):
                target = self.data / "cut.kettle"
                go_on = getattr(backup, moment)

                def killed(*told: Any) -> Any:
                    self.server.process.kill()  # type: ignore[union-attr]
                    self.server.process.wait()  # type: ignore[union-attr]
                    return go_on(*told)  # noqa: B023

                with mock.patch.object(backup, moment, killed), self.assertRaises(SetupError) as told:
                    make_backup(self.server, target)
                self.assertRegex(str(told.exception), "could not be read back|went away")
                self.assertFalse(target.exists())
                self.assertEqual(list(self.data.glob(".kettle-backup-*")), [])
                self.server.start()
                self.assertEqual(sweep(self.server), 1)
                self.assertEqual(sweep(self.server), 0)
        self.assertGreater(sum(make_backup(self.server, self.data / "whole.kettle").rows.values()), 0)

    def test_a_newer_house_s_backup_is_refused_in_a_sentence(self) -> None:
        with self.keeper.engine.begin() as connection:
            connection.execute(text("UPDATE alembic_version SET version_num = '9999'"))
        file, there = self.data / "newer.kettle", self.data.parent / "there"
        make_backup(self.server, file)
        done = told(kettle("restore", str(file), "--data", str(there)))
        self.assertEqual(done.returncode, 1)
        self.assertIn("newer Clay Kettle", done.stderr)
        self.assertNotIn("Traceback", done.stderr)

    def test_an_update_that_fails_leaves_the_records_as_they_were(self) -> None:
        self.keeper.migrate("head")
        house = HouseAtWork(Settings(data=self.data), lambda _: "", {}, [])
        with (
            mock.patch.object(Database, "newest", return_value="9999"),
            mock.patch.object(Database, "migrate", self.breaking),
            self.assertRaisesRegex(SetupError, "as they were"),
        ):
            house._update(Records(self.keeper, self.server))
        with self.keeper.engine.connect() as connection:
            self.assertEqual(connection.execute(text("SELECT COUNT(*) FROM section")).scalar_one(), 1)
        self.assertEqual(len(list((self.data / "backups").glob("before-update-*.kettle"))), 1)

    @staticmethod
    def breaking(database: Database) -> None:
        """A migration that dies half-way, with the records in pieces."""
        with database.engine.begin() as connection:
            connection.execute(text("SET FOREIGN_KEY_CHECKS=0"))
            connection.execute(text("DROP TABLE section"))
        raise RuntimeError("died half-way")


class Sealed(House):
    def test_records_changed_past_the_program_are_told_in_one_go_and_not_sealed_over(self) -> None:
        data = folder_for(self) / "house"
        server = empty_records(data / "mariadb")
        keeper = Database(server.keeper_url)
        self.addCleanup(server.stop)
        demo_rows().lay(keeper, None)
        sealer = Sealer(data, keeper)
        sealer.seal_all()
        self.assertEqual((data / "seal.key").stat().st_mode & 0o077, 0)
        self.assertEqual((checked(data, keeper).faults, checked(data, keeper).unsealed), ((), 0))
        # what has just come is not sealed yet: a transaction below it may still be on its way
        sealer.look()
        sealer.look()
        self.assertEqual(checked(data, keeper).links, 1)
        keeper.close()
        server.stop()
        well = self.run_command("verify", "--data", str(data))
        self.assertEqual(well.returncode, 0, well.stderr)
        self.assertIn("0 rows not sealed yet", well.stderr)
        server.start()
        with keeper_of(server) as connection:
            connection.execute(text("UPDATE reading SET text = '29.999' ORDER BY id LIMIT 1"))
        server.stop()
        ill = self.run_command("verify", "--data", str(data))
        self.assertEqual(ill.returncode, 1, ill.stderr)
        self.assertRegex(ill.stderr, r"does not hold: reading \d+ to \d+, sealed .*: a row was changed")
        server.start()
        with keeper_of(server) as connection:
            connection.execute(text("DELETE FROM link"))
        with self.assertRaisesRegex(SetupError, "changed past the program"):
            Sealer(data, Database(server.keeper_url)).seal_all()
        server.stop()
        self.assertIn("the chain was cut", self.run_command("verify", "--data", str(data)).stderr)


def empty_records(folder: Path) -> PrivateServer:
    """A server that keeps what it acknowledged, its tables up to date and empty; started."""
    server = records_in(folder)
    server.start()
    return server


@contextmanager
def keeper_of(server: PrivateServer) -> Iterator[Connection]:
    """A connection past the program."""
    database = Database(server.keeper_url)
    with database.engine.begin() as connection:
        yield connection
    database.close()


class Refused(House):
    def refused(self, *arguments: str, typed: str = "") -> str:
        done = self.run_command(*arguments, typed=typed)
        self.assertIn(done.returncode, (1, 2), done.stdout + done.stderr)
        self.assertNotIn("Traceback", done.stderr)
        return done.stderr

    def test_settings_that_cannot_be(self) -> None:
        folder = folder_for(self)
        data = str(folder / "house")
        taken, config = free_port(), folder / "kettle.toml"
        server = subprocess.Popen([sys.executable, "-m", "http.server", str(taken), "--bind", "127.0.0.1"],
                                  stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)  # fmt: skip
        self.addCleanup(server.wait)
        self.addCleanup(server.kill)
        self.assertTrue(wait_until(lambda: self.answers(taken), 20))
        for said, arguments in (
            ("lies inside the program's own folder", ("--data", str(ROOT / "records"))),
            ("a port from 1 to 65535", ("--data", data, "--listen", "127.0.0.1:80000")),
            ("is in use by another program", ("--data", data, "--listen", f"127.0.0.1:{taken}")),
            ("has no such address", ("--data", data, "--listen", "203.0.113.9:8700")),
            ("go together", ("--data", data, "--certificate", str(ROOT / "README.md"))),
            ("there is no such file", ("--data", data, "--certificate", "none.pem", "--key", "none.pem")),
            ("a time of the day", ("--data", data, "--backup-at", "25:00")),
            ("an address such as mariadb", ("--data", data, "--database", "sqlite://")),
            (
                "the database cannot be used",
                (
                    "--data",
                    data,
                    "--listen",
                    "127.0.0.1:8699",
                    "--database",
                    "mariadb+pymysql://nobody@127.0.0.1:1/none",
                ),
            ),
            ("is not known here", ("--data", data, "--timezone", "Nowhere/Here")),
            ("a number from 1 to 1000", ("--data", data, "--backups-kept", "0")),
        ):
            with self.subTest(said):
                self.assertIn(said, self.refused("serve", *arguments))
        for line, said in (("colour = 1", "'colour' is not known"), ("listen = 5", "not of the right kind"),
                           ("listen = ", "Invalid value"), ('backup_at = "late"', "a time of the day")):  # fmt: skip
            config.write_text(line)
            with self.subTest(line):
                self.assertIn(said, self.refused("serve", "--data", data, "--config", str(config)))

    def answers(self, port: int) -> bool:
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{port}", timeout=2):
                return True
        except (URLError, OSError):
            return False

    def test_commands_on_a_folder_without_records(self) -> None:
        empty = str(folder_for(self) / "nothing")
        for arguments in (("backup", f"{empty}.kettle"), ("export", f"{empty}.zip"), ("admin", "list")):
            self.assertIn("there are no records", self.refused(*arguments, "--data", empty))

    def test_accounts_that_cannot_be(self) -> None:
        data = str(folder_for(self) / "house")
        records_in(Path(data) / "mariadb")
        create = ("admin", "create")
        self.assertIn("--password-stdin", self.refused(*create, "kaolin", "--data", data))
        self.assertIn("At least 8", self.refused(*create, "kaolin", "--password-stdin", "--data", data, typed="short"))
        odd = self.refused(*create, "K Aolin", "--password-stdin", "--data", data, typed=PASSWORD)
        self.assertIn("small letters", odd)
        unknown = self.refused("admin", "disable", "nobody", "--data", data)
        self.assertIn("no account 'nobody'", unknown)


class Certificates(unittest.TestCase):
    def test_one_is_kept_and_made_anew_for_another_address(self) -> None:
        folder = folder_for(self)
        first, key = own_certificate(folder, ["192.0.2.7", "kettle.local"])
        kept = fingerprint(first)
        self.assertEqual(key.stat().st_mode & 0o077, 0)
        self.assertEqual(fingerprint(own_certificate(folder, ["192.0.2.7"])[0]), kept)
        self.assertNotEqual(fingerprint(own_certificate(folder, ["192.0.2.8"])[0]), kept)
        context = ssl.create_default_context(cafile=str(first))
        self.assertEqual(len(context.get_ca_certs()), 1)

    def test_the_password_of_the_database_is_its_own_user_s(self) -> None:
        folder = folder_for(self)
        (folder / "db").mkdir()
        server = PrivateServer(folder / "db")
        server.tool("mariadb-dump")
        self.assertEqual((folder / "db/keeper.cnf").stat().st_mode & 0o077, 0)
