"""Precipitation and displacement: what is taken for what, what runs out, papers, leftovers, and what is refused."""

from __future__ import annotations

import math
import unittest
from statistics import mean, stdev
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.methods.registry import method_named
from claykettle.core.run import Evaluation, TrialEvaluation, evaluate_run
from claykettle.formats.run_file import read_run, run_from, write_run
from tests.support.runs import value

BLANC_FIXE = "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)"
TAKEN = {"reagent_1": "1.000 g", "reagent_2": "25.00 mL", "paper": "0.912 g", "collected": ["1.862 g", "1.860 g"]}
ENDS = ["BaCl2.2H2O", "Na2SO4 0.250 mol/L"]


def evaluation(readings: Any = None, seen: tuple[str, ...] = (), **options: Any) -> Evaluation:
    """A run of blanc fixe, or of what the options say."""
    return evaluate_run(run_from(document(readings, seen, **options)))


def document(readings: Any = None, seen: tuple[str, ...] = (), **options: Any) -> dict[str, Any]:
    """Its run file."""
    return {
        "format": "clay-kettle/run", "version": 1, "method": "precipitation",
        "options": {"equation": BLANC_FIXE, "reagents": ENDS} | options,
        "instruments": {"balance": {"half_width": "0.001 g"}, "liquid_volume": {"half_width": "0.05 mL"}},
        "trials": [{"label": "1", "readings": dict(TAKEN if readings is None else readings)}],
        "observations": [{"tag": tag} for tag in seen],
    }  # fmt: skip


def trial(*arguments: Any, **options: Any) -> TrialEvaluation:
    """Its first trial."""
    return evaluation(*arguments, **options).trials[0]


def copper(
    left: str = "0.442 g", came: str = "1.5355 g", seen: tuple[str, ...] = (), **readings: Any
) -> TrialEvaluation:
    """1.000 g of iron in 20.00 mL of 0.500 mol/L copper sulfate."""
    taken = {"reagent_1": "20.00 mL", "reagent_2": "1.000 g", "paper": "0.9000 g", "collected": [came, came]}
    options = {
        "equation": "CuSO4 + Fe -> Cu(s) + FeSO4(aq)", "product": "Cu", "reagents": ["CuSO4 0.500 mol/L", "Fe"],
    }  # fmt: skip
    return trial({**taken, "leftover_2": left}, seen, **options)


class Chain(unittest.TestCase):
    def test_the_whole_chain_by_hand(self) -> None:
        """1.000 g / 244.26 g/mol = 4.094 mmol; 25.00 mL × 0.250 mol/L = 6.250 mmol; 4.094 mmol × 233.38 g/mol."""
        found = trial()
        self.assertAlmostEqual(value(found, "amount_1"), 4.0940e-3, places=6)
        self.assertAlmostEqual(value(found, "amount_2"), 6.250e-3, places=9)
        self.assertEqual(found.said, {"limiting": "BaCl2·2H2O"})
        self.assertAlmostEqual(value(found, "theoretical_yield"), 0.95546, places=4)
        self.assertAlmostEqual(value(found, "actual_yield"), 0.948, places=6)
        self.assertAlmostEqual(value(found, "percent_yield"), 99.22, places=2)
        self.assertEqual(value(found, "excess_1"), 0.0)
        self.assertAlmostEqual(value(found, "excess_2"), 2.156e-3, places=6)

    def test_tare_and_gross_give_identical_numbers(self) -> None:
        parts = {"reagent_1_tare": "1.200 g", "reagent_1_gross": "2.200 g"}
        split = {name: row for name, row in TAKEN.items() if name != "reagent_1"} | parts
        self.assertAlmostEqual(value(trial(split), "percent_yield"), value(trial(), "percent_yield"), places=9)

    def test_a_net_ionic_equation_counts_the_ions_that_a_salt_brings(self) -> None:
        """0.500 g of aluminium sulfate (342.13 g/mol) bring three sulfate ions each: 4.384 mmol."""
        options = {
            "equation": "Ba^2+ + SO4^2- -> BaSO4(s)",
            "reagents": ["BaCl2.2H2O for Ba^2+", "Al2(SO4)3 for SO4^2-"],
        }
        found = trial({"reagent_1": "1.500 g", "reagent_2": "0.500 g"}, **options)
        self.assertEqual(found.said["limiting"], "Al2(SO4)3")
        self.assertAlmostEqual(value(found, "theoretical_yield"), 3 * 0.500 / 342.13 * 233.38, places=3)

    def test_without_a_list_the_reactants_are_weighed_as_they_stand(self) -> None:
        found = trial({"reagent_1": "0.500 g", "reagent_2": "0.500 g"}, reagents=[])
        self.assertEqual(found.said["limiting"], "BaCl2")

    def test_a_reactant_that_is_not_named_is_there_without_limit(self) -> None:
        found = trial({"reagent_1": "1.000 g"}, reagents=["BaCl2.2H2O"])
        self.assertAlmostEqual(value(found, "theoretical_yield"), 0.95546, places=4)

    def test_leftover_metal_tells_what_was_used(self) -> None:
        """1.000 − 0.442 g of iron are 9.992 mmol, 0.6355 g of copper 10.001 mmol: 1.0009 of the equation's ratio."""
        found = copper()
        self.assertAlmostEqual(value(found, "used_2"), 9.992e-3, places=6)
        self.assertAlmostEqual(value(found, "product_per_used"), 10.0006 / 9.9919, places=3)

    def test_a_run_file_survives_being_written(self) -> None:
        run = run_from(document())
        again = read_run(write_run(run).encode())
        self.assertEqual(again.options, run.options)
        self.assertEqual(evaluate_run(again).trials[0].results, evaluate_run(run).trials[0].results)


class Papers(unittest.TestCase):
    MANY = (
        "0.905 g",
        "0.921 g",
        "0.898 g",
        "0.914 g",
        "0.909 g",
        "0.917 g",
        "0.902 g",
        "0.911 g",
        "0.908 g",
        "0.915 g",
    )

    def with_papers(self, *papers: str) -> TrialEvaluation:
        """The run with these papers in the place of its own."""
        readings = {name: row for name, row in TAKEN.items() if name != "paper"} | {"papers": list(papers)}
        return trial(readings, collector="papers_mean")

    def test_the_mean_of_ten_has_the_wider_uncertainty(self) -> None:
        """u² = s²(1 + 1/n), with what the balance adds to the last weighing and its settling beside it."""
        grams = [float(text.split()[0]) for text in self.MANY]
        found = self.with_papers(*self.MANY).result("actual_yield")
        assert found is not None
        self.assertAlmostEqual(found.value, 1.860 - mean(grams), places=9)
        paper = stdev(grams) * math.sqrt(1 + 1 / 10)
        balance, settling = 0.001 / math.sqrt(3), 0.002 / math.sqrt(3)
        self.assertAlmostEqual(found.standard_uncertainty, math.hypot(paper, balance, settling), places=9)

    def test_their_scatter_stands_in_the_budget_as_one(self) -> None:
        shares = {row.reading: row.share for row in self.with_papers(*self.MANY).shares("percent_yield")}
        self.assertIn("papers", shares)
        self.assertGreater(shares["papers"], shares["collected"])

    def test_one_paper_counts_as_it_was_weighed(self) -> None:
        found = self.with_papers("0.910 g").result("actual_yield")
        assert found is not None
        self.assertAlmostEqual(found.value, 0.950, places=9)

    def test_the_rule_says_what_is_done(self) -> None:
        line = next(row for row in self.with_papers("0.90 g", "0.92 g").working if row.name == "mean_paper")
        self.assertEqual(line.substituted, "mean of 0.90 g, 0.92 g")
        self.assertEqual(line.result, "0.910 g")


class Judgements(unittest.TestCase):
    def said(self, found: TrialEvaluation, code: str) -> str:
        """The text of the verdict with this code."""
        return next((row.text for row in found.verdicts if row.code == code), "")

    def test_over_100_names_wet_first_while_the_weighings_fall(self) -> None:
        wet = trial(TAKEN | {"collected": ["1.990 g", "1.950 g"]})
        self.assertIn("still wet, as the falling weighings show", self.said(wet, "yield-over-100"))
        dry = trial(TAKEN | {"collected": ["1.950 g", "1.950 g"]})
        self.assertNotIn("falling", self.said(dry, "yield-over-100"))
        self.assertIn("not washed free", self.said(dry, "yield-over-100"))

    def test_more_metal_gone_than_came_speaks_of_bubbles(self) -> None:
        text = self.said(copper("0.400 g"), "metal-balance")
        self.assertIn("more Fe went than Cu came", text)
        self.assertIn("bubbles", text)

    def test_more_metal_come_than_gone_speaks_of_what_sticks_to_the_leftover(self) -> None:
        self.assertIn("still sticks to the leftover Fe", self.said(copper("0.500 g"), "metal-balance"))

    def test_the_two_agree(self) -> None:
        self.assertIn("The two agree.", self.said(copper(), "metal-balance"))

    def test_a_leftover_heavier_than_what_went_in_stops(self) -> None:
        self.assertIn("more than the 1 g that went in", self.said(copper("1.050 g"), "out-of-order"))

    def test_a_paper_heavier_than_paper_and_product_stops(self) -> None:
        self.assertIn("check both", self.said(trial(TAKEN | {"collected": ["0.900 g"]}), "out-of-order"))
        readings = {name: row for name, row in TAKEN.items() if name != "paper"}
        readings |= {"papers": ["0.910 g", "0.920 g"], "collected": ["0.900 g"]}
        self.assertIn("mean paper", self.said(trial(readings, collector="papers_mean"), "out-of-order"))

    def test_what_was_seen_is_held_against_what_was_predicted(self) -> None:
        options = {"equation": "3 CuSO4 + 2 Al -> 3 Cu(s) + Al2(SO4)3", "reagents": ["CuSO4.5H2O", "Al"]}
        readings = {"reagent_1": "2.000 g", "reagent_2": "0.500 g"}  # 8.010 / 3 = 2.670, 18.531 / 2 = 9.266: the salt
        for seen, code, words in (
            (("colourless",), "limiting-seen", "blue of CuSO4·5H2O is gone, as predicted"),
            (("colour left",), "limiting-contradicted", "has not ended"),
            (("colour left", "colourless"), "limiting-seen", "is gone"),
            (("metal left",), "limiting-seen", "there in excess"),
            (("no metal left",), "limiting-contradicted", "side reaction"),
        ):
            with self.subTest(seen):
                self.assertIn(words, self.said(trial(readings, seen, **options), code))

    def test_a_coloured_product_makes_the_colour_say_nothing(self) -> None:
        """Iron(II) is pale green itself: a solution that is not colourless proves nothing there."""
        self.assertEqual(self.said(copper(seen=("colour left",)), "limiting-contradicted"), "")

    def test_the_side_reaction_is_named_beforehand(self) -> None:
        texts = " ".join(row.text for row in copper().statements)
        self.assertIn("hydrogen", texts)

    def test_the_bars_show_what_is_left(self) -> None:
        run = evaluation({"reagent_1": "1.000 g"})
        picture = run.run.method.judging.pictures(run.trials[0].trial).reacting
        assert picture is not None
        self.assertEqual((picture.open, picture.sentence), (("Na2SO4 solution",), ""))
        run = evaluation()
        picture = run.run.method.judging.pictures(run.trials[0].trial).reacting
        assert picture is not None
        self.assertEqual(picture.sentence, "BaCl2·2H2O runs out first.")
        self.assertEqual([bar.left for bar in picture.bars], ["", "2.16 mmol left"])
        self.assertEqual([bar.is_limiting for bar in picture.bars], [True, False])


class Refused(unittest.TestCase):
    def fault(self, readings: Any = None, **options: Any) -> tuple[str, str, str]:
        """Code, path and message of the one fault."""
        with self.assertRaises(Refusal) as refused:
            run_from(document(readings, **options))
        (row,) = refused.exception.faults
        return row.code, row.path, row.message

    def test_options_that_do_not_hang_together(self) -> None:
        for options, code, path in (
            ({"reagents": ["BaCl2.2H2O", "KCl"]}, "no-such-reagent", "options.reagents[1]"),
            ({"reagents": ["BaCl2.2H2O", "BaCl2"]}, "two-for-one", "options.reagents[1]"),
            ({"product": "BaCO3"}, "no-such-product", "options.product"),
            ({"equation": "BaCl2 + Na2SO4 -> BaSO4 + 2 NaCl"}, "no-product", "options.product"),
            ({"equation": "BaCl2 + Na2SO4 -> BaSO4(s) + NaCl"}, "unbalanced", "options.equation"),
            ({"reagents": ["Na2SO4 0 mol/L"]}, "not-positive", "options.reagents[0].concentration"),
            ({"reagents": ["Na2SO4 lots"]}, "not-a-number", "options.reagents[0].concentration"),
            ({"reagents": ["NaCl for Ba^2+"], "equation": "Ba^2+ + SO4^2- -> BaSO4(s)"}, "no-such-reagent",
             "options.reagents[0]"),
        ):  # fmt: skip
            with self.subTest(options):
                self.assertEqual(self.fault(**options)[:2], (code, path))

    def test_a_solution_is_measured_and_a_solid_weighed(self) -> None:
        self.assertEqual(self.fault(TAKEN | {"reagent_2": "0.900 g"})[1], "trials[0].readings.reagent_2")
        self.assertEqual(self.fault(TAKEN | {"reagent_1": "10 mL"})[1], "trials[0].readings.reagent_1")

    def test_a_reading_that_the_options_have_no_use_for(self) -> None:
        code, path, message = self.fault(TAKEN | {"reagent_3": "0.100 g"})
        self.assertEqual((code, path), ("unused-reading", "trials[0].readings.reagent_3"))
        self.assertIn("2 reagents", message)
        self.assertEqual(self.fault(TAKEN | {"dish": "20.000 g"})[1], "trials[0].readings.dish")

    def test_every_fault_has_words_that_mend_it(self) -> None:
        self.assertIn("BaCl2 and Na2SO4", self.fault(reagents=["KCl"])[2])
        self.assertIn("same reactant", self.fault(reagents=["BaCl2.2H2O", "BaCl2"])[2])


class Planned(unittest.TestCase):
    def test_the_method_sizes_what_is_weighed_first(self) -> None:
        planned = method_named("precipitation").planned
        assert planned is not None
        self.assertEqual(planned.name, "reagent_1")
