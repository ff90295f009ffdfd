"""Two applications on a cluster of three databases, two of which are killed under load.

`PYTHONPATH=src .kettle/venv/bin/python -m tests.cluster` prints what was acknowledged, what is stored, how often
transactions were beaten, and how long the longest wait was.
"""

from __future__ import annotations

import http.client
import shutil
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import ExitStack, suppress
from pathlib import Path
from secrets import token_urlsafe
from uuid import uuid4

from claykettle.launch.process import free_port
from claykettle.launch.serving import serve_command
from claykettle.service.laboratory import Laboratory
from claykettle.service.shelf.shelf import first_start
from claykettle.store.database import Database
from tests.cluster.nodes import Node, cluster
from tests.support.doors import secret_of
from tests.support.forking import serve
from tests.support.recorders import Recorder, asked

BENCHES, SECONDS = 8, 60
"""So many tablets record for so many seconds."""


def main() -> int:
    """Run it all; 0 where everything that was acknowledged is stored once."""
    with ExitStack() as ends:
        folder = Path(tempfile.mkdtemp(prefix="kettle-cluster-"))
        ends.callback(shutil.rmtree, folder, ignore_errors=True)
        password = token_urlsafe(16)
        nodes = cluster(folder, password)
        for node in nodes:
            ends.callback(node.kill)
        print("cluster of", nodes[0].status("wsrep_cluster_size"))
        database = Database(nodes[0].url(password))
        database.migrate()
        laboratory = Laboratory(database)
        laboratory.ask(first_start)
        secret = secret_of(laboratory)
        ports = [_application(folder, node, password, ends) for node in nodes[:2]]
        runs = [_run(ports[0], secret) for _ in range(BENCHES // 2)]
        # two write into each run, one in each of its trials: on two nodes their transactions meet
        benches = [Recorder(uuid, trial, ports, secret, 0.5) for uuid in runs for trial in ("1", "2")]
        begun = time.monotonic()
        for bench in benches:
            bench.start()
        # one that nobody uses; once it is back, one in use: a single node of two would not know itself in the majority
        _at(begun + 10, nodes[2].kill, "node 3 was killed")
        _at(begun + 20, lambda: nodes[2].begin(nodes[0]), "node 3 came back")
        _at(begun + 40, nodes[1].kill, "node 2 was killed, with the application that uses it still running")
        time.sleep(max(0.0, begun + SECONDS - time.monotonic()))
        for bench in benches:
            bench.ended.set()
        for bench in benches:
            bench.join()
        return _told(nodes[0], benches, database)


def _at(moment: float, act: Callable[[], object], told: str) -> None:
    time.sleep(max(0.0, moment - time.monotonic()))
    begun = time.monotonic()
    act()
    print(f"{told} ({time.monotonic() - begun:.1f} s)", flush=True)


def _application(folder: Path, node: Node, password: str, ends: ExitStack) -> int:
    port = free_port()
    environment = {"CLAYKETTLE_DATABASE_URL": node.url(password), "CLAYKETTLE_BUILT": str(folder)}
    web = serve(serve_command(port, grace_s=1), folder / f"web{node.number}.log", environment)
    ends.callback(web.stop)
    deadline = time.monotonic() + 60
    while time.monotonic() < deadline:
        with suppress(OSError, http.client.HTTPException):
            if asked(port, "", "GET", "/healthz", timeout=3)[0] == 200:
                return port
        time.sleep(0.2)
    raise AssertionError((folder / f"web{node.number}.log").read_text()[-3000:])


def _run(port: int, secret: str) -> str:
    shelf = asked(port, secret, "GET", "/api/shelf")[1]
    body = {
        "uuid": str(uuid4()), "title": "On a cluster", "method": "hydrate", "options": {"salt": "ZnSO4"},
        "bench_id": shelf["benches"][0]["id"], "balance_id": shelf["balances"][0]["id"],
    }  # fmt: skip
    uuid = asked(port, secret, "POST", "/api/runs", body)[1]["uuid"]
    asked(port, secret, "POST", f"/api/runs/{uuid}/trials", {"label": "2"})
    return str(uuid)


def _told(node: Node, benches: list[Recorder], database: Database) -> int:
    acknowledged = [uuid for bench in benches for uuid in bench.acknowledged]
    stored = [str(row[0]) for row in node.ask("SELECT uuid FROM claykettle.reading")]
    places = node.ask(
        "SELECT trial_id, slot, position, COUNT(*) n FROM claykettle.reading GROUP BY 1, 2, 3 HAVING n > 1"
    )
    wrong = [text for bench in benches for text in bench.wrong]
    lost = set(acknowledged) - set(stored)
    longest = max(bench.longest for bench in benches)
    against, aborted = node.status("wsrep_local_cert_failures"), node.status("wsrep_local_bf_aborts")
    print(f"{len(acknowledged)} acknowledged, {len(stored)} stored, {len(lost)} lost, {len(places)} doubled")
    print(f"{sum(bench.again for bench in benches)} asked again; the longest wait {longest:.1f} s")
    print(f"beaten at node 1: {against} at COMMIT, {aborted} before; cluster of {node.status('wsrep_cluster_size')}")
    for text in wrong[:10]:
        print("wrong:", text)
    database.close()
    return 1 if lost or places or wrong or not acknowledged else 0


if __name__ == "__main__":
    sys.exit(main())
