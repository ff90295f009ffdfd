"""Runs over HTTP: start, look, record, correct, observe, mark steps."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any

from flask import Response
from flask_openapi import APIBlueprint
from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, StringConstraints
from sqlalchemy.exc import IntegrityError

from claykettle.core.errors import KettleError
from claykettle.core.judgement.suspects import result_at, suspicion
from claykettle.core.method import Method, Trial
from claykettle.service import record
from claykettle.service.answers import working_view
from claykettle.service.calibration import calibrations
from claykettle.service.comparison import comparison_view
from claykettle.service.present import run_view, summary_view
from claykettle.service.runs import all_runs, evaluation_of, find_run, trial_of
from claykettle.service.signing import sign
from claykettle.service.starting import start_run
from claykettle.service.steps import current_trial, mark_step
from claykettle.service.views import (
    CalibrationsView,
    ComparisonView,
    ReplayView,
    RunListView,
    RunView,
    SuspicionView,
    WorkingPageView,
)
from claykettle.web.context import Query, answer, context
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
    """A step started, extended or finished."""

    uuid: Uuid
    step: Annotated[str, StringConstraints(max_length=60)]
    trial: Short = "1"
    kind: Annotated[str, StringConstraints(pattern="^(started|extended|finished)$")]


@blueprint.get("", responses={200: RunListView})
def list_runs() -> Response:
    """All runs, the latest changed first."""
    here = context()
    with here.database.transaction() as session:
        runs = [summary_view(run) for run in all_runs(session)]
        return answer(RunListView(now=here.clock().isoformat(), runs=runs))


@blueprint.post("", responses={201: RunView})
def post_run(body: StartBody) -> Response:
    """Start a run."""
    here = context()
    now = here.clock()
    with here.database.transaction() as session:
        return answer(run_view(start_run(session, now, **body.model_dump()), now), 201)


class MethodQuery(Query):
    """The method that is asked about."""

    method: Short


@blueprint.get("/calibrations", responses={200: CalibrationsView})
def get_calibrations(query: MethodQuery) -> Response:
    """What runs of a method on known samples tell the next one."""
    with context().database.transaction() as session:
        return answer(calibrations(session, query.method))


class TrialQuery(Query):
    """The trial that is asked about, by its label; without one, that which has its turn."""

    trial: Short | None = None


class SeenQuery(TrialQuery):
    """The version that the page shows already."""

    seen: int = -1


@blueprint.get("/<uuid>", responses={200: RunView, 204: None})
def get_run(path: RunPath, query: SeenQuery) -> Response:
    """One run, evaluated; nothing (204) where the page has seen this version."""
    here = context()
    with here.database.transaction() as session:
        run = find_run(session, path.uuid)
        if run.version == query.seen:
            return Response(status=204)
        return answer(run_view(run, here.clock(), query.trial))


@blueprint.get("/<uuid>/comparison", responses={200: ComparisonView})
def get_comparison(path: RunPath) -> Response:
    """The run's trials side by side."""
    with context().database.transaction() as session:
        return answer(comparison_view(find_run(session, path.uuid)))


@blueprint.get("/<uuid>/working", responses={200: WorkingPageView})
def get_working(path: RunPath) -> Response:
    """The run's calculation pages."""
    with context().database.transaction() as session:
        return answer(working_view(find_run(session, path.uuid)))


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
    trial, method = _asked(path, query)
    return answer(SuspicionView(found=suspicion(trial, method, query.expect)))


@blueprint.get("/<uuid>/suspects/replay", responses={200: ReplayView})
def get_replay(path: RunPath, query: DoseQuery) -> Response:
    """What a dose of one cause would have done."""
    trial, method = _asked(path, query)
    return answer(ReplayView(result=result_at(trial, method, query.code, query.dose, query.expect)))


def _asked(path: RunPath, query: TrialQuery) -> tuple[Trial, Method]:
    with context().database.transaction() as session:
        run = find_run(session, path.uuid)
        label = current_trial(run).label if query.trial is None else trial_of(run, query.trial).label
        evaluation = evaluation_of(run)
    return evaluation.trial(label).trial, evaluation.run.method


@blueprint.post("/<uuid>/trials", responses={200: RunView})
def post_trial(path: RunPath, body: TrialBody) -> Response:
    """Begin one more trial; the answer shows it."""
    return _change(record.start_trial, path, body, body.label.strip())


@blueprint.post("/<uuid>/readings", responses={200: RunView})
def post_reading(path: RunPath, body: ReadingBody) -> Response:
    """Record a reading; the answer holds the new evaluation."""
    return _change(record.record_reading, path, body, body.trial)


@blueprint.post("/<uuid>/corrections", responses={200: RunView})
def post_correction(path: RunPath, body: CorrectionBody) -> Response:
    """Correct a reading; the old digits stay in the log."""
    return _change(record.correct_reading, path, body)


@blueprint.post("/<uuid>/observations", responses={200: RunView})
def post_observation(path: RunPath, body: ObservationBody) -> Response:
    """Note something seen at the bench."""
    return _change(record.observe, path, body, body.trial or None)


@blueprint.post("/<uuid>/signatures", responses={200: RunView})
def post_signature(path: RunPath, body: SignatureBody) -> Response:
    """Sign the record as it stands."""
    return _change(sign, path, body)


@blueprint.post("/<uuid>/steps", responses={200: RunView})
def post_step(path: RunPath, body: StepBody) -> Response:
    """Start a step's timer, give it more time, or finish the step."""
    return _change(mark_step, path, body, body.trial)


def _change(use_case: Callable[..., Any], path: RunPath, body: Body, trial: str | None = None) -> Response:
    """Carry out a use case on a run and answer with the run as it then stands, seen from one of its trials."""
    here = context()
    now, values = here.clock(), body.model_dump()
    try:
        with here.database.transaction(trusting=True) as session:
            # seen before it is committed: what cannot be shown is not kept
            view = run_view(use_case(session, now, path.uuid, **values), now, trial)
    except (KettleError, IntegrityError):
        # what this process remembered may have been old: once more on what the store holds, locked
        with here.database.transaction() as session:
            view = run_view(use_case(session, now, path.uuid, **values), now, trial)
    return answer(view)
