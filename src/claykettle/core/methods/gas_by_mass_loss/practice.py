"""The matter of the simulated bench: a solid that fizzes in acid, and the gas that stays in the liquid for a while."""

from __future__ import annotations

from claykettle.core.matter import Beaker, Part
from claykettle.core.method import Jar, Rehearsal, read_usual
from claykettle.core.methods.gas_by_mass_loss.bench import held
from claykettle.core.methods.gas_by_mass_loss.options import MassLossOptions


def parts(jar: Jar) -> tuple[Part, ...]:
    """One beaker with acid."""
    return (Beaker(held(jar.shape.options) or 0.0),)


def really(options: MassLossOptions, reading: str, factor: float) -> MassLossOptions:
    """The options with the gas that is really left dissolved, where `factor` times as much was written down."""
    amount = options.dissolved.amount if options.dissolved is not None else None
    if options.dissolved is None or amount is None or reading != "dissolved_given":
        return options
    document = options.model_dump(mode="json", exclude_defaults=True)
    document["dissolved"]["amount"] = f"{1000 * amount.si / factor:.9g} mmol"
    return MassLossOptions.model_validate(document)


REHEARSAL = Rehearsal(read_usual(__package__), parts, really=really)
