"""What one more heating is likely to change, and whether that matters beside the band.

The changes of a series shrink by about the same factor each time (common practice: drying and reacting slow down as
less is left), so the last two changes tell the next one and the sum of all that would follow.
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
    """One verdict where the series lets the next change be told; none for fewer than three masses or a wavering one."""
    series = trial.weighed_again
    spread, line = trial.uncertainty(key), next((row for row in trial.sheet.lines if row.name == key), None)
    if series is None or line is None or spread <= 0:
        return []
    following = what_follows(_masses(trial, series))
    if following is None:
        return []
    coming, all_further = following
    # what settles a series stands for its counted value: the result's slope by it is the slope by a further change
    slope = sensitivity(trial.values.get(key), f"{series}.settling")
    if slope is None:
        return []
    moved = slope * float(all_further)
    unit = line.shown_unit
    band = 2 * spread
    shift, width = (figures(unit.step_from_si(abs(value)), 2) for value in (moved, band))
    word = trial.sheet.readings[series].round
    matters = abs(moved) > WORTH * band
    said = (
        f"Going by the series, one more {word} would change about {_mg(coming)}, all further ones together "
        f"{_mg(all_further)}: {line.label} would move by {shift} {unit.shown}".rstrip()
    )
    end = f"not little beside the band of ± {width}. Once more." if matters else f"little beside the band of ± {width}."
    return [Verdict("next-heating", "watch" if matters else "good", series, f"{said}, {end}")]


def what_follows(masses: Sequence[Decimal]) -> tuple[Decimal, Decimal] | None:
    """The next change and the sum of all further ones, in the unit of the masses, signed; None where they waver."""
    if len(masses) < 3:
        return None
    before, last = masses[-2] - masses[-3], masses[-1] - masses[-2]
    if last == 0 or before == 0 or (last > 0) != (before > 0) or abs(last) >= abs(before):
        return None
    factor = last / before
    return last * factor, last * factor / (1 - factor)


def _masses(trial: Trial, series: str) -> list[Decimal]:
    stand = trial.sheet.readings[series].stand
    rows = (name for name, row in trial.sheet.readings.items() if row.pan == "loaded" and row.stand == stand)
    loaded = [trial.typed(name) for name in rows]
    return [row.si for row in loaded if row is not None] + [row.si for row in trial.series(series)]


def _mg(mass: Decimal) -> str:
    return milligrams(Decimal(figures(abs(float(mass)) * 1e6, 2)) / 1_000_000)
