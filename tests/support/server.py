"""One fast private database server for the whole test run, emptied before each test."""

from __future__ import annotations

import atexit
import shutil
import tempfile
import unittest
from datetime import UTC, datetime, timedelta
from functools import cache
from pathlib import Path
from typing import Any
from uuid import uuid4

from flask import Flask
from flask.testing import FlaskClient
from sqlalchemy import text

from claykettle.launch.mariadb import PrivateServer
from claykettle.service.laboratory import Laboratory
from claykettle.service.shelf.shelf import first_start
from claykettle.store.database import Database
from claykettle.store.tables import Base
from claykettle.web import create_app
from claykettle.web.context import COOKIE
from tests.support.doors import TEACHER, secret_of

BEGIN = datetime(2026, 11, 24, 17, 30, tzinfo=UTC)


@cache
def shared_server() -> PrivateServer:
    """The server, started once and ended with the test run."""
    folder = Path(tempfile.mkdtemp(prefix="kettle-test-"))
    server = PrivateServer(folder, fast=True)
    atexit.register(lambda: (server.stop(), shutil.rmtree(folder, ignore_errors=True)))
    server.start()
    return server


@cache
def shared_database() -> Database:
    """A migrated database on the shared server."""
    database = Database(shared_server().url)
    database.migrate()
    atexit.register(database.close)
    return database


@cache
def shared_app() -> Flask:
    """The application, made once; each test puts its own laboratory into it."""
    return create_app(shared_database())


def empty(database: Database) -> None:
    """Take every row out."""
    with database.engine.begin() as connection:
        connection.execute(text("SET FOREIGN_KEY_CHECKS=0"))
        for table in Base.metadata.sorted_tables:
            connection.execute(text(f"DELETE FROM `{table.name}`"))
        connection.execute(text("SET FOREIGN_KEY_CHECKS=1"))


class Clock:
    """A clock that stands until it is moved."""

    def __init__(self) -> None:
        self.now = BEGIN

    def __call__(self) -> datetime:
        return self.now

    def move(self, **by: float) -> None:
        """Move it on."""
        self.now += timedelta(**by)


class AppCase(unittest.TestCase):
    """A test with the application on an empty first-started database, a client and a clock."""

    def setUp(self) -> None:
        """Empty the database, start it first, give the application its laboratory."""
        self.database = shared_database()
        self.clock = Clock()
        self.laboratory = Laboratory(self.database, self.clock)
        self.fill()
        self.app = shared_app()
        self.app.extensions["claykettle"] = self.laboratory
        self.client = self.signed_in(self.app)

    def signed_in(self, app: Flask, login: str = TEACHER, host: str = "localhost") -> FlaskClient:
        """A client of an application, with the cookie of somebody who has signed in."""
        client: FlaskClient = app.test_client()
        client.set_cookie(COOKIE, secret_of(self.laboratory, login), domain=host)
        return client

    def fill(self) -> None:
        """What is in the database when a test begins."""
        empty(self.database)
        self.laboratory.ask(first_start)

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
