"""What is said of a trial beyond its numbers."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.judgement.weighing_order import STEP
from claykettle.core.method import Judgement, Statement, Trial
from claykettle.core.methods.parts.by_equation import names, said_limiting
from claykettle.core.methods.parts.excess import judge_yield
from claykettle.core.methods.parts.limiting import judge_limiting
from claykettle.core.methods.synthesis.options import SynthesisOptions
from claykettle.core.quantity import exact, figures, grams, nominal
from claykettle.core.verdict import Verdict

SHARP_K = 2.0
"""A pure solid melts within two degrees (common practice)."""


CLOSE_K = 3.0
"""So near to the literature a melting range counts as right: thermometers differ (common practice)."""


SUSPECTS = "it is still wet, not washed free of what it was made in, another solid, or a figure was rounded on the way"


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = [*_order(trial)]
    if not any(verdict.level == "stop" for verdict in verdicts):
        verdicts += judge_limiting(trial, names(trial.options))
        for result in ("crude_percent_yield", "pure_percent_yield"):
            verdicts += judge_yield(trial, result, SUSPECTS)
        verdicts += _melting(trial)
    return Judgement(tuple(verdicts), statements=tuple(_statements(trial)), said=said_limiting(trial))


def _order(trial: Trial) -> Iterator[Verdict]:
    """More pure than crude, and melting ranges that end before they begin."""
    crude, pure = trial.value("crude"), trial.value("pure")
    if crude is not None and pure is not None and pure > crude:
        text = f"{grams(pure)} pure from {grams(crude)} crude cannot be: it is wet, or a line is wrong."
        yield Verdict(STEP, "stop", "pure", text)
    for stage in ("crude", "pure"):
        start, end = trial.typed(f"{stage}_melting_start"), trial.typed(f"{stage}_melting_end")
        if start is not None and end is not None and end.si < start.si:
            text = (
                f"The {stage} is said to be molten at {end.shown}, before it begins to melt at {start.shown}: exchange "
                "the two."
            )
            yield Verdict(STEP, "stop", f"{stage}_melting_end", text)


def _melting(trial: Trial) -> Iterator[Verdict]:
    """Width and depression of the range, in plain words."""
    width, low = trial.value("melting_width"), trial.value("melting_depression")
    if width is None and low is None:
        return
    shown = [f"{figures(width, 2)} degrees wide"] if width is not None else []
    if low is not None:
        shown.append(f"{figures(abs(low), 2)} degrees {'below' if low >= 0 else 'above'} the literature")
    said = f"The melting range is {' and '.join(shown)}"
    if (width is not None and width > SHARP_K) or (low is not None and low > CLOSE_K):
        text = (
            f"{said}: low or broad, so it is still wet or impure. Dry it well, it may need a week, and melt it again."
        )
        yield Verdict("melting-low", "watch", "melting_width", text)
    elif low is not None and low < -CLOSE_K:
        text = f"{said}: higher than it can be. Look at the thermometer, or it is another substance."
        yield Verdict("melting-high", "watch", "melting_depression", text)
    else:
        yield Verdict("melting-sharp", "good", "melting_width", f"{said}: dry, and as pure as this can tell.")


def _statements(trial: Trial) -> Iterator[Statement]:
    options: SynthesisOptions = trial.options
    limiting = trial.values.picks.get("reaction_possible")
    theory = trial.values.get("theoretical_yield")
    if limiting is None or theory is None:
        return
    number = int(limiting)
    name, needed = options.reagent(number).formula.text, options.per_extent(number)
    text = (
        f"{name}: {figures(1000 * (trial.value(f'amount_{number}') or 0.0), 4)} mmol over its coefficient "
        f"{exact(needed)} is the least; at most {figures(1000 * nominal(theory), 4)} g {options.made.text} can come."
    )
    yield Statement("Runs out first", text)
