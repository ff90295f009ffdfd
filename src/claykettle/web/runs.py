"""Runs over HTTP: start, look, record, correct, observe, mark steps, import, export."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable
from typing import Annotated, Any

from flask import Response, request
from flask_openapi import APIBlueprint
from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from claykettle.core.evaluation import evaluate_run
from claykettle.formats.run_csv import csv_rows
from claykettle.formats.run_file import read_run
from claykettle.service import record
from claykettle.service.present import run_view, summary_view
from claykettle.service.runs import all_runs, core_run, find_run, import_run, run_file, start_run
from claykettle.service.views import RunListView, RunView
from claykettle.web.context import answer, context
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


class ReadingBody(Body):
    """One reading as typed."""

    uuid: Uuid
    slot: Short
    position: Annotated[int, Field(ge=1, le=100)]
    text: Annotated[str, StringConstraints(max_length=80)]
    trial: Short = "1"
    by: Short = ""
    confirmed: bool = False


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


class StepBody(Body):
    """A step started, extended or finished."""

    uuid: Uuid
    step: Annotated[str, StringConstraints(max_length=60)]
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
        return answer(run_view(session, start_run(session, now, **body.model_dump()), now), 201)


@blueprint.post("/import", responses={201: RunView})
def post_import() -> Response:
    """Keep a run file (the request's body) as a new run."""
    here = context()
    now = here.clock()
    run = read_run(request.get_data())
    evaluate_run(run)
    with here.database.transaction() as session:
        return answer(run_view(session, import_run(session, now, run), now), 201)


@blueprint.get("/<uuid>", responses={200: RunView})
def get_run(path: RunPath) -> Response:
    """One run, evaluated."""
    here = context()
    with here.database.transaction() as session:
        return answer(run_view(session, find_run(session, path.uuid), here.clock()))


@blueprint.post("/<uuid>/readings", responses={200: RunView})
def post_reading(path: RunPath, body: ReadingBody) -> Response:
    """Record a reading; the answer holds the new evaluation."""
    return _change(record.record_reading, path, body)


@blueprint.post("/<uuid>/corrections", responses={200: RunView})
def post_correction(path: RunPath, body: CorrectionBody) -> Response:
    """Correct a reading; the old digits stay in the log."""
    return _change(record.correct_reading, path, body)


@blueprint.post("/<uuid>/observations", responses={200: RunView})
def post_observation(path: RunPath, body: ObservationBody) -> Response:
    """Note something seen at the bench."""
    return _change(record.observe, path, body)


@blueprint.post("/<uuid>/steps", responses={200: RunView})
def post_step(path: RunPath, body: StepBody) -> Response:
    """Start a step's timer, give it more time, or finish the step."""
    return _change(record.mark_step, path, body)


def _change(use_case: Callable[..., Any], path: RunPath, body: Body) -> Response:
    """Carry out a use case on a run and answer with the run as it then stands."""
    here = context()
    now = here.clock()
    with here.database.transaction() as session:
        view = run_view(session, use_case(session, now, path.uuid, **body.model_dump()), now)
    return answer(view)


@blueprint.get("/<uuid>/run-file")
def get_run_file(path: RunPath) -> Response:
    """The run as a run file."""
    with context().database.transaction() as session:
        text = json.dumps(run_file(session, path.uuid), ensure_ascii=False, indent=2) + "\n"
    return _download(text, "application/json", f"run-{path.uuid[:8]}.json")


@blueprint.get("/<uuid>/csv")
def get_csv(path: RunPath) -> Response:
    """The run's log, results and observations as CSV (UTF-8, comma)."""
    here = context()
    with here.database.transaction() as session:
        run = find_run(session, path.uuid)
        view = run_view(session, run, here.clock())
        rows = csv_rows(evaluate_run(core_run(run)), [row.model_dump() for row in view.readings])
    text = io.StringIO()
    csv.writer(text, lineterminator="\r\n").writerows(rows)
    return _download(text.getvalue(), "text/csv; charset=utf-8", f"run-{path.uuid[:8]}.csv")


def _download(text: str, content_type: str, name: str) -> Response:
    response = Response(text, content_type=content_type)
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
