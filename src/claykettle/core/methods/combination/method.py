"""Formula by combination: an element heated with a second one in a lidded crucible; ratio, formula, yield, mixture."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import product as every
from typing import Annotated, Any

from pydantic import Field, model_validator

from claykettle.core.chemistry.charges import charges_balance
from claykettle.core.chemistry.elements import atomic_weight
from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.errors import refuse
from claykettle.core.judgement.constancy import COMBINING
from claykettle.core.judgement.empirical import small_indices, spelled
from claykettle.core.judgement.ratios import INSIDE, judge_formula, misfit, misfits, said_of
from claykettle.core.method import (
    FIRST,
    Cause,
    Foresight,
    FormulaField,
    FormulaList,
    Headline,
    Judgement,
    Method,
    ReadingShifted,
    Remain,
    SeriesOptions,
    Setting,
    Statement,
    Trial,
    TruthChanged,
    field_error,
    solid,
)
from claykettle.core.methods.parts.crucible import USUAL, Crucible
from claykettle.core.methods.parts.excess import judge_yield
from claykettle.core.quantity import Number, exact, nominal, standard_uncertainty, with_uncertainty
from claykettle.core.sheet import Page, Pick, Shape, Values
from claykettle.core.verdict import Candidate, Verdict, candidate


class CombinationOptions(SeriesOptions):
    """Options of the method `combination`, as in the run file."""

    element: FormulaField = Field(
        title="Element that is weighed", description="Its symbol, such as Sn.", json_schema_extra=FIRST
    )
    partner: FormulaField = Field(
        title="Element it takes up", description="Its symbol, such as S or O.", json_schema_extra=FIRST
    )
    product: FormulaField | None = Field(
        default=None,
        title="Product expected",
        description="The formula taught as the answer; leave it empty when it is the question.",
        json_schema_extra=FIRST,
    )
    candidates: FormulaList = Field(
        default=(), title="Products to tell apart", description="With exactly two, the mixture of them is computed."
    )
    max_index: Annotated[int, Field(ge=1, le=12)] = Field(
        default=6, title="Largest index considered", description="Formulas with indices up to this are candidates."
    )
    level: Annotated[str, Field(pattern="^(percent|formula)$")] = Field(
        default="formula", title="Course level", description="percent: composition only; formula: up to the formula"
    )

    @model_validator(mode="after")
    def _consistent(self) -> CombinationOptions:
        for field in ("element", "partner"):
            formula: Formula = getattr(self, field)
            if len(formula.atoms) != 1 or formula.charge:
                text = f"{formula.text} is not one element; write its symbol, such as Sn."
                raise field_error("not-an-element", text, field)
        if self.first == self.second:
            raise field_error("same-element", "The two elements must differ.", "partner")
        named = [("product", self.product)] if self.product is not None else []
        for field, formula in [*named, *(("candidates", row) for row in self.candidates)]:
            if formula is not None and set(formula.counts) != {self.first, self.second}:
                text = f"{formula.text} is not made of {self.first} and {self.second} alone."
                raise field_error("other-elements", text, field)
        return self

    @property
    def first(self) -> str:
        """Symbol of the element that is weighed."""
        return self.element.atoms[0][0]

    @property
    def second(self) -> str:
        """Symbol of the element that is taken up."""
        return self.partner.atoms[0][0]

    @property
    def named(self) -> tuple[Formula, ...]:
        """The candidates that the options name, the product expected among them."""
        rows = [*self.candidates, *([self.product] if self.product is not None else [])]
        return tuple({row.text: row for row in rows}.values())

    def ratio(self, formula: Formula) -> float:
        """Mol of the partner per mol of the element in a formula."""
        return float(formula.counts[self.second] / formula.counts[self.first])


page = Page("combination")
crucible = Crucible(
    page,
    vessel="crucible",
    before="element",
    after="product",
    change="partner_mass",
    change_label="mass taken up",
    moved="taken up",
    rises=True,
    process=COMBINING,
)
crucible.declare()


def _formula_level(shape: Shape) -> bool:
    return bool(shape.options.level == "formula")


def _has_product(shape: Shape) -> bool:
    return _formula_level(shape) and shape.options.product is not None


def _product_sought(shape: Shape) -> bool:
    return _formula_level(shape) and shape.options.product is None


def _two_candidates(shape: Shape) -> bool:
    return _formula_level(shape) and len(shape.options.candidates) == 2


@page.line("percent of the element", "%", "(mass of element) / (mass of product) × 100 %")
def element_percent(element_mass: Number, product_mass: Number) -> Number:
    return element_mass / product_mass


@page.line("percent taken up", "%", "(mass taken up) / (mass of product) × 100 %")
def partner_percent(partner_mass: Number, product_mass: Number) -> Number:
    return partner_mass / product_mass


@page.line(
    "molar mass of the element", "g/mol", lambda options: f"{atomic_weight(options.first)} g/mol", when=_formula_level
)
def element_molar_mass(options: CombinationOptions) -> Number:
    return float(atomic_weight(options.first)) / 1000


@page.line(
    "molar mass of what is taken up",
    "g/mol",
    lambda options: f"{atomic_weight(options.second)} g/mol",
    when=_formula_level,
)
def partner_molar_mass(options: CombinationOptions) -> Number:
    return float(atomic_weight(options.second)) / 1000


@page.line("amount of element", "mol", "(mass of element) / (molar mass of the element)", when=_formula_level)
def element_amount(element_mass: Number, element_molar_mass: Number) -> Number:
    return element_mass / element_molar_mass


@page.line("amount taken up", "mol", "(mass taken up) / (molar mass of what is taken up)", when=_formula_level)
def partner_amount(partner_mass: Number, partner_molar_mass: Number) -> Number:
    return partner_mass / partner_molar_mass


@page.line("ratio taken up", "1", "(amount taken up) / (amount of element)", when=_formula_level)
def partner_ratio(partner_amount: Number, element_amount: Number) -> Number:
    return partner_amount / element_amount


@page.choice("ratio in the formula", "1", "that of the simplest possible formula inside the band", when=_product_sought)
def taken_ratio(partner_ratio: Number, options: CombinationOptions) -> Pick | None:
    if standard_uncertainty(partner_ratio) > 0:
        inside = [row for row in possible(options) if abs(misfit(partner_ratio, options.ratio(row))) <= INSIDE]
    else:
        inside = [min(possible(options), key=lambda row: abs(nominal(partner_ratio) - options.ratio(row)))]
    if not inside:
        return None
    simplest = min(inside, key=lambda row: row.sum_of_indices)
    return Pick(simplest.text, options.ratio(simplest))


@page.line(
    "ratio in the formula",
    "1",
    lambda options: _as_fraction(options, options.product),
    when=_has_product,
    name="taken_ratio",
)
def product_ratio(options: CombinationOptions) -> Number:
    assert options.product is not None  # the line stands only where it is given
    return options.ratio(options.product)


@page.line(
    "theoretical mass of product",
    "g",
    "(amount of element) × ((molar mass of the element) + (ratio in the formula) × (molar mass of what is taken up))",
    when=_formula_level,
)
def theoretical_product_mass(
    element_amount: Number, element_molar_mass: Number, taken_ratio: Number, partner_molar_mass: Number
) -> Number:
    return element_amount * (element_molar_mass + taken_ratio * partner_molar_mass)


@page.line("percent yield", "%", "(mass of product) / (theoretical mass of product) × 100 %", when=_formula_level)
def percent_yield(product_mass: Number, theoretical_product_mass: Number) -> Number:
    return product_mass / theoretical_product_mass


def _as_fraction(options: CombinationOptions, formula: Formula) -> str:
    return f"{exact(float(formula.counts[options.second]))} / {exact(float(formula.counts[options.first]))}"


def _mixture_rule(options: CombinationOptions) -> str:
    first, second = (_as_fraction(options, row) for row in options.candidates)
    return f"((ratio taken up) − {first}) / ({second} − {first}) × 100 %"


@page.line("fraction present as the second", "%", _mixture_rule, when=_two_candidates)
def mixture_fraction(partner_ratio: Number, options: CombinationOptions) -> Number:
    first, second = (options.ratio(row) for row in options.candidates)
    return (partner_ratio - first) / (second - first)


RESULTS = (
    "element_mass",
    "product_mass",
    "partner_mass",
    "element_percent",
    "partner_percent",
    "element_amount",
    "partner_amount",
    "partner_ratio",
    "theoretical_product_mass",
    "percent_yield",
    "mixture_fraction",
)


# Judgement


@lru_cache(maxsize=256)
def _enumerated(first: str, second: str, most: int) -> tuple[Formula, ...]:
    """Every formula of the two elements with indices up to `most`, each ratio once, as simple as it can be."""
    return tuple(parse_formula(spelled((first, second), row)) for row in small_indices(2, most))


def all_formulas(options: CombinationOptions) -> tuple[Formula, ...]:
    """What the data may be held against: the named products first, then every small ratio not among them."""
    named = {options.ratio(row) for row in options.named}
    rest = _enumerated(options.first, options.second, options.max_index)
    return (*options.named, *(row for row in rest if options.ratio(row) not in named))


def possible(options: CombinationOptions) -> tuple[Formula, ...]:
    """The formulas that may be the answer: named ones, and those whose common charges balance."""
    named = {row.text for row in options.named}
    return tuple(row for row in all_formulas(options) if row.text in named or charges_balance(row))


def ratio_candidates(trial: Trial) -> tuple[Candidate, ...]:
    """Every formula held against the ratio, the nearest first; `charges` says whether chemistry lets it stand."""
    options, ratio = trial.options, trial.values.get("partner_ratio")
    if ratio is None:
        return ()
    formulas = all_formulas(options)
    ratios = [options.ratio(row) for row in formulas]
    allowed = {row.text for row in possible(options)}
    rows = (
        candidate(row.text, x, off, expected=x, charges=row.text in allowed)
        for row, x, off in zip(formulas, ratios, misfits(ratio, ratios), strict=True)
    )
    return tuple(sorted(rows, key=lambda row: (abs(row.misfit), parse_formula(row.text).sum_of_indices)))


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = crucible.judge(trial)
    candidates = ratio_candidates(trial) if not any(verdict.level == "stop" for verdict in verdicts) else ()
    if not candidates:
        return Judgement(tuple(verdicts))
    formula, verdict = judge_formula("partner_ratio", _measured(trial), candidates)
    verdicts.append(verdict)
    verdicts += _unbalanced(candidates, formula.text)
    if formula.text is None:
        verdicts += _mixture(trial)
    verdicts += judge_yield(trial, "percent_yield", OVER)
    return Judgement(tuple(verdicts), candidates, {"formula": formula}, _statements(trial, candidates))


OVER = "another product, an excess of the second element, or moisture"


def _mixture(trial: Trial) -> Iterator[Verdict]:
    """A ratio between the two named products: how much of the element each would hold."""
    share, spread = trial.value("mixture_fraction"), trial.uncertainty("mixture_fraction")
    if share is None or not 2 * spread < share < 1 - 2 * spread:
        return
    first, second = (row.text for row in trial.options.candidates)
    shown = with_uncertainty(100 * share, 100 * spread, "%")
    text = f"It lies between {first} and {second}: as a mixture of the two, {shown} of the element stands as {second}."
    yield Verdict("mixture", "watch", "mixture_fraction", text)


def _unbalanced(candidates: Sequence[Candidate], found: str | None) -> Iterator[Verdict]:
    """What the data alone would name, where chemistry does not let it stand."""
    fits = [row.text for row in candidates if row.status == "match" and not row.charges]
    if found is None and fits:
        text = (
            f"The data alone would fit {_some(fits)}, but no common charges balance there: a mixture, unfinished "
            "reaction or a loss is more likely than a new compound."
        )
        yield Verdict("unbalanced-charge", "watch", "partner_ratio", text)


def _statements(trial: Trial, candidates: Sequence[Candidate]) -> tuple[Statement, ...]:
    """Three separate statements: what the data say, what chemistry allows, what is expected."""
    options: CombinationOptions = trial.options
    fits = [row.text for row in candidates if row.status == "match"]
    data = f"{_measured(trial)}; inside the band: {_some(fits) if fits else 'no formula with small indices'}."
    allowed = sorted(
        {row.text for row in candidates if row.charges}, key=lambda text: parse_formula(text).sum_of_indices
    )
    near = [row for row in candidates if row.charges][:2]
    chemistry = f"Common charges or your list allow {_some(allowed)}; nearest {near[0].text if near else 'none'}."
    rows = [Statement("The data say", data), Statement("Chemistry allows", chemistry)]
    if options.product is not None:
        wanted = next(row for row in candidates if row.text == options.product.text)
        text = f"{wanted.text}, {exact(wanted.ratio or 0.0)} : 1; measured {said_of(wanted.misfit)}."
        rows.append(Statement("You expected", text))
    return tuple(rows)


def _some(texts: Sequence[str], most: int = 4) -> str:
    return ", ".join(texts[:most]) + (f" and {len(texts) - most} more" if len(texts) > most else "")


def _measured(trial: Trial) -> str:
    options: CombinationOptions = trial.options
    ratio = with_uncertainty(trial.value("partner_ratio") or 0.0, trial.uncertainty("partner_ratio"))
    return f"{options.second} : {options.first} = {ratio}"


def headline(options: CombinationOptions) -> Headline:
    """How the answer stands on the page."""
    if options.level == "percent":
        return Headline(f"{{}} {options.second}", "element_percent", f"{{}} {options.first}")
    return Headline(f"{options.second} : {options.first} = {{}}", "partner_percent", f"{{}} {options.second}")


def key(options: CombinationOptions) -> str:
    """The result that decides: the ratio, or the percentage where no mole is asked."""
    return "partner_ratio" if options.level == "formula" else "partner_percent"


# The bench model and the causes of error


@dataclass(frozen=True)
class CombinationTruth:
    """What is really in the crucible, in kg: the pure element, and mol taken up per mol of it."""

    vessel: float
    element: float
    ratio: float


def truth(shape: Shape, values: Values) -> CombinationTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    element, partner = nominal(values["element_mass"]), nominal(values["partner_mass"])
    weights = _weights(shape.options)
    return CombinationTruth(nominal(values["vessel"]), element, partner / weights[1] / (element / weights[0]))


def _weights(options: CombinationOptions) -> tuple[float, float]:
    return float(atomic_weight(options.first)) / 1000, float(atomic_weight(options.second)) / 1000


def expect(shape: Shape, truth: CombinationTruth, expected: float) -> CombinationTruth:
    """The same crucible and element, with as much taken up as the expected ratio (or fraction) asks for."""
    if shape.options.level == "formula":
        return replace(truth, ratio=expected)
    element, partner = _weights(shape.options)
    return replace(truth, ratio=expected / (1 - expected) * element / partner)


def accepted_result(options: CombinationOptions) -> float | None:
    """The ratio (or fraction) of the product expected."""
    return None if options.product is None else _as_key(options, options.ratio(options.product))


def matched_result(options: CombinationOptions, values: Values) -> float | None:
    """The ratio (or fraction) of the matching formula."""
    taken = values.get("taken_ratio")
    return None if taken is None else _as_key(options, nominal(taken))


def _as_key(options: CombinationOptions, ratio: float) -> float:
    """A ratio as the key result: itself, or the partner's mass fraction where only percents are asked."""
    if options.level == "formula":
        return ratio
    element, partner = _weights(options)
    return ratio * partner / (element + ratio * partner)


def foresee(options: CombinationOptions, sample: float, setting: Setting) -> CombinationTruth:
    """What so much of the element will take up. Raises Refusal where no product is named."""
    product = options.product or next(iter(options.candidates or ()), None)
    if product is None:
        message = "Name the product that you expect: how much is taken up depends on it."
        raise refuse("plan-open", message, "options.product")
    return CombinationTruth(setting.vessel_mass.si, sample, options.ratio(product))


NITROGEN = float(atomic_weight("N")) / 1000


def bench(shape: Shape, truth: CombinationTruth, faults: Mapping[str, float]) -> dict[str, Any]:
    """The readings in kg that an honest balance shows of this truth.

    Faults: `unreacted` (fraction of the element that took nothing up), `nitride` (fraction that took up nitrogen in
    place of oxygen, charge for charge), `skin` (fraction of the weighed piece that was product already), `unfired`
    (kg of dirt and moisture that the crucible still held when it was weighed empty and loaded).
    """
    element_weight, partner_weight = _weights(shape.options)
    skin = faults.get("skin", 0.0) * truth.element
    amount = (truth.element - skin) / element_weight
    nitride, unreacted = faults.get("nitride", 0.0), faults.get("unreacted", 0.0)
    gain = amount * truth.ratio * (partner_weight * (1 - nitride - unreacted) + NITROGEN * 2 / 3 * nitride)
    dirt = faults.get("unfired", 0.0)
    product_mass = truth.vessel + truth.element + gain
    return crucible.weighed(shape, truth.vessel + dirt, truth.element, [product_mass, product_mass])


def _in_air(options: CombinationOptions) -> bool:
    return options.second == "O"


CAUSES = (
    Cause(
        "smoke",
        "smoke lost when the lid was lifted",
        ReadingShifted("vessel_product", -1.0),
        "g",
        5e-6,
        3e-5,
        "30 mg of smoke fill the hood and are seen",
    ),
    Cause(
        "unreacted",
        "element left unreacted",
        TruthChanged("unreacted"),
        "%",
        0.05,
        0.5,
        "half the metal left shines through the product",
    ),
    Cause(
        "nitride",
        "nitride left",
        TruthChanged("nitride"),
        "%",
        0.05,
        0.3,
        "in air about a third at most goes to nitride",
        when=_in_air,
    ),
    Cause(
        "skin",
        "oxide skin on the metal",
        TruthChanged("skin"),
        "%",
        0.01,
        0.05,
        "a skin of more than 5 % is dull to the eye",
    ),
    Cause(
        "unfired",
        "crucible not fired",
        TruthChanged("unfired"),
        "g",
        5e-6,
        3e-5,
        "a clean crucible holds some tens of milligrams of moisture",
    ),
    Cause(
        "wet",
        "still wet after the water step",
        ReadingShifted("vessel_product"),
        "g",
        1e-5,
        1e-4,
        "0.1 g of water is seen as drops",
        when=_in_air,
    ),
    crucible.fingerprints(),
    Cause(
        "excess",
        "excess of the second element not burned off",
        ReadingShifted("vessel_product"),
        "g",
        1e-5,
        2e-4,
        "0.2 g of excess is seen as a melt or a crust",
    ),
    Cause(
        "lid",
        "lid in the last weighings only",
        ReadingShifted("vessel_product"),
        "g",
        8e-3,
        3e-2,
        "a lid weighs up to 30 g",
    ),
)


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    element, partner = parse_formula("Sn"), parse_formula("S")
    two = (parse_formula("SnS"), parse_formula("SnS2"))
    for net, with_product, candidates, level, value in every(
        crucible.forms(), (True, False), ((), two), ("formula", "percent"), ("last", "mean", "lowest")
    ):
        options = CombinationOptions(
            element=element,
            partner=partner,
            product=two[0] if with_product else None,
            candidates=candidates,
            level=level,
            constant_value=value,
        )
        yield Shape(options, *net)


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """The product, as found or as taught."""
    options: CombinationOptions = trial.options
    product = parse_formula(found) if found else options.product
    if product is None:
        yield Remain(None, f"product of {options.element} with {options.partner}", "solid")
    else:
        yield solid(product, trial.value("product_mass"))


METHOD = Method(
    name="combination",
    title="Formula by combination",
    page=page,
    options=CombinationOptions,
    results=RESULTS,
    key=key,
    headline=headline,
    judge=judge,
    shapes=shapes,
    causes=CAUSES,
    truth=truth,
    bench=bench,
    expect=expect,
    accepted=accepted_result,
    matched=matched_result,
    foresight=Foresight(foresee, ("vessel_mass", "vessel_volume"), usual=USUAL, label="element"),
    remains=remains,
)
