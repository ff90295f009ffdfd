"""What is said of a trial beyond its numbers."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from claykettle.core.judgement.ratios import judge_choice, misfits
from claykettle.core.method import Headline, Judgement, Trial
from claykettle.core.methods.decomposition.options import DecompositionOptions
from claykettle.core.methods.decomposition.page import crucible, residue_fraction
from claykettle.core.methods.parts.crucible import too_far
from claykettle.core.quantity import exact, with_uncertainty
from claykettle.core.verdict import Candidate, Verdict, candidate


def grouped(options: DecompositionOptions) -> Mapping[str, Mapping[str, str]]:
    """`gas_amounts` by gas: the lines that hold them."""
    return {"gas_amounts": {gas: f"gas_amount_{index}" for index, gas in enumerate(options.gases, start=1)}}


def equation_candidates(trial: Trial) -> tuple[Candidate, ...]:
    """Every equation held against the percent left, the nearest first."""
    options: DecompositionOptions = trial.options
    left = trial.values.get("residue_percent")
    if left is None:
        return ()
    fractions = [residue_fraction(row) for row in options.equations]
    rows = (
        candidate(row.text, None, off, expected=100 * x)
        for row, x, off in zip(options.equations, fractions, misfits(left, fractions), strict=True)
    )
    return tuple(sorted(rows, key=lambda row: abs(row.misfit)))


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = crucible.judge(trial)
    candidates = equation_candidates(trial) if not any(verdict.level == "stop" for verdict in verdicts) else ()
    if not candidates:
        return Judgement(tuple(verdicts))
    word, verdict = judge_choice("residue_percent", _measured(trial), candidates)
    verdicts += [verdict, *_too_much_lost(trial), *_unfinished(trial)]
    return Judgement(tuple(verdicts), candidates, {"equation": word})


def _unfinished(trial: Trial) -> Iterator[Verdict]:
    """More left than the nearest equation leaves: that is no yield over 100 %, but a reaction that has not ended."""
    over, spread = trial.value("percent_yield"), trial.uncertainty("percent_yield")
    gone = trial.value("percent_decomposed")
    if over is None or gone is None or over <= 1 + 2 * spread:
        return
    shown = with_uncertainty(100 * gone, 100 * trial.uncertainty("percent_decomposed"), "%")
    text = (
        f"{shown} of what the nearest equation takes off is gone: not fully heated, moisture taken up on cooling, or "
        "another reaction. Heat once more and weigh again."
    )
    yield Verdict("unfinished", "watch", "percent_decomposed", text)


def _too_much_lost(trial: Trial) -> Iterator[Verdict]:
    """Less left than under the equation that leaves least: dust carried off, or another reaction."""
    options: DecompositionOptions = trial.options
    left = trial.value("residue_percent")
    least = min(options.equations, key=residue_fraction)
    if left is None or left >= residue_fraction(least) - too_far(trial, "residue_percent"):
        return
    leaves_least = exact(round(100 * residue_fraction(least), 6))
    text = (
        f"Less is left ({_measured(trial)}) than {least.text} leaves ({leaves_least} %): "
        "dust carried off, spatter, or another reaction. Stop heating and look."
    )
    yield Verdict("loss-too-large", "stop", "residue_percent", text)


def _measured(trial: Trial) -> str:
    percent = 100 * (trial.value("residue_percent") or 0.0)
    return f"{with_uncertainty(percent, 100 * trial.uncertainty('residue_percent'))} % left"


def headline(options: DecompositionOptions) -> Headline:
    """How the answer stands on the page."""
    return Headline("{} left", "percent_decomposed", "{} decomposed")
