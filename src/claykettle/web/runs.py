"""Runs over HTTP: start, look, record, correct, observe, mark steps."""

from __future__ import annotations

from typing import Annotated, Any

from flask import Response
from flask_openapi import APIBlueprint
from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, StringConstraints

from claykettle.service.runs.calibration import CalibrationsView, calibrations
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
from claykettle.service.views.answer import ReplayView, SuspicionView, WorkingPageView, working_view
from claykettle.service.views.bench import RunView, seen
from claykettle.service.views.comparison import ComparisonView, comparison_view
from claykettle.service.views.listing import RunListView, listed
from claykettle.service.views.steps import MarksView
from claykettle.web.context import Query, answer, laboratory
from claykettle.web.problems import Problem

blueprint = APIBlueprint(
    "runs", __name__, url_prefix="/api/runs", abp_responses={404: Problem, 409: Problem, 422: Problem, 503: Problem}
)

Uuid = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$")]
Short = Annotated[str, StringConstraints(max_length=120)]
Long = Annotated[str, StringConstraints(max_length=2000)]


class Body(BaseModel):
    """Base of all request bodies: unknown fields are refused."""

    model_config = ConfigDict(extra="forbid")


class RunPath(BaseModel):
    """The run's UUID in the address."""

    uuid: Uuid


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


class CorrectionBody(Body):
    """A correction of the reading `supersedes`."""

    uuid: Uuid
    supersedes: Uuid
    text: Annotated[str, StringConstraints(max_length=80)]
    reason: Long = ""
    by: Short = ""
    confirmed: bool = False


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


@blueprint.get("", responses={200: RunListView})
def list_runs() -> Response:
    """All runs, the latest changed first."""
    return answer(laboratory().ask(listed))


@blueprint.post("", responses={201: RunView})
def post_run(body: StartBody) -> Response:
    """Start a run."""
    return answer(laboratory().ask(started, StartRun(**body.model_dump())), 201)


class MethodQuery(Query):
    """The method that is asked about."""

    method: Short


@blueprint.get("/calibrations", responses={200: CalibrationsView})
def get_calibrations(query: MethodQuery) -> Response:
    """What runs of a method on known samples tell the next one."""
    return answer(laboratory().ask(calibrations, query.method))


class TrialQuery(Query):
    """The trial that is asked about, by its label; without one, that which has its turn."""

    trial: Short | None = None


class SeenQuery(TrialQuery):
    """The version that the page shows already."""

    seen: int = -1


@blueprint.get("/<uuid>", responses={200: RunView, 204: None})
def get_run(path: RunPath, query: SeenQuery) -> Response:
    """One run, evaluated; nothing (204) where the page has seen this version."""
    view = laboratory().ask(seen, path.uuid, query.trial, query.seen)
    return Response(status=204) if view is None else answer(view)


@blueprint.get("/<uuid>/comparison", responses={200: ComparisonView})
def get_comparison(path: RunPath) -> Response:
    """The run's trials side by side."""
    return answer(laboratory().ask(comparison_view, path.uuid))


@blueprint.get("/<uuid>/working", responses={200: WorkingPageView})
def get_working(path: RunPath) -> Response:
    """The run's calculation pages."""
    return answer(laboratory().ask(working_view, path.uuid))


class ExpectQuery(TrialQuery):
    """What was expected, in the unit of the key result; empty for the accepted formula."""

    expect: Short = ""


class DoseQuery(ExpectQuery):
    """A dose of one cause, in the cause's unit."""

    code: Short
    dose: float


@blueprint.get("/<uuid>/suspects", responses={200: SuspicionView})
def get_suspects(path: RunPath, query: ExpectQuery) -> Response:
    """Every cause held against the deviation from what was expected."""
    return answer(laboratory().ask(suspects, path.uuid, query.trial, query.expect))


@blueprint.get("/<uuid>/suspects/replay", responses={200: ReplayView})
def get_replay(path: RunPath, query: DoseQuery) -> Response:
    """What a dose of one cause would have done."""
    return answer(laboratory().ask(replayed, path.uuid, query.trial, query.expect, query.code, query.dose))


@blueprint.post("/<uuid>/trials", responses={200: RunView})
def post_trial(path: RunPath, body: TrialBody) -> Response:
    """Begin one more trial; the answer shows it."""
    return answer(laboratory().change(start_trial, path.uuid, StartTrial(body.label), body.label.strip()))


@blueprint.post("/<uuid>/readings", responses={200: RunView})
def post_reading(path: RunPath, body: ReadingBody) -> Response:
    """Record a reading; the answer holds the new evaluation."""
    return answer(laboratory().change(record_reading, path.uuid, RecordReading(**body.model_dump()), body.trial))


@blueprint.post("/<uuid>/corrections", responses={200: RunView})
def post_correction(path: RunPath, body: CorrectionBody) -> Response:
    """Correct a reading; the old digits stay in the log."""
    return answer(laboratory().change(correct_reading, path.uuid, CorrectReading(**body.model_dump())))


@blueprint.post("/<uuid>/observations", responses={200: RunView})
def post_observation(path: RunPath, body: ObservationBody) -> Response:
    """Note something seen at the bench."""
    return answer(laboratory().change(observe, path.uuid, Observe(**body.model_dump()), body.trial or None))


@blueprint.post("/<uuid>/signatures", responses={200: RunView})
def post_signature(path: RunPath, body: SignatureBody) -> Response:
    """Sign the record as it stands."""
    return answer(laboratory().change(sign, path.uuid, Sign(**body.model_dump())))


@blueprint.get("/<uuid>/steps", responses={200: MarksView})
def get_steps(path: RunPath) -> Response:
    """Everything that was marked of a run's steps, in order."""
    return answer(laboratory().ask(marks, path.uuid))


@blueprint.post("/<uuid>/steps", responses={200: RunView})
def post_step(path: RunPath, body: StepBody) -> Response:
    """Start a step's timer, give it more time, finish the step, or skip it with a reason."""
    return answer(laboratory().change(mark_step, path.uuid, MarkStep(**body.model_dump()), body.trial))
