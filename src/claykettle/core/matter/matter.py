"""Matter on a simulated bench: a method's truth, and parts whose state time and hands change.

The method's own forward model says what honest instruments would show of it (`play`); the parts say how far things have
gone: what is still to come stands as a condition that `play` knows by name, what lies on the pan beside it or is gone
from it as a shift of a reading. So practice shows what the judgement knows, and nothing is modelled twice.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from claykettle.core.sheet import Shape

Readings = Mapping[str, float | list[float]]
Play = Callable[[Shape, Any, Mapping[str, float]], Readings]
LONGEST = 14 * 24 * 3600.0
"""s: nobody waits longer than two weeks for one thing."""


@dataclass(frozen=True)
class Air:
    """The air of the room: K, Pa and relative humidity."""

    temperature: float
    pressure: float
    humidity: float


@dataclass(frozen=True)
class Act:
    """Something that hands do to the matter, such as the flame turned `low`."""

    name: str
    value: str = ""

    def __str__(self) -> str:
        return f"{self.name} {self.value}".strip()


@dataclass(frozen=True)
class Offer:
    """An act that is at hand: how it is called, and why it does not go just now (empty where it does).

    Those of one `group`, such as the flame's, exclude each other, and the `chosen` one is how it stands.
    """

    act: Act
    label: str
    stopped: str = ""
    group: str = ""
    chosen: bool = False


@dataclass(frozen=True)
class Account:
    """The mass (kg) of one part's content: what was put in, what is there, what went off and what came on."""

    put_in: float
    there: float
    gone: float
    taken_up: float

    @property
    def missing(self) -> float:
        """What the balance of mass lacks; nothing, whatever was done."""
        return self.put_in + self.taken_up - self.gone - self.there


def choices(group: str, name: str, rows: Iterable[tuple[str, str]], now: str, stopped: str = "") -> Iterator[Offer]:
    """The offers of one group: by value their labels, and which of them stands now."""
    for value, label in rows:
        yield Offer(Act(name, value), label, "" if value == now else stopped, group, value == now)


class Part:
    """Something of the bench with a state of its own. What a part has nothing to say of, it leaves as it is here."""

    lifts = True
    """Whether warm air lifts what is weighed warm; not where that is planted as a fault of its own."""

    def advance(self, seconds: float, air: Air) -> None:
        """Let time pass."""

    def acts(self) -> Mapping[str, Sequence[str]]:
        """The acts that are its business, and the values of each."""
        return {}

    def do(self, act: Act) -> None:
        """Do one of its acts."""

    def offers(self) -> Iterable[Offer]:
        """What is at hand now, in the order in which it is mostly done."""
        return ()

    @property
    def is_begun(self) -> bool:
        """Whether its own work has begun, so that what comes after it is at hand."""
        return True

    def conditions(self) -> Mapping[str, float]:
        """How far things have gone, as the forward model names it."""
        return {}

    def shifts(self) -> Mapping[str, float]:
        """What readings show more or less (SI) than the forward model says, by their names."""
        return {}

    def scales(self) -> Mapping[str, float]:
        """What readings are multiplied by."""
        return {}

    def changed(self, truth: Any) -> Any:
        """The truth as this part has made it."""
        return truth

    def shows(self, slot: str) -> str:
        """The reading that its instrument really shows, where one wants to take this one: what is on the pan counts."""
        return slot

    def hinders(self, slot: str) -> str:
        """Why a reading cannot be taken now, as a sentence; empty where it can."""
        return ""

    def wanders(self, slot: str) -> float:
        """How far (SI) the figure of a reading wanders because of this part, such as over a warm dish."""
        return 0.0

    def takes(self, slot: str) -> None:
        """A reading was taken."""

    def seen(self) -> Sequence[str]:
        """What is to be seen by now, as tags of the procedure."""
        return ()

    def closer(self) -> str:
        """What one sees who looks closer, as a sentence; empty where there is nothing more to see."""
        return ""

    def account(self) -> Account | None:
        """Its balance of mass, None where nothing comes or goes."""
        return None

    def drawn(self) -> Mapping[str, object]:
        """What a picture of it must know."""
        return {}


@dataclass
class Matter:
    """All that stands on one simulated bench. `planted` are conditions that were wrong from the start."""

    shape: Shape
    truth: Any
    play: Play
    air: Air
    parts: tuple[Part, ...]
    planted: Mapping[str, float] = field(default_factory=dict)
    fractions: frozenset[str] = frozenset()
    """The planted conditions that are parts of a whole: they leave so much less for what goes on by itself."""
    shifted: Mapping[str, float] = field(default_factory=dict)
    scaled: Mapping[str, float] = field(default_factory=dict)
    seconds: float = 0.0

    def advance(self, seconds: float) -> None:
        """Let time pass; a clock turned back changes nothing."""
        seconds = min(max(0.0, seconds), LONGEST)
        for part in self.parts:
            part.advance(seconds, self.air)
        self.seconds += seconds

    def do(self, act: Act) -> None:
        """Do something. Raises KeyError for an act that nothing here knows."""
        part = next((part for part in self.parts if act.value in part.acts().get(act.name, ())), None)
        if part is None:
            raise KeyError(str(act))
        part.do(act)

    def knows(self, act: Act) -> bool:
        """Whether the act is any part's business."""
        return any(act.value in part.acts().get(act.name, ()) for part in self.parts)

    @property
    def at_hand(self) -> tuple[Part, ...]:
        """The parts that stand on the bench: those whose work has begun, and the next."""
        begun = next((place for place, part in enumerate(self.parts) if not part.is_begun), len(self.parts))
        return self.parts[: begun + 1]

    def offers(self) -> list[Offer]:
        """What is at hand now."""
        return [offer for part in self.at_hand for offer in part.offers()]

    def conditions(self) -> dict[str, float]:
        """How far everything has gone, with what was planted."""
        found: dict[str, float] = {}
        for part in self.parts:
            found |= part.conditions()
        for name, dose in self.planted.items():
            own = found.get(name, 0.0)
            found[name] = 1 - (1 - own) * (1 - dose) if name in self.fractions else own + dose
        return found

    def readings(self) -> Readings:
        """What honest instruments would show now of everything, each series by its whole."""
        truth = self.truth
        for part in self.parts:
            truth = part.changed(truth)
        return self.play(self.shape, truth, self.conditions())

    def true(self, slot: str) -> float:
        """What an honest instrument would show of one reading now (SI), of a series its last. Raises KeyError for one
        that is not taken.
        """
        value = self.readings()[slot]
        figure = value if not isinstance(value, list) else value[-1]
        factor = self.scaled.get(slot, 1.0)
        for part in self.parts:
            factor *= part.scales().get(slot, 1.0)
        shift = self.shifted.get(slot, 0.0) + sum(part.shifts().get(slot, 0.0) for part in self.parts)
        return figure * factor + shift

    def shows(self, slot: str) -> str:
        """The reading that its instrument really shows now, where one wants to take this one."""
        for part in self.parts:
            slot = part.shows(slot)
        return slot

    def hinders(self, slot: str) -> str:
        """Why a reading cannot be taken now; empty where it can."""
        return next((text for part in self.parts if (text := part.hinders(slot))), "")

    def wanders(self, slot: str) -> float:
        """How far (SI) its figure wanders now."""
        return sum(part.wanders(slot) for part in self.parts)

    def takes(self, slot: str) -> None:
        """A reading was taken."""
        for part in self.parts:
            part.takes(slot)

    def seen(self) -> list[str]:
        """What is to be seen by now."""
        return [tag for part in self.parts for tag in part.seen()]

    def closer(self) -> list[str]:
        """What one sees who looks closer."""
        return [text for part in self.at_hand if (text := part.closer())]

    def accounts(self) -> list[Account]:
        """The balances of mass of its parts."""
        return [found for part in self.parts if (found := part.account()) is not None]
