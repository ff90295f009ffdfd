"""Several run files in one ZIP archive: written with plain names, read with every limit checked before unpacking."""

from __future__ import annotations

import io
import re
import zipfile
import zlib
from collections.abc import Iterable

from claykettle.core.errors import refuse
from claykettle.formats.strict_json import LARGEST_FILE

MOST_FILES = 200


def write_archive(files: Iterable[tuple[str, str]]) -> bytes:
    """A ZIP archive of (title, text); each is named after its title, a number keeps equal ones apart."""
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        for number, (title, text) in enumerate(files, start=1):
            archive.writestr(f"{number:03d}-{file_name(title)}.json", text)
    return target.getvalue()


def file_name(title: str) -> str:
    """A title as a file name that every system takes: letters, digits and hyphens."""
    return re.sub(r"[^a-z0-9]+", "-", title.lower()).strip("-")[:60] or "run"


def read_archive(data: bytes) -> list[tuple[str, bytes]]:
    """Name and bytes of every file in a ZIP archive, in its order; folders are passed over.

    Raises Refusal `archive` for anything else and for one that holds more than 200 files. A file is read up to
    one byte beyond the run file's limit, so that a bomb cannot unpack and the reader refuses it by its size.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            rows = [row for row in archive.infolist() if not row.is_dir()]
            if len(rows) > MOST_FILES:
                raise refuse(
                    "archive", f"The archive holds {len(rows)} files; at most {MOST_FILES} are opened at once."
                )
            return [(row.filename, _start(archive, row)) for row in rows]
    except (zipfile.BadZipFile, RuntimeError, EOFError, OSError, ValueError, zlib.error) as error:
        # RuntimeError: a password or a packing method that Python does not know
        raise refuse("archive", f"This archive cannot be read ({error}); pack it anew, or open its files.") from None


def _start(archive: zipfile.ZipFile, row: zipfile.ZipInfo) -> bytes:
    with archive.open(row) as file:
        return file.read(LARGEST_FILE + 1)
