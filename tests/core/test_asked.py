"""Answers to questions, held against what was to be said, the outcome, or a replay of what is blamed."""

from __future__ import annotations

import unittest
from typing import Any

from claykettle.core.marking import Answered, answer_label, choices_of, judge_answer, kind_of
from claykettle.core.method import LineReplaced
from claykettle.core.methods.registry import all_methods
from claykettle.core.planning.practical import Question
from claykettle.core.run import evaluate_run, evidence_of
from claykettle.formats.run_file import run_from
from tests.core.test_synthesis import evaluation as synthesis
from tests.support.runs import document

SEVEN = {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}
WET = ["32.195 g", "32.193 g"]
"""Weighed before it was dry: x comes out too small."""
LOST = ["32.060 g", "32.058 g"]
"""Some of it jumped out: x comes out too large."""


def asked(question: Question, said: str, residue: list[str] | None = None, options: Any = None) -> Answered:
    """How an answer stands beside 1.657 g of the heptahydrate heated down to this."""
    readings: dict[str, Any] = {"vessel": "31.204 g", "vessel_sample": "32.861 g"}
    if residue != []:
        readings["vessel_residue"] = residue or ["32.136 g", "32.134 g"]
    run = run_from(document(readings=readings, options=SEVEN if options is None else options))
    return judge_answer(question, said, evaluate_run(run), "1")


class WrittenDown(unittest.TestCase):
    def test_a_figure_agrees_within_its_own_rounding(self) -> None:
        question = Question("How much water?", "number", answer="43.9 %", about="water_percent")
        for said in ("43.9 %", "43.86 %", "44 %"):
            with self.subTest(said):
                self.assertEqual("right", asked(question, said).verdict)
        for said in ("45.2 %", "56.1 %", "0.439", "about half"):
            with self.subTest(said):
                found = asked(question, said)
                self.assertEqual("wrong", found.verdict)
                self.assertIn("43.9 %", found.text)

    def test_a_figure_with_a_unit_of_its_own_needs_no_line(self) -> None:
        question = Question("How much acid?", "number", answer="25 mL")
        self.assertEqual("right", asked(question, "25.0 mL").verdict)
        self.assertEqual("right", asked(question, "0.025 L").verdict)
        self.assertEqual("wrong", asked(question, "25 g").verdict)
        self.assertEqual("wrong", asked(question, "25").verdict)

    def test_a_choice_is_right_to_the_letter(self) -> None:
        question = Question("It reads", "choice", ("too light", "too heavy"), "too light")
        self.assertEqual("right", asked(question, "too light").verdict)
        self.assertEqual("wrong", asked(question, "too heavy").verdict)

    def test_words_are_for_a_person_to_read(self) -> None:
        self.assertEqual("open", asked(Question("Why?", "text"), "because it pops").verdict)
        told = asked(Question("Why?", "text", answer="steam carries grains along"), "it pops")
        self.assertEqual("open", told.verdict)
        self.assertIn("steam carries grains along", told.text)

    def test_a_formula_in_words_is_known_however_it_is_written(self) -> None:
        question = Question("Which salt?", "text", answer="ZnSO4")
        self.assertEqual("right", asked(question, "SZnO4").verdict)


class Predicted(unittest.TestCase):
    QUESTION = Question("How much will stay?", "number", about="residue_mass")

    def test_a_prediction_is_held_against_the_outcome(self) -> None:
        self.assertEqual("right", asked(self.QUESTION, "0.93 g").verdict)
        found = asked(self.QUESTION, "0.85 g")
        self.assertEqual("wrong", found.verdict)
        self.assertIn("0.930", found.text)

    def test_before_there_is_an_outcome_it_stays_open(self) -> None:
        self.assertEqual("open", asked(self.QUESTION, "0.93 g", residue=[]).verdict)


class Blamed(unittest.TestCase):
    """By the trade (common practice): spatter and decomposition raise x, water left lowers it."""

    CAUSE = Question("Which cause?", "choice", about="cause")
    WAY = Question("Too high or too low?", "choice", about="direction")
    OFF = Question("By how much?", "number", about="deviation")

    def test_the_sign_is_judged_by_replay(self) -> None:
        self.assertEqual("right", asked(self.CAUSE, "spatter", LOST).verdict)
        found = asked(self.CAUSE, "spatter", WET)
        self.assertEqual("wrong", found.verdict)
        self.assertIn("makes the ratio x too large; yours is too small", found.text)

    def test_the_size_is_told_and_judged(self) -> None:
        """By hand: 0.9305 g of salt is there; 0.856 g was weighed, so 0.07 g is gone."""
        self.assertRegex(asked(self.CAUSE, "spatter", LOST).text, r"0\.0[67]\d* g of it would be needed")
        gone = ["31.704 g", "31.703 g"]
        found = asked(self.CAUSE, "spatter", gone)
        self.assertEqual("wrong", found.verdict)
        self.assertIn("is usually the most", found.text)

    def test_water_left_behind_fits_a_wet_residue(self) -> None:
        right = [code for code in self.codes() if asked(self.CAUSE, code, WET).verdict == "right"]
        self.assertIn("not-fully-heated", right)
        self.assertNotIn("spatter", right)

    def test_inside_the_band_no_cause_is_needed(self) -> None:
        self.assertEqual("right", asked(self.CAUSE, "none").verdict)
        self.assertEqual("wrong", asked(self.CAUSE, "spatter").verdict)
        self.assertEqual("wrong", asked(self.CAUSE, "none", LOST).verdict)

    def test_too_high_or_too_low(self) -> None:
        self.assertEqual("right", asked(self.WAY, "high", LOST).verdict)
        self.assertEqual("wrong", asked(self.WAY, "low", LOST).verdict)
        self.assertEqual("right", asked(self.WAY, "low", WET).verdict)
        self.assertEqual("right", asked(self.WAY, "inside").verdict)

    def test_by_how_much_in_its_unit_or_in_percent(self) -> None:
        """By hand: 0.803/18.015 over 0.854/161.436 is 8.426, off by 1.43, which is 20.4 %."""
        for said in ("1.43", "+1.43", "20.4 %"):
            with self.subTest(said):
                self.assertEqual("right", asked(self.OFF, said, LOST).verdict, asked(self.OFF, said, LOST).text)
        for said in ("-1.43", "0.4", "12 %", "much"):
            with self.subTest(said):
                self.assertEqual("wrong", asked(self.OFF, said, LOST).verdict)

    def test_where_nothing_was_accepted_nothing_is_judged(self) -> None:
        for question in (self.WAY, self.OFF):
            found = asked(question, "high", LOST, options={"salt": "ZnSO4", "level": "percent"})
            self.assertEqual("open", found.verdict)

    def test_an_unknown_cause_is_for_a_person(self) -> None:
        self.assertEqual("open", asked(self.CAUSE, "the moon", LOST).verdict)

    def codes(self) -> list[str]:
        """The causes that are offered."""
        return [row.value for row in choices_of(self.CAUSE, run_from(document()), "1")]

    def test_every_method_offers_its_causes_and_no_slip_of_the_calculation(self) -> None:
        slips = {
            cause.code
            for method in all_methods().values()
            for cause in method.bench.causes
            if isinstance(cause.kind, LineReplaced)
        }
        self.assertTrue(slips)
        self.assertTrue(slips.isdisjoint(self.codes()))
        self.assertGreater(len(self.codes()), 5)
        self.assertEqual("choice", kind_of(self.CAUSE))
        self.assertEqual("number", kind_of(self.OFF))


class InWords(unittest.TestCase):
    """What is said beside a verdict: figures worked out by hand in the tests above."""

    def said(self, question: Question, answer: str, residue: list[str] | None = None, options: Any = None) -> str:
        found = asked(question, answer, residue, options)
        return f"{found.verdict}: {found.text}"

    def test_against_what_was_written_down(self) -> None:
        number = Question("How much water?", "number", answer="43.9 %", about="water_percent")
        for answer, said in (
            ("43.9 %", "right: "),
            ("45.2 %", "wrong: It is 43.9 %."),
            ("43.9 g", "wrong: g measures something else; this is told in %. It is 43.9 %."),
            ("43.9", "wrong: Its unit is missing, such as %. It is 43.9 %."),
            ("x", "wrong: A figure is asked for; it is 43.9 %."),
        ):
            self.assertEqual(self.said(number, answer), said)
        choice = Question("It reads", "choice", ("too light", "too heavy"), "too light")
        self.assertEqual(self.said(choice, "too heavy"), "wrong: It is: too light.")
        self.assertEqual(self.said(choice, "too light"), "right: ")
        self.assertEqual(self.said(Question("What was it?", "text", answer="Steam"), "steam"), "right: ")
        # without a line or a unit both are plain figures
        self.assertEqual(self.said(Question("How many?", "number", answer="7"), "7"), "right: ")
        self.assertEqual(
            self.said(Question("How many?", "number", answer="about seven"), "7"),
            "wrong: A figure is asked for; it is about seven.",
        )

    def test_against_the_outcome(self) -> None:
        stays = Question("How much will stay?", "number", about="residue_mass")
        for answer, said in (
            ("0.93 g", "right: It came to 0.9300 ± 0.0028 g."),
            ("0.85 g", "wrong: It came to 0.9300 ± 0.0028 g."),
            ("0.93 mol", "wrong: mol measures something else; this is told in g. It came to 0.9300 ± 0.0028 g."),
            ("much", "wrong: A figure is asked for."),
        ):
            self.assertEqual(self.said(stays, answer), said)
        not_yet = "open: The readings do not tell it yet."
        self.assertEqual(self.said(Question("And this?", "number", about="no_such_line"), "1 g"), not_yet)
        self.assertEqual(self.said(Question("Which one runs out?", "text", about="limiting"), "ZnSO4"), not_yet)
        # in words a prediction is for a person to read
        self.assertEqual(
            self.said(Question("What will stay?", "text", about="residue_mass"), "1 g"), "open: For a person to read."
        )
        self.assertEqual(self.said(Question("How many?", "number"), "7"), "open: For a person to read.")

    def test_which_reagent_runs_out(self) -> None:
        """2.000 g of salicylic acid is 14.5 mmol, the anhydride beside it 52.9: the acid runs out."""
        question = Question("Which one runs out?", "text", about="limiting")
        for answer, said in (
            ("C7H6O3", ("right", "")),
            ("H6C7O3", ("right", "")),
            ("C4H6O3", ("wrong", "It is C7H6O3.")),
        ):
            found = judge_answer(question, answer, synthesis(), "1")
            self.assertEqual((found.verdict, found.text), said)

    def test_a_unit_of_another_kind_than_what_was_written_down_is_said(self) -> None:
        acid = Question("How much acid?", "number", answer="25 mL")
        self.assertEqual(self.said(acid, "25 g"), "wrong: g measures something else; this is told in mL. It is 25 mL.")

    def test_which_way_and_how_far(self) -> None:
        way, off = Blamed.WAY, Blamed.OFF
        high, low = "Found was 8.426 ± 0.055, expected 7", "Found was 6.053 ± 0.041, expected 7"
        for question, answer, residue, said in (
            (way, "inside", None, "right: Found was 7.005 ± 0.047, expected 7: as expected, within its band."),
            (way, "high", LOST, f"right: {high}: too high."),
            (way, "low", WET, f"right: {low}: too low."),
            (off, "1.43", LOST, f"right: {high}: off by +1.43 (+20.4 %)."),
            (off, "20.4 %", LOST, f"right: {high}: off by +1.43 (+20.4 %)."),
            (off, "-20.4 %", LOST, f"wrong: {high}: off by +1.43 (+20.4 %)."),
            (off, "1.43 g", LOST, f"wrong: {high}: it is off by +1.43."),
            (off, "-0.947", WET, f"right: {low}: off by −0.947 (−13.5 %)."),
            (off, "0.947", WET, f"right: {low}: off by −0.947 (−13.5 %)."),
            (off, "13.5 %", WET, f"right: {low}: off by −0.947 (−13.5 %)."),
            (off, "0.6", WET, f"wrong: {low}: off by −0.947 (−13.5 %)."),
        ):
            with self.subTest(answer, said=said):
                self.assertEqual(self.said(question, answer, residue), said)
        # a result that is a percentage is not told once more as one
        percent = {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O", "level": "percent"}
        found = self.said(off, "4.6 %", LOST, percent)
        self.assertEqual(found, "right: Found was 48.46 ± 0.16 %, expected 43.856 %: off by +4.6 %.")
        nothing = {"salt": "ZnSO4", "level": "percent"}
        self.assertEqual(
            self.said(way, "high", LOST, nothing),
            "open: Nothing was accepted beforehand that the result could be held against.",
        )

    def test_what_a_cause_would_do_and_what_would_be_believable_instead(self) -> None:
        instead = " Believable would be: not fully heated, sample effloresced, moisture taken up on cooling."
        for answer, residue, said in (
            (
                "not-fully-heated", WET,
                "right: not fully heated makes the ratio x too small; 8.08 % of it would be needed.",
            ),
            (
                "vessel-warm", WET,
                "wrong: empty vessel weighed warm makes the ratio x too small; 0.134 g of it would be needed, and "
                f"0.03 g is usually the most.{instead}",
            ),
            (
                "spatter", WET,
                "wrong: spatter, popping or grains lost makes the ratio x too large; yours is too small." + instead,
            ),
            ("none", None, "right: Found was 7.005 ± 0.047, expected 7: no cause is needed, it lies inside."),
            ("spatter", None, "wrong: Found was 7.005 ± 0.047, expected 7: no cause is needed, it lies inside."),
            (
                "none", LOST,
                "wrong: Found was 8.426 ± 0.055, expected 7: it lies outside its band, and something did that.",
            ),
            ("the moon", LOST, "open: For a person to read."),
        ):  # fmt: skip
            with self.subTest(answer, residue=residue):
                self.assertEqual(self.said(Blamed.CAUSE, answer, residue), said)

    def test_what_is_offered_and_how_it_is_read(self) -> None:
        run = run_from(document())
        ways = [(row.value, row.label) for row in choices_of(Blamed.WAY, run, "1")]
        self.assertEqual(ways, [("high", "too high"), ("low", "too low"), ("inside", "as expected, within its band")])
        own = Question("It reads", "choice", ("too light", "too heavy"), "too light")
        self.assertEqual(
            [(row.value, row.label) for row in choices_of(own, run, "1")], [(row, row) for row in own.choices]
        )
        causes = choices_of(Blamed.CAUSE, run, "1")
        self.assertEqual((causes[0].value, causes[0].label), ("none", "none is needed, it lies within its band"))
        labels = [row.label.casefold() for row in causes[1:]]
        self.assertEqual(labels, sorted(labels))
        self.assertEqual(answer_label(Blamed.WAY, "low", run, "1"), "too low")
        self.assertEqual(answer_label(Blamed.WAY, "sideways", run, "1"), "sideways")
        worded = [Question("?", "text", about=about) for about in ("direction", "cause", "deviation", "")]
        self.assertEqual([kind_of(row) for row in (*worded, own)], ["choice", "choice", "number", "text", "choice"])

    def test_no_slip_of_the_calculation_and_no_cause_that_cannot_have_been_is_offered(self) -> None:
        """Of a gas over water: to leave the vapour out is a slip of the calculation."""
        readings = {"sample": "0.098 g", "volume_end": "36.90 mL"}
        run = run_from(
            {
                "format": "clay-kettle/run", "version": 1, "method": "gas_over_water", "options": {"gas": "H2"},
                "trials": [{"label": "1", "readings": readings}],
            }
        )  # fmt: skip
        offered = {row.value for row in choices_of(Blamed.CAUSE, run, "1")} - {"none"}
        causes = run.method.bench.causes
        self.assertEqual(offered & {row.code for row in causes if isinstance(row.kind, LineReplaced)}, set())
        happens = {row.code for row in causes if row.happens(run.options, evidence_of(run, "1"))}
        self.assertLessEqual(offered, happens)
        self.assertLess(len(happens), len(causes))
