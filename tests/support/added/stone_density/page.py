"""The calculation page."""

from claykettle.core.quantity import Number
from claykettle.core.sheet import Page

page = Page("stone_density")
page.reading("stone", "stone", "g", "balance")
page.reading("volume_before", "volume before", "mL", "liquid_volume")
page.reading("volume_after", "volume with the stone", "mL", "liquid_volume")


@page.line("volume of the stone", "mL", "(volume with the stone) − (volume before)", positive=True)
def stone_volume(volume_after: Number, volume_before: Number) -> Number:
    return volume_after - volume_before


@page.line("density", "g/mL", "(stone) / (volume of the stone)")
def density(stone: Number, stone_volume: Number) -> Number:
    return stone / stone_volume


RESULTS = ("stone_volume", "density")
