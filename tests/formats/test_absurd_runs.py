"""Well-formed files with readings that no bench shows: every command answers in words, and none breaks."""

from __future__ import annotations

import json
import random
import unittest
from collections.abc import Iterator
from copy import deepcopy
from pathlib import Path
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.judgement.suspects import suspicion
from claykettle.core.report import Beside, report_of
from claykettle.core.run import evaluate_run, evidence_of
from claykettle.formats.evaluation_json import evaluation_document
from claykettle.formats.run_file import read_run
from tests.support.tiers import amount, both

GOLDEN = sorted((Path(__file__).parents[1] / "golden").glob("*.run.json"))


def typed(readings: Any) -> Iterator[tuple[Any, Any]]:
    """Each place of a trial's readings that holds a text: what it stands in, and under which key."""
    for name, value in readings.items():
        rows = value if isinstance(value, list) else [value]
        for number, row in enumerate(rows):
            if isinstance(row, dict):
                yield from ((row, "text"),) if "text" in row else ()
            else:
                yield (value, number) if isinstance(value, list) else (readings, name)


def absurd(document: dict[str, Any], chance: random.Random) -> dict[str, Any]:
    """The same run with one to three of its figures changed as no bench would."""
    changed = deepcopy(document)
    places = [place for trial in changed["trials"] for place in typed(trial["readings"])]
    for _ in range(chance.randint(1, 3)):
        (held, key), (other, its) = chance.choice(places), chance.choice(places)
        figure, _, unit = held[key].partition(" ")
        match chance.randrange(5):
            case 0:
                held[key] = f"0 {unit}"
            case 1:
                held[key] = f"-{figure.lstrip('-')} {unit}"
            case 2:
                held[key] = f"{figure}000 {unit}"
            case 3:
                held[key] = f"0.000{figure.replace('.', '').lstrip('-')} {unit}"
            case _ if other[its].partition(" ")[2] == unit:
                held[key], other[its] = other[its], held[key]
    return changed


class Absurd(unittest.TestCase):
    @both
    def test_every_command_answers_in_words(self) -> None:
        answered = 0
        for path in GOLDEN:
            document = json.loads(path.read_text(encoding="utf-8"))
            for seed in range(amount(4, 200)):
                with self.subTest(path.name, seed=seed):
                    try:
                        answered += self.answered(absurd(document, random.Random(seed)))
                    except Refusal as refusal:
                        self.assertTrue(all(fault.message for fault in refusal.faults))
        self.assertGreater(answered, len(GOLDEN))

    def answered(self, document: dict[str, Any]) -> int:
        run = read_run(json.dumps(document).encode())
        evaluation = evaluate_run(run)
        json.dumps(evaluation_document(evaluation), allow_nan=False)
        report_of(evaluation, Beside())
        for trial in evaluation.trials:
            try:
                suspicion(trial.trial, run.method, None, evidence_of(run, trial.label))
            except Refusal as refusal:
                self.assertTrue(refusal.faults[0].message)
        return 1
