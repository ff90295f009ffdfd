"""What is said of a trial beyond its numbers."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence

from claykettle.core.chemistry.equation import others_per_kg
from claykettle.core.chemistry.gases import henry_of
from claykettle.core.errors import Refusal
from claykettle.core.judgement.ratios import judge_choice, misfit, misfits, said_of
from claykettle.core.judgement.replicates import sample_deviation
from claykettle.core.judgement.weighing_order import STEP
from claykettle.core.method import Bound, Calibration, Formulated, Headline, Judgement, Statement, Trial, known
from claykettle.core.methods.gas_by_mass_loss.options import ROOM_K, MassLossOptions
from claykettle.core.methods.gas_by_mass_loss.page import per_gas
from claykettle.core.methods.parts.acid import judge_acid
from claykettle.core.methods.parts.dissolved import saturation_mol
from claykettle.core.methods.parts.excess import TWICE, judge_yield
from claykettle.core.quantity import (
    COVERAGE,
    RECTANGULAR,
    exact,
    grams,
    nominal,
    standard_uncertainty,
    weighted_mean,
    with_uncertainty,
)
from claykettle.core.verdict import Candidate, Verdict, candidate


def equation_candidates(trial: Trial) -> tuple[Candidate, ...]:
    """Every equation held against sample per gas, the nearest first."""
    options: MassLossOptions = trial.options
    found = trial.values.get("mole_ratio")
    if found is None:
        return ()
    ratios = [per_gas(row, options.gas) for row in options.equations]
    rows = (
        candidate(row.text, ratio, off, expected=ratio)
        for row, ratio, off in zip(options.equations, ratios, misfits(found, ratios), strict=True)
    )
    return tuple(sorted(rows, key=lambda row: abs(row.misfit)))


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = [*_order(trial)]
    if any(verdict.level == "stop" for verdict in verdicts) or trial.values.get("mole_ratio") is None:
        return Judgement(tuple(verdicts))
    words: dict[str, Formulated] = {}
    candidates: tuple[Candidate, ...] = ()
    if len(trial.options.equations) > 1:
        candidates = equation_candidates(trial)
        words["equation"], verdict = judge_choice("mole_ratio", _measured_ratio(trial), candidates)
        verdicts.append(verdict)
    else:
        # one equation says what happens; an impure sample is no reason to doubt it
        text = trial.options.equations[0].text
        words["equation"] = Formulated(text, text)
    verdicts += judge_yield(trial, "percent_purity", OVER)
    verdicts += _over_saturation(trial)
    verdicts += _claim(trial)
    return Judgement(tuple(verdicts), candidates, words, tuple(_statements(trial)))


def _claim(trial: Trial) -> Iterator[Verdict]:
    """A claim that weighs more than the sample itself."""
    claim, sample = trial.options.claim, trial.value("sample_mass")
    if claim is None or claim.mass is None or sample is None:
        return
    whole = trial.options.units_used * claim.mass.si
    if whole > sample:
        text = (
            f"{trial.options.units_used} × {claim.mass.reading.shown} would be {grams(whole)} of active substance in "
            f"{grams(sample)} of sample: the claim, the number of units or the weighing is wrong."
        )
        yield Verdict("claim-above-sample", "stop", "percent_of_claim", text)


def judge_trials(options: MassLossOptions, trials: Sequence[Trial]) -> Iterator[Verdict]:
    """Whether the acid lasts over the trials."""
    return judge_acid(options.acid, consumes(options), trials)


def calibrates(trials: Sequence[Trial]) -> Iterator[Calibration]:
    """What a sample known to be pure (or as pure as its label says) tells: the gas left dissolved, and the equation."""
    found = [trial for trial in trials if trial.values.get("free_amount") is not None]
    if not found:
        return
    options: MassLossOptions = found[0].options
    claimed = accepted_result(options)
    purity = 1.0 if claimed is None else claimed
    ratios = [nominal(trial.values["active_ratio"]) for trial in found]
    held = [
        trial.values["sample_amount"] * purity / ratio - trial.values["free_amount"]
        for trial, ratio in zip(found, ratios, strict=True)
    ]
    mean = weighted_mean(held, [1.0] * len(held))
    sample = f"{options.active.text}, {exact(100 * purity)} %"
    if nominal(mean) > 0:
        # scatter between the trials counts as well as what the instruments explain
        scatter = (sample_deviation([nominal(row) for row in held]) or 0.0) / len(held) ** 0.5
        width = RECTANGULAR * max(standard_uncertainty(mean), scatter)
        amount = with_uncertainty(1000 * nominal(mean), 1000 * width / COVERAGE, "mmol")
        text = f"{amount} {options.gas.text} stay dissolved, from {sample}: for the same acid and volume."
        yield Calibration(text, {"dissolved.amount": amount})
    picked = {trial.values.picks.get("active_ratio") for trial in found}
    if len(options.equations) > 1 and len(picked) == 1:
        equation = options.equations[int(str(picked.pop())) - 1].text
        yield Calibration(f"{sample} reacts as {equation}.", {"equations": equation})


OVER = "spray or drops lost, crumbs on the dish that count as gas, or too much dissolved gas counted in"


def _measured_ratio(trial: Trial) -> str:
    found = with_uncertainty(trial.value("mole_ratio") or 0.0, trial.uncertainty("mole_ratio"))
    return f"{found} mol of sample per mol of {trial.options.gas.text}"


def _order(trial: Trial) -> Iterator[Verdict]:
    """Weighings that cannot be: a dish lighter with its sample, a vessel that gained, more lost than went in."""
    dish_sample, dish = trial.typed("dish_sample"), trial.typed("dish")
    if dish_sample and dish and dish_sample.si <= dish.si:
        text = f"Dish + sample ({dish_sample.shown}) is not heavier than the dish after it ({dish.shown}): check both."
        yield Verdict(STEP, "stop", "dish_sample", text)
    lost, sample = trial.value("gas_mass"), trial.value("sample_mass")
    after = trial.typed("vessel_after")
    if lost is None or sample is None or after is None or sample <= 0:
        return
    if lost < 0:
        text = (
            f"Vessel after ({after.shown}) is heavier than vessel, acid and sample together: check the three weighings."
        )
        yield Verdict(STEP, "stop", "vessel_after", text)
    elif lost > sample:
        grams = exact(round(1000 * lost, 6))
        text = f"{grams} g was lost, more than the whole sample: drops were spilt, or a line is wrong."
        yield Verdict(STEP, "stop", "vessel_after", text)


def _over_saturation(trial: Trial) -> Iterator[Verdict]:
    """More counted as dissolved than the liquid can hold."""
    options: MassLossOptions = trial.options
    if options.dissolved is None or options.dissolved.amount is None or options.dissolved.volume is None:
        return
    volume = options.dissolved.volume.si
    try:
        most = saturation_mol(options.gas.text, volume, options.dissolved.temperature_k)
    except Refusal:
        # the amount was given: what no table knows is not held against it
        return
    counted = options.dissolved.amount.si
    if counted > most:
        text = (
            f"{options.dissolved.amount.reading.shown} of {options.gas.text} is more than "
            f"{options.dissolved.volume.reading.shown} of water holds at one atmosphere "
            f"({exact(float(f'{1000 * most:.2g}'))} mmol): the result comes out too large."
        )
        yield Verdict("over-saturation", "watch", "dissolved_amount", text)


def _statements(trial: Trial) -> Iterator[Statement]:
    options: MassLossOptions = trial.options
    if options.dissolved is None and henry_of(options.gas.text) is not None:
        held = 1e3 * saturation_mol(options.gas.text, 50e-6, ROOM_K)
        text = f"No dissolved gas is counted. 50 mL of water would keep up to {exact(float(f'{held:.2g}'))} mmol."
        yield Statement("Left in the liquid", text)
    of_claim = trial.values.get("percent_of_claim")
    if of_claim is None or options.claim is None:
        return
    claim = options.claim
    if claim.percent is not None:
        said = claim.percent.reading.shown
    else:
        said = f"{known(claim.mass).reading.shown} per {claim.per}"
    found = with_uncertainty(100 * nominal(of_claim), 100 * trial.uncertainty("percent_of_claim"), "%")
    yield Statement("The label claims", f"{said}. Found: {found} of that, {said_of(misfit(of_claim, 1.0))}.")


def accepted_result(options: MassLossOptions) -> float | None:
    """The percentage that the label claims."""
    if options.claim is None or options.claim.percent is None:
        return None
    return options.claim.percent.si


def accepted_word(options: MassLossOptions) -> str:
    """What the percentage is called."""
    return "the claim"


def physical(trial: Trial) -> Iterator[Bound]:
    """Twice as much of the active substance as there was sample."""
    because = "that is far more than there was sample: drops spilt, another equation, or a line is wrong."
    yield Bound("percent_purity", -math.inf, TWICE, because)


def consumes(options: MassLossOptions) -> Mapping[str, float]:
    """Mol of each other reactant per kg of the active substance."""
    return others_per_kg(options.equations[0], options.active)


def headline(options: MassLossOptions) -> Headline:
    """How the answer stands on the page."""
    second = "percent_of_claim" if options.claim is not None else "gas_amount"
    template = "{} of the claim" if options.claim is not None else f"{{}} {options.gas.text}"
    return Headline(f"{{}} {options.active.text}", second, template)
