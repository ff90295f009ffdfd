"""Where the readings must lie that are not taken yet."""

from __future__ import annotations

from claykettle.core.method import Expectation, Expectations, Trial
from claykettle.core.methods.gas_by_mass_loss.judge import accepted_result
from claykettle.core.methods.gas_by_mass_loss.options import MassLossOptions
from claykettle.core.methods.gas_by_mass_loss.page import per_gas
from claykettle.core.quantity import grams

CRUMBS = 1.02
"""So much more than all the gas may be gone with spray and drops before it is a slip (common practice)."""
MOST_SAMPLE = 40e-3


def expects(trial: Trial) -> Expectations:
    """The vessel after: lighter by the gas of a sample as pure as its label says, at most by that of a pure one."""
    options: MassLossOptions = trial.options
    before, sample = trial.value("vessel_before"), trial.value("sample_mass")
    found: dict[str, Expectation] = {}
    claim = options.claim
    if claim is not None and claim.mass is not None:
        least = options.units_used * claim.mass.si
        because = f"the label claims {grams(least)} of active substance in it"
        found["sample"] = Expectation(least, max(MOST_SAMPLE, 20 * least), because)
    if before is None or sample is None or sample <= 0:
        return found
    share = max(
        options.gas.molar_mass / options.active.molar_mass / per_gas(row, options.gas) for row in options.equations
    )
    whole, most = before + sample, share * sample
    purity = accepted_result(options)
    if purity is None and claim is not None and claim.mass is not None:
        purity = options.units_used * claim.mass.si / sample
    because = f"{grams(sample)} of pure {options.active.text} would lose {grams(most)}"
    about = None if purity is None else whole - purity * most
    found["vessel_after"] = Expectation(whole - CRUMBS * most, whole, because, about, "by its label")
    return found
