"""Gas collected over water: molar volume from a known reagent, or equivalent and molar mass of an unknown metal."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from claykettle.core.method import (
    VESSEL,
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
)
from claykettle.core.methods.gas_over_water.bench import (
    GasOverWaterTruth,
    accepted_result,
    accepted_word,
    expect,
    foresee,
    is_metal,
    matched_result,
    play,
    truth,
)
from claykettle.core.methods.gas_over_water.expected import expects
from claykettle.core.methods.gas_over_water.judge import consumes, headline, judge, judge_trials, key, physical
from claykettle.core.methods.gas_over_water.options import GasOverWaterOptions
from claykettle.core.methods.gas_over_water.page import RESULTS, page
from claykettle.core.methods.gas_over_water.sample import sample, shapes
from claykettle.core.methods.parts import tube
from claykettle.core.methods.parts.acid import remains_of
from claykettle.core.methods.parts.gas_facts import gas_facts, has_acid
from claykettle.core.methods.parts.tube import COLUMNS, drawn, inverted
from claykettle.core.pictures.pictures import Pictures


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """What the sample leaves in its acid; of an unknown metal only that there is something."""
    options: GasOverWaterOptions = trial.options
    if options.equation is None or options.reagent is None:
        volume = options.acid.volume.si if options.acid is not None else None
        yield Remain(None, "salt of the unknown metal", "dissolved", None, VESSEL, volume)
    else:
        yield from remains_of(options.equation, options.reagent, options.acid, trial.value("sample_amount"))


def marks(options: GasOverWaterOptions) -> Mapping[str, str]:
    """Beside a molar volume: that of an ideal gas, and of the gas itself."""
    if key(options) != "molar_volume_standard":
        return {}
    return {"ideal_molar_volume": "ideal gas", "real_molar_volume": f"real {options.gas.text}"}


TESTS = {"H2": "pop", "O2": "splint", "CO2": "limewater"}


def facts(options: GasOverWaterOptions) -> Mapping[str, str]:
    """The gas, how it is made and how it is tested."""
    equation, gas = options.equation, options.gas.text
    made = "acid" if equation is None or has_acid(equation) else "catalyst" if gas == "O2" else "other"
    return {**gas_facts([gas]), "made_by": made, "test": TESTS.get(gas, "other")}


METHOD = MethodOf[GasOverWaterOptions, GasOverWaterTruth](
    name="gas_over_water",
    title="Gas over water",
    aim=read_aim(__package__),
    page=page,
    options=GasOverWaterOptions,
    results=RESULTS,
    facts=facts,
    judging=Judging(
        key=key,
        headline=headline,
        marks=marks,
        columns=COLUMNS,
        judge=judge,
        accepted=accepted_result,
        accepted_word=accepted_word,
        physical=physical,
        matched=matched_result,
        alike="volume_per_gram_standard",
        alike_at_once="volume_per_gram",
        over_trials=judge_trials,
        pictures=lambda trial: Pictures(gas=drawn(trial, inverted(trial.sheet.shape))),
        expects=expects,
    ),
    bench=Bench(
        play=play,
        truth=truth,
        expect=expect,
        sample=sample,
        shapes=shapes,
        causes=read_causes(__package__, tube.WORDS | {"is_metal": is_metal}),
    ),
    foresight=Foresight(
        foresee,
        ("temperature", "barometer", "dead_volume", "concentration", "excess"),
        measured=("sample_length", "sample_volume"),
        consumes=consumes,
        usual={"concentration": "3 mol/L"},
        usual_first=True,
    ),
    aftercare=Aftercare(
        remains=remains,
    ),
    rehearsal=practised_in(__package__),
)
