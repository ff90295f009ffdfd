"""Reports to be printed, handed out or kept: of a run, of a student, of a class, and all result slips in one print.

Here they are put together as documents; whoever asks writes them in the form that is wanted.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from datetime import datetime

from claykettle.core.errors import NotFound
from claykettle.core.method import Options
from claykettle.core.planning.waste import formulas_of, waste_sheet
from claykettle.core.report import (
    Asked,
    Beside,
    Block,
    Document,
    Logged,
    Section,
    Signed,
    report_of,
    said,
    table,
    verdicts_told,
    waste_told,
)
from claykettle.core.run import Evaluation, evaluate_run
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.desk.marking import MarkedBenchView, class_marking
from claykettle.service.desk.own_figures import GivenAnswerView, answers_of, students_at
from claykettle.service.desk.sheets import MarkedLineView, MarkedSheetView
from claykettle.service.desk.table import ClassTableView, TableRowView, class_table
from claykettle.service.revealing import held_back
from claykettle.service.shelf.remains import left_of
from claykettle.service.shelf.substances import register
from claykettle.service.views.log import change_views, observation_views, reading_views
from claykettle.service.views.signatures import said_since, signature_views
from claykettle.service.views.steps import marks_view
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun
from claykettle.store.tables import Day
from claykettle.store.tables import Section as SectionRow

MOST_SAID = 4
"""Of each bench, so that a class stays on a few sheets."""
VERDICTS = {"right": "Right", "wrong": "Not right", "open": "", "": ""}
STATUS = {
    "right": "right",
    "follows": "follows from the figures above",
    "wrong": "wrong",
    "unit": "its unit",
    "missing": "missing",
}
KINDS = {
    "done": "done",
    "finished": "done",
    "skipped": "passed over",
    "started": "begun",
    "extended": "given more time",
}


@may(BENCH, INSTRUCTOR)
def run_report(visit: Visit, uuid: str, is_handed_out: bool = False) -> Document:
    """The whole report of a run; a tablet that does not see the answers yet gets it without them. Neither it nor one
    that is handed out to students names what an unknown is held to be.

    Raises NotFound, NotYours.
    """
    run = visit.run(uuid)
    key = _key_of_unknown(run) if is_handed_out or BENCH in visit.caller.roles else frozenset()
    evaluation = _without(run, key) if key else run.evaluation
    return report_of(evaluation, _beside(visit, run, key), register(visit))


def _key_of_unknown(run: StoredRun) -> frozenset[str]:
    """The options that say what an unknown is held to be, which its instructor alone knows; none where the sample is
    named to everybody.
    """
    answers = frozenset(run.method.judging.answers) & set(type(run.options).model_fields)
    named = {row.anhydrous.text for row in formulas_of(_options_without(run, answers))}
    told = {row.anhydrous.text for row in formulas_of(run.options)}
    return answers if told - named else frozenset()


def _options_without(run: StoredRun, names: Iterable[str]) -> Options:
    fields = type(run.options).model_fields
    return run.options.model_copy(update={name: fields[name].default for name in names})


def _without(run: StoredRun, key: frozenset[str]) -> Evaluation:
    """The run as its students know it: not held against what the unknown is held to be."""
    changes = tuple(row for row in run.core.changes if row.what.removeprefix("options.") not in key)
    return evaluate_run(replace(run.core, options=_options_without(run, key), changes=changes))


@may(INSTRUCTOR)
def student_report(visit: Visit, number: int, student: str) -> Document:
    """What a student of a class handed in, alone or with the bench, marked, with what their bench found.

    Raises NotFound, NotYours.
    """
    marking = class_marking(visit, number)
    for row in marking.benches:
        whose = (student, "") if student in row.students else (student,)
        own = [sheet for sheet in row.sheets if sheet.student in whose]
        answers = [one for one in row.answers if one.student in whose]
        if own or answers or student in row.students:
            return Document(
                title=f"{student}: {marking.title}",
                about=(("Date", marking.date), ("Bench", row.name), ("Found", row.found or "nothing yet")),
                sections=tuple(_of_student(own, answers)),
            )
    raise NotFound("Nobody of this name stands at a bench of this class.")


@may(INSTRUCTOR)
def class_report(visit: Visit, number: int) -> Document:
    """A class on paper: its table, what it says as a whole, each bench, marks, waste. Raises NotFound, NotYours."""
    found = class_table(visit, number)
    marking = class_marking(visit, found.id)
    return Document(
        title=found.title,
        about=tuple(_about(visit, found.id)),
        sections=(
            Section("Results", tuple(_results(found))),
            Section("Bench by bench", tuple(_benches(visit, found))),
            Section("Own figures", tuple(_marks(found, marking.benches))),
            Section("Waste of the class", tuple(_waste(visit, found))),
        ),
    )


@may(INSTRUCTOR)
def class_slips(visit: Visit, number: int) -> Document:
    """The result slips of all benches, a sheet each. Raises NotFound, NotYours."""
    found = class_table(visit, number)
    sections: list[Section] = []
    for row in found.rows:
        run = visit.run(row.run)
        whose = f": {', '.join(row.students)}" if row.students else ""
        sections.append(Section(f"{row.name}{whose}", tuple(_slip(run)), appendix=bool(sections)))
    return Document(f"Result slips: {found.title}", tuple(_about(visit, found.id)), tuple(sections))


def _beside(visit: Visit, run: StoredRun, key: frozenset[str]) -> Beside:
    tells = not held_back(visit, run.id)
    day = visit.session.get_one(Day, run.day_id)
    section = visit.session.get_one(SectionRow, day.section_id)
    about = [("Method", run.method.title), ("Bench", run.bench), ("Class", f"{section.name}, {day.title}".rstrip(", "))]
    about.append(("Date", day.date.isoformat()))
    students = students_at(visit, run)
    if students:
        about.append(("Students" if len(students) > 1 else "Student", ", ".join(students)))
    return Beside(
        about=about,
        instruments=[
            (f"{row.get('name', '')} ({kind.replace('_', ' ')})".strip(), f"± {row.get('half_width', '')}")
            for kind, row in run.instruments.items()
        ],
        questions=[
            Asked(f"{row.ask}{f' (trial {row.trial})' if row.trial else ''}", row.label, _stands(row))
            for row in answers_of(visit, run, tells)
        ],
        signatures=[Signed(row.name, _moment(visit, row.at), said_since(row)) for row in signature_views(run)],
        log=sorted(_log(visit, run, tells, key), key=lambda row: row.at),
        tells_answers=tells,
    )


def _stands(row: GivenAnswerView) -> str:
    word = VERDICTS[row.verdict]
    return f"{word}. {row.said}".strip() if word else row.said


def _moment(visit: Visit, at: str) -> str:
    return datetime.fromisoformat(at).astimezone(visit.zone).strftime("%Y-%m-%d %H:%M:%S")


def _log(visit: Visit, run: StoredRun, tells: bool, key: frozenset[str]) -> Iterator[Logged]:
    """Everything that was recorded, by whom: readings with what they were corrected from, what was seen and done."""
    for row in reading_views(run):
        where = "" if row.trial == "shared" else f"trial {row.trial}, "
        figure = "not taken" if row.state == "not-taken" else f"{row.text} {row.unit}".strip()
        before = f", corrects {row.corrects}" if row.corrects else ""
        why = f" ({row.reason})" if row.reason else ""
        yield Logged(_moment(visit, row.at), row.by, f"{where}{row.label}: {figure}{before}{why}", not row.current)
    for seen in observation_views(run):
        where = f"trial {seen.trial}, " if seen.trial else ""
        more = f", {seen.text}" if seen.text else ""
        yield Logged(_moment(visit, seen.at), seen.by, f"{where}seen: {seen.tag}{more}", bool(seen.taken_back))
    for mark in marks_view(run).marks:
        why = f" ({mark.reason})" if mark.reason else ""
        what = f"trial {mark.trial}, {mark.title}: {KINDS[mark.kind]}{why}"
        yield Logged(_moment(visit, mark.at), mark.by, what, bool(mark.taken_back))
    for change in change_views(run) if tells else ():
        if change.what.removeprefix("options.") in key:
            continue
        yield Logged(_moment(visit, change.at), change.by, f"decided otherwise: {change.text} ({change.reason})")


def _about(visit: Visit, number: int) -> Iterator[tuple[str, str]]:
    day = visit.session.get_one(Day, number)
    section = visit.session.get_one(SectionRow, day.section_id)
    yield "Section", section.name
    yield "Date", f"{day.date.isoformat()} {day.starts}".strip()


def _results(found: ClassTableView) -> Iterator[Block]:
    rows = [
        (row.name, ", ".join(row.students), _found(row), row.off, _standing(row), _earned(row)) for row in found.rows
    ]
    yield table(("Bench", "Students", found.label, "Off what was accepted", "Stands", "Marks"), rows)
    for line in (
        found.scale.said if found.scale is not None else "",
        found.spread,
        found.beside.said if found.beside else "",
    ):
        if line:
            yield said(line if line.endswith(".") else f"{line}.")


def _found(row: TableRowView) -> str:
    if len(row.trials) < 2:
        return row.found
    return "; ".join(f"{cell.label}: {cell.text}" for cell in row.trials if cell.text)


def _standing(row: TableRowView) -> str:
    return "dropped out" if row.is_out else "outside" if row.is_outside else row.word


def _earned(row: TableRowView) -> str:
    return f"{row.marks} of {row.of}" if row.marks is not None else ""


def _benches(visit: Visit, found: ClassTableView) -> Iterator[Block]:
    for row in found.rows:
        whose = f" ({', '.join(row.students)})" if row.students else ""
        yield said(f"{row.name}{whose}: {row.found or 'nothing yet'}")
        trials = visit.run(row.run).evaluation.trials
        rows = [(one.text, one.level) for trial in trials for one in trial.verdicts if one.level != "good"]
        yield from verdicts_told(rows[:MOST_SAID])
        if row.why:
            yield said(f"Likeliest: {row.why}")


def _marks(found: ClassTableView, benches: Sequence[MarkedBenchView]) -> Iterator[Block]:
    yield said(found.marks)
    rows = [
        (row.name, sheet.student or "the bench", sheet.trial, f"{sheet.marks} of {sheet.of}", _first(sheet))
        for row in benches
        for sheet in row.sheets
    ]
    if rows:
        yield table(("Bench", "Student", "Trial", "Marks", "First wrong line"), rows, "", (3,))


def _first(sheet: MarkedSheetView) -> str:
    return next((line.label for line in sheet.lines if line.name == sheet.first_wrong), "")


def _waste(visit: Visit, found: ClassTableView) -> Iterator[Block]:
    lefts = [left for row in found.rows for left in left_of(visit.run(row.run)).left()]
    sheet = waste_sheet(lefts, register(visit))
    yield from waste_told(sheet)


def _slip(run: StoredRun) -> Iterator[Block]:
    for trial in run.evaluation.trials:
        head = f"Trial {trial.label}" if len(run.evaluation.trials) > 1 else run.title
        typed = [(trial.trial.sheet.labels.get(name, name), figure) for name, figure in trial.typed.items()]
        if typed:
            yield table((head, "As weighed"), typed, "", (1,))
        results = [(row.label, row.text) for row in trial.results]
        results += [(name, word.text or "none fits") for name, word in trial.words.items()]
        if results:
            yield table(("Result", "k = 2"), results, "", (1,))
        yield from verdicts_told((row.text, row.level) for row in trial.verdicts if row.code != "missing-reading")


def _of_student(sheets: Sequence[MarkedSheetView], answers: Sequence[GivenAnswerView]) -> Iterator[Section]:
    for sheet in sheets:
        together = "" if sheet.student else ", by the bench together"
        yield Section(f"Own figures, trial {sheet.trial}{together}", tuple(_sheet(sheet)))
    if not sheets:
        yield Section("Own figures", (said("Nothing was handed in."),))
    if answers:
        rows = [(row.ask, row.label, _stands(row)) for row in answers]
        yield Section("Questions", (table(("Question", "Answer", "What is to say of it"), rows),))


def _sheet(sheet: MarkedSheetView) -> Iterator[Block]:
    rows = [
        (
            str(line.number or ""),
            line.label,
            line.claimed,
            STATUS[line.status],
            f"{line.marks} of {line.of}",
            _why(line),
        )
        for line in sheet.lines
    ]
    yield table(("", "Line", "Claimed", "Stands", "Marks", "What is to say of it"), rows, "", (2, 4))
    yield said(f"{sheet.marks} of {sheet.of}.")
    worked = [(line.label, line.worked) for line in sheet.lines if line.worked]
    if worked:
        yield table(("Line", "As it should have been written"), worked)


def _why(line: MarkedLineView) -> str:
    """What the marking says of a line, and what a person wrote beside it."""
    note = f"{line.changed_by}: {line.note}" if line.note else ""
    return " ".join(filter(None, (line.text, note)))
