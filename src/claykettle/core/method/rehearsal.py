"""How a method is practised: what stands in the usual jar, which parts its matter has, what hands do at each step.

The figures and the hands stand in the `practice.toml` of a method's folder, the parts in its `practice.py`.
"""

from __future__ import annotations

import tomllib
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache
from importlib import import_module
from importlib.resources import files
from typing import TYPE_CHECKING, Any, TypeAlias

from pydantic import BaseModel, ConfigDict, ValidationError

from claykettle.core.errors import WorksheetError
from claykettle.core.quantity import parse_reading, unit
from claykettle.core.sheet import Shape

if TYPE_CHECKING:
    from claykettle.core.matter import Act, Air, Chance, Part

FILE = "practice.toml"
WAIT, NOTE = "wait", "note"


@dataclass(frozen=True)
class Wait:
    """Hands rest for so many seconds, None for as long as the step says."""

    seconds: float | None


@dataclass(frozen=True)
class Note:
    """The figure of the step's reading is taken and written down."""


Move: TypeAlias = "Act | Wait | Note"


@dataclass(frozen=True)
class Jar:
    """What a simulated bench is set up from: the form of its page, its truth, the air, and chance."""

    shape: Shape
    truth: Any
    air: Air
    chance: Chance


def _as_foreseen(truth: Any, options: Any, chance: Chance) -> Any:
    return truth


def _no_truth(options: Any, chance: Chance) -> Any:
    return None


def _none_named(options: Any, chance: Chance) -> Any:
    return None


def _believed(options: Any, reading: str, factor: float) -> Any:
    return options


@dataclass(frozen=True, eq=False)
class Rehearsal:
    """What the practice bench asks of a method.

    `parts` puts its matter together; `class_of` is what a class makes of what is foreseen, such as its yield, and
    `drawn` a truth for a method that foresees nothing. `named` gives options that leave open what is in the jar with
    something named, as chance has it; None where nothing can be. `really` gives the options as they really are where
    those written down are `factor` times too large in one reading that they give.
    """

    usual: Usual
    parts: Callable[[Jar], tuple[Part, ...]]
    class_of: Callable[[Any, Any, Chance], Any] = _as_foreseen
    drawn: Callable[[Any, Chance], Any] = _no_truth
    named: Callable[[Any, Chance], Any] = _none_named
    really: Callable[[Any, str, float], Any] = _believed


class _File(BaseModel):
    """practice.toml as it is written."""

    model_config = ConfigDict(extra="forbid", defer_build=True)
    options: dict[str, Any]
    schools: dict[str, str] = {}
    amount: tuple[str, str] | None = None
    setting: dict[str, tuple[str, str]] = {}
    half_widths: dict[str, str]
    samples: int = 0
    never_hidden: tuple[str, ...] = ()
    steps: dict[str, list[str]]


@dataclass(frozen=True)
class Usual:
    """What is practised where nothing else is said; amounts and half-widths in SI, `setting` as two ends, as typed.

    `samples` is how many of a kind are measured where a series holds several, `never_hidden` names causes of which this
    bench cannot give any sign.
    """

    options: Mapping[str, Any]
    schools: Mapping[str, str]
    amount: tuple[float, float]
    setting: Mapping[str, tuple[str, str]]
    half_widths: Mapping[str, str]
    hands: Mapping[str, tuple[Move, ...]]
    samples: int = 0
    never_hidden: tuple[str, ...] = ()


def practised_in(package: str | None) -> Callable[[], Rehearsal]:
    """What gives the `REHEARSAL` of the module `practice` in a method's folder.

    The matter of a bench is read when somebody practises: a command that evaluates a file, or a reading, needs none.
    """

    @cache
    def read() -> Rehearsal:
        found = import_module(f"{package}.practice").REHEARSAL
        assert isinstance(found, Rehearsal)
        return found

    return read


def read_usual(package: str) -> Usual:
    """A method's practice.toml. Raises WorksheetError for one that says what nobody knows."""
    try:
        row = _File.model_validate(tomllib.loads(files(package).joinpath(FILE).read_text(encoding="utf-8")))
    except ValidationError as error:
        raise WorksheetError(f"{package}: {FILE} is not understood: {error}") from None
    hands = {name: tuple(map(_move, moves)) for name, moves in row.steps.items()}
    ends = tuple(_si(text) for text in row.amount or ("0 g", "0 g"))
    return Usual(
        row.options,
        row.schools,
        (ends[0], ends[1]),
        row.setting,
        row.half_widths,
        hands,
        row.samples,
        row.never_hidden,
    )


def _si(text: str) -> float:
    return float(parse_reading(text, unit(text.rpartition(" ")[2]).dimension).si)


def _move(text: str) -> Move:
    """`wait`, `wait 5 min`, `note`, or an act and its value."""
    name, _, value = text.partition(" ")
    if name == NOTE:
        return Note()
    if name == WAIT:
        return Wait(_si(value) if value else None)
    from claykettle.core.matter import Act

    return Act(name, value)
