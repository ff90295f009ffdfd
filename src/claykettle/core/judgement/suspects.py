"""Can the blamed cause explain the result? Right sign, and large enough: both by replay, neither stands in any file.

For every cause of a method: what its usual dose does to the key result, and the dose that would lead from what was
expected to what was measured. A shifted or scaled reading is undone on the readings themselves; a changed truth is
played through the method's own bench model, starting from a truth that gives the expected result.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, Literal

from claykettle.core.errors import refuse
from claykettle.core.judgement.replay import replay as replayed
from claykettle.core.method import (
    NO_EVIDENCE,
    Cause,
    Evidence,
    LineReplaced,
    Method,
    OptionReplaced,
    PlainReadings,
    ReadingScaled,
    ReadingShifted,
    Trial,
    TruthChanged,
)
from claykettle.core.quantity import Number, Unit, exact, nominal, short, standard_uncertainty, unit, with_uncertainty
from claykettle.core.sheet import SETTLING, Shape

Standing = Literal["believable", "stretch", "too-large", "refuted", "not-this", "wrong-sign", "none"]
STRETCH = 2.0
"""A dose up to this many times the believable one is called a stretch, not impossible."""
MOST_ROUNDS = 12
NOTHING = 1e-12
"""A shift below this part of the result is the computer's rounding."""
_ORDER: Sequence[Standing] = ("believable", "stretch", "too-large", "refuted", "not-this", "wrong-sign", "none")
REFUTED = 3.0
"""A cause whose dose brings another result of the run so many standard uncertainties off does not explain the run."""


@dataclass(frozen=True)
class Suspect:
    """One cause held against a deviation. Doses in `unit`, shifts and results in the unit of the key result.

    `at_usual` is the result that the usual dose would have made of the expected one; `dose` the dose that explains the
    measured one, None where none does; `most` is the largest believable one, and `reason` says why.
    """

    code: str
    label: str
    unit: str
    usual: float
    most: float
    shift: float
    at_usual: float
    dose: float | None
    standing: Standing
    text: str
    reason: str
    usual_text: str
    at_usual_text: str
    dose_text: str


@dataclass(frozen=True)
class Suspicion:
    """A deviation and all suspects, the likeliest first. `gap` counts standard uncertainties of the deviation."""

    key: str
    label: str
    unit: str
    measured: float
    measured_text: str
    expected: float
    expected_text: str
    gap: float
    text: str
    suspects: tuple[Suspect, ...]


def suspicion(
    trial: Trial,
    method: Method,
    expect: str | None = None,
    evidence: Evidence = NO_EVIDENCE,
    slips: bool = False,
) -> Suspicion:
    """Every cause that can have happened here against the deviation of the key result from what was expected.

    A slip of the calculation is none, since this program cannot make it; `slips` lets it in where somebody else worked
    the figure out. A dose that explains the key result must leave the
    run's other results where they are, or bring them there; what it refutes is named. `expect` is a figure in the unit
    of the key result; without one the accepted or matching formula counts. `evidence` is what is known of the
    bench. Raises Refusal `missing-reading` without a result, `nothing-expected` and `not-a-number` at
    `expect`, `no-truth` for readings that no bench shows.
    """
    case, shown, label = _case(trial, method, expect)
    causes = [
        cause
        for cause in method.bench.causes
        if cause.happens(trial.options, evidence) and (slips or not isinstance(cause.kind, LineReplaced))
    ]
    suspects = [(cause.noted(evidence), _suspect(case, cause, shown)) for cause in causes]
    rows = [_with_noted(row, tags) for tags, row in sorted(suspects, key=lambda one: _rank(one[1], bool(one[0])))]
    spread = trial.uncertainty(case.key)
    gap = abs(case.measured - case.expected) / case.spread if case.spread > 0 else 0.0
    return Suspicion(
        case.key,
        label,
        shown.shown,
        shown.from_si(case.measured),
        with_uncertainty(shown.from_si(case.measured), shown.step_from_si(spread), shown.shown),
        shown.from_si(case.expected),
        f"{exact(shown.from_si(case.expected))} {shown.shown}".rstrip(),
        gap,
        _said_of_gap(gap, abs(case.measured - case.expected) / abs(case.expected)),
        tuple(rows),
    )


@dataclass(frozen=True)
class Tried:
    """A dose that was tried, and what it makes of the expected result in the unit of the key result; both as text."""

    result: float
    result_text: str
    dose_text: str


def result_at(trial: Trial, method: Method, code: str, dose: float, expect: str | None = None) -> Tried:
    """What a dose (in the cause's unit) of one cause makes of the expected result.

    Raises Refusal as `suspicion` does, `unknown-cause` at `code`, and `out-of-range` at `dose` below zero.
    """
    case, shown, _ = _case(trial, method, expect)
    cause = next((row for row in method.bench.causes if row.code == code), None)
    if cause is None:
        raise refuse("unknown-cause", f"'{code[:40]}' is not a cause of this method.", "code")
    if not 0 <= dose < math.inf:
        raise refuse("out-of-range", "A dose lies at zero or above.", "dose")
    in_si = float(unit(cause.unit).factor) * dose
    after = _after(case, cause, in_si)
    return Tried(shown.from_si(after), _amount(shown, after), _amount(unit(cause.unit), in_si))


def _case(trial: Trial, method: Method, expect: str | None) -> tuple[_Case, Unit, str]:
    key = method.key_on(trial.sheet)
    measured = trial.value(key)
    line = next((row for row in trial.sheet.lines if row.name == key), None)
    if measured is None or line is None:
        raise refuse("missing-reading", "There is no result yet that a cause could explain.")
    expected = _expected(trial, method, line.shown_unit, expect)
    # what both hang on, such as a mass that the expected figure was worked out from, counts once
    spread = standard_uncertainty(trial.values[key] - expected)
    others = _others(trial, method, key, expect)
    case = _Case(method, trial.sheet.shape, trial.plain, key, measured, nominal(expected), spread, others)
    return case, line.shown_unit, line.label


@dataclass(frozen=True)
class _Other:
    """Another result of the run that was to be expected: its label and unit, and both figures (SI)."""

    name: str
    label: str
    unit: Unit
    measured: float
    expected: float
    spread: float


def _others(trial: Trial, method: Method, key: str, expect: str | None) -> tuple[_Other, ...]:
    """The run's other results with what they were to be; none where somebody else's figure is explained."""
    if expect is not None and expect.strip():
        return ()
    rows: list[_Other] = []
    for name, value in method.judging.beside(trial.options, trial.values).items():
        number, line = trial.values.get(name), trial.sheet.by_name.get(name)
        if name != key and number is not None and line is not None:
            rows.append(_Other(name, line.label, line.shown_unit, nominal(number), value, standard_uncertainty(number)))
    return tuple(rows)


def _expected(trial: Trial, method: Method, shown: Unit, expect: str | None) -> Number:
    """The expected key result; with an uncertainty where it was itself worked out from readings."""
    if expect is not None and expect.strip():
        try:
            value = float(expect.strip().removesuffix(shown.shown).strip().replace(",", "."))
        except ValueError:
            value = math.nan
        if not 0 < value < 1e9:
            raise refuse("not-a-number", f"'{expect[:24]}' is no figure above zero; type one such as 7.", "expect")
        return value * float(shown.factor)
    accepted = method.judging.accepted(trial.options)
    accepted = method.judging.matched(trial.options, trial.values) if accepted is None else accepted
    if accepted is None:
        raise refuse("nothing-expected", "Say what was expected: no formula is accepted and none matches.", "expect")
    return accepted


SMALL = 0.05
"""A class is content within so much of what was expected (common practice)."""


def _said_of_gap(gap: float, share: float) -> str:
    if gap <= 2:
        return "The expected value lies inside the band: nothing needs explaining."
    times = exact(float(f"{gap / 2:.2g}"))
    if share <= SMALL:
        percent = exact(float(f"{100 * share:.2g}"))
        return f"The gap is {times} times the band, and {percent} % of what was expected: small for a class."
    return f"The gap is {times} times the band. Something happened at the bench."


@dataclass(frozen=True)
class _Case:
    """What was measured, what was expected, and how to replay."""

    method: Method
    shape: Shape
    readings: PlainReadings
    key: str
    measured: float
    expected: float
    spread: float
    others: tuple[_Other, ...] = ()

    @cached_property
    def clean(self) -> Any:
        """The truth behind the readings, had the result been the expected one.

        Raises Refusal `no-truth` for readings that no bench can show, such as a residue of less than nothing.
        """
        values = self.method.page.build(self.shape).evaluate(self.readings)
        try:
            return self.method.bench.expect(self.shape, self.method.bench.truth(self.shape, values), self.expected)
        except (ArithmeticError, ValueError, KeyError, TypeError):
            text = "No bench shows these readings: mend first what the verdicts say of them, then look for causes."
            raise refuse("no-truth", text) from None

    @cached_property
    def honest(self) -> PlainReadings:
        """What honest instruments would have shown of it."""
        return self.method.bench.play(self.shape, self.clean, {})

    def result(self, readings: PlainReadings, name: str = "") -> float | None:
        """The key result of plain readings, or another one."""
        kept = {name: row for name, row in readings.items() if not name.endswith(SETTLING)}
        value = self.method.page.build(self.shape).evaluate(kept).get(name or self.key)
        return None if value is None else nominal(value)

    def disturbed(self, cause: Cause, dose: float) -> PlainReadings:
        """The readings that honest instruments would have shown with this dose (SI) of a cause."""
        match cause.kind:
            case TruthChanged(fault):
                return self.method.bench.play(self.shape, self.clean, {fault: dose})
            case ReadingShifted(name, factor):
                return _undone(self.honest, name, lambda value: value + factor * dose)
            case ReadingScaled(name):
                return _undone(self.honest, name, lambda value: value * (1 + dose))
        return self.honest


def _suspect(case: _Case, cause: Cause, shown: Unit) -> Suspect:
    cause_unit = unit(cause.unit)
    at_usual = _after(case, cause, cause.usual)
    shift = at_usual - case.expected
    dose = _dose(case, cause, shift)
    most = cause.most(case.shape.options)
    standing = _explains(case, at_usual) if _is_slip(cause) else _standing(case, most, shift, dose)
    if standing == "believable" and dose is not None and dose < cause.least:
        standing = "not-this"
    against = _refuted(case, cause, dose) if dose is not None and standing in ("believable", "stretch") else ""
    if against:
        standing = "refuted"
    if abs(shift) <= NOTHING * abs(case.expected):
        standing, text = "none", f"{cause.label[0].upper()}{cause.label[1:]}: no effect on this."
    elif _is_slip(cause):
        text = _text_of_slip(cause, shown, at_usual, standing)
    else:
        text = _text(cause, cause_unit, dose, standing, most) + against
    return Suspect(
        cause.code,
        cause.label,
        cause_unit.shown,
        cause_unit.from_si(cause.usual),
        cause_unit.from_si(most),
        shown.step_from_si(shift),
        shown.from_si(at_usual),
        None if dose is None else cause_unit.from_si(dose),
        standing,
        text,
        cause.limit,
        _amount(cause_unit, cause.usual),
        _amount(shown, at_usual),
        "" if dose is None else _amount(cause_unit, dose),
    )


def _is_slip(cause: Cause) -> bool:
    """Whether a cause is done or not done, with no dose in between."""
    return isinstance(cause.kind, LineReplaced | OptionReplaced)


def _explains(case: _Case, after: float) -> Standing:
    """Whether what the slip makes of the expected result is what was measured, within two standard uncertainties."""
    wanted, shift = case.measured - case.expected, after - case.expected
    if shift == 0 or wanted == 0:
        return "none"
    if abs(after - case.measured) <= 2 * case.spread:
        return "believable"
    return "wrong-sign" if (shift > 0) != (wanted > 0) else "not-this"


def _text_of_slip(cause: Cause, shown: Unit, after: float, standing: Standing) -> str:
    label = cause.label[0].upper() + cause.label[1:]
    made = f"{exact(float(f'{shown.from_si(after):.4g}'))} {shown.shown}".rstrip()
    ends = {
        "believable": "that is what was found",
        "not-this": "not what was found",
        "wrong-sign": "the other way",
        "none": "nothing to explain",
    }
    return f"{label}: it would make {made}; {ends[standing]}."


def _after(case: _Case, cause: Cause, dose: float) -> float:
    """What the cause makes of the expected result."""
    if isinstance(cause.kind, TruthChanged):
        disturbed = case.method.bench.play(case.shape, case.clean, {cause.kind.fault: dose})
        found = case.result(disturbed)
        return case.expected if found is None else found
    try:
        return replayed(case.method, case.shape, case.honest, cause, dose, case.key).after
    except KeyError:
        # with this cause there would be no result at all: it explains none
        return case.expected


def _dose(case: _Case, cause: Cause, shift: float) -> float | None:
    """The dose that leads from the expected to the measured result; None without one of the right sign."""
    wanted = case.measured - case.expected
    if shift == 0 or wanted == 0 or (shift > 0) != (wanted > 0):
        return None
    match cause.kind:
        case TruthChanged(fault):
            truth = case.clean

            def miss(dose: float) -> float | None:
                found = case.result(case.method.bench.play(case.shape, truth, {fault: dose}))
                return None if found is None else found - case.measured

        case ReadingShifted(name, factor):

            def miss(dose: float) -> float | None:
                found = case.result(_undone(case.readings, name, lambda value: value - factor * dose))
                return None if found is None else case.expected - found

        case ReadingScaled(name):

            def miss(dose: float) -> float | None:
                found = case.result(_undone(case.readings, name, lambda value: value / (1 + dose)))
                return None if found is None else case.expected - found

        case LineReplaced() | OptionReplaced():
            return None
    return _root(miss, cause.usual * wanted / shift, 1.0 if cause.unit == "%" else math.inf)


def _undone(readings: PlainReadings, name: str, change: Callable[[float], float]) -> PlainReadings:
    changed = dict(readings)
    value = changed.get(name)
    if value is not None:
        changed[name] = [change(one) for one in value] if isinstance(value, list) else change(value)
    return changed


def _root(miss: Callable[[float], float | None], guess: float, most: float) -> float | None:
    """Where `miss` is zero, by the secant from zero; None where it does not lie between zero and `most`."""
    before, at = 0.0, min(guess, 0.9 * most)
    low = miss(before)
    close = 1e-9 * abs(low) if low is not None else 0.0
    for _ in range(MOST_ROUNDS):
        high = miss(at)
        if low is None or high is None:
            return None
        if abs(high) <= close:
            return at
        if high == low:
            return None
        before, low, at = at, high, at - high * (at - before) / (high - low)
        if not 0 < at < most:
            return None
    return None


def _refuted(case: _Case, cause: Cause, dose: float) -> str:
    """Which other result speaks against this dose, as a sentence; empty where none does."""
    for other in case.others:
        clean, after = case.result(case.honest, other.name), case.result(case.disturbed(cause, dose), other.name)
        if clean is None or after is None or other.spread <= 0:
            continue
        foreseen = other.expected + after - clean
        off = abs(foreseen - other.measured)
        # a result that lies off by itself is held against a cause only where the cause drives it further away
        if off > REFUTED * other.spread and off > abs(other.expected - other.measured) - REFUTED * other.spread:
            would, is_ = (_amount(other.unit, value) for value in (foreseen, other.measured))
            return f" But it would bring {other.label} to {would}; measured is {is_}."
    return ""


def _standing(case: _Case, most: float, shift: float, dose: float | None) -> Standing:
    wanted = case.measured - case.expected
    if shift == 0 or wanted == 0:
        return "none"
    if (shift > 0) != (wanted > 0):
        return "wrong-sign"
    if dose is None or dose > STRETCH * most:
        return "too-large"
    return "believable" if dose <= most else "stretch"


def _text(cause: Cause, cause_unit: Unit, dose: float | None, standing: Standing, most_si: float) -> str:
    label = cause.label[0].upper() + cause.label[1:]
    if standing == "none":
        return f"{label}: nothing to explain."
    if standing == "wrong-sign":
        return f"{label}: it would push the result the other way."
    if dose is None:
        return f"{label}: no dose of it would be enough."
    amount, most = _amount(cause_unit, dose), _amount(cause_unit, most_si)
    ends = {
        "believable": "believable",
        "refuted": "so much could be",
        "not-this": f"not this, there is none below {_amount(cause_unit, cause.least)}",
        "stretch": f"a stretch, {most} is usually the most",
        "too-large": f"not believable, {most} is usually the most",
    }
    return f"{label}: it would take {amount}; {ends[standing]}."


def _amount(unit: Unit, value: float) -> str:
    """A figure (SI) in its unit, to three significant figures."""
    return f"{short(unit.from_si(value))} {unit.shown}".rstrip()


def _rank(row: Suspect, noted: bool) -> tuple[int, bool, float]:
    """By standing; among equals what somebody saw comes first, then the dose nearest to the usual one."""
    closeness = abs(math.log(row.dose / row.usual)) if row.dose else math.inf
    return _ORDER.index(row.standing), not noted, closeness


def _with_noted(row: Suspect, tags: Sequence[str]) -> Suspect:
    if not tags:
        return row
    said = f"Noted at the bench: {', '.join(tags)}."
    return replace(row, text=f"{row.text} {said}", reason=f"{said} {row.reason[:1].upper()}{row.reason[1:]}")
