"""The desk over HTTP: own figures and answers of a bench, a class marked and given back, its table, reports."""

from __future__ import annotations

import io
import json
import zipfile
from base64 import b64encode
from collections.abc import Callable, Iterator
from datetime import date
from typing import Annotated, Literal

from flask import Response, stream_with_context
from flask_openapi import APIBlueprint
from pydantic import BaseModel, Field, StringConstraints

from claykettle.core.report import Document
from claykettle.formats.archive import file_name
from claykettle.formats.lists import MEDIA
from claykettle.formats.report import FORMS
from claykettle.service.desk.class_signing import ClassSignaturesView, SignClass, class_signatures, sign_class
from claykettle.service.desk.marking import (
    ChangeMark,
    ChooseSheet,
    ClassMarkingView,
    GiveBack,
    change_mark,
    choose_sheet,
    class_marking,
    give_back,
)
from claykettle.service.desk.own_figures import GiveAnswer, HandIn, OwnFiguresView, give_answer, hand_in, own_figures
from claykettle.service.desk.reports import class_report, class_slips, run_report, student_report
from claykettle.service.desk.searching import SearchView, State, Wanted, search
from claykettle.service.desk.student_data import student_data
from claykettle.service.desk.table import ClassTableView, class_table, class_table_file
from claykettle.service.desk.terms import Term, term_package
from claykettle.web.context import Query, answer, callers, download, file_of, laboratory
from claykettle.web.problems import LOOKED_UP
from claykettle.web.runs import LARGEST_NUMBER, Body, NumberPath, RunPath, Short, Uuid

classes = APIBlueprint("desk", __name__, url_prefix="/api/classes", abp_responses=LOOKED_UP)
blueprint = APIBlueprint("own_figures", __name__, url_prefix="/api/runs", abp_responses=LOOKED_UP)

finding = APIBlueprint("finding", __name__, url_prefix="/api/search", abp_responses=LOOKED_UP)

Claim = Annotated[str, StringConstraints(max_length=400)]
Said = Annotated[str, StringConstraints(max_length=4000)]
Written = Literal["html", "pdf", "odt"]
MOST_SHEETS = 1000
OF_A_REPORT = "default-src 'none'; style-src 'unsafe-inline'; font-src data:; frame-ancestors 'none'"
"""All that a report may do as a page: it brings its styles and letters along."""


class HandInBody(Body):
    """The figures of a trial by line, as typed, and whose they are (empty: the bench's)."""

    uuid: Uuid
    trial: Short
    claims: Annotated[dict[Short, Claim], Field(max_length=200)]
    student: Annotated[str, StringConstraints(max_length=400)] = ""
    by: Short = ""


class AnswerBody(Body):
    """An answer to a question as it was asked, and whose it is (empty: the bench's)."""

    uuid: Uuid
    place: Literal["before", "after"]
    number: Annotated[int, Field(ge=1, le=1000)]
    ask: Said
    text: Said
    trial: Short = ""
    student: Annotated[str, StringConstraints(max_length=400)] = ""
    by: Short = ""


class MarkBody(Body):
    """Other marks for a line of a sheet (null: those reckoned), why, and the latest mark of it that one has seen."""

    uuid: Uuid
    sheet: Uuid
    line: Short
    marks: Annotated[int, Field(ge=-1000, le=1000)] | None = None
    note: Said
    after: Short = ""
    by: Short = ""


class ChooseSheetBody(Body):
    """That a version of a sheet counts, or against which readings it is marked."""

    uuid: Uuid
    sheet: Uuid
    choice: Literal["counts", "then", "now"]


class GiveBackBody(Body):
    """The sheets to be given back."""

    uuid: Uuid
    sheets: Annotated[list[Uuid], Field(min_length=1, max_length=MOST_SHEETS)]
    by: Short = ""


class SignClassBody(Body):
    """A name to be put below all records of a class."""

    uuid: Uuid
    name: Annotated[str, StringConstraints(max_length=400)]


class SearchQuery(Query):
    """What is looked for; empty finds everything, the latest first."""

    words: Annotated[str, StringConstraints(max_length=200)] = ""
    method: Short = ""
    since: date | None = None
    until: date | None = None
    state: State = ""
    skip: Annotated[int, Field(ge=0, le=100_000)] = 0


class StudentQuery(Query):
    """Whose data: the whole name, as it stands on the roster."""

    name: Annotated[str, StringConstraints(min_length=1, max_length=120)]


class TermQuery(Query):
    """The first and the last day of a term."""

    since: date
    until: date


class TableQuery(Query):
    """Which earlier class stands beside it; the latest where none is named."""

    beside: Annotated[int, Field(ge=1, le=LARGEST_NUMBER)] | None = None


class SheetQuery(Query):
    """In which form: a spreadsheet or CSV."""

    written: Literal["csv", "ods"] = "ods"


class ReportQuery(Query):
    """In which form: a page, for print, or for a word processor."""

    to: Written = "pdf"


class ClassReportQuery(ReportQuery):
    """Of what: the class, all result slips, or a student by name."""

    of: Literal["class", "slips", "student"] = "class"
    student: Annotated[str, StringConstraints(max_length=400)] = ""


class Progress(BaseModel):
    """A line of the stream in which all reports of a class come: how many are written, of how many, of whom the last
    was; the last line holds the archive (ZIP, base64) and its name.
    """

    done: int
    of: int
    whose: str
    name: str = ""
    archive: str = ""


@blueprint.get("/<uuid>/own-figures", responses={200: OwnFiguresView}, openapi_extensions=callers(own_figures))
def get_own_figures(path: RunPath) -> Response:
    """The lines that are asked for, the questions, and what was handed in, answered and given back."""
    return answer(laboratory().ask(own_figures, path.uuid))


@blueprint.post("/<uuid>/own-figures", responses={200: OwnFiguresView}, openapi_extensions=callers(hand_in))
def post_own_figures(path: RunPath, body: HandInBody) -> Response:
    """Hand in a trial's figures."""
    return answer(laboratory().ask(hand_in, path.uuid, HandIn(**body.model_dump())))


@blueprint.post("/<uuid>/answers", responses={200: OwnFiguresView}, openapi_extensions=callers(give_answer))
def post_answer(path: RunPath, body: AnswerBody) -> Response:
    """Answer a question of the practical."""
    return answer(laboratory().ask(give_answer, path.uuid, GiveAnswer(**body.model_dump())))


@blueprint.get("/<uuid>/report", responses={200: file_of("application/pdf")}, openapi_extensions=callers(run_report))
def get_report(path: RunPath, query: ReportQuery) -> Response:
    """The whole report of a run."""
    return _report(laboratory().ask(run_report, path.uuid), query.to)


@classes.get("/<int:number>/marking", responses={200: ClassMarkingView}, openapi_extensions=callers(class_marking))
def get_marking(path: NumberPath) -> Response:
    """A class's own figures, marked. Number 0 is the class at work now."""
    return answer(laboratory().ask(class_marking, path.number))


@classes.post("/<int:number>/marks", responses={200: ClassMarkingView}, openapi_extensions=callers(change_mark))
def post_mark(path: NumberPath, body: MarkBody) -> Response:
    """Give a line other marks than those reckoned, with a note."""
    return answer(laboratory().ask(change_mark, path.number, ChangeMark(**body.model_dump())))


@classes.post("/<int:number>/sheets", responses={200: ClassMarkingView}, openapi_extensions=callers(choose_sheet))
def post_choice(path: NumberPath, body: ChooseSheetBody) -> Response:
    """Choose which version of a sheet counts, or against which readings it is marked."""
    return answer(laboratory().ask(choose_sheet, path.number, ChooseSheet(**body.model_dump())))


@classes.post("/<int:number>/given-back", responses={200: ClassMarkingView}, openapi_extensions=callers(give_back))
def post_given_back(path: NumberPath, body: GiveBackBody) -> Response:
    """Give sheets back to those who handed them in."""
    return answer(laboratory().ask(give_back, path.number, GiveBack(**body.model_dump())))


@classes.get(
    "/<int:number>/signatures", responses={200: ClassSignaturesView}, openapi_extensions=callers(class_signatures)
)
def get_class_signatures(path: NumberPath) -> Response:
    """Who signed what of a class, and what came after."""
    return answer(laboratory().ask(class_signatures, path.number))


@classes.post("/<int:number>/signatures", responses={200: ClassSignaturesView}, openapi_extensions=callers(sign_class))
def post_class_signature(path: NumberPath, body: SignClassBody) -> Response:
    """Put a name below every bench's record."""
    return answer(laboratory().ask(sign_class, path.number, SignClass(**body.model_dump())))


@finding.get("/student", responses={200: file_of("application/json")}, openapi_extensions=callers(student_data))
def get_student(query: StudentQuery) -> Response:
    """Everything that is kept of a student, as one document."""
    found = laboratory().ask(student_data, query.name)
    text = json.dumps(found, ensure_ascii=False, indent=2) + "\n"
    return download(text, "application/json", f"{file_name(query.name)}.json")


@finding.get("/term", responses={200: file_of("application/zip")}, openapi_extensions=callers(term_package))
def get_term(query: TermQuery) -> Response:
    """A term as one open package (RO-Crate): runs, record, practicals, classes, CSV and reports."""
    name, data = laboratory().ask(term_package, Term(query.since, query.until))
    return download(data, "application/zip", f"{file_name(name)}.crate.zip")


@finding.get("", responses={200: SearchView}, openapi_extensions=callers(search))
def get_search(query: SearchQuery) -> Response:
    """Runs and classes found by words, method, days and state."""
    return answer(laboratory().ask(search, Wanted(**query.model_dump())))


@classes.get("/<int:number>/table", responses={200: ClassTableView}, openapi_extensions=callers(class_table))
def get_table(path: NumberPath, query: TableQuery) -> Response:
    """The class as one table, an earlier one beside it."""
    return answer(laboratory().ask(class_table, path.number, query.beside))


@classes.get(
    "/<int:number>/table/file",
    responses={200: file_of("application/vnd.oasis.opendocument.spreadsheet")},
    openapi_extensions=callers(class_table_file),
)
def get_table_file(path: NumberPath, query: SheetQuery) -> Response:
    """Every result and every mark of the class: a spreadsheet, or one CSV."""
    title, data = laboratory().ask(class_table_file, path.number, query.written)
    return download(data, MEDIA[query.written], f"{file_name(title)}.{query.written}")


@classes.get(
    "/<int:number>/report", responses={200: file_of("application/pdf")}, openapi_extensions=callers(class_report)
)
def get_class_report(path: NumberPath, query: ClassReportQuery) -> Response:
    """The report of a class, its result slips in one print, or what a student handed in, marked."""
    if query.of == "student":
        return _report(laboratory().ask(student_report, path.number, query.student), query.to)
    use_case: Callable[..., Document] = class_slips if query.of == "slips" else class_report
    return _report(laboratory().ask(use_case, path.number), query.to)


@classes.get(
    "/<int:number>/reports",
    responses={200: file_of("application/x-ndjson")},
    openapi_extensions=callers(class_report),
)
def get_class_reports(path: NumberPath, query: ReportQuery) -> Response:
    """Every bench's report and the class's in one archive: a line of JSON as each is written, the whole in the last."""
    asked = laboratory()
    found = asked.ask(class_table, path.number)

    def lines() -> Iterator[str]:
        archive, of = io.BytesIO(), len(found.rows) + 1
        with zipfile.ZipFile(archive, "w", zipfile.ZIP_DEFLATED) as held:
            for number, row in enumerate(found.rows, start=1):
                written = FORMS[query.to].write(asked.ask(run_report, row.run, True))
                held.writestr(f"{number:02}-{file_name(row.name)}.{query.to}", written)
                yield _line(Progress(done=number, of=of, whose=row.name))
            held.writestr(f"00-class.{query.to}", FORMS[query.to].write(asked.ask(class_report, found.id)))
        name = f"{file_name(f'{found.title} {found.date}')}.zip"
        whole = b64encode(archive.getvalue()).decode()
        yield _line(Progress(done=of, of=of, whose=found.title, name=name, archive=whole))

    return Response(stream_with_context(lines()), content_type="application/x-ndjson")


def _line(row: Progress) -> str:
    return json.dumps(row.model_dump()) + "\n"


def _report(document: Document, to: Written) -> Response:
    form, name = FORMS[to], f"{file_name(document.title)}.{to}"
    response = download(form.write(document), form.media, name, "inline" if to != "odt" else "attachment")
    if to == "html":
        response.headers["Content-Security-Policy"] = OF_A_REPORT
    return response
