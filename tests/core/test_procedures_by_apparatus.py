"""Steps, cautions and waits follow tube, gas, equation, vessel, drying and school (common practice)."""

from __future__ import annotations

import unittest
from typing import Any

from claykettle.core.chemistry.gases import KINDS, gas_caution
from claykettle.core.methods.registry import all_methods, method_named, procedure_named
from claykettle.core.run import PlannedStep, Progress, apparatus_of, kit_of, steps_of, usable_readings
from claykettle.formats.run_file import parse_options

ZINC = {"reagent": "Zn", "equation": "Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)"}
PEROXIDE = {
    "reagent": "H2O2", "equation": "2 H2O2(aq) -> 2 H2O(l) + O2(g)", "gas": "O2", "density": "1.01 g/mL",
}  # fmt: skip
BARYTES = {
    "equation": "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)",
    "reagents": ["BaCl2.2H2O", "Na2SO4 0.250 mol/L"],
}
COPPER = {"equation": "Fe(s) + CuSO4(aq) -> Cu(s) + FeSO4(aq)", "reagents": ["Fe", "CuSO4.5H2O"], "product": "Cu"}


def steps(
    method: str, options: dict[str, Any], taken: dict[str, int] | None = None, **schools: str
) -> list[PlannedStep]:
    """The steps of a run with these options and schools, its texts filled in."""
    found = method_named(method)
    parsed = parse_options(found, options)
    course = procedure_named(method, None)
    assert course is not None
    progress = Progress(
        taken or {}, (), (), needed=usable_readings(found, parsed), facts=found.facts(parsed),
    )  # fmt: skip
    return steps_of(course, schools, progress)


def step(key: str, rows: list[PlannedStep]) -> PlannedStep:
    return next(row for row in rows if row.key == key)


def said(row: PlannedStep) -> str:
    """Everything that a step says, as it stands on the page."""
    return " ".join(map(row.text, (row.step.title, row.step.say, row.step.why, row.step.caution)))


def whole(rows: list[PlannedStep]) -> str:
    return " ".join(map(said, rows))


class Tube(unittest.TestCase):
    def test_acid_is_layered_below_the_metal_in_a_turned_tube_only(self) -> None:
        self.assertIn("cage", said(step("react", steps("gas_over_water", ZINC))))
        long = said(step("react", steps("gas_over_water", ZINC, tube="long")))
        self.assertNotIn("cage", long)
        self.assertIn("thistle", long)

    def test_the_picture_shows_where_the_gas_is_made(self) -> None:
        def shown(options: dict[str, Any], **schools: str) -> tuple[str, ...]:
            found, course = method_named("gas_over_water"), procedure_named("gas_over_water", None)
            assert course is not None
            return apparatus_of(course, schools, found.facts(parse_options(found, options)))

        # metal and acid meet in the tube itself, all else in a flask beside it; a catalyst is tipped in, not poured
        self.assertEqual(shown(ZINC), ("cage",))
        self.assertEqual(shown(ZINC, tube="burette"), ("cage",))
        self.assertEqual(shown(ZINC, tube="long"), ("thistle",))
        self.assertEqual(shown(PEROXIDE, sample="liquid"), ("flask",))
        self.assertEqual(shown(PEROXIDE, sample="liquid", tube="long"), ("flask",))

    def test_peroxide_meets_a_catalyst_not_an_acid(self) -> None:
        rows = steps("gas_over_water", PEROXIDE, sample="liquid")
        self.assertIn("catalyst", said(step("react", rows)))
        for word in ("cage", "Hydrogen", "hydrogen:", "sodium hydrogencarbonate"):
            self.assertNotIn(word, whole(rows), word)

    def test_the_dead_volume_is_measured_before_anything_is_in_the_tube(self) -> None:
        options = ZINC | {"tube": {"reading": "inverted_burette", "mark": "50 mL"}}
        keys = [row.key for row in steps("gas_over_water", options, tube="burette")]
        self.assertLess(keys.index("dead"), keys.index("sample_weighed"))

    def test_acid_that_serves_several_trials_is_kept(self) -> None:
        self.assertIn("Keep the acid", said(step("clear", steps("gas_over_water", ZINC, tube="long"))))
        self.assertNotIn("Keep the acid", said(step("clear", steps("gas_over_water", ZINC))))

    def test_the_gas_takes_the_bath_s_temperature_before_it_is_read(self) -> None:
        keys = [row.key for row in steps("gas_over_water", ZINC)]
        self.assertEqual(keys.index("bath_warmth") + 1, keys.index("end_volume"))
        self.assertGreater(step("bath_warmth", steps("gas_over_water", ZINC)).minutes or 0, 0)

    def test_each_gas_has_its_own_test_and_caution(self) -> None:
        hydrogen, oxygen = steps("gas_over_water", ZINC), steps("gas_over_water", PEROXIDE, sample="liquid")
        self.assertIn("pops", said(step("gas_test", hydrogen)))
        self.assertIn("no flame near", said(step("react", hydrogen)))
        self.assertIn("lights it up", said(step("gas_test", oxygen)))
        self.assertIn("feeds fire", said(step("react", oxygen)))

    def test_glassware_goes_back_neutral(self) -> None:
        for method, options in (("gas_over_water", ZINC), ("gas_by_mass_loss", {"equations": [LIME]})):
            self.assertIn("pH paper says neutral", whole(steps(method, options)))

    def test_no_thumb_over_a_tube(self) -> None:
        for tube in ("cylinder", "burette", "long"):
            self.assertIn("ever a thumb over a tube", whole(steps("gas_over_water", ZINC, tube=tube)))


LIME = "CaCO3(s) + 2 HCl(aq) -> CaCl2(aq) + H2O(l) + CO2(g)"


class PoisonousGases(unittest.TestCase):
    """By the equation: nitrogen dioxide, sulfur dioxide, hydrogen chloride and the like want the hood."""

    def test_a_nitrate_that_decomposes(self) -> None:
        nitrate = {"equations": ["2 Cu(NO3)2(s) -> 2 CuO(s) + 4 NO2(g) + O2(g)"]}
        heat = said(step("heat#1", steps("decomposition", nitrate)))
        self.assertIn("Nitrogen dioxide", heat)
        self.assertIn("hood", heat)
        self.assertIn("feeds fire", heat)

    def test_a_carbonate_does_not_frighten(self) -> None:
        heat = said(step("heat#1", steps("decomposition", {"equations": ["CaCO3(s) -> CaO(s) + CO2(g)"]})))
        self.assertNotIn("poisonous", heat)
        self.assertIn("keep the room aired", heat)

    def test_a_sulfite_in_acid(self) -> None:
        options = {"equations": ["Na2SO3(s) + 2 HCl(aq) -> 2 NaCl(aq) + H2O(l) + SO2(g)"], "gas": "SO2"}
        for key in ("tip", "swirl"):
            self.assertIn("Sulfur dioxide is poisonous", said(step(key, steps("gas_by_mass_loss", options))))

    def test_a_hydrate_whose_acid_leaves_with_its_water(self) -> None:
        magnesium = steps("hydrate", {"salt": "MgCl2", "accepted": "MgCl2.6H2O"})
        self.assertIn("Hydrogen chloride comes off", said(step("heat#1", magnesium)))
        self.assertNotIn("hood", said(step("heat#1", steps("hydrate", {"salt": "ZnSO4"}))))

    def test_every_poisonous_gas_names_the_hood_or_the_safety_officer(self) -> None:
        gases = ("NO2", "NO", "SO2", "SO3", "HCl", "HBr", "HF", "Cl2", "Br2", "H2S", "NH3", "CO", "PH3", "HCN")
        for formula in gases:
            found = gas_caution(formula)
            assert found is not None, formula
            self.assertEqual(found.kind, KINDS[0])
            self.assertTrue("hood" in found.say or "safety officer" in found.say, formula)

    def test_gases_that_burn_feed_fire_or_lie_low(self) -> None:
        kinds = {"H2": "burns", "CH4": "burns", "C2H2": "burns", "O2": "feeds_fire", "CO2": "heavy"}
        self.assertEqual({name: getattr(gas_caution(name), "kind", "") for name in kinds}, kinds)
        self.assertIsNone(gas_caution("N2"))


class Flask(unittest.TestCase):
    def test_a_light_gas_is_led_in_from_below_a_heavy_one_from_above(self) -> None:
        self.assertIn("mouth down", said(step("fill#1", steps("gas_density", {"gas": "H2"}))))
        self.assertIn("upright", said(step("fill#1", steps("gas_density", {"gas": "CO2"}))))
        self.assertIn("upright", said(step("fill#1", steps("gas_density", {}))))

    def test_the_generator_is_set_up_topped_up_and_looked_at(self) -> None:
        rows = steps("gas_density", {"gas": "CO2"})
        self.assertIn("generator", [row.key for row in rows])
        self.assertIn("Still fizzing?", said(step("fill#1", rows)))
        cylinder = steps("gas_density", {"gas": "CO2"}, source="cylinder")
        self.assertNotIn("generator", [row.key for row in cylinder])
        self.assertNotIn("izzing", whole(cylinder))
        self.assertNotIn("hydrogencarbonate", whole(cylinder))

    def test_it_fills_twenty_minutes_then_fifteen_then_five(self) -> None:
        rows = steps("gas_density", {"gas": "CO2"}, {"flask_gas": 3})
        self.assertEqual([step(f"fill#{n}", rows).minutes for n in (1, 2, 3, 4)], [20, 15, 5, 5])


class Filtering(unittest.TestCase):
    def test_hydrogen_is_spoken_of_where_a_metal_drives_another_out(self) -> None:
        self.assertNotIn("ydrogen", whole(steps("precipitation", BARYTES)))
        self.assertIn("Hydrogen: no flame near", said(step("mix", steps("precipitation", COPPER))))

    def test_a_solid_is_weighed_and_a_solution_measured_at_eye_level(self) -> None:
        rows = steps("precipitation", BARYTES)
        self.assertNotIn("eye level", said(step("take_1", rows)))
        self.assertIn("eye level", said(step("take_2", rows)))
        self.assertEqual((step("take_1", rows).step.card, step("take_2", rows).step.card), ("", "meniscus"))

    def test_under_vacuum_nobody_pours_along_a_paper_s_rim(self) -> None:
        gravity, vacuum = (
            said(step("pour", steps("precipitation", BARYTES, filter=by))) for by in ("gravity", "vacuum")
        )
        self.assertIn("guide rod", gravity)
        self.assertNotIn("rod", vacuum)

    def test_nothing_cools_after_drying_in_air(self) -> None:
        self.assertEqual(step("weigh_collected#1", steps("precipitation", BARYTES)).minutes, 10)
        for drying in ("air", "desiccator"):
            row = step("weigh_collected#1", steps("precipitation", BARYTES, drying=drying))
            self.assertIsNone(row.minutes)
            self.assertNotIn("Cool", row.text(row.step.title))

    def test_metal_powder_is_not_dried_hot(self) -> None:
        self.assertIn("oxidises at 105 °C", said(step("dry_oven#1", steps("precipitation", COPPER))))
        self.assertNotIn("oxidises", said(step("dry_oven#1", steps("precipitation", BARYTES))))
        self.assertIn("oxidises at 105 °C", whole(steps("composition", {"metal": "Cu", "halogen": "Cl"})))

    def test_the_handwork_of_paper_and_funnel_is_told(self) -> None:
        rows = whole(steps("precipitation", BARYTES))
        for words in ("hard crease", "funnel's size", "guide rod", "swirl", "Wet paper tears"):
            self.assertIn(words, rows)


class Crucible(unittest.TestCase):
    def test_water_breaks_the_nitride_up_once(self) -> None:
        rows = steps("combination", {"element": "Mg", "partner": "O"}, {"vessel_product": 2}, nitride="yes")
        self.assertEqual([row.key for row in rows if row.step.id == "nitride"], ["nitride#1"])

    def test_cover_flame_and_vessel_have_their_own_words(self) -> None:
        plain = said(step("heat#1", steps("hydrate", {"salt": "ZnSO4"})))
        covered = said(step("heat#1", steps("hydrate", {"salt": "ZnSO4"}, cover="on")))
        sooty = said(step("heat#1", steps("hydrate", {"salt": "ZnSO4"}, heat="cool_flame")))
        self.assertNotIn("over on", plain)
        self.assertIn("Cover on from the start", covered)
        self.assertIn("soot", sooty)
        plate = step("fire", steps("hydrate", {"salt": "ZnSO4"}, heat="hot_plate"))
        self.assertIn("hot plate", said(plate))
        # no burner is drawn beside a plate
        self.assertEqual((plate.step.card, step("fire", steps("hydrate", {"salt": "ZnSO4"})).step.card), ("", "burner"))

    def test_a_rod_that_stays_in_is_weighed_from_the_beginning(self) -> None:
        self.assertIn("A rod", said(step("weigh_vessel", steps("hydrate", {"salt": "ZnSO4"}))))


class Synthesis(unittest.TestCase):
    def test_magnetite_is_not_acidified(self) -> None:
        options = {
            "equation": "2 FeCl3 + FeCl2 + 8 NH3 + 4 H2O -> Fe3O4 + 8 NH4Cl",
            "product": "Fe3O4",
            "reagents": [{"formula": "FeCl3"}, {"formula": "FeCl2"}, {"formula": "NH3", "concentration": "1 mol/L"}],
        }
        self.assertIn("do not acidify", said(step("work_up", steps("synthesis", options, filter="magnet"))))
        self.assertIn("acidify or neutralise", said(step("work_up", steps("synthesis", options))))
        self.assertIn("eye level", said(step("take_3", steps("synthesis", options))))
        self.assertNotIn("eye level", said(step("take_1", steps("synthesis", options))))


class Facts(unittest.TestCase):
    def test_what_a_method_tells_is_what_its_procedure_knows(self) -> None:
        for name, method in all_methods().items():
            course = procedure_named(name, None)
            assert course is not None
            for shape in method.bench.shapes():
                for fact, word in method.facts(shape.options).items():
                    with self.subTest(method=name, fact=fact):
                        self.assertIn(fact, course.facts)
                        self.assertTrue(not course.facts[fact] or word in course.facts[fact])

    def test_no_braces_are_left_on_the_page(self) -> None:
        for name, options in (
            ("gas_over_water", ZINC), ("gas_over_water", PEROXIDE), ("precipitation", COPPER),
            ("decomposition", {"equations": ["2 Cu(NO3)2(s) -> 2 CuO(s) + 4 NO2(g) + O2(g)"]}),
            ("gas_density", {"gas": "H2"}),
        ):  # fmt: skip
            self.assertNotIn("{", whole(steps(name, options)))

    def test_the_kit_follows_too(self) -> None:
        course = procedure_named("gas_over_water", None)
        assert course is not None
        method = method_named("gas_over_water")
        for options, has, lacks in ((ZINC, "cage", "flask"), (PEROXIDE, "catalyst", "cage")):
            items = " ".join(row.item for row in kit_of(course, {}, 1, method.facts(parse_options(method, options))))
            self.assertIn(has, items)
            self.assertNotIn(lacks, items)
