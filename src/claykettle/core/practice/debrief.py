"""After practice: what was planted, which reading first showed it, what the suspects said, what a guess would do."""

from __future__ import annotations

import math
from dataclasses import dataclass

from claykettle.core.errors import Refusal, refuse
from claykettle.core.judgement.suspects import result_at
from claykettle.core.practice.laid import Laid
from claykettle.core.practice.sitting import off_zero
from claykettle.core.quantity import figures, unit
from claykettle.core.run import Evaluation, reading_definition

NOTHING = "nothing"
CAUSE, SIGN, SIZE = 2, 1, 1
MOST_POINTS = CAUSE + SIGN + SIZE
CLOSE = 0.3
"""A size counts that lies within so much of the true one."""
SHOWS = 3.0
"""So many standard uncertainties off, a reading shows that something is wrong."""
TOO_SMALL, TOO_LARGE = "too small", "too large"
OWN = ("weighed-warm", "no-heating-between", "step-missed", "outside-window", "still-losing", "still-gaining")
"""Verdicts on how somebody worked."""


@dataclass(frozen=True)
class Guess:
    """What somebody says it was: a cause's code or `nothing`, which way it pushes the result, how much, as typed."""

    cause: str
    sign: str = ""
    size: str = ""


@dataclass(frozen=True)
class Point:
    """One part of an answer: what was asked, what was said, what it was, and the points for it."""

    asked: str
    said: str
    was: str
    points: int
    of: int


@dataclass(frozen=True)
class Debrief:
    """All that is said at the end; texts are empty where there is nothing of that."""

    planted: str
    points: tuple[Point, ...]
    true: str
    measured: str
    first_shown: str
    suspects: str
    guess: str
    own: tuple[str, ...]

    @property
    def total(self) -> int:
        """All points."""
        return sum(row.points for row in self.points)


def debrief(laid: Laid, evaluation: Evaluation, label: str, guess: Guess) -> Debrief:
    """Hold an answer against what was planted.

    Raises Refusal `no-result` at `cause` without a result, `unknown-cause`, `sign`, `not-a-size`.
    """
    found = evaluation.trial(label).result(evaluation.key)
    if found is None:
        raise refuse("no-result", "There is no result yet: finish the run first, then say what it was.", "cause")
    size = _read(laid, guess)
    planted = laid.faults[0] if laid.faults else None
    line = evaluation.key_line
    true = laid.true_results(int(label) if label.isdigit() else 1)[evaluation.key]
    pushes = _pushes(laid, planted is not None)
    points = _points(laid, guess, size, pushes)
    shown = line.shown_unit.shown
    return Debrief(
        planted=_told(laid),
        points=points,
        true=f"{line.label}: really {figures(true, 5)} {shown}".rstrip(),
        measured=f"{found.text}",
        first_shown=_first(laid, evaluation, label),
        suspects=_suspects(laid, evaluation, label, true),
        guess=_tried(laid, evaluation, label, guess, size, true),
        own=tuple(dict.fromkeys(row.text for row in evaluation.trial(label).verdicts if row.code in OWN)),
    )


def _cause(laid: Laid, code: str) -> str:
    return next((row.label for row in laid.method.bench.causes if row.code == code), code)


def _read(laid: Laid, guess: Guess) -> float | None:
    """The size that was typed, in the cause's unit; None where none was."""
    codes = {row.code: row for row in laid.method.bench.causes}
    if guess.cause != NOTHING and guess.cause not in codes:
        raise refuse("unknown-cause", "Choose what it was; 'nothing' is an answer too.", "cause")
    if guess.sign not in ("", TOO_SMALL, TOO_LARGE):
        raise refuse("sign", f"It makes the result {TOO_SMALL} or {TOO_LARGE}.", "sign")
    text = guess.size.strip()
    if guess.cause == NOTHING or not text:
        return None
    symbol = unit(codes[guess.cause].unit)
    try:
        number = float(text.removesuffix(symbol.symbol).removesuffix(symbol.shown).strip().replace(",", "."))
    except ValueError:
        number = math.nan
    if not 0 <= number < 1e9:
        raise refuse("not-a-size", f"How much is a figure in {symbol.shown}, such as 0.02; not '{text[:20]}'.", "size")
    return number


def _pushes(laid: Laid, planted: bool) -> str:
    """Which way the planted fault pushes the result: by the forward model, without any chance."""
    if not planted:
        return ""
    before = laid.true_results(1)
    after = laid.with_readings_of_faults()
    key = next(iter(before))
    moved = after - before[key] if after is not None else 0.0
    return TOO_LARGE if moved > 0 else TOO_SMALL


def _points(laid: Laid, guess: Guess, size: float | None, pushes: str) -> tuple[Point, ...]:
    planted = laid.faults[0] if laid.faults else None
    said = "nothing was wrong" if guess.cause == NOTHING else _cause(laid, guess.cause)
    if planted is None:
        right = guess.cause == NOTHING
        return (Point("What it was", said, "nothing was wrong", MOST_POINTS if right else 0, MOST_POINTS),)
    right = guess.cause == planted.cause.code
    symbol = unit(planted.cause.unit).shown
    close = right and size is not None and abs(size - planted.shown) <= CLOSE * planted.shown
    typed = "not said" if size is None else f"{figures(size, 3)} {symbol}" if right else guess.size.strip()
    return (
        Point("What it was", said, planted.cause.label, CAUSE if right else 0, CAUSE),
        Point(
            "Which way", f"makes it {guess.sign}" if guess.sign else "not said", f"makes it {pushes}",
            SIGN if guess.sign == pushes else 0, SIGN,
        ),
        Point("How much", typed, f"{figures(planted.shown, 3)} {symbol}", SIZE if close else 0, SIZE),
    )  # fmt: skip


def _told(laid: Laid) -> str:
    if not laid.faults:
        return "Nothing was hidden at this bench: what came out is what was there, and how you worked."
    row = laid.faults[0]
    return f"Hidden was: {row.cause.label}, {figures(row.shown, 3)} {unit(row.cause.unit).shown}."


def balance_told(laid: Laid, zeroed: bool) -> str:
    """What is said of a balance that did not stand at zero; empty where it did."""
    off = off_zero(laid)
    if not off:
        return ""
    done = "you zeroed it" if zeroed else "you did not zero it"
    return (
        f"The balance stood {figures(1000 * off, 2)} g off zero, and {done}: between two weighings on it that cancels, "
        "a net figure shows it."
    )


def _first(laid: Laid, evaluation: Evaluation, label: str) -> str:
    """The first reading that lies where no honest one does."""
    if not laid.faults:
        return ""
    record = next(row for row in evaluation.run.trials if row.label == label)
    shifted = set(laid.disturbed_slots())
    rows = sorted(
        ((entry.moment or 0.0, slot, entry) for slot, entries in record.entries.items() for entry in entries),
        key=lambda row: row[0],
    )
    for _, slot, entry in rows:
        if slot in shifted:
            row = reading_definition(laid.method, slot, laid.options)
            name = slot if row is None else row.labelled(laid.options)
            return f"The first figure that shows it is {name}, {entry.reading.shown}."
    return "No single figure shows it: only the result does."


def _suspects(laid: Laid, evaluation: Evaluation, label: str, true: float) -> str:
    """Where the suspects had it, held against what was really there."""
    try:
        rows = list(evaluation.suspicion(label, f"{true:.10g}").believable)
    except Refusal:
        return ""
    if not laid.faults:
        return "The suspects had nothing to explain." if not rows else ""
    codes = [row.code for row in rows]
    code = laid.faults[0].cause.code
    if code not in codes:
        return "The suspects did not have it among what is believable."
    place = codes.index(code)
    ahead = ", ".join(row.label for row in rows[:place])
    return "The suspects had it first." if not place else f"The suspects had it in place {place + 1}, after {ahead}."


def _tried(laid: Laid, evaluation: Evaluation, label: str, guess: Guess, size: float | None, true: float) -> str:
    """What the guess would have made of the true result."""
    if guess.cause == NOTHING or size is None:
        return ""
    try:
        found = result_at(evaluation.trial(label).trial, laid.method, guess.cause, size, f"{true:.10g}")
    except Refusal:
        return ""
    said = _cause(laid, guess.cause)
    return f"{found.dose_text} of '{said}' would have made it {found.result_text}."
