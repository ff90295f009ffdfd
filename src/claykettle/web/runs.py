"""Runs over HTTP: start, look, record, correct, observe, mark steps."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Any, Literal

from flask import Response
from flask_openapi import APIBlueprint
from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, StringConstraints

from claykettle.service.runs.calibration import CalibrationsView, calibrations
from claykettle.service.runs.changing import ChangeRun, change_run
from claykettle.service.runs.leaving import LeaveOut, leave_out
from claykettle.service.runs.moving import MoveReading, move_reading
from claykettle.service.runs.record import (
    CorrectReading,
    Observe,
    RecordReading,
    StartTrial,
    correct_reading,
    observe,
    record_reading,
    start_trial,
)
from claykettle.service.runs.signing import Sign, sign
from claykettle.service.runs.starting import StartRun, started
from claykettle.service.runs.steps import MarkStep, mark_step, marks
from claykettle.service.runs.suspects import replayed, suspects
from claykettle.service.runs.undoing import TakeBack, take_back
from claykettle.service.views.answer import ReplayView, SuspicionView
from claykettle.service.views.bench import RunView
from claykettle.service.views.comparison import ComparisonView, comparison_view
from claykettle.service.views.held_back import seen
from claykettle.service.views.listing import RunListView, listed
from claykettle.service.views.steps import MarksView
from claykettle.service.views.working import Pressure, WorkingPageView, working_view
from claykettle.web.context import Query, answer, callers, laboratory
from claykettle.web.problems import LOOKED_UP

blueprint = APIBlueprint(
    "runs",
    __name__,
    url_prefix="/api/runs",
    abp_responses=LOOKED_UP,
)

Uuid = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$")]
Short = Annotated[str, StringConstraints(max_length=120)]
LARGEST_NUMBER = 2**31 - 1
"""As large as the database's keys get."""
Long = Annotated[str, StringConstraints(max_length=2000)]


class Body(BaseModel):
    """Base of all request bodies: unknown fields are refused."""

    model_config = ConfigDict(extra="forbid")


class RunPath(BaseModel):
    """The run's UUID in the address."""

    uuid: Uuid


class NumberPath(BaseModel):
    """The number of something in the address."""

    number: Annotated[int, Field(ge=0, le=LARGEST_NUMBER)]


class StartBody(Body):
    """A new run."""

    uuid: Uuid
    title: Short
    method: Short
    options: dict[str, Any] = {}
    bench_id: int
    balance_id: int
    procedure: Short | None = None
    schools: dict[Short, Short] = {}
    planned: dict[Short, dict[Short, Short]] = {}
    instruments: dict[Short, int] = {}
    note: Long = ""


class ReadingBody(Body):
    """One reading as typed."""

    uuid: Uuid
    slot: Short
    position: Annotated[int, Field(ge=1, le=100)]
    text: Annotated[str, StringConstraints(max_length=80)]
    trial: Short = "1"
    by: Short = ""
    confirmed: bool = False
    typed_at: AwareDatetime | None = None
    instrument: Short = ""
    half_width: Short = ""
    by_itself: Literal["", "steady", "moving"] = ""


class CorrectionBody(Body):
    """A correction of the reading `supersedes`."""

    uuid: Uuid
    supersedes: Uuid
    text: Annotated[str, StringConstraints(max_length=80)]
    reason: Long = ""
    by: Short = ""
    confirmed: bool = False


class RunCorrectionBody(CorrectionBody):
    """The same of a run's reading, which may have been read with another instrument."""

    instrument: Short = ""


class NotTakenBody(Body):
    """A reading declared not taken, with the reason."""

    uuid: Uuid
    slot: Short
    position: Annotated[int, Field(ge=1, le=100)] = 1
    trial: Short = "1"
    reason: Long
    by: Short = ""


class MoveBody(Body):
    """The figure `reading` moved to the line `slot` of a trial."""

    uuid: Uuid
    reading: Uuid
    slot: Short
    trial: Short
    reason: Long = ""
    by: Short = ""
    exchange: bool = False
    confirmed: bool = False


class ChangeBody(Body):
    """A running run decided otherwise: what shall stand (null: as it is), and how many changes were seen."""

    uuid: Uuid
    known: Annotated[int, Field(ge=0)]
    reason: Long
    options: dict[str, Any] | None = None
    schools: dict[Short, Short] | None = None
    instruments: dict[Short, int] = {}
    by: Short = ""
    aside: bool = False
    day: date | None = None


class UndoBody(Body):
    """A tap taken back: the UUID of a step's mark or an observation, or `trial LABEL`."""

    uuid: Uuid
    row: Annotated[str, StringConstraints(max_length=130)]
    reason: Long = ""
    by: Short = ""


class ObservationBody(Body):
    """Something seen."""

    uuid: Uuid
    tag: Annotated[str, StringConstraints(max_length=60)]
    text: Long = ""
    by: Short = ""
    trial: Short = ""


class SignatureBody(Body):
    """A name below the record."""

    uuid: Uuid
    name: Short


class TrialBody(Body):
    """One more trial."""

    label: Short


class StepBody(Body):
    """A step started, extended, finished, or skipped with its reason."""

    uuid: Uuid
    step: Annotated[str, StringConstraints(max_length=60)]
    trial: Short = "1"
    kind: Annotated[str, StringConstraints(pattern="^(started|extended|finished|skipped)$")]
    by: Short = ""
    reason: Annotated[str, StringConstraints(max_length=400)] = ""


class ListQuery(Query):
    """The page of the list: the `older` of the one before; or a day."""

    older: Short = ""
    day: date | None = None


@blueprint.get("", responses={200: RunListView}, openapi_extensions=callers(listed))
def list_runs(query: ListQuery) -> Response:
    """Runs of the section where one works, a page, the latest changed first."""
    return answer(laboratory().ask(listed, query.older, query.day))


@blueprint.post("", responses={201: RunView}, openapi_extensions=callers(started))
def post_run(body: StartBody) -> Response:
    """Start a run."""
    return answer(laboratory().ask(started, StartRun(**body.model_dump())), 201)


class MethodQuery(Query):
    """The method that is asked about."""

    method: Short


@blueprint.get("/calibrations", responses={200: CalibrationsView}, openapi_extensions=callers(calibrations))
def get_calibrations(query: MethodQuery) -> Response:
    """What runs of a method on known samples tell the next one."""
    return answer(laboratory().ask(calibrations, query.method))


class TrialQuery(Query):
    """The trial that is asked about, by its label; without one, that which has its turn."""

    trial: Short | None = None


class SeenQuery(TrialQuery):
    """The version that the page shows already; in brief without the readings of other trials."""

    seen: int = -1
    brief: bool = False


@blueprint.get("/<uuid>", responses={200: RunView, 204: None}, openapi_extensions=callers(seen))
def get_run(path: RunPath, query: SeenQuery) -> Response:
    """One run, evaluated; nothing (204) where the page has seen this version."""
    view = laboratory().ask(seen, path.uuid, query.trial, query.seen, query.brief)
    return Response(status=204) if view is None else answer(view)


@blueprint.get("/<uuid>/comparison", responses={200: ComparisonView}, openapi_extensions=callers(comparison_view))
def get_comparison(path: RunPath) -> Response:
    """The run's trials side by side."""
    return answer(laboratory().ask(comparison_view, path.uuid))


class WorkingQuery(Query):
    """The unit in which the class writes pressures."""

    pressure: Pressure = "kPa"


@blueprint.get("/<uuid>/working", responses={200: WorkingPageView}, openapi_extensions=callers(working_view))
def get_working(path: RunPath, query: WorkingQuery) -> Response:
    """The run's calculation pages."""
    return answer(laboratory().ask(working_view, path.uuid, query.pressure))


class ExpectQuery(TrialQuery):
    """What was expected, in the unit of the key result; empty for the accepted formula."""

    expect: Short = ""


class DoseQuery(ExpectQuery):
    """A dose of one cause, in the cause's unit."""

    code: Short
    dose: float


@blueprint.get("/<uuid>/suspects", responses={200: SuspicionView}, openapi_extensions=callers(suspects))
def get_suspects(path: RunPath, query: ExpectQuery) -> Response:
    """Every cause held against the deviation from what was expected."""
    return answer(laboratory().ask(suspects, path.uuid, query.trial, query.expect))


@blueprint.get("/<uuid>/suspects/replay", responses={200: ReplayView}, openapi_extensions=callers(replayed))
def get_replay(path: RunPath, query: DoseQuery) -> Response:
    """What a dose of one cause would have done."""
    return answer(laboratory().ask(replayed, path.uuid, query.trial, query.expect, query.code, query.dose))


@blueprint.post("/<uuid>/trials", responses={200: RunView}, openapi_extensions=callers(start_trial))
def post_trial(path: RunPath, body: TrialBody) -> Response:
    """Begin one more trial; the answer shows it."""
    return answer(laboratory().change(start_trial, path.uuid, StartTrial(body.label), body.label.strip()))


@blueprint.post("/<uuid>/readings", responses={200: RunView}, openapi_extensions=callers(record_reading))
def post_reading(path: RunPath, body: ReadingBody) -> Response:
    """Record a reading; the answer holds the new evaluation."""
    return answer(laboratory().change(record_reading, path.uuid, RecordReading(**body.model_dump()), body.trial))


@blueprint.post("/<uuid>/corrections", responses={200: RunView}, openapi_extensions=callers(correct_reading))
def post_correction(path: RunPath, body: RunCorrectionBody) -> Response:
    """Correct a reading; the old digits stay in the log."""
    return answer(laboratory().change(correct_reading, path.uuid, CorrectReading(**body.model_dump())))


@blueprint.post("/<uuid>/not-taken", responses={200: RunView}, openapi_extensions=callers(leave_out))
def post_not_taken(path: RunPath, body: NotTakenBody) -> Response:
    """Declare a reading not taken; the answer says what stands in for it, or what cannot be had."""
    return answer(laboratory().change(leave_out, path.uuid, LeaveOut(**body.model_dump()), body.trial))


@blueprint.post("/<uuid>/moves", responses={200: RunView}, openapi_extensions=callers(move_reading))
def post_move(path: RunPath, body: MoveBody) -> Response:
    """Move a figure to its own line, or exchange two."""
    return answer(laboratory().change(move_reading, path.uuid, MoveReading(**body.model_dump()), body.trial))


@blueprint.post("/<uuid>/changes", responses={200: RunView}, openapi_extensions=callers(change_run))
def post_change(path: RunPath, body: ChangeBody) -> Response:
    """Decide the running run otherwise: options, schools, instruments."""
    return answer(laboratory().change(change_run, path.uuid, ChangeRun(**body.model_dump())))


@blueprint.post("/<uuid>/undo", responses={200: RunView}, openapi_extensions=callers(take_back))
def post_undo(path: RunPath, body: UndoBody) -> Response:
    """Take back what a tap did."""
    return answer(laboratory().change(take_back, path.uuid, TakeBack(**body.model_dump())))


@blueprint.post("/<uuid>/observations", responses={200: RunView}, openapi_extensions=callers(observe))
def post_observation(path: RunPath, body: ObservationBody) -> Response:
    """Note something seen at the bench."""
    return answer(laboratory().change(observe, path.uuid, Observe(**body.model_dump()), body.trial or None))


@blueprint.post("/<uuid>/signatures", responses={200: RunView}, openapi_extensions=callers(sign))
def post_signature(path: RunPath, body: SignatureBody) -> Response:
    """Sign the record as it stands."""
    return answer(laboratory().change(sign, path.uuid, Sign(**body.model_dump())))


@blueprint.get("/<uuid>/steps", responses={200: MarksView}, openapi_extensions=callers(marks))
def get_steps(path: RunPath) -> Response:
    """Everything that was marked of a run's steps, in order."""
    return answer(laboratory().ask(marks, path.uuid))


@blueprint.post("/<uuid>/steps", responses={200: RunView}, openapi_extensions=callers(mark_step))
def post_step(path: RunPath, body: StepBody) -> Response:
    """Start a step's timer, give it more time, finish the step, or skip it with a reason."""
    return answer(laboratory().change(mark_step, path.uuid, MarkStep(**body.model_dump()), body.trial))
