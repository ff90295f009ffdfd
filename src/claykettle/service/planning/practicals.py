"""Practicals: kept version by version, shared with colleagues, taken along as files and brought back, compared."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from difflib import SequenceMatcher
from typing import Any

from pydantic import ValidationError
from sqlalchemy import or_, select, true

from claykettle.core.errors import Conflict, NotFound, NotYours, Refusal
from claykettle.core.methods.registry import method_named
from claykettle.core.run import procedure_body
from claykettle.core.wording import fault_in_name
from claykettle.formats.practical_file import (
    FORMAT,
    VERSION,
    PracticalModel,
    practical_document,
    practical_from,
    read_practical,
)
from claykettle.formats.run_file import model_faults
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.noting import note
from claykettle.service.shelf.day import the_day
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.records import iso
from claykettle.store.tables import PracticalRow, PracticalVersion, Section


class VersionView(View):
    """One version of a practical: who kept it, when, and what they said of it."""

    number: int
    name: str
    note: str
    by: str
    at: str


class PracticalView(View):
    """A practical of the caller's, or one that was shared: its latest version and those before."""

    id: int
    name: str
    method: str
    method_title: str
    section: str
    is_mine: bool
    is_shared: bool
    versions: list[VersionView]


class PracticalsView(View):
    """The practicals that the caller may use, by name."""

    practicals: list[PracticalView]


class PracticalFileView(View):
    """A version of a practical as its file says it, whole."""

    id: int
    number: int
    latest: int
    is_mine: bool
    document: dict[str, Any]


class CourseView(View):
    """A practical as its file says it, its procedure whole."""

    document: dict[str, Any]


class ChangeLine(View):
    """Something that two versions say otherwise: where, and what each says (empty where it says nothing)."""

    where: str
    before: str
    after: str


class ComparedView(View):
    """What one version says otherwise than another."""

    before: int
    after: int
    lines: list[ChangeLine]


@dataclass(frozen=True)
class KeepPractical:
    """A practical to be kept as the version after `base`; a new one where there is no `practical`."""

    document: Mapping[str, Any]
    practical: int | None = None
    base: int = 0
    note: str = ""
    by: str = ""


@may(INSTRUCTOR)
def practicals(visit: Visit) -> PracticalsView:
    """The practicals of the caller's sections, and those that colleagues share."""
    mine = () if visit.caller.is_program else (PracticalRow.section_id.in_(visit.caller.sections),)
    # without their bodies: a list says nothing of them
    query = (
        select(
            PracticalRow, Section.name, PracticalVersion.number, PracticalVersion.name, PracticalVersion.method,
            PracticalVersion.note, PracticalVersion.by, PracticalVersion.at,
        )
        .join(Section, PracticalRow.section_id == Section.id)
        .join(PracticalVersion, PracticalVersion.practical_id == PracticalRow.id)
        .where(~PracticalRow.is_retired, or_(PracticalRow.is_shared, *mine) if mine else true())
        .order_by(PracticalRow.id, PracticalVersion.number)
    )  # fmt: skip
    found: dict[int, PracticalView] = {}
    for row, section, number, name, method, note_on, by, at in visit.session.execute(query):
        version = VersionView(number=number, name=name, note=note_on, by=by, at=iso(at))
        before = found[row.id].versions if row.id in found else []
        found[row.id] = PracticalView(
            id=row.id, name=name, method=method, method_title=method_named(method).title, section=section,
            is_mine=_is_mine(visit, row), is_shared=row.is_shared, versions=[*before, version],
        )  # fmt: skip
    return PracticalsView(practicals=sorted(found.values(), key=lambda row: (row.name.casefold(), row.id)))


@may(INSTRUCTOR)
def practical_file(visit: Visit, number: int, version: int | None = None) -> PracticalFileView:
    """A version of a practical, the latest where none is named. Raises NotFound, NotYours."""
    row = _practical(visit, number)
    found = _version(row, version)
    return PracticalFileView(
        id=row.id, number=found.number, latest=row.versions[-1].number, is_mine=_is_mine(visit, row),
        document=found.body,
    )  # fmt: skip


@may(INSTRUCTOR)
def keep_practical(visit: Visit, command: KeepPractical) -> PracticalFileView:
    """Keep a practical, whole, as its next version.

    Raises Refusal with every fault, paths as in the file; Conflict where a colleague kept a version since `base`;
    NotYours for one that is only shared (keep it as one of your own).
    """
    document = whole_document(command.document)
    if command.practical is None:
        row = PracticalRow(section_id=the_day(visit).section_id, is_shared=False, is_retired=False)
        visit.session.add(row)
        visit.session.flush()
    else:
        row = _practical(visit, command.practical)
        if not _is_mine(visit, row):
            raise NotYours("This practical is a colleague's, shared with you: keep it as one of your own.")
        latest = row.versions[-1]
        if latest.number != command.base:
            text = (
                f"{latest.by or 'A colleague'} kept version {latest.number} of this practical meanwhile; yours is not "
                "lost: compare the two, or keep yours as a practical of its own."
            )
            raise Conflict(text)
        if latest.body == document:
            return practical_file(visit, row.id)
    visit.session.add(
        PracticalVersion(
            practical_id=row.id, number=command.base + 1 if command.practical is not None else 1,
            name=document["name"], method=document["method"], body=document, note=command.note.strip(),
            by=command.by, at=visit.now,
        )
    )  # fmt: skip
    visit.session.flush()
    visit.session.expire(row, ["versions"])
    return practical_file(visit, row.id)


@may(INSTRUCTOR)
def course_of(_: Visit, document: Mapping[str, Any]) -> CourseView:
    """A practical with its procedure whole. Raises Refusal with every fault."""
    named = {"name": method_named(str(document.get("method", ""))).title}
    return CourseView(document=whole_document(named | {key: one for key, one in document.items() if one != ""}))


@may(INSTRUCTOR)
def practical_of_run(visit: Visit, uuid: str) -> CourseView:
    """The practical that a run followed, not yet kept: a run that went well becomes one. Raises NotFound, NotYours."""
    run = visit.run(uuid)
    document = {
        "name": run.title[:120] or run.method.title,
        "method": run.method.name,
        "options": dict(run.written_options),
        "trials": max(1, len(run.own_trials)),
        "procedure": procedure_body(run.course),
        "schools": dict(run.schools),
        "planned": {name: dict(row) for name, row in run.planned.items()},
        "instruments": {kind: row["name"] for kind, row in run.instruments.items() if row.get("name")},
    }
    try:
        return CourseView(document=whole_document(document))
    except Refusal as refusal:
        if any(row.code != "caution" for row in refusal.faults):
            raise
        # it followed a version of before a caution was added: the practical follows today's
        return CourseView(document=whole_document({**document, "procedure": None}))


@may(INSTRUCTOR)
def import_practical(visit: Visit, data: bytes, by: str = "") -> PracticalFileView:
    """A practical out of a file, as a new one of the caller's section. Raises Refusal with every fault."""
    document = practical_document(read_practical(data))
    return keep_practical(visit, KeepPractical(document, by=visit.caller.signed(by), note="out of a file"))


@may(INSTRUCTOR, house=True)
def share_practical(visit: Visit, number: int, is_shared: bool) -> PracticalsView:
    """Let every instructor of the house use a practical, or no more. Raises NotFound, NotYours."""
    _own(visit, number).is_shared = is_shared
    note(visit, "practical shared" if is_shared else "practical shared no more", f"practical {number}")
    visit.session.flush()
    return practicals(visit)


@may(INSTRUCTOR)
def retire_practical(visit: Visit, number: int) -> PracticalsView:
    """Offer a practical no more; classes that were held with it keep it. Raises NotFound, NotYours."""
    _own(visit, number).is_retired = True
    note(visit, "practical retired", f"practical {number}")
    visit.session.flush()
    return practicals(visit)


@may(INSTRUCTOR)
def compared(visit: Visit, number: int, before: int, after: int) -> ComparedView:
    """What one version of a practical says otherwise than another. Raises NotFound, NotYours."""
    row = _practical(visit, number)
    lines = changes(_version(row, before).body, _version(row, after).body)
    return ComparedView(before=before, after=after, lines=list(lines))


def whole_document(document: Mapping[str, Any]) -> dict[str, Any]:
    """A practical as its file says it, its procedure whole. Raises Refusal with every fault, a name among them."""
    typed = {"format": FORMAT, "version": VERSION} | dict(document)
    fault = fault_in_name(str(typed.get("name") or ""), "name", "Give the practical a name that it is found by.")
    method_named(str(typed.get("method", "")))
    try:
        found = practical_from(PracticalModel.model_validate(typed))
    except ValidationError as error:
        raise Refusal(*model_faults(error)) from None
    except Refusal as refusal:
        raise Refusal(*refusal.faults, *([fault] if fault is not None else [])) from None
    if fault is not None:
        raise Refusal(fault)
    return practical_document(found)


def changes(before: Any, after: Any, where: str = "") -> Iterator[ChangeLine]:
    """What two documents say otherwise, line by line; steps are told by their names and not by their numbers."""
    if before == after:
        return
    if isinstance(before, dict) and isinstance(after, dict):
        for key in dict.fromkeys([*before, *after]):
            yield from changes(before.get(key), after.get(key), f"{where} › {key}" if where else str(key))
    elif isinstance(before, list) and isinstance(after, list):
        yield from _in_order(before, after, where)
    else:
        yield ChangeLine(where=where, before=_said(before), after=_said(after))


def _in_order(before: list[Any], after: list[Any], where: str) -> Iterator[ChangeLine]:
    names = [[_name(row, place) for place, row in enumerate(rows)] for rows in (before, after)]
    for what, low, high, first, last in SequenceMatcher(a=names[0], b=names[1], autojunk=False).get_opcodes():
        if what == "equal":
            for one, other in zip(before[low:high], after[first:last], strict=True):
                yield from changes(one, other, f"{where} › {_name(one, low)}")
            continue
        for place in range(low, high):
            yield ChangeLine(where=where, before=_said(before[place]), after="")
        for place in range(first, last):
            yield ChangeLine(where=where, before="", after=_said(after[place]))


def _name(row: Any, place: int) -> str:
    """What a row of a list is called: by its id, its question, its line; else what it says."""
    if isinstance(row, dict):
        return str(next((row[key] for key in ("id", "ask", "line", "item") if key in row), place + 1))
    return str(row)


def _said(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, dict):
        named = next((value[key] for key in ("title", "ask", "line", "item", "id") if key in value), None)
        return str(named) if named is not None else "; ".join(f"{key}: {_said(one)}" for key, one in value.items())
    if isinstance(value, list):
        return "; ".join(_said(one) for one in value)
    return str(value)


def _is_mine(visit: Visit, row: PracticalRow) -> bool:
    return visit.caller.is_program or row.section_id in visit.caller.sections


def _practical(visit: Visit, number: int) -> PracticalRow:
    row = visit.session.get(PracticalRow, number)
    if row is None:
        raise NotFound("There is no such practical.")
    if not row.is_shared and not _is_mine(visit, row):
        raise NotYours("This practical is a colleague's and was not shared with you.")
    return row


def _own(visit: Visit, number: int) -> PracticalRow:
    row = _practical(visit, number)
    if not _is_mine(visit, row):
        raise NotYours("This practical is a colleague's: only they may do this.")
    return row


def _version(row: PracticalRow, number: int | None) -> PracticalVersion:
    found = [one for one in row.versions if number in (None, one.number)]
    if not found:
        raise NotFound(f"There is no version {number} of this practical.")
    return found[-1]


def version_row(visit: Visit, practical: int, number: int) -> PracticalVersion:
    """A version of a practical that the caller may use. Raises NotFound, NotYours."""
    return _version(_practical(visit, practical), number)
