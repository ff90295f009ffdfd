"""Run files over HTTP: opened one by one or as an archive, taken along as run file, CSV or archive."""

from __future__ import annotations

import csv
import io
import json

from flask import Response, current_app, request
from flask_openapi import APIBlueprint
from pydantic import Field

from claykettle.core.errors import Refusal
from claykettle.core.run import evaluate_run
from claykettle.formats.archive import file_name, read_archive, write_archive
from claykettle.formats.run_csv import csv_rows
from claykettle.formats.run_file import read_run
from claykettle.service.importing import import_run
from claykettle.service.present import run_view
from claykettle.service.runs import all_runs, evaluation_of, find_run, run_file, seen_and_signed
from claykettle.service.views import FaultView, OpenedFileView, OpenedView, RunView
from claykettle.web.context import Query, answer, context
from claykettle.web.problems import Problem
from claykettle.web.runs import RunPath, Uuid

blueprint = APIBlueprint(
    "run_files", __name__, url_prefix="/api/runs", abp_responses={404: Problem, 422: Problem, 503: Problem}
)


@blueprint.post("/import", responses={201: RunView})
def post_import() -> Response:
    """Keep a run file (the request's body) as a new run."""
    here = context()
    now = here.clock()
    run = read_run(request.get_data())
    evaluate_run(run)
    with here.database.transaction() as session:
        return answer(run_view(import_run(session, now, run), now), 201)


@blueprint.post("/import-archive", responses={200: OpenedView})
def post_import_archive() -> Response:
    """Keep every run file of a ZIP archive (the request's body); what is refused is named with its reasons."""
    files = [_opened(name, data) for name, data in read_archive(request.get_data())]
    return answer(OpenedView(files=files))


def _opened(name: str, data: bytes) -> OpenedFileView:
    """One file of an archive, in a transaction of its own: a refused one keeps no other out."""
    here = context()
    try:
        run = read_run(data)
        evaluate_run(run)
        with here.database.transaction() as session:
            now = here.clock()
            kept = import_run(session, now, run)
            run_view(kept, now)  # what cannot be shown is not kept
            return OpenedFileView(name=name, uuid=kept.uuid, title=kept.title, faults=[])
    except Refusal as refusal:
        faults = [FaultView(code=row.code, path=row.path, message=row.message) for row in refusal.faults]
    except Exception as error:  # one file that breaks the program keeps no other out, and is named
        current_app.logger.error("a file of an archive could not be opened", exc_info=error)
        text = "Something went wrong in the program with this file; nothing of it was kept. The log has the details."
        faults = [FaultView(code="unexpected", path="", message=text)]
    return OpenedFileView(name=name, uuid=None, title="", faults=faults)


class ChosenQuery(Query):
    """The runs to take along; none means all."""

    uuid: list[Uuid] = Field(default_factory=list, max_length=500)


@blueprint.get("/archive")
def get_archive(query: ChosenQuery) -> Response:
    """Run files of several runs in one ZIP archive."""
    with context().database.transaction() as session:
        runs = [find_run(session, uuid) for uuid in query.uuid] or all_runs(session)
        data = write_archive((run.title, _run_file_text(run_file(run))) for run in runs)
    return _download(data, "application/zip", "runs.zip")


@blueprint.get("/<uuid>/run-file")
def get_run_file(path: RunPath) -> Response:
    """The run as a run file."""
    with context().database.transaction() as session:
        run = find_run(session, path.uuid)
        text, name = _run_file_text(run_file(run)), file_name(run.title)
    return _download(text, "application/json", f"{name}.json")


@blueprint.get("/<uuid>/csv")
def get_csv(path: RunPath) -> Response:
    """The run's log, results and observations as CSV (UTF-8, comma)."""
    here = context()
    with here.database.transaction() as session:
        run = find_run(session, path.uuid)
        view = run_view(run, here.clock())
        rows = csv_rows(evaluation_of(run), [row.model_dump() for row in view.readings], seen_and_signed(run))
    text = io.StringIO()
    csv.writer(text, lineterminator="\r\n").writerows(rows)
    return _download(text.getvalue(), "text/csv; charset=utf-8", f"{file_name(view.title)}.csv")


def _run_file_text(document: dict[str, object]) -> str:
    return json.dumps(document, ensure_ascii=False, indent=2) + "\n"


def _download(data: str | bytes, content_type: str, name: str) -> Response:
    response = Response(data, content_type=content_type)
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
