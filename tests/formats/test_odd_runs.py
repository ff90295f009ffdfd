"""Odd but accepted run files: whatever figures stand in them, there is an evaluation without NaN, or a refusal."""

from __future__ import annotations

import copy
import json
import random
import unittest
from contextlib import suppress
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.judgement.suspects import suspicion
from claykettle.core.run import evaluate_run
from claykettle.formats.evaluation_json import evaluation_document
from claykettle.formats.run_file import run_from
from tests.golden import run_files
from tests.support.tiers import amount, both

DOCUMENTS = amount(400, 3000)
SUSPECTED = 20
"""Of so many documents one is asked for its suspects too."""
ODD = (
    "0",
    "0.000",
    "0.0001",
    "1",
    "10",
    "99.99",
    "100",
    "250",
    "1000",
    "40.0",
    "40.1",
    "-0.5",
    "-5",
    "1e-6",
    "1013",
    "748.3",
)


def odd(document: Any, draw: random.Random) -> Any:
    """The run file with one to four of its figures changed, left out, repeated or given another unit of their kind."""
    found = copy.deepcopy(document)
    for _ in range(draw.randint(1, 4)):
        readings = draw.choice([*(trial["readings"] for trial in found["trials"]), found.get("shared") or {}])
        if not readings:
            continue
        name = draw.choice(sorted(readings))
        value = readings[name]
        if draw.random() < 0.15:
            del readings[name]
            continue
        if isinstance(value, list):
            place = draw.randrange(len(value))
            value[place] = changed(value[place], draw)
        else:
            readings[name] = changed(value, draw)
    return found


def changed(value: Any, draw: random.Random) -> Any:
    text = value["text"] if isinstance(value, dict) else value
    unit = text.split()[-1]
    return f"{draw.choice(ODD)} {unit}"


@both
class OddRuns(unittest.TestCase):
    def test_an_evaluation_without_nan_or_a_refusal(self) -> None:
        draw = random.Random(13)
        documents = [json.loads(path.read_text(encoding="utf-8")) for path in run_files()]
        evaluated = 0
        for number in range(DOCUMENTS):
            document = odd(draw.choice(documents), draw)
            with self.subTest(number, document=json.dumps(document)), suppress(Refusal):
                run = run_from(document)
                evaluation = evaluate_run(run)
                json.dumps(evaluation_document(evaluation), allow_nan=False)
                evaluated += 1
                if number % SUSPECTED == 0:
                    with suppress(Refusal):
                        suspicion(evaluation.trials[0].trial, run.method)
        self.assertGreater(evaluated, DOCUMENTS / 2)
