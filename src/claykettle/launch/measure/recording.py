"""How much a recorded reading costs over a bare row: gunicorn, a real durable database, one client over HTTP."""

from __future__ import annotations

import http.client
import json
import os
import shutil
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from itertools import count
from pathlib import Path
from secrets import token_urlsafe
from typing import Any
from uuid import uuid4

from flask import Flask, Response, request
from sqlalchemy import select
from sqlalchemy.engine import make_url

from claykettle.core.method import known
from claykettle.launch.mariadb import PrivateServer
from claykettle.launch.measure.ratios import Ratio, compare
from claykettle.launch.paths import ROOT, SetupError
from claykettle.launch.process import free_port, start, stop
from claykettle.launch.serving import APPLICATION, serve_command
from claykettle.service.doors.accounts import NewAccount, create_account
from claykettle.service.doors.signing_in import let_in
from claykettle.service.laboratory import Laboratory
from claykettle.service.shelf.shelf import first_start
from claykettle.service.visit import Visit
from claykettle.store.database import Database
from claykettle.store.tables import Membership, Section
from claykettle.web.context import COOKIE

ROUNDS = 60
SUBSTANCES = 12


@dataclass(frozen=True)
class Course:
    """What one run of a measurement records: its method, its options, and each reading as slot, position and text."""

    method: str
    options: dict[str, Any]
    readings: tuple[tuple[str, int, str], ...]


HYDRATE = Course(
    "hydrate",
    {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"},
    (
        ("vessel", 1, "31.204"),
        ("vessel_sample", 1, "32.861"),
        *(("vessel_residue", n, f"{32.151 - 0.006 * n:.3f}") for n in range(1, 5)),
    ),
)
TABLE = Course(
    "synthesis",
    {
        "equation": "C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2",
        "product": "C9H8O4",
        "reagents": [
            "C7H6O3",
            "C4H6O3",
            *("H3PO4 85 % catalyst" for _ in range(5)),
            *("H2O solvent" for _ in range(SUBSTANCES - 7)),
        ],
    },
    tuple((f"reagent_{n}", 1, f"{2 + n / 10:.3f}") for n in range(1, SUBSTANCES + 1)),
)
"""A reagent table as full as one may be: two reactants, the rest beside them."""


def bare_app() -> Flask:
    """The floor over HTTP: one route, one INSERT and COMMIT through PyMySQL, a small JSON answer."""
    app = Flask("bare")
    connect = _connector(os.environ["CLAYKETTLE_DATABASE_URL"])
    connections: list[Any] = []

    @app.post("/row")
    def row() -> Response:
        body = request.get_json()
        connection = connections.pop() if connections else connect()
        _insert(connection, body["uuid"], body["text"])
        connections.append(connection)
        return Response(json.dumps({"uuid": body["uuid"]}), content_type="application/json")

    return app


def _connector(url: str) -> Callable[[], Any]:
    import pymysql

    address = make_url(url)

    def connect() -> Any:
        return pymysql.connect(
            host=address.host,
            port=address.port or 3306,
            user=address.username,
            password=str(address.password),
            database=address.database,
            charset="utf8mb4",
        )

    return connect


def _insert(connection: Any, uuid: str, text: str) -> None:
    with connection.cursor() as cursor:
        cursor.execute("INSERT INTO bare_row (uuid, text, at) VALUES (%s, %s, NOW(6))", (uuid, text))
    connection.commit()


class Line(http.client.HTTPConnection):
    """A connection that stays open, and who is signed in on it."""

    def __init__(self, port: int, secret: str):
        super().__init__("127.0.0.1", port, timeout=20)
        self.headers = {"Cookie": f"{COOKIE}={secret}"} if secret else {}


def measurer(visit: Visit) -> str:
    """Somebody signed in, as everybody is who records."""
    account = create_account(visit, NewAccount("measurer", "Measurer", token_urlsafe(12)))
    section = visit.session.scalars(select(Section).limit(1)).one()
    visit.session.add(Membership(account_id=account.id, section_id=section.id, is_owner=True))
    visit.session.flush()
    return known(let_in(visit, account).secret)


@contextmanager
def records(fill: Callable[[Database], None] = lambda database: None) -> Iterator[tuple[PrivateServer, str]]:
    """A durable database of a house's first start, filled with more where that is wanted; and the measurer's secret."""
    folder = Path(tempfile.mkdtemp(prefix="kettle-bench-"))
    server = PrivateServer(folder)
    try:
        server.start()
        database = Database(server.url)
        database.migrate()
        laboratory = Laboratory(database)
        laboratory.ask(first_start)
        fill(database)
        secret = laboratory.ask(measurer)
        database.close()
        yield server, secret
    finally:
        server.stop()
        shutil.rmtree(folder, ignore_errors=True)


def measured() -> Iterator[Ratio]:
    """Recording a reading against the bare route, and against the bare row itself (for the floor)."""
    with records() as (server, secret):
        connection = _connector(server.url)()
        with connection.cursor() as cursor:
            cursor.execute("CREATE TABLE bare_row (id BIGINT AUTO_INCREMENT PRIMARY KEY, uuid CHAR(36) UNIQUE, text "
                           "VARCHAR(80), at DATETIME(6))")  # fmt: skip
        with (
            serving(APPLICATION, server, secret) as ours,
            serving("claykettle.launch.measure.recording:bare_app()", server) as bare,
        ):
            record, row, filled = recorder(ours, HYDRATE), _rower(bare), recorder(ours, TABLE)
            yield compare("record a reading over HTTP", record, "a bare Flask route, INSERT + COMMIT", row, 3, ROUNDS)
            name = f"a reagent table of {SUBSTANCES} substances over HTTP"
            yield compare(name, filled, "record a reading over HTTP", record, 3, ROUNDS)
            name = "a keystroke in such a table before the run"
            yield compare(name, _typist(ours), "record a reading over HTTP", record, 3, ROUNDS)
            yield compare(
                "a bare Flask route, INSERT + COMMIT (for the floor)",
                row,
                "INSERT + COMMIT alone",
                lambda: _insert(connection, str(uuid4()), "31.204"),
                float("inf"),
                ROUNDS,
            )
        connection.close()


@contextmanager
def serving(application: str, server: PrivateServer, secret: str = "") -> Iterator[Line]:
    """An application served on this database, and a line to it."""
    port = free_port()
    command = serve_command(port, "--keep-alive", "60", application=application)
    environment = dict(
        os.environ,
        PYTHONPATH=str(ROOT / "src"),
        CLAYKETTLE_DATABASE_URL=server.url,
        CLAYKETTLE_BUILT=str(server.folder),
    )
    web = start(command, server.folder / "web.log", environment)
    try:
        yield _connection(port, secret)
    finally:
        stop(web)


def _connection(port: int, secret: str) -> Line:
    deadline = time.monotonic() + 120
    while time.monotonic() < deadline:
        connection = Line(port, secret)
        try:
            connection.connect()
        except OSError:
            time.sleep(0.1)
        else:
            return connection
    raise SetupError("the server to be measured did not start")


def post(connection: Line, path: str, body: dict[str, Any]) -> bytes:
    """What a page sends, and the answer's bytes. Raises SetupError for a refusal."""
    connection.request("POST", path, json.dumps(body), {"Content-Type": "application/json", **connection.headers})
    response = connection.getresponse()
    data = response.read()
    if response.status >= 300:
        raise SetupError(f"{path} answered {response.status}: {data[:300]!r}")
    return data


def get(connection: Line, path: str) -> Any:
    """What a page asks, and its answer."""
    connection.request("GET", path, headers=connection.headers)
    return json.loads(connection.getresponse().read())


def recorder(connection: Line, course: Course) -> Callable[[], object]:
    """Records the next reading of a run; a new run when the course is done, so that each costs what it usually does."""
    shelf = get(connection, "/api/shelf")
    state: dict[str, Any] = {"run": None, "queue": []}

    def begin() -> None:
        body = {
            "uuid": str(uuid4()),
            "title": "Measured",
            "method": course.method,
            "options": course.options,
            "bench_id": shelf["benches"][0]["id"],
            "balance_id": shelf["balances"][0]["id"],
        }
        post(connection, "/api/runs", body)
        state["run"] = body["uuid"]
        state["queue"] = list(course.readings)

    def record() -> object:
        slot, position, text = state["queue"].pop(0)
        body = {"uuid": str(uuid4()), "slot": slot, "position": position, "text": text, "confirmed": True}
        return post(connection, f"/api/runs/{state['run']}/readings", body)

    def next_one() -> object:
        answer = record()
        if not state["queue"]:
            begin()
        return answer

    begin()
    return next_one


def _typist(connection: Line) -> Callable[[], object]:
    """Plans the table anew, another figure at every keystroke."""
    keys = count(1)

    def press() -> object:
        planned = {"formula": "C7H6O3", "planned": f"{2 + next(keys) / 1000:.3f} g"}
        options = TABLE.options | {"reagents": [planned, *TABLE.options["reagents"][1:]]}
        return post(connection, "/api/plan/reagents", {"method": TABLE.method, "options": options})

    return press


def _rower(connection: Line) -> Callable[[], object]:
    return lambda: post(connection, "/row", {"uuid": str(uuid4()), "text": "31.204"})
