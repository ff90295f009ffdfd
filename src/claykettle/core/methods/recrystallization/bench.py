"""The forward model: what honest instruments show of a truth, fault by fault."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from claykettle.core.chemistry.solubility import CELSIUS
from claykettle.core.method import PlainReadings, Setting
from claykettle.core.methods.recrystallization.options import RecrystallizationOptions
from claykettle.core.methods.recrystallization.page import beside_its_water, held
from claykettle.core.quantity import Number, nominal
from claykettle.core.sheet import Shape, Values

HOT_K = CELSIUS + 60
"""What a plan takes as hot where nothing else is said: below every boiling solvent in a teaching laboratory."""


@dataclass(frozen=True)
class RecrystallizationTruth:
    """What is really there, in kg and K: crude, solvent, both temperatures, and the dry crystals."""

    crude: float
    solvent: float
    hot: float
    cold: float
    crystals: float


def truth(shape: Shape, values: Values) -> RecrystallizationTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    names = ("crude", "solvent_mass", "hot_temperature", "cold_temperature", "crystals")
    return RecrystallizationTruth(*(nominal(values[name]) for name in names))


def larger(truth: RecrystallizationTruth, times: float) -> RecrystallizationTruth:
    """The same in so many times the amount."""
    return replace(truth, crude=times * truth.crude, solvent=times * truth.solvent, crystals=times * truth.crystals)


def expect(shape: Shape, truth: RecrystallizationTruth, expected: float) -> RecrystallizationTruth:
    """The same crude and solvent, with so much of it come back."""
    return replace(truth, crystals=expected * truth.crude)


def kept(options: RecrystallizationOptions, truth: RecrystallizationTruth, solvent: float, cold: float) -> float:
    return nominal(held(options.curve.at(cold), options.salt_share, solvent, truth.crude).value)


def play(shape: Shape, truth: RecrystallizationTruth, faults: Mapping[str, float]) -> PlainReadings:
    """The readings in kg, m³ and K that honest instruments show of this truth.

    Faults: `more_solvent` (so much more was there than was written down, as a fraction), `warmer` (K above the cold
    temperature when it was filtered), `rinsed_away` (fraction of the crystals that too much or warm rinse took).
    """
    options: RecrystallizationOptions = shape.options
    solvent = truth.solvent * (1 + faults.get("more_solvent", 0.0))
    cold = min(truth.cold + faults.get("warmer", 0.0), options.curve.temperatures[-1])
    lost = kept(options, truth, solvent, cold) - kept(options, truth, truth.solvent, truth.cold)
    crystals = max(0.0, truth.crystals - lost) * (1 - faults.get("rinsed_away", 0.0))
    density = options.solvent_density
    readings: PlainReadings = {
        "solvent": truth.solvent if density is None else truth.solvent / density.si,
        "hot_temperature": truth.hot,
        "cold_temperature": truth.cold,
    }
    for name, amount in (("crude", truth.crude), ("crystals", crystals)):
        split = name in shape.split
        readings |= {f"{name}_tare": DISH, f"{name}_gross": DISH + amount} if split else {name: amount}
    return readings


DISH = 0.0200
"""A watch glass (common practice)."""


def foresee(options: RecrystallizationOptions, crude: float, setting: Setting) -> RecrystallizationTruth:
    """What so much crude gives, dissolved in the least solvent and the setting's excess, cooled to its temperature."""
    curve, share = options.curve, options.salt_share
    hot = min(HOT_K, curve.temperatures[-1])
    cold = min(max(setting.temperature.si, curve.temperatures[0]), hot)
    least = crude * max(0.0, beside_its_water(curve.at(hot), share)) / curve.at(hot)
    solvent = max(least * (1 + setting.excess.si), 1e-6)
    start = RecrystallizationTruth(crude, solvent, hot, cold, crude)
    return replace(start, crystals=crude - kept(options, start, solvent, cold))


def possible(values: Values) -> Number | None:
    """The greatest recovery: what was to be expected, as surely as the temperatures let it be known."""
    return values.get("greatest_recovery_percent")
