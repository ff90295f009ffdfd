"""What holds for every method in every form of its page: rules, dimensions, bench model, causes, procedures."""

from __future__ import annotations

import random
import unittest
from collections.abc import Callable, Iterator
from dataclasses import replace
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.judgement import replay as replaying
from claykettle.core.method import Cause, Method
from claykettle.core.methods.combination.method import CombinationTruth
from claykettle.core.methods.composition.method import CompositionTruth
from claykettle.core.methods.crystal_growth.method import CrystalGrowthTruth
from claykettle.core.methods.decomposition.method import DecompositionTruth
from claykettle.core.methods.gas_by_mass_loss.method import MassLossTruth
from claykettle.core.methods.gas_density.method import GasDensityTruth
from claykettle.core.methods.gas_over_water.method import GasOverWaterTruth, TubeSetting
from claykettle.core.methods.hydrate.method import HydrateTruth
from claykettle.core.methods.precipitation.method import PrecipitationTruth
from claykettle.core.methods.recrystallization.method import RecrystallizationTruth
from claykettle.core.methods.registry import all_methods, method_named
from claykettle.core.methods.synthesis.method import SynthesisTruth
from claykettle.core.run import reading_names, shipped_procedures, slots_of
from claykettle.core.sheet import Shape, compute
from tests.support.dimensions import check_dimensions


def cobalt_chloride(vessel: float, sample: float, water: float) -> CompositionTruth:
    """CoCl2 with so much water, by the atomic weights of IUPAC 2021."""
    whole = 58.933 + 2 * 35.45 + 18.015 * water
    return CompositionTruth(vessel, sample, 18.015 * water / whole, 58.933 / whole)


TRUTHS: dict[str, Callable[[random.Random], Any]] = {
    "hydrate": lambda draw: HydrateTruth(draw.uniform(0.02, 0.04), draw.uniform(0.001, 0.003), draw.uniform(0.3, 1.2)),
    "combination": lambda draw: CombinationTruth(
        draw.uniform(0.02, 0.04), draw.uniform(0.0005, 0.002), draw.uniform(0.8, 2.2)
    ),
    "decomposition": lambda draw: DecompositionTruth(
        draw.uniform(0.02, 0.04), draw.uniform(0.001, 0.003), draw.uniform(0.4, 0.7)
    ),
    "gas_over_water": lambda draw: GasOverWaterTruth(
        draw.uniform(3e-5, 9e-5),
        draw.uniform(9, 15),
        draw.uniform(290, 300),
        draw.uniform(8.8e4, 1.01e5),
        TubeSetting(
            draw.uniform(1e-6, 5e-6), draw.uniform(288, 298), *(draw.uniform(0.02, 0.2) for _ in range(2)), 2.4e-6
        ),
    ),
    "gas_density": lambda draw: GasDensityTruth(
        draw.uniform(0.06, 0.12),
        draw.uniform(2e-4, 4e-4),
        draw.uniform(0.028, 0.06),
        draw.uniform(290, 300),
        draw.uniform(8.4e4, 9.6e4),
        draw.uniform(0.2, 0.9),
    ),
    # as grams or as millilitres, whatever each form takes of it: the first of the reagents, then the others
    "precipitation": lambda draw: PrecipitationTruth(
        (draw.uniform(1.0e-3, 1.4e-3), *(draw.uniform(1.8e-5, 2.6e-5) for _ in range(5))), draw.uniform(4e-4, 8e-4)
    ),
    "crystal_growth": lambda draw: CrystalGrowthTruth(
        draw.uniform(2e-5, 5e-5), draw.uniform(5e-3, 9e-3), draw.uniform(2e-3, 4e-3)
    ),
    "synthesis": lambda draw: SynthesisTruth(
        (draw.uniform(1.8e-3, 2.2e-3), *(draw.uniform(4e-6, 6e-6) for _ in range(11))),
        draw.uniform(1.5e-3, 1.9e-3),
        draw.uniform(1e-3, 1.4e-3),
    ),
    "recrystallization": lambda draw: RecrystallizationTruth(
        draw.uniform(0.008, 0.012),
        draw.uniform(0.018, 0.025),
        draw.uniform(328, 333),
        draw.uniform(275, 285),
        draw.uniform(0.004, 0.006),
    ),
    "composition": lambda draw: cobalt_chloride(
        draw.uniform(0.02, 0.04), draw.uniform(0.001, 0.003), draw.uniform(4, 8)
    ),
    "gas_by_mass_loss": lambda draw: MassLossTruth(
        draw.uniform(0.08, 0.12), draw.uniform(0.001, 0.003), draw.uniform(0.7, 0.98), 1.0
    ),
}


def truth_for(method: Method, shape: Shape, draw: random.Random) -> Any:
    """A random truth; a humidity that is not read is the one assumed, what is not purified counts as pure."""
    truth = TRUTHS[method.name](draw)
    if isinstance(truth, GasDensityTruth) and "humidity" not in shape.taken:
        return replace(truth, humidity=0.5)
    if isinstance(truth, SynthesisTruth) and "pure" not in shape.taken:
        return replace(truth, pure=truth.crude)
    return truth


def forms() -> Iterator[tuple[Method, Shape, random.Random]]:
    """Every form of every method, with its own source of random readings."""
    for method in all_methods().values():
        for seed, shape in enumerate(method.shapes()):
            yield method, shape, random.Random(seed)


def weighings(method: Method, shape: Shape, draw: random.Random) -> dict[str, Any]:
    """Random but sensible readings in SI."""
    readings = method.bench(shape, TRUTHS[method.name](draw), {})
    return {
        name: [one + draw.uniform(0, 1e-6) for one in value] if isinstance(value, list) else value
        for name, value in readings.items()
    }


def shape_with(method: Method, cause: Cause) -> Shape:
    """The first form of a method in which a cause moves the key result, else one in which it can happen at all."""
    rows = [shape for shape in method.shapes() if cause.when(shape.options)] or [next(method.shapes())]
    for shape in rows:
        readings = method.bench(shape, TRUTHS[method.name](random.Random(1)), {})
        if replaying.replay(method, shape, readings, cause, cause.usual, method.key(shape.options)).shift:
            return shape
    return rows[0]


class EveryForm(unittest.TestCase):
    def test_every_rule_says_what_its_line_computes(self) -> None:
        """Rule texts, parsed and computed on random readings, give the line's value."""
        compared = 0
        for method, shape, draw in forms():
            sheet = method.page.build(shape)
            values = sheet.evaluate(weighings(method, shape, draw))
            by_label = {label: values[name] for name, label in sheet.labels.items() if values.get(name) is not None}
            for line in sheet.lines:
                if values.get(line.name) is None or line.is_sentence(shape.options):
                    continue
                rule = line.rule_text(shape.options, values.picks.get(line.name))
                with self.subTest(method=method.name, line=line.name, rule=rule):
                    value = values[line.name]
                    self.assertAlmostEqual(compute(rule, by_label), value, delta=1e-4 * abs(value) + 1e-15)
                    compared += 1
        self.assertGreater(compared, 700)

    def test_every_form_passes_the_dimension_check(self) -> None:
        for method, shape, draw in forms():
            check_dimensions(method.page.build(shape), weighings(method, shape, draw))

    def test_the_bench_model_gives_its_truth_back(self) -> None:
        for method, shape, draw in forms():
            truth = truth_for(method, shape, draw)
            values = method.page.build(shape).evaluate(method.bench(shape, truth, {}))
            found = method.truth(shape, values) if values.get(method.key(shape.options)) is not None else truth
            for name, value in vars(truth).items():
                if not isinstance(value, float):
                    continue  # how a tube stands has a test of its own
                with self.subTest(method=method.name, field=name):
                    self.assertAlmostEqual(getattr(found, name) / value, 1, places=9)

    def test_labels_of_a_page_are_told_apart(self) -> None:
        for method, shape, _ in forms():
            labels = list(method.page.build(shape).labels.values())
            self.assertEqual(len(labels), len(set(labels)), method.name)

    def test_every_result_is_a_line_of_some_form(self) -> None:
        for method in all_methods().values():
            lines = {line.name for shape in method.shapes() for line in method.page.build(shape).lines}
            self.assertLessEqual(set(method.results), lines, method.name)


class Causes(unittest.TestCase):
    def test_every_cause_moves_some_result_of_its_method(self) -> None:
        for method in all_methods().values():
            for cause in method.causes:
                shape = shape_with(method, cause)
                readings = method.bench(shape, TRUTHS[method.name](random.Random(1)), {})
                with self.subTest(method=method.name, cause=cause.code):
                    found = replaying.replay(method, shape, readings, cause, cause.usual, method.key(shape.options))
                    self.assertGreater(abs(found.shift), 0)


class Procedures(unittest.TestCase):
    def test_every_method_has_one_and_it_reads_what_the_method_knows(self) -> None:
        procedures = shipped_procedures()
        self.assertEqual({row.method for row in procedures}, set(all_methods()))
        for procedure in procedures:
            names = reading_names(all_methods()[procedure.method])
            schools = procedure.schools.items()
            answers = [{name: choice} for name, school in schools for choice in school.choices]
            for answer in ({}, *answers):
                self.assertLessEqual(set(slots_of(procedure, answer)), set(names), procedure.name)


class Registry(unittest.TestCase):
    def test_a_module_bears_its_method_s_name_and_each_is_found_by_it(self) -> None:
        for name, method in all_methods().items():
            self.assertIs(method_named(name), method)
            self.assertEqual(method.page.method, name)

    def test_what_is_no_method_is_refused_with_those_there_are(self) -> None:
        for name in ("titration", "crucible", "registry", "../hydrate", ""):
            with self.subTest(name), self.assertRaises(Refusal) as refused:
                method_named(name)
            self.assertIn("hydrate", refused.exception.faults[0].message)
            self.assertEqual(refused.exception.faults[0].path, "method")
