"""The guards at the entry, measured: how often they ask an honest bench, how many swapped digits they catch.

Honest runs and slips are simulated from the list of hydrates with the method's own bench model; the rates are
printed. A slip counts when it moves the ratio by more than the honest result's band (k = 2).
"""

from __future__ import annotations

import random
import sys
import unittest
from dataclasses import dataclass, field
from decimal import Decimal

from claykettle.core.chemistry.formula import Formula
from claykettle.core.chemistry.hydrates import known_salts
from claykettle.core.judgement.digits import swapped
from claykettle.core.judgement.plausibility import Weighing, question
from claykettle.core.judgement.standing import standing
from claykettle.core.method import Window
from claykettle.core.methods.hydrate.judge import water_fraction
from claykettle.core.methods.hydrate.method import METHOD
from claykettle.core.methods.hydrate.options import HydrateOptions
from claykettle.core.quantity import Reading, parse_reading
from claykettle.core.run import Entry, Run, TrialEvaluation, TrialRecord, evaluate_run, reading_definition
from tests.support.runs import codes, evaluated
from tests.support.tiers import amount, both

HALF_WIDTH = Decimal("0.000001")
MOST_HEATINGS = 12
HONEST, SLIPS = amount((120, 150), (500, 700))


def read(grams: float, draw: random.Random) -> Reading:
    """What an honest milligram balance shows."""
    return parse_reading(f"{grams + draw.uniform(-0.001, 0.001):.3f} g", "mass")


@dataclass
class Bench:
    """One simulated run: it weighs until constant, may slip once, and looks whether anything asks."""

    draw: random.Random
    slip_at: int | None = None
    asked: list[str] = field(default_factory=list)
    slipped: bool = False

    def __post_init__(self) -> None:
        draw = self.draw
        self.hydrate: Formula = draw.choice(draw.choice(known_salts()).hydrates)
        accepted = self.hydrate if draw.random() < 0.5 else None
        self.options = HydrateOptions(salt=self.hydrate.anhydrous, accepted=accepted)
        self.planned = draw.choice((1.0, 1.5, 2.0, 3.0))
        self.window = Window(about=parse_reading(f"{self.planned} g", "mass"))
        self.vessel = draw.uniform(20, 60)
        self.sample = self.planned * draw.uniform(0.85, 1.15)
        self.entries: dict[str, tuple[Entry, ...]] = {}
        self.count = 0

    def run(self) -> TrialEvaluation:
        """Weigh the whole run."""
        draw = self.draw
        self.weigh("vessel", self.vessel)
        self.weigh("vessel_sample", self.vessel + self.sample)
        water = self.sample * water_fraction(self.hydrate)
        left = draw.uniform(0.0, 0.15)
        trial = self.evaluate()
        for _ in range(MOST_HEATINGS):
            self.weigh("vessel_residue", self.vessel + self.sample - water * (1 - left))
            left *= draw.uniform(0.05, 0.4)
            trial = self.evaluate()
            if any(verdict.code == "constant-mass" for verdict in trial.verdicts):
                break
        self.asked += [v.code for v in trial.verdicts if v.code == "transposition" or v.level == "stop"]
        return trial

    def weigh(self, slot: str, grams: float) -> None:
        """Type one weighing, perhaps with two neighbouring digits swapped; the guard looks at it first."""
        reading = read(grams, self.draw)
        if self.count == self.slip_at:
            others = list(swapped(reading))
            if others:
                reading, self.slipped = self.draw.choice(others), True
        self.count += 1
        definition = reading_definition(METHOD, slot)
        assert definition is not None
        found = question(Weighing(definition, reading, self.evaluate().trial, HALF_WIDTH, self.window))
        if found:
            self.asked.append(found.code)
        self.entries[slot] = (*self.entries.get(slot, ()), Entry(reading))

    def evaluate(self) -> TrialEvaluation:
        """The run so far."""
        record = TrialRecord("1", self.entries)
        run = Run(METHOD, self.options, (record,), {"balance": HALF_WIDTH}, planned={"sample": self.window})
        return evaluate_run(run).trials[0]


class Rates(unittest.TestCase):
    @both
    def test_at_most_one_honest_run_in_five_hundred_is_asked(self) -> None:
        asked = []
        for seed in range(HONEST):
            bench = Bench(random.Random(seed))
            bench.run()
            if bench.asked:
                asked.append((seed, bench.asked))
        print(f"kettle: guards asked {len(asked)} of {HONEST} honest runs", file=sys.__stderr__)
        self.assertLessEqual(len(asked), 1, asked)

    @both
    def test_nine_in_ten_swapped_digits_that_matter_are_caught(self) -> None:
        mattered = caught = asked = 0
        missed: list[tuple[int, int | None]] = []
        for seed in range(SLIPS):
            slip_at = random.Random(seed).randrange(5)
            honest, slipped = Bench(random.Random(seed)), Bench(random.Random(seed), slip_at)
            before, trial = honest.run().result("water_ratio"), slipped.run()
            after = trial.result("water_ratio")
            if not slipped.slipped or before is None:
                continue
            moved = after is None or abs(after.value - before.value) > 2 * before.standard_uncertainty
            if not moved:
                continue
            mattered += 1
            seen = bool(slipped.asked) or standing(trial.verdicts, after is not None, ()).level != "good"
            caught += seen
            asked += bool(slipped.asked)
            if not seen:
                missed.append((seed, slip_at))
        rate = caught / mattered
        print(
            f"kettle: of {mattered} swapped digits that matter {caught} were caught ({rate:.1%}), {asked} where typed",
            file=sys.__stderr__,
        )
        self.assertGreaterEqual(asked, 0.5 * mattered)
        self.assertGreater(mattered, 0.4 * SLIPS)
        self.assertGreaterEqual(rate, 0.9, missed)


class Questions(unittest.TestCase):
    def ask(
        self, slot: str, text: str, readings: dict[str, tuple[str, ...]], **more: object
    ) -> tuple[str, str | None] | None:
        """Code and suggestion for one typed weighing after others."""
        bench = Bench(random.Random(1))
        bench.entries = {
            name: tuple(Entry(parse_reading(one, "mass")) for one in texts) for name, texts in readings.items()
        }
        definition = reading_definition(METHOD, slot)
        assert definition is not None
        window = Window(about=parse_reading("1.6 g", "mass"))
        weighing = Weighing(definition, parse_reading(text, "mass"), bench.evaluate().trial, HALF_WIDTH, window, **more)  # type: ignore[arg-type]
        found = question(weighing)
        return (found.code, found.suggestion) if found else None

    LOADED = {"vessel": ("31.204 g",), "vessel_sample": ("32.861 g",)}  # noqa: RUF012  # read only

    def test_the_digits_of_the_balance(self) -> None:
        self.assertEqual(self.ask("vessel", "31.20 g", {}), ("digits", None))
        self.assertEqual(self.ask("vessel", "31204 mg", {}), None)
        self.assertEqual(self.ask("vessel", "31.2040 g", {}), ("digits", None))

    def test_the_size_of_things(self) -> None:
        self.assertEqual(self.ask("vessel", "1.204 g", {}), ("magnitude", None))
        self.assertEqual(self.ask("vessel_sample", "45.861 g", {"vessel": ("31.204 g",)}), ("magnitude", None))

    def test_a_lid_once_with_and_once_without(self) -> None:
        vessel = {"vessel": ("31.204 g",)}
        self.assertEqual(self.ask("vessel_sample", "44.961 g", vessel, lid=True), ("magnitude", None))
        self.assertEqual(self.ask("vessel_sample", "36.061 g", vessel, lid=True), ("lid-mismatch", None))

    def test_swapped_digits_offer_the_figure(self) -> None:
        self.assertEqual(self.ask("vessel_sample", "38.261 g", {"vessel": ("31.204 g",)}), ("transposition", "32.861"))
        heated = {**self.LOADED, "vessel_residue": ("32.151 g",)}
        self.assertEqual(self.ask("vessel_residue", "32.163 g", heated), ("transposition", "32.136"))

    def test_a_believable_weighing_is_not_asked(self) -> None:
        self.assertIsNone(self.ask("vessel", "31.204 g", {}))
        self.assertIsNone(self.ask("vessel_sample", "32.861 g", {"vessel": ("31.204 g",)}))
        self.assertIsNone(self.ask("vessel_residue", "32.151 g", self.LOADED))


class AtTheEnd(unittest.TestCase):
    def test_a_result_that_a_swap_would_mend_says_so(self) -> None:
        """More gone than anything but a slip explains; what spatter would explain as well is no verdict."""
        rest = {"vessel": "31.204 g", "vessel_sample": "32.861 g"}
        self.assertNotIn("transposition", codes(evaluated({**rest, "vessel_residue": ["32.134 g", "32.134 g"]})))
        trial = evaluated({**rest, "vessel_residue": ["31.234 g", "31.234 g"]})
        verdict = next(verdict for verdict in trial.verdicts if verdict.code == "transposition")
        self.assertIn("With 32.134 in place of 31.234 it would be ZnSO4·7H2O", verdict.text)
        # of a series the last one, which the result rests on
        trial = evaluated({**rest, "vessel_residue": ["32.150 g", "31.234 g", "31.234 g"]})
        verdict = next(verdict for verdict in trial.verdicts if verdict.code == "transposition")
        self.assertIn("heating 3'? With 32.134 in place of 31.234", verdict.text)
        small = evaluated({**rest, "vessel": "31.240 g", "vessel_residue": ["32.134 g", "32.134 g"]})
        self.assertNotIn("transposition", codes(small))
        self.assertIn("formula-none", codes(small))
