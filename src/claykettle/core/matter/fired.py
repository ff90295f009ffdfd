"""A vessel in and beside the flame: how warm it is, what its content has lost or taken up, what jumped out of it.

Constants are common practice of teaching laboratories: a crucible glows within two minutes and is cold ten minutes
after the flame; a hydrate is mostly dry after its first eight minutes; a warm vessel reads some milligrams light.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from claykettle.core.matter.chance import Chance
from claykettle.core.matter.matter import Account, Act, Air, Offer, Part, choices
from claykettle.core.matter.physics import approached, left_of, rate_at

HEATING_S, COOLING_S = 25.0, 85.0
"""Time constants: in the flame, and on gauze (ten minutes after 700 °C a vessel is one kelvin above the room)."""
FLAMES = {"off": 0.0, "low": 560.0, "full": 1050.0}
"""K: what a thin dish reaches in a low and in a full blue flame."""
LIFT, MOST_LIFT = 6e-8, 3e-5
"""kg per kelvin by which warm air lifts a vessel, and the most that it does."""
WARM_K, FELT_K = 1.0, 6.0
"""Above the room: so warm that a figure wanders, and that a hand near it feels it."""
WANDER = 2.5e-8
"""kg per kelvin by which the figure over a warm vessel goes up and down."""
STEP_S, SETTLED_K = 4.0, 0.5
COVERS = {"off": 1.0, "ajar": 0.9, "on": 0.75}
"""How freely vapour leaves under a cover."""
HOLDS_BACK = {"off": 1.0, "ajar": 0.3, "on": 0.02}
"""What share of the grains that jump gets past a cover."""
THIRST = 3e-10
"""kg/s that a dry salt takes up in damp air, uncovered, at a humidity of one."""
CALM = 0.030
"""1/s: a content that goes faster than this jumps."""
JUMPS = 0.05
"""kg of solid thrown out per kg of gas that leaves too fast."""
ENERGY = 8.0e4
"""J/mol: how steeply loss rises with temperature; a hydrate's loss of water lies between 60 and 100 kJ/mol."""
SCORCH, SCORCH_ENERGY, BROWN = 3.0e-6, 2.0e5, 0.005
"""1/s and J/mol: how a salt itself goes where it begins to; and how much of it is gone when an edge is brown."""
WETNESS_K, FILM = 373.0, 3e-6
SEAT = 4.5e-7
"""kg: a vessel comes back from the flame half a milligram lighter or heavier than before (soot, moisture, its lid)."""


@dataclass
class Content:
    """What is in the vessel: its mass as it lies there, how much of that can come off (negative: comes on), and when.

    `rate` is in 1/s at `reference` K. `left` is the name of the condition for what is still to come, `burnt` of that
    for what should have stayed and went too, above `scorches` K.
    """

    mass: float
    volatile: float
    rate: float
    reference: float
    left: str
    burnt: str = ""
    scorches: float = 0.0


class Fired(Part):
    """A vessel over a flame and on the pan. `empty`, `loaded` and `series` are the readings that it stands in."""

    def __init__(
        self, content: Content, readings: tuple[str, str, str], wet: float, chance: Chance, cover: str = "off"
    ):
        self.content = content
        self.empty, self.loaded, self.series = readings
        self.chance, self.seat = chance.stream("seat"), 0.0
        self.temperature = 294.0
        self.flame, self.cover, self.place = "off", cover, "gauze"
        self.wet, self.left, self.is_in = wet, 1.0, False
        self.was_fired = False
        self.burnt = self.jumped = self.damp = self.gone = 0.0
        self.tags: list[str] = []
        self.room: Air | None = None

    # Time

    def advance(self, seconds: float, air: Air) -> None:
        if self.room is None:
            self.temperature = air.temperature
        self.room = air
        while seconds > 0:
            step = seconds if abs(self.temperature - self._goal(air)) < SETTLED_K else min(STEP_S, seconds)
            before = self.temperature
            self.temperature = approached(before, self._goal(air), step, self._constant())
            self._change(step, (before + self.temperature) / 2, air)
            seconds -= step

    def _goal(self, air: Air) -> float:
        return max(air.temperature, FLAMES[self.flame]) if self.place == "flame" else air.temperature

    def _constant(self) -> float:
        return HEATING_S if self.place == "flame" and self.flame != "off" else COOLING_S

    def _change(self, seconds: float, warmth: float, air: Air) -> None:
        if warmth > WETNESS_K:
            self.wet, self.damp = left_of(self.wet, 0.02, seconds), left_of(self.damp, 0.02, seconds)
        if not self.is_in:
            return
        content, before = self.content, self.left
        rate = rate_at(content.rate, content.reference, ENERGY, warmth) * COVERS[self.cover]
        self.left = left_of(before, rate, seconds)
        passed = content.volatile * (before - self.left)
        self.gone += passed
        self._jump(rate * before, passed)
        if content.burnt and warmth > content.scorches:
            if self.burnt > BROWN:
                self._see("brown edge")
            self.burnt = 1 - left_of(1 - self.burnt, rate_at(SCORCH, content.scorches, SCORCH_ENERGY, warmth), seconds)
        if self.cover != "on" and content.volatile > 0 and warmth < WETNESS_K - 30:
            self.damp += THIRST * air.humidity * seconds * (1 - self.left)

    def _jump(self, pace: float, passed: float) -> None:
        """What leaves in a hurry takes grains with it."""
        if pace > CALM and passed > 0:
            self.jumped += JUMPS * passed * HOLDS_BACK[self.cover]
            self._see("popping")

    def _see(self, tag: str) -> None:
        if tag not in self.tags:
            self.tags.append(tag)

    # Hands

    def acts(self) -> Mapping[str, Sequence[str]]:
        return {
            "flame": tuple(FLAMES),
            "cover": tuple(COVERS),
            "put": ("flame", "gauze", "pan"),
            "load": ("",),
        }

    def do(self, act: Act) -> None:
        if act.name == "load":
            self.is_in = True
        elif act.name == "flame":
            self.flame = act.value
            if act.value != "off":
                self.place, self.was_fired = "flame", self.is_in
                self.seat = self.chance.about(0.0, SEAT)
        elif act.name == "cover":
            self.cover = act.value
        else:
            self.place = act.value
            if act.value != "flame":
                self.flame = "off"

    def offers(self) -> Iterable[Offer]:
        hot = self.place == "flame"
        burns = self.flame if hot else "off"
        yield from choices("Flame", "flame", (("off", "Off"), ("low", "Low"), ("full", "Full")), burns)
        yield from choices("Cover", "cover", (("off", "Off"), ("ajar", "Ajar"), ("on", "On")), self.cover)
        yield Offer(Act("put", "gauze"), "Onto gauze", group="Vessel", chosen=self.place == "gauze")
        stopped = "It stands in the flame: take it off first." if hot else ""
        yield Offer(Act("put", "pan"), "Onto the pan", stopped, "Vessel", self.place == "pan")
        if not self.is_in:
            yield Offer(Act("load"), "Put the sample in", "It is still warm: let it cool first." if self._felt else "")

    def takes(self, slot: str) -> None:
        if slot == self.loaded:
            self.is_in = True

    # What is shown

    @property
    def excess(self) -> float:
        """K above the room."""
        return 0.0 if self.room is None else max(0.0, self.temperature - self.room.temperature)

    @property
    def _felt(self) -> bool:
        return self.excess > FELT_K

    @property
    def is_begun(self) -> bool:
        return self.was_fired

    def conditions(self) -> Mapping[str, float]:
        found = {self.content.left: self.left}
        return found | {self.content.burnt: self.burnt} if self.content.burnt else found

    def shifts(self) -> Mapping[str, float]:
        lift = min(MOST_LIFT, LIFT * self.excess) if self.lifts else 0.0
        on_vessel = self.wet + self.seat - lift
        return {
            self.empty: on_vessel,
            self.loaded: on_vessel,
            self.series: on_vessel - self.jumped + self.damp,
        }

    def shows(self, slot: str) -> str:
        if slot not in (self.empty, self.loaded, self.series):
            return slot
        if not self.is_in:
            return self.empty
        return self.loaded if slot == self.loaded and not self.was_fired else self.series

    def hinders(self, slot: str) -> str:
        if slot not in (self.empty, self.loaded, self.series):
            return ""
        if self.place == "flame":
            return "What stands in the flame is not weighed: take it off, let it cool on gauze."
        if self.place != "pan":
            return "There is nothing on the pan: put the vessel onto it."
        return ""

    def wanders(self, slot: str) -> float:
        if slot not in (self.empty, self.loaded, self.series) or self.excess < WARM_K or not self.lifts:
            return 0.0
        return min(MOST_LIFT, WANDER * self.excess)

    def seen(self) -> Sequence[str]:
        return tuple(self.tags)

    def closer(self) -> str:
        if not self.is_in:
            return "There is a film of moisture on the vessel." if self.wet > FILM else "The vessel is dry and empty."
        if self.burnt > BROWN:
            return "An edge is brown: more than its water is leaving."
        stages = ((0.9, "as it came from the jar"), (0.3, "changed at the edges, not in the middle"),
                  (0.03, "changed nearly throughout"))  # fmt: skip
        stage = next((words for least, words in stages if self.left > least), "changed throughout, down to the bottom")
        lost = " Grains lie beside the vessel." if self.jumped > FILM else ""
        return f"What is in the vessel looks {stage}.{lost}"

    def account(self) -> Account | None:
        if not self.is_in:
            return None
        mass = self.content.mass
        off, on = max(self.gone, 0.0), max(-self.gone, 0.0)
        there = mass - self.content.volatile * (1 - self.left) - self.jumped + self.damp
        return Account(mass, there, off + self.jumped, on + self.damp)

    def drawn(self) -> Mapping[str, object]:
        return {
            "apparatus": "fired",
            "flame": self.flame,
            "cover": self.cover,
            "place": self.place,
            "loaded": self.is_in,
            "left": round(self.left, 3),
            "warm": round(self.excess),
            "felt": self._felt,
            "pops": self.flame != "off" and "popping" in self.tags,
        }
