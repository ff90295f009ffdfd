"""The names below a record, and what they stand for."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.run import Evaluation
from claykettle.service.views.answer import AnswerView, answer_view
from claykettle.service.views.base import View
from claykettle.store.records import StoredRun, iso
from claykettle.store.sealing import holds, rows_of


class SignatureView(View):
    """A name below the record: the answers that it stands for, one a trial, and whether it still speaks of all of it.

    `later` counts the entries that came after it, `changed` says that today's answers are others, `holds` that the rows
    which it covers are to the letter those that were signed.
    """

    uuid: str
    name: str
    at: str
    results: list[str]
    fingerprint: str
    holds: bool
    later: int
    changed: bool


def said_since(row: SignatureView) -> str:
    """What happened to a record since it was signed; empty where it stands as it was."""
    if not row.holds:
        return "the record is not what was signed"
    later = f"{row.later} {'entry' if row.later == 1 else 'entries'} came after it" if row.later else ""
    return ", ".join(filter(None, (later, "the answers are others now" if row.changed else "")))


def signature_views(run: StoredRun) -> list[SignatureView]:
    """The signatures in order: whether the record is still what was signed, and how much came after."""
    if not run.signatures:
        return []
    today = results_of(run.evaluation)
    rows = {form: {row.uuid for _, row in rows_of(run, form)} for form in {row.format for row in run.signatures}}
    return [
        SignatureView(
            uuid=row.uuid,
            name=row.name,
            at=iso(row.at),
            results=[f"{label}: {text}" if len(row.results) > 1 else text for label, text in row.results.items()],
            fingerprint=" ".join(row.record[start : start + 4] for start in range(0, 16, 4)),
            holds=holds(run, number),
            later=len(rows[row.format] - set(row.covers)),
            changed=any(today.get(label) != text for label, text in row.results.items()),
        )
        for number, row in enumerate(run.signatures)
    ]


def results_of(evaluation: Evaluation) -> dict[str, str]:
    """What every trial came to, as it is shown."""
    answers = {trial.label: answer_view(evaluation, trial) for trial in evaluation.trials}
    return {label: " · ".join(_said(view)) or "no result yet" for label, view in answers.items()}


def _said(view: AnswerView) -> Iterator[str]:
    if view.formula is not None:
        yield view.formula.text or f"nearest {view.formula.nearest}"
    yield from (text for text in (view.headline, view.second) if text)
