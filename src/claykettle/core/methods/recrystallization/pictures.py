"""What is drawn beside the mass stair."""

from __future__ import annotations

from claykettle.core.chemistry.solubility import CELSIUS
from claykettle.core.method import Trial
from claykettle.core.methods.recrystallization.options import RecrystallizationOptions
from claykettle.core.methods.recrystallization.page import beside_its_water
from claykettle.core.pictures.curve import CurvePicture, SolubilityPoint
from claykettle.core.quantity import short


def plotted(trial: Trial) -> CurvePicture:
    """The curve in grams of the substance as it is weighed, with both temperatures on it."""
    options: RecrystallizationOptions = trial.options
    curve, share = options.curve, options.salt_share

    def grams(kelvin: float) -> float | None:
        """g per 100 g of solvent; None where the substance melts in its own water, or beyond the curve."""
        if not curve.covers(kelvin):
            return None
        solubility = curve.at(kelvin)
        more = beside_its_water(solubility, share)
        return 100 * solubility / more if more > 0 else None

    def point(kelvin: float | None) -> SolubilityPoint | None:
        found = None if kelvin is None else grams(kelvin)
        return (
            None
            if kelvin is None or found is None
            else SolubilityPoint(round(kelvin - CELSIUS, 4), found, f"{short(found)} g")
        )

    low, high = curve.temperatures[0], curve.temperatures[-1]
    steps = (point(low + (high - low) * index / DRAWN) for index in range(DRAWN + 1))
    crude, solvent = trial.value("crude"), trial.value("solvent_mass")
    known_taken = crude is not None and solvent is not None and solvent > 0
    basis = options.solute.text if share == 1 else f"{options.solute.text}, its water counted as solvent"
    hot, cold = point(trial.value("hot_temperature")), point(trial.value("cold_temperature"))
    taken = 100 * (crude or 0.0) / (solvent or 1.0) if known_taken else None
    drawn = tuple(row for row in steps if row is not None)
    taken_text = "" if taken is None else f"{short(taken)} g taken"
    back = _back(hot, cold, taken)
    return CurvePicture(curve.name, basis, drawn, hot, cold, taken, taken_text, back, _said(hot, cold, taken))


def _back(hot: SolubilityPoint | None, cold: SolubilityPoint | None, taken: float | None) -> str:
    """How much can come back between the two temperatures, empty where nothing can or it is not known."""
    if hot is None or cold is None:
        return ""
    back = min(hot.grams if taken is None else taken, hot.grams) - cold.grams
    return f"{short(back)} g come back" if back > 0 else ""


def _said(hot: SolubilityPoint | None, cold: SolubilityPoint | None, taken: float | None) -> str:
    parts = [
        f"at {short(hot.celsius)} °C it holds {hot.text}" if hot else "",
        f"at {short(cold.celsius)} °C it keeps {cold.text}" if cold else "",
        f"{short(taken)} g were taken" if taken is not None else "",
    ]
    return ", ".join(part for part in parts if part) or "no temperature read yet"


DRAWN = 40
"""So many pieces make the drawn curve."""
