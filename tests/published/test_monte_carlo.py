"""Uncertainties against Monte Carlo (JCGM 101:2008, chapter 7): the same chain by hand, 20 000 draws of every reading.

No code is shared: the vapour and the density of water are other fits than the program's (Buck 1981; Kell 1975, both
from memory), the molar masses are typed here. Half-widths are drawn as rectangles, as the run file says.
"""

from __future__ import annotations

import math
import random
import unittest
from collections.abc import Callable
from statistics import mean, stdev
from typing import Any

from claykettle.core.run import TrialEvaluation, evaluate_run
from claykettle.formats.run_file import run_from

DRAWS = 20_000


def trial(method: str, options: dict[str, Any], readings: dict[str, Any], **half_widths: str) -> TrialEvaluation:
    document = {
        "format": "clay-kettle/run",
        "version": 1,
        "method": method,
        "options": options,
        "instruments": {kind: {"half_width": width} for kind, width in half_widths.items()},
        "trials": [{"label": "1", "readings": readings}],
    }
    return evaluate_run(run_from(document)).trials[0]


def drawn(chain: Callable[[Callable[[float, float], float]], float]) -> tuple[float, float]:
    """Mean and standard deviation of a chain over all draws; it is given what draws a reading of a half-width."""
    source = random.Random(20)

    def near(value: float, half_width: float) -> float:
        return source.uniform(value - half_width, value + half_width)

    found = [chain(near) for _ in range(DRAWS)]
    return mean(found), stdev(found)


def buck_hpa(celsius: float) -> float:
    return 6.1121 * math.exp((18.678 - celsius / 234.5) * celsius / (257.14 + celsius))


def kell(celsius: float) -> float:
    t = celsius
    top = 999.83952 + 16.945176 * t - 7.9870401e-3 * t**2 - 46.170461e-6 * t**3 + 105.56302e-9 * t**4
    return (top - 280.54253e-12 * t**5) / (1 + 16.879850e-3 * t)


class AgainstMonteCarlo(unittest.TestCase):
    def held(
        self, found: TrialEvaluation, name: str, expected: tuple[float, float], bias: float = 0.1, off: float = 0.04
    ) -> None:
        """The uncertainty within `off` of the drawn one; the value within a tenth of it, or `bias` where a choice bends
        the distribution.
        """
        result = found.result(name)
        assert result is not None, name
        value, spread = expected
        self.assertLess(abs(result.standard_uncertainty / spread - 1), off, (name, result, expected))
        self.assertLess(abs(result.value - value) / spread, bias, (name, result, expected))

    def test_an_oxide(self) -> None:
        found = trial(
            "combination",
            {"element": "Sn", "partner": "O", "max_index": 4},
            {"vessel": "24.310 g", "vessel_element": "25.512 g", "vessel_product": ["25.836 g", "25.836 g"]},
            balance="0.002 g",
        )

        def chain(near: Any) -> float:
            vessel, loaded, product = near(24.310, 0.002), near(25.512, 0.002), near(25.836, 0.002)
            return (product - loaded) / 15.999 / ((loaded - vessel) / 118.71)

        self.held(found, "partner_ratio", drawn(chain))

    def test_a_gas_over_water_at_the_seam_of_two_formulas(self) -> None:
        for celsius in ("39.0", "40.0", "41.0"):
            found = trial(
                "gas_over_water",
                {"reagent": "Zn", "equation": "Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)"},
                {"sample": "0.1012 g", "volume_end": "40.90 mL", "temperature": f"{celsius} degC",
                 "barometer": "997.7 hPa", "level_difference": "84 mm"},
                balance="0.0005 g", volume="0.1 mL", thermometer="0.2 degC", barometer="1 hPa", ruler="1 mm",
            )  # fmt: skip

            def chain(near: Any, celsius: float = float(celsius)) -> float:
                mass, volume, t = near(0.1012, 0.0005), near(40.90, 0.1) * 1e-6, near(celsius, 0.2)
                dry = near(99770, 100) - 100 * buck_hpa(t) - kell(t) * 9.80665 * near(0.084, 0.001)
                return 100 * dry * volume / (8.314462618 * (t + 273.15)) / (mass / 65.38)

            self.held(found, "percent_reacted", drawn(chain))
            head = found.result("head_pressure")
            assert head is not None
            self.assertLess(head.standard_uncertainty, 0.007)

    def test_a_table_at_its_very_end_keeps_its_slope(self) -> None:
        found = trial(
            "gas_over_water",
            {"reagent": "Zn", "equation": "Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)"},
            {"sample": "0.1012 g", "volume_end": "34.90 mL", "temperature": "0.0 degC", "barometer": "997.7 hPa"},
            balance="0.0005 g", volume="0.1 mL", thermometer="0.2 degC", barometer="1 hPa",
        )  # fmt: skip
        vapour = found.result("vapour_pressure")
        assert vapour is not None
        slope = (buck_hpa(0.1) - buck_hpa(-0.1)) / 0.2 / 10  # kPa/K
        self.assertLess(abs(vapour.standard_uncertainty / (slope * 0.2 / 3**0.5) - 1), 0.02)

    def test_a_headspace_that_keeps_its_gas(self) -> None:
        found = trial(
            "gas_by_mass_loss",
            {"equations": ["CaCO3 + 2 HCl -> CaCl2 + H2O + CO2"],
             "dissolved": {"volume": {"text": "50 mL", "half_width": "2 mL"},
                           "temperature": {"text": "22 degC", "half_width": "3 degC"}},
             "headspace_volume": {"text": "300 mL", "half_width": "30 mL"}},
            {"vessel_before": "95.12 g", "sample": "2.03 g", "vessel_after": "96.40 g"},
            balance="0.01 g",
        )  # fmt: skip

        def chain(near: Any) -> float:
            sample, lost = near(2.03, 0.01), 0.0
            lost = near(95.12, 0.01) + sample - near(96.40, 0.01)
            volume, liquid, kelvin = near(300, 30) * 1e-6, near(50, 2) * 1e-6, near(22, 3) + 273.15
            # ideal gases: half a percent off in the density of carbon dioxide plays no part in its spread
            dense = 101325 * 44.009e-3 / (8.314462618 * kelvin) * 1.0055
            air = 101325 * 28.964e-3 / (8.314462618 * kelvin) * 0.9960
            vapour = 100 * buck_hpa(kelvin - 273.15)
            henry = 3.3e-4 * math.exp(2400 * (1 / kelvin - 1 / 298.15))
            amount = (lost + 1000 * volume * (dense - air)) / 44.009 + henry * (101325 - vapour) * liquid
            return 100 * amount * 100.086 / sample

        self.held(found, "percent_purity", drawn(chain))

    def test_two_reagents_nearly_as_the_equation_asks(self) -> None:
        """Whichever runs out, the yield hangs on the other too: from a clear excess to an exact tie."""
        for milligrams in (380, 402, 407.5, 412, 440):
            chloride = f"{milligrams / 1000:.4f} g"
            found = trial(
                "precipitation",
                {"equation": "BaCl2 + Na2SO4 -> BaSO4 + 2 NaCl", "product": "BaSO4", "collector": "dish",
                 "reagents": [{"formula": "BaCl2"}, {"formula": "Na2SO4", "concentration": "0.100 mol/L"}]},
                {"reagent_1": chloride, "reagent_2": "19.6 mL", "collected": ["0.430 g", "0.430 g"]},
                balance="0.0005 g", liquid_volume="0.5 mL",
            )  # fmt: skip

            def chain(near: Any, barium: float = milligrams / 1000) -> float:
                extent = min(near(barium, 0.0005) / 208.227, near(19.6, 0.5) * 0.1e-3)
                return extent * 233.383

            self.held(found, "theoretical_yield", drawn(chain), bias=0.8)

    def test_the_nearest_of_two_equations(self) -> None:
        """Half-way between two equations the yield is either's: the uncertainty must know both, here to two fifths."""
        for after in ("31.310 g", "31.255 g", "31.242 g", "31.230 g"):
            found = trial(
                "decomposition",
                {"equations": ["2 NaHCO3(s) -> Na2CO3(s) + H2O(g) + CO2(g)", "NaHCO3(s) -> NaOH(s) + CO2(g)"]},
                {"vessel": "30.000 g", "vessel_sample": "32.250 g", "vessel_residue": [after, after]},
                balance="0.05 g",
            )

            def chain(near: Any, after: float = float(after.split()[0])) -> float:
                vessel = near(30.0, 0.05)
                sample, residue = near(32.25, 0.05) - vessel, near(after, 0.05) - vessel
                marks = (105.988 / (2 * 84.006), 39.997 / 84.006)
                nearest = min(marks, key=lambda mark: abs(mark - residue / sample))
                return 100 * residue / (sample * nearest)

            self.held(found, "percent_yield", drawn(chain), bias=1.2, off=0.4)

    def test_ten_equal_papers_on_a_coarse_balance_are_no_surer_than_one(self) -> None:
        options = {"equation": "BaCl2 + Na2SO4 -> BaSO4 + 2 NaCl", "product": "BaSO4"}
        taken = {"reagent_1": "0.500 g", "reagent_2": "0.400 g"}
        ten = trial(
            "precipitation",
            options | {"collector": "papers_mean"},
            taken | {"papers": ["0.83 g"] * 10, "collected": ["1.31 g", "1.31 g"]},
            balance="0.01 g",
        )
        one = trial(
            "precipitation",
            options | {"collector": "paper"},
            taken | {"paper": "0.83 g", "collected": ["1.31 g", "1.31 g"]},
            balance="0.01 g",
        )
        pair = [row.result("percent_yield") for row in (ten, one)]
        assert pair[0] is not None and pair[1] is not None
        self.assertGreaterEqual(pair[0].standard_uncertainty, pair[1].standard_uncertainty * 0.999)
