"""The results of a class on one scale."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from claykettle.core.lab.scale import middle, outside
from claykettle.core.quantity import with_uncertainty
from claykettle.service.lab.cards import Laid
from claykettle.service.views.base import View


class DotView(View):
    """A bench on the scale of results. One that is not settled yet, or cannot be right, does not count for the mean."""

    bench: str
    value: float
    expanded: float
    text: str
    level: Literal["good", "watch", "stop"]
    is_outside: bool
    counts: bool


class ClassScaleView(View):
    """The results of a class on one scale: each with its band (k = 2), and what is accepted.

    The class's `mean` is a robust one, the median; it and its band are None for fewer than three settled results.
    `said` is the same in words.
    """

    label: str
    unit: str
    dots: list[DotView]
    mean: float | None
    expanded: float | None
    mean_text: str
    accepted: float | None
    said: str


def class_scale(rows: Sequence[Laid]) -> ClassScaleView | None:
    """The results of that which most benches measure; None where there is none yet."""
    groups: dict[tuple[str, str], list[Laid]] = {}
    for row in rows:
        if row.card.found is not None and not row.is_out:
            groups.setdefault((row.card.found.key, row.card.found.unit), []).append(row)
    if not groups:
        return None
    chosen = max(groups.values(), key=len)
    results = [(row, row.card.found) for row in chosen if row.card.found is not None]
    first = results[0][1]
    settled = {row.run for row, _ in results if _counts(row)}
    counted = [found for row, found in results if row.run in settled]
    mean = middle([found.value for found in counted], [found.uncertainty for found in counted])
    accepted = {found.accepted for _, found in results}
    known = accepted.pop() if len(accepted) == 1 else None
    unit = "" if first.unit == "1" else first.unit
    dots = [
        DotView(
            bench=row.name,
            value=found.value,
            expanded=2 * found.uncertainty,
            text=found.text,
            level=row.card.standing.level,
            counts=row.run in settled,
            is_outside=row.run in settled and mean is not None and outside(found.value, found.uncertainty, mean),
        )
        for row, found in results
    ]
    mean_text = with_uncertainty(mean.value, mean.expanded / 2, unit) if mean is not None else ""
    return ClassScaleView(
        label=f"{first.label[:1].upper()}{first.label[1:]}",
        unit=unit,
        dots=dots,
        mean=mean.value if mean is not None else None,
        expanded=mean.expanded if mean is not None else None,
        mean_text=mean_text,
        accepted=known,
        said=_said_of_scale(dots, mean_text, known),
    )


def _counts(row: Laid) -> bool:
    return row.card.standing.level != "stop" and row.card.found is not None and row.card.found.is_settled


def _said_of_scale(dots: Sequence[DotView], mean: str, accepted: float | None) -> str:
    rows = [f"{len(dots)} {'result' if len(dots) == 1 else 'results'}"]
    if mean:
        rows.append(f"middle of the class {mean}")
    if accepted is not None:
        rows.append(f"accepted {accepted:.6g}")
    strange = [dot.bench for dot in dots if dot.is_outside]
    if strange:
        rows.append(f"{listed(strange)} {'lies' if len(strange) == 1 else 'lie'} outside")
    return ", ".join(rows)


def listed(names: Sequence[str]) -> str:
    """Names as a sentence has them."""
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
