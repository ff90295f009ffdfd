"""Keeping a run file as a new run, corrections and all."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime
from uuid import uuid4

from sqlalchemy import select

from claykettle.core.errors import refuse
from claykettle.core.method import Observation
from claykettle.core.quantity import unit
from claykettle.core.run import (
    Change,
    Entry,
    NotTaken,
    Procedure,
    Run,
    StepMark,
    TrialRecord,
    minutes_of,
    reading_definition,
)
from claykettle.formats.run_file import half_width_text, run_document
from claykettle.service.runs.archiving import bench_named
from claykettle.service.runs.signing import SIGNED
from claykettle.service.shelf.day import FIRST_BENCH, the_day
from claykettle.service.shelf.procedures import procedure_for
from claykettle.service.visit import Visit
from claykettle.store.records import StoredProcedure, StoredRun, stored_kind
from claykettle.store.runs import stored_procedure
from claykettle.store.tables import (
    Bench,
    ChangeRow,
    ObservationRow,
    ProcedureRow,
    ReadingRow,
    RunRow,
    StepEventRow,
    TrialRow,
)

SIGNED_ELSEWHERE = "signed elsewhere"


def import_run(visit: Visit, run: Run) -> StoredRun:
    """Keep a parsed run file as a new run.

    Raises Refusal `practised` for one of a simulated bench, but where the caller rehearses.
    """
    if run.practised and not visit.caller.rehearses:
        text = "This run was practised at a simulated bench: no class keeps it. Open it in Practice."
        raise refuse("practised", text, "practised")
    kept = _row(visit, run)
    shared = TrialRecord("shared", run.shared, run.shared_not_taken)
    records = [(0, shared)] if run.shared or run.shared_not_taken else []
    records += list(enumerate(run.trials, start=1))
    kept.trials += [_trial(run, position, record, visit.now) for position, record in records]
    kept.changes += [_change(change, visit.now) for change in run.changes]
    kept.observations += [_observation(seen, visit.now) for seen in run.observations]
    course = _procedure_for(visit, run).course
    kept.step_events += [_step_event(mark, course, visit.now) for mark in run.steps]
    return visit.begun(kept)


def _row(visit: Visit, run: Run) -> RunRow:
    procedure = _procedure_for(visit, run)
    document = run_document(run)
    return RunRow(
        uuid=str(uuid4()),
        day_id=the_day(visit).id,
        bench_id=_a_bench(visit).id,
        procedure_id=procedure.id,
        method=run.method.name,
        title=run.title or run.method.title,
        note=run.note,
        options=document.get("options", {}),
        schools=_schools(procedure.course, run),
        instruments=document.get("instruments", {}),
        planned=document.get("planned", {}),
        balance="",
        created_at=visit.now,
        changed_at=visit.now,
        version=1,
    )


def _a_bench(visit: Visit) -> Bench:
    """The first bench in use, since a run file names none; in a room without one, that of the first bench's name."""
    query = select(Bench).where(~Bench.retired, ~Bench.is_simulated).order_by(Bench.id).limit(1)
    return visit.session.scalar(query) or bench_named(visit, FIRST_BENCH)


def _procedure_for(visit: Visit, run: Run) -> StoredProcedure:
    """The procedure that the file names in its version, where it is here; else the method's latest."""
    if run.procedure is not None:
        wanted = select(ProcedureRow.id).where(
            ProcedureRow.name == run.procedure.name,
            ProcedureRow.version == run.procedure.version,
            ProcedureRow.method == run.method.name,
        )
        number = visit.session.scalar(wanted)
        if number is not None:
            return stored_procedure(visit.session, number)
    return procedure_for(visit, run.method.name, None)


def _schools(procedure: Procedure, run: Run) -> dict[str, str]:
    """The schools that the file names as far as the procedure knows them, the weighing from its readings."""
    given = run.procedure.schools if run.procedure else {}
    known = {
        name: answer
        for name, answer in given.items()
        if name in procedure.schools and answer in procedure.schools[name].choices
    }
    if "weighing" in procedure.schools and "weighing" not in known:
        wanted = _weighing(run)
        if wanted in procedure.schools["weighing"].choices:
            known["weighing"] = wanted
    return procedure.chosen(known)


def _weighing(run: Run) -> str:
    """How the file's sample was weighed, by the names of its readings."""
    names = {name for trial in run.trials for name in trial.entries} | set(run.shared)
    net = run.method.planned.name if run.method.planned else ""
    return "tare" if net in names else "boat" if f"{net}_gross" in names else "gross"


def _trial(run: Run, position: int, record: TrialRecord, now: datetime) -> TrialRow:
    trial = TrialRow(position=position, label=record.label)
    for slot in dict.fromkeys((*record.entries, *record.not_taken)):
        left = record.not_taken.get(slot, ())
        rows = record.entries.get(slot, ())
        taken = {row.position for row in left}
        places = [place for place in range(1, len(rows) + len(left) + 1) if place not in taken]
        for place, entry in zip(places, rows, strict=False):
            trial.readings.extend(_readings(slot, place, entry, now))
        trial.readings.extend(_left(run, slot, row, now) for row in left)
    return trial


def _left(run: Run, slot: str, row: NotTaken, now: datetime) -> ReadingRow:
    definition = reading_definition(run.method, slot, run.options)
    return ReadingRow(
        uuid=str(uuid4()),
        slot=slot,
        position=row.position,
        revision=0,
        text="",
        unit=unit(definition.unit).symbol if definition is not None else "g",
        instrument="",
        at=_moment(row.at, now),
        by=row.by or "",
        reason=row.reason,
        doubt="",
        state="not-taken",
    )


def _change(change: Change, now: datetime) -> ChangeRow:
    return ChangeRow(
        uuid=str(uuid4()),
        what=change.what,
        before=change.before,
        after=change.after,
        reason=change.reason,
        at=_moment(change.at, now),
        by=change.by or "",
    )


def _readings(slot: str, position: int, entry: Entry, now: datetime) -> Iterator[ReadingRow]:
    """The row of an entry, behind that of the figure which it corrects."""
    common = {
        "slot": slot,
        "position": position,
        "by": entry.by or "",
        "instrument": entry.instrument or "",
        "at": _moment(entry.at, now),
        "half_width": half_width_text(entry),
        "unit": entry.reading.unit.symbol,
        "doubt": "",
    }
    before: ReadingRow | None = None
    if entry.corrects:
        before = ReadingRow(uuid=str(uuid4()), revision=0, text=entry.corrects, reason="", **common)
        yield before
    yield ReadingRow(
        uuid=str(uuid4()),
        revision=1 if before else 0,
        supersedes=before,
        text=entry.reading.text,
        reason=entry.reason or "",
        **common,
    )


def _observation(seen: Observation, now: datetime) -> ObservationRow:
    return ObservationRow(
        uuid=str(uuid4()),
        trial=seen.trial or "",
        at=_moment(seen.at, now),
        by=seen.by or "",
        # whoever signed did so below another record: here it is what a file says
        tag=SIGNED_ELSEWHERE if seen.tag.strip().casefold() == SIGNED else seen.tag[:60],
        text=seen.text,
    )


def _step_event(mark: StepMark, course: Procedure, now: datetime) -> StepEventRow:
    step, key = course.step(mark.step, mark.round)
    timer = step.timer if step is not None else None
    minutes = {"started": minutes_of(step, mark.round) if step else None, "extended": timer.more if timer else None}
    return StepEventRow(
        uuid=str(uuid4()),
        trial=mark.trial,
        step=key,
        kind=stored_kind(mark.kind),
        seconds=round(60 * (minutes.get(mark.kind) or 0.0)),
        at=_moment(mark.at, now),
        by=mark.by or "",
        count=mark.n or 0,
        reason=mark.reason or "",
    )


def _moment(text: str | None, now: datetime) -> datetime:
    if text is None:
        return now
    moment = datetime.fromisoformat(text)
    return moment if moment.tzinfo else moment.replace(tzinfo=UTC)
