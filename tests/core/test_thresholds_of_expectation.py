"""Where an expectation and the verdict on the key result turn: each limit from both sides (`./kettle mutate`)."""

from __future__ import annotations

import unittest
from typing import Any

from claykettle.core.judgement.expected import in_unit, said
from claykettle.core.judgement.ratios import judge_formula, unsure
from claykettle.core.method import Expectation
from claykettle.core.quantity import unit
from claykettle.core.run import Evaluation, evaluate_run
from claykettle.core.verdict import Verdict, candidate
from claykettle.formats.run_file import run_from

BLANC_FIXE = {
    "equation": "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)", "reagents": ["BaCl2.2H2O", "Na2SO4"],
}  # fmt: skip
ZINC = {"reagent": "Zn", "equation": "Zn + 2 HCl -> ZnCl2 + H2"}


def evaluated(method: str, options: dict[str, Any], *trials: dict[str, Any], **more: Any) -> Evaluation:
    rows = [{"label": str(number), "readings": readings} for number, readings in enumerate(trials, start=1)]
    document = {"format": "clay-kettle/run", "version": 1, "method": method, "options": options, "trials": rows}
    return evaluate_run(run_from(document | more))


class Planned(unittest.TestCase):
    """An amount is asked about a quarter outside its window; *about* is within a tenth (common practice)."""

    def row(self, name: str, taken: dict[str, Any], **window: str) -> Expectation | None:
        found = evaluated("hydrate", {"salt": "ZnSO4"}, taken, planned={"sample": window})
        return found.expected("1").get(name)

    def test_about_so_much(self) -> None:
        """1.000 g: 0.75 · 0.9 to 1.25 · 1.1 g, onto a vessel of 31.204 g."""
        row = self.row("vessel_sample", {"vessel": "31.204 g"}, about="1.000 g")
        assert row is not None
        for found, by_hand in ((row.low, 31.204 + 0.675), (row.high, 31.204 + 1.375), (row.about, 32.204)):
            self.assertAlmostEqual(1000 * (found or 0), by_hand, places=9)
        net = self.row("sample", {}, about="1.000 g")
        assert net is not None
        self.assertAlmostEqual(1000 * net.low, 0.675, places=9)

    def test_from_so_much_on_twenty_times_that_is_far(self) -> None:
        row = self.row("vessel_sample", {"vessel": "31.204 g"}, low="1.000 g")
        assert row is not None
        self.assertAlmostEqual(1000 * row.low, 31.204 + 0.75, places=9)
        self.assertAlmostEqual(1000 * row.high, 31.204 + 25.0, places=9)

    def test_without_the_vessel_nothing_is_known_of_both_together(self) -> None:
        self.assertIsNone(self.row("vessel_sample", {}, about="1.000 g"))

    def test_what_is_taken_already_is_not_expected(self) -> None:
        self.assertIsNone(self.row("vessel", {"vessel": "31.204 g"}, about="1.000 g"))

    def test_each_reagent_has_its_own_plan(self) -> None:
        planned = {"reagent_2": {"about": "2.000 g"}}
        found = evaluated("precipitation", BLANC_FIXE, {}, planned=planned).expected("1")
        self.assertNotIn("reagent_1", found)
        self.assertAlmostEqual(1000 * found["reagent_2"].low, 2 * 0.675, places=9)


class GoesOn(unittest.TestCase):
    def test_a_tube_goes_on_within_half_a_millilitre(self) -> None:
        found = evaluated("gas_over_water", ZINC, {"sample": "0.1 g", "volume_end": "30.0 mL"}, {}).expected("2")
        row = found["volume_start"]
        self.assertAlmostEqual(1e6 * row.low, 29.5, places=9)
        self.assertAlmostEqual(1e6 * row.high, 30.5, places=9)
        first = evaluated("gas_over_water", ZINC, {"sample": "0.1 g"}).expected("1")
        self.assertNotIn("volume_start", first)


class Said(unittest.TestCase):
    def test_with_as_many_figures_as_tell_it_from_the_ends(self) -> None:
        """A figure of ten times its range or more wants one figure more."""
        for low, high, text in ((30.0, 31.0, "about 30.841 g when dry"), (28.0, 32.0, "about 30.84 g when dry")):
            row = Expectation(low * 1e-3, high * 1e-3, "", 30.841e-3, "when dry")
            self.assertEqual(said(row, unit("g")), text)
        for low, text in ((27.7568, "about 30.84 g"), (27.7570, "about 30.841 g")):
            self.assertEqual(said(Expectation(low * 1e-3, 30.841e-3, "", 30.841e-3), unit("g")), text)
        self.assertEqual(said(Expectation(29.216e-3, 29.936e-3, ""), unit("g")), "29.22 to 29.94 g")
        self.assertEqual(in_unit(Expectation(0.029, 0.030, "so"), "g")["low"], 29.0)


class OnTheKey(unittest.TestCase):
    def said(self, sample: str, **options: str) -> dict[str, str]:
        """A filtered solid of 1.000 g held against what should come; band ± 2 · √(2/3) mg."""
        readings = {"paper": "1.000 g", "collected": [sample, sample]}
        options = {"expected": "1.0000 g"} | options
        instruments = {"balance": {"half_width": "0.001 g"}}
        trial = evaluated("filtration", options, readings, instruments=instruments).trials[0]
        return {row.code: row.text for row in trial.verdicts}

    def test_the_band_is_two_standard_uncertainties(self) -> None:
        """1.633 mg: 1.6 agrees, 1.7 is off, above as below."""
        for sample, code, side in (
            ("2.0016 g", "agrees", ""), ("2.0017 g", "off-accepted", "0.17 % above"),
            ("1.9984 g", "agrees", ""), ("1.9983 g", "off-accepted", "0.17 % below"),
        ):  # fmt: skip
            found = self.said(sample)
            with self.subTest(sample):
                self.assertIn(code, found)
                self.assertIn(side, found[code])

    def test_how_far_off_is_said_to_two_figures(self) -> None:
        for sample, shown in (("2.0254 g", "2.5 % above"), ("2.0256 g", "2.6 % above"), ("1.9744 g", "2.6 % below")):
            self.assertIn(shown, self.said(sample)["off-accepted"])

    def test_what_a_class_reaches_is_reached_at_its_very_edge(self) -> None:
        for sample, code in (("2.0300 g", "within-class"), ("2.0301 g", "off-accepted"), ("1.9700 g", "within-class")):
            with self.subTest(sample):
                self.assertIn(code, self.said(sample, class_tolerance="3 %"))


class Matched(unittest.TestCase):
    def judged(self, value: float, *ratios: float, accepted: str = "") -> tuple[str | None, Verdict]:
        """Candidates XCl_n by their ratio, a standard uncertainty of 0.01."""
        rows = [candidate(f"SnS{ratio:g}".replace("SnS1", "SnS"), ratio, (value - ratio) / 0.01) for ratio in ratios]
        formulated, verdict = judge_formula("x", "x", rows, accepted=accepted, value=value)
        return formulated.text, verdict

    def test_a_label_that_the_data_deny_is_never_green(self) -> None:
        text, verdict = self.judged(1.0, 1, 2, accepted="SnS2")
        self.assertEqual((text, verdict.code, verdict.level), ("SnS", "formula-match", "watch"))
        self.assertIn("SnS2 was accepted", verdict.text)
        self.assertEqual(self.judged(1.0, 1, 2, accepted="SnS")[1].level, "good")
        self.assertEqual(self.judged(1.0, 1, 2)[1].level, "good")

    def test_five_percent_are_small_for_a_class(self) -> None:
        """Common practice; the figure is said."""
        for value, small in ((1.95, True), (1.90, True), (1.899, False), (2.1, True), (2.101, False)):
            verdict = self.judged(value, 2)[1]
            with self.subTest(value):
                self.assertEqual("small for a class" in verdict.text, small)
                self.assertEqual("Something happened" in verdict.text, not small)
        for value, shown in ((1.95, "2.5 %: small"), (1.9491, "2.5 %: small"), (1.9488, "2.6 %: small")):
            self.assertIn(shown, self.judged(value, 2)[1].text)

    def test_only_a_green_match_can_be_unsure(self) -> None:
        good = self.judged(1.0, 1, 2)[1]
        self.assertEqual(unsure(good).level, "watch")
        self.assertIn("lower hydrate", unsure(good).text)
        for other in (Verdict("constant-mass", "good", "x", "t"), Verdict("formula-match", "watch", "x", "t")):
            self.assertIs(unsure(other), other)
