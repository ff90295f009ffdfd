"""Gas over water: textbook examples, every kind of tube, unknown metals, verdicts and bad input."""

from __future__ import annotations

import unittest
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.judgement.advice import advise
from claykettle.core.judgement.suspects import suspicion
from claykettle.core.methods.registry import all_methods
from claykettle.core.quantity import parse_half_width
from claykettle.core.run import INSTRUMENTS as INSTRUMENTS_OF
from claykettle.core.run import TrialEvaluation, evaluate_run
from claykettle.formats.run_file import run_from
from tests.support.runs import codes, value

METHOD = all_methods()["gas_over_water"]
ZINC: dict[str, Any] = {"reagent": "Zn", "equation": "Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)"}
MAGNESIUM: dict[str, Any] = {"reagent": "Mg", "equation": "Mg(s) + 2 HCl(aq) -> MgCl2(aq) + H2(g)"}
CHLORATE: dict[str, Any] = {"reagent": "KClO3", "equation": "2 KClO3 -> 2 KCl + 3 O2", "gas": "O2"}
INSTRUMENTS = {
    "balance": {"half_width": "0.0005 g"}, "volume": {"half_width": "0.05 mL"}, "barometer": {"half_width": "0.5 hPa"},
    "thermometer": {"half_width": "0.5 degC"}, "ruler": {"half_width": "0.5 mm"},
}  # fmt: skip


def trial(readings: dict[str, Any], **options: Any) -> TrialEvaluation:
    """A trial, evaluated."""
    document = {
        "format": "clay-kettle/run", "version": 1, "method": "gas_over_water", "options": options,
        "instruments": INSTRUMENTS, "trials": [{"label": "1", "readings": readings}],
    }  # fmt: skip
    return evaluate_run(run_from(document)).trials[0]


def tube(volume: str, temperature: str, barometer: str, sample: str = "0.1000 g", **more: str) -> dict[str, str]:
    """Readings of a tube read from zero at equal levels."""
    return {"sample": sample, "volume_end": volume, "temperature": temperature, "barometer": barometer} | more


def ideal(pressure_mmhg: float, millilitres: float, kelvin: float) -> float:
    """Millimoles with the textbooks' R = 0.08206 L atm/(mol K)."""
    return pressure_mmhg / 760 * millilitres / (0.08206 * kelvin)


class Textbooks(unittest.TestCase):
    """Amounts of dry gas in worked examples of gas collected over water (figures quoted from memory)."""

    def test_amounts(self) -> None:
        for source, readings, pressure_mmhg, millimoles in (
            # OpenStax, Chemistry 2e, example 9.14: 0.200 L of argon at 26 °C and 750 torr, dry 725 torr
            ("OpenStax", tube("200 mL", "26 degC", "750 Torr"), 725, ideal(725, 200, 299.15)),
            # Petrucci, General Chemistry: 81.2 mL of oxygen at 23 °C and 751 mmHg, vapour 21.1 mmHg
            ("Petrucci", tube("81.2 mL", "23 degC", "751 mmHg"), 730, ideal(730, 81.2, 296.15)),
            # Zumdahl, Chemistry: 0.650 L of oxygen at 22 °C and 754 torr, vapour 21 torr: 733 torr and 2.59e-2 mol
            ("Zumdahl", tube("650 mL", "22 degC", "754 Torr"), 734, 25.9),
            # Brown and LeMay, Chemistry: 0.250 L of oxygen at 26 °C and 765 torr, vapour 25 torr: 9.92e-3 mol
            ("Brown LeMay", tube("250 mL", "26 degC", "765 Torr"), 740, 9.92),
            # Chang, Chemistry: 128 mL of oxygen at 24 °C and 762 mmHg, vapour 22.4 mmHg: 0.164 g
            ("Chang", tube("128 mL", "24 degC", "762 mmHg"), 740, 1e3 * 0.164 / 31.998),
            # Tro, Chemistry: 1.02 L of oxygen at 294 K and 755.2 mmHg, vapour 18.65 mmHg: 0.0410 mol
            ("Tro", tube("1020 mL", "294 K", "755.2 mmHg"), 736.6, 41.0),
        ):
            with self.subTest(source):
                found = trial(readings)
                self.assertAlmostEqual(value(found, "dry_gas_pressure") * 1000 / 133.322, pressure_mmhg, delta=1.2)
                self.assertAlmostEqual(1e3 * value(found, "gas_amount") / millimoles, 1, delta=5e-3)

    def test_magnesium_for_the_small_cylinder(self) -> None:
        """Wet hydrogen from 1 g of magnesium at 22 °C and 760 mmHg is about 1.02 L (common practice)."""
        found = trial(tube("10.2 mL", "22 degC", "760 mmHg", "0.0100 g"), **MAGNESIUM)
        self.assertAlmostEqual(value(found, "percent_reacted"), 100, delta=1)
        self.assertAlmostEqual(value(found, "molar_volume_standard"), 22.41, delta=0.25)


class Tubes(unittest.TestCase):
    # 0.0980 g of zinc: 1.4989 mmol; by hand in the comments
    READINGS = tube("36.90 mL", "21.0 degC", "1002.0 hPa", "0.0980 g", level_difference="62 mm")

    def test_a_column_by_hand(self) -> None:
        """Vapour 2.488 kPa at 21 °C, column 998.0 · 9.80665 · 0.062 = 0.607 kPa; 100.20 − 2.49 − 0.61 = 97.11 kPa.

        n = 97105 · 36.90e-6 / (8.3145 · 294.15) = 1.4651 mmol of 1.4989: 97.7 %.
        """
        found = trial(self.READINGS, **ZINC)
        self.assertAlmostEqual(value(found, "vapour_pressure"), 2.488, delta=0.002)
        self.assertAlmostEqual(value(found, "head_pressure"), 0.607, delta=0.001)
        self.assertAlmostEqual(value(found, "dry_gas_pressure"), 97.105, delta=0.003)
        self.assertAlmostEqual(1e3 * value(found, "gas_amount"), 1.4651, delta=0.0005)
        self.assertAlmostEqual(value(found, "percent_reacted"), 97.7, delta=0.1)
        self.assertAlmostEqual(value(found, "molar_volume_standard"), 0.9774 * 22.414, delta=0.02)
        self.assertAlmostEqual(value(found, "equivalent_mass"), 0.0980 / (2 * 1.4651e-3), delta=0.02)

    def test_water_lower_inside_presses_on_the_gas(self) -> None:
        higher = value(trial(self.READINGS, **ZINC), "dry_gas_pressure")
        lower = value(trial(self.READINGS | {"level_difference": "-62 mm"}, **ZINC), "dry_gas_pressure")
        self.assertAlmostEqual(lower - higher, 2 * 0.607, delta=0.003)

    def test_an_inverted_burette_adds_its_dead_volume(self) -> None:
        burette = {"tube": {"reading": "inverted_burette", "mark": "50 mL"}}
        readings = self.READINGS | {"volume_end": "15.60 mL", "dead_volume": "2.50 mL"}
        found = trial(readings, **ZINC, **burette)
        self.assertAlmostEqual(value(found, "gas_volume"), 36.90)
        suspects = suspicion(found.trial, METHOD, slips=True).suspects
        slip = next(row for row in suspects if row.code == "dead-subtracted")
        # twice this very burette's 2.50 mL too little, in the volume that the whole molar volume of hydrogen would fill
        expected = suspicion(found.trial, METHOD, slips=True).expected
        full = 36.90 * expected / value(found, "molar_volume_standard")
        self.assertAlmostEqual(slip.shift / expected, -5.00 / full, delta=1e-4)

    def test_slips_are_replayed_with_the_tube_as_it_stood(self) -> None:
        """What leaving the column out does grows with the column that was measured, not with a usual one."""
        shifts = []
        for level in ("30 mm", "120 mm"):
            found = suspicion(trial(self.READINGS | {"level_difference": level}, **ZINC).trial, METHOD, slips=True)
            shifts.append(next(row for row in found.suspects if row.code == "column-ignored").shift)
        self.assertAlmostEqual(shifts[1] / shifts[0], 4, delta=0.05)
        # by hand: 0.1174 kPa per 12 mm of water at 21 °C, beside the dry gas of 97.4 kPa
        self.assertAlmostEqual(shifts[0] / 22.4285, 0.2936 / 97.42, delta=2e-5)

    def test_vapour_left_out_in_a_tube_that_held_gas_is_left_out_at_both_ends(self) -> None:
        held = self.READINGS | {"volume_start": "18.45 mL", "level_difference_start": "62 mm"}
        plain = {name: text for name, text in self.READINGS.items() if name != "sample"} | {"sample": "0.0490 g"}
        both = suspicion(trial(held | {"sample": "0.0490 g"}, **ZINC).trial, METHOD, slips=True)
        once = suspicion(trial(plain, **ZINC).trial, METHOD, slips=True)
        relative = [
            next(row for row in found.suspects if row.code == "vapour-ignored").shift / found.expected
            for found in (both, once)
        ]
        self.assertAlmostEqual(relative[0], relative[1], delta=2e-3)

    def test_the_truth_of_a_trial_keeps_how_the_tube_stood(self) -> None:
        readings = self.READINGS | {
            "volume_start": "20.00 mL", "volume_end": "8.00 mL", "dead_volume": "2.50 mL",
            "level_difference_start": "-40 mm", "temperature_start": "20.0 degC",
        }  # fmt: skip
        found = trial(readings, **ZINC, tube={"reading": "inverted_burette", "mark": "50 mL"}).trial
        setting = METHOD.bench.truth(found.sheet.shape, found.values).setting
        wanted = (32.50e-6, 293.15, 0.062, -0.040, 2.50e-6)
        for got, want in zip(vars(setting).values(), wanted, strict=True):
            self.assertAlmostEqual(got, want)
        back = METHOD.bench.play(found.sheet.shape, METHOD.bench.truth(found.sheet.shape, found.values), {})
        for name, given in found.plain.items():
            if name in back:
                self.assertAlmostEqual(back[name], given, places=9, msg=name)

    def test_a_tube_that_holds_gas_starts_with_its_own_pressure(self) -> None:
        """The second of two trials in one filling, head and temperature its own: both add up to one trial over both."""
        first = tube("20.00 mL", "21.0 degC", "1002.0 hPa", "0.0500 g", level_difference="100 mm")
        second = tube(
            "38.00 mL", "22.0 degC", "1002.0 hPa", "0.0480 g", level_difference="40 mm", volume_start="20.00 mL",
            level_difference_start="100 mm", temperature_start="21.0 degC",
        )  # fmt: skip
        whole = tube("38.00 mL", "22.0 degC", "1002.0 hPa", "0.0980 g", level_difference="40 mm")
        parts = [value(trial(row, **ZINC), "gas_amount") for row in (first, second)]
        self.assertAlmostEqual(sum(parts), value(trial(whole, **ZINC), "gas_amount"), places=7)

    def test_whether_the_tube_has_room_for_another_trial(self) -> None:
        filled = self.READINGS | {"volume_start": "19.00 mL"}
        for mark, words in (("60 mL", "there is room"), ("50 mL", "no room: fill the tube anew")):
            said = {row.title: row.text for row in trial(filled, **ZINC, tube={"mark": mark}).statements}
            self.assertIn("one like this takes 17.9 mL", said["Another trial"])
            self.assertIn(words, said["Another trial"])
        self.assertNotIn("Another trial", {row.title for row in trial(self.READINGS, **ZINC).statements})

    def test_the_meniscus_cancels_where_both_ends_were_read(self) -> None:
        both = self.READINGS | {"volume_start": "2.00 mL"}
        off = {"meniscus_correction": "0.2 mL"}
        plain, corrected = (value(trial(both, **ZINC, **options), "gas_volume") for options in ({}, off))
        self.assertAlmostEqual(plain, corrected)
        one = value(trial(self.READINGS, **ZINC, **off), "gas_volume")
        zero = value(trial(self.READINGS | {"volume_start": "0.00 mL"}, **ZINC, **off), "gas_volume")
        self.assertAlmostEqual(one, 36.70)
        self.assertAlmostEqual(zero, 36.70)  # a start of zero was not read

    def test_ribbon_and_liquid(self) -> None:
        ribbon = {key: text for key, text in self.READINGS.items() if key != "sample"}
        found = trial(ribbon | {"sample_length": "9.8 cm"}, **ZINC, linear_density="1.00 mg/mm")
        self.assertAlmostEqual(value(found, "sample_mass"), 0.0980)
        missing = trial(ribbon | {"sample_length": "9.8 cm"}, **ZINC)
        self.assertIn("mass per length", " ".join(v.text for v in missing.verdicts if v.code == "missing-reading"))
        peroxide = {"reagent": "H2O2", "equation": "2 H2O2 -> 2 H2O + O2", "gas": "O2", "density": "1.01 g/mL"}
        found = trial(ribbon | {"sample_volume": "5.0 mL"}, **peroxide)
        self.assertAlmostEqual(value(found, "sample_mass"), 5.05)
        self.assertIsNone(found.result("equivalent_mass"))

    def test_standard_conditions_are_those_chosen(self) -> None:
        atm, bar = (trial(self.READINGS, **ZINC, standard=name) for name in ("0C_1atm", "0C_1bar"))
        name = "molar_volume_standard"
        self.assertAlmostEqual(value(bar, name) / value(atm, name), 1.01325)
        # the real gas's 22.428 L/mol against 22.414
        between = value(atm, "percent_error") - value(atm, "percent_error_real")
        self.assertAlmostEqual(between, 100 * 0.9774 * (22.4285 - 22.414) / 22.42, delta=0.01)


class Unknown(unittest.TestCase):
    READINGS = tube("36.90 mL", "21.0 degC", "1002.0 hPa", "0.0958 g", level_difference="62 mm")

    def test_metals_are_listed_by_charge_and_none_is_named_the_one(self) -> None:
        found = trial(self.READINGS)
        self.assertAlmostEqual(value(found, "equivalent_mass"), 32.69, delta=0.02)
        self.assertAlmostEqual(value(found, "molar_mass_2"), 65.39, delta=0.04)
        self.assertAlmostEqual(value(found, "molar_mass_3"), 3 * 32.69, delta=0.06)
        self.assertIn("Zn^2+", {row.text for row in found.candidates if row.status == "match"})
        self.assertEqual(dict(found.words), {})
        self.assertEqual([row.title for row in found.statements], ["At charge 1", "At charge 2", "At charge 3"])

    def test_a_molar_volume_would_be_circular_and_that_is_said(self) -> None:
        found = trial(self.READINGS)
        self.assertIn("circular", codes(found))
        self.assertIsNone(found.result("molar_volume"))
        self.assertNotIn("circular", codes(trial(self.READINGS, **ZINC)))


class WhatWouldHelp(unittest.TestCase):
    READINGS = tube("16.90 mL", "21.0 degC", "1002.0 hPa", "0.0450 g")

    def choices(self, **options: Any) -> dict[str, float]:
        found = trial(self.READINGS, **ZINC, **options)
        widths = {name: parse_half_width(row["half_width"], INSTRUMENTS_OF[name]) for name, row in INSTRUMENTS.items()}
        return {row.choice: row.share for row in advise(found.trial, METHOD, widths)}

    def test_a_finer_balance_helps_by_the_balance_s_share_and_no_more(self) -> None:
        """The sample's relative half-width is 1.1 %, all others are below 0.5 %: only the balance matters much."""
        choices = self.choices()
        self.assertIn("a balance ten times finer", choices)
        shares = {
            row.reading: row.share
            for row in trial(self.READINGS, **ZINC).budget
            if row.result == "molar_volume_standard"
        }
        left = (1 - shares["sample"] * (1 - 1 / 100)) ** 0.5
        self.assertAlmostEqual(choices["a balance ten times finer"], left, delta=1e-3)

    def test_a_larger_sample_is_advised_only_where_the_tube_holds_its_gas(self) -> None:
        self.assertLess(self.choices(tube={"mark": "50 mL"})["twice the sample"], 0.6)
        self.assertNotIn("twice the sample", self.choices(tube={"mark": "30 mL"}))


class GivenOnce(unittest.TestCase):
    def test_what_the_options_give_does_not_average_out_over_the_trials(self) -> None:
        """Mass per length known to 5 %: four trials with the same ribbon know their mean no better than that."""
        readings = {
            "sample_length": "9.80 cm", "volume_end": "36.90 mL", "temperature": "21.0 degC", "barometer": "1002.0 hPa",
        }  # fmt: skip
        density = {"text": "1.00 mg/mm", "half_width": "0.05 mg/mm"}
        document = {
            "format": "clay-kettle/run", "version": 1, "method": "gas_over_water",
            "options": ZINC | {"linear_density": density}, "instruments": INSTRUMENTS,
            "trials": [{"label": str(n), "readings": readings} for n in range(4)],
        }  # fmt: skip
        mean = evaluate_run(run_from(document)).mean
        assert mean is not None
        self.assertGreater(mean.standard_uncertainty / mean.value, 0.05 / 3**0.5)


class Judged(unittest.TestCase):
    READINGS = tube("36.90 mL", "21.0 degC", "1002.0 hPa", "0.0980 g")

    def test_what_no_tube_and_no_bath_shows_stops(self) -> None:
        fifty = {"tube": {"mark": "50 mL"}}
        for change, options, code in (
            ({"volume_end": "52.0 mL"}, fifty, "off-scale"),
            ({"temperature": "294 degC"}, {}, "off-scale"),
            ({"temperature": "21 K"}, {}, "off-scale"),
            ({"barometer": "751 kPa"}, {}, "suspect-unit"),
            ({"level_difference": "62 m"}, {}, "suspect-unit"),
            ({"volume_start": "40.0 mL"}, {}, "out-of-order"),
        ):
            with self.subTest(change):
                self.assertIn(code, codes(trial(self.READINGS | change, **ZINC, **options)))
                self.assertNotIn(code, codes(trial(self.READINGS, **ZINC, **options)))

    def test_kelvin_is_recognised(self) -> None:
        found = trial(self.READINGS | {"temperature": "294 degC"}, **ZINC)
        self.assertIn("Was kelvin meant?", next(v.text for v in found.verdicts if v.code == "off-scale"))

    def test_more_gas_than_the_sample_can_give_wants_a_suspect(self) -> None:
        self.assertIn("yield-over-100", codes(trial(self.READINGS | {"volume_end": "42.0 mL"}, **ZINC)))


class BadOptions(unittest.TestCase):
    def test_they_are_refused_at_their_place(self) -> None:
        for options, path, words in (
            ({"reagent": "Zn"}, "options.equation", "Give the equation"),
            ({**ZINC, "reagent": "Mg"}, "options.reagent", "none of the equation's reactants"),
            ({**ZINC, "gas": "O2"}, "options.gas", "forms no O2"),
            ({"gas": "O2"}, "options.gas", "from hydrogen only"),
            ({**ZINC, "tube": {"reading": "inverted_burette"}}, "options.tube.mark", "last mark"),
            ({**ZINC, "tube": {"reading": "sideways"}}, "options.tube.reading", ""),
            ({**ZINC, "gravity": "3.7 m/s2"}, "options.gravity", "beyond"),
            ({**ZINC, "equation": "Zn + HCl -> ZnCl2 + H2"}, "options.equation", "Balanced: Zn + 2 HCl"),
        ):
            with self.subTest(options), self.assertRaises(Refusal) as refused:
                trial({}, **options)
            fault = refused.exception.faults[0]
            self.assertEqual(fault.path, path)
            self.assertIn(words, fault.message)
