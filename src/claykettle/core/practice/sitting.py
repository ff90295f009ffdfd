"""Somebody at a simulated bench: what they did, replayed; what they see now; what they can do.

Nothing of it is kept but what was done and when: the same deeds at the same times are the same bench again.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from claykettle.core.errors import refuse
from claykettle.core.matter import Act, Matter, Offer
from claykettle.core.practice.instruments import SETTLES_S
from claykettle.core.practice.laid import Laid
from claykettle.core.run import Step, reading_definition

ZERO, ON_PAN = Act("zero"), Act("put", "pan")
OFTEN_OFF = 0.3
"""In so many of the benches the balance does not stand at zero (common practice: the bench before left it so)."""
PLACED = {"put", "load", "pour", "collect", "dry", "tip", "water", "gas"}
"""Acts after which what is weighed was put onto its pan anew."""
KINDS = {
    "balance": "balance",
    "coarse_balance": "coarse balance",
    "volume": "gas tube",
    "liquid_volume": "measuring cylinder",
    "thermometer": "thermometer",
    "barometer": "barometer",
    "ruler": "ruler",
    "hygrometer": "hygrometer",
    "clock": "clock",
}


@dataclass(frozen=True)
class Deed:
    """Something done so many seconds after the bench was begun; `taken` is a reading that was written down then."""

    seconds: float
    act: Act | None = None
    taken: str = ""


@dataclass(frozen=True)
class Seen:
    """What an instrument shows: digits and unit apart, and why it cannot be read or should not be yet."""

    slot: str
    label: str
    instrument: str
    figure: str
    unit: str
    decimals: int
    steady: bool
    said: str


def off_zero(laid: Laid) -> float:
    """By how much (kg) the balance of a bench does not stand at zero until somebody zeroes it."""
    chance = laid.chance.stream("zero")
    return chance.between(0.004, 0.03) * 1e-3 if chance.happens(OFTEN_OFF) else 0.0


class Sitting:
    """One trial at a bench, as it stands so many seconds after it was begun."""

    def __init__(self, laid: Laid, trial: int, deeds: Sequence[Deed], now: float):
        self.laid, self.trial, self.now = laid, trial, now
        self.matter: Matter = laid.matter(trial)
        self.matter.advance(0.0)
        self.placed_at, self.places = 0.0, 0
        self.off_zero = off_zero(laid)
        for deed in sorted(deeds, key=lambda row: row.seconds):
            self._do(deed)
        self.matter.advance(now - self.matter.seconds)

    def _do(self, deed: Deed) -> None:
        self.matter.advance(deed.seconds - self.matter.seconds)
        if deed.taken:
            self.matter.takes(deed.taken)
        if deed.act == ZERO:
            self.off_zero = 0.0
        if deed.act is None or not self.matter.knows(deed.act):
            return
        self.matter.do(deed.act)
        if deed.act.name in PLACED:
            self.placed_at, self.places = deed.seconds, self.places + 1

    def check(self, act: Act) -> None:
        """Raises Refusal `not-now` for an act that is not at hand, with the reason."""
        offer = next((row for row in self.offers() if row.act == act), None)
        if offer is None:
            raise refuse("not-now", f"'{str(act)[:40]}' is nothing that can be done here now.", "act")
        if offer.stopped:
            raise refuse("not-now", offer.stopped, "act")

    def offers(self) -> list[Offer]:
        """What is at hand; a balance is zeroed with nothing on it."""
        on_it = any(row.act == ON_PAN and row.chosen for row in self.matter.offers())
        stopped = "Something stands on it: zero it empty." if on_it else ""
        return [*self.matter.offers(), Offer(ZERO, "Zero the balance", stopped)]

    def noticed(self, step: Step | None) -> list[str]:
        """What is to be seen by now; of a planted fault what it shows, at the step where one looks for it."""
        found = list(self.matter.seen())
        if step is not None:
            shown = [row.cause.seen[0] for row in self.laid.faults if row.cause.seen]
            found += [tag for tag in shown if tag in step.observe and tag not in found]
        return found

    def seen(self, slot: str, position: int) -> Seen:
        """What the instrument for a reading shows now."""
        row = reading_definition(self.laid.method, slot, self.laid.options)
        assert row is not None  # asked for only of readings of the course
        tool, label = self.laid.instrument(slot), row.labelled(self.laid.options)
        kind = KINDS.get(row.instrument, row.instrument)
        really = self.matter.shows(slot)
        stopped = self.matter.hinders(really)
        if stopped:
            return Seen(slot, label, kind, "", tool.unit.shown, tool.decimals, False, stopped)
        true = self.matter.true(really if really in self.matter.readings() else slot)
        chance = self.laid.chance.stream(f"look {self.trial} {slot} {position} {self.places}")
        error = tool.error(chance)
        if slot in self.laid.sampled:
            true += chance.about(0.0, self.laid.scatter(slot))
        if row.instrument == "balance":
            true += self.off_zero
        wanders = self.matter.wanders(really)
        since = self.now - self.placed_at
        swing = chance.stream(str(int(2 * self.now))).about(0.0, wanders / 2) if wanders else 0.0
        shown = tool.show(true, error, swing, since, least=min(true, 0.0))
        figure = shown.text.rpartition(" ")[0]
        steady = wanders < tool.division and since >= SETTLES_S
        said = "" if steady else "runs: wait until it stands" if since < SETTLES_S else "wanders: not steady"
        return Seen(slot, label, kind, figure, tool.unit.shown, tool.decimals, steady, said)
