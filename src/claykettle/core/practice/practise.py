"""A whole run as a simulated bench records it: what `practise` prints, and what stands beside it as the truth."""

from __future__ import annotations

from dataclasses import dataclass

from claykettle.core.errors import refuse
from claykettle.core.practice.hands import SKILLS, Hands, Record, Stamp, run_of
from claykettle.core.practice.laid import Laid
from claykettle.core.quantity import parse_reading
from claykettle.core.run import Run

MOST_TRIALS = 20
BETWEEN_TRIALS_S = 180.0


@dataclass(frozen=True)
class Practised:
    """A run, the bench it was done at, and every reading with what it should have been (SI) and its half-width."""

    run: Run
    laid: Laid
    readings: tuple[tuple[str, float, float, float], ...]

    @property
    def true(self) -> dict[str, float]:
        """What the matter of the first trial really is, in the evaluation's units."""
        return self.laid.true_results(1)


def practise(laid: Laid, skill: str, trials: int, stamp: Stamp, began: float) -> Practised:
    """Do a whole run at a bench. `began` is in seconds since 1970, `stamp` writes seconds since then as a time.

    Raises Refusal `skill` and `trials`.
    """
    if skill not in SKILLS:
        raise refuse("skill", f"'{skill[:24]}' is no skill; it is one of {', '.join(SKILLS)}.", "skill")
    if not 1 <= trials <= MOST_TRIALS:
        raise refuse("trials", f"A bench does 1 to {MOST_TRIALS} trials, not {trials}.", "trials")
    records: list[Record] = []
    readings: list[tuple[str, float, float, float]] = []
    now = 0.0
    for number in range(1, trials + 1):
        hands = Hands(laid, number, SKILLS[skill], now)
        record = hands.finish()
        now = hands.now + BETWEEN_TRIALS_S
        records.append(record)
        shown = _in_order(laid, record)
        readings += [(slot, true, figure, width) for (slot, true, width), figure in zip(hands.true, shown, strict=True)]
    title = f"Practice: {laid.method.title.lower()}"
    run = run_of(laid, records, stamp, began, title, f"Practised at a simulated bench, seed {laid.seed}.")
    return Practised(run, laid, tuple(readings))


def _in_order(laid: Laid, record: Record) -> list[float]:
    rows = [
        (seconds, float(parse_reading(text, laid.instrument(slot).unit.dimension).si))
        for slot, taken in record.readings.items()
        for text, seconds in taken
    ]
    return [figure for _, figure in sorted(rows)]
