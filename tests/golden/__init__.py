"""Evaluations that must not move: a run file and what came of it, a pair a demo run.

`python -m tests.golden` evaluates every run file anew and says which changed: for a change made on purpose only, to be
named in the commit.
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from claykettle.core.run import evaluate_run
from claykettle.formats.evaluation_json import evaluation_document
from claykettle.formats.run_file import read_run

FOLDER = Path(__file__).parent


def run_files() -> list[Path]:
    """The run files, by name."""
    return sorted(FOLDER.glob("*.run.json"))


def evaluation_file(run_file: Path) -> Path:
    """Where the evaluation of a run file lies."""
    return run_file.with_name(run_file.name.replace(".run.", ".evaluation."))


def as_text(document: Any) -> str:
    """A document as it lies here and as `kettle evaluate` prints it."""
    return json.dumps(document, ensure_ascii=False, indent=1, allow_nan=False) + "\n"


def evaluated(run_file: Path) -> str:
    """The evaluation of a run file as text."""
    return as_text(evaluation_document(evaluate_run(read_run(run_file.read_bytes()))))
