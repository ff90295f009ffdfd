"""The class as one table: benches, results, marks, who lies outside and why; an earlier class of the kind beside it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Literal

from sqlalchemy import select

from claykettle.core.lab.scale import spreads
from claykettle.core.quantity import COVERAGE, percent, short
from claykettle.formats.lists import Listed, csv_of_lists, spreadsheet
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.desk.asking import practical_says
from claykettle.service.desk.marking import MarkedBenchView, class_marking, found_at
from claykettle.service.lab.cards import Laid, laid_cards
from claykettle.service.lab.results import ClassScaleView, class_scale
from claykettle.service.lab.state import class_at
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun
from claykettle.store.tables import Day

As = Literal["csv", "ods"]
MOST_EARLIER = 20


class TrialCellView(View):
    """A trial's key result, empty while there is none."""

    label: str
    text: str


class TableRowView(View):
    """A bench: its result, how far that is from what was accepted, and its marks; empty where there is nothing of that.

    `why` is the likeliest cause where it lies outside the class or what was accepted.
    """

    bench: int
    name: str
    run: str
    students: list[str]
    trials: list[TrialCellView]
    found: str
    off: str
    level: Literal["good", "watch", "stop"] | None
    word: str
    is_outside: bool
    is_out: bool
    why: str
    marks: int | None
    of: int


class EarlierView(View):
    """An earlier class with the same work."""

    id: int
    title: str
    date: str


class BesideView(View):
    """An earlier class beside this one: its results on its own scale, and what the two say together."""

    id: int
    title: str
    date: str
    scale: ClassScaleView | None
    said: str


class ClassTableView(View):
    """The class's table. `spread` says how the benches scatter against what their instruments explain."""

    id: int
    title: str
    date: str
    label: str
    rows: list[TableRowView]
    scale: ClassScaleView | None
    spread: str
    marks: str
    earlier: list[EarlierView]
    beside: BesideView | None


@may(INSTRUCTOR)
def class_table(visit: Visit, number: int, beside: int | None = None) -> ClassTableView:
    """The table of a class (0: of the one at work now), an earlier one beside it, the latest where none is named.

    Raises NotFound, NotYours.
    """
    state = class_at(visit, number)
    rows, _ = laid_cards(visit, state)
    marking = {row.bench: row for row in class_marking(visit, state.number).benches}
    scale = class_scale(rows)
    strange = {dot.bench for dot in scale.dots if dot.is_outside} if scale is not None else set()
    earlier = _earlier(visit, visit.session.get_one(Day, state.number))
    chosen = next((row for row in earlier if row.id == beside), earlier[0] if earlier and beside is None else None)
    return ClassTableView(
        id=state.number,
        title=state.title,
        date=state.session(visit).date.isoformat(),
        label=scale.label if scale is not None else "Result",
        rows=[_row(visit.run(row.uuid), row, marking[row.bench], row.name in strange) for row in rows],
        scale=scale,
        spread=_spread(rows, scale),
        marks=_marks(list(marking.values())),
        earlier=earlier,
        beside=_beside(visit, chosen, scale) if chosen is not None else None,
    )


@may(INSTRUCTOR)
def class_table_file(visit: Visit, number: int, written: As) -> tuple[str, bytes]:
    """The table to be taken along: every result of every trial, every mark. Raises NotFound, NotYours."""
    state = class_at(visit, number)
    rows, _ = laid_cards(visit, state)
    lists = [
        _results(visit, [row for row in rows if not row.is_out]),
        _marked(class_marking(visit, state.number).benches),
    ]
    title = f"{state.title} {state.session(visit).date.isoformat()}"
    return title, spreadsheet(lists) if written == "ods" else csv_of_lists(lists)


def _row(run: StoredRun, row: Laid, marked: MarkedBenchView, is_outside: bool) -> TableRowView:
    evaluation, card = run.evaluation, row.card
    found = card.found
    off = ""
    if found is not None and found.accepted:
        off = percent((found.value - found.accepted) / found.accepted, 1)
    sheets = marked.sheets
    # what is still going on explains itself
    is_odd = is_outside or card.standing.level == "stop" or (found is not None and found.is_settled)
    needs_why = found is not None and is_odd and (is_outside or card.standing.level != "good")
    return TableRowView(
        bench=row.bench,
        name=row.name,
        run=row.uuid,
        students=list(row.students),
        trials=[
            TrialCellView(label=trial.label, text=result.text if result is not None else "")
            for trial in evaluation.trials
            for result in (trial.result(evaluation.key),)
        ],
        found=found_at(row),
        off=off,
        level=card.standing.level,
        word="dropped out" if row.is_out else card.standing.word,
        is_outside=is_outside,
        is_out=row.is_out,
        why=_why(run) if needs_why else "",
        marks=sum(one.marks for one in sheets) if sheets else None,
        of=sum(one.of for one in sheets),
    )


def _why(run: StoredRun) -> str:
    """The likeliest cause of the trial that lies furthest off."""
    found = (run.evaluation.deviation(trial.label) for trial in run.evaluation.trials)
    worst = max(filter(None, found), key=lambda row: row.gap, default=None)
    if worst is None or worst.gap <= COVERAGE:
        return ""
    return worst.believable[0].text if worst.believable else "No single cause that is known here explains it."


def _spread(rows: Sequence[Laid], scale: ClassScaleView | None) -> str:
    """How the settled results scatter, robustly, against what the instruments explain."""
    if scale is None:
        return ""
    counted = {dot.bench for dot in scale.dots if dot.counts}
    found = [row.card.found for row in rows if row.name in counted and row.card.found is not None]
    both = spreads([row.value for row in found], [row.uncertainty for row in found])
    if both is None:
        return ""
    between, within = both
    unit = f" {scale.unit}" if scale.unit else ""
    told = f"The benches scatter by {short(between, 2)}{unit} (robust standard deviation)"
    explained = f"their instruments explain {short(within, 2)}"
    return f"{told}; {explained}{_against(between, within)}."


def _against(between: float, within: float) -> str:
    if within <= 0:
        return ""
    if between > 2 * within:
        return f", {short(between / within, 2)} times less: the technique decides, not the balance"
    return "" if between >= within / 2 else ": nothing but the instruments is seen"


def _marks(benches: Sequence[MarkedBenchView]) -> str:
    sheets = [sheet for row in benches for sheet in row.sheets if sheet.of]
    if not sheets:
        return "No sheet was handed in yet."
    share = sum(sheet.marks for sheet in sheets) / sum(sheet.of for sheet in sheets)
    back = sum(bool(sheet.given_back) for sheet in sheets)
    slips: dict[str, int] = {}
    for sheet in sheets:
        for line in sheet.lines:
            if line.status in ("wrong", "unit") and line.name == sheet.first_wrong:
                slips[line.label] = slips.get(line.label, 0) + 1
    first = max(slips, key=lambda label: slips[label], default="")
    often = f"; most often it first went wrong at {first} ({slips[first]} of {len(sheets)})" if first else ""
    count = f"{len(sheets)} {'sheet' if len(sheets) == 1 else 'sheets'}"
    return f"{count}, {percent(share, 0)} of the marks, {back} given back{often}."


def _earlier(visit: Visit, day: Day) -> list[EarlierView]:
    """The earlier classes with the same practical, the latest first."""
    practical = (day.plan or {}).get("practical") or {}
    if not day.starts or not practical:
        return []
    query = (
        select(Day.id, Day.title, Day.date)
        .where(
            Day.date < day.date,
            Day.starts != "",
            practical_says(Day.plan, "method") == practical.get("method", ""),
            practical_says(Day.plan, "name") == practical.get("name", ""),
        )
        .order_by(Day.date.desc(), Day.id.desc())
        .limit(MOST_EARLIER)
    )
    if not visit.caller.is_program:
        query = query.where(Day.section_id.in_(visit.caller.sections))
    return [EarlierView(id=row.id, title=row.title, date=row.date.isoformat()) for row in visit.session.execute(query)]


def _beside(visit: Visit, chosen: EarlierView, scale: ClassScaleView | None) -> BesideView:
    rows, _ = laid_cards(visit, class_at(visit, chosen.id))
    then = class_scale(rows)
    return BesideView(id=chosen.id, title=chosen.title, date=chosen.date, scale=then, said=_compared(scale, then))


def _compared(now: ClassScaleView | None, then: ClassScaleView | None) -> str:
    if then is None:
        return "That class left no result."
    if now is None or now.mean is None or then.mean is None or now.expanded is None or then.expanded is None:
        return f"That class: {then.said}."
    if now.label != then.label or now.unit != then.unit:
        return f"That class measured another thing: {then.said}."
    band = (now.expanded**2 + then.expanded**2) ** 0.5
    apart = now.mean - then.mean
    if abs(apart) <= band:
        return f"That class: {then.mean_text}. The two middles agree within their bands."
    side = "above" if apart > 0 else "below"
    return f"That class: {then.mean_text}. This one lies {short(abs(apart))} {side} it, more than the bands explain."


def _results(visit: Visit, rows: Sequence[Laid]) -> Listed:
    """Every result of every trial: a row each."""
    found: list[tuple[str | float, ...]] = []
    for row in rows:
        for trial in visit.run(row.uuid).evaluation.trials:
            for result in trial.results:
                found.append(
                    (
                        row.name, ", ".join(row.students), trial.label, result.label, result.value,
                        2 * result.standard_uncertainty, "" if result.unit == "1" else result.unit, result.text,
                        row.card.standing.word,
                    )
                )  # fmt: skip
    heads = ("Bench", "Students", "Trial", "Result", "Value", "U (k = 2)", "Unit", "As shown", "Stands")
    return Listed("Results", heads, tuple(found))


def _marked(benches: Sequence[MarkedBenchView]) -> Listed:
    heads = (
        "Bench",
        "Student",
        "Trial",
        "Line",
        "Claimed",
        "From the readings",
        "Status",
        "Marks",
        "Of",
        "Slip",
        "Note",
    )
    return Listed("Marks", heads, tuple(_lines(benches)))


def _lines(benches: Sequence[MarkedBenchView]) -> Iterator[tuple[str | float, ...]]:
    for row in benches:
        for sheet in row.sheets:
            for line in sheet.lines:
                yield (
                    row.name, sheet.student, sheet.trial, line.label, line.claimed, line.true, line.status, line.marks,
                    line.of, line.slip, line.note,
                )  # fmt: skip
