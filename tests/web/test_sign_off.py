"""A step that an instructor signs off; a tablet handed over by its code; codes that somebody guesses."""

from __future__ import annotations

import json
from typing import Any
from uuid import uuid4

from flask.testing import FlaskClient

from claykettle.core.methods.registry import procedure_named
from claykettle.core.run import procedure_body
from tests.support.classes import ZINC
from tests.support.server import scene
from tests.web.test_classes import FOUR
from tests.web.test_lab import LabCase

WANTED = "label and lid of what is set aside"


def signed_practical() -> dict[str, Any]:
    """Water of zinc sulfate, its last step to be signed off."""
    shipped = procedure_named("hydrate", None)
    assert shipped is not None
    procedure = procedure_body(shipped)
    procedure["steps"][-1]["sign_off"] = WANTED
    return ZINC | {"trials": 1, "procedure": procedure}


class SignOffCase(LabCase):
    @scene
    def play(self) -> None:
        """Flint has weighed to constant mass, and has its last step before it."""
        super(LabCase, self).play()
        self.more_benches(*FOUR)
        self.laid = self.lay_out(title="Zinc", starts="17:30", sample="1.7 g", practical=signed_practical())
        self.number = self.laid["id"]
        self.runs = {place["bench"]: place["run"] for place in self.laid["places"]}
        self.flint = self.tablet("Flint")
        self.settled("Flint")

    def step(self, client: FlaskClient | None = None) -> Any:
        """The step of now."""
        view = (client or self.client).get(f"/api/runs/{self.runs['Flint']}").json
        return next((row for row in view["steps"] if row["state"] == "now"), None)

    def mark(self, client: FlaskClient, kind: str = "finished", **more: Any) -> Any:
        """Mark the last step."""
        body = {"uuid": str(uuid4()), "step": self.step()["key"], "kind": kind, "trial": "1"} | more
        return client.post(f"/api/runs/{self.runs['Flint']}/steps", json=body)

    def ask(self) -> None:
        """The bench asks for it."""
        body = {"uuid": str(uuid4()), "tag": "asks for sign-off", "text": self.step()["key"], "trial": "1"}
        answer = self.flint.post(f"/api/runs/{self.runs['Flint']}/observations", json=body)
        self.assertEqual(200, answer.status_code, answer.text)

    def call(self) -> Any:
        """The call for it."""
        return next((row for row in self.board()["calls"]["go"] if row["code"] == "sign"), None)

    def answer(self, call: Any, text: str, status: int = 200, **more: Any) -> Any:
        """Sign off from the board."""
        body = {
            "uuid": str(uuid4()),
            "kind": "signed",
            "text": text,
            **{name: call[name] for name in ("run", "code", "key")},
        }
        return self.post(f"/api/classes/{self.number}/calls", body | more, status)


class SignedOff(SignOffCase):
    def test_a_tablet_neither_ends_it_nor_skips_it(self) -> None:
        self.assertEqual((WANTED, False), (self.step(self.flint)["sign_off"], self.step(self.flint)["is_asked"]))
        for kind in ("finished", "skipped"):
            refused = self.mark(self.flint, kind, reason="in a hurry")
            self.assertEqual((422, "sign-off"), (refused.status_code, refused.json["faults"][0]["code"]))
            self.assertIn(WANTED, refused.json["faults"][0]["message"])
        self.assertIsNotNone(self.step())

    def test_it_asks_the_board_calls_and_a_tap_signs_off_with_what_was_seen(self) -> None:
        self.assertIsNone(self.call())
        self.ask()
        self.assertTrue(self.step(self.flint)["is_asked"])
        noted = self.get(f"/api/runs/{self.runs['Flint']}")["observations"][-1]
        self.assertEqual(("asks for sign-off", "Residue labelled"), (noted["tag"], noted["text"]))
        call = self.call()
        self.assertEqual("Flint", call["name"])
        self.assertIn(WANTED, call["reason"])
        self.assertEqual(WANTED, self.card("Flint")["sign_off"])
        self.assertEqual("text", self.answer(call, "  ", 422)["faults"][0]["path"])
        self.answer(call, "lid on, label legible")
        self.assertIsNone(self.step())
        self.assertIsNone(self.call())
        mark = self.get(f"/api/runs/{self.runs['Flint']}/steps")["marks"][-1]
        self.assertEqual(("done", "lid on, label legible", "kiln"), (mark["kind"], mark["reason"], mark["by"]))
        self.answer(call, "once more", 422)

    def test_an_instructor_at_the_bench_ends_it_there(self) -> None:
        self.assertEqual(200, self.mark(self.client, reason="seen").status_code)
        self.assertIsNone(self.step())

    def test_the_practical_keeps_what_is_to_be_signed_off(self) -> None:
        kept = self.post("/api/practicals", {"document": signed_practical() | {"name": "Signed"}, "note": ""}, 201)
        self.assertIn(WANTED, json.dumps(kept))


class HandedOver(SignOffCase):
    def code(self, client: FlaskClient, status: int = 200) -> Any:
        """A tablet's own code."""
        answer = client.post("/api/session/hand-over", json={})
        self.assertEqual(status, answer.status_code, answer.text)
        return answer.json.get("code")

    def join(self, code: str, status: int = 204, client: FlaskClient | None = None) -> FlaskClient:
        """Another tablet types it."""
        other: FlaskClient = client or self.app.test_client()
        answer = other.post("/api/join", json={"code": code, "bench": ""})
        self.assertEqual(status, answer.status_code, answer.text)
        return other

    def test_another_tablet_takes_the_place_and_the_one_before_is_out(self) -> None:
        code = self.code(self.flint)
        other = self.join(f"{code[:4].lower()} {code[4:]}")
        self.assertEqual("Flint", other.get("/api/session").json["bench"])
        self.assertEqual(401, self.flint.get("/api/session").status_code)
        self.assertEqual(200, other.get(f"/api/runs/{self.runs['Flint']}").status_code)
        # good once
        self.join(code, 422)

    def test_it_lasts_ten_minutes_and_the_latest_counts(self) -> None:
        first, second = self.code(self.flint), self.code(self.flint)
        self.join(first, 422)
        self.clock.move(minutes=10, seconds=1)
        self.join(second, 422)

    def test_not_while_the_class_is_closed_not_of_a_tablet_that_was_turned_out_and_only_of_a_tablet(self) -> None:
        code = self.code(self.flint)
        self.post("/api/class/closed", {"closed": True})
        self.join(code, 422)
        self.post("/api/class/closed", {"closed": False})
        for row in self.get("/api/class")["tablets"]:
            self.client.delete(f"/api/class/tablets/{row['id']}")
        self.join(code, 422)
        self.code(self.client, 403)
        self.code(self.app.test_client(), 401)

    def test_who_joins_with_another_code_goes_on_at_their_bench(self) -> None:
        """A tablet of China that takes Flint's place is no longer China's."""
        china = self.tablet("China")
        self.join(self.code(self.flint), client=china)
        self.assertEqual("Flint", china.get("/api/session").json["bench"])


class Guessed(SignOffCase):
    def join(self, code: str, client: FlaskClient) -> None:
        """A code that is none."""
        self.assertEqual(422, client.post("/api/join", json={"code": code, "bench": "Flint"}).status_code)

    def test_wrong_codes_are_told_on_the_board_and_forgotten_after_ten_minutes(self) -> None:
        since = self.board()["since"]
        self.assertEqual(0, self.board()["head"]["guessed"])
        other = self.app.test_client()
        for number in range(4):
            self.assertEqual(
                422, other.post("/api/join", json={"code": f"BAD{number}ZZ", "bench": "Flint"}).status_code
            )
        self.assertEqual(4, self.board(since)["head"]["guessed"])
        self.assertEqual(0, self.board(client=self.flint)["head"]["guessed"])
        self.clock.move(minutes=11)
        self.assertEqual(0, self.board()["head"]["guessed"])
