"""The demo shows what it is there to show: one run a judgement, and it can be put in only once."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from sqlalchemy import text

from claykettle.service.demo import evening, hold_the_class, seed_demo
from claykettle.service.shelf.shelf import first_start
from claykettle.service.visit import Visit
from tests.support.demo import DemoCase
from tests.support.server import empty, scene

# Title, state on the list, codes that must stand among the verdicts, codes that must not.
EXPECTED: dict[str, tuple[str, set[str], set[str]]] = {
    "Zinc sulfate from the glaze store": ("finished", {"constant-mass", "formula-match"}, {"transposition"}),
    "Borax from the glaze store": ("waiting", {"still-losing", "formula-undecided"}, {"constant-mass"}),
    "Zinc sulfate, three trials": (
        "finished",
        {"loss-too-large", "formula-none", "odd-trial", "replicates-disagree", "accurate-not-precise"},
        {"formula-match"},
    ),
    "Borax from the open jar, twice": (
        "finished",
        {"constant-mass", "replicates-agree", "precise-not-accurate"},
        {"replicates-disagree", "odd-trial"},
    ),
    "Jar Q, no label": ("waiting", {"constant-mass", "formula-match"}, {"tell-apart", "transposition"}),
    "Zinc sulfate, small sample": ("waiting", {"constant-mass", "formula-undecided"}, {"formula-match"}),
    "Tin with sulfur, clean": ("waiting", {"constant-mass", "formula-match"}, {"mixture", "yield-over-100"}),
    "Tin with sulfur, under-heated": ("waiting", {"formula-none", "mixture", "yield-over-100"}, {"formula-match"}),
    "Tin with sulfur, smoke lost": ("waiting", {"formula-none", "off-accepted"}, {"mixture", "yield-over-100"}),
    "Malachite roasted to black oxide": ("waiting", {"formula-match"}, {"loss-too-large", "yield-over-100"}),
    "Whiting against its bag": ("waiting", {"agrees"}, {"yield-over-100", "over-saturation", "out-of-order"}),
    "Welding argon in a flask": ("waiting", {"constant-mass", "formula-match"}, {"suspect-unit", "out-of-order"}),
    "Zinc over water": ("waiting", {"within-class"}, {"off-accepted", "yield-over-100", "off-scale"}),
    "Zinc over water, levels made equal": (
        "waiting",
        {"within-class"},
        {"off-accepted", "yield-over-100", "off-scale"},
    ),
    "Zinc over water, dead volume subtracted by hand": (
        "waiting",
        {"off-accepted"},
        {"within-class", "yield-over-100"},
    ),
    "Zinc over water, the weather service's pressure": (
        "waiting",
        {"yield-over-100", "sea-level-figure"},
        {"sea-level"},
    ),
    "Peroxide over manganese pigment": ("waiting", set(), {"unphysical", "yield-over-100", "off-scale"}),
    "Blanc fixe": ("finished", {"constant-mass"}, {"yield-over-100", "unwashed"}),
    "Blanc fixe, weighed early": ("waiting", {"still-losing", "yield-over-100", "unwashed"}, {"constant-mass"}),
    "Blanc fixe, left in the oven": ("waiting", {"missing-reading"}, {"yield-over-100"}),
    "Potash alum from foil": ("waiting", {"yield-good"}, {"yield-over-100", "limiting-undecided", "out-of-order"}),
    "Cobalt ferrite, black": ("waiting", {"missing-reading"}, {"yield-over-100"}),
    "Alum, slow against ice": ("waiting", {"fair-test", "sizes-differ"}, {"unfair-test", "crystals-few"}),
    "Potash alum, recrystallized": ("waiting", set(), {"yield-over-100", "off-scale", "out-of-order", "undissolved"}),
    "Cobalt chloride by zinc": ("waiting", {"constant-mass", "formula-match"}, {"yield-over-100", "out-of-order"}),
    "Malachite, under-heated": ("waiting", {"formula-none", "unfinished"}, {"formula-match", "yield-over-100"}),
}

CLASS = "Water of zinc sulfate"
"""The class in the middle of its evening: eight runs of one title, whose states the board shows."""


class OnDemo(DemoCase):
    def runs(self) -> dict[str, Any]:
        rows = self.get("/api/runs")["runs"]
        return {row["title"]: (row, self.get(f"/api/runs/{row['uuid']}")) for row in rows if row["title"] != CLASS}


class Demo(OnDemo):
    def test_every_run_shows_its_judgement(self) -> None:
        runs = self.runs()
        self.assertEqual(set(runs), set(EXPECTED))
        for title, (state, wanted, unwanted) in EXPECTED.items():
            summary, run = runs[title]
            codes = {verdict["code"] for verdict in [*run["trial"]["verdicts"], *run["verdicts"]]}
            with self.subTest(title):
                self.assertEqual(summary["state"], state)
                self.assertLessEqual(wanted, codes)
                self.assertEqual(unwanted & codes, set())

    def test_the_swapped_digits_stay_readable_beside_their_correction(self) -> None:
        _, jar = self.runs()["Jar Q, no label"]
        old, new = (row for row in jar["readings"] if row["slot"] == "vessel_residue" and row["position"] == 2)
        self.assertEqual((old["text"], old["current"]), ("30.983", False))
        self.assertEqual((new["text"], new["corrects"]), ("30.893", "30.983"))
        self.assertIn("30.893 would fit", old["doubt"])

    def test_what_was_expected_stands_beside_what_came_out(self) -> None:
        _, run = self.runs()["Zinc sulfate, three trials"]
        self.assertEqual([(row["by"], row["inside"]) for row in run["predictions"]], [("Terra", True), ("Slip", False)])

    def test_it_goes_in_once(self) -> None:
        self.assertFalse(self.laboratory.ask(seed_demo))
        # the evening, and two classes of all benches: of today and of a week ago
        there = sum(1 for _ in self.laboratory.ask(lambda visit: list(visit.runs())))
        self.assertEqual(len(EXPECTED) + 2 * len(evening()["benches"]), there)

    def test_each_run_has_the_pictures_of_its_method_and_no_other(self) -> None:
        wanted = {
            "gas_over_water": {"gas"},
            "precipitation": {"reacting"},
            "synthesis": {"reacting", "table"},
            "recrystallization": {"curve"},
            "crystal_growth": {"sizes"},
        }
        for title, (_, run) in self.runs().items():
            drawn = {name for name, picture in run["pictures"].items() if picture is not None}
            with self.subTest(title):
                self.assertEqual(drawn, wanted.get(run["method"], set()))

    def test_every_bench_is_a_clay_of_the_college(self) -> None:
        shelf = self.get("/api/shelf")
        self.assertEqual([bench["name"] for bench in shelf["benches"]], evening()["benches"])
        self.assertEqual({run["bench"] for run, _ in self.runs().values()} - set(evening()["benches"]), set())

    def test_one_whose_section_was_renamed_is_there_still(self) -> None:
        with self.database.engine.begin() as connection:
            connection.execute(text("UPDATE section SET name = 'Renamed on the Shelf' WHERE rehearsal_of IS NULL"))
        self.test_it_goes_in_once()

    def test_one_of_before_there_were_accounts_is_entered_as_any_other(self) -> None:
        with self.database.engine.begin() as connection:
            connection.execute(text("SET FOREIGN_KEY_CHECKS=0"))
            for table in ("sign_in", "membership", "account"):
                connection.execute(text(f"DELETE FROM `{table}`"))
        self.assertFalse(self.laboratory.ask(seed_demo))
        client = self.app.test_client()
        self.assertEqual(client.post("/api/session", json={"login": "demo", "password": "demo"}).status_code, 204)
        self.assertIn("Jar Q, no label", [row["title"] for row in (client.get("/api/runs").json or {})["runs"]])

    def test_its_evening_is_one_day_even_shortly_after_midnight(self) -> None:
        empty(self.database)
        self.clock.now = self.clock.now.replace(hour=0, minute=20)
        self.laboratory.ask(first_start)
        self.laboratory.ask(seed_demo)
        today = self.clock.now.date()
        dates = {run.date for run in self.laboratory.ask(Visit.runs)}
        self.assertEqual({today, today - timedelta(days=7)}, dates)

    def test_nothing_of_it_lies_in_the_future_and_no_step_was_hurried(self) -> None:
        for run in self.laboratory.ask(Visit.runs):
            moments = [row.at for trial in run.trials for row in trial.readings]
            moments += [row.at for row in (*run.step_events, *run.observations)]
            with self.subTest(run.title):
                self.assertLessEqual(max(moments), self.clock.now)
                codes = {row.code for trial in run.evaluation.trials for row in trial.verdicts}
                self.assertEqual(codes & {"weighed-warm", "no-heating-between", "step-missed"}, set())

    def test_what_waits_with_a_timer_says_when_it_ends(self) -> None:
        summary, run = self.runs()["Borax from the glaze store"]
        step = next(row for row in run["steps"] if row["state"] == "now")
        self.assertEqual(summary["timer_ends_at"], step["timer"]["ends_at"])
        self.assertTrue(step["caution"])


class TheClass(OnDemo):
    def test_the_class_shows_every_state_of_the_board_once(self) -> None:
        found = self.get("/api/classes/0/changes")
        self.assertEqual(CLASS, found["head"]["title"])
        states = {row["name"]: (row["doing"], row["level"], row["word"], bool(row["asks"])) for row in found["benches"]}
        self.assertEqual(
            {
                "Ball": ("works", "watch", "", False),
                "China": ("works", "watch", "", False),
                "Flint": ("done", "good", "agrees", False),
                "Grog": ("works", "watch", "", True),
                "Kaolin": ("done", "good", "agrees", False),
                "Marl": ("works", "stop", "look now", False),
                "Slip": ("works", "watch", "off", False),
                "Terra": ("works", "watch", "", False),
            },
            states,
        )
        calls = found["calls"]
        self.assertEqual(["stop", "time", "doubt"], [row["code"] for row in calls["go"]])
        # after them Slip is looked at, China waits for its balance, Flint and Kaolin have time to spare
        self.assertEqual(4, calls["more"])
        self.assertEqual(
            [("Balance A", "", []), ("Balance B", "Grog", ["China"])],
            [(row["name"], row["at"], row["waiting"]) for row in found["room"]["balances"]],
        )

    def test_two_benches_have_handed_in_their_own_figures(self) -> None:
        found = self.get("/api/classes/0/changes")
        self.assertEqual({"Flint": 1, "Kaolin": 1}, {row["name"]: row["own"] for row in found["benches"] if row["own"]})
        self.assertEqual("after_own_figures", found["head"]["reveal"])

    def test_started_again_the_same_day_it_goes_on_and_on_another_day_there_is_a_class_of_that_day(self) -> None:
        self.assertFalse(self.laboratory.ask(hold_the_class))
        before = self.get("/api/classes/0/changes")
        self.clock.move(days=2)
        self.assertTrue(self.laboratory.ask(hold_the_class))
        self.assertFalse(self.laboratory.ask(hold_the_class))
        found = self.get("/api/classes/0/changes")
        self.assertNotEqual(before["head"]["id"], found["head"]["id"])
        said = [[(row["name"], row["doing"], row["word"]) for row in board["benches"]] for board in (before, found)]
        self.assertEqual(*said)
        self.assertEqual(200, self.client.get(f"/api/classes/{before['head']['id']}/changes").status_code)


class LastWeek(OnDemo):
    @scene
    def play(self) -> None:
        """The class of a week ago, marked."""
        super().play()
        found = self.get("/api/classes/0/table")
        self.marked = self.get(f"/api/classes/{found['beside']['id']}/marking")
        self.sheets = [row for bench in self.marked["benches"] for row in bench["sheets"]]

    def test_sixteen_sheets_some_right_and_one_for_each_slip_of_a_hydrate(self) -> None:
        self.assertEqual((16, 14), (self.marked["handed"], self.marked["given_back"]))
        right = [row["student"] for row in self.sheets if row["marks"] == row["of"]]
        self.assertIn("Ada Quill", right)
        slips = {line["slip"] for row in self.sheets for line in row["lines"] if line["slip"]}
        wanted = {
            "digits-swapped", "inverted", "percent-100", "power-of-ten", "sign", "other-reading", "truncated-weight",
            "ratio-forced", "circular",
        }  # fmt: skip
        self.assertEqual(wanted, slips)
        self.assertIn("unit", {line["status"] for row in self.sheets for line in row["lines"]})

    def test_its_questions_were_answered_rightly_and_not(self) -> None:
        verdicts = {row["verdict"] for bench in self.marked["benches"] for row in bench["answers"]}
        self.assertEqual({"right", "wrong"}, verdicts)

    def test_it_is_over_and_the_class_of_today_is_the_one_at_work(self) -> None:
        self.assertTrue(self.get(f"/api/classes/{self.marked['id']}/changes")["head"]["is_closed"])
        self.assertNotEqual(self.marked["id"], self.get("/api/classes/0/changes")["head"]["id"])


class TakenAlong(OnDemo):
    def test_every_run_can_be_taken_along_and_opened_again(self) -> None:
        for title, (summary, run) in self.runs().items():
            exported = self.client.get(f"/api/runs/{summary['uuid']}/run-file")
            again = self.client.post("/api/runs/import", data=exported.data)
            with self.subTest(title):
                self.assertEqual(again.status_code, 201, again.text)
                self.assertEqual(again.get_json()["answer"]["headline"], run["answer"]["headline"])
