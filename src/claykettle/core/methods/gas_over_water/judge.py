"""What is said of a trial beyond its numbers."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from claykettle.core.chemistry.equation import others_per_kg
from claykettle.core.judgement.ratios import misfit, said_of
from claykettle.core.method import Headline, Judgement, Statement, Trial, known
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
    candidates: tuple[Candidate, ...] = ()
    if unknown(trial.sheet.shape):
        candidates = metal_candidates(trial)
        verdicts += judge_circular(trial)
    return Judgement(tuple(verdicts), candidates, {}, tuple(_statements(trial, candidates)))


def judge_trials(options: GasOverWaterOptions, trials: Sequence[Trial]) -> Iterator[Verdict]:
    """Whether the acid lasts over the trials."""
    others = {} if options.reagent is None else consumes(options)
    return judge_acid(options.acid, others, trials)


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


def headline(options: GasOverWaterOptions) -> Headline:
    """How the answer stands on the page."""
    if options.reagent is None:
        return Headline("equivalent mass {}", "gas_amount", "{} H2")
    place = "0 °C, 1 atm" if options.standard == "0C_1atm" else "0 °C, 1 bar"
    return Headline(f"{{}} at {place}", "percent_reacted", "{} reacted")
