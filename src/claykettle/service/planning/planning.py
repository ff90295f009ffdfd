"""Plans: a sample's window under a method's options and the shelf's instruments, and what a class needs of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from claykettle.core.chemistry.substances import Register, Substance
from claykettle.core.errors import Fault, Refusal, refuse
from claykettle.core.method import Method, Options, Setting, Statement
from claykettle.core.methods.registry import all_methods, method_named
from claykettle.core.pictures.reagent_table import ReagentTable
from claykettle.core.planning.probe import Instruments
from claykettle.core.planning.sizing import Sizing, Total, size, totals
from claykettle.core.planning.stock import Recipe, Wish, recipe
from claykettle.core.planning.waste import formulas_of
from claykettle.core.quantity import Reading, figures, parse_half_width, parse_reading, unit
from claykettle.core.run import (
    INSTRUMENTS,
    Entry,
    KitLine,
    Procedure,
    Result,
    Run,
    TrialRecord,
    course_faults,
    evaluate_run,
    kit_of,
    reading_definition,
    shape_of,
    slots_of,
    usable_readings,
)
from claykettle.core.sheet import Shape
from claykettle.core.verdict import Verdict
from claykettle.formats.run_file import read_options
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.shelf.day import InstrumentView, instruments_by_kind, instruments_shown, the_day
from claykettle.service.shelf.procedures import ProcedureView, latest_procedures, procedure_for, procedure_view
from claykettle.service.shelf.room import standing_texts
from claykettle.service.shelf.substances import register
from claykettle.service.views.base import View
from claykettle.service.visit import Visit


class ReagentPlanView(View):
    """A reagent table before anything is weighed; `values` are the options, as typed, of a run that starts with it."""

    method: str
    values: dict[str, str]
    table: ReagentTable
    results: list[Result]
    verdicts: list[Verdict]
    statements: list[Statement]


class SizableView(View):
    """What can be sized: its options as JSON Schema, the fields of the setting that bear on it and what is usual."""

    name: str
    title: str
    usual_first: bool
    tabled: bool
    label: str
    unit: str
    options: dict[str, Any]
    asks: list[str]
    usual: dict[str, str]
    procedures: list[ProcedureView]


class PlanShelfView(View):
    """What a plan can choose from; `setting` and `wish` are JSON Schemas."""

    methods: list[SizableView]
    setting: dict[str, Any]
    wish: dict[str, Any]
    instruments: list[InstrumentView]
    defaults: dict[str, int]
    room: dict[str, str]


class PlanView(View):
    """A sample's window, what the class needs, what lies ready."""

    sizing: Sizing
    totals: list[Total]
    kit: list[KitLine]
    caution: str
    hazards: list[str]


class RecipeView(View):
    """How a solution is made."""

    recipe: Recipe


@may(INSTRUCTOR)
def plan_shelf(visit: Visit) -> PlanShelfView:
    """What a plan can choose from: methods, their fields, the instruments, the room as it stands."""
    procedures = [row.course for row in latest_procedures(visit)]
    return PlanShelfView(
        methods=[
            SizableView(
                name=row.name,
                title=row.title,
                usual_first=foresight.usual_first,
                tabled=foresight.table is not None,
                label=foresight.label,
                unit=foresight.unit,
                options=row.options.described(),
                asks=list(foresight.asks),
                usual=dict(foresight.usual),
                procedures=[procedure_view(procedure) for procedure in procedures if procedure.method == row.name],
            )
            for row in all_methods().values()
            if (foresight := row.foresight) is not None
        ],
        setting=Setting.model_json_schema(),
        wish=Wish.model_json_schema(),
        instruments=instruments_shown(visit),
        defaults={kind: row.id for kind, row in instruments_by_kind(visit, the_day(visit), {}).items()},
        room=standing_texts(visit),
    )


@dataclass(frozen=True)
class Plan:
    """What is planned: a method under its options and schools, the setting as typed, instruments by kind, the class."""

    method: str
    options: Mapping[str, Any]
    schools: Mapping[str, str]
    setting: Mapping[str, str]
    sample: str
    instruments: Mapping[str, int]
    benches: int
    trials: int
    spare: str


@may(INSTRUCTOR)
def plan(visit: Visit, wish: Plan) -> PlanView:
    """A sample's window, what one size of it brings, and what the class needs.

    Raises Refusal with every fault, paths as the form's fields.
    """
    faults: list[Fault] = []
    sizable = method_named(wish.method)
    course = procedure_for(visit, wish.method, None).course
    parsed = _gathered(faults, sizable.options, wish.options, "options")
    if sizable.foresight is None:
        raise refuse("plan-open", f"There is nothing to be sized for {sizable.title}.", "method")
    usual = dict(sizable.foresight.usual) | {name: text for name, text in wish.setting.items() if text.strip()}
    taken = _gathered(faults, Setting, usual, "setting")
    extra = _spare(faults, wish.spare)
    if parsed is None or taken is None or extra is None:
        raise Refusal(*faults)
    shape = _shape(sizable, parsed, course, wish.schools)
    instruments = _read_by(visit, wish.instruments)
    found = size(sizable, shape, taken, instruments, wish.sample, "sample")
    return PlanView(
        sizing=found,
        kit=kit_of(course, wish.schools, wish.trials, sizable.facts(parsed)),
        totals=list(totals(found, taken, wish.benches * wish.trials * (1 + extra))),
        caution=course.caution,
        hazards=[f"{row.name}: {', '.join(row.harms)}" for row in harmful(register(visit), parsed)],
    )


@may(INSTRUCTOR)
def reagents_planned(_: Visit, method: str, options: Mapping[str, Any]) -> ReagentPlanView:
    """A reagent table before anything is weighed. Raises as `planned_table`."""
    return planned_table(method, options)


def planned_table(method: str, options: Mapping[str, Any]) -> ReagentPlanView:
    """A reagent table before anything is weighed: what the options plan, as if it had been taken to four figures.

    Raises Refusal with every fault, paths below `options`.
    """
    found = method_named(method)
    planned = found.foresight.table if found.foresight else None
    if planned is None:
        raise refuse("plan-open", f"{found.title} has no reagent table.", "method")
    parsed: Any = read_options(found.options, options, "options")
    taken = {name: _taken(found, parsed, name, size) for name, size in planned.readings(parsed).items()}
    run = Run(found, parsed, (TrialRecord("1", {name: (Entry(row),) for name, row in taken.items()}),))
    trial = evaluate_run(run).trials[0]
    table = found.judging.pictures(trial.trial).table
    assert table is not None  # a method that plans its reagents draws their table
    return ReagentPlanView(
        method=found.name,
        values=planned.written(parsed, {name: row.text for name, row in taken.items()}),
        table=table,
        results=[row for row in trial.results if row.name in planned.results],
        verdicts=[row for row in trial.verdicts if row.code.startswith("limiting")],
        statements=list(trial.statements),
    )


def _taken(method: Method, options: Options, name: str, size: float) -> Reading:
    definition = reading_definition(method, name, options)
    assert definition is not None  # what a method plans are readings of its own
    read_in = unit(definition.unit)
    return parse_reading(f"{figures(size / float(read_in.factor), 4)} {read_in.symbol}", read_in.dimension)


def planned_takes(method: Method, options: Options, times: float) -> list[Total]:
    """What a reagent table plans for one trial and for `times` it; nothing where the method has none."""
    foresight = method.foresight
    if foresight is None or foresight.table is None:
        return []
    solutions = foresight.solutions(options)
    found: list[Total] = []
    for name, amount in foresight.table.readings(options).items():
        definition = reading_definition(method, name, options)
        assert definition is not None  # what a method plans are readings of its own
        shown = unit(definition.unit)
        each, whole = (f"{figures(shown.from_si(amount) * many, 3)} {shown.shown}" for many in (1, times))
        formula, strength = solutions.get(name, ("", ""))
        label = f"{formula} {strength}" if formula else definition.labelled(options)
        found.append(Total(label, each, whole, formula, strength))
    return found


def harmful(known: Register, options: Options) -> list[Substance]:
    """What the options name and the register knows to do harm, each once."""
    found = (known.find(formula) for formula in formulas_of(options))
    return list({row.formula.text: row for row in found if row is not None and row.harms}.values())


@may(INSTRUCTOR)
def solution(visit: Visit, wish: Mapping[str, Any]) -> RecipeView:
    """The recipe of a solution for a class. Raises Refusal with every fault of the form."""
    return RecipeView(recipe=recipe(read_options(Wish, wish, ""), register(visit)))


def _gathered(faults: list[Fault], model: type[Any], given: Mapping[str, Any], path: str) -> Any:
    try:
        return read_options(model, given, path)
    except Refusal as refusal:
        faults += refusal.faults
        return None


def _spare(faults: list[Fault], text: str) -> float | None:
    try:
        return float(parse_reading(text or "0", "ratio", "%").si)
    except Refusal as refusal:
        faults += refusal.below("spare").faults
        return None


def _shape(method: Method, options: Options, course: Procedure, schools: Mapping[str, str]) -> Shape:
    slots = slots_of(course, schools, usable_readings(method, options), method.facts(options))
    faults = course_faults(method, options, slots)
    if faults:
        raise Refusal(*faults)
    return shape_of(method, options, frozenset(slots))


def _read_by(visit: Visit, chosen: Mapping[str, int]) -> Instruments:
    """Half-widths and capacities of the instruments chosen, else of the first of each kind."""
    rows = instruments_by_kind(visit, the_day(visit), chosen)
    widths: dict[str, Decimal] = {}
    capacities: dict[str, Decimal] = {}
    for kind, row in rows.items():
        widths[kind] = parse_half_width(row.half_width, INSTRUMENTS[kind])
        if row.capacity:
            capacities[kind] = parse_reading(row.capacity, INSTRUMENTS[kind]).si
    return Instruments(widths, capacities)
