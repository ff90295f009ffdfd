"""Every form of its page, and a truth as a class meets it: what the shared tests and the practice bench start from."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.method import Draw
from claykettle.core.methods.gas_over_water.bench import GasOverWaterTruth
from claykettle.core.methods.gas_over_water.options import GasOverWaterOptions
from claykettle.core.methods.parts.tube import TubeSetting
from claykettle.core.sheet import Shape


def shapes() -> Iterator[Shape]:
    """Every kind of form the page can take, for the check at import and for the tests."""
    zinc: dict[str, object] = {"reagent": "Zn", "equation": "Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)"}
    peroxide = {"reagent": "H2O2", "equation": "2 H2O2(aq) -> 2 H2O(l) + O2(g)", "gas": "O2", "density": "1.11 g/mL"}
    burette = {"tube": {"reading": "inverted_burette", "mark": "50 mL"}}
    corrected = {"meniscus_correction": "0.2 mL"}
    columns = frozenset({"level_difference"})
    later = frozenset({"volume_start", "level_difference", "level_difference_start", "temperature_start"})
    alone = frozenset({"sample"})
    for options, optional, net, split in (
        (zinc | burette, columns, alone, frozenset[str]()),
        (zinc | burette | corrected, later, alone, alone),
        (zinc, frozenset[str](), alone, frozenset[str]()),
        (zinc, frozenset({"volume_start"}), frozenset[str](), frozenset[str]()),
        (zinc | corrected, later, alone, frozenset[str]()),
        (zinc | corrected | {"standard": "0C_1bar"}, columns, alone, frozenset[str]()),
        (zinc | burette, later, alone, frozenset[str]()),
        (zinc | burette | corrected | {"gravity": "9.81 m/s2"}, columns, alone, frozenset[str]()),
        (zinc | {"barometer": "sea_level", "elevation": "520 m"}, columns, alone, frozenset[str]()),
        (zinc | {"linear_density": "1.02 mg/mm"}, frozenset({"sample_length"}), frozenset[str](), frozenset[str]()),
        (peroxide, frozenset({"sample_volume", "level_difference"}), frozenset[str](), frozenset[str]()),
        ({}, columns, alone, frozenset[str]()),
        (burette, frozenset[str](), alone, alone),
    ):
        yield Shape(GasOverWaterOptions.model_validate(options), net, split, optional)
    known_end = {"tube": {"reading": "inverted_burette", "mark": "50 mL", "dead_volume": "2.4 mL"}}
    for options, optional, missed in (
        (zinc, frozenset({"volume_start"}), frozenset({"level_difference"})),
        (zinc | known_end, later - {"level_difference"}, frozenset({"level_difference", "dead_volume"})),
    ):
        yield Shape(GasOverWaterOptions.model_validate(options), alone, frozenset(), optional, missed)


def sample(draw: Draw) -> GasOverWaterTruth:
    """A truth as a class meets it, its figures drawn."""
    return GasOverWaterTruth(
        draw(3e-5, 9e-5),
        draw(9, 15),
        draw(290, 300),
        draw(8.8e4, 1.01e5),
        TubeSetting(draw(1e-6, 5e-6), draw(288, 298), draw(0.02, 0.2), draw(0.02, 0.2), 2.4e-6),
    )
