"""What is said of a trial beyond its numbers."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import replace

from claykettle.core.chemistry.charges import common_charges
from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.judgement.ratios import judge_formula, misfits, said_of
from claykettle.core.method import Bound, Headline, Judgement, Statement, Trial
from claykettle.core.methods.combination.options import CombinationOptions
from claykettle.core.methods.combination.page import all_formulas, crucible, possible
from claykettle.core.methods.parts.excess import judge_yield
from claykettle.core.quantity import exact, with_uncertainty
from claykettle.core.verdict import Candidate, Verdict, candidate


def ratio_candidates(trial: Trial) -> tuple[Candidate, ...]:
    """Every formula held against the ratio, the nearest first; `charges` says whether chemistry lets it stand."""
    options, ratio = trial.options, trial.values.get("partner_ratio")
    if ratio is None:
        return ()
    formulas = all_formulas(options)
    ratios = [options.ratio(row) for row in formulas]
    allowed = {row.text for row in possible(options)}
    silent = knows_nothing(options)
    rows = (
        candidate(row.text, x, off, expected=x, charges=None if silent else row.text in allowed)
        for row, x, off in zip(formulas, ratios, misfits(ratio, ratios), strict=True)
    )
    return tuple(sorted(rows, key=lambda row: (abs(row.misfit), parse_formula(row.text).sum_of_indices)))


def knows_nothing(options: CombinationOptions) -> bool:
    """Whether the table knows no charge of one of the two: then chemistry says nothing of any formula."""
    return not (common_charges(options.first) and common_charges(options.second))


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = crucible.judge(trial)
    candidates = ratio_candidates(trial) if not any(verdict.level == "stop" for verdict in verdicts) else ()
    if not candidates:
        return Judgement(tuple(verdicts))
    options: CombinationOptions = trial.options
    accepted = options.product.text if options.product is not None else ""
    formula, verdict = judge_formula(
        "partner_ratio", _measured(trial), candidates, accepted=accepted, value=trial.value("partner_ratio")
    )
    mixed = list(_mixture(trial)) if formula.text is None else []
    if mixed:
        # a mixture that was found is the answer, not a failure to find one
        verdict = replace(verdict, text=f"{_measured(trial)} is that of no single formula: it is that of a mixture.")
    verdicts += [verdict, *_unbalanced(candidates, formula.text), *mixed]
    verdicts += judge_yield(trial, "percent_yield", OVER)
    return Judgement(tuple(verdicts), candidates, {"formula": formula}, _statements(trial, candidates))


def physical(trial: Trial) -> Iterator[Bound]:
    """More taken up than any formula considered holds."""
    most = 1.5 * trial.options.max_index
    yield Bound(
        "partner_ratio",
        -math.inf,
        most,
        "so much was taken up as no formula holds: a lid, another vessel or another line.",
    )


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
    fits = [row.text for row in candidates if row.status == "match" and row.charges is False]
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
    if knows_nothing(options):
        chemistry = f"No usual charges of {options.first} or {options.second} are listed here: only the data speak."
        return (
            Statement("The data say", data),
            Statement("Chemistry allows", chemistry),
            *_expected(options, candidates),
        )
    allowed = sorted(
        {row.text for row in candidates if row.charges}, key=lambda text: parse_formula(text).sum_of_indices
    )
    near = [row for row in candidates if row.charges][:2]
    chemistry = f"Common charges or your list allow {_some(allowed)}; nearest {near[0].text if near else 'none'}."
    said = (Statement("The data say", data), Statement("Chemistry allows", chemistry))
    return (*said, *_expected(options, candidates))


def _expected(options: CombinationOptions, candidates: Sequence[Candidate]) -> Iterator[Statement]:
    if options.product is not None:
        wanted = next(row for row in candidates if row.text == options.product.text)
        text = f"{wanted.text}, {exact(wanted.ratio or 0.0)} : 1; measured {said_of(wanted.misfit)}."
        yield Statement("You expected", text)


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
