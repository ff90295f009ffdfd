"""What is said of a trial beyond its numbers."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence

from claykettle.core.chemistry.conditions import GAS_CONSTANT, ZERO_CELSIUS
from claykettle.core.chemistry.equation import others_per_kg
from claykettle.core.judgement.ratios import misfit, said_of
from claykettle.core.method import Bound, Headline, Judgement, Statement, Trial, known
from claykettle.core.methods.gas_over_water.options import GasOverWaterOptions
from claykettle.core.methods.gas_over_water.page import unknown
from claykettle.core.methods.parts.acid import judge_acid
from claykettle.core.methods.parts.excess import judge_yield
from claykettle.core.methods.parts.metals import judge_circular, metal_candidates, metals_by_charge
from claykettle.core.methods.parts.pressure import judge_barometer, judge_place, judge_sea_level
from claykettle.core.methods.parts.tube import inverted, started
from claykettle.core.methods.parts.tube_judged import judge_tube
from claykettle.core.quantity import figures, nominal
from claykettle.core.verdict import Candidate, Verdict


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = [*judge_tube(trial), *judge_barometer(trial), *judge_place(trial), *judge_sea_level(trial)]
    if any(verdict.level == "stop" for verdict in verdicts):
        return Judgement(tuple(verdicts))
    verdicts += judge_yield(trial, "percent_reacted", OVER)
    verdicts += _soluble(trial)
    candidates: tuple[Candidate, ...] = ()
    if unknown(trial.sheet.shape):
        candidates = metal_candidates(trial)
        verdicts += judge_circular(trial)
    return Judgement(tuple(verdicts), candidates, {}, tuple(_statements(trial, candidates)))


def judge_trials(options: GasOverWaterOptions, trials: Sequence[Trial]) -> Iterator[Verdict]:
    """Whether the acid lasts over the trials."""
    others = {} if options.reagent is None else consumes(options)
    return judge_acid(options.acid, others, trials)


HYDROGEN_KG = 1.008e-3
"""The lightest equivalent there is: a mole of hydrogen's own atoms."""


def physical(trial: Trial) -> Iterator[Bound]:
    """A molar volume of half or twice an ideal one, an equivalent mass below hydrogen's."""
    if unknown(trial.sheet.shape):
        because = "no element has an equivalent mass below hydrogen's: more gas than this sample can give."
        yield Bound("equivalent_mass", HYDROGEN_KG, math.inf, because)
        return
    if trial.options.density is not None:
        return  # of a liquid, such as peroxide in water, it is asked how much of the reagent it holds
    ideal = GAS_CONSTANT * ZERO_CELSIUS / trial.options.standard_pressure_pa
    because = (
        f"a mole of gas takes about {figures(1000 * ideal, 3)} L there, and no honest run gives half or twice that: "
        "most "
        "of the sample never made gas, or a line is wrong."
    )
    yield Bound("molar_volume_standard", ideal / 2, 2 * ideal, because)


SOLUBLE = {"CO2", "NH3", "SO2", "HCl", "HBr", "HI", "Cl2", "NO2", "H2S", "N2O", "C2H2"}
"""Gases of which water takes up a tenth of its own volume or more at room temperature (common practice)."""


def _soluble(trial: Trial) -> Iterator[Verdict]:
    """A gas that the water of the bath dissolves while it is collected."""
    gas = trial.options.gas.text
    if gas in SOLUBLE and trial.value("gas_volume") is not None:
        text = (
            f"{gas} dissolves in the water that it is collected over: what is read is less than what was made. Collect "
            "it over a saturated solution or oil, in a syringe, or weigh what is lost."
        )
        yield Verdict("soluble-gas", "watch", "gas_volume", text)


OVER = "air in the tube from the start, air pushed in by the stopper, vapour or column left out, or a purer reagent"


def _statements(trial: Trial, candidates: Sequence[Candidate]) -> Iterator[Statement]:
    found, ideal, real = (
        trial.values.get(name) for name in ("molar_volume_standard", "ideal_molar_volume", "real_molar_volume")
    )
    if found is not None and ideal is not None:
        taken = ideal if real is None else real
        how = said_of(misfit(found, nominal(taken)))
        beside = "" if real is None else f", real {figures(1000 * nominal(real), 4)}"
        yield Statement("The gas takes", f"ideal {figures(1000 * nominal(ideal), 4)}{beside} L/mol; found {how}.")
    yield from _room(trial)
    yield from metals_by_charge(trial, candidates)


def _room(trial: Trial) -> Iterator[Statement]:
    """In a tube filled by several trials: is there room for another like this one?"""
    mark, end = trial.options.tube.mark, trial.typed("volume_end")
    takes = trial.value("gas_volume")
    if mark is None or end is None or takes is None or not started(trial.sheet.shape) or inverted(trial.sheet.shape):
        return
    left = float(mark.reading.si - end.si)
    room = "there is room" if left >= takes else "no room: fill the tube anew"
    text = f"{figures(1e6 * left, 3)} mL are left, one like this takes {figures(1e6 * takes, 3)} mL: {room}."
    yield Statement("Another trial", text)


def consumes(options: GasOverWaterOptions) -> Mapping[str, float]:
    """Mol of each other reactant per kg of the reagent."""
    return others_per_kg(known(options.equation), known(options.reagent))


def key(options: GasOverWaterOptions) -> str:
    """The result that is asked: of an unknown metal its equivalent mass, of a liquid its share of the reagent."""
    if options.reagent is None:
        return "equivalent_mass"
    return "molar_volume_standard" if options.density is None else "percent_purity"


def headline(options: GasOverWaterOptions) -> Headline:
    """How the answer stands on the page."""
    if options.reagent is None:
        return Headline("equivalent mass {}", "gas_amount", "{} H2")
    if options.density is not None:
        return Headline(f"{{}} {options.reagent.text}", "gas_amount", f"{{}} {options.gas.text}")
    place = "0 °C, 1 atm" if options.standard == "0C_1atm" else "0 °C, 1 bar"
    return Headline(f"{{}} at {place}", "percent_reacted", "{} reacted")
