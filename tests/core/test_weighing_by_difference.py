"""What must not change a result: a balance that shows too much throughout, other units, another size, another form.

Common practice: weighing by difference cancels the balance's zero, which is why one balance serves a whole run.
"""

from __future__ import annotations

import random
import unittest
from collections.abc import Callable, Iterator, Mapping
from typing import Any

from claykettle.core.method import Method
from claykettle.core.methods.registry import all_methods
from claykettle.core.quantity import nominal
from claykettle.core.sheet import Shape, Values
from tests.core.test_crucible_methods import run, soda, tin
from tests.support.methods import forms, weighings

CRUCIBLES = [method for method in all_methods().values() if method.page.readings[0].name == "vessel"]
"""The methods that weigh one vessel again and again on one balance."""


def changed(readings: Mapping[str, Any], change: Callable[[float], float], *names: str) -> dict[str, Any]:
    """The readings with those named (all where none is) changed."""
    return {
        name: value
        if names and name not in names
        else [change(one) for one in value]
        if isinstance(value, list)
        else change(value)
        for name, value in readings.items()
    }


def results(method: Method, shape: Shape, readings: Mapping[str, Any]) -> dict[str, float]:
    """Every result that can be had, as plain numbers."""
    values: Values = method.page.build(shape).evaluate(readings)
    return {name: nominal(values[name]) for name in method.results if values.get(name) is not None}


class Invariance(unittest.TestCase):
    def test_the_family_is_all_there(self) -> None:
        names = {"hydrate", "combination", "decomposition", "composition"}
        self.assertEqual({method.name for method in CRUCIBLES}, names)

    def each(self) -> Iterator[tuple[Method, Shape, dict[str, Any], dict[str, float]]]:
        compared = 0
        for method, shape, draw in forms():
            if method not in CRUCIBLES:
                continue
            readings = weighings(method, shape, draw)
            found = results(method, shape, readings)
            if found:
                yield method, shape, readings, found
                compared += 1
        self.assertGreater(compared, 60)

    def assertSame(self, one: dict[str, float], other: dict[str, float], why: str) -> None:  # noqa: N802
        self.assertEqual(one.keys(), other.keys(), why)
        for name, value in one.items():
            self.assertAlmostEqual(other[name] / value if value else other[name] + 1, 1, places=7, msg=f"{why}: {name}")

    def test_a_balance_that_shows_50_mg_too_much_changes_no_result(self) -> None:
        for method, shape, readings, found in self.each():
            alone = shape.net - shape.split
            names = [name for name in readings if name not in alone]
            shifted = changed(readings, lambda value: value + 5e-5, *names)
            with self.subTest(method=method.name, shape=shape):
                self.assertSame(found, results(method, shape, shifted), "zero error")

    def test_a_run_twice_as_large_doubles_masses_and_leaves_ratios(self) -> None:
        for method, shape, readings, found in self.each():
            doubled = results(method, shape, changed(readings, lambda value: 2 * value))
            for name, value in found.items():
                factor = 2 if name.endswith(("_mass", "_amount")) else 1
                with self.subTest(method=method.name, result=name):
                    self.assertAlmostEqual(doubled[name] / value, factor, places=6)

    def test_earlier_heatings_do_not_count_once_the_mass_is_constant(self) -> None:
        for method, shape, readings, _ in self.each():
            series = next(name for name, value in readings.items() if isinstance(value, list))
            end = readings[series][-1]
            settled = {**readings, series: [end, end]}
            longer = {**readings, series: [end + 3e-4, end + 1e-4, end, end]}
            with self.subTest(method=method.name, shape=shape):
                self.assertSame(results(method, shape, settled), results(method, shape, longer), "series")

    def test_every_form_of_weighing_in_gives_the_same(self) -> None:
        """In the vessel, by itself, or by itself as tare and gross."""
        for method in CRUCIBLES:
            shape = next(method.bench.shapes())
            truth = method.bench.sample(random.Random(5).uniform)
            name = next(row.name for row in method.page.readings if row.net)
            net, split = frozenset({name}), frozenset({name})
            found = [
                results(method, form, method.bench.play(form, truth, {}))
                for form in (Shape(shape.options), Shape(shape.options, net), Shape(shape.options, net, split))
            ]
            with self.subTest(method.name):
                self.assertSame(found[0], found[1], "alone")
                self.assertSame(found[0], found[2], "tare and gross")


class TypedForms(unittest.TestCase):
    def test_other_units_and_decimal_commas_are_the_same_run(self) -> None:
        plain = tin("25.831 g", "25.828 g", product="SnS")
        readings = {"vessel": "24,318 g", "vessel_element": "25506 mg", "vessel_product": ["0.025831 kg", "25,828 g"]}
        options = {"element": "Sn", "partner": "S", "product": "SnS"}
        other = run("combination", options, readings).trials[0]
        for name in ("partner_ratio", "percent_yield", "element_mass"):
            one, two = plain.result(name), other.result(name)
            assert one is not None and two is not None
            self.assertAlmostEqual(one.value, two.value, places=9)
        self.assertEqual(plain.words["formula"], other.words["formula"])

    def test_which_value_of_a_settled_series_counts_is_the_schools_choice(self) -> None:
        found = {}
        for choice in ("last", "mean", "lowest"):
            result = soda("26.300 g", "26.262 g", "26.264 g", constant_value=choice).result("residue_mass")
            assert result is not None
            found[choice] = round(result.value, 6)
        self.assertEqual(found, {"last": 1.264, "mean": 1.263, "lowest": 1.262})

    def test_an_unsettled_series_counts_by_its_last_whatever_the_school(self) -> None:
        for choice in ("last", "mean", "lowest"):
            result = soda("26.262 g", "26.400 g", constant_value=choice).result("residue_mass")
            assert result is not None
            self.assertAlmostEqual(result.value, 1.4)


class TheBuilder(unittest.TestCase):
    def test_a_method_that_loses_subtracts_the_later_and_one_that_gains_the_earlier(self) -> None:
        for method in CRUCIBLES:
            shape = next(method.bench.shapes())
            series = next(row for row in method.page.build(shape).readings.values() if row.series)
            name = {"decomposition": "gas_mass", "combination": "partner_mass"}.get(method.name, "water_mass")
            line = method.page.build(shape).by_name[name]
            rule = line.rule_text(shape.options)
            with self.subTest(method.name):
                self.assertEqual(rule.startswith(f"(settled {series.label})"), series.rises)
                found = results(
                    method, shape, method.bench.play(shape, method.bench.sample(random.Random(1).uniform), {})
                )
                self.assertGreater(found[name], 0)

    def test_the_weighings_of_the_bench_model_are_those_that_the_page_asks_for(self) -> None:
        for method, shape, draw in forms():
            asked = {name for name, row in method.page.build(shape).readings.items() if row.given is None}
            made = set(method.bench.play(shape, method.bench.sample(draw.uniform), {}))
            with self.subTest(method=method.name, shape=shape):
                self.assertEqual(made, asked)
