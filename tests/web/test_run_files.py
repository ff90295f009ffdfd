"""Run files over HTTP: several at once in and out, each refused one with its reasons."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any

from tests.support.runs import document
from tests.support.server import AppCase


def zipped(files: dict[str, bytes]) -> bytes:
    """A ZIP archive of these files."""
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return target.getvalue()


class Archives(AppCase):
    def send(self, data: bytes, status: int = 200) -> Any:
        response = self.client.post("/api/runs/import-archive", data=data)
        self.assertEqual(response.status_code, status, response.text)
        return response.get_json()

    def test_each_file_is_opened_or_refused_with_its_reasons(self) -> None:
        good = json.dumps(document(title="Good")).encode()
        bad = json.dumps(document({"vessel": "abc", "vessel_sample": "1 mL"}, title="Bad")).encode()
        report = self.send(zipped({"a.json": good, "folder/b.json": bad, "c.json": b"{", "d.json": b" " * 3_000_000}))
        rows = report["files"]
        self.assertEqual([row["name"] for row in rows], ["a.json", "folder/b.json", "c.json", "d.json"])
        self.assertEqual(rows[0]["title"], "Good")
        paths = [fault["path"] for fault in rows[1]["faults"]]
        self.assertEqual(paths, ["trials[0].readings.vessel", "trials[0].readings.vessel_sample"])
        self.assertEqual([row["faults"][0]["code"] for row in rows[2:]], ["json", "too-large"])
        self.assertEqual([run["title"] for run in self.get("/api/runs")["runs"]], ["Good"])

    def test_what_is_no_archive_or_too_much_of_one_is_refused(self) -> None:
        for data in (b"", b"PK\x03\x04 broken", b"{}", zipped({f"{n}.json": b"{}" for n in range(201)})):
            problem = self.send(data, 422)
            self.assertEqual(problem["faults"][0]["code"], "archive")

    def test_an_archive_that_is_locked_damaged_or_oddly_packed_is_refused_not_an_error(self) -> None:
        """Flag bit 0 means encrypted, method 99 is none that is read (APPNOTE 4.4.4 and 4.4.5, from memory)."""
        whole = zipped({"a.json": json.dumps(document(title="Good")).encode()})
        directory = whole.rindex(b"PK\x01\x02")
        locked, odd, damaged = bytearray(whole), bytearray(whole), bytearray(whole)
        locked[6] |= 1
        locked[directory + 8] |= 1
        odd[8] = odd[directory + 10] = 99
        damaged[directory // 2] ^= 0xFF
        for data in (locked, odd, damaged, whole[: len(whole) // 2]):
            problem = self.send(bytes(data), 422)
            self.assertEqual(problem["faults"][0]["code"], "archive")
            self.assertIn("pack it anew", problem["faults"][0]["message"])
        self.assertEqual(self.get("/api/runs")["runs"], [])

    def test_a_bomb_is_not_unpacked(self) -> None:
        """300 MB of spaces in some 300 kB: read up to the limit of a run file and refused by its size."""
        report = self.send(zipped({"bomb.json": b" " * 300_000_000}))
        self.assertEqual(report["files"][0]["faults"][0]["code"], "too-large")

    def test_several_runs_are_taken_along_and_opened_again(self) -> None:
        first = self.weigh_all(self.start(title="Zinc / one"), "32.134")
        second = self.start(title="Zinc two")
        self.start(title="Not chosen")
        response = self.client.get(f"/api/runs/archive?uuid={first['uuid']}&uuid={second['uuid']}")
        self.assertEqual(response.content_type, "application/zip")
        with zipfile.ZipFile(io.BytesIO(response.data)) as archive:
            self.assertEqual(archive.namelist(), ["001-zinc-one.json", "002-zinc-two.json", "record.jsonl"])
        self.assertEqual([row["title"] for row in self.send(response.data)["files"]], ["Zinc / one", "Zinc two"])
        everything = self.client.get("/api/runs/archive")
        with zipfile.ZipFile(io.BytesIO(everything.data)) as archive:
            self.assertEqual(len(archive.namelist()), 5 + 1)

    def test_a_chosen_run_that_is_not_here(self) -> None:
        self.get("/api/runs/archive?uuid=00000000-0000-4000-8000-000000000000", 404)


class Desk(AppCase):
    def test_a_formula_is_taken_apart(self) -> None:
        sheet = self.get("/api/formula?text=CuSO4.5H2O")["formula"]
        self.assertEqual((sheet["text"], sheet["molar_mass"]), ("CuSO4·5H2O", "249.68"))
        self.assertEqual(sheet["water"]["percent"], "36.08")

    def test_a_faulty_formula_is_told_with_its_place(self) -> None:
        for text, message in (
            ("Cu(SO4", "never closed"),
            ("cuso4", "capital letter"),
            ("", "empty"),
            ("(" * 900, "200"),
        ):
            problem = self.get(f"/api/formula?text={text}", 422)
            self.assertIn(message, problem["title"])


class Working(AppCase):
    def test_the_pages_of_a_run(self) -> None:
        run = self.weigh_all(self.start(), "32.134", "32.134")
        page = self.get(f"/api/runs/{run['uuid']}/working")["trials"][0]
        self.assertEqual(page["lines"][0]["substituted"], "32.861 g − 31.204 g")
        shares = [row["share"] for row in page["budget"] if row["result"] == "water_ratio"]
        self.assertAlmostEqual(sum(shares), 1)


class Suspects(AppCase):
    def test_the_suspects_of_a_run_and_a_replayed_dose(self) -> None:
        run = self.weigh_all(self.start(options={"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}), "32.180", "32.179")
        found = self.get(f"/api/runs/{run['uuid']}/suspects")["found"]
        self.assertEqual((found["key"], found["expected"]), ("water_ratio", 7))
        first = found["suspects"][0]
        self.assertEqual(first["standing"], "believable")
        replayed = self.get(f"/api/runs/{run['uuid']}/suspects/replay?code={first['code']}&dose={first['dose']}")
        self.assertAlmostEqual(replayed["result"], found["measured"], places=2)
        self.assertEqual(self.get(f"/api/runs/{run['uuid']}/suspects?expect=6")["found"]["expected"], 6)

    def test_what_is_missing_or_wrong_is_said(self) -> None:
        run = self.start()
        self.assertIn("no result yet", self.get(f"/api/runs/{run['uuid']}/suspects", 422)["title"])
        run = self.weigh_all(run, "32.134")
        problem = self.get(f"/api/runs/{run['uuid']}/suspects?expect=abc", 422)
        self.assertEqual(problem["faults"][0]["path"], "expect")


class EquationDesk(AppCase):
    def test_an_equation_is_balanced_and_its_faults_are_told(self) -> None:
        sheet = self.post("/api/equation", {"text": "Mg + O2 -> MgO", "given": {"Mg": "4.86 g"}})["sheet"]
        self.assertEqual((sheet["text"], sheet["lines"][2]["mass"]), ("2 Mg + O2 -> 2 MgO", "8.059"))
        problem = self.post("/api/equation", {"text": "Mg -> MgO"}, 422)
        self.assertIn("O stands only behind the arrow", problem["title"])
