"""Options refuse what is not a text, and what cannot be weighed, at their own place."""

from __future__ import annotations

import unittest
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.methods.registry import all_methods, method_named
from claykettle.formats.run_file import parse_options

ETHANOL = {"equation": "C2H4 + H2O -> C2H5OH"}
CASES: tuple[tuple[str, dict[str, Any], str, str], ...] = (
    ("hydrate", {"salt": 7}, "options.salt", "A formula is a text such as ZnSO4."),
    ("hydrate", {"salt": ["ZnSO4"]}, "options.salt", "A formula is a text"),
    ("hydrate", {"salt": "TcO2"}, "options.salt", "Tc"),
    ("hydrate", {"salt": "ZnSO4", "tolerance": 0.005}, "options.tolerance", "A mass is a text with its unit"),
    ("hydrate", {"salt": "ZnSO4", "tolerance": "5 mL"}, "options.tolerance", "measures a volume"),
    ("decomposition", {"equations": [1]}, "options.equations[0]", "An equation is a text such as"),
    ("decomposition", {"equations": "CaCO3(s) -> CaO(s) + CO2(g)"}, "options.equations", ""),
    ("decomposition", {"equations": ["CaCO3(s) -> CaO(s)"]}, "options.equations[0]", "stands only before the arrow"),
    ("decomposition", {"equations": ["Tc2O7(s) -> 2 TcO2(s) + 3/2 O2(g)"]}, "options.equations[0]", ""),
)


class Refused(unittest.TestCase):
    def test_each_at_its_place(self) -> None:
        for method, options, path, words in CASES:
            with self.subTest(options), self.assertRaises(Refusal) as refused:
                parse_options(method_named(method), options)
            fault = refused.exception.faults[0]
            self.assertEqual(fault.path, path)
            self.assertIn(words, fault.message)

    def test_what_is_parsed_already_passes(self) -> None:
        method = method_named("hydrate")
        once = parse_options(method, {"salt": "ZnSO4", "tolerance": "0.002 g"})
        again = method.options.model_validate({name: getattr(once, name) for name in ("salt", "tolerance")})
        self.assertEqual(again.model_dump(mode="json"), once.model_dump(mode="json"))


class Lists(unittest.TestCase):
    """A list of the file becomes a tuple wherever options hold one, so that they can be looked up by."""

    CASES: tuple[tuple[str, dict[str, Any], str, int], ...] = (
        ("combination", {"element": "Sn", "partner": "S", "candidates": ["SnS", "SnS2"]}, "candidates", 2),
        ("decomposition", {"equations": ["CaCO3(s) -> CaO(s) + CO2(g)"]}, "equations", 1),
        ("synthesis", ETHANOL | {"reagents": ["C2H4"]}, "reagents", 1),
        ("crystal_growth", {"solute": "NaCl", "portions": ["A: slow", "B: ice"]}, "portions", 2),
        ("synthesis", ETHANOL | {"literature_melting": ["10 degC", "11 degC"]}, "literature_melting", 2),
    )

    def test_each_is_a_tuple_and_is_written_as_a_list_again(self) -> None:
        for method, options, field, count in self.CASES:
            with self.subTest(method, field=field):
                parsed = parse_options(method_named(method), options)
                held = getattr(parsed, field)
                self.assertIsInstance(held, tuple)
                self.assertEqual(len(held), count)
                self.assertIsInstance(parsed.model_dump(mode="json")[field], list)
                self.assertEqual(hash(parsed), hash(parse_options(method_named(method), options)))

    def test_a_list_where_one_value_belongs_is_refused_there(self) -> None:
        for method, options, path in (
            ("synthesis", {"equation": ["C2H4 + H2O -> C2H5OH"]}, "options.equation"),
            ("crystal_growth", {"solute": "NaCl", "equality": ["2 %"]}, "options.equality"),
            ("crystal_growth", {"solute": "NaCl", "portions": "A: slow"}, "options.portions"),
            ("synthesis", ETHANOL | {"literature_melting": ["10 degC"]}, "options.literature_melting"),
        ):
            with self.subTest(path), self.assertRaises(Refusal) as refused:
                parse_options(method_named(method), options)
            self.assertTrue(refused.exception.faults[0].path.startswith(path), refused.exception.faults[0])


class Bands(unittest.TestCase):
    """A given quantity as text, as a pair, or with its half-width typed behind it."""

    def given(self, text: Any) -> Any:
        """What becomes of a mass per length, as it is written back."""
        options = {"linear_density": text, "reagent": "Mg", "equation": "Mg + 2 HCl -> MgCl2 + H2"}
        parsed = parse_options(method_named("gas_over_water"), options)
        return parsed.model_dump(mode="json", exclude_defaults=True)["linear_density"]

    def test_every_way_to_write_one_is_the_same(self) -> None:
        pair = {"text": "1.02 mg/mm", "half_width": "0.01 mg/mm"}
        for text in ("1.02 ± 0.01 mg/mm", "1.02 mg/mm ± 0.01 mg/mm", "1.02 +- 0.01 mg/mm", "1.02±0.01 mg/mm", pair):
            with self.subTest(text):
                self.assertEqual(self.given(text), pair)

    def test_the_band_may_have_another_unit(self) -> None:
        self.assertEqual(self.given("1.02 mg/mm ± 0.0001 g/cm"), {"text": "1.02 mg/mm", "half_width": "0.01 mg/mm"})

    def test_without_a_band_it_is_exact_and_stays_a_text(self) -> None:
        self.assertEqual(self.given("1.02 mg/mm"), "1.02 mg/mm")

    def test_what_is_no_band_is_refused_at_its_place(self) -> None:
        for text in ("1.02 ± mg/mm", "± 0.01 mg/mm", "1.02 ± 0 mg/mm", "1.02 ± 0.01", "1.02 ± 0.01 mL"):
            with self.subTest(text), self.assertRaises(Refusal) as refused:
                self.given(text)
            self.assertEqual(refused.exception.faults[0].path, "options.linear_density")


class Forms(unittest.TestCase):
    """What a form is made from: every usual value stands there as a person would type it."""

    def test_every_usual_value_is_what_a_form_can_show_and_means_the_same_typed(self) -> None:
        for method in all_methods().values():
            for name, field in method.options.model_json_schema()["properties"].items():
                usual = field.get("default")
                with self.subTest(f"{method.name}.{name}"):
                    self.assertNotIsInstance(usual, dict)
                    declared = method.options.model_fields[name].default
                    if isinstance(usual, str):
                        self.assertEqual(usual, getattr(declared, "text", declared))

    def test_a_range_of_temperatures_is_typed_as_people_write_it(self) -> None:
        method = method_named("synthesis")
        for text, low, high in (
            ("135 to 136 °C", "135 °C", "136 °C"),
            ("135-136 degC", "135 degC", "136 degC"),
            ("135 °C – 136 °C", "135 °C", "136 °C"),
            ("135 degC; 136 degC", "135 degC", "136 degC"),
            ("-5 - -3 °C", "-5 °C", "-3 °C"),
            ("135,5–136,5 °C", "135,5 °C", "136,5 °C"),
        ):
            with self.subTest(text):
                read = parse_options(method, ETHANOL | {"literature_melting": text}).model_dump(mode="json")
                self.assertEqual(read["literature_melting"], [low, high])
        pair = parse_options(method, ETHANOL | {"literature_melting": ["92 degC", "93 degC"]})
        self.assertEqual(pair.model_dump(mode="json")["literature_melting"], ["92 degC", "93 degC"])

    def test_a_range_that_is_none_is_refused_at_its_field(self) -> None:
        method = method_named("synthesis")
        for text in ("135 °C", "hot", "", "135-136", "135 to", "135 to 136 g"):
            with self.subTest(text), self.assertRaises(Refusal) as refused:
                parse_options(method, ETHANOL | {"literature_melting": text})
            self.assertTrue(refused.exception.faults[0].path.startswith("options.literature_melting"))
