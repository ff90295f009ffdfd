"""Gases that are made, collected, lost and weighed: in a tube over water, out of an open vessel, in a flask.

Constants are common practice: a small piece of metal is gone in a few minutes, its gas takes the warmth of the bath in
as many, an effervescence is over in five and what stays dissolved is swirled out in two.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from claykettle.core.matter.chance import Chance
from claykettle.core.matter.matter import Account, Act, Air, Offer, Part, choices
from claykettle.core.matter.physics import approached, left_of

DISSOLVING_S = 55.0
"""Time constant in which a thin piece of metal is gone."""
WARMS_K, TO_BATH_S = 6.0, 55.0
"""How much warmer than its bath a gas is while it is made, and how soon it is as cold."""
FIZZ_S, SWIRL_S, REST_S = 55.0, 25.0, 900.0
"""Time constants: of an effervescence, of gas that leaves a swirled liquid, and of a liquid that stands."""
OVER = 0.6
"""Gas that a liquid holds too much just after, as a part of what it can hold for good."""
FILLING_S = 210.0
"""Time constant in which a stream of gas takes the place of the air."""
SKIN = 6e-7
"""kg of moisture by which the outside of a flask differs from one weighing to the next."""
FIZZES_S = 3000.0
"""How long a generator's acid lasts."""


class Tube(Part):
    """A tube over water in which a gas collects: `made` mol of it; `left` names the condition of what is to come."""

    def __init__(self, made: float, temperature: float, left: str = "unreacted", end: str = "volume_end"):
        self.made, self.bath, self.left_name, self.end = made, temperature, left, end
        self.left, self.excess, self.is_running = 1.0, 0.0, False

    def advance(self, seconds: float, air: Air) -> None:
        if not self.is_running:
            return
        before = self.left
        self.left = left_of(before, 1 / DISSOLVING_S, seconds)
        self.excess = approached(self.excess + WARMS_K * (before - self.left), 0.0, seconds, TO_BATH_S)

    def acts(self) -> Mapping[str, Sequence[str]]:
        return {"start": ("",), "open": ("",)}

    def do(self, act: Act) -> None:
        self.is_running = act.name == "start" or self.is_running

    def offers(self) -> Iterable[Offer]:
        if not self.is_running:
            yield Offer(Act("start"), "Let the acid reach it")

    def conditions(self) -> Mapping[str, float]:
        return {self.left_name: self.left}

    def scales(self) -> Mapping[str, float]:
        return {self.end: 1 + self.excess / self.bath}

    def hinders(self, slot: str) -> str:
        return "No gas is there yet: let it react first." if slot == self.end and not self.is_running else ""

    def wanders(self, slot: str) -> float:
        return 0.0

    def seen(self) -> Sequence[str]:
        if not self.is_running:
            return ()
        return ("fizzing",) if self.left > 0.02 else ("bubbles stopped",)

    def closer(self) -> str:
        if not self.is_running:
            return "The piece is bright, the tube full of water."
        return "A rest of the piece is still there." if self.left > 0.01 else "Nothing of the piece is left."

    def account(self) -> Account | None:
        there = self.made * self.left
        return Account(self.made, there, self.made - there, 0.0)

    def drawn(self) -> Mapping[str, object]:
        return {
            "apparatus": "tube",
            "running": self.is_running,
            "part": round(1 - self.left, 3) if self.is_running else 0.0,
            "warm": round(self.excess, 1),
        }


class Beaker(Part):
    """A vessel with acid from which gas goes off. `most` is mol of it that the liquid holds for good, at most."""

    def __init__(self, most: float, after: str = "vessel_after"):
        self.most, self.after = most, after
        self.left, self.over, self.is_in, self.swirling = 1.0, 0.0, False, False

    def advance(self, seconds: float, air: Air) -> None:
        if not self.is_in:
            return
        before = self.left
        self.left = left_of(before, 1 / FIZZ_S, seconds)
        pace = 1 / SWIRL_S if self.swirling else 1 / REST_S
        self.over = left_of(self.over + OVER * self.most * (before - self.left), pace, seconds)

    def acts(self) -> Mapping[str, Sequence[str]]:
        return {"tip": ("",), "swirl": ("on", "off")}

    def do(self, act: Act) -> None:
        if act.name == "tip":
            self.is_in = True
        else:
            self.swirling = act.value == "on"

    def offers(self) -> Iterable[Offer]:
        if not self.is_in:
            yield Offer(Act("tip"), "Tip the sample in")
        rows = (("off", "Stands"), ("on", "Is swirled"))
        yield from choices("Beaker", "swirl", rows, "on" if self.swirling else "off")

    def conditions(self) -> Mapping[str, float]:
        return {"early": self.left, "still_dissolved": self.over}

    def shows(self, slot: str) -> str:
        return self.after if slot == "vessel_before" and self.is_in else slot

    def hinders(self, slot: str) -> str:
        return "The sample is not in yet: tip it in first." if slot == self.after and not self.is_in else ""

    def seen(self) -> Sequence[str]:
        if not self.is_in:
            return ()
        return ("fizzing",) if self.left > 0.02 else ("quiet",)

    def account(self) -> Account | None:
        return Account(1.0, self.left, 1.0 - self.left, 0.0)

    def drawn(self) -> Mapping[str, object]:
        return {"apparatus": "beaker", "in": self.is_in, "fizz": round(self.left, 3), "swirl": self.swirling}


class Flask(Part):
    """A flask full of air that a stream of gas fills, and water at the end. `air` is its content at first, in kg."""

    def __init__(self, air: float, wet: float, chance: Chance, lasts: float = FIZZES_S):
        self.air_mass, self.wet, self.lasts = air, wet, lasts
        self.left, self.is_filling, self.has_water = 1.0, False, False
        self.chance, self.skin = chance.stream("flask"), 0.0

    def advance(self, seconds: float, air: Air) -> None:
        if self.is_filling:
            flows = min(seconds, self.lasts)
            self.left = left_of(self.left, 1 / FILLING_S, flows)
            self.lasts -= flows

    def acts(self) -> Mapping[str, Sequence[str]]:
        return {"dry": ("flask",), "gas": ("on", "off"), "acid": ("",), "water": ("",)}

    def do(self, act: Act) -> None:
        if act.name == "dry":
            self.wet = 0.0
        elif act.name == "gas":
            self.is_filling = act.value == "on"
            if not self.is_filling:
                self.skin = self.chance.about(0.0, SKIN)
        elif act.name == "acid":
            self.lasts = FIZZES_S
        else:
            self.has_water, self.is_filling = True, False

    def offers(self) -> Iterable[Offer]:
        if self.wet:
            yield Offer(Act("dry", "flask"), "Dry the flask")
        if self.has_water:
            return
        yield from choices("Gas", "gas", (("off", "Closed"), ("on", "Open")), "on" if self.is_filling else "off")
        yield Offer(Act("acid"), "Acid to the generator")
        yield Offer(Act("water"), "Fill it with water")

    def conditions(self) -> Mapping[str, float]:
        return {"air_left": self.left, "wet": self.wet if self.left == 1.0 else 0.0}

    def shifts(self) -> Mapping[str, float]:
        return {"flask_gas": self.skin}

    def shows(self, slot: str) -> str:
        return "flask_gas" if slot == "flask_air" and self.left < 1.0 else slot

    def hinders(self, slot: str) -> str:
        if slot == "flask_water" and not self.has_water:
            return "There is no water in it yet: fill it first."
        if slot in ("flask_air", "flask_gas") and self.has_water:
            return "There is water in the flask."
        if slot == "flask_gas" and self.left == 1.0:
            return "There is only air in it: lead the gas in first."
        return "Close the gas first: the hose pulls at the pan." if slot == "flask_gas" and self.is_filling else ""

    def seen(self) -> Sequence[str]:
        return ("fizzing",) if self.is_filling and self.lasts > 0 else ()

    def account(self) -> Account | None:
        there = self.air_mass * self.left
        return Account(self.air_mass, there, self.air_mass - there, 0.0)

    def drawn(self) -> Mapping[str, object]:
        return {
            "apparatus": "flask",
            "filling": self.is_filling,
            "air": round(self.left, 3),
            "water": self.has_water,
            "fizzes": self.lasts > 0,
        }
