"""Finding runs and classes again: by words, substance, method, student, time and state."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from typing import Any, Literal

from sqlalchemy import ColumnElement, func, or_, select

from claykettle.core.methods.registry import method_named
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.desk.asking import practical_says
from claykettle.service.views.base import View
from claykettle.service.views.listing import RunSummaryView
from claykettle.service.visit import Visit
from claykettle.store.tables import Bench, Day, FoundBy, Place, Seat, Section, Student, SummaryRow

State = Literal["", "good", "watch", "stop", "open", "finished", "signed", "unsigned"]
PAGE, MOST_CLASSES, MOST_WORDS = 40, 12, 8
MOST_NAMED = 2000
"""So many students of a name, and runs of theirs, are looked through."""


class FoundRunView(View):
    """A run that was found, as the list shows it, the class that it belongs to, and who stood at its bench."""

    run: RunSummaryView
    day: int
    of_class: str
    students: list[str]


class FoundClassView(View):
    """A class that was found."""

    id: int
    title: str
    date: str
    section: str
    benches: int


class SearchView(View):
    """What was found: classes by their own names, runs, the latest first; `more` where there are others after these."""

    classes: list[FoundClassView]
    runs: list[FoundRunView]
    more: bool


@dataclass(frozen=True)
class Wanted:
    """What is looked for: words that must all be there, and where they are told a method, days, a state."""

    words: str = ""
    method: str = ""
    since: date | None = None
    until: date | None = None
    state: State = ""
    skip: int = 0


@may(INSTRUCTOR)
def search(visit: Visit, wanted: Wanted) -> SearchView:
    """Runs and classes of the caller's sections. Raises Refusal `unknown-method` at `method`."""
    if wanted.method:
        method_named(wanted.method)
    words = wanted.words.casefold().split()[:MOST_WORDS]
    found = list(_runs(visit, wanted, words))
    return SearchView(
        classes=_classes(visit, wanted, words) if not wanted.skip else [],
        runs=found[:PAGE],
        more=len(found) > PAGE,
    )


def _runs(visit: Visit, wanted: Wanted, words: list[str]) -> Iterator[FoundRunView]:
    conditions: list[ColumnElement[bool]] = [_has(visit, word) for word in words]
    if wanted.state:
        conditions.append(_is_in(wanted.state))
    if wanted.method:
        conditions.append(SummaryRow.method == wanted.method)
    conditions += _between(wanted)
    if not visit.caller.is_program:
        conditions.append(SummaryRow.section_id.in_(visit.caller.sections))
    # which ones first, then what they say: long texts are read of those only that are shown
    chosen = select(SummaryRow.run_id).join(FoundBy, FoundBy.run_id == SummaryRow.run_id)
    if wanted.since is not None or wanted.until is not None:
        chosen = chosen.join(Day, Day.id == SummaryRow.day_id)
    chosen = (
        chosen.where(*conditions)
        .order_by(SummaryRow.changed_at.desc(), SummaryRow.run_id.desc())
        .offset(wanted.skip)
        .limit(PAGE + 1)
    )
    numbers = list(visit.session.scalars(chosen))
    query = (
        select(SummaryRow.run_id, SummaryRow.listed, Day.id, Day.title, Bench.name, Section.name)
        .join(Day, Day.id == SummaryRow.day_id)
        .join(Bench, Bench.id == SummaryRow.bench_id)
        .join(Section, Section.id == SummaryRow.section_id)
        .where(SummaryRow.run_id.in_(numbers))
    )
    told = {row[0]: row for row in visit.session.execute(query)}
    students = _students(visit, numbers)
    for number in numbers:
        _, text, day, title, bench, section = told[number]
        line = RunSummaryView.model_validate_json(text)
        line.bench, line.section = bench, section
        yield FoundRunView(run=line, day=day, of_class=title, students=students.get(number, []))


def _has(visit: Visit, word: str) -> ColumnElement[bool]:
    """A word stands among those of the run, or is part of the name of a student at its bench.

    Students are few beside the runs: who is meant is asked first.
    """
    own = FoundBy.words.contains(word, autoescape=True)
    students = select(Student.id).where(func.lower(Student.name).contains(word, autoescape=True))
    named = visit.session.scalars(students.limit(MOST_NAMED)).all()
    if not named:
        return own
    seated = select(Place.run_id).join(Seat, Seat.place_id == Place.id).where(Seat.student_id.in_(named))
    runs = visit.session.scalars(seated.where(Place.run_id.is_not(None)).limit(MOST_NAMED)).all()
    return or_(own, SummaryRow.run_id.in_(runs)) if runs else own


def _is_in(state: State) -> ColumnElement[bool]:
    return FoundBy.marks.contains(f" {state} ")


def _between(wanted: Wanted) -> Iterator[ColumnElement[bool]]:
    if wanted.since is not None:
        yield Day.date >= wanted.since
    if wanted.until is not None:
        yield Day.date <= wanted.until


def _students(visit: Visit, runs: list[int]) -> dict[int, list[str]]:
    query = (
        select(Place.run_id, Student.name)
        .join(Seat, Seat.place_id == Place.id)
        .join(Student, Student.id == Seat.student_id)
        .where(Place.run_id.in_(runs))
        .order_by(Seat.id)
    )
    found: dict[int, list[str]] = {}
    for run, name in visit.session.execute(query):
        if run is not None:
            found.setdefault(run, []).append(name)
    return found


def _classes(visit: Visit, wanted: Wanted, words: list[str]) -> list[FoundClassView]:
    """Classes whose title or practical holds all the words, and of whose runs one is in the state that is asked for."""
    name: Any = func.lower(func.concat(Day.title, " ", func.ifnull(practical_says(Day.plan, "name"), "")))
    query = (
        select(Day, Section.name, func.count(Place.id))
        .join(Section, Section.id == Day.section_id)
        .outerjoin(Place, Place.day_id == Day.id)
        .where(Day.starts != "", *(name.contains(word, autoescape=True) for word in words), *_between(wanted))
        .group_by(Day.id, Section.name)
        .order_by(Day.date.desc(), Day.id.desc())
        .limit(MOST_CLASSES)
    )
    if not visit.caller.is_program:
        query = query.where(Day.section_id.in_(visit.caller.sections))
    if wanted.method:
        query = query.where(practical_says(Day.plan, "method") == wanted.method)
    if wanted.state:
        of_state = select(SummaryRow.day_id).join(FoundBy, FoundBy.run_id == SummaryRow.run_id)
        query = query.where(Day.id.in_(of_state.where(_is_in(wanted.state))))
    return [
        FoundClassView(id=day.id, title=day.title, date=day.date.isoformat(), section=section, benches=benches)
        for day, section, benches in visit.session.execute(query)
    ]
