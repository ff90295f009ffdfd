"""The board of a class, and the one question that every page of it asks: what has changed since?"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from pydantic import Field
from sqlalchemy import or_, select

from claykettle.core.lab.calls import Call, Now, Queue, calls, next_change, queues
from claykettle.core.lab.remaining import Rest, minutes_left
from claykettle.core.planning.timetable import PlannedStep, Takes
from claykettle.service.callers import BENCH, BOARD, INSTRUCTOR, may
from claykettle.service.doors.classes import valid_code
from claykettle.service.lab.cards import CardView, Laid, card_views, laid_cards, moment, now_of
from claykettle.service.lab.results import ClassScaleView, class_scale, listed
from claykettle.service.lab.state import State, class_at
from claykettle.service.lab.words import brief, words_for
from claykettle.service.shelf.room import standing_room
from claykettle.service.views.base import View
from claykettle.service.views.card import LeftView
from claykettle.service.visit import Visit
from claykettle.store.records import iso
from claykettle.store.tables import Bench, CallAnswer, Day, Message, Section

MOST_CALLS = 3
MOST_MESSAGES = 20
AT_ONCE = timedelta(seconds=1)


class HeadView(View):
    """The class: its name, when it begins and ends (ISO 8601, UTC; empty where nobody planned it), its door."""

    id: int
    section: str
    title: str
    date: str
    begins: str
    ends: str
    more_min: int
    is_closed: bool
    code: str
    is_planned: bool


class CallView(View):
    """A bench to go to: why, in its own numbers, and what to say there."""

    code: str
    key: str
    bench: int
    name: str
    run: str
    reason: str
    say: str
    since: str


class CallsView(View):
    """Who wants somebody, at most three; how many more there are, and how the others are, in a sentence."""

    go: list[CallView]
    more: int
    said: str


class HeldView(View):
    """A balance: who is at it (empty: it is free), and who waits for it."""

    name: str
    at: str
    waiting: list[str]


class RoomReadView(View):
    """A reading of the room that stands."""

    label: str
    text: str
    at: str


class StandingThereView(View):
    """What stands in a place of the room, such as the oven: which benches."""

    place: str
    benches: list[str]


class RoomView(View):
    """The room as a strip: readings, balances, what stands and waits, and when the last bench will be done."""

    readings: list[RoomReadView]
    balances: list[HeldView]
    resting: list[StandingThereView]
    last_done_at: str
    last: str


class MessageView(View):
    """What was said to a bench (empty: to all)."""

    id: int
    bench: str
    text: str
    at: str
    by: str


class BoardView(View):
    """What is another now than the page has seen (`since`, from the answer before): null and empty where nothing is.

    `benches` are the cards that changed; `order` is all benches that there are; `runs` by their UUID the version of
    each run that changed.
    """

    now: str
    since: str
    head: HeadView | None = None
    benches: list[CardView] = Field(default_factory=list)
    order: list[int] | None = None
    runs: dict[str, int] = Field(default_factory=dict)
    calls: CallsView | None = None
    scale: ClassScaleView | None = None
    room: RoomView | None = None
    messages: list[MessageView] | None = None


@may(BENCH, BOARD, INSTRUCTOR)
def board(visit: Visit, number: int, since: str = "", lists: bool = False) -> BoardView:
    """What has changed of a class since the token that the page was given last; all of it where it brings none.

    Number 0 is the class at work now. A tablet sees its own bench. With `lists` the token is another one as soon as any
    run of the section is. Raises NotFound, NotYours.
    """
    state = class_at(visit, number, lists)
    seen, _, until = since.rpartition("|")
    changed, is_other = state.unseen(seen)
    if not is_other and not _is_due(until, visit.now):
        return BoardView(now=visit.now.isoformat(), since=since)
    made = _made(visit, state)
    view = made.view.model_copy(update={"now": visit.now.isoformat()})
    view.benches = [card for run, card in made.cards if run in changed]
    view.runs = {uuid: version for run, (uuid, version) in made.versions.items() if run in changed}
    return view


@dataclass(frozen=True)
class _Made:
    """A board as it was made: good for all who may see the same of the class, until a moment or until it is another."""

    view: BoardView
    cards: Sequence[tuple[int, CardView]]
    versions: Mapping[int, tuple[str, int]]
    until: float


_KEPT: OrderedDict[tuple[object, ...], _Made] = OrderedDict()
"""Boards made for others who ask the same. Nothing depends on one being there."""
MOST_KEPT = 64
A_MINUTE_S = 60.0
"""So often a board is made anew while nothing happens: it says how many minutes something takes by now."""


def _made(visit: Visit, state: State) -> _Made:
    caller = visit.caller
    teaches = caller.is_program or caller.account is not None
    key = (state.number, state.token, caller.bench, teaches, caller.shows_answers)
    found = _KEPT.get(key)
    if found is None or visit.now.timestamp() >= found.until:
        found = _KEPT[key] = _Board(visit, state, teaches).made()
        while len(_KEPT) > MOST_KEPT:
            _KEPT.popitem(last=False)
    return found


def _is_due(until: str, now: datetime) -> bool:
    """Whether the moment has come at which time alone calls somebody."""
    try:
        return now.timestamp() >= float(until) if until else False
    except ValueError:
        return True


@dataclass
class _Board:
    visit: Visit
    state: State
    teaches: bool

    def made(self) -> _Made:
        visit, state = self.visit, self.state
        rows, versions = laid_cards(visit, state)
        begins, ends = state.begins(visit), state.ends(visit)
        own = visit.caller.bench is not None
        sees_results = not own and visit.caller.shows_answers
        benches = [now_of(row, begins) for row in rows if not row.is_out]
        moment_now = visit.now.timestamp()
        ends_at = ends.timestamp() if ends else None
        lines = queues(benches, _balances(rows), moment_now)
        until = next_change(benches, moment_now, ends_at)
        answered, snoozed = self._answered(rows)
        until = min(one for one in (until, snoozed, moment_now + A_MINUTE_S) if one is not None)
        view = BoardView(
            now=visit.now.isoformat(),
            since=f"{state.token}|{until:.3f}",
            head=self._head(begins, ends),
            order=[row.bench for row in rows],
            calls=self._calls(rows, benches, lines, ends_at, answered) if self.teaches else None,
            scale=class_scale(rows) if sees_results else None,
            room=None if own else self._room(rows, benches, lines),
            messages=self._messages(),
        )
        cards = [(row.run, card) for row, card in zip(rows, card_views(visit, rows), strict=True)]
        return _Made(view, cards, versions, until)

    def _head(self, begins: datetime | None, ends: datetime | None) -> HeadView:
        state = self.state
        day = self.visit.session.get_one(Day, state.number)
        knows = self.visit.caller.account is not None or self.visit.caller.is_program
        return HeadView(
            id=state.number,
            section=self.visit.session.get_one(Section, state.section).name,
            title=state.title,
            date=state.date.isoformat(),
            begins=moment(begins),
            ends=moment(ends),
            more_min=state.more_min,
            is_closed=state.is_closed,
            code=valid_code(self.visit, day) if knows else "",
            is_planned=bool(state.starts),
        )

    def _calls(
        self,
        rows: Sequence[Laid],
        benches: Sequence[Now],
        lines: Sequence[Queue],
        ends_at: float | None,
        answered: Collection[tuple[int, str]],
    ) -> CallsView:
        by_bench = {row.bench: row for row in rows}
        found = calls(benches, self.visit.now.timestamp(), ends_at, lines, answered)
        go = [self._call(one, by_bench[one.bench]) for one in found[:MOST_CALLS]]
        begins = self.state.begins(self.visit)
        if begins is not None and self.visit.now < begins:
            said = f"The class begins at {begins.astimezone(self.visit.zone):%H:%M}."
        else:
            said = _said_of_others(benches, found, lines)
        return CallsView(go=go, more=len(found) - len(go), said=said)

    def _call(self, call: Call, row: Laid) -> CallView:
        say = call.say or words_for(self.visit, row.uuid, call.code)
        reason = brief(call.reason)
        return CallView(
            code=call.code, key=call.key, bench=call.bench, name=call.name, run=row.uuid, reason=reason, say=say,
            since=iso(datetime.fromtimestamp(call.since, self.visit.now.tzinfo)),
        )  # fmt: skip

    def _answered(self, rows: Sequence[Laid]) -> tuple[set[tuple[int, str]], float | None]:
        """Calls that were tapped away, as long as it is the same thing; and when the first of them comes back."""
        by_run = {row.run: row.bench for row in rows}
        query = select(CallAnswer.run_id, CallAnswer.call_key, CallAnswer.until).where(
            CallAnswer.day_id == self.state.number,
            or_(CallAnswer.until.is_(None), CallAnswer.until > self.visit.now),
        )
        found = [row for row in self.visit.session.execute(query) if row.run_id in by_run]
        again = min((row.until.timestamp() for row in found if row.until is not None), default=None)
        return {(by_run[row.run_id], row.call_key) for row in found}, again

    def _room(self, rows: Sequence[Laid], benches: Sequence[Now], lines: Sequence[Queue]) -> RoomView:
        last_at, last = self._last_done(rows, benches)
        return RoomView(
            readings=[
                RoomReadView(label=label, text=text, at=iso(at))
                for label, text, at in standing_room(self.visit, self.state.number)
            ],
            balances=[
                HeldView(name=row.balance, at=row.at.name if row.at else "", waiting=[one.name for one in row.waiting])
                for row in lines
            ],
            resting=list(_resting(rows)),
            last_done_at=last_at,
            last=last,
        )

    def _last_done(self, rows: Sequence[Laid], benches: Sequence[Now]) -> tuple[str, str]:
        """When the last bench will be done on a usual evening from here on, and which."""
        begins = self.state.begins(self.visit)
        start = max(self.visit.now, begins) if begins is not None else self.visit.now
        doing = {row.bench: row for row in benches}
        at_work = [row for row in rows if row.bench in doing and not row.card.done_at and not row.card.rests]
        if not at_work:
            return "", ""
        rests = [
            Rest(
                tuple(tuple(_planned(step) for step in trial) for trial in _trials(row)),
                max(0.0, (start.timestamp() - doing[row.bench].since) / 60),
            )
            for row in at_work
        ]
        minutes = minutes_left(rests, self._counts(rows))
        longest = max(range(len(minutes)), key=lambda index: minutes[index])
        return iso(start + timedelta(minutes=minutes[longest])), at_work[longest].name

    def _counts(self, rows: Sequence[Laid]) -> dict[str, int]:
        """What of the room there are so many of: as the class was planned, else the balances that it weighs on."""
        day = self.visit.session.get_one(Day, self.state.number)
        planned = (day.plan or {}).get("room") or {}
        counted = {"balance": max(1, len(_balances(rows)))}
        return {name: count for name, count in {**counted, **planned}.items() if count > 0}

    def _messages(self) -> list[MessageView]:
        caller = self.visit.caller
        query = (
            select(Message, Bench.name)
            .outerjoin(Bench, Message.bench_id == Bench.id)
            .where(Message.day_id == self.state.number)
            .order_by(Message.id.desc())
            .limit(MOST_MESSAGES)
        )
        if caller.bench is not None:
            query = query.where(or_(Message.bench_id.is_(None), Message.bench_id == caller.bench))
        elif not caller.is_program and caller.account is None:
            query = query.where(Message.bench_id.is_(None))
        return [
            MessageView(id=row.id, bench=name or "", text=row.text, at=iso(row.at), by=row.by)
            for row, name in self.visit.session.execute(query)
        ]


def _balances(rows: Sequence[Laid]) -> list[str]:
    """The balances that the class weighs on, by name."""
    return sorted({name for row in rows if not row.is_out for name in row.card.balances})


def _trials(row: Laid) -> list[list[LeftView]]:
    left = row.card.left
    return [*left, *([left[-1]] * row.card.more if left else [])]


def _planned(step: LeftView) -> PlannedStep:
    return PlannedStep(step.name, Takes(step.low, step.usual, step.high), step.at, step.attended)


def _resting(rows: Sequence[Laid]) -> Iterator[StandingThereView]:
    places: dict[str, list[str]] = {}
    for row in rows:
        if row.card.rests and not row.is_out:
            places.setdefault(row.card.rests, []).append(row.name)
    for place, names in places.items():
        yield StandingThereView(place=place, benches=names)


def _said_of_others(benches: Sequence[Now], found: Sequence[Call], lines: Sequence[Queue]) -> str:
    """How the benches are that nobody need go to."""
    called = {call.bench for call in found}
    well = [row for row in benches if row.bench not in called]
    done = sum(row.done_at is not None for row in well)
    rows = []
    working = len(well) - done
    if working:
        rows.append(f"{_counted(working)} {'goes' if working == 1 else 'go'} well")
    if done:
        rows.append(f"{_counted(done)} {'is' if done == 1 else 'are'} done")
    waiting = [one.name for line in lines for one in line.waiting if one.bench not in called]
    if waiting:
        rows.append(f"{listed(waiting)} {'waits' if len(waiting) == 1 else 'wait'} for a balance")
    said = ", ".join(rows)
    return f"{said[:1].upper()}{said[1:]}." if said else "No bench has begun yet." if not benches else ""


def _counted(count: int) -> str:
    words = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")
    return f"{words[count] if count < len(words) else count} {'bench' if count == 1 else 'benches'}"
