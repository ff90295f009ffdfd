"""A run as one CSV table: every row of the log, the results, what was seen."""

from __future__ import annotations

import csv
import io
import json
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


def csv_text(
    evaluation: Evaluation,
    log: Iterable[Mapping[str, Any]],
    observations: Iterable[Observation],
    taken_back: Iterable[Mapping[str, Any]] = (),
) -> str:
    """The table as text: comma, line ends as the standard has them (RFC 4180)."""
    text = io.StringIO()
    csv.writer(text, lineterminator="\r\n").writerows(csv_rows(evaluation, log, observations, taken_back))
    return text.getvalue()


def csv_rows(
    evaluation: Evaluation,
    log: Iterable[Mapping[str, Any]],
    observations: Iterable[Observation],
    taken_back: Iterable[Mapping[str, Any]] = (),
) -> list[list[Any]]:
    """The table, header first. `log` holds the readings with their corrections, superseded ones too.

    A reading that was not taken, or whose figure was taken from its line, is of a kind of its own. A step stands with
    its name, its round as position, and what was done about it as text; a change with what it changed as name, what
    stands now as text and what stood before under `corrects`.
    """
    rows: list[Mapping[str, Any]] = [
        {
            **entry,
            "kind": "reading" if entry["state"] == "taken" else entry["state"],
            "name": entry["slot"],
            "current": "yes" if entry["current"] else "no",
        }
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
    rows += [{"kind": "taken-back", **row} for row in taken_back]
    rows += [
        {
            "kind": "change",
            "name": change.what,
            "text": _told(change.after),
            "corrects": _told(change.before),
            "at": change.at,
            "by": change.by,
            "reason": change.reason,
        }
        for change in evaluation.run.changes
    ]
    return [list(HEADER), *([_safe(row.get(column)) for column in HEADER] for row in rows)]


def _told(value: Any) -> str:
    return value if isinstance(value, str) else "" if value is None else json.dumps(value, ensure_ascii=False)


def _safe(value: Any) -> Any:
    """A cell that no spreadsheet takes for a formula."""
    if isinstance(value, str) and value[:1] in ("=", "+", "-", "@", "\t", "\r"):
        return f"'{value}"
    return "" if value is None else value
