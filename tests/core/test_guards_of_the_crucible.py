"""The questions at the entry for combination and decomposition: quiet on honest benches, awake on slips."""

from __future__ import annotations

import random
import sys
import unittest
from decimal import Decimal
from typing import Any

from claykettle.core.judgement.plausibility import Question, Weighing, question
from claykettle.core.method import Window
from claykettle.core.methods.registry import method_named
from claykettle.core.quantity import parse_reading
from claykettle.core.run import Entry, Run, TrialRecord, evaluate_run, reading_definition
from tests.support.tiers import amount, both

HALF_WIDTH = Decimal("0.000001")
OPTIONS: dict[str, dict[str, Any]] = {
    "combination": {"element": "Sn", "partner": "S", "product": "SnS"},
    "decomposition": {"equations": ["2 NaHCO3(s) -> Na2CO3(s) + H2O(g) + CO2(g)"]},
}
SERIES = {"combination": "vessel_product", "decomposition": "vessel_residue"}
LOADED = {"combination": "vessel_element", "decomposition": "vessel_sample"}


class Bench:
    """One run, weighing by weighing, each held against the guard before it is kept."""

    def __init__(self, method: str, planned: str = "1.2 g"):
        self.method = method_named(method)
        self.options = self.method.options.model_validate(OPTIONS[method])
        assert self.method.planned is not None
        self.window = {self.method.planned.name: Window(about=parse_reading(planned, "mass"))}
        self.entries: dict[str, tuple[Entry, ...]] = {}

    def ask(self, slot: str, text: str) -> Question | None:
        """What the guard asks of this weighing; it is kept all the same."""
        reading = parse_reading(text, "mass")
        definition = reading_definition(self.method, slot)
        assert definition is not None
        run = Run(self.method, self.options, (TrialRecord("1", self.entries),), {"balance": HALF_WIDTH})
        before = evaluate_run(run).trials[0].trial
        found = question(Weighing(definition, reading, before, HALF_WIDTH, next(iter(self.window.values())), True))
        self.entries[slot] = (*self.entries.get(slot, ()), Entry(reading))
        return found


def grams(value: float) -> str:
    """What a milligram balance shows."""
    return f"{value:.3f} g"


def honest(method: str, seed: int) -> list[str]:
    """The questions that one simulated honest run is asked."""
    draw = random.Random(seed)
    bench, vessel, sample = Bench(method), draw.uniform(15, 40), draw.uniform(1.05, 1.35)
    left, excess, masses = draw.uniform(0.0, 0.2), draw.uniform(0.0, 0.02), []
    for _ in range(4):
        if method == "combination":
            masses.append(sample * (1.27 - 0.27 * left) + excess)
        else:
            masses.append(sample * (0.631 + 0.369 * left))
        left *= draw.uniform(0.05, 0.4)
        excess *= draw.uniform(0.05, 0.4)
    asked = [
        bench.ask("vessel", grams(vessel)),
        bench.ask(LOADED[method], grams(vessel + sample)),
        *(bench.ask(SERIES[method], grams(vessel + mass)) for mass in masses),
    ]
    return [row.code for row in asked if row is not None]


class Quiet(unittest.TestCase):
    @both
    def test_honest_runs_are_rarely_asked(self) -> None:
        for method in OPTIONS:
            asked = [found for seed in range(amount(40, 250)) if (found := honest(method, seed))]
            print(
                f"kettle: guards asked {len(asked)} of {amount(40, 250)} honest runs of {method}", file=sys.__stderr__
            )
            with self.subTest(method):
                self.assertLessEqual(len(asked), 2, asked)


class Awake(unittest.TestCase):
    def tin(self, *weighings: tuple[str, str]) -> Question | None:
        bench = Bench("combination")
        found = [bench.ask(slot, text) for slot, text in weighings]
        return found[-1]

    START = (("vessel", "24.318 g"), ("vessel_element", "25.506 g"))

    def test_swapped_digits_in_a_rising_series(self) -> None:
        found = self.tin(*self.START, ("vessel_product", "25.842 g"), ("vessel_product", "25.482 g"))
        assert found is not None
        self.assertEqual((found.code, found.suggestion), ("transposition", "25.842"))

    def test_an_excess_that_burns_off_is_not_asked(self) -> None:
        self.assertIsNone(self.tin(*self.START, ("vessel_product", "25.842 g"), ("vessel_product", "25.831 g")))

    def test_a_lid_in_one_weighing_only(self) -> None:
        found = self.tin(*self.START, ("vessel_product", "34.190 g"))
        assert found is not None
        self.assertEqual(found.code, "lid-mismatch")

    def test_digits_and_sizes_are_asked_as_for_every_method(self) -> None:
        for weighings, code in (
            ((("vessel", "24.31 g"),), "digits"),
            ((("vessel", "1.318 g"),), "magnitude"),
            ((("vessel", "24.318 g"), ("vessel_element", "24.330 g")), "magnitude"),
        ):
            found = self.tin(*weighings)
            assert found is not None
            self.assertEqual(found.code, code)

    def test_a_decomposition_that_gains_by_swapped_digits(self) -> None:
        bench = Bench("decomposition", "2 g")
        for slot, text in (("vessel", "25.000 g"), ("vessel_sample", "27.000 g"), ("vessel_residue", "26.270 g")):
            bench.ask(slot, text)
        found = bench.ask("vessel_residue", "26.621 g")
        assert found is not None
        self.assertEqual((found.code, found.suggestion), ("transposition", "26.261"))
