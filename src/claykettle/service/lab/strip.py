"""The room as a strip below the board: its readings, its balances, what rests, and when the last bench will be done."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import timedelta

from claykettle.core.lab.calls import Now, Queue
from claykettle.core.lab.remaining import Rest, minutes_left
from claykettle.core.planning.timetable import PlannedStep, Takes
from claykettle.service.lab.cards import Laid
from claykettle.service.lab.state import State
from claykettle.service.shelf.room import standing_room
from claykettle.service.views.base import View
from claykettle.service.views.card import LeftView
from claykettle.service.visit import Visit
from claykettle.store.records import iso
from claykettle.store.tables import Day


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


def room_view(
    visit: Visit, state: State, rows: Sequence[Laid], benches: Sequence[Now], lines: Sequence[Queue]
) -> RoomView:
    """The room of a class at this moment."""
    last_at, last = _last_done(visit, state, rows, benches)
    return RoomView(
        readings=[
            RoomReadView(label=label, text=text, at=iso(at)) for label, text, at in standing_room(visit, state.number)
        ],
        balances=[
            HeldView(name=row.balance, at=row.at.name if row.at else "", waiting=[one.name for one in row.waiting])
            for row in lines
        ],
        resting=list(_resting(rows)),
        last_done_at=last_at,
        last=last,
    )


def balances_of(rows: Sequence[Laid]) -> list[str]:
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


def _last_done(visit: Visit, state: State, rows: Sequence[Laid], benches: Sequence[Now]) -> tuple[str, str]:
    """When the last bench will be done on a usual evening from here on, and which."""
    begins = state.begins(visit)
    start = max(visit.now, begins) if begins is not None else visit.now
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
    minutes = minutes_left(rests, _counts(visit, state, rows))
    longest = max(range(len(minutes)), key=lambda index: minutes[index])
    return iso(start + timedelta(minutes=minutes[longest])), at_work[longest].name


def _counts(visit: Visit, state: State, rows: Sequence[Laid]) -> dict[str, int]:
    """What of the room there are so many of: as the class was planned, else the balances that it weighs on."""
    day = visit.session.get_one(Day, state.number)
    planned = (day.plan or {}).get("room") or {}
    counted = {"balance": max(1, len(balances_of(rows)))}
    return {name: count for name, count in {**counted, **planned}.items() if count > 0}
