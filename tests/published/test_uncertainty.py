"""Uncertainty against the GUM's own examples, a Monte Carlo run and numerical derivatives."""

from __future__ import annotations

import math
import random
import statistics
import unittest
from typing import Any

import scipy.stats

from claykettle.core.judgement.replicates import agreement, chi_squared_tail
from claykettle.core.methods.hydrate.method import METHOD
from claykettle.core.quantity import nominal, reading_variable, standard_uncertainty
from claykettle.core.sheet import Page, Shape
from tests.support.runs import ZINC, evaluated, run

ROOT3 = math.sqrt(3)


def of(values: dict[str, tuple[float, float]]) -> dict[str, Any]:
    """Variables with a given standard uncertainty (not a half-width)."""
    return {name: reading_variable(value, u * ROOT3, name) for name, (value, u) in values.items()}


class Jcgm101(unittest.TestCase):
    """JCGM 101:2008, section 9 (figures quoted from memory)."""

    def test_9_2_additive_model(self) -> None:
        """Four inputs of mean 0 and u = 1: y = 0, u(y) = 2.0."""
        page = Page("additive")
        for n in range(1, 5):
            page.reading(f"x{n}", f"x{n}", "g", "balance")
        page.line("y", "g", "x1 + x2 + x3 + x4", name="y")(lambda x1, x2, x3, x4: x1 + x2 + x3 + x4)
        y = page.build(Shape(None)).evaluate(of({f"x{n}": (0.0, 1.0) for n in range(1, 5)}))["y"]
        self.assertEqual(nominal(y), 0.0)
        self.assertAlmostEqual(standard_uncertainty(y), 2.0, places=12)

    def test_9_3_mass_calibration_first_order(self) -> None:
        """Air buoyancy at a weighing: deviation 1.2340 mg, u = 0.0539 mg by the first-order law (Table 6)."""
        page = Page("calibration")
        names = {"reference": "kg", "difference": "kg", "air": "kg/m3", "weight": "kg/m3", "standard": "kg/m3"}
        for name, symbol in names.items():
            page.reading(name, name, symbol, "balance")

        @page.line("deviation", "mg", "words", name="deviation")
        def deviation(reference: Any, difference: Any, air: Any, weight: Any, standard: Any) -> Any:
            return (reference + difference) * (1 + (air - 1.2) * (1 / weight - 1 / standard)) - 0.1

        inputs = of(
            {
                "reference": (0.1, 50e-9),
                "difference": (1.234e-6, 20e-9),
                "air": (1.2, 0.1 / ROOT3),
                "weight": (8000.0, 1000 / ROOT3),
                "standard": (8000.0, 50 / ROOT3),
            }
        )
        value = page.build(Shape(None)).evaluate(inputs)["deviation"]
        self.assertAlmostEqual(nominal(value) * 1e6, 1.2340, places=4)
        self.assertAlmostEqual(standard_uncertainty(value) * 1e6, 0.0539, places=4)


class Independent(unittest.TestCase):
    def test_the_ratio_against_a_monte_carlo_run(self) -> None:
        """x by hand from 40 000 draws of the weighings (rectangular, ± 1 mg) and of the settling (± 2 mg)."""
        draw = random.Random(20261124)

        def half(width: float) -> float:
            return draw.uniform(-width, width)

        ratios = []
        for _ in range(40_000):
            vessel, loaded = 31.204 + half(0.001), 32.861 + half(0.001)
            residue = 32.134 + half(0.001) + half(0.002)
            ratios.append(((loaded - residue) / 18.015) / ((residue - vessel) / 161.436))
        result = evaluated().result("water_ratio")
        assert result is not None
        self.assertAlmostEqual(result.value, statistics.fmean(ratios), delta=0.001)
        self.assertAlmostEqual(result.standard_uncertainty / statistics.stdev(ratios), 1, delta=0.02)

    def test_sensitivities_against_numerical_derivatives(self) -> None:
        """Every result's u from central differences of the sheet on plain floats, reading by reading."""
        record = run()
        sheet = METHOD.page.build(Shape(record.options))
        readings: dict[str, Any] = {
            "vessel": 0.031204, "vessel_sample": 0.032861, "vessel_residue": [0.032151, 0.032136, 0.032134],
        }  # fmt: skip
        trial = evaluated(ZINC)
        lines = {line.name: line for line in sheet.lines}
        for result in trial.results:
            variance = 0.0
            for name in ("vessel", "vessel_sample", "vessel_residue"):
                high, low = dict(readings), dict(readings)
                step = 1e-8
                if name == "vessel_residue":
                    # only the last weighing counts; its settling moves the value in the same way
                    high[name] = [*readings[name][:2], readings[name][2] + step]
                    low[name] = [*readings[name][:2], readings[name][2] - step]
                    width = math.hypot(1e-6, 2e-6) / ROOT3
                else:
                    high[name], low[name] = readings[name] + step, readings[name] - step
                    width = 1e-6 / ROOT3
                slope = (sheet.evaluate(high)[result.name] - sheet.evaluate(low)[result.name]) / (2 * step)
                variance += (slope * width) ** 2
            expected = lines[result.name].shown_unit.step_from_si(math.sqrt(variance))
            with self.subTest(result.name):
                self.assertAlmostEqual(result.standard_uncertainty, expected, delta=1e-5 * expected + 1e-12)


class ChiSquared(unittest.TestCase):
    def test_critical_values(self) -> None:
        """NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.6.7.4, upper 5 % points."""
        table = {1: 3.841, 2: 5.991, 3: 7.815, 4: 9.488, 5: 11.070, 9: 16.919, 10: 18.307, 30: 43.773, 100: 124.342}
        for degrees, critical in table.items():
            with self.subTest(degrees):
                self.assertAlmostEqual(chi_squared_tail(critical, degrees), 0.05, delta=5e-5)

    def test_tails_against_scipy(self) -> None:
        for degrees in (1, 2, 3, 7, 20, 60):
            for value in (0.1, 1.0, 4.0, 12.5, 60.0):
                with self.subTest(degrees=degrees, value=value):
                    tail = float(scipy.stats.chi2.sf(value, degrees))
                    self.assertAlmostEqual(chi_squared_tail(value, degrees), tail, delta=1e-9 + 1e-7 * tail)

    def test_the_weighted_mean(self) -> None:
        """Two values two combined uncertainties apart: chi-squared is 4 for one degree of freedom, p = 0.0455."""
        found = agreement([1.0, 1.0 + 2 * math.sqrt(2) * 0.1], [0.1, 0.1])
        assert found is not None
        self.assertAlmostEqual(found.chi_squared, 4.0)
        self.assertAlmostEqual(found.probability, 0.0455, delta=5e-5)
        self.assertFalse(found.agrees)
        self.assertIsNone(agreement([1.0], [0.1]))
