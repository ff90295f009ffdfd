"""A student's own figures as a file, and the marking as the document that answers it."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from claykettle.core.errors import Refusal
from claykettle.core.marking import Line, Marking, Sheet
from claykettle.formats.envelope import read_envelope, schema_of
from claykettle.formats.run_file import run_from
from claykettle.formats.run_models import Model, Name, RunModel, ShortName

ANSWER, VERSION = "clay-kettle/marking", 1
MOST_LINES, MOST_MARKS = 200, 100

Claim = Annotated[str, StringConstraints(max_length=400)]


class SheetModel(Model):
    """A sheet: whose, the run, the trial, what was claimed by line, what is asked and earns how much."""

    format: Literal["clay-kettle/sheet"]
    version: Literal[1]
    student: Name = ""
    run: RunModel
    trial: Name
    claims: Annotated[dict[ShortName, Claim], Field(max_length=MOST_LINES)]
    marks: Annotated[dict[ShortName, Annotated[int, Field(ge=0, le=MOST_MARKS)]], Field(max_length=MOST_LINES)] = Field(
        default_factory=dict
    )


def sheet_schema() -> dict[str, Any]:
    """The JSON Schema of the sheet file."""
    return schema_of(SheetModel, "Clay Kettle sheet of a student's own figures, version 1")


def read_sheet(data: bytes) -> Sheet:
    """The sheet that a file's bytes hold. Raises Refusal with every fault found."""
    model, document = read_envelope(data, SheetModel, "sheet")
    try:
        run = run_from(document["run"])
    except Refusal as refusal:
        raise refusal.below("run") from None
    return Sheet(run=run, trial=model.trial, claims=model.claims, marks=model.marks, student=model.student)


def marking_document(found: Marking) -> dict[str, Any]:
    """The marking as the document that answers a sheet."""
    return {
        "format": ANSWER,
        "version": VERSION,
        "lines": [_line(row) for row in found.lines],
        "first_wrong": found.first_wrong,
        "marks": found.marks,
        "of": found.of,
    }


def _line(row: Line) -> dict[str, Any]:
    return {
        "name": row.name,
        "claimed": row.claimed,
        "true": row.true,
        "carried": row.carried,
        "status": row.status,
        "marks": row.marks,
        "of": row.of,
        "slip": row.slip,
        "text": row.text,
        "remarks": list(row.remarks),
    }
