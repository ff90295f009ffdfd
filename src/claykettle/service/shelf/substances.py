"""The register of substances: what ships, what was added here, and what a run or a day leaves to be sorted."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date

from sqlalchemy import select

from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.chemistry.substances import OPEN, Register, Substance, streams
from claykettle.core.errors import Conflict, Fault, Refusal
from claykettle.core.planning.waste import WasteSheet, formulas_of, waste_sheet
from claykettle.core.quantity import parse_reading
from claykettle.core.wording import fault_in_name
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.revealing import held_back
from claykettle.service.shelf.remains import LeftOfRun, left_of
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.summaries import days_of, last_day
from claykettle.store.tables import SubstanceRow

"""Tags of rinses begin so."""


class StreamView(View):
    """A waste stream that a substance can be given."""

    name: str
    title: str
    say: str


class SubstanceView(View):
    """A substance of the register; molar mass in g/mol and density in g/mL as text, streams by their titles.

    `dissolved` and `solid` are empty where nobody named a stream.
    """

    formula: str
    name: str
    molar_mass: str
    density: str
    hazards: list[str]
    dissolved: str
    solid: str
    remarks: str
    source: str
    own: bool


class RegisterView(View):
    """All substances, by name, and the streams there are."""

    substances: list[SubstanceView]
    streams: list[StreamView]


class RunSubstancesView(View):
    """What a run works with, as far as the register knows it, and the formulas that it does not know."""

    substances: list[SubstanceView]
    unknown: list[str]


class WasteView(View):
    """What is left of a run or of a day, and where it goes."""

    title: str
    runs: list[str]
    sheet: WasteSheet


def register(visit: Visit) -> Register:
    """The register with what was added here."""
    rows = visit.session.scalars(select(SubstanceRow).order_by(SubstanceRow.id))
    return Register(_substance(row) for row in rows)


def _substance(row: SubstanceRow) -> Substance:
    return Substance(
        parse_formula(row.formula),
        row.name,
        row.density,
        tuple(row.hazards),
        row.dissolved,
        row.solid,
        row.remarks,
        row.source,
        own=True,
    )


@may(BENCH, INSTRUCTOR)
def register_view(visit: Visit) -> RegisterView:
    """All substances by name, and the streams."""
    rows = sorted(register(visit).substances, key=lambda row: row.name.casefold())
    kinds = [StreamView.model_validate(row) for row in streams().values()]
    return RegisterView(substances=[_view(row) for row in rows], streams=kinds)


def _view(row: Substance) -> SubstanceView:
    return SubstanceView(
        formula=row.formula.text,
        name=row.name,
        molar_mass=f"{row.formula.molar_mass_g:.2f}",
        density=row.density,
        hazards=list(row.hazards),
        dissolved=_title(row.dissolved),
        solid=_title(row.solid),
        remarks=row.remarks,
        source=row.source,
        own=row.own,
    )


def _title(stream: str) -> str:
    return "" if stream == OPEN else streams()[stream].title


@dataclass(frozen=True)
class AddSubstance:
    """A substance as typed; `hazards` holds one a line, or separated by semicolons. A stream left open stays so."""

    uuid: str
    formula: str
    name: str
    hazards: str
    density: str = ""
    dissolved: str = OPEN
    solid: str = OPEN
    remarks: str = ""
    source: str = ""
    by: str = ""


@may(INSTRUCTOR, house=True)
def add_substance(visit: Visit, typed: AddSubstance) -> RegisterView:
    """Add a substance, or say something else of one: the latest counts. The same UUID twice adds one.

    Raises Refusal with every fault at its field; a substance without hazards is refused: 'none known' says so.
    """
    before = visit.session.scalar(select(SubstanceRow).where(SubstanceRow.uuid == typed.uuid))
    if before is None:
        visit.session.add(checked_substance(visit, typed))
        visit.session.flush()
    elif before.name != typed.name.strip():
        raise Conflict("This entry's number was already used; nothing was changed. Send it once more.")
    return register_view(visit)


def checked_substance(visit: Visit, typed: AddSubstance) -> SubstanceRow:
    """A row for a substance as typed. Raises Refusal with every fault at its field."""
    faults: list[Fault] = []
    parsed = _parsed(faults, typed.formula)
    hazards = [row.strip() for row in typed.hazards.replace(";", "\n").splitlines() if row.strip()]
    faults += _faults_of(typed, hazards)
    weight = _density(faults, typed.density)
    if faults or parsed is None:
        raise Refusal(*faults)
    return SubstanceRow(
        uuid=typed.uuid,
        formula=parsed.text,
        name=typed.name.strip()[:120],
        density=weight,
        hazards=[text[:200] for text in hazards[:20]],
        dissolved=typed.dissolved,
        solid=typed.solid,
        remarks=typed.remarks.strip(),
        source=typed.source.strip(),
        at=visit.now,
        by=typed.by[:120],
    )


def _faults_of(typed: AddSubstance, hazards: Sequence[str]) -> Iterator[Fault]:
    unnamed = fault_in_name(typed.name, "name", "Give it the name that stands on its jar.")
    if unnamed is not None:
        yield unnamed
    if not hazards:
        message = "Say what it does to people, one hazard a line, as its label has it; 'none known' where that is so."
        yield Fault("no-hazards", "hazards", message)
    for field, stream in (("dissolved", typed.dissolved), ("solid", typed.solid)):
        if stream != OPEN and stream not in streams():
            yield Fault("unknown-stream", field, "Choose a stream of the list, or leave it open.")


def _parsed(faults: list[Fault], text: str) -> Formula | None:
    try:
        formula = parse_formula(text.strip())
        _ = formula.molar_mass_g
        return formula
    except Refusal as refusal:
        faults += refusal.below("formula").faults
        return None


def _density(faults: list[Fault], text: str) -> str:
    if not text.strip():
        return ""
    try:
        reading = parse_reading(text, "density", "g/mL")
    except Refusal as refusal:
        faults += refusal.below("density").faults
        return ""
    if reading.si <= 0:
        faults.append(Fault("not-positive", "density", "A density lies above zero."))
    return f"{float(reading.si) / 1000:.4g}"


@may(BENCH, INSTRUCTOR)
def run_substances(visit: Visit, uuid: str) -> RunSubstancesView:
    """What a run works with, and the formulas that the register does not know. Raises NotFound."""
    known = register(visit)
    run = visit.run(uuid)
    formulas = formulas_of(run.options)
    if held_back(visit, run.id):
        # what it does without its water is told; how much of that there is, is to be found
        formulas = tuple(formula.anhydrous for formula in formulas)
    found = [(formula, known.find(formula)) for formula in formulas]
    rows: dict[str, Substance] = {}
    for formula, row in found:
        if row is not None:
            # a salt and its hydrates do the same: the first that the options name stands for all of them
            rows.setdefault(f"{formula.anhydrous.text} {row.hazards}", row)
    unknown = [formula.text for formula, row in found if row is None]
    return RunSubstancesView(substances=[_view(row) for row in rows.values()], unknown=unknown)


@may(BENCH, INSTRUCTOR)
def waste_of_run(visit: Visit, uuid: str) -> WasteView:
    """The waste sheet of a run. Raises NotFound."""
    run = visit.run(uuid)
    return _sheet(visit, run.title, [(run.bench, left_of(run))])


@may(INSTRUCTOR)
def waste_of_day(visit: Visit, day: date | None) -> WasteView:
    """The waste sheet of all runs of a day; without one, of the latest that has a run."""
    wanted = day or last_day(visit.session, visit.caller.whose)
    if wanted is None:
        return _sheet(visit, "", [])
    runs = visit.summaries("remains", days_of(visit.session, wanted))
    left = [(row.bench, LeftOfRun.model_validate_json(row.text)) for row in runs]
    return _sheet(visit, wanted.isoformat(), sorted(left, key=lambda pair: pair[0]))


def _sheet(visit: Visit, title: str, runs: Sequence[tuple[str, LeftOfRun]]) -> WasteView:
    sheet = waste_sheet((trial for _, run in runs for trial in run.left()), register(visit))
    return WasteView(title=title, runs=[f"{run.title}, {bench}" for bench, run in runs], sheet=sheet)
