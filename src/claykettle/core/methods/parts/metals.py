"""Which metals has an unknown's molar mass at each charge inside its band? A list, never a single best."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import cache

from claykettle.core.chemistry.charges import charged_elements
from claykettle.core.chemistry.elements import atomic_weight
from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.chemistry.potentials import couple_of_metal
from claykettle.core.judgement.ratios import misfit
from claykettle.core.method import Statement, Trial
from claykettle.core.quantity import nominal, with_uncertainty
from claykettle.core.verdict import Candidate, Verdict, candidate

CHARGES = (1, 2, 3)
"""The charges at which a metal may stand; the page has a line `molar_mass_1` and so on for each."""


@cache
def frees_hydrogen(symbol: str) -> bool:
    """Whether an element is a metal that sets hydrogen free from an acid: below it in the electrode potentials.

    A metal of which none is listed may; copper, silver, mercury, gold and platinum do not, nor do what are no metals.
    """
    couple = couple_of_metal(symbol)
    return symbol not in NO_METALS and (symbol not in NOBLE if couple is None else couple.volt < 0)


NO_METALS, NOBLE = {"H", "B", "Si", "Ge", "As"}, {"Cu", "Ag", "Hg", "Au", "Pt", "Bi", "Sb"}
"""What has charges and is no metal; and the metals that no dilute acid dissolves under hydrogen (common practice)."""


def metal_candidates(trial: Trial) -> tuple[Candidate, ...]:
    """Every metal held against the molar mass of its own common charges, the nearest first: a list, never one."""
    rows: list[Candidate] = []
    for charge in CHARGES:
        found = trial.values.get(f"molar_mass_{charge}")
        if found is None:
            return ()
        for symbol in charged_elements(charge):
            if not frees_hydrogen(symbol):
                continue
            weight = float(atomic_weight(symbol)) / 1000
            text = parse_formula(f"{symbol}^{charge if charge > 1 else ''}+").text
            rows.append(candidate(text, charge, misfit(found, weight), expected=1000 * weight))
    return tuple(sorted(rows, key=lambda row: abs(row.misfit)))


def metals_by_charge(trial: Trial, candidates: Sequence[Candidate]) -> Iterator[Statement]:
    """The molar mass at each charge, and the metals inside its band."""
    for charge in CHARGES if candidates else ():
        number = trial.values[f"molar_mass_{charge}"]
        found = with_uncertainty(1000 * nominal(number), 1000 * trial.uncertainty(f"molar_mass_{charge}"), "g/mol")
        here = [row for row in candidates if row.ratio == charge]
        inside = ", ".join(row.text for row in here if row.status == "match")
        nearest = f"no metal inside the band, the nearest is {here[0].text}" if here else "no metal bears it"
        yield Statement(f"At charge {charge}", f"{found}: {inside or nearest}.")


def judge_circular(trial: Trial) -> Iterator[Verdict]:
    """Why no molar volume stands beside an unknown metal."""
    if trial.value("gas_amount") is not None:
        text = (
            "No molar volume is given for an unknown metal: the only amount here comes from PV/RT itself and would "
            "return RT/P, whatever was measured."
        )
        yield Verdict("circular", "watch", "molar_volume", text)
