"""What a tablet is shown before the answers are opened to it: the same run, without what it is to find itself."""

from __future__ import annotations

from dataclasses import replace

from claykettle.core.judgement.revealed import is_told
from claykettle.core.judgement.standing import Standing
from claykettle.core.methods.registry import method_named
from claykettle.core.pictures.gas import GasPicture
from claykettle.core.pictures.pictures import Pictures
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.revealing import held_back
from claykettle.service.views.answer import AnswerView
from claykettle.service.views.bench import RunView, run_view
from claykettle.service.views.entries import EntryView
from claykettle.service.views.log import ChangeView
from claykettle.service.visit import Visit

CONFIRMED = "It was asked about, and confirmed."
DECIDED = "What is to be found was decided otherwise."


@may(BENCH, INSTRUCTOR)
def seen(visit: Visit, uuid: str, trial: str | None, version: int, brief: bool = False) -> RunView | None:
    """A run at its bench; None where the page has seen this version. Raises NotFound."""
    run = visit.run(uuid)
    if run.version == version:
        return None
    if run.signatures and not brief:
        # whether what was signed still stands so, is asked of what is stored, not of what is remembered
        run = visit.run_as_stored(uuid)
    return as_told(run_view(run, visit.now, trial, brief=brief), held_back(visit, run.id))


def as_told(view: RunView, why: str) -> RunView:
    """The run as a tablet is shown it; as it is where nothing is held back (`why` is empty)."""
    if not why:
        return view
    told = [row for row in view.trial.verdicts if is_told(row.code)]
    answers = method_named(view.method).judging.answers
    return view.model_copy(
        update={
            "held_back": why,
            "options": {name: value for name, value in view.options.items() if name not in answers},
            "changes": [_untold(row) if row.what.removeprefix("options.") in answers else row for row in view.changes],
            "readings": [row.model_copy(update={"doubt": CONFIRMED if row.doubt else ""}) for row in view.readings],
            "entry": _unexpected(view.entry) if view.entry is not None else None,
            "upcoming": [_unexpected(row) for row in view.upcoming],
            # each weighing as it was typed; what lies between two of them is to be worked out
            "stair": [replace(row, change="", named="") for row in view.stair],
            "pictures": _pictures(view.pictures),
            "answer": _answer(view.answer),
            "trial": view.trial.model_copy(
                update={"results": [], "verdicts": told, "candidates": [], "candidates_held": 0}
            ),
            "trials": [row.model_copy(update={"level": None, "headline": None}) for row in view.trials],
            "signatures": [row.model_copy(update={"results": []}) for row in view.signatures],
            "predictions": [],
            "verdicts": [row for row in view.verdicts if is_told(row.code)],
        }
    )


def _untold(row: ChangeView) -> ChangeView:
    """That something was changed is told: whoever changes the run next says how many changes they know of."""
    return row.model_copy(update={"text": DECIDED, "reason": ""})


def _unexpected(row: EntryView) -> EntryView:
    """What a reading will likely be follows from what is to be found."""
    return row.model_copy(update={"expected": "", "because": ""})


def _pictures(found: Pictures) -> Pictures:
    """What stands there and was measured; not what follows from it."""
    return Pictures(gas=GasPicture(found.gas.tube, ()) if found.gas is not None else None, sizes=found.sizes)


def _answer(found: AnswerView) -> AnswerView:
    """What the answer is called, and what it still waits for."""
    return AnswerView(
        label=found.label, text=None, headline=None, second=None, statements=[], formula=None,
        provisional=found.provisional, why_provisional=found.why_provisional, ruler=None, scale=None, remarks=[],
        standing=Standing("watch", "not yet", ""),
    )  # fmt: skip
