"""A run as it lies in the store: immutable records, so that one read can serve many requests.

A change makes a new record that holds one row more; rows are never altered or taken away.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from functools import cached_property
from typing import Any


@dataclass(frozen=True, slots=True)
class StoredReading:
    """One typed reading. `supersedes` is the UUID of the reading that it corrects; `half_width` is the instrument's, as
    typed, where it is another than the run's own.
    """

    uuid: str
    slot: str
    position: int
    revision: int
    supersedes: str | None
    text: str
    unit: str
    instrument: str
    at: datetime
    by: str
    reason: str
    doubt: str
    half_width: str = ""


@dataclass(frozen=True, eq=False)
class StoredTrial:
    """One trial; position 0 holds the readings that all trials share. `id` is 0 until it is kept."""

    id: int
    position: int
    label: str
    readings: tuple[StoredReading, ...] = ()

    @cached_property
    def current(self) -> tuple[StoredReading, ...]:
        """The readings that no correction has superseded."""
        superseded = {row.supersedes for row in self.readings}
        return tuple(row for row in self.readings if row.uuid not in superseded)

    def reading(self, uuid: str) -> StoredReading | None:
        """The reading with this UUID, superseded or not."""
        return next((row for row in self.readings if row.uuid == uuid), None)


@dataclass(frozen=True, slots=True)
class StoredObservation:
    """Something seen at the bench."""

    uuid: str
    trial: str
    at: datetime
    by: str
    tag: str
    text: str


@dataclass(frozen=True, slots=True)
class StoredStepEvent:
    """A step started (its timer runs), extended or finished."""

    uuid: str
    trial: str
    step: str
    kind: str
    seconds: int
    at: datetime


@dataclass(frozen=True, slots=True)
class StoredSignature:
    """Somebody's name below what stood there: `covers` are the UUIDs of the rows that were read and signed.

    `record` is the hash of those rows and of how the run was started, `seal` that of this signature chained to the
    one before; `results` are the answers as they stood, `format` says what was hashed (service/sealing.py).
    """

    uuid: str
    name: str
    at: datetime
    covers: tuple[str, ...]
    results: Mapping[str, Any]
    record: str
    seal: str
    format: int = 1


@dataclass(frozen=True, eq=False)
class StoredProcedure:
    """The version of a procedure that a run froze."""

    id: int
    name: str
    version: int
    body: Mapping[str, Any]


@dataclass(frozen=True, eq=False)
class StoredRun:
    """One run with all that was recorded. `version` counts its changes."""

    id: int
    uuid: str
    version: int
    title: str
    note: str
    method: str
    options: Mapping[str, Any]
    schools: Mapping[str, str]
    instruments: Mapping[str, Mapping[str, str]]
    planned: Mapping[str, Mapping[str, str]]
    balance: str
    changed_at: datetime
    bench: str
    section: str
    date: date
    procedure: StoredProcedure
    trials: tuple[StoredTrial, ...] = ()
    observations: tuple[StoredObservation, ...] = ()
    step_events: tuple[StoredStepEvent, ...] = ()
    signatures: tuple[StoredSignature, ...] = ()

    @cached_property
    def own_trials(self) -> tuple[StoredTrial, ...]:
        """The trials in order, without the readings that they share."""
        return tuple(row for row in self.trials if row.position > 0)

    @property
    def shared(self) -> tuple[StoredReading, ...]:
        """The current readings that all trials share."""
        return tuple(reading for row in self.trials if row.position == 0 for reading in row.current)

    def trial(self, label: str) -> StoredTrial | None:
        """The trial with this label."""
        return next((row for row in self.own_trials if row.label == label), None)

    def with_shared(self, reading: StoredReading) -> StoredRun:
        """The run with one reading more that all trials share."""
        held = next((row for row in self.trials if row.position == 0), None)
        if held is not None:
            return self.with_reading(held, reading)
        return replace(self, trials=(StoredTrial(0, 0, "shared", (reading,)), *self.trials))

    def with_trial(self, label: str) -> StoredRun:
        """The run with one trial more."""
        position = 1 + max(row.position for row in self.trials)
        return replace(self, trials=(*self.trials, StoredTrial(0, position, label)))

    def with_reading(self, trial: StoredTrial, reading: StoredReading) -> StoredRun:
        """The run with one reading more."""
        grown = replace(trial, readings=(*trial.readings, reading))
        return replace(self, trials=tuple(grown if row is trial else row for row in self.trials))

    def with_observation(self, observation: StoredObservation) -> StoredRun:
        """The run with one observation more."""
        return replace(self, observations=(*self.observations, observation))

    def with_step_event(self, event: StoredStepEvent) -> StoredRun:
        """The run with one step event more."""
        return replace(self, step_events=(*self.step_events, event))

    def with_signature(self, signature: StoredSignature) -> StoredRun:
        """The run with one signature more."""
        return replace(self, signatures=(*self.signatures, signature))

    def touched(self, now: datetime) -> StoredRun:
        """The run one version on."""
        later = max(now, self.changed_at + timedelta(microseconds=1))
        return replace(self, version=self.version + 1, changed_at=later)
