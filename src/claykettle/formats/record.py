"""The record beside an archive's run files: what a run file has no place for, so that an archive brings it back.

One line of JSON each (JSON Lines): first the house with what all runs share, then one line a run. Its own rows are
told as they are kept: nothing is left out, so that signatures still hold over them.
"""

from __future__ import annotations

import datetime
from collections.abc import Iterable
from typing import Annotated, Any, Literal

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, StringConstraints, ValidationError

from claykettle.core.errors import refuse
from claykettle.formats.archive import RECORD
from claykettle.formats.strict_json import loads

VERSION = 1

Uuid = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$")]
Word = Annotated[str, StringConstraints(max_length=20)]
Short = Annotated[str, StringConstraints(max_length=60)]
Name = Annotated[str, StringConstraints(max_length=120)]
Long = Annotated[str, StringConstraints(max_length=4000)]
Count = Annotated[int, Field(ge=0, le=1_000_000)]


class Part(BaseModel):
    """Base of all parts of a record: nothing unknown, nothing half."""

    model_config = ConfigDict(extra="forbid", from_attributes=True)


class FigurePart(Part):
    """A figure as it was read, at a bench or in the room; `supersedes` is the UUID of the row that it corrects."""

    uuid: Uuid
    slot: Short
    supersedes: Uuid | None
    text: Annotated[str, StringConstraints(max_length=80)]
    unit: Word
    instrument: Short
    half_width: Short
    at: AwareDatetime
    by: Name
    reason: Long
    doubt: Long


class ReadingPart(FigurePart):
    """One row of a run's log."""

    position: Count
    revision: Count
    state: Literal["taken", "not-taken", "withdrawn"]


class TrialPart(Part):
    """One trial with its rows; position 0 holds what all trials share."""

    position: Annotated[int, Field(ge=0, le=200)]
    label: Name
    readings: list[ReadingPart]


class ObservationPart(Part):
    """Something seen."""

    uuid: Uuid
    trial: Name
    at: AwareDatetime
    by: Name
    tag: Short
    text: Long


class StepPart(Part):
    """Something done about a step."""

    uuid: Uuid
    trial: Name
    step: Short
    kind: Annotated[str, StringConstraints(pattern="^(started|extended|finished|skipped)$")]
    seconds: Count
    at: AwareDatetime
    by: Name
    count: Count
    reason: Long


class ChangePart(Part):
    """Something decided otherwise."""

    uuid: Uuid
    what: Annotated[str, StringConstraints(max_length=200)]
    before: Any
    after: Any
    reason: Long
    at: AwareDatetime
    by: Name


class WithdrawalPart(Part):
    """A tap taken back."""

    uuid: Uuid
    row_uuid: Annotated[str, StringConstraints(max_length=36)]
    reason: Long
    at: AwareDatetime
    by: Name


class SignaturePart(Part):
    """A name below the record, with the rows that it covers and both hashes."""

    uuid: Uuid
    name: Name
    at: AwareDatetime
    covers: list[Annotated[str, StringConstraints(max_length=36)]]
    results: dict[str, Any]
    record: Annotated[str, StringConstraints(max_length=64)]
    seal: Annotated[str, StringConstraints(max_length=64)]
    format: Annotated[int, Field(ge=1, le=9)]


class ProcedurePart(Part):
    """The version of the procedure that the run froze."""

    name: Short
    version: Annotated[int, Field(ge=1, le=10_000)]
    title: Name
    body: dict[str, Any]


class RunPart(Part):
    """One run as it is kept; `file` is its run file in the same archive."""

    kind: Literal["run"] = "run"
    file: str
    uuid: Uuid
    section: Name
    date: datetime.date
    day: Name
    bench: Annotated[str, StringConstraints(min_length=1, max_length=60)]
    method: Short
    title: Name
    note: Long
    options: dict[str, Any]
    schools: dict[str, str]
    instruments: dict[str, Any]
    planned: dict[str, Any]
    balance: Short
    created_at: AwareDatetime
    changed_at: AwareDatetime
    procedure: ProcedurePart
    trials: list[TrialPart]
    observations: list[ObservationPart]
    step_events: list[StepPart]
    changes: list[ChangePart]
    withdrawals: list[WithdrawalPart]
    signatures: list[SignaturePart]


class InstrumentPart(Part):
    """An instrument of the shelf."""

    kind: Annotated[str, StringConstraints(max_length=40)]
    name: Annotated[str, StringConstraints(min_length=1, max_length=60)]
    half_width: Short
    decimals: Count
    resolution: Short
    capacity: Short
    direction: Word
    retired: bool


class RoomPart(FigurePart):
    """A reading of the room, of one day."""

    section: Name
    date: datetime.date
    day: Name


class SubstancePart(Part):
    """A substance that was added to the register."""

    uuid: Uuid
    formula: Annotated[str, StringConstraints(max_length=200)]
    name: Name
    density: Short
    hazards: list[Name]
    dissolved: Annotated[str, StringConstraints(max_length=40)]
    solid: Annotated[str, StringConstraints(max_length=40)]
    remarks: Long
    source: Long
    at: AwareDatetime
    by: Name


class HousePart(Part):
    """What all runs of an archive share."""

    kind: Literal["house"] = "house"
    version: int = VERSION
    elevations: dict[str, Short]
    instruments: list[InstrumentPart]
    rooms: list[RoomPart]
    substances: list[SubstancePart]


def record_text(house: HousePart, runs: Iterable[RunPart]) -> str:
    """The record as text, one line a part."""
    return "".join(f"{part.model_dump_json()}\n" for part in (house, *runs))


def read_record(data: bytes) -> tuple[HousePart, dict[str, RunPart | str]]:
    """The house, and by its run file's name each run of a record; in a run's place what is wrong with its line.

    Raises Refusal `record` for a record of another version, or one whose house cannot be read.
    """
    lines = [line for line in data.splitlines() if line.strip()]
    first = loads(lines[0]) if lines else None
    if not isinstance(first, dict) or first.get("kind") != "house":
        raise refuse("record", "The record beside the run files does not begin with its house.", RECORD)
    if first.get("version") != VERSION:
        text = f"The record beside the run files is of version {first.get('version')!r}; this program reads {VERSION}."
        raise refuse("record", text, RECORD)
    try:
        house = HousePart.model_validate_json(lines[0])
    except ValidationError as error:
        raise refuse("record", f"The record's house cannot be read: {_said(error)}.", RECORD) from None
    runs: dict[str, RunPart | str] = {}
    for number, line in enumerate(lines[1:], start=2):
        raw = loads(line)
        file = str(raw.get("file", "")) if isinstance(raw, dict) else ""
        try:
            runs[file] = RunPart.model_validate_json(line)
        except ValidationError as error:
            runs[file] = f"line {number} of the record cannot be read: {_said(error)}"
    return house, runs


def _said(error: ValidationError) -> str:
    first = error.errors()[0]
    return f"{'.'.join(str(part) for part in first['loc'])}: {first['msg']}"
