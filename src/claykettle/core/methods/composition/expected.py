"""Where the readings must lie that are not taken yet."""

from __future__ import annotations

from claykettle.core.chemistry.charges import common_charges
from claykettle.core.method import Expectation, Expectations, Trial
from claykettle.core.methods.composition.options import WATER, CompositionOptions
from claykettle.core.methods.composition.page import collected_metal, crucible
from claykettle.core.quantity import grams


def expects(trial: Trial) -> Expectations:
    """After heating between the dry salt and what went in; of the metal no more than the salt holds."""
    options: CompositionOptions = trial.options
    sample, residue = trial.value("sample_mass"), trial.value("residue_mass")
    metal, halogen = options.metal_formula.molar_mass, options.halogen_formula.molar_mass
    found: dict[str, Expectation] = {}
    if sample is not None:
        found |= _heated(trial, options, sample, metal, halogen)
    if residue is not None and residue > 0:
        ratio = _halogens(options)
        share = metal / (metal + ratio * halogen)
        because = f"{grams(residue)} of dry salt hold about {grams(share * residue)} of {options.metal}"
        found |= collected_metal.expected(trial, share * residue, residue, because)
    return found


def _heated(trial: Trial, options: CompositionOptions, sample: float, metal: float, halogen: float) -> Expectations:
    accepted = options.accepted
    if accepted is not None:
        share = float(accepted.water) * WATER.molar_mass / accepted.molar_mass
        because = f"the sample holds {grams(share * sample)} of water"
        return crucible.expected(trial, 1 - share, 1.0, because, 1 - share, "when dry")
    dry = metal + _halogens(options) * halogen
    share = options.max_ratio * WATER.molar_mass / (dry + options.max_ratio * WATER.molar_mass)
    because = f"the sample can hold {grams(share * sample)} of water at most"
    return crucible.expected(trial, 1 - share, 1.0, because)


def _halogens(options: CompositionOptions) -> float:
    """Halogen per metal: of the formula on the label, else by the lowest common charge."""
    if options.accepted is not None:
        counts = options.accepted.counts
        return float(counts[options.halogen] / counts[options.metal])
    return float(min(common_charges(options.metal), default=1))
