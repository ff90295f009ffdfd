"""Sheets of own figures, marked: what the program reckons, what a person decided in its place, what was given back."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy import select

from claykettle.core.errors import Refusal
from claykettle.core.marking import AS_READ, Line, Marking, Sheet, mark
from claykettle.core.marking.sheet import Status
from claykettle.service.desk.asking import AskedLineView, asked_lines
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun, iso
from claykettle.store.tables import GivenBackRow, MarkRow, SheetRow


class MarkedLineView(View):
    """A line of a sheet, marked. `follows` from the student's own figures; `slip` is how it came about, where a replay
    gives it. `text` says more of it, nothing of one that is simply right. `worked` is the line as it should have been
    written. `reckoned` are the marks that the program gives; where somebody gave others (`marks`), `changed_by` and
    `note` say who and why. Texts are empty where there is nothing of that.
    """

    name: str
    label: str
    number: int
    claimed: str
    true: str
    carried: str
    status: Status
    marks: int
    of: int
    reckoned: int
    slip: str
    text: str
    worked: str
    remarks: list[str]
    changed_by: str
    note: str


class MarkedSheetView(View):
    """A sheet, marked: whose (empty: the bench's), of which run and trial, when it was handed in, where it first went
    wrong. `given_back` is when that was, empty while it was not; `last_mark` the latest mark that a person gave.
    """

    uuid: str
    run: str
    trial: str
    student: str
    at: str
    lines: list[MarkedLineView]
    first_wrong: str
    marks: int
    of: int
    given_back: str
    last_mark: str


@dataclass(frozen=True)
class Decided:
    """What persons decided of a sheet: by line the latest mark, the latest of all, and when it was given back."""

    marks: Mapping[str, MarkRow]
    last: str
    given_back: str


NOTHING_DECIDED = Decided({}, "", "")
_MARKED: OrderedDict[tuple[str, int], Marking] = OrderedDict()
"""Sheets that were marked, by their UUID and the run's version; nothing depends on one being there."""
MOST_KEPT = 512


def decided(visit: Visit, sheets: Iterable[SheetRow]) -> dict[int, Decided]:
    """What was decided of these sheets, by their numbers."""
    numbers = [row.id for row in sheets]
    marks: dict[int, dict[str, MarkRow]] = {}
    last: dict[int, str] = {}
    for row in visit.session.scalars(select(MarkRow).where(MarkRow.sheet_id.in_(numbers)).order_by(MarkRow.id)):
        marks.setdefault(row.sheet_id, {})[row.line] = row
        last[row.sheet_id] = row.uuid
    given = select(GivenBackRow).where(GivenBackRow.sheet_id.in_(numbers)).order_by(GivenBackRow.id)
    back = {row.sheet_id: iso(row.at) for row in visit.session.scalars(given)}
    return {
        number: Decided(marks.get(number, {}), last.get(number, ""), back.get(number, "")) for number in {*marks, *back}
    }


def marked_sheets(visit: Visit, run: StoredRun, handed: Sequence[SheetRow]) -> Iterator[MarkedSheetView]:
    """Sheets of a run, marked; one whose trial was taken back since is left out."""
    asked = {row.name: row for row in asked_lines(visit, run)}
    by_sheet = decided(visit, handed)
    for row in handed:
        found = _marked(run, row, asked)
        if found is not None:
            yield _view(run, row, found, asked, by_sheet.get(row.id, NOTHING_DECIDED))


def _marked(run: StoredRun, row: SheetRow, asked: Mapping[str, AskedLineView]) -> Marking | None:
    key = row.uuid, run.version
    found = _MARKED.get(key)
    if found is None:
        known = run.evaluation.trials[0].trial.sheet.by_name
        claims = {name: text for name, text in row.claims.items() if name in asked or name in known}
        marks = {name: line.marks for name, line in asked.items()}
        try:
            found = _MARKED[key] = mark(Sheet(run.core, row.trial, claims, marks, row.student), run.evaluation)
        except Refusal:
            return None  # its trial was taken back since
        while len(_MARKED) > MOST_KEPT:
            _MARKED.popitem(last=False)
    return found


def _view(
    run: StoredRun, row: SheetRow, found: Marking, asked: Mapping[str, AskedLineView], said: Decided
) -> MarkedSheetView:
    working = {line.name: line for line in run.evaluation.trial(row.trial).working}
    worked = {name: f"{line.rule} = {line.substituted} = {line.result}" for name, line in working.items()}
    lines = [_line(line, asked, worked.get(line.name, ""), said.marks.get(line.name)) for line in found.lines]
    return MarkedSheetView(
        uuid=row.uuid,
        run=run.uuid,
        trial=row.trial,
        student=row.student,
        at=iso(row.at),
        lines=lines,
        first_wrong=found.first_wrong or "",
        marks=sum(line.marks for line in lines),
        of=found.of,
        given_back=said.given_back,
        last_mark=said.last,
    )


def _line(line: Line, asked: Mapping[str, AskedLineView], worked: str, said: MarkRow | None) -> MarkedLineView:
    stands = said is not None and said.marks is not None
    return MarkedLineView(
        name=line.name,
        label=line.label,
        number=asked[line.name].number if line.name in asked else 0,
        claimed=line.claimed,
        true=line.true,
        carried=line.carried,
        status=line.status,
        marks=said.marks if said is not None and said.marks is not None else line.marks,
        of=line.of,
        reckoned=line.marks,
        slip=line.slip or "",
        text="" if line.text == AS_READ else line.text,
        worked=worked if line.status in ("wrong", "unit", "missing") else "",
        remarks=list(line.remarks),
        changed_by=said.by if said is not None and stands else "",
        note=said.note if said is not None and stands else "",
    )
