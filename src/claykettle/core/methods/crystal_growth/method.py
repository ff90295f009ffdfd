"""Crystal growth: one solution in equal portions, cooled in different ways, the crystals measured and compared."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.method import (
    LIQUOR,
    Aftercare,
    Bench,
    Headline,
    Judging,
    MethodOf,
    Remain,
    Trial,
    dissolved,
    practised_in,
    read_aim,
    read_causes,
)
from claykettle.core.methods.crystal_growth.bench import CrystalGrowthTruth, expect, play, truth
from claykettle.core.methods.crystal_growth.judge import judge, measured
from claykettle.core.methods.crystal_growth.options import CrystalGrowthOptions
from claykettle.core.methods.crystal_growth.page import RESULTS, page
from claykettle.core.methods.crystal_growth.sample import sample, shapes
from claykettle.core.pictures.pictures import Pictures


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """The crystals and their liquor go together: how much of each nobody weighed."""
    options: CrystalGrowthOptions = trial.options
    volume = sum(trial.value(f"volume_{number}") or 0.0 for number in options.numbers)
    yield dissolved(options.solute, None, LIQUOR, volume or None)


METHOD = MethodOf[CrystalGrowthOptions, CrystalGrowthTruth](
    name="crystal_growth",
    title="Crystal growth, a fair test",
    aim=read_aim(__package__),
    page=page,
    options=CrystalGrowthOptions,
    results=RESULTS,
    judging=Judging(
        key=lambda options: "length_ratio",
        headline=lambda options: Headline(
            f"{options.portion(1).label} : {options.portion(2).label} = {{}}",
            "volume_difference_percent",
            "volumes {} apart",
        ),
        judge=judge,
        pictures=lambda trial: Pictures(sizes=measured(trial)),
    ),
    bench=Bench(
        play=play,
        truth=truth,
        expect=expect,
        sample=sample,
        shapes=shapes,
        causes=read_causes(__package__),
    ),
    aftercare=Aftercare(
        remains=remains,
    ),
    rehearsal=practised_in(__package__),
)
