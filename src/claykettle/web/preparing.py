"""Preparing classes over HTTP: the sentence and what follows from it, timetable, practicals, rosters, laying out."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Annotated, Any

from flask import Response, request
from flask_openapi import APIBlueprint
from pydantic import BaseModel, Field, StringConstraints

from claykettle.formats.archive import file_name
from claykettle.formats.lists import MEDIA
from claykettle.service.planning.laying_out import (
    ChangePlace,
    ClassesView,
    LaidOutView,
    LayOut,
    change_place,
    classes,
    laid_out_class,
    lay_out,
    take_back_class,
)
from claykettle.service.planning.practicals import (
    ComparedView,
    CourseView,
    KeepPractical,
    PracticalFileView,
    PracticalsView,
    compared,
    course_of,
    import_practical,
    keep_practical,
    practical_file,
    practical_of_run,
    practicals,
    retire_practical,
    share_practical,
)
from claykettle.service.planning.preparing import PreparedView, prepared, to_be_timed
from claykettle.service.planning.roster import (
    KeepRoster,
    ListView,
    RosterView,
    keep_roster,
    read_list,
    roster,
    roster_file,
)
from claykettle.service.planning.sessions import AddSession, add_session, drop_session
from claykettle.service.planning.taking_along import As, class_calendar, class_lists
from claykettle.service.planning.timing import TimedView, timed_views
from claykettle.service.planning.wishes import Wish
from claykettle.web.context import Query, answer, callers, download, file_of, laboratory
from claykettle.web.problems import LOOKED_UP
from claykettle.web.runs import LARGEST_NUMBER, Body, Long, NumberPath, RunPath, Short, Uuid

blueprint = APIBlueprint("preparing", __name__, url_prefix="/api", abp_responses=LOOKED_UP)

Name = Annotated[str, StringConstraints(max_length=400)]
Number = Annotated[int, Field(ge=0, le=LARGEST_NUMBER)]
MOST_BENCHES, MOST_NAMES = 400, 6000


class WishBody(Body):
    """A class as it is wished: its practical, the setting as typed, when and how long, its benches."""

    practical: dict[str, Any]
    setting: dict[Short, Short] = Field(default_factory=dict)
    sample: Short = ""
    spare: Short = "20 %"
    title: Short = ""
    date: Short = ""
    starts: Short = ""
    length: Short = ""
    benches: Annotated[list[Number], Field(max_length=MOST_BENCHES)] = Field(default_factory=list)
    room: dict[Short, Annotated[int, Field(ge=-1, le=1000)]] = Field(default_factory=dict)
    stagger: Short = "0 min"
    overlap: bool = False
    learnt: bool = True

    @property
    def wish(self) -> Wish:
        """As the use cases take it."""
        return Wish(**{name: getattr(self, name) for name in WishBody.model_fields})


class TimedQuery(Query):
    """Which session of the class is timed."""

    session: Annotated[int, Field(ge=1, le=100)] = 1


class LayOutBody(Body):
    """A class to be laid out; `students` by bench the names of who stands there."""

    uuid: Uuid
    wish: WishBody
    students: dict[Number, Annotated[list[Name], Field(max_length=60)]] = Field(default_factory=dict)
    practical: Number | None = None
    version: Number | None = None


class SessionBody(Body):
    """A further session: its day, its hour, how long it lasts."""

    date: Short
    starts: Short
    length: Short


class SessionPath(NumberPath):
    """A class, and the day of a session."""

    date: Annotated[str, StringConstraints(pattern=r"^\d{4}-\d{2}-\d{2}$")]


class PlaceBody(Body):
    """A bench that drops out of a class, comes back or comes late."""

    bench: Number
    is_out: bool = False
    students: Annotated[list[Name], Field(max_length=60)] | None = None


class KeepPracticalBody(Body):
    """A practical to be kept as the version after `base`; a new one where `practical` is null."""

    document: dict[str, Any]
    practical: Number | None = None
    base: Number = 0
    note: Long = ""
    by: Short = ""


class CourseBody(Body):
    """A practical as far as it goes."""

    document: dict[str, Any]


class ShareBody(Body):
    """Whether every instructor of the house may use it."""

    is_shared: bool


class RosterBody(Body):
    """The whole roster, in order."""

    names: Annotated[list[Name], Field(max_length=MOST_NAMES)]


class ListsQuery(Query):
    """As what the lists are written."""

    written: As = "ods"


class VersionQuery(Query):
    """Which version; the latest where none is named."""

    version: Number | None = None


class ComparedQuery(Query):
    """Which two versions."""

    before: Number
    after: Number


class TimetableLines(BaseModel):
    """The timetable as it becomes known: JSON, an object a line."""

    lines: list[TimedView]


@blueprint.post("/prepare", responses={200: PreparedView}, openapi_extensions=callers(prepared))
def post_prepare(body: WishBody) -> Response:
    """A class prepared: the sentence, what to weigh, set out, make, label and order; what is wrong stands beside it."""
    return answer(laboratory().ask(prepared, body.wish))


@blueprint.post("/prepare/timetable", responses={200: TimetableLines}, openapi_extensions=callers(to_be_timed))
def post_timetable(query: TimedQuery, body: WishBody) -> Response:
    """The timetable of a session, line by line as it becomes known; who goes away stops the computing."""
    timed = laboratory().ask(to_be_timed, body.wish, query.session)

    def lines() -> Iterator[str]:
        for view in timed_views(timed):
            yield view.model_dump_json() + "\n"

    return Response(lines(), content_type="application/x-ndjson", headers={"X-Accel-Buffering": "no"})


@blueprint.post("/prepare/course", responses={200: CourseView}, openapi_extensions=callers(course_of))
def post_course(body: CourseBody) -> Response:
    """A practical with its procedure whole, so that its steps can be changed."""
    return answer(laboratory().ask(course_of, body.document))


@blueprint.get("/runs/<uuid>/practical", responses={200: CourseView}, openapi_extensions=callers(practical_of_run))
def get_practical_of_run(path: RunPath) -> Response:
    """The practical that a run followed: what it was begun with, its procedure whole."""
    return answer(laboratory().ask(practical_of_run, path.uuid))


@blueprint.get("/classes", responses={200: ClassesView}, openapi_extensions=callers(classes))
def get_classes() -> Response:
    """The classes that were laid out, the latest first."""
    return answer(laboratory().ask(classes))


@blueprint.post("/classes", responses={201: LaidOutView}, openapi_extensions=callers(lay_out))
def post_class(body: LayOutBody) -> Response:
    """Lay out a class: all its runs, or none."""
    command = LayOut(body.uuid, body.wish.wish, body.students, body.practical, body.version)
    return answer(laboratory().ask(lay_out, command), 201)


@blueprint.get("/classes/<int:number>", responses={200: LaidOutView}, openapi_extensions=callers(laid_out_class))
def get_class_laid_out(path: NumberPath) -> Response:
    """A class that was laid out."""
    return answer(laboratory().ask(laid_out_class, path.number))


@blueprint.post("/classes/<int:number>/places", responses={200: LaidOutView}, openapi_extensions=callers(change_place))
def post_place(path: NumberPath, body: PlaceBody) -> Response:
    """A bench drops out, comes back, or comes late."""
    students = tuple(body.students) if body.students is not None else None
    return answer(laboratory().ask(change_place, path.number, ChangePlace(body.bench, body.is_out, students)))


@blueprint.post("/classes/<int:number>/sessions", responses={200: LaidOutView}, openapi_extensions=callers(add_session))
def post_session(path: NumberPath, body: SessionBody) -> Response:
    """Let a class go on on another day."""
    return answer(laboratory().ask(add_session, path.number, AddSession(body.date, body.starts, body.length)))


@blueprint.delete(
    "/classes/<int:number>/sessions/<date>", responses={200: LaidOutView}, openapi_extensions=callers(drop_session)
)
def delete_session_of(path: SessionPath) -> Response:
    """Take a further session out again."""
    return answer(laboratory().ask(drop_session, path.number, path.date))


@blueprint.delete("/classes/<int:number>", responses={200: LaidOutView}, openapi_extensions=callers(take_back_class))
def delete_class(path: NumberPath) -> Response:
    """Take back a class in which nothing was recorded yet."""
    return answer(laboratory().ask(take_back_class, path.number))


@blueprint.get(
    "/classes/<int:number>/calendar",
    responses={200: file_of("text/calendar")},
    openapi_extensions=callers(class_calendar),
)
def get_class_calendar(path: NumberPath) -> Response:
    """The class as iCalendar, with its preparation."""
    found = laboratory().ask(class_calendar, path.number)
    return download(found, "text/calendar; charset=utf-8", "class.ics")


@blueprint.get(
    "/classes/<int:number>/lists",
    responses={200: file_of("application/vnd.oasis.opendocument.spreadsheet")},
    openapi_extensions=callers(class_lists),
)
def get_class_lists(path: NumberPath, query: ListsQuery) -> Response:
    """The lists of the class for the store room: a spreadsheet, or one CSV."""
    found = laboratory().ask(class_lists, path.number, query.written)
    return download(found, MEDIA[query.written], f"class-lists.{query.written}")


@blueprint.get("/practicals", responses={200: PracticalsView}, openapi_extensions=callers(practicals))
def get_practicals() -> Response:
    """The practicals that one may use."""
    return answer(laboratory().ask(practicals))


@blueprint.post("/practicals", responses={201: PracticalFileView}, openapi_extensions=callers(keep_practical))
def post_practical(body: KeepPracticalBody) -> Response:
    """Keep a practical as its next version, or as a new one."""
    return answer(laboratory().ask(keep_practical, KeepPractical(**body.model_dump())), 201)


@blueprint.post("/practicals/file", responses={201: PracticalFileView}, openapi_extensions=callers(import_practical))
def post_practical_file() -> Response:
    """A practical out of its file: the body of the request."""
    return answer(laboratory().ask(import_practical, request.get_data()), 201)


@blueprint.get(
    "/practicals/<int:number>", responses={200: PracticalFileView}, openapi_extensions=callers(practical_file)
)
def get_practical(path: NumberPath, query: VersionQuery) -> Response:
    """A version of a practical, whole."""
    return answer(laboratory().ask(practical_file, path.number, query.version))


@blueprint.get(
    "/practicals/<int:number>/file",
    responses={200: file_of("application/json")},
    openapi_extensions=callers(practical_file),
)
def get_practical_file(path: NumberPath, query: VersionQuery) -> Response:
    """A version of a practical as its file, to be taken along."""
    found = laboratory().ask(practical_file, path.number, query.version)
    text = json.dumps(found.document, ensure_ascii=False, indent=2) + "\n"
    return download(text, "application/json", f"{file_name(found.document['name'])}.practical.json")


@blueprint.get("/practicals/<int:number>/changes", responses={200: ComparedView}, openapi_extensions=callers(compared))
def get_practical_changes(path: NumberPath, query: ComparedQuery) -> Response:
    """What one version says otherwise than another."""
    return answer(laboratory().ask(compared, path.number, query.before, query.after))


@blueprint.post(
    "/practicals/<int:number>/sharing", responses={200: PracticalsView}, openapi_extensions=callers(share_practical)
)
def post_practical_sharing(path: NumberPath, body: ShareBody) -> Response:
    """Let every instructor of the house use it, or no more."""
    return answer(laboratory().ask(share_practical, path.number, body.is_shared))


@blueprint.delete(
    "/practicals/<int:number>", responses={200: PracticalsView}, openapi_extensions=callers(retire_practical)
)
def delete_practical(path: NumberPath) -> Response:
    """Offer it no more; classes that were held with it keep it."""
    return answer(laboratory().ask(retire_practical, path.number))


@blueprint.get("/roster", responses={200: RosterView}, openapi_extensions=callers(roster))
def get_roster() -> Response:
    """The roster of the section."""
    return answer(laboratory().ask(roster))


@blueprint.put("/roster", responses={200: RosterView}, openapi_extensions=callers(keep_roster))
def put_roster(body: RosterBody) -> Response:
    """The whole roster, in order."""
    return answer(laboratory().ask(keep_roster, KeepRoster(body.names)))


@blueprint.post("/roster/file", responses={200: ListView}, openapi_extensions=callers(read_list))
def post_roster_file() -> Response:
    """A list (text or CSV, the body of the request) as it would be read; nothing is kept of it."""
    return answer(laboratory().ask(read_list, request.get_data()))


@blueprint.get("/roster.csv", responses={200: file_of("text/csv")}, openapi_extensions=callers(roster_file))
def get_roster_csv() -> Response:
    """The roster as CSV."""
    found = laboratory().ask(roster_file)
    return download(found, MEDIA["csv"], "roster.csv")
