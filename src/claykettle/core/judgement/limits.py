"""What limits the answer: the largest share of the error budget, said in a sentence."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from claykettle.core.evaluation import Share


def limiting_sentence(shares: Sequence[Share], labels: Mapping[str, str]) -> str:
    """One sentence on what limits a result, from its shares; empty where there are none."""
    if not shares:
        return ""
    largest = max(shares, key=lambda share: share.share)
    percent = f"{100 * largest.share:.0f} %"
    if largest.reading.endswith(".settling"):
        return f"What the last heating still changed limits the answer ({percent} of the variance), not the balance."
    label = labels.get(largest.reading, largest.reading)
    return f"What limits the answer is the reading of {label} ({percent} of the variance)."


def label_of(reading: str, labels: Mapping[str, str]) -> str:
    """A share's reading in words: the weighing's label, or what the last heating still changed."""
    if reading.endswith(".settling"):
        return "what the last heating still changed"
    return labels.get(reading, reading)
