"""Whether every signature still holds: the record below it as it was signed, the chain whole."""

from __future__ import annotations

from sqlalchemy import select

from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun, iso
from claykettle.store.sealing import holds
from claykettle.store.tables import LinkRow


def faults_in_signatures(visit: Visit) -> list[str]:
    """A line for every signature that does not hold: whose, below which run."""
    return [line for run in visit.runs() for line in _faults(run)]


class SealView(View):
    """How far the chain over all records reaches: its head in groups of four, and when that was sealed."""

    head: str
    at: str


@may(BENCH, INSTRUCTOR)
def sealed(visit: Visit) -> SealView:
    """The head of the chain as it stands, for what is printed."""
    link = visit.session.scalars(select(LinkRow).order_by(LinkRow.number.desc()).limit(1)).one_or_none()
    if link is None:
        return SealView(head="", at="")
    short = link.seal[:16]
    return SealView(head=" ".join(short[at : at + 4] for at in range(0, 16, 4)), at=iso(link.at))


def _faults(run: StoredRun) -> list[str]:
    return [
        f"{row.name} below “{run.title}” ({run.bench}, {run.date})"
        for number, row in enumerate(run.signatures)
        if not holds(run, number)
    ]
