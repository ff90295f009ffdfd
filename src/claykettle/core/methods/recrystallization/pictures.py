"""What is drawn beside the mass stair."""

from __future__ import annotations

from claykettle.core.chemistry.solubility import CELSIUS
from claykettle.core.method import Trial
from claykettle.core.methods.recrystallization.options import RecrystallizationOptions
from claykettle.core.methods.recrystallization.page import beside_its_water
from claykettle.core.pictures.curve import CurvePicture, SolubilityPoint


def plotted(trial: Trial) -> CurvePicture:
    """The curve in grams of the substance as it is weighed, with both temperatures on it."""
    options: RecrystallizationOptions = trial.options
    curve, share = options.curve, options.salt_share

    def grams(kelvin: float) -> float | None:
        """g per 100 g of solvent; None where the substance melts in its own water, or beyond the curve."""
        solubility = curve.at(kelvin)
        more = beside_its_water(solubility, share)
        return 100 * solubility / more if more > 0 else None

    def point(kelvin: float | None) -> SolubilityPoint | None:
        found = None if kelvin is None else grams(kelvin)
        return None if kelvin is None or found is None else SolubilityPoint(round(kelvin - CELSIUS, 4), found)

    low, high = curve.temperatures[0], curve.temperatures[-1]
    steps = (point(low + (high - low) * index / DRAWN) for index in range(DRAWN + 1))
    crude, solvent = trial.value("crude"), trial.value("solvent_mass")
    known_taken = crude is not None and solvent is not None and solvent > 0
    basis = options.solute.text if share == 1 else f"{options.solute.text}, its water counted as solvent"
    return CurvePicture(
        curve.name,
        basis,
        tuple(row for row in steps if row is not None),
        point(trial.value("hot_temperature")),
        point(trial.value("cold_temperature")),
        100 * (crude or 0.0) / (solvent or 1.0) if known_taken else None,
    )


DRAWN = 40
"""So many pieces make the drawn curve."""
