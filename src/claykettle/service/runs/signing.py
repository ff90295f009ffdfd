"""Signing a run's record: a hash over what was recorded, chained to the signature before, and the answers of then.

What comes after a signature is kept as ever; the signature then says how much it does not cover. The name
is the account's, or that of a student at the bench whose tablet it is.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from claykettle.core.errors import Refusal, refuse
from claykettle.core.wording import fault_in_name
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.views.signatures import results_of
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun, StoredSignature
from claykettle.store.sealing import FORMAT, record_hash, rows_of, seal

SIGNED = "signed"
"""The tag under which a signature leaves in a run file."""
LONGEST_NAME = 120
MOST_SIGNATURES = 20
"""Partners, the instructor, and the same again after a correction."""


@dataclass(frozen=True)
class Sign:
    """A name to be put below the record."""

    uuid: str
    name: str


@may(BENCH, INSTRUCTOR)
def sign(visit: Visit, run: StoredRun, wanted: Sign) -> StoredRun:
    """Put a name below the record as it stands; the same UUID twice gives the same signature.

    Raises Refusal (path `name`): `empty`, `nothing-to-sign` before anything is recorded, `signed-already` where this
    name stands below all of it, `too-many` beyond 20.
    """
    if any(row.uuid == wanted.uuid for row in run.signatures):
        return run
    typed = " ".join(wanted.name.split())
    unnamed = fault_in_name(typed, "name", "Write your name: it stands below the record.")
    if unnamed is not None:
        raise Refusal(unnamed)
    name = visit.caller.signed(typed)[:LONGEST_NAME]
    covers = tuple(row.uuid for _, row in rows_of(run))
    _refuse(run, name, covers)
    record = record_hash(run, covers)
    unsealed = StoredSignature(wanted.uuid, name, visit.now, covers, results_of(run.evaluation), record, "", FORMAT)
    before = run.signatures[-1].seal if run.signatures else ""
    return visit.keep(run, run.with_signature(replace(unsealed, seal=seal(before, unsealed))).touched(visit.now))


def _refuse(run: StoredRun, name: str, covers: tuple[str, ...]) -> None:
    if not covers:
        raise refuse("nothing-to-sign", "Nothing is recorded yet; sign when the readings stand here.", "name")
    if any(row.name.casefold() == name.casefold() and row.covers == covers for row in run.signatures):
        raise refuse("signed-already", f"{name} has signed all of this; the partner signs with another name.", "name")
    if len(run.signatures) >= MOST_SIGNATURES:
        raise refuse("too-many", f"A record bears {MOST_SIGNATURES} signatures at most.", "name")
