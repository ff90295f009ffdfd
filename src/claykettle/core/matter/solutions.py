"""Solutions that react, cool and give crystals: how far the reaction has gone, how warm it is, how fast it cools.

Constants are common practice: a quarter of an hour completes a warm preparation, a beaker on the board is at room
temperature after half an hour and in ice after ten minutes; what cools fast grows small.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any

from claykettle.core.matter.matter import Account, Act, Air, Offer, Part, choices
from claykettle.core.matter.physics import approached, left_of

REACTING_S = 95.0
BATHS = {"board": 270.0, "ice": 80.0, "water": 120.0, "insulated": 1500.0}
"""Time constants of cooling (s), by what the vessel stands in."""
ICE_K, TAP_K = 274.2, 285.0


class Reacting(Part):
    """A reaction in solution; `left` is the condition of what has not reacted."""

    def __init__(self, left: str = "incomplete", time_constant: float = REACTING_S):
        self.name, self.time_constant = left, time_constant
        self.left, self.is_running = 1.0, False

    def advance(self, seconds: float, air: Air) -> None:
        if self.is_running:
            self.left = left_of(self.left, 1 / self.time_constant, seconds)

    def acts(self) -> Mapping[str, Sequence[str]]:
        return {"mix": ("",), "stop": ("",)}

    def do(self, act: Act) -> None:
        self.is_running = act.name == "mix"

    def offers(self) -> Iterable[Offer]:
        if not self.is_running:
            yield Offer(Act("mix"), "Mix and warm it")
        else:
            yield Offer(Act("stop"), "Work it up")

    @property
    def is_begun(self) -> bool:
        return self.left < 1.0 or self.is_running

    def conditions(self) -> Mapping[str, float]:
        return {self.name: self.left}

    def account(self) -> Account | None:
        return Account(1.0, self.left, 1 - self.left, 0.0)

    def seen(self) -> Sequence[str]:
        return ("colour left",) if self.is_running and self.left > 0.02 else ()

    def drawn(self) -> Mapping[str, object]:
        return {"apparatus": "solution", "running": self.is_running, "left": round(self.left, 3)}


class Cooling(Part):
    """A hot solution that cools in a bath; `changes` makes the truth what it is at a temperature (K)."""

    def __init__(self, hot: float, changes: Callable[[Any, float], Any], reading: str = ""):
        self.temperature, self.changes, self.reading = hot, changes, reading
        self.hot, self.bath, self.is_hot = hot, "board", True
        self.slowest = 0.0

    def advance(self, seconds: float, air: Air) -> None:
        if self.is_hot:
            return
        goal = {"ice": ICE_K, "water": TAP_K}.get(self.bath, air.temperature)
        self.temperature = approached(self.temperature, goal, seconds, BATHS[self.bath])

    def acts(self) -> Mapping[str, Sequence[str]]:
        return {"cool": tuple(BATHS), "hold": ("",)}

    def do(self, act: Act) -> None:
        self.is_hot = act.name == "hold"
        if act.name == "cool":
            self.bath = act.value

    def offers(self) -> Iterable[Offer]:
        rows = (("board", "On the board"), ("water", "In tap water"), ("ice", "In ice"))
        yield from choices("Cools", "cool", rows, "" if self.is_hot else self.bath)

    @property
    def is_begun(self) -> bool:
        return not self.is_hot or self.temperature < self.hot

    def changed(self, truth: Any) -> Any:
        return self.changes(truth, self.temperature)

    def hinders(self, slot: str) -> str:
        return "It is still hot: let it cool first." if slot == self.reading and self.is_hot else ""

    def seen(self) -> Sequence[str]:
        if self.is_hot or self.hot - self.temperature < 8:
            return ()
        return ("fine powder",) if self.bath == "ice" else ("crystals",)

    def drawn(self) -> Mapping[str, object]:
        return {
            "apparatus": "solution",
            "temperature": round(self.temperature - 273.15, 1),
            "bath": "" if self.is_hot else self.bath,
        }


class Growing(Cooling):
    """A portion whose crystals grow while it cools: what comes out in a bath grows as long as that bath lets it.

    `longest` are the mean lengths (m) of crystals that grew in one bath alone, `grown` puts what they have become into
    the truth.
    """

    def __init__(self, hot: float, longest: Mapping[str, float], grown: Callable[[Any, float], Any]):
        super().__init__(hot, lambda truth, _: truth)
        self.longest, self.grown = longest, grown
        self.length, self.came_out = 0.0, 0.0

    def advance(self, seconds: float, air: Air) -> None:
        before = self.temperature
        super().advance(seconds, air)
        whole = self.hot - air.temperature
        share = max(0.0, before - self.temperature) / whole if whole > 0 else 0.0
        share = min(share, 1 - self.came_out)
        self.length += share * self.longest.get(self.bath, 0.0)
        self.came_out += share

    def changed(self, truth: Any) -> Any:
        return self.grown(truth, self.length)

    def account(self) -> Account | None:
        return Account(1.0, 1.0 - self.came_out, self.came_out, 0.0)
