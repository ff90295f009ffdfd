"""Crystal growth: one solution in equal portions, cooled in different ways, the crystals measured and compared.

A fair test changes one thing only, so the portions are held equal first; then the mean lengths are compared with what
their scatter lets be said.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import permutations, product
from math import sqrt
from typing import Annotated, Any

from pydantic import Field, model_validator

from claykettle.core.judgement.weighing_order import STEP
from claykettle.core.method import (
    FIRST,
    Cause,
    FormulaField,
    GivenRatio,
    Headline,
    Judgement,
    Method,
    Options,
    Remain,
    Statement,
    Trial,
    TruthChanged,
    dissolved,
    field_error,
)
from claykettle.core.pictures.pictures import Pictures
from claykettle.core.pictures.sizes import MeasuredPortion, SizesPicture
from claykettle.core.quantity import COVERAGE, Number, nominal, with_uncertainty
from claykettle.core.sheet import SERIES_WORDS, SPREAD, LineDef, Page, Pick, Shape, Values
from claykettle.core.verdict import Verdict

LEAST, MOST = 2, 4
INDICES = range(1, MOST + 1)
ENOUGH = 5
"""So many crystals of a portion make a mean worth comparing (common practice)."""
SURE = 2.0
SLOW, FAST = ("slow",), ("fast", "ice", "quick", "crash")


class Portion(Options):
    """One part of the solution: what it is called and how it is cooled. As text: `A: slow`."""

    label: Annotated[str, Field(min_length=1, max_length=40)] = Field(title="Name")
    cooling: Annotated[str, Field(min_length=1, max_length=60)] = Field(title="How it is cooled")

    @model_validator(mode="before")
    @classmethod
    def _from_text(cls, value: Any) -> Any:
        if not isinstance(value, str):
            return value
        label, _, cooling = value.partition(":")
        return {"label": label.strip(), "cooling": cooling.strip()}

    @property
    def pace(self) -> str:
        """`slow` or `fast` by the words, empty where they say neither."""
        words = self.cooling.casefold()
        if any(word in words for word in SLOW):
            return "slow"
        return "fast" if any(word in words for word in FAST) else ""


class CrystalGrowthOptions(Options):
    """Options of the method `crystal_growth`, as in the run file."""

    solute: FormulaField = Field(
        title="Substance that crystallizes", description="Such as KAl(SO4)2.12H2O", json_schema_extra=FIRST
    )
    portions: tuple[Portion, ...] = Field(
        default=(Portion(label="A", cooling="slow"), Portion(label="B", cooling="fast")),
        max_length=MOST,
        title="Portions, and how each is cooled",
        description="Such as A: slow; B: fast. Empty: these two.",
        json_schema_extra=FIRST | {"wide": True},
    )
    equality: GivenRatio = Field(
        default="2 %",
        validate_default=True,
        title="Portions equal within",
        description="A fair test changes one thing only.",
    )

    @model_validator(mode="after")
    def _hangs_together(self) -> CrystalGrowthOptions:
        labels = [row.label for row in self.portions]
        if len(labels) < LEAST:
            raise field_error(
                "portions", "A test compares at least two portions, such as A: slow; B: fast.", "portions"
            )
        if len(set(labels)) < len(labels):
            raise field_error("portions", "Two portions bear the same name; give each its own.", "portions")
        return self

    def portion(self, index: int) -> Portion:
        """The portion with this number, from 1."""
        return self.portions[index - 1]

    @property
    def numbers(self) -> range:
        """The numbers of the portions."""
        return range(1, len(self.portions) + 1)


page = Page("crystal_growth")


def _is_there(index: int) -> Callable[[Shape], bool]:
    return lambda shape: index <= len(shape.options.portions)


def _named(index: int, words: str) -> Callable[[CrystalGrowthOptions], str]:
    return lambda options: words.format(options.portion(index).label)


def _declare(index: int) -> None:
    here: dict[str, Any] = {"when": _is_there(index)}
    page.reading(
        f"volume_{index}", f"volume {index}", "mL", "liquid_volume", naming=_named(index, "volume of {}"), **here
    )
    page.reading(
        f"cooling_time_{index}", f"cooling time {index}", "min", "clock", optional=True,
        naming=_named(index, "cooling time of {}"), **here,
    )  # fmt: skip
    page.reading(
        f"lengths_{index}", f"lengths {index}", "mm", "ruler", series=True, sampled=True, round="crystal",
        naming=_named(index, "lengths of {}"), **here,
    )  # fmt: skip

    @page.line(
        f"mean length {index}", "mm", _named(index, "mean of (lengths of {})"), name=f"mean_length_{index}",
        naming=_named(index, "mean length of {}"), positive=True,
        takes={"lengths": f"lengths_{index}", "spread": f"lengths_{index}{SPREAD}"}, **here,
    )  # fmt: skip
    def mean_length(lengths: Sequence[Number], spread: Number) -> Number:
        # how far one more crystal may lie off is s √(1 + 1/n); over √(n + 1) that is s / √n, the mean's own
        return sum(lengths[1:], lengths[0]) / len(lengths) + spread / sqrt(len(lengths) + 1)

    @page.line(
        f"standard deviation {index}", "mm", _named(index, "standard deviation of (lengths of {})"),
        name=f"standard_deviation_{index}", naming=_named(index, "standard deviation of {}"),
        takes={"lengths": f"lengths_{index}"}, **here,
    )  # fmt: skip
    def standard_deviation(lengths: Sequence[Number]) -> Number:
        return SERIES_WORDS["standard deviation of"](lengths)


for _index in INDICES:
    _declare(_index)


def _widest(**volumes: Number) -> Pick:
    """How much the largest portion is above the smallest, over the largest; decided on nominal values."""
    low = min(volumes, key=lambda name: nominal(volumes[name]))
    high = max(volumes, key=lambda name: nominal(volumes[name]))
    if low == high:
        low = next(name for name in volumes if name != high)
    key = f"{high.removeprefix('volume_')},{low.removeprefix('volume_')}"
    return Pick(key, (volumes[high] - volumes[low]) / volumes[high])


def _widest_rules(options: CrystalGrowthOptions) -> dict[str, str]:
    pairs = permutations(options.numbers, 2)
    name = {number: f"(volume of {options.portion(number).label})" for number in options.numbers}
    return {f"{high},{low}": f"({name[high]} − {name[low]}) / {name[high]} × 100 %" for high, low in pairs}


page.lines.append(
    LineDef(
        "volume_difference_percent", "difference of the volumes", "%", _widest_rules, _widest, kind="choice",
        taking=lambda options: {f"volume_{number}": f"volume_{number}" for number in options.numbers},
    )
)  # fmt: skip


@page.line(
    "length ratio",
    "1",
    lambda options: f"(mean length of {options.portion(1).label}) / (mean length of {options.portion(2).label})",
)
def length_ratio(mean_length_1: Number, mean_length_2: Number) -> Number:
    return mean_length_1 / mean_length_2


RESULTS = (
    *(f"mean_length_{index}" for index in INDICES),
    *(f"standard_deviation_{index}" for index in INDICES),
    "volume_difference_percent",
    "length_ratio",
)


# Judgement


def judge(trial: Trial) -> Judgement:
    """Whether the test was fair, and what it says."""
    wrong = [*_possible(trial)]
    verdicts = wrong or [*_enough(trial), *_fair(trial), *_larger(trial)]
    return Judgement(tuple(verdicts), statements=tuple(_statements(trial)))


def _possible(trial: Trial) -> Iterator[Verdict]:
    """A ruler may read a level below its zero, but no crystal is shorter than nothing."""
    for number in trial.options.numbers:
        for row in trial.series(f"lengths_{number}"):
            if row.si <= 0:
                text = f"A crystal of {row.shown} cannot be: read the ruler from its zero to the crystal's far end."
                yield Verdict(STEP, "stop", f"lengths_{number}", text)


def _enough(trial: Trial) -> Iterator[Verdict]:
    """How many crystals of each portion were measured."""
    for number in trial.options.numbers:
        name, count = f"lengths_{number}", len(trial.series(f"lengths_{number}"))
        label = trial.options.portion(number).label
        if count >= ENOUGH:
            yield Verdict("crystals-enough", "good", name, f"{count} crystals of {label} are measured.")
        elif count:
            text = f"{count} of {ENOUGH} crystals of {label} measured: each more makes their mean surer."
            yield Verdict("crystals-few", "watch", name, text)


def _fair(trial: Trial) -> Iterator[Verdict]:
    """One thing only may differ: the portions are equal within what the options allow."""
    off, limit = trial.value("volume_difference_percent"), trial.options.equality
    if off is None:
        return
    said = f"The portions differ by {100 * off:.1f} %, your limit is {limit.reading.shown}"
    if off <= limit.si:
        yield Verdict("fair-test", "good", "volume_difference_percent", f"{said}: a fair test of the cooling.")
    else:
        text = f"{said}: size of the portion and cooling differ together, so the crystals cannot say which it was."
        yield Verdict("unfair-test", "watch", "volume_difference_percent", text)


def _larger(trial: Trial) -> Iterator[Verdict]:
    """Which portion grew the larger crystals, as far as their scatter lets that be said."""
    ratio = trial.values.get("length_ratio")
    if ratio is None:
        return
    first, second = trial.options.portion(1), trial.options.portion(2)
    spread = trial.uncertainty("length_ratio")
    shown = with_uncertainty(nominal(ratio), spread)
    if abs(nominal(ratio) - 1) <= SURE * spread:
        text = f"{first.label} over {second.label} is {shown}: the crystals scatter more than the portions differ."
        yield Verdict("sizes-undecided", "watch", "length_ratio", text)
        return
    larger = first if nominal(ratio) > 1 else second
    said = f"{first.label} over {second.label} is {shown}: {larger.label} ({larger.cooling}) grew the larger crystals"
    if larger.pace == "fast":
        text = f"{said}, though slow cooling usually does. Was it disturbed, or were the portions exchanged?"
        yield Verdict("sizes-unusual", "watch", "length_ratio", text)
    else:
        yield Verdict("sizes-differ", "good", "length_ratio", f"{said}.")


def _statements(trial: Trial) -> Iterator[Statement]:
    for number in trial.options.numbers:
        mean, deviation = trial.value(f"mean_length_{number}"), trial.value(f"standard_deviation_{number}")
        if mean is None or deviation is None:
            continue
        portion, count = trial.options.portion(number), len(trial.series(f"lengths_{number}"))
        shown = with_uncertainty(1000 * mean, 1000 * trial.uncertainty(f"mean_length_{number}"), "mm")
        text = f"{portion.cooling}: {shown} on average of {count}, one from the other by {1000 * deviation:.2g} mm."
        yield Statement(portion.label, text)


def measured(trial: Trial) -> SizesPicture:
    """The crystals of each portion, in mm, on the scale they share."""
    return SizesPicture(tuple(_measured(trial, number) for number in trial.options.numbers))


def _measured(trial: Trial, number: int) -> MeasuredPortion:
    portion, mean = trial.options.portion(number), trial.value(f"mean_length_{number}")
    return MeasuredPortion(
        portion.label,
        portion.cooling,
        tuple(float(1000 * row.si) for row in trial.series(f"lengths_{number}")),
        None if mean is None else 1000 * mean,
        None if mean is None else 1000 * COVERAGE * trial.uncertainty(f"mean_length_{number}"),
    )


# The bench model and the causes of error


@dataclass(frozen=True)
class CrystalGrowthTruth:
    """What is really there: the volume of each portion in m³, the mean lengths of the first and of the others in m."""

    volume: float
    first: float
    others: float


def truth(shape: Shape, values: Values) -> CrystalGrowthTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    return CrystalGrowthTruth(*(nominal(values[name]) for name in ("volume_1", "mean_length_1", "mean_length_2")))


def expect(shape: Shape, truth: CrystalGrowthTruth, expected: float) -> CrystalGrowthTruth:
    """The same crystals of the other portions, with the ratio that is expected."""
    return replace(truth, first=expected * truth.others)


SCATTER = (0.9, 1.1, 0.8, 1.2, 0.95, 1.05)
"""How crystals of one portion differ: their mean is 1 (common practice: by a tenth or two of themselves)."""
COOLING_S = 1800.0


def bench(shape: Shape, truth: CrystalGrowthTruth, faults: Mapping[str, float]) -> dict[str, Any]:
    """The readings in m³, m and s that honest instruments show of this truth.

    Faults: `disturbed` (fraction by which the first portion's crystals stayed smaller), `largest_only` (so much above
    the mean those of it that were measured lie), `others_slow` (fraction by which the others grew larger than meant).
    """
    first = truth.first * (1 - faults.get("disturbed", 0.0)) * (1 + faults.get("largest_only", 0.0))
    others = truth.others * (1 + faults.get("others_slow", 0.0))
    readings: dict[str, Any] = {}
    for number in shape.options.numbers:
        readings[f"volume_{number}"] = truth.volume
        readings[f"lengths_{number}"] = [(first if number == 1 else others) * part for part in SCATTER]
        if f"cooling_time_{number}" in shape.taken:
            readings[f"cooling_time_{number}"] = COOLING_S
    return readings


CAUSES = (
    Cause(
        "disturbed",
        "the first portion moved or stirred while it cooled",
        TruthChanged("disturbed"),
        "%",
        0.2,
        0.8,
        "a stirred portion gives powder, not crystals to measure",
    ),
    Cause(
        "largest-only",
        "only the largest crystals of the first portion measured",
        TruthChanged("largest_only"),
        "%",
        0.2,
        0.6,
        "more than half above the mean are other crystals",
    ),
    Cause(
        "others-slow",
        "the others cooled more slowly than meant",
        TruthChanged("others_slow"),
        "%",
        0.2,
        1.0,
        "twice the length wants another night",
    ),
)


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """The crystals and their liquor go together: how much of each nobody weighed."""
    yield dissolved(trial.options.solute, None)


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    rows = (["A: slow", "B: fast"], ["slow: board", "ice: in ice", "tap: tap water", "oven: switched off, overnight"])
    timed = frozenset(f"cooling_time_{number}" for number in INDICES)
    for portions, taken in product(rows, (frozenset[str](), timed)):
        options = CrystalGrowthOptions.model_validate({"solute": "KAl(SO4)2.12H2O", "portions": portions})
        here = frozenset(f"cooling_time_{number}" for number in options.numbers)
        yield Shape(options, taken=taken & here)


METHOD = Method(
    name="crystal_growth",
    title="Crystal growth, a fair test",
    page=page,
    options=CrystalGrowthOptions,
    results=RESULTS,
    key=lambda options: "length_ratio",
    headline=lambda options: Headline(
        f"{options.portion(1).label} : {options.portion(2).label} = {{}}",
        "volume_difference_percent",
        "volumes {} apart",
    ),
    judge=judge,
    shapes=shapes,
    causes=CAUSES,
    truth=truth,
    bench=bench,
    expect=expect,
    remains=remains,
    pictures=lambda trial: Pictures(sizes=measured(trial)),
)
