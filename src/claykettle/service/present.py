"""Makes the views: what the bench and the list show of a run, computed here so that the page only lays out."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta

from claykettle.core.method import SeriesOptions
from claykettle.core.methods.registry import method_named
from claykettle.core.quantity import digits_of, parse_reading, unit
from claykettle.core.run import (
    Evaluation,
    PlannedStep,
    Procedure,
    TrialEvaluation,
    losses,
    reading_definition,
    school_titles,
    stair,
    tread_label,
)
from claykettle.core.sheet import ReadingDef
from claykettle.core.verdict import Level, Verdict
from claykettle.service.answers import answer_view, run_answer, trial_view
from claykettle.service.comparison import predictions_of
from claykettle.service.record import next_label
from claykettle.service.runs import evaluation_of, iso, options_of, procedure_of, trial_of, with_unit
from claykettle.service.signing import signature_views
from claykettle.service.steps import current_trial, events_of, planned_steps
from claykettle.service.views import (
    BalanceView,
    CountView,
    EntryView,
    InstrumentUseView,
    ObservationView,
    ReadingView,
    RestView,
    RunSummaryView,
    RunView,
    SchoolView,
    StepView,
    TimerView,
    TrialLineView,
)
from claykettle.store.records import StoredRun, StoredStepEvent, StoredTrial


def run_view(run: StoredRun, now: datetime, label: str | None = None) -> RunView:
    """Everything the bench shows of a run, and of the trial with this label: without one, of that which has its turn.

    Raises NotFound for a label that the run does not have.
    """
    shown = current_trial(run) if label is None else trial_of(run, label)
    evaluation = evaluation_of(run)
    trial = evaluation.trial(shown.label)
    procedure = procedure_of(run)
    steps = planned_steps(run, shown.label)
    events = events_of(run, shown.label)
    treads = stair(trial.trial)
    typed = {(row.slot, row.position): digits_of(row.text) for row in (*run.shared, *shown.current)}
    predictions, options = predictions_of(run, evaluation), trial.trial.options
    upcoming = _entries(run, procedure, steps, trial)
    return RunView(
        uuid=run.uuid,
        version=run.version,
        title=run.title,
        note=run.note,
        method=run.method,
        method_title=evaluation.run.method.title,
        bench=run.bench,
        section=run.section,
        date=run.date.isoformat(),
        procedure=f"{procedure.title}, version {procedure.version}",
        caution=procedure.caution,
        schools=[SchoolView(title=title, answer=answer) for title, answer in school_titles(procedure, run.schools)],
        options=dict(run.options),
        balance=_balance(run),
        instruments={
            kind: InstrumentUseView(name=row.get("name", ""), half_width=row.get("half_width", ""))
            for kind, row in run.instruments.items()
        },
        now=iso(now),
        steps=[_step(events, step, typed) for step in steps],
        entry=upcoming[0] if upcoming else None,
        upcoming=upcoming,
        observe=procedure.observe,
        readings=[view for row in run.trials for view in _log(run, row)],
        observations=[
            ObservationView(uuid=row.uuid, trial=row.trial, at=iso(row.at), by=row.by, tag=row.tag, text=row.text)
            for row in run.observations
        ],
        signatures=signature_views(run),
        stair=treads,
        losses=losses(trial.trial, treads),
        pictures=evaluation.run.method.judging.pictures(trial.trial),
        round=_round_of(trial),
        tolerance=options.tolerance.shown if isinstance(options, SeriesOptions) else "",
        tolerance_mg=float(options.tolerance_g) * 1000 if isinstance(options, SeriesOptions) else 0.0,
        answer=answer_view(evaluation, trial),
        trial=trial_view(trial),
        trials=[_line(run, row, evaluation) for row in run.own_trials],
        next_trial=next_label(run),
        predictions=predictions,
        can_predict=all(row.result(evaluation.key) is None for row in evaluation.trials),
        verdicts=list(evaluation.verdicts),
    )


def _round_of(trial: TrialEvaluation) -> str:
    """What is done before each weighing of the series in work; empty where a method weighs none to constancy."""
    series = trial.trial.weighed_again
    return trial.trial.sheet.readings[series].round if series else ""


def summary_view(run: StoredRun) -> RunSummaryView:
    """One line about a run: its answer so far, and what it waits for: of several trials, whose timer ends first."""
    evaluation = evaluation_of(run)
    lines = [_line(run, row, evaluation) for row in run.own_trials]
    open_lines = [line for line in lines if line.state != "finished"]
    ticking = sorted((line for line in open_lines if line.timer_ends_at), key=lambda line: line.timer_ends_at or "")
    line = next(iter([*ticking, *open_lines]), lines[-1])
    of_several = f"Trial {line.label}: " if len(lines) > 1 and open_lines else ""
    judged = [*evaluation.verdicts, *(verdict for trial in evaluation.trials for verdict in trial.verdicts)]
    return RunSummaryView(
        uuid=run.uuid,
        version=run.version,
        title=run.title,
        bench=run.bench,
        method_title=evaluation.run.method.title,
        date=run.date.isoformat(),
        changed_at=iso(run.changed_at),
        state="finished" if not open_lines else "new" if all(row.state == "new" for row in lines) else "waiting",
        doing=of_several + line.doing,
        timer_ends_at=line.timer_ends_at,
        rest=line.rest,
        level=_worst(judged),
        answer=run_answer(evaluation, line.label),
    )


def _line(run: StoredRun, stored: StoredTrial, evaluation: Evaluation) -> TrialLineView:
    trial = evaluation.trial(stored.label)
    step = next((row for row in planned_steps(run, stored.label) if row.state == "now"), None)
    ends_at = timer_end(events_of(run, stored.label), step.key) if step else None
    key = trial.result(evaluation.key)
    head = evaluation.run.method.judging.headline(evaluation.run.options)
    return TrialLineView(
        label=stored.label,
        state="finished" if step is None else "waiting" if stored.readings else "new",
        doing=step.text(step.step.title) if step else "Finished",
        timer_ends_at=iso(ends_at) if ends_at else None,
        level=_worst(trial.verdicts),
        headline=head.template.format(key.text) if key else None,
        rest=rest_of(run, stored, step),
    )


def rest_of(run: StoredRun, trial: StoredTrial, step: PlannedStep | None) -> RestView | None:
    """Where a trial's solid stands and waits, None where its step now is no waiting."""
    if step is None or not step.step.waits_in:
        return None
    begun = [event.at for event in events_of(run, trial.label) if event.step == step.key and event.kind == "started"]
    noted = [row for row in run.observations if row.tag == PLACE and row.trial in ("", trial.label)]
    since = begun[0] if begun else run.changed_at
    return RestView(waits_in=step.step.waits_in, since=iso(since), place=noted[-1].text if noted else "")


def _worst(verdicts: Sequence[Verdict]) -> Level | None:
    levels = {verdict.level for verdict in verdicts}
    return next((level for level in WORST_FIRST if level in levels), None)


WORST_FIRST: Sequence[Level] = ("stop", "watch", "good")


def _balance(run: StoredRun) -> BalanceView:
    half_width = str(run.instruments.get("balance", {}).get("half_width", ""))
    decimals = parse_reading(half_width, "mass").decimals if half_width else None
    return BalanceView(name=run.balance or "Balance not named", half_width=half_width, decimals=decimals)


def _step(events: Sequence[StoredStepEvent], row: PlannedStep, typed: Mapping[tuple[str, int], str]) -> StepView:
    step, is_now = row.step, row.state == "now"
    timer = None
    if step.timer is not None and row.minutes is not None:
        started = [event for event in events if event.step == row.key and event.kind == "started"]
        ends_at = timer_end(events, row.key)
        timer = TimerView(
            minutes=row.minutes,
            more_minutes=step.timer.more,
            started_at=iso(started[0].at) if started else None,
            ends_at=iso(ends_at) if ends_at else None,
        )
    return StepView(
        key=row.key,
        title=row.text(step.title),
        short=row.text(step.short or step.title),
        say=row.text(step.say) if is_now else "",
        why=row.text(step.why) if is_now else "",
        caution=step.caution if is_now else "",
        done_label=step.done,
        observe=step.observe,
        state=row.state,
        slot=step.reads,
        position=row.position,
        value=typed.get((step.reads, row.position or 1)) if step.reads else None,
        timer=timer,
        counts=CountView(tag=step.counts.tag, times=step.counts.times, counted=row.counted) if step.counts else None,
        card=step.card if is_now else "",
        waits_in=step.waits_in,
    )


def timer_end(events: Sequence[StoredStepEvent], key: str) -> datetime | None:
    """When the step's timer runs out: more time counts from the end, or from the moment it was asked for."""
    end: datetime | None = None
    for event in events:
        if event.step != key or event.kind == "finished":
            continue
        begin = event.at if end is None or event.kind == "started" else max(end, event.at)
        end = begin + timedelta(seconds=event.seconds)
    return end


UPCOMING = 8
PLACE = "place"
"""The tag under which it is noted where something stands in the oven."""


def _entries(
    run: StoredRun, procedure: Procedure, steps: Sequence[PlannedStep], trial: TrialEvaluation
) -> list[EntryView]:
    """The next readings in order, so that a page without connection can go on; the series never ends."""
    rows = [
        _entry_view(run, procedure, trial, step.step.reads, step.position, step.key)
        for step in steps
        if step.step.reads and step.state in ("now", "ahead", "missed") and step.position is not None
    ]
    series = trial.trial.weighed_again
    if series is not None:
        last = max([len(trial.trial.series(series)), *(row.position for row in rows if row.slot == series)])
        rows += [_entry_view(run, procedure, trial, series, last + n, None) for n in range(1, UPCOMING)]
    return rows[:UPCOMING]


def _entry_view(
    run: StoredRun, procedure: Procedure, trial: TrialEvaluation, slot: str, position: int, step: str | None
) -> EntryView:
    definition = reading_definition(method_named(run.method), slot, trial.trial.options)
    assert definition is not None  # the procedure's slots are checked against the method by a test
    label = definition.label if slot == definition.name else _net_label(slot, definition.label)
    label = trial.trial.sheet.labels.get(slot) or label
    if definition.series:
        label = f"{label}, {definition.round} {position}"
    hint = _plan_for(run, procedure, definition, slot)
    if definition.series and trial.trial.series(slot):
        before = trial.trial.series(slot)[-1]
        hint = f"Before: {before.shown}"
    ended = _as_it_ended(run, trial.label, definition.continues) if definition.continues else None
    if ended is not None:
        hint = f"Trial {ended[0]}: {ended[2]}"
    tread = tread_label(definition, position) if definition.pan else label
    return EntryView(
        slot=slot,
        position=position,
        label=label,
        tread=tread,
        unit=unit(definition.unit).shown,
        instrument=definition.instrument.replace("_", " "),
        kind=definition.instrument,
        step=step,
        hint=hint,
        suggested=ended[1] if ended is not None else "",
    )


def _plan_for(run: StoredRun, procedure: Procedure, definition: ReadingDef, slot: str) -> str:
    """How much was planned of what this reading weighs."""
    if definition.planned is not None:
        text = definition.planned(options_of(run))
        return f"Planned: {text}" if text else ""
    sized = method_named(run.method).planned
    if sized is None or definition.change != sized.name or definition.tipped_from or slot.endswith("_tare"):
        return ""
    window = procedure.windows.get(sized.name)
    planned = run.planned.get(sized.name) or (window.model_dump(exclude_none=True) if window else {})
    words = " ".join(f"{word} {text}" for word, text in planned.items())
    return f"Planned {sized.name}: {words}" if words else ""


def _as_it_ended(run: StoredRun, label: str, slot: str) -> tuple[str, str, str] | None:
    """Label of the trial before and what it read there, as typed and as shown: where this one goes on."""
    labels = [row.label for row in run.own_trials]
    if labels.index(label) == 0:
        return None
    before = run.own_trials[labels.index(label) - 1]
    row = next((reading for reading in before.current if reading.slot == slot), None)
    if row is None:
        return None
    typed = reading_definition(method_named(run.method), slot, options_of(run))
    same = typed is not None and typed.unit == row.unit
    digits = digits_of(row.text)
    return before.label, digits if same else with_unit(row.text, row.unit), f"{digits} {unit(row.unit).shown}"


def _net_label(slot: str, label: str) -> str:
    return f"boat, empty, for the {label}" if slot.endswith("_tare") else f"boat + {label}"


def _log(run: StoredRun, trial: StoredTrial) -> list[ReadingView]:
    rows: list[ReadingView] = []
    method, options = method_named(run.method), options_of(run)
    current = {row.uuid for row in trial.current}
    for row in trial.readings:
        old = trial.reading(row.supersedes) if row.supersedes else None
        definition = reading_definition(method, row.slot, options)
        label = definition.labelled(options) if definition else row.slot
        if definition and row.slot != definition.name:
            label = _net_label(row.slot, label)
        if definition and definition.series:
            label = f"{label}, {definition.round} {row.position}"
        rows.append(
            ReadingView(
                uuid=row.uuid,
                trial=trial.label,
                slot=row.slot,
                position=row.position,
                label=label,
                text=digits_of(row.text),
                unit=unit(row.unit).shown,
                at=iso(row.at),
                by=row.by,
                instrument=row.instrument,
                current=row.uuid in current,
                corrects=digits_of(old.text) if old else None,
                reason=row.reason,
                doubt=row.doubt,
            )
        )
    return rows
