"""Water of a hydrate: weigh, heat, cool, weigh until constant; percent water, ratio and formula."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from claykettle.core.chemistry.equation import reaction_of
from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.chemistry.hydrates import given_off
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
from claykettle.core.methods.hydrate.bench import (
    HydrateTruth,
    accepted_result,
    accepted_word,
    expect,
    foresee,
    matched_result,
    play,
    truth,
)
from claykettle.core.methods.hydrate.expected import expects
from claykettle.core.methods.hydrate.judge import decisive, headline, judge
from claykettle.core.methods.hydrate.options import WATER, HydrateOptions
from claykettle.core.methods.hydrate.page import RESULTS, crucible, page
from claykettle.core.methods.hydrate.sample import sample, shapes
from claykettle.core.methods.parts.crucible import USUAL, lidded


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """The residue: the salt without its water."""
    options: HydrateOptions = trial.options
    hydrate = options.accepted or (parse_formula(found) if found else None)
    salt = options.salt or (hydrate.anhydrous if hydrate is not None else None)
    if salt is None:
        yield Remain(None, "residue of an unknown salt", "solid")
    else:
        yield solid(salt, trial.value("residue_mass"))


def reaction(options: HydrateOptions, found: str | None) -> str:
    """The salt loses its water; how much of it is told once it was found."""
    if found is not None:
        return reaction_of(f"{found} -> {parse_formula(found).anhydrous.text} + H2O")
    return f"{options.salt.text}·xH2O → {options.salt.text} + x H2O" if options.salt is not None else ""


def facts(options: HydrateOptions) -> Mapping[str, str]:
    """What comes off with the water."""
    salt = options.accepted or options.salt
    gas = given_off(salt) if salt is not None else ""
    if not gas:
        return {}
    say = f"{gas[:1].upper()}{gas[1:]} comes off with the water: in the hood, and ask your safety officer first."
    return {"gas_kind": "poisonous", "gas_say": say}


def parts(options: HydrateOptions) -> Sequence[tuple[str, str, str]]:
    """Salt and water."""
    if not options.asks_formula:
        return ()
    salt = options.known_salt.text
    return ((salt, "residue_mass", "salt_molar_mass"), (WATER.text, "water_mass", "water_molar_mass"))


METHOD = MethodOf[HydrateOptions, HydrateTruth](
    name="hydrate",
    title="Water of a hydrate",
    aim=read_aim(__package__),
    page=page,
    options=HydrateOptions,
    results=RESULTS,
    facts=facts,
    judging=Judging(
        parts=parts,
        reaction=reaction,
        key=decisive,
        headline=headline,
        judge=judge,
        accepted=accepted_result,
        accepted_word=accepted_word,
        matched=matched_result,
        expects=expects,
    ),
    bench=Bench(
        play=play,
        truth=truth,
        expect=expect,
        sample=sample,
        shapes=shapes,
        causes=read_causes(__package__, names=crucible.names),
    ),
    foresight=Foresight(foresee, ("vessel_mass", "vessel_volume"), usual=USUAL),
    aftercare=Aftercare(
        remains=remains,
    ),
    usual_first=True,
    lidded=lidded,
    rehearsal=practised_in(__package__),
)
