"""The board of a class: what each page is told and what not, who is called, what an instructor does from it."""

from __future__ import annotations

from contextlib import contextmanager
from dataclasses import replace
from datetime import timedelta
from typing import Any, ClassVar
from unittest import mock
from urllib.parse import quote
from uuid import uuid4

import segno
from flask.testing import FlaskClient

from claykettle.core.run import evaluation as evaluating
from claykettle.service.lab import words
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
        for token in ("x", ";", "|", "0.2.3;abc|", "9" * 500, ",,,;|x", "0.1.0|nan", "☃"):
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


class TwoAtOneHour(ClassCase):
    """Two classes in one room at one hour; one of them is taken back, and the other does not notice."""

    def goes_on(self, kept: int) -> None:
        self.more_benches(*FOUR)
        benches = self.benches()
        titles = ("Ours", "Theirs")
        laid = [
            self.lay_out(title=title, starts="17:30", sample="1.7 g", benches=some)
            for title, some in zip(titles, (benches[:2], benches[2:]), strict=True)
        ]
        gone = self.client.delete(f"/api/classes/{laid[1 - kept]['id']}")
        self.assertEqual(200, gone.status_code, gone.text)
        given = self.post("/api/class/code", {})
        self.assertEqual((titles[kept], False), (given["title"], given["is_closed"]))
        place = laid[kept]["places"][0]
        tablet = self.app.test_client()
        joined = tablet.post("/api/join", json={"code": given["code"], "bench": place["bench"]})
        self.assertEqual(204, joined.status_code, joined.text)
        body = {"uuid": str(uuid4()), "slot": "vessel", "position": 1, "text": "45.012", "trial": "1"}
        self.assertEqual(200, tablet.post(f"/api/runs/{place['run']}/readings", json=body).status_code)

    def test_the_later_one_is_taken_back(self) -> None:
        self.goes_on(0)

    def test_the_earlier_one_is_taken_back(self) -> None:
        self.goes_on(1)


class GoNow(LabCase):
    def test_nobody_is_called_before_it_begins_nor_while_all_goes_well(self) -> None:
        self.assertEqual([], self.board()["calls"]["go"])
        self.assertEqual("Four benches go well.", self.board()["calls"]["said"])

    def test_a_figure_that_is_asked_about_is_called_until_it_is_answered(self) -> None:
        self.loaded("Flint")
        self.done("Flint", "heat#1")
        self.clock.move(minutes=11)
        since = self.board()["since"]
        self.typed("Flint", "vessel_residue", SWAPPED, status=409)
        found = self.board(since)
        self.assertIn("more than all the water", self.card("Flint", found)["asks"])
        self.assertEqual([("doubt", "Flint")], self.calls())
        # the same typed once more is no other thing, the right figure ends it
        self.typed("Flint", "vessel_residue", "46.739")
        self.assertEqual("", self.card("Flint")["asks"])
        self.assertEqual([], self.calls())

    def test_an_impossible_figure_kept_all_the_same_is_a_stop_with_what_to_say(self) -> None:
        self.loaded("Flint")
        self.done("Flint", "heat#1")
        self.clock.move(minutes=11)
        self.typed("Flint", "vessel_residue", SWAPPED, confirmed=True)
        call = self.board()["calls"]["go"][0]
        self.assertEqual(("stop", "Flint", self.runs["Flint"]), (call["code"], call["name"], call["run"]))
        self.assertTrue(call["reason"].startswith("1.142 g was lost"), call)
        self.assertIn("Did anything jump out of the dish?", call["say"])
        self.assertIn("0.36", call["say"])

    def test_a_result_off_the_label_is_looked_at_and_an_honest_one_is_not(self) -> None:
        self.settled("Flint", "46.739")
        self.settled("Grog", "46.806")
        self.assertEqual([("look", "Grog")], [row for row in self.calls() if row[0] == "look"])
        say = next(row["say"] for row in self.board()["calls"]["go"] if row["name"] == "Grog")
        self.assertIn("“", say)

    def test_time_calls_by_itself_and_the_token_knows_when(self) -> None:
        self.loaded("Flint")
        self.done("Flint", "heat#1", "started")
        since = self.board()["since"]
        self.clock.move(seconds=50)
        self.assertIsNone(self.board(since)["calls"])
        # it says how many minutes by now, so that it is told anew once a minute
        self.clock.move(minutes=6)
        self.assertEqual([], self.board(since)["calls"]["go"])
        self.clock.move(minutes=2, seconds=10)
        found = self.board(since)
        self.assertEqual("time", found["calls"]["go"][0]["code"])
        self.assertEqual("Heated, round 1: 1 min over its time.", found["calls"]["go"][0]["reason"])

    def test_at_most_three_and_how_many_more(self) -> None:
        for bench in ("Bench 1", *FOUR):
            self.loaded(bench)
            self.done(bench, "heat#1", "started")
        self.clock.move(minutes=10)
        found = self.board()["calls"]
        self.assertEqual((3, 1), (len(found["go"]), found["more"]))

    def test_done_long_before_the_end_is_told_for_a_bench_that_is_done(self) -> None:
        laid = self.lay_out(title="Short", starts="17:30", practical={**_ZINC, "trials": 1}, sample="1.7 g")
        self.number, self.runs = laid["id"], {row["bench"]: row["run"] for row in laid["places"]}
        self.settled("Flint")
        self.done("Flint", "set_aside")
        self.assertIn(("early", "Flint"), self.calls())
        self.assertEqual("done", self.card("Flint")["doing"])

    def test_a_reason_that_is_no_verdict_is_said_to_its_end(self) -> None:
        self.post("/api/today/instruments", {"kind": "balance", "name": "Balance B", "half_width": "0.001 g"})
        laid = self.lay_out(title="Two balances", starts="17:30", room={"balance": 2}, sample="1.7 g")
        self.number, self.runs = laid["id"], {row["bench"]: row["run"] for row in laid["places"]}
        # Bench 1 and Flint share a balance; the other one's benches have not come so far
        for bench in ("Bench 1", "Flint"):
            self.done(bench, "fire")
            self.clock.move(seconds=1)
        self.clock.move(minutes=6)
        reasons = {row["code"]: row["reason"] for row in self.board()["calls"]["go"]}
        self.assertEqual("Waits 6 min for Balance A, where Bench 1 is; Balance B is free.", reasons["balance"])

    def test_a_verdict_is_said_up_to_where_it_explains_itself(self) -> None:
        self.assertEqual("It is so and so, at Bench 12 too.", words.brief("It is so and so, at Bench 12 too: because."))
        self.assertEqual("Short: but it says all.", words.brief("Short: but it says all."))
        self.assertEqual("Is it 31.204 g, or 31.240 g?", words.brief("Is it 31.204 g, or 31.240 g?"))

    def test_nobody_is_called_of_a_class_that_is_closed_or_over(self) -> None:
        self.loaded("Flint")
        self.done("Flint", "heat#1", "started")
        self.clock.move(minutes=10)
        self.assertEqual([("time", "Flint")], self.calls())
        self.post("/api/class/closed", {"closed": True})
        self.assertEqual(([], "The class is closed."), (self.calls(), self.board()["calls"]["said"]))
        self.post("/api/class/closed", {"closed": False})
        self.assertEqual([("time", "Flint")], self.calls())
        self.clock.move(hours=9)
        self.assertEqual(([], "The class is over."), (self.calls(), self.board()["calls"]["said"]))

    def test_before_it_begins_it_says_when(self) -> None:
        later = self.lay_out(title="Later", starts="19:15")
        self.number = later["id"]
        self.assertEqual("The class begins at 19:15.", self.board()["calls"]["said"])

    def test_the_suspects_are_asked_of_the_trial_that_is_off(self) -> None:
        self.settled("Grog", "46.806")
        body = {"slot": "vessel", "position": 1, "text": "45.740", "trial": "2", "uuid": str(uuid4())}
        self.post(f"/api/runs/{self.runs['Grog']}/readings", body)
        call = next(row for row in self.board()["calls"]["go"] if row["name"] == "Grog")
        self.assertEqual("look", call["code"])
        self.assertIn("it would take", call["say"])

    def test_the_suspects_are_asked_once_a_version(self) -> None:
        self.settled("Grog", "46.806")
        words._SAID.clear()
        with mock.patch.object(words, "_words", wraps=words._words) as asked:
            self.board()
            self.board()
            self.assertEqual(1, asked.call_count)


class Answering(LabCase):
    def called(self) -> Any:
        """Flint, over its time."""
        self.loaded("Flint")
        self.done("Flint", "heat#1", "started")
        self.clock.move(minutes=9)
        return self.board()["calls"]["go"][0]

    def answer(self, call: Any, kind: str, status: int = 200, **more: Any) -> Any:
        """Answer a call."""
        body = {"uuid": str(uuid4()), "kind": kind, **{name: call[name] for name in ("run", "code", "key")}}
        return self.post(f"/api/classes/{self.number}/calls", body | more, status)

    def test_reached_is_not_called_again_but_the_next_thing_is(self) -> None:
        call = self.called()
        self.assertEqual([], self.answer(call, "reached")["calls"]["go"])
        self.clock.move(minutes=1)
        self.assertEqual([], self.calls())
        self.done("Flint", "heat#1")
        self.clock.move(minutes=11)
        self.typed("Flint", "vessel_residue", SWAPPED, confirmed=True)
        self.assertEqual([("stop", "Flint")], self.calls())

    def test_snoozed_comes_back_after_five_minutes_by_itself(self) -> None:
        found = self.answer(self.called(), "snoozed")
        self.assertEqual([], found["calls"]["go"])
        self.clock.move(minutes=4)
        self.assertEqual([], self.calls())
        self.clock.move(minutes=1, seconds=1)
        self.assertEqual("time", self.board(found["since"])["calls"]["go"][0]["code"])

    def test_noted_stands_in_the_log_of_the_bench(self) -> None:
        self.answer(self.called(), "noted", text="Flame was turned down; showed them how.")
        seen = self.get(f"/api/runs/{self.runs['Flint']}")["observations"]
        self.assertEqual(("instructor", "Flame was turned down; showed them how."), (seen[-1]["tag"], seen[-1]["text"]))
        self.assertEqual([], self.calls())

    def test_a_note_without_words_is_refused_and_nothing_is_answered(self) -> None:
        call = self.called()
        refused = self.answer(call, "noted", 422, text="  ")
        self.assertEqual("text", refused["faults"][0]["path"])
        self.assertEqual([("time", "Flint")], self.calls())

    def test_the_same_tap_sent_twice_is_one(self) -> None:
        call, uuid = self.called(), str(uuid4())
        for _ in range(2):
            self.answer(call, "noted", uuid=uuid, text="once")
        seen = self.get(f"/api/runs/{self.runs['Flint']}")["observations"]
        self.assertEqual(["once"], [row["text"] for row in seen])

    def test_what_is_no_call(self) -> None:
        call = self.called()
        self.answer({**call, "code": "tea"}, "reached", 422)
        self.answer(call, "ignored", 422)
        self.answer({**call, "run": str(uuid4())}, "reached", 404)
        other = self.lay_out(title="Other", starts="21:00")
        self.answer({**call, "run": other["places"][0]["run"]}, "reached", 404)


class Speaking(LabCase):
    def say(self, text: str, bench: str | None = None, status: int = 200, **more: Any) -> Any:
        """Say something."""
        number = next((row["bench_id"] for row in self.laid["places"] if row["bench"] == bench), None)
        body = {"uuid": str(uuid4()), "text": text, "bench": number}
        return self.post(f"/api/classes/{self.number}/messages", body | more, status)

    def heard(self, client: FlaskClient) -> list[str]:
        """What a page reads."""
        return [row["text"] for row in self.board(client=client)["messages"]]

    def test_to_one_bench_and_to_all(self) -> None:
        china, flint, projector = self.tablet("China"), self.tablet("Flint"), self.projector(True)
        self.say("Wash-up at ten to")
        self.say("  Your  lid! ", "China")
        self.assertEqual(["Your lid!", "Wash-up at ten to"], self.heard(china))
        self.assertEqual(["Wash-up at ten to"], self.heard(flint))
        self.assertEqual(["Wash-up at ten to"], self.heard(projector))
        self.assertEqual(["Your lid!", "Wash-up at ten to"], self.heard(self.client))

    def test_a_tablet_that_looks_is_told_what_is_new(self) -> None:
        tablet = self.tablet("China")
        since = self.board(client=tablet)["since"]
        self.say("Stop, please", "China")
        self.assertEqual("Stop, please", self.board(since, client=tablet)["messages"][0]["text"])

    def test_nothing_too_much_nobody_and_twice(self) -> None:
        self.say(" ", status=422)
        self.say("x" * 401, status=422)
        self.say("hello", status=422, bench_=1)
        body = {"uuid": str(uuid4()), "text": "hello", "bench": 99999}
        self.post(f"/api/classes/{self.number}/messages", body, 422)
        uuid = str(uuid4())
        self.say("once", uuid=uuid)
        self.assertEqual(["once"], [row["text"] for row in self.say("once", uuid=uuid)["messages"]])


class ItsEnd(LabCase):
    def test_more_time_moves_the_end_and_no_further_than_it_may(self) -> None:
        path = f"/api/classes/{self.number}/end"
        self.assertEqual("2026-11-24T20:20:00Z", self.post(path, {"minutes": 20})["head"]["ends"])
        self.assertEqual("2026-11-24T20:00:00Z", self.post(path, {"minutes": 0})["head"]["ends"])
        for minutes in (-1, 721, 10**9):
            self.post(path, {"minutes": minutes}, 422)

    def test_it_is_ended_and_opened_again_for_its_tablets_only(self) -> None:
        flint = self.tablet("Flint")
        path = f"/api/classes/{self.number}/ended"
        self.assertTrue(self.post(path, {"ended": True})["head"]["is_closed"])
        body = {"uuid": str(uuid4()), "slot": "vessel", "position": 1, "text": "45.740", "trial": "1"}
        self.assertEqual(403, flint.post(f"/api/runs/{self.runs['Flint']}/readings", json=body).status_code)
        self.assertEqual(403, flint.post(path, json={"ended": False}).status_code)
        self.typed("China", "vessel", "45.740")
        self.assertFalse(self.post(path, {"ended": False})["head"]["is_closed"])
        self.assertEqual(200, flint.post(f"/api/runs/{self.runs['Flint']}/readings", json=body).status_code)

    def test_a_day_that_nobody_planned_has_none(self) -> None:
        self.clock.move(days=1)
        self.client = self.signed_in(self.app)
        self.start()
        number = self.get("/api/classes/0/changes")["head"]["id"]
        self.post(f"/api/classes/{number}/end", {"minutes": 10}, 422)


class TheScale(LabCase):
    def test_the_middle_of_the_settled_and_who_lies_outside(self) -> None:
        for bench, residue in (("Bench 1", "46.739"), ("China", "46.741"), ("Flint", "46.738"), ("Grog", "46.806")):
            self.settled(bench, residue)
        scale = self.board()["scale"]
        self.assertEqual(["Bench 1", *FOUR], [row["bench"] for row in scale["dots"]])
        # by hand: x = (47.520 − r)/18.015 ÷ ((r − 45.740)/161.44); the median of 7.006, 6.978, 7.020 and 6.004
        self.assertAlmostEqual(6.992, scale["mean"], delta=0.003)
        self.assertEqual(["Grog"], [row["bench"] for row in scale["dots"] if row["is_outside"]])
        self.assertEqual(7, scale["accepted"])
        self.assertIn("Grog lies outside", scale["said"])

    def test_what_is_not_settled_is_shown_and_does_not_count(self) -> None:
        for bench in ("Bench 1", "China", "Flint"):
            self.settled(bench)
        self.loaded("Grog")
        self.done("Grog", "heat#1")
        self.clock.move(minutes=11)
        self.typed("Grog", "vessel_residue", "46.900")
        dots = {row["bench"]: row["counts"] for row in self.board()["scale"]["dots"]}
        self.assertEqual({"Bench 1": True, "China": True, "Flint": True, "Grog": False}, dots)

    def test_no_scale_without_a_result(self) -> None:
        self.assertIsNone(self.board()["scale"])


class TheRoom(LabCase):
    def test_who_has_which_balance_and_who_is_next(self) -> None:
        self.more_balances()
        for bench in ("China", "Flint"):
            self.done(bench, "fire")
            self.clock.move(seconds=30)
        room = self.board()["room"]
        held = {row["name"]: (row["at"], row["waiting"]) for row in room["balances"]}
        self.assertEqual({"Balance A": ("China", ["Flint"])}, held)

    def more_balances(self) -> None:
        """A second one that nobody of this class weighs on."""
        body = {"kind": "balance", "name": "Balance Z", "half_width": "0.01 g"}
        self.post("/api/today/instruments", body)

    def test_benches_share_balances_that_are_alike(self) -> None:
        self.post("/api/today/instruments", {"kind": "balance", "name": "Balance B", "half_width": "0.001 g"})
        laid = self.lay_out(title="Two balances", starts="17:30", room={"balance": 2})
        names = [self.get(f"/api/runs/{row['run']}")["balance"]["name"] for row in laid["places"]]
        self.assertEqual(["Balance A", "Balance B", "Balance A", "Balance B"], names)
        one = self.lay_out(title="One", starts="17:30", room={"balance": 1})
        names = [self.get(f"/api/runs/{row['run']}")["balance"]["name"] for row in one["places"]]
        self.assertEqual({"Balance A"}, set(names))

    def test_the_last_bench_by_the_steps_that_are_left(self) -> None:
        """By hand: 15 to fire and cool, 2 + 2 to weigh, 8 + 2 to heat, twice 10 to cool, 2 + 2 to weigh, 2 to label."""
        for trials, after_heating in ((1, 26), (2, 26 + 55)):
            alone = self.lay_out(
                title=f"Alone {trials}",
                starts="17:30",
                practical={**_ZINC, "trials": trials},
                benches=self.benches()[:1],
            )
            self.number, self.runs = alone["id"], {"Bench 1": alone["places"][0]["run"]}
            with self.subTest(trials=trials):
                self.assertEqual(self.in_minutes(trials * 55), self.board()["room"]["last_done_at"])
                self.loaded("Bench 1")
                self.done("Bench 1", "heat#1")
                # cooling, weighing, the second round, the label
                self.assertEqual(self.in_minutes(after_heating + 2), self.board()["room"]["last_done_at"])
                self.clock.move(minutes=4)
                self.assertEqual(self.in_minutes(after_heating + 2 - 4), self.board()["room"]["last_done_at"])

    def in_minutes(self, minutes: float) -> str:
        """The moment in so many minutes, as the board writes it."""
        return (self.clock.now + timedelta(minutes=minutes)).strftime("%Y-%m-%dT%H:%M:%SZ")

    def test_readings_of_the_room_that_stand(self) -> None:
        self.post("/api/today/room", {"uuid": str(uuid4()), "slot": "barometer", "text": "952.4 hPa", "by": ""})
        row = self.board()["room"]["readings"][0]
        self.assertEqual("952.4 hPa", row["text"])
        # one that is laid out for now takes them along, also where it is the class at work as soon as it is there
        other = self.lay_out(title="Beside it", starts="17:30")
        found = self.get(f"/api/classes/{other['id']}/changes")["room"]["readings"]
        self.assertEqual([row["text"]], [one["text"] for one in found])


class ARound(LabCase):
    def round(self) -> dict[str, tuple[str, int, str]]:
        """By bench what it reads next."""
        rows = self.get(f"/api/classes/{self.number}/round")["rows"]
        return {row["name"]: (row["slot"], row["position"], row["trial"]) for row in rows}

    def test_each_bench_is_asked_for_what_it_reads_next(self) -> None:
        self.loaded("China")
        self.settled("Flint")
        found = self.round()
        # one that is constant is not asked to weigh on
        self.assertEqual(["Bench 1", "China", "Grog"], list(found))
        self.assertEqual(("vessel", 1, "1"), found["Bench 1"])
        self.assertEqual(("vessel_residue", 1, "1"), found["China"])
        row = next(row for row in self.get(f"/api/classes/{self.number}/round")["rows"] if row["name"] == "China")
        self.assertEqual(("g", "balance"), (row["unit"], row["instrument"]))
        self.assertIn("46.7", row["expected"])

    def test_who_dropped_out_or_is_done_is_not_in_it(self) -> None:
        bench = next(place["bench_id"] for place in self.laid["places"] if place["bench"] == "Grog")
        self.post(f"/api/classes/{self.number}/places", {"bench": bench, "is_out": True})
        self.assertNotIn("Grog", self.round())

    def test_it_is_the_instructors(self) -> None:
        for client in (self.tablet("China"), self.projector(True)):
            self.assertEqual(403, client.get(f"/api/classes/{self.number}/round").status_code)


class TheCameraCode(LabCase):
    def test_what_is_drawn_leads_to_joining_this_class(self) -> None:
        """Held against the same drawing made here of what it is to say (ISO/IEC 18004 by segno)."""
        with mock.patch.dict(self.app.config, {"KETTLE_ADDRESSES": ["https://kettle.example"]}):
            without = self.get("/api/class/addresses")["addresses"][0]["code"]
            code = self.post("/api/class/code", {})["code"]
            drawn = self.get("/api/class/addresses")["addresses"][0]["code"]
            self.post("/api/class/closed", {"closed": True})
            closed = self.get("/api/class/addresses")["addresses"][0]["code"]
        expected = segno.make(f"https://kettle.example/join?code={code}", error="m").svg_data_uri(scale=6, border=3)
        self.assertEqual(expected, drawn)
        self.assertEqual(without, closed)
        self.assertNotEqual(without, drawn)


class TheLists(LabCase):
    """What lists of the whole section ask: they are told of any run of it."""

    def test_another_days_run_is_news_for_a_list_and_none_for_the_board(self) -> None:
        self.clock.move(days=1)
        self.client = self.signed_in(self.app)
        self.start()
        path = "/api/classes/0/changes"
        plain, lists = self.get(path)["since"], self.get(f"{path}?lists=1")["since"]
        self.clock.move(seconds=1)
        self.typed("China", "vessel", "45.740")
        self.assertIsNone(self.get(f"{path}?since={quote(plain)}")["head"])
        self.assertIsNotNone(self.get(f"{path}?lists=1&since={quote(lists)}")["head"])

    def test_a_tablet_that_joins_is_news_for_the_shelf(self) -> None:
        since = self.board()["since"]
        self.tablet("China")
        self.assertIsNotNone(self.board(since)["head"])


_ZINC: dict[str, Any] = {"method": "hydrate", "options": {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}, "trials": 2}


class EachItsDoor(LabCase):
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
