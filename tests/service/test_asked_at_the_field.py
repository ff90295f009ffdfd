"""What a bench types wrongly is asked about where it is typed; what is honest is not. 300 of each, drawn; printed.

The figures are worked out by hand from the gas law and molar masses typed here, not by the program.
"""

from __future__ import annotations

import random
import sys
import unittest
from collections.abc import Callable
from typing import Any

from claykettle.core.judgement.question import Question
from claykettle.core.quantity import parse_reading
from claykettle.core.run import evaluate_run, reading_definition
from claykettle.formats.run_file import run_from
from claykettle.service.runs.doubts import doubt_of

RUNS = 300
WIDTHS = {"balance": "0.001 g", "volume": "0.05 mL", "thermometer": "0.5 degC", "barometer": "0.5 hPa", "ruler": "1 mm"}
MAGNESIUM = {"reagent": "Mg", "equation": "Mg + 2 HCl -> MgCl2 + H2"}
BURETTE = MAGNESIUM | {"tube": {"reading": "inverted_burette", "mark": "50 mL"}}


def asked(
    method: str, options: dict[str, Any], readings: Any, slot: str, text: str, trial: str = "1", **more: Any
) -> Question | None:
    """What is asked when this is typed as the next reading; `readings` of one trial, or of several in order."""
    rows = readings if isinstance(readings, list) else [readings]
    instruments = {kind: {"half_width": width} for kind, width in (WIDTHS | more.pop("widths", {})).items()}
    document = {
        "format": "clay-kettle/run", "version": 1, "method": method, "options": options, "instruments": instruments,
        "trials": [{"label": str(n), "readings": row} for n, row in enumerate(rows, start=1)],
    }  # fmt: skip
    run = run_from(document | more)
    definition = reading_definition(run.method, slot, run.options)
    assert definition is not None
    return doubt_of(evaluate_run(run), trial, definition, parse_reading(text, definition.dimension), "")


def litres(grams: float, celsius: float, hectopascal: float) -> float:
    """mL of wet hydrogen from so much magnesium; vapour by Magnus' formula, from memory."""
    vapour = 6.112 * 2.718281828 ** (17.62 * celsius / (243.12 + celsius))
    return 1e6 * grams / 24.305 * 8.314462618 * (celsius + 273.15) / (100 * (hectopascal - vapour))


def residue(draw: random.Random, share: float, lid: bool = False) -> tuple[dict[str, str], str]:
    """A hydrate weighed in, and its residue where so much of the water (43.86 %) is gone."""
    vessel, sample = draw.uniform(20, 60), draw.uniform(8, 14) if lid else draw.uniform(0.9, 3)
    end = vessel + sample * (1 - 0.43856 * share)
    return {"vessel": f"{vessel:.3f} g", "vessel_sample": f"{vessel + sample:.3f} g"}, f"{end:.3f} g"


ZINC = {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}
CRUCIBLE = {"procedure": {"name": "hydrate", "version": 1, "schools": {"vessel": "crucible"}}}


def lost(low: float, high: float, lid: bool = False) -> Callable[[random.Random], Question | None]:
    def one(draw: random.Random) -> Question | None:
        readings, text = residue(draw, draw.uniform(low, high), lid)
        return asked("hydrate", ZINC, readings, "vessel_residue", text, **CRUCIBLE)

    return one


def into_tube(low: float, high: float, mark: str) -> Callable[[random.Random], Question | None]:
    options = MAGNESIUM | {"tube": {"mark": mark}}
    fine = {"balance": "0.0001 g"}
    return lambda draw: asked("gas_over_water", options, {}, "sample", f"{draw.uniform(low, high):.4f} g", widths=fine)


def burette(change: Callable[[float], float]) -> Callable[[random.Random], Question | None]:
    def one(draw: random.Random) -> Question | None:
        sample, celsius, hectopascal = draw.uniform(0.030, 0.040), draw.uniform(17, 26), draw.uniform(950, 1030)
        end = 50 + 2.4 - litres(sample, celsius, hectopascal)
        taken = {
            "sample": f"{sample:.4f} g", "dead_volume": "2.40 mL", "temperature": f"{celsius:.1f} degC",
            "barometer": f"{hectopascal:.1f} hPa",
        }  # fmt: skip
        widths = {"balance": "0.0001 g"}
        return asked("gas_over_water", BURETTE, taken, "volume_end", f"{change(end):.2f} mL", widths=widths)

    return one


def typed(slot: str, unit: str, low: float, high: float, decimals: int) -> Callable[[random.Random], Question | None]:
    return lambda draw: asked("gas_over_water", BURETTE, {}, slot, f"{draw.uniform(low, high):.{decimals}f} {unit}")


def long_tube(low: float, high: float) -> Callable[[random.Random], Question | None]:
    options = MAGNESIUM | {"tube": {"mark": "500 mL"}}

    def one(draw: random.Random) -> Question | None:
        end = draw.uniform(40, 200)
        off = draw.uniform(low, high) * draw.choice((1, -1))
        before = {"sample": "0.1000 g", "volume_start": "0.0 mL", "volume_end": f"{end:.1f} mL"}
        return asked("gas_over_water", options, [before, {}], "volume_start", f"{end + off:.1f} mL", trial="2",
                     widths={"volume": "0.1 mL"})  # fmt: skip

    return one


def planned(low: float, high: float) -> Callable[[random.Random], Question | None]:
    """A sample planned as 0.250 g, weighed by itself."""
    plan = {"planned": {"sample": {"about": "0.250 g"}}}
    options = {"equations": ["CaCO3 + 2 HCl -> CaCl2 + H2O + CO2"]}
    return lambda draw: asked("gas_by_mass_loss", options, {}, "sample", f"{draw.uniform(low, high):.3f} g", **plan)


ASPIRIN = {
    "equation": "C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2",
    "product": "C9H8O4",
    "reagents": [{"formula": "C7H6O3", "planned": "2.00 g"}, {"formula": "C4H6O3", "planned": "0.700 g"}],
}


def reagent(number: int, low: float, high: float) -> Callable[[random.Random], Question | None]:
    return lambda draw: asked("synthesis", ASPIRIN, {}, f"reagent_{number}", f"{draw.uniform(low, high):.3f} g")


def crude(low: float, high: float) -> Callable[[random.Random], Question | None]:
    taken = {"reagent_1": "2.000 g", "reagent_2": "3.000 g"}  # 2.609 g can come
    return lambda draw: asked("synthesis", ASPIRIN, taken, "crude", f"{draw.uniform(low, high):.3f} g")


def tablet(low: float, high: float) -> Callable[[random.Random], Question | None]:
    options = {"equations": ["CaCO3 + 2 HCl -> CaCl2 + H2O + CO2"], "claim": {"mass": "0.500 g", "per": "tablet"}}
    return lambda draw: asked("gas_by_mass_loss", options, {}, "sample", f"{draw.uniform(low, high):.3f} g")


def oxide(low: float, high: float) -> Callable[[random.Random], Question | None]:
    """12 g of limestone roasted: 5.28 g go off by the equation."""
    options = {"equations": ["CaCO3(s) -> CaO(s) + CO2(g)"]}
    schools = {"procedure": {"name": "decomposition", "version": 1, "schools": {"vessel": "crucible"}}}

    def one(draw: random.Random) -> Question | None:
        vessel, sample = draw.uniform(25, 40), draw.uniform(10, 14)
        taken = {"vessel": f"{vessel:.3f} g", "vessel_sample": f"{vessel + sample:.3f} g"}
        text = f"{vessel + sample * (1 - 0.4397 * draw.uniform(low, high)):.3f} g"
        return asked("decomposition", options, taken, "vessel_residue", text, **schools)

    return one


SLIPS: dict[str, tuple[Callable[[random.Random], Question | None], Callable[[random.Random], Question | None]]] = {
    "more lost than there is": (lost(1.02, 1.5), lost(0.7, 1.0)),
    "a loss of grams that the label predicts": (lost(1.1, 1.6, lid=True), lost(0.9, 1.0, lid=True)),
    "a loss of grams that the equation predicts": (oxide(1.1, 1.8), oxide(0.9, 1.0)),
    "a sample that overflows 50 mL": (into_tube(0.056, 0.2, "50 mL"), into_tube(0.015, 0.044, "50 mL")),
    "a sample that overflows 10 mL": (into_tube(0.0115, 0.06, "10 mL"), into_tube(0.003, 0.0088, "10 mL")),
    "a scale read upside down": (burette(lambda end: 50 - end), burette(lambda end: end)),
    "dead volume of 18 for 1.80": (typed("dead_volume", "mL", 11, 40, 1), typed("dead_volume", "mL", 1.1, 4, 2)),
    "centimetres for millimetres": (
        typed("level_difference", "mm", 1.5, 9.8, 1), typed("level_difference", "mm", 10, 300, 0)
    ),
    "a start that is not the last end": (long_tube(1.2, 6), long_tube(0, 0.2)),
    "ten times the plan": (planned(2.2, 2.8), planned(0.22, 0.28)),
    "a boat not zeroed": (planned(1.5, 6), planned(0.22, 0.28)),
    "the other reagent's plan": (reagent(2, 1.5, 3), reagent(2, 0.62, 0.78)),
    "its own plan": (reagent(1, 0.6, 0.8), reagent(1, 1.8, 2.2)),
    "a watch glass weighed as product": (crude(20, 60), crude(1.2, 2.6)),
    "a claim above the tablet": (tablet(0.1, 0.49), tablet(0.6, 1.4)),
    "mmHg as hPa": (typed("barometer", "hPa", 720, 780, 1), typed("barometer", "hPa", 930, 1035, 1)),
}  # fmt: skip


class AskedAtTheField(unittest.TestCase):
    def test_slips_are_asked_about_and_honest_figures_are_not(self) -> None:
        print(f"\n{'asked about, of ' + str(RUNS):46}{'slips':>8}{'honest':>8}", file=sys.stderr)
        for name, (slip, honest) in SLIPS.items():
            draw = random.Random(name)
            counts = [sum(one(draw) is not None for _ in range(RUNS)) for one in (slip, honest)]
            print(f"{name:46}{counts[0]:8d}{counts[1]:8d}", file=sys.stderr)
            with self.subTest(name):
                self.assertGreaterEqual(counts[0], 0.95 * RUNS)
                self.assertLessEqual(counts[1], 0.005 * RUNS)

    def test_the_question_offers_what_was_likely_meant(self) -> None:
        upside = burette(lambda end: 50 - end)(random.Random(3))
        assert upside is not None and upside.suggestion is not None
        self.assertIn("upside down", upside.text)
        eighteen = asked("gas_over_water", BURETTE, {}, "dead_volume", "18.0 mL")
        assert eighteen is not None
        self.assertEqual(eighteen.suggestion, "1.80")
        column = asked("gas_over_water", BURETTE, {}, "level_difference", "4.5 mm")
        assert column is not None
        self.assertEqual(column.suggestion, "45")

    def test_a_tube_filled_anew_begins_at_nothing(self) -> None:
        before = {"sample": "0.1000 g", "volume_start": "0.0 mL", "volume_end": "155.8 mL"}
        options = MAGNESIUM | {"tube": {"mark": "500 mL"}}
        self.assertIsNone(asked("gas_over_water", options, [before, {}], "volume_start", "0.0 mL", trial="2"))

    def test_a_figure_whose_tenfold_is_beyond_belief_is_still_asked_about(self) -> None:
        taken = {"vessel": "30.000 g", "vessel_sample": "32.000 g"}
        found = asked("hydrate", {"salt": "ZnSO4"}, taken, "vessel_residue", "31190.000 g", **CRUCIBLE)
        assert found is not None
        self.assertEqual(found.code, "unexpected")
        self.assertIsNone(found.suggestion)
