"""The calculation page, in the order in which a pupil writes it; computed in SI, shown in the units named."""

from __future__ import annotations

from functools import lru_cache

from claykettle.core.chemistry.charges import charges_balance
from claykettle.core.chemistry.elements import atomic_weight
from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.judgement.constancy import COMBINING
from claykettle.core.judgement.empirical import small_indices, spelled
from claykettle.core.judgement.ratios import INSIDE, misfit
from claykettle.core.methods.combination.options import CombinationOptions
from claykettle.core.methods.parts.crucible import Crucible
from claykettle.core.quantity import Number, exact, nominal, standard_uncertainty
from claykettle.core.sheet import Page, Pick, Shape

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
    """The formulas that may be the answer: named ones, and those that chemistry does not rule out."""
    named = {row.text for row in options.named}
    return tuple(row for row in all_formulas(options) if row.text in named or charges_balance(row) is not False)
