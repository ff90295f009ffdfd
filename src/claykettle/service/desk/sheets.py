"""Sheets of own figures, marked: what the program reckons, what a person decided in its place, what was given back."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from sqlalchemy import select

from claykettle.core.errors import Refusal
from claykettle.core.marking import AS_READ, Line, Marking, Sheet, mark
from claykettle.core.marking.sheet import Status
from claykettle.service.desk.asking import AskedLineView, asked_lines
from claykettle.service.views.base import View
from claykettle.service.views.log import reading_views
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun, iso
from claykettle.store.tables import ChoiceRow, GivenBackRow, MarkRow, SheetRow

Against = Literal["then", "now"]
COUNTS = "counts"


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


class SheetVersionView(View):
    """One of several sheets that a student handed in of a trial: the how manieth, when, what it earned, and whether it
    is the one that counts.
    """

    uuid: str
    number: int
    at: str
    marks: int
    of: int
    counts: bool


class MarkedSheetView(View):
    """A sheet, marked: whose (empty: the bench's), of which run and trial, when it was handed in, where it first went
    wrong. `given_back` is when that was, empty while it was not; `last_mark` the latest mark that a person gave.

    It is marked against the readings as they stood `then`, when it came in, until somebody chooses those of `now`;
    `later` says what was corrected since. `versions` are all of them, where it was handed in more than once.
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
    against: Against
    later: list[str]
    versions: list[SheetVersionView]


@dataclass(frozen=True)
class Decided:
    """What persons decided of a sheet: by line the latest mark, the latest of all, when it was given back, and against
    which readings it is marked.
    """

    marks: Mapping[str, MarkRow]
    last: str
    given_back: str
    against: Against


NOTHING_DECIDED = Decided({}, "", "", "then")
_MARKED: OrderedDict[tuple[str, int, Against], Marking] = OrderedDict()
"""Sheets that were marked, by their UUID, the run's version and the readings; nothing depends on one being there."""
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
    against: dict[int, Against] = {}
    for number, choice in _choices(visit, numbers):
        if choice != COUNTS:
            against[number] = "now" if choice == "now" else "then"
    return {
        number: Decided(marks.get(number, {}), last.get(number, ""), back.get(number, ""), against.get(number, "then"))
        for number in {*marks, *back, *against}
    }


def _choices(visit: Visit, numbers: Sequence[int]) -> Iterator[tuple[int, str]]:
    """What was chosen of these sheets, in time."""
    query = select(ChoiceRow).where(ChoiceRow.sheet_id.in_(numbers)).order_by(ChoiceRow.id)
    return ((row.sheet_id, row.choice) for row in visit.session.scalars(query))


def by_student(visit: Visit, handed: Sequence[SheetRow]) -> list[tuple[SheetRow, list[SheetRow]]]:
    """Of each student, run and trial the sheet that counts, beside all its versions as they came: the first one, or
    the one that was chosen last.
    """
    versions: dict[tuple[int, str, str], list[SheetRow]] = {}
    for row in handed:
        versions.setdefault((row.run_id, row.trial, row.student), []).append(row)
    chosen = [number for number, choice in _choices(visit, [row.id for row in handed]) if choice == COUNTS]
    found = []
    for rows in versions.values():
        counts = max(rows, key=lambda row: (_last(chosen, row.id), -row.id))
        found.append((counts, rows))
    return found


def _last(chosen: Sequence[int], number: int) -> int:
    """Where a sheet was chosen last; -1 where it never was."""
    return max((place for place, one in enumerate(chosen) if one == number), default=-1)


def counted_sheets(visit: Visit, run: StoredRun, handed: Sequence[SheetRow]) -> Iterator[MarkedSheetView]:
    """Of all sheets of a run those that count, marked, each with its versions where there are several."""
    marked = {row.uuid: row for row in marked_sheets(visit, run, handed)}
    for counts, versions in by_student(visit, handed):
        found = marked.get(counts.uuid)
        if found is not None:
            yield found.model_copy(update={"versions": _versions(counts, versions, marked)})


def _versions(
    counts: SheetRow, versions: Sequence[SheetRow], marked: Mapping[str, MarkedSheetView]
) -> list[SheetVersionView]:
    if len(versions) < 2:
        return []
    return [
        SheetVersionView(
            uuid=row.uuid, number=number, at=iso(row.at), marks=marked[row.uuid].marks, of=marked[row.uuid].of,
            counts=row is counts,
        )
        for number, row in enumerate(versions, start=1)
        if row.uuid in marked
    ]  # fmt: skip


def marked_sheets(visit: Visit, run: StoredRun, handed: Sequence[SheetRow]) -> Iterator[MarkedSheetView]:
    """Sheets of a run, marked; one whose trial was taken back since is left out."""
    asked = {row.name: row for row in asked_lines(visit, run)}
    by_sheet = decided(visit, handed)
    for row in handed:
        said = by_sheet.get(row.id, NOTHING_DECIDED)
        then = run.as_of(row.at)
        against = run if said.against == "now" else then
        found = _marked(against, row, asked, said.against)
        if found is not None:
            yield _view(against, row, found, asked, said).model_copy(update={"later": list(_later(run, row))})


def _later(run: StoredRun, sheet: SheetRow) -> Iterator[str]:
    """What was corrected of the readings of its trial after a sheet came in."""
    for row in reading_views(run, sheet.trial):
        if row.corrects is None or row.at <= iso(sheet.at):
            continue
        into = f"corrected to {row.text} {row.unit}" if row.state == "taken" else "left out"
        why = f": {row.reason}" if row.reason else "."
        yield f"{row.label} {row.corrects} {row.unit} was {into} after this sheet came in{why}"


def _marked(run: StoredRun, row: SheetRow, asked: Mapping[str, AskedLineView], against: Against) -> Marking | None:
    key = row.uuid, run.version, against
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
        against=said.against,
        later=[],
        versions=[],
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
