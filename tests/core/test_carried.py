"""What a line comes to from a student's own figures above it: worked out by hand for a dried zinc sulfate."""

from __future__ import annotations

import json
import unittest
from dataclasses import replace
from typing import Any

from claykettle.core.marking.carried import Own, Stretch, called
from claykettle.core.marking.claims import read_claim
from claykettle.core.run import evaluate_run
from claykettle.core.sheet import LineDef, Pick
from claykettle.formats.sheet_file import read_sheet
from tests.core.test_marking import ZINC, sheet

UNFINISHED: dict[str, Any] = ZINC | {
    "trials": [{"label": "1", "readings": {"vessel": "31.204 g", "vessel_sample": "32.861 g"}}]
}


def own(claims: dict[str, str], run: dict[str, Any] | None = None) -> Own:
    """A trial with these claims."""
    handed = read_sheet(json.dumps(sheet(claims, run)).encode())
    found = evaluate_run(handed.run).trials[0]
    lines = found.trial.sheet.by_name
    read = {name: read_claim(name, text, lines[name].unit) for name, text in claims.items()}
    return Own(handed.run.method, found.trial, {name: row for name, row in read.items() if row is not None})


def line(of: Own, name: str) -> LineDef:
    return of.sheet.by_name[name]


class FromOwnFigures(unittest.TestCase):
    def test_from_the_claims_above_and_no_others(self) -> None:
        """0.800 of 1.657 g; from the readings it is 0.726 of 1.657."""
        claims = {"water_mass": "0.800 g", "water_percent": "10 %", "water_ratio": "3"}
        found = own(claims).carried("water_percent")
        assert found.value is not None
        self.assertAlmostEqual(found.value, 0.800 / 1.657, places=9)
        for more in ({}, {"water_percent": "10 %"}, {"water_ratio": "3"}):
            value = own(more).carried("water_percent").value
            assert value is not None
            self.assertAlmostEqual(value, 0.726 / 1.657, places=9)

    def test_a_claim_that_measures_something_else_is_left_out(self) -> None:
        value = own({"water_mass": "0.800 mol"}).carried("water_percent").value
        assert value is not None
        self.assertAlmostEqual(value, 0.726 / 1.657, places=9)

    def test_the_rounding_of_each_claim_above_moves_it_by_half_a_unit(self) -> None:
        """(0.0005 + 0.8/1.657 · 0.0005) g over 1.657 g; what is below does not count."""
        claims = {"water_mass": "0.800 g", "sample_mass": "1.657 g", "percent_error": "1 %"}
        self.assertAlmostEqual(
            own(claims).carried("water_percent").rounding, 0.0005 * (1 + 0.8 / 1.657) / 1.657, places=9
        )
        self.assertEqual(own({}).carried("water_percent").rounding, 0.0)

    def test_where_the_readings_do_not_go_so_far_there_is_none(self) -> None:
        found = own({}, UNFINISHED).carried("water_percent")
        self.assertEqual((found.value, found.rounding), (None, 0.0))
        # with a figure of one's own above it there is one
        value = own({"water_mass": "0.800 g"}, UNFINISHED).carried("water_percent").value
        assert value is not None
        self.assertAlmostEqual(value, 0.800 / 1.657, places=9)

    def test_above_a_line_stands_all_that_it_is_worked_out_from(self) -> None:
        above = own({}).above("water_percent")
        self.assertLessEqual({"water_mass", "sample_mass", "vessel", "vessel_sample", "vessel_residue"}, above)
        self.assertFalse({"water_percent", "residue_mass", "percent_error"} & above)

    def test_between_lie_the_lines_up_to_the_nearest_other_claims(self) -> None:
        def between(*claimed: str) -> list[str]:
            return [row.name for row in own(dict.fromkeys(claimed, "1 g")).between("water_percent")]

        self.assertEqual(between("water_percent", "sample_mass", "water_mass"), ["water_percent"])
        self.assertEqual(between("water_percent", "sample_mass"), ["settled_residue", "water_mass", "water_percent"])
        self.assertEqual(
            between("water_percent", "residue_mass"), ["sample_mass", "settled_residue", "water_mass", "water_percent"]
        )


class Stretches(unittest.TestCase):
    def setUp(self) -> None:
        self.own = own({"sample_mass": "1.657 g", "water_percent": "40 %"})
        self.stretch = Stretch.of(self.own, "water_percent")

    def test_one_line_gone_wrong_is_followed_to_the_claim(self) -> None:
        ends = self.stretch.ends(line(self.own, "water_mass"), 0.9e-3)
        assert ends is not None
        self.assertAlmostEqual(ends, 0.9 / 1.657, places=9)
        # two lines up: 32.861 − 32.000 = 0.861 g of water
        ends = self.stretch.ends(line(self.own, "settled_residue"), 32.000e-3)
        assert ends is not None
        self.assertAlmostEqual(ends, 0.861 / 1.657, places=9)

    def test_the_claim_s_own_line_gone_wrong_is_that_figure_and_none_is_none(self) -> None:
        self.assertEqual(self.stretch.ends(line(self.own, "water_percent"), 0.123), 0.123)
        self.assertIsNone(self.stretch.ends(line(self.own, "water_percent"), None))
        self.assertIsNone(self.stretch.ends(line(self.own, "water_mass"), None))

    def test_what_cannot_be_worked_on_ends_nowhere(self) -> None:
        """A sample of nothing: the percentage has no figure."""
        found = own({"water_percent": "40 %"})
        self.assertIsNone(Stretch.of(found, "water_percent").ends(line(found, "sample_mass"), 0.0))

    def test_every_line_gone_wrong_at_once(self) -> None:
        """Each mass twice what it is: the share is what it was; the share itself twice: twice."""
        masses = {"settled_residue": 32.135e-3, "water_mass": 1.452e-3}

        def other(row: LineDef, wrong: Any) -> float | None:
            return masses.get(
                row.name, wrong.get("water_mass", 0.0) / 1.657e-3 if row.name == "water_percent" else None
            )

        ends = self.stretch.through(other)
        assert ends is not None
        self.assertAlmostEqual(ends, 1.452 / 1.657, places=9)
        self.assertIsNone(self.stretch.through(lambda row, wrong: None))

    def test_what_a_line_takes_is_named_and_plain(self) -> None:
        taken = list(self.stretch.with_arguments(line(self.own, "water_percent")))
        self.assertEqual([row[:2] for row in taken], [("water_mass", "water_mass"), ("sample_mass", "sample_mass")])
        self.assertAlmostEqual(taken[0][2], 0.726e-3, places=9)
        self.assertAlmostEqual(taken[1][2], 1.657e-3, places=9)
        # options and series are no figures
        settled = self.stretch.arguments(line(self.own, "settled_residue"))
        assert settled is not None
        self.assertIs(settled["options"], self.own.trial.options)
        self.assertEqual(settled["series"], [32.151e-3, 32.136e-3, 32.135e-3])

    def test_what_has_gone_wrong_before_is_taken_in_its_place(self) -> None:
        found = self.stretch.arguments(line(self.own, "water_percent"), {"water_mass": 9.0})
        assert found is not None
        self.assertEqual(found["water_mass"], 9.0)
        self.assertAlmostEqual(found["sample_mass"], 1.657e-3)

    def test_where_something_is_missing_a_line_has_nothing_to_take(self) -> None:
        found = own({"water_percent": "40 %"}, UNFINISHED)
        stretch = Stretch.of(found, "water_percent")
        self.assertIsNone(stretch.arguments(line(found, "water_mass")))
        self.assertEqual(list(stretch.with_arguments(line(found, "water_mass"))), [])
        self.assertNotIn("water_mass", stretch.numbers)
        self.assertNotIn("vessel_residue", self.stretch.numbers)
        self.assertNotIn("options", self.stretch.numbers)


class Called(unittest.TestCase):
    def test_a_line_on_plain_numbers_or_nothing(self) -> None:
        of = line(own({}), "water_percent")
        self.assertEqual(called(of, {"water_mass": 1.0, "sample_mass": 4.0}), 0.25)
        self.assertIsNone(called(of, {"water_mass": 1.0, "sample_mass": 0.0}))
        self.assertIsNone(called(of, {"water_mass": 1.0}))
        self.assertIsNone(called(of, None))

    def test_a_choice_is_what_it_goes_on_with(self) -> None:

        of = line(own({}), "water_percent")
        self.assertEqual(called(replace(of, function=lambda **_: Pick("one", 7.0)), {}), 7.0)
        self.assertIsNone(called(replace(of, function=lambda **_: None), {}))
