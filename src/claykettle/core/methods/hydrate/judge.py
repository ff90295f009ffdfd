"""What is said of a trial beyond its numbers."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from functools import lru_cache

from claykettle.core.chemistry.formula import Formula
from claykettle.core.chemistry.hydrates import given_off, known_salt, lower_hydrates
from claykettle.core.judgement.constancy import is_constant
from claykettle.core.judgement.digits import swapped
from claykettle.core.judgement.identify import tell_apart, with_likelihoods
from claykettle.core.judgement.ratios import is_inside, judge_formula, misfit, misfits, unsure
from claykettle.core.method import Formulated, Headline, Judgement, PlainReadings, Trial
from claykettle.core.methods.hydrate.options import WATER, HydrateOptions, ratios_up_to
from claykettle.core.methods.hydrate.page import crucible
from claykettle.core.methods.parts.crucible import too_far
from claykettle.core.quantity import Reading, exact, nominal, standard_uncertainty, with_uncertainty
from claykettle.core.verdict import Candidate, Verdict, candidate

BEYOND = 0.5
"""No spatter, moisture or water left moves a weighing by so much of the sample: that is a slip (common practice)."""
HOME = 1.0
"""Standard uncertainties within which a swap must bring the ratio: chance does it half as often as within two."""
CLEARLY_OFF = 4.0
"""Standard uncertainties beyond which chance no longer explains a misfit, so that a slip is worth asking about."""


def ratio_candidates(trial: Trial) -> tuple[Candidate, ...]:
    """Every hydrate of the known salt up to `max_ratio`, the nearest first."""
    options, ratio = trial.options, trial.values.get("water_ratio")
    if ratio is None:
        return ()
    texts, ratios, charges = _hydrates(options.salt, options.max_ratio, options.halves, options.accepted)
    offs = misfits(ratio, ratios)
    nearest = sorted(range(len(ratios)), key=[abs(off) for off in offs].__getitem__)
    return tuple([candidate(texts[i], ratios[i], offs[i], ratios[i], charges[i]) for i in nearest])


@lru_cache(maxsize=256)
def _hydrates(
    salt: Formula, most: int, halves: bool, accepted: Formula | None
) -> tuple[tuple[str, ...], tuple[float, ...], tuple[bool | None, ...]]:
    """The formulas of a salt's hydrates, their ratios as plain numbers, and whether they may be the answer: a half
    hydrate only where a source knows it or the instructor named it.
    """
    known = known_salt(salt)
    named = {row.water_ratio for row in (*(known.hydrates if known else ()), *((accepted,) if accepted else ()))}
    ratios = sorted({*ratios_up_to(most, 2 if halves else 1), *named})
    allowed = tuple(None if ratio.denominator == 1 or ratio in named else False for ratio in ratios)
    return tuple(salt.hydrate(x).text for x in ratios), tuple(float(x) for x in ratios), allowed


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
    verdicts = [*crucible.judge(trial), *_gives_off(options)]
    candidates: tuple[Candidate, ...] = ()
    words: dict[str, Formulated] = {}
    if not any(verdict.level == "stop" for verdict in verdicts):
        by_ratio = options.asks_formula
        candidates = ratio_candidates(trial) if by_ratio else percent_candidates(trial)
        if candidates:
            accepted = options.accepted.text if options.accepted is not None else ""
            formula, verdict = judge_formula(
                decisive(options), _measured(trial), candidates, accepted=accepted, value=trial.value("water_ratio")
            )
            words["formula"] = formula
            verdicts.append(verdict)
        if not by_ratio:
            verdicts += tell_apart(decisive(options), candidates, 100 * trial.uncertainty("water_percent"))
        verdicts += _too_much_lost(trial)
        stopped = list(_plateau(trial))
        verdicts = [*(unsure(row) if stopped else row for row in verdicts), *stopped]
        verdicts += _swapped_digits(trial)
    return Judgement(tuple(verdicts), candidates, words)


def _gives_off(options: HydrateOptions) -> Iterator[Verdict]:
    """A salt that does not lose its water alone: a caution, and no honest ratio."""
    salt = options.salt or (options.accepted.anhydrous if options.accepted is not None else None)
    gas = given_off(salt) if salt is not None else ""
    if salt is not None and gas:
        text = (
            f"Heated, the hydrate of {salt.text} gives off {gas} with its water: in the hood, and ask your safety "
            "officer. What is lost is more than water."
        )
        yield Verdict("gives-off", "watch", "vessel_residue", text)


def decisive(options: HydrateOptions) -> str:
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
    about = decisive(options)
    value = trial.value(about)
    limit, name = _most_water(options)
    if value is None or limit is None or value <= limit + too_far(trial, about):
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
    """A constant mass that may be a lower hydrate's, not the dry salt's."""
    accepted, options = trial.options.accepted, trial.options
    series = [reading.si for reading in trial.series("vessel_residue")]
    lost = trial.values.get("water_percent")
    if lost is None or not is_constant(series, options.tolerance.si):
        return
    if accepted is not None and is_inside(lost, water_fraction(accepted)):
        return
    for whole, lower in _stops(options):
        if is_inside(lost, fraction_gone(whole, lower)):
            of = "" if accepted is not None else f", had it been {whole.text}"
            text = (
                f"The mass has settled where {lower.text} would{of}: a plateau, not the dry salt. "
                "A flat mass does not prove dryness; heat more strongly and weigh again."
            )
            yield Verdict("plateau", "watch", "vessel_residue", text)
            return


def fraction_gone(whole: Formula, lower: Formula) -> float:
    """The mass fraction of a hydrate that is gone where it stopped at a lower one."""
    one = whole.molar_mass / float(whole.parts[0][0])
    return float(whole.water_ratio - lower.water_ratio) * WATER.molar_mass / one


@lru_cache(maxsize=64)
def _stops(options: HydrateOptions) -> tuple[tuple[Formula, Formula], ...]:
    """Every hydrate that it may have been, with every lower one at which it may have stopped."""
    if options.accepted is not None:
        wholes: tuple[Formula, ...] = (options.accepted,)
    elif options.salt is not None:
        known = known_salt(options.salt)
        wholes = known.hydrates if known is not None else ()
    else:
        wholes = options.unknowns
    return tuple((whole, lower) for whole in wholes for lower in lower_hydrates(whole))


def _expected(options: HydrateOptions) -> tuple[Fraction, ...]:
    """The ratios that would be no surprise: the accepted one, else the listed ones, else whole numbers."""
    if options.accepted is not None:
        return (options.accepted.water_ratio,)
    known = known_salt(options.known_salt)
    if known is not None:
        return tuple(row.water_ratio for row in known.hydrates)
    return tuple(ratio for ratio in options.ratios if ratio.denominator == 1)


def _swapped_digits(trial: Trial) -> Iterator[Verdict]:
    """A ratio far from every expected one, which two swapped digits in one weighing would bring home.

    Only of a swap that moves more than any other cause: smaller ones fit one faulty run in seven by chance, and are
    asked about where they are typed.
    """
    options: HydrateOptions = trial.options
    ratio = trial.values.get("water_ratio")
    series = [reading.si for reading in trial.series("vessel_residue")]
    if ratio is None or not is_constant(series, options.tolerance.si):
        return
    expected = _expected(options)
    if any(abs(misfit(ratio, float(x))) <= CLEARLY_OFF for x in expected):
        return
    best: tuple[float, str, str, str, Fraction] | None = None
    least = BEYOND * (trial.value("sample_mass") or 0.0)
    for label, typed, other, changed in _one_swap(trial):
        if abs(float(typed.si - other.si)) < least:
            continue
        values = trial.sheet.evaluate(changed)
        found, sample = values.get("water_ratio"), nominal(values.get("sample_mass") or 0.0)
        if found is None or not 0.5 <= sample / (trial.value("sample_mass") or 1.0) <= 2:
            continue  # a vessel that would make another sample of it was asked about when it was weighed
        for x in expected:
            off = abs(found - float(x)) / standard_uncertainty(ratio)
            if off <= HOME and (best is None or off < best[0]):
                best = (off, label, typed.digits, other.digits, x)
    if best is not None:
        _, label, was, should, x = best
        text = (
            f"{_measured(trial)} fits no hydrate to be expected here. Were digits swapped in '{label}'? "
            f"With {should} in place of {was} it would be {options.known_salt.hydrate(x).text}. "
            "Look at what was noted, or weigh again."
        )
        yield Verdict("transposition", "watch", "water_ratio", text)


def _one_swap(trial: Trial) -> Iterator[tuple[str, Reading, Reading, PlainReadings]]:
    """Label, the reading as typed and with other digits, and plain SI readings, of every swap in one weighing."""
    plain = trial.plain
    for name, readings in trial.readings.items():
        label = trial.sheet.labels[name]
        if not isinstance(readings, tuple):
            for other in swapped(readings):
                yield label, readings, other, plain | {name: float(other.si)}
            continue
        for other in swapped(readings[-1]):
            # the swapped-back value stands for the series: its twin before it may bear the same slip
            yield (
                f"{label}, {trial.sheet.readings[name].round} {len(readings)}",
                readings[-1],
                other,
                plain | {name: [float(other.si)]},
            )
