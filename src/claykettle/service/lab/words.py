"""What to say at a bench that something stands against: asked of the leading suspect, remembered by version."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass
from datetime import datetime, timedelta

from claykettle.core.judgement.suspects import Suspicion
from claykettle.core.lab.calls import AGAIN
from claykettle.service.views.card import worst_first
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun

MOST = 256
SHORT = 24
"""Fewer letters than these say too little by themselves."""
LASTS = timedelta(seconds=20)
"""So long the words for a bench stand although it went on: to ask the suspects costs as much as sixty evaluations."""


@dataclass(frozen=True)
class _Said:
    version: int
    code: str
    at: datetime
    text: str


_SAID: OrderedDict[str, _Said] = OrderedDict()
"""What was worked out of a run: the same whoever asks. Nothing depends on its being there."""


def brief(text: str) -> str:
    """A sentence as it is read at arm's length: up to where it begins to explain itself."""
    for mark in (". ", ": ", "; "):
        head, found, _ = text.partition(mark)
        if found and len(head) >= SHORT:
            text = head
    return text if text.endswith((".", "?", "!")) else f"{text}."


def words_for(visit: Visit, uuid: str, code: str) -> str:
    """The question to ask at a bench that is called for this, and how much of the leading suspect would explain it."""
    run, said = visit.run(uuid), _SAID.get(uuid)
    if said is None or not (
        said.version == run.version or (said.code == code and said.at <= visit.now < said.at + LASTS)
    ):
        said = _SAID[uuid] = _Said(run.version, code, visit.now, _words(run))
        while len(_SAID) > MOST:
            _SAID.popitem(last=False)
    return said.text


def _words(run: StoredRun) -> str:
    """Of the trial for which the bench is called, else of another that has a result."""
    for label in worst_first(run):
        found = run.evaluation.deviation(label)
        if found is not None:
            return _asked(run, found)
    return AGAIN


def _asked(run: StoredRun, found: Suspicion) -> str:
    if not found.believable:
        return AGAIN
    leading = found.believable[0]
    cause = next(row for row in run.method.bench.causes if row.code == leading.code)
    ask = f"“{cause.ask}” " if cause.ask else ""
    return f"{ask}{leading.text}"
