"""What holds for every method in every form of its page: rules, dimensions, bench model, causes, procedures."""

from __future__ import annotations

import random
import unittest

from claykettle.core.errors import Refusal
from claykettle.core.judgement import replay as replaying
from claykettle.core.methods.registry import all_methods, method_named, shipped_procedures
from claykettle.core.run import reading_names, slots_of
from claykettle.core.sheet import compute
from tests.support.dimensions import check_dimensions
from tests.support.methods import forms, shape_with, truth_for, weighings


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
            values = method.page.build(shape).evaluate(method.bench.play(shape, truth, {}))
            found = (
                method.bench.truth(shape, values)
                if values.get(method.judging.key(shape.options)) is not None
                else truth
            )
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
            lines = {line.name for shape in method.bench.shapes() for line in method.page.build(shape).lines}
            self.assertLessEqual(set(method.results), lines, method.name)


class Causes(unittest.TestCase):
    def test_every_cause_moves_some_result_of_its_method(self) -> None:
        for method in all_methods().values():
            for cause in method.bench.causes:
                shape = shape_with(method, cause)
                readings = method.bench.play(shape, method.bench.sample(random.Random(1).uniform), {})
                with self.subTest(method=method.name, cause=cause.code):
                    found = replaying.replay(
                        method, shape, readings, cause, cause.usual, method.judging.key(shape.options)
                    )
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
