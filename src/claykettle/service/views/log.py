"""A run's log: every reading that was typed, what was seen."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any, Literal, cast

from claykettle.core.quantity import digits_of, unit
from claykettle.service.views.base import View
from claykettle.service.views.entries import slot_label
from claykettle.service.views.steps import SIGN_OFF, step_titles
from claykettle.store.records import DAY, StoredChange, StoredReading, StoredRun, StoredTrial, iso


class LoggedView(View):
    """A reading as a log shows it. `current` is false for one that no longer stands."""

    uuid: str
    slot: str
    label: str
    text: str
    unit: str
    at: str
    by: str
    instrument: str
    current: bool
    corrects: str | None
    reason: str
    doubt: str
    state: Literal["taken", "not-taken", "withdrawn"]


class ReadingView(LoggedView):
    """One row of a run's log."""

    trial: str
    position: int


class ObservationView(View):
    """Something seen at the bench."""

    uuid: str
    trial: str
    at: str
    by: str
    tag: str
    text: str
    taken_back: str


class ChangeView(View):
    """Something that was decided otherwise in the running run: `what` (such as `options.accepted`), a sentence on it,
    and why.
    """

    what: str
    text: str
    reason: str
    at: str
    by: str


def change_views(run: StoredRun) -> list[ChangeView]:
    """What was decided otherwise, in order."""
    return [
        ChangeView(what=row.what, text=change_text(run, row), reason=row.reason, at=iso(row.at), by=row.by)
        for row in run.changes
    ]


def change_text(run: StoredRun, row: StoredChange) -> str:
    """A change in words, such as `How the tube counts: zero at the closed end, before burette turned over`."""
    place, _, name = row.what.partition(".")
    words: Mapping[str, str] = {}
    if place == "options":
        known = run.method.options.model_fields.get(name)
        title = (known.title if known is not None else None) or name
        extra = known.json_schema_extra if known is not None else None
        words = cast(Mapping[str, str], extra.get("words", {})) if isinstance(extra, dict) else {}
    elif place == "schools" and name in run.course.schools:
        title, words = run.course.schools[name].title, run.course.schools[name].choices
    elif place == DAY:
        return f"day: {row.change.after}, before {row.change.before}"
    else:
        title = name.replace("_", " ") or place
    after, before = (_in_words(value, words) for value in (row.after, row.before))
    return f"{title}: {after}, before {before}"


def _in_words(value: Any, words: Mapping[str, str]) -> str:
    match value:
        case None | "" | {} | []:
            return "nothing"
        case str():
            return words.get(value, value)
        case dict():
            return value.get("name") or ", ".join(
                f"{key.replace('_', ' ')} {_in_words(one, {})}" for key, one in value.items()
            )
        case list():
            return ", ".join(_in_words(one, {}) for one in value)
    return str(value)


def reading_views(run: StoredRun, only: str | None = None) -> list[ReadingView]:
    """All readings of a run, the shared ones first, each trial in order; or `only` those of one and the shared ones."""
    trials = [trial for trial in run.trials if only is None or trial.position == 0 or trial.label == only]
    return [view for trial in trials for view in _rows(trial, {slot: _label(run, slot) for slot in _slots(trial)})]


def _slots(trial: StoredTrial) -> set[str]:
    return {row.slot for row in trial.readings}


def _label(run: StoredRun, slot: str) -> tuple[str, str]:
    """What a slot is called, and the round that its positions count; empty where there is none."""
    definition = run.definition(slot)
    if definition is None:
        return slot, ""
    label = definition.labelled(run.options) if slot == definition.name else slot_label(definition, slot)
    return label, definition.round if definition.series else ""


def _rows(trial: StoredTrial, labels: dict[str, tuple[str, str]]) -> Iterator[ReadingView]:
    current = {row.uuid for row in (*trial.current, *trial.left)}
    for row in trial.readings:
        label, counted = labels[row.slot]
        old = trial.reading(row.supersedes) if row.supersedes else None
        yield _row(row, trial.label, f"{label}, {counted} {row.position}" if counted else label, old, current)


def _row(row: StoredReading, trial: str, label: str, old: StoredReading | None, current: set[str]) -> ReadingView:
    return ReadingView(
        uuid=row.uuid,
        trial=trial,
        slot=row.slot,
        position=row.position,
        label=label,
        text=row.digits,
        unit=unit(row.unit).shown,
        at=iso(row.at),
        by=row.by,
        instrument=row.instrument,
        current=row.uuid in current,
        corrects=digits_of(old.text) if old and old.text else None,
        reason=row.reason,
        doubt=row.doubt,
        state=row.state,
    )


def observation_views(run: StoredRun) -> list[ObservationView]:
    """Everything seen, that which was taken back with the reason; a step that was to be signed off by its name."""
    titles = step_titles(run) if any(row.tag == SIGN_OFF for row in run.observations) else {}
    return [
        ObservationView(
            uuid=row.uuid,
            trial=row.trial,
            at=iso(row.at),
            by=row.by,
            tag=row.tag,
            text=titles.get((row.trial, row.text), row.text) if row.tag == SIGN_OFF else row.text,
            taken_back=run.withdrawn[row.uuid].reason if row.uuid in run.withdrawn else "",
        )
        for row in run.observations
    ]
