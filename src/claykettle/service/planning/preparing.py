"""A class prepared: from its sentence what to weigh, set out, make, label and order, and what it will leave."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from claykettle.core.chemistry.concentrates import concentrate_of
from claykettle.core.chemistry.substances import Register
from claykettle.core.errors import Fault, Refusal, refuse
from claykettle.core.marking import SPOKEN
from claykettle.core.methods.registry import procedure_named
from claykettle.core.pictures.reagent_table import ReagentTable
from claykettle.core.planning.foreseen import foreseen_trial, waste_foreseen
from claykettle.core.planning.probe import Probe
from claykettle.core.planning.sizing import Look, Sizing, Total, totals
from claykettle.core.planning.stock import Recipe, recipe
from claykettle.core.planning.stock import Wish as Solution
from claykettle.core.planning.timetable import Group, Plan, Session, sessions
from claykettle.core.planning.trial_steps import steps_of_trial
from claykettle.core.planning.waste import WasteSheet
from claykettle.core.run import KitLine, kit_of
from claykettle.core.verdict import Verdict
from claykettle.formats.run_file import read_options
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.planning.planning import harmful, planned_table, planned_takes
from claykettle.service.planning.sentence import MONTHS, PartView, matter_of, part_of, sentence_of, weighed_of
from claykettle.service.planning.wishes import Read, Wish, read_wish
from claykettle.service.shelf.procedures import ProcedureView, procedure_view
from claykettle.service.shelf.substances import register
from claykettle.service.views.base import View
from claykettle.service.visit import Visit

EVENINGS, FEWEST = 500, 20
MOST_STEPS = 400_000
"""Steps in all evenings together: some seconds of one processor. Of a class that has more, fewer evenings pass."""


class WrongView(View):
    """Something that is wrong, at which part of the sentence it stands, and in which field there."""

    code: str
    path: str
    message: str
    part: str


class OrderLine(View):
    """Something that the store must have for the class with its spare; `makes` the solution that it goes into."""

    what: str
    amount: str
    makes: str = ""


class LabelView(View):
    """A label to be written: what stands on it, and what it is stuck on or pencilled on."""

    text: str
    on: str


class StepLine(View):
    """A step as the timetable takes it: minutes at least, as a rule, at most; `learnt` what it took in classes held."""

    name: str
    label: str
    low: float
    usual: float
    high: float
    at: str
    attended: bool
    session: int
    learnt: str


class LineName(View):
    """A line of the working that can be asked for, as it is called."""

    name: str
    label: str


class PreparedView(View):
    """A class prepared, as far as its sentence could be read; what is missing is null or empty, `faults` say why.

    `built_in` are the cautions of the method's own steps, by step: they stay, whatever is added.
    """

    sentence: list[PartView]
    title: str
    faults: list[WrongView]
    procedure: ProcedureView
    sizing: Sizing | None
    kit: list[KitLine]
    caution: str
    hazards: list[str]
    table: ReagentTable | None
    table_says: list[Verdict]
    recipes: list[Recipe]
    labels: list[LabelView]
    waste: WasteSheet | None
    order: list[OrderLine]
    steps: list[StepLine]
    places: list[str]
    lines: list[LineName]
    built_in: dict[str, str]


@may(INSTRUCTOR)
def prepared(visit: Visit, wish: Wish) -> PreparedView:
    """A class prepared. Raises Refusal for a method that is not known; anything else stands among its faults."""
    return prepared_view(read_wish(visit, wish), register(visit))


def prepared_view(read: Read, known: Register) -> PreparedView:
    """The whole page of a class, from what its wish comes to."""
    method, practical = read.method, read.practical
    assert method is not None  # refused before
    sizing = read.sizing
    found = sizing.asked or sizing.about if sizing is not None else None
    lines = _takes(read)
    recipes = list(_recipes(read, lines, known))
    table, says = _table(read)
    steps = list(_steps(read))
    waste = _waste(read, found, known)
    shipped = procedure_named(method.name, None)
    assert shipped is not None  # a method ships its procedure
    course = practical.course if practical is not None else shipped
    return PreparedView(
        sentence=sentence_of(read, known),
        title=title_of(read, known),
        faults=[_wrong(row) for row in read.faults],
        procedure=procedure_view(course),
        sizing=sizing,
        kit=kit_of(course, practical.schools, read.trials, method.facts(practical.options)) if practical else [],
        caution=course.caution,
        hazards=[f"{row.name}: {', '.join(row.harms)}" for row in harmful(known, read.options)] if read.options else [],
        table=table,
        table_says=says,
        recipes=recipes,
        labels=list(_labels(read, recipes, waste)),
        waste=waste,
        order=list(_order(read, lines, recipes, known)),
        steps=steps,
        places=sorted({row.at for row in steps if row.at}),
        lines=list(_lines(read)),
        built_in={step.id: step.caution for step in shipped.all_steps() if step.caution},
    )


def _wrong(fault: Fault) -> WrongView:
    part = part_of(fault.path)
    # a plan that is open says so at what it is made of
    part = part or ("material" if fault.code in ("plan-open", "missing-field") else "")
    return WrongView(code=fault.code, path=fault.path, message=fault.message, part=part)


def title_of(read: Read, known: Register) -> str:
    """What the class is called: as typed, else by its method and its matter."""
    if read.wish.title.strip():
        return " ".join(read.wish.title.split())[:120]
    named = str(read.wish.practical.get("name") or "").strip()
    assert read.method is not None
    return (named or f"{read.method.title}: {matter_of(read.method, read.options, known)}")[:120]


def _recipes(read: Read, lines: list[Total], known: Register) -> Iterator[Recipe]:
    """How each solution is made: from a bottle of the store where there is such, else from the solid."""
    for row in lines:
        if not row.formula or not read.benches:
            continue
        wish = {
            "formula": row.formula, "concentration": row.concentration, "each": row.each,
            "benches": len(read.benches), "trials": read.trials, "spare": read.wish.spare or "0 %",
            "source": "concentrate" if concentrate_of(row.formula) is not None else "solid",
        }  # fmt: skip
        try:
            yield recipe(read_options(Solution, wish, ""), known)
        except Refusal:
            # a strength that no bottle gives: the table of what to lay out still names it
            continue


def _table(read: Read) -> tuple[ReagentTable | None, list[Verdict]]:
    method = read.method
    if read.practical is None or method is None or method.foresight is None or method.foresight.table is None:
        return None, []
    try:
        found = planned_table(method.name, read.wish.practical.get("options") or {})
    except Refusal:
        return None, []
    return found.table, found.verdicts


def _waste(read: Read, look: Look | None, known: Register) -> WasteSheet | None:
    practical = read.practical
    if practical is None or look is None or read.shape is None or read.setting is None or read.instruments is None:
        return None
    probe = Probe(practical.method, read.shape, read.setting, read.instruments)
    try:
        trial = foreseen_trial(probe, look.amount * float(probe.unit.factor))
    except Refusal:
        # so much that no instrument shows it: the window says so
        return None
    return waste_foreseen(trial, practical.method, practical.course, practical.schools, max(1, read.times), known)


def _labels(read: Read, recipes: list[Recipe], waste: WasteSheet | None) -> Iterator[LabelView]:
    """Pencil names of vessels and papers, bench by bench; then bottles and waste containers."""
    day = f" · {read.day.day} {MONTHS[read.day.month - 1][:3]}" if read.day is not None else ""
    for bench in read.benches:
        for trial in range(1, read.trials + 1):
            number = f" {trial}" if read.trials > 1 else ""
            yield LabelView(text=f"{bench.name}{number}{day}", on="pencil")
    for row in recipes:
        yield LabelView(text=f"{row.title}{day}", on="bottle")
    for container in waste.containers if waste is not None else ():
        yield LabelView(text=f"{container.title}{day}", on="waste")


def _takes(read: Read) -> list[Total]:
    """What one trial and the class take: what a reagent table plans, else the sample and the solution beside it."""
    practical, sizing = read.practical, read.sizing
    times = read.times * (1 + read.spare)
    planned = planned_takes(practical.method, practical.options, times) if practical is not None else []
    if planned or sizing is None or read.setting is None:
        return planned
    return list(totals(sizing, read.setting, times))


def _order(read: Read, lines: list[Total], recipes: list[Recipe], known: Register) -> Iterator[OrderLine]:
    """What the store must have for the class, its spare included: of a solution what it is made from."""
    practical, sizing = read.practical, read.sizing
    made = {row.title: row for row in recipes}
    for row in lines:
        recipe = made.get(f"{row.formula} {row.concentration}")
        if recipe is not None:
            yield OrderLine(what=row.formula, amount=recipe.take, makes=recipe.title)
        elif practical is not None and sizing is not None and row.label == sizing.label:
            yield OrderLine(what=weighed_of(practical.method, practical.options, known), amount=row.all)
        else:
            yield OrderLine(what=row.label, amount=row.all)


def _lines(read: Read) -> Iterator[LineName]:
    """What students can be asked to hand in: the lines of the working, then what is claimed in words."""
    if read.practical is None or read.shape is None:
        return
    sheet = read.practical.method.page.build(read.shape)
    for name, row in sheet.by_name.items():
        yield LineName(name=name, label=row.label)
    for name, label in SPOKEN.items():
        yield LineName(name=name, label=label)


def _steps(read: Read) -> Iterator[StepLine]:
    for number, session in enumerate(sessions_of(read), start=1):
        for row in session.steps:
            span = row.takes
            yield StepLine(
                name=row.name, label=row.label, low=span.low, usual=span.usual, high=span.high, at=row.at,
                attended=row.attended, session=number, learnt=_took(read, row.name),
            )  # fmt: skip


def _took(read: Read, step: str) -> str:
    """What a step took in the classes that were held; empty where too few tell."""
    took = read.learnt.get(step)
    return f"{took.usual:g} min ({took.low:g} to {took.high:g})" if took is not None else ""


def sessions_of(read: Read) -> tuple[Session, ...]:
    """The steps of a trial, meeting by meeting; none where the practical cannot be read."""
    practical = read.practical
    if practical is None:
        return ()
    learnt = read.learnt if read.wish.learnt else {}
    return sessions(steps_of_trial(practical.method, practical.options, practical.course, practical.schools, learnt))


@dataclass(frozen=True)
class Timed:
    """What is to be timed: the plan of one session of a class, and what it waited for before."""

    plan: Plan
    session: int
    sessions: int
    after: str


@may(INSTRUCTOR)
def to_be_timed(visit: Visit, wish: Wish, session: int = 1) -> Timed:
    """The plan of a session of this class. Raises Refusal where it cannot be timed: with its faults, as `prepared`."""
    read = read_wish(visit, wish)
    return timed_of(read, session)


def timed_of(read: Read, session: int = 1) -> Timed:
    """The plan of a session of what a wish comes to. Raises Refusal where something that a timetable needs is wrong."""
    needed = ("practical", "benches", "date", "length", "room", "material", "tolerance", "")
    bad = [
        row
        for row in read.faults
        # what is weighed, and how much of it comes, does not bear on when
        if row.code != "plan-open" and (part_of(row.path) in needed or row.path.startswith("schools"))
    ]
    if bad:
        raise Refusal(*bad)
    found = sessions_of(read)
    if not 1 <= session <= len(found):
        raise refuse("no-session", "There is no such session: the work is done before.", "session")
    assert read.day is not None and read.starts is not None and read.length is not None  # else among the faults
    room = {name: count for name, count in read.wish.room.items() if count >= 0}
    steps = found[session - 1].steps
    for name in sorted({row.at for row in steps if row.at}):
        if room.get(name) == 0:
            text = f"The room has no {name.replace('_', ' ')}: a step that is done there can be done by nobody."
            raise refuse("none-there", text, f"room.{name}")
    after = found[session - 1].after
    evening = max(1, len(read.benches) * read.trials * len(steps))
    passing = max(FEWEST, min(EVENINGS, MOST_STEPS // evening))
    plan = Plan(
        title=read.wish.title, date=read.day.isoformat(), starts=read.starts, length=read.length,
        groups=(Group(tuple(row.name for row in read.benches), read.trials, steps),),
        room=room, stagger=read.stagger, overlap=read.wish.overlap, repetitions=passing,
    )  # fmt: skip
    return Timed(plan, session, len(found), after.label if after is not None else "")
