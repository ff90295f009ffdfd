"""A solid on its paper or dish: rinsed, drained, dried, and weighed when it is dry.

Constants are common practice: what a filter holds back of its liquid, how far one rinse takes the dissolved salt down,
that a night in the oven dries a paper and a day in the air does.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from claykettle.core.matter.chance import Chance
from claykettle.core.matter.matter import Account, Act, Air, Offer, Part, choices
from claykettle.core.matter.physics import approached, left_of

DRYING = (
    ("bench", "On the bench"),
    ("oven", "In the oven"),
    ("air", "In the air"),
    ("desiccator", "In the desiccator"),
)
LIQUID = 1.2
"""kg of liquid that stays with each kg of solid on a drained filter, paper included."""
DRY_S = {"oven": 9.0e2, "air": 4.0e3, "desiccator": 3.6e3, "bench": 6.0e4}
"""Time constants of drying, by where it lies."""
SALT = 0.04
"""kg of dissolved salt in each kg of liquid before the first rinse."""
RINSE_PAPER, RINSE_BEAKER = 0.05, 0.10
"""What one rinse leaves of the salt in the solid, and of the solid in the beaker."""
IN_BEAKER = 0.03
"""The part of the solid that stays in the beaker when it is poured out."""
NAME = 6e-7
"""kg of pencil on a paper (common practice: half a milligram)."""
AIR_DRY = 8.5e-7
"""kg: a dried paper takes up more or less from the room's air before it is weighed."""
COOL_S, OVEN_K, LIFT = 120.0, 378.0, 4e-8


class Collected(Part):
    """The solid and what it lies on. `empty` and `series` are its readings, `solid` the dry mass in kg."""

    def __init__(self, solid: float, chance: Chance, empty: str = "paper", series: str = "collected"):
        self.solid, self.empty, self.series = solid, empty, series
        self.chance, self.air_dry = chance.stream("paper"), 0.0
        self.is_poured, self.is_named = False, False
        self.named_late = 0.0
        self.liquid = LIQUID * solid
        self.at_first = self.liquid
        self.salt = SALT * self.liquid
        self.beaker = IN_BEAKER * solid
        self.place, self.warmth = "bench", 0.0
        self.was_weighed, self.rinses = False, 0

    def advance(self, seconds: float, air: Air) -> None:
        goal = max(0.0, OVEN_K - air.temperature) if self.place == "oven" else 0.0
        self.warmth = approached(self.warmth, goal, seconds, COOL_S)
        if self.is_poured:
            self.liquid = left_of(self.liquid, 1 / DRY_S[self.place], seconds)

    def acts(self) -> Mapping[str, Sequence[str]]:
        return {
            "name": ("",),
            "pour": ("",),
            "rinse": ("paper", "beaker"),
            "dry": tuple(DRY_S),
        }

    def do(self, act: Act) -> None:
        if act.name == "name":
            self.named_late = NAME if self.was_weighed and not self.is_named else 0.0
            self.is_named = True
        elif act.name == "pour":
            self.is_poured = True
        elif act.name == "dry":
            self.place = act.value
            if act.value == "bench":
                self.air_dry = self.chance.about(0.0, AIR_DRY)
        elif act.value == "paper":
            self.salt *= RINSE_PAPER
            self.rinses += 1
        else:
            self.beaker *= RINSE_BEAKER

    def offers(self) -> Iterable[Offer]:
        if not self.is_named:
            yield Offer(Act("name"), "Write the name on it")
        if not self.is_poured:
            yield Offer(Act("pour"), "Pour it onto the filter")
        else:
            yield Offer(Act("rinse", "beaker"), "Rinse the beaker onto it")
            yield Offer(Act("rinse", "paper"), "Rinse the solid")
        empty = "" if self.is_poured else "There is nothing on the paper yet."
        yield from choices("Lies", "dry", DRYING, self.place, empty)

    def shifts(self) -> Mapping[str, float]:
        on_it = self.air_dry + self.liquid + self.salt + self.named_late - self.beaker - LIFT * self.warmth
        return {self.series: on_it, self.empty: 0.0}

    def hinders(self, slot: str) -> str:
        if slot == self.series and not self.is_poured:
            return "There is nothing on it yet: filter first."
        if slot == self.series and self.place == "oven":
            return "It lies in the oven: take it out and let it cool."
        return ""

    def wanders(self, slot: str) -> float:
        return 1e-8 * self.warmth if slot == self.series else 0.0

    def takes(self, slot: str) -> None:
        if slot == self.empty:
            self.was_weighed = True

    def seen(self) -> Sequence[str]:
        if not self.is_poured:
            return ()
        return ("still cloudy",) if self.salt > 2e-3 * SALT * self.at_first else ("washings clear",)

    def closer(self) -> str:
        if not self.is_poured:
            return "The paper is empty."
        wet = self.liquid / self.at_first if self.at_first else 0.0
        stages = ((0.3, "wet and shines"), (0.02, "damp and clings together"))
        stage = next((words for least, words in stages if wet > least), "dry and crumbles")
        beaker = " A ring of it is left in the beaker." if self.beaker > 2e-3 * self.solid else ""
        return f"The solid is {stage}.{beaker}"

    def account(self) -> Account | None:
        if not self.is_poured:
            return None
        put_in = self.solid + self.at_first
        there = self.solid - self.beaker + self.liquid
        return Account(put_in, there, self.at_first - self.liquid + self.beaker, 0.0)

    def drawn(self) -> Mapping[str, object]:
        return {
            "apparatus": "paper",
            "poured": self.is_poured,
            "named": self.is_named,
            "place": self.place,
            "wet": round(self.liquid / self.at_first, 3) if self.at_first else 0.0,
            "rinses": self.rinses,
        }


class Drying(Part):
    """A product that dries on its glass, such as crude crystals: what is still wet is weighed with it."""

    def __init__(self, wet: Mapping[str, float], begins: Mapping[str, str]):
        """`wet` is the liquid (kg) on each reading's solid, `begins` the act that brings it there."""
        self.wet, self.begins = dict(wet), dict(begins)
        self.at_first = dict(wet)
        self.there: set[str] = set()
        self.place = "bench"

    def advance(self, seconds: float, air: Air) -> None:
        for slot in self.there:
            self.wet[slot] = left_of(self.wet[slot], 1 / DRY_S[self.place], seconds)

    def acts(self) -> Mapping[str, Sequence[str]]:
        return {"collect": tuple(self.begins.values()), "dry": tuple(DRY_S)}

    def do(self, act: Act) -> None:
        if act.name == "dry":
            self.place = act.value
        else:
            self.there |= {slot for slot, name in self.begins.items() if name == act.value}
            self.place = "bench"

    def offers(self) -> Iterable[Offer]:
        for slot, name in self.begins.items():
            if slot not in self.there:
                yield Offer(Act("collect", name), f"Collect the {name} product")
                break
        if self.there:
            yield from choices("Lies", "dry", DRYING, self.place)

    def shifts(self) -> Mapping[str, float]:
        return {name: self.wet[slot] for slot in self.there for name in (slot, f"{slot}_gross")}

    def hinders(self, slot: str) -> str:
        name = slot.removesuffix("_gross")
        if name in self.begins and name not in self.there:
            return "It is not there yet: it has to be made and collected first."
        return ""

    def account(self) -> Account | None:
        put_in = sum(self.at_first[slot] for slot in self.there)
        there = sum(self.wet[slot] for slot in self.there)
        return Account(put_in, there, put_in - there, 0.0) if self.there else None

    def wetness(self, slot: str) -> float:
        """The part of its first liquid that is still in it."""
        return self.wet[slot] / self.at_first[slot] if self.at_first.get(slot) else 0.0

    def drawn(self) -> Mapping[str, object]:
        return {
            "apparatus": "glass",
            "place": self.place,
            "wet": {slot: round(self.wetness(slot), 3) for slot in sorted(self.there)},
        }
