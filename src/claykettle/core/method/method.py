"""What a method of the trade is: its page, options, judgements, error causes and bench model."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Generic, TypeVar

from claykettle.core.method.aim import Aim
from claykettle.core.method.causes import Cause
from claykettle.core.method.expectation import Expectations
from claykettle.core.method.options import MethodOptions
from claykettle.core.method.rehearsal import Rehearsal
from claykettle.core.method.remains import Remain
from claykettle.core.method.setting import Setting
from claykettle.core.method.trial import Judgement, PlainReadings, Trial
from claykettle.core.pictures.pictures import Pictures
from claykettle.core.quantity import Number
from claykettle.core.sheet import Page, ReadingDef, Shape, Values, Worksheet
from claykettle.core.verdict import Verdict


@dataclass(frozen=True)
class Headline:
    """How the answer stands on the page: `x = {}` for the key result, and a second result with its own template."""

    template: str
    second: str | None = None
    second_template: str = "{}"


Draw = Callable[[float, float], float]
"""Draws a figure between two others."""


def _never(_: object) -> bool:
    return False


def _nothing_accepted(_: object) -> float | None:
    return None


def _nothing_matched(options: object, values: Values) -> float | None:
    return None


def _nothing_beside(options: object, values: Values) -> Mapping[str, float]:
    return {}


def _nothing_expected(_: Trial) -> Expectations:
    return {}


def _no_parts(_: object) -> Sequence[tuple[str, str, str]]:
    return ()


def _no_marks(_: object) -> Mapping[str, str]:
    return {}


def _no_facts(_: object) -> Mapping[str, str]:
    return {}


def _no_word(_: object) -> str:
    return ""


def _no_reaction(options: object, found: str | None) -> str:
    return ""


def _unbounded(_: Trial) -> Iterator[Bound]:
    return iter(())


def _no_pictures(_: Trial) -> Pictures:
    return Pictures()


def _no_groups(_: object) -> Mapping[str, Mapping[str, str]]:
    return {}


def _nothing_over_trials(options: object, trials: Sequence[Trial]) -> Iterator[Verdict]:
    return iter(())


def _nothing_left(trial: Trial, found: str | None) -> Iterator[Remain]:
    return iter(())


def _nothing_seen(trial: Trial, tags: Sequence[str]) -> Iterator[Verdict]:
    return iter(())


def _no_calibration(trials: Sequence[Trial]) -> Iterator[Calibration]:
    return iter(())


@dataclass(frozen=True)
class Bound:
    """A result (SI) that no honest run brings below `low` or above `high`, and why, as a sentence."""

    name: str
    low: float
    high: float
    because: str


@dataclass(frozen=True)
class Calibration:
    """What a run on a known sample tells the next: a sentence, and options of that one by path, as typed."""

    text: str
    options: Mapping[str, str]


def _nothing_else(_: object) -> Mapping[str, float]:
    return {}


def _no_solutions(_: object) -> Mapping[str, tuple[str, str]]:
    return {}


@dataclass(frozen=True)
class PlannedTable:
    """A reagent table that is filled in before anything is weighed.

    `readings` are what the options plan (SI) by name; `results` those that can be told from them; `written` the options
    of a run that starts with it, as typed, the planned readings as they are shown put in.
    """

    readings: Callable[[Any], Mapping[str, float]]
    results: tuple[str, ...]
    written: Callable[[Any, Mapping[str, str]], Mapping[str, str]]


@dataclass(frozen=True)
class Foresight:
    """What a plan must know of a method.

    `truth` is what will be there for so much of the sample (SI), `consumes` mol of each other reactant per kg of it.
    `asks` names the fields of a Setting that bear on it, `usual` what most have there, as typed. `label` and `unit` are
    of what is sized; `measured` names readings that measure the same sample otherwise, such as the length of a ribbon.
    `table` tells what the options themselves plan, where they do: a reagent table filled in first. `solutions` are the
    readings that the options take as solutions: by name the substance and its concentration. `usual_first` marks what
    most first plans are of.
    """

    truth: Callable[[Any, float, Setting], Any]
    asks: tuple[str, ...]
    label: str = "sample"
    unit: str = "g"
    measured: tuple[str, ...] = ()
    consumes: Callable[[Any], Mapping[str, float]] = _nothing_else
    usual: Mapping[str, str] = field(default_factory=dict)
    table: PlannedTable | None = None
    solutions: Callable[[Any], Mapping[str, tuple[str, str]]] = _no_solutions
    usual_first: bool = False


Chosen = TypeVar("Chosen", bound=MethodOptions)
"""A method's options."""
Matter = TypeVar("Matter")
"""A method's truth: what is really in the vessel."""


@dataclass(frozen=True, eq=False)
class Judging(Generic[Chosen]):
    """What is said and drawn of a trial, and which of its results is held against what."""

    key: Callable[[Chosen], str]
    """The result that trials are compared by."""
    headline: Callable[[Chosen], Headline]
    judge: Callable[[Trial], Judgement]
    accepted: Callable[[Chosen], float | None] = _nothing_accepted
    """The key result that was to be expected before anything was weighed."""
    accepted_word: Callable[[Chosen], str] = _no_word
    """What that is called, such as the formula on the label; empty where the figure says it all."""
    claimed: Callable[[Chosen, Values], Number | None] = _nothing_matched
    """The key result that a label claims, where it can be told only from what was weighed."""
    physical: Callable[[Trial], Iterator[Bound]] = _unbounded
    """What no honest run of the method gives."""
    matched: Callable[[Chosen, Values], Number | None] = _nothing_matched
    """The key result of the formula or equation that the data chose, or that the readings let be expected."""
    fallback: str | None = None
    """The key result of trials that did not come as far as the key, such as to a pure product."""
    alike: str | None = None
    """A result that all trials share, however large the sample."""
    alike_at_once: str | None = None
    """What stands for that while it cannot be had yet, closely enough to ask about a slip."""
    grouped: Callable[[Chosen], Mapping[str, Mapping[str, str]]] = _no_groups
    """Results that are one under several keys, such as `gas_amounts` by gas, and the lines that hold them."""
    over_trials: Callable[[Chosen, Sequence[Trial]], Iterator[Verdict]] = _nothing_over_trials
    """What goes on from trial to trial."""
    seen: Callable[[Trial, Sequence[str]], Iterator[Verdict]] = _nothing_seen
    """What was predicted against what was seen, by tag in order."""
    pictures: Callable[[Trial], Pictures] = _no_pictures
    """What is drawn beside the mass stair."""
    marks: Callable[[Chosen], Mapping[str, str]] = _no_marks
    """Lines that stand beside the key result on its scale, such as an ideal gas, with the word for each."""
    answers: tuple[str, ...] = ("accepted",)
    """Options that tell what is to be found, and are kept from whoever is to find it."""
    whole: str = ""
    """What 100 % of the key result would be, in words; empty where it is no share of something."""
    parts: Callable[[Chosen], Sequence[tuple[str, str, str]]] = _no_parts
    """The parts of a compound whose formula is sought, for the route by 100 g: name, line of its mass, of its molar
    mass.
    """
    reaction: Callable[[Chosen, str | None], str] = _no_reaction
    """What reacts, as an equation, of the formula that was found (or None); empty where the options say it."""
    columns: Mapping[str, str] = field(default_factory=dict)
    """Lines with the pressure of a column of water, and the reading of its height."""
    beside: Callable[[Chosen, Values], Mapping[str, float]] = _nothing_beside
    """What results other than the key were to be (SI), where they say something of their own."""
    expects: Callable[[Trial], Expectations] = _nothing_expected
    """Where the readings must lie that are not taken yet, by what is known so far."""

    def held_against(self, options: Chosen, values: Values) -> Number | None:
        """What the key result is held against: what was accepted beforehand, else what the label claims."""
        accepted = self.accepted(options)
        return self.claimed(options, values) if accepted is None else accepted


@dataclass(frozen=True, eq=False)
class Bench(Generic[Chosen, Matter]):
    """The forward model: what honest instruments show of the matter, what can go wrong with it, and samples of both."""

    play: Callable[[Shape, Matter, Mapping[str, float]], PlainReadings]
    """The readings (SI) that honest instruments show of a truth with these faults."""
    truth: Callable[[Shape, Values], Matter]
    """What the values speak of, were nothing wrong with them."""
    expect: Callable[[Shape, Matter, float], Matter]
    """The same matter with another key result (SI)."""
    sample: Callable[[Draw], Matter]
    """A truth as a class meets it, its figures drawn."""
    shapes: Callable[[], Iterator[Shape]]
    """Every form the page can take, for the check at import and for the tests."""
    causes: tuple[Cause, ...]
    larger: Callable[[Matter, float], Matter] | None = None
    """The same truth in so many times the amount, where more than the sample goes with it."""


@dataclass(frozen=True, eq=False)
class Aftercare:
    """What a run leaves behind: substances to be sorted, and what it tells the next run."""

    remains: Callable[[Trial, str | None], Iterator[Remain]] = _nothing_left
    """What is left to be sorted of a trial whose formula or equation was found (or None)."""
    calibrates: Callable[[Sequence[Trial]], Iterator[Calibration]] = _no_calibration
    """What a run on a known sample tells the next run."""


@dataclass(frozen=True, eq=False)
class MethodOf(Generic[Chosen, Matter]):
    """One method of the trade, typed by its options and its truth; the registry finds them."""

    name: str
    title: str
    aim: Aim
    """What it is for, in words for the sentence of a class."""
    page: Page
    options: type[Chosen]
    results: tuple[str, ...]
    judging: Judging[Chosen]
    bench: Bench[Chosen, Matter]
    foresight: Foresight | None = None
    """What plans ask; None where there is nothing to be sized."""
    aftercare: Aftercare = Aftercare()
    rehearsal: Callable[[], Rehearsal] | None = None
    """Reads how it is practised on a simulated bench; None where it cannot be."""
    usual_first: bool = False
    """Whether most first practicals are of this method."""
    facts: Callable[[Chosen], Mapping[str, str]] = _no_facts
    """What the options are in the words of the method's procedure, such as the gas, so that its steps can follow."""
    lidded: Callable[[Mapping[str, str]], bool] = _never
    """Whether, under the schools chosen, a lid may stand on the pan in one weighing and not in another."""

    def key_on(self, sheet: Worksheet) -> str:
        """The key result of a page: the method's own, or its `fallback` where the page has no such line."""
        name, fallback = self.judging.key(sheet.shape.options), self.judging.fallback
        return name if fallback is None or name in sheet.by_name else fallback

    @property
    def planned(self) -> ReadingDef | None:
        """The reading that a plan sizes: what is added to the vessel."""
        return next((reading for reading in self.page.readings if reading.pan == "added"), None)

    @property
    def net_readings(self) -> frozenset[str]:
        """Names of the readings that may be given net, or as tare and gross."""
        return frozenset(reading.name for reading in self.page.readings if reading.net)

    def check(self) -> None:
        """Build the page for every shape; raises WorksheetError for a loop, an unknown name or a double one."""
        for shape in self.bench.shapes():
            self.page.build(shape)


Method = MethodOf[Any, Any]
"""A method, whichever: what everything outside its folder works on."""
