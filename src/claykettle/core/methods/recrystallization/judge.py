"""What is said of a trial beyond its numbers."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.chemistry.solubility import CELSIUS
from claykettle.core.judgement.weighing_order import STEP
from claykettle.core.method import Headline, Judgement, Statement, Trial
from claykettle.core.methods.parts.excess import judge_yield
from claykettle.core.methods.recrystallization.options import LEAST_POINTS, RecrystallizationOptions
from claykettle.core.quantity import Reading, exact, figures
from claykettle.core.verdict import Verdict

SUSPECTS = "the crystals are still wet, it was colder or there was less solvent than written down, or a line is wrong"


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = [*_temperatures(trial), *_more_than_crude(trial)]
    if not any(verdict.level == "stop" for verdict in verdicts):
        verdicts += judge_yield(trial, "recovery_of_possible", SUSPECTS)
        verdicts += _undissolved(trial)
    return Judgement(tuple(verdicts), statements=tuple(_statements(trial)))


def _temperatures(trial: Trial) -> Iterator[Verdict]:
    """A temperature beyond the curve, or the two exchanged."""
    curve = trial.options.curve
    typed: dict[str, Reading] = {}
    for name in ("hot_temperature", "cold_temperature"):
        reading = trial.typed(name)
        if reading is None:
            continue
        typed[name] = reading
        if not curve.covers(float(reading.si)):
            low, high = (exact(round(value - CELSIUS, 2)) for value in (curve.temperatures[0], curve.temperatures[-1]))
            ends = f"{low} to {high} °C"
            text = f"{reading.shown} lies beyond the curve of {curve.name}, {ends}: nothing is read off it there."
            yield Verdict("off-scale", "watch", name, text)
    if len(typed) == LEAST_POINTS and typed["hot_temperature"].si <= typed["cold_temperature"].si:
        text = (
            f"Hot ({typed['hot_temperature'].shown}) is not above cold ({typed['cold_temperature'].shown}): one of the "
            "two is on the wrong line."
        )
        yield Verdict(STEP, "stop", "hot_temperature", text)


def _more_than_crude(trial: Trial) -> Iterator[Verdict]:
    crude, crystals = trial.value("crude"), trial.value("crystals")
    if crude is None or crystals is None or crystals <= crude:
        return
    text = (
        f"{_grams(crystals)} of crystals from {_grams(crude)} of crude cannot be: they are wet, or a line is wrong. "
        "Dry and weigh again."
    )
    yield Verdict(STEP, "stop", "crystals", text)


def _undissolved(trial: Trial) -> Iterator[Verdict]:
    """Less solvent than the crude needs hot."""
    crude, held = trial.value("crude"), trial.value("dissolved_hot")
    if crude is None or held is None or held >= crude or trial.values.picks.get("dissolved_hot") == "all":
        return
    text = (
        f"At {trial.options.curve.name}'s hot temperature so much solvent holds {_grams(held)} of the {_grams(crude)}: "
        "the rest does not dissolve. Add solvent in small portions until it just does."
    )
    yield Verdict("undissolved", "watch", "dissolved_hot", text)


def _statements(trial: Trial) -> Iterator[Statement]:
    least, used = trial.value("least_solvent"), trial.value("solvent_mass")
    possible = trial.value("greatest_recovery_percent")
    if least is None:
        return
    beside = ""
    if used is not None and least > 0:
        beside = f" {_grams(used)} were taken, {figures(used / least, 2)} times that."
    yield Statement("Least solvent", f"{_grams(least)} would just dissolve it hot.{beside}")
    if possible is not None:
        text = f"{figures(100 * possible, 3)} % at most; the rest stays in the cold solvent."
        yield Statement("Can come back", text)


def _grams(mass: float) -> str:
    return f"{figures(1000 * mass, 3)} g"


def headline(options: RecrystallizationOptions) -> Headline:
    return Headline("{} recovered", "recovery_of_possible", "{} of what can come")
