"""What is said of a trial beyond its numbers."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.judgement.weighing_order import STEP
from claykettle.core.method import Bound, Judgement, Statement, Trial
from claykettle.core.methods.parts.by_equation import names, said_limiting
from claykettle.core.methods.parts.excess import judge_good, judge_yield, yield_bound
from claykettle.core.methods.parts.limiting import judge_limiting
from claykettle.core.methods.synthesis.options import SynthesisOptions
from claykettle.core.quantity import exact, figures, grams, nominal, percent
from claykettle.core.verdict import Verdict

SHARP_K = 2.0
"""A pure solid melts within two degrees (common practice)."""


CLOSE_K = 3.0
"""So near to the literature a melting range counts as right: thermometers differ (common practice)."""


SUSPECTS = "it is still wet, not washed free of what it was made in, another solid, or a figure was rounded on the way"


def physical(trial: Trial) -> Iterator[Bound]:
    """Twice what can come."""
    for result in ("crude_percent_yield", "pure_percent_yield"):
        yield yield_bound(result)


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = [*_order(trial)]
    if not any(verdict.level == "stop" for verdict in verdicts):
        verdicts += judge_limiting(trial, names(trial.options))
        for result in ("crude_percent_yield", "pure_percent_yield"):
            verdicts += judge_yield(trial, result, SUSPECTS)
        verdicts += judge_good(trial, "pure_percent_yield", "pure product")
        verdicts += _catalyst(trial)
        verdicts += _addition(trial)
        verdicts += _melting(trial)
    return Judgement(tuple(verdicts), statements=tuple(_statements(trial)), said=said_limiting(trial))


MUCH_CATALYST = 0.2
FASTEST = 10e-6 / 60
"""m³/s: 50 mL want five to seven minutes (common practice)."""
NEARLY_ALL = 0.95


def _catalyst(trial: Trial) -> Iterator[Verdict]:
    """More of a catalyst than does any good."""
    share = trial.value("catalyst_mol_percent")
    if share is not None and share > MUCH_CATALYST:
        text = f"{percent(share, 0)} of catalyst by mol: a little does it, more is no better and has to be washed out."
        yield Verdict("catalyst-large", "watch", "catalyst_mol_percent", text)


def _addition(trial: Trial) -> Iterator[Verdict]:
    """Added too fast, or not all of it: the rest matters even where the colour no longer changes."""
    rate, added = trial.value("drip_rate"), trial.value("addition_volume")
    if rate is not None and rate > FASTEST:
        shown = figures(rate * 60e6, 2)
        text = f"{shown} mL/min is fast: the particles grow large and uneven. 50 mL want five to seven minutes."
        yield Verdict("addition-fast", "watch", "drip_rate", text)
    options: SynthesisOptions = trial.options
    measured = [
        value
        for number in range(1, len(options.taken) + 1)
        if options.reagent(number).is_measured and (value := trial.value(f"reagent_{number}")) is not None
    ]
    if added is not None and measured and added < NEARLY_ALL * max(measured):
        text = (
            f"{figures(1e6 * added, 3)} mL of {figures(1e6 * max(measured), 3)} mL were added: all of it is needed, "
            "even "
            "after the colour has stopped changing."
        )
        yield Verdict("addition-short", "watch", "addition_volume", text)


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
