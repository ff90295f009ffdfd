"""What a class costs to prepare: a change in its sentence, its laying out, an evening of its timetable."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from itertools import count
from typing import Any
from uuid import uuid4

from claykettle.core.planning.timetable import Group, Plan, PlannedStep, Takes, evenings_of
from claykettle.launch.measure.ratios import Ratio, compare
from claykettle.launch.measure.recording import Line, get, post, records, serving
from claykettle.launch.serving import APPLICATION
from claykettle.store.database import Database
from claykettle.store.tables import Bench

BENCHES = 16
ROUNDS = 20
ZINC = {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}


def measured() -> Iterator[Ratio]:
    """A change in the sentence, laying out, and an evening of the timetable over one of half the benches."""
    with records(benches_of) as (server, secret), serving(APPLICATION, server, secret) as line:
        shelf = get(line, "/api/shelf")
        wish = _wish(line, shelf)
        yield compare(
            "a change in a class's sentence, the whole page",
            _changes(line, wish),
            "a sample's window over HTTP",
            _windows(line),
            3,
            ROUNDS,
        )
        yield compare(
            f"laying out {BENCHES} benches", _layings(line, wish), "starting one run", _starts(line, shelf), 20, ROUNDS
        )
    yield compare(
        f"an evening of {BENCHES} benches",
        _evening(BENCHES),
        f"one of {BENCHES // 4}",
        _evening(BENCHES // 4),
        8,
        ROUNDS,
    )


def benches_of(database: Database) -> None:
    """A laboratory of sixteen benches."""
    with database.transaction() as session:
        session.add_all(Bench(name=f"Bench {number}") for number in range(2, BENCHES + 1))


def _wish(line: Line, shelf: Any) -> dict[str, Any]:
    return {
        "practical": {"method": "hydrate", "options": ZINC, "trials": 2},
        "date": get(line, "/api/today")["now"][:10],
        "starts": "18:30",
        "length": "150 min",
        "benches": [row["id"] for row in shelf["benches"]],
        "room": {"balance": 2},
        "sample": "1.5 g",
    }


def _changes(line: Line, wish: dict[str, Any]) -> Callable[[], object]:
    keys = count(1)
    return lambda: post(line, "/api/prepare", wish | {"sample": f"{1.5 + next(keys) / 1000:.3f} g"})


def _windows(line: Line) -> Callable[[], object]:
    keys = count(1)
    plan = {"method": "hydrate", "options": ZINC, "benches": BENCHES, "trials": 2}
    return lambda: post(line, "/api/plan", plan | {"sample": f"{1.5 + next(keys) / 1000:.3f} g"})


def _layings(line: Line, wish: dict[str, Any]) -> Callable[[], object]:
    numbers = count(1)
    return lambda: post(
        line, "/api/classes", {"uuid": str(uuid4()), "wish": wish | {"title": f"Measured {next(numbers)}"}}
    )


def _starts(line: Line, shelf: Any) -> Callable[[], object]:
    body = {
        "title": "Measured",
        "method": "hydrate",
        "options": ZINC,
        "bench_id": shelf["benches"][0]["id"],
        "balance_id": shelf["balances"][0]["id"],
    }
    return lambda: post(line, "/api/runs", body | {"uuid": str(uuid4())})


def _evening(benches: int) -> Callable[[], object]:
    """One evening of so many benches, two trials of ten steps each, at two balances."""
    steps = tuple(
        PlannedStep(f"step {number}", Takes(1, 2 + number % 5, 12), "" if number % 3 else "balance", number % 4 != 0)
        for number in range(10)
    )
    names = tuple(str(number) for number in range(benches))
    plan = Plan("", "", 0, 150, (Group(names, 2, steps),), {"balance": 2}, repetitions=1)
    return lambda: list(evenings_of(plan))
