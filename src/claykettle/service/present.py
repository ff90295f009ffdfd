"""Makes the views: what the bench and the list show of a run, computed here so that the page only lays out."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from claykettle.core.evaluation import Evaluation, TrialEvaluation, evaluate_run
from claykettle.core.judgement.limits import limiting_sentence
from claykettle.core.methods.registry import method_named
from claykettle.core.procedure import PlannedStep, Procedure, school_titles
from claykettle.core.reading import digits_of, parse_reading
from claykettle.core.run import reading_definition
from claykettle.core.stair import losses, stair
from claykettle.core.verdict import Candidate
from claykettle.formats.evaluation_json import evaluation_document
from claykettle.service.record import planned_steps
from claykettle.service.runs import core_run, is_current, iso, procedure_of
from claykettle.service.views import (
    AnswerView,
    BalanceView,
    CandidateView,
    EntryView,
    FormulaView,
    LossView,
    ObservationView,
    ReadingView,
    RulerView,
    RunSummaryView,
    RunView,
    SchoolView,
    StepView,
    TimerView,
    TreadView,
    TrialView,
    VerdictView,
)
from claykettle.store.tables import RunRow, Section, StepEventRow, TrialRow


def run_view(session: Session, run: RunRow, now: datetime) -> RunView:
    """Everything the bench shows of a run."""
    evaluation = evaluate_run(core_run(run))
    trial = evaluation.trials[0]
    procedure = procedure_of(run)
    steps = planned_steps(run, evaluation)
    section = session.get_one(Section, run.day.section_id)
    return RunView(
        uuid=run.uuid,
        version=run.version,
        title=run.title,
        note=run.note,
        method=run.method,
        method_title=evaluation.run.method.title,
        bench=run.bench.name,
        section=section.name,
        date=run.day.date.isoformat(),
        procedure=f"{procedure.title}, version {procedure.version}",
        caution=procedure.caution,
        schools=[SchoolView(title=title, answer=answer) for title, answer in school_titles(procedure, run.schools)],
        options=run.options,
        balance=_balance(run),
        now=iso(now),
        steps=[_step(run, step) for step in steps],
        entry=_entry(run, procedure, steps, trial),
        observe=procedure.observe,
        readings=[view for row in run.trials for view in _log(run, row)],
        observations=[
            ObservationView(uuid=row.uuid, at=iso(row.at), by=row.by, tag=row.tag, text=row.text)
            for row in run.observations
        ],
        stair=[TreadView.model_validate(tread) for tread in stair(trial.trial)],
        losses=[LossView.model_validate(loss) for loss in losses(trial.trial)],
        tolerance=trial.trial.options.tolerance.shown,
        tolerance_mg=float(trial.trial.options.tolerance_g) * 1000,
        answer=_answer(evaluation, trial),
        trials=[TrialView.model_validate(row) for row in _trial_documents(evaluation)],
        verdicts=[VerdictView.model_validate(verdict) for verdict in evaluation.verdicts],
    )


def summary_view(run: RunRow) -> RunSummaryView:
    """One line about a run: what it waits for, and its answer so far."""
    evaluation = evaluate_run(core_run(run))
    trial = evaluation.trials[0]
    steps = planned_steps(run, evaluation)
    step = next((row for row in steps if row.state == "now"), None)
    ends_at = _timer_end(run.step_events, step.key) if step else None
    worst = next((level for level in ("stop", "watch", "good") for v in trial.verdicts if v.level == level), None)
    return RunSummaryView(
        uuid=run.uuid,
        version=run.version,
        title=run.title,
        bench=run.bench.name,
        method_title=evaluation.run.method.title,
        date=run.day.date.isoformat(),
        changed_at=iso(run.changed_at),
        state="finished" if step is None else "waiting" if trial.trial.readings else "new",
        doing=step.text(step.step.title) if step else "Finished",
        timer_ends_at=iso(ends_at) if ends_at else None,
        level=worst,
        answer=_answer(evaluation, trial),
    )


def _trial_documents(evaluation: Evaluation) -> list[dict[str, object]]:
    documents: list[dict[str, object]] = []
    for row in evaluation_document(evaluation)["trials"]:
        results = [{"name": name, **result} for name, result in row["results"].items() if "value" in result]
        documents.append(row | {"results": results})
    return documents


def _balance(run: RunRow) -> BalanceView:
    half_width = str(run.instruments.get("balance", {}).get("half_width", ""))
    decimals = parse_reading(half_width, "mass").decimals if half_width else None
    return BalanceView(name=run.balance or "Balance not named", half_width=half_width, decimals=decimals)


def _step(run: RunRow, row: PlannedStep) -> StepView:
    step = row.step
    timer = None
    if step.timer is not None and row.minutes is not None:
        started = [event for event in run.step_events if event.step == row.key and event.kind == "started"]
        ends_at = _timer_end(run.step_events, row.key)
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
        say=row.text(step.say),
        why=step.why,
        caution=step.caution,
        done_label=step.done,
        state=row.state,
        slot=step.reads,
        position=row.position,
        value=_value(run, row),
        timer=timer,
    )


def _timer_end(events: Sequence[StepEventRow], key: str) -> datetime | None:
    """When the step's timer runs out: more time counts from the end, or from the moment it was asked for."""
    end: datetime | None = None
    for event in events:
        if event.step != key or event.kind == "finished":
            continue
        begin = event.at if end is None or event.kind == "started" else max(end, event.at)
        end = begin + timedelta(seconds=event.seconds)
    return end


def _value(run: RunRow, row: PlannedStep) -> str | None:
    if row.step.reads is None:
        return None
    for trial in run.trials:
        for reading in trial.readings:
            here = reading.slot == row.step.reads and reading.position == row.position
            if trial.position == 1 and here and is_current(reading, trial.readings):
                return digits_of(reading.text)
    return None


def _entry(run: RunRow, procedure: Procedure, steps: list[PlannedStep], trial: TrialEvaluation) -> EntryView | None:
    """The next reading: the first that is missed or not yet taken; after that one more heating is always open."""
    for step in steps:
        if step.step.reads and step.state in ("now", "ahead", "missed") and step.position is not None:
            return _entry_view(run, procedure, trial, step.step.reads, step.position, step.key)
    series = next((name for name, row in trial.trial.sheet.readings.items() if row.series), None)
    if series is None:
        return None
    return _entry_view(run, procedure, trial, series, len(trial.trial.series(series)) + 1, None)


def _entry_view(
    run: RunRow, procedure: Procedure, trial: TrialEvaluation, slot: str, position: int, step: str | None
) -> EntryView:
    definition = reading_definition(method_named(run.method), slot)
    assert definition is not None  # the procedure's slots are checked against the method by a test
    label = trial.trial.sheet.labels.get(slot) or _net_label(slot, definition.label)
    if definition.series:
        label = f"{label}, heating {position}"
    window = procedure.windows.get("sample")
    planned = run.planned.get("sample") or (window.model_dump(exclude_none=True) if window else {})
    hint = ""
    if definition.pan in ("loaded", "added") and not slot.endswith("_tare") and planned:
        hint = "Planned sample: " + " ".join(f"{word} {text}" for word, text in planned.items())
    if definition.series and position > 1:
        before = trial.trial.series(slot)[-1]
        hint = f"Before: {before.shown}"
    return EntryView(slot=slot, position=position, label=label, unit=definition.unit, step=step, hint=hint)


def _net_label(slot: str, label: str) -> str:
    return f"boat, empty, for the {label}" if slot.endswith("_tare") else f"boat + {label}"


def _log(run: RunRow, trial: TrialRow) -> list[ReadingView]:
    rows: list[ReadingView] = []
    method = method_named(run.method)
    for row in trial.readings:
        definition = reading_definition(method, row.slot)
        label = definition.label if definition else row.slot
        if definition and row.slot != definition.name:
            label = _net_label(row.slot, label)
        if definition and definition.series:
            label = f"{label}, heating {row.position}"
        rows.append(
            ReadingView(
                uuid=row.uuid,
                trial=trial.label,
                slot=row.slot,
                position=row.position,
                label=label,
                text=digits_of(row.text),
                unit=row.unit,
                at=iso(row.at),
                by=row.by,
                instrument=row.instrument,
                current=is_current(row, trial.readings),
                corrects=digits_of(row.supersedes.text) if row.supersedes else None,
                reason=row.reason,
                doubt=row.doubt,
            )
        )
    return rows


def _answer(evaluation: Evaluation, trial: TrialEvaluation) -> AnswerView:
    key = trial.result(evaluation.key)
    formula = trial.words.get("formula")
    codes = {verdict.code for verdict in trial.verdicts}
    matches = sum(row.status == "match" for row in trial.candidates)
    why = ""
    if any(verdict.level == "stop" for verdict in trial.verdicts):
        why = "Provisional: something cannot be right"
    elif "missing-reading" in codes:
        why = "Provisional: a weighing is missing"
    elif "constant-mass" not in codes:
        why = "Provisional: the mass has not settled"
    remarks = [limiting_sentence(trial.budget, trial.trial.sheet.labels, evaluation.key)]
    return AnswerView(
        label=key.label if key else "",
        text=key.text if key else None,
        formula=FormulaView(text=formula.text, nearest=formula.nearest, matches=matches) if formula else None,
        provisional=bool(why),
        why_provisional=why,
        ruler=_ruler(evaluation, trial),
        remarks=[remark for remark in remarks if remark],
    )


def _ruler(evaluation: Evaluation, trial: TrialEvaluation) -> RulerView | None:
    """The part of the scale worth looking at: the band, and at least one whole number on each side."""
    result = trial.result(evaluation.key)
    marks = [row for row in trial.candidates if row.ratio is not None]
    if result is None or result.unit != "1" or not marks:
        return None
    expanded = 2 * result.standard_uncertainty
    reach = max(1.15, 1.15 * expanded)
    low, high = max(0.0, result.value - reach), result.value + reach
    shown = sorted((row for row in marks if low <= (row.ratio or 0.0) <= high), key=lambda row: row.ratio or 0.0)
    return RulerView(value=result.value, expanded=expanded, low=low, high=high, marks=[_mark(row) for row in shown])


def _mark(row: Candidate) -> CandidateView:
    return CandidateView(text=row.text, ratio=row.ratio, misfit=row.misfit, status=row.status)
