"""Sizes of samples: what practitioners take, what the bench model and the budget say, and refusals."""

from __future__ import annotations

import math
import unittest
from collections.abc import Mapping
from decimal import Decimal
from itertools import pairwise
from typing import Any

from hypothesis import given, settings
from hypothesis.strategies import floats, sampled_from

from claykettle.core.errors import Refusal
from claykettle.core.method import Setting
from claykettle.core.methods.registry import all_methods, method_named, shipped_procedures
from claykettle.core.planning.bounds import bounds
from claykettle.core.planning.probe import Instruments, Probe, last
from claykettle.core.planning.sizing import Sizing, size
from claykettle.core.run import evaluate_run, shape_of, slots_of, usable_readings
from claykettle.formats.run_file import run_from

WIDTHS = {
    "balance": Decimal("1e-7"), "coarse_balance": Decimal("1e-5"), "volume": Decimal("5e-8"),
    "liquid_volume": Decimal("5e-7"), "thermometer": Decimal("0.5"), "barometer": Decimal("50"),
    "ruler": Decimal("5e-4"), "hygrometer": Decimal("0.05"),
}  # fmt: skip
MAGNESIUM = {"reagent": "Mg", "equation": "Mg(s) + 2 HCl(aq) -> MgCl2(aq) + H2(g)"}
ALUMINIUM = {"reagent": "Al", "equation": "2 Al(s) + 6 HCl(aq) -> 2 AlCl3(aq) + 3 H2(g)"}
BURETTE = {"tube": {"reading": "inverted_burette", "mark": "50 mL"}}
WHITING = "CaCO3(s) + 2 HCl(aq) -> CaCl2(aq) + H2O(l) + CO2(g)"
OPTIONS: Mapping[str, dict[str, Any]] = {
    "filtration": {},
    "hydrate": {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"},
    "combination": {"element": "Sn", "partner": "S", "product": "SnS"},
    "decomposition": {"equations": ["Cu2(OH)2CO3(s) -> 2 CuO(s) + H2O(g) + CO2(g)"]},
    "gas_over_water": MAGNESIUM | BURETTE,
    "gas_by_mass_loss": {"equations": [WHITING]},
    "gas_density": {"gas": "Ar"},
    "precipitation": {
        "equation": "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)",
        "reagents": ["BaCl2.2H2O", "Na2SO4 0.250 mol/L"],
    },
    "recrystallization": {"solute": "KNO3"},
    "crystal_growth": {"solute": "KAl(SO4)2.12H2O"},
    "synthesis": {
        "equation": "C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2",
        "reagents": ["C7H6O3", "C4H6O3 1.08 g/mL"],
    },
    "composition": {"metal": "Co", "accepted": "CoCl2.6H2O"},
}


SIZED = [name for name, method in all_methods().items() if method.foresight is not None]
"""The methods that have something to be sized."""


def probe(
    method: str,
    options: Mapping[str, Any] | None = None,
    schools: Mapping[str, str] | None = None,
    widths: Mapping[str, Decimal] | None = None,
    capacities: Mapping[str, Decimal] | None = None,
    **setting: str,
) -> Probe:
    """A method as a plan looks at it."""
    found = method_named(method)
    course = next(row for row in shipped_procedures() if row.method == method)
    if schools is None:
        schools = {"tube": "burette"} if method == "gas_over_water" else {}
    parsed = found.options.model_validate(OPTIONS[method] if options is None else options)
    slots = slots_of(course, schools, usable_readings(found, parsed))
    shape = shape_of(found, parsed, frozenset(slots))
    assert found.foresight is not None
    taken = Setting.model_validate(dict(found.foresight.usual) | setting)
    return Probe(found, shape, taken, Instruments(WIDTHS | (widths or {}), capacities or {}))


def sized(method: str, *arguments: Any, asked: str = "", **more: Any) -> Sizing:
    """The window of a sample."""
    plan = probe(method, *arguments, **more)
    return size(plan.method, plan.shape, plan.setting, plan.instruments, asked, "sample")


def most(found: Sizing) -> float:
    """The upper end."""
    assert found.high is not None
    return found.high.amount


class CommonPractice(unittest.TestCase):
    """What practitioners take, at 22 °C and 760 mmHg: common practice, no single source."""

    ROOM: Mapping[str, str] = {"temperature": "22 degC", "barometer": "760 mmHg", "dead_volume": "0 mL"}

    def test_a_50_ml_burette_wants_less_than_about_45_mg_of_magnesium(self) -> None:
        found = most(sized("gas_over_water", MAGNESIUM | BURETTE, **self.ROOM))
        self.assertLess(found, 0.045)
        self.assertGreater(found, 0.040)

    def test_a_10_ml_cylinder_wants_less_than_about_10_mg(self) -> None:
        cylinder = MAGNESIUM | {"tube": {"mark": "10 mL"}}
        found = most(sized("gas_over_water", cylinder, {}, wanted="3 %", **self.ROOM))
        self.assertLess(found, 0.010)
        self.assertGreater(found, 0.008)

    def test_aluminium_wants_less_than_magnesium(self) -> None:
        """By the ratio of their equivalent masses: 26.98 / 3 to 24.305 / 2."""
        both = [most(sized("gas_over_water", metal | BURETTE, **self.ROOM)) for metal in (ALUMINIUM, MAGNESIUM)]
        self.assertAlmostEqual(both[0] / both[1], (26.981538 / 3) / (24.305 / 2), places=4)

    def test_a_gram_of_magnesium_makes_about_a_litre_of_wet_hydrogen(self) -> None:
        tube = MAGNESIUM | {"tube": {"mark": "2 L"}}
        shown = sized("gas_over_water", tube, {}, asked="1 g", **self.ROOM).asked
        assert shown is not None
        text = next(row.text for row in shown.readings if row.label == "tube at the end")
        self.assertAlmostEqual(float(text.removesuffix(" mL")), 1020, delta=5)

    def test_about_a_gram_goes_into_a_crucible(self) -> None:
        found = sized("hydrate", widths={"balance": Decimal("1e-6")})
        assert found.low is not None and found.about is not None
        self.assertTrue(0.3 < found.low.amount < 1 < most(found))
        self.assertTrue(0.8 <= found.about.amount <= 4)


class Ends(unittest.TestCase):
    def test_a_reading_goes_straight_with_the_sample_in_every_method(self) -> None:
        """The ends are found by two points; a method whose readings bend would be sized wrongly."""
        for method in SIZED:
            plan = probe(method)
            rows = [plan.readings(plan.most * part) for part in (1e-3, 2e-3, 7e-3)]
            for name in rows[0]:
                a, b, c = (last(row[name]) for row in rows)
                with self.subTest(method, reading=name):
                    self.assertAlmostEqual(c - a, 6 * (b - a), delta=1e-9 + 1e-6 * abs(c - a))

    def test_at_the_upper_end_the_tube_is_nine_tenths_full(self) -> None:
        plan = probe("gas_over_water", dead_volume="2.4 mL")
        high = next(row for row in bounds(plan) if row.label == "tube full")
        self.assertAlmostEqual(last(plan.readings(high.amount / 1000)["volume_end"]), 0.1 * 50e-6, places=12)

    def test_below_the_last_mark_is_the_lower_end_of_a_burette_with_a_large_dead_volume(self) -> None:
        plan = probe("gas_over_water", dead_volume="30 mL", wanted="5 %")
        low = next(row for row in bounds(plan) if row.label == "last mark")
        self.assertAlmostEqual(last(plan.readings(low.amount / 1000)["volume_end"]), 50e-6, places=12)

    def test_at_the_lower_end_the_run_itself_says_the_band_that_was_wanted(self) -> None:
        """The evaluation of a run file with those readings, instruments and no settling."""
        plan = probe("hydrate", widths={"balance": Decimal("1e-6")})
        low = next(row for row in bounds(plan) if row.side == "low")
        readings = plan.readings(low.amount / 1000)
        end = f"{1000 * last(readings['vessel_residue']):.6f} g"
        file = {
            "format": "clay-kettle/run", "version": 1, "method": "hydrate", "options": OPTIONS["hydrate"],
            "instruments": {"balance": {"half_width": "0.001 g"}},
            "trials": [{"label": "1", "readings": {
                "vessel": f"{1000 * readings['vessel']:.6f} g",
                "vessel_sample": f"{1000 * readings['vessel_sample']:.6f} g",
                "vessel_residue": [end, end]}}],
        }  # fmt: skip
        ratio = evaluate_run(run_from(file)).trials[0].result("water_ratio")
        assert ratio is not None
        # the file's two last weighings are the same figure but two variables, as the plan takes them
        self.assertAlmostEqual(2 * ratio.standard_uncertainty / ratio.value, 0.01, delta=0.0001)

    def test_the_balance_carries_the_vessel_too(self) -> None:
        found = sized("gas_by_mass_loss", capacities={"balance": Decimal("0.112")}, vessel_mass="110 g")
        # what stays on the pan after 44.01 of every 100.087 g went off
        self.assertAlmostEqual(most(found), 2 / (1 - 44.009 / 100.086), places=2)

    def test_a_vessel_too_heavy_for_its_balance_leaves_no_window(self) -> None:
        found = sized("hydrate", capacities={"balance": Decimal("0.025")})
        self.assertIsNone(found.about)
        self.assertIn("stop", [row.level for row in found.remarks])

    def test_the_solution_must_leave_room_to_foam(self) -> None:
        found = sized("gas_by_mass_loss", concentration="1 mol/L", excess="200 %", vessel_volume="300 mL")
        # 100 mL of 1 mol/L with three times what is needed: 33.3 mmol react, half as many of the carbonate
        self.assertAlmostEqual(most(found), 0.1 / 3 / 2 * 100.086, places=2)

    def test_a_finer_balance_allows_a_smaller_sample(self) -> None:
        lows = [sized("hydrate", widths={"balance": Decimal(width)}).low for width in ("1e-5", "1e-6", "1e-7")]
        amounts = [row.amount for row in lows if row is not None]
        self.assertEqual(len(amounts), 3)
        self.assertTrue(all(more > 5 * less for more, less in pairwise(amounts)))

    def test_no_sample_reaches_what_the_room_s_instruments_forbid(self) -> None:
        """A barometer that is 20 hPa off limits every tube, however much gas is in it."""
        found = sized("gas_over_water", widths={"barometer": Decimal("2000")})
        self.assertNotIn("± 1 %", [row.label for row in found.bounds])
        self.assertRegex(found.remarks[0].text, r"No sample reaches ± 1 %.*barometer")

    def test_the_largest_that_fits_is_named_where_none_is_known_well_enough(self) -> None:
        cylinder = MAGNESIUM | {"tube": {"mark": "10 mL"}}
        found = sized("gas_over_water", cylinder, {}, widths={"balance": Decimal("1e-6")})
        assert found.about is not None
        self.assertEqual(found.about.text, "0.00800 g")
        self.assertRegex(found.remarks[0].text, r"No sample reaches ± 1 %: the largest gives ± 1[34] %.*sample")

    def test_where_no_sample_does_both_that_is_said(self) -> None:
        """30 mL of dead volume take 1.218 mmol at 20 °C and 1013 hPa, so 29.6 mg; the balance carries 10 mg."""
        found = sized("gas_over_water", dead_volume="30 mL", wanted="5 %", capacities={"balance": Decimal("1e-5")})
        self.assertIsNone(found.about)
        self.assertIn("No sample does both: 'last mark' wants at least 0.0296 g", found.remarks[0].text)


class Fits(unittest.TestCase):
    def test_too_much_is_said_with_the_scale_it_leaves(self) -> None:
        remark = sized("gas_over_water", asked="0.06 g").remarks[-1]
        self.assertEqual(remark.level, "stop")
        self.assertIn("'tube at the end' leaves the scale (0.00 mL)", remark.text)

    def test_what_fits_is_said_with_its_band(self) -> None:
        remark = sized("gas_over_water", asked="30 mg").remarks[-1]
        self.assertEqual(remark.level, "good")
        self.assertRegex(remark.text, r"fits, and the result is known to ± 0\.\d+ %")

    def test_too_little_stays_usable_but_is_less_certain(self) -> None:
        remark = sized("gas_over_water", asked="0.006 g").remarks[-1]
        self.assertEqual(remark.level, "watch")
        self.assertIn("wider than ± 1 %", remark.text)

    def test_what_is_no_mass_is_refused_at_its_field(self) -> None:
        for text in ("much", "-1 g", "0 g", "3 mL"):
            with self.subTest(text), self.assertRaises(Refusal) as caught:
                sized("hydrate", asked=text)
            self.assertEqual(caught.exception.faults[0].path, "sample")

    def test_what_is_not_known_beforehand_is_asked_for(self) -> None:
        open_options = {
            "hydrate": {"salt": "ZnSO4"}, "combination": {"element": "Sn", "partner": "S"}, "gas_density": {},
            "gas_over_water": {},
        }  # fmt: skip
        for method, options in open_options.items():
            with self.subTest(method), self.assertRaises(Refusal) as caught:
                sized(method, options, {})
            fault = caught.exception.faults[0]
            self.assertEqual(fault.code, "plan-open")
            self.assertTrue(fault.path.startswith("options."))

    def test_a_window_is_found_for_every_method(self) -> None:
        for method in SIZED:
            found = sized(method)
            with self.subTest(method):
                assert found.about is not None and found.about.percent is not None
                self.assertLessEqual(found.about.percent, 1.0)
                self.assertGreater(len(found.curve), 10)
                self.assertTrue(all(math.isfinite(point.percent) for point in found.curve))


class AnySample(unittest.TestCase):
    """Inside the window a sample fits and is known well enough; outside it is told which end it breaks."""

    @settings(max_examples=25, deadline=None)
    @given(share=floats(0.02, 3.0), method=sampled_from(sorted(SIZED)), coarse=floats(0.2, 3.0))
    def test_the_window_and_the_verdict_on_a_sample_agree(self, share: float, method: str, coarse: float) -> None:
        widths = {"balance": Decimal(str(round(coarse, 3))) * Decimal("1e-6")}
        wanted = "5 %" if method == "gas_over_water" else "2 %"
        whole = sized(method, widths=widths, wanted=wanted)
        high, low = whole.high, whole.low
        if high is None or low is None or all(row.is_fixed for row in whole.bounds):
            return  # a balance so coarse that no sample is known as well as is wanted
        amount = share * high.amount
        found = sized(method, widths=widths, wanted=wanted, asked=f"{amount:.6g} {whole.unit}")
        assert found.asked is not None
        level = found.remarks[-1].level
        if amount > 1.001 * high.amount:
            self.assertEqual(level, "stop")
        elif amount > 1.01 * low.amount and amount < 0.999 * high.amount:
            self.assertEqual(level, "good")
            self.assertLessEqual(found.asked.percent or 100.0, found.wanted * 1.001)
        elif amount < 0.99 * low.amount:
            self.assertNotEqual(level, "good")


class Beside(unittest.TestCase):
    def test_a_ribbon_is_cut_by_its_mass_per_length(self) -> None:
        ribbon = MAGNESIUM | BURETTE | {"linear_density": "1.00 mg/mm"}
        found = sized("gas_over_water", ribbon, {"sample": "ribbon", "tube": "burette"}, asked="30 mg").asked
        assert found is not None
        self.assertIn("3.00 cm make 0.0300 g.", [row.text for row in found.statements])

    def test_a_long_tube_tells_how_many_trials_it_takes(self) -> None:
        tube = MAGNESIUM | {"tube": {"mark": "500 mL"}}
        found = sized("gas_over_water", tube, {"tube": "long"}, asked="0.1 g", temperature="22 degC").asked
        assert found is not None
        # 102 mL each into nine tenths of 500 mL
        self.assertIn("4 of this size go into one filling of 500 mL.", [row.text for row in found.statements])

    def test_the_acid_with_its_excess(self) -> None:
        found = sized("gas_by_mass_loss", asked="1 g", concentration="3 mol/L", excess="200 %").asked
        assert found is not None
        need = found.needs[0]
        self.assertEqual(need.formula, "HCl")
        # 1 g of 100.086 g/mol takes 19.98 mmol; three times that is 59.95 mmol, in 3 mol/L 19.98 mL
        self.assertEqual(need.volume_text, "20.0 mL")


class Precipitations(unittest.TestCase):
    def test_the_yield_counts_the_salt_s_own_water(self) -> None:
        """1 g of the dihydrate (244.26 g/mol) gives 233.38 / 244.26 g of the sulfate; atomic weights of IUPAC 2021."""
        found = sized("precipitation", asked="1 g").asked
        assert found is not None
        self.assertIn("1.8555 g", [row.text for row in found.readings])
        self.assertEqual(found.needs[0].formula, "Na2SO4")
        self.assertEqual(found.needs[0].volume_text, "19.7 mL")

    def test_the_solution_is_read_as_its_label_says(self) -> None:
        """1 g is 4.094 mmol; 20 % more than that, at 0.250 mol/L, is 19.65 mL."""
        found = sized("precipitation", asked="1 g").asked
        assert found is not None
        self.assertIn(("Na2SO4 solution", "19.7 mL"), [(row.label, row.text) for row in found.readings])

    def test_a_mean_of_ten_papers_wants_a_larger_batch(self) -> None:
        """Their scatter counts in full, so the same band needs more solid on the paper."""
        own = sized("precipitation", wanted="2 %")
        mean = sized("precipitation", OPTIONS["precipitation"] | {"collector": "papers_mean"}, wanted="2 %")
        assert own.low is not None and mean.low is not None
        self.assertGreater(mean.low.amount, 2 * own.low.amount)

    def test_what_is_weighed_comes_first(self) -> None:
        reagents = ["Na2SO4 0.250 mol/L", "BaCl2.2H2O"]
        with self.assertRaises(Refusal) as refused:
            sized("precipitation", OPTIONS["precipitation"] | {"reagents": reagents})
        self.assertEqual(refused.exception.faults[0].path, "options.reagents")
