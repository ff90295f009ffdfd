"""How a record becomes a hash: one function a format, each frozen for as long as a record signed in it exists.

A signature keeps the number of its format. What is hashed is written out here field by field, not taken from whatever a
record happens to hold: a new column, a renamed field or a moved module leaves every signed record valid. To hash more,
add a format and let new signatures take it; `tests/service/test_sealing.py` pins what each makes of one record.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Iterable, Iterator, Mapping
from typing import Any

from claykettle.store.records import (
    StoredChange,
    StoredObservation,
    StoredReading,
    StoredRun,
    StoredSignature,
    StoredStepEvent,
    StoredWithdrawal,
    iso,
)

FORMAT = 2
"""The format in which a new signature is made. 1: readings and observations; 2: steps, changes and what was taken back
as well.
"""
Row = StoredReading | StoredObservation | StoredStepEvent | StoredChange | StoredWithdrawal


def record_hash(run: StoredRun, covers: Iterable[str], form: int = FORMAT) -> str:
    """SHA-256 (hexadecimal) over how the run was started and the rows with these UUIDs, each to the letter.

    Raises KeyError for a format that this program does not know.
    """
    return _hash(_CONTENTS[form](run, frozenset(covers)))


def seal(before: str, row: StoredSignature) -> str:
    """SHA-256 (hexadecimal) over a signature and the seal of the one before; in every format so far the same."""
    return _hash([before, row.uuid, row.name, iso(row.at), sorted(row.covers), dict(row.results), row.record])


def rows_of(run: StoredRun, form: int = FORMAT) -> Iterator[tuple[str, Row]]:
    """Everything that a signature of this format can cover, each with its trial (empty for the run as a whole)."""
    for trial in run.trials:
        yield from ((trial.label, row) for row in trial.readings)
    yield from ((row.trial, row) for row in run.observations)
    if form > 1:
        yield from ((row.trial, row) for row in run.step_events)
        yield from (("", row) for row in run.changes)
        yield from (("", row) for row in run.withdrawals)


def _as_signed(run: StoredRun, covers: frozenset[str]) -> dict[str, Any]:
    """How the run was started, with what was decided otherwise until then: later changes undone, the last first."""
    found: dict[str, Any] = {
        "options": dict(run.written_options),
        "schools": dict(run.schools),
        "instruments": dict(run.instruments),
        "planned": dict(run.planned),
        "balance": run.balance,
    }
    for change in reversed(run.changes):
        if change.uuid in covers:
            continue
        place, _, name = change.what.partition(".")
        if place not in found:
            continue  # to which day it belongs was never part of what is signed
        if not name:
            found[place] = change.before
        elif change.before is None:
            found[place].pop(name, None)
        else:
            found[place][name] = change.before
    return found


def started_as(run: StoredRun) -> dict[str, Any]:
    """How a run was started: everything that was decided otherwise since undone."""
    return _as_signed(run, frozenset())


def _first(run: StoredRun, covers: frozenset[str]) -> Any:
    signed = _as_signed(run, covers)
    started = {
        "uuid": run.uuid,
        "title": run.title,
        "note": run.note,
        "method": run.method.name,
        "options": signed["options"],
        "schools": signed["schools"],
        "instruments": signed["instruments"],
        "procedure": [run.procedure.name, run.procedure.version],
    }
    rows = [_first_row(trial, row) for trial, row in rows_of(run, 1) if row.uuid in covers]
    return [started, sorted(rows, key=lambda row: str(row["uuid"]))]


def _second(run: StoredRun, covers: frozenset[str]) -> Any:
    signed = _as_signed(run, covers)
    started = {
        "uuid": run.uuid,
        "title": run.title,
        "note": run.note,
        "method": run.method.name,
        "procedure": [run.procedure.name, run.procedure.version],
        **signed,
    }
    rows = [_second_row(trial, row) for trial, row in rows_of(run, 2) if row.uuid in covers]
    return [started, sorted(rows, key=lambda row: str(row["uuid"]))]


def _second_row(trial: str, row: Row) -> dict[str, Any]:
    match row:
        case StoredReading():
            return {**_first_reading(trial, row), "state": row.state}
        case StoredObservation():
            return _first_observation(trial, row)
        case StoredStepEvent():
            return {
                "uuid": row.uuid,
                "trial": trial,
                "step": row.step,
                "kind": row.kind,
                "seconds": row.seconds,
                "at": iso(row.at),
                "by": row.by,
                "count": row.count,
                "reason": row.reason,
            }
        case StoredChange():
            return {
                "uuid": row.uuid,
                "what": row.what,
                "before": row.before,
                "after": row.after,
                "reason": row.reason,
                "at": iso(row.at),
                "by": row.by,
            }
        case StoredWithdrawal():
            return {
                "uuid": row.uuid,
                "row": row.row_uuid,
                "reason": row.reason,
                "at": iso(row.at),
                "by": row.by,
            }


def _first_row(trial: str, row: Row) -> dict[str, Any]:
    return _first_reading(trial, row) if isinstance(row, StoredReading) else _first_observation(trial, row)


def _first_observation(trial: str, row: Any) -> dict[str, Any]:
    return {"uuid": row.uuid, "trial": trial, "at": iso(row.at), "by": row.by, "tag": row.tag, "text": row.text}


def _first_reading(trial: str, row: StoredReading) -> dict[str, Any]:
    return {
        "uuid": row.uuid,
        "trial": trial,
        "slot": row.slot,
        "position": row.position,
        "revision": row.revision,
        "supersedes": row.supersedes,
        "text": row.text,
        "unit": row.unit,
        "instrument": row.instrument,
        "at": iso(row.at),
        "by": row.by,
        "reason": row.reason,
        "doubt": row.doubt,
        "half_width": row.half_width,
    }


_CONTENTS: Mapping[int, Callable[[StoredRun, frozenset[str]], Any]] = {1: _first, 2: _second}


def _hash(value: Any) -> str:
    text = json.dumps(value, sort_keys=True, separators=(",", ":"), ensure_ascii=False)
    return hashlib.sha256(text.encode("utf-8")).hexdigest()


def holds(run: StoredRun, number: int) -> bool:
    """Whether the record is still what its signature of this number (from 0) signed, and the chain below it whole."""
    row = run.signatures[number]
    before = run.signatures[number - 1].seal if number else ""
    return row.record == record_hash(run, row.covers, row.format) and row.seal == seal(before, row)
