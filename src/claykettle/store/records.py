"""A run as it lies in the store: immutable records that hold typed values, so that one read can serve many requests.

A run is parsed once, when it is read: method, options and procedure are the core's own objects from then on, and nobody
above looks a method up by its name or reads an option's text. A change makes a new record that holds one row more; rows
are never altered or taken away.

What follows from a record is worked out when it is first asked for and remembered on the record itself: its evaluation
and the steps of its trials. There is nothing to look up and nothing to expire: a record never changes, so what follows
from it does not either, and it goes when the record goes. A new record begins with nothing, but for one thing: where a
change leaves trials, observations and steps as they are (a name signed), it takes the evaluation along, since that
depends on nothing else.
"""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field, fields, replace
from datetime import UTC, date, datetime, timedelta
from functools import cached_property, lru_cache
from typing import Any, Literal
from uuid import uuid4

from claykettle.core.errors import NotFound, refuse
from claykettle.core.method import Method, Observation, Options, Window
from claykettle.core.quantity import Reading, digits_of, parse_half_width, parse_reading, unit, with_unit
from claykettle.core.run import (
    INSTRUMENTS,
    Change,
    Entry,
    Evaluation,
    NotTaken,
    PlannedStep,
    Procedure,
    ProcedureUse,
    Progress,
    Run,
    StepKind,
    StepMark,
    TrialEvaluation,
    TrialRecord,
    evaluate_run,
    reading_definition,
    reading_labels,
    steps_of,
    usable_readings,
)
from claykettle.core.sheet import ReadingDef

_JUDGED = (
    "trials", "observations", "step_events", "withdrawals", "changes", "options", "schools", "instruments", "planned",
)  # fmt: skip
"""What an evaluation depends on: a change that leaves all of it as it is takes the evaluation along."""


def iso(moment: datetime) -> str:
    """A moment as ISO 8601 in UTC."""
    return moment.astimezone(UTC).isoformat().replace("+00:00", "Z")


@lru_cache(maxsize=8192)
def _parsed(written: str, in_unit: str) -> Reading:
    """A figure as typed, parsed once: every later record of the run holds the same ones."""
    return parse_reading(written, unit(in_unit).dimension)


ReadingState = Literal["taken", "not-taken", "withdrawn"]
"""`not-taken`: declared so, with the reason; `withdrawn`: the figure belongs to another line, and this one is free."""


@dataclass(frozen=True, slots=True)
class StoredReading:
    """One typed reading. `supersedes` is the UUID of the reading that it corrects; `half_width` is the instrument's, as
    typed, where it is another than the run's own. One that is not `taken` has no text.
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
    state: ReadingState = "taken"

    @property
    def reading(self) -> Reading:
        """The typed value."""
        return _parsed(self.written, self.unit)

    @property
    def written(self) -> str:
        """The figure with its unit, as a run file writes it."""
        return with_unit(self.text, self.unit)

    @property
    def digits(self) -> str:
        """The figure without its unit, as typed."""
        return digits_of(self.text)

    def suggests(self, definition: ReadingDef) -> str:
        """The figure as it would be typed for another reading: with its unit where that one is read in another."""
        return self.digits if definition.unit == self.unit else self.written

    def entry(self, old: StoredReading | None) -> Entry:
        """The reading as the core knows it; `old` is the one that it corrects."""
        return Entry(
            self.reading,
            at=iso(self.at),
            by=self.by or None,
            instrument=self.instrument or None,
            corrects=old.written if old else None,
            reason=self.reason or None,
            half_width=parse_half_width(self.half_width, unit(self.unit).dimension) if self.half_width else None,
            moment=self.at.timestamp(),
        )


@dataclass(frozen=True, eq=False)
class StoredTrial:
    """One trial; position 0 holds the readings that all trials share. `id` is 0 until it is kept."""

    id: int
    position: int
    label: str
    readings: tuple[StoredReading, ...] = ()

    @cached_property
    def _standing(self) -> tuple[StoredReading, ...]:
        superseded = {row.supersedes for row in self.readings}
        return tuple(row for row in self.readings if row.uuid not in superseded)

    @cached_property
    def current(self) -> tuple[StoredReading, ...]:
        """The readings that were taken and that no correction has superseded."""
        return tuple(row for row in self._standing if row.state == "taken")

    @cached_property
    def left(self) -> tuple[StoredReading, ...]:
        """What was declared not taken, and stands so."""
        return tuple(row for row in self._standing if row.state == "not-taken")

    @property
    def row_uuid(self) -> str:
        """The name under which the trial may be taken back."""
        return f"trial {self.position}"

    @cached_property
    def not_taken(self) -> Mapping[str, tuple[NotTaken, ...]]:
        """The same as the core knows it, by slot in order."""
        found: dict[str, list[NotTaken]] = {}
        for row in sorted(self.left, key=lambda row: row.position):
            said = NotTaken(row.reason, row.position, iso(row.at), row.by or None)
            found.setdefault(row.slot, []).append(said)
        return {slot: tuple(rows) for slot, rows in found.items()}

    @cached_property
    def record(self) -> TrialRecord:
        """The trial as the core knows it: the same one for as long as nothing of it changes."""
        return TrialRecord(self.label, self.entries, self.not_taken)

    def next_position(self, slot: str) -> int:
        """The place in a series, from 1, that the next figure of a slot takes."""
        rows = (*self.current, *self.left)
        return 1 + max((row.position for row in rows if row.slot == slot), default=0)

    def next_revision(self, slot: str, position: int) -> int:
        """The number of the next row that stands in this place."""
        rows = (row.revision for row in self.readings if (row.slot, row.position) == (slot, position))
        return 1 + max(rows, default=-1)

    def reading(self, uuid: str) -> StoredReading | None:
        """The reading with this UUID, superseded or not."""
        return next((row for row in self.readings if row.uuid == uuid), None)

    def correction_of(self, uuid: str) -> StoredReading | None:
        """The reading that corrects the one with this UUID, None while it stands."""
        return next((row for row in self.readings if row.supersedes == uuid), None)

    @cached_property
    def entries(self) -> Mapping[str, tuple[Entry, ...]]:
        """The current readings as the core knows them, by slot in the order of weighing."""
        found: dict[str, list[StoredReading]] = {}
        for row in sorted(self.current, key=lambda row: row.position):
            found.setdefault(row.slot, []).append(row)
        order = dict.fromkeys(row.slot for row in self.current)
        return {slot: tuple(self._entry(row) for row in found[slot]) for slot in order}

    def _entry(self, row: StoredReading) -> Entry:
        old = self.reading(row.supersedes) if row.supersedes else None
        return row.entry(old if old is not None and old.state == "taken" else None)


@dataclass(frozen=True, slots=True)
class StoredObservation:
    """Something seen at the bench."""

    uuid: str
    trial: str
    at: datetime
    by: str
    tag: str
    text: str

    @property
    def observation(self) -> Observation:
        """As the core knows it."""
        return Observation(self.tag, self.text, iso(self.at), self.by or None, self.trial or None)


_KINDS: Mapping[str, StepKind] = {
    "finished": "done",
    "skipped": "skipped",
    "started": "started",
    "extended": "extended",
}


def stored_kind(kind: StepKind) -> str:
    """The word under which the store keeps what was done about a step."""
    return next(word for word, meant in _KINDS.items() if meant == kind)


@dataclass(frozen=True, slots=True)
class StoredStepEvent:
    """A step started (its timer runs), extended, finished or skipped; `count` is how often, 0 where nobody counts."""

    uuid: str
    trial: str
    step: str
    kind: str
    seconds: int
    at: datetime
    by: str = ""
    count: int = 0
    reason: str = ""

    @property
    def mark(self) -> StepMark:
        """As the core knows it."""
        step, _, number = self.step.partition("#")
        kind = _KINDS[self.kind]
        return StepMark(
            self.trial,
            step,
            kind,
            int(number or 1),
            iso(self.at),
            self.by or None,
            self.count or None,
            self.reason or None,
            self.at.timestamp(),
        )


@dataclass(frozen=True, slots=True)
class StoredChange:
    """Something that was decided otherwise: `options.accepted`, `schools.weighing`, `instruments.balance`; values as
    they are stored, None where there was, or is, nothing.
    """

    uuid: str
    what: str
    before: Any
    after: Any
    reason: str
    at: datetime
    by: str

    @property
    def change(self) -> Change:
        """As the core knows it."""
        return Change(self.what, _text(self.before), _text(self.after), self.reason, iso(self.at), self.by or None)


DAY = "day"
"""What is changed where a run is put on another day; before and after are the day's `date` and its `number` here."""


def _text(value: Any) -> str | None:
    if isinstance(value, dict) and value.keys() == {"date", "number"}:
        return str(value["date"])
    return value if value is None or isinstance(value, str) else json.dumps(value, ensure_ascii=False)


@dataclass(frozen=True, slots=True)
class StoredWithdrawal:
    """A tap that was taken back: the row with the UUID `row_uuid`, or the trial (`trial 2`, by its position), counts no
    more.
    """

    uuid: str
    row_uuid: str
    reason: str
    at: datetime
    by: str


@dataclass(frozen=True, slots=True)
class StoredSignature:
    """Somebody's name below what stood there: `covers` are the UUIDs of the rows that were read and signed.

    `record` is the hash of those rows and of how the run was started, `seal` that of this signature chained to the
    one before; `results` are the answers as they stood, `format` says what was hashed (sealing.py).
    """

    uuid: str
    name: str
    at: datetime
    covers: tuple[str, ...]
    results: Mapping[str, Any]
    record: str
    seal: str
    format: int = 1


@dataclass(frozen=True)
class Before:
    """What was worked out of a run before something was added to it: an evaluation, and the steps of its trials, each
    beside the evaluated trial that they follow from.
    """

    evaluation: Evaluation | None = None
    steps: Mapping[str, tuple[TrialEvaluation, tuple[PlannedStep, ...]]] = field(default_factory=dict)

    def then(self, run: StoredRun) -> Before:
        """The same after a step further: what that run has worked out by now counts."""
        evaluation: Evaluation | None = vars(run).get("evaluation")
        if evaluation is None:
            return self
        worked_out: Mapping[str, tuple[PlannedStep, ...]] = vars(run).get("_steps", {})
        steps = {label: (evaluation.trial(label), steps) for label, steps in worked_out.items()}
        return Before(evaluation, {**self.steps, **steps})


@dataclass(frozen=True, eq=False)
class StoredProcedure:
    """The version of a procedure that a run froze."""

    id: int
    name: str
    version: int
    course: Procedure


@dataclass(frozen=True, eq=False)
class StoredRun:
    """One run with all that was recorded. `version` counts its changes; `written_options` are the options to the letter
    as they were stored, which is what a signature speaks of.
    """

    id: int
    uuid: str
    version: int
    title: str
    note: str
    method: Method
    options: Options
    written_options: Mapping[str, Any]
    schools: Mapping[str, str]
    instruments: Mapping[str, Mapping[str, str]]
    planned: Mapping[str, Mapping[str, str]]
    balance: str
    changed_at: datetime
    bench: str
    section: str
    date: date
    procedure: StoredProcedure
    section_id: int
    is_practised: bool
    day_id: int
    bench_id: int
    trials: tuple[StoredTrial, ...] = ()
    observations: tuple[StoredObservation, ...] = ()
    step_events: tuple[StoredStepEvent, ...] = ()
    signatures: tuple[StoredSignature, ...] = ()
    changes: tuple[StoredChange, ...] = ()
    withdrawals: tuple[StoredWithdrawal, ...] = ()
    upto: Mapping[str, int] = field(default_factory=dict)
    """The highest number of a row of each table that it holds: what was added since has a higher one."""

    # What it holds

    @cached_property
    def withdrawn(self) -> Mapping[str, StoredWithdrawal]:
        """What was taken back, by the UUID of the row that counts no more."""
        return {row.row_uuid: row for row in self.withdrawals}

    @cached_property
    def seen(self) -> tuple[StoredObservation, ...]:
        """The observations that count."""
        return tuple(row for row in self.observations if row.uuid not in self.withdrawn)

    @cached_property
    def marks(self) -> tuple[StoredStepEvent, ...]:
        """What was marked of the steps, and counts."""
        return tuple(row for row in self.step_events if row.uuid not in self.withdrawn)

    @property
    def course(self) -> Procedure:
        """The procedure that the run follows, in the version that it froze."""
        return self.procedure.course

    @cached_property
    def own_trials(self) -> tuple[StoredTrial, ...]:
        """The trials in order, without the readings that they share and without those that were taken back."""
        return tuple(row for row in self.trials if row.position > 0 and row.row_uuid not in self.withdrawn)

    @property
    def shared(self) -> tuple[StoredReading, ...]:
        """The current readings that all trials share."""
        return tuple(reading for row in self.trials if row.position == 0 for reading in row.current)

    @property
    def doubts(self) -> tuple[str, ...]:
        """The questions about current readings that somebody answered with *it is so*."""
        return tuple(reading.doubt for row in self.trials for reading in row.current if reading.doubt)

    def trial(self, label: str) -> StoredTrial | None:
        """The trial with this label."""
        return next((row for row in self.own_trials if row.label == label), None)

    def trial_named(self, label: str) -> StoredTrial:
        """The trial with this label. Raises NotFound."""
        trial = self.trial(label)
        if trial is None:
            raise NotFound(f"This run has no trial '{label[:40]}'.")
        return trial

    def trial_before(self, label: str) -> StoredTrial | None:
        """The trial before the one with this label, None for the first."""
        index = [row.label for row in self.own_trials].index(label)
        return self.own_trials[index - 1] if index else None

    @property
    def next_label(self) -> str:
        """The label of the trial that would come next: the first number that is free."""
        number = len(self.own_trials) + 1
        while self.trial(str(number)) is not None:
            number += 1
        return str(number)

    def definition(self, slot: str) -> ReadingDef | None:
        """What a slot reads under the run's options, None for one that the method does not know."""
        return reading_definition(self.method, slot, self.options)

    def definition_of(self, slot: str) -> ReadingDef:
        """What a slot reads. Raises Refusal `unknown-field` at `slot`."""
        found = self.definition(slot)
        if found is None:
            raise refuse("unknown-field", f"'{slot[:40]}' is not a reading of this method.", "slot")
        return found

    def events(self, trial: str) -> list[StoredStepEvent]:
        """The step events of a trial, by its label."""
        return self._marks_by_trial.get(trial, [])

    # What follows from it

    @cached_property
    def core(self) -> Run:
        """The run as the core computes with it: current readings, the history beside them."""
        shared = next((trial for trial in self.trials if trial.position == 0), None)
        return Run(
            method=self.method,
            options=self.options,
            trials=tuple(trial.record for trial in self.own_trials),
            half_widths={
                kind: parse_half_width(row["half_width"], INSTRUMENTS[kind]) for kind, row in self.instruments.items()
            },
            shared=shared.entries if shared else {},
            planned={slot: self._window(slot, row) for slot, row in self.planned.items()},
            observations=tuple(row.observation for row in self.seen),
            title=self.title,
            note=self.note,
            procedure=ProcedureUse(self.procedure.name, self.procedure.version, self.schools),
            steps=tuple(row.mark for row in self.marks),
            course=self.course,
            shared_not_taken=shared.not_taken if shared else {},
            changes=self._history,
            practised=self.is_practised,
        )

    @property
    def _history(self) -> tuple[Change, ...]:
        """What was decided otherwise, and which figures were moved from their line or set aside, in time."""
        rows = [(row.at, row.change) for row in self.changes]
        for trial in self.trials:
            for row in trial.readings:
                if row.state == "withdrawn":
                    old = trial.reading(row.supersedes) if row.supersedes else None
                    what = f"readings.{trial.label}.{row.slot}.{row.position}"
                    text = old.written if old is not None and old.state == "taken" else None
                    rows.append((row.at, Change(what, text, row.text or None, row.reason, iso(row.at), row.by or None)))
        return tuple(change for _, change in sorted(rows, key=lambda pair: pair[0]))

    def _window(self, slot: str, row: Mapping[str, str]) -> Window:
        definition = self.definition(slot)
        dimension = definition.dimension if definition else "mass"
        return Window(**{key: parse_reading(text, dimension) for key, text in row.items()})

    @cached_property
    def evaluation(self) -> Evaluation:
        """The run, evaluated; what did not change is taken from the run of which this one was made."""
        return evaluate_run(self.core, self.made_from.evaluation)

    @cached_property
    def made_from(self) -> Before:
        """What was worked out of the run of which this one was made; of a run as it is read, nothing."""
        return Before()

    @cached_property
    def _steps(self) -> dict[str, tuple[PlannedStep, ...]]:
        """The steps of the trials that were asked for; those of an unchanged trial are the same."""
        known, now = self.made_from.steps, self.evaluation.trials
        return {row.label: known[row.label][1] for row in now if row.label in known and known[row.label][0] is row}

    @cached_property
    def _marks_by_trial(self) -> Mapping[str, list[StoredStepEvent]]:
        found: dict[str, list[StoredStepEvent]] = {}
        for event in self.marks:
            found.setdefault(event.trial, []).append(event)
        return found

    def steps(self, trial: str) -> tuple[PlannedStep, ...]:
        """The steps of a trial (by its label) under the run's procedure, from what has been weighed and marked."""
        if trial not in self._steps:
            self._steps[trial] = tuple(steps_of(self.course, self.schools, self._progress(trial)))
        return self._steps[trial]

    def step_now(self, trial: str) -> PlannedStep | None:
        """The one step of a trial that is to be done now, None where all is done."""
        return next((row for row in self.steps(trial) if row.state == "now"), None)

    def _progress(self, trial: str) -> Progress:
        place = self.trial_named(trial)
        own = place.current
        left = (*place.left, *(row for one in self.trials if one.position == 0 for row in one.left))
        taken: dict[str, int] = {}
        for row in (*self.shared, *own, *left):
            taken[row.slot] = max(taken.get(row.slot, 0), row.position)
        return Progress(
            taken,
            {(verdict.code, verdict.about) for verdict in self.evaluation.trial(trial).verdicts},
            {event.step for event in self.events(trial) if event.kind in ("finished", "skipped")},
            {row.slot for row in self.shared} - {row.slot for row in own},
            usable_readings(self.method, self.options, self.evaluation.trial(trial).trial.sheet.shape.missed),
            Counter(row.tag for row in self.seen if row.trial in ("", trial)),
            reading_labels(self.method, self.options),
            self.method.facts(self.options),
            {(row.slot, row.position) for row in left},
        )

    @property
    def current_trial(self) -> StoredTrial:
        """The first trial that has something left to weigh, else the last one."""
        for trial in self.own_trials:
            if any(row.step.reads and row.state in ("now", "ahead") for row in self.steps(trial.label)):
                return trial
        return self.own_trials[-1]

    # What a change makes of it

    def _changed(self, **fields: Any) -> StoredRun:
        after = replace(self, **fields)
        vars(after)["made_from"] = self.made_from.then(self)
        if all(getattr(after, name) is getattr(self, name) for name in _JUDGED):
            vars(after).update({name: made for name, made in vars(self).items() if name in ("core", "evaluation")})
        return after

    def continuing(self, older: StoredRun) -> StoredRun:
        """The run with what was worked out of an older version of it, as far as that still holds."""
        vars(self)["made_from"] = older.made_from.then(older)
        return self

    def with_shared(self, reading: StoredReading) -> StoredRun:
        """The run with one reading more that all trials share."""
        held = next((row for row in self.trials if row.position == 0), None)
        if held is not None:
            return self.with_reading(held, reading)
        return self._changed(trials=(StoredTrial(0, 0, "shared", (reading,)), *self.trials))

    def with_trial(self, label: str) -> StoredRun:
        """The run with one trial more."""
        position = 1 + max(row.position for row in self.trials)
        return self._changed(trials=(*self.trials, StoredTrial(0, position, label)))

    def with_reading(self, trial: StoredTrial, reading: StoredReading) -> StoredRun:
        """The run with one reading more."""
        grown = replace(trial, readings=(*trial.readings, reading))
        return self._changed(trials=tuple(grown if row is trial else row for row in self.trials))

    def without(self, trial: StoredTrial, reading: StoredReading) -> StoredRun:
        """The run before a reading, and what came after it in its series, was taken: what it is held against."""
        rest = tuple(r for r in trial.readings if r.slot != reading.slot or r.position < reading.position)
        return self._changed(trials=tuple(replace(row, readings=rest) if row is trial else row for row in self.trials))

    def with_observation(self, observation: StoredObservation) -> StoredRun:
        """The run with one observation more."""
        return self._changed(observations=(*self.observations, observation))

    def with_step_event(self, event: StoredStepEvent) -> StoredRun:
        """The run with one step event more."""
        return self._changed(step_events=(*self.step_events, event))

    def with_change(self, change: StoredChange, **fields: Any) -> StoredRun:
        """The run with one change more; `fields` are those of the run that it makes others."""
        return self._changed(changes=(*self.changes, change), **fields)

    def with_withdrawal(self, withdrawal: StoredWithdrawal) -> StoredRun:
        """The run with one row less that counts."""
        return self._changed(withdrawals=(*self.withdrawals, withdrawal))

    def with_signature(self, signature: StoredSignature) -> StoredRun:
        """The run with one signature more."""
        return self._changed(signatures=(*self.signatures, signature))

    def with_kept_trials(self, trials: tuple[StoredTrial, ...]) -> StoredRun:
        """The same run, its new trials under the keys that the store gave them."""
        after = replace(self, trials=trials)
        kept = ("core", "evaluation", "made_from")
        vars(after).update({name: made for name, made in vars(self).items() if name in kept})
        return after

    def as_of(self, moment: datetime) -> StoredRun:
        """The run with the readings that stood at a moment: without figures and corrections that came later."""
        if all(row.at <= moment for trial in self.trials for row in trial.readings):
            return self
        then = tuple(
            replace(trial, readings=tuple(row for row in trial.readings if row.at <= moment)) for trial in self.trials
        )
        return self._changed(trials=then)

    def known_upto(self, upto: Mapping[str, int]) -> StoredRun:
        """The same run, its rows under the numbers that the store gave them."""
        after = replace(self, upto=upto)
        vars(after).update({name: made for name, made in vars(self).items() if name not in _FIELDS})
        return after

    def touched(self, now: datetime) -> StoredRun:
        """The run one version on."""
        later = max(now, self.changed_at + timedelta(microseconds=1))
        return self._changed(version=self.version + 1, changed_at=later)

    def with_due_timer(self, trial: str, now: datetime) -> StoredRun:
        """The run with the timer started of a trial's step that begins by itself, such as cooling when the flame is
        off.
        """
        step = self.step_now(trial)
        if step is None or step.step.timer is None or not step.step.timer.auto or step.minutes is None:
            return self
        if any(event.step == step.key for event in self.events(trial)):
            return self
        event = StoredStepEvent(str(uuid4()), trial, step.key, "started", round(step.minutes * 60), now)
        after = self.with_step_event(event)
        # the clock of a step that is still to be done says nothing of the weighings that are there
        vars(after).update({name: made for name, made in vars(self).items() if name == "evaluation"})
        return after


_FIELDS = frozenset(row.name for row in fields(StoredRun))
"""What a run holds, other than what was worked out of it."""
