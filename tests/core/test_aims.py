"""How a method is said in one sentence: templates, answers that go without saying, questions that do not arise."""

from __future__ import annotations

import unittest
from types import SimpleNamespace

from claykettle.core.chemistry.equation import parse_equation
from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.method import Aim
from claykettle.core.methods.registry import all_methods, procedure_named

PAIR = Aim(says="find", one="finds", matter=["{product}", "{element} and {partner}"], otherwise="two elements")


class Templates(unittest.TestCase):
    def test_the_first_that_is_whole_is_taken(self) -> None:
        tin, sulfur = parse_formula("Sn"), parse_formula("S")
        options = SimpleNamespace(product=None, element=tin, partner=sulfur)
        template, found = PAIR.formulas(options)
        self.assertEqual((template, [row.text for row in found]), ("{element} and {partner}", ["Sn", "S"]))
        self.assertEqual(PAIR.in_words(template, {"0": "tin", "1": "sulfur"}), "tin and sulfur")
        whole = SimpleNamespace(product=parse_formula("SnS"), element=tin, partner=sulfur)
        self.assertEqual(PAIR.formulas(whole)[0], "{product}")

    def test_what_is_not_given_is_said_in_words(self) -> None:
        self.assertEqual(PAIR.formulas(SimpleNamespace(product=None, element=None, partner=None)), ("two elements", ()))

    def test_of_an_equation_it_is_the_first_reactant(self) -> None:
        aim = Aim(says="roast", one="roasts", matter=["{equations}"], otherwise="a solid")
        options = SimpleNamespace(equations=(parse_equation("CaCO3(s) -> CaO(s) + CO2(g)"),))
        self.assertEqual([row.text for row in aim.formulas(options)[1]], ["CaCO3"])

    def test_a_question_does_not_arise_under_another_answer(self) -> None:
        aim = PAIR.model_copy(update={"hidden": {"fold": {"filter": ["vacuum"]}}})
        self.assertTrue(aim.asks("fold", {"filter": "gravity"}))
        self.assertFalse(aim.asks("fold", {"filter": "vacuum"}))
        self.assertTrue(aim.asks("filter", {"filter": "vacuum"}))


class EveryMethod(unittest.TestCase):
    def test_its_words_name_questions_and_answers_that_there_are(self) -> None:
        for name, method in all_methods().items():
            course = procedure_named(name, None)
            assert course is not None
            with self.subTest(method=name):
                self.assertEqual(set(method.aim.schools), set(course.schools))
                for school, others in method.aim.hidden.items():
                    self.assertIn(school, course.schools)
                    for other, answers in others.items():
                        self.assertLessEqual(set(answers), set(course.schools[other].choices))

    def test_one_bench_does_what_several_do(self) -> None:
        """The verb's ending apart, both are the same words."""
        for name, method in all_methods().items():
            with self.subTest(method=name):
                several, one = method.aim.says.split(), method.aim.one.split()
                self.assertEqual(len(several), len(one))
                pairs = zip(one, several, strict=True)
                self.assertTrue(all(word[:2] == other[:2] for word, other in pairs))

    def test_every_sample_of_it_is_named(self) -> None:
        for name, method in all_methods().items():
            with self.subTest(method=name):
                said = {method.aim.formulas(shape.options)[0] for shape in method.bench.shapes()}
                self.assertTrue(said)
                self.assertTrue(all(said))
