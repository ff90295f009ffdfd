"""Solutions for a class, against handbook concentrations and by hand; the order of mixing with its caution."""

from __future__ import annotations

import unittest
from typing import Any

from pydantic import ValidationError

from claykettle.core.chemistry.concentrates import concentrate_of
from claykettle.core.methods.registry import shipped_procedures
from claykettle.core.planning.stock import Recipe, Wish, recipe
from claykettle.core.run import kit_of


def made(**wish: Any) -> Recipe:
    """A recipe for one bench and trial without spare, where nothing else is said."""
    return recipe(Wish.model_validate({"each": "1000 mL", "benches": 1, "spare": "0 %", **wish}))


class Amounts(unittest.TestCase):
    def test_bottles_are_as_concentrated_as_handbooks_say(self) -> None:
        """Molarities of the store's concentrated reagents as laboratory handbooks print them (figures from memory)."""
        printed = {"HCl": 12.1, "H2SO4": 18.0, "HNO3": 14.4, "CH3COOH": 17.4, "H3PO4": 14.6, "NH3": 13.4, "H2O2": 9.8}
        for formula, molar in printed.items():
            wish = Wish.model_validate(
                {"formula": formula, "concentration": "1 mol/L", "each": "1 L", "source": "concentrate"}
            )
            with self.subTest(formula):
                assert wish.source_mol_m3 is not None
                self.assertAlmostEqual(wish.source_mol_m3 / 1000, molar, delta=0.02 * molar)

    def test_a_hydrate_is_weighed_with_its_water(self) -> None:
        """0.200 mol of BaCl2·2H2O, 244.26 g/mol: 48.85 g."""
        self.assertEqual(made(formula="BaCl2.2H2O", concentration="0.200 mol/L").take, "48.85 g BaCl2·2H2O")

    def test_what_is_poured_times_its_concentration_is_what_is_wanted(self) -> None:
        found = made(formula="H2SO4", concentration="1 mol/L", source="solution", stronger="6 mol/L")
        self.assertTrue(found.take.startswith("167 mL"))

    def test_the_label_in_hand_counts_before_the_usual_one(self) -> None:
        """32 % at 1.16 g/mL is 10.2 mol/L: 98.2 mL for a litre of 1 mol/L."""
        found = made(formula="HCl", concentration="1 mol/L", source="concentrate", percent="32 %", density="1.16 g/mL")
        self.assertTrue(found.take.startswith("98.2 mL of 10.2 mol/L"), found.take)

    def test_all_benches_and_trials_with_the_spare_go_into_the_next_flask(self) -> None:
        found = recipe(Wish.model_validate(
            {"formula": "NaCl", "concentration": "1 mol/L", "each": "25 mL", "benches": 8, "trials": 3, "spare": "20 %"}
        ))  # fmt: skip
        self.assertTrue(found.need.endswith("720 mL"))
        self.assertEqual(found.make, "1 L")

    def test_more_than_the_largest_flask_is_made_in_several(self) -> None:
        found = made(formula="NaCl", concentration="1 mol/L", each="100 mL", benches=60, trials=2)
        self.assertEqual(found.make, "15 L")


class Order(unittest.TestCase):
    def test_water_stands_in_the_beaker_before_any_acid(self) -> None:
        for formula in ("HCl", "H2SO4", "HNO3"):
            steps = made(formula=formula, concentration="1 mol/L", source="concentrate").steps
            self.assertIn("water into a beaker first", steps[0].text)
            self.assertIn("Acid into water", steps[1].caution)

    def test_what_is_poured_and_the_water_before_it_fit_the_flask(self) -> None:
        """Half a flask of water and seven tenths of acid would not."""
        steps = made(formula="HCl", concentration="9 mol/L", source="concentrate").steps
        water, acid = (float(steps[n].text.split()[1]) for n in (0, 1))
        self.assertLess(water + acid, 1000)

    def test_every_recipe_defers_to_local_rules(self) -> None:
        self.assertIn("local rules", made(formula="NaCl", concentration="1 mol/L").caution)

    def test_poison_and_heat_are_said_at_their_step(self) -> None:
        barium = made(formula="BaCl2.2H2O", concentration="0.1 mol/L").steps[1]
        lye = made(formula="NaOH", concentration="1 mol/L").steps[1]
        self.assertIn("Poisonous if swallowed", barium.caution)
        self.assertIn("heats", lye.caution)


class Refused(unittest.TestCase):
    def test_each_with_its_field(self) -> None:
        acid = {"formula": "HCl", "concentration": "1 mol/L", "source": "concentrate"}
        rows: tuple[tuple[dict[str, Any], str], ...] = (
            (acid | {"concentration": "13 mol/L"}, "concentration"),
            (acid | {"percent": "137 %"}, "percent"),
            ({"formula": "Na2SO4", "concentration": "1 mol/L", "source": "concentrate"}, "percent"),
            ({"formula": "HCl", "concentration": "1 mol/L", "source": "solution"}, "stronger"),
            ({"formula": "HCl", "concentration": "0 mol/L"}, "concentration"),
        )
        for wish, field in rows:
            with self.subTest(wish), self.assertRaises(ValidationError) as caught:
                made(**wish)
            self.assertEqual(caught.exception.errors()[0]["ctx"]["field"], field)

    def test_every_bottle_has_a_caution(self) -> None:
        for formula in ("HCl", "H2SO4", "HNO3", "CH3COOH", "H3PO4", "NH3", "H2O2"):
            bottle = concentrate_of(formula)
            assert bottle is not None
            self.assertGreater(len(bottle.caution), 20)


class Kits(unittest.TestCase):
    def test_every_procedure_has_one_with_eye_protection(self) -> None:
        for procedure in shipped_procedures():
            with self.subTest(procedure.name):
                self.assertIn("eye protection", [line.item for line in kit_of(procedure, {}, 1)])

    def test_what_a_trial_needs_is_counted_by_trials_and_the_room_s_once(self) -> None:
        procedure = next(row for row in shipped_procedures() if row.method == "gas_over_water")
        lines = {line.item: line for line in kit_of(procedure, {"tube": "burette"}, 3)}
        self.assertEqual(lines["cage of copper wire"].count, 3)
        self.assertEqual(lines["burette, clamp and stand"].count, 1)
        self.assertEqual((lines["barometer"].place, lines["barometer"].count), ("room", 1))
        self.assertNotIn("small graduated cylinder", lines)
