"""One fast private database server for the whole test process, laid as a test wants it before each."""

from __future__ import annotations

import atexit
import copy
import fcntl
import os
import pickle
import shutil
import tempfile
import unittest
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import cache, wraps
from pathlib import Path
from typing import Any
from uuid import uuid4

from argon2 import PasswordHasher
from flask import Flask
from flask.testing import FlaskClient

from claykettle.launch.mariadb import PrivateServer
from claykettle.launch.testing import LONG
from claykettle.service.doors import passwords
from claykettle.service.lab import board
from claykettle.service.laboratory import Laboratory
from claykettle.service.shelf.shelf import first_start
from claykettle.store.database import Database
from claykettle.web import create_app
from claykettle.web.context import COOKIE
from tests.support.doors import TEACHER, secret_of
from tests.support.kept import migrated_folder
from tests.support.rows import EMPTY, Rows

BEGIN = datetime(2026, 11, 24, 17, 30, tzinfo=UTC)


@cache
def shared_server() -> PrivateServer:
    """The server, started once and ended with the test process."""
    folder = Path(tempfile.mkdtemp(prefix="kettle-test-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    shutil.copytree(migrated_folder(), folder, dirs_exist_ok=True)
    server = PrivateServer(folder, fast=True)
    atexit.register(server.stop)
    server.start()
    return server


@cache
def shared_database() -> Database:
    """A migrated database on the shared server."""
    database = Database(shared_server().url)
    atexit.register(database.close)
    return database


@cache
def shared_app() -> Flask:
    """The application, made once; each test puts its own laboratory into it."""
    return create_app(shared_database())


class Ground:
    """What lies in the shared database."""

    rows: Rows | None = None
    """What was laid last; None where nobody knows."""

    @classmethod
    def lay(cls, rows: Rows) -> None:
        """Make the shared database hold these rows, and forget what was read of it before."""
        before, cls.rows, memory = cls.rows, rows, shared_database()._cache
        rows.lay(shared_database(), before)
        memory._runs.clear()
        board._KEPT.clear()
        if before is None or before.by_table["procedure"] != rows.by_table["procedure"]:
            # otherwise what stands under a number is what stood there
            memory._procedures.clear()

    @classmethod
    def take(cls) -> Rows:
        """What lies there now."""
        cls.rows = Rows.of(shared_database())
        return cls.rows


def rows_of_this_run(name: str, play: Callable[[], None]) -> Rows:
    """What lies in an empty database after `play`; of the processes of a test run one plays it for all."""
    path = _of_this_run() / f"kettle-{name}.rows"
    with path.with_suffix(".lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not path.exists():
            empty(shared_database())
            play()
            path.write_bytes(pickle.dumps(Ground.take()))
    found: Rows = pickle.loads(path.read_bytes())
    return found


@cache
def _of_this_run() -> Path:
    """The folder of the test run under way; one of this process alone where a module is run by itself."""
    if LONG in os.environ:
        return Path(tempfile.gettempdir())
    folder = tempfile.TemporaryDirectory(prefix="kettle-alone-")
    atexit.register(folder.cleanup)
    return Path(folder.name)


def empty(database: Database) -> None:
    """Take every row out."""
    EMPTY.lay(database, None)
    Ground.rows = None


class Clock:
    """A clock that stands until it is moved."""

    def __init__(self) -> None:
        self.now = BEGIN

    def __call__(self) -> datetime:
        return self.now

    def move(self, **by: float) -> None:
        """Move it on."""
        self.now += timedelta(**by)


@dataclass(frozen=True)
class Scene:
    """What has happened before a test: the rows, and what the test case remembers of it."""

    rows: Rows
    remembered: Mapping[str, Any]


_scenes: dict[Any, Scene] = {}


def scene(play: Callable[[Any], None]) -> Callable[[Any], None]:
    """Play this once in a process, and from then on lay down what came of it.

    It begins with `super().play()`. A class that overrides something of the one that plays has a scene of its own.
    """

    @wraps(play)
    def played(case: AppCase) -> None:
        key = play, _overriding(type(case), played)
        if key in _scenes:
            case.stand(_scenes[key])
        else:
            play(case)
            _scenes[key] = case.taken()

    return played


passwords._HASHER = PasswordHasher(time_cost=1, memory_cost=64, parallelism=1)
passwords._NOBODYS = passwords._HASHER.hash("nobody's")
"""What a password costs is asked where the house runs (tests/launch), not at each sign-in of a test."""


class AppCase(unittest.TestCase):
    """A test with the application on a first-started database, a client and a clock.

    What has happened before each test of a class is told by `play`.
    """

    def setUp(self) -> None:
        """Lay the scene of this class."""
        self.play()

    @scene
    def play(self) -> None:
        """A first start, and the instructor signed in."""
        self.start_first()
        self.client = self.signed_in(self.app)

    def start_first(self) -> None:
        """The application on a database that was just made."""
        self.open_on(EMPTY)
        self.laboratory.ask(first_start)

    def open_on(self, rows: Rows) -> None:
        """The application on these rows."""
        self.database = shared_database()
        self.app = shared_app()
        self.clock = Clock()
        self.laboratory = Laboratory(self.database, self.clock)
        Ground.rows = None
        Ground.lay(rows)
        self.app.extensions["claykettle"] = self.laboratory

    def taken(self) -> Scene:
        """What lies there now, and copies of what the case remembers; unittest's own names begin with a dash."""
        mine = {name: value for name, value in vars(self).items() if not name.startswith("_")}
        return Scene(Ground.take(), _copied(mine))

    def stand(self, scene: Scene) -> None:
        """Be where a scene ended."""
        Ground.lay(scene.rows)
        vars(self).update(_copied(scene.remembered))
        self.app.extensions["claykettle"] = self.laboratory

    def signed_in(self, app: Flask, login: str = TEACHER, host: str = "localhost") -> FlaskClient:
        """A client of an application, with the cookie of somebody who has signed in."""
        client: FlaskClient = app.test_client()
        client.set_cookie(COOKIE, secret_of(self.laboratory, login), domain=host)
        return client

    def post(self, path: str, body: Any, status: int = 200) -> Any:
        """Post JSON, expect a status, give the answer."""
        response = self.client.post(path, json=body)
        self.assertEqual(response.status_code, status, response.text)
        return response.json

    def get(self, path: str, status: int = 200) -> Any:
        """Get JSON, expect a status."""
        response = self.client.get(path)
        self.assertEqual(response.status_code, status, response.text)
        return response.json

    def start(self, status: int = 201, **more: Any) -> Any:
        """Start a zinc sulfate run."""
        shelf = self.get("/api/shelf")
        body = {
            "uuid": str(uuid4()),
            "title": "Zinc sulfate",
            "method": "hydrate",
            "options": {"salt": "ZnSO4"},
            "bench_id": shelf["benches"][0]["id"],
            "balance_id": shelf["balances"][0]["id"],
        }
        return self.post("/api/runs", body | more, status)

    def weigh(self, run: Any, slot: str, text: str, position: int = 1, status: int = 200, **more: Any) -> Any:
        """Record a reading."""
        body = {"uuid": str(uuid4()), "slot": slot, "position": position, "text": text}
        return self.post(f"/api/runs/{run['uuid']}/readings", body | more, status)

    def weigh_all(self, run: Any, *residues: str) -> Any:
        """Vessel, vessel + sample and the residues given."""
        self.weigh(run, "vessel", "31.204")
        run = self.weigh(run, "vessel_sample", "32.861")
        for position, residue in enumerate(residues, start=1):
            self.clock.move(minutes=15)
            run = self.weigh(run, "vessel_residue", residue, position)
        return run


def _copied(remembered: Mapping[str, Any]) -> dict[str, Any]:
    """Copies of one's own, but for what there is one of in the whole process."""
    return copy.deepcopy(dict(remembered), {id(one): one for one in (shared_database(), shared_app())})


def _overriding(case: type, play: object) -> type | None:
    """The first class that changes something of the one that plays; None where all of them only add tests."""
    owner = next(one for one in case.__mro__ if vars(one).get("play") is play)
    for one in case.__mro__[: case.__mro__.index(owner)]:
        if any(hasattr(owner, name) for name in vars(one) if not name.startswith(("test_", "_")) and name != "play"):
            return one
    return None
