"""Where the readings must lie that are not taken yet."""

from __future__ import annotations

from claykettle.core.method import Expectation, Expectations, Trial
from claykettle.core.quantity import grams


def expects(trial: Trial) -> Expectations:
    """The crystals: no more than the crude; likely what the cold solvent does not keep."""
    crude, possible = trial.value("crude"), trial.value("greatest_recovery")
    if crude is None or crude <= 0:
        return {}
    if possible is None or possible <= 0:
        return {"crystals": Expectation(0.0, crude, f"{grams(crude)} of crude was there")}
    because = f"{grams(possible)} of {grams(crude)} can come back"
    return {"crystals": Expectation(0.0, crude, because, possible, "if all of it comes back")}
