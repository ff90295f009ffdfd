"""What is said of a reading that was declared not taken: what stands in for it, or what cannot be had without it."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.method import Trial
from claykettle.core.run.run import NotTaken, Run, TrialRecord, reading_definition
from claykettle.core.sheet import ReadingDef
from claykettle.core.verdict import Verdict
from claykettle.core.wording import listed

NOT_TAKEN = "not-taken"


def judge_not_taken(run: Run, record: TrialRecord, trial: Trial) -> Iterator[Verdict]:
    """`not-taken` for every reading of a trial of which that was said."""
    for name, said in run.not_taken(record).items():
        definition = reading_definition(run.method, name, run.options)
        if definition is not None:
            yield Verdict(NOT_TAKEN, "watch", name, _text(run, record, trial, definition, name, said))


def _without(run: Run, trial: Trial, name: str) -> list[str]:
    """The labels of the results that cannot be had without a reading; what the options give in its place is no lack."""
    if name in trial.values.numbers:
        return []
    above = {name}
    for line in trial.sheet.lines:
        if not above.isdisjoint(line.needs) and line.name not in trial.values.numbers:
            above.add(line.name)
    return [trial.sheet.labels[one] for one in run.method.results if one in above]


def _text(run: Run, record: TrialRecord, trial: Trial, definition: ReadingDef, name: str, said: NotTaken) -> str:
    label = trial.sheet.labels.get(name) or definition.labelled(run.options)
    count = len({**run.shared, **record.entries}.get(name, ()))
    if count:
        if said.position > count:
            return f"No more of '{label}' after {count} ({said.reason})."
        return f"'{label}' number {said.position} was left out ({said.reason})."
    waiting = _without(run, trial, name)
    instead = definition.instead(run.options) if definition.instead is not None else ""
    other = next((row.label for row in trial.sheet.readings.values() if row.instead_of == name), "")
    begin = f"'{label}' was not taken ({said.reason})"
    if waiting:
        late = f" {definition.late}" if definition.late else ""
        return f"{begin}: without it there is no {listed(waiting)}.{late}"
    if instead:
        return f"{begin}: {instead}"
    return f"{begin}: '{other}' stands in for it." if other else f"{begin}."
