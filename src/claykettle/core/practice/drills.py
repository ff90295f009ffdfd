"""Technique drills: short, drawn, with at once an answer and why. Each follows from its kind and a seed.

What is right in them is common practice; drills.toml holds the words, local rules come first.
"""

from __future__ import annotations

import math
import tomllib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from importlib.resources import files
from typing import Any

from claykettle.core.errors import refuse
from claykettle.core.matter import Chance

KINDS: Mapping[str, str] = {
    "meniscus": "Read a meniscus",
    "inverted": "Read an inverted tube",
    "balance": "An unsteady balance",
    "fold": "Fold a paper",
    "filter": "The order of a filtration",
    "flame": "Light and set a flame",
    "waste": "Which waste bottle",
}
"""The drills, each with its title."""
CLOSE_ML = 0.03
"""mL: a burette with divisions of 0.1 mL is read to 0.02, a hundredth more is forgiven (common practice)."""
BOTTLES = (
    "heavy metals", "acids, to be neutralised", "flammable organic", "solid residues", "bin", "drain", "ask first",
)  # fmt: skip
STEADY, SETTLES, WARM, DRAUGHT = (
    "Write it down", "Wait: it still settles", "Take it off: it is warm", "Close the doors: a draught",
)  # fmt: skip


@dataclass(frozen=True)
class Drill:
    """A question: how it is answered (`figure`, `choice` or `order`), what is offered, and what a picture must know."""

    kind: str
    seed: int
    ask: str
    answered: str
    unit: str = ""
    offers: tuple[str, ...] = ()
    drawn: Mapping[str, Any] = field(default_factory=dict)
    card: str = ""
    """A drawing of the technique that goes with it."""


@dataclass(frozen=True)
class Solved:
    """Whether an answer is right, what would be, and why."""

    right: bool
    was: str
    why: str


@cache
def _words() -> Mapping[str, Any]:
    return tomllib.loads(files(__package__).joinpath("drills.toml").read_text(encoding="utf-8"))


def drill(kind: str, seed: int) -> Drill:
    """The question of this kind and seed. Raises Refusal `unknown-drill`."""
    return _made(kind, seed)[0]


def solve(kind: str, seed: int, said: str, order: Sequence[str] = ()) -> Solved:
    """An answer held against what is right. Raises Refusal `unknown-drill`, `not-a-number` at `said`."""
    question, right, why = _made(kind, seed)
    if question.answered == "order":
        rows = tuple(order)
        return Solved(rows == right, "; then ".join(right), why)
    if question.answered == "choice":
        return Solved(said == right[0], right[0], why)
    try:
        value = float(said.strip().removesuffix("mL").replace(",", "."))
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise refuse("not-a-number", "Type the volume as you read it, such as 23.46.", "said")
    true = float(right[0])
    other = question.drawn.get("wrong_way")
    if abs(value - true) > CLOSE_ML and other is not None and abs(value - float(other)) <= CLOSE_ML:
        why = f"{why} Yours was read the wrong way: the figures grow the other way here."
    return Solved(abs(value - true) <= CLOSE_ML, f"{true:.2f} mL", why)


def _made(kind: str, seed: int) -> tuple[Drill, tuple[str, ...], str]:
    """The question, what is right, and why."""
    if kind not in KINDS:
        raise refuse("unknown-drill", f"There is no drill '{kind[:24]}'.", "kind")
    chance = Chance(seed, f"drill {kind}")
    if kind in ("meniscus", "inverted"):
        return _tube(kind, seed, chance)
    if kind == "balance":
        return _balance(seed, chance)
    if kind == "waste":
        row = _words()["waste"][chance.one_of(len(_words()["waste"]))]
        why = f"{row['why']} Your local rules and your safety officer come first."
        return Drill(kind, seed, f"Where does it go: {row['what']}?", "choice", offers=BOTTLES), (row["bottle"],), why
    rows = [row for row in _words()["order"] if row["kind"] == kind]
    row = rows[chance.one_of(len(rows))]
    offers = _mixed(row["steps"], chance)
    return Drill(kind, seed, row["ask"], "order", offers=offers, card=row["card"]), tuple(row["steps"]), row["why"]


def _mixed(steps: Sequence[str], chance: Chance) -> tuple[str, ...]:
    """The steps in another order."""
    rest, found = list(steps), []
    while rest:
        found.append(rest.pop(chance.one_of(len(rest))))
    return tuple(found) if tuple(found) != tuple(steps) else tuple(reversed(found))


def _tube(kind: str, seed: int, chance: Chance) -> tuple[Drill, tuple[str, ...], str]:
    """A piece of scale with a level in it: figures grow downwards, of an inverted burette upwards."""
    true = round(chance.between(3.0, 46.0), 2)
    upwards = kind == "inverted"
    top = math.floor(true) + (2 if upwards else -1)
    drawn = {
        "apparatus": "scale",
        "upwards": upwards,
        "top": top,
        "level": true,
        "span": 3,
        # read as if the scale ran the other way between its whole marks
        "wrong_way": round(2 * math.floor(true) + 1 - true, 2),
    }
    if upwards:
        ask = "The tube stands upside down in its water. What does it read?"
        why = "Upside down the figures grow upwards: count on from the mark below the level, at eye level with it."
        return Drill(kind, seed, ask, "figure", "mL", drawn=drawn), (f"{true}",), why
    ask = "What does the burette read?"
    why = "Eye level with it, the lowest point of the curve; the figures grow downwards, a tenth is divided by eye."
    return Drill(kind, seed, ask, "figure", "mL", drawn=drawn), (f"{true}",), why


def _balance(seed: int, chance: Chance) -> tuple[Drill, tuple[str, ...], str]:
    """Some seconds of a balance's display."""
    true = chance.between(20.0, 60.0)
    what = (STEADY, SETTLES, WARM, DRAUGHT)[chance.one_of(4)]
    shown = []
    for tick in range(12):
        if what == SETTLES:
            value = true - 0.4 * math.exp(-tick / 3)
        elif what == WARM:
            value = true + 0.0024 * tick + chance.about(0.0, 0.0012)
        elif what == DRAUGHT:
            value = true + chance.about(0.0, 0.006)
        else:
            value = true
        shown.append(f"{value:.3f}")
    whys = {
        STEADY: "It has stood still for seconds: that is the figure.",
        SETTLES: "It runs towards one figure, ever slower: it needs some seconds more.",
        WARM: "It creeps one way and trembles: something warm stands there, and reads light. Cool it first.",
        DRAUGHT: "It goes to and fro about one figure without an end: air moves over the pan.",
    }
    drawn = {"apparatus": "balance", "shown": shown}
    ask, offers = "What do you do with this figure?", (STEADY, SETTLES, WARM, DRAUGHT)
    return Drill("balance", seed, ask, "choice", offers=offers, drawn=drawn), (what,), whys[what]
