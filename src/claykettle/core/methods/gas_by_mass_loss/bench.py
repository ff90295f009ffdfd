"""The forward model: what honest instruments show of a truth, fault by fault."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from claykettle.core.errors import Refusal
from claykettle.core.method import PlainReadings, Setting
from claykettle.core.methods.gas_by_mass_loss.judge import accepted_result
from claykettle.core.methods.gas_by_mass_loss.options import ROOM_K, MassLossOptions
from claykettle.core.methods.gas_by_mass_loss.page import net, page, per_gas
from claykettle.core.methods.parts.dissolved import saturation_mol
from claykettle.core.quantity import Number, nominal
from claykettle.core.sheet import Shape, Values


@dataclass(frozen=True)
class MassLossTruth:
    """What is really there: vessel with acid and sample in kg, the active substance as a fraction of the sample.

    `ratio` is mol of the active substance per mol of gas, by the equation that runs.
    """

    vessel: float
    sample: float
    purity: float
    ratio: float


def truth(shape: Shape, values: Values) -> MassLossTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    names = ("vessel_before", "sample_mass", "percent_purity", "active_ratio")
    return MassLossTruth(*(nominal(values[name]) for name in names))


def expect(shape: Shape, truth: MassLossTruth, expected: float) -> MassLossTruth:
    """The same vessel and sample, as pure as is expected."""
    return replace(truth, purity=expected)


def matched_result(options: MassLossOptions, values: Values) -> float | None:
    """The purity that the claimed mass comes to in this sample."""
    sample = values.get("sample_mass")
    if options.claim is None or options.claim.mass is None or sample is None:
        return None
    return options.units_used * options.claim.mass.si / nominal(sample)


def claimed_result(options: MassLossOptions, values: Values) -> Number | None:
    """The purity that the claimed mass comes to in this sample, with what is not sure of the sample."""
    sample = values.get("sample_mass")
    if options.claim is None or options.claim.mass is None or sample is None or nominal(sample) <= 0:
        return None
    return options.units_used * options.claim.mass.si / sample


def foresee(options: MassLossOptions, sample: float, setting: Setting) -> MassLossTruth:
    """What so much of the sample sets free by the first equation, as pure as its label says or wholly."""
    claimed = accepted_result(options)
    return MassLossTruth(
        setting.vessel_mass.si, sample, 1.0 if claimed is None else claimed, per_gas(options.equations[0], options.gas)
    )


DISH = 0.0052


def play(shape: Shape, truth: MassLossTruth, faults: Mapping[str, float]) -> PlainReadings:
    """The readings in kg that an honest balance shows of this truth.

    Faults: `still_dissolved` (mol of gas left in the liquid and not counted), `early` (fraction of the gas still to
    come when weighed), `crumbs` (kg of sample that never reached the acid).
    """
    options: MassLossOptions = shape.options
    crumbs = faults.get("crumbs", 0.0)
    whole = (truth.sample - crumbs) * truth.purity / options.active.molar_mass / truth.ratio
    lines = page.build(shape).evaluate({})
    dissolved = lines.get("dissolved_amount") or 0.0
    headspace = lines.get("headspace_mass") or 0.0
    free = (whole - nominal(dissolved) - faults.get("still_dissolved", 0.0)) * (1 - faults.get("early", 0.0))
    lost = free * options.gas.molar_mass - nominal(headspace)
    readings: PlainReadings = {
        "vessel_before": truth.vessel,
        "vessel_after": truth.vessel + truth.sample - crumbs - lost,
    }
    if "sample" in shape.split:
        return readings | {"sample_tare": DISH, "sample_gross": DISH + truth.sample}
    if net(shape):
        return readings | {"sample": truth.sample}
    return readings | {"dish_sample": DISH + truth.sample, "dish": DISH}


USUAL_LIQUID = 50e-6
"""m³ of acid that a trial has in its vessel (common practice), where no volume is told."""


def held(options: MassLossOptions) -> float | None:
    """The most mol of the gas that the liquid can keep; None where no table knows."""
    dissolved = options.dissolved
    volume = dissolved.volume.si if dissolved is not None and dissolved.volume is not None else USUAL_LIQUID
    try:
        return saturation_mol(options.gas.text, volume, ROOM_K if dissolved is None else dissolved.temperature_k)
    except Refusal:
        return None


def is_counted(options: MassLossOptions) -> bool:
    return options.dissolved is not None and options.dissolved.amount is not None
