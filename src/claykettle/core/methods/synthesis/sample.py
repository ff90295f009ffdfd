"""Every form of its page, and a truth as a class meets it: what the shared tests and the practice bench start from."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product

from claykettle.core.method import Draw
from claykettle.core.methods.synthesis.bench import DRIP, SynthesisTruth
from claykettle.core.methods.synthesis.options import SynthesisOptions
from claykettle.core.methods.synthesis.page import MELTING
from claykettle.core.sheet import Shape


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    aspirin = {
        "equation": "C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2",
        "reagents": ["C7H6O3", "C4H6O3 98 % 1.08 g/mL", "H3PO4 85 % 1.69 g/mL catalyst", "H2O solvent"],
        "literature_melting": ["135 degC", "136 degC"],
    }
    magnetite = {
        "equation": "FeCl2 + 2 FeCl3 + 8 NH3 + 4 H2O -> Fe3O4 + 8 NH4Cl",
        "reagents": ["FeCl2.4H2O", "FeCl3 1 mol/L", "NH3 1 mol/L"],
    }
    metals = ("Co", "Ni", "Zn", "Mn", "Mg", "Cu", "Ca", "Sr", "Ba", "Cd")
    chlorides = " + ".join(f"{metal}Cl2" for metal in metals)
    ferrite = {"equation": f"{chlorides} + 20 FeCl3 + 80 NaOH -> {''.join(metals)}Fe20O40 + 80 NaCl + 40 H2O"}
    melts, drips = frozenset(MELTING), frozenset(DRIP)
    rows = (
        aspirin,
        magnetite,
        {"equation": aspirin["equation"], "reagents": ["C7H6O3 97 %", "C4H6O3 catalyst"]},
        ferrite,
    )
    ways = (
        frozenset({"pure"}) | melts | drips, frozenset({"pure", "pure_melting_start"}),
        frozenset({"crude_melting_start", "crude_melting_end"}), frozenset[str](),
    )  # fmt: skip
    for number, (row, taken) in enumerate(product(rows, ways)):
        options = SynthesisOptions.model_validate(row)
        weighed = {f"reagent_{n}" for n in range(1, len(options.taken) + 1) if not options.reagent(n).is_measured}
        net = frozenset(weighed | {"crude"} | (taken & {"pure"}))
        yield Shape(options, net, frozenset({"crude"}) if number % 2 else frozenset(), taken)


def sample(draw: Draw) -> SynthesisTruth:
    """A truth as a class meets it, its figures drawn."""
    return SynthesisTruth(
        (draw(1.8e-3, 2.2e-3), *(draw(4e-6, 6e-6) for _ in range(11))), draw(1.5e-3, 1.9e-3), draw(1e-3, 1.4e-3)
    )
