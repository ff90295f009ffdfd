"""The waste sheet: what is left of a run or a day, how much, which container, what to do with it first."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

from claykettle.core.chemistry.equation import Equation
from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.chemistry.substances import OPEN, Register, streams
from claykettle.core.method import Options, Remain
from claykettle.core.quantity import figures

BICARBONATE = parse_formula("NaHCO3")
PROTONS = {"HCl": 1, "HNO3": 1, "HC2H3O2": 1, "H2SO4": 2, "H3PO4": 3, "C6H8O7": 3}
"""How much bicarbonate a mol of each usual acid takes, in mol."""
RULES = "Your local rules and your safety officer come first."


@dataclass(frozen=True)
class WasteLine:
    """One thing in a container: what, how much, and what to do first (empty where nothing)."""

    what: str
    name: str
    amount: str
    first: str


@dataclass(frozen=True)
class Container:
    """One container and all that goes into it. An open one has no name: the stream must be asked for."""

    name: str
    title: str
    say: str
    lines: tuple[WasteLine, ...]


@dataclass(frozen=True)
class WasteSheet:
    """All containers, what must be asked for first, and the sentence that defers to local rules."""

    containers: tuple[Container, ...]
    rules: str


def waste_sheet(remains: Iterable[Remain], register: Register) -> WasteSheet:
    """What goes where. The same substance of several runs is one line."""
    found: dict[str, list[WasteLine]] = {}
    for row in _summed(remains):
        stream = register.stream_of(row.formula, row.form == "dissolved") if row.formula is not None else OPEN
        found.setdefault(stream, []).append(_line(row, stream, register))
    order = [OPEN, *streams()]
    containers = [_container(stream, found[stream]) for stream in sorted(found, key=order.index)]
    bin_line = WasteLine("Filter papers, gloves, wipes", "", "", "without solids on them")
    containers.append(Container("bin", "The bin", "Papers that carried heavy metals go with them.", (bin_line,)))
    return WasteSheet(tuple(containers), RULES)


def _summed(remains: Iterable[Remain]) -> list[Remain]:
    found: dict[tuple[str, str], Remain] = {}
    for row in remains:
        key = (row.formula.text if row.formula is not None else row.what, row.form)
        before = found.get(key)
        known = before is not None and before.mol is not None and row.mol is not None
        mol = row.mol if before is None else (before.mol or 0.0) + (row.mol or 0.0) if known else None
        found[key] = Remain(row.formula, row.what, row.form, mol)
    return list(found.values())


def _container(stream: str, lines: Sequence[WasteLine]) -> Container:
    if stream == OPEN:
        title, say = (
            "Open: ask before it is poured away",
            "No stream is named for this. Ask, then name it in the register.",
        )
        return Container(OPEN, title, say, tuple(lines))
    row = streams()[stream]
    return Container(row.name, row.title, row.say, tuple(lines))


def _line(row: Remain, stream: str, register: Register) -> WasteLine:
    if row.formula is None:
        return WasteLine(row.what, "", "", "")
    found = register.find(row.formula)
    amount = "" if row.mol is None else f"{figures(1000 * row.mol * row.formula.molar_mass, 3)} g"
    if amount and row.form == "dissolved":
        amount += " in solution"
    first = _neutralise(row) if stream == "acid" else ""
    return WasteLine(row.formula.text, found.name if found else "", amount, first)


def _neutralise(row: Remain) -> str:
    """How much bicarbonate the acid that is left takes."""
    protons = PROTONS.get(row.formula.text) if row.formula is not None else None
    if protons is None or row.mol is None:
        return "solid bicarbonate until the fizzing stops"
    grams = 1000 * protons * row.mol * BICARBONATE.molar_mass
    return f"about {figures(grams, 2)} g of solid bicarbonate, until the fizzing stops"


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
