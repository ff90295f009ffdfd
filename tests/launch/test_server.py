"""The private server and the demo: clean ends, power cuts, orphans, taken ports, half-finished set-ups."""

from __future__ import annotations

import json
import os
import signal
import socket
import stat
import subprocess
import sys
import tempfile
import time
import unittest
import urllib.request
from pathlib import Path
from typing import Any
from unittest import mock

from sqlalchemy import text

from claykettle import __version__
from claykettle.launch.mariadb import PrivateServer
from claykettle.launch.paths import ROOT, SETUP, SetupError
from claykettle.launch.process import free_port, need_port
from claykettle.launch.progress import watched
from claykettle.store.database import Database, NewerData
from tests.support.demo import demo_rows
from tests.support.kept import records_in
from tests.support.server import AppCase


def folder_for(test: unittest.TestCase) -> Path:
    """A temporary folder that goes with the test."""
    folder = tempfile.TemporaryDirectory()
    test.addCleanup(folder.cleanup)
    return Path(folder.name)


def wait_until(what: Any, seconds: float = 120) -> bool:
    """Whether something came true in time."""
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        if what():
            return True
        time.sleep(0.1)
    return False


def command_of(pid: int) -> str:
    """The command line of a process, empty where it is gone."""
    try:
        return Path(f"/proc/{pid}/cmdline").read_text().replace("\0", " ").strip()
    except OSError:
        return ""


def is_running(pid: int) -> bool:
    """Whether a process is there and no zombie."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().split(")")[-1].split()[0] != "Z"
    except OSError:
        return False


class Server(unittest.TestCase):
    def test_committed_rows_survive_a_power_cut(self) -> None:
        server = records_in(folder_for(self) / "db")
        server.start()
        self.addCleanup(server.stop)
        database = Database(server.url)
        with database.engine.begin() as connection:
            connection.execute(text("CREATE TABLE kept (word VARCHAR(20))"))
            connection.execute(text("INSERT INTO kept VALUES ('31.204')"))
        database.close()
        server.kill()
        server.start()
        again = Database(server.url)
        with again.engine.connect() as connection:
            self.assertEqual(connection.scalar(text("SELECT word FROM kept")), "31.204")
        again.close()

    def test_a_second_server_leaves_the_temporary_tables_of_the_first_alone(self) -> None:
        """In a folder that they shared, one that started took them from under the other's queries."""
        first, second = (records_in(folder_for(self) / "db", durable=False) for _ in range(2))
        first.start()
        self.addCleanup(first.stop)
        table = first.scratch / "#sql-temptable-1-1-1.MAD"
        table.touch()
        second.start()
        self.addCleanup(second.stop)
        self.assertTrue(table.exists())
        database = Database(first.url)
        with database.engine.connect() as connection:
            self.assertEqual(connection.scalar(text("SELECT @@tmpdir")), str(first.scratch))
        database.close()

    def test_the_password_is_the_owners_alone(self) -> None:
        folder = folder_for(self)
        server = PrivateServer(folder, fast=True)
        server.start()
        server.stop()
        self.assertEqual(stat.S_IMODE((folder / "password").stat().st_mode), 0o600)
        self.assertEqual(stat.S_IMODE(folder.stat().st_mode), 0o700)

    def test_an_orphan_on_the_folder_is_ended_first(self) -> None:
        folder = folder_for(self) / "db"
        orphan = records_in(folder, durable=False)
        orphan.start()
        process = orphan.process
        assert process is not None
        server = PrivateServer(folder, fast=True)
        self.addCleanup(server.stop)
        with mock.patch("claykettle.launch.mariadb.Path", _Reaping(process)):
            server.start()
        self.assertIsNotNone(process.poll())

    def test_an_unfinished_data_folder_is_begun_anew(self) -> None:
        folder = folder_for(self)
        (folder / "data.unfinished").mkdir()
        (folder / "data.unfinished" / "half").write_text("x")
        server = PrivateServer(folder, fast=True)
        server.start()
        server.stop()
        self.assertTrue((folder / "data").is_dir())
        self.assertFalse((folder / "data.unfinished").exists())

    def test_it_comes_up_below_a_path_with_spaces_that_no_socket_could_bear(self) -> None:
        folder = folder_for(self) / "a folder of one's own" / ("long " * 30).strip() / "data"
        server = PrivateServer(folder, fast=True)
        self.addCleanup(server.stop)
        server.start()
        database = Database(server.url)
        database.ping()
        database.close()
        short = server.socket.parent
        server.stop()
        self.assertFalse(short.exists())

    def test_who_starts_it_later_is_let_in_by_the_stored_password(self) -> None:
        """The system's user who started it first is asked only of a data folder that is new."""
        folder = folder_for(self) / "db"
        server = records_in(folder, durable=False)
        self.addCleanup(server.stop)
        server.start()
        server.system_user = "somebody-else"
        server._connect().close()

    def test_a_wrong_password_and_another_user_is_a_sentence(self) -> None:
        folder = folder_for(self) / "db"
        server = records_in(folder, durable=False)
        self.addCleanup(server.stop)
        server.start()
        (folder / "password").write_text("another")
        server.system_user = "somebody-else"
        with self.assertRaisesRegex(SetupError, "belong to the system's user 'somebody-else'"):
            server._wait()


class _Reaping:
    """Path, but looking at /proc reaps the child first: in one process an ended orphan stays a zombie otherwise."""

    def __init__(self, process: subprocess.Popen[bytes]):
        self.process = process

    def __call__(self, *parts: Any) -> Path:
        self.process.poll()
        return Path(*parts)


class Ports(unittest.TestCase):
    def test_one_that_cannot_be_had_is_told_before_anything_is_started(self) -> None:
        with socket.socket() as taken:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            port = taken.getsockname()[1]
            for number, said in ((port, f"--port {port + 1}"), (80000, "from 1 to 65535"), (0, "from 1 to 65535")):
                with self.subTest(number), self.assertRaisesRegex(SetupError, said):
                    need_port(number)
        need_port(free_port())


class NewerRecords(AppCase):
    def test_an_older_program_says_so_and_changes_nothing(self) -> None:
        with self.database.engine.begin() as connection:
            own = connection.execute(text("SELECT version_num FROM alembic_version")).scalar_one()
            connection.execute(text("UPDATE alembic_version SET version_num = '9999'"))
        try:
            with self.assertRaisesRegex(NewerData, "newer Clay Kettle"):
                self.database.migrate()
        finally:
            with self.database.engine.begin() as connection:
                connection.execute(text("UPDATE alembic_version SET version_num = :own"), {"own": own})


class Watched(unittest.TestCase):
    """Long commands of the set-up: what they say, and that nothing is left of one that is stopped."""

    def setUp(self) -> None:
        SETUP.mkdir(exist_ok=True)
        self.said: list[str] = []
        patched = mock.patch("claykettle.launch.progress.say", self.said.append)
        patched.start()
        self.addCleanup(patched.stop)

    def run_shell(self, script: str) -> None:
        watched("fetching", ROOT / "docs", ["sh", "-c", script], os.environ, ROOT)

    def test_it_says_how_long_and_how_much_and_promises_nothing(self) -> None:
        with mock.patch("claykettle.launch.progress.EVERY_S", 0.2):
            self.run_shell("sleep 0.5")
        self.assertEqual(self.said[0], "fetching")
        self.assertRegex(self.said[1], r"^  \d+ s, \d+ MB so far$")

    def test_without_a_network_it_asks_for_one(self) -> None:
        with self.assertRaisesRegex(SetupError, "Is there a network"):
            self.run_shell("echo 'npm error code ENOTFOUND' && exit 1")
        with self.assertRaisesRegex(SetupError, "(?s)no space.*say why"):
            self.run_shell("echo 'no space left' && exit 1")

    def test_whatever_it_started_ends_when_it_is_stopped(self) -> None:
        mark = f"sleep 7{os.getpid()}"
        with (
            mock.patch("claykettle.launch.progress._wait", side_effect=KeyboardInterrupt),
            self.assertRaises(KeyboardInterrupt),
        ):
            self.run_shell(f"{mark} & {mark}")
        running = [
            path.read_bytes().replace(b"\0", b" ") for path in Path("/proc").glob("[0-9]*/cmdline") if path.exists()
        ]
        self.assertNotIn(f"{mark} ".encode(), running)


class Version(unittest.TestCase):
    def test_it_stands_in_one_place(self) -> None:
        self.assertNotIn("version", json.loads((ROOT / "frontend/package.json").read_text()))
        self.assertIn('dynamic = ["version"]', (ROOT / "pyproject.toml").read_text())
        document = json.loads((ROOT / "docs/openapi.json").read_text())
        self.assertEqual(document["info"]["version"], __version__)
        self.assertIn(f"## {__version__}", (ROOT / "CHANGELOG.md").read_text())


class Demo(unittest.TestCase):
    """The demo as a person starts it, with a state folder of its own beside one that may be running."""

    def start(self, state: Path, *arguments: str) -> subprocess.Popen[str]:
        environment = dict(os.environ, PYTHONPATH=str(ROOT / "src"), CLAYKETTLE_STATE=str(state))
        process = subprocess.Popen(
            [sys.executable, "-m", "claykettle.cli", "demo", *arguments],
            env=environment, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True,
        )  # fmt: skip

        def end() -> None:
            process.kill()
            process.communicate()

        self.addCleanup(end)
        return process

    def address(self, state: Path) -> str:
        self.assertTrue(wait_until((state / "running.json").is_file, 120), "the demo did not come up")
        return str(json.loads((state / "running.json").read_text())["address"])

    def runs(self, address: str) -> list[Any]:
        """The runs, as the instructor sees them whom the door of the demo names."""
        browser = urllib.request.build_opener(urllib.request.HTTPCookieProcessor())
        body = json.dumps({"login": "demo", "password": "demo"}).encode()
        signed_in = urllib.request.Request(f"{address}/api/session", body, {"Content-Type": "application/json"})
        with browser.open(signed_in, timeout=10), browser.open(f"{address}/api/runs", timeout=10) as answer:
            return list(json.load(answer)["runs"])

    def pids(self, state: Path) -> list[int]:
        """Every process whose command line names the state folder or whose environment does."""
        found = []
        for entry in Path("/proc").iterdir():
            if entry.name.isdigit():
                try:
                    told = (entry / "cmdline").read_bytes() + (entry / "environ").read_bytes()
                except OSError:
                    continue
                if str(state).encode() in told and is_running(int(entry.name)):
                    found.append(int(entry.name))
        return found

    def test_it_serves_ends_cleanly_and_seeds_once(self) -> None:
        state, port = folder_for(self), free_port()
        demo = self.start(state, "--port", str(port))
        address = self.address(state)
        self.assertIn(f":{port}", address)
        runs = self.runs(address)
        seeded = {run["title"]: run["state"] for run in runs}
        self.assertEqual(seeded["Zinc sulfate from the glaze store"], "finished")
        self.assertEqual(seeded["Borax from the glaze store"], "waiting")
        with urllib.request.urlopen(address, timeout=10) as page:
            self.assertIn(b'<div id="app">', page.read())
        for number in (port, free_port()):
            self.assertIn(f"running already: {address}", self.refused(state, number))
        said = self.refused(folder_for(self), port)
        self.assertIn(f"port {port} is in use by another program", said)
        self.assertNotIn("starting the database", said)
        demo.send_signal(signal.SIGTERM)
        out, _ = demo.communicate(timeout=60)
        self.assertEqual(demo.returncode, 0, out)
        self.assertEqual(self.pids(state), [])
        again = self.start(state, "--port", str(port))
        self.assertEqual(len(self.runs(self.address(state))), len(runs))
        again.send_signal(signal.SIGINT)
        self.assertEqual(again.wait(60), 0)

    def refused(self, state: Path, port: int) -> str:
        """What a start says that comes to nothing."""
        demo = self.start(state, "--port", str(port))
        out, _ = demo.communicate(timeout=60)
        self.assertEqual(demo.returncode, 1)
        return out

    def test_a_killed_launcher_takes_its_children_along(self) -> None:
        state = folder_for(self)
        server = records_in(state / "mariadb", durable=False)
        server.start()
        database = Database(server.url)
        demo_rows().lay(database, None)
        database.close()
        server.stop()
        demo = self.start(state, "--port", str(free_port()))
        seeded = len(self.runs(self.address(state)))
        self.assertGreater(len(self.pids(state)), 2)
        demo.kill()
        demo.wait()
        self.assertTrue(wait_until(lambda: self.pids(state) == []), "children outlived the launcher")
        (state / "running.json").unlink()
        again = self.start(state, "--port", str(free_port()))
        self.assertEqual(len(self.runs(self.address(state))), seeded)
        again.send_signal(signal.SIGTERM)
        self.assertEqual(again.wait(60), 0)
