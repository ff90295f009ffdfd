"""A term as one open package (RO-Crate 1.3): run files, the record beside them, practicals, classes, CSV and reports.

What is in it and what each file is stands in its metadata; what another installation reads back are the run files
under `runs/`, the record, the practicals and the classes. Written by the library of the format, read with every limit
checked.
"""

from __future__ import annotations

import datetime
import io
import json
import tempfile
import zipfile
import zlib
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path, PurePosixPath
from typing import Annotated, Any, Literal

from pydantic import AwareDatetime, Field, ValidationError

from claykettle.core.errors import refuse
from claykettle.formats.archive import LARGEST_RECORD, RECORD
from claykettle.formats.record import Count, Long, Name, Part, Short, Uuid
from claykettle.formats.strict_json import LARGEST_FILE, loads

METADATA, CLASSES = "ro-crate-metadata.json", "classes.jsonl"
MOST_FILES = 8000
LICENSE = "No licence is given with it: ask those who recorded it before it is passed on."
KINDS = {
    ".json": "application/json",
    ".jsonl": "application/jsonl",
    ".csv": "text/csv",
    ".html": "text/html",
    ".odt": "application/vnd.oasis.opendocument.text",
}


@dataclass(frozen=True)
class Held:
    """A file of a package: its path, its bytes, what it is in words, and of which others it tells."""

    path: str
    data: bytes
    name: str
    about: Sequence[str] = ()


class SheetPart(Part):
    """Own figures as they were handed in, of a run by its UUID."""

    uuid: Uuid
    run: Uuid
    trial: Name
    student: Name
    claims: dict[str, str]
    at: AwareDatetime
    by: Name


class AnswerPart(Part):
    """An answer to a question of the practical."""

    uuid: Uuid
    run: Uuid
    trial: Name
    student: Name
    place: Literal["before", "after"]
    number: Count
    ask: Long
    text: Long
    at: AwareDatetime
    by: Name


class MarkPart(Part):
    """Marks that a person gave, of a sheet by its UUID."""

    uuid: Uuid
    sheet: Uuid
    line: Short
    marks: int | None
    note: Long
    at: AwareDatetime
    by: Name


class GivenBackPart(Part):
    """A sheet that was given back."""

    uuid: Uuid
    sheet: Uuid
    at: AwareDatetime
    by: Name


class ChoicePart(Part):
    """What an instructor chose of a sheet."""

    uuid: Uuid
    sheet: Uuid
    choice: Literal["counts", "then", "now"]
    at: AwareDatetime
    by: Name


class PlacePart(Part):
    """A bench of a class: who stood there, and its run."""

    bench: Short
    position: Count
    run: Uuid | None
    is_out: bool
    students: list[Name]


class SessionPart(Part):
    """A further session of a class."""

    date: datetime.date
    starts: Short
    length_min: Count
    more_min: Count


class MessagePart(Part):
    """What was said to a bench, or to all (`bench` empty)."""

    uuid: Uuid
    bench: Short
    text: Long
    at: AwareDatetime
    by: Name


class CallPart(Part):
    """A call of the board that somebody answered."""

    uuid: Uuid
    run: Uuid
    code: Short
    call_key: Long
    kind: Short
    reason: Long
    until: AwareDatetime | None
    at: AwareDatetime
    by: Name


class ClassPart(Part):
    """A class with all that was handed in, answered, marked and said in it; its runs stand in the record."""

    kind: Literal["class"] = "class"
    section: Name
    date: datetime.date
    title: Name
    starts: Short
    more_min: Count
    is_closed: bool
    reveal: Literal["always", "after_own_figures", "when_closed"]
    plan: dict[str, Any]
    places: list[PlacePart]
    sessions: list[SessionPart]
    sheets: list[SheetPart]
    answers: list[AnswerPart]
    marks: list[MarkPart]
    given_back: list[GivenBackPart]
    choices: Annotated[list[ChoicePart], Field(default_factory=list)]
    messages: list[MessagePart]
    calls: list[CallPart]


@dataclass(frozen=True)
class Package:
    """What was read of a package: run files by name, their record, practicals, classes."""

    runs: list[tuple[str, bytes]]
    record: bytes | None
    practicals: list[tuple[str, bytes]]
    classes: list[ClassPart]


def write_package(name: str, described: str, published: datetime.datetime, files: Iterable[Held]) -> bytes:
    """The package as a ZIP archive."""
    from rocrate.rocrate import ROCrate

    crate = ROCrate()
    crate.name, crate.description, crate.license, crate.datePublished = name, described, LICENSE, published
    with tempfile.TemporaryDirectory(prefix="kettle-") as folder:
        for held in files:
            properties: dict[str, Any] = {"name": held.name, "encodingFormat": KINDS[PurePosixPath(held.path).suffix]}
            if held.about:
                properties["about"] = [{"@id": path} for path in held.about]
            crate.add_file(io.BytesIO(held.data), held.path, properties=properties)
        crate.write(folder)
        target = io.BytesIO()
        with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
            for path in sorted(Path(folder).rglob("*")):
                if path.is_file():
                    archive.write(path, path.relative_to(folder).as_posix())
        return target.getvalue()


def is_package(data: bytes) -> bool:
    """Whether an archive says that it is such a package."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            return METADATA in archive.namelist()
    except (zipfile.BadZipFile, ValueError, OSError):
        return False


def read_package(data: bytes) -> Package:
    """What a package holds for this program; CSV and reports are passed over, they follow from the rest.

    Raises Refusal `archive` for one that is cut off, holds too much or a path that leads out of it, `record` for
    classes that cannot be read.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            rows = [row for row in archive.infolist() if not row.is_dir()]
            _refuse_paths(rows)
            read = {row.filename: _start(archive, row) for row in rows if _is_wanted(row.filename)}
    except (zipfile.BadZipFile, RuntimeError, EOFError, OSError, ValueError, zlib.error):
        raise refuse("archive", "The package is cut off or damaged: fetch it once more.") from None
    _refuse_strangers(read)
    return Package(
        runs=[(name, held) for name, held in read.items() if name.startswith("runs/")],
        record=read.get(RECORD),
        practicals=[(name, held) for name, held in read.items() if name.startswith("practicals/")],
        classes=list(_classes(read.get(CLASSES, b""))),
    )


def _refuse_paths(rows: Sequence[zipfile.ZipInfo]) -> None:
    if len(rows) > MOST_FILES:
        raise refuse("archive", f"The package holds {len(rows)} files; at most {MOST_FILES} are opened.")
    for row in rows:
        path = PurePosixPath(row.filename.replace("\\", "/"))
        if path.is_absolute() or ".." in path.parts or ":" in row.filename:
            raise refuse("archive", f"'{row.filename[:80]}' leads out of the package: nothing of it was opened.")


def _is_wanted(name: str) -> bool:
    if name in (METADATA, RECORD, CLASSES):
        return True
    return name.endswith(".json") and name.startswith(("runs/", "practicals/"))


def _start(archive: zipfile.ZipFile, row: zipfile.ZipInfo) -> bytes:
    """A file up to its limit: a bomb is not unpacked."""
    most = LARGEST_RECORD if row.filename in (RECORD, CLASSES) else LARGEST_FILE
    with archive.open(row) as file:
        return file.read(most + 1)


def _refuse_strangers(read: dict[str, bytes]) -> None:
    """Refuse what bears the metadata's name and says nothing."""
    try:
        is_described = isinstance(json.loads(read[METADATA])["@graph"], list)
    except (KeyError, TypeError, ValueError):
        is_described = False
    if not is_described:
        raise refuse("archive", "The package's own description cannot be read.", METADATA)


def _classes(data: bytes) -> Iterable[ClassPart]:
    for number, line in enumerate((row for row in data.splitlines() if row.strip()), start=1):
        loads(line)
        try:
            yield ClassPart.model_validate_json(line)
        except ValidationError as error:
            first = error.errors()[0]
            where = ".".join(str(part) for part in first["loc"])
            raise refuse(
                "record", f"Line {number} of the classes cannot be read: {where}: {first['msg']}", CLASSES
            ) from None


def classes_text(parts: Iterable[ClassPart]) -> str:
    """The classes as text, one line each."""
    return "".join(f"{part.model_dump_json()}\n" for part in parts)
