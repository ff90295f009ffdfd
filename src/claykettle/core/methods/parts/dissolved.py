"""How much gas a liquid can keep dissolved."""

from __future__ import annotations

from claykettle.core.chemistry.conditions import ATMOSPHERE, vapour_pressure_pa
from claykettle.core.chemistry.gases import henry_of
from claykettle.core.errors import refuse


def saturation_mol(gas: str, liquid_m3: float, temperature_k: float) -> float:
    """Mol of a gas that a volume of water holds at one atmosphere, less its vapour, by Henry's law.

    Raises Refusal `unknown-gas`, and `off-scale` outside the tables' temperatures.
    """
    henry = henry_of(gas)
    if henry is None:
        raise refuse("unknown-gas", f"How much {gas} water dissolves is not in the table.")
    return henry.at(temperature_k) * (ATMOSPHERE - vapour_pressure_pa(temperature_k)) * liquid_m3
