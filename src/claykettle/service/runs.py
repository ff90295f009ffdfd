"""Finding and listing runs; a run's rows as the core's Run, and as a run file."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime
from functools import lru_cache
from typing import Any

from sqlalchemy.orm import Session

from claykettle.core.errors import NotFound
from claykettle.core.method import Observation, Options, Window
from claykettle.core.methods.registry import method_named
from claykettle.core.quantity import bears_unit, parse_half_width, parse_reading
from claykettle.core.run import (
    INSTRUMENTS,
    Entry,
    Evaluation,
    Procedure,
    ProcedureUse,
    Run,
    TrialRecord,
    evaluate_run,
    reading_definition,
)
from claykettle.formats.run_file import parse_options, run_document
from claykettle.store.records import StoredObservation, StoredProcedure, StoredReading, StoredRun, StoredTrial
from claykettle.store.runs import load_run, load_runs

SIGNED = "signed"
"""The tag under which a signature leaves in a run file."""


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
    """What an evaluation depends on: trials and observations; options never change once a run has started."""

    run_id: int
    trials: tuple[StoredTrial, ...]
    observations: tuple[StoredObservation, ...]
    run: StoredRun = field(compare=False)


def evaluation_of(run: StoredRun) -> Evaluation:
    """The run, evaluated; once for the same readings, however often it is looked at."""
    return _evaluated(_Matter(run.id, run.trials, run.observations, run))


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
        options=options_of(run),
        trials=tuple(trials),
        half_widths={
            name: parse_half_width(row["half_width"], INSTRUMENTS[name]) for name, row in run.instruments.items()
        },
        shared=shared[0] if shared else {},
        planned={name: _window(run, name, row) for name, row in run.planned.items()},
        observations=tuple(
            Observation(row.tag, row.text, iso(row.at), row.by or None, row.trial or None) for row in run.observations
        ),
        title=run.title,
        note=run.note,
        procedure=ProcedureUse(run.procedure.name, run.procedure.version, run.schools),
    )


@lru_cache(maxsize=1024)
def _options_of(started: _Started) -> Options:
    return _same_options(started.run.method, json.dumps(started.run.options))


@lru_cache(maxsize=256)
def _same_options(method: str, text: str) -> Options:
    """One object for equal options: whatever is looked up by them is found without comparing every field."""
    return parse_options(method_named(method), json.loads(text))


def options_of(run: StoredRun) -> Options:
    """The run's options, parsed; they never change once a run has started."""
    return _options_of(_Started(run.uuid, run))


@dataclass(frozen=True)
class _Started:
    """A run, by what never changes of it."""

    uuid: str
    run: StoredRun = field(compare=False)


def _window(run: StoredRun, name: str, row: Mapping[str, str]) -> Window:
    definition = reading_definition(method_named(run.method), name, options_of(run))
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
    definition = reading_definition(method_named(run.method), row.slot, options_of(run))
    dimension = definition.dimension if definition else "mass"
    old = trial.reading(row.supersedes) if row.supersedes else None
    return Entry(
        parse_reading(with_unit(row.text, row.unit), dimension),
        at=iso(row.at),
        by=row.by or None,
        instrument=row.instrument or None,
        corrects=with_unit(old.text, old.unit) if old else None,
        reason=row.reason or None,
        half_width=parse_half_width(row.half_width, dimension) if row.half_width else None,
    )


def with_unit(text: str, unit: str) -> str:
    """A stored figure with its unit, as a run file writes it; text that bears its unit already stays as it is."""
    return text if bears_unit(text) else f"{text} {unit}"


def iso(moment: datetime) -> str:
    """A moment as ISO 8601 in UTC."""
    return moment.astimezone(UTC).isoformat().replace("+00:00", "Z")


def seen_and_signed(run: StoredRun) -> tuple[Observation, ...]:
    """What was seen, and below it each signature with the answers that it stands for: as other programs read it."""
    signed = (
        Observation(SIGNED, f"{'; '.join(row.results.values())}; record {row.record[:16]}", iso(row.at), row.name)
        for row in run.signatures
    )
    return (*core_run(run).observations, *signed)


def run_file(run: StoredRun) -> dict[str, Any]:
    """The run as a run file."""
    return run_document(replace(core_run(run), observations=seen_and_signed(run)))
