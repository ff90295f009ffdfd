"""What limits the answer: the largest share of the error budget, said in a sentence."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from claykettle.core.sheet import Worksheet

if TYPE_CHECKING:
    from claykettle.core.method import Share

SETTLED = ".settling"


def limiting_sentence(shares: Sequence[Share], sheet: Worksheet) -> str:
    """One sentence on what limits a result, from its shares; empty where there are none."""
    if not shares:
        return ""
    largest = max(shares, key=lambda share: share.share)
    percent = f"{100 * largest.share:.0f} %"
    if largest.reading.endswith(SETTLED):
        words = label_of(largest.reading, sheet)
        return f"{words[0].upper()}{words[1:]} limits the answer ({percent} of what widens the band), not the balance."
    label = label_of(largest.reading, sheet)
    return f"What limits the answer is the reading of {label} ({percent} of what widens the band)."


def label_of(reading: str, sheet: Worksheet) -> str:
    """A share's reading in words: its label, or what the last round of a series still changed."""
    if reading.endswith(SETTLED):
        series = sheet.readings.get(reading.removesuffix(SETTLED))
        return f"what the last {series.round if series else 'round'} still changed"
    return sheet.labels.get(reading, reading)
