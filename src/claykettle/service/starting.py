"""Starting a run: every fault of the form at once, or a run with its first trial and the room's readings in it."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Any

from sqlalchemy.orm import Session

from claykettle.core.errors import Fault, Refusal
from claykettle.core.method import Method, Options
from claykettle.core.methods.registry import method_named
from claykettle.core.quantity import Reading, parse_reading
from claykettle.core.run import Procedure, course_faults, reading_definition, slots_of, usable_readings
from claykettle.core.wording import fault_in_name
from claykettle.formats.run_file import parse_options
from claykettle.service.room import with_room
from claykettle.service.runs import find_run
from claykettle.service.shelf import half_widths, instruments_by_kind, procedure_for, the_day
from claykettle.store.records import StoredRun
from claykettle.store.runs import load_run
from claykettle.store.tables import Bench, Day, Instrument, RunRow, TrialRow


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
    instruments: Mapping[str, int] | None = None,
    note: str = "",
) -> StoredRun:
    """Start a run with one trial; the same UUID twice gives the same run. `instruments` are chosen ones, id by kind.

    It takes the readings of the room that stand today.

    Raises Refusal with every fault of the form, paths as the form's fields.
    """
    existing = load_run(session, uuid)
    if existing is not None:
        return existing
    found = method_named(method)
    faults: list[Fault] = []
    untitled = fault_in_name(title, "title", "Give the run a name that the log can be found by.")
    if untitled is not None:
        faults.append(untitled)
    bench, balance = session.get(Bench, bench_id), session.get(Instrument, balance_id)
    if bench is None:
        faults.append(Fault("unknown-bench", "bench_id", "This bench is not on the list any more; choose another."))
    if balance is None:
        faults.append(
            Fault("unknown-balance", "balance_id", "This balance is not on the list any more; choose another.")
        )
    parsed = _options(found.name, options, faults)
    row = procedure_for(session, method, procedure)
    chosen: dict[str, str] = {}
    course = Procedure.model_validate(row.body)
    try:
        chosen = course.chosen(schools or {})
    except Refusal as refusal:
        faults += refusal.faults
    if not faults:
        asked = parse_options(found, parsed)
        faults += course_faults(found, asked, slots_of(course, chosen, usable_readings(found, asked)))
    plan = _planned(found, parse_options(found, parsed) if not faults else None, planned or {}, faults)
    day = the_day(session, now.astimezone(UTC).date())
    chosen_instruments = _instruments(session, day, instruments or {}, faults)
    if faults or bench is None or balance is None:
        raise Refusal(*faults)
    run = RunRow(
        uuid=uuid,
        day_id=day.id,
        bench_id=bench.id,
        procedure_id=row.id,
        method=found.name,
        title=title.strip()[:120],
        note=note.strip(),
        options=parsed,
        schools=chosen,
        instruments=half_widths(found, chosen_instruments | {"balance": balance}),
        planned=plan,
        balance=balance.name,
        created_at=now,
        changed_at=now,
        version=1,
    )
    run.trials.append(TrialRow(position=1, label="1"))
    session.add(run)
    session.flush()
    return with_room(session, now, find_run(session, uuid))


def _instruments(session: Session, day: Day, chosen: Mapping[str, int], faults: list[Fault]) -> dict[str, Instrument]:
    try:
        return instruments_by_kind(session, day, chosen)
    except Refusal as refusal:
        faults += refusal.faults
        return {}


def _options(method: str, options: Mapping[str, Any], faults: list[Fault]) -> dict[str, Any]:
    try:
        parsed = parse_options(method_named(method), options)
    except Refusal as refusal:
        faults += refusal.faults
        return {}
    return parsed.model_dump(mode="json", exclude_defaults=True)


def _planned(
    method: Method, options: Options | None, planned: Mapping[str, Mapping[str, str]], faults: list[Fault]
) -> dict[str, Any]:
    kept: dict[str, Any] = {}
    for name, window in planned.items():
        definition = reading_definition(method, name, options)
        dimension, usual = (definition.dimension, definition.unit) if definition else ("mass", "g")
        read: dict[str, Reading] = {}
        for key, text in window.items():
            if not text.strip():
                continue
            try:
                read[key] = parse_reading(text, dimension, usual)
            except Refusal as refusal:
                faults += refusal.below(f"planned.{name}.{key}").faults
        if read:
            kept[name] = {key: f"{row.digits} {row.unit.symbol}" for key, row in read.items()}
        if "about" in read and len(read) > 1:
            message = "Give either 'about', or a window; not both."
            faults.append(Fault("window", f"planned.{name}.about", message))
        elif "low" in read and "high" in read and read["low"].si > read["high"].si:
            faults.append(Fault("window", f"planned.{name}.low", "This lies above 'at most'; exchange the two."))
    return kept
