"""What is said of a trial beyond its numbers."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from claykettle.core.method import Bound, Judgement, MethodOptions, Trial
from claykettle.core.methods.filtration.page import collecting_solid
from claykettle.core.methods.parts import collecting
from claykettle.core.methods.parts.excess import TWICE, judge_short, judge_yield
from claykettle.core.verdict import Verdict

WET = "it is wet, not washed free of what was dissolved, or the paper was not taken off"


def physical(trial: Trial) -> Iterator[Bound]:
    """Twice what was there."""
    for result, what in (("solid_percent", "the mixture held"), ("recovery_percent", "should come")):
        because = f"twice what {what} cannot be on the paper: it is dripping wet, or a line is wrong."
        yield Bound(result, -math.inf, TWICE, because)


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = [*collecting_solid.judge(trial)]
    if not any(verdict.level == "stop" for verdict in verdicts):
        for result in ("solid_percent", "recovery_percent"):
            verdicts += judge_yield(trial, result, WET)
        if any(row.code == "constant-mass" for row in verdicts):
            options: MethodOptions = trial.options
            reaches = None if options.class_tolerance is None else float(options.class_tolerance.si)
            verdicts += judge_short(trial, "recovery_percent", "expected_mass", "the solid", reaches)
    return Judgement(tuple(verdicts))


def seen(trial: Trial, tags: Sequence[str]) -> Iterator[Verdict]:
    """What the wash test showed."""
    return collecting.judge_washing(tags)
