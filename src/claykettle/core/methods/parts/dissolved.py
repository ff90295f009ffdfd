"""How much gas a liquid can keep dissolved."""

from __future__ import annotations

from claykettle.core.chemistry.conditions import ATMOSPHERE, vapour_pressure_pa
from claykettle.core.chemistry.gases import henry_of
from claykettle.core.errors import Refusal


def saturation_mol(gas: str, liquid_m3: float, temperature_k: float) -> float:
    """Mol of a gas that a volume of water holds at one atmosphere, less its vapour, by Henry's law.

    NaN where the gas or the temperature lies outside the tables.
    """
    henry = henry_of(gas)
    if henry is None:
        return float("nan")
    try:
        return henry.at(temperature_k) * (ATMOSPHERE - vapour_pressure_pa(temperature_k)) * liquid_m3
    except Refusal:
        return float("nan")
