"""Can the blamed cause explain the result? Right sign, and large enough: both by replay, neither stands in any file.

For every cause of a method: what its usual dose does to the key result, and the dose that would lead from what was
expected to what was measured. A shifted or scaled reading is undone on the readings themselves; a changed truth is
played through the method's own bench model, starting from a truth that gives the expected result.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from claykettle.core.errors import refuse
from claykettle.core.judgement.suspect_case import Case, Other, limit
from claykettle.core.judgement.suspect_words import (
    Standing,
    amount,
    said_against,
    said_of_dose,
    said_of_gap,
    said_of_others,
    said_of_slip,
)
from claykettle.core.judgement.together import Pair, pairs
from claykettle.core.method import (
    NO_EVIDENCE,
    Cause,
    Evidence,
    LineReplaced,
    Method,
    OptionReplaced,
    Trial,
)
from claykettle.core.quantity import (
    Number,
    Unit,
    covariances,
    exact,
    nominal,
    standard_uncertainty,
    unit,
    with_uncertainty,
)

STRETCH = 2.0
"""A dose up to this many times the believable one is called a stretch, not impossible."""
NOTHING = 1e-12
"""A shift below this part of the result is the computer's rounding."""
BELIEVABLE: frozenset[Standing] = frozenset({"believable", "stretch"})
"""How a cause stands that could have done it."""
_ORDER: Sequence[Standing] = ("believable", "stretch", "too-large", "refuted", "not-this", "wrong-sign", "none")


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

    @property
    def is_believable(self) -> bool:
        """Whether it could have done it alone."""
        return self.standing in BELIEVABLE


@dataclass(frozen=True)
class Suspicion:
    """A deviation and all suspects, the likeliest first. `gap` counts standard uncertainties of the deviation.

    `together` are pairs of causes that explain it where no single one does.
    """

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
    together: tuple[Pair, ...] = ()

    @property
    def believable(self) -> tuple[Suspect, ...]:
        """Those that could have done it alone, the likeliest first."""
        return tuple(row for row in self.suspects if row.is_believable)


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
    alone = any(row.is_believable for _, row in suspects)
    rows = [_with_noted(row, tags) for tags, row in sorted(suspects, key=lambda one: _rank(one[1], bool(one[0])))]
    spread = trial.uncertainty(case.key)
    gap = abs(case.measured - case.expected) / case.spread if case.spread > 0 else 0.0
    off, good = said_of_others(case), _good(trial, method, case.key)
    noted = [row.code for tags, row in suspects if tags]
    return Suspicion(
        case.key,
        label,
        shown.shown,
        shown.from_si(case.measured),
        with_uncertainty(shown.from_si(case.measured), shown.step_from_si(spread), shown.shown),
        shown.from_si(case.expected),
        f"{exact(shown.from_si(case.expected))} {shown.shown}".rstrip(),
        gap,
        said_of_gap(gap, abs(case.measured - case.expected) / abs(case.expected), off, good),
        tuple(rows),
        () if alone or (gap <= 2 and not off) else pairs(case, causes, noted),
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
    after = case.after(cause, in_si)
    return Tried(shown.from_si(after), amount(shown, after), amount(unit(cause.unit), in_si))


def _case(trial: Trial, method: Method, expect: str | None) -> tuple[Case, Unit, str]:
    key = method.key_on(trial.sheet)
    measured = trial.value(key)
    line = next((row for row in trial.sheet.lines if row.name == key), None)
    if measured is None or line is None:
        raise refuse("missing-reading", "There is no result yet that a cause could explain.")
    expected = _expected(trial, method, line.shown_unit, expect)
    if nominal(expected) <= 0:
        text = "By these readings nothing could come, so that there is nothing to compare with. Correct them first."
        raise refuse("nothing-expected", text, "expect")
    # what both hang on, such as a mass that the expected figure was worked out from, counts once
    gap = trial.values[key] - expected
    others = _others(trial, method, key, expect)
    shared = covariances([gap, *(trial.values[row.name] for row in others)]) if others else ()
    spread = standard_uncertainty(gap)
    case = Case(method, trial.sheet.shape, trial.plain, key, measured, nominal(expected), spread, others, shared)
    return case, line.shown_unit, line.label


def _others(trial: Trial, method: Method, key: str, expect: str | None) -> tuple[Other, ...]:
    """The run's other results with what they were to be; none where somebody else's figure is explained."""
    if expect is not None and expect.strip():
        return ()
    rows: list[Other] = []
    for name, value in method.judging.beside(trial.options, trial.values).items():
        number, line = trial.values.get(name), trial.sheet.by_name.get(name)
        if name != key and number is not None and line is not None:
            rows.append(Other(name, line.label, line.shown_unit, nominal(number), value, standard_uncertainty(number)))
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


GOOD = "yield-good"


def _good(trial: Trial, method: Method, key: str) -> str:
    """What the method says of a result that counts as a good one although it is not all, such as a yield."""
    said = method.judging.judge(trial).verdicts
    return next((row.text for row in said if (row.code, row.about, row.level) == (GOOD, key, "good")), "")


def _suspect(case: Case, cause: Cause, shown: Unit) -> Suspect:
    cause_unit = unit(cause.unit)
    at_usual = case.after(cause, cause.usual)
    shift = at_usual - case.expected
    dose = case.dose_of_key(cause, shift)
    most = cause.most(case.shape.options)
    standing = _explains(case, at_usual) if _is_slip(cause) else _standing(case, most, shift, dose)
    against = ""
    if case.others and not _is_slip(cause):
        fit = case.fit(cause)
        if fit is not None and fit.left <= limit(case.freedom - 1):
            dose, standing = fit.dose, _by_size(fit.dose, most)
        elif dose is not None and standing in BELIEVABLE:
            standing, against = "refuted", said_against(case, cause, dose)
        elif abs(case.measured - case.expected) <= 2 * case.spread:
            # the key lies where it should and another result does not: no sign of the key's speaks for or against
            dose, standing, against = None, "not-this", "no dose of it brings all results right."
    if standing == "believable" and dose is not None and dose < cause.least:
        standing = "not-this"
    if abs(shift) <= NOTHING * abs(case.expected) and standing in ("none", "wrong-sign", "too-large"):
        standing, text = "none", f"{cause.label[0].upper()}{cause.label[1:]}: no effect on this."
    elif standing == "not-this" and dose is None and against:
        text = f"{cause.label[0].upper()}{cause.label[1:]}: {against}"
    elif _is_slip(cause):
        text = said_of_slip(cause, shown, at_usual, standing)
    else:
        text = said_of_dose(cause, cause_unit, dose, standing, most) + against
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
        amount(cause_unit, cause.usual),
        amount(shown, at_usual),
        "" if dose is None else amount(cause_unit, dose),
    )


def _is_slip(cause: Cause) -> bool:
    """Whether a cause is done or not done, with no dose in between."""
    return isinstance(cause.kind, LineReplaced | OptionReplaced)


def _explains(case: Case, after: float) -> Standing:
    """Whether what the slip makes of the expected result is what was measured, within two standard uncertainties."""
    wanted, shift = case.measured - case.expected, after - case.expected
    if shift == 0 or wanted == 0:
        return "none"
    if abs(after - case.measured) <= 2 * case.spread:
        return "believable"
    return "wrong-sign" if (shift > 0) != (wanted > 0) else "not-this"


def _standing(case: Case, most: float, shift: float, dose: float | None) -> Standing:
    wanted = case.measured - case.expected
    if shift == 0 or wanted == 0:
        return "none"
    if (shift > 0) != (wanted > 0):
        return "wrong-sign"
    return "too-large" if dose is None else _by_size(dose, most)


def _by_size(dose: float, most: float) -> Standing:
    return "too-large" if dose > STRETCH * most else "believable" if dose <= most else "stretch"


def _rank(row: Suspect, noted: bool) -> tuple[int, bool, float]:
    """By standing; among equals what somebody saw comes first, then the dose nearest to the usual one."""
    closeness = abs(math.log(row.dose / row.usual)) if row.dose else math.inf
    return _ORDER.index(row.standing), not noted, closeness


def _with_noted(row: Suspect, tags: Sequence[str]) -> Suspect:
    if not tags:
        return row
    said = f"Noted at the bench: {', '.join(tags)}."
    return replace(row, text=f"{row.text} {said}", reason=f"{said} {row.reason[:1].upper()}{row.reason[1:]}")
