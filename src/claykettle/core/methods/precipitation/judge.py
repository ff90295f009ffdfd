"""What is said of a trial beyond its numbers."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from claykettle.core.chemistry.colours import colour_of
from claykettle.core.chemistry.expectations import expectations
from claykettle.core.judgement.weighing_order import STEP
from claykettle.core.method import Bound, Judgement, Statement, Trial
from claykettle.core.methods.parts import collecting
from claykettle.core.methods.parts.by_equation import names, said_limiting
from claykettle.core.methods.parts.excess import judge_short, judge_yield, yield_bound
from claykettle.core.methods.parts.limiting import judge_limiting, limiting_number
from claykettle.core.methods.precipitation.options import INDICES, PrecipitationOptions
from claykettle.core.methods.precipitation.page import collecting_solid
from claykettle.core.quantity import figures, grams, nominal, with_uncertainty
from claykettle.core.verdict import Verdict

TWICE = 2.0
"""Standard uncertainties of the band."""


def physical(trial: Trial) -> Iterator[Bound]:
    """Twice what can come."""
    yield yield_bound("percent_yield")


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = [*collecting_solid.judge(trial), *_leftovers(trial)]
    if not any(verdict.level == "stop" for verdict in verdicts):
        verdicts += judge_limiting(trial, names(trial.options))
        verdicts += judge_yield(trial, "percent_yield", _over(trial))
        verdicts += _short(trial, verdicts)
        verdicts += _metal_balance(trial)
        verdicts += _left_of_limiting(trial)
    return Judgement(tuple(verdicts), statements=tuple(_statements(trial)), said=said_limiting(trial))


def _short(trial: Trial, said: Sequence[Verdict]) -> Iterator[Verdict]:
    """How much did not come, once the solid is dry: before that it still loses."""
    options: PrecipitationOptions = trial.options
    if any(row.code == "constant-mass" for row in said):
        reaches = options.class_tolerance
        share = None if reaches is None else float(reaches.si)
        yield from judge_short(trial, "percent_yield", "theoretical_yield", options.made.text, share)


def _leftovers(trial: Trial) -> Iterator[Verdict]:
    """A leftover heavier than what went in."""
    for index in INDICES:
        left, taken = trial.value(f"leftover_{index}"), trial.value(f"reagent_{index}")
        if left is not None and taken is not None and left > taken:
            name = trial.options.reagent(index).formula.text
            text = (
                f"{grams(left)} of {name} left over is more than the {grams(taken)} that went in: solid sticks to "
                "it, it is wet, or a line is wrong."
            )
            yield Verdict(STEP, "stop", f"leftover_{index}", text)


def _left_of_limiting(trial: Trial) -> Iterator[Verdict]:
    """The reactant that was to run out, weighed as left over."""
    number = limiting_number(trial)
    left = None if number is None else trial.value(f"leftover_{number}")
    if number is None or left is None or left <= TWICE * trial.uncertainty(f"leftover_{number}"):
        return
    name = trial.options.reagent(number).formula.text
    text = (
        f"{grams(left)} of {name} was left, though {name} was to run out: the reaction had not ended, product sticks "
        "to "
        "it, or less of the other was there than written down."
    )
    yield Verdict("leftover-contradicts", "watch", f"leftover_{number}", text)


def _over(trial: Trial) -> str:
    """The first suspects of a yield over 100 %, wet before all where the series still falls."""
    series = [row.si for row in trial.series(collecting.SERIES)]
    falling = len(series) > 1 and series[-2] - series[-1] > trial.options.tolerance.si
    metal = len(trial.options.made.atoms) == 1
    other = "oxidised while it dried, or the other metal still in it" if metal else "not washed free of dissolved salt"
    first = "it is wet"
    if falling:
        first = "it is still wet, as the falling weighings show"
    elif len(series) < TWICE:
        first = "it may still be wet, which one weighing cannot show"
    return f"{first}; {other}; another solid came out with it; or figures were rounded on the way"


def _metal_balance(trial: Trial) -> Iterator[Verdict]:
    """What a displaced metal and the metal used for it say of each other: which direction, which suspect."""
    found = trial.values.get("product_per_used")
    index = next((index for index in INDICES if trial.value(f"used_{index}") is not None), 0)
    if found is None or not index:
        return
    spread, options = trial.uncertainty("product_per_used"), trial.options
    metal, solid = options.reagent(index).formula.text, options.made.text
    shown = with_uncertainty(nominal(found), spread)
    ratio = f"{solid} for {metal}: {shown} of what the equation says."
    off = nominal(found) - 1
    if abs(off) <= TWICE * spread:
        yield Verdict("metal-balance", "good", "product_per_used", f"{ratio} The two agree.")
        return
    per, coefficient = options.per_extent(index), options.made_coefficient
    if off < 0:
        gone = (trial.value(f"used_{index}") or 0.0) - (trial.value("product_amount") or 0.0) * per / coefficient
        text = (
            f"{ratio} {grams(gone * options.reagent(index).formula.molar_mass)} more {metal} went than {solid} came: "
            f"bubbles took it (a side reaction), or {solid} was lost in beaker or filter."
        )
    else:
        more = (trial.value("product_amount") or 0.0) - (trial.value(f"used_{index}") or 0.0) * coefficient / per
        text = (
            f"{ratio} {grams(more * options.made.molar_mass)} more {solid} than the {metal} that went: {solid} still "
            f"sticks to the leftover {metal} (rinse, dry, weigh it again), or the {solid} is wet or oxidised."
        )
    yield Verdict("metal-balance", "watch", "product_per_used", text)


def _statements(trial: Trial) -> Iterator[Statement]:
    limiting = trial.values.picks.get("reaction_possible")
    if limiting is None:
        return
    options = trial.options
    name, theory = options.reagent(int(limiting)).formula.text, trial.values.get("theoretical_yield")
    rest = [
        f"{figures(1000 * (trial.value(f'excess_{index}') or 0.0), 3)} mmol {options.reagent(index).formula.text} stay"
        for index in range(1, len(options.taken) + 1)
        if str(index) != limiting and (trial.value(f"excess_{index}") or 0.0) > 0
    ]
    grams = "" if theory is None else figures(1000 * nominal(theory), 4)
    most = f" at most {grams} g {options.made.text} can come." if grams else ""
    yield Statement("Runs out first", f"{name};{most} {', '.join(rest)}{'.' if rest else ''}".strip())
    for row in expectations(options.equation):
        if row.level == "watch":
            yield Statement("In water", row.text)


COLOUR_LEFT, COLOURLESS, METAL_LEFT, NO_METAL = "colour left", "colourless", "metal left", "no metal left"


def seen(trial: Trial, tags: Sequence[str]) -> Iterator[Verdict]:
    """What was predicted to run out, against the colour and the metal that were seen at the end."""
    yield from collecting.judge_washing(tags)
    limiting = trial.values.picks.get("reaction_possible")
    if limiting is None:
        return
    options = trial.options
    products = any(colour_of(row.formula) for row in options.equation.products)
    for index in range(1, len(options.taken) + 1):
        reagent, runs_out = options.reagent(index), str(index) == limiting
        name, colour = reagent.formula.text, colour_of(options.species(index).formula)
        if colour and not products:
            yield from _against(tags, (COLOUR_LEFT, COLOURLESS), runs_out, f"the {colour} of {name}", name)
        if reagent.is_metal:
            yield from _against(tags, (METAL_LEFT, NO_METAL), runs_out, f"{name} as metal", name)


def _against(tags: Sequence[str], pair: tuple[str, str], runs_out: bool, what: str, name: str) -> Iterator[Verdict]:
    """One pair of tags, what is left and what is gone, against whether the reagent was to run out."""
    noted = [tag for tag in tags if tag in pair]
    if not noted:
        return
    left = noted[-1] == pair[0]
    said = "is left" if left else "is gone"
    if left != runs_out:
        text = f"Seen: {what} {said}, as predicted: {name} {'runs out' if runs_out else 'is there in excess'}."
        yield Verdict("limiting-seen", "good", "reaction_possible", text)
    elif left:
        text = (
            f"Seen: {what} {said}, though {name} was to run out: the reaction has not ended (stir, warm, wait), or "
            "less of the other was there than written down."
        )
        yield Verdict("limiting-contradicted", "watch", "reaction_possible", text)
    else:
        text = (
            f"Seen: {what} {said}, though {name} was there in excess: less of it was taken than written down, or a "
            "side reaction used it."
        )
        yield Verdict("limiting-contradicted", "watch", "reaction_possible", text)
