"""The matter of a simulated bench: what time and hands do to it. Parts that methods put together for their own."""

from claykettle.core.matter.chance import LARGEST_SEED, Chance
from claykettle.core.matter.collected import Collected, Drying
from claykettle.core.matter.fired import Content, Fired
from claykettle.core.matter.gases import Beaker, Flask, Tube
from claykettle.core.matter.matter import LONGEST, Account, Act, Air, Matter, Offer, Part
from claykettle.core.matter.solutions import Cooling, Growing, Reacting

__all__ = [
    "LARGEST_SEED",
    "LONGEST",
    "Account",
    "Act",
    "Air",
    "Beaker",
    "Chance",
    "Collected",
    "Content",
    "Cooling",
    "Drying",
    "Fired",
    "Flask",
    "Growing",
    "Matter",
    "Offer",
    "Part",
    "Reacting",
    "Tube",
]
