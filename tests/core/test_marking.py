"""Sheets marked: against arithmetic that shares nothing with ours, with slips planted, and with what is no figure."""

from __future__ import annotations

import json
import unittest
from collections import Counter
from typing import Any
from unittest import mock

from claykettle.core.marking import Line, Marking, mark
from claykettle.core.marking.slips import ORDER, WORDS
from claykettle.core.sheet import Worksheet
from claykettle.formats.sheet_file import marking_document, read_sheet
from tests.sheets.by_hand import METHODS
from tests.sheets.planting import honest_sheets, planted_sheets
from tests.support.commands import Done, kettle, told
from tests.support.tiers import amount, both

HONEST, EACH = amount(600, 5000), 25
ZINC = {
    "format": "clay-kettle/run", "version": 1, "method": "hydrate",
    "options": {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}, "instruments": {"balance": {"half_width": "0.001 g"}},
    "trials": [{"label": "1", "readings": {
        "vessel": "31.204 g", "vessel_sample": "32.861 g", "vessel_residue": ["32.151 g", "32.136 g", "32.135 g"],
    }}],
}  # fmt: skip
GOOD = {
    "sample_mass": "1.657 g", "residue_mass": "0.931 g", "water_mass": "0.726 g", "water_percent": "43.8 %",
    "water_amount": "40.3 mmol", "salt_amount": "5.77 mmol", "water_ratio": "6.99", "formula": "ZnSO4.7H2O",
}  # fmt: skip
"""By hand: 1.657, 0.931, 0.726 g; 0.726/1.657; 0.726/18.015; 0.931/161.43; 40.30/5.767."""


def sheet(claims: dict[str, str], run: dict[str, Any] | None = None, **more: Any) -> dict[str, Any]:
    """A sheet file."""
    document = {"format": "clay-kettle/sheet", "version": 1, "student": "A", "run": run or ZINC, "trial": "1"}
    return document | {"claims": claims} | more


def marked(claims: dict[str, str], run: dict[str, Any] | None = None, **more: Any) -> Marking:
    """A sheet, marked."""
    return mark(read_sheet(json.dumps(sheet(claims, run, **more)).encode()))


def by_name(found: Marking) -> dict[str, Line]:
    """The lines by name."""
    return {row.name: row for row in found.lines}


class ByHand(unittest.TestCase):
    @both
    def test_no_right_line_of_five_thousand_honest_sheets_is_marked_wrong(self) -> None:
        """Three to six figures, three tables of weights, worked on from paper or from the calculator's memory."""
        wrong: Counter[str] = Counter()
        for handed in honest_sheets(HONEST, seed=1):
            found = mark(read_sheet(json.dumps(handed.document()).encode()))
            wrong.update(row.status for row in found.lines)
            self.assertIsNone(found.first_wrong, [(handed.work.method, row) for row in found.lines])
            self.assertEqual((len(handed.claims), found.of), (len(found.lines), found.marks))
        # what other tables leave over a thousandth of a difference follows at least
        self.assertLessEqual(wrong["follows"], 1e-3 * wrong["right"])

    def test_the_first_wrong_line_is_found_and_its_slip_named(self) -> None:
        """At least 98 and 90 in a hundred; what else would give the figure comes first in the list now and then."""
        total, first, named, missed = 0, 0, 0, []
        for handed in planted_sheets(EACH, seed=2):
            found = mark(read_sheet(json.dumps(handed.document()).encode()))
            line = by_name(found)[handed.line]
            total += 1
            first += found.first_wrong == handed.line
            named += line.slip == handed.slip
            if line.slip != handed.slip:
                missed.append((handed.work.method, handed.line, handed.slip, line.slip))
            below = [row for row in found.lines if row.name != handed.line and row.status not in ("right", "follows")]
            self.assertEqual([], [(handed.work.method, row.name, row.status) for row in below])
        self.assertEqual(EACH * len(METHODS), total)
        self.assertGreaterEqual(first / total, 0.98)
        self.assertGreaterEqual(named / total, 0.90, missed)

    def test_every_method_has_a_working_of_its_own_here(self) -> None:
        from claykettle.core.methods.registry import all_methods

        self.assertEqual(set(all_methods()), set(METHODS))


class ASheet(unittest.TestCase):
    def test_all_right_and_the_document_is_as_the_contract_has_it(self) -> None:
        found = marked(GOOD, marks={"water_ratio": 2, "formula": 2})
        self.assertEqual((None, 10, 10), (found.first_wrong, found.marks, found.of))
        document = marking_document(found)
        self.assertEqual(["format", "version", "lines", "first_wrong", "marks", "of"], list(document))
        self.assertEqual(("clay-kettle/marking", 1), (document["format"], document["version"]))
        keys = ["name", "claimed", "true", "carried", "status", "marks", "of", "slip", "text", "remarks"]
        for row in document["lines"]:
            self.assertEqual(keys, list(row))
            self.assertEqual(("right", None), (row["status"], row["slip"]))
        self.assertEqual("5.7670 mmol", by_name(found)["salt_amount"].true)

    def test_an_error_is_carried_on_and_earns_its_marks_below(self) -> None:
        """The first weighing taken for the last: 0.710 g, and all of it follows: 39.4/5.77 is 6.83."""
        wrong = {"water_mass": "0.710 g", "water_percent": "42.8 %", "water_amount": "39.4 mmol", "water_ratio": "6.83"}
        found = marked(GOOD | wrong)
        rows = by_name(found)
        self.assertEqual("water_mass", found.first_wrong)
        self.assertEqual(
            ("wrong", "other-reading", 0),
            (rows["water_mass"].status, rows["water_mass"].slip, rows["water_mass"].marks),
        )
        for name in ("water_percent", "water_amount", "water_ratio"):
            self.assertEqual(("follows", 1, None), (rows[name].status, rows[name].marks, rows[name].slip))
        self.assertEqual(7, found.marks)

    def test_the_lines_stand_in_the_order_of_the_working_whatever_the_order_of_the_claims(self) -> None:
        claims = dict(reversed(GOOD.items())) | {"sample_mass": "1.567 g", "water_ratio": "0.143"}
        found = marked(claims)
        self.assertEqual(list(GOOD), [row.name for row in found.lines])
        self.assertEqual("sample_mass", found.first_wrong)

    def test_a_line_that_is_asked_for_and_not_claimed_is_missing(self) -> None:
        found = marked({"water_ratio": "6.99"}, marks={"water_mass": 3, "water_ratio": 2, "formula": 1})
        rows = by_name(found)
        self.assertEqual(
            ("missing", 0, 3), (rows["water_mass"].status, rows["water_mass"].marks, rows["water_mass"].of)
        )
        self.assertEqual(("missing", 2, 6), (rows["formula"].status, found.marks, found.of))
        self.assertIsNone(found.first_wrong)

    def test_a_unit_that_is_missing_or_measures_something_else(self) -> None:
        rows = by_name(marked(GOOD | {"water_amount": "0.0403", "salt_amount": "5.77 g", "water_percent": "43.8"}))
        for name in ("water_amount", "salt_amount", "water_percent"):
            self.assertEqual(("unit", 0), (rows[name].status, rows[name].marks), name)
        self.assertIn("missing", rows["water_amount"].text)
        # what is above is right, and is worked on with: the ratio is right all the same
        self.assertEqual("right", rows["water_ratio"].status)

    def test_other_ways_of_writing_the_same(self) -> None:
        for text in ("0.00577 mol", "5.77e-3 mol", "5,77 mmol", "5.77 × 10^-3 mol", "5.77x10-3 mol", "  5.77   mmol "):
            self.assertEqual("right", by_name(marked(GOOD | {"salt_amount": text}))["salt_amount"].status, text)
        self.assertEqual(
            "right", by_name(marked({"water_percent": "0.438"} | {"water_ratio": "699 %"}))["water_ratio"].status
        )
        self.assertEqual("right", by_name(marked({"water_molar_mass": "18.02 g mol-1"}))["water_molar_mass"].status)
        self.assertEqual("right", by_name(marked({"water_molar_mass": "18.015 g·mol⁻¹"}))["water_molar_mass"].status)

    def test_what_is_no_figure_or_has_no_end(self) -> None:
        for text in ("seven", "about 7", "∞", "1e999", "NaN", "--7", "0x1F"):
            rows = by_name(marked(GOOD | {"water_ratio": text}))
            self.assertEqual("wrong" if text != "0x1F" else "unit", rows["water_ratio"].status, text)
        rows = by_name(marked(GOOD | {"water_ratio": "6." + "9" * 38}))
        self.assertEqual(("right", ("too-many-digits",)), (rows["water_ratio"].status, rows["water_ratio"].remarks))

    def test_too_few_digits_and_too_many_are_remarked_and_cost_nothing(self) -> None:
        """u of x is about 0.025: half a unit of 7 is twenty times that, of 6.98800 a fiftieth of a fiftieth."""
        rows = by_name(marked({"water_ratio": "7"}))
        self.assertEqual(("right", ("too-few-digits",)), (rows["water_ratio"].status, rows["water_ratio"].remarks))
        rows = by_name(marked({"water_ratio": "6.98800"}))
        self.assertEqual(("right", ("too-many-digits",)), (rows["water_ratio"].status, rows["water_ratio"].remarks))
        self.assertEqual((), by_name(marked({"water_molar_mass": "18.015 g/mol"}))["water_molar_mass"].remarks)

    def test_at_most_sixty_evaluations_a_sheet(self) -> None:
        with mock.patch.object(Worksheet, "evaluate", autospec=True, side_effect=Worksheet.evaluate) as asked:
            for handed in (*planted_sheets(3, seed=5), *honest_sheets(12, seed=5)):
                asked.reset_mock()
                mark(read_sheet(json.dumps(handed.document()).encode()))
                self.assertLessEqual(asked.call_count, 60, handed.work.method)


class InWords(unittest.TestCase):
    def test_a_formula_that_neither_the_readings_nor_the_own_ratio_give_is_forced(self) -> None:
        rows = by_name(marked(GOOD | {"formula": "ZnSO4.6H2O"}))
        self.assertEqual(("wrong", "ratio-forced"), (rows["formula"].status, rows["formula"].slip))
        self.assertIn("6.99", rows["formula"].text)

    def test_a_formula_that_follows_from_the_own_ratio(self) -> None:
        """The residue of the first heating would be six waters and a half: 0.622 g, 34.5 mmol over 5.77."""
        claims = GOOD | {"water_mass": "0.622 g", "water_amount": "34.5 mmol", "water_ratio": "5.98"}
        rows = by_name(marked(claims | {"formula": "ZnSO4·6H2O"}))
        self.assertEqual("follows", rows["formula"].status)
        self.assertEqual("right", by_name(marked(claims))["formula"].status)

    def test_prose_an_unknown_formula_and_none(self) -> None:
        for text in ("zinc sulfate with seven waters", "7", "CuSO4.5H2O", "ZnSO4·", "?"):
            self.assertEqual("wrong", by_name(marked(GOOD | {"formula": text}))["formula"].status, text)
        self.assertEqual("missing", by_name(marked(GOOD | {"formula": "  "}))["formula"].status)

    def test_what_runs_out_and_what_would_by_the_own_amounts(self) -> None:
        """1.032 g of BaCl2·2H2O are 4.225 mmol, 21.5 mL of 0.250 mol/L are 5.375 mmol: the barium runs out."""
        run = {
            "format": "clay-kettle/run", "version": 1, "method": "precipitation",
            "options": {
                "equation": "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)",
                "reagents": [{"formula": "BaCl2·2H2O"}, {"formula": "Na2SO4", "concentration": "0.250 mol/L"}],
            },
            "instruments": {"balance": {"half_width": "0.001 g"}},
            "trials": [{"label": "1", "readings": {
                "reagent_1": "1.032 g", "reagent_2": "21.5 mL", "paper": "0.908 g", "collected": ["1.868 g", "1.864 g"],
            }}],
        }  # fmt: skip
        self.assertEqual("right", by_name(marked({"limiting": "BaCl2.2H2O"}, run))["limiting"].status)
        rows = by_name(marked({"limiting": "Na2SO4"}, run))
        self.assertEqual(("wrong", "limiting-swapped"), (rows["limiting"].status, rows["limiting"].slip))
        own = {"amount_1": "42.25 mmol", "amount_2": "5.375 mmol", "limiting": "Na2SO4", "theoretical_yield": "1.254 g"}
        found = marked(own, run)
        rows = by_name(found)
        self.assertEqual(
            ("amount_1", "follows", "follows"),
            (found.first_wrong, rows["limiting"].status, rows["theoretical_yield"].status),
        )
        swapped = marked({"amount_1": "4.225 mmol", "amount_2": "5.375 mmol", "theoretical_yield": "1.254 g"}, run)
        self.assertEqual("limiting-swapped", by_name(swapped)["theoretical_yield"].slip)

    def test_an_equation_in_other_multiples_is_the_same(self) -> None:
        run = {
            "format": "clay-kettle/run", "version": 1, "method": "decomposition",
            "options": {"equations": ["Cu2(OH)2CO3(s) -> 2 CuO(s) + H2O(g) + CO2(g)"]},
            "instruments": {"balance": {"half_width": "0.001 g"}},
            "trials": [{"label": "1", "readings": {
                "vessel": "26.402 g", "vessel_sample": "28.431 g", "vessel_residue": ["27.863 g", "27.861 g"],
            }}],
        }  # fmt: skip
        for text in ("Cu2(OH)2CO3 -> CO2 + H2O + 2 CuO", "2 Cu2(OH)2CO3 -> 4 CuO + 2 H2O + 2 CO2"):
            self.assertEqual("right", by_name(marked({"equation": text}, run))["equation"].status, text)
        for text in ("CuCO3 -> CuO + CO2", "it turns black", "Cu2(OH)2CO3 -> 2 CuO"):
            self.assertEqual("wrong", by_name(marked({"equation": text}, run))["equation"].status, text)


class Slips(unittest.TestCase):
    def test_the_list_is_that_of_the_contract(self) -> None:
        self.assertEqual(set(ORDER), set(WORDS))
        self.assertEqual(20, len(ORDER))

    def test_the_figure_that_was_to_be_expected_in_place_of_the_own(self) -> None:
        """0.0982 g of zinc give 22.30 L/mol in the demo; of 0.1050 g as much gas is 20.85, and 22.41 is claimed."""
        run = {
            "format": "clay-kettle/run", "version": 1, "method": "gas_over_water",
            "options": {
                "reagent": "Zn", "equation": "Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)", "gas": "H2",
                "tube": {"reading": "inverted_burette", "mark": "50 mL"},
            },
            "instruments": {"balance": {"half_width": "0.0001 g"}}, "shared": {"barometer": "952.4 hPa"},
            "trials": [{"label": "1", "readings": {
                "dead_volume": "2.40 mL", "sample": "0.1050 g", "volume_end": "12.70 mL", "level_difference": "62 mm",
                "temperature": "21.2 degC",
            }}],
        }  # fmt: skip
        line = by_name(marked({"ideal_molar_volume": "22.41 L/mol", "molar_volume_standard": "22.41 L/mol"}, run))
        found = line["molar_volume_standard"]
        self.assertEqual(("wrong", "circular"), (found.status, found.slip))

    def test_a_slip_above_what_was_claimed_is_found_from_the_result_alone(self) -> None:
        """Only the ratio is claimed: 40.30 mmol over 1.657 g of salt (gross for net) is 3.926."""
        rows = by_name(marked({"water_ratio": "3.926"}))
        self.assertEqual(("wrong", "other-reading"), (rows["water_ratio"].status, rows["water_ratio"].slip))
        # 0.726 g over 17 g/mol (1 + 1 + 15) and 0.931 g over 157 (65 + 32 + 4 × 15)
        rows = by_name(marked({"water_ratio": "7.202"}))
        self.assertEqual(("wrong", "truncated-weight"), (rows["water_ratio"].status, rows["water_ratio"].slip))

    def test_the_last_two_digits_are_swapped_as_the_first_two_are(self) -> None:
        for claimed in ("0.762 g", "0.276 g"):
            with self.subTest(claimed):
                row = by_name(marked(GOOD | {"water_mass": claimed}))["water_mass"]
                self.assertEqual(("wrong", "digits-swapped"), (row.status, row.slip))

    def test_a_figure_of_another_kind_carries_nothing_on(self) -> None:
        """A sample in mL is no mass; 0.762/1.657 is 46.0 % by their own water, whatever stands for the sample."""
        rows = by_name(marked(GOOD | {"sample_mass": "1.9 mL", "water_mass": "0.762 g", "water_percent": "46.0 %"}))
        self.assertNotEqual("right", rows["sample_mass"].status)
        self.assertEqual("follows", rows["water_percent"].status)

    def test_what_no_slip_gives_is_said_to_be_none(self) -> None:
        rows = by_name(marked(GOOD | {"water_percent": "51.7 %"}))
        self.assertEqual(("wrong", None), (rows["water_percent"].status, rows["water_percent"].slip))
        self.assertIn("No slip", rows["water_percent"].text)


class Refused(unittest.TestCase):
    def run_command(self, document: object) -> Done[str]:
        """`kettle mark -`."""
        text = document if isinstance(document, str) else json.dumps(document)
        return told(kettle("mark", "-", given=text.encode()))

    def test_the_command_prints_the_marking(self) -> None:
        done = self.run_command(sheet(GOOD))
        self.assertEqual((0, ""), (done.returncode, done.stderr))
        self.assertEqual(8, json.loads(done.stdout)["marks"])

    def test_what_it_refuses_with_the_path_of_each_fault(self) -> None:
        for document, path in (
            (sheet(GOOD | {"tea": "1"}), "claims.tea"),
            (sheet(GOOD, marks={"tea": 1}), "marks.tea"),
            (sheet(GOOD, marks={"water_ratio": -1}), "marks.water_ratio"),
            (sheet(GOOD, trial="9"), "trial"),
            (sheet(GOOD, more=1), "more"),
            (sheet(GOOD, run=ZINC | {"method": "tea"}), "run.method"),
            (sheet(GOOD | {"water_ratio": 7}), "claims.water_ratio"),  # type: ignore[dict-item]
            (sheet(GOOD) | {"version": 2}, "version"),
        ):
            done = self.run_command(document)
            with self.subTest(path):
                self.assertEqual((2, ""), (done.returncode, done.stdout))
                self.assertTrue(done.stderr.startswith(path), done.stderr)
        for text in ("[]", "", "{", '{"a": 1, "a": 2}', "NaN"):
            done = self.run_command(text)
            self.assertEqual((2, ""), (done.returncode, done.stdout), text)
            self.assertNotIn("Traceback", done.stderr)
