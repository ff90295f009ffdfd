"""Gas collected over water: molar volume from a known reagent, or equivalent and molar mass of an unknown metal.

The gas in the tube is wet and stands above a column of water: barometer, less vapour, less column, leaves the dry gas.
A tube that holds gas already (several trials in one filling) starts with its own pressure and temperature. An inverted
burette is read from the mark down, and the dead volume between mark and stopcock is added. The molar volume is taken
per amount expected from the sample, never per n from PV/RT, which would only return RT/P.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from math import prod
from typing import Annotated, Any

from pydantic import Field, model_validator

from claykettle.core.chemistry.conditions import (
    ATMOSPHERE,
    BAR,
    GAS_CONSTANT,
    ZERO_CELSIUS,
    vapour_pressure_pa,
)
from claykettle.core.chemistry.conditions import water_density as density_of_water
from claykettle.core.chemistry.equation import others_per_kg
from claykettle.core.chemistry.gases import known_gas
from claykettle.core.errors import refuse
from claykettle.core.judgement.ratios import misfit, said_of
from claykettle.core.method import (
    FIRST,
    Cause,
    EquationField,
    Foresight,
    FormulaField,
    GivenDensity,
    GivenLinearDensity,
    Headline,
    Judgement,
    Method,
    ReadingScaled,
    Remain,
    Setting,
    Statement,
    Trial,
    TruthChanged,
    field_error,
    in_words,
    known,
)
from claykettle.core.methods.parts import tube
from claykettle.core.methods.parts.acid import Acid, judge_acid, remains_of
from claykettle.core.methods.parts.excess import judge_yield
from claykettle.core.methods.parts.metals import CHARGES, judge_circular, metal_candidates, metals_by_charge
from claykettle.core.methods.parts.pressure import judge_barometer, judge_place, judge_sea_level
from claykettle.core.methods.parts.room import or_nan
from claykettle.core.methods.parts.tube import (
    TubeOptions,
    TubeSetting,
    both,
    drawn,
    inverted,
    is_burette,
    not_taken,
    started,
    taken,
)
from claykettle.core.methods.parts.tube_judged import judge_tube
from claykettle.core.pictures.pictures import Pictures
from claykettle.core.quantity import Number, exact, figures, nominal
from claykettle.core.sheet import Page, Shape, Values
from claykettle.core.verdict import Candidate, Verdict


class GasOverWaterOptions(TubeOptions):
    """What is known beforehand. Without a reagent the metal is the question, and the gas is hydrogen."""

    reagent: FormulaField | None = Field(
        default=None,
        title="Reagent that is weighed",
        description="Its formula, such as Zn; leave it empty for an unknown metal.",
        json_schema_extra=FIRST,
    )
    equation: EquationField | None = Field(
        default=None,
        title="Equation",
        description="Such as Zn + 2 HCl -> ZnCl2 + H2; needed with a reagent.",
        json_schema_extra=FIRST,
    )
    gas: FormulaField = Field(
        default="H2", title="Gas", description="What is collected.", validate_default=True, json_schema_extra=FIRST
    )
    standard: Annotated[str, Field(pattern="^(0C_1atm|0C_1bar)$")] = Field(
        default="0C_1atm",
        title="Standard conditions",
        description="What the molar volume is stated at; the answer prints it.",
        json_schema_extra=in_words({"0C_1atm": "0 °C and 1 atm", "0C_1bar": "0 °C and 1 bar"}),
    )
    linear_density: GivenLinearDensity | None = Field(
        default=None, title="Mass per length of the ribbon", description="Such as 1.02 mg/mm, for a sample by length."
    )
    density: GivenDensity | None = Field(
        default=None, title="Density of the liquid sample", description="For a sample measured by volume."
    )
    acid: Acid | None = Field(default=None)

    @model_validator(mode="after")
    def _hangs_together(self) -> GasOverWaterOptions:
        if self.reagent is None:
            if self.gas.text != "H2":
                text = "An unknown reagent can be found from hydrogen only; name the reagent, or take H2 as the gas."
                raise field_error("unknown-reagent", text, "gas")
            return self
        if self.equation is None:
            text = "Give the equation: how much gas the reagent sets free stands there."
            raise field_error("missing-field", text, "equation")
        if not self.equation.used(self.reagent):
            text = f"{self.reagent.text} is none of the equation's reactants."
            raise field_error("no-such-reagent", text, "reagent")
        if not self.equation.formed(self.gas):
            text = f"The equation forms no {self.gas.text}."
            raise field_error("no-such-gas", text, "gas")
        return self

    @property
    def gas_per_reagent(self) -> float:
        """Mol of gas per mol of the reagent, by the equation."""
        equation, reagent = known(self.equation), known(self.reagent)
        return equation.formed(self.gas) / equation.used(reagent)

    @property
    def standard_pressure_pa(self) -> float:
        """1 atm or 1 bar, as chosen."""
        return ATMOSPHERE if self.standard == "0C_1atm" else BAR


def _weighed(shape: Shape) -> bool:
    return not {"sample_length", "sample_volume"} & shape.taken


def _known(shape: Shape) -> bool:
    return shape.options.reagent is not None


def _unknown(shape: Shape) -> bool:
    return not _known(shape)


def _hydrogen(shape: Shape) -> bool:
    return bool(shape.options.gas.text == "H2")


def _real(shape: Shape) -> bool:
    return _known(shape) and known_gas(shape.options.gas.text) is not None


page = Page("gas_over_water")
page.reading(
    "sample",
    "sample",
    "g",
    "balance",
    net=True,
    sole=True,
    pan="added",
    change="sample",
    usual=("0.002 g", "5 g"),
    when=_weighed,
)
page.reading("sample_length", "length of the ribbon", "cm", "ruler", optional=True)
page.reading("sample_volume", "volume of the sample", "mL", "liquid_volume", optional=True)
tube.declare_readings(page)


def _option(name: str, label: str, unit: str, reading: str) -> None:
    """A quantity that a form of the sample needs: given, or else named as missing."""
    asked = taken(reading)

    def is_given(shape: Shape) -> bool:
        return getattr(shape.options, name) is not None

    page.given(name, label, unit, lambda options: known(getattr(options, name)), both(asked, is_given))
    page.reading(name, label, unit, "", when=both(asked, lambda shape: not is_given(shape)))


_option("linear_density", "mass per length", "mg/mm", "sample_length")
_option("density", "density of the sample", "g/mL", "sample_volume")
tube.declare_given(page)

# The sample


@page.line("mass of sample", "g", "(sample)", when=_weighed, positive=True, name="sample_mass")
def sample_weighed(sample: Number) -> Number:
    return sample


@page.line(
    "mass of sample",
    "g",
    "(length of the ribbon) × (mass per length)",
    when=taken("sample_length"),
    positive=True,
    name="sample_mass",
)
def sample_by_length(sample_length: Number, linear_density: Number) -> Number:
    return sample_length * linear_density


@page.line(
    "mass of sample",
    "g",
    "(volume of the sample) × (density of the sample)",
    when=both(taken("sample_volume"), not_taken("sample_length")),
    positive=True,
    name="sample_mass",
)
def sample_by_volume(sample_volume: Number, density: Number) -> Number:
    return sample_volume * density


# Volumes, pressures, and what the gas comes to

tube.declare_volumes(page)
tube.declare_dry_gas(page)

# Amounts


@page.line("amount of gas", "mol", "(P × V / T of the gas) / (gas constant R)")
def gas_amount(reduced: Number, gas_constant: Number) -> Number:
    return reduced / gas_constant


@page.line("molar mass of the reagent", "g/mol", lambda o: known(o.reagent).molar_mass_rule, when=_known)
def reagent_molar_mass(options: GasOverWaterOptions) -> Number:
    return known(options.reagent).molar_mass


@page.line("amount of sample", "mol", "(mass of sample) / (molar mass of the reagent)", when=_known)
def sample_amount(sample_mass: Number, reagent_molar_mass: Number) -> Number:
    return sample_mass / reagent_molar_mass


@page.line("gas per reagent", "1", lambda o: exact(o.gas_per_reagent), when=_known)
def gas_ratio(options: GasOverWaterOptions) -> Number:
    return options.gas_per_reagent


@page.line("expected amount of gas", "mol", "(amount of sample) × (gas per reagent)", when=_known)
def expected_gas_amount(sample_amount: Number, gas_ratio: Number) -> Number:
    return sample_amount * gas_ratio


@page.line("molar volume at the bench", "L/mol", "(gas volume) / (expected amount of gas)", when=_known)
def molar_volume(gas_volume: Number, expected_gas_amount: Number) -> Number:
    return gas_volume / expected_gas_amount


@page.line("standard temperature", "K", "273.15 K", when=_known)
def standard_temperature(options: GasOverWaterOptions) -> Number:
    return ZERO_CELSIUS


@page.line("standard pressure", "kPa", lambda o: f"{exact(o.standard_pressure_pa / 1000)} kPa", when=_known)
def standard_pressure(options: GasOverWaterOptions) -> Number:
    return options.standard_pressure_pa


@page.line(
    "volume at standard conditions",
    "mL",
    "(P × V / T of the gas) × (standard temperature) / (standard pressure)",
    when=_known,
)
def standard_volume(reduced: Number, standard_temperature: Number, standard_pressure: Number) -> Number:
    return reduced * standard_temperature / standard_pressure


@page.line(
    "standard molar volume",
    "L/mol",
    "(volume at standard conditions) / (expected amount of gas)",
    when=_known,
)
def molar_volume_standard(standard_volume: Number, expected_gas_amount: Number) -> Number:
    return standard_volume / expected_gas_amount


@page.line(
    "molar volume of an ideal gas",
    "L/mol",
    "(gas constant R) × (standard temperature) / (standard pressure)",
    when=_known,
)
def ideal_molar_volume(gas_constant: Number, standard_temperature: Number, standard_pressure: Number) -> Number:
    return gas_constant * standard_temperature / standard_pressure


@page.line(
    "percent error",
    "%",
    "((standard molar volume) − (molar volume of an ideal gas)) / (molar volume of an ideal gas) × 100 %",
    when=_known,
)
def percent_error(molar_volume_standard: Number, ideal_molar_volume: Number) -> Number:
    return (molar_volume_standard - ideal_molar_volume) / ideal_molar_volume


@page.table(
    "molar volume of the real gas",
    "L/mol",
    "(gas constant R) × T / P + second virial coefficient, at standard conditions",
    when=_real,
)
def real_molar_volume(standard_temperature: Number, options: GasOverWaterOptions) -> Number:
    gas = known_gas(options.gas.text)
    assert gas is not None  # the line stands only for a gas of the table
    return or_nan(gas.molar_volume, standard_temperature, options.standard_pressure_pa)


@page.line(
    "percent error against the real gas",
    "%",
    "((standard molar volume) − (molar volume of the real gas)) / (molar volume of the real gas) × 100 %",
    when=_real,
)
def percent_error_real(molar_volume_standard: Number, real_molar_volume: Number) -> Number:
    return (molar_volume_standard - real_molar_volume) / real_molar_volume


@page.line("percent reacted", "%", "(amount of gas) / (expected amount of gas) × 100 %", when=_known)
def percent_reacted(gas_amount: Number, expected_gas_amount: Number) -> Number:
    return gas_amount / expected_gas_amount


@page.line("percent purity", "%", "(percent reacted)", when=_known)
def percent_purity(percent_reacted: Number) -> Number:
    return percent_reacted


@page.line("volume per gram", "mL/g", "(gas volume) / (mass of sample)")
def volume_per_gram(gas_volume: Number, sample_mass: Number) -> Number:
    return gas_volume / sample_mass


@page.line("equivalent mass", "g/mol", "(mass of sample) / (2 × (amount of gas))", when=_hydrogen)
def equivalent_mass(sample_mass: Number, gas_amount: Number) -> Number:
    return sample_mass / (2 * gas_amount)


def _molar_mass_line(charge: int) -> None:
    @page.line(
        f"molar mass at charge {charge}",
        "g/mol",
        f"{charge} × (equivalent mass)",
        when=_unknown,
        name=f"molar_mass_{charge}",
    )
    def molar_mass(equivalent_mass: Number) -> Number:
        return charge * equivalent_mass


for _charge in CHARGES:
    _molar_mass_line(_charge)

RESULTS = (
    "sample_mass",
    "gas_volume",
    "vapour_pressure",
    "head_pressure",
    "station_pressure",
    "dry_gas_pressure",
    "gas_amount",
    "sample_amount",
    "expected_gas_amount",
    "molar_volume",
    "molar_volume_standard",
    "percent_error",
    "percent_error_real",
    "percent_reacted",
    "percent_purity",
    "volume_per_gram",
    "equivalent_mass",
    *(f"molar_mass_{charge}" for charge in CHARGES),
)


# Judgement


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = [*judge_tube(trial), *judge_barometer(trial), *judge_place(trial), *judge_sea_level(trial)]
    if any(verdict.level == "stop" for verdict in verdicts):
        return Judgement(tuple(verdicts))
    verdicts += judge_yield(trial, "percent_reacted", OVER)
    candidates: tuple[Candidate, ...] = ()
    if _unknown(trial.sheet.shape):
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


# The bench model and the causes of error


@dataclass(frozen=True)
class GasOverWaterTruth:
    """What is really there: sample in kg, mol of gas set free per kg of it, water in K, pressure at the bench in Pa."""

    sample: float
    gas_per_kg: float
    temperature: float
    pressure: float
    setting: TubeSetting


def truth(shape: Shape, values: Values) -> GasOverWaterTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    sample = nominal(values["sample_mass"])
    names = ("start_volume", "temperature_start", "level_difference", "level_difference_start", "dead_volume")
    found = [values.get(name) for name in names]
    return GasOverWaterTruth(
        sample,
        nominal(values["gas_amount"]) / sample,
        nominal(values["temperature"]),
        nominal(values["station_pressure"]),
        TubeSetting(*(None if value is None else nominal(value) for value in found)),
    )


def expect(shape: Shape, truth: GasOverWaterTruth, expected: float) -> GasOverWaterTruth:
    """The same sample, room and tube, with as much gas as the expected molar volume (or equivalent mass) asks for."""
    options: GasOverWaterOptions = shape.options
    if options.reagent is None:
        return replace(truth, gas_per_kg=1 / (2 * expected))
    whole = options.gas_per_reagent / options.reagent.molar_mass
    return replace(truth, gas_per_kg=expected * whole * options.standard_pressure_pa / (GAS_CONSTANT * ZERO_CELSIUS))


def accepted_result(options: GasOverWaterOptions) -> float | None:
    """The molar volume of the real gas where it is known, else of an ideal one; None for an unknown metal."""
    if options.reagent is None:
        return None
    gas = known_gas(options.gas.text)
    if gas is not None:
        return gas.molar_volume(ZERO_CELSIUS, options.standard_pressure_pa)
    return GAS_CONSTANT * ZERO_CELSIUS / options.standard_pressure_pa


def matched_result(options: GasOverWaterOptions, values: Values) -> float | None:
    """None: several metals may fit, and none of them is the one expected."""
    return None


def bench(shape: Shape, truth: GasOverWaterTruth, faults: Mapping[str, float]) -> dict[str, Any]:
    """The readings that honest instruments show of this truth.

    Faults: `leak` and `unreacted` (fraction of the gas that is lost, of the reagent that is left), `skin` (fraction of
    the sample that was oxide or dirt), `air` (m³ of air in the tube, trapped or pushed in, at the bench's pressure).
    """
    options: GasOverWaterOptions = shape.options
    setting, t = tube.as_read(truth.setting, shape), truth.temperature
    left = [1 - faults.get(name, 0.0) for name in ("leak", "unreacted", "skin")]
    gas = truth.sample * truth.gas_per_kg * prod(left)
    weight = density_of_water(t) * (options.gravity or tube.GRAVITY).si
    dry = truth.pressure - vapour_pressure_pa(t) - weight * (setting.level or 0.0)
    held = 0.0
    if "volume_start" in shape.taken:
        at_start = setting.start_kelvin or t
        start_dry = truth.pressure - vapour_pressure_pa(at_start) - weight * (setting.level_start or 0.0)
        held = start_dry * known(setting.start) / at_start
    end = (gas * GAS_CONSTANT + held) * t / dry + faults.get("air", 0.0)
    readings: dict[str, Any] = {
        "volume_end": tube.on_scale(options, end, setting.dead),
        "temperature": t,
        "barometer": options.at_sea_level(truth.pressure),
    }
    optional = {
        "volume_start": tube.on_scale(options, setting.start or 0.0, setting.dead),
        "temperature_start": setting.start_kelvin,
        "level_difference": setting.level,
        "level_difference_start": setting.level_start,
    }
    readings |= {name: value for name, value in optional.items() if name in shape.taken}
    if inverted(shape):
        readings["dead_volume"] = setting.dead
    return readings | _sample(shape, truth.sample)


BOAT = 0.0048


def _sample(shape: Shape, mass: float) -> dict[str, float]:
    options: GasOverWaterOptions = shape.options
    if "sample_length" in shape.taken:
        return {"sample_length": mass / known(options.linear_density).si}
    if "sample_volume" in shape.taken:
        return {"sample_volume": mass / known(options.density).si}
    if "sample" in shape.split:
        return {"sample_tare": BOAT, "sample_gross": BOAT + mass}
    return {"sample": mass}


def foresee(options: GasOverWaterOptions, sample: float, setting: Setting) -> GasOverWaterTruth:
    """What so much of the reagent sets free. Raises Refusal for an unknown one."""
    if options.reagent is None:
        message = (
            "Name the metal that it may be, with its equation: the one with the smallest equivalent mass makes the "
            "most gas, and its limit is safe for all."
        )
        raise refuse("plan-open", message, "options.reagent")
    dead = setting.dead_volume.si if is_burette(options) else None
    tube = TubeSetting(start=0.0, start_kelvin=None, level=0.0, level_start=0.0, dead=dead)
    per_kg = options.gas_per_reagent / options.reagent.molar_mass
    return GasOverWaterTruth(sample, per_kg, setting.temperature.si, setting.barometer.si, tube)


def consumes(options: GasOverWaterOptions) -> Mapping[str, float]:
    """Mol of each other reactant per kg of the reagent."""
    return others_per_kg(known(options.equation), known(options.reagent))


CAUSES = (
    Cause("leak", "gas lost through a leak", TruthChanged("leak"), "%", 0.02, 0.3, "a third lost is heard or smelt"),
    Cause(
        "unreacted",
        "reagent left over",
        TruthChanged("unreacted"),
        "%",
        0.02,
        0.3,
        "a third of the metal left is seen in the tube",
    ),
    Cause(
        "skin",
        "oxide skin or dirt on the sample",
        TruthChanged("skin"),
        "%",
        0.02,
        0.08,
        "a skin of more than 8 % is dull to the eye",
    ),
    Cause(
        "air",
        "air trapped at the start or pushed in by the stopper",
        TruthChanged("air"),
        "mL",
        5e-7,
        3e-6,
        "3 mL of air is a bubble as long as a thumb",
    ),
    *tube.SLIPS,
    Cause(
        "sea-level",
        "a sea-level pressure taken for that at the bench",
        ReadingScaled("barometer"),
        "%",
        0.05,
        0.25,
        "a quarter more belongs to a laboratory at 2400 m",
    ),
)


def shapes() -> Iterator[Shape]:
    """Every kind of form the page can take, for the check at import and for the tests."""
    zinc: dict[str, Any] = {"reagent": "Zn", "equation": "Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)"}
    peroxide = {"reagent": "H2O2", "equation": "2 H2O2(aq) -> 2 H2O(l) + O2(g)", "gas": "O2", "density": "1.11 g/mL"}
    burette = {"tube": {"reading": "inverted_burette", "mark": "50 mL"}}
    corrected = {"meniscus_correction": "0.2 mL"}
    columns = frozenset({"level_difference"})
    later = frozenset({"volume_start", "level_difference", "level_difference_start", "temperature_start"})
    alone = frozenset({"sample"})
    for options, optional, net, split in (
        (zinc | burette, columns, alone, frozenset[str]()),
        (zinc | burette | corrected, later, alone, alone),
        (zinc, frozenset[str](), alone, frozenset[str]()),
        (zinc, frozenset({"volume_start"}), frozenset[str](), frozenset[str]()),
        (zinc | corrected, later, alone, frozenset[str]()),
        (zinc | corrected | {"standard": "0C_1bar"}, columns, alone, frozenset[str]()),
        (zinc | burette, later, alone, frozenset[str]()),
        (zinc | burette | corrected | {"gravity": "9.81 m/s2"}, columns, alone, frozenset[str]()),
        (zinc | {"barometer": "sea_level", "elevation": "520 m"}, columns, alone, frozenset[str]()),
        (zinc | {"linear_density": "1.02 mg/mm"}, frozenset({"sample_length"}), frozenset[str](), frozenset[str]()),
        (peroxide, frozenset({"sample_volume", "level_difference"}), frozenset[str](), frozenset[str]()),
        ({}, columns, alone, frozenset[str]()),
        (burette, frozenset[str](), alone, alone),
    ):
        yield Shape(GasOverWaterOptions.model_validate(options), net, split, optional)


def headline(options: GasOverWaterOptions) -> Headline:
    """How the answer stands on the page."""
    if options.reagent is None:
        return Headline("equivalent mass {}", "gas_amount", "{} H2")
    place = "0 °C, 1 atm" if options.standard == "0C_1atm" else "0 °C, 1 bar"
    return Headline(f"{{}} at {place}", "percent_reacted", "{} reacted")


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """What the sample leaves in its acid; of an unknown metal only that there is something."""
    options: GasOverWaterOptions = trial.options
    if options.equation is None or options.reagent is None:
        yield Remain(None, "solution of the unknown sample", "dissolved")
    else:
        yield from remains_of(options.equation, options.reagent, options.acid, trial.value("sample_amount"))


METHOD = Method(
    name="gas_over_water",
    title="Gas over water",
    page=page,
    options=GasOverWaterOptions,
    results=RESULTS,
    key=lambda options: "equivalent_mass" if options.reagent is None else "molar_volume_standard",
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
        ("temperature", "barometer", "dead_volume", "concentration", "excess"),
        measured=("sample_length", "sample_volume"),
        consumes=consumes,
        usual={"concentration": "3 mol/L"},
    ),
    alike="volume_per_gram",
    over_trials=judge_trials,
    pictures=lambda trial: Pictures(gas=drawn(trial, inverted(trial.sheet.shape))),
    remains=remains,
)
