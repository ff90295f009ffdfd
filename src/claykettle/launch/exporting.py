"""Everything in open formats: run files, the whole record beside them, each run's log as CSV, practicals, rosters."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path

from claykettle.formats.package import CLASSES
from claykettle.launch.paths import SetupError
from claykettle.service.desk.terms import classes_file
from claykettle.service.laboratory import Laboratory
from claykettle.service.noting import note
from claykettle.service.planning.files import prepared_files
from claykettle.service.runs.files import archive_of, csv_of
from claykettle.service.visit import Visit


def export_to(laboratory: Laboratory, target: Path) -> int:
    """Write all runs into a new folder, or into a ZIP file where the name ends so; how many. Raises SetupError."""
    if target.exists():
        raise SetupError(f"{target} is there already; an export is never written over another one.")
    uuids = laboratory.ask(lambda visit: [run.uuid for run in visit.runs()])
    with zipfile.ZipFile(io.BytesIO(laboratory.ask(archive_of, []))) as archive:
        files = {name: archive.read(name) for name in archive.namelist()}
    for number, uuid in enumerate(uuids, start=1):
        name, text = laboratory.ask(csv_of, uuid)
        files[f"csv/{number:04}-{name}.csv"] = text.encode()
    files |= laboratory.ask(prepared_files)
    files[CLASSES] = laboratory.ask(classes_file).encode()
    laboratory.ask(_noted)
    try:
        _write(files, target)
    except OSError as error:
        raise SetupError(f"{target} cannot be written: {error.strerror}.") from None
    return len(uuids)


def _write(files: dict[str, bytes], target: Path) -> None:
    if target.suffix == ".zip":
        with zipfile.ZipFile(target, "x", zipfile.ZIP_DEFLATED) as archive:
            for name, data in files.items():
                archive.writestr(name, data)
        return
    for name, data in files.items():
        path = target / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(data)


def _noted(visit: Visit) -> None:
    note(visit, "everything exported")
