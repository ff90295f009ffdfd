"""The register of substances and the waste sheet: what is known, what is asked, what is neutralised with how much."""

from __future__ import annotations

import tomllib
import unittest
from pathlib import Path
from typing import Any

import claykettle.core.chemistry
from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.chemistry.hydrates import known_salts
from claykettle.core.chemistry.substances import (
    OPEN,
    Register,
    Substance,
    formula_of,
    shipped_register,
    shipped_substances,
    streams,
)
from claykettle.core.errors import Refusal
from claykettle.core.method import LIQUOR, Remain
from claykettle.core.methods.registry import all_methods
from claykettle.core.planning.waste import (
    STRICTEST,
    Container,
    Left,
    WasteLine,
    WasteSheet,
    formulas_of,
    waste_sheet,
)
from claykettle.core.run import evaluate_run
from claykettle.formats.run_file import read_run, run_from
from tests.core.test_composition import document as cobalt
from tests.core.test_precipitation import document as blanc_fixe
from tests.core.test_sizing import OPTIONS
from tests.golden import run_files

DATA = Path(claykettle.core.chemistry.__file__).parent / "data"

# Densities of solids and liquids at 20 °C in g/mL, as printed in the CRC Handbook of Chemistry and Physics (97th ed.,
# section 4, physical constants of inorganic compounds); typed from memory.
HANDBOOK = {
    "NaCl": 2.17, "CaCO3": 2.71, "Mg": 1.74, "Al": 2.70, "Zn": 7.14, "Cu": 8.96, "Fe": 7.87, "BaSO4": 4.49,
    "KMnO4": 2.7, "Pb(NO3)2": 4.53, "AgNO3": 4.35, "MgO": 3.6, "CuSO4.5H2O": 2.286, "C2H5OH": 0.789,
}  # fmt: skip


def added(formula: str, name: str = "its name", dissolved: str = OPEN) -> Substance:
    """A substance of somebody's own."""
    return Substance(parse_formula(formula), name, "", ("harmful",), dissolved, OPEN, "", "a label", own=True)


def sheet_of(*remains: Remain, register: Register | None = None, **more: Any) -> WasteSheet:
    """The sheet of one trial that leaves these."""
    return waste_sheet([Left(remains, **more)], register or shipped_register())


def holds(line: WasteLine) -> list[str]:
    return [row.what for row in line.holds] or [line.what]


def where(*remains: Remain, register: Register | None = None, **more: Any) -> dict[str, list[str]]:
    """What goes into which container, by the container's name; of a liquid what it holds."""
    sheet = sheet_of(*remains, register=register, **more)
    return {row.name: [what for line in row.lines for what in holds(line)] for row in sheet.containers}


def container(sheet: WasteSheet, name: str) -> Container:
    return next(row for row in sheet.containers if row.name == name)


class What(unittest.TestCase):
    def test_there_are_sixty_and_each_is_whole(self) -> None:
        rows = shipped_substances()
        self.assertGreaterEqual(len(rows), 60)
        self.assertEqual(len({row.formula.text for row in rows}), len(rows))
        for row in rows:
            with self.subTest(row.formula.text):
                self.assertTrue(row.name and row.source and all(row.hazards))
                self.assertIn(row.dissolved, streams())
                self.assertIn(row.solid, streams())
                self.assertGreater(row.formula.molar_mass_g, 0)
                self.assertTrue(row.density == "" or 0 < float(row.density) < 23)

    def test_densities_are_those_of_the_handbook(self) -> None:
        for formula, density in HANDBOOK.items():
            found = shipped_register().find(parse_formula(formula))
            with self.subTest(formula):
                assert found is not None
                self.assertAlmostEqual(float(found.density) / density, 1, delta=0.01)

    def test_heavy_metals_never_go_down_the_drain(self) -> None:
        """Common practice: barium, lead, copper, zinc, cobalt, nickel, chromium, silver and manganese are collected."""
        for row in shipped_substances():
            heavy = {"Pb", "Cu", "Zn", "Co", "Ni", "Cr", "Ag", "Mn"} & set(row.formula.counts)
            if heavy:
                with self.subTest(row.formula.text):
                    self.assertNotIn(row.dissolved, ("aqueous", "water", "acid", "base"))

    def test_a_hydrate_stands_for_its_salt_and_the_salt_for_its_hydrates(self) -> None:
        found = shipped_register().find(parse_formula("CoCl2"))
        assert found is not None
        self.assertEqual((found.formula.text, found.harms[0]), ("CoCl2", "may cause cancer when breathed as dust"))
        self.assertIsNone(shipped_register().find(parse_formula("OsO4")))

    def test_what_was_added_last_counts(self) -> None:
        register = Register([added("NaCl", "table salt"), added("NaCl", "rock salt")])
        found = register.find(parse_formula("NaCl"))
        assert found is not None
        self.assertEqual(found.name, "rock salt")
        self.assertEqual(len(register.substances), len(shipped_substances()))


class Where(unittest.TestCase):
    def dissolved(self, formula: str, mol: float | None = 0.01, **more: Any) -> Remain:
        return Remain(parse_formula(formula), formula, "dissolved", mol, **more)

    def test_a_filtrate_is_one_thing_and_goes_where_its_strictest_content_must(self) -> None:
        """Common practice: salt water with a little barium in it is barium waste, and never the drain."""
        found = where(self.dissolved("NaCl"), self.dissolved("BaCl2"))
        self.assertEqual(found, {"heavy_metal": ["NaCl", "BaCl2"], "bin": ["Filter papers, gloves, wipes"]})
        self.assertEqual(list(where(self.dissolved("NaCl"))), ["aqueous", "bin"])
        for strict, mild in (
            ("heavy_metal", "flammable"), ("halogenated", "flammable"), ("oxidiser", "acid"), ("flammable", "aqueous"),
            ("acid", "aqueous"), ("base", "aqueous"),
        ):  # fmt: skip
            self.assertLess(STRICTEST.index(strict), STRICTEST.index(mild))

    def test_two_liquids_of_one_trial_stay_apart(self) -> None:
        found = where(self.dissolved("NaCl"), self.dissolved("CuSO4", liquid=LIQUOR))
        self.assertEqual((found["aqueous"], found["heavy_metal"]), (["NaCl"], ["CuSO4"]))

    def test_a_content_without_a_stream_is_asked_about(self) -> None:
        sheet = sheet_of(self.dissolved("OsO4"), self.dissolved("NaCl"))
        (line,) = container(sheet, OPEN).lines
        self.assertEqual(line.first, "Ask about OsO4.")
        named = Register([added("OsO4", dissolved="heavy_metal")])
        self.assertNotIn(OPEN, where(self.dissolved("OsO4"), register=named))
        (line,) = container(sheet_of(self.dissolved("OsO4"), self.dissolved("CuSO4")), "heavy_metal").lines
        self.assertIn("Ask about OsO4 as well.", line.first)

    def test_the_open_ones_come_first_and_the_bin_last(self) -> None:
        rows = list(where(Remain(parse_formula("NaCl"), "NaCl", "solid"), Remain(None, "something", "solid")))
        self.assertEqual((rows[0], rows[-1]), (OPEN, "bin"))

    def test_acid_is_neutralised_with_so_much_bicarbonate(self) -> None:
        """25.0 mmol of hydrochloric acid take 25.0 mmol × 84.006 g/mol = 2.10 g; sulfuric acid takes twice that."""
        for formula, grams in (("HCl", "2.1 g"), ("H2SO4", "4.2 g")):
            (line,) = container(sheet_of(self.dissolved(formula, 0.025), self.dissolved("NaCl")), "acid").lines
            with self.subTest(formula):
                self.assertIn(f"About {grams} of solid bicarbonate", line.first)
        (line,) = container(sheet_of(self.dissolved("HCl", None)), "acid").lines
        self.assertEqual(line.first, "Solid bicarbonate until the fizzing stops.")

    def test_acid_and_base_in_one_liquid_meet_there(self) -> None:
        """50 mmol of sulfuric acid and 60 of caustic potash: 40 mmol of acid are left, 3.36 g of bicarbonate."""
        rows = (self.dissolved("H2SO4", 0.050), self.dissolved("KOH", 0.060))
        (line,) = container(sheet_of(*rows), "acid").lines
        self.assertIn("About 3.4 g of solid bicarbonate", line.first)
        more = (self.dissolved("HCl", 0.050), self.dissolved("NaOH", 0.060))
        self.assertEqual(container(sheet_of(*more), "base").lines[0].first, "")

    def test_what_the_log_says_was_neutralised_is_salt_water(self) -> None:
        sheet = sheet_of(self.dissolved("HCl", 0.025), self.dissolved("CaCl2"), neutralised=True)
        (line,) = container(sheet, "aqueous").lines
        self.assertEqual(line.first, "Neutralised, by its log.")
        metal = container(sheet_of(self.dissolved("HCl"), self.dissolved("ZnCl2"), neutralised=True), "heavy_metal")
        self.assertNotIn("acid", metal.lines[0].first)

    def test_an_acid_that_goes_to_the_metals_is_written_on_the_label(self) -> None:
        (line,) = container(sheet_of(self.dissolved("HCl"), self.dissolved("ZnCl2")), "heavy_metal").lines
        self.assertIn("It is acid too", line.first)

    def test_a_solvent_by_its_name(self) -> None:
        acid = self.dissolved("C6H5COOH", liquid=LIQUOR)
        sheet = sheet_of(acid, Remain(None, "ethanol", "dissolved", None, LIQUOR, 25e-6))
        self.assertEqual(holds(container(sheet, "flammable").lines[0]), ["C6H5COOH", "C2H5OH"])
        self.assertIn(OPEN, where(acid, Remain(None, "unheard-of", "dissolved", None, LIQUOR, 25e-6)))

    def test_the_same_of_several_trials_is_one_line(self) -> None:
        """10 mmol of sodium chloride each: 0.584 g; a trial of which nothing is known leaves the sum open."""
        left = Left((self.dissolved("NaCl"),), rinses=6)
        (line,) = container(waste_sheet([left, left], shipped_register()), "aqueous").lines
        self.assertEqual((line.name, line.holds[0].amount), ("of 2 trials", "1.17 g"))
        self.assertEqual(line.amount, "about 120 mL, 12 rinses in it")
        unsure = Left((self.dissolved("NaCl", None),))
        (line,) = container(waste_sheet([left, unsure], shipped_register()), "aqueous").lines
        self.assertEqual(line.holds[0].amount, "")

    def test_the_bottle_is_filled_to_four_fifths_at_most(self) -> None:
        """Common practice. 0.80 L fill one bottle of 1 L to 80 %, 0.82 L want two."""
        for millilitres, fill in (
            (25, "About 25 mL: one 1 L bottle, 2 % full"),
            (800, "About 800 mL: one 1 L bottle, 80 % full"),
            (820, "About 820 mL: 2 bottles of 1 L, each 41 % full"),
        ):
            sheet = sheet_of(self.dissolved("NaCl", volume=1e-6 * millilitres))
            with self.subTest(millilitres):
                self.assertEqual(container(sheet, "aqueous").fill, fill)
        self.assertEqual(container(sheet_of(self.dissolved("NaCl")), "aqueous").fill, "")

    def test_local_rules_come_first(self) -> None:
        self.assertIn("local rules and your safety officer", waste_sheet([], shipped_register()).rules)


class Named(unittest.TestCase):
    def test_a_name_or_an_abbreviation_finds_it(self) -> None:
        for text, formula in (
            ("zinc sulfate heptahydrate", "ZnSO4·7H2O"), ("Benzoic acid", "C6H5COOH"), ("aspirin", "C9H8O4"),
            ("blanc fixe", "BaSO4"), ("TMAH", "(CH3)4NOH"), ("AcOH", "HC2H3O2"), ("EtOH", "C2H5OH"), ("iron", "Fe"),
            ("isopropanol", "CH3CHOHCH3"), ("NaCl", "NaCl"), ("CuSO4.5H2O", "CuSO4·5H2O"),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(formula_of(text).text, formula)
        for text in ("unobtainium", "", "zinc sulphide of sorts"):
            with self.assertRaises(Refusal):
                formula_of(text)

    def test_no_name_reads_as_a_formula_of_something_else(self) -> None:
        """What can be read as a formula is one, but for the abbreviations."""
        for row in shipped_substances():
            for name in row.names:
                found = formula_of(name)
                with self.subTest(name):
                    self.assertTrue(found.matter == row.formula.matter or shipped_register().named(name) is not row)

    def test_isomers_are_told_apart_and_where_they_cannot_be_both_are_named(self) -> None:
        exact = shipped_register().find(parse_formula("CH3CHOHCH3"))
        either = shipped_register().find(parse_formula("C3H8O"))
        assert exact is not None
        assert either is not None
        self.assertEqual(exact.name, "propan-2-ol")
        self.assertEqual(either.name, "propan-1-ol or propan-2-ol")
        self.assertIn("damages the eyes", either.hazards)

    def test_a_dried_salt_is_not_called_a_hydrate(self) -> None:
        for formula, name in (
            ("ZnSO4", "zinc sulfate"), ("CoCl2", "cobalt(II) chloride"), ("CuSO4.3H2O", "copper(II) sulfate"),
            ("Na2B4O7", "borax, without its water"),
        ):  # fmt: skip
            found = shipped_register().find(parse_formula(formula))
            assert found is not None
            with self.subTest(formula):
                self.assertEqual((found.name, found.density), (name, ""))
                self.assertEqual(found.formula.matter, parse_formula(formula).matter)

    def test_the_register_holds_all_that_the_program_speaks_of(self) -> None:
        """Curves, hydrates, the demo's runs: nothing of them is a stranger."""
        curves = tomllib.loads((DATA / "solubility_curves.toml").read_text(encoding="utf-8"))["curve"]
        wanted = [parse_formula(row["basis"]) for row in curves]
        wanted += [salt.formula for salt in known_salts()]
        for path in run_files():
            wanted += formulas_of(read_run(path.read_bytes()).options)
        wanted += [parse_formula(text) for text in ("Cu2S", "CuS", "C6H5COOH", "(CH3)4NOH")]
        for formula in wanted:
            with self.subTest(formula.text):
                self.assertIsNotNone(shipped_register().find(formula))


class Hazards(unittest.TestCase):
    def test_the_fifteen_most_dangerous_are_classed_as_the_annex_has_them(self) -> None:
        """Regulation (EC) No 1272/2008, Annex VI, table 3: classes from memory of it, in plain words."""
        annex = {
            "K2Cr2O7": ("may cause cancer", "may harm fertility", "deadly when breathed", "helps fire", "allergy"),
            "K2CrO4": ("may cause cancer", "allergy", "very toxic to water life"),
            "CoCl2": ("may cause cancer when breathed", "may harm fertility", "allergy of skin and breathing"),
            "CoSO4": ("may cause cancer when breathed", "may harm fertility", "allergy of skin and breathing"),
            "NiSO4": ("may cause cancer when breathed", "unborn child", "allergy of skin and breathing"),
            "NiCl2": ("may cause cancer when breathed", "unborn child", "poisonous if swallowed or breathed"),
            "CdCl2": ("may cause cancer", "genetic damage", "deadly when breathed", "fertility"),
            "CdSO4": ("may cause cancer", "genetic damage", "deadly when breathed", "fertility"),
            "Pb(NO3)2": ("unborn child", "fertility", "water life"),
            "BaCl2": ("poisonous if swallowed", "harmful as dust"),
            "AgNO3": ("burns", "helps fire", "very toxic to water life"),
            "KMnO4": ("helps fire", "harmful if swallowed", "unborn child", "very toxic to water life"),
            "Na2B4O7": ("may harm fertility", "unborn child"),
            "H3BO3": ("may harm fertility", "unborn child"),
            "(CH3)4NOH": ("deadly through the skin", "deadly if swallowed", "burns"),
        }
        for formula, wanted in annex.items():
            found = shipped_register().find(parse_formula(formula))
            assert found is not None, formula
            said = "; ".join(found.hazards)
            for words in wanted:
                with self.subTest(formula, words=words):
                    self.assertIn(words, said)


class OfRuns(unittest.TestCase):
    def remains(self, document: dict[str, object]) -> dict[str, float | None]:
        """Grams of what a run leaves, by what it is."""
        run = evaluate_run(run_from(document))
        trial = run.trials[0]
        found = next((word.text for word in trial.words.values()), None)
        rows = run.run.method.aftercare.remains(trial.trial, found)
        return {
            row.what: None if row.mol is None or row.formula is None else 1000 * row.mol * row.formula.molar_mass
            for row in rows
        }

    def test_nothing_of_a_precipitation_vanishes(self) -> None:
        """What went in, its crystal water left aside, is what is left once all of the solid is on the paper."""
        document = blanc_fixe({"reagent_1": "1.000 g", "reagent_2": "25.00 mL", "paper": "0.9000 g"})
        left = self.remains(document)
        self.assertEqual(set(left), {"BaSO4", "NaCl", "Na2SO4", "H2O"})
        went_in = 1.000 * 208.23 / 244.26 + 6.250e-3 * 142.04
        collected = 4.09400e-3 * 233.386
        self.assertAlmostEqual((left["NaCl"] or 0) + (left["Na2SO4"] or 0) + collected, went_in, places=3)
        self.assertIsNone(left["BaSO4"])

    def test_a_filtrate_whose_metal_nobody_named_is_open(self) -> None:
        left = self.remains(cobalt())
        self.assertAlmostEqual(left["Co"] or 0.0, 0.371, places=6)
        self.assertIn("chloride of the other metal", left)

    def test_the_metal_that_drove_it_out_tells_what_the_filtrate_holds(self) -> None:
        """One chlorine in ZnCl2 for each in CoCl2: half as many mol, whatever water the salt had."""
        document = cobalt()
        document["options"] = {**document["options"], "displaced_by": "Zn"}
        run = evaluate_run(run_from(document))
        halogen = run.trials[0].result("halogen_amount")
        assert halogen is not None
        left = self.remains(document)
        self.assertAlmostEqual(left["ZnCl2"] or 0.0, halogen.value / 2 * 136.28, places=2)
        self.assertIn("Zn", left)

    def test_every_method_says_what_its_options_work_with(self) -> None:
        for name, method in all_methods().items():
            options = method.options.model_validate(OPTIONS[name])
            with self.subTest(name):
                self.assertTrue(all(not row.charge for row in formulas_of(options)))
        barium = all_methods()["precipitation"].options.model_validate(OPTIONS["precipitation"])
        self.assertEqual({row.text for row in formulas_of(barium)}, {"BaCl2", "Na2SO4", "BaSO4", "NaCl", "BaCl2·2H2O"})

    def test_what_gas_runs_leave_is_salt_and_spare_acid(self) -> None:
        """1.500 g of whiting, 14.99 mmol: as much calcium chloride, and of 50 mmol of acid 20.03 mmol are left."""
        readings = {"vessel_before": "98.412 g", "sample": "1.500 g", "vessel_after": "99.2525 g"}
        acid = {"concentration": "1 mol/L", "volume": "50 mL"}
        options = {"equations": ["CaCO3 + 2 HCl -> CaCl2 + H2O + CO2(g)"], "acid": acid}
        document = {"format": "clay-kettle/run", "version": 1, "method": "gas_by_mass_loss", "options": options}
        left = self.remains({**document, "trials": [{"label": "1", "readings": readings}]})
        self.assertAlmostEqual(left["CaCl2"] or 0, 14.99e-3 * 110.98, places=2)
        self.assertAlmostEqual(left["HCl"] or 0, 20.03e-3 * 36.458, places=2)
