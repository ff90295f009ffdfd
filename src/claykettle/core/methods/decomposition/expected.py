"""Where the readings must lie that are not taken yet."""

from __future__ import annotations

from claykettle.core.method import Expectations, Trial
from claykettle.core.methods.decomposition.options import DecompositionOptions
from claykettle.core.methods.decomposition.page import crucible, residues
from claykettle.core.quantity import grams


def expects(trial: Trial) -> Expectations:
    """After heating: between what the equation that leaves least leaves, and what went in."""
    options: DecompositionOptions = trial.options
    sample = trial.value("sample_mass")
    if sample is None:
        return {}
    shares = residues(options)
    because = f"the equation that leaves least takes {grams((1 - min(shares)) * sample)} off"
    about = shares[0] if len(shares) == 1 else None
    return crucible.expected(trial, min(shares), 1.0, because, about, "when done")
