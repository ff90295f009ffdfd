"""Where the readings must lie that are not taken yet."""

from __future__ import annotations

from claykettle.core.method import Expectation, Expectations, Trial

SMALLEST, LARGEST = 0.02, 3.0
"""kg of water that a flask for this holds (common practice)."""
AIR = 1.2e-3
"""kg of air per kg of water that the same flask holds, at a room's temperature."""
HEAVIEST = 6.0
"""So many times as heavy as air is the heaviest gas that is led into a flask in teaching (common practice)."""


def expects(trial: Trial) -> Expectations:
    """Full of water it weighs far more; full of gas it differs by what the air in it weighs, or a few times that."""
    air, water = trial.value("flask_air"), trial.value("flask_water")
    if air is None:
        return {}
    found = {
        "flask_water": Expectation(
            air + SMALLEST, air + LARGEST, "a flask for this holds between 20 mL and 3 L of water"
        )
    }
    held = AIR * (LARGEST if water is None else max(water - air, SMALLEST))
    because = (
        f"the air in it weighs about {1000 * held:.2g} g" if water is not None else "gas and air weigh grams at most"
    )
    found["flask_gas"] = Expectation(air - held, air + HEAVIEST * held, because)
    return found
