"""Heat again or stop: the change since the last weighing against the tolerance, and its direction."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from claykettle.core.method import SeriesOptions
from claykettle.core.quantity import Number, Reading, nominal, plain
from claykettle.core.sheet import Pick
from claykettle.core.verdict import Verdict

SETTLED_RULES = {
    "last": "last of {label}",
    "mean": "mean of the last two of {label}",
    "lowest": "lowest of {label}",
}


def settled_rules(label: str) -> dict[str, str]:
    """The rules of a settled value of the series with this label, one for each way of choosing it."""
    return {pick: rule.format(label=label) for pick, rule in SETTLED_RULES.items()}


def is_constant(series: Sequence[Decimal], tolerance: Decimal) -> bool:
    """Whether the last two values differ by no more than the tolerance, compared as decimals."""
    return len(series) >= 2 and abs(series[-1] - series[-2]) <= tolerance


def settled_value(series: Sequence[Number], settling: Number, options: SeriesOptions) -> Pick:
    """The value that a series contributes.

    Constant: the last, the mean of the last two or the lowest, as the options say. Not constant: the last.
    `settling` is zero with the uncertainty of what the last heating still changed. Decided on nominal values.
    """
    values = [nominal(value) for value in series]
    # half a nanogram decides nothing on a balance, but absorbs the binary rounding of a decimal tolerance
    constant = len(values) >= 2 and abs(values[-1] - values[-2]) <= float(options.tolerance.si) + 5e-13
    pick = options.constant_value if constant else "last"
    if pick == "mean":
        return Pick("mean", (series[-2] + series[-1]) / 2 + settling)
    if pick == "lowest":
        return Pick("lowest", series[values.index(min(values))] + settling)
    return Pick("last", series[-1] + settling)


@dataclass(frozen=True)
class Process:
    """What a round does, so that the direction of a change can be read: what a loss means, and what a gain does."""

    one: str
    losing: str
    gaining: str
    rises: bool = False
    round: str = "heating"


DRYING = Process(
    "One weighing after heating cannot show that it is dry. Heat, cool and weigh again.",
    "still drying. Heating {next} decides.",
    "A gain while drying is moisture taken up, a warm weighing before it, or a draught. Cool it covered, then heat "
    "and weigh again.",
)
DECOMPOSING = Process(
    "One weighing after heating cannot show that the reaction has ended. Heat, cool and weigh again.",
    "still decomposing. Heating {next} decides.",
    "A gain is moisture taken up, a warm weighing before it, or a draught. Cool it with the lid on, then heat and "
    "weigh again.",
)
COMBINING = Process(
    "One weighing after heating cannot show that the reaction has ended. Heat, cool and weigh again.",
    "an excess of the second element burning off, or smoke and spatter lost. Heating {next} decides.",
    "It is still reacting: lift the lid briefly, heat and weigh again.",
    rises=True,
)


def judge_constancy(
    about: str, series: Sequence[Reading], options: SeriesOptions, process: Process = DRYING
) -> Verdict:
    """The verdict on a series of at least one weighing: constant, still losing, still gaining, or provisional."""
    count = len(series)
    if count == 1:
        return Verdict("provisional", "watch", about, process.one)
    change = series[-1].si - series[-2].si
    limit = milligrams(options.tolerance.si)
    size = milligrams(abs(change))
    if is_constant([reading.si for reading in series], options.tolerance.si):
        text = f"Constant: {process.round} {count} changed the mass by {size}, your limit is {limit}."
        return Verdict("constant-mass", "good", about, text)
    round_ = f"{process.round.capitalize()} {count}"
    if change < 0:
        meaning = process.losing.format(next=count + 1)
        return Verdict("still-losing", "watch", about, f"{round_} lost {size}, your limit is {limit}: {meaning}")
    text = f"{round_} gained {size}, your limit is {limit}. {process.gaining}"
    return Verdict("still-gaining", "watch", about, text)


def milligrams(mass_si: Decimal) -> str:
    """A mass difference for a sentence: `15 mg`, from a decimal in kg."""
    number = (mass_si * 1_000_000).normalize()
    return f"{plain(number.quantize(Decimal(1)) if number == number.to_integral_value() else number)} mg"


def settling_half_width(series: Sequence[Number]) -> float:
    """What the last heating still changed, in SI: |last − previous|; zero for a series of one."""
    return abs(nominal(series[-1]) - nominal(series[-2])) if len(series) >= 2 else 0.0
