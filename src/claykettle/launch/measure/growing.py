"""What a house costs after years: the same questions with some fifty runs and with three thousand, side by side."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from typing import Any
from urllib.parse import quote

from claykettle.launch.measure.many import multiply
from claykettle.launch.measure.ratios import Ratio, compare
from claykettle.launch.measure.recording import HYDRATE, Line, get, recorder, records, serving
from claykettle.launch.serving import APPLICATION
from claykettle.service.demo import seed_demo
from claykettle.service.laboratory import Laboratory
from claykettle.store.database import Database

FEW, MANY = 84, 3000
"""Runs: the demo twice over, and as many as some years leave."""
ROUNDS = 40
BOARD = "/api/classes/0/changes"
SEARCH = "/api/search?words=zinc%20quill&state=good"
ASKED = (
    ("the list of runs", "/api/runs", 1.1),
    ("the day's page", "/api/today", 1.1),
    ("what dries", "/api/drying", 4),
    ("the waste of a day", "/api/waste", 1.5),
    ("the board of a class", BOARD, 1.1),
)
"""The question, its address, and how many times as long it may take; of what dries there is more with more runs."""


def measured() -> Iterator[Ratio]:
    """Each question, and a recording, in a house of many runs against the same in one of few."""
    with ExitStack() as open_houses:
        few, many = (open_houses.enter_context(_house(runs)) for runs in (FEW, MANY))
        for name, path, limit in ASKED:
            yield compare(
                f"{name} among {MANY} runs", _asking(many, path), f"among {FEW}", _asking(few, path), limit, ROUNDS
            )
        yield compare(
            f"a search among {MANY} runs",
            _asking(many, SEARCH),
            "the list of runs",
            _asking(many, "/api/runs"),
            6,
            ROUNDS,
        )
        quiet, other = (_asking(line, _seen(line)) for line in (many, few))
        yield compare(f"a quiet feed among {MANY} runs", quiet, f"among {FEW}", other, 1.1, 5 * ROUNDS)
        record = f"record a reading among {MANY} runs"
        yield compare(record, recorder(many, HYDRATE), f"among {FEW}", recorder(few, HYDRATE), 2, ROUNDS)


def _seen(line: Line) -> str:
    """The question of a page that has seen all of the class."""
    return f"{BOARD}?since={quote(get(line, BOARD)['since'])}"


def _asking(line: Line, path: str) -> Callable[[], Any]:
    return lambda: get(line, path)


@contextmanager
def _house(runs: int) -> Iterator[Line]:
    def fill(database: Database) -> None:
        Laboratory(database).ask(seed_demo)
        multiply(database, runs)

    with records(fill) as (server, secret), serving(APPLICATION, server, secret) as line:
        yield line
