"""What a tablet is not told before its own figures; handing them in; answers opened and closed by the instructor."""

from __future__ import annotations

import json
from typing import Any
from uuid import uuid4

from flask.testing import FlaskClient

from claykettle.store.tables import SheetRow
from tests.support.classes import ZINC
from tests.support.server import scene
from tests.web.test_classes import FOUR
from tests.web.test_lab import LabCase

REPORT = [
    {"line": "water_mass", "number": 3},
    {"line": "water_ratio", "number": 7, "marks": 2},
    {"line": "formula", "marks": 2},
]
OWN = {"water_mass": "0.781 g", "water_ratio": "7.0", "formula": "ZnSO4.7H2O"}
PRACTICAL = ZINC | {
    "trials": 1,
    "options": {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"},
    "reveal": "after_own_figures",
    "report": REPORT,
}


class RevealCase(LabCase):
    @scene
    def play(self) -> None:
        """A class of four benches whose practical keeps the answers back."""
        super(LabCase, self).play()
        self.more_benches(*FOUR)
        self.laid = self.lay_out(title="Zinc", starts="17:30", sample="1.7 g", practical=PRACTICAL)
        self.number = self.laid["id"]
        self.runs = {place["bench"]: place["run"] for place in self.laid["places"]}
        self.flint = self.tablet("Flint")

    def seen(self, client: FlaskClient, bench: str = "Flint", status: int = 200) -> Any:
        """A bench's run as a caller sees it."""
        response = client.get(f"/api/runs/{self.runs[bench]}")
        self.assertEqual(status, response.status_code, response.text)
        return response.json

    def hand_in(self, client: FlaskClient | None = None, status: int = 200, **more: Any) -> Any:
        """Hand in the figures of the bench."""
        body = {"uuid": str(uuid4()), "trial": "1", "claims": OWN} | more
        path = f"/api/runs/{self.runs['Flint']}/own-figures"
        response = (client or self.flint).post(path, json=body)
        self.assertEqual(status, response.status_code, response.text)
        return response.json

    def open(self, reveal: str) -> Any:
        """Say when the benches see the answers."""
        return self.post(f"/api/classes/{self.number}/answers", {"reveal": reveal})

    def assert_told_nothing(self, view: Any) -> None:
        """Neither what came out nor what it is held against is anywhere in what was sent."""
        text = json.dumps(view)
        for secret in ("7H2O", "agrees with what", "accepted", "7.0", "43.8", "43.9"):
            self.assertNotIn(secret, text)


class BeforeTheirOwnFigures(RevealCase):
    def test_the_tablet_is_shown_how_it_works_and_not_what_came_of_it(self) -> None:
        self.settled("Flint")
        view = self.seen(self.flint)
        self.assert_told_nothing(view)
        self.assertIn("own figures", view["held_back"])
        self.assertEqual(
            ["constant-mass"], [row["code"] for row in view["trial"]["verdicts"] if row["level"] == "good"]
        )
        self.assertEqual([], view["trial"]["results"])
        self.assertTrue(view["stair"])
        # each weighing as typed; the mass of the sample, and what was driven off, are theirs to work out
        self.assertEqual({("", "")}, {(tread["change"], tread["named"]) for tread in view["stair"]})
        whole = self.seen(self.client)
        self.assertTrue(any(tread["change"] for tread in whole["stair"]))
        self.assertEqual("", whole["held_back"])
        self.assertIn("7H2O", json.dumps(whole))

    def test_a_version_that_the_tablet_has_seen_is_not_sent_again_and_the_field_is_the_next_without_its_guess(
        self,
    ) -> None:
        view = self.seen(self.flint)
        self.assertEqual(("vessel", "", ""), tuple(view["entry"][key] for key in ("slot", "expected", "because")))
        again = self.flint.get(f"/api/runs/{self.runs['Flint']}?seen={view['version']}")
        self.assertEqual((204, ""), (again.status_code, again.text))
        self.settled("Flint")
        after = self.seen(self.flint)["entry"]
        self.assertEqual(("vessel_residue", "", ""), tuple(after[key] for key in ("slot", "expected", "because")))
        newer = self.flint.get(f"/api/runs/{self.runs['Flint']}?seen={view['version']}")
        self.assertEqual(200, newer.status_code)

    def test_whether_the_trials_agree_is_not_told_either(self) -> None:
        self.settled("Flint")
        self.flint.post(f"/api/runs/{self.runs['Flint']}/trials", json={"label": "2"})
        figures = (
            ("vessel", 1, "45.740"),
            ("vessel_sample", 1, "47.520"),
            *(("vessel_residue", n, "46.739") for n in (1, 2)),
        )
        for slot, position, text in figures:
            self.clock.move(minutes=11)
            self.weigh({"uuid": self.runs["Flint"]}, slot, text, position, trial="2")
        whole, held = self.seen(self.client), self.seen(self.flint)
        self.assertIn("replicates-agree", [row["code"] for row in whole["verdicts"]])
        self.assertNotIn("replicates-agree", [row["code"] for row in held["verdicts"]])

    def test_nothing_that_is_asked_beside_it_tells_more(self) -> None:
        self.settled("Flint")
        run = self.runs["Flint"]
        for path in ("working", "suspects?expect=", "suspects/replay?code=spatter&dose=1", "comparison", "file", "csv"):
            with self.subTest(path):
                response = self.flint.get(f"/api/runs/{run}/{path}")
                if response.status_code != 404:
                    self.assertEqual((403, "held-back"), (response.status_code, response.json["code"]))
        self.assert_told_nothing(self.flint.get("/api/runs").json)
        card = self.board(client=self.flint)
        self.assert_told_nothing(card)

    def test_what_a_substance_does_is_told_without_its_water(self) -> None:
        found = self.flint.get(f"/api/runs/{self.runs['Flint']}/substances").json
        self.assertEqual(["ZnSO4"], [row["formula"] for row in found["substances"]])
        self.assert_told_nothing(found)

    def test_of_a_combination_the_product_is_the_answer(self) -> None:
        practical = {
            "method": "combination", "trials": 1, "reveal": "after_own_figures",
            "options": {"element": "Sn", "partner": "S", "product": "SnS", "candidates": ["SnS", "SnS2"]},
        }  # fmt: skip
        self.clock.move(days=1)
        self.client = self.signed_in(self.app)
        laid = self.lay_out(practical=practical, title="Tin", starts="17:00", date="2026-11-25")
        self.runs = {place["bench"]: place["run"] for place in laid["places"]}
        self.clock.move(hours=2)
        view = self.seen(self.tablet("Flint"))
        self.assertEqual({"element", "partner", "candidates"}, set(view["options"]))
        self.assertIn("product", self.seen(self.client)["options"])

    def test_what_a_recording_answers_tells_nothing_either(self) -> None:
        self.loaded("Flint")
        for number in (1, 2):
            body = {"uuid": str(uuid4()), "slot": "vessel_residue", "position": number, "text": "46.739", "trial": "1"}
            response = self.flint.post(f"/api/runs/{self.runs['Flint']}/readings", json=body)
            self.assertEqual(200, response.status_code)
            self.assert_told_nothing(response.json)

    def test_a_question_whose_reason_would_tell_it_is_asked_without_and_the_board_has_it_whole(self) -> None:
        """1.780 g holds 0.78 g of water: 46.60 g is less than the dry salt, and the question would say so."""
        self.loaded("Flint")
        body = {"uuid": str(uuid4()), "slot": "vessel_residue", "position": 1, "text": "46.401", "trial": "1"}
        path = f"/api/runs/{self.runs['Flint']}/readings"
        asked = self.flint.post(path, json=body)
        self.assertEqual((409, "doubt"), (asked.status_code, asked.json["code"]))
        self.assertNotIn("water", asked.json["title"])
        self.assertIn("Read it again", asked.json["title"])
        self.assertIn("water", self.card("Flint")["asks"])
        whole = self.client.post(path, json=body | {"uuid": str(uuid4())})
        self.assertIn("water", whole.json["title"])
        kept = self.flint.post(path, json=body | {"confirmed": True})
        self.assertEqual(200, kept.status_code)
        self.assertNotIn("water at most", json.dumps(kept.json))
        self.assertIn("confirmed", kept.json["readings"][-1]["doubt"])

    def test_digits_are_asked_about_in_words(self) -> None:
        self.loaded("Flint")
        body = {"uuid": str(uuid4()), "slot": "vessel_residue", "position": 1, "text": "46.7", "trial": "1"}
        asked = self.flint.post(f"/api/runs/{self.runs['Flint']}/readings", json=body)
        self.assertIn("decimal", asked.json["title"])

    def change(self, client: FlaskClient, options: Any, known: int = 0, reason: str = "the label was wrong") -> Any:
        """Decide the options of a run otherwise, as its page sends them: whole."""
        body = {"uuid": str(uuid4()), "known": known, "reason": reason, "options": options}
        return client.post(f"/api/runs/{self.runs['Flint']}/changes", json=body)

    def test_a_change_of_what_was_accepted_is_not_told(self) -> None:
        changed = self.change(self.client, {"salt": "ZnSO4", "accepted": "ZnSO4.6H2O"}, reason="it says 6H2O there")
        self.assertEqual(200, changed.status_code)
        seen = self.seen(self.flint)
        self.assertNotIn("6H2O", json.dumps(seen))
        self.assertNotIn("accepted", seen["options"])
        self.assertEqual(["options.accepted"], [row["what"] for row in seen["changes"]])
        self.assertIn("6H2O", json.dumps(self.seen(self.client)))

    def test_what_the_tablet_itself_changes_leaves_what_was_accepted(self) -> None:
        self.change(self.client, {"salt": "ZnSO4", "accepted": "ZnSO4.6H2O"})
        seen = self.seen(self.flint)
        changed = self.change(self.flint, seen["options"] | {"max_ratio": 9}, known=len(seen["changes"]))
        self.assertEqual(200, changed.status_code, changed.text)
        self.assertNotIn("6H2O", changed.text)
        self.assertEqual(9, changed.json["options"]["max_ratio"])
        whole = self.seen(self.client)["options"]
        self.assertEqual(("ZnSO4·6H2O", 9), (whole["accepted"], whole["max_ratio"]))

    def test_the_tablet_neither_decides_nor_finds_out_what_was_accepted(self) -> None:
        seen = self.seen(self.flint)["options"]
        for options, path in ((seen | {"accepted": "ZnSO4.6H2O"}, "accepted"), ({"salt": "CuSO4"}, "accepted")):
            with self.subTest(options):
                refused = self.change(self.flint, options)
                self.assertEqual(422, refused.status_code)
                self.assertEqual([f"options.{path}"], [row["path"] for row in refused.json["faults"]])
                self.assertIn("instructor", refused.json["faults"][0]["message"])
                self.assertNotIn("7H2O", refused.text)
        self.assertEqual("ZnSO4·7H2O", self.seen(self.client)["options"]["accepted"])

    def test_what_the_other_trials_gave_is_no_reason_to_tell(self) -> None:
        """36.90 mL of 0.098 g of an unknown metal in the first trial; 63.50 mL of 0.097 g do not go with them."""
        self.clock.move(days=1)
        self.client = self.signed_in(self.app)
        benches = {row["name"]: row["id"] for row in self.get("/api/shelf")["benches"]}
        run = self.start(method="gas_over_water", options={"gas": "H2"}, bench_id=benches["Flint"])
        self.runs["Flint"] = run["uuid"]
        self.post(f"/api/runs/{run['uuid']}/trials", {"label": "2"})
        self.post(f"/api/classes/{self.get('/api/classes/0/changes')['head']['id']}/answers", {"reveal": "when_closed"})
        flint = self.tablet("Flint")
        path = f"/api/runs/{self.runs['Flint']}/readings"
        for trial, slot, text in (("1", "sample", "0.098"), ("1", "volume_end", "36.90"), ("2", "sample", "0.097")):
            self.weigh(run, slot, text, trial=trial)
        body = {"slot": "volume_end", "position": 1, "text": "63.50", "trial": "2"}
        asked = flint.post(path, json=body | {"uuid": str(uuid4())})
        self.assertEqual("off-others", asked.json["doubt"])
        self.assertNotIn("trials", asked.json["title"])
        self.assertIsNone(asked.json["suggestion"])
        whole = self.client.post(path, json=body | {"uuid": str(uuid4())})
        self.assertIn("the other trials gave", whole.json["title"])


class HandingIn(RevealCase):
    def test_after_their_own_figures_everything_is_told(self) -> None:
        self.settled("Flint")
        asked = self.flint.get(f"/api/runs/{self.runs['Flint']}/own-figures").json
        self.assertEqual(
            [("water_mass", "g", 3, 1), ("water_ratio", "", 7, 2), ("formula", "", 0, 2)],
            [(row["name"], row["unit"], row["number"], row["marks"]) for row in asked["lines"]],
        )
        self.assertEqual(["1"], asked["trials"])
        since = self.board(client=self.flint)["since"]
        handed = self.hand_in(student="Ada Quill")
        self.assertEqual("", handed["held_back"])
        self.assertEqual(("Ada Quill", OWN), (handed["handed"][0]["student"], handed["handed"][0]["claims"]))
        self.assertIn("7H2O", json.dumps(self.seen(self.flint)))
        self.assertEqual("", self.board(since, client=self.flint)["head"]["held_back"])
        self.assertEqual(1, self.card("Flint")["own"])
        self.assertEqual(200, self.flint.get(f"/api/runs/{self.runs['Flint']}/working").status_code)

    def test_one_bench_s_figures_open_no_other_bench(self) -> None:
        self.settled("Flint")
        self.settled("China")
        china = self.tablet("China")
        self.hand_in()
        self.assertIn("own figures", self.seen(china, "China")["held_back"])

    def test_nothing_to_work_out_yet_a_line_left_out_words_and_lines_that_nobody_asked_for(self) -> None:
        problem = self.hand_in(status=422)
        self.assertEqual("trial", problem["faults"][0]["path"])
        self.settled("Flint")
        for claims, path in (
            (OWN | {"water_mass": ""}, "claims.water_mass"),
            ({name: text for name, text in OWN.items() if name != "formula"}, "claims.formula"),
            (OWN | {"water_ratio": "seven"}, "claims.water_ratio"),
            (OWN | {"tea": "1"}, "claims.tea"),
            (OWN | {"water_mass": "1" * 90}, "claims.water_mass"),
        ):
            with self.subTest(path):
                problem = self.hand_in(status=422, claims=claims)
                self.assertEqual([path], [row["path"] for row in problem["faults"]])
        self.assertEqual(0, self.count(SheetRow))
        self.assertIn("own figures", self.seen(self.flint)["held_back"])

    def test_as_many_digits_as_they_like_no_unit_another_unit_and_a_comma(self) -> None:
        self.settled("Flint")
        for text in (
            "0.7810000000000000000000000000000000000001 g",
            "0,781",
            "781 mg",
            "-0.781 g",
            "−0.78",
            ".781 g",
            " 0.781  g ",
        ):
            with self.subTest(text):
                self.assertEqual(
                    text, self.hand_in(claims=OWN | {"water_mass": text})["handed"][0]["claims"]["water_mass"]
                )

    def test_the_same_sheet_sent_twice_is_one_and_a_second_one_stands_beside_the_first(self) -> None:
        self.settled("Flint")
        key = str(uuid4())
        self.hand_in(uuid=key)
        self.assertEqual(1, len(self.hand_in(uuid=key)["handed"]))
        again = self.hand_in(claims=OWN | {"water_ratio": "6.9"})
        self.assertEqual(["6.9", "7.0"], [row["claims"]["water_ratio"] for row in again["handed"]])

    def test_somebody_else_s_bench(self) -> None:
        self.settled("Flint")
        self.hand_in(self.tablet("China"), 403)
        self.hand_in(self.app.test_client(), 401)

    def test_a_run_that_nobody_planned_asks_for_its_result(self) -> None:
        self.clock.move(days=1)
        self.client = self.signed_in(self.app)
        run = self.start()
        self.weigh_all(run, "32.135", "32.134")
        found = self.get(f"/api/runs/{run['uuid']}/own-figures")
        self.assertEqual(["water_ratio"], [row["name"] for row in found["lines"]])


class WhoseTablet(RevealCase):
    """Two tablets at one bench, one that is handed over, one that is turned out and comes back."""

    @scene
    def play(self) -> None:
        """A bench that is done, and its two students with a tablet each."""
        super().play()
        self.settled("Flint")
        self.other = self.tablet("Flint")

    def own(self, client: FlaskClient) -> Any:
        """What a tablet sees of what was handed in."""
        return client.get(f"/api/runs/{self.runs['Flint']}/own-figures").json

    def join(self, client: FlaskClient, bench: str, code: str = "") -> Any:
        """What a tablet is told that wants to join."""
        return client.post("/api/join", json={"code": code or self.get("/api/class")["code"], "bench": bench})

    def assert_sees(self, client: FlaskClient, students: list[str]) -> None:
        """The answers where they have handed in, and the sheets of these students alone."""
        self.assertEqual(students, [row["student"] for row in self.own(client)["handed"]])
        if students:
            self.assertIn("7H2O", json.dumps(self.seen(client)))
        else:
            self.assert_told_nothing(self.seen(client))
            self.assertNotIn("0.781", json.dumps(self.own(client)))

    def test_a_sheet_opens_the_answers_on_its_own_tablet_and_is_seen_there_alone(self) -> None:
        self.hand_in(student="Ada Quill")
        self.assert_sees(self.flint, ["Ada Quill"])
        self.assert_sees(self.other, [])
        self.hand_in(self.other, student="Bo Thrush")
        self.assert_sees(self.other, ["Bo Thrush"])
        self.assert_sees(self.flint, ["Ada Quill"])
        # the instructor sees both; what the instructor types is the bench's
        self.assertEqual(2, len(self.own(self.client)["handed"]))
        self.hand_in(self.client, student="Cy Fern")
        self.assert_sees(self.flint, ["Cy Fern", "Ada Quill"])

    def test_the_board_that_one_tablet_was_told_is_not_told_to_the_other_at_its_bench(self) -> None:
        self.hand_in(student="Ada Quill")
        told = self.board(client=self.flint)
        self.assertEqual("", told["head"]["held_back"])
        self.assertIn("7.0", json.dumps(told["benches"]))
        other = self.board(client=self.other)
        self.assertIn("own figures", other["head"]["held_back"])
        self.assertNotIn("7.0", json.dumps(other["benches"]))

    def test_a_marked_sheet_goes_back_to_its_own_tablet(self) -> None:
        sheet = self.hand_in(student="Ada Quill")["handed"][0]["uuid"]
        self.post(f"/api/classes/{self.number}/given-back", {"uuid": str(uuid4()), "sheets": [sheet]}, 200)
        self.assertEqual(5, self.own(self.flint)["handed"][0]["marked"]["marks"])
        self.assert_sees(self.other, [])

    def test_a_tablet_that_takes_its_place_sees_what_was_handed_in(self) -> None:
        self.hand_in(student="Ada Quill")
        new = self.app.test_client()
        code = self.flint.post("/api/session/hand-over", json={}).json["code"]
        self.assertEqual(204, self.join(new, "", code).status_code)
        self.assert_sees(new, ["Ada Quill"])
        third = self.app.test_client()
        code = new.post("/api/session/hand-over", json={}).json["code"]
        self.assertEqual(204, self.join(third, "", code).status_code)
        self.assert_sees(third, ["Ada Quill"])
        self.assertEqual(401, self.flint.get("/api/session").status_code)

    def test_one_that_comes_back_to_its_bench_is_the_same(self) -> None:
        self.hand_in(student="Ada Quill")
        self.flint.delete("/api/session")
        self.assertEqual(204, self.join(self.flint, "Flint").status_code)
        self.assert_sees(self.flint, ["Ada Quill"])

    def test_a_tablet_goes_to_another_bench_by_its_instructor_s_nod_alone(self) -> None:
        refused = self.join(self.flint, "China")
        self.assertEqual((422, "elsewhere"), (refused.status_code, refused.json["faults"][0]["code"]))
        self.assertIn("at bench Flint", refused.json["faults"][0]["message"])
        self.assertEqual(200, self.flint.get(f"/api/runs/{self.runs['Flint']}").status_code)
        self.assertEqual(403, self.flint.get(f"/api/runs/{self.runs['China']}").status_code)
        for row in self.get("/api/class")["tablets"]:
            self.client.delete(f"/api/class/tablets/{row['id']}")
        self.assertEqual(204, self.join(self.flint, "China").status_code)
        self.assertEqual(403, self.flint.get(f"/api/runs/{self.runs['Flint']}").status_code)
        self.assertEqual(200, self.flint.get(f"/api/runs/{self.runs['China']}").status_code)

    def test_a_bench_that_is_not_of_the_class_is_none_of_its_benches(self) -> None:
        self.post("/api/class/benches", {"name": "Window"}, 200)
        refused = self.join(self.app.test_client(), "Window")
        self.assertEqual(422, refused.status_code)
        self.assertIn("The benches are: Bench 1, China, Flint, Grog.", refused.json["faults"][0]["message"])


class OpenedAndClosed(RevealCase):
    def test_the_instructor_opens_the_answers_and_closes_them(self) -> None:
        self.settled("Flint")
        self.assertEqual("after_own_figures", self.board()["head"]["reveal"])
        self.assertEqual("always", self.open("always")["head"]["reveal"])
        self.assertIn("7H2O", json.dumps(self.seen(self.flint)))
        self.open("when_closed")
        self.hand_in()
        view = self.seen(self.flint)
        self.assertEqual("Your instructor opens the answers.", view["held_back"])
        self.assert_told_nothing(view)
        self.open("after_own_figures")
        self.assertEqual("", self.seen(self.flint)["held_back"])

    def test_a_tablet_that_looks_is_told_that_they_are_open(self) -> None:
        self.settled("Flint")
        since = self.board(client=self.flint)["since"]
        self.open("always")
        told = self.board(since, client=self.flint)
        self.assertEqual("", told["head"]["held_back"])

    def test_only_an_instructor_does_and_only_to_what_there_is(self) -> None:
        path = f"/api/classes/{self.number}/answers"
        self.assertEqual(403, self.flint.post(path, json={"reveal": "always"}).status_code)
        self.post(path, {"reveal": "sometimes"}, 422)
        self.post("/api/classes/99999/answers", {"reveal": "always"}, 404)
