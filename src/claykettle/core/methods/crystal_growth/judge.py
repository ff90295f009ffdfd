"""What is said of a trial beyond its numbers."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.judgement.weighing_order import STEP
from claykettle.core.method import Judgement, Statement, Trial
from claykettle.core.pictures.sizes import MeasuredPortion, SizesPicture
from claykettle.core.quantity import COVERAGE, nominal, with_uncertainty
from claykettle.core.verdict import Verdict

ENOUGH = 5
"""So many crystals of a portion make a mean worth comparing (common practice)."""


SURE = 2.0


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
        "" if mean is None else f"mean {1000 * mean:.1f} mm",
    )
