"""The timetable of a session as it is shown: what it comes to, the evening to be drawn, and what would change it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from claykettle.core.planning.evening import Evening
from claykettle.core.planning.timetable import Otherwise, Plan, Spread, Timetable, unfolding
from claykettle.core.planning.trial_steps import BALANCES
from claykettle.service.planning.preparing import Timed
from claykettle.service.views.base import View


class SpreadView(View):
    """Minutes in one of ten, in half, in nine of ten evenings."""

    p10: float
    median: float
    p90: float


class BarView(View):
    """A step of the evening that is drawn, in minutes from its beginning; `waited` ends where it begins."""

    label: str
    trial: int
    kind: Literal["balance", "hands", "rests"]
    at: str
    asked: float
    begun: float
    done: float


class LaneView(View):
    """A bench in the evening that is drawn, and when it is done over all evenings."""

    bench: str
    bars: list[BarView]
    finish: SpreadView
    waited: SpreadView


class ScarceView(View):
    """Something of the room: how busy, how long was waited for it in all, how many waited at once."""

    name: str
    count: int
    busy: float
    waited: SpreadView
    longest_queue: float


class OtherwiseView(View):
    """One thing otherwise: what, in words, and in the field of the sentence; how the evening would end."""

    text: str
    room: dict[str, int]
    stagger: str
    overlap: bool | None
    trials: int | None
    saves: float
    fits: float


class TimetableView(View):
    """What many evenings come to; `said` is the whole in sentences, for whoever does not look at the drawing."""

    evenings: int
    starts: int
    length: float
    finish: SpreadView
    fits: float
    bottleneck: str
    latest_start: int | None
    lanes: list[LaneView]
    scarce: list[ScarceView]
    otherwise: list[OtherwiseView]
    said: list[str]


class TimedView(View):
    """A line of what becomes known: how far it is, from 0 to 1, and the timetable where there is news of it."""

    done: float
    session: int
    sessions: int
    after: str
    table: TimetableView | None


def timed_views(timed: Timed) -> Iterator[TimedView]:
    """The timetable of a session as it becomes known."""
    for known in unfolding(timed.plan):
        yield TimedView(
            done=round(known.done, 3),
            session=timed.session,
            sessions=timed.sessions,
            after=timed.after,
            table=_table(timed.plan, known.table) if known.table is not None else None,
        )


def _table(plan: Plan, found: Timetable) -> TimetableView:
    others = [_otherwise(plan, found, row) for row in found.what_if]
    return TimetableView(
        evenings=found.repetitions,
        starts=round(plan.starts),
        length=plan.length,
        finish=_spread(found.finish_last),
        fits=found.fits,
        bottleneck=found.bottleneck or "",
        latest_start=int(found.latest_start) if found.latest_start is not None else None,
        lanes=list(_lanes(plan, found)),
        scarce=[
            ScarceView(
                name=row.name, count=row.count, busy=row.busy, waited=_spread(row.waited_total),
                longest_queue=row.longest_queue.median,
            )
            for row in found.resources
        ],
        otherwise=others,
        said=list(_said(plan, found)),
    )  # fmt: skip


def _lanes(plan: Plan, found: Timetable) -> Iterator[LaneView]:
    steps = {step.name: step for group in plan.groups for step in group.steps}
    evening: Evening = found.usual
    for number, times in enumerate(found.benches):
        bars = sorted((bar for bar in evening.bars if bar.bench == number), key=lambda bar: bar.asked)
        yield LaneView(
            bench=times.bench,
            bars=[
                BarView(
                    label=steps[bar.step].label or bar.step, trial=bar.trial + 1, at=bar.at,
                    kind="balance" if bar.at in BALANCES else "hands" if steps[bar.step].attended else "rests",
                    asked=round(bar.asked, 2), begun=round(bar.begun, 2), done=round(bar.done, 2),
                )
                for bar in bars
            ],
            finish=_spread(times.finish),
            waited=_spread(times.waited),
        )  # fmt: skip


def _otherwise(plan: Plan, found: Timetable, row: Otherwise) -> OtherwiseView:
    return OtherwiseView(
        text=_words(plan, row),
        room=dict(row.room),
        stagger=f"{row.stagger:g} min" if row.stagger is not None else "",
        overlap=row.overlap,
        trials=row.trials,
        saves=found.finish_last.median - row.finish_last.median,
        fits=row.fits,
    )


def _words(plan: Plan, row: Otherwise) -> str:
    if row.room:
        name, count = next(iter(row.room.items()))
        words = {2: "a second", 3: "a third", 4: "a fourth", 5: "a fifth"}
        return f"{words.get(count, f'{count} of')} {_called(name)}"
    if row.stagger is not None:
        return f"benches {row.stagger:g} min apart" if row.stagger else "all benches at once"
    if row.trials is not None:
        return "one trial less"
    return "the next trial begun while one cools" if row.overlap else "one trial after another"


def _called(name: str) -> str:
    return name.replace("_", " ")


def _said(plan: Plan, found: Timetable) -> Iterator[str]:
    """The timetable in sentences."""
    last = found.finish_last
    yield _share(found.fits)
    yield f"The last bench is done after {last.median:.0f} min, in one evening of ten after more than {last.p90:.0f}."
    for row in found.resources:
        if row.waited_total.median >= 1:
            yield (
                f"Benches wait {row.waited_total.median:.0f} min in all for the {row.count} {_called(row.name)}"
                f"{'s' if row.count != 1 else ''}, at most {row.longest_queue.median:.0f} at once."
            )
    if found.bottleneck is None:
        yield "Nobody waits for anything of the room."
    if found.latest_start is None:
        yield "Nine of ten evenings do not end in time, however early the benches begin within the period."


def _share(fits: float) -> str:
    tenths = round(10 * fits)
    if fits >= 0.995:
        return "Every evening ends in time."
    if fits < 0.005:
        return "No evening ends in time."
    words = ("Less than one", "One", "Two", "Three", "Four", "Five", "Six", "Seven", "Eight", "Nine", "Nearly all")
    if tenths == 10:
        return "Nearly every evening ends in time."
    return f"{words[tenths]} of ten evenings {'ends' if tenths <= 1 else 'end'} in time."


def _spread(row: Spread) -> SpreadView:
    return SpreadView(p10=round(row.p10, 2), median=round(row.median, 2), p90=round(row.p90, 2))
