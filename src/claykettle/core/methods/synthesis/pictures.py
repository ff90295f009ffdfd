"""What is drawn beside the mass stair."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.method import Trial
from claykettle.core.methods.synthesis.options import SynthesisOptions
from claykettle.core.pictures.reagent_table import ReagentColumn, ReagentTable, YieldStep
from claykettle.core.quantity import exact, figures, grams, percent


def tabled(trial: Trial) -> ReagentTable:
    """The reagent table as it stands, and the yield as far as it has come."""
    numbers = range(1, len(trial.options.taken) + 1)
    return ReagentTable(tuple(_column(trial, n) for n in numbers), tuple(_path(trial)))


def _column(trial: Trial, number: int) -> ReagentColumn:
    options: SynthesisOptions = trial.options
    reagent, typed = options.reagent(number), trial.typed(f"reagent_{number}")
    is_limiting = trial.values.picks.get("reaction_possible") == str(number)
    amount = trial.value(f"amount_{number}")
    why = ""
    if is_limiting and amount is not None and len(options.held) > 1:
        why = f"{figures(1000 * amount, 3)} mmol over {exact(options.per_extent(number))} is the least"
    return ReagentColumn(
        reagent.formula.text,
        reagent.name,
        reagent.role,
        f"{reagent.formula.molar_mass_g:.2f}",
        reagent.planned,
        typed.shown if typed is not None else _weighed(trial, number),
        "" if amount is None else f"{figures(1000 * amount, 4)} mmol",
        _ratio(trial.value(f"equivalents_{number}")),
        _ratio(trial.value(f"supply_{number}")),
        is_limiting,
        why,
    )


def _weighed(trial: Trial, number: int) -> str:
    """A reagent that was weighed with its boat."""
    mass = trial.value(f"reagent_{number}")
    return "" if mass is None else grams(mass)


def _ratio(value: float | None) -> str:
    return "" if value is None else figures(value, 3)


def _path(trial: Trial) -> Iterator[YieldStep]:
    """Theoretical, crude, pure: each loss named."""
    theory, before = trial.value("theoretical_yield"), None
    if theory is None:
        return
    lost = {"dry crude": "not formed, or lost in work-up", "dry pure": "kept by the mother liquor, or lost"}
    for label, name in (("can come", "theoretical_yield"), ("dry crude", "crude"), ("dry pure", "pure")):
        mass = trial.value(name)
        if mass is None:
            return
        gone = "" if before is None or mass >= before else f"{figures(1000 * (before - mass), 3)} g {lost[label]}"
        text, share = f"{figures(1000 * mass, 4)} g", mass / theory
        said = text if before is None else f"{text}, {percent(share)}"
        yield YieldStep(label, 1000 * mass, text, 100 * share, gone, said)
        before = mass
