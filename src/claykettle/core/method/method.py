"""What a method of the trade is: its page, options, judgements, error causes and bench model."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

from claykettle.core.method.causes import Cause
from claykettle.core.method.options import Options
from claykettle.core.method.trial import Judgement, Trial
from claykettle.core.pictures.pictures import Pictures
from claykettle.core.quantity import Number
from claykettle.core.sheet import Page, ReadingDef, Shape, Values, Worksheet
from claykettle.core.verdict import Verdict

if TYPE_CHECKING:
    from claykettle.core.method.remains import Remain
    from claykettle.core.method.setting import Setting


@dataclass(frozen=True)
class Headline:
    """How the answer stands on the page: `x = {}` for the key result, and a second result with its own template."""

    template: str
    second: str | None = None
    second_template: str = "{}"


def _nothing_accepted(_: Any) -> float | None:
    return None


def _nothing_matched(options: Any, values: Values) -> float | None:
    return None


def _no_pictures(_: Trial) -> Pictures:
    return Pictures()


def _no_groups(_: Any) -> Mapping[str, Mapping[str, str]]:
    return {}


def _nothing_over_trials(options: Any, trials: Sequence[Trial]) -> Iterator[Verdict]:
    return iter(())


def _nothing_left(trial: Trial, found: str | None) -> Iterator[Remain]:
    return iter(())


def _nothing_seen(trial: Trial, tags: Sequence[str]) -> Iterator[Verdict]:
    return iter(())


def _no_calibration(trials: Sequence[Trial]) -> Iterator[Calibration]:
    return iter(())


@dataclass(frozen=True)
class Calibration:
    """What a run on a known sample tells the next: a sentence, and options of that one by path, as typed."""

    text: str
    options: Mapping[str, str]


def _nothing_else(_: Any) -> Mapping[str, float]:
    return {}


@dataclass(frozen=True)
class Foresight:
    """What a plan must know of a method.

    `truth` is what will be there for so much of the sample (SI), `consumes` mol of each other reactant per kg of it.
    `asks` names the fields of a Setting that bear on it, `usual` what most have there, as typed. `label` and `unit` are
    of what is sized; `measured` names readings that measure the same sample otherwise, such as the length of a ribbon.
    `planned` tells the readings (SI) that the options themselves plan, where they do: a reagent table filled in first.
    """

    truth: Callable[[Any, float, Setting], Any]
    asks: tuple[str, ...]
    label: str = "sample"
    unit: str = "g"
    measured: tuple[str, ...] = ()
    consumes: Callable[[Any], Mapping[str, float]] = _nothing_else
    usual: Mapping[str, str] = field(default_factory=dict)
    planned: Callable[[Any], Mapping[str, float]] | None = None


@dataclass(frozen=True, eq=False)
class Method:
    """One method of the trade; the registry finds them, everything else works on this."""

    name: str
    title: str
    page: Page
    options: type[Options]
    results: tuple[str, ...]
    key: Callable[[Any], str]
    """The result that trials are compared by."""
    headline: Callable[[Any], Headline]
    judge: Callable[[Trial], Judgement]
    shapes: Callable[[], Iterator[Shape]]
    """Every form the page can take, for the check at import and for the tests."""
    causes: tuple[Cause, ...]
    truth: Callable[[Shape, Values], Any]
    """What the values speak of, were nothing wrong with them."""
    bench: Callable[[Shape, Any, Mapping[str, float]], dict[str, Any]]
    """The readings (SI) that honest instruments show of a truth with these faults."""
    expect: Callable[[Shape, Any, float], Any]
    """The same matter with another key result (SI)."""
    accepted: Callable[[Any], float | None] = _nothing_accepted
    """The key result that was to be expected before anything was weighed."""
    matched: Callable[[Any, Values], Number | None] = _nothing_matched
    """The key result of the formula or equation that the data chose, or that the readings let be expected."""
    fallback: str | None = None
    """The key result of trials that did not come as far as the key, such as to a pure product."""
    alike: str | None = None
    """A result that all trials share, however large the sample."""
    foresight: Foresight | None = None
    """What plans ask; None where there is nothing to be sized."""
    larger: Callable[[Any, float], Any] | None = None
    """The same truth in so many times the amount, where more than the sample goes with it."""
    grouped: Callable[[Any], Mapping[str, Mapping[str, str]]] = _no_groups
    """Results that are one under several keys, such as `gas_amounts` by gas, and the lines that hold them."""
    over_trials: Callable[[Any, Sequence[Trial]], Iterator[Verdict]] = _nothing_over_trials
    """What goes on from trial to trial."""
    calibrates: Callable[[Sequence[Trial]], Iterator[Calibration]] = _no_calibration
    """What a run on a known sample tells the next run."""
    seen: Callable[[Trial, Sequence[str]], Iterator[Verdict]] = _nothing_seen
    """What was predicted against what was seen, by tag in order."""
    remains: Callable[[Trial, str | None], Iterator[Remain]] = _nothing_left
    """What is left to be sorted of a trial whose formula or equation was found (or None)."""
    pictures: Callable[[Trial], Pictures] = _no_pictures
    """What is drawn beside the mass stair."""

    def key_on(self, sheet: Worksheet) -> str:
        """The key result of a page: the method's own, or its `fallback` where the page has no such line."""
        name = self.key(sheet.shape.options)
        return name if self.fallback is None or name in sheet.by_name else self.fallback

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
        for shape in self.shapes():
            self.page.build(shape)
