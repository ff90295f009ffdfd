"""A run as one CSV table: every row of the log, the results, what was seen."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Mapping
from typing import Any

from claykettle.core.method import Observation
from claykettle.core.run import Evaluation

HEADER = (
    "kind",
    "trial",
    "name",
    "position",
    "text",
    "value",
    "standard_uncertainty",
    "unit",
    "at",
    "by",
    "instrument",
    "current",
    "corrects",
    "reason",
)


def csv_text(evaluation: Evaluation, log: Iterable[Mapping[str, Any]], observations: Iterable[Observation]) -> str:
    """The table as text: comma, line ends as the standard has them (RFC 4180)."""
    text = io.StringIO()
    csv.writer(text, lineterminator="\r\n").writerows(csv_rows(evaluation, log, observations))
    return text.getvalue()


def csv_rows(
    evaluation: Evaluation, log: Iterable[Mapping[str, Any]], observations: Iterable[Observation]
) -> list[list[Any]]:
    """The table, header first. `log` holds the readings with their corrections, superseded ones too.

    A step stands with its name, its round as position, and what was done about it as text.
    """
    rows: list[Mapping[str, Any]] = [
        {"kind": "reading", "name": entry["slot"], **entry, "current": "yes" if entry["current"] else "no"}
        for entry in log
    ]
    for trial in evaluation.trials:
        rows += [{"kind": "result", "trial": trial.label, **vars(result)} for result in trial.results]
        rows += [
            {"kind": "result", "trial": trial.label, "name": name, "text": word.text or f"nearest {word.nearest}"}
            for name, word in trial.words.items()
        ]
    rows += [
        {"kind": "observation", "trial": seen.trial, "name": seen.tag, "text": seen.text, "at": seen.at, "by": seen.by}
        for seen in observations
    ]
    rows += [
        {
            "kind": "step",
            "trial": mark.trial,
            "name": mark.step,
            "position": mark.round,
            "text": mark.kind,
            "value": mark.n,
            "at": mark.at,
            "by": mark.by,
            "reason": mark.reason,
        }
        for mark in evaluation.run.steps
    ]
    return [list(HEADER), *([_safe(row.get(column)) for column in HEADER] for row in rows)]


def _safe(value: Any) -> Any:
    """A cell that no spreadsheet takes for a formula."""
    if isinstance(value, str) and value[:1] in ("=", "+", "-", "@", "\t", "\r"):
        return f"'{value}"
    return "" if value is None else value
