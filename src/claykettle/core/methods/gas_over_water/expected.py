"""Where the readings must lie that are not taken yet."""

from __future__ import annotations

from claykettle.core.chemistry.conditions import (
    ATMOSPHERE,
    GAS_CONSTANT,
    ZERO_CELSIUS,
    station_pressure_pa,
    vapour_pressure_pa,
)
from claykettle.core.errors import Refusal
from claykettle.core.judgement.room import WEATHER
from claykettle.core.method import Expectation, Expectations, Trial
from claykettle.core.methods.gas_over_water.options import GasOverWaterOptions
from claykettle.core.methods.parts.tube import is_burette, on_scale
from claykettle.core.quantity import figures, grams, nominal

COLD_K, USUAL_K, WARM_K = ZERO_CELSIUS + 5, ZERO_CELSIUS + 21, ZERO_CELSIUS + 40
"""Of the water that a gas is collected over (common practice)."""
DEAD = (0.3e-6, 2.0e-6, 5.0e-6)
"""m³ between the last mark and the tap of a burette: least, usual, most (common practice)."""
HIGHEST, LOWEST = 0.6, -0.4
"""m: so far water stands in a tube above or below that outside (common practice)."""
LEAST, MOST = 0.75, 1.1
"""Of the gas that the sample should give: less was a leak or metal lost, more is air (common practice)."""


def expects(trial: Trial) -> Expectations:
    """The scale by the gas that the sample gives; what a bath, a column and a burette's end can be."""
    options: GasOverWaterOptions = trial.options
    bath = Expectation(COLD_K, WARM_K, "water that a gas is collected over has between 5 and 40 °C")
    column = Expectation(LOWEST, HIGHEST, "water stands no higher than some 60 cm in a tube")
    found = {
        "temperature": bath,
        "temperature_start": bath,
        "level_difference": column,
        "level_difference_start": column,
    }
    if is_burette(options):
        found["dead_volume"] = Expectation(DEAD[0], DEAD[2], "most burettes hold 1 to 4 mL beyond their last mark")
    per_kg = _per_kg(options)
    if per_kg is not None:
        found |= _sample(trial, options, per_kg) | _volume(trial, options, per_kg)
    return found


def _per_kg(options: GasOverWaterOptions) -> float | None:
    """mol of gas per kg of the sample, None for an unknown metal or a liquid: that is the question."""
    if options.reagent is None or options.density is not None:
        return None
    return options.gas_per_reagent / options.reagent.molar_mass


def _sample(trial: Trial, options: GasOverWaterOptions, per_kg: float) -> dict[str, Expectation]:
    """As much as fills the tube, or what is left of it."""
    mark = options.tube.mark
    if mark is None:
        return {}
    start = 0.0 if is_burette(options) else (trial.value("volume_start") or 0.0)
    room = mark.si + (DEAD[1] if is_burette(options) else 0.0) - start
    most = room / (per_kg * _takes(USUAL_K, _pressure(trial, options)[1]))
    name = options.reagent.text if options.reagent is not None else ""
    because = f"{figures(1e6 * room, 3)} mL of room in the tube are filled by {grams(most)} of {name}"
    return {"sample": Expectation(0.02 * most, most, because)}


def _volume(trial: Trial, options: GasOverWaterOptions, per_kg: float) -> dict[str, Expectation]:
    sample = trial.value("sample_mass")
    if sample is None or sample <= 0:
        return {}
    mol, start = per_kg * sample, trial.value("start_volume") or trial.value("volume_start") or 0.0
    low_pa, usual_pa, high_pa = _pressure(trial, options)
    typed = trial.value("temperature")
    if typed is not None and not COLD_K <= typed <= WARM_K:
        return {}
    cold, usual, warm = (typed, typed, typed) if typed is not None else (COLD_K, USUAL_K, WARM_K - 10)
    likely = start + mol * _takes(usual, usual_pa)
    least, most = start + LEAST * mol * _takes(cold, high_pa), start + MOST * mol * _takes(warm, low_pa)
    dead = trial.value("dead_volume")
    ends = [
        on_scale(options, volume, beyond)
        for volume in (least, most)
        for beyond in ((dead,) if dead is not None else (DEAD[0], DEAD[2]) if is_burette(options) else (None,))
    ]
    about = on_scale(options, likely, DEAD[1] if dead is None and is_burette(options) else dead)
    because = f"{grams(sample)} of sample should give about {figures(1e6 * (likely - start), 3)} mL of gas"
    return {"volume_end": Expectation(min(ends), max(ends), because, about, "when it has ended")}


def _takes(kelvin: float, pressure: float) -> float:
    """m³ that a mole of wet gas takes."""
    try:
        dry = pressure - vapour_pressure_pa(kelvin)
    except Refusal:
        dry = pressure
    return GAS_CONSTANT * kelvin / max(dry, 1.0)


def _pressure(trial: Trial, options: GasOverWaterOptions) -> tuple[float, float, float]:
    """Lowest, usual and highest pressure at the bench: as read, by the elevation, or of any laboratory below 800 m."""
    read = trial.values.get("station_pressure")
    if read is not None:
        return (nominal(read),) * 3
    try:
        usual = ATMOSPHERE if options.elevation is None else station_pressure_pa(ATMOSPHERE, options.elevation.si)
    except Refusal:
        usual = ATMOSPHERE
    lowest = WEATHER[0] * usual if options.elevation is not None else 0.88 * ATMOSPHERE
    return lowest, usual, WEATHER[1] * usual
