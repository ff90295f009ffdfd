"""Starting, finding, importing and listing runs; a run's rows as the core's Run."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import UTC, datetime
from decimal import Decimal
from functools import lru_cache
from typing import Any
from uuid import uuid4

from sqlalchemy import select
from sqlalchemy.orm import Session

from claykettle.core.errors import Fault, NotFound, Refusal, refuse
from claykettle.core.evaluation import Evaluation, evaluate_run
from claykettle.core.methods.registry import method_named
from claykettle.core.options import Options
from claykettle.core.procedure import Procedure, slots_of
from claykettle.core.reading import bears_unit, parse_half_width, parse_reading
from claykettle.core.run import (
    INSTRUMENTS,
    Entry,
    Observation,
    ProcedureUse,
    Run,
    TrialRecord,
    Window,
    course_faults,
    reading_definition,
)
from claykettle.formats.run_file import parse_options, run_document
from claykettle.service.shelf import half_widths, latest_procedures, the_day
from claykettle.store.records import StoredProcedure, StoredReading, StoredRun, StoredTrial
from claykettle.store.runs import load_run, load_runs
from claykettle.store.tables import Bench, Instrument, ObservationRow, ProcedureRow, ReadingRow, RunRow, TrialRow


def start_run(
    session: Session,
    now: datetime,
    *,
    uuid: str,
    title: str,
    method: str,
    options: Mapping[str, Any],
    bench_id: int,
    balance_id: int,
    procedure: str | None = None,
    schools: Mapping[str, str] | None = None,
    planned: Mapping[str, Mapping[str, str]] | None = None,
) -> StoredRun:
    """Start a run with one trial; the same UUID twice gives the same run.

    Raises Refusal with every fault of the form, paths as the form's fields.
    """
    existing = load_run(session, uuid)
    if existing is not None:
        return existing
    found = method_named(method)
    faults: list[Fault] = []
    if not title.strip():
        faults.append(Fault("empty", "title", "Give the run a name that the log can be found by."))
    bench, balance = session.get(Bench, bench_id), session.get(Instrument, balance_id)
    if bench is None:
        faults.append(Fault("unknown-bench", "bench_id", "This bench is not on the list any more; choose another."))
    if balance is None:
        faults.append(
            Fault("unknown-balance", "balance_id", "This balance is not on the list any more; choose another.")
        )
    parsed = _options(found.name, options, faults)
    row = _procedure(session, method, procedure)
    chosen: dict[str, str] = {}
    course = Procedure.model_validate(row.body)
    try:
        chosen = course.chosen(schools or {})
    except Refusal as refusal:
        faults += refusal.faults
    if not faults:
        faults += course_faults(found, parse_options(found, parsed), slots_of(course, chosen))
    plan = _planned(method, planned or {}, faults)
    if faults or bench is None or balance is None:
        raise Refusal(*faults)
    run = RunRow(
        uuid=uuid,
        day_id=the_day(session, now.astimezone(UTC).date()).id,
        bench_id=bench.id,
        procedure_id=row.id,
        method=found.name,
        title=title.strip()[:120],
        note="",
        options=parsed,
        schools=chosen,
        instruments=half_widths(session, found, balance),
        planned=plan,
        balance=balance.name,
        created_at=now,
        changed_at=now,
        version=1,
    )
    run.trials.append(TrialRow(position=1, label="1"))
    session.add(run)
    session.flush()
    return find_run(session, uuid)


def _options(method: str, options: Mapping[str, Any], faults: list[Fault]) -> dict[str, Any]:
    try:
        parsed = parse_options(method_named(method), options)
    except Refusal as refusal:
        faults += refusal.faults
        return {}
    return parsed.model_dump(mode="json", exclude_defaults=True)


def _procedure(session: Session, method: str, name: str | None) -> ProcedureRow:
    rows = [row for row in latest_procedures(session) if row.method == method and name in (None, row.name)]
    if not rows:
        raise refuse("unknown-procedure", "This procedure is not known for the method; choose another.", "procedure")
    return rows[0]


def _planned(method: str, planned: Mapping[str, Mapping[str, str]], faults: list[Fault]) -> dict[str, Any]:
    kept: dict[str, Any] = {}
    for name, window in planned.items():
        definition = reading_definition(method_named(method), name)
        for key, text in window.items():
            if not text.strip():
                continue
            try:
                reading = parse_reading(text, definition.dimension if definition else "mass", "g")
            except Refusal as refusal:
                faults += refusal.below(f"planned.{name}.{key}").faults
                continue
            kept.setdefault(name, {})[key] = f"{reading.digits} {reading.unit.symbol}"
        window = kept.get(name, {})
        if "about" in window and len(window) > 1:
            message = "Give either 'about', or a window; not both."
            faults.append(Fault("window", f"planned.{name}.about", message))
        elif "low" in window and "high" in window and _mass(window["low"]) > _mass(window["high"]):
            faults.append(Fault("window", f"planned.{name}.low", "This lies above 'at most'; exchange the two."))
    return kept


def _mass(text: str) -> Decimal:
    return parse_reading(text, "mass").si


def find_run(session: Session, uuid: str, lock: bool = False) -> StoredRun:
    """The run with this UUID; `lock` keeps others from changing it until the transaction ends. Raises NotFound."""
    run = load_run(session, uuid, lock)
    if run is None:
        raise NotFound("There is no such run here; it may belong to another database.")
    return run


def trial_of(run: StoredRun, label: str) -> StoredTrial:
    """The run's trial with this label. Raises NotFound."""
    trial = run.trial(label)
    if trial is None:
        raise NotFound(f"This run has no trial '{label[:40]}'.")
    return trial


def all_runs(session: Session) -> list[StoredRun]:
    """All runs, the latest changed first."""
    return load_runs(session)


def procedure_of(run: StoredRun) -> Procedure:
    """The version of the procedure that the run froze."""
    return _parsed(run.procedure)


@lru_cache(maxsize=256)
def _parsed(procedure: StoredProcedure) -> Procedure:
    return Procedure.model_validate(procedure.body)


@dataclass(frozen=True)
class _Matter:
    """What an evaluation depends on: the trials as they stand; options never change once a run has started."""

    run_id: int
    trials: tuple[StoredTrial, ...]
    run: StoredRun = field(compare=False)


def evaluation_of(run: StoredRun) -> Evaluation:
    """The run, evaluated; once for the same readings, however often it is looked at."""
    return _evaluated(_Matter(run.id, run.trials, run))


@lru_cache(maxsize=256)
def _evaluated(matter: _Matter) -> Evaluation:
    return evaluate_run(core_run(matter.run))


def core_run(run: StoredRun) -> Run:
    """The run as the core computes with it: current readings, the history beside them."""
    method = method_named(run.method)
    trials = [TrialRecord(trial.label, _entries(run, trial)) for trial in run.trials if trial.position > 0]
    shared = [_entries(run, trial) for trial in run.trials if trial.position == 0]
    return Run(
        method=method,
        options=_options_of(run.method, json.dumps(run.options)),
        trials=tuple(trials),
        half_widths={
            name: parse_half_width(row["half_width"], INSTRUMENTS[name]) for name, row in run.instruments.items()
        },
        shared=shared[0] if shared else {},
        planned={name: _window(run.method, name, row) for name, row in run.planned.items()},
        observations=tuple(
            Observation(row.tag, row.text, iso(row.at), row.by or None, row.trial or None) for row in run.observations
        ),
        title=run.title,
        note=run.note,
        procedure=ProcedureUse(run.procedure.name, run.procedure.version, run.schools),
    )


@lru_cache(maxsize=256)
def _options_of(method: str, text: str) -> Options:
    """A run's options, which never change once it has started."""
    return parse_options(method_named(method), json.loads(text))


def _window(method: str, name: str, row: Mapping[str, str]) -> Window:
    definition = reading_definition(method_named(method), name)
    dimension = definition.dimension if definition else "mass"
    return Window(**{key: parse_reading(text, dimension) for key, text in row.items()})


def _entries(run: StoredRun, trial: StoredTrial) -> dict[str, tuple[Entry, ...]]:
    found: dict[str, list[StoredReading]] = {}
    for row in trial.current:
        found.setdefault(row.slot, []).append(row)
    return {
        slot: tuple(_entry(run, trial, row) for row in sorted(rows, key=lambda row: row.position))
        for slot, rows in found.items()
    }


def _entry(run: StoredRun, trial: StoredTrial, row: StoredReading) -> Entry:
    definition = reading_definition(method_named(run.method), row.slot)
    dimension = definition.dimension if definition else "mass"
    old = trial.reading(row.supersedes) if row.supersedes else None
    return Entry(
        parse_reading(with_unit(row.text, row.unit), dimension),
        at=iso(row.at),
        by=row.by or None,
        instrument=row.instrument or None,
        corrects=with_unit(old.text, old.unit) if old else None,
        reason=row.reason or None,
    )


def with_unit(text: str, unit: str) -> str:
    """A stored figure with its unit, as a run file writes it; text that bears its unit already stays as it is."""
    return text if bears_unit(text) else f"{text} {unit}"


def iso(moment: datetime) -> str:
    """A moment as ISO 8601 in UTC."""
    return moment.astimezone(UTC).isoformat().replace("+00:00", "Z")


def run_file(run: StoredRun) -> dict[str, Any]:
    """The run as a run file."""
    return run_document(core_run(run))


def import_run(session: Session, now: datetime, run: Run) -> StoredRun:
    """Keep a parsed run file as a new run, corrections and all."""
    row = _procedure_for(session, run)
    bench = session.scalars(select(Bench).order_by(Bench.id).limit(1)).one()
    document = run_document(run)
    kept = RunRow(
        uuid=str(uuid4()),
        day_id=the_day(session, now.astimezone(UTC).date()).id,
        bench_id=bench.id,
        procedure_id=row.id,
        method=run.method.name,
        title=run.title or run.method.title,
        note=run.note,
        options=document.get("options", {}),
        schools=_schools(row, run),
        instruments=document.get("instruments", {}),
        planned=document.get("planned", {}),
        balance="",
        created_at=now,
        changed_at=now,
        version=1,
    )
    session.add(kept)
    records = [(0, "shared", run.shared)] if run.shared else []
    records += [(index, trial.label, trial.entries) for index, trial in enumerate(run.trials, start=1)]
    for position, label, entries in records:
        trial = TrialRow(position=position, label=label)
        kept.trials.append(trial)
        for slot, rows in entries.items():
            for place, entry in enumerate(rows, start=1):
                _import_entry(trial, slot, place, entry, now)
    for seen in run.observations:
        at = _moment(seen.at, now)
        kept.observations.append(
            ObservationRow(
                uuid=str(uuid4()), trial=seen.trial or "", at=at, by=seen.by or "", tag=seen.tag[:60], text=seen.text
            )
        )
    session.flush()
    return find_run(session, kept.uuid)


def _procedure_for(session: Session, run: Run) -> ProcedureRow:
    if run.procedure is not None:
        wanted = select(ProcedureRow).where(
            ProcedureRow.name == run.procedure.name,
            ProcedureRow.version == run.procedure.version,
            ProcedureRow.method == run.method.name,
        )
        row = session.scalar(wanted)
        if row is not None:
            return row
    return _procedure(session, run.method.name, None)


def _schools(row: ProcedureRow, run: Run) -> dict[str, str]:
    """The schools that the file names as far as the procedure knows them, the weighing from its readings."""
    procedure = Procedure.model_validate(row.body)
    given = dict(run.procedure.schools) if run.procedure else {}
    known = {
        name: answer
        for name, answer in given.items()
        if name in procedure.schools and answer in procedure.schools[name].choices
    }
    names = {name for trial in run.trials for name in trial.entries} | set(run.shared)
    if "weighing" in procedure.schools and "weighing" not in known:
        net = run.method.planned.name if run.method.planned else ""
        wanted = "tare" if net in names else "boat" if f"{net}_gross" in names else "gross"
        if wanted in procedure.schools["weighing"].choices:
            known["weighing"] = wanted
    return procedure.chosen(known)


def _import_entry(trial: TrialRow, slot: str, position: int, entry: Entry, now: datetime) -> None:
    at = _moment(entry.at, now)
    common = {"slot": slot, "position": position, "by": entry.by or "", "instrument": entry.instrument or "", "at": at}
    before: ReadingRow | None = None
    if entry.corrects:
        unit = entry.reading.unit.symbol
        before = ReadingRow(
            uuid=str(uuid4()), revision=0, text=entry.corrects, unit=unit, reason="", doubt="", **common
        )
        trial.readings.append(before)
    trial.readings.append(
        ReadingRow(
            uuid=str(uuid4()),
            revision=1 if before else 0,
            supersedes=before,
            text=entry.reading.text,
            unit=entry.reading.unit.symbol,
            reason=entry.reason or "",
            doubt="",
            **common,
        )
    )


def _moment(text: str | None, now: datetime) -> datetime:
    if text is None:
        return now
    moment = datetime.fromisoformat(text)
    return moment if moment.tzinfo else moment.replace(tzinfo=UTC)
