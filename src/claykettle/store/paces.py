"""How long steps took in the runs that were held: from the marks and readings of the record, nothing evaluated."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from claykettle.store.runs import Whose, in_earnest
from claykettle.store.tables import Day, ReadingRow, RunRow, StepEventRow, TrialRow, WithdrawalRow

MOST_RUNS = 200
"""The latest runs of a method from which is learnt."""
SHORTEST_MIN, LONGEST_MIN = 0.2, 180.0
"""Below the first nobody did anything, above the other somebody went home."""


def durations(session: Session, whose: Whose, method: str) -> Mapping[str, list[float]]:
    """By step (`heat#1`; of a repeat all rounds but the first as `#2`) the minutes that it took, time after time.

    A step begins with its timer, else where the thing before it in its trial was done: a step marked, a reading taken.
    """
    query = select(RunRow.id).where(RunRow.method == method).order_by(RunRow.id.desc()).limit(MOST_RUNS)
    if whose.sections is not None:
        query = query.join(Day, RunRow.day_id == Day.id).where(Day.section_id.in_(whose.sections))
    else:
        query = query.join(Day, RunRow.day_id == Day.id).where(in_earnest(Day.section_id))
    runs = session.scalars(query).all()
    taken_back = set(session.scalars(select(WithdrawalRow.row_uuid).where(WithdrawalRow.run_id.in_(runs))))
    done: dict[tuple[int, str], list[tuple[datetime, str, str]]] = {}
    events = select(StepEventRow).where(StepEventRow.run_id.in_(runs)).order_by(StepEventRow.id)
    for row in session.scalars(events):
        if row.uuid not in taken_back:
            done.setdefault((row.run_id, row.trial), []).append((row.at, row.kind, row.step))
    readings = (
        select(TrialRow.run_id, TrialRow.label, ReadingRow.at)
        .join(TrialRow, ReadingRow.trial_id == TrialRow.id)
        .where(TrialRow.run_id.in_(runs), ReadingRow.revision == 0, TrialRow.position > 0)
    )
    for run, label, at in session.execute(readings):
        done.setdefault((run, label), []).append((at, "read", ""))
    found: dict[str, list[float]] = {}
    for rows in done.values():
        before: datetime | None = None
        begun: dict[str, datetime] = {}
        for at, kind, step in sorted(rows):
            if kind == "started":
                begun[step] = at
                continue
            since = begun.pop(step, before)
            if kind == "finished" and since is not None:
                minutes = (at - since).total_seconds() / 60
                if SHORTEST_MIN <= minutes <= LONGEST_MIN:
                    found.setdefault(_pooled(step), []).append(minutes)
            if kind in ("finished", "read", "skipped"):
                before = at
    return found


def _pooled(step: str) -> str:
    name, mark, number = step.partition("#")
    return f"{name}#2" if mark and number not in ("1", "2") else step
