"""Whether every signature still holds: the record below it as it was signed, the chain whole."""

from __future__ import annotations

from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun
from claykettle.store.sealing import holds


def faults_in_signatures(visit: Visit) -> list[str]:
    """A line for every signature that does not hold: whose, below which run."""
    return [line for lines in visit.digests("signatures", _faults) for line in lines]


def _faults(run: StoredRun) -> list[str]:
    return [
        f"{row.name} below “{run.title}” ({run.bench}, {run.date})"
        for number, row in enumerate(run.signatures)
        if not holds(run, number)
    ]
