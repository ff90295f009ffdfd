"""The board of a class: what each page is told and what not, who is called, what an instructor does from it."""

from __future__ import annotations

from contextlib import contextmanager
from dataclasses import replace
from typing import Any, ClassVar
from unittest import mock
from urllib.parse import quote
from uuid import uuid4

from flask.testing import FlaskClient

from claykettle.core.run import evaluation as evaluating
from claykettle.service.lab.state import State
from claykettle.web.context import COOKIE
from tests.support.doors import secret_of
from tests.support.server import scene
from tests.web.test_classes import FOUR, ClassCase

SWAPPED = "46.378"


class LabCase(ClassCase):
    @scene
    def play(self) -> None:
        """A class of four benches that has begun an hour ago, two balances in the room."""
        super().play()
        self.more_benches(*FOUR)
        students = {self.benches()[1]: ["Ada Quill", "Bo Thrush"]}
        self.laid = self.lay_out(students=students, title="Zinc", starts="17:30", sample="1.7 g")
        self.number = self.laid["id"]
        self.runs = {place["bench"]: place["run"] for place in self.laid["places"]}

    def board(self, since: str = "", status: int = 200, client: FlaskClient | None = None) -> Any:
        """What has changed since."""
        path = f"/api/classes/{self.number}/changes?since={quote(since)}"
        response = (client or self.client).get(path)
        self.assertEqual(response.status_code, status, response.text)
        return response.json

    def card(self, bench: str, found: Any = None) -> Any:
        """The card of a bench."""
        return next(row for row in (found or self.board())["benches"] if row["name"] == bench)

    def typed(self, bench: str, slot: str, text: str, position: int = 1, status: int = 200, **more: Any) -> Any:
        """A figure typed at a bench."""
        return self.weigh({"uuid": self.runs[bench]}, slot, text, position, status, trial="1", **more)

    def done(self, bench: str, step: str, kind: str = "finished") -> Any:
        """A step marked at a bench."""
        body = {"uuid": str(uuid4()), "step": step, "kind": kind, "trial": "1"}
        return self.post(f"/api/runs/{self.runs[bench]}/steps", body)

    def loaded(self, bench: str) -> None:
        """Vessel and sample weighed."""
        self.done(bench, "fire")
        self.typed(bench, "vessel", "45.740")
        self.typed(bench, "vessel_sample", "47.520")

    def settled(self, bench: str, residue: str = "46.739", **more: Any) -> None:
        """A bench that heats to constant mass."""
        self.loaded(bench)
        for number in (1, 2):
            self.done(bench, f"heat#{number}")
            self.clock.move(minutes=11)
            self.typed(bench, "vessel_residue", residue, number, **more)

    def calls(self) -> list[tuple[str, str]]:
        """Code and bench of those who are called."""
        return [(row["code"], row["name"]) for row in self.board()["calls"]["go"]]

    def tablet(self, bench: str) -> FlaskClient:
        """A tablet that joined a bench of the class of now."""
        code = self.post("/api/class/code", {})["code"]
        client: FlaskClient = self.app.test_client()
        response = client.post("/api/join", json={"code": code, "bench": bench})
        self.assertEqual(204, response.status_code, response.text)
        return client

    def projector(self, answers: bool) -> FlaskClient:
        """Whoever has the board's link."""
        link = self.post("/api/class/board", {"answers": answers})["link"]
        client: FlaskClient = self.app.test_client()
        self.assertEqual(204, client.post("/door/board", json={"link": link}).status_code)
        return client


class WhatHasChanged(LabCase):
    def test_all_of_it_without_a_token_and_nothing_with_it(self) -> None:
        found = self.board()
        self.assertEqual(["Bench 1", *FOUR], [row["name"] for row in found["benches"]])
        self.assertEqual(["Ada Quill", "Bo Thrush"], self.card("China", found)["students"])
        self.assertEqual("2026-11-24T20:00:00Z", found["head"]["ends"])
        again = self.board(found["since"])
        self.assertEqual(found["since"], again["since"])
        self.assertEqual([], again["benches"])
        for part in ("head", "order", "calls", "scale", "room", "messages"):
            self.assertIsNone(again[part])

    def test_only_the_bench_that_did_something(self) -> None:
        since = self.board()["since"]
        self.loaded("Flint")
        found = self.board(since)
        self.assertEqual(["Flint"], [row["name"] for row in found["benches"]])
        self.assertEqual(4, len(found["order"]))
        self.assertEqual(["done"] * 3 + ["now"], self.card("Flint", found)["stair"][:4])

    def test_nothing_is_evaluated_to_tell_it(self) -> None:
        self.settled("Flint")
        since = self.board()["since"]
        self.typed("China", "vessel", "31.204")
        with mock.patch.object(evaluating, "evaluate_run", side_effect=AssertionError):
            self.board(since)
            self.board()

    def test_a_token_of_nobody_is_answered_with_all(self) -> None:
        for token in ("x", ";", "|", "1.2.3;abc|", "9" * 500, ",,,;|x", "1.1.0|nan", "☃"):
            with self.subTest(token):
                self.assertEqual(4, len(self.board(token)["benches"]))
        self.board("1" * 9000, 422)

    def test_a_class_of_very_many_runs_has_a_token_that_an_address_holds(self) -> None:
        versions = dict.fromkeys(range(1, 1001), "7.0")
        many = State(1, 1, "T", (), False, "always", 0, versions, "mark")
        self.assertLess(len(quote(many.token)), 4000)
        self.assertEqual((frozenset(), False), many.unseen(many.token))
        other = replace(many, versions={**many.versions, 3: "8.0"})
        self.assertEqual((frozenset(range(1, 1001)), True), other.unseen(many.token))
        few = replace(many, versions={1: "7.0", 2: "7.0"})
        self.assertEqual((frozenset({2}), True), replace(few, versions={1: "7.0", 2: "7.1"}).unseen(few.token))
        self.assertEqual((frozenset(), True), replace(few, mark="another").unseen(few.token))

    def test_a_class_that_is_not_there_or_anothers(self) -> None:
        self.get("/api/classes/99999/changes", 404)
        stranger = self.signed_in(self.app, "stranger")
        self.assertEqual(200, stranger.get(f"/api/classes/{self.number}/changes").status_code)
        other: FlaskClient = self.app.test_client()
        other.set_cookie(COOKIE, secret_of(self.laboratory, "elsewhere", owns=False), domain="localhost")
        self.assertEqual(403, other.get(f"/api/classes/{self.number}/changes").status_code)
        self.assertEqual(401, self.app.test_client().get(f"/api/classes/{self.number}/changes").status_code)

    def test_number_0_is_the_class_at_work(self) -> None:
        self.assertEqual(self.number, self.get("/api/classes/0/changes")["head"]["id"])

    def test_a_run_without_a_class_is_a_class_of_one_bench(self) -> None:
        self.clock.move(days=1)
        self.client = self.signed_in(self.app)
        self.start()
        found = self.get("/api/classes/0/changes")
        self.assertEqual(["Bench 1"], [row["name"] for row in found["benches"]])
        self.assertFalse(found["head"]["is_planned"])
        self.assertEqual("", found["head"]["ends"])

    def test_a_bench_that_drops_out_is_told(self) -> None:
        since = self.board()["since"]
        bench = next(place["bench_id"] for place in self.laid["places"] if place["bench"] == "Grog")
        self.post(f"/api/classes/{self.number}/places", {"bench": bench, "is_out": True})
        self.assertNotEqual(since, self.board(since)["since"])
        self.assertEqual("out", self.card("Grog")["doing"])

    def test_forty_benches(self) -> None:
        self.more_benches(*(f"Table {number}" for number in range(36)))
        laid = self.lay_out(title="All of them", starts="18:00")
        found = self.get(f"/api/classes/{laid['id']}/changes")
        self.assertEqual(40, len(found["order"]))
        again = self.get(f"/api/classes/{laid['id']}/changes?since={quote(found['since'])}")
        self.assertEqual([], again["benches"])


class WhoSeesWhat(LabCase):
    def test_a_tablet_sees_its_own_bench_and_nobody_is_called_there(self) -> None:
        self.settled("China", "46.500", confirmed=True)
        tablet = self.tablet("China")
        found = self.board(client=tablet)
        self.assertEqual(["China"], [row["name"] for row in found["benches"]])
        for part in ("calls", "scale", "room"):
            self.assertIsNone(found[part])
        self.assertEqual("", found["head"]["code"])
        # what others do is no news there
        self.loaded("Flint")
        self.assertEqual([], self.board(found["since"], client=tablet)["benches"])

    def test_a_tablet_of_another_class(self) -> None:
        tablet = self.tablet("China")
        other = self.lay_out(title="Later", starts="23:00")
        response = tablet.get(f"/api/classes/{other['id']}/changes")
        self.assertEqual(403, response.status_code)

    def test_a_projector_shows_no_answers_and_no_names(self) -> None:
        self.settled("China", "46.500", confirmed=True)
        with self.asked("Flint"):
            pass
        found = self.board(client=self.projector(False))
        for row in found["benches"]:
            self.assertEqual(
                ([], None, "", "", "", ""),
                tuple(row[name] for name in ("students", "level", "word", "asks", "against", "headline")),
            )
        self.assertIsNone(found["scale"])
        self.assertIsNone(found["calls"])
        self.assertNotIn("46.500", str(found))
        self.assertNotIn("Quill", str(found))
        shown = self.board(client=self.projector(True))
        self.assertIn("Quill", str(shown))
        self.assertIsNotNone(shown["scale"])
        self.assertIsNone(shown["calls"])

    def test_a_projector_or_a_tablet_changes_nothing(self) -> None:
        for client in (self.projector(True), self.tablet("China")):
            for path, body in (
                (
                    "calls",
                    {"uuid": str(uuid4()), "run": self.runs["China"], "code": "stop", "key": "k", "kind": "reached"},
                ),
                ("messages", {"uuid": str(uuid4()), "text": "hello"}),
                ("end", {"minutes": 10}),
            ):
                response = client.post(f"/api/classes/{self.number}/{path}", json=body)
                self.assertEqual(403, response.status_code, path)

    @contextmanager
    def asked(self, bench: str) -> Any:
        """A bench that was asked about a figure."""
        self.loaded(bench)
        self.done(bench, "heat#1")
        self.clock.move(minutes=11)
        self.typed(bench, "vessel_residue", SWAPPED, status=409)
        yield


class TwoAtOneHour(LabCase):
    """Two classes of one section at one hour: each has its own code, its own tablets and its own end."""

    BENCHES: ClassVar = {"A": ("Bench 1", "China"), "B": ("Flint", "Grog")}

    @scene
    def play(self) -> None:
        """Class A at the first two benches, class B at the other two."""
        super(LabCase, self).play()
        self.more_benches(*FOUR)
        standing = {"A": self.benches()[:2], "B": self.benches()[2:]}
        self.numbers = {
            name: self.lay_out(title=name, starts="17:30", sample="1.7 g", benches=benches)["id"]
            for name, benches in standing.items()
        }

    def door(self, name: str, status: int = 200) -> Any:
        """A class at its doors."""
        return self.get(f"/api/class?number={self.numbers[name]}", status)

    def code_of(self, name: str) -> str:
        """A code of a class."""
        return str(self.post(f"/api/class/code?number={self.numbers[name]}", {})["code"])

    def come(self, code: str, bench: str, status: int = 204) -> FlaskClient:
        """A tablet that joins, or tries to."""
        client: FlaskClient = self.app.test_client()
        response = client.post("/api/join", json={"code": code, "bench": bench})
        self.assertEqual(status, response.status_code, response.text)
        return client

    def records(self, client: FlaskClient, run: str) -> int:
        """How a weighing at a run is answered."""
        body = {"uuid": str(uuid4()), "slot": "vessel", "position": 1, "text": "31.204", "confirmed": True}
        return int(client.post(f"/api/runs/{run}/readings", json=body).status_code)

    def test_each_code_leads_to_the_benches_of_its_class(self) -> None:
        codes = {name: self.code_of(name) for name in ("A", "B")}
        for (name, code), other in zip(codes.items(), ("B", "A"), strict=True):
            typed = f"{code[:3]} {code[3:].lower()}"
            found = self.app.test_client().post("/api/join/benches", json={"code": typed}).json
            self.assertEqual((name, "17:30", list(self.BENCHES[name])), tuple(found.values()))
            self.come(code, self.BENCHES[name][0])
            self.come(code, self.BENCHES[other][0], 422)
        self.assertEqual(["Bench 1"], [row["bench"] for row in self.door("A")["tablets"]])
        self.assertEqual(["B"], [row["title"] for row in self.door("A")["beside"]])
        unknown = self.app.test_client().post("/api/join/benches", json={"code": "222222"})
        self.assertEqual((422, "code"), (unknown.status_code, unknown.json["faults"][0]["path"]))
        self.get("/api/class?number=99999", 404)

    def assert_untouched(self, gone: str, how: str) -> None:
        """Tablets of both are in; one class goes, and the other records on."""
        stays = "A" if gone == "B" else "B"
        codes = {name: self.code_of(name) for name in ("B", "A")}
        tablets = {name: self.come(codes[name], self.BENCHES[name][0]) for name in ("A", "B")}
        runs = {name: tablet.get("/api/runs").json["runs"][0]["uuid"] for name, tablet in tablets.items()}
        if how == "closed":
            self.post(f"/api/class/closed?number={self.numbers[gone]}", {"closed": True})
            self.assertEqual(403, self.records(tablets[gone], runs[gone]))
        else:
            self.assertEqual(200, self.client.delete(f"/api/classes/{self.numbers[gone]}").status_code)
            self.assertEqual([], self.door(stays)["beside"])
            self.door(gone, 404)
        self.come(codes[gone], self.BENCHES[gone][1], 422)
        self.assertIn(self.records(tablets[stays], runs[stays]), (200, 201))
        self.come(codes[stays], self.BENCHES[stays][1])
        self.assertEqual(200, tablets[stays].get("/api/classes/0/changes").status_code)

    def test_the_later_one_is_closed(self) -> None:
        self.assert_untouched("B", "closed")

    def test_the_earlier_one_is_closed(self) -> None:
        self.assert_untouched("A", "closed")

    def test_the_later_one_is_taken_back(self) -> None:
        self.assert_untouched("B", "taken back")

    def test_the_earlier_one_is_taken_back(self) -> None:
        self.assert_untouched("A", "taken back")
