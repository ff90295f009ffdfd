"""What lists say of a run, kept beside it: nothing is evaluated to list it.

A reading only notes that its run is to be summed up; whoever is the next to ask for anything else makes it. A summary
belongs to the program that made it: after an update all are made anew before the house opens.
"""

from __future__ import annotations

import hashlib
import logging
from functools import cache
from pathlib import Path

import claykettle
from claykettle.core.errors import KettleError
from claykettle.service.runs.calibration import calibration_text
from claykettle.service.shelf.remains import remains_text
from claykettle.service.views.card import card_text
from claykettle.service.views.drying import drying_text
from claykettle.service.views.found import marks_of, words_of
from claykettle.service.views.listing import summary_view
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun
from claykettle.store.runs import load_runs_by_number, load_version
from claykettle.store.summaries import Summary, keep_summary, lock_to_sum_up, not_summed, note_summed_up

_LOG = logging.getLogger("claykettle")

AT_ONCE = 100
"""Runs that are summed up in one transaction."""
UNREADABLE = (ValueError, TypeError, LookupError, ArithmeticError, KettleError)
"""What a record may raise that this program can make nothing of."""
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


def sum_up_what_waits(visit: Visit) -> None:
    """Sum up the runs to which something was added since they were listed last, some at a time.

    Of one of which this program can make nothing lists say what they said before.
    """
    for number, version in lock_to_sum_up(visit.session):
        try:
            sum_up(visit, load_version(visit.session, number, version))
        except UNREADABLE:
            _LOG.exception("run %s cannot be summed up; lists leave it as it was", number)
            note_summed_up(visit.session, number, version)


def to_sum_up(visit: Visit) -> list[int]:
    """The numbers of the runs of which lists say nothing yet, or what another program said."""
    return list(not_summed(visit.session, program_mark()))


def sum_up_numbers(visit: Visit, numbers: list[int]) -> None:
    """Sum up some runs as the store holds them."""
    for run in load_runs_by_number(visit.session, numbers):
        sum_up(visit, run)
