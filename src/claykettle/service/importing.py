"""Keeping a run file as a new run, corrections and all."""

from __future__ import annotations

from datetime import UTC, datetime
from uuid import uuid4

from sqlalchemy import select
from sqlalchemy.orm import Session

from claykettle.core.run import Entry, Procedure, Run
from claykettle.formats.run_file import half_width_text, run_document
from claykettle.service.runs import find_run
from claykettle.service.shelf import procedure_for, the_day
from claykettle.store.records import StoredRun
from claykettle.store.tables import Bench, ObservationRow, ProcedureRow, ReadingRow, RunRow, TrialRow


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
    return procedure_for(session, run.method.name, None)


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
    common["half_width"] = half_width_text(entry)
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
