"""The hydrate method: every form of its page, its verdicts, its causes, its bench model."""

from __future__ import annotations

import random
import unittest
from fractions import Fraction
from typing import Any, ClassVar

from hypothesis import given, settings
from hypothesis import strategies as st

from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.judgement import replay as replaying
from claykettle.core.method import Cause, LineReplaced, OptionReplaced, ReadingScaled
from claykettle.core.methods.hydrate.bench import HydrateTruth, play
from claykettle.core.methods.hydrate.method import METHOD
from claykettle.core.methods.hydrate.options import WATER, HydrateOptions
from claykettle.core.sheet import Shape
from tests.support.runs import ZINC, codes, evaluated, evaluation

ZINC_TRUTH = HydrateTruth(0.031204, 0.001657, 7 * WATER.molar_mass / parse_formula("ZnSO4").molar_mass)


class Results(unittest.TestCase):
    def test_gross_net_and_boat_give_identical_numbers(self) -> None:
        """The sample mass is 1.657 g in all three schools, and so is everything below it."""
        gross = evaluated()
        net = evaluated({"vessel": "31.204 g", "sample": "1.657 g", "vessel_residue": ZINC["vessel_residue"]})
        split = evaluated(
            {
                "vessel": "31.204 g",
                "sample_tare": "31.204 g",
                "sample_gross": "32.861 g",
                "vessel_residue": ZINC["vessel_residue"],
            }
        )
        for result in gross.results:
            for other in (net, split):
                found = other.result(result.name)
                assert found is not None
                self.assertAlmostEqual(found.value, result.value, places=9, msg=result.name)

    def test_tare_and_gross_carry_the_uncertainty_of_two_weighings(self) -> None:
        split = evaluated(
            {"vessel": "31.204 g", "sample_tare": "5.000 g", "sample_gross": "6.657 g", "vessel_residue": ["32.134 g"]}
        )
        sample = split.result("sample_mass")
        assert sample is not None
        self.assertAlmostEqual(sample.standard_uncertainty, 0.001 * (2 / 3) ** 0.5, places=9)

    def test_the_percent_level_stops_before_the_mole(self) -> None:
        trial = evaluated(options={"salt": "ZnSO4", "level": "percent"})
        self.assertIsNotNone(trial.result("water_percent"))
        for name in ("water_amount", "salt_amount", "water_ratio"):
            self.assertIsNone(trial.result(name))
        self.assertEqual(evaluation(options={"level": "percent"}).key, "water_percent")
        self.assertEqual(evaluation().key, "water_ratio")

    def test_without_a_salt_only_the_percentage_is_asked(self) -> None:
        trial = evaluated(options={})
        self.assertEqual(
            {row.name for row in trial.results}, {"sample_mass", "residue_mass", "water_mass", "water_percent"}
        )
        self.assertEqual(trial.words, {})

    def test_unknown_salts_are_told_apart_by_their_percentage(self) -> None:
        trial = evaluated(options={"candidates": ["ZnSO4.7H2O", "MgSO4.7H2O", "CuSO4.5H2O"]})
        self.assertEqual([row.text for row in trial.candidates], ["ZnSO4·7H2O", "MgSO4·7H2O", "CuSO4·5H2O"])
        self.assertEqual(trial.words["formula"].text, "ZnSO4·7H2O")

    def test_percent_error_is_signed_and_against_the_accepted_hydrate(self) -> None:
        high = evaluated(options={"salt": "ZnSO4", "accepted": "ZnSO4.6H2O"}).result("percent_error")
        low = evaluated(options={"salt": "ZnSO4", "accepted": "ZnSO4.9H2O"}).result("percent_error")
        assert high is not None and low is not None
        self.assertGreater(high.value, 0)
        self.assertLess(low.value, 0)

    def test_which_value_of_a_series_counts(self) -> None:
        series = {
            "vessel": "31.204 g",
            "vessel_sample": "32.861 g",
            "vessel_residue": ["32.130 g", "32.136 g", "32.134 g"],
        }
        for choice, residue in (("last", 0.930), ("mean", 0.931), ("lowest", 0.926)):
            result = evaluated(series, {"salt": "ZnSO4", "constant_value": choice}).result("residue_mass")
            assert result is not None
            self.assertAlmostEqual(result.value, residue, places=9)

    def test_the_last_value_counts_while_the_mass_is_not_constant(self) -> None:
        series = {"vessel": "31.204 g", "vessel_sample": "32.861 g", "vessel_residue": ["32.130 g", "32.136 g"]}
        result = evaluated(series, {"salt": "ZnSO4", "constant_value": "lowest"}).result("residue_mass")
        assert result is not None
        self.assertAlmostEqual(result.value, 0.932, places=9)

    def test_settling_stands_in_the_budget_and_the_shares_sum_to_one(self) -> None:
        shares = {row.reading: row.share for row in evaluated().budget if row.result == "water_ratio"}
        self.assertEqual(set(shares), {"vessel", "vessel_sample", "vessel_residue", "vessel_residue.settling"})
        self.assertAlmostEqual(sum(shares.values()), 1)
        self.assertEqual(max(shares, key=lambda name: shares[name]), "vessel_residue.settling")

    def test_the_working_reads_like_a_page(self) -> None:
        working = {row.name: row for row in evaluated().working}
        self.assertEqual(working["sample_mass"].substituted, "32.861 g − 31.204 g")
        self.assertEqual(working["sample_mass"].result, "1.657 g")
        self.assertEqual(working["settled_residue"].result, "32.134 g")
        self.assertEqual(working["salt_molar_mass"].result, "161.436 g/mol")
        self.assertEqual(working["water_amount"].substituted, "0.727 g / (18.015 g/mol)")


class Verdicts(unittest.TestCase):
    def residue(self, *texts: str, **options: Any) -> set[str]:
        readings = {"vessel": "31.204 g", "vessel_sample": "32.861 g", "vessel_residue": list(texts)}
        return codes(evaluated(readings, {"salt": "ZnSO4", **options}))

    def test_constancy_and_its_direction(self) -> None:
        self.assertIn("provisional", self.residue("32.151 g"))
        self.assertIn("still-losing", self.residue("32.151 g", "32.136 g"))
        self.assertIn("still-gaining", self.residue("32.130 g", "32.136 g"))
        self.assertIn("constant-mass", self.residue("32.136 g", "32.134 g"))

    def test_the_tolerance_is_compared_as_decimals(self) -> None:
        """0.005 is no binary number; a change of exactly the tolerance is constant, one digit more is not."""
        self.assertIn("constant-mass", self.residue("32.139 g", "32.134 g", tolerance="0.005 g"))
        self.assertIn("still-losing", self.residue("32.140 g", "32.134 g", tolerance="0.005 g"))
        self.assertIn("constant-mass", self.residue("32.134 g", "32.134 g", tolerance="0 g"))

    def test_the_formula_matches_is_undecided_or_none(self) -> None:
        self.assertIn("formula-match", self.residue("32.136 g", "32.134 g"))
        self.assertIn("formula-none", self.residue("32.150 g", "32.150 g"))
        coarse = evaluated(instruments={"balance": {"half_width": "0.1 g"}})
        self.assertIn("formula-undecided", codes(coarse))
        matches = [row for row in coarse.candidates if row.status == "match"]
        self.assertGreater(len(matches), 1)
        self.assertEqual(
            coarse.words["formula"].text, min((row for row in matches), key=lambda row: row.ratio or 0).text
        )

    def test_nothing_is_forced_when_no_candidate_fits(self) -> None:
        trial = evaluated(
            {"vessel": "31.204 g", "vessel_sample": "32.861 g", "vessel_residue": ["32.150 g", "32.150 g"]}
        )
        self.assertIsNone(trial.words["formula"].text)
        self.assertEqual(trial.words["formula"].nearest, "ZnSO4·6.5H2O")
        self.assertIsNone(trial.result("percent_error"))

    def test_more_lost_than_there_can_be(self) -> None:
        self.assertIn("loss-too-large", self.residue("31.900 g", "31.900 g", accepted="ZnSO4.7H2O"))
        self.assertNotIn("loss-too-large", self.residue("32.134 g", "32.134 g", accepted="ZnSO4.7H2O"))
        self.assertIn("loss-too-large", self.residue("31.304 g", "31.304 g"))

    def test_a_plateau_is_named_only_where_that_hydrate_is_listed(self) -> None:
        """ZnSO4·7H2O that has become ZnSO4·H2O: 6 of its 7 waters are gone, 37.6 % of the mass."""
        self.assertIn("plateau", self.residue("32.238 g", "32.238 g", accepted="ZnSO4.7H2O"))
        self.assertNotIn("plateau", self.residue("32.134 g", "32.134 g", accepted="ZnSO4.7H2O"))
        self.assertNotIn("plateau", self.residue("32.445 g", "32.445 g", accepted="ZnSO4.7H2O"))
        self.assertNotIn("plateau", self.residue("32.445 g", "32.238 g", accepted="ZnSO4.7H2O"))

    def test_weighings_out_of_order_stop_the_formula(self) -> None:
        swapped = evaluated({"vessel": "32.861 g", "vessel_sample": "31.204 g", "vessel_residue": ["32.134 g"]})
        self.assertIn("out-of-order", codes(swapped))
        self.assertEqual(swapped.words, {})
        self.assertIsNone(swapped.result("water_percent"))
        self.assertIn("out-of-order", codes(evaluated({**ZINC, "vessel_residue": ["33.000 g"]})))
        self.assertIn("out-of-order", codes(evaluated({**ZINC, "vessel_residue": ["31.100 g"]})))

    def test_a_missing_reading_is_named_with_what_waits_for_it(self) -> None:
        verdicts = [
            v
            for v in evaluated({"vessel": "31.204 g", "vessel_sample": "32.861 g"}).verdicts
            if v.code == "missing-reading"
        ]
        self.assertEqual([verdict.about for verdict in verdicts], ["vessel_residue"])
        self.assertIn("percent water", verdicts[0].text)
        self.assertIn("missing-reading", codes(evaluated({})))

    def test_an_assumed_half_width_is_said(self) -> None:
        trial = evaluated(instruments={})
        self.assertIn("assumed-uncertainty", codes(trial))
        self.assertNotIn("assumed-uncertainty", codes(evaluated()))

    def test_the_window_is_watched_and_the_run_stays_usable(self) -> None:
        for window, outside in (
            ({"about": "1.6 g"}, False),
            ({"about": "1 g"}, True),
            ({"low": "1.7 g"}, True),
            ({"high": "1.5 g"}, True),
            ({"low": "1.5 g", "high": "1.7 g"}, False),
        ):
            with self.subTest(window):
                trial = evaluated(planned={"sample": window})
                self.assertEqual("outside-window" in codes(trial), outside)
                self.assertEqual(trial.words["formula"].text, "ZnSO4·7H2O")


class Replicates(unittest.TestCase):
    def trials(self, *residues: str) -> set[str]:
        rows = [
            {"label": str(n), "readings": {**ZINC, "vessel_residue": [residue, residue]}}
            for n, residue in enumerate(residues)
        ]
        return {verdict.code for verdict in evaluation(trials=rows).verdicts}

    def test_they_agree_or_they_do_not(self) -> None:
        self.assertEqual(self.trials("32.134 g"), set())
        self.assertEqual(self.trials("32.134 g", "32.135 g"), {"replicates-agree"})
        self.assertEqual(self.trials("32.134 g", "32.180 g"), {"replicates-disagree"})

    def test_the_summary_has_mean_and_deviation(self) -> None:
        rows = [
            {"label": str(n), "readings": {**ZINC, "vessel_residue": [r, r]}}
            for n, r in enumerate(("32.134 g", "32.136 g"))
        ]
        summary = {row.name: row for row in evaluation(trials=rows).summary}
        self.assertAlmostEqual(summary["residue_mass"].mean, 0.931, places=9)
        self.assertAlmostEqual(summary["residue_mass"].standard_deviation or 0, 0.002 / 2**0.5, places=9)
        self.assertEqual(summary["residue_mass"].n, 2)


class Causes(unittest.TestCase):
    # Which way each pushes x, as instructors know it (common practice): the replay must find it by itself.
    SIGNS: ClassVar[dict[str, int]] = {
        "not-fully-heated": -1, "moisture": -1, "prints": -1, "spatter": 1, "residue-warm": 1, "vessel-warm": -1,
        "decomposed": 1, "vessel-wet": 1, "sample-wet": 1, "effloresced": -1,
    }  # fmt: skip

    def test_the_replay_finds_every_sign(self) -> None:
        shape = Shape(HydrateOptions(salt=parse_formula("ZnSO4")))
        readings = play(shape, ZINC_TRUTH, {})
        self.assertEqual({cause.code for cause in METHOD.bench.causes}, set(self.SIGNS))
        for cause in METHOD.bench.causes:
            with self.subTest(cause.code):
                replay = replaying.replay(METHOD, shape, readings, cause, cause.usual, "water_ratio")
                self.assertAlmostEqual(replay.before, 7, places=6)
                self.assertEqual((replay.shift > 0) - (replay.shift < 0), self.SIGNS[cause.code])

    def test_size_grows_with_the_dose(self) -> None:
        shape = Shape(HydrateOptions(salt=parse_formula("ZnSO4")))
        readings = play(shape, ZINC_TRUTH, {})
        for cause in METHOD.bench.causes:
            small = replaying.replay(METHOD, shape, readings, cause, cause.usual / 2, "water_ratio").shift
            large = replaying.replay(METHOD, shape, readings, cause, cause.usual, "water_ratio").shift
            self.assertGreater(abs(large), abs(small))

    def test_lines_and_options_can_be_replaced_and_readings_scaled(self) -> None:
        shape = Shape(HydrateOptions(salt=parse_formula("ZnSO4"), accepted=parse_formula("ZnSO4.7H2O")))
        readings = play(shape, ZINC_TRUTH, {})
        nothing_lost = Cause("x", "x", LineReplaced({"water_mass": lambda **_: 0.0}))
        self.assertEqual(replaying.replay(METHOD, shape, readings, nothing_lost, 0, "water_ratio").after, 0)
        other_salt = Cause("x", "x", OptionReplaced("salt", parse_formula("MgSO4")))
        ratio = replaying.replay(METHOD, shape, readings, other_salt, 0, "water_ratio").after
        self.assertAlmostEqual(ratio, 7 * parse_formula("MgSO4").molar_mass / parse_formula("ZnSO4").molar_mass)
        scaled = Cause("x", "x", ReadingScaled("vessel_sample"))
        self.assertGreater(replaying.replay(METHOD, shape, readings, scaled, 0.001, "water_ratio").shift, 0)

    def test_a_choice_that_flips_is_reported(self) -> None:
        shape = Shape(HydrateOptions(salt=parse_formula("ZnSO4")))
        cause = next(cause for cause in METHOD.bench.causes if cause.code == "not-fully-heated")
        replay = replaying.replay(METHOD, shape, play(shape, ZINC_TRUTH, {}), cause, 0.3, "water_ratio")
        self.assertIn("taken_ratio", replay.flips)


class BenchProperty(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(
        st.floats(20, 60),
        st.floats(0.8, 4),
        st.sampled_from([Fraction(n, 2) for n in range(1, 25)]),
        st.randoms(use_true_random=False),
    )
    def test_an_honest_bench_is_evaluated_back_to_its_truth(
        self, vessel: float, sample: float, x: Fraction, draw: random.Random
    ) -> None:
        """play(truth), read off a balance with half-width 1 mg, gives the ratio back within three times its u."""
        salt = parse_formula("ZnSO4")
        shape = Shape(HydrateOptions(salt=salt))
        truth = HydrateTruth(vessel / 1000, sample / 1000, float(x) * WATER.molar_mass / salt.molar_mass)

        def typed(mass: float) -> str:
            return f"{mass * 1000 + draw.uniform(-0.0005, 0.0005):.3f} g"

        readings = play(shape, truth, {})
        texts = {
            name: [typed(v) for v in value] if isinstance(value, list) else typed(value)
            for name, value in readings.items()
        }
        ratio = evaluated(texts).result("water_ratio")
        assert ratio is not None
        self.assertLessEqual(abs(ratio.value - float(x)), 3 * ratio.standard_uncertainty)
