"""Water of a hydrate: weigh, heat, cool, weigh until constant; percent water, ratio and formula.

The calculation page stands below in the order in which a pupil writes it. Everything is computed in
SI; the units named here are those that are shown.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from itertools import product
from typing import Annotated, Any

from pydantic import Field, model_validator

from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.chemistry.hydrates import all_hydrates, known_salt, lower_hydrates
from claykettle.core.errors import refuse
from claykettle.core.judgement.constancy import is_constant
from claykettle.core.judgement.digits import swapped
from claykettle.core.judgement.identify import tell_apart, with_likelihoods
from claykettle.core.judgement.ratios import INSIDE, is_inside, judge_formula, misfit, misfits
from claykettle.core.method import (
    FIRST,
    Cause,
    Foresight,
    FormulaField,
    FormulaList,
    Formulated,
    Headline,
    Judgement,
    Method,
    ReadingShifted,
    Remain,
    SeriesOptions,
    Setting,
    Trial,
    TruthChanged,
    field_error,
    solid,
)
from claykettle.core.methods.parts.crucible import USUAL, Crucible
from claykettle.core.quantity import Number, exact, nominal, standard_uncertainty, with_uncertainty
from claykettle.core.sheet import Page, Pick, Shape, Values
from claykettle.core.verdict import Candidate, Verdict, candidate

WATER = parse_formula("H2O")
CLEARLY_OFF = 4.0
"""Standard uncertainties beyond which chance no longer explains a misfit, so that a slip is worth asking about."""


class HydrateOptions(SeriesOptions):
    """Options of the method `hydrate`, as in the run file."""

    salt: FormulaField | None = Field(
        default=None,
        title="Salt without its water",
        description="The anhydrous formula, such as ZnSO4; leave it empty for percent water only.",
        json_schema_extra=FIRST,
    )
    candidates: FormulaList = Field(
        default=(),
        title="Hydrates to tell apart",
        description="When the salt is unknown: the hydrates it may be, such as ZnSO4.7H2O.",
    )
    listed: bool = Field(
        default=False,
        title="Unknown salt: hold it against the list",
        description="Without a salt above: every hydrate of the built-in list is a candidate.",
        json_schema_extra=FIRST,
    )
    accepted: FormulaField | None = Field(
        default=None,
        title="Accepted hydrate",
        description="The formula on the label, to compare with; leave it empty when it is the question.",
        json_schema_extra=FIRST,
    )
    max_ratio: Annotated[int, Field(ge=1, le=60)] = Field(
        default=18,
        title="Most water considered",
        description="The largest number of H2O per formula among the candidates.",
    )
    halves: bool = Field(default=True, title="Half hydrates too", description="Consider ratios such as 0.5 and 1.5.")
    level: Annotated[str, Field(pattern="^(percent|formula)$")] = Field(
        default="formula",
        title="Course level",
        description="percent: percent water only, before the mole is taught; formula: up to the formula",
    )

    @model_validator(mode="after")
    def _consistent(self) -> HydrateOptions:
        if self.salt is not None and self.salt.water:
            text = f"The salt must be written without its water: {self.salt.anhydrous.text}, not {self.salt.text}."
            raise field_error("not-anhydrous", text, "salt")
        for field, hydrates in (("accepted", (self.accepted,)), ("candidates", self.candidates)):
            for hydrate in hydrates:
                self._fits(field, hydrate)
        return self

    def _fits(self, field: str, hydrate: Formula | None) -> None:
        if hydrate is None:
            return
        if not hydrate.water:
            text = f"{hydrate.text} holds no crystal water; write it as for example {hydrate.text}.2H2O."
            raise field_error("not-a-hydrate", text, field)
        if self.salt is not None and hydrate.anhydrous.counts != self.salt.counts:
            text = f"{hydrate.text} is not a hydrate of {self.salt.text}."
            raise field_error("other-salt", text, field)

    @property
    def known_salt(self) -> Formula:
        """The salt, on lines that stand only where it is given."""
        assert self.salt is not None
        return self.salt

    @property
    def known_accepted(self) -> Formula:
        """The accepted hydrate, on lines that stand only where it is given."""
        assert self.accepted is not None
        return self.accepted

    @property
    def asks_formula(self) -> bool:
        """Whether amounts, ratio and formula are wanted and can be had."""
        return self.salt is not None and self.level == "formula"

    @property
    def unknowns(self) -> tuple[Formula, ...]:
        """The hydrates that an unknown salt may be: those named, then those of the built-in list."""
        if self.salt is not None:
            return ()
        rows = [*self.candidates, *(all_hydrates() if self.listed else ())]
        return tuple({row.text: row for row in rows}.values())

    @property
    def ratios(self) -> tuple[Fraction, ...]:
        """The ratios that are candidates: ½ or 1 up to `max_ratio`. A hydrate holds water, so none is 0."""
        return _ratios(self.max_ratio, 2 if self.halves else 1)


@lru_cache(maxsize=256)
def _ratios(most: int, step: int) -> tuple[Fraction, ...]:
    return tuple(Fraction(n, step) for n in range(1, most * step + 1))


page = Page("hydrate")
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


def _formula_level(shape: Shape) -> bool:
    return bool(shape.options.asks_formula)


def _accepted(shape: Shape) -> bool:
    return shape.options.accepted is not None


def _matched(shape: Shape) -> bool:
    return _formula_level(shape) and not _accepted(shape)


@page.line("percent water", "%", "(water driven off) / (mass of sample) × 100 %")
def water_percent(water_mass: Number, sample_mass: Number) -> Number:
    return water_mass / sample_mass


@page.line("molar mass of water", "g/mol", lambda options: WATER.molar_mass_rule)
def water_molar_mass(options: HydrateOptions) -> Number:
    return WATER.molar_mass


@page.line("molar mass of the salt", "g/mol", lambda options: options.known_salt.molar_mass_rule, when=_formula_level)
def salt_molar_mass(options: HydrateOptions) -> Number:
    return options.known_salt.molar_mass


@page.line("amount of water", "mol", "(water driven off) / (molar mass of water)", when=_formula_level)
def water_amount(water_mass: Number, water_molar_mass: Number) -> Number:
    return water_mass / water_molar_mass


@page.line("amount of salt", "mol", "(mass of residue) / (molar mass of the salt)", when=_formula_level)
def salt_amount(residue_mass: Number, salt_molar_mass: Number) -> Number:
    return residue_mass / salt_molar_mass


@page.line("ratio x", "1", "(amount of water) / (amount of salt)", when=_formula_level)
def water_ratio(water_amount: Number, salt_amount: Number) -> Number:
    return water_amount / salt_amount


@page.choice("ratio taken", "1", "the simplest whole or half number inside the band of ratio x", when=_matched)
def taken_ratio(water_ratio: Number, options: HydrateOptions) -> Pick | None:
    return _match(water_ratio, options)


@page.line(
    "theoretical percent water",
    "%",
    "(ratio taken) × (molar mass of water) / "
    "((molar mass of the salt) + (ratio taken) × (molar mass of water)) × 100 %",
    when=_matched,
    name="theoretical_water_percent",
)
def theoretical_from_match(taken_ratio: Number, water_molar_mass: Number, salt_molar_mass: Number) -> Number:
    return taken_ratio * water_molar_mass / (salt_molar_mass + taken_ratio * water_molar_mass)


@page.line(
    "molar mass of the accepted hydrate", "g/mol", lambda options: options.accepted.molar_mass_rule, when=_accepted
)
def accepted_molar_mass(options: HydrateOptions) -> Number:
    return options.known_accepted.molar_mass


@page.line(
    "theoretical percent water",
    "%",
    lambda options: (
        f"{exact(float(options.accepted.water))} × (molar mass of water) / (molar mass of the accepted hydrate) × 100 %"
    ),
    when=_accepted,
    name="theoretical_water_percent",
)
def theoretical_from_accepted(water_molar_mass: Number, accepted_molar_mass: Number, options: HydrateOptions) -> Number:
    return float(options.known_accepted.water) * water_molar_mass / accepted_molar_mass


@page.line(
    "percent error",
    "%",
    "((percent water) − (theoretical percent water)) / (theoretical percent water) × 100 %",
    when=lambda shape: _accepted(shape) or _formula_level(shape),
)
def percent_error(water_percent: Number, theoretical_water_percent: Number) -> Number:
    return (water_percent - theoretical_water_percent) / theoretical_water_percent


RESULTS = (
    "sample_mass",
    "residue_mass",
    "water_mass",
    "water_percent",
    "water_amount",
    "salt_amount",
    "water_ratio",
    "theoretical_water_percent",
    "percent_error",
)


# Judgement


def _match(ratio: Any, options: HydrateOptions) -> Pick | None:
    """The simplest candidate ratio inside the band; on plain numbers (a replay) the nearest one."""
    if standard_uncertainty(ratio) > 0:
        plain = [float(x) for x in options.ratios]
        inside = [x for x, off in zip(options.ratios, misfits(ratio, plain), strict=True) if abs(off) <= INSIDE]
    else:
        inside = [min(options.ratios, key=lambda x: abs(nominal(ratio) - float(x)))]
    if not inside or options.salt is None:
        return None
    salt = options.salt
    simplest = min(inside, key=lambda x: salt.hydrate(x).sum_of_indices)
    return Pick(str(simplest), float(simplest))


def ratio_candidates(trial: Trial) -> tuple[Candidate, ...]:
    """Every hydrate of the known salt up to `max_ratio`, the nearest first."""
    options, ratio = trial.options, trial.values.get("water_ratio")
    if ratio is None:
        return ()
    texts, ratios = _hydrates(options.salt, options.max_ratio, options.halves)
    rows = (
        candidate(text, x, off, expected=x) for text, x, off in zip(texts, ratios, misfits(ratio, ratios), strict=True)
    )
    return tuple(sorted(rows, key=lambda row: abs(row.misfit)))


@lru_cache(maxsize=256)
def _hydrates(salt: Formula, most: int, halves: bool) -> tuple[tuple[str, ...], tuple[float, ...]]:
    """The formulas of a salt's hydrates and their ratios as plain numbers."""
    ratios = _ratios(most, 2 if halves else 1)
    return tuple(salt.hydrate(x).text for x in ratios), tuple(float(x) for x in ratios)


def water_fraction(hydrate: Formula) -> float:
    """The mass fraction of crystal water in a hydrate."""
    return float(hydrate.water) * WATER.molar_mass / hydrate.molar_mass


def percent_candidates(trial: Trial) -> tuple[Candidate, ...]:
    """The hydrates that an unknown salt may be, held against the percent water, the nearest first."""
    percent = trial.values.get("water_percent")
    if percent is None or not trial.options.unknowns:
        return ()
    return with_likelihoods(
        [
            candidate(h.text, float(h.water_ratio), misfit(percent, water_fraction(h)), 100 * water_fraction(h))
            for h in trial.options.unknowns
        ]
    )


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    options: HydrateOptions = trial.options
    verdicts = crucible.judge(trial)
    candidates: tuple[Candidate, ...] = ()
    words: dict[str, Formulated] = {}
    if not any(verdict.level == "stop" for verdict in verdicts):
        by_ratio = options.asks_formula
        candidates = ratio_candidates(trial) if by_ratio else percent_candidates(trial)
        if candidates:
            formula, verdict = judge_formula(_about(options), _measured(trial), candidates)
            words["formula"] = formula
            verdicts.append(verdict)
        if not by_ratio:
            verdicts += tell_apart(_about(options), candidates, 100 * trial.uncertainty("water_percent"))
        verdicts += _too_much_lost(trial)
        verdicts += _plateau(trial)
        verdicts += _swapped_digits(trial)
    return Judgement(tuple(verdicts), candidates, words)


def _about(options: HydrateOptions) -> str:
    """The result that decides: the ratio, or the percentage where no mole is asked."""
    return "water_ratio" if options.asks_formula else "water_percent"


def headline(options: HydrateOptions) -> Headline:
    """How the answer stands on the page."""
    return Headline("x = {}", "water_percent", "{} water") if options.asks_formula else Headline("{} water")


def _measured(trial: Trial) -> str:
    """The measured figure that decides the formula, as words."""
    if trial.options.asks_formula:
        return f"x = {with_uncertainty(trial.value('water_ratio') or 0.0, trial.uncertainty('water_ratio'))}"
    percent = 100 * (trial.value("water_percent") or 0.0)
    return f"{with_uncertainty(percent, 100 * trial.uncertainty('water_percent'))} % water"


def _too_much_lost(trial: Trial) -> Iterator[Verdict]:
    options: HydrateOptions = trial.options
    about = _about(options)
    value = trial.value(about)
    limit, name = _most_water(options)
    if value is None or limit is None or value <= limit + 2 * trial.uncertainty(about):
        return
    loss = trial.value("water_mass") or 0.0
    text = (
        f"{exact(round(loss * 1000, 4))} g was lost, more than all the water of {name}: "
        "spattered or popped out, or the salt itself is decomposing. Stop heating and look."
    )
    yield Verdict("loss-too-large", "stop", about, text)


def _most_water(options: HydrateOptions) -> tuple[float | None, str]:
    """The largest believable ratio, or fraction where only percent is asked, and the formula it belongs to."""
    if options.asks_formula and options.salt is not None:
        most = options.accepted or options.salt.hydrate(Fraction(options.max_ratio))
        return float(most.water_ratio), most.text
    if options.accepted is not None:
        return water_fraction(options.accepted), options.accepted.text
    return None, ""


def _plateau(trial: Trial) -> Iterator[Verdict]:
    """A constant mass that is a lower hydrate's, not the dry salt's."""
    accepted = trial.options.accepted
    series = [reading.si for reading in trial.series("vessel_residue")]
    lost = trial.values.get("water_percent")
    if accepted is None or lost is None or not is_constant(series, trial.options.tolerance.si):
        return
    if is_inside(lost, water_fraction(accepted)):
        return
    whole = accepted.molar_mass / float(accepted.parts[0][0])
    for lower in lower_hydrates(accepted):
        gone = float(accepted.water_ratio - lower.water_ratio) * WATER.molar_mass / whole
        if is_inside(lost, gone):
            text = (
                f"The mass has settled where {lower.text} would: a plateau, not the dry salt. "
                "A flat mass does not prove dryness; heat more strongly and weigh again."
            )
            yield Verdict("plateau", "watch", "vessel_residue", text)
            return


def _expected(options: HydrateOptions) -> tuple[Fraction, ...]:
    """The ratios that would be no surprise: the accepted one, else the listed ones, else whole numbers."""
    if options.accepted is not None:
        return (options.accepted.water_ratio,)
    known = known_salt(options.known_salt)
    if known is not None:
        return tuple(row.water_ratio for row in known.hydrates)
    return tuple(ratio for ratio in options.ratios if ratio.denominator == 1)


def _swapped_digits(trial: Trial) -> Iterator[Verdict]:
    """A ratio far from every expected one, which two swapped digits in one weighing would bring home."""
    options: HydrateOptions = trial.options
    ratio = trial.values.get("water_ratio")
    series = [reading.si for reading in trial.series("vessel_residue")]
    if ratio is None or not is_constant(series, options.tolerance.si):
        return
    expected = _expected(options)
    if any(abs(misfit(ratio, float(x))) <= CLEARLY_OFF for x in expected):
        return
    best: tuple[float, str, str, str, Fraction] | None = None
    for label, typed, other, changed in _one_swap(trial):
        found = trial.sheet.evaluate(changed).get("water_ratio")
        for x in expected if found is not None else ():
            off = abs(found - float(x)) / standard_uncertainty(ratio)
            if off <= INSIDE and (best is None or off < best[0]):
                best = (off, label, typed, other, x)
    if best is not None:
        _, label, typed, other, x = best
        text = (
            f"{_measured(trial)} fits no hydrate to be expected here. Were digits swapped in '{label}'? "
            f"With {other} in place of {typed} it would be {options.known_salt.hydrate(x).text}. "
            "Look at what was noted, or weigh again."
        )
        yield Verdict("transposition", "watch", "water_ratio", text)


def _one_swap(trial: Trial) -> Iterator[tuple[str, str, str, dict[str, Any]]]:
    """Label, typed and other digits, and plain SI readings, for every swap of two neighbours in one weighing."""
    plain = trial.plain
    for name, readings in trial.readings.items():
        label = trial.sheet.labels[name]
        if not isinstance(readings, tuple):
            for other in swapped(readings):
                yield label, readings.digits, other.digits, plain | {name: float(other.si)}
            continue
        for other in swapped(readings[-1]):
            values = [*plain[name][:-1], float(other.si)]
            # the swapped-back value stands for the series: its twin before it may bear the same slip
            yield (
                f"{label}, {trial.sheet.readings[name].round} {len(values)}",
                readings[-1].digits,
                other.digits,
                plain | {name: [values[-1]]},
            )


# The bench model and the causes of error


@dataclass(frozen=True)
class HydrateTruth:
    """What is really in the vessel, in kg, with the water as mass per mass of dry salt."""

    vessel: float
    sample: float
    water_per_salt: float


def truth(shape: Shape, values: Values) -> HydrateTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    salt, water = nominal(values["residue_mass"]), nominal(values["water_mass"])
    vessel = values.get("vessel")
    return HydrateTruth(nominal(vessel), salt + water, water / salt)


def expect(shape: Shape, truth: HydrateTruth, expected: float) -> HydrateTruth:
    """The same vessel and sample, with the water that the expected ratio (or fraction) asks for."""
    options: HydrateOptions = shape.options
    if options.asks_formula:
        return replace(truth, water_per_salt=expected * WATER.molar_mass / options.known_salt.molar_mass)
    return replace(truth, water_per_salt=expected / (1 - expected))


def accepted_result(options: HydrateOptions) -> float | None:
    """The accepted hydrate's ratio or water fraction."""
    if options.accepted is None:
        return None
    return float(options.accepted.water_ratio) if options.asks_formula else water_fraction(options.accepted)


def matched_result(options: HydrateOptions, values: Values) -> float | None:
    """The matching formula's ratio."""
    taken = values.get("taken_ratio")
    return None if taken is None else nominal(taken)


def bench(shape: Shape, truth: HydrateTruth, faults: Mapping[str, float]) -> dict[str, Any]:
    """The readings in kg that an honest balance shows of this truth.

    Faults: `water_left` (fraction of the water that heating leaves), `sample_wet` and `effloresced`
    (fraction of the crystal water too much or already gone when weighed), `salt_decomposed` (fraction of the
    salt's mass lost as gas).
    """
    salt = truth.sample / (1 + truth.water_per_salt)
    water = truth.sample - salt
    loaded = salt + water * (1 + faults.get("sample_wet", 0.0) - faults.get("effloresced", 0.0))
    residue = salt * (1 - faults.get("salt_decomposed", 0.0)) + water * faults.get("water_left", 0.0)
    end = truth.vessel + residue
    return crucible.weighed(shape, truth.vessel, loaded, [end + 0.02 * water, end, end])


def foresee(options: HydrateOptions, sample: float, setting: Setting) -> HydrateTruth:
    """What so much of the hydrate will be. Raises Refusal where it is not named: its water decides."""
    hydrate = options.accepted or next(iter(options.candidates or ()), None)
    if hydrate is None:
        message = "Name the hydrate that you expect: how much water leaves depends on it."
        raise refuse("plan-open", message, "options.accepted")
    water = water_fraction(hydrate)
    return HydrateTruth(setting.vessel_mass.si, sample, water / (1 - water))


CAUSES = (
    Cause(
        "not-fully-heated",
        "not fully heated",
        TruthChanged("water_left"),
        "%",
        0.05,
        0.5,
        "more than half the water left is seen: the salt is still clear or coloured",
    ),
    Cause(
        "moisture",
        "moisture taken up on cooling",
        ReadingShifted("vessel_residue"),
        "g",
        1e-5,
        1e-4,
        "0.1 g in a cooling time wants a very thirsty salt in damp air",
    ),
    crucible.fingerprints(),
    Cause(
        "spatter",
        "spatter, popping or grains lost",
        ReadingShifted("vessel_residue", -1.0),
        "g",
        2e-5,
        2e-4,
        "grains of 0.2 g lie on the bench and are seen",
    ),
    *crucible.weighed_warm(),
    Cause(
        "decomposed",
        "the salt itself decomposed",
        TruthChanged("salt_decomposed"),
        "%",
        0.02,
        0.3,
        "brown edges and fumes are seen long before a third is gone",
    ),
    Cause(
        "vessel-wet",
        "vessel wet or dirty when weighed empty",
        ReadingShifted("vessel"),
        "g",
        1e-5,
        1e-4,
        "more than 0.1 g of water in a fired vessel is seen",
    ),
    Cause(
        "sample-wet",
        "sample wet",
        TruthChanged("sample_wet"),
        "%",
        0.02,
        0.1,
        "a tenth more water makes the crystals stick",
    ),
    Cause(
        "effloresced",
        "sample effloresced",
        TruthChanged("effloresced"),
        "%",
        0.05,
        0.4,
        "crystals that lost more look like flour",
    ),
)


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    salt, accepted = parse_formula("ZnSO4"), parse_formula("ZnSO4.7H2O")
    for net, with_salt, has_accepted, level, value in product(
        crucible.forms(), (True, False), (True, False), ("formula", "percent"), ("last", "mean", "lowest")
    ):
        options = HydrateOptions(
            salt=salt if with_salt else None,
            accepted=accepted if has_accepted else None,
            level=level,
            constant_value=value,
        )
        yield Shape(options, *net)


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """The residue: the salt without its water."""
    options: HydrateOptions = trial.options
    hydrate = options.accepted or (parse_formula(found) if found else None)
    salt = options.salt or (hydrate.anhydrous if hydrate is not None else None)
    if salt is None:
        yield Remain(None, "residue of an unknown salt", "solid")
    else:
        yield solid(salt, trial.value("residue_mass"))


METHOD = Method(
    name="hydrate",
    title="Water of a hydrate",
    page=page,
    options=HydrateOptions,
    results=RESULTS,
    key=_about,
    headline=headline,
    judge=judge,
    shapes=shapes,
    causes=CAUSES,
    truth=truth,
    bench=bench,
    expect=expect,
    accepted=accepted_result,
    matched=matched_result,
    foresight=Foresight(foresee, ("vessel_mass", "vessel_volume"), usual=USUAL),
    remains=remains,
)
