"""A simulated bench of the room Practice: begun, worked at, answered. Its run is a run like any other, where nothing
counts.

What is kept is what was done and when; how things stand is worked out anew from that each time.
"""

from __future__ import annotations

import secrets
from dataclasses import dataclass, replace
from datetime import timedelta
from functools import lru_cache

from sqlalchemy import select

from claykettle.core.errors import Conflict, refuse
from claykettle.core.matter import LARGEST_SEED, LONGEST, Act
from claykettle.core.methods.registry import all_methods, method_named
from claykettle.core.practice import (
    MOST_POINTS,
    NOTHING,
    Deed,
    Guess,
    Laid,
    Seen,
    Sitting,
    balance_told,
    debrief,
    set_up,
)
from claykettle.core.run import PlannedStep
from claykettle.formats.run_file import half_width_of
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.practice.place import own, practice_day, simulated_bench, there
from claykettle.service.practice.views import (
    CauseView,
    DebriefView,
    MethodToPractiseView,
    OfferView,
    PracticesView,
    PracticeView,
    PractisedView,
)
from claykettle.service.runs.starting import kept_run
from claykettle.service.shelf.procedures import procedure_for
from claykettle.service.views.steps import timer_end
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun, iso
from claykettle.store.rehearsals import FAST, Clock, wait
from claykettle.store.tables import PracticeAct, PracticeRow, RunRow, TrialRow

WAIT, PACE = "wait", "pace"
MOST_DEEDS = 2000
"""More is done at no bench: somebody holds a key down."""
BENCH, BALANCE = "Practice", "Practice balance"


@dataclass(frozen=True)
class Begin:
    """A practice to be begun; without a seed any."""

    uuid: str
    method: str
    level: int = 2
    seed: str = ""


@dataclass(frozen=True)
class Do:
    """Something done at the bench; `after` is how much had been done when it was decided."""

    uuid: str
    act: str
    value: str = ""
    after: int | None = None


@may(INSTRUCTOR)
def practices(visit: Visit) -> PracticesView:
    """What can be practised, and what the caller has practised, the latest first."""
    place, _ = there(visit)
    query = select(PracticeRow, RunRow.uuid).join(RunRow, PracticeRow.run_id == RunRow.id)
    mine = query.where(PracticeRow.section_id == place.caller.section).order_by(PracticeRow.id.desc()).limit(50)
    return PracticesView(
        methods=[
            MethodToPractiseView(name=row.name, title=row.title)
            for row in all_methods().values()
            if row.rehearsal is not None
        ],
        practices=[
            PractisedView(
                uuid=row.uuid,
                run=run,
                title=method_named(row.method).title,
                method=row.method,
                level=row.level,
                seed=str(row.seed),
                began_at=iso(row.began_at),
                points=row.points,
                of=MOST_POINTS,
            )
            for row, run in visit.session.execute(mine)
        ],
    )


@may(INSTRUCTOR)
def begin_practice(visit: Visit, wanted: Begin) -> PracticeView:
    """Set up a bench and begin its run; the same UUID twice is the same practice.

    Raises Refusal with paths `method`, `seed` and `level`.
    """
    place, clock = there(visit, pace=0.0)
    existing = visit.session.scalar(select(PracticeRow).where(PracticeRow.uuid == wanted.uuid))
    if existing is not None:
        return _shown(place, clock, own(place, PracticeRow, wanted.uuid))
    laid = set_up(method_named(wanted.method), seed_of(wanted.seed), wanted.level)
    run = _begun_run(place, laid, wanted)
    row = PracticeRow(
        uuid=wanted.uuid,
        section_id=place.caller.section,
        run_id=run.id,
        method=laid.method.name,
        seed=laid.seed,
        level=wanted.level,
        began_at=place.now,
    )
    visit.session.add(row)
    visit.session.flush()
    return _shown(place, clock, row)


def seed_of(text: str) -> int:
    """The seed that was typed; any where none was. Raises Refusal `seed`."""
    if not text.strip():
        return secrets.randbelow(10**6)
    try:
        return int(text.strip())
    except ValueError:
        raise refuse("seed", f"A seed is a whole number up to {LARGEST_SEED:.0e}, not '{text[:24]}'.", "seed") from None


def _begun_run(place: Visit, laid: Laid, wanted: Begin) -> StoredRun:
    """The run of a practice: of the bench's own method, options, schools and instruments."""
    procedure = procedure_for(place, laid.method.name, None)
    row = RunRow(
        uuid=wanted.uuid,
        day_id=practice_day(place).id,
        bench_id=simulated_bench(place, BENCH).id,
        procedure_id=procedure.id,
        method=laid.method.name,
        title=f"Practice: {laid.method.title.lower()}"[:120],
        note=f"Practised at a simulated bench, seed {laid.seed}, level {wanted.level}.",
        options=laid.options.model_dump(mode="json", exclude_defaults=True),
        schools=laid.course.chosen(laid.schools),
        instruments={
            kind: {"half_width": half_width_of(kind, width), "name": BALANCE if kind == "balance" else ""}
            for kind, width in laid.half_widths.items()
        },
        planned={},
        balance=BALANCE,
        created_at=place.now,
        changed_at=place.now,
        version=1,
    )
    row.trials.append(TrialRow(position=1, label="1"))
    return kept_run(place, row)


@may(INSTRUCTOR)
def practice_seen(visit: Visit, uuid: str) -> PracticeView:
    """A bench as it stands; somebody looks, so its clock goes on. Raises NotFound, NotYours."""
    place, clock = there(visit)
    return _shown(place, clock, own(place, PracticeRow, uuid))


@may(INSTRUCTOR)
def do_at_practice(visit: Visit, uuid: str, wanted: Do) -> PracticeView:
    """Do something at a bench: an act at hand, a wait of so many minutes, or the clock at another pace.

    Raises NotFound, Conflict where somebody else has done something there since, Refusal (`act`, `value`).
    """
    place, clock = there(visit)
    row = own(place, PracticeRow, uuid, lock=True)
    if any(act.uuid == wanted.uuid for act in row.acts):
        return _shown(place, clock, row)
    if wanted.after is not None and wanted.after != len(row.acts):
        raise Conflict("Somebody else has done something at this bench meanwhile: look again, then go on.")
    if len(row.acts) >= MOST_DEEDS:
        raise refuse("too-much", "So much was done here that a new bench is the better one.", "act")
    run = place.run(_run_uuid(place, row))
    act = Act(wanted.act, wanted.value)
    if wanted.act == PACE:
        place, clock = there(visit, pace=FAST if wanted.value == "fast" else 0.0)
    elif wanted.act == WAIT:
        clock = wait(visit.session, place.caller.section or 0, visit.now, 60 * _minutes(wanted.value))
        place = replace(place, now=clock.now)
    else:
        _sitting(place, row, run).check(act)
    seconds = (place.now - row.began_at).total_seconds()
    done = PracticeAct(uuid=wanted.uuid, trial=run.current_trial.label, seconds=seconds, act=act.name, value=act.value)
    row.acts.append(done)
    visit.session.flush()
    return _shown(place, clock, row)


def _minutes(text: str) -> float:
    try:
        found = float(text.replace(",", "."))
    except ValueError:
        found = -1.0
    if not 0 < found <= LONGEST / 60:
        raise refuse("not-a-time", "A wait is so many minutes, up to two weeks.", "value")
    return found


@may(INSTRUCTOR)
def answer_practice(visit: Visit, uuid: str, said: Guess) -> PracticeView:
    """Say what it was. Raises NotFound, Conflict for a second answer, Refusal (`cause`, `sign`, `size`)."""
    place, clock = there(visit)
    row = own(place, PracticeRow, uuid, lock=True)
    if row.answer is not None:
        raise Conflict("This bench was answered already. The same seed begins it once more.")
    run = place.run(_run_uuid(place, row))
    found = _debriefed(place, row, run, said)
    # kept as it was told: what is done to the run afterwards changes nothing of it
    row.answer = {"cause": said.cause, "sign": said.sign, "size": said.size, "told": found.model_dump(mode="json")}
    row.points = found.total
    place.session.flush()
    return _shown(place, clock, row)


def _minutes_of(place: Visit, row: PracticeRow) -> float:
    return round((place.now - row.began_at).total_seconds() / 60, 1)


def _with_result(run: StoredRun) -> str:
    """The latest trial that has a result; where none has, the one that has its turn."""
    found = [row.label for row in run.evaluation.trials if row.result(run.evaluation.key) is not None]
    return found[-1] if found else run.current_trial.label


# How it stands


def _run_uuid(place: Visit, row: PracticeRow) -> str:
    found = place.session.scalar(select(RunRow.uuid).where(RunRow.id == row.run_id))
    assert found is not None  # a practice has its run
    return found


def _laid(row: PracticeRow) -> Laid:
    return _set_up(row.method, row.seed, row.level)


@lru_cache(maxsize=64)
def _set_up(method: str, seed: int, level: int) -> Laid:
    """A bench never changes: what is hidden at it is worked out once."""
    return set_up(method_named(method), seed, level)


def _sitting(place: Visit, row: PracticeRow, run: StoredRun) -> Sitting:
    """The trial that has its turn, replayed: what was done, and what was written down."""
    trial = run.current_trial
    deeds = [Deed(act.seconds, Act(act.act, act.value)) for act in row.acts if act.trial == trial.label]
    deeds += [
        Deed((reading.at - row.began_at).total_seconds(), taken=reading.slot)
        for reading in run.trial_named(trial.label).current
    ]
    laid = replace(_laid(row), schools=run.schools)
    number = int(trial.label) if trial.label.isdigit() else 1
    return Sitting(laid, number, deeds, (place.now - row.began_at).total_seconds())


def _shown(place: Visit, clock: Clock, row: PracticeRow) -> PracticeView:
    run = place.run(_run_uuid(place, row))
    sitting = _sitting(place, row, run)
    label = run.current_trial.label
    step = run.step_now(label)
    minutes, timed = _timer(place, run, label, step)
    result = run.evaluation.trial(_with_result(run)).result(run.evaluation.key)
    return PracticeView(
        uuid=row.uuid,
        run=run.uuid,
        title=run.method.title,
        method=run.method.name,
        level=row.level,
        seed=str(row.seed),
        now=iso(place.now),
        pace=clock.pace,
        minutes=_minutes_of(place, row),
        after=len(row.acts),
        trial=label,
        step="" if step is None else step.text(step.step.title),
        timer_min=minutes,
        timed=timed,
        offers=[
            OfferView(
                act=one.act.name,
                value=one.act.value,
                label=one.label,
                stopped=one.stopped,
                group=one.group,
                chosen=one.chosen,
            )
            for one in sitting.offers()
        ],
        seen=_seen(sitting, run, label, step),
        closer=sitting.matter.closer(),
        noticed=sitting.noticed(step.step if step is not None else None),
        pictures=[dict(part.drawn()) for part in sitting.matter.at_hand],
        result="" if result is None else result.text,
        causes=_causes(sitting.laid) if row.level else [],
        debrief=None if row.answer is None else DebriefView.model_validate(row.answer["told"]),
    )


def _timer(place: Visit, run: StoredRun, label: str, step: PlannedStep | None) -> tuple[float | None, str]:
    """The minutes until the timer of the step at hand has run out, and of what; None where none runs."""
    if step is None:
        return None, ""
    end = timer_end(run.events(label), step.key)
    left = None if end is None else (end - place.now) / timedelta(minutes=1)
    if left is not None and left > 0:
        return round(left, 2), step.text(step.step.title)
    return None, ""


def _seen(sitting: Sitting, run: StoredRun, label: str, step: PlannedStep | None) -> Seen | None:
    """What the instrument for the step's reading shows; where it reads nothing, that of the last reading still does."""
    if step is not None and step.step.reads is not None:
        return sitting.seen(step.step.reads, step.position or 1)
    taken = run.trial_named(label).current
    return sitting.seen(taken[-1].slot, taken[-1].position + 1) if taken else None


def _causes(laid: Laid) -> list[CauseView]:
    rows = [row for row in laid.method.bench.causes if row.usual]
    found = [CauseView(code=row.code, label=row.label, unit=row.unit) for row in rows]
    found.sort(key=lambda row: row.label.casefold())
    return [*found, CauseView(code=NOTHING, label="nothing: all was as it should be", unit="")]


def _debriefed(place: Visit, row: PracticeRow, run: StoredRun, said: Guess) -> DebriefView:
    label = _with_result(run)
    found = debrief(_laid(row), run.evaluation, label, said)
    deeds = [act for act in row.acts if act.act not in (WAIT, PACE)]
    weighed = len(run.trial_named(label).current)
    return DebriefView(
        planted=found.planted,
        points=list(found.points),
        total=found.total,
        of=MOST_POINTS,
        true=found.true,
        measured=found.measured,
        first_shown=found.first_shown,
        suspects=found.suspects,
        guess=found.guess,
        own=[*found.own, *filter(None, [balance_told(_laid(row), any(act.act == "zero" for act in row.acts))])],
        way=f"{_minutes_of(place, row):g} min by the bench's clock, {len(deeds)} things done, {weighed} figures read.",
    )
