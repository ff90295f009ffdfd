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

from claykettle.store.records import StoredObservation, StoredReading, StoredRun, StoredSignature, iso

FORMAT = 1
"""The format in which a new signature is made."""


def record_hash(run: StoredRun, covers: Iterable[str], form: int = FORMAT) -> str:
    """SHA-256 (hexadecimal) over how the run was started and the rows with these UUIDs, each to the letter.

    Raises KeyError for a format that this program does not know.
    """
    return _hash(_CONTENTS[form](run, frozenset(covers)))


def seal(before: str, row: StoredSignature) -> str:
    """SHA-256 (hexadecimal) over a signature and the seal of the one before; in every format so far the same."""
    return _hash([before, row.uuid, row.name, iso(row.at), sorted(row.covers), dict(row.results), row.record])


def rows_of(run: StoredRun) -> Iterator[tuple[str, StoredReading | StoredObservation]]:
    """Everything that a signature can cover, each with its trial."""
    for trial in run.trials:
        yield from ((trial.label, row) for row in trial.readings)
    yield from ((row.trial, row) for row in run.observations)


def _first(run: StoredRun, covers: frozenset[str]) -> Any:
    started = {
        "uuid": run.uuid,
        "title": run.title,
        "note": run.note,
        "method": run.method.name,
        "options": run.written_options,
        "schools": run.schools,
        "instruments": run.instruments,
        "procedure": [run.procedure.name, run.procedure.version],
    }
    rows = [_first_row(trial, row) for trial, row in rows_of(run) if row.uuid in covers]
    return [started, sorted(rows, key=lambda row: str(row["uuid"]))]


def _first_row(trial: str, row: StoredReading | StoredObservation) -> dict[str, Any]:
    if isinstance(row, StoredObservation):
        return {
            "uuid": row.uuid, "trial": trial, "at": iso(row.at), "by": row.by, "tag": row.tag, "text": row.text,
        }  # fmt: skip
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


_CONTENTS: Mapping[int, Callable[[StoredRun, frozenset[str]], Any]] = {1: _first}


def _hash(value: Any) -> str:
    text = json.dumps(value, sort_keys=True, separators=(",", ":"), ensure_ascii=False)
    return hashlib.sha256(text.encode("utf-8")).hexdigest()


def holds(run: StoredRun, number: int) -> bool:
    """Whether the record is still what its signature of this number (from 0) signed, and the chain below it whole."""
    row = run.signatures[number]
    before = run.signatures[number - 1].seal if number else ""
    return row.record == record_hash(run, row.covers, row.format) and row.seal == seal(before, row)
