"""The density of a stone, put together."""

from claykettle.core.methods.stone_density.bench import StoneTruth, expect, play, truth
from claykettle.core.methods.stone_density.judge import headline, judge, key
from claykettle.core.methods.stone_density.options import StoneOptions
from claykettle.core.methods.stone_density.page import RESULTS, page
from claykettle.core.methods.stone_density.sample import sample, shapes

from claykettle.core.method import Bench, Judging, MethodOf, read_aim, read_causes

METHOD = MethodOf[StoneOptions, StoneTruth](
    name="stone_density",
    title="Density of a stone",
    aim=read_aim(__package__),
    page=page,
    options=StoneOptions,
    results=RESULTS,
    judging=Judging(key=key, headline=headline, judge=judge),
    bench=Bench(play, truth, expect, sample, shapes, read_causes(__package__)),
)
