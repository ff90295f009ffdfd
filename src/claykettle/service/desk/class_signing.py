"""A class signed: an instructor's name below every bench's record at once, and one fingerprint over all of them."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal
from uuid import NAMESPACE_OID, uuid5

from claykettle.core.errors import Refusal
from claykettle.core.wording import listed
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.lab.cards import Laid, laid_cards
from claykettle.service.lab.state import class_at
from claykettle.service.runs.signing import Sign, sign
from claykettle.service.views.base import View
from claykettle.service.views.signatures import SignatureView, said_since, signature_views
from claykettle.service.visit import Visit

Standing = Literal["signed", "later", "broken", "unsigned", "empty"]
"""`later`: entries came after the last signature; `broken`: the record is not what was signed."""


class SignedBenchView(View):
    """A bench's record: who signed it, how it stands to that, and that as words."""

    name: str
    run: str
    names: list[str]
    standing: Standing
    said: str


class ClassSignaturesView(View):
    """The records of a class and who signed them. `fingerprint` is one over the last signature of every bench, in the
    order of the room: another one as soon as any of them is; empty while not all are signed.
    """

    benches: list[SignedBenchView]
    fingerprint: str
    said: str


@dataclass(frozen=True)
class SignClass:
    """A name to be put below all records of a class; the same UUID twice signs once."""

    uuid: str
    name: str


@may(INSTRUCTOR)
def class_signatures(visit: Visit, number: int) -> ClassSignaturesView:
    """Who signed what of a class, and what came after. Raises NotFound, NotYours."""
    state = class_at(visit, number)
    rows, _ = laid_cards(visit, state)
    return _view(visit, [row for row in rows if not row.is_out])


@may(INSTRUCTOR)
def sign_class(visit: Visit, number: int, command: SignClass) -> ClassSignaturesView:
    """Sign every bench's record as it stands; those that bear this name already, or hold nothing, stay as they are.

    Raises NotFound, NotYours, Refusal at `name`.
    """
    state = class_at(visit, number)
    rows, _ = laid_cards(visit, state)
    benches = [row for row in rows if not row.is_out]
    for row in benches:
        own = str(uuid5(NAMESPACE_OID, f"{command.uuid} {row.uuid}"))
        try:
            run = visit.run(row.uuid, lock=True)
            sign(visit.not_before(run), run, Sign(own, command.name))
        except Refusal as refusal:
            if refusal.faults[0].code not in ("nothing-to-sign", "signed-already", "too-many"):
                raise
    return _view(visit, benches)


def _view(visit: Visit, rows: Sequence[Laid]) -> ClassSignaturesView:
    benches, seals = [], []
    for row in rows:
        run = visit.run(row.uuid)
        shown = signature_views(run)
        is_empty = not any(trial.readings for trial in run.trials) and not run.observations and not run.step_events
        benches.append(_bench(row, shown, is_empty))
        seals.append(run.signatures[-1].seal if run.signatures else "")
    whole = [seal for seal, bench in zip(seals, benches, strict=True) if bench.standing != "empty"]
    mark = hashlib.sha256("\n".join(whole).encode()).hexdigest() if whole and all(whole) else ""
    return ClassSignaturesView(
        benches=benches,
        fingerprint=" ".join(mark[at : at + 4] for at in range(0, 16, 4)) if mark else "",
        said=". ".join(_said(benches)) + ".",
    )


def _bench(row: Laid, shown: Sequence[SignatureView], is_empty: bool) -> SignedBenchView:
    standing, said = _standing(shown, is_empty)
    names = list(dict.fromkeys(one.name for one in shown))
    return SignedBenchView(name=row.name, run=row.uuid, names=names, standing=standing, said=said)


def _standing(shown: Sequence[SignatureView], is_empty: bool) -> tuple[Standing, str]:
    if is_empty:
        return "empty", "nothing is recorded"
    if not shown:
        return "unsigned", "not signed"
    broken = next((one for one in shown if not one.holds), None)
    if broken is not None:
        return "broken", said_since(broken)
    since = said_since(shown[-1])
    return ("later", since) if since else ("signed", "signed as it stands")


def _said(benches: Sequence[SignedBenchView]) -> Iterator[str]:
    filled = [row for row in benches if row.standing != "empty"]
    signed = [row for row in filled if row.standing == "signed"]
    yield f"{len(signed)} of {len(filled)} signed as they stand"
    for standing, words in (("later", "changed after signing"), ("broken", "not what was signed")):
        names = [row.name for row in benches if row.standing == standing]
        if names:
            yield f"{words}: {listed(names)}"
