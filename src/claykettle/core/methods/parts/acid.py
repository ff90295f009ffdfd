"""What methods with an acid share, no method itself: whether it lasts, by what the trials take of what was put in."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Annotated

from pydantic import Field

from claykettle.core.chemistry.equation import Equation
from claykettle.core.chemistry.formula import Formula
from claykettle.core.method import (
    VESSEL,
    GivenConcentration,
    GivenVolume,
    Options,
    Remain,
    Trial,
    dissolved,
    in_solution,
    in_words,
)
from claykettle.core.quantity import figures
from claykettle.core.verdict import Verdict

LOW = 0.8
"""With four fifths used up the rest reacts slowly: time for fresh acid (common practice)."""


class Acid(Options):
    """The solution that the sample reacts with."""

    concentration: GivenConcentration = Field(title="Acid, concentration", description="Such as 3 mol/L.")
    volume: GivenVolume = Field(title="Acid, volume", description="Put in, such as 50 mL.")
    serves: Annotated[str, Field(pattern="^(trial|run)$")] = Field(
        default="trial",
        title="One filling of acid",
        description="Whether the next trial gets fresh acid.",
        json_schema_extra=in_words({"trial": "serves one trial", "run": "serves all trials"}),
    )

    @property
    def mol(self) -> float:
        """How much of it was put in."""
        return self.concentration.si * self.volume.si


def judge_acid(acid: Acid | None, others: Mapping[str, float], trials: Sequence[Trial]) -> Iterator[Verdict]:
    """Whether the acid lasts: the first of the `others`, mol of it per kg of sample, over the trials weighed so far."""
    if acid is None or not others:
        return
    formula, per_kg = next(iter(others.items()))
    taken = [per_kg * sample for trial in trials if (sample := trial.value("sample_mass") or 0.0) > 0]
    if not taken:
        return
    together = sum(taken) if acid.serves == "run" else max(taken)
    left, shown = acid.mol - together, f"{acid.volume.reading.shown} of {acid.concentration.reading.shown} {formula}"
    held = f"{shown} hold {figures(1000 * acid.mol, 3)} mmol"
    many = f"{len(taken)} trials take" if acid.serves == "run" and len(taken) > 1 else "the sample takes"
    said = f"{held}, {many} {figures(1000 * together, 3)} mmol"
    if left < 0:
        text = f"The acid does not last: {said}. What is left of the sample gives no gas."
        yield Verdict("acid-short", "watch", "acid", text)
    elif together > LOW * acid.mol:
        yield Verdict("acid-low", "watch", "acid", f"The acid is nearly used up: {said}. Take fresh acid for the next.")
    elif acid.serves == "run":
        more = int((LOW * acid.mol - together) / max(taken))
        yield Verdict("acid-lasts", "good", "acid", f"The acid lasts: {said}; enough for {more} more like the largest.")
    else:
        yield Verdict("acid-lasts", "good", "acid", f"The acid lasts: {said}.")


def remains_of(equation: Equation, sample: Formula, acid: Acid | None, mol: float | None) -> Iterator[Remain]:
    """What a sample (so many mol of it) leaves in its acid: what formed, and the acid that is left over."""
    extent = None if mol is None else mol / equation.used(sample)
    yield from in_solution(equation, extent, liquid=VESSEL)
    for row in equation.reactants:
        if row.formula.counts == sample.counts or row.formula.text == "H2O" or row.formula.charge:
            continue
        left = None
        if acid is not None and extent is not None:
            left = max(0.0, acid.mol - extent * float(row.coefficient))
        yield dissolved(row.formula, left, VESSEL, None if acid is None else acid.volume.si)
