"""Starting a run: every fault of the form at once, or a run with its first trial and the room's readings in it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from claykettle.core.errors import Fault, Refusal
from claykettle.core.method import Method, Options
from claykettle.core.methods.registry import method_named
from claykettle.core.quantity import Reading, parse_reading
from claykettle.core.run import Procedure, course_faults, reading_definition, slots_of, usable_readings
from claykettle.core.wording import fault_in_name
from claykettle.formats.run_file import parse_options
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.revealing import held_back
from claykettle.service.shelf.day import half_widths, instruments_by_kind, the_day
from claykettle.service.shelf.procedures import procedure_for
from claykettle.service.shelf.room import with_room
from claykettle.service.views.bench import RunView, run_view
from claykettle.service.views.held_back import as_told
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun
from claykettle.store.tables import Bench, Day, Instrument, RunRow, TrialRow


@dataclass(frozen=True)
class StartRun:
    """The form for a new run. `instruments` are chosen ones, id by kind; the day's are taken for the others."""

    uuid: str
    title: str
    method: str
    options: Mapping[str, Any]
    bench_id: int
    balance_id: int
    procedure: str | None = None
    schools: Mapping[str, str] = field(default_factory=dict)
    planned: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    instruments: Mapping[str, int] = field(default_factory=dict)
    note: str = ""


@may(BENCH, INSTRUCTOR)
def started(visit: Visit, form: StartRun) -> RunView:
    """Start a run, and show its bench. Raises Refusal as `start_run`."""
    run = start_run(visit, form)
    return as_told(run_view(run, visit.now), held_back(visit, run.id))


def start_run(visit: Visit, form: StartRun) -> StoredRun:
    """Start a run with one trial and the readings of the room that stand today; the same UUID twice gives the same run.

    Raises Refusal with every fault of the form, paths as the form's fields.
    """
    existing = visit.run_if_kept(form.uuid)
    if existing is not None:
        return existing
    run = _Form(visit, form).row()
    run.trials.append(TrialRow(position=1, label="1"))
    return kept_run(visit, run)


def kept_run(visit: Visit, row: RunRow) -> StoredRun:
    """A run that was made ready, kept; with the readings of the room that stand today."""
    return with_room(visit, visit.begun(row))


class _Form:
    """Reads the form field by field, and gathers what is wrong with it. Raises Refusal for an unknown method."""

    def __init__(self, visit: Visit, form: StartRun):
        self.visit, self.form = visit, form
        self.faults: list[Fault] = []
        self.method: Method = method_named(form.method)

    def row(self) -> RunRow:
        """The run, not yet kept. Raises Refusal with every fault."""
        form, visit = self.form, self.visit
        untitled = fault_in_name(form.title, "title", "Give the run a name that the log can be found by.")
        self.faults += [untitled] if untitled is not None else []
        bench, balance = self.bench(), self.balance()
        options = self.options()
        procedure = procedure_for(visit, form.method, form.procedure)
        schools = self.schools(procedure.course, options)
        planned = self.planned(None if self.faults else options)
        day = the_day(visit)
        instruments = self.instruments(day)
        if self.faults or bench is None or balance is None or options is None:
            raise Refusal(*self.faults)
        return RunRow(
            uuid=form.uuid,
            day_id=day.id,
            bench_id=bench.id,
            procedure_id=procedure.id,
            method=self.method.name,
            title=form.title.strip()[:120],
            note=form.note.strip(),
            options=options.model_dump(mode="json", exclude_defaults=True),
            schools=schools,
            instruments=half_widths(self.method, instruments | {"balance": balance}),
            planned=planned,
            balance=balance.name,
            created_at=visit.now,
            changed_at=visit.now,
            version=1,
        )

    def bench(self) -> Bench | None:
        found = self.visit.session.get(Bench, self.form.bench_id)
        if found is None:
            text = "This bench is not on the list any more; choose another, or name one on the Shelf."
            self.faults.append(Fault("unknown-bench", "bench_id", text))
        return found

    def balance(self) -> Instrument | None:
        found = self.visit.session.get(Instrument, self.form.balance_id)
        if found is None:
            text = "This balance is not on the shelf any more; choose another, or put one there (Today)."
            self.faults.append(Fault("unknown-balance", "balance_id", text))
        return found

    def options(self) -> Options | None:
        try:
            return parse_options(self.method, self.form.options)
        except Refusal as refusal:
            self.faults += refusal.faults
            return None

    def schools(self, course: Procedure, options: Options | None) -> dict[str, str]:
        try:
            chosen = course.chosen(self.form.schools)
        except Refusal as refusal:
            self.faults += refusal.faults
            return {}
        if not self.faults and options is not None:
            slots = slots_of(course, chosen, usable_readings(self.method, options), self.method.facts(options))
            self.faults += course_faults(self.method, options, slots)
        return chosen

    def instruments(self, day: Day) -> dict[str, Instrument]:
        try:
            return instruments_by_kind(self.visit, day, self.form.instruments)
        except Refusal as refusal:
            self.faults += refusal.faults
            return {}

    def planned(self, options: Options | None) -> dict[str, Any]:
        windows = {name: self.window(name, row, options) for name, row in self.form.planned.items()}
        return {name: window for name, window in windows.items() if window}

    def window(self, name: str, typed: Mapping[str, str], options: Options | None) -> dict[str, str]:
        definition = reading_definition(self.method, name, options)
        dimension, usual = (definition.dimension, definition.unit) if definition else ("mass", "g")
        read: dict[str, Reading] = {}
        for key, text in typed.items():
            try:
                read |= {key: parse_reading(text, dimension, usual)} if text.strip() else {}
            except Refusal as refusal:
                self.faults += refusal.below(f"planned.{name}.{key}").faults
        if "about" in read and len(read) > 1:
            message = "Give either 'about', or a window; not both."
            self.faults.append(Fault("window", f"planned.{name}.about", message))
        elif "low" in read and "high" in read and read["low"].si > read["high"].si:
            self.faults.append(Fault("window", f"planned.{name}.low", "This lies above 'at most'; exchange the two."))
        return {key: f"{row.digits} {row.unit.symbol}" for key, row in read.items()}
