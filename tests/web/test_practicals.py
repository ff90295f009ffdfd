"""Practicals kept version by version, shared, compared, taken along and brought back; rosters over HTTP."""

from __future__ import annotations

import json
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from uuid import uuid4

from claykettle.formats.practical_file import read_practical
from claykettle.formats.roster import read_roster
from claykettle.launch.exporting import export_to
from claykettle.web.context import COOKIE
from tests.support.classes import ZINC, PrepareCase
from tests.support.doors import secret_of

NAMED = ZINC | {"name": "Water of zinc sulfate"}


class PracticalCase(PrepareCase):
    def keep(self, document: dict[str, Any], status: int = 201, **more: Any) -> Any:
        """Keep a practical."""
        return self.post("/api/practicals", {"document": document} | more, status)

    def colleague(self) -> Any:
        """A client of somebody with a section of their own."""
        client = self.app.test_client()
        client.set_cookie(COOKIE, secret_of(self.laboratory, "colleague", owns=False), domain="localhost")
        client.post("/api/sections", json={"name": "Another section"})
        return client

    def listed(self) -> list[Any]:
        """The practicals that one may use."""
        rows: list[Any] = self.get("/api/practicals")["practicals"]
        return rows


class Versions(PracticalCase):
    def test_a_version_is_kept_whole_and_never_changes(self) -> None:
        first = self.keep(NAMED)
        self.assertEqual(first["number"], 1)
        self.assertTrue(first["document"]["procedure"]["steps"])
        second = self.keep(first["document"] | {"trials": 3}, practical=first["id"], base=1, note="a third trial")
        self.assertEqual(second["number"], 2)
        self.assertEqual(self.get(f"/api/practicals/{first['id']}?version=1")["document"], first["document"])
        [row] = self.listed()
        self.assertEqual([one["note"] for one in row["versions"]], ["", "a third trial"])
        self.assertTrue(row["versions"][1]["by"])

    def test_the_same_again_is_no_new_version(self) -> None:
        first = self.keep(NAMED)
        self.assertEqual(self.keep(first["document"], practical=first["id"], base=1)["number"], 1)

    def test_of_two_who_edit_one_the_second_is_told_and_loses_nothing(self) -> None:
        first = self.keep(NAMED)
        self.keep(first["document"] | {"trials": 3}, practical=first["id"], base=1)
        problem = self.keep(first["document"] | {"trials": 1}, 409, practical=first["id"], base=1)
        self.assertIn("version 2", problem["title"])
        own = self.keep(first["document"] | {"trials": 1})
        self.assertNotEqual(own["id"], first["id"])

    def test_ten_at_once_make_one_second_version(self) -> None:
        first = self.keep(NAMED)

        def one(trials: int) -> int:
            client = self.signed_in(self.app)
            body = {"document": first["document"] | {"trials": trials}, "practical": first["id"], "base": 1}
            return client.post("/api/practicals", json=body).status_code

        with ThreadPoolExecutor(5) as pool:
            found = list(pool.map(one, range(3, 13)))
        self.assertEqual(sorted(found), [201, *[409] * 9])
        self.assertEqual(len(self.listed()[0]["versions"]), 2)

    def test_a_class_keeps_the_version_that_it_began_with(self) -> None:
        first = self.keep(NAMED)
        body = {"uuid": str(uuid4()), "wish": self.wish(first["document"]), "practical": first["id"], "version": 1}
        laid = self.post("/api/classes", body, 201)
        document = first["document"]
        document["procedure"]["steps"][0]["title"] = "Something else entirely"
        self.keep(document, practical=first["id"], base=1)
        found = self.get(f"/api/classes/{laid['id']}")
        self.assertEqual(found["version"], 1)
        self.assertNotIn("Something else entirely", json.dumps(found["plan"]))
        self.assertNotIn(
            "Something else entirely", json.dumps(self.get(f"/api/runs/{laid['places'][0]['run']}")["steps"])
        )


class Compared(PracticalCase):
    def test_what_changed_is_told_by_name(self) -> None:
        first = self.keep(NAMED)
        document = json.loads(json.dumps(first["document"]))
        steps = document["procedure"]["steps"]
        steps[0]["say"] = "Heat it for six minutes."
        steps.insert(1, {"id": "show", "title": "Show the instructor", "say": "Before it is weighed."})
        document["before"] = [{"ask": "How much water?", "kind": "text"}]
        self.keep(document | {"trials": 3}, practical=first["id"], base=1)
        found = self.get(f"/api/practicals/{first['id']}/changes?before=1&after=2")["lines"]
        told = {(row["where"], row["before"], row["after"]) for row in found}
        self.assertIn(("trials", "2", "3"), told)
        self.assertIn(("procedure › steps", "", "Show the instructor"), told)
        self.assertIn(("before", "", "How much water?"), told)
        self.assertTrue(any(row["where"] == "procedure › steps › fire › say" for row in found), found)
        # the words of that step once more: those that it has where a hot plate heats
        self.assertEqual(len(found), 4)

    def test_a_version_that_is_not_there_is_told(self) -> None:
        first = self.keep(NAMED)
        self.get(f"/api/practicals/{first['id']}/changes?before=1&after=7", 404)


class Shared(PracticalCase):
    def test_a_colleague_sees_it_once_it_is_shared_and_changes_only_their_own(self) -> None:
        first = self.keep(NAMED)
        other = self.colleague()
        self.assertEqual(other.get("/api/practicals").json["practicals"], [])
        self.assertEqual(other.get(f"/api/practicals/{first['id']}").status_code, 403)
        self.post(f"/api/practicals/{first['id']}/sharing", {"is_shared": True})
        [row] = other.get("/api/practicals").json["practicals"]
        self.assertFalse(row["is_mine"])
        document = other.get(f"/api/practicals/{first['id']}").json["document"]
        body = {"document": document | {"trials": 5}, "practical": first["id"], "base": 1}
        self.assertEqual(other.post("/api/practicals", json=body).status_code, 403)
        self.assertEqual(other.post("/api/practicals", json={"document": document}).status_code, 201)
        self.assertEqual(other.delete(f"/api/practicals/{first['id']}").status_code, 403)

    def test_one_that_is_offered_no_more_is_still_read_by_its_class(self) -> None:
        first = self.keep(NAMED)
        body = {"uuid": str(uuid4()), "wish": self.wish(first["document"]), "practical": first["id"], "version": 1}
        laid = self.post("/api/classes", body, 201)
        self.client.delete(f"/api/practicals/{first['id']}")
        self.assertEqual(self.listed(), [])
        self.assertEqual(self.get(f"/api/classes/{laid['id']}")["version"], 1)


class Files(PracticalCase):
    def test_it_comes_back_as_it_went(self) -> None:
        first = self.keep(NAMED)
        file = self.client.get(f"/api/practicals/{first['id']}/file")
        self.assertIn("water-of-zinc-sulfate.practical.json", file.headers["Content-Disposition"])
        back = self.client.post("/api/practicals/file", data=file.get_data())
        self.assertEqual(back.status_code, 201, back.text)
        self.assertEqual(back.json["document"], first["document"])
        self.assertNotEqual(back.json["id"], first["id"])

    def test_one_of_a_newer_version_is_refused_in_a_sentence(self) -> None:
        later = NAMED | {"format": "clay-kettle/practical", "version": 2}
        response = self.client.post("/api/practicals/file", data=json.dumps(later))
        self.assertEqual(response.status_code, 422)
        self.assertIn("newer", response.json["faults"][0]["message"])

    def test_what_is_no_practical_is_refused_with_its_path(self) -> None:
        for data, path in (
            (b"", ""),
            (b"[]", ""),
            (json.dumps(NAMED | {"format": "clay-kettle/practical", "version": 1, "colour": 1}).encode(), "colour"),
        ):
            with self.subTest(data=data[:20]):
                response = self.client.post("/api/practicals/file", data=data)
                self.assertEqual(response.status_code, 422)
                self.assertEqual(response.json["faults"][0]["path"], path)

    def test_one_whose_reading_has_no_step_any_more_is_refused(self) -> None:
        document = self.keep(NAMED)["document"]
        steps = [step for step in document["procedure"]["steps"] if step.get("id") != "weigh_vessel"]
        problem = self.keep(document | {"procedure": document["procedure"] | {"steps": steps}}, 422)
        self.assertTrue(any("procedure" in row["path"] for row in problem["faults"]), problem["faults"])

    def test_one_without_a_name_is_refused_at_it(self) -> None:
        problem = self.keep(ZINC, 422)
        self.assertEqual([row["path"] for row in problem["faults"]], ["name"])


class Rosters(PracticalCase):
    def put(self, names: list[str], status: int = 200) -> Any:
        """Keep the roster."""
        response = self.client.put("/api/roster", json={"names": names})
        self.assertEqual(response.status_code, status, response.text)
        return response.json

    def names(self) -> list[str]:
        """The roster."""
        return [row["name"] for row in self.get("/api/roster")["students"]]

    def test_typed_pasted_and_out_of_a_list_and_back(self) -> None:
        self.put(["Ada Quill", " Bo  Thrush", ""])
        self.assertEqual(self.names(), ["Ada Quill", "Bo Thrush"])
        data = self.client.get("/api/roster.csv").get_data()
        self.put(["Cy Wren"])
        self.assertEqual(self.names(), ["Cy Wren"])
        response = self.client.post("/api/roster/file", data=data)
        self.assertEqual(response.status_code, 200, response.text)
        told = {"names": ["Ada Quill", "Bo Thrush"], "new": ["Ada Quill", "Bo Thrush"], "missing": ["Cy Wren"]}
        self.assertEqual(response.json, told)
        # what is read is shown first: the roster is as it was until somebody saves it
        self.assertEqual(self.names(), ["Cy Wren"])
        self.put(response.json["names"])
        self.assertEqual(self.names(), ["Ada Quill", "Bo Thrush"])

    def test_a_double_name_changes_nothing(self) -> None:
        self.put(["Ada Quill"])
        problem = self.put(["Bo Thrush", "bo thrush"], 422)
        self.assertEqual(problem["faults"][0]["path"], "names[1]")
        self.assertEqual(self.names(), ["Ada Quill"])

    def test_who_is_taken_off_stays_in_the_classes_that_were_held(self) -> None:
        bench = self.benches()[0]
        body = {"uuid": str(uuid4()), "wish": self.wish(), "students": {bench: ["Ada Quill"]}}
        laid = self.post("/api/classes", body, 201)
        self.put(["Bo Thrush"])
        self.assertEqual(self.get(f"/api/classes/{laid['id']}")["places"][0]["students"], ["Ada Quill"])

    def test_a_colleague_has_a_roster_of_their_own(self) -> None:
        self.put(["Ada Quill"])
        self.assertEqual(self.colleague().get("/api/roster").json["students"], [])


class TakenOut(PracticalCase):
    def test_an_export_holds_every_version_the_roster_and_the_classes(self) -> None:
        first = self.keep(NAMED)
        self.keep(first["document"] | {"trials": 3}, practical=first["id"], base=1)
        bench = self.benches()[0]
        body = {"uuid": str(uuid4()), "wish": self.wish(first["document"]), "students": {bench: ["Ada Quill"]}}
        laid = self.post("/api/classes", body, 201)
        with TemporaryDirectory() as folder:
            target = Path(folder) / "out"
            export_to(self.laboratory, target)
            for number in (1, 2):
                file = (target / f"practicals/{first['id']}-{number}.practical.json").read_bytes()
                self.assertEqual(read_practical(file).trials, number + 1)
            [roster] = (target / "rosters").iterdir()
            self.assertEqual(read_roster(roster.read_bytes()), ["Ada Quill"])
            told = json.loads((target / f"classes/{laid['id']}.json").read_text())
            self.assertEqual(told["places"], [{"bench": "Bench 1", "students": ["Ada Quill"], "is_out": False}])
