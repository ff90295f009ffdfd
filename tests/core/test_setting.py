"""What a plan takes for granted: its limits hold, what is usual lies inside, and methods ask for what is there."""

from __future__ import annotations

import unittest

from pydantic import ValidationError

from claykettle.core.method import LIMITS, Setting
from claykettle.core.methods.registry import all_methods

BEYOND = {
    "wanted": ("0 %", "150 %"), "temperature": ("-5 degC", "294 degC"), "barometer": ("12 hPa", "1013 kPa"),
    "humidity": ("101 %",), "vessel_mass": ("1 mg", "20 kg"), "vessel_volume": ("1 uL",),
    "concentration": ("0 mol/L", "50 mol/L"), "excess": ("20000 %",),
}  # fmt: skip


class Limits(unittest.TestCase):
    def test_beyond_them_each_is_refused_at_its_field(self) -> None:
        self.assertEqual(set(BEYOND), set(LIMITS))
        for name, texts in BEYOND.items():
            for text in texts:
                with self.subTest(name, text=text), self.assertRaises(ValidationError) as refused:
                    Setting.model_validate({name: text})
                self.assertEqual(refused.exception.errors()[0]["ctx"]["field"], name)

    def test_what_is_usual_lies_inside(self) -> None:
        Setting()
        for method in (row for row in all_methods().values() if row.foresight is not None):
            with self.subTest(method.name):
                Setting.model_validate(dict(method.foresight.usual))

    def test_methods_ask_only_for_what_a_setting_has(self) -> None:
        for method in (row for row in all_methods().values() if row.foresight is not None):
            with self.subTest(method.name):
                self.assertLessEqual({*method.foresight.asks, *method.foresight.usual}, set(Setting.model_fields))
                self.assertLessEqual(set(method.foresight.usual), set(method.foresight.asks))
