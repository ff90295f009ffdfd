"""Run files over HTTP: opened one by one or as an archive, taken along as run file, CSV or archive."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from flask import Response, request
from flask_openapi import APIBlueprint
from pydantic import Field

from claykettle.core.errors import Refusal
from claykettle.formats.archive import LARGEST_ARCHIVE, read_archive
from claykettle.formats.package import Package, is_package, read_package
from claykettle.formats.record import RunPart, read_record
from claykettle.service.desk.bringing_back import bring_back_class, bring_back_practical
from claykettle.service.runs.archiving import bring_back_house
from claykettle.service.runs.files import (
    OpenedFileView,
    OpenedView,
    archive_of,
    brought_back,
    csv_of,
    not_opened,
    opened,
    opened_of_archive,
    run_file_of,
)
from claykettle.service.views.bench import RunView
from claykettle.web.context import Query, answer, callers, download, file_of, laboratory
from claykettle.web.problems import LOOKED_UP, turn_away
from claykettle.web.runs import RunPath, Uuid


@dataclass(frozen=True)
class Beside:
    """What lies beside an archive's run files: their records, the sections' elevations, or what is wrong with it."""

    runs: Mapping[str, RunPart | str]
    elevations: Mapping[str, str]
    trouble: str


blueprint = APIBlueprint(
    "run_files",
    __name__,
    url_prefix="/api/runs",
    abp_responses=LOOKED_UP,
)


@blueprint.post("/import", responses={201: RunView}, openapi_extensions=callers(opened))
def post_import() -> Response:
    """Keep a run file (the request's body) as a new run."""
    return answer(laboratory().ask(opened, request.get_data()), 201)


@blueprint.post("/import-archive", responses={200: OpenedView}, openapi_extensions=callers(bring_back_house))
def post_import_archive() -> Response:
    """Keep every run file of a ZIP archive (the request's body), with the record beside them where there is one; what
    is refused is named with its reasons.
    """
    turn_away()
    request.max_content_length = LARGEST_ARCHIVE
    data = request.get_data()
    if is_package(data):
        return answer(_opened_package(read_package(data)))
    files, record = read_archive(data)
    beside = _beside(record)
    return answer(OpenedView(files=[_opened(name, held, beside) for name, held in files], also=[]))


def _opened_package(package: Package) -> OpenedView:
    """A term: its practicals, its runs one by one, and then what belongs to its classes."""
    beside = _beside(package.record)
    also = [_told(name, bring_back_practical, data) for name, data in package.practicals]
    files = [_opened(name, data, beside) for name, data in package.runs]
    also += [_told(f"class {part.title}", bring_back_class, part, beside.elevations) for part in package.classes]
    return OpenedView(files=files, also=also)


def _told(name: str, use_case: Callable[..., str], *asked: object) -> str:
    """What became of a practical or a class: one that is refused, or breaks the program, keeps no other out."""
    try:
        return laboratory().ask(use_case, *asked)
    except Exception as error:  # noqa: BLE001  # told in the answer, and logged
        return f"{name}: {not_opened(name, error).faults[0].message}"


def _beside(record: bytes | None) -> Beside:
    """The record of an archive, its house brought back; where it cannot be read, why."""
    if record is None:
        return Beside({}, {}, "")
    try:
        house, runs = read_record(record)
        laboratory().ask(bring_back_house, house)
    except Refusal as refusal:
        return Beside({}, {}, f"{refusal.faults[0].message} The run file alone was opened.")
    return Beside(runs, house.elevations, "")


def _opened(name: str, data: bytes, beside: Beside) -> OpenedFileView:
    """One file of an archive, by itself: one that is refused, or breaks the program, keeps no other out."""
    remark, part = beside.trouble, beside.runs.get(name)
    if isinstance(part, RunPart):
        try:
            return laboratory().ask(brought_back, name, data, part, beside.elevations)
        except Exception as error:  # noqa: BLE001  # told in the answer, and logged; the run file still stands
            why = not_opened(name, error).faults[0].message
            remark = f"{why} The run file alone was opened."
    elif part is not None:
        remark = f"{part[:1].upper()}{part[1:]}. The run file alone was opened."
    try:
        return laboratory().ask(opened_of_archive, name, data, remark)
    except Exception as error:  # noqa: BLE001  # told in the answer, and logged
        return not_opened(name, error)


class ChosenQuery(Query):
    """The runs to take along; none means all."""

    uuid: list[Uuid] = Field(default_factory=list, max_length=500)


@blueprint.get("/archive", responses={200: file_of("application/zip")}, openapi_extensions=callers(archive_of))
def get_archive(query: ChosenQuery) -> Response:
    """Run files of several runs in one ZIP archive."""
    return download(laboratory().ask(archive_of, query.uuid), "application/zip", "runs.zip")


@blueprint.get(
    "/<uuid>/run-file", responses={200: file_of("application/json")}, openapi_extensions=callers(run_file_of)
)
def get_run_file(path: RunPath) -> Response:
    """The run as a run file."""
    name, text = laboratory().ask(run_file_of, path.uuid)
    return download(text, "application/json", f"{name}.json")


@blueprint.get("/<uuid>/csv", responses={200: file_of("text/csv")}, openapi_extensions=callers(csv_of))
def get_csv(path: RunPath) -> Response:
    """The run's log, results and observations as CSV (UTF-8, comma)."""
    name, text = laboratory().ask(csv_of, path.uuid)
    return download(text, "text/csv; charset=utf-8", f"{name}.csv")
