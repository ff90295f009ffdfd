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

from claykettle.launch import debian
from claykettle.launch.mariadb import PrivateServer
from claykettle.launch.paths import ROOT, SetupError
from claykettle.launch.process import free_port
from claykettle.store.database import Database


def folder_for(test: unittest.TestCase) -> Path:
    """A temporary folder that goes with the test."""
    folder = tempfile.TemporaryDirectory()
    test.addCleanup(folder.cleanup)
    return Path(folder.name)


def wait_until(what: Any, seconds: float = 30) -> bool:
    """Whether something came true in time."""
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        if what():
            return True
        time.sleep(0.1)
    return False


def is_running(pid: int) -> bool:
    """Whether a process is there and no zombie."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().split(")")[-1].split()[0] != "Z"
    except OSError:
        return False


class Server(unittest.TestCase):
    def test_committed_rows_survive_a_power_cut(self) -> None:
        server = PrivateServer(folder_for(self))
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
        first, second = (PrivateServer(folder_for(self), fast=True) for _ in range(2))
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
        folder = folder_for(self)
        orphan = PrivateServer(folder, fast=True)
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

    def test_a_taken_port_gives_another(self) -> None:
        with socket.socket() as taken:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            port = taken.getsockname()[1]
            self.assertNotEqual(free_port(port), port)


class _Reaping:
    """Path, but looking at /proc reaps the child first: in one process an ended orphan stays a zombie otherwise."""

    def __init__(self, process: subprocess.Popen[bytes]):
        self.process = process

    def __call__(self, *parts: Any) -> Path:
        self.process.poll()
        return Path(*parts)


class Packages(unittest.TestCase):
    def test_who_is_not_root_gets_the_one_line_to_run(self) -> None:
        nobody = mock.patch.object(debian.os, "geteuid", return_value=1000)
        nothing = mock.patch.object(debian.shutil, "which", return_value=None)
        line = "apt-get install .*mariadb-client-core mariadb-server-core"
        with nobody, nothing, self.assertRaisesRegex(SetupError, line):
            debian.need_programs()


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
        self.assertTrue(wait_until((state / "demo.json").is_file, 60), "the demo did not come up")
        return str(json.loads((state / "demo.json").read_text())["address"])

    def runs(self, address: str) -> list[Any]:
        with urllib.request.urlopen(f"{address}/api/runs", timeout=10) as answer:
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
        state = folder_for(self)
        with socket.socket() as taken:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            port = taken.getsockname()[1]
            demo = self.start(state, "--port", str(port))
            address = self.address(state)
            self.assertNotIn(f":{port}", address)
            seeded = {run["title"]: run["state"] for run in self.runs(address)}
            self.assertEqual(seeded["Zinc sulfate from the glaze store"], "finished")
            self.assertEqual(seeded["Borax from the glaze store"], "waiting")
            with urllib.request.urlopen(address, timeout=10) as page:
                self.assertIn(b'<div id="app">', page.read())
            second = self.start(state)
            out, _ = second.communicate(timeout=30)
            self.assertIn(f"running already: {address}", out)
            self.assertEqual(second.returncode, 1)
            demo.send_signal(signal.SIGTERM)
            out, _ = demo.communicate(timeout=60)
        self.assertEqual(demo.returncode, 0, out)
        self.assertIn(f"port {port} is in use", out)
        self.assertEqual(self.pids(state), [])
        again = self.start(state, "--port", "0")
        self.assertEqual(len(self.runs(self.address(state))), len(seeded))
        again.send_signal(signal.SIGINT)
        self.assertEqual(again.wait(60), 0)

    def test_a_killed_launcher_takes_its_children_along(self) -> None:
        state = folder_for(self)
        demo = self.start(state, "--port", "0")
        seeded = len(self.runs(self.address(state)))
        self.assertGreater(len(self.pids(state)), 2)
        demo.kill()
        demo.wait()
        self.assertTrue(wait_until(lambda: self.pids(state) == []), "children outlived the launcher")
        (state / "demo.json").unlink()
        again = self.start(state, "--port", "0")
        self.assertEqual(len(self.runs(self.address(state))), seeded)
        again.send_signal(signal.SIGTERM)
        self.assertEqual(again.wait(60), 0)
