"""What is wrong at a simulated bench: causes of the method with a dose, planted by name or hidden by a seed."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from claykettle.core.errors import Fault, Refusal
from claykettle.core.matter import Chance
from claykettle.core.method import NO_EVIDENCE, Cause, Evidence, LineReplaced, Method, OptionReplaced, Options
from claykettle.core.quantity import unit

LARGEST = 10.0
"""More than so many times the largest believable dose is no mistake that anybody makes."""


FAIR = 0.6
"""What shows only when it is nearly too large to be believed is nobody's to find."""


@dataclass(frozen=True)
class Planted:
    """A cause and its dose (SI)."""

    cause: Cause
    dose: float

    @property
    def shown(self) -> float:
        """The dose in the unit in which the cause is shown."""
        return float(unit(self.cause.unit).step_from_si(self.dose))


def can_be_planted(cause: Cause, options: Options, evidence: Evidence = NO_EVIDENCE) -> bool:
    """Whether a bench can do it wrong: a slip of the calculation is none, since this program works the figure out."""
    return not isinstance(cause.kind, LineReplaced | OptionReplaced) and cause.happens(options, evidence)


def parse_faults(text: str, method: Method, options: Options) -> tuple[Planted, ...]:
    """The causes in `CODE[=DOSE],…`, each with its usual dose where none is given, in the unit that it is shown in.

    Raises Refusal with every part that is not understood, at `faults`.
    """
    found: list[Planted] = []
    faults: list[Fault] = []
    for part in filter(None, (one.strip() for one in text.split(","))):
        try:
            found.append(_one(part, method, options))
        except Refusal as refusal:
            faults += refusal.faults
    codes = [row.cause.code for row in found]
    faults += [
        Fault("twice", "faults", f"'{code}' is named twice: one dose of it is enough.")
        for code in sorted({code for code in codes if codes.count(code) > 1})
    ]
    if faults:
        raise Refusal(*faults)
    return tuple(found)


def _one(part: str, method: Method, options: Options) -> Planted:
    code, given, dose = part.partition("=")
    cause = next((row for row in method.bench.causes if row.code == code.strip()), None)
    if cause is None:
        known = ", ".join(row.code for row in method.bench.causes if can_be_planted(row, options))
        text = f"'{code.strip()[:40]}' is no cause of {method.name}; it has {known}."
        raise Refusal(Fault("unknown-cause", "faults", text))
    if not can_be_planted(cause, options):
        slip = isinstance(cause.kind, LineReplaced | OptionReplaced)
        why = "it is a slip of the calculation, which no bench makes" if slip else "these options leave no room for it"
        raise Refusal(Fault("not-here", "faults", f"'{code}' cannot be planted: {why}."))
    return Planted(cause, _dose(dose, cause) if given else cause.usual)


def _dose(text: str, cause: Cause) -> float:
    shown = unit(cause.unit)
    try:
        number = float(text.strip().removesuffix(shown.symbol).strip().replace(",", "."))
    except ValueError:
        number = math.nan
    most = LARGEST * float(shown.step_from_si(cause.believable)) if cause.believable else 1e6
    top = min(most, 99.0) if cause.unit == "%" else most
    if not 0 <= number <= top:
        text = f"A dose of '{cause.code}' is a figure from 0 to {top:g} {shown.symbol}, not '{text.strip()[:24]}'."
        raise Refusal(Fault("not-a-dose", "faults", text))
    return number * float(shown.factor)


def hide(causes: Iterable[tuple[Cause, float]], chance: Chance, level: int = 2) -> Planted | None:
    """One of the causes that a bench of this level may hide, with a dose that shows; None where none shows.

    Each comes with the dose (SI) from which on it shows. `level` 1 hides what leaves a trace in the record, 2 anything,
    3 what leaves none, in small doses.
    """
    rows = [(cause, least) for cause, least in causes if least < FAIR * cause.believable]
    traced = [row for row in rows if leaves_trace(row[0])]
    untraced = [row for row in rows if not leaves_trace(row[0])]
    # what leaves a trace is what a partner is mostly caught at: three times as likely
    pool: Sequence[tuple[Cause, float]] = {1: traced, 3: untraced}.get(level, 2 * traced + rows) or rows
    if not pool:
        return None
    cause, least = pool[chance.one_of(len(pool))]
    low = max(least, 0.7 * cause.usual, cause.least)
    high = max(low, min(1.6 * max(cause.usual, least), 0.8 * cause.believable))
    return Planted(cause, chance.between(low, low + (high - low) * (0.3 if level == 3 else 1.0)))


def leaves_trace(cause: Cause) -> bool:
    """Whether the record of a bench tells of it: something seen, a step passed over, a weighing too early."""
    return bool(cause.seen or cause.passed or cause.early)
