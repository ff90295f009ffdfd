"""The verdict on the key result: held against what was accepted before anything was weighed, and what can be at all.

The band is the instruments' (k = 2) and nothing widens it; what a class usually reaches is a second sentence beside it.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator

from claykettle.core.method import Method, MethodOptions, Trial
from claykettle.core.quantity import exact, figures, nominal, standard_uncertainty, with_uncertainty
from claykettle.core.verdict import Verdict

DUST = 1e-9
"""A gap of just what a class reaches lies inside it, whatever the computer makes of the last digit."""
UNSETTLED = {"provisional", "still-losing", "still-gaining", "missing-reading"}
"""While one of these stands the result may still move: it is neither praised nor accused."""


def judge_agreement(trial: Trial, method: Method, said: Collection[Verdict]) -> Iterator[Verdict]:
    """`unphysical`, else `agrees`, `within-class` or `off-accepted` where something was accepted and the result "
    "stands."""
    beyond = list(_unphysical(trial, method))
    yield from beyond
    if beyond or any(row.level == "stop" or row.code in UNSETTLED for row in said):
        return
    key = method.key_on(trial.sheet)
    found, accepted = trial.values.get(key), method.judging.held_against(trial.options, trial.values)
    if found is None or accepted is None or nominal(accepted) == 0:
        return
    # what both hang on, such as the sample of a claim in grams, counts once
    spread = trial.uncertainty(key) if isinstance(accepted, float) else standard_uncertainty(found - accepted)
    yield _held(trial, key, spread, nominal(accepted), method.judging.accepted_word(trial.options))


def _held(trial: Trial, key: str, spread: float, accepted: float, word: str) -> Verdict:
    line = trial.sheet.by_name[key]
    unit = line.shown_unit
    value = (trial.value(key) or 0.0) - accepted
    shown = with_uncertainty(
        unit.from_si(trial.value(key) or 0.0), unit.step_from_si(trial.uncertainty(key)), unit.shown
    )
    mark = f"{exact(unit.from_si(accepted))} {unit.shown}".rstrip()
    name = f"{word}, {mark}" if word else mark
    if abs(value) <= 2 * spread:
        return Verdict("agrees", "good", key, f"{shown} agrees with what was accepted: {name}.")
    side = "above" if value > 0 else "below"
    off = f"{figures(100 * abs(value / accepted), 2)} %"
    options: MethodOptions = trial.options
    class_reaches = options.class_tolerance
    if class_reaches is not None and abs(value) <= (1 + DUST) * class_reaches.si * abs(accepted):
        text = (
            f"{shown} lies {off} {side} what was accepted, {name}: outside the band of the instruments, inside the "
            f"{class_reaches.reading.shown} that a class usually reaches."
        )
        return Verdict("within-class", "good", key, text)
    beside = "" if class_reaches is None else f", and outside the {class_reaches.reading.shown} of the class"
    text = f"{shown} lies {off} {side} what was accepted, {name}: outside the band of the instruments{beside}."
    return Verdict("off-accepted", "watch", key, text)


def _unphysical(trial: Trial, method: Method) -> Iterator[Verdict]:
    """Results that no honest run of the method gives."""
    for bound in method.judging.physical(trial):
        value = trial.value(bound.name)
        if value is None or (bound.low <= value <= bound.high):
            continue
        unit = trial.sheet.by_name[bound.name].shown_unit
        shown = f"{figures(unit.from_si(value), 3)} {unit.shown}".rstrip()
        yield Verdict(
            "unphysical", "stop", bound.name, f"{shown}: {bound.because} Look at the readings and their units."
        )
        return
