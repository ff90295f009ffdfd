"""Run files in and out: opened one by one or from an archive, taken along as run file, CSV or archive."""

from __future__ import annotations

import json
import logging
from collections.abc import Iterable
from dataclasses import replace
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.method import Observation
from claykettle.core.run import evaluate_run
from claykettle.formats.archive import file_name, write_archive
from claykettle.formats.run_csv import csv_text
from claykettle.formats.run_file import read_run, run_document
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
    """What became of one file of an archive: the run it was kept as, or why it was refused."""

    name: str
    uuid: str | None
    title: str
    faults: list[FaultView]


class OpenedView(View):
    """What became of an archive's files, in its order."""

    files: list[OpenedFileView]


def opened(visit: Visit, data: bytes) -> RunView:
    """Keep a run file as a new run. Raises Refusal with every fault of the file."""
    run = read_run(data)
    evaluate_run(run)
    return run_view(import_run(visit, run), visit.now)


def opened_of_archive(visit: Visit, name: str, data: bytes) -> OpenedFileView:
    """Keep one file of an archive as a new run. Raises Refusal with every fault of the file."""
    view = opened(visit, data)
    return OpenedFileView(name=name, uuid=view.uuid, title=view.title, faults=[])


def not_opened(name: str, error: Exception) -> OpenedFileView:
    """Why a file of an archive was not kept; one that breaks the program is told, and the log has the details."""
    if isinstance(error, Refusal):
        faults = [FaultView(code=row.code, path=row.path, message=row.message) for row in error.faults]
    else:
        _LOG.error("a file of an archive could not be opened", exc_info=error)
        text = "Something went wrong in the program with this file; nothing of it was kept. The log has the details."
        faults = [FaultView(code="unexpected", path="", message=text)]
    return OpenedFileView(name=name, uuid=None, title="", faults=faults)


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


def run_file_of(visit: Visit, uuid: str) -> tuple[str, str]:
    """A run's file name without its ending, and its run file as text. Raises NotFound."""
    run = visit.run(uuid)
    return file_name(run.title), _text(run)


def csv_of(visit: Visit, uuid: str) -> tuple[str, str]:
    """A run's file name without its ending, and its log, results and observations as CSV. Raises NotFound."""
    run = visit.run(uuid)
    rows = [row.model_dump() for row in reading_views(run)]
    return file_name(run.title), csv_text(run.evaluation, rows, seen_and_signed(run))


def archive_of(visit: Visit, uuids: Iterable[str]) -> bytes:
    """Run files of these runs, of all where none is named, in one ZIP archive. Raises NotFound."""
    runs = [visit.run(uuid) for uuid in uuids] or visit.runs()
    return write_archive((run.title, _text(run)) for run in runs)


def _text(run: StoredRun) -> str:
    return json.dumps(run_file(run), ensure_ascii=False, indent=2) + "\n"
