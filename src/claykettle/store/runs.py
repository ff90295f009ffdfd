"""Reads and keeps runs: whole records out, single rows in."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Collection, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from functools import cache
from typing import Any

from sqlalchemy import ColumnElement, bindparam, select
from sqlalchemy.orm import Session, aliased

from claykettle.core.errors import Overtaken
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
    Base,
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

CACHE, KEPT = "cache", "kept"
"""Names in a session's `info`: the application's cache, and the runs that go into it once committed (`changes_of`)."""

AT_ONCE = 100
"""Runs that are read at a time, where all are asked for."""

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


_LOOK = "SELECT `id`, `version` FROM `run` WHERE `uuid` = %(wanted)s"
_LOCK = f"{_LOOK} FOR UPDATE"


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
    "`planned` = %(planned)s, `balance` = %(balance)s, `day_id` = %(day)s WHERE `id` = %(id)s"
)
_COUNT_ON = (
    "UPDATE `run` SET `version` = %(version)s, `changed_at` = %(changed_at)s, `is_summed_up` = 0 "
    "WHERE `id` = %(id)s AND `version` = %(before)s"
)


def changes_of(session: Session) -> list[StoredRun]:
    """The runs that this transaction has kept. Whoever asks is about to change runs: from now on nothing that the
    transaction reads goes into the cache, since it may yet be rolled back.
    """
    kept: list[StoredRun] = session.info.setdefault(KEPT, [])
    return kept


def load_run(session: Session, uuid: str, lock: bool = False) -> StoredRun | None:
    """The run as it stands now; `lock` keeps others from changing it until the transaction ends."""
    # what this transaction has changed itself nobody else can change before it ends
    kept: Sequence[StoredRun] = session.info.get(KEPT, ())
    own = next((run for run in reversed(kept) if run.uuid == uuid), None)
    if own is not None:
        return own
    found = session.connection().exec_driver_sql(_LOCK if lock else _LOOK, {"wanted": uuid}).one_or_none()
    return _loaded(session, [(found[0], found[1])])[0] if found else None


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


def in_earnest(section: Any) -> ColumnElement[bool]:
    """The condition that a column of section numbers names no place where somebody rehearses: that counts nowhere."""
    found: ColumnElement[bool] = section.in_(select(Section.id).where(Section.rehearsal_of.is_(None)))
    return found


def load_runs(session: Session, whose: Whose) -> Iterator[StoredRun]:
    """Those runs, the latest changed first; some at a time, so that never all of them are held."""
    rows = _versions(session, whose)
    for start in range(0, len(rows), AT_ONCE):
        yield from _loaded(session, rows[start : start + AT_ONCE])


def load_runs_by_number(session: Session, numbers: Sequence[int]) -> list[StoredRun]:
    """The runs of these keys as the database holds them, past everything that a process remembers."""
    return _read(session, numbers, RunCache())


def load_version(session: Session, number: int, version: int) -> StoredRun:
    """The run of this number that the caller has locked and found in this version."""
    return _loaded(session, [(number, version)])[0]


def _versions(session: Session, whose: Whose) -> list[tuple[int, int]]:
    query = select(RunRow.id, RunRow.version).order_by(RunRow.changed_at.desc(), RunRow.id.desc())
    if whose.sections is not None:
        query = query.join(Day, RunRow.day_id == Day.id).where(Day.section_id.in_(whose.sections))
    else:
        query = query.join(Day, RunRow.day_id == Day.id).where(in_earnest(Day.section_id))
    if whose.day is not None:
        query = query.where(RunRow.day_id == whose.day)
    if whose.bench is not None:
        query = query.where(RunRow.bench_id == whose.bench)
    return [(row.id, row.version) for row in session.execute(query)]


def _loaded(session: Session, rows: Sequence[tuple[int, int]]) -> list[StoredRun]:
    memory: RunCache = session.info[CACHE]
    held = {run_id: memory.get(run_id, version) for run_id, version in rows}
    fresh = {run.id: run for run in _read(session, [run_id for run_id, run in held.items() if run is None], memory)}
    if KEPT not in session.info:
        memory.put(fresh.values())
    return [held[run_id] or fresh[run_id] for run_id, _ in rows]


def _read(session: Session, ids: Sequence[int], held: RunCache) -> list[StoredRun]:
    """The runs, each whole: one that somebody changed between two of the queries is read again.

    Every change counts the version on, so a version that is the same before and after holds for all that lies between.
    Of one that is `held` in an older version only what was added is read: rows are never changed, nor taken away.
    """
    found: list[StoredRun] = []
    wanted = list(ids)
    while wanted:
        known = [(run_id, held.latest(run_id)) for run_id in wanted]
        unknown = [run_id for run_id, older in known if older is None]
        read = _read_once(session, unknown) if unknown else []
        for run_id, older in known:
            read += _read_once(session, [run_id], older) if older is not None else []
        versions = {row.id: row.version for row in session.execute(_versions_of(), {"ids": wanted})}
        found += [run for run in read if versions[run.id] == run.version]
        wanted = [run.id for run in read if versions[run.id] != run.version]
    return found


def _read_once(session: Session, ids: Sequence[int], older: StoredRun | None = None) -> list[StoredRun]:
    """The runs of these numbers; or one, on what an `older` version of it holds."""
    rows = session.execute(_heads_of(), {"ids": ids}).all()
    added = _Added(session, ids, older)
    trials = added.trials()
    observations = added.rows(ObservationRow, _OBSERVATION_FIELDS)
    events = added.rows(StepEventRow, _EVENT_FIELDS)
    signatures = added.rows(SignatureRow, _SIGNATURE_FIELDS)
    changes = added.rows(ChangeRow, _CHANGE_FIELDS)
    withdrawals = added.rows(WithdrawalRow, _WITHDRAWAL_FIELDS)
    memory: RunCache = session.info[CACHE]
    found: list[StoredRun] = []
    for row in rows:
        *fields, name, written, procedure_id, bench, section, section_id, is_practised, day = row
        method = method_named(name)
        named: dict[str, Any] = dict(zip(_RUN_FIELDS, fields, strict=True))
        run = StoredRun(
            **named,
            method=method,
            options=memory.options(method, written),
            written_options=written,
            bench=bench,
            section=section,
            section_id=section_id,
            is_practised=bool(is_practised),
            date=day,
            procedure=stored_procedure(session, procedure_id),
            trials=tuple(trials[row.id]),
            observations=tuple(StoredObservation(*values) for values in observations[row.id]),
            step_events=tuple(StoredStepEvent(*values) for values in events[row.id]),
            signatures=tuple(_signature(values) for values in signatures[row.id]),
            changes=tuple(StoredChange(*values) for values in changes[row.id]),
            withdrawals=tuple(StoredWithdrawal(*values) for values in withdrawals[row.id]),
            upto=added.upto[row.id],
        )
        found.append(run if older is None else _behind(older, run))
    return found


def _behind(older: StoredRun, run: StoredRun) -> StoredRun:
    """A run of which only what was added was read, behind what was there before."""
    whole = replace(
        run,
        observations=older.observations + run.observations,
        step_events=older.step_events + run.step_events,
        signatures=older.signatures + run.signatures,
        changes=older.changes + run.changes,
        withdrawals=older.withdrawals + run.withdrawals,
    )
    return whole.continuing(older)


def _signature(values: Sequence[Any]) -> StoredSignature:
    named: dict[str, Any] = dict(zip(_SIGNATURE_FIELDS, values, strict=True))
    return StoredSignature(**named | {"covers": tuple(named["covers"])})


# Made once: to make a query anew costs as much as to ask it.


@cache
def _heads_of() -> Any:
    columns = [getattr(RunRow, name) for name in _RUN_FIELDS]
    return (
        select(
            *columns,
            RunRow.method,
            RunRow.options,
            RunRow.procedure_id,
            Bench.name,
            Section.name,
            Section.id,
            Section.rehearsal_of.is_not(None),
            Day.date,
        )
        .join(Bench, RunRow.bench_id == Bench.id)
        .join(Day, RunRow.day_id == Day.id)
        .join(Section, Day.section_id == Section.id)
        .where(RunRow.id.in_(bindparam("ids", expanding=True)))
    )


@cache
def _versions_of() -> Any:
    return select(RunRow.id, RunRow.version).where(RunRow.id.in_(bindparam("ids", expanding=True)))


@cache
def _rows_of(table: Any, fields: tuple[str, ...]) -> Any:
    return (
        select(table.run_id, table.id, *(getattr(table, name) for name in fields))
        .where(table.run_id.in_(bindparam("ids", expanding=True)), table.id > bindparam("beyond"))
        .order_by(table.id)
    )


@cache
def _readings_of() -> Any:
    old = aliased(ReadingRow)
    columns = [getattr(ReadingRow, name) for name in _READING_FIELDS]
    return (
        select(TrialRow.run_id, ReadingRow.trial_id, ReadingRow.id, old.uuid, *columns)
        .join(TrialRow, ReadingRow.trial_id == TrialRow.id)
        .outerjoin(old, ReadingRow.supersedes_id == old.id)
        .where(TrialRow.run_id.in_(bindparam("ids", expanding=True)), ReadingRow.id > bindparam("beyond"))
        .order_by(ReadingRow.id)
    )


class _Added:
    """Reads the rows of some runs; or those of one that an older version of it does not hold yet."""

    def __init__(self, session: Session, ids: Sequence[int], older: StoredRun | None):
        self.session, self.ids, self.older = session, ids, older
        known = dict(older.upto) if older is not None else {}
        self.upto: dict[int, dict[str, int]] = {run_id: dict(known) for run_id in ids}

    def _beyond(self, table: Any) -> int:
        return self.older.upto.get(table.__tablename__, 0) if self.older is not None else 0

    def _count(self, run_id: int, table: Any, number: int) -> None:
        self.upto[run_id][table.__tablename__] = max(number, self.upto[run_id].get(table.__tablename__, 0))

    def rows(self, table: Any, fields: Iterable[str]) -> dict[int, list[list[Any]]]:
        """The rows of a table that belong to the runs, in the order in which they were added."""
        found: dict[int, list[list[Any]]] = defaultdict(list)
        asked = {"ids": self.ids, "beyond": self._beyond(table)}
        for run_id, number, *values in self.session.execute(_rows_of(table, tuple(fields)), asked):
            found[run_id].append(values)
            self._count(run_id, table, number)
        return found

    def trials(self) -> dict[int, list[StoredTrial]]:
        """The trials of the runs with all their readings; one to which nothing was added is the one that it was."""
        readings = self._readings()
        trials: dict[int, list[StoredTrial]] = defaultdict(list)
        if self.older is not None:
            trials[self.older.id] = [
                replace(row, readings=(*row.readings, *readings.pop(row.id))) if row.id in readings else row
                for row in self.older.trials
            ]
        for run_id, values in self.rows(TrialRow, ("id", "position", "label")).items():
            trials[run_id] += [
                StoredTrial(number, position, label, tuple(readings.get(number, ())))
                for number, position, label in values
            ]
        return {run_id: sorted(trials[run_id], key=lambda row: row.position) for run_id in self.ids}

    def _readings(self) -> dict[int, list[StoredReading]]:
        found: dict[int, list[StoredReading]] = defaultdict(list)
        asked = {"ids": self.ids, "beyond": self._beyond(ReadingRow)}
        for run_id, trial_id, number, supersedes, *fields in self.session.execute(_readings_of(), asked):
            found[trial_id].append(
                StoredReading(supersedes=supersedes, **dict(zip(_READING_FIELDS, fields, strict=True)))
            )
            self._count(run_id, ReadingRow, number)
        return found


def stored_procedure(session: Session, procedure_id: int) -> StoredProcedure:
    """The procedure of this number, parsed once in a process: its words never change."""

    def made() -> StoredProcedure:
        row = session.get_one(ProcedureRow, procedure_id)
        return StoredProcedure(row.id, row.name, row.version, Procedure.model_validate(row.body))

    memory: RunCache = session.info[CACHE]
    return memory.procedure(procedure_id, made)


def keep(session: Session, before: StoredRun, after: StoredRun) -> StoredRun:
    """Append the rows that `after` has more than `before`, and count the version on.

    Raises Overtaken where somebody else changed the run since `before` was read; IntegrityError for a UUID in use.
    """
    connection = session.connection()
    versions = {"id": after.id, "before": before.version, "version": after.version, "changed_at": after.changed_at}
    if connection.exec_driver_sql(_COUNT_ON, _stored(versions)).rowcount != 1:
        raise Overtaken("Somebody else recorded here at the same moment; look at the page and type it again.")
    upto = dict(after.upto)
    if len(after.trials) > len(before.trials):
        kept = tuple(row if row.id else _new_trial(session, after.id, row) for row in after.trials)
        upto[TrialRow.__tablename__] = max(row.id for row in kept)
        after = after.with_kept_trials(kept)

    def add(table: type[Base], statement: str, values: dict[str, Any]) -> None:
        upto[table.__tablename__] = connection.exec_driver_sql(statement, values).lastrowid

    known = {row.id: len(row.readings) for row in before.trials}
    for trial in after.trials:
        for reading in trial.readings[known.get(trial.id, 0) :]:
            add(ReadingRow, _INSERT_READING, _reading_values(session, trial, reading))
    for observation in after.observations[len(before.observations) :]:
        values = {"run_id": after.id, **_values(observation, _OBSERVATION_FIELDS)}
        add(ObservationRow, _INSERT_OBSERVATION, values)
    for event in after.step_events[len(before.step_events) :]:
        add(StepEventRow, _INSERT_EVENT, {"run_id": after.id, **_values(event, _EVENT_FIELDS)})
    for withdrawal in after.withdrawals[len(before.withdrawals) :]:
        values = {"run_id": after.id, **_values(withdrawal, _WITHDRAWAL_FIELDS)}
        add(WithdrawalRow, _INSERT_WITHDRAWAL, values)
    for change in after.changes[len(before.changes) :]:
        values = {"run_id": after.id, **_values(change, _CHANGE_FIELDS)}
        values |= {name: json.dumps(values[name]) for name in ("before", "after")}
        add(ChangeRow, _INSERT_CHANGE, values)
    if len(after.changes) > len(before.changes):
        _decide(session, after)
    for signature in after.signatures[len(before.signatures) :]:
        values = {"run_id": after.id, **_values(signature, _SIGNATURE_FIELDS)}
        values |= {name: json.dumps(values[name]) for name in ("covers", "results")}
        add(SignatureRow, _INSERT_SIGNATURE, values)
    after = after.known_upto(upto)
    changes_of(session).append(after)
    return after


def _decide(session: Session, after: StoredRun) -> None:
    decided = {"options": after.written_options, "schools": after.schools, "instruments": after.instruments}
    decided |= {"planned": after.planned}
    written = {name: json.dumps(value) for name, value in decided.items()}
    plain = {"id": after.id, "balance": after.balance, "day": after.day_id}
    session.connection().exec_driver_sql(_DECIDED, {**plain, **written})


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
