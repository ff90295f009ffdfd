"""What lists say of a run, made while the run is at hand and kept beside it: nothing is evaluated to list it.

A summary belongs to the program that made it: after an update all are made anew before the house opens.
"""

from __future__ import annotations

import hashlib
from functools import cache
from pathlib import Path

import claykettle
from claykettle.service.runs.calibration import calibration_text
from claykettle.service.shelf.remains import remains_text
from claykettle.service.views.card import card_text
from claykettle.service.views.drying import drying_text
from claykettle.service.views.found import marks_of, words_of
from claykettle.service.views.listing import summary_view
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun
from claykettle.store.runs import load_runs_by_number
from claykettle.store.summaries import Summary, keep_summary, not_summed

AT_ONCE = 100
"""Runs that are summed up in one transaction."""
_SOURCES = (".py", ".toml", ".yaml", ".csv")


@cache
def program_mark() -> str:
    """Another one for every program that may say otherwise of a run: a hash over the core and the service."""
    mark, root = hashlib.sha256(), Path(claykettle.__file__).parent
    for path in sorted([*root.glob("core/**/*"), *root.glob("service/**/*"), *root.glob("formats/**/*")]):
        if path.suffix in _SOURCES:
            mark.update(path.relative_to(root).as_posix().encode() + path.read_bytes())
    return mark.hexdigest()[:16]


def sum_up(visit: Visit, run: StoredRun) -> None:
    """Keep what lists say of a run as it stands now."""
    keep_summary(visit.session, run, _summary(run), program_mark())


def _summary(run: StoredRun) -> Summary:
    drying, calibration = drying_text(run), calibration_text(run)
    return Summary(
        listed=summary_view(run).model_dump_json(),
        drying=drying or "",
        remains=remains_text(run),
        calibration=calibration or "",
        card=card_text(run),
        words=words_of(run),
        marks=marks_of(run),
        waits=drying is not None,
        calibrates=calibration is not None,
    )


def to_sum_up(visit: Visit) -> list[int]:
    """The numbers of the runs of which lists say nothing yet, or what another program said."""
    return list(not_summed(visit.session, program_mark()))


def sum_up_numbers(visit: Visit, numbers: list[int]) -> None:
    """Sum up some runs as the store holds them."""
    for run in load_runs_by_number(visit.session, numbers):
        sum_up(visit, run)
