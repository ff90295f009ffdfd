"""The room's readings: what no room shows is asked about, and a weather service's figure is told from a barometer's."""

from __future__ import annotations

import unittest

from claykettle.core.judgement.alike import question_of_alike
from claykettle.core.judgement.question import Question
from claykettle.core.judgement.room import ROOM_SLOTS, expected_pa, question_of_room
from claykettle.core.methods.registry import method_named
from claykettle.core.quantity import parse_reading
from tests.support.runs import evaluation


def asked(slot: str, text: str, elevation_m: float | None = None) -> Question | None:
    """The question about a reading of the room."""
    return question_of_room(slot, parse_reading(text, ROOM_SLOTS[slot].dimension), elevation_m)


class Pressure(unittest.TestCase):
    def test_what_the_weather_brings_at_a_place_is_believed(self) -> None:
        for text, elevation in (("1013 hPa", 0.0), ("952 hPa", 520.0), ("714 mmHg", 520.0), ("835 hPa", 1600.0)):
            with self.subTest(text):
                self.assertIsNone(asked("barometer", text, elevation))

    def test_the_standard_atmosphere_lies_in_the_middle(self) -> None:
        """ISO 2533:1975, table of pressure by altitude: 898.76 hPa at 1000 m, 795.01 hPa at 2000 m (from memory)."""
        for height, printed in ((1000.0, 89876.0), (2000.0, 79501.0)):
            low, high = expected_pa(height)
            self.assertTrue(low < printed < high)
            self.assertAlmostEqual((low / 0.955), printed, delta=0.001 * printed)

    def test_a_sea_level_figure_at_the_bench_is_asked_about(self) -> None:
        found = asked("barometer", "1015.2 hPa", 520.0)
        assert found is not None
        self.assertEqual(found.code, "sea-level-figure")
        self.assertIn("reduced to sea level", found.text)

    def test_a_bench_figure_given_as_one_at_sea_level_is_asked_about(self) -> None:
        found = asked("sea_level", "948 hPa", 520.0)
        assert found is not None
        self.assertEqual(found.code, "sea-level-figure")

    def test_digits_of_another_unit_are_named(self) -> None:
        found = asked("barometer", "754 hPa", 0.0)
        assert found is not None
        self.assertIn("mmHg", found.text)

    def test_without_an_elevation_only_the_impossible_is_asked_about(self) -> None:
        self.assertIsNone(asked("barometer", "952 hPa"))
        self.assertIsNotNone(asked("barometer", "95 hPa"))


class RoomItself(unittest.TestCase):
    def test_kelvin_for_celsius_and_beyond_any_room(self) -> None:
        found = asked("temperature", "294 degC")
        assert found is not None
        self.assertIn("kelvin", found.text)
        self.assertIsNone(asked("temperature", "21.5 degC"))
        self.assertIsNotNone(asked("temperature", "-3 degC"))

    def test_a_humidity_is_a_percentage(self) -> None:
        self.assertIsNone(asked("humidity", "45 %"))
        self.assertIsNotNone(asked("humidity", "145 %"))


class OffTheOthers(unittest.TestCase):
    def question(self, value: float, digits: str, swapped: float | None = None) -> Question | None:
        """The question about a trial beside others at 375 and 380 mL/g."""
        line = next(row for row in method_named("gas_over_water").page.lines if row.name == "volume_per_gram")
        reading = parse_reading(f"{digits} mL", "volume")
        return question_of_alike(line, value, [0.375, 0.380], reading, lambda _: swapped)

    def test_scatter_of_a_practical_is_believed(self) -> None:
        self.assertIsNone(self.question(0.340, "33.20"))

    def test_a_fifth_off_is_asked_about_and_a_swap_offered_where_it_fits(self) -> None:
        found = self.question(0.480, "47.10", 0.377)
        assert found is not None
        self.assertIn("375, 380 mL/g", found.text)
        self.assertIsNotNone(found.suggestion)
        plain = self.question(0.480, "47.10", 0.470)
        assert plain is not None
        self.assertIsNone(plain.suggestion)


class KnownSample(unittest.TestCase):
    """A run on a known sample tells the next what stays dissolved, and which equation holds."""

    SODA = ("NaHCO3 + HCl -> NaCl + H2O + CO2", "2 NaHCO3 -> Na2CO3 + H2O + CO2")

    def test_the_gas_left_dissolved_is_what_is_missing(self) -> None:
        """1.680 g of NaHCO3 (84.006 g/mol) are 20.00 mmol; 0.8054 g of gas lost are 18.301 mmol: 1.699 stay."""
        trial = {"vessel_before": "90.0000 g", "sample": "1.6801 g", "vessel_after": "90.8747 g"}
        found = evaluation(
            trial, {"equations": list(self.SODA)}, method="gas_by_mass_loss",
            instruments={"balance": {"half_width": "0.0005 g"}},
        )  # fmt: skip
        rows = list(found.run.method.aftercare.calibrates([row.trial for row in found.trials]))
        options = {key: text for row in rows for key, text in row.options.items()}
        self.assertRegex(options["dissolved.amount"], r"^1\.699 ± 0\.0\d\d mmol$")
        self.assertIn("HCl", options["equations"])

    def test_such_a_figure_is_an_option_of_the_next_run(self) -> None:
        options = method_named("gas_by_mass_loss").options.model_validate(
            {"equations": [self.SODA[0]], "dissolved": {"amount": "1.70 ± 0.03 mmol"}}
        )
        self.assertEqual(
            options.model_dump(mode="json", exclude_defaults=True)["dissolved"],
            {"amount": {"text": "1.70 mmol", "half_width": "0.03 mmol"}},
        )
