"""A class's own figures, marked: every sheet line by line, for whoever gives them back."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterator, Mapping, Sequence

from sqlalchemy import select

from claykettle.core.errors import Refusal
from claykettle.core.marking import Marking, Sheet, mark
from claykettle.core.marking.sheet import Status
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.desk.own_figures import AskedLineView, asked_lines
from claykettle.service.lab.cards import Laid, laid_cards
from claykettle.service.lab.results import class_scale
from claykettle.service.lab.state import class_at
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun, iso
from claykettle.store.tables import RunRow, SheetRow


class MarkedLineView(View):
    """A line of a sheet, marked. `follows` from the student's own figures; `slip` is how it came about, where a replay
    gives it; texts are empty where there is nothing of that.
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
    slip: str
    text: str
    remarks: list[str]


class MarkedSheetView(View):
    """A sheet, marked: whose (empty: the bench's), of which run and trial, when it was handed in, where it first went
    wrong.
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


class MarkedBenchView(View):
    """A bench with its run, the result of it, and the sheets that it handed in: the latest of each student and trial,
    also of other runs that it had in this class.
    """

    bench: int
    name: str
    run: str
    students: list[str]
    found: str
    is_out: bool
    sheets: list[MarkedSheetView]


class ClassMarkingView(View):
    """A class's sheets, bench by bench in the order of the room, and how many there are to be handed in."""

    id: int
    title: str
    date: str
    benches: list[MarkedBenchView]
    handed: int
    middle: str


_MARKED: OrderedDict[tuple[str, int], Marking] = OrderedDict()
"""Sheets that were marked, by their number and the run's version; nothing depends on one being there."""
MOST_KEPT = 512


@may(INSTRUCTOR)
def class_marking(visit: Visit, number: int) -> ClassMarkingView:
    """Every sheet of a class, marked; number 0 is the class at work now. Raises NotFound, NotYours."""
    state = class_at(visit, number)
    rows, _ = laid_cards(visit, state)
    handed = _latest(visit, state.number)
    benches = [
        MarkedBenchView(
            bench=row.bench,
            name=row.name,
            run=row.uuid,
            students=list(row.students),
            found=_found(row),
            is_out=row.is_out,
            sheets=[
                sheet
                for (bench, run), sheets in handed.items()
                if bench == row.bench
                for sheet in _sheets(visit, run, sheets)
            ],
        )
        for row in rows
    ]
    scale = class_scale(rows)
    return ClassMarkingView(
        id=state.number,
        title=state.title,
        date=state.session(visit).date.isoformat(),
        benches=benches,
        handed=sum(len(row.sheets) for row in benches),
        middle=scale.said if scale is not None else "",
    )


def _found(row: Laid) -> str:
    """A bench's result, or what stands against it."""
    if row.card.standing.level == "stop":
        return row.card.standing.word
    return row.card.found.text if row.card.found is not None else ""


def _latest(visit: Visit, day: int) -> dict[tuple[int, str], list[SheetRow]]:
    """By bench and run the latest sheet of each student and trial, as they came."""
    query = (
        select(SheetRow, RunRow.bench_id, RunRow.uuid)
        .join(RunRow, RunRow.id == SheetRow.run_id)
        .where(SheetRow.day_id == day)
        .order_by(SheetRow.id)
    )
    latest: dict[tuple[int, str, str, str], SheetRow] = {}
    for sheet, bench, run in visit.session.execute(query):
        latest[bench, run, sheet.trial, sheet.student] = sheet
    found: dict[tuple[int, str], list[SheetRow]] = {}
    for (bench, run, *_), sheet in sorted(latest.items(), key=lambda row: row[1].id):
        found.setdefault((bench, run), []).append(sheet)
    return found


def _sheets(visit: Visit, uuid: str, handed: Sequence[SheetRow]) -> Iterator[MarkedSheetView]:
    run = visit.run(uuid)
    asked = {row.name: row for row in asked_lines(visit, run)}
    for row in handed:
        found = _marked(run, row, asked)
        if found is not None:
            yield _view(run, row, found, asked)


def _marked(run: StoredRun, row: SheetRow, asked: Mapping[str, AskedLineView]) -> Marking | None:
    key = row.uuid, run.version
    if key not in _MARKED:
        known = run.evaluation.trials[0].trial.sheet.by_name
        claims = {name: text for name, text in row.claims.items() if name in asked or name in known}
        marks = {name: line.marks for name, line in asked.items()}
        try:
            _MARKED[key] = mark(Sheet(run.core, row.trial, claims, marks, row.student), run.evaluation)
        except Refusal:
            return None  # its trial was taken back since
        while len(_MARKED) > MOST_KEPT:
            _MARKED.popitem(last=False)
    return _MARKED[key]


def _view(run: StoredRun, row: SheetRow, found: Marking, asked: Mapping[str, AskedLineView]) -> MarkedSheetView:
    return MarkedSheetView(
        uuid=row.uuid,
        run=run.uuid,
        trial=row.trial,
        student=row.student,
        at=iso(row.at),
        lines=[
            MarkedLineView(
                name=line.name,
                label=line.label,
                number=asked[line.name].number if line.name in asked else 0,
                claimed=line.claimed,
                true=line.true,
                carried=line.carried,
                status=line.status,
                marks=line.marks,
                of=line.of,
                slip=line.slip or "",
                text=line.text,
                remarks=list(line.remarks),
            )
            for line in found.lines
        ],
        first_wrong=found.first_wrong or "",
        marks=found.marks,
        of=found.of,
    )
