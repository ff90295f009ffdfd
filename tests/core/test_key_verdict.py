"""The verdict on the key result: green only where it is earned, and never beside a label that the data contradict."""

from __future__ import annotations

import unittest
from typing import Any

from claykettle.core.run import TrialEvaluation, evaluate_run
from claykettle.formats.run_file import run_from

COARSE = {"balance": {"half_width": "0.01 g"}}
FINE = {"balance": {"half_width": "0.001 g"}}
ZINC = {"reagent": "Zn", "equation": "Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)"}


def trial(method: str, options: dict[str, Any], readings: dict[str, Any], **more: Any) -> TrialEvaluation:
    document = {"format": "clay-kettle/run", "version": 1, "method": method, "options": options,
                "instruments": FINE, "trials": [{"label": "1", "readings": readings}]}  # fmt: skip
    return evaluate_run(run_from(document | more)).trials[0]


def said(found: TrialEvaluation) -> dict[str, str]:
    """Level by code."""
    return {row.code: row.level for row in found.verdicts}


def text(found: TrialEvaluation, code: str) -> str:
    return next(row.text for row in found.verdicts if row.code == code)


def salt(loaded: str, *ends: str, **options: Any) -> TrialEvaluation:
    """Zinc sulfate in a crucible of 31.204 g."""
    readings = {"vessel": "31.204 g", "vessel_sample": loaded, "vessel_residue": list(ends)}
    return trial("hydrate", {"salt": "ZnSO4"} | options, readings)


class Accepted(unittest.TestCase):
    LABEL = "ZnSO4.7H2O"

    def test_inside_the_band_it_agrees_outside_it_does_not(self) -> None:
        right = salt("32.861 g", "32.136 g", "32.134 g", accepted=self.LABEL)
        self.assertEqual(said(right)["agrees"], "good")
        self.assertEqual(said(right)["formula-match"], "good")
        wrong = salt("32.861 g", "32.190 g", "32.190 g", accepted=self.LABEL)
        self.assertEqual(said(wrong)["off-accepted"], "watch")
        self.assertIn("ZnSO4·7H2O, 7", text(wrong, "off-accepted"))
        self.assertNotIn("agrees", said(wrong))

    def test_a_formula_that_the_label_denies_is_no_good_match_and_both_are_named(self) -> None:
        """x = 6.000 by the masses: 1.6570 g of the hexahydrate hold 0.9927 g of salt."""
        found = salt("32.861 g", "32.197 g", "32.197 g", accepted=self.LABEL)
        self.assertEqual(said(found)["formula-match"], "watch")
        self.assertIn("ZnSO4·6H2O", text(found, "formula-match"))
        self.assertIn("ZnSO4·7H2O", text(found, "formula-match"))
        self.assertNotIn("good", {row.level for row in found.verdicts if row.about == "water_ratio"})

    def test_what_may_still_move_is_neither_praised_nor_accused(self) -> None:
        for ends in (("32.134 g",), ("32.300 g", "32.190 g")):
            with self.subTest(ends):
                codes = set(said(salt("32.861 g", *ends, accepted=self.LABEL)))
                self.assertFalse(codes & {"agrees", "off-accepted", "within-class"})

    def test_the_class_s_tolerance_is_a_second_sentence_and_widens_nothing(self) -> None:
        off = ("32.861 g", "32.148 g", "32.148 g")
        without, within, beyond = (
            salt(*off, accepted=self.LABEL, **more)
            for more in ({}, {"class_tolerance": "4 %"}, {"class_tolerance": "2 %"})
        )
        verdicts = {"agrees", "within-class", "off-accepted"}
        found = [set(said(row)) & verdicts for row in (without, within, beyond)]
        self.assertEqual(found, [{"off-accepted"}, {"within-class"}, {"off-accepted"}])
        bands = {row.standard_uncertainty for run in (without, within, beyond)
                 if (row := run.result("water_ratio")) is not None}  # fmt: skip
        self.assertEqual(len(bands), 1)
        self.assertIn("4 % that a class usually reaches", text(within, "within-class"))

    def test_a_tolerance_of_a_class_is_a_share(self) -> None:
        for typed in ("0 %", "-3 %", "120 %"):
            with self.subTest(typed), self.assertRaisesRegex(Exception, "class_tolerance"):
                salt("32.861 g", "32.134 g", accepted=self.LABEL, class_tolerance=typed)

    def test_a_claim_in_grams_is_held_against_what_was_found(self) -> None:
        options = {"equations": ["CaCO3 + 2 HCl -> CaCl2 + H2O + CO2"], "claim": {"mass": "0.500 g", "per": "tablet"},
                   "units_used": 2}  # fmt: skip
        for after, code in (("99.692 g", "agrees"), ("99.780 g", "off-accepted")):
            # 1.000 g of calcium carbonate sets 0.4397 g free: 98.412 + 1.720 - 0.440 = 99.692 g
            readings = {"vessel_before": "98.412 g", "sample": "1.720 g", "vessel_after": after}
            with self.subTest(after):
                self.assertIn(code, said(trial("gas_by_mass_loss", options, readings)))

    def test_a_claim_above_the_tablet_s_own_mass_stops(self) -> None:
        options = {"equations": ["CaCO3 + 2 HCl -> CaCl2 + H2O + CO2"], "claim": {"mass": "1.500 g", "per": "tablet"},
                   "units_used": 2}  # fmt: skip
        readings = {"vessel_before": "98.412 g", "sample": "1.720 g", "vessel_after": "99.692 g"}
        found = trial("gas_by_mass_loss", options, readings)
        self.assertEqual(said(found)["claim-above-sample"], "stop")
        self.assertNotIn("off-accepted", said(found))


class OverTrials(unittest.TestCase):
    def test_trials_that_agree_within_the_class_are_not_to_be_looked_at(self) -> None:
        ends = ("32.148 g", "32.149 g")
        for more, codes in (({}, {"precise-not-accurate"}), ({"class_tolerance": "4 %"}, {"within-class"})):
            rest = {"vessel": "31.204 g", "vessel_sample": "32.861 g"}
            document = {
                "format": "clay-kettle/run",
                "version": 1,
                "method": "hydrate",
                "options": {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"} | more,
                "instruments": FINE,
                "trials": [{"label": end, "readings": rest | {"vessel_residue": [end, end]}} for end in ends],
            }
            found = {row.code for row in evaluate_run(run_from(document)).verdicts}
            with self.subTest(more):
                self.assertEqual(found & {"precise-not-accurate", "within-class"}, codes)


class Unphysical(unittest.TestCase):
    def test_gas_that_no_honest_run_gives(self) -> None:
        """Common practice: a mole of gas takes 22.4 L; no equivalent mass lies below hydrogen's."""
        tube = {"temperature": "21.0 degC", "barometer": "1002 hPa"}
        for options, sample, end, stops in (
            (ZINC, "0.0980 g", "36.90 mL", False),
            (ZINC, "0.0980 g", "10.00 mL", True),  # 6 L/mol
            (ZINC, "0.0098 g", "36.90 mL", True),
            ({"gas": "H2"}, "0.0980 g", "36.90 mL", False),
            ({"gas": "H2"}, "0.0020 g", "48.90 mL", True),  # 0.5 g/mol
        ):
            with self.subTest(sample=sample, end=end, options=options):
                found = trial("gas_over_water", options, tube | {"sample": sample, "volume_end": end})
                self.assertEqual("unphysical" in said(found), stops, found.verdicts)

    def test_a_solution_is_asked_how_much_it_holds_and_not_what_a_mole_takes(self) -> None:
        options = {"reagent": "H2O2", "equation": "2 H2O2 -> 2 H2O + O2", "gas": "O2", "density": "1.01 g/mL"}
        readings = {"sample_volume": "2.00 mL", "volume_end": "21.90 mL", "temperature": "21.0 degC",
                    "barometer": "1002 hPa"}  # fmt: skip
        found = trial("gas_over_water", options, readings)
        self.assertIsNotNone(found.result("percent_purity"))
        self.assertFalse(set(said(found)) & {"unphysical", "off-accepted"})

    def test_a_yield_of_several_hundred_percent(self) -> None:
        options = {"equation": "BaCl2 + Na2SO4 -> BaSO4 + 2 NaCl", "product": "BaSO4"}
        for after, stops in (("1.330 g", False), ("2.900 g", True)):
            readings = {"reagent_1": "0.500 g", "reagent_2": "0.400 g", "paper": "0.800 g", "collected": [after, after]}
            with self.subTest(after):
                self.assertEqual("unphysical" in said(trial("precipitation", options, readings)), stops)

    def test_more_taken_up_than_any_formula_holds(self) -> None:
        readings = {"vessel": "24.318 g", "vessel_element": "25.506 g", "vessel_product": ["38.900 g", "38.900 g"]}
        found = trial("combination", {"element": "Sn", "partner": "S"}, readings)
        self.assertEqual(said(found)["unphysical"], "stop")

    def test_no_gas_weighs_so_little_and_a_flask_half_full_of_air_still_may(self) -> None:
        flask = {
            "flask_air": "82.314 g",
            "flask_water": "331.57 g",
            "temperature": "20.0 degC",
            "barometer": "1002 hPa",
        }
        for full, stops in (("82.430 g", False), ("82.350 g", False), ("81.900 g", True)):
            readings = flask | {"flask_gas": [full, full]}
            with self.subTest(full):
                self.assertEqual("unphysical" in said(trial("gas_density", {"gas": "Ar"}, readings)), stops)


class Plateaus(unittest.TestCase):
    def test_an_unknown_salt_that_stopped_on_its_way_is_named_beside_what_fits(self) -> None:
        """MgSO4·7H2O to its monohydrate loses 6 · 18.015 / 246.47 = 43.86 %: as much as ZnSO4·7H2O to the dry salt."""
        readings = {"vessel": "31.204 g", "vessel_sample": "33.204 g", "vessel_residue": ["32.327 g", "32.327 g"]}
        found = trial("hydrate", {"listed": True}, readings)
        self.assertIn("MgSO4·H2O", text(found, "plateau"))
        self.assertNotIn("good", {row.level for row in found.verdicts if row.code == "formula-match"})

    def test_two_waters_weigh_like_one_chlorine(self) -> None:
        readings = {
            "vessel": "41.217 g", "vessel_sample": "42.330 g", "vessel_residue": ["41.995 g", "41.994 g"],
            "paper": "0.874 g", "collected": ["1.150 g", "1.149 g"],
        }  # fmt: skip
        for options in ({"metal": "Co"}, {"metal": "Co", "accepted": "CoCl2.6H2O"}):
            found = trial("composition", options, readings)
            with self.subTest(options):
                self.assertIn("CoCl2·6H2O that stopped at CoCl2·2H2O", text(found, "plateau"))
                self.assertNotEqual(said(found).get("formula-match"), "good")

    def test_an_honest_chloride_is_none(self) -> None:
        """1.113 g of CoCl2·6H2O (237.92 g/mol, 4.678 mmol): 0.5057 g of water, 0.2757 g of cobalt."""
        readings = {
            "vessel": "41.217 g", "vessel_sample": "42.330 g", "vessel_residue": ["41.825 g", "41.824 g"],
            "paper": "0.874 g", "collected": ["1.150 g", "1.150 g"],
        }  # fmt: skip
        found = trial("composition", {"metal": "Co", "accepted": "CoCl2.6H2O"}, readings)
        self.assertEqual((said(found)["formula-match"], said(found)["agrees"]), ("good", "good"))
        self.assertNotIn("plateau", said(found))


class Formulas(unittest.TestCase):
    def test_a_half_hydrate_wants_a_source_or_a_name(self) -> None:
        """x = 6.5 by the masses; of gypsum the half hydrate is known."""
        found = salt("32.861 g", "32.164 g", "32.164 g")
        self.assertIsNone(found.words["formula"].text)
        gypsum = trial("hydrate", {"salt": "CaSO4"}, {"vessel": "31.204 g", "vessel_sample": "33.204 g",
                                                      "vessel_residue": ["33.080 g", "33.080 g"]})  # fmt: skip
        self.assertEqual(gypsum.words["formula"].text, "CaSO4·0.5H2O")

    def test_an_oxide_with_two_charges_at_once_is_known(self) -> None:
        """2.000 g of iron become 2.764 g of Fe3O4 (1.3820 g per g)."""
        readings = {"vessel": "24.000 g", "vessel_element": "26.000 g", "vessel_product": ["26.764 g", "26.764 g"]}
        found = trial("combination", {"element": "Fe", "partner": "O"}, readings)
        self.assertEqual(found.words["formula"].text, "Fe3O4")
        self.assertEqual(said(found)["formula-match"], "good")

    def test_where_no_charges_are_known_only_the_data_speak(self) -> None:
        readings = {"vessel": "24.000 g", "vessel_element": "25.000 g", "vessel_product": ["25.500 g", "25.500 g"]}
        found = trial("combination", {"element": "Te", "partner": "O"}, readings)
        self.assertIn("only the data speak", next(row.text for row in found.statements if "Chemistry" in row.title))
        self.assertNotIn("unbalanced-charge", said(found))

    def test_among_the_metals_is_none_that_frees_no_hydrogen_and_the_nearest_is_named(self) -> None:
        tube = {"volume_end": "36.90 mL", "temperature": "21.0 degC", "barometer": "1002 hPa", "sample": "0.0980 g"}
        found = trial("gas_over_water", {"gas": "H2"}, tube)
        symbols = {row.text.rstrip("⁺²³+^0123456789") for row in found.candidates}
        self.assertFalse(symbols & {"H", "Cu", "Ag", "Hg", "Au", "Pt"}, symbols)
        self.assertIn("Zn", symbols)
        self.assertIn("the nearest is", " ".join(row.text for row in found.statements))


class Pressure(unittest.TestCase):
    def test_millimetres_of_mercury_typed_as_hectopascal(self) -> None:
        tube = {"volume_end": "36.90 mL", "temperature": "21.0 degC", "sample": "0.0980 g"}
        for typed, more, asked in (
            ("748.3 hPa", {}, True), ("748.3 mmHg", {}, False), ("1002 hPa", {}, False),
            ("748.3 hPa", {"elevation": "2400 m"}, False),
        ):  # fmt: skip
            found = trial("gas_over_water", ZINC | more, tube | {"barometer": typed})
            with self.subTest(typed, **more):
                self.assertEqual("suspect-unit" in said(found), asked)
