"""Where the readings must lie that are not taken yet."""

from __future__ import annotations

from claykettle.core.chemistry.formula import Formula
from claykettle.core.chemistry.hydrates import known_salt
from claykettle.core.method import Expectations, Trial
from claykettle.core.methods.hydrate.judge import water_fraction
from claykettle.core.methods.hydrate.options import HydrateOptions
from claykettle.core.methods.hydrate.page import crucible
from claykettle.core.quantity import grams

MOST = 0.75
"""No common salt holds more of its mass as crystal water (common practice)."""


def expects(trial: Trial) -> Expectations:
    """After heating: between the dry salt and what went in."""
    options: HydrateOptions = trial.options
    sample = trial.value("sample_mass")
    if sample is None:
        return {}
    if options.accepted is not None:
        share = water_fraction(options.accepted)
        because = f"the sample holds {grams(share * sample)} of water"
        return crucible.expected(trial, 1 - share, 1.0, because, 1 - share, "when dry")
    share = max((water_fraction(row) for row in richest(options)), default=MOST)
    because = f"the sample can hold {grams(share * sample)} of water at most"
    return crucible.expected(trial, 1 - share, 1.0, because)


def richest(options: HydrateOptions) -> tuple[Formula, ...]:
    """The hydrates that it may be, those with most water among them."""
    if options.salt is None:
        return options.unknowns
    known = known_salt(options.salt)
    return known.hydrates if known is not None else (options.salt.hydrate(options.ratios[-1]),)
