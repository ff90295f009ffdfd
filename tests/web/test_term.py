"""A term taken along as one open package, checked by the format's own validator, and read back by another house."""

from __future__ import annotations

import io
import json
import re
import tempfile
import warnings
import zipfile
from dataclasses import replace
from pathlib import Path
from typing import Any
from unittest import mock
from uuid import uuid4

import rocrate
from rocrate_validator import models, services
from rocrate_validator.utils.http import HttpRequester
from sqlalchemy import text

from claykettle.service.doors.sections import new_section
from claykettle.service.shelf.shelf import first_start, open_house
from claykettle.service.visit import Visit
from tests.support.doors import TEACHER, account_of
from tests.support.server import empty, scene
from tests.web.test_desk import AFTER, DeskCase
from tests.web.test_revealing import OWN

CONTEXT = (Path(rocrate.__file__).parent / "data" / "ro-crate.jsonld").read_text(encoding="utf-8")
"""The specification's own context, as the library brings it: the validator asks for it, and no network is asked."""


class _Answer:
    status_code, ok, headers = 200, True, {"Content-Type": "application/ld+json"}
    text, content = CONTEXT, CONTEXT.encode()

    def json(self) -> Any:
        """The context."""
        return json.loads(CONTEXT)


class TermCase(DeskCase):
    @scene
    def play(self) -> None:
        """A class with a sheet marked by a person and given back, an answer, a message, and signatures."""
        super().play()
        self.settled("Flint")
        self.settled("Grog", "46.860")
        self.hand_in(student="Ada Quill", claims=OWN | {"water_mass": "0.871 g"})
        self.reply("low", place="after", number=1, ask=AFTER[0]["ask"], trial="1", student="Ada Quill")
        self.mark(marks=1, note="half of it")
        self.post(
            f"/api/classes/{self.number}/given-back", {"uuid": str(uuid4()), "sheets": [self.sheet()["uuid"]]}, 200
        )
        self.post(f"/api/classes/{self.number}/signatures", {"uuid": str(uuid4()), "name": "Hana Birch"}, 200)

    def package(self, since: str = "2020-01-01", until: str = "2030-12-31") -> bytes:
        """The term."""
        response = self.client.get(f"/api/search/term?since={since}&until={until}")
        self.assertEqual(200, response.status_code)
        return response.data

    def another_house(self) -> None:
        """Everything is gone but the database itself."""
        empty(self.database)
        self.laboratory.ask(first_start)
        self.client = self.signed_in(self.app)

    def bring(self, data: bytes, status: int = 200) -> Any:
        """Open it."""
        response = self.client.post("/api/runs/import-archive", data=data)
        self.assertEqual(status, response.status_code, response.text)
        return response.json


class TakenAlong(TermCase):
    def test_the_format_s_own_validator_finds_nothing(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            with zipfile.ZipFile(io.BytesIO(self.package())) as archive:
                archive.extractall(folder)
            settings = services.ValidationSettings(
                rocrate_uri=folder, profile_identifier="ro-crate-1.3", requirement_severity=models.Severity.REQUIRED
            )
            asked = mock.Mock(return_value=_Answer())
            with mock.patch.multiple(HttpRequester, create=True, get=asked, head=asked), warnings.catch_warnings():
                # of the validator's own libraries, on their own ways
                warnings.simplefilter("ignore")
                found = services.validate(settings)
            self.assertEqual([], [row.message for row in found.get_issues()])
            self.assertEqual({"https://w3id.org/ro/crate/1.3/context"}, {call.args[0] for call in asked.call_args_list})

    def test_every_file_is_described_and_what_is_described_is_there(self) -> None:
        with zipfile.ZipFile(io.BytesIO(self.package())) as archive:
            names = set(archive.namelist()) - {"ro-crate-metadata.json"}
            graph = json.loads(archive.read("ro-crate-metadata.json"))["@graph"]
        files = {row["@id"]: row for row in graph if row["@type"] == "File"}
        self.assertEqual(names, set(files))
        kinds = {name.partition("/")[0] for name in names}
        self.assertEqual({"runs", "csv", "reports", "practicals", "record.jsonl", "classes.jsonl"}, kinds)
        for row in files.values():
            self.assertTrue(row["name"])
            self.assertIn("/", row["encodingFormat"])

    def test_days_without_anything_and_the_wrong_way_round_are_refused_at_their_place(self) -> None:
        for since, until, code in (("2020-01-01", "2020-12-31", "nothing"), ("2030-01-01", "2020-01-01", "order")):
            fault = self.get(f"/api/search/term?since={since}&until={until}", 422)["faults"][0]
            self.assertEqual((code, "until"), (fault["code"], fault["path"]))
        self.assertEqual(403, self.flint.get("/api/search/term?since=2020-01-01&until=2030-01-01").status_code)


class OfAStudent(TermCase):
    def test_everything_that_is_kept_of_them_is_one_document(self) -> None:
        found = self.get("/api/search/student?name=Ada%20Quill")
        self.assertEqual(("clay-kettle/student", "Ada Quill"), (found["format"], found["name"]))
        self.assertEqual(["Zinc"], [row["class"] for row in found["classes"]])
        (sheet,) = found["sheets"]
        self.assertEqual("0.871 g", sheet["claims"]["water_mass"])
        self.assertEqual(
            [("water_ratio", 1, "half of it")], [(row["line"], row["marks"], row["note"]) for row in sheet["marks"]]
        )
        self.assertEqual(["low"], [row["text"] for row in found["answers"]])
        self.assertEqual([], self.get("/api/search/student?name=Bo%20Thrush")["sheets"])

    def test_what_they_changed_and_took_back_is_among_it(self) -> None:
        path = f"/api/runs/{self.runs['Flint']}"
        seen = self.flint.get(path).json
        body = {
            "uuid": str(uuid4()), "known": len(seen["changes"]), "reason": "another label",
            "options": seen["options"] | {"max_ratio": 9}, "by": "Ada Quill",
        }  # fmt: skip
        self.assertEqual(200, self.flint.post(f"{path}/changes", json=body).status_code)
        (change,) = self.get("/api/search/student?name=Ada%20Quill")["changes"]
        self.assertEqual(("options.max_ratio", 9), (change["what"], change["after"]))

    def test_of_nobody_there_is_nothing_and_a_tablet_gets_none(self) -> None:
        self.get("/api/search/student?name=Nobody", 404)
        self.get("/api/search/student?name=", 422)
        self.assertEqual(403, self.flint.get("/api/search/student?name=Ada%20Quill").status_code)


class BroughtBack(TermCase):
    def test_another_house_reads_it_back_whole(self) -> None:
        told = self.of_class("marking"), self.of_class("signatures"), self.of_class("table")
        first = {row["uuid"] for row in self.get("/api/runs")["runs"]}
        data = self.package()
        self.another_house()
        found = self.bring(data)
        self.assertEqual([], [row["faults"] for row in found["files"] if row["faults"]])
        self.assertEqual([], [row["remark"] for row in found["files"] if row["remark"]])
        self.assertTrue(any("the class is back" in row for row in found["also"]), found["also"])
        self.assertTrue(any("the practical is back" in row for row in found["also"]), found["also"])
        again = {row["run"]["uuid"] for row in self.get("/api/search")["runs"]}
        self.assertEqual(first, again)
        self.number = self.get("/api/search?words=zinc")["classes"][0]["id"]
        marking, signatures, table = self.of_class("marking"), self.of_class("signatures"), self.of_class("table")
        for ours, theirs in zip(self.plain(told[0])["benches"], self.plain(marking)["benches"], strict=True):
            self.assertEqual(ours, theirs)
        self.assertEqual(told[1]["fingerprint"], signatures["fingerprint"])
        self.assertEqual({"signed"}, {row["standing"] for row in signatures["benches"] if row["standing"] != "empty"})
        self.assertEqual([row["found"] for row in told[2]["rows"]], [row["found"] for row in table["rows"]])

    def test_a_house_that_was_just_made_has_no_bench_and_reads_it_back_whole(self) -> None:
        """As a real one is: its first account, a section by name, and nothing else."""
        data = self.package()
        first = {row["uuid"] for row in self.get("/api/runs")["runs"]}
        empty(self.database)
        self.laboratory.ask(open_house)
        self.laboratory.ask(account_of, TEACHER)
        self.laboratory.ask(self.own_section)
        self.client = self.signed_in(self.app)
        found = self.bring(data)
        self.assertEqual(
            [], [(row["faults"], row["remark"]) for row in found["files"] if row["faults"] or row["remark"]]
        )
        self.assertEqual(first, {row["run"]["uuid"] for row in self.get("/api/search")["runs"]})
        self.assertFalse(any("copies" in row for row in found["also"]), found["also"])

    @staticmethod
    def own_section(visit: Visit) -> None:
        account = account_of(visit, TEACHER)
        new_section(replace(visit, caller=replace(visit.caller, account=account.id)), "Evening class")

    def test_a_run_file_alone_opens_in_a_house_without_a_bench(self) -> None:
        run = next(row for row in self.get("/api/runs")["runs"] if row["bench"] == "Flint")
        file = self.client.get(f"/api/runs/{run['uuid']}/run-file").data
        empty(self.database)
        self.laboratory.ask(open_house)
        self.laboratory.ask(account_of, TEACHER)
        self.laboratory.ask(self.own_section)
        self.client = self.signed_in(self.app)
        for _ in range(2):
            answer = self.client.post("/api/runs/import", data=file)
            self.assertEqual((201, "Bench 1"), (answer.status_code, answer.json["bench"]), answer.text)
            # and where all benches of the room are out of use
            with self.database.engine.begin() as connection:
                connection.execute(text("UPDATE bench SET retired = 1"))

    def plain(self, view: Any) -> Any:
        """Without the numbers by which a database knows its rows."""
        return json.loads(re.sub(r'"(id|bench)": \d+', r'"\1": 0', json.dumps(view)))

    def test_opened_twice_nothing_is_doubled(self) -> None:
        data = self.package()
        self.another_house()
        self.bring(data)
        number = self.get("/api/search?words=zinc")["classes"][0]["id"]
        before = self.get(f"/api/classes/{number}/marking")
        found = self.bring(data)
        self.assertTrue(any("is here already" in row for row in found["also"]))
        self.assertEqual(before["handed"], self.get(f"/api/classes/{number}/marking")["handed"])
        self.assertEqual(1, len(self.get("/api/search?words=zinc")["classes"]))

    def test_a_package_cut_in_half_is_refused_in_words(self) -> None:
        data = self.package()
        for cut in (data[: len(data) // 2], data[:-40], b"PK"):
            with self.subTest(len(cut)):
                self.assertEqual("archive", self.bring(cut, 422)["faults"][0]["code"])

    def test_a_path_that_climbs_out_opens_nothing(self) -> None:
        for path in (
            "../../evil.json",
            "/etc/evil.json",
            "runs/../../evil.json",
            "C:evil.json",
            "runs\\..\\..\\x.json",
        ):
            held = io.BytesIO(self.package())
            with zipfile.ZipFile(held, "a") as archive:
                archive.writestr(path, "{}")
            with self.subTest(path):
                told = self.bring(held.getvalue(), 422)["faults"][0]
                self.assertEqual("archive", told["code"])
                self.assertIn("leads out", told["message"])

    def test_classes_that_say_nonsense_keep_the_package_out(self) -> None:
        held = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(self.package())) as whole, zipfile.ZipFile(held, "w") as archive:
            for row in whole.infolist():
                text = whole.read(row)
                archive.writestr(row.filename, b'{"kind": "class"}\n' if row.filename == "classes.jsonl" else text)
        self.assertIn("Line 1 of the classes", self.bring(held.getvalue(), 422)["faults"][0]["message"])
