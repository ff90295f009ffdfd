"""Composition of a hydrated metal halide: water by heating, metal by displacement, halide as what is left.

The same sample goes through both: weighed and heated until its mass is constant, then dissolved and its metal driven
out by an excess of a more active one that needs no weighing. Everything is computed in SI.
"""

from __future__ import annotations

import heapq
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from itertools import product
from math import gcd
from typing import Annotated, Any

from pydantic import BeforeValidator, Field, model_validator

from claykettle.core.chemistry.charges import common_charges
from claykettle.core.chemistry.elements import is_element
from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.errors import refuse
from claykettle.core.judgement.ratios import judge_formula, misfits
from claykettle.core.method import (
    FIRST,
    Cause,
    Foresight,
    FormulaField,
    Formulated,
    Headline,
    Judgement,
    Method,
    ReadingShifted,
    Remain,
    Setting,
    Trial,
    TruthChanged,
    field_error,
    known,
    solid,
)
from claykettle.core.methods.parts import collecting
from claykettle.core.methods.parts.collecting import Collecting, CollectorOptions
from claykettle.core.methods.parts.crucible import USUAL, Crucible
from claykettle.core.quantity import Number, nominal, with_uncertainty
from claykettle.core.sheet import Page, Shape, Values
from claykettle.core.verdict import Candidate, Verdict, candidate

WATER = parse_formula("H2O")
HALIDES = {"F": "fluoride", "Cl": "chloride", "Br": "bromide", "I": "iodide"}
MOST_SHOWN = 12


def _element(value: object) -> object:
    """An element's symbol; what is none is refused with what an example looks like."""
    if isinstance(value, str) and not is_element(value.strip()):
        text = f"'{value[:20]}' is no element's symbol; write one such as Co."
        raise field_error("unknown-element", text)
    return value.strip() if isinstance(value, str) else value


Symbol = Annotated[str, BeforeValidator(_element), Field(max_length=3)]


class CompositionOptions(CollectorOptions):
    """Options of the method `composition`, as in the run file."""

    metal: Symbol = Field(title="Metal", description="Its symbol, such as Co.", json_schema_extra=FIRST)
    halogen: Symbol = Field(
        default="Cl",
        title="Halogen",
        description="F, Cl, Br or I: had by difference.",
        json_schema_extra=FIRST,
    )
    accepted: FormulaField | None = Field(
        default=None,
        title="Accepted formula",
        description="The hydrate on the label, such as CoCl2.6H2O, to compare with.",
        json_schema_extra=FIRST,
    )
    max_index: Annotated[int, Field(ge=1, le=12)] = Field(
        default=6, title="Largest index considered", description="Of metal and halogen among the candidates."
    )
    max_ratio: Annotated[int, Field(ge=1, le=24)] = Field(
        default=12, title="Most water considered", description="The largest number of H2O per metal."
    )

    @model_validator(mode="after")
    def _hangs_together(self) -> CompositionOptions:
        if self.halogen not in HALIDES:
            text = f"'{self.halogen}' is no halogen; it is one of {', '.join(HALIDES)}."
            raise field_error("not-a-halogen", text, "halogen")
        if self.metal in HALIDES:
            text = f"'{self.metal}' is no metal."
            raise field_error("not-a-metal", text, "metal")
        accepted = self.accepted
        if accepted is not None and set(accepted.anhydrous.counts) != {self.metal, self.halogen}:
            text = f"{accepted.text} holds other elements than {self.metal}, {self.halogen} and water."
            raise field_error("other-salt", text, "accepted")
        return self

    @property
    def metal_formula(self) -> Formula:
        """The metal as a formula."""
        return parse_formula(self.metal)

    @property
    def halogen_formula(self) -> Formula:
        """The halogen as a formula of one atom."""
        return parse_formula(self.halogen)


page = Page("composition")
crucible = Crucible(
    page,
    vessel="vessel",
    before="sample",
    after="residue",
    change="water_mass",
    change_label="water driven off",
    moved="water",
)
crucible.declare()


@page.line("percent water", "%", "(water driven off) / (mass of sample) × 100 %")
def water_percent(water_mass: Number, sample_mass: Number) -> Number:
    return water_mass / sample_mass


@page.line("molar mass of water", "g/mol", lambda options: WATER.molar_mass_rule)
def water_molar_mass(options: CompositionOptions) -> Number:
    return WATER.molar_mass


@page.line("amount of water", "mol", "(water driven off) / (molar mass of water)")
def water_amount(water_mass: Number, water_molar_mass: Number) -> Number:
    return water_mass / water_molar_mass


collected_metal = Collecting(page, "metal_mass", "mass of metal")
collected_metal.declare()


@page.line("percent metal", "%", "(mass of metal) / (mass of sample) × 100 %")
def metal_percent(metal_mass: Number, sample_mass: Number) -> Number:
    return metal_mass / sample_mass


@page.line("mass of halogen", "g", "(mass of residue) − (mass of metal)", positive=True)
def halogen_mass(residue_mass: Number, metal_mass: Number) -> Number:
    return residue_mass - metal_mass


@page.line("percent halogen", "%", "(mass of halogen) / (mass of sample) × 100 %")
def halogen_percent(halogen_mass: Number, sample_mass: Number) -> Number:
    return halogen_mass / sample_mass


@page.line("molar mass of the metal", "g/mol", lambda options: options.metal_formula.molar_mass_rule)
def metal_molar_mass(options: CompositionOptions) -> Number:
    return options.metal_formula.molar_mass


@page.line("molar mass of the halogen", "g/mol", lambda options: options.halogen_formula.molar_mass_rule)
def halogen_molar_mass(options: CompositionOptions) -> Number:
    return options.halogen_formula.molar_mass


@page.line("amount of metal", "mol", "(mass of metal) / (molar mass of the metal)")
def metal_amount(metal_mass: Number, metal_molar_mass: Number) -> Number:
    return metal_mass / metal_molar_mass


@page.line("amount of halogen", "mol", "(mass of halogen) / (molar mass of the halogen)")
def halogen_amount(halogen_mass: Number, halogen_molar_mass: Number) -> Number:
    return halogen_mass / halogen_molar_mass


@page.line("halogen per metal", "1", "(amount of halogen) / (amount of metal)")
def halogen_ratio(halogen_amount: Number, metal_amount: Number) -> Number:
    return halogen_amount / metal_amount


@page.line("water per metal", "1", "(amount of water) / (amount of metal)")
def water_ratio(water_amount: Number, metal_amount: Number) -> Number:
    return water_amount / metal_amount


def _accepted(shape: Shape) -> bool:
    return shape.options.accepted is not None


def _metal_atoms(options: CompositionOptions) -> float:
    return float(known(options.accepted).counts[options.metal])


@page.line(
    "molar mass of the accepted formula", "g/mol", lambda options: options.accepted.molar_mass_rule, when=_accepted
)
def accepted_molar_mass(options: CompositionOptions) -> Number:
    return known(options.accepted).molar_mass


@page.line(
    "theoretical percent metal",
    "%",
    lambda options: (
        f"{_metal_atoms(options):g} × (molar mass of the metal) / (molar mass of the accepted formula) × 100 %"
    ),
    when=_accepted,
)
def theoretical_metal_percent(
    metal_molar_mass: Number, accepted_molar_mass: Number, options: CompositionOptions
) -> Number:
    return _metal_atoms(options) * metal_molar_mass / accepted_molar_mass


@page.line(
    "percent error",
    "%",
    "((percent metal) − (theoretical percent metal)) / (theoretical percent metal) × 100 %",
    when=_accepted,
)
def percent_error(metal_percent: Number, theoretical_metal_percent: Number) -> Number:
    return (metal_percent - theoretical_metal_percent) / theoretical_metal_percent


RESULTS = (
    "sample_mass",
    "residue_mass",
    "water_mass",
    "metal_mass",
    "halogen_mass",
    "water_percent",
    "metal_percent",
    "halogen_percent",
    "water_amount",
    "metal_amount",
    "halogen_amount",
    "halogen_ratio",
    "water_ratio",
    "theoretical_metal_percent",
    "percent_error",
)


# Judgement


@dataclass(frozen=True)
class _Kind:
    """A halide that could be: indices of metal and halogen, water per metal, and whether its charges balance."""

    text: str
    halogen_ratio: float
    water_ratio: int
    charges: bool


@lru_cache(maxsize=64)
def _kinds(metal: str, halogen: str, most: int, water: int) -> tuple[_Kind, ...]:
    """Every halide with indices up to `most` and up to so much water per metal, each once and as simple as can be."""
    found = []
    for first, second in product(range(1, most + 1), repeat=2):
        if gcd(first, second) > 1:
            continue
        salt = parse_formula(f"{metal}{first if first > 1 else ''}{halogen}{second if second > 1 else ''}")
        charges = second % first == 0 and second // first in common_charges(metal)
        for ratio in range(water + 1):
            text = salt.hydrate(Fraction(ratio * first)).text
            found.append(_Kind(text, second / first, ratio, charges))
    return tuple(found)


def candidates_of(trial: Trial) -> tuple[Candidate, ...]:
    """The halides that lie nearest, each with the larger of its two misfits; all that match, a dozen at least."""
    options: CompositionOptions = trial.options
    halogen, water = trial.values.get("halogen_ratio"), trial.values.get("water_ratio")
    if halogen is None or water is None:
        return ()
    kinds = _kinds(options.metal, options.halogen, options.max_index, options.max_ratio)
    by_halogen = misfits(halogen, [kind.halogen_ratio for kind in kinds])
    by_water = misfits(water, [kind.water_ratio for kind in kinds])
    rows = [
        (max(abs(one), abs(other)), index) for index, (one, other) in enumerate(zip(by_halogen, by_water, strict=True))
    ]
    matches = sum(off <= 2 for off, _ in rows)
    nearest = heapq.nsmallest(max(MOST_SHOWN, matches), rows)
    return tuple(
        candidate(kinds[i].text, kinds[i].water_ratio, off, float(kinds[i].water_ratio), kinds[i].charges)
        for off, i in nearest
    )


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = [*crucible.judge(trial), *collected_metal.judge(trial)]
    candidates: tuple[Candidate, ...] = ()
    words: dict[str, Formulated] = {}
    if not any(verdict.level == "stop" for verdict in verdicts):
        candidates = candidates_of(trial)
        if candidates:
            words["formula"], verdict = judge_formula("water_ratio", _measured(trial), candidates)
            verdicts.append(verdict)
        verdicts += _too_much_metal(trial)
    return Judgement(tuple(verdicts), candidates, words)


def _measured(trial: Trial) -> str:
    rows = [
        f"{with_uncertainty(trial.value(name) or 0.0, trial.uncertainty(name))} {what}"
        for name, what in (("halogen_ratio", trial.options.halogen), ("water_ratio", "H2O"))
    ]
    return f"{' and '.join(rows)} per {trial.options.metal}"


def _too_much_metal(trial: Trial) -> Iterator[Verdict]:
    """More metal than there was dry salt: nothing is left for the halogen."""
    metal, residue = trial.value("metal_mass"), trial.value("residue_mass")
    if metal is None or residue is None or metal < residue:
        return
    text = (
        f"{1000 * metal:.3f} g of metal from {1000 * residue:.3f} g of dry salt leaves nothing for the halogen: the "
        "metal is wet or oxidised, the other metal is still in it, or a line is wrong."
    )
    yield Verdict("out-of-order", "stop", collecting.SERIES, text)


def seen(trial: Trial, tags: Any) -> Iterator[Verdict]:
    """What the wash test showed."""
    return collecting.judge_washing(tags)


# The bench model and the causes of error


@dataclass(frozen=True)
class CompositionTruth:
    """What is really there, in kg: the vessel, the sample, and the shares of water and metal in it."""

    vessel: float
    sample: float
    water: float
    metal: float


def truth(shape: Shape, values: Values) -> CompositionTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    names = ("vessel", "sample_mass", "water_percent", "metal_percent")
    return CompositionTruth(*(nominal(values[name]) for name in names))


def expect(shape: Shape, truth: CompositionTruth, expected: float) -> CompositionTruth:
    """The same sample with so much water per metal; halogen per metal as accepted, else the nearest whole number."""
    options: CompositionOptions = shape.options
    metal, halogen = options.metal_formula.molar_mass, options.halogen_formula.molar_mass
    if options.accepted is not None:
        per_metal = float(options.accepted.counts[options.halogen] / options.accepted.counts[options.metal])
    else:
        per_metal = max(1.0, round((1 - truth.water - truth.metal) / halogen / (truth.metal / metal)))
    whole = metal + per_metal * halogen + expected * WATER.molar_mass
    return replace(truth, water=expected * WATER.molar_mass / whole, metal=metal / whole)


def _water_per_metal(formula: Formula, metal: str) -> float:
    return float(formula.water) / float(formula.counts[metal])


def accepted_result(options: CompositionOptions) -> float | None:
    """The accepted formula's water per metal."""
    return None if options.accepted is None else _water_per_metal(options.accepted, options.metal)


def matched_result(options: CompositionOptions, values: Values) -> float | None:
    """The nearest whole number of water per metal."""
    found = values.get("water_ratio")
    return None if found is None else float(round(nominal(found)))


def bench(shape: Shape, truth: CompositionTruth, faults: Mapping[str, float]) -> dict[str, Any]:
    """The readings in kg that an honest balance shows of this truth.

    Faults: `water_left` (fraction of the water that heating leaves), `oxidised` (fraction of its mass that the metal
    took up), `metal_left` (fraction of the metal that stayed in solution), `other_metal` (kg of the other metal in it).
    """
    water, metal = truth.sample * truth.water, truth.sample * truth.metal
    end = truth.vessel + truth.sample - water * (1 - faults.get("water_left", 0.0))
    solid = metal * (1 - faults.get("metal_left", 0.0)) * (1 + faults.get("oxidised", 0.0))
    return crucible.weighed(
        shape, truth.vessel, truth.sample, [end + 0.02 * water, end, end]
    ) | collected_metal.weighed(shape, solid + faults.get("other_metal", 0.0))


def foresee(options: CompositionOptions, sample: float, setting: Setting) -> CompositionTruth:
    """What so much of the accepted halide is made of. Raises Refusal `plan-open` where it is not named."""
    formula = options.accepted
    if formula is None:
        message = "Name the formula that you expect: how much water and metal there is depends on it."
        raise refuse("plan-open", message, "options.accepted")
    water = float(formula.water) * WATER.molar_mass / formula.molar_mass
    metal = _metal_atoms(options) * options.metal_formula.molar_mass / formula.molar_mass
    return CompositionTruth(setting.vessel_mass.si, sample, water, metal)


CAUSES = (
    Cause(
        "not-fully-heated",
        "not fully heated",
        TruthChanged("water_left"),
        "%",
        0.05,
        0.5,
        "more than half the water left is seen: the salt keeps its colour",
    ),
    Cause(
        "spatter",
        "spatter, popping or grains lost while heating",
        ReadingShifted("vessel_residue", -1.0),
        "g",
        2e-5,
        2e-4,
        "grains of 0.2 g lie on the bench and are seen",
    ),
    *collecting.causes(),
    Cause(
        "oxidised",
        "the metal oxidised while it dried",
        TruthChanged("oxidised"),
        "%",
        0.01,
        0.25,
        "a quarter more is a metal turned to oxide: dark and dull",
    ),
    Cause(
        "other-metal",
        "the other metal still in the solid",
        TruthChanged("other_metal"),
        "g",
        1e-5,
        2e-4,
        "0.2 g of turnings or wire is seen among the solid",
    ),
    Cause(
        "metal-left",
        "metal left in solution",
        TruthChanged("metal_left"),
        "%",
        0.02,
        0.3,
        "a third of it left keeps the solution coloured",
    ),
)


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    accepted = parse_formula("CoCl2.6H2O")
    ways = ("last", "mean", "lowest")
    for number, (form, collector, named) in enumerate(
        product(crucible.forms(), ("paper", "papers_mean", "dish"), (True, False))
    ):
        options = CompositionOptions(
            metal="Co",
            accepted=accepted if named else None,
            collector=collector,
            constant_value=ways[number % len(ways)],
        )
        yield Shape(options, *form)


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """The metal that was driven out, and the filtrate with the halide of the other metal."""
    yield solid(trial.options.metal_formula, trial.value("metal_mass"))
    halide = HALIDES[trial.options.halogen]
    yield Remain(None, f"filtrate and washings: {halide} of the other metal", "dissolved")


METHOD = Method(
    name="composition",
    title="Composition of a hydrated halide",
    page=page,
    options=CompositionOptions,
    results=RESULTS,
    key=lambda options: "water_ratio",
    headline=lambda options: Headline(
        f"{{}} H₂O per {options.metal}", "halogen_ratio", f"{{}} {options.halogen} per {options.metal}"
    ),
    judge=judge,
    shapes=shapes,
    causes=CAUSES,
    truth=truth,
    bench=bench,
    expect=expect,
    accepted=accepted_result,
    matched=matched_result,
    foresight=Foresight(foresee, ("vessel_mass", "vessel_volume"), usual=USUAL),
    seen=seen,
    remains=remains,
)
