"""The waste sheet: what is left of a run or a day, how much, which container, what to do with it first.

Waste is sorted by liquid: a filtrate is one thing, however much is dissolved in it, and it goes where the strictest of
its contents must go. Solids go by themselves.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace

from claykettle.core.chemistry.equation import Equation
from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.chemistry.substances import OPEN, Register, streams
from claykettle.core.method import Options, Remain
from claykettle.core.quantity import figures
from claykettle.core.run import Evaluation, is_neutralised

BICARBONATE = parse_formula("NaHCO3")
PROTONS = {
    "HCl": 1, "HBr": 1, "HI": 1, "HNO3": 1, "HClO4": 1, "HC2H3O2": 1, "CH3COOH": 1, "C2H4O2": 1, "H2SO4": 2, "H3PO4": 3,
    "H2C2O4": 2, "C2H2O4": 2, "C6H8O7": 3,
}  # fmt: skip
"""How much bicarbonate a mol of each usual acid takes, in mol."""
HYDROXIDES = {"NaOH": 1, "KOH": 1, "NH3": 1, "NH4OH": 1, "LiOH": 1, "Ca(OH)2": 2, "Na2CO3": 2, "K2CO3": 2, "Na2O": 2}
"""How much acid a mol of each usual base takes, in mol."""
RULES = "Your local rules and your safety officer come first."
STRICTEST = ("heavy_metal", "halogenated", "oxidiser", "flammable", "acid", "base", "aqueous", "water", "gas")
"""Streams of liquids, that which wins first (common practice): a drop of lead makes a brine a lead waste."""
UNSURE_IN = ("heavy_metal",)
"""Where a content that no stream is named for may go too; anywhere else it is asked about first."""
RINSE = 10e-6
"""m³: what a rinse of beaker or paper takes (common practice)."""
BOTTLE, FULL = 1e-3, 0.8
"""m³, and how far a waste bottle is filled: no more than four fifths (common practice)."""


@dataclass(frozen=True)
class Held:
    """Something that a liquid holds, and how much of it; empty where nobody knows."""

    what: str
    amount: str


@dataclass(frozen=True)
class WasteLine:
    """One thing in a container: what, how much, what it holds, and what to do first (empty where nothing)."""

    what: str
    name: str
    amount: str
    first: str
    holds: tuple[Held, ...] = ()


@dataclass(frozen=True)
class Container:
    """One container, all that goes into it, and how far that fills it. An open one has no name: ask for it."""

    name: str
    title: str
    say: str
    lines: tuple[WasteLine, ...]
    fill: str = ""


@dataclass(frozen=True)
class WasteSheet:
    """All containers, what must be asked for first, and the sentence that defers to local rules."""

    containers: tuple[Container, ...]
    rules: str


@dataclass(frozen=True)
class Left:
    """What one trial leaves; whether its log says that it was neutralised, and how many rinses went into it."""

    remains: tuple[Remain, ...]
    neutralised: bool = False
    rinses: int = 0


@dataclass
class _Liquid:
    """A liquid with all that it holds: of one trial, or of several that hold the same."""

    name: str
    neutralised: bool = False
    contents: dict[str, tuple[Formula | None, float | None]] = field(default_factory=dict)
    volume: float = 0.0
    rinses: int = 0
    trials: int = 1

    def add(self, row: Remain) -> None:
        """Put something into it."""
        self.volume += row.volume or 0.0
        if row.formula is not None and row.formula.text == "H2O":
            return
        key = row.formula.text if row.formula is not None else row.what
        _, before = self.contents.get(key, (None, 0.0))
        known = before is not None and row.mol is not None
        self.contents[key] = (row.formula, (before or 0.0) + (row.mol or 0.0) if known else None)

    @property
    def whole(self) -> float:
        """What was measured of it and what it was rinsed with, in m³."""
        return self.volume + RINSE * self.rinses

    def stream(self, register: Register) -> str:
        """Where it goes: as strictly as its strictest content must, open where one of them is not known."""
        found = {OPEN if row is None else register.stream_of(row, True) for row, _ in self.contents.values()}
        if self.neutralised and found & {"acid", "base"}:
            found = (found - {"acid", "base"}) | {"aqueous"}
        spare = self.spare_acid
        if spare is not None and {"acid", "base"} <= found:
            found.discard("base" if spare > 0 else "acid")
        named = [stream for stream in STRICTEST if stream in found]
        if OPEN in found and not (named and named[0] in UNSURE_IN):
            return OPEN
        return named[0] if named else next(iter(found - {OPEN}), "water")

    @property
    def spare_acid(self) -> float | None:
        """How much more acid than base is in it, in mol; None where an amount is not known."""
        spare = 0.0
        for formula, mol in self.contents.values():
            each = 0 if formula is None else PROTONS.get(formula.text, 0) - HYDROXIDES.get(formula.text, 0)
            if each and mol is None:
                return None
            spare += each * (mol or 0.0)
        return spare

    def unknown(self, register: Register) -> list[str]:
        """Its contents for which no stream is named."""
        rows = self.contents.items()
        return [key for key, (row, _) in rows if row is None or register.stream_of(row, True) == OPEN]

    def acid(self, register: Register) -> list[tuple[Formula, float | None]]:
        """The acids in it that nobody neutralised."""
        if self.neutralised:
            return []
        rows = self.contents.values()
        return [(row, mol) for row, mol in rows if row is not None and register.stream_of(row, True) == "acid"]


RINSED = "rinse"
"""How the tag of an observation begins that counts a rinse."""


def left_of(evaluation: Evaluation) -> tuple[Left, ...]:
    """What a run leaves, trial by trial."""
    run = evaluation.run
    return tuple(
        Left(
            tuple(run.method.aftercare.remains(row.trial, next((word.text for word in row.words.values()), None))),
            is_neutralised(run, row.label),
            sum(tag.startswith(RINSED) for tag in run.tags(row.label)),
        )
        for row in evaluation.trials
    )


def waste_sheet(lefts: Iterable[Left], register: Register) -> WasteSheet:
    """What goes where. The same of several trials is one line."""
    solids: dict[str, Remain] = {}
    liquids: dict[object, _Liquid] = {}
    for left in lefts:
        own: dict[str, _Liquid] = {}
        for row in left.remains:
            if row.form == "solid":
                _sum(solids, row)
            else:
                own.setdefault(row.liquid, _Liquid(row.liquid, left.neutralised)).add(_known(row, register))
        for number, liquid in enumerate(own.values()):
            liquid.rinses = 0 if number else left.rinses
            _pool(liquids, liquid)
    found: dict[str, list[WasteLine]] = {}
    volumes: dict[str, float] = {}
    for row in solids.values():
        stream = register.stream_of(row.formula, False) if row.formula is not None else OPEN
        found.setdefault(stream, []).append(_solid_line(row, register))
    for liquid in liquids.values():
        stream = liquid.stream(register)
        found.setdefault(stream, []).append(_liquid_line(liquid, stream, register))
        volumes[stream] = volumes.get(stream, 0.0) + liquid.whole
    order = [OPEN, *streams()]
    containers = [
        _container(stream, found[stream], volumes.get(stream, 0.0)) for stream in sorted(found, key=order.index)
    ]
    bin_line = WasteLine("Filter papers, gloves, wipes", "", "", "without solids on them")
    containers.append(Container("bin", "The bin", "Papers that carried heavy metals go with them.", (bin_line,)))
    return WasteSheet(tuple(containers), RULES)


def _known(row: Remain, register: Register) -> Remain:
    """Something that is called by its name, such as a solvent, with the formula that the register has for it."""
    found = register.named(row.what) if row.formula is None else None
    return row if found is None else replace(row, formula=found.formula)


def _sum(found: dict[str, Remain], row: Remain) -> None:
    key = row.formula.text if row.formula is not None else row.what
    before = found.get(key)
    known = before is not None and before.mol is not None and row.mol is not None
    mol = row.mol if before is None else (before.mol or 0.0) + (row.mol or 0.0) if known else None
    found[key] = Remain(row.formula, row.what, row.form, mol)


def _pool(found: dict[object, _Liquid], liquid: _Liquid) -> None:
    """Liquids that hold the same go together."""
    key = (liquid.name, liquid.neutralised, frozenset(liquid.contents))
    before = found.get(key)
    if before is None:
        found[key] = liquid
        return
    for name, (formula, mol) in liquid.contents.items():
        before.add(Remain(formula, name, "dissolved", mol))
    before.volume += liquid.volume
    before.rinses += liquid.rinses
    before.trials += 1


def _container(stream: str, lines: Sequence[WasteLine], volume: float) -> Container:
    if stream == OPEN:
        title, say = (
            "Open: ask before it is poured away",
            "No stream is named for this. Ask, then name it in the register.",
        )
        return Container(OPEN, title, say, tuple(lines))
    row = streams()[stream]
    return Container(row.name, row.title, row.say, tuple(lines), _fill(volume) if volume > 0 else "")


def _fill(volume: float) -> str:
    """How many bottles that takes, none filled above four fifths."""
    bottles = max(1, math.ceil(volume / (FULL * BOTTLE) - 1e-9))
    share = f"{100 * volume / (bottles * BOTTLE):.0f} %"
    shown = f"{figures(1000 * volume, 2)} L" if volume >= BOTTLE else f"{figures(1e6 * volume, 2)} mL"
    if bottles == 1:
        return f"About {shown}: one 1 L bottle, {share} full"
    return f"About {shown}: {bottles} bottles of 1 L, each {share} full"


def _solid_line(row: Remain, register: Register) -> WasteLine:
    if row.formula is None:
        return WasteLine(row.what, "", "", "")
    found = register.find(row.formula)
    return WasteLine(row.formula.text, found.name if found else "", _grams(row.formula, row.mol), "")


def _grams(formula: Formula, mol: float | None) -> str:
    return "" if mol is None else f"{figures(1000 * mol * formula.molar_mass, 3)} g"


def _liquid_line(liquid: _Liquid, stream: str, register: Register) -> WasteLine:
    title = f"{liquid.name[0].upper()}{liquid.name[1:]}"
    many = f"of {liquid.trials} trials" if liquid.trials > 1 else ""
    holds = tuple(
        Held(key, "" if formula is None else _grams(formula, mol)) for key, (formula, mol) in liquid.contents.items()
    )
    first = list(_first(liquid, stream, register))
    return WasteLine(title, many, _volume(liquid), " ".join(first), holds)


def _volume(liquid: _Liquid) -> str:
    if liquid.whole <= 0:
        return ""
    shown = f"about {figures(1e6 * liquid.whole, 2)} mL"
    if not liquid.rinses:
        return f"{shown} measured" if liquid.volume else shown
    return f"{shown}, {liquid.rinses} rinses in it"


def _first(liquid: _Liquid, stream: str, register: Register) -> Iterator[str]:
    """What to do before it is poured anywhere."""
    if liquid.neutralised:
        yield "Neutralised, by its log."
    acids = liquid.acid(register)
    if acids and stream == "acid":
        yield _neutralise(liquid, acids)
    elif acids and stream not in ("base", "aqueous"):
        yield "It is acid too: say so on the label, and leave the cap loose while anything fizzes."
    unknown = liquid.unknown(register)
    if unknown and stream == OPEN:
        yield f"Ask about {', '.join(unknown)}."
    elif unknown:
        yield f"Ask about {', '.join(unknown)} as well."


def _neutralise(liquid: _Liquid, acids: Sequence[tuple[Formula, float | None]]) -> str:
    """How much bicarbonate the acid takes that is left when it has met the base beside it."""
    spare = liquid.spare_acid
    if spare is None or any(formula.text not in PROTONS for formula, _ in acids):
        return "Solid bicarbonate until the fizzing stops."
    grams = 1000 * spare * BICARBONATE.molar_mass
    return f"About {figures(grams, 2)} g of solid bicarbonate, until the fizzing stops."


def formulas_of(options: Options) -> tuple[Formula, ...]:
    """Every substance that options name, alone, in a list or in an equation; ions and water are left out."""
    found: dict[str, Formula] = {}
    for formula in _named(options):
        if not formula.charge and formula.text != "H2O":
            found.setdefault(formula.text, formula)
    return tuple(found.values())


def _named(value: object) -> Iterator[Formula]:
    if isinstance(value, Formula):
        yield value
    elif isinstance(value, Equation):
        yield from (row.formula for row in value.species)
    elif isinstance(value, Options):
        for name in type(value).model_fields:
            yield from _named(getattr(value, name))
    elif isinstance(value, tuple):
        for row in value:
            yield from _named(row)
