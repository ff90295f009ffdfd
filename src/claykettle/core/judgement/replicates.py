"""Do replicates agree with what the instruments explain? Precise is not the same as accurate."""

from __future__ import annotations

import math
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

from claykettle.core.quantity import (
    COVERAGE,
    Number,
    Unit,
    exact,
    figures,
    nominal,
    own_uncertainty,
    percent,
    standard_uncertainty,
    weighted_mean,
    with_uncertainty,
)
from claykettle.core.verdict import Verdict

SIGNIFICANCE = 0.05
ALIKE = 0.01
"""What all trials must share is said to differ at 99 %: it is held together at every trial, and cries wolf as often."""


@dataclass(frozen=True)
class Agreement:
    """Chi-squared of the weighted mean, its degrees of freedom, and the probability of a larger one."""

    chi_squared: float
    degrees: int
    probability: float

    @property
    def agrees(self) -> bool:
        """Whether the spread is one that the uncertainties explain, at 95 %."""
        return self.probability >= SIGNIFICANCE

    @property
    def birge_ratio(self) -> float:
        """How many times wider the spread is than the instruments explain (R. T. Birge, Phys. Rev. 40, 207, 1932)."""
        return math.sqrt(self.chi_squared / self.degrees)


def agreement(values: Sequence[float], uncertainties: Sequence[float]) -> Agreement | None:
    """The test of the weighted mean (Bevington and Robinson, Data Reduction and Error Analysis, ch. 4).

    None for fewer than two values, or where one has no uncertainty of its own.
    """
    if len(values) < 2 or not all(u > 0 for u in uncertainties):
        return None
    weights = [1 / u**2 for u in uncertainties]
    mean = math.fsum(w * v for w, v in zip(weights, values, strict=True)) / math.fsum(weights)
    chi_squared = math.fsum(w * (v - mean) ** 2 for w, v in zip(weights, values, strict=True))
    degrees = len(values) - 1
    return Agreement(chi_squared, degrees, chi_squared_tail(chi_squared, degrees))


@dataclass(frozen=True)
class Comparison:
    """The trials of a run held together on its key result, in SI; `uncertainties` are those that they do not share.

    `standard_uncertainty` is that of the weighted mean; where the trials disagree, the part that they do not share is
    widened by the Birge ratio. `accepted` is what was to be expected, None where nothing was. `odd` is the label of the
    trial that lies furthest off, where they disagree and there are three or more; `rest_agrees` whether the others
    agree without it.
    """

    labels: tuple[str, ...]
    values: tuple[float, ...]
    uncertainties: tuple[float, ...]
    mean: float
    standard_uncertainty: float
    agreement: Agreement
    accepted: float | None
    odd: str | None
    rest_agrees: bool

    @property
    def is_accurate(self) -> bool | None:
        """Whether the accepted value lies within the mean's band (k = 2); None where nothing is accepted."""
        if self.accepted is None:
            return None
        return abs(self.mean - self.accepted) <= COVERAGE * self.standard_uncertainty


def compare(
    labels: Sequence[str], numbers: Sequence[Number], shared: Collection[str], accepted: float | None
) -> Comparison | None:
    """Hold trials together; `shared` names the readings common to all, which move all alike.

    None for fewer than two trials, or where one has no uncertainty of its own.
    """
    values = [nominal(number) for number in numbers]
    own = [own_uncertainty(number, shared) for number in numbers]
    found = agreement(values, own)
    if found is None:
        return None
    mean = weighted_mean(numbers, [1 / u**2 for u in own])
    alone = own_uncertainty(mean, shared)
    common = standard_uncertainty(mean) ** 2 - alone**2
    widened = alone * (1.0 if found.agrees else found.birge_ratio)
    odd, rest_agrees = None, False
    if not found.agrees and len(values) > 2:
        index = max(range(len(values)), key=lambda i: abs(values[i] - nominal(mean)) / own[i])
        rest = [i for i in range(len(values)) if i != index]
        without = agreement([values[i] for i in rest], [own[i] for i in rest])
        odd, rest_agrees = labels[index], without is not None and without.agrees
    return Comparison(
        tuple(labels),
        tuple(values),
        tuple(own),
        nominal(mean),
        math.sqrt(max(0.0, widened**2 + common)),
        found,
        accepted,
        odd,
        rest_agrees,
    )


def judge_replicates(
    found: Comparison, about: str, label: str, unit: Unit, reaches: float | None = None
) -> Iterator[Verdict]:
    """Whether the trials agree, which one is odd, and whether what they say together is right.

    `label` names the key result, `unit` is the one that it is shown in; `reaches` is the share of the accepted value
    within which a class usually ends.
    """
    count = len(found.labels)
    freedom = "1 degree" if found.agreement.degrees == 1 else f"{found.agreement.degrees} degrees"
    sizes = f"χ² = {found.agreement.chi_squared:.2f} for {freedom} of freedom"
    if found.agreement.agrees:
        text = f"The {count} trials agree in {label} within what the instruments explain ({sizes})."
        yield Verdict("replicates-agree", "good", about, text)
    else:
        text = f"The {count} trials spread in {label} more than the instruments explain ({sizes})."
        yield Verdict("replicates-disagree", "watch", about, text)
    if found.odd is not None:
        others = "without it the others agree" if found.rest_agrees else "even without it the others disagree"
        text = f"Trial {found.odd} lies furthest off; {others}. Look at its readings before it is left out."
        yield Verdict("odd-trial", "watch", found.odd, text)
    yield from _trend(found, about, label, unit)
    yield from _accuracy(found, about, unit, reaches)


def judge_alike(found: Comparison, about: str, label: str, unit: Unit) -> Verdict:
    """Whether what all trials must share however large the sample, such as the volume per gram, is alike."""
    rows = ", ".join(figures(unit.from_si(value), 4) for value in found.values)
    said = f"{label[:1].upper()}{label[1:]} over the trials: {rows} {unit.shown}"
    if found.agreement.probability >= ALIKE:
        return Verdict("alike", "good", about, f"{said}; no further apart than the instruments explain.")
    way = _one_way(found.values)
    if way:
        why = f" It {way} from trial to trial: acid, air in the tube or warmth change."
    else:
        why = f" Trial {found.odd} lies furthest off." if found.odd is not None else ""
    return Verdict("not-alike", "watch", about, f"{said}; further apart than the instruments explain.{why}")


LEAST_FOR_TREND = 3


def _one_way(values: Sequence[float]) -> str:
    """`rises` or `falls` where three or more values go one way, else an empty text."""
    steps = [later - earlier for earlier, later in pairwise(values)]
    if len(values) < LEAST_FOR_TREND:
        return ""
    return "rises" if all(step > 0 for step in steps) else "falls" if all(step < 0 for step in steps) else ""


def _trend(found: Comparison, about: str, label: str, unit: Unit) -> Iterator[Verdict]:
    """A result that goes one way from trial to trial, further than the instruments explain."""
    way = _one_way(found.values)
    if not way or found.rest_agrees:
        return  # one odd trial among others that agree is no trend
    change = abs(found.values[-1] - found.values[0])
    if change <= COVERAGE * math.hypot(found.uncertainties[0], found.uncertainties[-1]):
        return
    rows = ", ".join(figures(unit.from_si(value), 4) for value in found.values)
    text = f"From trial to trial {label} {way}: {rows} {unit.shown}".rstrip()
    yield Verdict(
        "trend", "watch", about, f"{text}. Something changes as the trials go on: acid, air in the tube, warmth."
    )


def _accuracy(found: Comparison, about: str, unit: Unit, reaches: float | None) -> Iterator[Verdict]:
    if found.accepted is None:
        return
    spread = unit.step_from_si(found.standard_uncertainty)
    mean = with_uncertainty(unit.from_si(found.mean), spread, unit.shown)
    accepted = f"{exact(unit.from_si(found.accepted))} {unit.shown}".rstrip()
    off = abs(found.mean - found.accepted) / (COVERAGE * found.standard_uncertainty)
    outside = f"their mean, {mean}, misses the accepted {accepted} by {figures(off, 2)} times its band"
    if found.agreement.agrees and found.is_accurate:
        text = f"Precise and accurate: the trials agree, and the accepted {accepted} lies in their mean's band, {mean}."
        yield Verdict("precise-and-accurate", "good", about, text)
    elif found.agreement.agrees and reaches and abs(found.mean - found.accepted) <= reaches * abs(found.accepted):
        text = (
            f"Precise: the trials agree. Their mean, {mean}, misses the accepted {accepted} by more than its band, by "
            f"less than the {percent(reaches, 0)} that a class usually reaches."
        )
        yield Verdict("within-class", "good", about, text)
    elif found.agreement.agrees:
        text = f"Precise, not accurate: the trials agree, but {outside}. Look for what moves all of them alike."
        yield Verdict("precise-not-accurate", "watch", about, text)
    elif found.is_accurate:
        text = (
            f"Accurate in the mean only, not precise: the accepted {accepted} lies in the band of the mean, {mean}, "
            "because the trials scatter so widely."
        )
        yield Verdict("accurate-not-precise", "watch", about, text)
    else:
        text = f"Neither precise nor accurate: the trials scatter, and {outside}."
        yield Verdict("neither-precise-nor-accurate", "watch", about, text)


def chi_squared_tail(chi_squared: float, degrees: int) -> float:
    """Probability that chi-squared with `degrees` ≥ 1 exceeds the value: Q(degrees/2, χ²/2).

    For whole and half-whole arguments Q is a finite sum (NIST Digital Library of Mathematical
    Functions, 8.4.10 with 8.8.2), so no numerical library is needed.
    """
    x = chi_squared / 2
    if x > 700:
        return 0.0
    half = degrees / 2
    term_order = 0.5 if degrees % 2 else 1.0
    tail = math.erfc(math.sqrt(x)) if degrees % 2 else math.exp(-x)
    while term_order < half:
        tail += math.exp(term_order * math.log(x) - x - math.lgamma(term_order + 1)) if x > 0 else 0.0
        term_order += 1
    return min(1.0, tail)


def sample_deviation(values: Sequence[float]) -> float | None:
    """Standard deviation of a sample (n − 1), None for fewer than two values."""
    if len(values) < 2:
        return None
    mean = math.fsum(values) / len(values)
    return math.sqrt(math.fsum((value - mean) ** 2 for value in values) / (len(values) - 1))
