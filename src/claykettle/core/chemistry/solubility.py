"""How much of a substance water holds, by temperature: the curves of data/solubility_curves.toml, or given points.

Between two points lies a straight line, beyond the first and the last nothing: no extrapolation.
"""

from __future__ import annotations

import tomllib
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.errors import refuse

CELSIUS = 273.15
EDGE_K = 1e-6
"""A hair beyond an end is the float of a typed limit, not another temperature."""


@dataclass(frozen=True)
class Curve:
    """A solubility curve: temperatures in K, rising, and kg of the substance as `basis` per kg of solvent.

    `basis` is None where the points are of the form that is weighed.
    """

    name: str
    basis: Formula | None
    temperatures: tuple[float, ...]
    values: tuple[float, ...]

    def covers(self, temperature_k: float) -> bool:
        """Whether the temperature lies within the points."""
        return self.temperatures[0] - EDGE_K <= temperature_k <= self.temperatures[-1] + EDGE_K

    def at(self, temperature_k: float) -> float:
        """kg per kg of solvent at a temperature. Raises Refusal `off-scale` beyond the points."""
        if not self.covers(temperature_k):
            low, high = (self.temperatures[end] - CELSIUS for end in (0, -1))
            text = (
                f"The curve of {self.name} goes from {low:g} to {high:g} °C, not to {temperature_k - CELSIUS:.1f} °C."
            )
            raise refuse("off-scale", text)
        index = min(max(1, bisect_right(self.temperatures, temperature_k)), len(self.temperatures) - 1)
        low, high = self.temperatures[index - 1], self.temperatures[index]
        share = (temperature_k - low) / (high - low)
        return self.values[index - 1] + share * (self.values[index] - self.values[index - 1])

    def salt_share(self, solute: Formula) -> float:
        """Mass of the basis in one kg of the solute as weighed: less than 1 for a hydrate whose curve is anhydrous."""
        if self.basis is None or self.basis.counts == solute.counts:
            return 1.0
        return self.basis.molar_mass / (solute.molar_mass / float(solute.parts[0][0]))


def curve_of_points(points: Sequence[tuple[float, float]]) -> Curve:
    """A curve through points in K and g per 100 g of solvent."""
    rows = sorted(points)
    return Curve("points given", None, tuple(row[0] for row in rows), tuple(row[1] / 100 for row in rows))


@cache
def built_in_curves() -> tuple[Curve, ...]:
    """The curves of the table, in its order."""
    text = files("claykettle.core.chemistry").joinpath("data/solubility_curves.toml").read_text(encoding="utf-8")
    return tuple(
        Curve(
            row["name"],
            parse_formula(row["basis"]),
            tuple(CELSIUS + point[0] for point in row["points"]),
            tuple(point[1] / 100 for point in row["points"]),
        )
        for row in tomllib.loads(text)["curve"]
    )


def curve_named(name: str) -> Curve | None:
    """The built-in curve of this name, its formula or that of one of its hydrates; None for an unknown one."""
    wanted = name.strip().casefold()
    for curve in built_in_curves():
        short = curve.name.partition(",")[0]
        if wanted in (curve.name.casefold(), short.casefold(), curve.basis.text.casefold() if curve.basis else ""):
            return curve
    return None


def curve_for(solute: Formula) -> Curve | None:
    """The built-in curve that a substance belongs to, crystal water left aside; None for an unlisted one."""
    rows = (row for row in built_in_curves() if row.basis is not None)
    return next((row for row in rows if row.basis and row.basis.counts == solute.anhydrous.counts), None)
