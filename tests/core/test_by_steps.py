"""What steps and times say of a result (common practice in teaching laboratories), each beside the honest run."""

from __future__ import annotations

import json
import unittest
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.judgement.standing import Standing, standing
from claykettle.core.judgement.suspects import suspicion
from claykettle.core.run import evaluate_run, evidence_of
from claykettle.formats.evaluation_json import evaluation_document
from claykettle.formats.run_file import read_run, run_document

NEW = {"weighed-warm", "no-heating-between", "step-missed"}


def at(clock: str) -> str:
    return f"2026-03-05T{clock}+01:00"


def hydrate(residues: list[tuple[str, str]], steps: list[dict[str, Any]]) -> dict[str, Any]:
    """Zinc sulfate (the demo's run), its weighings as figure and time."""
    return {
        "format": "clay-kettle/run", "version": 1, "method": "hydrate",
        "options": {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"},
        "instruments": {"balance": {"half_width": "0.001 g"}},
        "procedure": {"name": "hydrate_constant_mass", "version": 4},
        "trials": [{"label": "1", "readings": {
            "vessel": {"text": "31.204 g", "at": at("18:20:00")},
            "vessel_sample": {"text": "32.861 g", "at": at("18:22:00")},
            "vessel_residue": [{"text": text, "at": at(clock)} for text, clock in residues],
        }}],
        "steps": steps,
    }  # fmt: skip


def mark(step: str, kind: str, clock: str | None = None, **more: Any) -> dict[str, Any]:
    return {"trial": "1", "step": step, "kind": kind, **({"at": at(clock)} if clock else {}), **more}


HONEST = [("32.151 g", "18:52:00"), ("32.136 g", "19:06:00"), ("32.134 g", "19:20:00")]
ROUNDS = [
    mark("fire", "done", "18:18:00"),
    mark("heat", "done", "18:40:00"),
    mark("heat", "done", "18:55:00", round=2),
    mark("heat", "done", "19:09:00", round=3),
]
NOTHING_SAID: list[dict[str, Any]] = []


def said(document: dict[str, Any]) -> dict[str, str]:
    """The new verdicts of the first trial, by code."""
    run = read_run(json.dumps(document).encode())
    return {row.code: row.text for row in evaluate_run(run).trials[0].verdicts if row.code in NEW}


class Crucible(unittest.TestCase):
    def test_an_honest_record_is_not_accused(self) -> None:
        self.assertEqual(said(hydrate(HONEST, ROUNDS)), {})

    def test_a_timer_that_ended_in_the_moment_of_the_figure_was_waited_for(self) -> None:
        """A reading's clock writes milliseconds, a mark's microseconds."""
        heated = [ROUNDS[0], mark("heat", "done", "18:42:00.000731"), *ROUNDS[2:]]
        for clock, warm in (("18:52:00", False), ("18:51:30", True)):
            with self.subTest(clock):
                self.assertEqual("weighed-warm" in said(hydrate([("32.151 g", clock), *HONEST[1:]], heated)), warm)

    def test_of_a_run_from_paper_nothing_is_concluded(self) -> None:
        """No step was marked, and the figures bear no times."""
        document = hydrate(HONEST, NOTHING_SAID)
        readings = document["trials"][0]["readings"]
        readings["vessel_residue"] = [text for text, _ in HONEST]
        self.assertEqual(said(document), {})

    def test_weighed_before_it_had_cooled(self) -> None:
        """Ten minutes to room temperature (common practice); the flame went out at 18:40."""
        warm = [("32.151 g", "18:45:00"), *HONEST[1:]]
        found = said(hydrate(warm, ROUNDS))
        self.assertEqual(set(found), {"weighed-warm"})
        self.assertIn("32.151 g was typed 5 min before", found["weighed-warm"])

    def test_more_time_that_was_asked_for_counts(self) -> None:
        extended = [
            *ROUNDS,
            mark("weigh_residue", "started", "18:40:00"),
            mark("weigh_residue", "extended", "18:50:00"),
        ]
        self.assertIn("3 min before", said(hydrate(HONEST, extended))["weighed-warm"])

    def test_the_empty_vessel_too(self) -> None:
        """Fired at 18:10: fifteen minutes with the cooling, weighed after ten."""
        early = [mark("fire", "started", "18:10:00"), *ROUNDS]
        self.assertIn("31.204 g", said(hydrate(HONEST, early))["weighed-warm"])

    def test_two_weighings_within_two_minutes(self) -> None:
        again = [*HONEST[:2], ("32.135 g", "19:06:40")]
        self.assertIn("40 s apart", said(hydrate(again, NOTHING_SAID))["no-heating-between"])
        later = [*HONEST[:2], ("32.135 g", "19:08:00")]
        self.assertEqual(said(hydrate(later, NOTHING_SAID)), {})

    def test_a_round_that_was_not_marked_where_others_were(self) -> None:
        found = said(hydrate(HONEST, ROUNDS[:3]))
        self.assertEqual(set(found), {"no-heating-between"})
        self.assertIn("Weighings 2 and 3", found["no-heating-between"])
        self.assertIn("'Heated, round 3'", found["no-heating-between"])

    def test_it_speaks_for_its_cause(self) -> None:
        """A residue weighed warm reads light: the record stands beside the suspect that it speaks for."""
        warm = [("32.151 g", "18:52:00"), ("32.136 g", "18:58:00"), ("32.110 g", "19:12:00")]
        run = read_run(json.dumps(hydrate(warm, ROUNDS)).encode())
        evidence = evidence_of(run, "1")
        self.assertIn("vessel_residue", evidence.early)
        found = suspicion(evaluate_run(run).trials[0].trial, run.method, None, evidence).suspects
        row = next(one for one in found if one.code == "residue-warm")
        self.assertIn("weighed before it had cooled", row.text)


PRECIPITATE = {
    "format": "clay-kettle/run", "version": 1, "method": "precipitation",
    "options": {
        "equation": "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)",
        "reagents": [{"formula": "BaCl2.2H2O"}, {"formula": "Na2SO4", "concentration": "0.250 mol/L"}],
    },
    "instruments": {"balance": {"half_width": "0.001 g"}},
    "procedure": {"name": "precipitation", "version": 2},
    "trials": [{"label": "1", "readings": {
        "reagent_1": "1.032 g", "reagent_2": "21.5 mL", "paper": {"text": "0.908 g", "at": at("18:20:00")},
        "collected": ["1.889 g", "1.887 g"],
    }}],
}  # fmt: skip
WASHED = [
    mark("label_paper", "done", "18:15:00"),
    mark("rinse_beaker", "done", n=3),
    mark("rinse_paper", "done", n=3),
    mark("wash_test", "done"),
]


class Filtered(unittest.TestCase):
    def missed(self, steps: list[dict[str, Any]], **more: Any) -> tuple[list[str], list[str]]:
        run = read_run(json.dumps(PRECIPITATE | {"steps": steps} | more).encode())
        trial = evaluation_document(evaluate_run(run))["trials"][0]
        return trial["steps_missed"], [row["text"] for row in trial["verdicts"] if row["code"] == "step-missed"]

    def test_all_was_done(self) -> None:
        self.assertEqual(self.missed(WASHED), ([], []))

    def test_nothing_was_marked_so_nothing_is_known(self) -> None:
        self.assertEqual(self.missed([]), ([], []))

    def test_a_rinse_skipped_with_its_reason(self) -> None:
        steps = [*WASHED[:2], mark("rinse_paper", "skipped", reason="no time"), WASHED[3]]
        names, texts = self.missed(steps)
        self.assertEqual(names, ["rinse_paper"])
        self.assertIn("skipped (no time)", texts[0])
        self.assertIn("weighed with the solid", texts[0])

    def test_rinsed_once_of_three_times(self) -> None:
        seen = [{"tag": "rinse, paper", "trial": "1"}]
        names, texts = self.missed([*WASHED[:2], WASHED[3]], observations=seen)
        self.assertEqual((names, len(texts)), (["rinse_paper"], 1))
        self.assertIn("done 1 of 3 times", texts[0])

    def test_the_paper_named_after_it_was_weighed(self) -> None:
        names, texts = self.missed([mark("label_paper", "done", "18:25:00"), *WASHED[1:]])
        self.assertEqual(names, ["label_paper"])
        self.assertIn("done only after the weighing", texts[0])

    def test_a_tap_and_a_figure_of_one_moment_have_no_order(self) -> None:
        for clock in ("18:20:00.000412", "18:20:00.900000"):
            with self.subTest(clock):
                self.assertEqual(self.missed([mark("label_paper", "done", clock), *WASHED[1:]])[0], [])

    def test_a_step_not_marked_where_others_were(self) -> None:
        self.assertEqual(self.missed(WASHED[:3])[0], ["wash_test"])

    def test_it_ranks_its_cause(self) -> None:
        """Too heavy, and a rinse skipped: salt in the solid comes before a wet paper, for which nothing speaks."""
        readings = PRECIPITATE["trials"][0]["readings"] | {"collected": ["1.939 g", "1.937 g"]}  # type: ignore[index]
        document = PRECIPITATE | {"trials": [{"label": "1", "readings": readings}]}
        steps = [*WASHED[:2], mark("rinse_paper", "skipped"), WASHED[3]]
        order = []
        for given in (WASHED, steps):
            run = read_run(json.dumps(document | {"steps": given}).encode())
            trial = evaluate_run(run).trials[0].trial
            order.append([row.code for row in suspicion(trial, run.method, None, evidence_of(run, "1")).suspects])
        self.assertEqual(order[1][0], "unwashed")
        self.assertNotEqual(order[0], order[1])


FERRITE = {
    "format": "clay-kettle/run", "version": 1, "method": "synthesis",
    "options": {
        "equation": "CoCl2(aq) + 2 FeCl3(aq) + 8 NaOH(aq) -> CoFe2O4(s) + 8 NaCl(aq) + 4 H2O(l)",
        "reagents": [
            {"formula": "CoCl2", "concentration": "0.50 mol/L"}, {"formula": "FeCl3", "concentration": "1.00 mol/L"},
            {"formula": "NaOH", "concentration": "3.0 mol/L"},
        ],
    },
    "trials": [{"label": "1", "readings": {"reagent_1": "9.0 mL", "reagent_2": "10.0 mL", "reagent_3": "50.0 mL"}}],
}  # fmt: skip


class ByEye(unittest.TestCase):
    """A co-precipitation ends with pass or fail; nothing is missing then."""

    def told(self, *tags: str) -> tuple[set[str], Standing]:
        seen = [{"tag": tag, "trial": "1"} for tag in tags]
        trial = evaluate_run(read_run(json.dumps(FERRITE | {"observations": seen}).encode())).trials[0]
        return {row.code for row in trial.verdicts}, standing(trial.verdicts, False, ())

    def test_without_a_word_it_waits_for_its_weighing(self) -> None:
        codes, stands = self.told()
        self.assertIn("missing-reading", codes)
        self.assertEqual(stands.word, "provisional")

    def test_pass_ends_it(self) -> None:
        codes, stands = self.told("black", "pass")
        self.assertLessEqual({"passed"}, codes)
        self.assertNotIn("missing-reading", codes)
        self.assertEqual((stands.level, stands.word), ("good", "passed"))

    def test_fail_is_not_green(self) -> None:
        codes, stands = self.told("fail")
        self.assertIn("failed", codes)
        self.assertEqual((stands.level, stands.word), ("watch", "failed"))

    def test_the_last_word_counts_and_the_other_is_named(self) -> None:
        self.assertEqual(self.told("pass", "fail")[1].word, "failed")
        codes, stands = self.told("fail", "pass")
        self.assertEqual((stands.word, codes & {"passed", "failed"}), ("passed", {"passed"}))
        self.assertIn("Before that fail was noted", stands.why)


class TheFile(unittest.TestCase):
    def test_steps_come_back_as_they_went(self) -> None:
        document = hydrate(HONEST, [*ROUNDS, mark("set_aside", "skipped", by="Marl", reason="needed again", n=0)])
        run = read_run(json.dumps(document).encode())
        self.assertEqual(run_document(run)["steps"], document["steps"])

    def test_a_step_of_no_trial_is_refused_at_its_place(self) -> None:
        for wrong, path in (
            ({"trial": "2", "step": "heat", "kind": "done"}, "steps[0].trial"),
            ({"trial": "1", "step": "heat", "kind": "finished"}, "steps[0].kind"),
            ({"trial": "1", "step": "Heat it!", "kind": "done"}, "steps[0].step"),
            ({"trial": "1", "step": "heat", "kind": "done", "round": 0}, "steps[0].round"),
            ({"trial": "1", "step": "heat", "kind": "done", "at": "yesterday"}, "steps[0].at"),
        ):
            with self.subTest(path), self.assertRaises(Refusal) as caught:
                read_run(json.dumps(hydrate(HONEST, [wrong])).encode())
            self.assertEqual([row.path for row in caught.exception.faults], [path])

    def test_an_unknown_step_is_kept_and_says_nothing(self) -> None:
        document = hydrate(HONEST, [mark("sing", "done"), *ROUNDS])
        self.assertEqual(said(document), {})
