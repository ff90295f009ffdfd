"""The words by which a run is found again: its names, its substances, what was found and seen, who wrote."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import chain

from claykettle.core.chemistry.substances import shipped_register
from claykettle.core.planning.waste import formulas_of
from claykettle.service.views.card import standing_of
from claykettle.service.views.lines import trial_lines
from claykettle.store.records import StoredRun

LONGEST = 6000
SIGNED, UNSIGNED, FINISHED, OPEN = "signed", "unsigned", "finished", "open"


def words_of(run: StoredRun) -> str:
    """All of them in small letters, each once."""
    return " ".join(dict.fromkeys(" ".join(_texts(run)).casefold().split()))[:LONGEST]


def marks_of(run: StoredRun) -> str:
    """How it stands, as a search asks for it: signed or not, finished or open, good, watch or stop."""
    finished = all(line.state == "finished" for line in trial_lines(run))
    marks = [SIGNED if run.signatures else UNSIGNED, FINISHED if finished else OPEN]
    if any(trial.readings for trial in run.own_trials):
        marks.append(standing_of(run).level)
    return f" {' '.join(marks)} "


def _texts(run: StoredRun) -> Iterator[str]:
    yield from (run.title, run.method.title, run.method.name.replace("_", " "), run.bench, run.note)
    for formula in formulas_of(run.options):
        found = shipped_register().find(formula)
        yield formula.text
        yield formula.text.replace("·", ".")
        if found is not None:
            yield from found.names
    for trial in run.evaluation.trials:
        yield from (word.text for word in trial.words.values() if word.text)
    yield from (f"{row.tag} {row.text}" for row in run.observations)
    rows = chain.from_iterable(trial.readings for trial in run.trials)
    yield from dict.fromkeys(row.by for row in rows)
    yield from (row.name for row in run.signatures)
