"""Every method worked out with a pocket calculator: readings drawn, lines by formulas written here, rounding by hand.

Nothing of the program is imported. Atomic weights are those of several tables that are in use: IUPAC's abridged ones
(2021), its longer ones of about 2005, and a school's with two decimals (all from memory, as a teacher has them).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from random import Random
from typing import Any

Values = dict[str, float]
TABLES: Mapping[str, Mapping[str, float]] = {
    "abridged": {
        "H": 1.008, "C": 12.011, "N": 14.007, "O": 15.999, "Na": 22.990, "Mg": 24.305, "Al": 26.982, "S": 32.06,
        "Cl": 35.45, "Ar": 39.95, "K": 39.098, "Ca": 40.078, "Co": 58.933, "Cu": 63.546, "Zn": 65.38, "Sn": 118.71,
        "Ba": 137.33,
    },
    "longer": {
        "H": 1.00794, "C": 12.0107, "N": 14.0067, "O": 15.9994, "Na": 22.98977, "Mg": 24.3050, "Al": 26.981538,
        "S": 32.065, "Cl": 35.453, "Ar": 39.948, "K": 39.0983, "Ca": 40.078, "Co": 58.9332, "Cu": 63.546, "Zn": 65.39,
        "Sn": 118.710, "Ba": 137.327,
    },
    "school": {
        "H": 1.01, "C": 12.01, "N": 14.01, "O": 16.00, "Na": 22.99, "Mg": 24.31, "Al": 26.98, "S": 32.07, "Cl": 35.45,
        "Ar": 39.95, "K": 39.10, "Ca": 40.08, "Co": 58.93, "Cu": 63.55, "Zn": 65.38, "Sn": 118.7, "Ba": 137.3,
    },
}  # fmt: skip
WATER = {"H": 2, "O": 1}


@dataclass(frozen=True)
class Line:
    """A line: in which unit it is claimed, and how it comes from readings and lines above (the keys of `of`)."""

    name: str
    unit: str
    of: Callable[[Values, Mapping[str, float]], float]
    decimals: int | None = None
    """So many decimals a difference of weighings has; None: a quotient, rounded to significant figures."""


@dataclass(frozen=True)
class Work:
    """A trial of a method: the run file's part, the readings as figures, the lines, and the words that fit."""

    method: str
    options: Mapping[str, Any]
    readings: Mapping[str, Any]
    shared: Mapping[str, Any]
    values: Values
    lines: tuple[Line, ...]
    words: Mapping[str, str] = field(default_factory=dict)
    wrong_ways: Mapping[str, Mapping[str, Callable[[Values, Mapping[str, float]], float]]] = field(default_factory=dict)
    """By line and slip: how it comes wrongly."""

    def document(self) -> dict[str, Any]:
        """The run file."""
        return {
            "format": "clay-kettle/run", "version": 1, "method": self.method, "options": dict(self.options),
            "instruments": {"balance": {"half_width": "0.001 g"}}, "shared": dict(self.shared),
            "trials": [{"label": "1", "readings": dict(self.readings)}],
        }  # fmt: skip


def mass(weights: Mapping[str, float], **counts: float) -> float:
    """A molar mass in g/mol."""
    return sum(weights[symbol] * count for symbol, count in counts.items())


def rounded(value: float, figures: int) -> str:
    """A figure to so many significant figures, as a person writes it."""
    if value == 0:
        return "0"
    places = figures - 1 - math.floor(math.log10(abs(value)))
    return f"{round(value, places):.{max(0, places)}f}"


def grams(value: float) -> str:
    return f"{value:.3f} g"


def crucible(draw: Random, vessel: str, loaded: str, after: str, sample: float, left: float) -> tuple[Any, Values]:
    """Vessel, vessel with its content, and after heating three times, to the milligram."""
    empty = round(draw.uniform(24, 46), 3)
    full = round(empty + sample, 3)
    last = round(empty + left, 3)
    first = round(last + draw.uniform(0.008, 0.02), 3)
    values = {vessel: empty, loaded: full, after: last, f"{after}_first": first}
    rows = [grams(first), grams(last + 0.001), grams(last)]
    return {vessel: grams(empty), loaded: grams(full), after: rows}, values


DRIED = (
    Line("sample_mass", "g", lambda v, w: v["vessel_sample"] - v["vessel"], 3),
    Line("residue_mass", "g", lambda v, w: v["vessel_residue"] - v["vessel"], 3),
    Line("water_mass", "g", lambda v, w: v["vessel_sample"] - v["vessel_residue"], 3),
    Line("water_percent", "%", lambda v, w: 100 * v["water_mass"] / v["sample_mass"]),
    Line("water_amount", "mol", lambda v, w: v["water_mass"] / mass(w, **WATER)),
)
"""What drying tells, of whatever salt."""


def hydrate(draw: Random) -> Work:
    """Zinc sulfate: about seven waters, sometimes one that is off."""
    true = draw.choice([6.9, 7.0, 7.05, 6.4])
    sample = draw.uniform(1.2, 2.2)
    w = TABLES["abridged"]
    salt, water = mass(w, Zn=1, S=1, O=4), mass(w, **WATER)
    left = sample * salt / (salt + true * water)
    readings, v = crucible(draw, "vessel", "vessel_sample", "vessel_residue", sample, left)
    lines = (
        *DRIED,
        Line("salt_amount", "mol", lambda v, w: v["residue_mass"] / mass(w, Zn=1, S=1, O=4)),
        Line("water_ratio", "", lambda v, w: v["water_amount"] / v["salt_amount"]),
    )
    ways = {
        "sample_mass": {"other-reading": lambda v, w: v["vessel_sample"]},
        "residue_mass": {"other-reading": lambda v, w: v["vessel_residue_first"] - v["vessel"]},
        "water_mass": {
            "sign": lambda v, w: v["vessel_residue"] - v["vessel_sample"],
            "other-reading": lambda v, w: v["vessel_sample"] - v["vessel_residue_first"],
        },
        "water_percent": {"percent-100": lambda v, w: v["water_mass"] / v["sample_mass"]},
        "water_amount": {"inverted": lambda v, w: mass(w, **WATER) / v["water_mass"]},
        "salt_amount": {
            "truncated-weight": lambda v, w: v["residue_mass"] / (65 + 32 + 4 * 15),
            "other-reading": lambda v, w: v["sample_mass"] / mass(w, Zn=1, S=1, O=4),
        },
        "water_ratio": {"inverted": lambda v, w: v["salt_amount"] / v["water_amount"]},
    }
    options = {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}
    words = {"formula": "ZnSO4.7H2O"} if abs(true - 7) < 0.08 else {}
    return Work("hydrate", options, readings, {}, v, lines, words, ways)


def combination(draw: Random) -> Work:
    """Tin with sulfur."""
    w = TABLES["abridged"]
    tin = draw.uniform(0.9, 1.6)
    sulfur = tin / w["Sn"] * w["S"] * draw.choice([0.98, 1.0, 1.01, 1.4])
    empty = round(draw.uniform(22, 30), 3)
    v = {"vessel": empty, "vessel_element": round(empty + tin, 3), "vessel_product": round(empty + tin + sulfur, 3)}
    v["vessel_product_first"] = round(v["vessel_product"] + 0.014, 3)
    readings = {
        "vessel": grams(v["vessel"]), "vessel_element": grams(v["vessel_element"]),
        "vessel_product": [grams(v["vessel_product_first"]), grams(v["vessel_product"])],
    }  # fmt: skip
    lines = (
        Line("element_mass", "g", lambda v, w: v["vessel_element"] - v["vessel"], 3),
        Line("product_mass", "g", lambda v, w: v["vessel_product"] - v["vessel"], 3),
        Line("partner_mass", "g", lambda v, w: v["vessel_product"] - v["vessel_element"], 3),
        Line("partner_percent", "%", lambda v, w: 100 * v["partner_mass"] / v["product_mass"]),
        Line("element_amount", "mol", lambda v, w: v["element_mass"] / w["Sn"]),
        Line("partner_amount", "mol", lambda v, w: v["partner_mass"] / w["S"]),
        Line("partner_ratio", "", lambda v, w: v["partner_amount"] / v["element_amount"]),
    )
    ways = {
        "element_mass": {"other-reading": lambda v, w: v["vessel_element"]},
        "product_mass": {"other-reading": lambda v, w: v["vessel_product_first"] - v["vessel"]},
        "partner_mass": {"sign": lambda v, w: v["vessel_element"] - v["vessel_product"]},
        "partner_percent": {
            "percent-100": lambda v, w: v["partner_mass"] / v["product_mass"],
            "inverted": lambda v, w: v["product_mass"] / v["partner_mass"] / 100,
        },
        "element_amount": {"inverted": lambda v, w: w["Sn"] / v["element_mass"]},
        "partner_amount": {"other-reading": lambda v, w: v["product_mass"] / w["S"]},
        "partner_ratio": {"inverted": lambda v, w: v["element_amount"] / v["partner_amount"]},
    }
    options = {"element": "Sn", "partner": "S", "product": "SnS", "candidates": ["SnS", "SnS2"]}
    return Work("combination", options, readings, {}, v, lines, {}, ways)


def decomposition(draw: Random) -> Work:
    """Malachite roasted to black oxide."""
    w = TABLES["abridged"]
    sample = draw.uniform(1.4, 2.4)
    fraction = 2 * mass(w, Cu=1, O=1) / mass(w, Cu=2, O=5, H=2, C=1)
    left = sample * (1 - (1 - fraction) * draw.choice([1.0, 0.99, 0.8]))
    readings, v = crucible(draw, "vessel", "vessel_sample", "vessel_residue", sample, left)

    def theory(v: Values, w: Mapping[str, float]) -> float:
        return v["sample_mass"] * 2 * mass(w, Cu=1, O=1) / mass(w, Cu=2, O=5, H=2, C=1)

    lines = (
        Line("sample_mass", "g", lambda v, w: v["vessel_sample"] - v["vessel"], 3),
        Line("residue_mass", "g", lambda v, w: v["vessel_residue"] - v["vessel"], 3),
        Line("gas_mass", "g", lambda v, w: v["vessel_sample"] - v["vessel_residue"], 3),
        Line("residue_percent", "%", lambda v, w: 100 * v["residue_mass"] / v["sample_mass"]),
        Line("theoretical_residue_mass", "g", theory),
        Line("percent_yield", "%", lambda v, w: 100 * v["residue_mass"] / v["theoretical_residue_mass"]),
        Line("sample_amount", "mol", lambda v, w: v["sample_mass"] / mass(w, Cu=2, O=5, H=2, C=1)),
    )
    ways = {
        "sample_mass": {"other-reading": lambda v, w: v["vessel_sample"]},
        "residue_mass": {"other-reading": lambda v, w: v["vessel_residue_first"] - v["vessel"]},
        "gas_mass": {"sign": lambda v, w: v["vessel_residue"] - v["vessel_sample"]},
        "residue_percent": {
            "percent-100": lambda v, w: v["residue_mass"] / v["sample_mass"],
            "other-reading": lambda v, w: 100 * v["gas_mass"] / v["sample_mass"],
        },
        "theoretical_residue_mass": {"mole-ratio-one": lambda v, w: theory(v, w) / 2},
        "percent_yield": {"inverted": lambda v, w: v["theoretical_residue_mass"] / v["residue_mass"] / 100},
        "sample_amount": {
            "inverted": lambda v, w: mass(w, Cu=2, O=5, H=2, C=1) / v["sample_mass"],
            "other-reading": lambda v, w: v["residue_mass"] / mass(w, Cu=2, O=5, H=2, C=1),
        },
    }
    options = {"equations": ["Cu2(OH)2CO3(s) -> 2 CuO(s) + H2O(g) + CO2(g)"]}
    return Work("decomposition", options, readings, {}, v, lines, {}, ways)


def vapour_kpa(celsius: float) -> float:
    """Over water (Buck 1981, from memory; better than 0.1 % between 0 and 40 °C)."""
    return 0.61121 * math.exp((18.678 - celsius / 234.5) * celsius / (257.14 + celsius))


R = 8.314


def gas_over_water(draw: Random) -> Work:
    """A metal in acid, hydrogen in a burette turned over; with aluminium three H2 come of two."""
    w = TABLES["abridged"]
    metal, per, equation = draw.choice([
        ("Zn", 1.0, "Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)"), ("Mg", 1.0, "Mg(s) + 2 HCl(aq) -> MgCl2(aq) + H2(g)"),
        ("Al", 1.5, "2 Al(s) + 6 HCl(aq) -> 2 AlCl3(aq) + 3 H2(g)"),
    ])  # fmt: skip
    celsius, pressure, level = round(draw.uniform(18, 26), 1), round(draw.uniform(94, 102), 2), draw.randint(20, 90)
    dead = round(draw.uniform(1.8, 3.2), 2)
    volume = draw.uniform(28, 44)
    dry = pressure - vapour_kpa(celsius) - 0.998 * 9.807 * level / 1000
    moles = dry * volume / (R * (celsius + 273.15)) / 1000
    weighed = round(moles / per * w[metal] * draw.choice([1.0, 1.01, 0.97]), 4)
    end = round(50 - (volume - dead), 2)
    v: Values = {
        "barometer": pressure, "celsius": celsius, "level": level, "dead": dead, "end": end, "sample": weighed,
        "per": per,
    }  # fmt: skip
    readings = {
        "dead_volume": f"{dead:.2f} mL", "sample": f"{weighed:.4f} g", "volume_end": f"{end:.2f} mL",
        "level_difference": f"{level} mm", "temperature": f"{celsius:.1f} degC",
    }  # fmt: skip

    def column(v: Values) -> float:
        return 0.998 * 9.80665 * v["level"] / 1000

    lines = (
        Line("end_volume", "mL", lambda v, w: 50 - v["end"] + v["dead"], 2),
        Line("dry_gas_pressure", "kPa", lambda v, w: v["barometer"] - vapour_kpa(v["celsius"]) - column(v)),
        Line(
            "gas_amount", "mol",
            lambda v, w: v["dry_gas_pressure"] * v["end_volume"] / 1000 / (R * (v["celsius"] + 273.15)),
        ),
        Line("sample_amount", "mol", lambda v, w: v["sample"] / w[metal]),
        Line("expected_gas_amount", "mol", lambda v, w: v["sample_amount"] * v["per"]),
        Line("molar_volume", "L/mol", lambda v, w: v["end_volume"] / 1000 / v["expected_gas_amount"]),
        Line(
            "standard_volume", "mL",
            lambda v, w: v["dry_gas_pressure"] * v["end_volume"] / (v["celsius"] + 273.15) * 273.15 / 101.325,
        ),
        Line("molar_volume_standard", "L/mol", lambda v, w: v["standard_volume"] / 1000 / v["expected_gas_amount"]),
    )  # fmt: skip
    ways: dict[str, dict[str, Callable[[Values, Mapping[str, float]], float]]] = {
        "end_volume": {
            "dead-volume-subtracted": lambda v, w: 50 - v["end"] - v["dead"],
            "other-reading": lambda v, w: v["end"],
        },
        "dry_gas_pressure": {
            "vapour-left-out": lambda v, w: v["barometer"] - column(v),
            "column-left-out": lambda v, w: v["barometer"] - vapour_kpa(v["celsius"]),
            "column-as-mercury": lambda v, w: v["barometer"] - vapour_kpa(v["celsius"]) - v["level"] * 0.133322,
        },
        "gas_amount": {
            "celsius-for-kelvin": lambda v, w: v["dry_gas_pressure"] * v["end_volume"] / 1000 / (R * v["celsius"]),
            "pressure-unit": lambda v, w: (
                v["dry_gas_pressure"] * 7.50062 * v["end_volume"] / 1000 / (R * (v["celsius"] + 273.15))
            ),
            "other-reading": lambda v, w: v["barometer"] * v["end_volume"] / 1000 / (R * (v["celsius"] + 273.15)),
        },
        "sample_amount": {"inverted": lambda v, w: w[metal] / v["sample"]},
        "molar_volume": {"power-of-ten": lambda v, w: v["end_volume"] / v["expected_gas_amount"]},
        "standard_volume": {
            "celsius-for-kelvin": lambda v, w: (
                v["dry_gas_pressure"] * v["end_volume"] / v["celsius"] * 273.15 / 101.325
            ),
        },
        "molar_volume_standard": {"inverted": lambda v, w: 1000 * v["expected_gas_amount"] / v["standard_volume"]},
    }
    if per != 1.0:
        ways["expected_gas_amount"] = {"mole-ratio-one": lambda v, w: v["sample_amount"]}
    options = {
        "reagent": metal,
        "equation": equation,
        "gas": "H2",
        "tube": {"reading": "inverted_burette", "mark": "50 mL"},
    }
    shared = {"barometer": f"{pressure:.2f} kPa"}
    return Work("gas_over_water", options, readings, shared, v, lines, {}, ways)


def gas_by_mass_loss(draw: Random) -> Work:
    """Whiting in acid."""
    w = TABLES["abridged"]
    sample = round(draw.uniform(1.2, 2.0), 3)
    dish = round(draw.uniform(4, 6), 3)
    gas = sample / mass(w, Ca=1, C=1, O=3) * mass(w, C=1, O=2) * draw.choice([0.97, 0.93, 0.88])
    before = round(draw.uniform(105, 120), 3)
    v = {
        "dish_sample": round(dish + sample, 3),
        "dish": dish,
        "before": before,
        "after": round(before + sample - gas, 3),
    }
    readings = {
        "vessel_before": grams(before), "dish_sample": grams(v["dish_sample"]), "dish": grams(dish),
        "vessel_after": grams(v["after"]),
    }  # fmt: skip
    lines = (
        Line("sample_mass", "g", lambda v, w: v["dish_sample"] - v["dish"], 3),
        Line("gas_mass", "g", lambda v, w: v["before"] + v["sample_mass"] - v["after"], 3),
        Line("free_amount", "mol", lambda v, w: v["gas_mass"] / mass(w, C=1, O=2)),
        Line("sample_amount", "mol", lambda v, w: v["sample_mass"] / mass(w, Ca=1, C=1, O=3)),
        Line("active_mass", "g", lambda v, w: v["free_amount"] * mass(w, Ca=1, C=1, O=3)),
        Line("percent_purity", "%", lambda v, w: 100 * v["active_mass"] / v["sample_mass"]),
    )
    ways = {
        "sample_mass": {"other-reading": lambda v, w: v["dish_sample"]},
        "gas_mass": {"sign": lambda v, w: v["after"] - v["before"] - v["sample_mass"]},
        "free_amount": {
            "inverted": lambda v, w: mass(w, C=1, O=2) / v["gas_mass"],
            "truncated-weight": lambda v, w: v["gas_mass"] / (12 + 2 * 15),
        },
        "sample_amount": {
            "other-reading": lambda v, w: v["gas_mass"] / mass(w, Ca=1, C=1, O=3),
            "power-of-ten": lambda v, w: 10 * v["sample_mass"] / mass(w, Ca=1, C=1, O=3),
        },
        "active_mass": {"other-reading": lambda v, w: v["free_amount"] * mass(w, C=1, O=2)},
        "percent_purity": {
            "percent-100": lambda v, w: v["active_mass"] / v["sample_mass"],
            "inverted": lambda v, w: v["sample_mass"] / v["active_mass"] / 100,
        },
    }
    options = {"equations": ["CaCO3(s) + 2 HCl(aq) -> CaCl2(aq) + H2O(l) + CO2(g)"], "gas": "CO2"}
    return Work("gas_by_mass_loss", options, readings, {}, v, lines, {}, ways)


def air_g_per_l(kpa: float, celsius: float, humidity: float) -> float:
    """Moist air as an ideal gas (28.966 and 18.015 g/mol); Z is 0.0004 below one."""
    wet = humidity * vapour_kpa(celsius)
    return ((kpa - wet) * 28.966 + wet * 18.015) / (R * (celsius + 273.15)) / 0.99963


def gas_density(draw: Random) -> Work:
    """Argon or oxygen in a flask that was weighed with air, with the gas and with water."""
    w = TABLES["abridged"]
    gas, molar, atom = draw.choice([("Ar", w["Ar"], None), ("O2", 2 * w["O"], w["O"])])
    celsius, kpa, humidity = round(draw.uniform(19, 25), 1), round(draw.uniform(94, 102), 2), 0.45
    litres = draw.uniform(0.23, 0.29)
    air = air_g_per_l(kpa, celsius, humidity)
    with_air = round(draw.uniform(80, 90), 3)
    gas_mass = kpa * litres * molar / (R * (celsius + 273.15))
    with_gas = round(with_air - air * litres + gas_mass * draw.choice([1.0, 0.997]), 3)
    with_water = round(with_air + litres * (997.6 - air), 2)
    v = {
        "air": with_air, "gas": with_gas, "water": with_water, "celsius": celsius, "kpa": kpa, "humidity": humidity,
        "molar": molar,
    }  # fmt: skip
    readings = {
        "flask_air": grams(with_air), "flask_gas": [grams(with_gas - 0.012), grams(with_gas - 0.001), grams(with_gas)],
        "flask_water": f"{with_water:.2f} g",
    }  # fmt: skip
    shared = {"temperature": f"{celsius:.1f} degC", "humidity": "45 %", "barometer": f"{kpa:.2f} kPa"}

    def density(v: Values) -> float:
        return air_g_per_l(v["kpa"], v["celsius"], v["humidity"])

    def water(v: Values) -> float:
        """g/L, by the formula of McCutcheon, Martin and Barnwell (Handbook of Hydrology, 1993; from memory)."""
        t = v["celsius"]
        return 1000 * (1 - (t + 288.9414) * (t - 3.9863) ** 2 / (508929.2 * (t + 68.12963)))

    lines = (
        Line("flask_volume", "mL", lambda v, w: 1000 * (v["water"] - v["air"]) / (water(v) - density(v))),
        Line("air_mass", "g", lambda v, w: density(v) * v["flask_volume"] / 1000),
        Line("gas_mass", "g", lambda v, w: v["gas"] - v["air"] + v["air_mass"]),
        Line("gas_density", "g/L", lambda v, w: 1000 * v["gas_mass"] / v["flask_volume"]),
        Line(
            "molar_mass", "g/mol",
            lambda v, w: v["gas_mass"] * R * (v["celsius"] + 273.15) / (v["kpa"] * v["flask_volume"] / 1000),
        ),
        Line("molar_volume", "L/mol", lambda v, w: v["flask_volume"] / 1000 * v["molar"] / v["gas_mass"]),
    )  # fmt: skip
    ways: dict[str, dict[str, Callable[[Values, Mapping[str, float]], float]]] = {
        "gas_mass": {"air-left-out": lambda v, w: v["gas"] - v["air"]},
        "air_mass": {"power-of-ten": lambda v, w: density(v) * v["flask_volume"]},
        "gas_density": {"inverted": lambda v, w: v["flask_volume"] / 1000 / v["gas_mass"]},
        "molar_mass": {
            "celsius-for-kelvin": lambda v, w: v["gas_mass"] * R * v["celsius"] / (v["kpa"] * v["flask_volume"] / 1000),
            "pressure-unit": lambda v, w: (
                v["gas_mass"] * R * (v["celsius"] + 273.15) / (v["kpa"] * 7.50062 * v["flask_volume"] / 1000)
            ),
        },
    }
    if atom is not None:
        ways["molar_volume"] = {
            "atom-for-molecule": lambda v, w: v["flask_volume"] / 1000 * atom / v["gas_mass"],
        }
    return Work("gas_density", {"gas": gas}, readings, shared, v, lines, {"formula": gas}, ways)


def precipitation(draw: Random) -> Work:
    """Blanc fixe: barium chloride runs out first, or sodium sulfate."""
    w = TABLES["abridged"]
    barium = round(draw.uniform(0.9, 1.3), 3)
    volume = round(draw.choice([21.5, 22.0, 12.0, 13.5]) + draw.uniform(0, 0.4), 1)
    one, two = barium / mass(w, Ba=1, Cl=2, H=4, O=2), volume * 0.250 / 1000
    solid = min(one, two) * mass(w, Ba=1, S=1, O=4) * draw.choice([0.97, 0.93, 0.99])
    paper = round(draw.uniform(0.88, 0.94), 3)
    v = {"reagent_1": barium, "reagent_2": volume, "paper": paper, "collected": round(paper + solid, 3)}
    v["collected_first"] = round(v["collected"] + 0.024, 3)
    readings = {
        "reagent_1": grams(barium), "reagent_2": f"{volume:.1f} mL", "paper": grams(paper),
        "collected": [grams(v["collected_first"]), grams(v["collected"] + 0.001), grams(v["collected"])],
    }  # fmt: skip

    def product(w: Mapping[str, float]) -> float:
        return mass(w, Ba=1, S=1, O=4)

    lines = (
        Line("amount_1", "mol", lambda v, w: v["reagent_1"] / mass(w, Ba=1, Cl=2, H=4, O=2)),
        Line("amount_2", "mol", lambda v, w: v["reagent_2"] * 0.250 / 1000),
        Line("theoretical_yield", "g", lambda v, w: min(v["amount_1"], v["amount_2"]) * product(w)),
        Line("actual_yield", "g", lambda v, w: v["collected"] - v["paper"], 3),
        Line("percent_yield", "%", lambda v, w: 100 * v["actual_yield"] / v["theoretical_yield"]),
        Line("product_amount", "mol", lambda v, w: v["actual_yield"] / product(w)),
    )
    ways = {
        "amount_1": {
            "formula-without-water": lambda v, w: v["reagent_1"] / mass(w, Ba=1, Cl=2),
            "truncated-weight": lambda v, w: v["reagent_1"] / (137 + 2 * 35 + 4 * 1 + 2 * 15),
            "inverted": lambda v, w: mass(w, Ba=1, Cl=2, H=4, O=2) / v["reagent_1"],
        },
        "amount_2": {"power-of-ten": lambda v, w: v["reagent_2"] * 0.250},
        "theoretical_yield": {
            "limiting-swapped": lambda v, w: max(v["amount_1"], v["amount_2"]) * product(w),
            "other-reading": lambda v, w: min(v["amount_1"], v["amount_2"]) * mass(w, Ba=1, Cl=2, H=4, O=2),
        },
        "actual_yield": {
            "sign": lambda v, w: v["paper"] - v["collected"],
            "other-reading": lambda v, w: v["collected"],
        },
        "percent_yield": {
            "percent-100": lambda v, w: v["actual_yield"] / v["theoretical_yield"],
            "inverted": lambda v, w: v["theoretical_yield"] / v["actual_yield"] / 100,
        },
        "product_amount": {"inverted": lambda v, w: product(w) / v["actual_yield"]},
    }
    options = {
        "equation": "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)",
        "reagents": [{"formula": "BaCl2·2H2O"}, {"formula": "Na2SO4", "concentration": "0.250 mol/L"}],
    }
    words = {"limiting": "BaCl2·2H2O" if one < two else "Na2SO4"}
    return Work("precipitation", options, readings, {}, v, lines, words, ways)


def composition(draw: Random) -> Work:
    """Cobalt chloride: its water by heat, its metal by zinc."""
    w = TABLES["abridged"]
    sample = draw.uniform(1.3, 1.8)
    whole = mass(w, Co=1, Cl=2, H=12, O=6)
    readings, v = crucible(
        draw, "vessel", "vessel_sample", "vessel_residue", sample, sample * mass(w, Co=1, Cl=2) / whole
    )
    metal = sample * w["Co"] / whole * draw.choice([1.0, 1.005])
    paper = round(draw.uniform(0.88, 0.94), 3)
    v |= {"paper": paper, "collected": round(paper + metal, 3)}
    v["collected_first"] = round(v["collected"] + 0.02, 3)
    readings |= {
        "paper": grams(paper),
        "collected": [grams(v["collected_first"]), grams(v["collected"] + 0.001), grams(v["collected"])],
    }
    lines = (
        *DRIED,
        Line("metal_mass", "g", lambda v, w: v["collected"] - v["paper"], 3),
        Line("metal_percent", "%", lambda v, w: 100 * v["metal_mass"] / v["sample_mass"]),
        Line("halogen_mass", "g", lambda v, w: v["residue_mass"] - v["metal_mass"], 3),
        Line("metal_amount", "mol", lambda v, w: v["metal_mass"] / w["Co"]),
        Line("halogen_amount", "mol", lambda v, w: v["halogen_mass"] / w["Cl"]),
        Line("halogen_ratio", "", lambda v, w: v["halogen_amount"] / v["metal_amount"]),
        Line("water_ratio", "", lambda v, w: v["water_amount"] / v["metal_amount"]),
    )
    ways = {
        "sample_mass": {"other-reading": lambda v, w: v["vessel_sample"]},
        "water_mass": {"sign": lambda v, w: v["vessel_residue"] - v["vessel_sample"]},
        "water_percent": {"percent-100": lambda v, w: v["water_mass"] / v["sample_mass"]},
        "metal_mass": {"other-reading": lambda v, w: v["collected"]},
        "halogen_amount": {"atom-for-molecule": lambda v, w: v["halogen_mass"] / (2 * w["Cl"])},
        "metal_amount": {"inverted": lambda v, w: w["Co"] / v["metal_mass"]},
        "halogen_ratio": {"inverted": lambda v, w: v["metal_amount"] / v["halogen_amount"]},
        "water_ratio": {"other-reading": lambda v, w: v["water_amount"] / v["halogen_amount"]},
        "halogen_mass": {"other-reading": lambda v, w: v["sample_mass"] - v["metal_mass"]},
        "residue_mass": {"other-reading": lambda v, w: v["vessel_residue_first"] - v["vessel"]},
    }
    options = {"metal": "Co", "accepted": "CoCl2·6H2O", "displaced_by": "Zn"}
    return Work("composition", options, readings, {}, v, lines, {}, ways)


def synthesis(draw: Random) -> Work:
    """Potash alum from foil."""
    w = TABLES["abridged"]
    foil = round(draw.uniform(0.9, 1.1), 3)
    alum = mass(w, K=1, Al=1, S=2, O=20, H=24)
    whole = foil / w["Al"] * alum
    crude = round(whole * draw.uniform(0.78, 0.9), 3)
    pure = round(crude * draw.uniform(0.76, 0.85), 3)
    v = {"reagent_1": foil, "reagent_2": 50.0, "reagent_3": 35.0, "crude": crude, "pure": pure}
    readings = {
        "reagent_1": grams(foil), "reagent_2": "50.0 mL", "reagent_3": "35.0 mL", "crude": grams(crude),
        "pure": grams(pure),
    }  # fmt: skip

    def yielded(v: Values, w: Mapping[str, float]) -> float:
        return min(v["amount_1"] / 2, v["amount_2"] / 2, v["amount_3"] / 4) * 2 * mass(w, K=1, Al=1, S=2, O=20, H=24)

    lines = (
        Line("amount_1", "mol", lambda v, w: v["reagent_1"] / w["Al"]),
        Line("amount_2", "mol", lambda v, w: v["reagent_2"] * 1.5 / 1000),
        Line("amount_3", "mol", lambda v, w: v["reagent_3"] * 4.0 / 1000),
        Line("theoretical_yield", "g", yielded),
        Line("crude_percent_yield", "%", lambda v, w: 100 * v["crude"] / v["theoretical_yield"]),
        Line("pure_percent_yield", "%", lambda v, w: 100 * v["pure"] / v["theoretical_yield"]),
        Line("recovery_percent", "%", lambda v, w: 100 * v["pure"] / v["crude"]),
    )
    ways = {
        "amount_1": {
            "inverted": lambda v, w: w["Al"] / v["reagent_1"],
            "truncated-weight": lambda v, w: v["reagent_1"] / 26,
        },
        "amount_2": {"power-of-ten": lambda v, w: v["reagent_2"] * 1.5},
        "theoretical_yield": {
            "limiting-swapped": lambda v, w: v["amount_2"] / 2 * 2 * mass(w, K=1, Al=1, S=2, O=20, H=24),
            "formula-without-water": lambda v, w: v["amount_1"] * mass(w, K=1, Al=1, S=2, O=8),
        },
        "crude_percent_yield": {
            "percent-100": lambda v, w: v["crude"] / v["theoretical_yield"],
            "inverted": lambda v, w: v["theoretical_yield"] / v["crude"] / 100,
        },
        "pure_percent_yield": {"other-reading": lambda v, w: 100 * v["crude"] / v["theoretical_yield"]},
        "recovery_percent": {
            "inverted": lambda v, w: v["crude"] / v["pure"] / 100,
            "percent-100": lambda v, w: v["pure"] / v["crude"],
        },
    }
    options = {
        "equation": "2 Al(s) + 2 KOH(aq) + 4 H2SO4(aq) + 22 H2O(l) -> 2 KAl(SO4)2·12H2O(s) + 3 H2(g)",
        "product": "KAl(SO4)2·12H2O",
        "reagents": [
            {"formula": "Al"}, {"formula": "KOH", "concentration": "1.5 mol/L"},
            {"formula": "H2SO4", "concentration": "4.0 mol/L"},
        ],
    }  # fmt: skip
    return Work("synthesis", options, readings, {}, v, lines, {"limiting": "Al"}, ways)


def recrystallization(draw: Random) -> Work:
    """Potash alum from water: what can be told without the curve."""
    crude = round(draw.uniform(9, 12), 3)
    solvent = round(draw.uniform(25, 30), 1)
    crystals = round(crude * draw.uniform(0.72, 0.82), 3)
    v = {"crude": crude, "solvent": solvent, "crystals": crystals}
    readings = {
        "crude": grams(crude), "solvent": f"{solvent:.1f} mL", "hot_temperature": "61.0 degC",
        "cold_temperature": "4.5 degC", "crystals": grams(crystals),
    }  # fmt: skip
    lines = (
        Line("solvent_mass", "g", lambda v, w: v["solvent"] * 0.998),
        Line("dissolved_hot", "g", lambda v, w: v["crude"], 3),
        Line("recovery_percent", "%", lambda v, w: 100 * v["crystals"] / v["crude"]),
    )
    ways = {
        "solvent_mass": {
            "power-of-ten": lambda v, w: v["solvent"] * 9.98,
            "sign": lambda v, w: -v["solvent"] * 0.998,
        },
        "dissolved_hot": {"other-reading": lambda v, w: v["crystals"]},
        "recovery_percent": {
            "percent-100": lambda v, w: v["crystals"] / v["crude"],
            "inverted": lambda v, w: v["crude"] / v["crystals"] / 100,
            "power-of-ten": lambda v, w: 10 * v["crystals"] / v["crude"],
        },
    }
    options = {"solute": "KAl(SO4)2·12H2O", "solvent_density": "0.998 g/mL"}
    return Work("recrystallization", options, readings, {}, v, lines, {}, ways)


def crystal_growth(draw: Random) -> Work:
    """Alum slow against ice."""
    one = [round(draw.uniform(6, 10), 1) for _ in range(5)]
    two = [round(draw.uniform(2, 4), 1) for _ in range(5)]
    volumes = 25.0, round(draw.uniform(22.0, 24.0), 1)
    v = {"volume_1": volumes[0], "volume_2": volumes[1], "mean_1": sum(one) / 5, "mean_2": sum(two) / 5}
    v |= {f"one_{n}": value for n, value in enumerate(one)} | {f"two_{n}": value for n, value in enumerate(two)}
    readings = {
        "volume_1": f"{volumes[0]:.1f} mL", "volume_2": f"{volumes[1]:.1f} mL",
        "lengths_1": [f"{x:.1f} mm" for x in one], "lengths_2": [f"{x:.1f} mm" for x in two],
    }  # fmt: skip
    lines = (
        Line("mean_length_1", "mm", lambda v, w: v["mean_1"]),
        Line("mean_length_2", "mm", lambda v, w: v["mean_2"]),
        Line("volume_difference_percent", "%", lambda v, w: 100 * (v["volume_1"] - v["volume_2"]) / v["volume_1"]),
        Line("length_ratio", "", lambda v, w: v["mean_length_1"] / v["mean_length_2"]),
    )
    ways = {
        "mean_length_1": {"power-of-ten": lambda v, w: 10 * v["mean_1"], "other-reading": lambda v, w: v["one_0"]},
        "mean_length_2": {"other-reading": lambda v, w: v["two_1"]},
        "volume_difference_percent": {
            "sign": lambda v, w: 100 * (v["volume_2"] - v["volume_1"]) / v["volume_1"],
            "percent-100": lambda v, w: (v["volume_1"] - v["volume_2"]) / v["volume_1"],
        },
        "length_ratio": {"inverted": lambda v, w: v["mean_length_2"] / v["mean_length_1"]},
    }
    options = {
        "solute": "KAl(SO4)2·12H2O", "equality": "20 %",
        "portions": [{"label": "board", "cooling": "slow"}, {"label": "ice", "cooling": "fast"}],
    }  # fmt: skip
    return Work("crystal_growth", options, readings, {}, v, lines, {}, ways)


def filtration(draw: Random) -> Work:
    """Sand out of a mixture."""
    mixture = round(draw.uniform(2.5, 3.5), 3)
    paper = round(draw.uniform(0.88, 0.94), 3)
    solid = mixture * draw.uniform(0.3, 0.6)
    v = {"mixture": mixture, "paper": paper, "collected": round(paper + solid, 3)}
    v["collected_first"] = round(v["collected"] + 0.03, 3)
    readings = {
        "mixture": grams(mixture), "paper": grams(paper),
        "collected": [grams(v["collected_first"]), grams(v["collected"] + 0.001), grams(v["collected"])],
    }  # fmt: skip
    lines = (
        Line("solid_mass", "g", lambda v, w: v["collected"] - v["paper"], 3),
        Line("solid_percent", "%", lambda v, w: 100 * v["solid_mass"] / v["mixture"]),
        Line("dissolved_mass", "g", lambda v, w: v["mixture"] - v["solid_mass"], 3),
    )
    ways = {
        "solid_mass": {
            "other-reading": lambda v, w: v["collected_first"] - v["paper"],
            "sign": lambda v, w: v["paper"] - v["collected"],
        },
        "solid_percent": {
            "percent-100": lambda v, w: v["solid_mass"] / v["mixture"],
            "inverted": lambda v, w: v["mixture"] / v["solid_mass"] / 100,
        },
        "dissolved_mass": {
            "sign": lambda v, w: v["solid_mass"] - v["mixture"],
            "other-reading": lambda v, w: v["collected"] - v["solid_mass"],
        },
    }
    return Work("filtration", {}, readings, {}, v, lines, {}, ways)


METHODS: Mapping[str, Callable[[Random], Work]] = {
    "hydrate": hydrate, "combination": combination, "decomposition": decomposition, "gas_over_water": gas_over_water,
    "gas_by_mass_loss": gas_by_mass_loss, "gas_density": gas_density, "precipitation": precipitation,
    "composition": composition, "synthesis": synthesis, "recrystallization": recrystallization,
    "crystal_growth": crystal_growth, "filtration": filtration,
}  # fmt: skip
