"""What strangers and slips send: every request is answered with a problem document, and nothing of it is kept."""

from __future__ import annotations

import io
import json
import shutil
import tempfile
import zipfile
from pathlib import Path
from typing import Any
from unittest import mock
from uuid import uuid4

from claykettle.service.runs import importing
from claykettle.web import create_app
from tests.support.runs import document
from tests.support.server import AppCase


def zipped(*files: bytes) -> bytes:
    """An archive of these files."""
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w") as archive:
        for number, data in enumerate(files):
            archive.writestr(f"{number}.json", data)
    return target.getvalue()


def run_bytes(**more: Any) -> bytes:
    """A hydrate's run file."""
    return json.dumps(document(**more)).encode()


class TooMuch(AppCase):
    def import_status(self, data: bytes) -> int:
        return self.client.post("/api/runs/import", data=data).status_code

    def test_an_elevation_that_no_column_holds(self) -> None:
        for text in ("5" * 59, "1." + "0" * 56, "0" * 55 + "520"):
            with self.subTest(text):
                self.post("/api/today/elevation", {"elevation": text}, 422)
        self.assertEqual(self.get("/api/today")["elevation"], "")

    def test_a_history_longer_than_its_columns(self) -> None:
        long: list[dict[str, Any]] = [
            {"instrument": "b" * 61},
            {"corrects": "3" * 81, "reason": "swapped"},
            {"corrects": "31.02 g" + " " * 75, "reason": "swapped"},
            {"at": "0001-01-01T00:00:00+14:00"},
            {"at": "9999-12-31T23:59:59-14:00"},
            {"by": "M" * 121},
        ]
        for history in long:
            with self.subTest(history):
                readings = {"vessel": {"text": "31.204 g", **history}, "vessel_sample": "32.861 g"}
                self.assertEqual(self.import_status(run_bytes(readings=readings)), 422)
        self.assertEqual(self.get("/api/runs")["runs"], [])

    def test_times_of_observations_that_no_calendar_reaches(self) -> None:
        for at in ("0001-01-01T00:00:00+14:00", "9999-12-31T23:59:59-14:00"):
            with self.subTest(at):
                self.assertEqual(self.import_status(run_bytes(observations=[{"tag": "popping", "at": at}])), 422)

    def test_json_of_any_depth(self) -> None:
        deep = b"[" * 5000 + b"]" * 5000
        self.assertEqual(self.import_status(deep), 422)
        for address in ("/api/runs", "/api/plan", "/api/equation", "/api/today/room"):
            response = self.client.post(address, data=deep, content_type="application/json")
            with self.subTest(address):
                self.assertIn(response.status_code, (400, 422), response.text)

    def test_half_a_character_pair_anywhere(self) -> None:
        body = {
            "uuid": str(uuid4()), "title": "Zinc", "method": "hydrate", "options": {"salt": "\ud800"}, "bench_id": 1,
            "balance_id": 1,
        }  # fmt: skip
        for broken in (body, body | {"options": {"\ud800": 1}}, body | {"options": {}, "title": "\udfff"}):
            response = self.client.post("/api/runs", data=json.dumps(broken), content_type="application/json")
            self.assertIn(response.status_code, (400, 422), response.text)

    def test_the_same_key_twice_in_a_body(self) -> None:
        body = b'{"elevation": "520 m", "elevation": "20 m"}'
        response = self.client.post("/api/today/elevation", data=body, content_type="application/json")
        self.assertEqual(response.status_code, 422, response.text)
        self.assertIn("twice", response.text)

    def test_an_address_part_longer_than_a_file_name(self) -> None:
        app = create_app(self.database, self.built(), self.clock)
        for address in ("/" + "a" * 300, "/assets/" + "a" * 300, "/" + "a/" * 3000, "/a%00b"):
            with self.subTest(address[:20]), self.signed_in(app).get(address) as response:
                self.assertLess(response.status_code, 500)

    def built(self) -> Any:
        folder = Path(tempfile.mkdtemp(prefix="kettle-built-"))
        self.addCleanup(shutil.rmtree, folder)
        (folder / "index.html").write_text("<title>the page</title>")
        return folder

    def test_signs_that_nobody_sees_in_a_title_or_a_name(self) -> None:
        for title in ("\0", "Zinc\0", "\u200b\u200b"):
            with self.subTest(title):
                self.start(422, title=title)
        run = self.weigh_all(self.start(), "32.151")
        for name in ("\u200b", "\u2060\u00ad", "Ma\0rl"):
            with self.subTest(name):
                body = {"uuid": str(uuid4()), "name": name}
                fault = self.post(f"/api/runs/{run['uuid']}/signatures", body, 422)["faults"][0]
                self.assertEqual(fault["path"], "name")


class NothingKeptThatCannotBeShown(AppCase):
    def test_a_figure_with_more_decimals_than_any_instrument(self) -> None:
        run = self.start()
        text = "31." + "4" * 28
        self.weigh(run, "vessel", text, status=422, confirmed=True)
        self.weigh(run, "vessel", "31.204")
        self.assertEqual(len(self.weigh(run, "vessel_sample", "32.861")["readings"]), 2)
        self.assertEqual(self.client.get(f"/api/runs/{run['uuid']}/csv").status_code, 200)

    def test_a_reading_whose_view_fails_is_not_kept(self) -> None:
        run = self.weigh_all(self.start())
        with (
            mock.patch("claykettle.service.laboratory.run_view", side_effect=ZeroDivisionError),
            self.assertLogs("claykettle", "ERROR"),
        ):
            body = {"uuid": str(uuid4()), "slot": "vessel_residue", "position": 1, "text": "32.151"}
            response = self.client.post(f"/api/runs/{run['uuid']}/readings", json=body)
        self.assertEqual(response.status_code, 500)
        self.assertIn("nothing was changed", response.text)
        self.assertEqual(len(self.get(f"/api/runs/{run['uuid']}")["readings"]), 2)

    def test_an_archive_is_kept_whole_or_told_file_by_file(self) -> None:
        """One file that breaks the program in the middle of an archive: what came before it is not kept unsaid."""
        kept = importing.import_run

        def import_run(visit: Any, run: Any) -> Any:
            if run.title == "bad":
                raise ZeroDivisionError
            return kept(visit, run)

        archive = zipped(run_bytes(title="first"), run_bytes(title="bad"), run_bytes(title="last"))
        with (
            mock.patch("claykettle.service.runs.files.import_run", import_run),
            self.assertLogs("claykettle", "ERROR"),
        ):
            files = self.client.post("/api/runs/import-archive", data=archive).get_json()["files"]
        self.assertEqual([bool(row["uuid"]) for row in files], [True, False, True])
        self.assertEqual(files[1]["faults"][0]["code"], "unexpected")
        self.assertEqual(sorted(row["title"] for row in self.get("/api/runs")["runs"]), ["first", "last"])


class OtherHosts(AppCase):
    """A page under another name that resolves to this machine reads and writes nothing here."""

    def test_another_name_is_refused(self) -> None:
        for host in ("evil.example", "evil.example:8617", "127.0.0.1.evil.example", "localhost.evil.example"):
            with self.subTest(host):
                for method, address in (("GET", "/api/runs"), ("GET", "/"), ("POST", "/api/runs")):
                    origin = {"Origin": f"http://{host}"}
                    response = self.client.open(address, method=method, headers={"Host": host} | origin)
                    self.assertEqual(response.status_code, 400, response.text)
                    self.assertEqual((response.json or {})["code"], "unknown-host")

    def test_the_names_of_this_machine_are_not(self) -> None:
        for host in ("127.0.0.1", "127.0.0.1:8617", "localhost:5173"):
            with self.subTest(host):
                client = self.signed_in(self.app, host=host.partition(":")[0])
                self.assertEqual(client.get("/api/runs", headers={"Host": host}).status_code, 200)

    def test_a_name_that_was_allowed_is_not(self) -> None:
        app = create_app(self.database, clock=self.clock, hosts=("kettle.college.example",))
        client = self.signed_in(app, host="kettle.college.example")
        self.assertEqual(client.get("/api/runs", headers={"Host": "kettle.college.example"}).status_code, 200)
        self.assertEqual(client.get("/api/runs", headers={"Host": "other.example"}).status_code, 400)

    def test_nobody_frames_the_page(self) -> None:
        headers = self.client.get("/api/runs").headers
        self.assertIn("frame-ancestors 'none'", headers["Content-Security-Policy"])
        self.assertEqual(headers["X-Frame-Options"], "DENY")
        # inside the room Practice stands what is rehearsed, and nobody else's page may hold it
        framed = self.client.get("/rehearsal/lab/1").headers
        self.assertIn("frame-ancestors 'self'", framed["Content-Security-Policy"])
        self.assertEqual(framed["X-Frame-Options"], "SAMEORIGIN")
