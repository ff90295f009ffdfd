"""Recrystallization: how much solvent, how much can come back, how much came.

Saturated hot with the least solvent, cooled, collected: what the cold solvent keeps is lost, and nothing else should
be. For a hydrate whose solubility is told without its water, the crystal water joins the solvent when it dissolves and
leaves it with the crystals. Everything is computed in SI.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import product
from math import isnan
from typing import Annotated, Any

from pydantic import Field, PlainSerializer, PlainValidator, WithJsonSchema, model_validator

from claykettle.core.chemistry.solubility import (
    CELSIUS,
    Curve,
    built_in_curves,
    curve_for,
    curve_named,
    curve_of_points,
)
from claykettle.core.errors import Refusal
from claykettle.core.judgement.weighing_order import STEP
from claykettle.core.method import (
    FIRST,
    Cause,
    Foresight,
    FormulaField,
    GivenDensity,
    Headline,
    Judgement,
    Method,
    Options,
    ReadingShifted,
    Remain,
    Setting,
    Statement,
    Trial,
    TruthChanged,
    custom_error,
    dissolved,
    field_error,
    known,
    solid,
)
from claykettle.core.methods.parts.excess import judge_yield
from claykettle.core.pictures.curve import CurvePicture, SolubilityPoint
from claykettle.core.pictures.pictures import Pictures
from claykettle.core.quantity import Number, Reading, exact, figures, nominal, parse_reading
from claykettle.core.sheet import Page, Pick, Shape, Values
from claykettle.core.verdict import Verdict

LEAST_POINTS = 2
HOT_K = CELSIUS + 60
"""What a plan takes as hot where nothing else is said: below every boiling solvent in a teaching laboratory."""


@dataclass(frozen=True)
class Solubility:
    """A curve as the options give it, and how that was written: a name of the table, or points."""

    curve: Curve
    written: str | tuple[tuple[str, float], ...]


def _solubility(value: object) -> Solubility:
    if isinstance(value, Solubility):
        return value
    if isinstance(value, str) and ";" not in value and not any(character.isdigit() for character in value.strip()[:1]):
        return _by_name(value)
    rows = _rows(value)
    points: list[tuple[float, float]] = []
    written: list[tuple[str, float]] = []
    for text, amount in rows:
        try:
            reading = parse_reading(text, "temperature", "degC")
        except Refusal as refusal:
            raise custom_error(refusal) from None
        if not 0 < amount < 1e6:
            raise field_error("not-positive", f"{amount:g} g per 100 g cannot be; a solubility lies above zero.")
        points.append((float(reading.si), amount))
        written.append((f"{reading.digits} {reading.unit.symbol}", amount))
    if len({point[0] for point in points}) < max(LEAST_POINTS, len(points)):
        raise field_error("points", "Two points of different temperature at least, each temperature once.")
    return Solubility(curve_of_points(points), tuple(written))


def _by_name(name: str) -> Solubility:
    curve = curve_named(name)
    if curve is None:
        some = ", ".join(row.name for row in built_in_curves()[:6])
        raise field_error(
            "unknown-curve", f"No curve '{name[:40]}' is listed; there are {some} and more. Or give points."
        )
    return Solubility(curve, curve.name)


def _rows(value: object) -> list[tuple[str, float]]:
    """Points as pairs, or as text: `20 degC 31.6; 60 degC 110`."""
    said = "Points are pairs of temperature and grams per 100 g of solvent, such as 20 degC 31.6; 60 degC 110."
    pairs: Sequence[Any] = [part.rsplit(None, 1) for part in value.split(";")] if isinstance(value, str) else ()
    if isinstance(value, list | tuple):
        pairs = value
    rows: list[tuple[str, float]] = []
    for pair in pairs:
        if not isinstance(pair, list | tuple) or len(pair) != LEAST_POINTS or not isinstance(pair[0], str):
            raise field_error("points", said)
        try:
            rows.append((pair[0], float(str(pair[1]).replace(",", "."))))
        except ValueError:
            raise field_error("points", said) from None
    if not rows:
        raise field_error("points", said)
    return rows


def _as_written(value: Solubility) -> Any:
    return value.written if isinstance(value.written, str) else [list(point) for point in value.written]


SolubilityField = Annotated[
    Solubility,
    PlainValidator(_solubility),
    PlainSerializer(_as_written),
    WithJsonSchema(
        {
            "anyOf": [
                {"type": "string", "maxLength": 400},
                {
                    "type": "array",
                    "maxItems": 60,
                    "items": {"type": "array", "prefixItems": [{"type": "string"}, {"type": "number"}], "maxItems": 2},
                },
            ]
        }
    ),
]


class RecrystallizationOptions(Options):
    """Options of the method `recrystallization`, as in the run file."""

    solute: FormulaField = Field(
        title="Substance, as it is weighed",
        description="With its crystal water: KAl(SO4)2.12H2O",
        json_schema_extra=FIRST,
    )
    solvent: str = Field(default="H2O", max_length=60, title="Solvent", json_schema_extra=FIRST)
    solvent_density: GivenDensity | None = Field(
        default=None,
        title="Density of the solvent",
        description="Where it is measured in mL; empty: it is weighed.",
        json_schema_extra=FIRST,
    )
    solubility: SolubilityField | None = Field(
        default=None,
        title="Solubility",
        description="A name of the table, or points: 20 degC 31.6; 60 degC 110 (g per 100 g). Empty: the table's.",
        json_schema_extra=FIRST | {"wide": True},
    )

    @model_validator(mode="after")
    def _hangs_together(self) -> RecrystallizationOptions:
        if self.solubility is None and (self.solvent != "H2O" or curve_for(self.solute) is None):
            text = f"No solubility of {self.solute.text} in {self.solvent} is listed: give points."
            raise field_error("no-curve", text, "solubility")
        basis = self.curve.basis
        if basis is not None and basis.counts != self.solute.anhydrous.counts:
            text = f"The curve is of {basis.text}, not of {self.solute.text}."
            raise field_error("other-curve", text, "solubility")
        if self.solvent_density is not None and self.solvent_density.si <= 0:
            text = "A density lies above zero."
            raise field_error("not-positive", text, "solvent_density")
        return self

    @property
    def curve(self) -> Curve:
        """The curve that counts."""
        return self.solubility.curve if self.solubility is not None else known(curve_for(self.solute))

    @property
    def salt_share(self) -> float:
        """Mass of what the curve speaks of in one kg of the solute as weighed."""
        return self.curve.salt_share(self.solute)


page = Page("recrystallization")


def _by_volume(shape: Shape) -> bool:
    return shape.options.solvent_density is not None


def _by_mass(shape: Shape) -> bool:
    return not _by_volume(shape)


page.reading(
    "crude", "crude", "g", "balance", net=True, sole=True, pan="added", change="crude", usual=("0.05 g", "200 g")
)
page.reading("solvent", "solvent", "g", "balance", when=_by_mass, net=True, sole=True)
page.reading("solvent", "solvent", "mL", "liquid_volume", when=_by_volume)
page.given(
    "solvent_density",
    "density of the solvent",
    "g/mL",
    lambda options: known(options.solvent_density),
    when=_by_volume,
)
page.reading("hot_temperature", "hot temperature", "degC", "thermometer")
page.reading("cold_temperature", "cold temperature", "degC", "thermometer")
page.reading("crystals", "dry crystals", "g", "balance", net=True, sole=True)


@page.line("mass of solvent", "g", "(solvent)", when=_by_mass, positive=True, name="solvent_mass")
def solvent_weighed(solvent: Number) -> Number:
    return solvent


@page.line(
    "mass of solvent",
    "g",
    "(solvent) × (density of the solvent)",
    when=_by_volume,
    positive=True,
    name="solvent_mass",
)
def solvent_measured(solvent: Number, solvent_density: Number) -> Number:
    return solvent * solvent_density


@page.line(
    "salt in the substance",
    "1",
    lambda options: (
        "1" if options.salt_share == 1 else f"{options.curve.basis.molar_mass_rule} / {options.solute.molar_mass_rule}"
    ),
)
def salt_share(options: RecrystallizationOptions) -> Number:
    return options.salt_share


@page.table("hot solubility", "1", "read off the curve at the hot temperature, g of salt per g of solvent")
def hot_solubility(hot_temperature: float, options: RecrystallizationOptions) -> float:
    return options.curve.at(hot_temperature)


@page.table("cold solubility", "1", "read off the curve at the cold temperature, g of salt per g of solvent")
def cold_solubility(cold_temperature: float, options: RecrystallizationOptions) -> float:
    return options.curve.at(cold_temperature)


def _beside_its_water(solubility: Number, share: Number) -> Number:
    """What is left of a kg of the substance's salt beyond what its own crystal water dissolves."""
    return share - solubility * (1 - share)


@page.choice(
    "least solvent",
    "g",
    {
        "needed": "(crude) × ((salt in the substance) − (hot solubility) × (1 − (salt in the substance))) / "
        "(hot solubility)",
        "none": "0 × (crude)",
    },
)
def least_solvent(crude: Number, salt_share: Number, hot_solubility: Number) -> Pick | None:
    more = _beside_its_water(hot_solubility, salt_share)
    if isnan(nominal(more)):
        return None
    # a hydrate may dissolve in its own crystal water
    return Pick("needed", crude * more / hot_solubility) if nominal(more) > 0 else Pick("none", crude * 0)


def _held(solubility: Number, share: Number, solvent: Number, crude: Number) -> Pick | None:
    """How much of the crude the solvent holds; None beyond the curve."""
    more = _beside_its_water(solubility, share)
    if isnan(nominal(more)):
        return None
    if nominal(more) <= 0:
        return Pick("all", crude)
    held = solubility * solvent / more
    return Pick("held", held) if nominal(held) < nominal(crude) else Pick("all", crude)


def _held_rules(which: str) -> dict[str, str]:
    return {
        "held": f"({which} solubility) × (mass of solvent) / "
        f"((salt in the substance) − ({which} solubility) × (1 − (salt in the substance)))",
        "all": "(crude)",
    }


@page.choice("dissolved when hot", "g", _held_rules("hot"), name="dissolved_hot")
def dissolved_when_hot(hot_solubility: Number, salt_share: Number, solvent_mass: Number, crude: Number) -> Pick | None:
    return _held(hot_solubility, salt_share, solvent_mass, crude)


@page.choice("kept when cold", "g", _held_rules("cold"), name="kept_cold")
def kept_when_cold(cold_solubility: Number, salt_share: Number, solvent_mass: Number, crude: Number) -> Pick | None:
    return _held(cold_solubility, salt_share, solvent_mass, crude)


@page.line("greatest recovery", "g", "(dissolved when hot) − (kept when cold)")
def greatest_recovery(dissolved_hot: Number, kept_cold: Number) -> Number:
    return dissolved_hot - kept_cold


@page.line("greatest recovery of the crude", "%", "(greatest recovery) / (crude) × 100 %")
def greatest_recovery_percent(greatest_recovery: Number, crude: Number) -> Number:
    return greatest_recovery / crude


@page.line("recovery", "%", "(dry crystals) / (crude) × 100 %")
def recovery_percent(crystals: Number, crude: Number) -> Number:
    return crystals / crude


@page.choice(
    "recovery of what is possible",
    "%",
    {"some": "(dry crystals) / (greatest recovery) × 100 %"},
)
def recovery_of_possible(crystals: Number, greatest_recovery: Number) -> Pick | None:
    return Pick("some", crystals / greatest_recovery) if nominal(greatest_recovery) > 0 else None


RESULTS = (
    "least_solvent",
    "dissolved_hot",
    "kept_cold",
    "greatest_recovery",
    "greatest_recovery_percent",
    "recovery_percent",
    "recovery_of_possible",
)


# Judgement

SUSPECTS = "the crystals are still wet, it was colder or there was less solvent than written down, or a line is wrong"


def judge(trial: Trial) -> Judgement:
    """All that can be said about a trial so far."""
    verdicts = [*_temperatures(trial), *_more_than_crude(trial)]
    if not any(verdict.level == "stop" for verdict in verdicts):
        verdicts += judge_yield(trial, "recovery_of_possible", SUSPECTS)
        verdicts += _undissolved(trial)
    return Judgement(tuple(verdicts), statements=tuple(_statements(trial)))


def _temperatures(trial: Trial) -> Iterator[Verdict]:
    """A temperature beyond the curve, or the two exchanged."""
    curve = trial.options.curve
    typed: dict[str, Reading] = {}
    for name in ("hot_temperature", "cold_temperature"):
        reading = trial.typed(name)
        if reading is None:
            continue
        typed[name] = reading
        if not curve.covers(float(reading.si)):
            low, high = (exact(round(value - CELSIUS, 2)) for value in (curve.temperatures[0], curve.temperatures[-1]))
            ends = f"{low} to {high} °C"
            text = f"{reading.shown} lies beyond the curve of {curve.name}, {ends}: nothing is read off it there."
            yield Verdict("off-scale", "watch", name, text)
    if len(typed) == LEAST_POINTS and typed["hot_temperature"].si <= typed["cold_temperature"].si:
        text = (
            f"Hot ({typed['hot_temperature'].shown}) is not above cold ({typed['cold_temperature'].shown}): one of the "
            "two is on the wrong line."
        )
        yield Verdict(STEP, "stop", "hot_temperature", text)


def _more_than_crude(trial: Trial) -> Iterator[Verdict]:
    crude, crystals = trial.value("crude"), trial.value("crystals")
    if crude is None or crystals is None or crystals <= crude:
        return
    text = (
        f"{_grams(crystals)} of crystals from {_grams(crude)} of crude cannot be: they are wet, or a line is wrong. "
        "Dry and weigh again."
    )
    yield Verdict(STEP, "stop", "crystals", text)


def _undissolved(trial: Trial) -> Iterator[Verdict]:
    """Less solvent than the crude needs hot."""
    crude, held = trial.value("crude"), trial.value("dissolved_hot")
    if crude is None or held is None or held >= crude or trial.values.picks.get("dissolved_hot") == "all":
        return
    text = (
        f"At {trial.options.curve.name}'s hot temperature so much solvent holds {_grams(held)} of the {_grams(crude)}: "
        "the rest does not dissolve. Add solvent in small portions until it just does."
    )
    yield Verdict("undissolved", "watch", "dissolved_hot", text)


def _statements(trial: Trial) -> Iterator[Statement]:
    least, used = trial.value("least_solvent"), trial.value("solvent_mass")
    possible = trial.value("greatest_recovery_percent")
    if least is None:
        return
    beside = ""
    if used is not None and least > 0:
        beside = f" {_grams(used)} were taken, {figures(used / least, 2)} times that."
    yield Statement("Least solvent", f"{_grams(least)} would just dissolve it hot.{beside}")
    if possible is not None:
        text = f"{figures(100 * possible, 3)} % at most; the rest stays in the cold solvent."
        yield Statement("Can come back", text)


def _grams(mass: float) -> str:
    return f"{figures(1000 * mass, 3)} g"


def plotted(trial: Trial) -> CurvePicture:
    """The curve in grams of the substance as it is weighed, with both temperatures on it."""
    options: RecrystallizationOptions = trial.options
    curve, share = options.curve, options.salt_share

    def grams(kelvin: float) -> float | None:
        """g per 100 g of solvent; None where the substance melts in its own water, or beyond the curve."""
        solubility = curve.at(kelvin)
        more = _beside_its_water(solubility, share)
        return 100 * solubility / more if more > 0 else None

    def point(kelvin: float | None) -> SolubilityPoint | None:
        found = None if kelvin is None else grams(kelvin)
        return None if kelvin is None or found is None else SolubilityPoint(round(kelvin - CELSIUS, 4), found)

    low, high = curve.temperatures[0], curve.temperatures[-1]
    steps = (point(low + (high - low) * index / DRAWN) for index in range(DRAWN + 1))
    crude, solvent = trial.value("crude"), trial.value("solvent_mass")
    known_taken = crude is not None and solvent is not None and solvent > 0
    basis = options.solute.text if share == 1 else f"{options.solute.text}, its water counted as solvent"
    return CurvePicture(
        curve.name,
        basis,
        tuple(row for row in steps if row is not None),
        point(trial.value("hot_temperature")),
        point(trial.value("cold_temperature")),
        100 * (crude or 0.0) / (solvent or 1.0) if known_taken else None,
    )


DRAWN = 40
"""So many pieces make the drawn curve."""

# The bench model and the causes of error


@dataclass(frozen=True)
class RecrystallizationTruth:
    """What is really there, in kg and K: crude, solvent, both temperatures, and the dry crystals."""

    crude: float
    solvent: float
    hot: float
    cold: float
    crystals: float


def truth(shape: Shape, values: Values) -> RecrystallizationTruth:
    """The truth that these values speak of, were nothing wrong with them."""
    names = ("crude", "solvent_mass", "hot_temperature", "cold_temperature", "crystals")
    return RecrystallizationTruth(*(nominal(values[name]) for name in names))


def larger(truth: RecrystallizationTruth, times: float) -> RecrystallizationTruth:
    """The same in so many times the amount."""
    return replace(truth, crude=times * truth.crude, solvent=times * truth.solvent, crystals=times * truth.crystals)


def expect(shape: Shape, truth: RecrystallizationTruth, expected: float) -> RecrystallizationTruth:
    """The same crude and solvent, with so much of it come back."""
    return replace(truth, crystals=expected * truth.crude)


def _kept(options: RecrystallizationOptions, truth: RecrystallizationTruth, solvent: float, cold: float) -> float:
    pick = _held(options.curve.at(cold), options.salt_share, solvent, truth.crude)
    return 0.0 if pick is None else nominal(pick.value)


def bench(shape: Shape, truth: RecrystallizationTruth, faults: Mapping[str, float]) -> dict[str, Any]:
    """The readings in kg, m³ and K that honest instruments show of this truth.

    Faults: `more_solvent` (so much more was there than was written down, as a fraction), `warmer` (K above the cold
    temperature when it was filtered), `rinsed_away` (fraction of the crystals that too much or warm rinse took).
    """
    options: RecrystallizationOptions = shape.options
    solvent = truth.solvent * (1 + faults.get("more_solvent", 0.0))
    cold = min(truth.cold + faults.get("warmer", 0.0), options.curve.temperatures[-1])
    lost = _kept(options, truth, solvent, cold) - _kept(options, truth, truth.solvent, truth.cold)
    crystals = max(0.0, truth.crystals - lost) * (1 - faults.get("rinsed_away", 0.0))
    density = options.solvent_density
    readings = {
        "solvent": truth.solvent if density is None else truth.solvent / density.si,
        "hot_temperature": truth.hot,
        "cold_temperature": truth.cold,
    }
    for name, amount in (("crude", truth.crude), ("crystals", crystals)):
        split = name in shape.split
        readings |= {f"{name}_tare": DISH, f"{name}_gross": DISH + amount} if split else {name: amount}
    return readings


DISH = 0.0200
"""A watch glass (common practice)."""


def foresee(options: RecrystallizationOptions, crude: float, setting: Setting) -> RecrystallizationTruth:
    """What so much crude gives, dissolved in the least solvent and the setting's excess, cooled to its temperature."""
    curve, share = options.curve, options.salt_share
    hot = min(HOT_K, curve.temperatures[-1])
    cold = min(max(setting.temperature.si, curve.temperatures[0]), hot)
    least = crude * max(0.0, _beside_its_water(curve.at(hot), share)) / curve.at(hot)
    solvent = max(least * (1 + setting.excess.si), 1e-6)
    start = RecrystallizationTruth(crude, solvent, hot, cold, crude)
    return replace(start, crystals=crude - _kept(options, start, solvent, cold))


CAUSES = (
    Cause(
        "more-solvent",
        "more solvent than was written down",
        TruthChanged("more_solvent"),
        "%",
        0.1,
        1.0,
        "twice the solvent is a beaker too full",
    ),
    Cause(
        "not-cold",
        "filtered before it was cold",
        TruthChanged("warmer"),
        "K",
        2.0,
        15.0,
        "15 degrees above ice is felt at the beaker",
    ),
    Cause(
        "rinsed-away",
        "too much or warm rinse",
        TruthChanged("rinsed_away"),
        "%",
        0.02,
        0.3,
        "a third of the crystals going is seen",
    ),
    Cause(
        "wet",
        "crystals still wet",
        ReadingShifted("crystals"),
        "g",
        5e-5,
        1e-3,
        "a gram of solvent makes the crystals stick together",
    ),
    Cause(
        "left-behind",
        "crystals left in beaker and filter",
        ReadingShifted("crystals", -1.0),
        "g",
        5e-5,
        5e-4,
        "half a gram on glass and paper is seen",
    ),
)


def remains(trial: Trial, found: str | None) -> Iterator[Remain]:
    """The crystals, and what the mother liquor keeps."""
    solute = trial.options.solute
    crude, crystals = trial.value("crude"), trial.value("crystals")
    yield solid(solute, crystals)
    kept = None if crude is None or crystals is None else max(0.0, crude - crystals)
    yield dissolved(solute, None if kept is None else kept / solute.molar_mass)


def shapes() -> Iterator[Shape]:
    """Every form the page can take, for the check at import and for the tests."""
    alone = frozenset({"crude", "solvent", "crystals"})
    points = [["0 degC", 13.3], ["60 degC", 110.0]]
    rows: Sequence[dict[str, Any]] = (
        {"solute": "KNO3"},
        {"solute": "KAl(SO4)2.12H2O"},
        {"solute": "KNO3", "solubility": points},
    )
    for row, density, split in product(
        rows, (None, "0.998 g/mL"), (frozenset[str](), frozenset({"crude", "crystals"}))
    ):
        options = RecrystallizationOptions.model_validate(row | {"solvent_density": density})
        yield Shape(options, alone - ({"solvent"} if density else set()), split)


def _headline(options: RecrystallizationOptions) -> Headline:
    return Headline("{} recovered", "recovery_of_possible", "{} of what can come")


def _possible(values: Values) -> Number | None:
    """The greatest recovery: what was to be expected, as surely as the temperatures let it be known."""
    return values.get("greatest_recovery_percent")


METHOD = Method(
    name="recrystallization",
    title="Recrystallization",
    page=page,
    options=RecrystallizationOptions,
    results=RESULTS,
    key=lambda options: "recovery_percent",
    headline=_headline,
    judge=judge,
    shapes=shapes,
    causes=CAUSES,
    truth=truth,
    bench=bench,
    expect=expect,
    matched=lambda options, values: _possible(values),
    foresight=Foresight(
        foresee, ("temperature", "excess"), label="crude", usual={"excess": "10 %", "temperature": "5 degC"}
    ),
    larger=larger,
    remains=remains,
    pictures=lambda trial: Pictures(curve=plotted(trial)),
)
