"""The readings that can be typed next: so many that a page without connection can go on."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.judgement.expected import said
from claykettle.core.method import Trial
from claykettle.core.quantity import unit
from claykettle.core.run import reading_definition, stand_of, tread_label
from claykettle.core.sheet import ReadingDef
from claykettle.service.views.base import View
from claykettle.service.views.shown import Shown
from claykettle.store.records import StoredReading, StoredRun, StoredTrial

UPCOMING = 8


class EntryView(View):
    """A reading that can be typed next; `tread` is its short name on the stair of its `stand`, `kind` its instrument's.

    `expected` is where it will likely lie, such as `about 30.84 g when dry`, and `because` why; empty where nothing is
    known. `suggested` is what the trial before read where this one goes on, as typed; empty where there is none.
    `signed` where a minus can be meant: a level that may be lower, a temperature below zero.
    """

    slot: str
    position: int
    label: str
    stand: str
    tread: str
    unit: str
    instrument: str
    kind: str
    step: str | None
    hint: str
    expected: str
    because: str
    suggested: str
    signed: bool


def entry_views(shown: Shown) -> list[EntryView]:
    """The next readings of a trial in order; the series never ends."""
    places = list(_places(shown))[:UPCOMING]
    told = {slot: _told(shown, slot) for slot in dict.fromkeys(slot for slot, _, _ in places)}
    return [_entry(shown, *place, *told[place[0]]) for place in places]


def _told(shown: Shown, slot: str) -> tuple[str, str]:
    """Where a reading will likely lie, and why; empty where nothing is known."""
    row = shown.run.evaluation.expected(shown.label).get(slot)
    definition = shown.run.definition(slot)
    return ("", "") if row is None or definition is None else (said(row, unit(definition.unit)), row.because)


def _places(shown: Shown) -> Iterator[tuple[str, int, str | None]]:
    """Slot, position and step of what the procedure still reads, then of the series in work, weighed on and on."""
    last: dict[str, int] = {}
    trial = shown.found.trial
    for row in shown.steps:
        if row.step.reads and row.state in ("now", "ahead", "missed") and row.position is not None:
            last[row.step.reads] = max(last.get(row.step.reads, 0), row.position)
            yield row.step.reads, row.position, row.key
    series = trial.weighed_again
    if series is not None:
        begun = max(len(trial.series(series)), last.get(series, 0))
        yield from ((series, begun + more, None) for more in range(1, UPCOMING))


def _entry(shown: Shown, slot: str, position: int, step: str | None, expected: str, because: str) -> EntryView:
    run, trial = shown.run, shown.found.trial
    definition = reading_definition(run.method, slot, run.options)
    assert definition is not None  # the procedure's slots are checked against the method by a test
    named = trial.sheet.labels.get(slot) or slot_label(definition, slot)
    if definition.series:
        named = f"{named}, {definition.round} {position}"
    ended = _as_it_ended(shown.before, definition)
    return EntryView(
        slot=slot,
        position=position,
        label=named,
        stand=stand_of(definition, trial.sheet.readings.values()),
        tread=tread_label(definition, position) if definition.pan else named,
        unit=unit(definition.unit).shown,
        instrument=definition.instrument.replace("_", " "),
        kind=definition.instrument,
        step=step,
        hint=_hint(run, trial, definition, slot, ended),
        expected=expected,
        because=because,
        suggested=ended[1].suggests(definition) if ended is not None else "",
        signed=bool(definition.minus) or definition.instrument == "thermometer",
    )


def slot_label(definition: ReadingDef, slot: str) -> str:
    """What a slot is called: a net reading's two forms by the boat that stands on the pan."""
    if slot == definition.name:
        return definition.label
    return f"boat, empty, for the {definition.label}" if slot.endswith("_tare") else f"boat + {definition.label}"


def _hint(
    run: StoredRun, trial: Trial, definition: ReadingDef, slot: str, ended: tuple[str, StoredReading] | None
) -> str:
    if ended is not None:
        return f"Trial {ended[0]}: {ended[1].digits} {unit(ended[1].unit).shown}"
    if definition.series and trial.series(slot):
        return f"Before: {trial.series(slot)[-1].shown}"
    return _plan_for(run, definition, slot)


def _plan_for(run: StoredRun, definition: ReadingDef, slot: str) -> str:
    """How much was planned of what this reading weighs."""
    if definition.planned is not None:
        text = definition.planned(run.options)
        return f"Planned: {text}" if text else ""
    sized = run.method.planned
    if sized is None or definition.change != sized.name or definition.tipped_from or slot.endswith("_tare"):
        return ""
    window = run.course.windows.get(sized.name)
    planned = run.planned.get(sized.name) or (window.model_dump(exclude_none=True) if window else {})
    words = " ".join(f"{word} {text}" for word, text in planned.items())
    return f"Planned {sized.name}: {words}" if words else ""


def _as_it_ended(before: StoredTrial | None, definition: ReadingDef) -> tuple[str, StoredReading] | None:
    """Label of the trial before and what it read where this one goes on."""
    if before is None or not definition.continues:
        return None
    row = next((row for row in before.current if row.slot == definition.continues), None)
    return (before.label, row) if row is not None else None
