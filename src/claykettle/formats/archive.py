"""Several run files in one ZIP archive, and beside them their record: written with plain names, read with every limit
checked before unpacking.
"""

from __future__ import annotations

import io
import re
import zipfile
import zlib
from collections.abc import Iterable

from claykettle.core.errors import refuse
from claykettle.formats.strict_json import LARGEST_FILE

MOST_FILES = 200
RECORD = "record.jsonl"
"""The name of the record beside the run files."""
LARGEST_RECORD = 64 * 1024 * 1024
LARGEST_ARCHIVE = 64 * 1024 * 1024


def write_archive(files: Iterable[tuple[str, str]]) -> bytes:
    """A ZIP archive of (name, text)."""
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, text in files:
            archive.writestr(name, text)
    return target.getvalue()


def numbered(number: int, title: str) -> str:
    """The name of a run file in an archive: after its title, a number keeps equal ones apart."""
    return f"{number:03d}-{file_name(title)}.json"


def file_name(title: str) -> str:
    """A title as a file name that every system takes: letters, digits and hyphens."""
    return re.sub(r"[^a-z0-9]+", "-", title.lower()).strip("-")[:60] or "run"


def read_archive(data: bytes) -> tuple[list[tuple[str, bytes]], bytes | None]:
    """Name and bytes of every file in a ZIP archive, in its order, and their record where one lies beside them.

    Folders are passed over. Raises Refusal `archive` for anything else and for one that holds more than 200 files. A
    file is read up to one byte beyond its limit, so that a bomb cannot unpack and the reader refuses it by its size.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            every = [row for row in archive.infolist() if not row.is_dir()]
            rows = [row for row in every if row.filename != RECORD]
            beside = next((row for row in every if row.filename == RECORD), None)
            if len(rows) > MOST_FILES:
                raise refuse(
                    "archive", f"The archive holds {len(rows)} files; at most {MOST_FILES} are opened at once."
                )
            record = None if beside is None else _start(archive, beside, LARGEST_RECORD)
            return [(row.filename, _start(archive, row, LARGEST_FILE)) for row in rows], record
    except (zipfile.BadZipFile, RuntimeError, EOFError, OSError, ValueError, zlib.error) as error:
        # RuntimeError: a password or a packing method that Python does not know
        raise refuse("archive", f"This archive cannot be read ({error}); pack it anew, or open its files.") from None


def _start(archive: zipfile.ZipFile, row: zipfile.ZipInfo, most: int) -> bytes:
    with archive.open(row) as file:
        return file.read(most + 1)
