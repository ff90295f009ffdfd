"""Reads and keeps runs: whole records out, single rows in."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Callable, Collection, Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from typing import Any, TypeVar, cast

from sqlalchemy import Table, bindparam, select
from sqlalchemy.orm import Session

from claykettle.core.errors import Conflict
from claykettle.core.methods.registry import method_named
from claykettle.core.run import Procedure
from claykettle.store.cache import RunCache
from claykettle.store.records import (
    StoredChange,
    StoredObservation,
    StoredProcedure,
    StoredReading,
    StoredRun,
    StoredSignature,
    StoredStepEvent,
    StoredTrial,
    StoredWithdrawal,
)
from claykettle.store.tables import (
    Bench,
    ChangeRow,
    Day,
    ObservationRow,
    ProcedureRow,
    ReadingRow,
    RunRow,
    Section,
    SignatureRow,
    StepEventRow,
    TrialRow,
    WithdrawalRow,
)

CACHE, KEPT, TRUSTING = "cache", "kept", "trusting"
"""Names in a session's `info`: the application's cache, the runs that go into it once committed, and whether a run
to be changed may be taken from the cache unseen: `keep` then finds out whether it was still current."""

AT_ONCE = 100
"""Runs that a list reads at a time."""
Made = TypeVar("Made")

_RUN_FIELDS = (
    "id", "uuid", "version", "title", "note", "schools", "instruments", "planned", "balance", "changed_at", "day_id",
    "bench_id",
)  # fmt: skip
_READING_FIELDS = (
    "uuid", "slot", "position", "revision", "text", "unit", "instrument", "at", "by", "reason", "doubt",
    "half_width", "state",
)  # fmt: skip
_OBSERVATION_FIELDS = ("uuid", "trial", "at", "by", "tag", "text")
_SIGNATURE_FIELDS = ("uuid", "name", "at", "covers", "results", "record", "seal", "format")
_CHANGE_FIELDS = ("uuid", "what", "before", "after", "reason", "at", "by")
_WITHDRAWAL_FIELDS = ("uuid", "row_uuid", "reason", "at", "by")
_EVENT_FIELDS = ("uuid", "trial", "step", "kind", "seconds", "at", "by", "count", "reason")


_RUN = cast(Table, RunRow.__table__)
_LOOK = select(_RUN.c.id, _RUN.c.version).where(_RUN.c.uuid == bindparam("wanted"))
_LOCK = _LOOK.with_for_update()


def _insertion(table: str, fields: Iterable[str]) -> str:
    names = list(fields)
    columns, marks = ", ".join(f"`{name}`" for name in names), ", ".join(f"%({name})s" for name in names)
    return f"INSERT INTO `{table}` ({columns}) VALUES ({marks})"


# Written out for the driver: these run at every reading, and building them anew costs as much as the database does.
_INSERT_TRIAL = _insertion("trial", ("run_id", "position", "label"))
_INSERT_READING = _insertion("reading", ("trial_id", "supersedes_id", *_READING_FIELDS))
_INSERT_OBSERVATION = _insertion("observation", ("run_id", *_OBSERVATION_FIELDS))
_INSERT_SIGNATURE = _insertion("signature", ("run_id", *_SIGNATURE_FIELDS))
_INSERT_EVENT = _insertion("step_event", ("run_id", *_EVENT_FIELDS))
_INSERT_CHANGE = _insertion("run_change", ("run_id", *_CHANGE_FIELDS))
_INSERT_WITHDRAWAL = _insertion("withdrawal", ("run_id", *_WITHDRAWAL_FIELDS))
_DECIDED = (
    "UPDATE `run` SET `options` = %(options)s, `schools` = %(schools)s, `instruments` = %(instruments)s, "
    "`planned` = %(planned)s, `balance` = %(balance)s WHERE `id` = %(id)s"
)
_COUNT_ON = (
    "UPDATE `run` SET `version` = %(version)s, `changed_at` = %(changed_at)s "
    "WHERE `id` = %(id)s AND `version` = %(before)s"
)


def load_run(session: Session, uuid: str, lock: bool = False) -> StoredRun | None:
    """The run as it stands now; `lock` keeps others from changing it until the transaction ends."""
    # what this transaction has changed itself nobody else can change before it ends
    kept: Sequence[StoredRun] = session.info.get(KEPT, ())
    own = next((run for run in reversed(kept) if run.uuid == uuid), None)
    if own is not None:
        return own
    if lock and session.info.get(TRUSTING):
        cache: RunCache = session.info[CACHE]
        held = cache.held(uuid)
        if held is not None:
            return held
    found = session.execute(_LOCK if lock else _LOOK, {"wanted": uuid}).all()
    return _loaded(session, [(row.id, row.version) for row in found])[0] if found else None


@dataclass(frozen=True)
class Whose:
    """Which runs: those of these sections (all where it is None), of one day of them, of one bench."""

    sections: Collection[int] | None = None
    day: int | None = None
    bench: int | None = None

    def holds(self, run: StoredRun) -> bool:
        """Whether a run is one of them."""
        return (
            (self.sections is None or run.section_id in self.sections)
            and self.day in (None, run.day_id)
            and self.bench in (None, run.bench_id)
        )


def load_runs(session: Session, whose: Whose) -> list[StoredRun]:
    """Those runs, the latest changed first."""
    return _loaded(session, _versions(session, whose))


def load_runs_by_number(session: Session, numbers: Sequence[int]) -> list[StoredRun]:
    """The runs of these keys as the database holds them, past everything that a process remembers."""
    return _read(session, numbers)


def digests(session: Session, whose: Whose, kind: str, make: Callable[[StoredRun], Made]) -> list[Made]:
    """`make` of each of those runs, the latest changed first; of one that did not change it is
    remembered, not made again.

    Runs are read some at a time, so that a long list never holds all of them. What is made must follow from the run
    alone.
    """
    cache: RunCache = session.info[CACHE]
    rows = _versions(session, whose)
    found = {number: cache.digest(kind, number, version) for number, version in rows}
    missing = [(number, version) for number, version in rows if found[number] is None]
    for start in range(0, len(missing), AT_ONCE):
        for run in _loaded(session, missing[start : start + AT_ONCE]):
            made = make(run)
            found[run.id] = (made,)
            if not session.info.get(KEPT):
                # what this transaction changed may yet be rolled back
                cache.keep_digest(kind, run, made)
    return [digest[0] for number, _ in rows if (digest := found[number]) is not None]


def _versions(session: Session, whose: Whose) -> list[tuple[int, int]]:
    query = select(RunRow.id, RunRow.version).order_by(RunRow.changed_at.desc(), RunRow.id.desc())
    if whose.sections is not None:
        query = query.join(Day, RunRow.day_id == Day.id).where(Day.section_id.in_(whose.sections))
    if whose.day is not None:
        query = query.where(RunRow.day_id == whose.day)
    if whose.bench is not None:
        query = query.where(RunRow.bench_id == whose.bench)
    return [(row.id, row.version) for row in session.execute(query)]


def _loaded(session: Session, rows: Sequence[tuple[int, int]]) -> list[StoredRun]:
    cache: RunCache = session.info[CACHE]
    held = {run_id: cache.get(run_id, version) for run_id, version in rows}
    fresh = {run.id: run for run in _read(session, [run_id for run_id, run in held.items() if run is None])}
    if not session.info.get(KEPT):
        # a transaction that has changed a run may yet be rolled back: what it reads stays its own
        cache.put(fresh.values())
    return [held[run_id] or fresh[run_id] for run_id, _ in rows]


def _read(session: Session, ids: Sequence[int]) -> list[StoredRun]:
    """The runs, each whole: one that somebody changed between two of the queries is read again.

    Every change counts the version on, so a version that is the same before and after holds for all that lies between.
    """
    found: list[StoredRun] = []
    wanted = list(ids)
    while wanted:
        read = _read_once(session, wanted)
        now = select(RunRow.id, RunRow.version).where(RunRow.id.in_(wanted))
        versions = {row.id: row.version for row in session.execute(now)}
        found += [run for run in read if versions[run.id] == run.version]
        wanted = [run.id for run in read if versions[run.id] != run.version]
    return found


def _read_once(session: Session, ids: Sequence[int]) -> list[StoredRun]:
    columns = [getattr(RunRow, name) for name in _RUN_FIELDS]
    query = (
        select(
            *columns, RunRow.method, RunRow.options, RunRow.procedure_id, Bench.name, Section.name, Section.id, Day.date
        )
        .join(Bench, RunRow.bench_id == Bench.id)
        .join(Day, RunRow.day_id == Day.id)
        .join(Section, Day.section_id == Section.id)
        .where(RunRow.id.in_(ids))
    )
    rows = session.execute(query).all()
    trials = _trials(session, ids)
    observations = _children(session, ObservationRow, _OBSERVATION_FIELDS, ids)
    events = _children(session, StepEventRow, _EVENT_FIELDS, ids)
    signatures = _children(session, SignatureRow, _SIGNATURE_FIELDS, ids)
    changes = _children(session, ChangeRow, _CHANGE_FIELDS, ids)
    withdrawals = _children(session, WithdrawalRow, _WITHDRAWAL_FIELDS, ids)
    cache: RunCache = session.info[CACHE]
    found: list[StoredRun] = []
    for row in rows:
        *fields, name, written, procedure_id, bench, section, section_id, day = row
        method = method_named(name)
        named: dict[str, Any] = dict(zip(_RUN_FIELDS, fields, strict=True))
        found.append(
            StoredRun(
                **named,
                method=method,
                options=cache.options(method, written),
                written_options=written,
                bench=bench,
                section=section,
                section_id=section_id,
                date=day,
                procedure=_procedure(session, procedure_id),
                trials=tuple(trials[row.id]),
                observations=tuple(StoredObservation(*values) for values in observations[row.id]),
                step_events=tuple(StoredStepEvent(*values) for values in events[row.id]),
                signatures=tuple(_signature(values) for values in signatures[row.id]),
                changes=tuple(StoredChange(*values) for values in changes[row.id]),
                withdrawals=tuple(StoredWithdrawal(*values) for values in withdrawals[row.id]),
            )
        )
    return found


def _signature(values: Sequence[Any]) -> StoredSignature:
    named: dict[str, Any] = dict(zip(_SIGNATURE_FIELDS, values, strict=True))
    return StoredSignature(**named | {"covers": tuple(named["covers"])})


def _trials(session: Session, ids: Sequence[int]) -> dict[int, list[StoredTrial]]:
    readings: dict[int, list[StoredReading]] = defaultdict(list)
    columns = [getattr(ReadingRow, name) for name in _READING_FIELDS]
    query = (
        select(ReadingRow.trial_id, ReadingRow.id, ReadingRow.supersedes_id, *columns)
        .join(TrialRow, ReadingRow.trial_id == TrialRow.id)
        .where(TrialRow.run_id.in_(ids))
        .order_by(ReadingRow.id)
    )
    uuids: dict[int, str] = {}
    for trial_id, reading_id, supersedes_id, *fields in session.execute(query):
        uuids[reading_id] = fields[0]
        named = dict(zip(_READING_FIELDS, fields, strict=True))
        readings[trial_id].append(StoredReading(supersedes=uuids.get(supersedes_id), **named))
    trials: dict[int, list[StoredTrial]] = defaultdict(list)
    rows = select(TrialRow.run_id, TrialRow.id, TrialRow.position, TrialRow.label).where(TrialRow.run_id.in_(ids))
    for run_id, trial_id, position, label in session.execute(rows.order_by(TrialRow.position)):
        trials[run_id].append(StoredTrial(trial_id, position, label, tuple(readings[trial_id])))
    return trials


def _children(session: Session, table: Any, fields: Iterable[str], ids: Sequence[int]) -> dict[int, list[list[Any]]]:
    found: dict[int, list[list[Any]]] = defaultdict(list)
    columns = [getattr(table, name) for name in fields]
    for run_id, *values in session.execute(
        select(table.run_id, *columns).where(table.run_id.in_(ids)).order_by(table.id)
    ):
        found[run_id].append(values)
    return found


def _procedure(session: Session, procedure_id: int) -> StoredProcedure:
    def made() -> StoredProcedure:
        row = session.get_one(ProcedureRow, procedure_id)
        return StoredProcedure(row.id, row.name, row.version, Procedure.model_validate(row.body))

    cache: RunCache = session.info[CACHE]
    return cache.procedure(procedure_id, made)


def keep(session: Session, before: StoredRun, after: StoredRun) -> StoredRun:
    """Append the rows that `after` has more than `before`, and count the version on.

    Raises Conflict where somebody else changed the run since `before` was read; IntegrityError for a UUID in use.
    """
    connection = session.connection()
    versions = {"id": after.id, "before": before.version, "version": after.version, "changed_at": after.changed_at}
    if connection.exec_driver_sql(_COUNT_ON, _stored(versions)).rowcount != 1:
        raise Conflict("Somebody else recorded here at the same moment; look at the page and type it again.")
    if len(after.trials) > len(before.trials):
        kept = (row if row.id else _new_trial(session, after.id, row) for row in after.trials)
        after = after.with_kept_trials(tuple(kept))
    known = {row.id: len(row.readings) for row in before.trials}
    for trial in after.trials:
        for reading in trial.readings[known.get(trial.id, 0) :]:
            connection.exec_driver_sql(_INSERT_READING, _reading_values(session, trial, reading))
    for observation in after.observations[len(before.observations) :]:
        values = {"run_id": after.id, **_values(observation, _OBSERVATION_FIELDS)}
        connection.exec_driver_sql(_INSERT_OBSERVATION, values)
    for event in after.step_events[len(before.step_events) :]:
        connection.exec_driver_sql(_INSERT_EVENT, {"run_id": after.id, **_values(event, _EVENT_FIELDS)})
    for withdrawal in after.withdrawals[len(before.withdrawals) :]:
        values = {"run_id": after.id, **_values(withdrawal, _WITHDRAWAL_FIELDS)}
        connection.exec_driver_sql(_INSERT_WITHDRAWAL, values)
    if len(after.changes) > len(before.changes):
        _keep_changes(session, before, after)
    for signature in after.signatures[len(before.signatures) :]:
        values = {"run_id": after.id, **_values(signature, _SIGNATURE_FIELDS)}
        values |= {name: json.dumps(values[name]) for name in ("covers", "results")}
        connection.exec_driver_sql(_INSERT_SIGNATURE, values)
    session.info.setdefault(KEPT, []).append(after)
    return after


def _keep_changes(session: Session, before: StoredRun, after: StoredRun) -> None:
    connection = session.connection()
    for change in after.changes[len(before.changes) :]:
        values = {"run_id": after.id, **_values(change, _CHANGE_FIELDS)}
        values |= {name: json.dumps(values[name]) for name in ("before", "after")}
        connection.exec_driver_sql(_INSERT_CHANGE, values)
    decided = {"options": after.written_options, "schools": after.schools, "instruments": after.instruments}
    decided |= {"planned": after.planned}
    written = {name: json.dumps(value) for name, value in decided.items()}
    connection.exec_driver_sql(_DECIDED, {"id": after.id, "balance": after.balance, **written})


def _new_trial(session: Session, run_id: int, trial: StoredTrial) -> StoredTrial:
    values = {"run_id": run_id, "position": trial.position, "label": trial.label}
    made = session.connection().exec_driver_sql(_INSERT_TRIAL, values)
    return replace(trial, id=made.lastrowid)


def _values(row: Any, fields: Iterable[str]) -> dict[str, Any]:
    return _stored({name: getattr(row, name) for name in fields})


def _stored(values: dict[str, Any]) -> dict[str, Any]:
    """Times as the columns hold them: UTC without a zone."""
    return {
        name: value.astimezone(UTC).replace(tzinfo=None) if isinstance(value, datetime) else value
        for name, value in values.items()
    }


def _reading_values(session: Session, trial: StoredTrial, reading: StoredReading) -> dict[str, Any]:
    old = None
    if reading.supersedes is not None:
        old = session.scalars(select(ReadingRow.id).where(ReadingRow.uuid == reading.supersedes)).one()
    return {"trial_id": trial.id, "supersedes_id": old, **_values(reading, _READING_FIELDS)}
