"""What to say at a bench that something stands against: asked of the leading suspect, remembered by version."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass
from datetime import datetime, timedelta

from claykettle.core.errors import Refusal
from claykettle.core.judgement.suspects import Suspicion, suspicion
from claykettle.core.lab.calls import AGAIN
from claykettle.core.run import evidence_of
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
        try:
            at = run.evaluation.trial(label).trial
            found = suspicion(at, run.method, None, evidence_of(run.core, label))
        except Refusal:
            # no result yet, or nothing to hold it against
            continue
        return _asked(run, found)
    return AGAIN


def _asked(run: StoredRun, found: Suspicion) -> str:
    leading = next((row for row in found.suspects if row.standing in ("believable", "stretch")), None)
    if leading is None:
        return AGAIN
    cause = next(row for row in run.method.bench.causes if row.code == leading.code)
    ask = f"“{cause.ask}” " if cause.ask else ""
    return f"{ask}{leading.text}"
