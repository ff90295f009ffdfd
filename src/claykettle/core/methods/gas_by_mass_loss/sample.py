"""Every form of its page, and a truth as a class meets it: what the shared tests and the practice bench start from."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import product

from claykettle.core.method import Draw
from claykettle.core.methods.gas_by_mass_loss.bench import MassLossTruth
from claykettle.core.methods.gas_by_mass_loss.options import MassLossOptions
from claykettle.core.sheet import Shape


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    whiting = "CaCO3(s) + 2 HCl(aq) -> CaCl2(aq) + H2O(l) + CO2(g)"
    soda = (
        "2 NaHCO3(s) -> Na2CO3(s) + H2O(l) + CO2(g)",
        "NaHCO3(s) + HCl(aq) -> NaCl(aq) + H2O(l) + CO2(g)",
    )
    kept: Sequence[dict[str, object] | None] = (
        None,
        {"amount": {"text": "1.5 mmol", "half_width": "0.2 mmol"}},
        {"volume": "50 mL", "temperature": "22 degC"},
        {"volume": "50 mL"},
    )
    claims: Sequence[dict[str, object] | None] = (None, {"mass": "0.50 g", "per": "tablet"}, {"percent": "97 %"})
    alone = frozenset({"sample"})
    forms = ((frozenset[str](), frozenset[str]()), (alone, frozenset[str]()), (alone, alone))
    # the equations and the headspace touch no line that the form, the dissolved gas or the claim do: they take turns
    for index, ((net, split), dissolved, claim) in enumerate(product(forms, kept, claims)):
        options = MassLossOptions.model_validate(
            {
                "equations": (whiting,) if index % 3 else soda,
                "dissolved": dissolved,
                "claim": claim,
                "headspace_volume": "120 mL" if index % 2 else None,
                "units_used": 2 if claim else 1,
            }
        )
        yield Shape(options, net, split)


def sample(draw: Draw) -> MassLossTruth:
    """A truth as a class meets it, its figures drawn."""
    return MassLossTruth(draw(0.08, 0.12), draw(0.001, 0.003), draw(0.7, 0.98), 1.0)
