"""Signing a run's record: a hash over what was recorded, chained to the signature before, and the answers of then.

What comes after a signature is kept as ever; the signature then says how much it does not cover. Nothing here proves
who typed a name: it shows whether the record is still the one that was signed.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from datetime import datetime

from sqlalchemy.orm import Session

from claykettle.core.errors import Refusal, refuse
from claykettle.core.wording import fault_in_name
from claykettle.service.answers import answer_view
from claykettle.service.runs import evaluation_of, find_run, iso
from claykettle.service.sealing import FORMAT, record_hash, rows_of, seal
from claykettle.service.views import AnswerView, SignatureView
from claykettle.store.records import StoredRun, StoredSignature
from claykettle.store.runs import keep

LONGEST_NAME = 120
MOST_SIGNATURES = 20
"""Partners, the instructor, and the same again after a correction."""


def sign(session: Session, now: datetime, run_uuid: str, *, uuid: str, name: str) -> StoredRun:
    """Put a name below the record as it stands; the same UUID twice gives the same signature.

    Raises Refusal (path `name`): `empty`, `nothing-to-sign` before anything is recorded, `signed-already` where this
    name stands below all of it, `too-many` beyond 20.
    """
    run = find_run(session, run_uuid, lock=True)
    if any(row.uuid == uuid for row in run.signatures):
        return run
    name = " ".join(name.split())[:LONGEST_NAME]
    covers = tuple(row.uuid for _, row in rows_of(run))
    unnamed = fault_in_name(name, "name", "Write your name: it stands below the record.")
    if unnamed is not None:
        raise Refusal(unnamed)
    if not covers:
        raise refuse("nothing-to-sign", "Nothing is recorded yet; sign when the readings stand here.", "name")
    if any(row.name.casefold() == name.casefold() and row.covers == covers for row in run.signatures):
        raise refuse("signed-already", f"{name} has signed all of this; the partner signs with another name.", "name")
    if len(run.signatures) >= MOST_SIGNATURES:
        raise refuse("too-many", f"A record bears {MOST_SIGNATURES} signatures at most.", "name")
    unsealed = StoredSignature(uuid, name, now, covers, _results(run), record_hash(run, covers), "", FORMAT)
    sealed = replace(unsealed, seal=seal(_last(run.signatures), unsealed))
    return keep(session, run, run.with_signature(sealed).touched(now))


def signature_views(run: StoredRun) -> list[SignatureView]:
    """The signatures in order: whether the record is still what was signed, and how much came after."""
    if not run.signatures:
        return []
    rows, today = [row.uuid for _, row in rows_of(run)], _results(run)
    return [
        SignatureView(
            uuid=row.uuid,
            name=row.name,
            at=iso(row.at),
            results=[f"{label}: {text}" if len(row.results) > 1 else text for label, text in row.results.items()],
            fingerprint=" ".join(row.record[start : start + 4] for start in range(0, 16, 4)),
            holds=_holds(run, number),
            later=len(set(rows) - set(row.covers)),
            changed=any(today.get(label) != text for label, text in row.results.items()),
        )
        for number, row in enumerate(run.signatures)
    ]


def _last(signatures: Sequence[StoredSignature]) -> str:
    return signatures[-1].seal if signatures else ""


def _holds(run: StoredRun, number: int) -> bool:
    row = run.signatures[number]
    record = record_hash(run, row.covers, row.format)
    return row.record == record and row.seal == seal(_last(run.signatures[:number]), row)


def _results(run: StoredRun) -> dict[str, str]:
    """What every trial came to, as it is shown."""
    evaluation = evaluation_of(run)
    answers = {trial.label: answer_view(evaluation, trial) for trial in evaluation.trials}
    return {label: " · ".join(_said(view)) or "no result yet" for label, view in answers.items()}


def _said(view: AnswerView) -> Iterator[str]:
    if view.formula is not None:
        yield view.formula.text or f"nearest {view.formula.nearest}"
    yield from (text for text in (view.headline, view.second) if text)
