"""The benches of a class as the board lays them out: one card a bench, in the order of the room."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from sqlalchemy import func, select

from claykettle.core.judgement.standing import GOING, Standing
from claykettle.core.lab.calls import Now
from claykettle.core.planning.timetable import Takes
from claykettle.service.lab.state import State
from claykettle.service.lab.words import brief
from claykettle.service.revealing import held_back
from claykettle.service.views.card import AtWork, Card
from claykettle.service.visit import Visit
from claykettle.store.tables import Bench, Place, RunRow, Seat, SheetRow, Student, SummaryRow

Doing = Literal["works", "rests", "done", "new", "out"]


@dataclass(frozen=True)
class Laid:
    """A run on the board: at which bench and place, who stands there, its card, and what it asks."""

    run: int
    uuid: str
    bench: int
    name: str
    place: int
    students: tuple[str, ...]
    is_out: bool
    others: int
    card: Card
    asks: str
    asked_at: datetime | None
    own: int = 0


class CardView(AtWork):
    """A bench on the board. `asks` is a question that nobody has answered there, `against` what stands against it.

    A projector without answers shows neither these nor names, a tablet none of these before the answers are opened to
    it. `own` is how many trials the bench has handed in its own figures of.
    """

    bench: int
    name: str
    students: list[str]
    run: str
    others: int
    doing: Doing
    level: Literal["good", "watch", "stop"] | None
    word: str
    asks: str
    against: str
    headline: str
    own: int


def laid_cards(visit: Visit, state: State) -> tuple[list[Laid], dict[int, tuple[str, int]]]:
    """The benches of a class with the run of each, and all of its runs with UUID and version.

    Of several runs at a bench it is the one changed last that is open.
    """
    places = {row.bench_id: row for row in _places(visit, state)}
    students = _students(visit, state)
    query = (
        select(
            SummaryRow.run_id, SummaryRow.card, SummaryRow.asks, SummaryRow.asked_at, SummaryRow.bench_id, RunRow.uuid,
            Bench.name, SummaryRow.version,
        )
        .join(RunRow, RunRow.id == SummaryRow.run_id)
        .join(Bench, Bench.id == SummaryRow.bench_id)
        .where(SummaryRow.day_id == state.number)
    )  # fmt: skip
    if visit.caller.bench is not None:
        query = query.where(SummaryRow.bench_id == visit.caller.bench)
    by_bench: dict[int, list[Laid]] = {}
    versions: dict[int, tuple[str, int]] = {}
    own = _own_figures(visit, state)
    for run, text, asks, asked_at, bench, uuid, name, version in visit.session.execute(query):
        place = places.get(bench)
        found = Laid(
            run, uuid, bench, name, place.position if place else 1000 + bench, students.get(bench, ()),
            bool(place and place.is_out), 0, Card.model_validate_json(text), asks, asked_at,
            own.get(run, 0),
        )  # fmt: skip
        by_bench.setdefault(bench, []).append(found)
        versions[run] = (uuid, version)
    return sorted((_chosen(rows) for rows in by_bench.values()), key=lambda row: row.place), versions


def _chosen(rows: Sequence[Laid]) -> Laid:
    last = max(rows, key=lambda row: (row.card.done_at is None, row.card.changed_at, row.run))
    return Laid(**{**vars(last), "others": len(rows) - 1})


def _places(visit: Visit, state: State) -> Sequence[Place]:
    return visit.session.scalars(select(Place).where(Place.day_id == state.number)).all()


def _own_figures(visit: Visit, state: State) -> Mapping[int, int]:
    """Of how many trials of each run somebody has handed in figures."""
    query = (
        select(SheetRow.run_id, func.count(SheetRow.trial.distinct()))
        .where(SheetRow.day_id == state.number)
        .group_by(SheetRow.run_id)
    )
    return {row[0]: row[1] for row in visit.session.execute(query)}


def _students(visit: Visit, state: State) -> Mapping[int, tuple[str, ...]]:
    query = (
        select(Place.bench_id, Student.name)
        .join(Seat, Seat.place_id == Place.id)
        .join(Student, Student.id == Seat.student_id)
        .where(Place.day_id == state.number)
        .order_by(Seat.id)
    )
    found: dict[int, tuple[str, ...]] = {}
    for bench, name in visit.session.execute(query):
        found[bench] = (*found.get(bench, ()), name)
    return found


def now_of(row: Laid, begins: datetime | None) -> Now:
    """What a bench does now, as the rule of the calls takes it. Nothing counts before the class has begun."""
    card = row.card
    return Now(
        bench=row.bench,
        name=row.name,
        place=row.place,
        step=card.step,
        since=_not_before(begins, card.since),
        standing=card.standing,
        takes=Takes(*card.takes) if card.takes and not card.rests else None,
        attended=card.attended,
        timer_ends=_not_before(begins, card.timer_ends_at) if card.timer_ends_at and not card.rests else None,
        balance="" if card.rests else card.balance,
        asks=row.asks,
        asked_at=row.asked_at.timestamp() if row.asked_at else 0.0,
        signs=card.sign_off,
        signs_at=_seconds(card.sign_off_since) if card.sign_off_since else 0.0,
        done_at=_seconds(card.done_at) if card.done_at else None,
        changed_at=_seconds(card.changed_at),
        done_label=card.done_label,
    )


def _not_before(begins: datetime | None, text: str) -> float:
    """A moment; what lies before the class, or its session of today, counts from its beginning."""
    moment = _seconds(text)
    return moment if begins is None else max(moment, begins.timestamp())


def _seconds(text: str) -> float:
    return datetime.fromisoformat(text).timestamp()


def card_views(visit: Visit, rows: Sequence[Laid]) -> Iterator[CardView]:
    """The cards as the caller may see them."""
    shows = visit.caller.shows_answers
    for row in rows:
        tells = shows and not held_back(visit, row.run)
        card, standing = row.card, row.card.standing
        has_begun = standing.word != "not yet" or "done" in card.stair
        yield CardView(
            **{name: getattr(card, name) for name in AtWork.model_fields},
            bench=row.bench,
            name=row.name,
            students=list(row.students) if shows else [],
            run=row.uuid,
            others=row.others,
            doing=_doing(row),
            level=standing.level if tells and has_begun else None,
            word=_word(standing) if tells and has_begun else "",
            asks=brief(row.asks) if tells and row.asks else "",
            against=brief(standing.why) if tells and standing.level == "stop" else "",
            headline=card.found.text if tells and card.found and standing.level != "stop" else "",
            own=row.own,
        )


def _word(standing: Standing) -> str:
    return "" if standing.word in GOING else standing.word


def _doing(row: Laid) -> Doing:
    if row.is_out:
        return "out"
    if row.card.done_at:
        return "done"
    if row.card.rests:
        return "rests"
    return "works" if "done" in row.card.stair else "new"
