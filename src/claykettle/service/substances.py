"""The register of substances: what ships, what was added here, and what a run or a day leaves to be sorted."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.chemistry.substances import OPEN, Register, Substance, streams
from claykettle.core.errors import Conflict, Fault, Refusal
from claykettle.core.method import Remain
from claykettle.core.planning.waste import formulas_of, waste_sheet
from claykettle.core.quantity import parse_reading
from claykettle.service.runs import evaluation_of
from claykettle.service.views import RegisterView, RunSubstancesView, StreamView, SubstanceView, WasteView
from claykettle.store.records import StoredRun
from claykettle.store.tables import SubstanceRow


def register(session: Session) -> Register:
    """The register with what was added here."""
    rows = session.scalars(select(SubstanceRow).order_by(SubstanceRow.id))
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


def register_view(session: Session) -> RegisterView:
    """All substances by name, and the streams."""
    rows = sorted(register(session).substances, key=lambda row: row.name.casefold())
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


def add_substance(
    session: Session,
    now: datetime,
    *,
    uuid: str,
    formula: str,
    name: str,
    hazards: str,
    density: str = "",
    dissolved: str = OPEN,
    solid: str = OPEN,
    remarks: str = "",
    source: str = "",
    by: str = "",
) -> SubstanceRow:
    """Add a substance, or say something else of one: the latest counts. The same UUID twice adds one.

    `hazards` holds one a line, or separated by semicolons. A stream that is left open stays so.
    Raises Refusal with every fault at its field; a substance without hazards is refused: 'none known' says so.
    """
    before = session.scalar(select(SubstanceRow).where(SubstanceRow.uuid == uuid))
    if before is not None:
        if before.name != name.strip():
            raise Conflict("This entry's number was already used; nothing was changed. Send it once more.")
        return before
    faults: list[Fault] = []
    parsed = _parsed(faults, formula)
    rows = [row.strip() for row in hazards.replace(";", "\n").splitlines() if row.strip()]
    if not name.strip():
        faults.append(Fault("empty", "name", "Give it the name that stands on its jar."))
    if not rows:
        message = "Say what it does to people, one hazard a line, as its label has it; 'none known' where that is so."
        faults.append(Fault("no-hazards", "hazards", message))
    for field, stream in (("dissolved", dissolved), ("solid", solid)):
        if stream != OPEN and stream not in streams():
            faults.append(Fault("unknown-stream", field, "Choose a stream of the list, or leave it open."))
    weight = _density(faults, density)
    if faults or parsed is None:
        raise Refusal(*faults)
    row = SubstanceRow(
        uuid=uuid,
        formula=parsed.text,
        name=name.strip()[:120],
        density=weight,
        hazards=[text[:200] for text in rows[:20]],
        dissolved=dissolved,
        solid=solid,
        remarks=remarks.strip(),
        source=source.strip(),
        at=now,
        by=by[:120],
    )
    session.add(row)
    session.flush()
    return row


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


def run_substances(session: Session, run: StoredRun) -> RunSubstancesView:
    """What a run works with, and the formulas that the register does not know."""
    known = register(session)
    found = [(formula, known.find(formula)) for formula in formulas_of(evaluation_of(run).run.options)]
    rows = {row.formula.text: row for _, row in found if row is not None}
    unknown = [formula.text for formula, row in found if row is None]
    return RunSubstancesView(substances=[_view(row) for row in rows.values()], unknown=unknown)


def waste_of(session: Session, title: str, runs: Sequence[StoredRun]) -> WasteView:
    """The waste sheet of these runs together."""
    remains = (remain for run in runs for remain in _remains(run))
    sheet = waste_sheet(remains, register(session))
    return WasteView(title=title, runs=[f"{run.title}, {run.bench}" for run in runs], sheet=sheet)


def _remains(run: StoredRun) -> Iterable[Remain]:
    evaluation = evaluation_of(run)
    for trial in evaluation.trials:
        found = next((word.text for word in trial.words.values()), None)
        yield from evaluation.run.method.aftercare.remains(trial.trial, found)
