"""What every reading that can be taken next will likely be: the method's own bench, the plan, the trial before."""

from __future__ import annotations

from collections.abc import Mapping

from claykettle.core.errors import Refusal
from claykettle.core.judgement.window import limits
from claykettle.core.method import Expectation, Method, Trial, Window
from claykettle.core.quantity import Unit, figures, parse_reading, short, unit
from claykettle.core.sheet import ReadingDef

FAR = 0.25
"""So far outside its window a planned amount is asked about (common practice)."""
GOES_ON = 0.5e-6
"""m³: a tube that goes on is read twice within so much."""


def expectations(
    trial: Trial, method: Method, planned: Mapping[str, Window], before: Trial | None
) -> dict[str, Expectation]:
    """Expectations by reading: of those not taken yet, and of a series its next weighing."""
    found: dict[str, Expectation] = {}
    shape = trial.sheet.shape
    gross = {row.instead_of for row in method.page.readings if row.name in trial.readings}
    for definition in method.page.readings:
        if definition.given is not None or not definition.when(shape) or definition.instead_of in shape.net:
            continue
        if definition.net and not definition.sole and definition.name not in shape.net and definition.name in gross:
            continue
        row = _planned(trial, method, definition, planned) or _goes_on(definition, before)
        if row is not None:
            found[definition.name] = row
    found |= method.judging.expects(trial)
    series = {row.name for row in method.page.readings if row.series}
    return {
        name: row
        for name, row in found.items()
        if row.low <= row.high and (name not in trial.readings or name in series)
    }


def _planned(trial: Trial, method: Method, definition: ReadingDef, planned: Mapping[str, Window]) -> Expectation | None:
    """What the plan says of this very reading, or of the sample that it brings into its vessel."""
    window = planned_window(trial, method, definition, planned)
    if window is None:
        return None
    low, high, words = limits(window)
    stand = _standing(trial, definition) if definition.pan == "loaded" else 0.0
    if stand is None:
        return None
    least = stand + (1 - FAR) * float(low or 0)
    most = stand + (1 + FAR) * float(high if high is not None else 20 * (low or 0))
    about = None if window.about is None else stand + float(window.about.si)
    return Expectation(least, most, f"{words} was planned", about, "as planned")


def planned_window(
    trial: Trial, method: Method, definition: ReadingDef, planned: Mapping[str, Window]
) -> Window | None:
    """The window of this very reading: by its name, or that of the sample where it brings that."""
    if definition.name in planned and definition.pan != "loaded":
        return planned[definition.name]
    if definition.planned is not None and definition.when(trial.sheet.shape):
        return reagent_window(definition.planned(trial.options), definition.dimension)
    sized = method.planned
    if sized is not None and definition.change == sized.name and definition.pan in ("loaded", "added"):
        if definition.tipped_from or (definition.pan == "added" and not definition.net):
            return None
        return planned.get(sized.name)
    return None


def _standing(trial: Trial, definition: ReadingDef) -> float | None:
    rows = (name for name, row in trial.sheet.readings.items() if row.pan == "empty" and row.stand == definition.stand)
    return next((float(found.si) for name in rows if (found := trial.typed(name)) is not None), None)


def _goes_on(definition: ReadingDef, before: Trial | None) -> Expectation | None:
    """Where a tube goes on with what the trial before left in it."""
    ended = before.typed(definition.continues) if before is not None and definition.continues else None
    if ended is None or definition.dimension != "volume":
        return None
    value = float(ended.si)
    return Expectation(value - GOES_ON, value + GOES_ON, f"the trial before ended at {ended.shown}", value)


def said(row: Expectation, shown: Unit) -> str:
    """An expectation beside its field: `about 30.84 g when dry`, or from where to where."""
    if row.about is not None:
        return f"about {_figure(row.about, row, shown)} {shown.shown} {row.when}".rstrip()
    return f"{short(shown.from_si(row.low), 4)} to {short(shown.from_si(row.high), 4)} {shown.shown}".rstrip()


def _figure(value: float, row: Expectation, shown: Unit) -> str:
    """With as many figures as tell it from the ends, four at least."""
    return figures(shown.from_si(value), 4 if abs(value) < 10 * abs(row.high - row.low) else 5)


def reagent_window(text: str, dimension: str) -> Window | None:
    """The window of what a plan wants of a reagent, such as `2.50 g`; None for mol and equivalents."""
    try:
        return Window(about=parse_reading(text, dimension))
    except Refusal:
        return None


def in_unit(row: Expectation, symbol: str) -> dict[str, object]:
    """As the evaluation tells it."""
    shown = unit(symbol)
    return {
        "low": shown.from_si(row.low),
        "high": shown.from_si(row.high),
        "unit": symbol,
        "because": row.because,
    }
