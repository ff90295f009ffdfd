"""The board of a class, and the one question that every page of it asks: what has changed since?"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from pydantic import Field
from sqlalchemy import or_, select

from claykettle.core.lab.calls import next_change, queues
from claykettle.core.planning.practical import Reveal
from claykettle.service.callers import BENCH, BOARD, INSTRUCTOR, may
from claykettle.service.doors.classes import valid_code
from claykettle.service.lab.calling import CallsView, answered, calls_view
from claykettle.service.lab.cards import CardView, card_views, laid_cards, now_of
from claykettle.service.lab.results import ClassScaleView, class_scale
from claykettle.service.lab.state import State, class_at
from claykettle.service.lab.strip import RoomView, balances_of, room_view
from claykettle.service.revealing import held_back
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.records import iso
from claykettle.store.tables import Bench, Day, Message

MOST_MESSAGES = 20


class HeadView(View):
    """The class: its name, when it begins and ends (ISO 8601, UTC; empty where nobody planned it), its door.

    `reveal` says when its benches see the answers, `held_back` why this tablet does not yet; `guessed` counts the wrong
    codes that were typed of late.
    """

    id: int
    title: str
    date: str
    begins: str
    ends: str
    more_min: int
    is_closed: bool
    code: str
    is_planned: bool
    reveal: Reveal
    guessed: int
    held_back: str


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
    key = (state.number, state.token, caller.bench, caller.tablet, teaches, caller.shows_answers)
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
        lines = queues(benches, balances_of(rows), moment_now)
        until = next_change(benches, moment_now, ends_at)
        known = answered(visit, state, rows)
        until = min(one for one in (until, known.again, moment_now + A_MINUTE_S) if one is not None)
        view = BoardView(
            now=visit.now.isoformat(),
            since=f"{state.token}|{until:.3f}",
            head=self._head(begins, ends),
            order=[row.bench for row in rows],
            calls=calls_view(visit, state, rows, benches, lines, known) if self.teaches else None,
            scale=class_scale(rows) if sees_results else None,
            room=None if own else room_view(visit, state, rows, benches, lines),
            messages=self._messages(),
        )
        cards = [(row.run, card) for row, card in zip(rows, card_views(visit, rows), strict=True)]
        return _Made(view, cards, versions, until)

    def _head(self, begins: datetime | None, ends: datetime | None) -> HeadView:
        state, held = self.state, self.state.session(self.visit)
        day = self.visit.session.get_one(Day, state.number)
        knows = self.visit.caller.account is not None or self.visit.caller.is_program
        return HeadView(
            id=state.number,
            title=state.title,
            date=held.date.isoformat(),
            begins=iso(begins) if begins else "",
            ends=iso(ends) if ends else "",
            more_min=held.more_min,
            is_closed=state.is_closed,
            code=valid_code(self.visit, day) if knows else "",
            is_planned=state.is_planned,
            reveal=state.reveal,
            guessed=state.guessed if knows else 0,
            held_back=next((why for run in state.versions if (why := held_back(self.visit, run))), ""),
        )

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
