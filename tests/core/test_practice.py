"""The simulated bench, over many seeds: honest ones come to the truth, planted faults push where replays say."""

from __future__ import annotations

import math
import unittest
from collections import Counter

from claykettle.core.errors import Refusal
from claykettle.core.judgement.replay import replay
from claykettle.core.method import Method
from claykettle.core.methods.registry import all_methods, method_named
from claykettle.core.practice import Planted, Practised, can_be_planted, lay, parse_faults, practise
from claykettle.core.practice.planted import leaves_trace
from claykettle.core.run import evaluate_run
from tests.support.tiers import amount, both

SEEDS, HIDDEN, EACH = amount(24, 500), amount(12, 120), amount(6, 16)
SHORTEST_MIN = {"hydrate": 40, "combination": 50, "decomposition": 40, "gas_over_water": 15, "gas_density": 40}
"""Minutes that a run takes at least, by the times of common practice: fire, heat, cool, weigh, twice."""


def done(method: Method, seed: int, faults: tuple[Planted, ...] = (), skill: str = "careful") -> Practised:
    """A run of one trial."""
    return practise(lay(method, seed).with_faults(faults), skill, 1, lambda seconds: "", 0.0)


def off(found: Practised) -> tuple[float, float]:
    """By how much the key result lies off the truth, and its standard uncertainty."""
    evaluation = evaluate_run(found.run)
    result = evaluation.trials[0].result(evaluation.key)
    assert result is not None
    return result.value - found.true[evaluation.key], result.standard_uncertainty


class Honest(unittest.TestCase):
    """A careful bench without faults."""

    @both
    def test_it_evaluates_to_the_truth_inside_its_band_in_93_to_97_of_100(self) -> None:
        """The band is k = 2, about 95 % (GUM 6.2); the readings' own reduced chi-squared lies near 1.

        Of few seeds, every day, three standard deviations of such a share are allowed.
        """
        low, high, around = amount((0.81, 1.0, 0.3), (0.93, 0.97, 0.1))
        for method in all_methods().values():
            with self.subTest(method.name):
                inside, squares, readings = 0, 0.0, 0
                for seed in range(SEEDS):
                    found = done(method, seed)
                    gap, spread = off(found)
                    inside += abs(gap) <= 2 * spread
                    plain = [row for row in found.readings if row[0] not in found.laid.sampled]
                    squares += sum(((shown - true) / (width / math.sqrt(3))) ** 2 for _, true, shown, width in plain)
                    readings += len(plain)
                self.assertTrue(low * SEEDS <= inside <= high * SEEDS, f"{100 * inside / SEEDS:.1f} %")
                self.assertAlmostEqual(squares / readings, 1.0, delta=around)

    def test_what_it_records_is_a_whole_run_with_steps_times_and_what_was_seen(self) -> None:
        for method in all_methods().values():
            with self.subTest(method.name):
                found = practise(lay(method, 11), "careful", 2, lambda seconds: f"{seconds:.0f}", 0.0)
                self.assertEqual([row.label for row in found.run.trials], ["1", "2"])
                self.assertTrue(found.run.practised)
                self.assertTrue(found.run.steps)
                first, second = (
                    [float(entry.at or 0) for rows in trial.entries.values() for entry in rows]
                    for trial in found.run.trials
                )
                self.assertLess(max(first), min(second))
                verdicts = evaluate_run(found.run).trials[0].verdicts
                missed = [row for row in verdicts if row.code in ("step-missed", "weighed-warm", "no-heating-between")]
                self.assertEqual(missed, [])

    def test_it_takes_the_time_that_the_trade_takes(self) -> None:
        for name, shortest in SHORTEST_MIN.items():
            found = practise(lay(method_named(name), 2), "careful", 1, lambda seconds: f"{seconds:.0f}", 0.0)
            last = max(float(entry.at or 0) for rows in found.run.trials[0].entries.values() for entry in rows)
            self.assertTrue(shortest <= last / 60 <= 4 * shortest, (name, last / 60))

    def test_every_form_of_every_page_can_be_practised(self) -> None:
        for method in all_methods().values():
            forms = {shape.options.model_dump_json(): shape.options for shape in method.bench.shapes()}
            for options in forms.values():
                with self.subTest(method.name, options=options.model_dump(exclude_defaults=True)):
                    found = practise(lay(method, 4, options), "careful", 1, lambda seconds: "", 0.0)
                    self.assertEqual(set(found.run.trials[0].entries), set(found.laid.slots))


class Planting(unittest.TestCase):
    """Faults planted by name."""

    @both
    def test_every_fault_pushes_the_result_where_a_replay_of_it_does(self) -> None:
        planted = 0
        for method in all_methods().values():
            laid = lay(method, 21)
            honest = laid.honest(1)
            sheet = method.page.build(laid.shape)
            key = method.key_on(sheet)
            for cause in method.bench.causes:
                if not can_be_planted(cause, laid.options) or not cause.usual:
                    continue
                plain = {name: value for name, value in honest.items() if name in sheet.readings}
                shift = replay(method, laid.shape, plain, cause, cause.usual, key).shift
                found = [off(done(method, seed, (Planted(cause, cause.usual),)))[0] for seed in range(EACH)]
                mean, spread = sum(found) / len(found), off(done(method, 0))[1]
                with self.subTest(method.name, cause=cause.code):
                    unit = float(sheet.by_name[key].shown_unit.step_from_si(1.0))
                    if abs(shift * unit) > 1.5 * spread:
                        planted += 1
                        self.assertEqual(mean > 0, shift > 0)
                        self.assertAlmostEqual(mean / (shift * unit), 1.0, delta=0.45)
        self.assertGreater(planted, 45)

    def test_faults_are_read_with_their_doses_and_refused_each_with_what_is_wrong(self) -> None:
        hydrate = method_named("hydrate")
        options = lay(hydrate, 1).options
        (one, two) = parse_faults("spatter=0.05, not-fully-heated = 10 %", hydrate, options)
        self.assertAlmostEqual(one.dose, 5e-5)
        self.assertAlmostEqual(two.dose, 0.1)
        self.assertAlmostEqual(two.shown, 10.0)
        for text, code in (
            ("nothing", "unknown-cause"),
            ("spatter=much", "not-a-dose"),
            ("spatter=-1", "not-a-dose"),
            ("spatter=nan", "not-a-dose"),
            ("spatter=1e9", "not-a-dose"),
            ("spatter,spatter", "twice"),
        ):
            with self.subTest(text), self.assertRaises(Refusal) as caught:
                parse_faults(text, hydrate, options)
            self.assertEqual(caught.exception.faults[0].code, code)
        gas = method_named("gas_over_water")
        with self.assertRaises(Refusal) as caught:
            parse_faults("vapour-ignored", gas, lay(gas, 1).options)
        self.assertIn("slip of the calculation", str(caught.exception))

    def test_a_fault_that_leaves_a_trace_leaves_it_in_the_record(self) -> None:
        hydrate = method_named("hydrate")
        causes = {row.code: row for row in hydrate.bench.causes}
        spatter = [done(hydrate, seed, (Planted(causes["spatter"], 5e-5),)).run for seed in range(20)]
        self.assertGreater(sum("popping" in run.tags("1") for run in spatter), 14)
        warm = Counter(
            verdict.code
            for seed in range(10)
            for verdict in evaluate_run(
                practise(
                    lay(hydrate, seed).with_faults((Planted(causes["residue-warm"], 1e-5),)),
                    "careful",
                    1,
                    lambda seconds: f"{seconds}",
                    1e9,
                ).run
            )
            .trials[0]
            .verdicts
        )
        self.assertEqual(warm["weighed-warm"] >= 10, True)


class Hidden(unittest.TestCase):
    """A fault that nobody is told."""

    @both
    def test_it_is_among_the_first_three_suspects_in_9_of_10_and_first_in_6_of_10(self) -> None:
        for method in all_methods().values():
            first = three = 0
            for seed in range(HIDDEN):
                laid = lay(method, seed).hidden()
                self.assertEqual(len(laid.faults), 1)
                found = practise(laid, "careful", 1, lambda seconds: "", 0.0)
                evaluation = evaluate_run(found.run)
                accepted = method.judging.accepted(laid.options) is not None
                expect = None if accepted else str(found.true[evaluation.key])
                rows = [row.code for row in evaluation.suspicion("1", expect).believable][:3]
                first += rows[:1] == [laid.faults[0].cause.code]
                three += laid.faults[0].cause.code in rows
            with self.subTest(method.name):
                self.assertGreaterEqual(three, amount(0.8, 0.9) * HIDDEN)
                self.assertGreaterEqual(first, amount(0.45, 0.6) * HIDDEN)

    def test_the_levels_hide_what_leaves_a_trace_anything_and_what_leaves_none(self) -> None:
        hydrate = method_named("hydrate")
        traces = {
            level: {leaves_trace(lay(hydrate, seed).hidden(level).faults[0].cause) for seed in range(40)}
            for level in (1, 2, 3)
        }
        self.assertEqual(traces, {1: {True}, 2: {True, False}, 3: {False}})


class Hurry(unittest.TestCase):
    """Hands in a hurry."""

    def test_they_come_off_the_truth_more_often_and_the_record_says_why(self) -> None:
        codes: Counter[str] = Counter()
        outside = 0
        for seed in range(60):
            found = practise(lay(method_named("hydrate"), seed), "hasty", 1, lambda seconds: f"{seconds}", 1e9)
            gap, spread = off(found)
            outside += abs(gap) > 2 * spread
            codes.update({row.code for row in evaluate_run(found.run).trials[0].verdicts})
        self.assertGreater(outside, 20)
        self.assertGreater(codes["weighed-warm"], 20)


class Seeds(unittest.TestCase):
    """The same seed is the same bench."""

    def test_two_runs_of_a_seed_are_one_and_two_seeds_are_two(self) -> None:
        for method in all_methods().values():
            once, again = done(method, 10**18), done(method, 10**18)
            self.assertEqual(once.run, again.run)
            self.assertNotEqual(once.run.trials, done(method, 10**18 - 1).run.trials)

    def test_a_seed_that_is_none_is_refused(self) -> None:
        for seed in (-1, 10**18 + 1):
            with self.assertRaises(Refusal):
                lay(method_named("hydrate"), seed)


if __name__ == "__main__":
    unittest.main()
