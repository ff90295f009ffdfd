"""Formula by combination: an element heated with a second one in a lidded crucible; ratio, formula, yield, mixture."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from claykettle.core.chemistry.equation import reaction_of
from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.method import (
    Aftercare,
    Bench,
    Foresight,
    Judging,
    MethodOf,
    Remain,
    Trial,
    practised_in,
    read_aim,
    read_causes,
    solid,
)
from claykettle.core.methods.combination.bench import (
    CombinationTruth,
    accepted_result,
    accepted_word,
    expect,
    foresee,
    in_air,
    matched_result,
    play,
    truth,
)
from claykettle.core.methods.combination.expected import expects
from claykettle.core.methods.combination.judge import headline, judge, key, physical
from claykettle.core.methods.combination.options import CombinationOptions
from claykettle.core.methods.combination.page import RESULTS, crucible, page
from claykettle.core.methods.combination.sample import sample, shapes
from claykettle.core.methods.parts.crucible import USUAL, lidded


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """The product, as found or as taught."""
    options: CombinationOptions = trial.options
    product = parse_formula(found) if found else options.product
    if product is None:
        yield Remain(None, f"product of {options.element} with {options.partner}", "solid")
    else:
        yield solid(product, trial.value("product_mass"))


def parts(options: CombinationOptions) -> Sequence[tuple[str, str, str]]:
    """The element, and what it takes up."""
    if options.level != "formula":
        return ()
    return (
        (options.first, "element_mass", "element_molar_mass"),
        (options.second, "partner_mass", "partner_molar_mass"),
    )


METHOD = MethodOf[CombinationOptions, CombinationTruth](
    name="combination",
    title="Formula by combination",
    aim=read_aim(__package__),
    page=page,
    options=CombinationOptions,
    results=RESULTS,
    judging=Judging(
        answers=("product",),
        reaction=lambda options, found: reaction_of(f"{options.element.text} + {options.partner.text} -> {found}"),
        parts=parts,
        key=key,
        headline=headline,
        judge=judge,
        accepted=accepted_result,
        accepted_word=accepted_word,
        physical=physical,
        matched=matched_result,
        expects=expects,
    ),
    bench=Bench(
        play=play,
        truth=truth,
        expect=expect,
        sample=sample,
        shapes=shapes,
        causes=read_causes(__package__, {"in_air": in_air}, crucible.names),
    ),
    foresight=Foresight(foresee, ("vessel_mass", "vessel_volume"), usual=USUAL, label="element"),
    aftercare=Aftercare(
        remains=remains,
    ),
    lidded=lidded,
    rehearsal=practised_in(__package__),
)
