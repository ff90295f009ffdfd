"""A gas set free in an open vessel, found by the loss of mass; backwards to the active substance and the label's claim.

Weigh the vessel with its acid and the sample by itself, tip the sample in, swirl until it is quiet, weigh the vessel
again. What stayed dissolved in the liquid is counted in as a given figure, by Henry's law, or not at all.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import product
from typing import Annotated, Any

from pydantic import Field, model_validator

from claykettle.core.chemistry.conditions import (
    ATMOSPHERE,
    air_density,
)
from claykettle.core.chemistry.equation import Equation, others_per_kg
from claykettle.core.chemistry.formula import Formula
from claykettle.core.chemistry.gases import henry_of, known_gas
from claykettle.core.judgement.ratios import judge_choice, misfit, misfits, said_of
from claykettle.core.judgement.replicates import sample_deviation
from claykettle.core.judgement.weighing_order import STEP
from claykettle.core.method import (
    FIRST,
    Calibration,
    Cause,
    EquationField,
    Foresight,
    FormulaField,
    Formulated,
    GivenAmount,
    GivenMass,
    GivenRatio,
    GivenTemperature,
    GivenVolume,
    Headline,
    Judgement,
    Method,
    Options,
    ReadingScaled,
    ReadingShifted,
    Remain,
    Setting,
    Statement,
    Trial,
    TruthChanged,
    field_error,
    known,
    refuse_other_samples,
)
from claykettle.core.methods.parts.acid import Acid, judge_acid, remains_of
from claykettle.core.methods.parts.dissolved import saturation_mol
from claykettle.core.methods.parts.excess import judge_yield
from claykettle.core.methods.parts.room import or_nan
from claykettle.core.quantity import (
    COVERAGE,
    RECTANGULAR,
    Number,
    exact,
    nominal,
    standard_uncertainty,
    weighted_mean,
    with_uncertainty,
)
from claykettle.core.sheet import Page, Pick, Shape, Values
from claykettle.core.verdict import Candidate, Verdict, candidate

Equations = Annotated[tuple[EquationField, ...], Field(min_length=1, max_length=8)]
ROOM_K = 293.15
"""Where no temperature is given, 20 °C is taken."""
AIR_HUMIDITY = 0.5
"""Of the air that the headspace's gas took the place of."""


class Dissolved(Options):
    """Gas left dissolved: an amount, or a volume of liquid with its temperature for Henry's law.

    With both, the amount counts and the volume tells how much there can be.
    """

    amount: GivenAmount | None = Field(
        default=None,
        title="Gas left dissolved",
        description="An amount, such as 1.5 mmol; or leave it empty and give the liquid.",
    )
    volume: GivenVolume | None = Field(
        default=None,
        title="Volume of the liquid",
        description="For Henry's law, and to see whether so much can dissolve.",
    )
    temperature: GivenTemperature | None = Field(
        default=None, title="Temperature of the liquid", description="Such as 22 degC; 20 °C where none is given."
    )

    @model_validator(mode="after")
    def _says_how_much(self) -> Dissolved:
        if self.amount is None and self.volume is None:
            text = "Give the amount of gas left dissolved, or the volume of the liquid."
            raise field_error("missing-field", text, "amount")
        return self

    @property
    def temperature_k(self) -> float:
        """The liquid's temperature in K."""
        return ROOM_K if self.temperature is None else self.temperature.si


class Claim(Options):
    """What the label says: a mass of active substance per unit, or a percentage."""

    mass: GivenMass | None = Field(
        default=None, title="Claimed mass per unit", description="Such as 0.50 g in each tablet."
    )
    per: Annotated[str, Field(max_length=40)] = Field(
        default="unit", title="Unit of the claim", description="Such as tablet.", json_schema_extra={"first": False}
    )
    percent: GivenRatio | None = Field(default=None, title="Claimed percentage", description="Such as 97 %.")

    @model_validator(mode="after")
    def _says_one_thing(self) -> Claim:
        if (self.mass is None) == (self.percent is None):
            text = "A claim is either a mass per unit, or a percentage."
            raise field_error("claim", text, "mass")
        return self


class MassLossOptions(Options):
    """What is known beforehand. The first reactant of every equation is the active substance."""

    equations: Equations = Field(
        title="Equations to tell apart",
        description="The active substance first: CaCO3 + 2 HCl -> CaCl2 + H2O + CO2; separate several by ;",
        json_schema_extra=FIRST,
    )
    gas: FormulaField = Field(
        default="CO2", title="Gas", description="What goes off.", validate_default=True, json_schema_extra=FIRST
    )
    claim: Claim | None = Field(default=None, json_schema_extra=FIRST)
    units_used: Annotated[int, Field(ge=1, le=1000)] = Field(
        default=1, title="Units used", description="How many tablets or portions the sample is."
    )
    dissolved: Dissolved | None = Field(default=None, json_schema_extra=FIRST)
    acid: Acid | None = Field(default=None)
    headspace_volume: GivenVolume | None = Field(
        default=None,
        title="Headspace that keeps its gas",
        description="Gas that stays in the vessel in place of air; empty where it is swept out.",
    )

    @model_validator(mode="after")
    def _hangs_together(self) -> MassLossOptions:
        refuse_other_samples(self.equations)
        for number, equation in enumerate(self.equations, start=1):
            if not equation.formed(self.gas):
                text = f"Equation {number} forms no {self.gas.text}; name the gas that goes off, or mend the equation."
                raise field_error("no-such-gas", text, "equations")
        if self.headspace_volume is not None and known_gas(self.gas.text) is None:
            text = f"How a headspace of {self.gas.text} weighs is not known here; leave it empty."
            raise field_error("unknown-gas", text, "headspace_volume")
        if self.by_henry and henry_of(self.gas.text) is None:
            text = f"How much {self.gas.text} water dissolves is not in the table; give the amount instead."
            raise field_error("unknown-gas", text, "dissolved.amount")
        return self

    @property
    def active(self) -> Formula:
        """The active substance."""
        return self.equations[0].reactants[0].formula

    @property
    def by_henry(self) -> bool:
        """Whether Henry's law tells how much stays dissolved."""
        return self.dissolved is not None and self.dissolved.amount is None


def per_gas(equation: Equation, gas: Formula) -> float:
    """Mol of the active substance per mol of the gas."""
    return float(equation.reactants[0].coefficient) / equation.formed(gas)


def _net(shape: Shape) -> bool:
    return "sample" in shape.net


def _dish(shape: Shape) -> bool:
    return not _net(shape)


def _given_amount(shape: Shape) -> bool:
    return shape.options.dissolved is not None and shape.options.dissolved.amount is not None


def _by_henry(shape: Shape) -> bool:
    return bool(shape.options.by_henry)


def _henry_warm(shape: Shape) -> bool:
    return _by_henry(shape) and shape.options.dissolved.temperature is not None


def _henry_room(shape: Shape) -> bool:
    return _by_henry(shape) and shape.options.dissolved.temperature is None


def _counts_dissolved(shape: Shape) -> bool:
    return shape.options.dissolved is not None


def _no_dissolved(shape: Shape) -> bool:
    return not _counts_dissolved(shape)


def _headspace(shape: Shape) -> bool:
    return shape.options.headspace_volume is not None


def _swept(shape: Shape) -> bool:
    return not _headspace(shape)


def _claims_mass(shape: Shape) -> bool:
    return shape.options.claim is not None and shape.options.claim.mass is not None


def _claims_percent(shape: Shape) -> bool:
    return shape.options.claim is not None and shape.options.claim.percent is not None


page = Page("gas_by_mass_loss")
page.reading("vessel_before", "vessel + acid", "g", "balance", pan="empty")
page.reading("sample", "sample", "g", "balance", net=True, pan="added", change="sample")
page.reading("dish_sample", "dish + sample", "g", "balance", instead_of="sample", change="sample")
page.reading(
    "dish",
    "dish after tipping",
    "g",
    "balance",
    instead_of="sample",
    pan="added",
    change="sample",
    tipped_from="dish_sample",
)
page.reading("vessel_after", "vessel after", "g", "balance", pan="spent", change="gas")
page.given("dissolved_given", "gas left dissolved", "mmol", lambda o: known(o.dissolved.amount), _given_amount)
page.given("liquid_volume", "volume of the liquid", "mL", lambda o: known(o.dissolved.volume), _by_henry)
page.given(
    "liquid_temperature", "temperature of the liquid", "degC", lambda o: known(o.dissolved.temperature), _henry_warm
)
page.given("headspace_volume", "headspace", "mL", lambda o: known(o.headspace_volume), _headspace)
page.given("claimed_mass", "claimed mass per unit", "g", lambda o: known(o.claim.mass), _claims_mass)
page.given("claimed_percent", "claimed percentage", "%", lambda o: known(o.claim.percent), _claims_percent)


@page.line("mass of sample", "g", "(sample)", when=_net, positive=True, name="sample_mass")
def sample_alone(sample: Number) -> Number:
    return sample


@page.line(
    "mass of sample", "g", "(dish + sample) − (dish after tipping)", when=_dish, positive=True, name="sample_mass"
)
def sample_tipped(dish_sample: Number, dish: Number) -> Number:
    return dish_sample - dish


@page.line("mass of gas lost", "g", "(vessel + acid) + (mass of sample) − (vessel after)", positive=True)
def gas_mass(vessel_before: Number, sample_mass: Number, vessel_after: Number) -> Number:
    return vessel_before + sample_mass - vessel_after


@page.table(
    "mass of gas in place of air",
    "g",
    "headspace × (density of the gas − density of air), at 101.325 kPa",
    when=_headspace,
)
def headspace_mass(headspace_volume: Number, options: MassLossOptions) -> Number:
    temperature = ROOM_K if options.dissolved is None else options.dissolved.temperature_k
    gas = known(known_gas(options.gas.text))  # a headspace is refused for a gas that the table does not hold
    room = or_nan(gas.molar_volume, temperature, ATMOSPHERE)
    air = or_nan(air_density, temperature, ATMOSPHERE, AIR_HUMIDITY)
    return headspace_volume * (options.gas.molar_mass / room - air)


@page.line(
    "mass of gas set free", "g", "(mass of gas lost) + (mass of gas in place of air)", when=_headspace, name="free_mass"
)
def free_with_headspace(gas_mass: Number, headspace_mass: Number) -> Number:
    return gas_mass + headspace_mass


@page.line("mass of gas set free", "g", "(mass of gas lost)", when=_swept, name="free_mass")
def free_swept_out(gas_mass: Number) -> Number:
    return gas_mass


@page.line("molar mass of the gas", "g/mol", lambda options: options.gas.molar_mass_rule)
def gas_molar_mass(options: MassLossOptions) -> Number:
    return options.gas.molar_mass


@page.line("amount of gas set free", "mol", "(mass of gas set free) / (molar mass of the gas)")
def free_amount(free_mass: Number, gas_molar_mass: Number) -> Number:
    return free_mass / gas_molar_mass


@page.line("amount left dissolved", "mmol", "(gas left dissolved)", when=_given_amount, name="dissolved_amount")
def dissolved_as_given(dissolved_given: Number) -> Number:
    return dissolved_given


HENRY = "Henry's law: constant × (101.325 kPa − vapour pressure of water) × (volume of the liquid)"


@page.table("amount left dissolved", "mmol", HENRY, when=_henry_warm, name="dissolved_amount")
def dissolved_warm(liquid_volume: Number, liquid_temperature: Number, options: MassLossOptions) -> Number:
    return saturation_mol(options.gas.text, liquid_volume, liquid_temperature)


@page.table("amount left dissolved", "mmol", f"{HENRY}, at 20 °C", when=_henry_room, name="dissolved_amount")
def dissolved_room(liquid_volume: Number, options: MassLossOptions) -> Number:
    return saturation_mol(options.gas.text, liquid_volume, ROOM_K)


@page.line(
    "amount of gas",
    "mol",
    "(amount of gas set free) + (amount left dissolved)",
    when=_counts_dissolved,
    name="gas_amount",
)
def gas_with_dissolved(free_amount: Number, dissolved_amount: Number) -> Number:
    return free_amount + dissolved_amount


@page.line("amount of gas", "mol", "(amount of gas set free)", when=_no_dissolved, name="gas_amount")
def gas_without_dissolved(free_amount: Number) -> Number:
    return free_amount


@page.line("molar mass of the active substance", "g/mol", lambda options: options.active.molar_mass_rule)
def active_molar_mass(options: MassLossOptions) -> Number:
    return options.active.molar_mass


@page.line("amount of sample, taken as pure", "mol", "(mass of sample) / (molar mass of the active substance)")
def sample_amount(sample_mass: Number, active_molar_mass: Number) -> Number:
    return sample_mass / active_molar_mass


@page.line("sample per gas", "1", "(amount of sample, taken as pure) / (amount of gas)")
def mole_ratio(sample_amount: Number, gas_amount: Number) -> Number:
    return sample_amount / gas_amount


def nearest(ratio: Any, options: MassLossOptions) -> int:
    """Index of the equation whose ratio lies nearest to the one found."""
    found = nominal(ratio)
    return min(range(len(options.equations)), key=lambda i: abs(per_gas(options.equations[i], options.gas) - found))


def _ratio_rules(options: MassLossOptions) -> dict[str, str]:
    return {str(i): exact(per_gas(row, options.gas)) for i, row in enumerate(options.equations, start=1)}


@page.choice("active substance per gas", "1", _ratio_rules)
def active_ratio(mole_ratio: Number, options: MassLossOptions) -> Pick:
    index = nearest(mole_ratio, options)
    return Pick(str(index + 1), per_gas(options.equations[index], options.gas))


@page.line(
    "mass of active substance",
    "g",
    "(amount of gas) × (active substance per gas) × (molar mass of the active substance)",
)
def active_mass(gas_amount: Number, active_ratio: Number, active_molar_mass: Number) -> Number:
    return gas_amount * active_ratio * active_molar_mass


@page.line("percent purity", "%", "(mass of active substance) / (mass of sample) × 100 %")
def percent_purity(active_mass: Number, sample_mass: Number) -> Number:
    return active_mass / sample_mass


def _per_unit(options: MassLossOptions) -> str:
    return f"(mass of active substance) / ({options.units_used} × (claimed mass per unit)) × 100 %"


@page.line("percent of the claim", "%", _per_unit, when=_claims_mass, name="percent_of_claim")
def of_claimed_mass(active_mass: Number, claimed_mass: Number, options: MassLossOptions) -> Number:
    return active_mass / (options.units_used * claimed_mass)


@page.line(
    "percent of the claim",
    "%",
    "(percent purity) / (claimed percentage) × 100 %",
    when=_claims_percent,
    name="percent_of_claim",
)
def of_claimed_percent(percent_purity: Number, claimed_percent: Number) -> Number:
    return percent_purity / claimed_percent


RESULTS = (
    "sample_mass",
    "gas_mass",
    "dissolved_amount",
    "gas_amount",
    "mole_ratio",
    "active_mass",
    "percent_purity",
    "percent_of_claim",
)


# Judgement


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
    return Judgement(tuple(verdicts), candidates, words, tuple(_statements(trial)))


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
    most = saturation_mol(options.gas.text, volume, options.dissolved.temperature_k)
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


# The bench model and the causes of error


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


def accepted_result(options: MassLossOptions) -> float | None:
    """The percentage that the label claims."""
    if options.claim is None or options.claim.percent is None:
        return None
    return options.claim.percent.si


def matched_result(options: MassLossOptions, values: Values) -> float | None:
    """The purity that the claimed mass comes to in this sample."""
    sample = values.get("sample_mass")
    if options.claim is None or options.claim.mass is None or sample is None:
        return None
    return options.units_used * options.claim.mass.si / nominal(sample)


def foresee(options: MassLossOptions, sample: float, setting: Setting) -> MassLossTruth:
    """What so much of the sample sets free by the first equation, as pure as its label says or wholly."""
    claimed = accepted_result(options)
    return MassLossTruth(
        setting.vessel_mass.si, sample, 1.0 if claimed is None else claimed, per_gas(options.equations[0], options.gas)
    )


def consumes(options: MassLossOptions) -> Mapping[str, float]:
    """Mol of each other reactant per kg of the active substance."""
    return others_per_kg(options.equations[0], options.active)


DISH = 0.0052


def bench(shape: Shape, truth: MassLossTruth, faults: Mapping[str, float]) -> dict[str, Any]:
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
    readings: dict[str, Any] = {
        "vessel_before": truth.vessel,
        "vessel_after": truth.vessel + truth.sample - crumbs - lost,
    }
    if "sample" in shape.split:
        return readings | {"sample_tare": DISH, "sample_gross": DISH + truth.sample}
    if _net(shape):
        return readings | {"sample": truth.sample}
    return readings | {"dish_sample": DISH + truth.sample, "dish": DISH}


def _is_counted(options: MassLossOptions) -> bool:
    return options.dissolved is not None and options.dissolved.amount is not None


CAUSES = (
    Cause(
        "still-dissolved",
        "gas left dissolved and not counted",
        TruthChanged("still_dissolved"),
        "mmol",
        5e-4,
        2e-3,
        "50 mL of water holds less than 2 mmol of carbon dioxide",
    ),
    Cause(
        "weighed-early",
        "weighed before it was quiet",
        TruthChanged("early"),
        "%",
        0.02,
        0.3,
        "a third of the gas still to come is seen and heard",
    ),
    Cause(
        "spray",
        "spray or drops lost",
        ReadingShifted("vessel_after", -1.0),
        "g",
        1e-5,
        3e-4,
        "0.3 g of spray wets the bench",
    ),
    Cause(
        "crumbs",
        "crumbs left on the dish and not weighed",
        TruthChanged("crumbs"),
        "g",
        5e-6,
        1e-4,
        "0.1 g of crumbs is seen on the dish",
    ),
    Cause(
        "over-corrected",
        "too much dissolved gas counted in",
        ReadingScaled("dissolved_given"),
        "%",
        0.2,
        2.0,
        "three times what was really dissolved",
        _is_counted,
    ),
)


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    whiting = "CaCO3(s) + 2 HCl(aq) -> CaCl2(aq) + H2O(l) + CO2(g)"
    soda = (
        "2 NaHCO3(s) -> Na2CO3(s) + H2O(l) + CO2(g)",
        "NaHCO3(s) + HCl(aq) -> NaCl(aq) + H2O(l) + CO2(g)",
    )
    kept: Sequence[dict[str, Any] | None] = (
        None,
        {"amount": {"text": "1.5 mmol", "half_width": "0.2 mmol"}},
        {"volume": "50 mL", "temperature": "22 degC"},
        {"volume": "50 mL"},
    )
    claims: Sequence[dict[str, Any] | None] = (None, {"mass": "0.50 g", "per": "tablet"}, {"percent": "97 %"})
    alone = frozenset({"sample"})
    forms = ((frozenset[str](), frozenset[str]()), (alone, frozenset[str]()), (alone, alone))
    # the equations and the headspace touch no line that the form, the dissolved gas or the claim do: they take turns
    for index, ((net, split), dissolved, claim) in enumerate(product(forms, kept, claims)):
        options = MassLossOptions.model_validate(
            {
                "equations": (whiting,) if index % 3 else soda,
                "dissolved": dissolved,
                "claim": claim,
                "headspace_volume": "120 mL" if index % 2 else None,
                "units_used": 2 if claim else 1,
            }
        )
        yield Shape(options, net, split)


def headline(options: MassLossOptions) -> Headline:
    """How the answer stands on the page."""
    second = "percent_of_claim" if options.claim is not None else "gas_amount"
    template = "{} of the claim" if options.claim is not None else f"{{}} {options.gas.text}"
    return Headline(f"{{}} {options.active.text}", second, template)


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """What the active substance leaves in its acid, by the equation found, else the first."""
    options: MassLossOptions = trial.options
    equation = next((row for row in options.equations if row.text == found), options.equations[0])
    mass = trial.value("active_mass")
    mol = None if mass is None else mass / options.active.molar_mass
    yield from remains_of(equation, options.active, options.acid, mol)


METHOD = Method(
    name="gas_by_mass_loss",
    title="Gas by loss of mass",
    page=page,
    options=MassLossOptions,
    results=RESULTS,
    key=lambda options: "percent_purity",
    headline=headline,
    judge=judge,
    shapes=shapes,
    causes=CAUSES,
    truth=truth,
    bench=bench,
    expect=expect,
    accepted=accepted_result,
    matched=matched_result,
    foresight=Foresight(
        foresee,
        ("vessel_mass", "vessel_volume", "concentration", "excess"),
        consumes=consumes,
        usual={"vessel_mass": "110 g", "vessel_volume": "250 mL", "concentration": "3 mol/L", "excess": "200 %"},
    ),
    over_trials=judge_trials,
    calibrates=calibrates,
    remains=remains,
)
