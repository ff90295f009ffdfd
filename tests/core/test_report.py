"""A run told as a report: what was done with what was really taken, nothing that no record bears out."""

from __future__ import annotations

import re
import unittest
from dataclasses import replace
from pathlib import Path
from random import Random
from typing import Any

from claykettle.core.methods.registry import all_methods, shipped_procedures
from claykettle.core.report import Asked, Beside, Document, Paragraph, Signed, Table, plain, report_of, text
from claykettle.core.run import Procedure, evaluate_run, procedure_body
from claykettle.formats.run_file import read_run, run_from
from tests.sheets.by_hand import METHODS
from tests.support.runs import document

GOLDEN = sorted((Path(__file__).parents[1] / "golden").glob("*.run.json"))


def report(beside: Beside | None = None, **more: Any) -> Document:
    """The report of a hydrate's run file."""
    return report_of(evaluate_run(run_from(document(**more))), beside or Beside())


def words(found: Document, title: str) -> str:
    """All that stands in a section, tables cell by cell."""
    section = next(row for row in found.sections if row.title == title)
    lines: list[str] = []
    for block in section.blocks:
        match block:
            case Paragraph():
                lines.append(plain(block.text))
            case Table():
                lines += [block.caption, *(plain(cell) for row in (block.head, *block.rows) for cell in row)]
            case _:
                lines += [plain(row) for row in block.rows]
    return "\n".join(lines)


class Formulas(unittest.TestCase):
    def test_subscripts_are_set_in_formulas_and_nowhere_else(self) -> None:
        def subs(line: str) -> list[str]:
            return [span.text for span in text(line) if span.style == "sub"]

        self.assertEqual(["4", "2"], subs("1.657 g of ZnSO4·7H2O was added"))
        self.assertEqual(["2", "2", "7"], subs("K2Cr2O7 in 250 mL"))
        self.assertEqual(["4", "2"], subs("KAl(SO4)2 of trial 3"))
        self.assertEqual([], subs("R = 8.314, heating 3, at 21.2 °C, pH 7, A4 paper, balance B"))
        self.assertEqual([], subs("x = 6.985 ± 0.032 in 3 trials"))

    def test_charges_stand_high(self) -> None:
        self.assertEqual([("Fe", "plain"), ("3+", "sup")], [(row.text, row.style) for row in text("Fe^3+")])

    def test_nothing_is_lost_by_setting(self) -> None:
        for line in ("CuSO4·0.5H2O → CuSO4", "Na2B4O7·xH2O", "2 KAl(SO4)2·12H2O(s) + 3 H2(g)", "Fertig & <b>"):
            self.assertEqual(line, plain(text(line)))


class Told(unittest.TestCase):
    def test_every_shipped_step_can_be_told(self) -> None:
        for procedure in shipped_procedures():
            for step in procedure.all_steps():
                with self.subTest(method=procedure.method, step=step.id):
                    self.assertTrue(step.past.endswith("."), step.past)
                    if step.reads:
                        self.assertRegex(step.past, r"\{\w+\}")

    def test_every_name_that_a_sentence_asks_for_is_one_of_its_page(self) -> None:
        fixed = {"figure", "minutes", "times", "matter", "reading", "n"}
        for procedure in shipped_procedures():
            method = all_methods()[procedure.method]
            known = {row.name for shape in method.bench.shapes() for row in method.page.build(shape).lines}
            for step in procedure.all_steps():
                for told in (step.past, *(row.past or "" for row in step.words)):
                    asked = set(re.findall(r"\{(\w+)\}", told)) - fixed
                    self.assertLessEqual(asked, known, f"{procedure.method}: {step.id}")

    def test_the_amounts_are_those_really_taken(self) -> None:
        """By hand: 32.861 − 31.204 = 1.657 g."""
        told = words(report(), "Procedure")
        self.assertIn("1.657 g of ZnSO4 was added and weighed in it (32.861 g)", told)
        self.assertIn("The same was done three times in all (32.136 g and 32.134 g), until two agreed", told)

    def test_another_trial_tells_how_often_where_that_was_another_number(self) -> None:
        first = document()["trials"][0]
        once = {**first, "label": "2", "readings": {**first["readings"], "vessel_residue": ["32.134 g"]}}
        told = words(report(trials=[first, once, {**first, "label": "3"}]), "Procedure")
        self.assertIn("Trial 2 was done in the same way, the rounds once in all.", told)
        self.assertIn("Trial 3 was done in the same way.", told)

    def test_nothing_is_told_that_nobody_marked(self) -> None:
        told = words(report(), "Procedure")
        self.assertNotIn("fire", told)
        self.assertNotIn("It was heated", told)
        self.assertIn("no step of it was marked", told)

    def test_what_was_marked_is_told_with_the_time_that_it_took(self) -> None:
        def mark(step: str, kind: str, minute: int, number: int = 1) -> dict[str, Any]:
            at = f"2026-03-05T18:{minute:02}:00+01:00"
            return {"trial": "1", "step": step, "kind": kind, "round": number, "at": at, "by": "Marl"}

        steps = [mark("fire", "done", 2), mark("heat", "started", 10), mark("heat", "done", 19)]
        told = words(report(steps=steps), "Procedure")
        self.assertIn("The vessel was cleaned, heated for 5 minutes and cooled", told)
        self.assertIn("It was heated for 9 min", told)
        self.assertNotIn("no step of it was marked", told)

    def test_no_duration_is_told_that_nobody_timed(self) -> None:
        """The step was tapped as done; when it began nobody said."""
        steps = [{"trial": "1", "step": "heat", "round": 1, "kind": "done", "at": "2026-03-05T18:40:00+01:00"}]
        procedure = {"name": "hydrate_constant_mass", "version": 8}
        told = words(report(steps=steps, procedure=procedure), "Procedure")
        self.assertIn("It was heated", told)
        self.assertNotRegex(told, r"heated for|for \d+ min")

    def test_what_was_passed_over_is_said_with_its_reason(self) -> None:
        steps = [
            {"trial": "1", "step": "fire", "kind": "skipped", "round": 1, "reason": "came fired"},
            {"trial": "1", "step": "heat", "kind": "done", "round": 1},
        ]
        told = words(report(steps=steps), "Procedure")
        self.assertIn("passed over were Vessel fired and cooled (came fired)", told)
        self.assertNotIn("The vessel was cleaned", told)

    def test_a_step_of_an_own_practical_is_told_by_its_short_name(self) -> None:
        course = next(row for row in shipped_procedures() if row.method == "hydrate")
        body = procedure_body(course)
        for step in body["steps"]:
            step.pop("past", "")
        own = Procedure.model_validate(body)
        found = report_of(evaluate_run(replace(run_from(document()), course=own)))
        self.assertIn("Vessel + sample: 32.861 g.", words(found, "Procedure"))

    def test_the_demo_s_runs_leave_no_gap(self) -> None:
        for path in GOLDEN:
            with self.subTest(path.stem):
                found = report_of(evaluate_run(read_run(path.read_bytes())))
                told = words(found, "Procedure")
                self.assertNotRegex(told, r"\{|\}|\( ?\)| of  |  ")
                self.assertGreater(len(told), 80)


class OfEveryMethod(unittest.TestCase):
    def test_runs_whole_and_cut_short_are_told_without_a_gap(self) -> None:
        draw = Random(7)
        for name in METHODS:
            for _ in range(4):
                whole = METHODS[name](draw).document()
                for left in range(len(whole["trials"][0]["readings"]) + 1):
                    readings = dict(list(whole["trials"][0]["readings"].items())[:left])
                    trials = [{**whole["trials"][0], "readings": readings}]
                    found = report_of(evaluate_run(run_from({**whole, "trials": trials})))
                    everything = "\n".join(words(found, row.title) for row in found.sections)
                    with self.subTest(name, readings=left):
                        told = words(found, "Procedure")
                        self.assertNotRegex(told, r"\{|\}|\( ?\)| of  |  ")
                        for value in readings.values():
                            for one in value if isinstance(value, list) else [value]:
                                self.assertIn(one.split()[0], told)
                        self.assertNotRegex(everything, r"\bnan\b|\bNone\b(?! were)|\binf\b")


class Whole(unittest.TestCase):
    def test_all_that_belongs_to_a_report_is_there(self) -> None:
        wanted = [
            "Purpose", "Reagents and instruments", "Procedure", "Readings", "Results", "Discussion", "Waste",
            "Questions", "Signatures", "Appendix: the log",
        ]  # fmt: skip
        self.assertEqual(wanted, [row.title for row in report().sections])

    def test_the_equation_is_told_of_what_was_found(self) -> None:
        self.assertIn("ZnSO4·7H2O → ZnSO4 + 7 H2O", words(report(), "Purpose"))

    def test_an_undecided_formula_is_not_told_as_one(self) -> None:
        coarse = {"instruments": {"balance": {"half_width": "0.05 g"}}}
        self.assertIn("ZnSO4·xH2O → ZnSO4 + x H2O", words(report(**coarse), "Purpose"))

    def test_figures_are_those_of_the_evaluation(self) -> None:
        found = evaluate_run(run_from(document()))
        told = words(report(), "Results")
        for row in found.trials[0].results:
            self.assertIn(row.text, told)

    def test_a_correction_is_struck_and_its_reason_told(self) -> None:
        readings = {
            "vessel": {"text": "31.204 g", "corrects": "31.240 g", "reason": "digits swapped", "by": "Marl"},
            "vessel_sample": "32.861 g",
            "vessel_residue": ["32.134 g"],
        }
        found = report(readings=readings)
        section = next(row for row in found.sections if row.title == "Readings")
        struck = [
            span.text
            for block in section.blocks
            if isinstance(block, Table)
            for row in block.rows
            for cell in row
            for span in cell
            if span.style == "struck"
        ]
        self.assertEqual(["31.240 g"], struck)
        self.assertIn("digits swapped", words(found, "Readings"))
        self.assertIn("Marl", words(found, "Appendix: the log"))

    def test_a_deviation_names_what_could_explain_it(self) -> None:
        told = words(
            report(
                options={"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"},
                readings={
                    "vessel": "31.204 g",
                    "vessel_sample": "32.861 g",
                    "vessel_residue": ["32.190 g", "32.189 g"],
                },
            ),
            "Discussion",
        )
        self.assertIn("What could explain it", told)
        self.assertIn("believable", told)

    def test_a_run_with_nothing_in_it_says_so(self) -> None:
        found = report(readings={})
        self.assertIn("Nothing was weighed or measured yet", words(found, "Readings"))
        self.assertIn("No result can be worked out yet", words(found, "Results"))
        self.assertIn("Nothing was recorded", words(found, "Procedure"))

    def test_a_trial_that_was_not_begun_has_no_column(self) -> None:
        trials = [*document()["trials"], {"label": "second", "readings": {}}]
        found = report(trials=trials)
        for section in ("Readings", "Results"):
            self.assertNotIn("second", words(found, section))

    def test_many_trials_stand_on_sheets_that_hold_them(self) -> None:
        trials = [{"label": str(number), "readings": document()["trials"][0]["readings"]} for number in range(1, 11)]
        found = report(trials=trials)
        section = next(row for row in found.sections if row.title == "Readings")
        tables = [row for row in section.blocks if isinstance(row, Table)]
        self.assertEqual([5, 5, 3], [len(row.head) for row in tables])
        self.assertEqual("Trial 10", plain(tables[-1].head[-1]))

    def test_answers_that_are_kept_back_stand_nowhere(self) -> None:
        told = report(Beside(tells_answers=False), options={"salt": "ZnSO4"})
        everything = "\n".join(words(told, row.title) for row in told.sections)
        self.assertNotIn("ZnSO4·7H2O", everything)
        self.assertNotIn("6.9", words(told, "Results"))

    def test_a_signature_that_came_in_a_run_file_is_told_as_one(self) -> None:
        seen = [{"tag": "signed", "text": "x = 7.005; record 0a1b", "by": "Ivo Plover", "at": "2026-03-05T20:10:00Z"}]
        found = report(observations=seen)
        self.assertIn("Ivo Plover", words(found, "Signatures"))
        self.assertNotIn("By hand", words(found, "Signatures"))
        self.assertNotIn("signed", words(found, "Procedure"))

    def test_questions_and_signatures_are_told_where_they_are_known(self) -> None:
        beside = Beside(
            questions=(Asked("Too high or too low?", "too high", "right"),),
            signatures=(Signed("Ivo Plover", "2026-03-05 20:10"),),
        )
        found = report(beside)
        self.assertIn("too high", words(found, "Questions"))
        self.assertIn("Ivo Plover", words(found, "Signatures"))
        self.assertNotIn("By hand", words(found, "Signatures"))
