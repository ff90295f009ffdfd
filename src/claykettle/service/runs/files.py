"""Run files in and out: opened one by one or from an archive, taken along as run file, CSV or archive."""

from __future__ import annotations

import json
import logging
from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

from claykettle.core.errors import Refusal, refuse
from claykettle.core.method import Observation
from claykettle.core.run import evaluate_run
from claykettle.formats.archive import RECORD, file_name, numbered, write_archive
from claykettle.formats.record import RunPart, record_text
from claykettle.formats.run_csv import csv_text
from claykettle.formats.run_file import read_run, run_document
from claykettle.formats.strict_json import loads
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.revealing import refuse_before_time
from claykettle.service.runs.archiving import bring_back, house_part, run_part
from claykettle.service.runs.importing import import_run
from claykettle.service.runs.signing import SIGNED
from claykettle.service.views.base import View
from claykettle.service.views.bench import RunView, run_view
from claykettle.service.views.log import reading_views
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun, iso

_LOG = logging.getLogger("claykettle")


class FaultView(View):
    """One thing wrong with a file: a stable code, the place, what mends it."""

    code: str
    path: str
    message: str


class OpenedFileView(View):
    """What became of one file of an archive: the run it was kept as, or why it was refused; `remark` says what of the
    record beside it could not be brought back.
    """

    name: str
    uuid: str | None
    title: str
    faults: list[FaultView]
    remark: str


class OpenedView(View):
    """What became of an archive's files, in its order; `also` says what came back beside them, such as classes."""

    files: list[OpenedFileView]
    also: list[str]


@may(INSTRUCTOR)
def opened(visit: Visit, data: bytes) -> RunView:
    """Keep a run file as a new run. Raises Refusal with every fault of the file."""
    run = read_run(data)
    evaluate_run(run)
    return run_view(import_run(visit, run), visit.now)


@may(INSTRUCTOR)
def opened_of_archive(visit: Visit, name: str, data: bytes, remark: str = "") -> OpenedFileView:
    """Keep one file of an archive as a new run, by itself. Raises Refusal with every fault of the file."""
    view = opened(visit, data)
    return OpenedFileView(name=name, uuid=view.uuid, title=view.title, faults=[], remark=remark)


@may(INSTRUCTOR, house=True)
def brought_back(visit: Visit, name: str, data: bytes, part: RunPart, elevations: Mapping[str, str]) -> OpenedFileView:
    """Keep one run of an archive with all of its record. Raises Refusal where that says otherwise than its run file."""
    read_run(data)
    run, remark = bring_back(visit, part, elevations)
    if _unsigned(run_file(run)) != _unsigned(loads(data)):
        raise refuse("record", "The record beside the run file says otherwise than the run file.")
    return OpenedFileView(name=name, uuid=run.uuid, title=run.title, faults=[], remark=remark)


def _unsigned(document: Any) -> Any:
    """A run file without the names below it: a copy has none."""
    seen = [row for row in document.get("observations", []) if row.get("tag") != SIGNED]
    return {**document, "observations": seen}


def not_opened(name: str, error: Exception) -> OpenedFileView:
    """Why a file of an archive was not kept; one that breaks the program is told, and the log has the details."""
    if isinstance(error, Refusal):
        faults = [FaultView(code=row.code, path=row.path, message=row.message) for row in error.faults]
    else:
        _LOG.error("a file of an archive could not be opened", exc_info=error)
        text = "Something went wrong in the program with this file; nothing of it was kept. The log has the details."
        faults = [FaultView(code="unexpected", path="", message=text)]
    return OpenedFileView(name=name, uuid=None, title="", faults=faults, remark="")


def seen_and_signed(run: StoredRun) -> tuple[Observation, ...]:
    """What was seen, and below it each signature with the answers that it stands for: as other programs read it."""
    signed = (
        Observation(SIGNED, f"{'; '.join(row.results.values())}; record {row.record[:16]}", iso(row.at), row.name)
        for row in run.signatures
    )
    return (*run.core.observations, *signed)


def run_file(run: StoredRun) -> dict[str, Any]:
    """The run as a run file."""
    return run_document(replace(run.core, observations=seen_and_signed(run)))


@may(BENCH, INSTRUCTOR)
def run_file_of(visit: Visit, uuid: str) -> tuple[str, str]:
    """A run's file name without its ending, and its run file as text. Raises NotFound."""
    run = visit.run(uuid)
    refuse_before_time(visit, run.id)
    return file_name(run.title), _text(run)


@may(BENCH, INSTRUCTOR)
def csv_of(visit: Visit, uuid: str) -> tuple[str, str]:
    """A run's file name without its ending, and its log, results and observations as CSV. Raises NotFound."""
    run = visit.run(uuid)
    refuse_before_time(visit, run.id)
    rows = [row.model_dump() for row in reading_views(run)]
    # a timer that began by itself is no reason to judge anew, but it stands in the table
    evaluation = replace(run.evaluation, run=run.core)
    return file_name(run.title), csv_text(evaluation, rows, seen_and_signed(run), _taken_back(run))


def _taken_back(run: StoredRun) -> list[dict[str, str]]:
    """What a tap did and a second one took back: a step by its name, something seen by its tag."""
    taps = {row.uuid: (row.trial, row.step, row.kind) for row in run.step_events}
    taps |= {row.uuid: (row.trial, row.tag, "seen") for row in run.observations}
    rows = []
    for row in run.withdrawals:
        trial, name, did = taps.get(row.row_uuid, (row.row_uuid.removeprefix("trial "), "trial", "begun"))
        at = iso(row.at)
        rows.append({"trial": trial, "name": name, "text": did, "at": at, "by": row.by, "reason": row.reason})
    return rows


@may(INSTRUCTOR)
def archive_of(visit: Visit, uuids: Iterable[str]) -> bytes:
    """Run files of these runs, of all where none is named, and the record beside them, in one ZIP archive.

    Raises NotFound.
    """
    runs = [visit.run(uuid) for uuid in uuids] or list(visit.runs())
    named = [(numbered(number, run.title), run) for number, run in enumerate(runs, start=1)]
    record = record_text(house_part(visit), (run_part(visit, run.uuid, name) for name, run in named))
    return write_archive([*((name, _text(run)) for name, run in named), (RECORD, record)])


def _text(run: StoredRun) -> str:
    return json.dumps(run_file(run), ensure_ascii=False, indent=2) + "\n"
