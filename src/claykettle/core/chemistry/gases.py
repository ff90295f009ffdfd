"""The gases of the bench, from data/gases.toml: how far from ideal they are, and how much of them water dissolves."""

from __future__ import annotations

import math
import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

from claykettle.core.chemistry.conditions import GAS_CONSTANT
from claykettle.core.errors import refuse

_REFERENCE_K = 298.15
LOWEST_K, HIGHEST_K = 273.15, 373.15


@dataclass(frozen=True)
class Gas:
    """One gas: formula, name, and the coefficients of its second virial coefficient (cm³/mol)."""

    formula: str
    name: str
    virial: tuple[float, ...]

    def second_virial(self, temperature_k: float) -> float:
        """B in m³/mol. Raises Refusal `off-scale` outside 0 °C to 100 °C."""
        if not LOWEST_K - 1e-6 <= temperature_k <= HIGHEST_K + 1e-6:
            t = temperature_k - 273.15
            raise refuse("off-scale", f"How real {self.name} is, is known from 0 to 100 °C, not at {t:.1f} °C.")
        step = _REFERENCE_K / temperature_k - 1
        return 1e-6 * math.fsum(a * step**power for power, a in enumerate(self.virial))

    def molar_volume(self, temperature_k: float, pressure_pa: float) -> float:
        """Of the real gas in m³/mol, to the second virial coefficient: V = RT/p + B."""
        return GAS_CONSTANT * temperature_k / pressure_pa + self.second_virial(temperature_k)


@dataclass(frozen=True)
class Henry:
    """How much of a gas water dissolves: mol/(m³ Pa) at 298.15 K, and d ln k / d(1/T) in K."""

    constant: float
    slope: float

    def at(self, temperature_k: float) -> float:
        """The constant at a temperature, mol/(m³ Pa). Raises Refusal `off-scale` outside 0 °C to 60 °C."""
        if not 273.15 - 1e-6 <= temperature_k <= 333.15 + 1e-6:
            t = temperature_k - 273.15
            raise refuse("off-scale", f"How much gas water dissolves is known from 0 to 60 °C, not at {t:.1f} °C.")
        return self.constant * math.exp(self.slope * (1 / temperature_k - 1 / _REFERENCE_K))


KINDS = ("poisonous", "burns", "feeds_fire", "heavy")
"""What a gas does, the gravest first."""


@dataclass(frozen=True)
class GasCaution:
    """What is said where a gas comes off: which of KINDS it is, its name, the sentence."""

    formula: str
    kind: str
    name: str
    say: str


@cache
def _data() -> Mapping[str, Any]:
    return tomllib.loads(files("claykettle.core.chemistry").joinpath("data/gases.toml").read_text(encoding="utf-8"))


@cache
def gas_caution(formula: str) -> GasCaution | None:
    """The caution of a gas; None for one that harms nobody, such as nitrogen, or that the table does not hold."""
    row = _data()["cautions"].get(formula)
    return None if row is None else GasCaution(formula, row["kind"], row["name"], row["say"])


@cache
def _table() -> tuple[Mapping[str, Gas], Mapping[str, Henry]]:
    data = _data()
    gases = {
        formula: Gas(formula, row["name"], tuple(float(a) for a in row["virial"]))
        for formula, row in data["gases"].items()
    }
    henry = {formula: Henry(float(row["constant"]), float(row["slope"])) for formula, row in data["henry"].items()}
    return gases, henry


def known_gas(formula: str) -> Gas | None:
    """The gas with this formula, None where the table does not hold it."""
    return _table()[0].get(formula)


def henry_of(formula: str) -> Henry | None:
    """The gas's solubility in water, None where the table does not hold it."""
    return _table()[1].get(formula)


def all_gases() -> tuple[Gas, ...]:
    """Every gas of the table."""
    return tuple(_table()[0].values())
