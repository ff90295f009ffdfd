"""What the board of a class costs: all of it, and the question whether anything has changed."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any
from urllib.parse import quote
from uuid import uuid4

from claykettle.launch.measure.preparing import BENCHES, ZINC, benches_of
from claykettle.launch.measure.ratios import Ratio, compare
from claykettle.launch.measure.recording import Line, get, post, records, serving
from claykettle.launch.serving import APPLICATION

TRIALS = 3
ROUNDS = 40


def measured() -> Iterator[Ratio]:
    """The whole board of sixteen benches with three trials each, and a quiet feed."""
    with records(benches_of) as (server, secret), serving(APPLICATION, server, secret) as line:
        laid = _class_at_work(line)
        path, runs = f"/api/classes/{laid['id']}/changes", [place["run"] for place in laid["places"]]
        page = f"/api/runs/{runs[0]}?seen=-1"
        yield compare(
            f"the board of {BENCHES} benches, {TRIALS} trials each",
            lambda: get(line, path),
            "one run's page",
            lambda: get(line, page),
            3,
            ROUNDS,
        )
        since = quote(get(line, path)["since"])
        yield compare(
            "a feed that has nothing to tell",
            lambda: get(line, f"{path}?since={since}"),
            "who one is, over HTTP",
            lambda: get(line, "/api/session"),
            2,
            5 * ROUNDS,
        )


def class_of(line: Line, trials: int) -> Any:
    """A class of sixteen benches, laid out."""
    shelf = get(line, "/api/shelf")
    wish = {
        "practical": {"method": "hydrate", "options": ZINC, "trials": trials},
        "date": get(line, "/api/today")["now"][:10],
        "starts": "00:00",
        "length": "1400 min",
        "benches": [row["id"] for row in shelf["benches"]],
        "room": {"balance": 2},
        "sample": "1.6 g",
        "title": "Measured",
    }
    return json.loads(post(line, "/api/classes", {"uuid": str(uuid4()), "wish": wish}))


def _class_at_work(line: Line) -> Any:
    """A class in its second trial at every bench."""
    laid = class_of(line, TRIALS)
    for place in laid["places"]:
        for trial in ("1", "2"):
            for slot, position, text in (
                ("vessel", 1, "31.204"), ("vessel_sample", 1, "32.861"), ("vessel_residue", 1, "32.136"),
                ("vessel_residue", 2, "32.134"),
            ):  # fmt: skip
                body = {"uuid": str(uuid4()), "slot": slot, "position": position, "text": text, "trial": trial}
                post(line, f"/api/runs/{place['run']}/readings", body | {"confirmed": True})
    return laid
