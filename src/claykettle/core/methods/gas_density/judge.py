"""What is said of a trial beyond its numbers."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.chemistry.gases import all_gases
from claykettle.core.judgement.constancy import Process, judge_constancy
from claykettle.core.judgement.ratios import judge_formula, misfit
from claykettle.core.judgement.weighing_order import STEP
from claykettle.core.method import Bound, Formulated, Headline, Judgement, Statement, Trial
from claykettle.core.methods.gas_density.options import GasDensityOptions
from claykettle.core.methods.gas_density.page import no_humidity
from claykettle.core.methods.parts.pressure import judge_barometer, judge_place, judge_sea_level
from claykettle.core.quantity import with_uncertainty
from claykettle.core.verdict import Candidate, Verdict, candidate

FILLING = Process(
    "One weighing after filling cannot show that the flask is full. Lead gas in once more and weigh again.",
    "gas was lost, or the flask is colder or drier than before. Is the cover whole, the flask upright? Filling {next} "
    "decides.",
    "It is still filling: lead gas in five more minutes, with the generator fizzing, and weigh again.",
    rises=True,
    round="filling",
)


def gas_candidates(trial: Trial) -> tuple[Candidate, ...]:
    """The gases of the bench held against the molar mass, the nearest first; a known one among them."""
    found = trial.values.get("molar_mass")
    if found is None:
        return ()
    formulas = {gas.formula: parse_formula(gas.formula) for gas in all_gases()}
    known = trial.options.gas
    if known is not None:
        formulas.setdefault(known.text, known)
    rows = (
        candidate(text, None, misfit(found, formula.molar_mass), expected=1000 * formula.molar_mass)
        for text, formula in formulas.items()
    )
    return tuple(sorted(rows, key=lambda row: abs(row.misfit)))


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = [*_order(trial), *judge_barometer(trial), *judge_place(trial), *judge_sea_level(trial)]
    series = trial.series("flask_gas")
    if series:
        verdicts.append(judge_constancy("flask_gas", series, trial.options, FILLING))
    if any(verdict.level == "stop" for verdict in verdicts):
        return Judgement(tuple(verdicts))
    candidates = gas_candidates(trial)
    words: dict[str, Formulated] = {}
    if candidates:
        measured = (
            f"{with_uncertainty(1000 * (trial.value('molar_mass') or 0), 1000 * trial.uncertainty('molar_mass'))} g/mol"
        )
        words["formula"], verdict = judge_formula(
            "molar_mass", measured, candidates, FINER, trial.options.gas.text if trial.options.gas is not None else ""
        )
        verdicts.append(verdict)
    return Judgement(tuple(verdicts), candidates, words, tuple(_statements(trial)))


LIGHTEST_KG, AIR_KG, HEAVIEST_KG = 2.016e-3, 28.96e-3, 0.5
"""Molar masses of hydrogen, of air, and above that of any gas at room temperature."""


def physical(trial: Trial) -> Iterator[Bound]:
    """Lighter than hydrogen; of a known gas, far outside what air and that gas mixed can weigh."""
    gas = trial.options.gas
    low = LIGHTEST_KG if gas is None else max(LIGHTEST_KG / 1.1, min(AIR_KG, gas.molar_mass) / 2)
    high = HEAVIEST_KG if gas is None else 2 * max(AIR_KG, gas.molar_mass)
    beside = "" if gas is None else f", nor any mixture of {gas.text} with air"
    yield Bound("molar_mass", low, high, f"no gas weighs that{beside}: the air left out, or a line is wrong.")


FINER = "A larger flask or a finer balance"


def _measured(trial: Trial) -> str:
    value, spread = trial.value("molar_mass") or 0.0, trial.uncertainty("molar_mass")
    return f"M = {with_uncertainty(1000 * value, 1000 * spread, 'g/mol')}"


def _order(trial: Trial) -> Iterator[Verdict]:
    """A flask full of water lighter than the dry one."""
    air, water = trial.typed("flask_air"), trial.typed("flask_water")
    if air and water and water.si <= air.si:
        text = f"The flask with water ({water.shown}) is not heavier than with air ({air.shown}): check both."
        yield Verdict(STEP, "stop", "flask_water", text)


def _statements(trial: Trial) -> Iterator[Statement]:
    if no_humidity(trial.sheet.shape) and trial.values.get("air_mass") is not None:
        yield Statement("Humidity", "None was read: 50 % is taken, give or take 25 %; it matters little.")


def headline(options: GasDensityOptions) -> Headline:
    """How the answer stands on the page."""
    return Headline("M = {}", "gas_density", "{}")
