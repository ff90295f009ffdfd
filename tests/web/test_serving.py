"""What the application serves beside the API: the built page; and what it says when something below it fails."""

from __future__ import annotations

import errno
import io
import logging
import shutil
import tempfile
import zlib
from pathlib import Path
from unittest import mock
from uuid import uuid4

import pymysql
from sqlalchemy.exc import IntegrityError, InternalError, OperationalError, ProgrammingError
from sqlalchemy.exc import TimeoutError as PoolTimeout

from claykettle.store.database import Database
from claykettle.web import create_app
from claykettle.web import told as log_of_requests
from claykettle.web.application import ROOM
from tests.support.server import AppCase


class Pages(AppCase):
    def setUp(self) -> None:
        super().setUp()
        self.built = Path(tempfile.mkdtemp(prefix="kettle-built-"))
        self.addCleanup(shutil.rmtree, self.built)
        (self.built / "assets").mkdir()
        (self.built / "index.html").write_text("<title>the page</title>")
        (self.built / "mark.svg").write_text("<svg/>")
        (self.built / "assets" / "index-1.js").write_text("page()")
        (self.built.parent / "secret.txt").write_text("not to be served")
        self.addCleanup((self.built.parent / "secret.txt").unlink)
        self.client = self.signed_in(create_app(self.database, self.built, self.clock))

    def test_every_address_that_the_page_routes_gets_the_page_and_asks_again(self) -> None:
        for address in ("/", "/runs/1/working", "/formula?f=CuO", "/no/such/page"):
            response = self.client.get(address)
            self.assertIn("the page", response.text)
            self.assertEqual(response.headers["Cache-Control"], "no-cache")

    def test_named_assets_are_kept_for_ever_and_the_rest_is_not(self) -> None:
        self.assertIn("immutable", self.client.get("/assets/index-1.js").headers["Cache-Control"])
        self.assertNotIn("immutable", self.client.get("/mark.svg").headers.get("Cache-Control", ""))

    def test_a_slow_network_gets_pages_and_answers_packed_and_the_same(self) -> None:
        page = "page();" * 4000
        (self.built / "assets" / "long-1.js").write_text(page)
        for address in ("/assets/long-1.js", "/api/shelf"):
            plain = self.client.get(address).data
            # what a browser sends for an address that begins with http
            packed = self.client.get(address, headers={"Accept-Encoding": "gzip, deflate"})
            self.assertEqual(packed.headers["Content-Encoding"], "deflate")
            self.assertLess(len(packed.data), len(plain) / 3)
            self.assertEqual(zlib.decompress(packed.data), plain)

    def test_nothing_outside_the_built_folder_is_served(self) -> None:
        for address in ("/../secret.txt", "/assets/../../secret.txt", "/%2e%2e/secret.txt", "//secret.txt"):
            self.assertNotIn("not to be served", self.client.get(address).text, address)

    def test_an_unknown_address_of_the_api_is_no_page(self) -> None:
        for address in ("/api", "/api/", "/api/nothing"):
            response = self.client.get(address)
            self.assertEqual((response.status_code, response.content_type), (404, "application/problem+json"))

    def test_without_a_built_page_it_says_so(self) -> None:
        self.assertEqual(self.app.test_client().get("/").status_code, 404)


class Failures(AppCase):
    def failing(self, error: Exception) -> int:
        app = create_app(self.database, clock=self.clock)

        def fail() -> str:
            raise error

        app.add_url_rule("/api/fails", "fails", fail)
        response = app.test_client().get("/api/fails")
        self.assertEqual(response.content_type, "application/problem+json")
        self.said = response.json or {}
        self.assertNotIn("secret", response.text)  # neither statement nor stack trace leaves the house
        return response.status_code

    def setUp(self) -> None:
        super().setUp()
        logging.disable(logging.CRITICAL)
        self.addCleanup(logging.disable, logging.NOTSET)

    def test_two_at_the_same_moment_are_a_conflict(self) -> None:
        self.assertEqual(self.failing(IntegrityError("secret", {}, Exception("secret"))), 409)
        self.assertEqual(self.said["code"], "conflict")

    def test_a_database_that_went_away_is_no_fault_of_what_was_typed(self) -> None:
        self.assertEqual(self.failing(OperationalError("secret", {}, Exception("secret"))), 503)
        self.assertIn("is kept and sent again", self.said["title"])
        lost = ProgrammingError("secret", {}, Exception("secret"), connection_invalidated=True)
        self.assertEqual(self.failing(lost), 503)
        self.assertEqual(self.failing(PoolTimeout("QueuePool limit of size 10 overflow 54 reached")), 503)

    def test_a_log_that_cannot_be_written_changes_no_answer_and_is_told_at_healthz(self) -> None:
        """As on a full disk: the reading is stored, and said to be."""
        app = create_app(self.database, clock=self.clock)
        with mock.patch("sys.stderr", io.StringIO()) as written:
            log_of_requests.init_app(app)
        client = self.signed_in(app)
        self.laboratory, run = app.extensions["claykettle"], self.start()
        body = {"uuid": str(uuid4()), "slot": "vessel", "position": 1, "text": "31.204"}
        with mock.patch.object(written, "write", side_effect=OSError(errno.ENOSPC, "No space left on device")):
            answer = client.post(f"/api/runs/{run['uuid']}/readings", json=body)
            self.assertEqual((answer.status_code, answer.json["readings"][0]["text"]), (200, "31.204"))
            self.assertIn("log", client.get("/healthz").json)
        self.assertEqual(client.get("/healthz").status_code, 200)
        self.assertEqual(client.get("/healthz").json, {"status": "ok"})
        self.assertIn('"path": "/healthz"', written.getvalue())

    def test_a_full_disk_is_said_as_such(self) -> None:
        """What MariaDB answered on a file system without room: 1114 as a rule, 1021, or the system's number 28."""
        for told in (
            (1114, "The table 'reading' is full"),
            (1021, "Disk full (/tmp/#sql-temptable); waiting for someone to free some space"),
            (3, 'Error writing file "./claykettle/reading.ibd" (Errcode: 28 "No space left on device")'),
        ):
            self.assertEqual(self.failing(InternalError("secret", {}, pymysql.err.InternalError(*told))), 503)
            self.assertEqual(self.said["code"], "disk-full")
            self.assertIn("disk of the server is full", self.said["title"])
        other = InternalError("secret", {}, pymysql.err.InternalError(28000, "secret"))
        self.assertEqual(self.failing(other), 500)

    def test_a_house_with_little_room_is_not_well(self) -> None:
        backups = Path(tempfile.mkdtemp()) / "backups"
        self.addCleanup(shutil.rmtree, backups.parent)
        client = create_app(self.database, clock=self.clock, backups=str(backups)).test_client()
        self.assertEqual(client.get("/healthz").status_code, 200)
        with mock.patch("claykettle.web.application.disk_usage", return_value=mock.Mock(free=ROOM - 1)):
            told = client.get("/healthz")
        self.assertEqual((told.status_code, told.json["status"]), (503, "full"))

    def test_anything_else_is_said_without_its_inside(self) -> None:
        for error in (ProgrammingError("secret", {}, Exception("secret")), ZeroDivisionError("secret")):
            self.assertEqual(self.failing(error), 500)
            self.assertIn("nothing was changed", self.said["title"])

    def test_a_database_that_cannot_be_reached_is_told_at_every_use(self) -> None:
        gone = Database("mariadb+pymysql://kettle:x@127.0.0.1:1/claykettle?charset=utf8mb4")
        self.addCleanup(gone.close)
        client = self.signed_in(create_app(gone, clock=self.clock))
        for address in ("/api/runs", "/api/shelf"):
            self.assertEqual(client.get(address).status_code, 503)
