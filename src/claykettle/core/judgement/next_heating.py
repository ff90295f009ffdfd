"""What one more heating is likely to change, and whether that matters beside the band.

The changes of a series shrink by about the same factor each time (common practice: drying and reacting slow down as
less is left), so the last two changes tell the next one and the sum of all that would follow. The first change of all,
from what went in, is no part of that: two heatings tell nothing yet. How far two changes tell a factor is counted in:
what may follow is what their readings allow at most.
"""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal

from claykettle.core.judgement.constancy import milligrams
from claykettle.core.method import Trial
from claykettle.core.quantity import figures, sensitivity
from claykettle.core.verdict import Verdict

WORTH = 0.5
"""A change of more than this part of the band (k = 2) is worth another heating."""


def judge_next_heating(trial: Trial, key: str) -> list[Verdict]:
    """One verdict where the series lets the next change be told; none for fewer than three rounds or a wavering one.

    Good wants even the most that may follow to be little; a watch wants what likely follows to matter.
    """
    series = trial.weighed_again
    spread, line = trial.uncertainty(key), next((row for row in trial.sheet.lines if row.name == key), None)
    if series is None or line is None or spread <= 0:
        return []
    weighed = trial.series(series)
    slack = sum((row.last_digit_si for row in weighed[-2:]), Decimal(0))
    following = what_follows([row.si for row in weighed], slack)
    if following is None:
        return []
    coming, all_further, at_most = following
    # what settles a series stands for its counted value: the result's slope by it is the slope by a further change
    slope = sensitivity(trial.values.get(key), f"{series}.settling")
    if slope is None:
        return []
    likely, moved = abs(slope * float(all_further)), abs(slope * float(at_most))
    unit = line.shown_unit
    band = 2 * spread
    matters = likely > WORTH * band
    if not matters and moved > WORTH * band:
        return []  # it likely changes little, and the balance leaves open that it changes much: neither is said
    shift, width = (figures(unit.step_from_si(value), 2) for value in (moved, band))
    word = trial.sheet.readings[series].round
    said = (
        f"Going by the series, one more {word} would change about {_mg(coming)}, all further ones together "
        f"{_mg(all_further)}, at most {_mg(at_most)}: {line.label} would move by up to {shift} {unit.shown}".rstrip()
    )
    end = f"not little beside the band of ± {width}. Once more." if matters else f"little beside the band of ± {width}."
    return [Verdict("next-heating", "watch" if matters else "good", series, f"{said}, {end}")]


def what_follows(masses: Sequence[Decimal], slack: Decimal = Decimal(0)) -> tuple[Decimal, Decimal, Decimal] | None:
    """The next change, the sum of all further ones, and what that is at most, in the unit of the masses, signed.

    `slack` is how far a change may be off. None where they waver, or where one may be as large as the one before it.
    """
    if len(masses) < 3:
        return None
    before, last = masses[-2] - masses[-3], masses[-1] - masses[-2]
    if last == 0 or before == 0 or (last > 0) != (before > 0) or abs(last) >= abs(before):
        return None
    factor, largest = last / before, abs(last) + slack
    if abs(before) <= slack or largest >= abs(before) - slack:
        return None
    steep = largest / (abs(before) - slack)
    at_most = largest * steep / (1 - steep)
    return last * factor, last * factor / (1 - factor), at_most if last > 0 else -at_most


def _mg(mass: Decimal) -> str:
    return milligrams(Decimal(figures(abs(float(mass)) * 1e6, 2)) / 1_000_000)
