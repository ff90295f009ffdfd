"""The register of substances and the waste sheet: what is known, what is asked, what is neutralised with how much."""

from __future__ import annotations

import unittest
from collections.abc import Iterable

from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.chemistry.substances import (
    OPEN,
    Register,
    Substance,
    shipped_register,
    shipped_substances,
    streams,
)
from claykettle.core.method import Remain
from claykettle.core.methods.registry import all_methods
from claykettle.core.planning.waste import formulas_of, waste_sheet
from claykettle.core.run import evaluate_run
from claykettle.formats.run_file import run_from
from tests.core.test_composition import document as cobalt
from tests.core.test_precipitation import document as blanc_fixe
from tests.core.test_sizing import OPTIONS

# Densities of solids and liquids at 20 °C in g/mL, as printed in the CRC Handbook of Chemistry and Physics (97th ed.,
# section 4, physical constants of inorganic compounds); typed from memory.
HANDBOOK = {
    "NaCl": 2.17, "CaCO3": 2.71, "Mg": 1.74, "Al": 2.70, "Zn": 7.14, "Cu": 8.96, "Fe": 7.87, "BaSO4": 4.49,
    "KMnO4": 2.7, "Pb(NO3)2": 4.53, "AgNO3": 4.35, "MgO": 3.6, "CuSO4.5H2O": 2.286, "C2H5OH": 0.789,
}  # fmt: skip


def added(formula: str, name: str = "its name", dissolved: str = OPEN) -> Substance:
    """A substance of somebody's own."""
    return Substance(parse_formula(formula), name, "", ("harmful",), dissolved, OPEN, "", "a label", own=True)


def where(remains: Iterable[Remain], register: Register | None = None) -> dict[str, list[str]]:
    """What goes into which container, by the container's name."""
    sheet = waste_sheet(remains, register or shipped_register())
    return {row.name: [line.what for line in row.lines] for row in sheet.containers}


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
        self.assertEqual(found.formula.text, "CoCl2·6H2O")
        self.assertIsNone(shipped_register().find(parse_formula("OsO4")))

    def test_what_was_added_last_counts(self) -> None:
        register = Register([added("NaCl", "table salt"), added("NaCl", "rock salt")])
        found = register.find(parse_formula("NaCl"))
        assert found is not None
        self.assertEqual(found.name, "rock salt")
        self.assertEqual(len(register.substances), len(shipped_substances()))


class Where(unittest.TestCase):
    def test_a_substance_without_a_stream_is_asked_about(self) -> None:
        unknown, known = parse_formula("OsO4"), parse_formula("NaCl")
        found = where([Remain(unknown, "OsO4", "dissolved", 0.01), Remain(known, "NaCl", "dissolved", 0.01)])
        self.assertEqual(found[OPEN], ["OsO4"])
        self.assertEqual(found["aqueous"], ["NaCl"])
        named = Register([added("OsO4", dissolved="heavy_metal")])
        self.assertNotIn(OPEN, where([Remain(unknown, "OsO4", "dissolved", 0.01)], named))

    def test_the_open_ones_come_first_and_the_bin_last(self) -> None:
        rows = list(where([Remain(parse_formula("NaCl"), "NaCl", "solid"), Remain(None, "something", "solid")]))
        self.assertEqual((rows[0], rows[-1]), (OPEN, "bin"))

    def test_acid_is_neutralised_with_so_much_bicarbonate(self) -> None:
        """25.0 mmol of hydrochloric acid take 25.0 mmol × 84.006 g/mol = 2.10 g; sulfuric acid takes twice that."""
        for formula, grams in (("HCl", "2.1 g"), ("H2SO4", "4.2 g")):
            sheet = waste_sheet([Remain(parse_formula(formula), formula, "dissolved", 0.025)], shipped_register())
            (line,) = next(row for row in sheet.containers if row.name == "acid").lines
            with self.subTest(formula):
                self.assertIn(f"about {grams} of solid bicarbonate", line.first)

    def test_the_same_substance_of_several_runs_is_one_line(self) -> None:
        salt = parse_formula("NaCl")
        sheet = waste_sheet([Remain(salt, "NaCl", "dissolved", 0.01)] * 2, shipped_register())
        (line,) = sheet.containers[0].lines
        self.assertEqual(line.amount, "1.17 g in solution")
        unsure = waste_sheet(
            [Remain(salt, "NaCl", "dissolved", 0.01), Remain(salt, "NaCl", "dissolved")], shipped_register()
        )
        self.assertEqual(unsure.containers[0].lines[0].amount, "")

    def test_local_rules_come_first(self) -> None:
        self.assertIn("local rules and your safety officer", waste_sheet([], shipped_register()).rules)


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
        self.assertEqual(set(left), {"BaSO4", "NaCl", "Na2SO4"})
        went_in = 1.000 * 208.23 / 244.26 + 6.250e-3 * 142.04
        collected = 4.09400e-3 * 233.386
        self.assertAlmostEqual((left["NaCl"] or 0) + (left["Na2SO4"] or 0) + collected, went_in, places=3)
        self.assertIsNone(left["BaSO4"])

    def test_a_filtrate_whose_metal_nobody_named_is_open(self) -> None:
        left = self.remains(cobalt())
        self.assertAlmostEqual(left["Co"] or 0.0, 0.371, places=6)
        self.assertIn("filtrate and washings: chloride of the other metal", left)

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
