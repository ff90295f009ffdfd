"""What was expected before anything was known, held against what came out."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.errors import Refusal, refuse
from claykettle.core.method import Observation
from claykettle.core.quantity import COVERAGE, Unit, figures
from claykettle.core.verdict import Candidate

PREDICTION = "prediction"
"""The tag under which an observation is a prediction."""
LARGEST = 1e9


@dataclass(frozen=True)
class Prediction:
    """One prediction: by whom, as typed, the figure (unit of the key result) where it has one, and what became of it.

    `inside` is None while there is no result, or where a formula has no figure to hold against it.
    """

    by: str
    text: str
    value: float | None
    inside: bool | None
    said: str


def read_prediction(text: str, unit: Unit) -> float | None:
    """The figure of a prediction in the unit of the key result, None for a formula.

    Raises Refusal `not-a-prediction` at `text` for what is neither.
    """
    bare = text.strip().removesuffix(unit.shown).strip().replace(",", ".")
    try:
        value = float(bare)
    except ValueError:
        try:
            parse_formula(text)
        except Refusal:
            shown = f" in {unit.shown}" if unit.shown else ""
            message = f"Type the figure that you expect{shown}, or a formula; '{text.strip()[:24]}' is neither."
            raise refuse("not-a-prediction", message, "text") from None
        return None
    if not 0 < value < LARGEST:
        raise refuse("not-a-prediction", "A prediction is a figure above zero.", "text")
    return value


def judge_predictions(
    seen: Iterable[Observation],
    unit: Unit,
    result: tuple[float, float] | None,
    candidates: Sequence[Candidate],
    band: str = "band",
) -> list[Prediction]:
    """Every prediction among what was seen, against the result: value and standard uncertainty in the unit shown.

    `band` says whose band it is, in words.
    """
    return [_judged(row, unit, result, candidates, band) for row in seen if row.tag == PREDICTION]


def _judged(
    row: Observation, unit: Unit, result: tuple[float, float] | None, candidates: Sequence[Candidate], band: str
) -> Prediction:
    who = row.by or "Somebody"
    text = row.text.strip()
    try:
        value = read_prediction(text, unit)
    except Refusal:
        # a run file may hold any words; they stand as they are
        return Prediction(row.by or "", text, None, None, f"{who} expected: {text}")
    if value is None:
        text = parse_formula(text).text
        value = next((one.expected for one in candidates if one.text == text), None)
    said = f"{who} expected {text}"
    if result is None:
        return Prediction(row.by or "", text, value, None, f"{said}.")
    if value is None:
        nearest = f"; the data are nearest to {candidates[0].text}" if candidates else ""
        return Prediction(row.by or "", text, None, None, f"{said}{nearest}.")
    measured, spread = result
    off = abs(measured - value) / (COVERAGE * spread) if spread > 0 else 0.0
    if off <= 1:
        return Prediction(row.by or "", text, value, True, f"{said}: inside the {band}.")
    return Prediction(row.by or "", text, value, False, f"{said}: off by {figures(off, 2)} times the {band}.")
