"""An archive brings a record back whole into another database; what is wrong with one keeps no run out."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any
from urllib.parse import quote
from uuid import uuid4

from claykettle.service.shelf.shelf import first_start
from tests.support.demo import DemoCase
from tests.support.server import AppCase, empty, scene
from tests.support.tiers import amount, both

NAME = "record.jsonl"


def unzipped(data: bytes) -> dict[str, bytes]:
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def zipped(files: dict[str, bytes]) -> bytes:
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return target.getvalue()


class Archived(AppCase):
    def archive(self) -> bytes:
        return self.client.get("/api/runs/archive").data

    def send(self, data: bytes) -> Any:
        response = self.client.post("/api/runs/import-archive", data=data)
        self.assertEqual(response.status_code, 200, response.text)
        return response.get_json()["files"]

    def elsewhere(self) -> None:
        """Another database, as on another machine."""
        empty(self.database)
        self.laboratory = type(self.laboratory)(self.database, self.clock)
        self.laboratory.ask(first_start)
        self.app.extensions["claykettle"] = self.laboratory
        self.client = self.signed_in(self.app)

    def everything(self) -> dict[str, Any]:
        """What the pages show of every run, but for the time and what counts looks."""
        listed = self.get("/api/runs")
        rows = [
            *listed["runs"],
            *(self.get(f"/api/runs?older={quote(listed['older'])}")["runs"] if listed["older"] else []),
        ]
        runs = {f"{row['title']} {row['uuid']}": row["uuid"] for row in rows}
        return {
            name: {
                key: value
                for key, value in self.get(f"/api/runs/{uuid}").items()
                if key not in ("now", "version", "undo", "day")
            }
            | {"marks": self.get(f"/api/runs/{uuid}/steps"), "csv": self.client.get(f"/api/runs/{uuid}/csv").text}
            for name, uuid in runs.items()
        }


class OfTheDemo(Archived, DemoCase):
    def test_the_whole_demo_comes_back_as_it_was(self) -> None:
        run = next(row for row in self.get("/api/runs")["runs"] if "Borax from the glaze" in row["title"])
        for name in ("Kaolin", "Terra"):
            self.post(f"/api/runs/{run['uuid']}/signatures", {"uuid": str(uuid4()), "name": name})
        body = {"slot": "vessel_residue", "position": 3, "trial": "1", "reason": "cracked", "by": ""}
        self.post(f"/api/runs/{run['uuid']}/not-taken", body | {"uuid": str(uuid4())})
        today = self.get("/api/today")
        before, data = self.everything(), self.archive()
        self.elsewhere()
        self.assertEqual([(row["remark"], row["faults"]) for row in self.send(data)], [("", [])] * len(before))
        sections = {row["name"]: row["id"] for row in self.get("/api/sections")["sections"]}
        self.post("/api/sections/here", {"section": sections[today["section"]]})
        after = self.everything()
        self.assertEqual(after.keys(), before.keys())
        for name, row in before.items():
            with self.subTest(name):
                self.assertEqual(after[name].pop("csv").splitlines(), row.pop("csv").splitlines())
                self.assertEqual(after[name], row)
        self.assertEqual(self.get("/api/today")["slots"], today["slots"])
        self.assertEqual(
            {row["name"] for row in self.get("/api/today")["instruments"]},
            {row["name"] for row in today["instruments"]},
        )


class Whole(Archived):
    def test_what_is_here_already_becomes_a_copy_without_its_signatures(self) -> None:
        run = self.weigh_all(self.start(title="Zinc"), "32.134", "32.134")
        self.post(f"/api/runs/{run['uuid']}/signatures", {"uuid": str(uuid4()), "name": "Marl"})
        (row,) = self.send(self.archive())
        self.assertIn("kept as a copy", row["remark"])
        copy = self.get(f"/api/runs/{row['uuid']}")
        self.assertNotEqual(copy["uuid"], run["uuid"])
        self.assertEqual(copy["signatures"], [])
        self.assertEqual(copy["answer"], self.get(f"/api/runs/{run['uuid']}")["answer"])

    @both
    def test_two_hundred_runs_in_one_archive(self) -> None:
        """Every day a tenth of them."""
        many = amount(20, 200)
        for number in range(many):
            self.start(title=f"Run {number}")
        data = self.archive()
        self.elsewhere()
        rows = self.send(data)
        self.assertEqual(len(rows), many)
        self.assertEqual({row["remark"] for row in rows}, {""})


class Faulty(Archived):
    @scene
    def play(self) -> None:
        super().play()
        self.run_before = self.weigh_all(self.start(title="Zinc"), "32.134", "32.134")
        self.files = unzipped(self.archive())
        self.elsewhere()

    def sent_with(self, record: bytes | None) -> Any:
        files = {name: data for name, data in self.files.items() if name != NAME}
        (row,) = self.send(zipped(files if record is None else files | {NAME: record}))
        self.assertEqual(row["faults"], [])
        self.assertEqual(self.get(f"/api/runs/{row['uuid']}")["answer"]["second"], self.run_before["answer"]["second"])
        self.assertEqual(len(self.get("/api/runs")["runs"]), 1)
        return row

    def lines(self) -> list[Any]:
        return [json.loads(line) for line in self.files[NAME].splitlines()]

    def text(self, lines: list[Any]) -> bytes:
        return "\n".join(map(json.dumps, lines)).encode()

    def test_run_files_alone_are_opened_without_a_word(self) -> None:
        self.assertEqual(self.sent_with(None)["remark"], "")

    def test_a_record_of_another_version(self) -> None:
        lines = self.lines()
        lines[0]["version"] = 2
        self.assertIn("version 2; this program reads 1", self.sent_with(self.text(lines))["remark"])

    def test_a_record_that_is_cut_off_or_no_record(self) -> None:
        whole = self.files[NAME]
        for record in (b"", b"{", b"[]\n", whole[: len(whole) // 3], whole[: len(whole) - 200]):
            with self.subTest(record[:20]):
                self.elsewhere()
                self.assertIn("The run file alone was opened.", self.sent_with(record)["remark"])

    def test_a_record_that_says_otherwise_than_its_run_file(self) -> None:
        lines = self.lines()
        lines[1]["trials"][0]["readings"][0]["text"] = "31.104"
        self.assertIn("says otherwise than the run file", self.sent_with(self.text(lines))["remark"])

    def test_a_correction_of_a_row_that_is_not_there_and_a_field_that_nobody_knows(self) -> None:
        for change in ({"supersedes": str(uuid4())}, {"colour": "blue"}, {"text": "x" * 81}, {"at": "yesterday"}):
            with self.subTest(change):
                self.elsewhere()
                lines = self.lines()
                lines[1]["trials"][0]["readings"][-1].update(change)
                self.assertIn("The run file alone was opened.", self.sent_with(self.text(lines))["remark"])

    def test_a_record_that_cannot_be_evaluated_breaks_nothing(self) -> None:
        for key, value in (("method", "alchemy"), ("options", {"salt": "Xx"}), ("schools", {"vessel": "spoon"})):
            with self.subTest(key):
                self.elsewhere()
                lines = self.lines()
                lines[1][key] = value
                self.sent_with(self.text(lines))

    def test_a_house_that_nobody_could_have_typed_spoils_no_page(self) -> None:
        lines = self.lines()
        tool = lines[0]["instruments"][0]
        room = {
            "uuid": str(uuid4()), "section": "Class", "date": "2026-11-24", "day": "Practical", "slot": "barometer",
            "supersedes": None, "text": "952", "unit": "hPa", "instrument": "Barometer", "half_width": "0.5 hPa",
            "at": "2026-11-24T10:00:00Z", "by": "", "reason": "", "doubt": "",
        }  # fmt: skip
        odd: list[dict[str, Any]] = [
            {"instruments": [{**tool, "name": "Odd", "kind": "cauldron"}]},
            {"instruments": [{**tool, "name": "Odd", "half_width": "some"}]},
            {"rooms": [{**room, "text": "high"}]},
            {"rooms": [{**room, "slot": "mood"}]},
            {"rooms": [room], "elevations": {"Class": "up there"}},
            {"substances": [{
                "uuid": str(uuid4()), "formula": "Xx", "name": "Odd", "density": "", "hazards": ["none known"],
                "dissolved": "open", "solid": "open", "remarks": "", "source": "", "at": room["at"], "by": "",
            }]},
        ]  # fmt: skip
        for change in odd:
            with self.subTest(change):
                self.elsewhere()
                row = self.sent_with(self.text([{**lines[0], **change}, *lines[1:]]))
                self.assertIn("house cannot be kept", row["remark"])
                for page in ("/api/today", "/api/shelf", "/api/substances"):
                    self.get(page)

    def test_a_copy_too_must_say_what_its_run_file_says(self) -> None:
        self.assertEqual(self.sent_with(self.files[NAME])["remark"], "")
        lines = self.lines()
        lines[1]["trials"][0]["readings"][0]["text"] = "31.104"
        (row,) = self.send(zipped(self.files | {NAME: self.text(lines)}))
        self.assertIn("says otherwise than the run file", row["remark"])


class Told(Archived):
    def test_the_table_tells_what_was_not_taken_changed_and_taken_back(self) -> None:
        run = self.start(title="Told")
        address = f"/api/runs/{run['uuid']}"
        said = {"slot": "vessel", "position": 1, "trial": "1", "reason": "forgotten", "by": "Marl"}
        self.post(f"{address}/not-taken", said | {"uuid": str(uuid4())})
        body = {"uuid": str(uuid4()), "known": 0, "reason": "label found", "options": {"salt": "CuSO4"}}
        self.post(f"{address}/changes", body)
        seen = {"uuid": str(uuid4()), "trial": "1", "tag": "popping", "text": "", "by": ""}
        self.post(f"{address}/observations", seen)
        self.post(f"{address}/undo", {"uuid": str(uuid4()), "row": seen["uuid"], "reason": "", "by": ""})
        lines = self.client.get(f"{address}/csv").text.splitlines()
        by_kind = {line.split(",")[0]: line for line in lines}
        self.assertIn("forgotten", by_kind["not-taken"])
        self.assertIn("options.salt", by_kind["change"])
        self.assertIn("CuSO4", by_kind["change"])
        self.assertIn("ZnSO4", by_kind["change"])
        self.assertIn("popping", by_kind["taken-back"])
        self.assertNotIn("observation", by_kind)
