"""A running run decided otherwise: an option, a school, an instrument. What was recorded stays, and is judged anew."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any
from uuid import NAMESPACE_OID, uuid5

from sqlalchemy import select

from claykettle.core.errors import Conflict, Doubt, Fault, NotYours, Refusal, refuse
from claykettle.core.method import Options
from claykettle.core.run import course_faults, slots_of, usable_readings
from claykettle.core.wording import listed
from claykettle.formats.run_file import parse_options
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.revealing import held_back
from claykettle.service.shelf.day import half_widths
from claykettle.service.views.entries import slot_label
from claykettle.service.visit import Visit
from claykettle.store import tables
from claykettle.store.records import DAY, StoredChange, StoredReading, StoredRun, StoredTrial

SET_ASIDE = "set-aside"
NOT_TOLD = "What is to be found, your instructor decides."
NOT_WITH = "This does not go with what your instructor laid down to be found; ask them to change it."


@dataclass(frozen=True)
class ChangeRun:
    """What is to be otherwise: whole `options`, `schools` and `instruments` (id by kind) as they shall stand, None for
    what stays as it is; `known` is how many changes were seen when this was decided. `aside` sets readings aside that
    have no use then. `day` is the one to which it belongs, where a clock that was wrong put it on another.
    """

    uuid: str
    known: int
    reason: str
    options: Mapping[str, Any] | None = None
    schools: Mapping[str, str] | None = None
    instruments: Mapping[str, int] = field(default_factory=dict)
    by: str = ""
    aside: bool = False
    day: date | None = None


@may(BENCH, INSTRUCTOR)
def change_run(visit: Visit, run: StoredRun, wanted: ChangeRun) -> StoredRun:
    """Decide a run otherwise; the same UUID twice does it once. What a tablet is to find stays as it was decided.

    Raises Refusal with every fault (paths `options.…`, `schools.…`, `instruments.…`, `reason`), Conflict where somebody
    else changed one of these since the page was fetched, Doubt `set-aside` where readings would have no use any more.
    """
    if any(row.uuid == wanted.uuid for row in run.changes):
        return run
    if not wanted.reason.strip():
        raise refuse(
            "reason-missing", "Say why it is changed, in a word or two: 'wrong school', 'label found'.", "reason"
        )
    _refuse_stale(run, wanted)
    if wanted.options is not None and held_back(visit, run.id):
        wanted = replace(wanted, options=_with_answers(run, wanted.options))
    after, changes = _decided(visit, run, wanted)
    if wanted.day is not None and wanted.day != run.date:
        after, moved = _on_its_day(visit, run, after, wanted.day)
        changes.append(moved)
    if not changes:
        raise refuse("nothing-changed", "Nothing here is otherwise than it stands.", "reason")
    aside = _without_use(run, after)
    if aside and not wanted.aside:
        names = listed([f"{_called(run, row.slot)} {row.written if row.text else ''}".strip() for _, row in aside])
        text = f"{names}: no use for it then. It stays in the log, struck through, and counts no longer."
        raise Doubt(SET_ASIDE, text)
    after = _all_changes(visit, after, wanted, changes)
    for index, (trial, row) in enumerate(aside):
        place = next(one for one in after.trials if one.position == trial.position)
        after = after.with_reading(place, _set_aside(visit, wanted, row, index, place))
    _ = after.evaluation
    return visit.keep(run, after.touched(visit.now))


def _on_its_day(visit: Visit, run: StoredRun, after: StoredRun, day: date) -> tuple[StoredRun, tuple[str, Any, Any]]:
    """The run on another day of its section. Raises NotYours for a tablet, which has one day; Refusal at `day`."""
    if visit.caller.day is not None:
        raise NotYours("To which day a run belongs the instructor decides.")
    if day > visit.today:
        raise refuse("ahead", "This day is still to come; a run belongs to the day on which it was done.", "day")
    title = visit.session.get_one(tables.Day, run.day_id).title
    wanted = {"section_id": run.section_id, "date": day, "title": title}
    row = visit.session.scalar(select(tables.Day).filter_by(**wanted))
    if row is None:
        row = tables.Day(**wanted)
        visit.session.add(row)
        visit.session.flush()
    old, new = ({"date": one.isoformat(), "number": number} for one, number in ((run.date, run.day_id), (day, row.id)))
    return replace(after, date=day, day_id=row.id), (DAY, old, new)


def _own(wanted: ChangeRun, index: int) -> str:
    return wanted.uuid if index == 0 else str(uuid5(NAMESPACE_OID, f"{wanted.uuid} {index}"))


def _refuse_stale(run: StoredRun, wanted: ChangeRun) -> None:
    """Somebody else decided something since the page was fetched: both are told, none overwrites the other."""
    if len(run.changes) != wanted.known:
        raise Conflict("Somebody else changed this run since you opened it; look at how it stands, then change it.")


def _with_answers(run: StoredRun, options: Mapping[str, Any]) -> dict[str, Any]:
    """The options that a tablet sent, with those that it is not told as they stand. Raises Refusal, telling nothing."""
    answers = run.method.judging.answers
    told = [Fault("instructor-decides", f"options.{name}", NOT_TOLD) for name in answers if name in options]
    if told:
        raise Refusal(*told)
    whole = {**options, **{name: run.written_options[name] for name in answers if name in run.written_options}}
    try:
        parse_options(run.method, whole)
    except Refusal as refusal:
        paths = tuple(f"options.{name}" for name in answers)
        faults = (
            replace(row, message=NOT_WITH, suggestion="") if row.path.startswith(paths) else row
            for row in refusal.faults
        )
        raise Refusal(*faults) from None
    return whole


def _decided(visit: Visit, run: StoredRun, wanted: ChangeRun) -> tuple[StoredRun, list[tuple[str, Any, Any]]]:
    """The run as it shall stand, and what is otherwise in it: what, from what, to what. Raises Refusal."""
    faults: list[Fault] = []
    options: Options = run.options
    written: dict[str, Any] = dict(run.written_options)
    if wanted.options is not None:
        try:
            options = parse_options(run.method, wanted.options)
            written = options.model_dump(mode="json", exclude_defaults=True)
        except Refusal as refusal:
            faults += refusal.faults
    schools = dict(run.schools)
    if wanted.schools is not None:
        try:
            schools = run.course.chosen(wanted.schools)
        except Refusal as refusal:
            faults += refusal.faults
    if not faults:
        facts = run.method.facts(options)
        faults += course_faults(
            run.method, options, slots_of(run.course, schools, usable_readings(run.method, options), facts)
        )
    instruments, balance = _instruments(visit, run, wanted.instruments)
    if faults:
        raise Refusal(*faults)
    changes = [
        (f"{place}.{name}", old.get(name), new.get(name))
        for place, old, new in (
            ("options", run.written_options, written),
            ("schools", run.schools, schools),
            ("instruments", run.instruments, instruments),
        )
        for name in sorted({*old, *new})
        if old.get(name) != new.get(name)
    ]
    if balance != run.balance:
        changes.append(("balance", run.balance, balance))
    after = replace(
        run, options=options, written_options=written, schools=schools, instruments=instruments, balance=balance
    )
    return after, changes


def _instruments(visit: Visit, run: StoredRun, chosen: Mapping[str, int]) -> tuple[dict[str, Mapping[str, str]], str]:
    found: dict[str, tables.Instrument] = {}
    for kind, number in chosen.items():
        row = visit.session.get(tables.Instrument, number)
        if row is None or row.kind != kind:
            text = "This instrument does not stand on the shelf any more; choose another."
            raise refuse("unknown-instrument", text, f"instruments.{kind}")
        found[kind] = row
    balance = found["balance"].name if "balance" in found else run.balance
    return {**run.instruments, **half_widths(run.method, found)}, balance


def _without_use(run: StoredRun, after: StoredRun) -> list[tuple[StoredTrial, StoredReading]]:
    """Readings that were asked for, and are not when the run is decided so; or that no option has a use for then."""
    before_slots, after_slots = _asked(run), _asked(after)
    usable = usable_readings(after.method, after.options)
    gone = before_slots - after_slots
    return [
        (trial, row)
        for trial in run.trials
        for row in (*trial.current, *trial.left)
        if row.slot in gone or row.slot not in usable | _stands_in(after, trial)
    ]


def _stands_in(after: StoredRun, trial: StoredTrial) -> frozenset[str]:
    missed = frozenset(row.slot for row in trial.left) - {row.slot for row in trial.current}
    return usable_readings(after.method, after.options, missed)


def _asked(run: StoredRun) -> set[str]:
    facts = run.method.facts(run.options)
    return set(slots_of(run.course, run.schools, usable_readings(run.method, run.options), facts))


def _called(run: StoredRun, slot: str) -> str:
    definition = run.definition(slot)
    return slot if definition is None else slot_label(definition, slot)


def _all_changes(visit: Visit, after: StoredRun, wanted: ChangeRun, changes: list[tuple[str, Any, Any]]) -> StoredRun:
    rows = [
        StoredChange(_own(wanted, index), what, old, new, wanted.reason.strip()[:500], visit.now, wanted.by[:120])
        for index, (what, old, new) in enumerate(changes)
    ]
    return replace(after, changes=(*after.changes, *rows))


def _set_aside(visit: Visit, wanted: ChangeRun, row: StoredReading, index: int, place: StoredTrial) -> StoredReading:
    return replace(
        row,
        uuid=str(uuid5(NAMESPACE_OID, f"{wanted.uuid} aside {index}")),
        revision=place.next_revision(row.slot, row.position),
        supersedes=row.uuid,
        text="",
        at=visit.now,
        by=wanted.by[:120],
        reason=f"no use since: {wanted.reason.strip()[:480]}",
        doubt="",
        state="withdrawn",
    )
