"""A simulated class on the real board: laid out where somebody rehearses, played by the clock there, debriefed.

Its benches do what the evening's model says, through the same use cases that a tablet calls. Whoever answers a call on
the board, or says something to a bench, was there: from then on that bench works with care.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import timedelta
from typing import Any
from uuid import UUID, uuid5

from sqlalchemy import func, select

from claykettle.core.errors import Conflict, Doubt, refuse
from claykettle.core.methods.registry import method_named
from claykettle.core.practice import Laid, lay
from claykettle.core.practice.evening import MOST_BALANCES, MOST_BENCHES, Event, Outcome, Played, Spoken, outcome, play
from claykettle.formats.practical_file import PracticalModel, practical_from
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.planning.laying_out import LayOut, class_day, lay_out, wish_of
from claykettle.service.planning.wishes import Wish
from claykettle.service.practice.bench import seed_of
from claykettle.service.practice.place import own, simulated_bench, there
from claykettle.service.practice.views import EndedView, EveningView, OutcomeView, RehearsalsView, RehearsedView
from claykettle.service.runs.record import Observe, RecordReading, StartTrial, observe, record_reading, start_trial
from claykettle.service.runs.steps import MarkStep, mark_step
from claykettle.service.summaries import sum_up
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun, iso
from claykettle.store.rehearsals import FAST, Clock, wait
from claykettle.store.summaries import keep_asking
from claykettle.store.tables import CallAnswer, Day, Message, Place, PracticeClass, RunRow

LENGTH = "180 min"
HESITATES = timedelta(seconds=100)
"""So long a question stands on a tablet before somebody there says that the figure is right (common practice)."""
MOST_AT_ONCE = 400
"""Events that one look plays at most: the next goes on."""
NAMES = "Practice {}"


@dataclass(frozen=True)
class BeginClass:
    """A class to be rehearsed: of a method, or (`number`) of a class that is prepared; so many benches and balances."""

    uuid: str
    method: str = "hydrate"
    number: int | None = None
    benches: int = 8
    balances: int = 2
    seed: str = ""


@dataclass(frozen=True)
class Act:
    """The clock set to a `pace` (fast, still), or put on by so many minutes."""

    pace: str = ""
    minutes: float = 0.0


@may(INSTRUCTOR)
def rehearsals(visit: Visit) -> RehearsalsView:
    """The classes that the caller has rehearsed, the latest first."""
    place, _ = there(visit)
    query = (
        select(PracticeClass, Day.title)
        .join(Day, PracticeClass.day_id == Day.id)
        .where(PracticeClass.section_id == place.caller.section)
        .order_by(PracticeClass.id.desc())
        .limit(20)
    )
    return RehearsalsView(
        classes=[
            RehearsedView(uuid=row.uuid, title=title, seed=str(row.seed), began_at=iso(row.began_at), ended=row.ended)
            for row, title in visit.session.execute(query)
        ]
    )


@may(INSTRUCTOR)
def begin_class(visit: Visit, wanted: BeginClass) -> EveningView:
    """Lay out a class of simulated benches and let it begin; the same UUID twice is the same class.

    Raises NotFound, NotYours for another's class, Refusal with paths `method`, `benches`, `balances` and `seed`.
    """
    prepared = wish_of(class_day(visit, wanted.number)) if wanted.number is not None else None
    place, clock = there(visit, pace=FAST)
    existing = visit.session.scalar(select(PracticeClass).where(PracticeClass.uuid == wanted.uuid))
    if existing is not None:
        return _shown(place, clock, own(place, PracticeClass, wanted.uuid))
    for name, value, most in (("benches", wanted.benches, MOST_BENCHES), ("balances", wanted.balances, MOST_BALANCES)):
        if not 1 <= value <= most:
            raise refuse("out-of-range", f"A simulated class has 1 to {most} {name}.", name)
    method = method_named(wanted.method if prepared is None else str(prepared.practical.get("method")))
    seed = seed_of(wanted.seed)
    lay(method, seed)  # a method without a bench is told before anything is laid out
    began = place.now
    local = began.astimezone(place.zone)
    practical = dict(prepared.practical) if prepared is not None else _practical(method.name)
    wish = Wish(
        practical=practical,
        setting=prepared.setting if prepared is not None else {},
        sample=prepared.sample if prepared is not None else "",
        title=f"Rehearsal {_count(place) + 1}: {practical.get('name') or method.title}"[:120],
        date=local.date().isoformat(),
        starts=f"{local:%H:%M}",
        length=prepared.length if prepared is not None else LENGTH,
        benches=[simulated_bench(place, NAMES.format(n + 1)).id for n in range(wanted.benches)],
        room={"balance": wanted.balances},
    )
    laid = lay_out(place, LayOut(wanted.uuid, wish))
    row = PracticeClass(
        uuid=wanted.uuid, section_id=place.caller.section, day_id=laid.id, seed=seed, balances=wanted.balances,
        began_at=began, played={}, ended=False,
    )  # fmt: skip
    visit.session.add(row)
    visit.session.flush()
    return _shown(place, clock, row)


def _count(place: Visit) -> int:
    """How many classes were rehearsed here."""
    own = select(func.count(PracticeClass.id)).where(PracticeClass.section_id == place.caller.section)
    return int(place.session.scalar(own) or 0)


def _practical(method: str) -> dict[str, Any]:
    """The practical of the usual jar of a method."""
    laid = lay(method_named(method), 0)
    options = laid.options.model_dump(mode="json", exclude_defaults=True)
    return {"method": method, "name": laid.method.title, "options": options, "schools": dict(laid.schools), "trials": 1}


@may(INSTRUCTOR)
def evening_seen(visit: Visit, uuid: str) -> EveningView:
    """The class as it stands: what has happened by now is played. Raises NotFound."""
    place, clock = there(visit)
    row = own(place, PracticeClass, uuid, lock=True)
    if not row.ended:
        _play(place, row)
    return _shown(place, clock, row)


@may(INSTRUCTOR)
def pace_evening(visit: Visit, uuid: str, act: Act) -> EveningView:
    """The clock of a class set otherwise, or put on. Raises NotFound, Refusal (`minutes`)."""
    if act.minutes and not 0 < act.minutes <= 60:
        raise refuse("out-of-range", "At most an hour at a time: benches call meanwhile.", "minutes")
    pace = {"fast": FAST, "still": 0.0}.get(act.pace)
    place, clock = there(visit, pace)
    row = own(place, PracticeClass, uuid, lock=True)
    if act.minutes:
        clock = wait(visit.session, place.caller.section or 0, visit.now, 60 * act.minutes)
        place = replace(place, now=clock.now)
    if not row.ended:
        _play(place, row)
    return _shown(place, clock, row)


@may(INSTRUCTOR)
def end_evening(visit: Visit, uuid: str) -> EveningView:
    """End a class and say what was missed in it. Raises NotFound, Conflict where it was ended."""
    place, clock = there(visit, pace=0.0)
    row = own(place, PracticeClass, uuid, lock=True)
    if row.ended:
        raise Conflict("This class has ended already.")
    _play(place, row)
    row.ended = True
    place.session.flush()
    return _shown(place, clock, row)


# What happens


def _evening(place: Visit, row: PracticeClass, balances: int | None = None, alone: bool = False) -> tuple[Played, ...]:
    """The whole evening as its seed has it, with what was said to benches by now; `alone` without."""
    day = place.session.get_one(Day, row.day_id)
    laid, trials = _laid(day, row)
    spoken = () if alone else _spoken(place, day, row)
    return play(laid, len(day.places), row.balances if balances is None else balances, trials, spoken)


def _laid(day: Day, row: PracticeClass) -> tuple[Laid, int]:
    """The bench of the class's practical, read with the instruments that its runs have."""
    practical = practical_from(PracticalModel.model_validate((day.plan or {})["practical"]))
    first = next(place.run for place in day.places if place.run is not None)
    laid = lay(practical.method, row.seed, practical.options, practical.schools)
    widths = {kind: told["half_width"] for kind, told in first.instruments.items()}
    return replace(laid, own_half_widths=widths, course=practical.course), practical.trials


def _spoken(place: Visit, day: Day, row: PracticeClass) -> list[Spoken]:
    """When somebody was at which bench: they answered its call on the board, or said something to it."""
    runs = {one.run_id: number for number, one in enumerate(day.places)}
    benches = {one.bench_id: number for number, one in enumerate(day.places)}
    asked = select(CallAnswer.run_id, CallAnswer.at).where(CallAnswer.day_id == day.id, CallAnswer.kind != "snoozed")
    found = [(runs[run], at) for run, at in place.session.execute(asked) if run in runs]
    said = select(Message.bench_id, Message.at).where(Message.day_id == day.id)
    for bench, at in place.session.execute(said):
        found += [(number, at) for number in ([benches[bench]] if bench in benches else range(len(benches)))]
    return [Spoken((at - row.began_at).total_seconds(), number) for number, at in found]


def _play(place: Visit, row: PracticeClass) -> None:
    """Let happen what has happened by now."""
    day = place.session.get_one(Day, row.day_id)
    own = select(RunRow.id, RunRow.uuid).where(RunRow.day_id == day.id)
    runs = {row.id: row.uuid for row in place.session.execute(own)}
    played: dict[str, Any] = {key: dict(value) for key, value in row.played.items()}
    left = MOST_AT_ONCE
    for one, bench in zip(_evening(place, row), day.places, strict=True):
        if bench.run_id is None or bench.is_out:
            continue
        state = played.setdefault(str(one.place), {"n": 0, "asks": None})
        left = _play_bench(place, row, runs[bench.run_id], one, state, left)
    row.played = played
    place.session.flush()


def _play_bench(place: Visit, row: PracticeClass, run: str, one: Played, state: dict[str, Any], left: int) -> int:
    now = (place.now - row.began_at).total_seconds()
    while state["n"] < len(one.events) and left > 0:
        event = one.events[state["n"]]
        due = event.seconds
        if state["asks"] is not None:
            # whoever is asked looks again, and then says that it is right
            due = max(due, state["asks"] + HESITATES.total_seconds())
        if due > now:
            break
        uuid = str(uuid5(UUID(row.uuid), f"{one.place} {state['n']}"))
        at = replace(place, now=row.began_at + timedelta(seconds=due))
        try:
            _do(at, run, event, uuid, confirmed=state["asks"] is not None)
        except Doubt as doubt:
            asked = at.run(run)
            sum_up(at, asked)
            keep_asking(at.session, asked.id, str(doubt), at.now)
            state["asks"] = due
            continue
        state["asks"] = None
        state["n"] += 1
        left -= 1
    return left


def _do(at: Visit, uuid: str, event: Event, own: str, confirmed: bool) -> None:
    """One event through the use case that a tablet calls."""
    run = at.run(uuid, lock=True)
    what: tuple[Callable[[Visit, StoredRun, Any], StoredRun], Any]
    if event.kind == "reading":
        text = event.text.rpartition(" ")[0]
        what = (
            record_reading,
            RecordReading(own, event.what, event.position, text, event.trial, run.bench, confirmed),
        )
    elif event.kind == "trial":
        what = (start_trial, StartTrial(event.what))
    elif event.kind == "seen":
        what = (observe, Observe(own, event.what, "", run.bench, event.trial))
    else:
        _, key = run.course.step(event.what, event.position)
        kind = "started" if event.kind == "started" else "finished"
        if key not in {row.key for row in run.steps(event.trial)}:
            return
        what = (mark_step, MarkStep(own, key, kind, event.trial, run.bench))
    use_case, command = what
    use_case(at.not_before(run), run, command)


# How it stands, and what is said at the end


def _shown(place: Visit, clock: Clock, row: PracticeClass) -> EveningView:
    day = place.session.get_one(Day, row.day_id)
    done = sum(int(one["n"]) for one in row.played.values())
    return EveningView(
        uuid=row.uuid,
        day=row.day_id,
        title=day.title,
        seed=str(row.seed),
        now=iso(place.now),
        pace=clock.pace,
        minutes=_minutes(place.now - row.began_at),
        benches=len(day.places),
        balances=row.balances,
        happened=done,
        ended=_ended(place, row, day) if row.ended else None,
    )


def _minutes(span: timedelta) -> float:
    return round(span / timedelta(minutes=1), 1)


def _ended(place: Visit, row: PracticeClass, day: Day) -> EndedView:
    """What was missed and what it cost: bench by bench, and how the evening would have run with a balance more."""
    evening = _evening(place, row)
    spoken = _spoken(place, day, row)
    rows = [_told(outcome(one), day.places[one.place], spoken) for one in evening]
    alone = [outcome(one) for one in _evening(place, row, alone=True)]
    last = max(one.finish for one in evening)
    more = max(one.finish for one in _evening(place, row, balances=row.balances + 1))
    saved = sum(before.is_off and not after.off for before, after in zip(alone, rows, strict=True))
    return EndedView(
        benches=rows,
        off=sum(one.off for one in rows),
        missed=sum(one.off and one.spoken_min is None for one in rows),
        saved=saved,
        last_min=round(last / 60),
        waited_min=round(sum(one.waited for one in evening) / 60),
        with_one_more_min=round(more / 60),
    )


def _told(found: Outcome, bench: Place, spoken: Sequence[Spoken]) -> OutcomeView:
    times = [row.seconds for row in spoken if row.place == found.place]
    first = found.first_sign
    return OutcomeView(
        bench=bench.bench.name,
        result=found.result,
        true=found.true,
        off=found.is_off,
        behind=found.behind,
        first_sign_min=None if first is None else round(first / 60),
        first_said=found.first_said,
        spoken_min=round(min(times) / 60) if times else None,
        finish_min=round(found.finish / 60),
        waited_min=round(found.waited / 60),
    )
