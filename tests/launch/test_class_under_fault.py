"""A class at work while everything fails: two applications on one database, killed, cut off, sent home; boards open.

`KETTLE_CLASS_S` says how long they record before, between and after the faults; without it only as long as that a
fault meets everybody at work.
"""

from __future__ import annotations

import os
import time
from datetime import UTC, datetime
from typing import Any
from uuid import uuid4

from sqlalchemy import text

from claykettle.launch.process import free_port
from claykettle.launch.serving import serve_command
from claykettle.store.database import Database
from tests.launch.test_killed import children
from tests.support.forking import serve
from tests.support.live import BUILT, BrowserCase, LiveApp
from tests.support.network import Network
from tests.support.recorders import Recorder, Watcher

BENCHES = 16
AT_WORK_S = float(os.environ.get("KETTLE_CLASS_S", "2"))
ZINC = {"method": "hydrate", "options": {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}, "trials": 2}


class UnderFault(BrowserCase):
    @classmethod
    def setUpClass(cls) -> None:
        """Two applications on one database, each behind a network that can be cut; no browser."""
        cls.app = LiveApp(durable=True)
        cls.addClassCleanup(cls.app.close)
        cls.app.begin()
        port = free_port()
        environment = {
            "CLAYKETTLE_DATABASE_URL": cls.app.server.url, "CLAYKETTLE_BUILT": str(BUILT), "CLAYKETTLE_DEMO": "1",
        }  # fmt: skip
        cls.other = serve(serve_command(port, grace_s=1), cls.app.folder / "other.log", environment)
        cls.addClassCleanup(cls.other.stop)
        cls.networks = [Network(cls.app.port), Network(port)]
        for one in cls.networks:
            cls.addClassCleanup(one.close)

    def laid_out(self, benches: int) -> Any:
        """A class of so many benches that has begun."""
        there = {row["name"] for row in self.app.json("/api/shelf")["benches"]}
        for name in (f"Table {number}" for number in range(benches)):
            if name not in there:
                self.app.post("/api/class/benches", {"name": name})
        ids = [row["id"] for row in self.app.json("/api/shelf")["benches"] if row["name"].startswith("Table ")]
        now = datetime.now(UTC)
        wish = {
            "practical": ZINC, "title": f"Class of {benches}", "date": now.date().isoformat(), "starts": "00:00",
            "length": "1430 min", "benches": ids[:benches], "sample": "1.6 g", "room": {"balance": 2},
        }  # fmt: skip
        return self.app.post("/api/classes", {"uuid": str(uuid4()), "students": {}, "wish": wish})

    def fault_database(self) -> None:
        self.app.kill_database()
        time.sleep(1)
        self.app.start_database()

    def fault_networks(self) -> None:
        for one in self.networks:
            one.cut()
        time.sleep(2)
        for one in self.networks:
            one.mend()

    def fault_worker(self) -> None:
        assert self.app.web is not None
        os.kill(children(self.app.web.pid)[0], 9)

    def fault_application(self) -> None:
        """One of the two dies whole; the other goes on, and it is started again."""
        self.app.stop_web()
        time.sleep(2)
        self.app.start_web()

    def test_nothing_is_lost_doubled_or_out_of_order_and_every_board_tells_all_of_it(self) -> None:
        laid = self.laid_out(BENCHES)
        ports = [one.port for one in self.networks]
        recorders = [Recorder(place["run"], "1", ports, self.app.secret, 0.3) for place in laid["places"]]
        watchers = [Watcher(laid["id"], ports, self.app.secret) for _ in range(4)]
        for one in (*recorders, *watchers):
            one.start()
        for fault in (self.fault_networks, self.fault_worker, self.fault_database, self.fault_application):
            time.sleep(AT_WORK_S)
            counts = [len(one.acknowledged) for one in recorders]
            fault()
            deadline = time.monotonic() + 90
            while any(len(one.acknowledged) <= count for one, count in zip(recorders, counts, strict=True)):
                self.assertLess(time.monotonic(), deadline, fault.__name__)
                time.sleep(0.1)
        for one in (*recorders, *watchers):
            one.ended.set()
        for one in (*recorders, *watchers):
            one.join(70)
            self.assertEqual([], one.wrong)
        self.assert_kept(recorders)
        whole = Watcher(laid["id"], ports, self.app.secret)
        self.assertTrue(whole.look())
        for one in watchers:
            self.assertTrue(one.look())
            self.assertGreater(one.missed, 0, "no fault met this board")
            self.assertEqual((whole.versions, whole.cards), (one.versions, one.cards))
        again = sum(one.again for one in recorders)
        print(f"{sum(len(one.acknowledged) for one in recorders)} acknowledged, {again} asked again, kept once")

    def assert_kept(self, recorders: list[Recorder]) -> None:
        """What the database holds of each run is what was acknowledged, in its order."""
        database = Database(self.app.server.url)
        self.addCleanup(database.close)
        query = text(
            "SELECT r.`uuid` FROM `reading` r JOIN `trial` t ON t.`id` = r.`trial_id` "
            "JOIN `run` n ON n.`id` = t.`run_id` WHERE n.`uuid` = :run AND t.`position` > 0 ORDER BY r.`id`"
        )
        with database.engine.connect() as connection:
            for one in recorders:
                kept = [row[0] for row in connection.execute(query, {"run": one.uuid})]
                self.assertEqual(one.acknowledged, kept)

    def test_a_class_of_forty_works(self) -> None:
        laid = self.laid_out(40)
        ports = [one.port for one in self.networks]
        recorders = [Recorder(place["run"], "1", ports, self.app.secret, 0.5) for place in laid["places"]]
        watcher = Watcher(laid["id"], ports, self.app.secret)
        for one in (*recorders, watcher):
            one.start()
        deadline = time.monotonic() + 90
        while any(len(one.acknowledged) < 5 for one in recorders):
            self.assertLess(time.monotonic(), deadline)
            time.sleep(0.1)
        for one in (*recorders, watcher):
            one.ended.set()
        for one in (*recorders, watcher):
            one.join(70)
            self.assertEqual([], one.wrong)
        self.assert_kept(recorders)
        self.assertTrue(watcher.look())
        self.assertEqual(40, len(watcher.cards))
