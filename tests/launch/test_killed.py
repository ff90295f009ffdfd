"""Killed under recording: worker, application, database, launcher in turn; what was acknowledged is there, and once.

`KETTLE_KILLS` says how often, and then all must be well again within 15 s each time; without it each of the four dies
once, on a machine that may have other things to do.
"""

from __future__ import annotations

import os
import signal
import time
from pathlib import Path
from typing import Any
from uuid import uuid4

from claykettle.launch.process import free_port
from claykettle.web.context import COOKIE
from tests.launch.test_serve import Browser, House
from tests.launch.test_server import folder_for, is_running, wait_until
from tests.support.recorders import Recorder

KILLS = int(os.environ.get("KETTLE_KILLS", "4"))
BENCHES = ("Flint", "Marl", "Slip")
HEALED_S = 15.0 if "KETTLE_KILLS" in os.environ else 90.0


def children(pid: int) -> list[int]:
    """The processes that a process has started."""
    return [int(one) for one in Path(f"/proc/{pid}/task/{pid}/children").read_text().split()]


class Killed(House):
    def test_what_was_acknowledged_is_stored_once_whatever_was_killed(self) -> None:
        folder, self.port = folder_for(self), free_port()
        self.data = folder / "house"
        self.process, said = self.serve(self.data, "--listen", f"127.0.0.1:{self.port}")
        teacher = Browser(f"http://127.0.0.1:{self.port}")
        self.first(teacher, said)
        recorders = [self.tablet(teacher, bench) for bench in BENCHES]
        for one in recorders:
            one.start()
        for number in range(KILLS):
            time.sleep(3)
            with self.subTest(kill=number):
                begun = time.monotonic()
                (self.kill_worker, self.kill_application, self.kill_database, self.kill_launcher)[number % 4]()
                self.assertTrue(wait_until(lambda: self.is_well(teacher), HEALED_S))
                self.assertLess(time.monotonic() - begun, HEALED_S)
                # it serves: everybody gets a figure through
                counts = [len(one.acknowledged) for one in recorders]
                self.assertTrue(wait_until(lambda: self.all_got_on(recorders, counts), HEALED_S))  # noqa: B023
        for one in recorders:
            one.ended.set()
        for one in recorders:
            one.join(70)
            self.assertEqual(one.wrong, [])
            rows = teacher.ask(f"/api/runs/{one.uuid}")["readings"]
            stored = [row["uuid"] for row in rows]
            self.assertEqual(stored, one.acknowledged)
            self.assertEqual(len({(row["trial"], row["slot"], row["position"]) for row in rows}), len(rows))
        print(f"{KILLS} killed, {sum(len(one.acknowledged) for one in recorders)} acknowledged and stored once")
        self.process.send_signal(signal.SIGTERM)
        self.assertEqual(self.process.wait(60), 0)
        checked = self.run_command("verify", "--data", str(self.data))
        self.assertEqual(checked.returncode, 0, checked.stdout + checked.stderr)

    @staticmethod
    def all_got_on(recorders: list[Recorder], counts: list[int]) -> bool:
        return all(len(one.acknowledged) > count for one, count in zip(recorders, counts, strict=True))

    def tablet(self, teacher: Browser, bench: str) -> Recorder:
        """A tablet that has joined its bench by the code of the class, and has begun a run."""
        teacher.ask("/api/class/benches", {"name": bench})
        if not teacher.ask("/api/shelf")["balances"]:
            teacher.ask("/api/today/instruments", {"kind": "balance", "name": "A", "half_width": "0.001 g"})
        klass = teacher.ask("/api/class")
        code = klass["code"] or teacher.ask("/api/class/code", {})["code"]
        tablet = Browser(teacher.address)
        tablet.ask("/api/join", {"code": code, "bench": bench})
        shelf = tablet.ask("/api/shelf")
        body: dict[str, Any] = {
            "uuid": str(uuid4()),
            "title": f"At {bench}",
            "method": "hydrate",
            "options": {"salt": "ZnSO4"},
            "bench_id": next(row["id"] for row in shelf["benches"] if row["name"] == bench),
            "balance_id": shelf["balances"][0]["id"],
        }
        run = tablet.ask("/api/runs", body)
        secret = next(cookie.value for cookie in tablet.cookies if cookie.name == COOKIE)
        return Recorder(run["uuid"], "1", [self.port], str(secret), 0.1)

    def gunicorn(self) -> int:
        return next(pid for pid in children(self.process.pid) if "gunicorn" in Path(f"/proc/{pid}/cmdline").read_text())

    def kill(self, pid: int) -> None:
        os.kill(pid, signal.SIGKILL)
        self.assertTrue(wait_until(lambda: not is_running(pid), 10))

    def kill_worker(self) -> None:
        self.kill(children(self.gunicorn())[0])

    def kill_application(self) -> None:
        self.kill(self.gunicorn())

    def kill_database(self) -> None:
        self.kill(int((self.data / "mariadb/mysqld.pid").read_text()))

    def kill_launcher(self) -> None:
        """Whoever finds it so starts it again on the same folder."""
        left = self.gunicorn()
        self.process.kill()
        self.process.wait()
        self.assertTrue(wait_until(lambda: not is_running(left), 10))
        self.process, _ = self.serve(self.data, "--listen", f"127.0.0.1:{self.port}")

    def is_well(self, browser: Browser) -> bool:
        try:
            told = browser.ask("/healthz")
            return isinstance(told, dict) and told["status"] == "ok"
        except OSError:
            return False
