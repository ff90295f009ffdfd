"""What practice costs: an evening of sixteen simulated benches, a run at one, and one thing done at one, over HTTP."""

from __future__ import annotations

import json
from collections.abc import Iterator
from itertools import count
from uuid import uuid4

from claykettle.core.methods.registry import method_named
from claykettle.core.practice import lay, practise
from claykettle.core.practice.evening import play
from claykettle.core.run import evaluate_run
from claykettle.launch.measure.board import class_of
from claykettle.launch.measure.preparing import benches_of
from claykettle.launch.measure.ratios import Ratio, compare
from claykettle.launch.measure.recording import Line, get, post, records, serving
from claykettle.launch.serving import APPLICATION

BENCHES, TRIALS = 16, 2
ROUNDS = 30


def _recorded(line: Line) -> Iterator[object]:
    """A simulated evening written into a real class over HTTP, reading by reading, in the order in which it happens."""
    laid = class_of(line, TRIALS)
    evening = play(lay(method_named("hydrate"), 1), len(laid["places"]), 2, TRIALS)
    rows = sorted(
        (event.seconds, one.place, event) for one in evening for event in one.events if event.kind == "reading"
    )
    for _, place, event in rows:
        body = {
            "uuid": str(uuid4()), "slot": event.what, "position": event.position, "trial": event.trial,
            "text": event.text.rpartition(" ")[0], "confirmed": True,
        }  # fmt: skip
        yield post(line, f"/api/runs/{laid['places'][place]['run']}/readings", body)


def measured() -> Iterator[Ratio]:
    """The evening against one run, one run against its evaluation, one act against who one is."""
    hydrate, seeds = method_named("hydrate"), count()
    known = practise(lay(hydrate, 1), "careful", 1, lambda seconds: "", 0.0).run
    one = lambda: practise(lay(hydrate, next(seeds)), "careful", 1, lambda seconds: "", 0.0)  # noqa: E731
    yield compare(
        f"an evening of {BENCHES} benches, {TRIALS} trials each",
        lambda: play(lay(hydrate, next(seeds)), BENCHES, 2, TRIALS),
        "one practised run",
        one,
        4 * BENCHES * TRIALS,
        12,
    )
    yield compare("one practised run", one, "an evaluation of it", lambda: evaluate_run(known), 25, ROUNDS)
    with records(benches_of) as (server, secret), serving(APPLICATION, server, secret) as line:
        begun = {"uuid": str(uuid4()), "method": "hydrate", "level": 2, "seed": "7"}
        path = f"/api/practice/{json.loads(post(line, '/api/practice', begun))['uuid']}/acts"
        acts = ("flame low", "wait 5", "put gauze", "wait 10", "put pan", "wait 1")
        turn = count()

        def act() -> object:
            name, _, value = acts[next(turn) % len(acts)].partition(" ")
            return post(line, path, {"uuid": str(uuid4()), "act": name, "value": value})

        readings = _recorded(line)
        yield compare(
            "a reading of a simulated evening, recorded", lambda: next(readings), "who one is, over HTTP",
            lambda: get(line, "/api/session"), 12, 3 * ROUNDS,
        )  # fmt: skip
        yield compare(
            "one thing done at a simulated bench", act, "who one is, over HTTP",
            lambda: get(line, "/api/session"), 12, 2 * ROUNDS,
        )  # fmt: skip
