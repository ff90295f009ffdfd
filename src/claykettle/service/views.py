"""What a use case answers with, and so the shape of the API: the core's own values, and views made of stored rows."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from claykettle.core.desks.composition_sheet import CompositionSheet
from claykettle.core.desks.equation_sheet import EquationSheet
from claykettle.core.desks.photograph import PhotographSheet
from claykettle.core.judgement.advice import Advice
from claykettle.core.judgement.predictions import Prediction
from claykettle.core.judgement.suspects import Suspicion
from claykettle.core.method import Share, Statement
from claykettle.core.pictures.pictures import Pictures
from claykettle.core.pictures.reagent_table import ReagentTable
from claykettle.core.planning.sizing import Sizing, Total
from claykettle.core.planning.stock import Recipe
from claykettle.core.planning.waste import WasteSheet
from claykettle.core.run import KitLine, Loss, Result, Tread
from claykettle.core.sheet import WorkingLine
from claykettle.core.verdict import Candidate, Verdict


class View(BaseModel):
    """Base of all answers."""

    model_config = ConfigDict(from_attributes=True)


class TimerView(View):
    """A step's timer. Times are ISO 8601 in UTC; `ends_at` is null until it is started."""

    minutes: float
    more_minutes: float | None
    started_at: str | None
    ends_at: str | None


class CountView(View):
    """Something that a step does several times: the tag noted at each, how often it is wanted and was done."""

    tag: str
    times: int
    counted: int


class StepView(View):
    """One step of the procedure as laid out for the run; what to do and its caution come with the step to do now.

    `card` names a drawing of its technique, `waits_in` the place in which it waits; both empty where there is none.
    """

    key: str
    title: str
    short: str
    say: str
    why: str
    caution: str
    done_label: str
    observe: list[str]
    state: Literal["done", "now", "ahead", "missed"]
    slot: str | None
    position: int | None
    value: str | None
    timer: TimerView | None
    counts: CountView | None
    card: str
    waits_in: str


class EntryView(View):
    """A reading that can be typed next; `tread` is its short name on the mass stair, `kind` that of its instrument.

    `suggested` is what the trial before read where this one goes on, as typed; empty where there is none.
    """

    slot: str
    position: int
    label: str
    tread: str
    unit: str
    instrument: str
    kind: str
    step: str | None
    hint: str
    suggested: str


class LoggedView(View):
    """A reading as a log shows it. `current` is false for one that no longer stands."""

    uuid: str
    slot: str
    label: str
    text: str
    unit: str
    at: str
    by: str
    instrument: str
    current: bool
    corrects: str | None
    reason: str
    doubt: str


class ReadingView(LoggedView):
    """One row of a run's log."""

    trial: str
    position: int


class ObservationView(View):
    """Something seen at the bench."""

    uuid: str
    trial: str
    at: str
    by: str
    tag: str
    text: str


class FormulaView(View):
    """The match or null, always the nearest candidate, and how many candidates fit."""

    text: str | None
    nearest: str
    matches: int


class RulerView(View):
    """The ruler: the measured figure, its expanded uncertainty (k = 2), and the candidates on the scale.

    `unit` is empty for a ratio, % where the percentage decides; marks stand at their `expected`.
    """

    unit: str
    value: float
    expanded: float
    low: float
    high: float
    marks: list[Candidate]


class AnswerView(View):
    """The answer so far, for the bench's right-hand side: the key result as text, and both as headlines."""

    label: str
    text: str | None
    headline: str | None
    second: str | None
    statements: list[Statement]
    formula: FormulaView | None
    provisional: bool
    why_provisional: str
    ruler: RulerView | None
    remarks: list[str]


class TrialView(View):
    """The trial shown, evaluated; the nearest of `candidates_held` candidates."""

    label: str
    results: list[Result]
    verdicts: list[Verdict]
    candidates: list[Candidate]
    candidates_held: int


class RestView(View):
    """Where something stands and waits, such as the oven: since when (ISO 8601, UTC), and its place there as noted."""

    waits_in: str
    since: str
    place: str


class TrialLineView(View):
    """One trial of a run in a line: what it waits for, and its key result so far."""

    label: str
    state: Literal["waiting", "finished", "new"]
    doing: str
    timer_ends_at: str | None
    level: Literal["good", "watch", "stop"] | None
    headline: str | None
    rest: RestView | None


class ComparisonRowView(View):
    """One trial on the scale: the key result and its expanded uncertainty (k = 2), null while there is none."""

    label: str
    value: float | None
    expanded: float | None
    text: str


class ComparedResultView(View):
    """A result over the trials, a text a trial (empty where it is missing), mean and standard deviation rounded.

    Masses and amounts go with the size of the sample: for them no mean is given.
    """

    label: str
    unit: str
    values: list[str]
    mean: str
    deviation: str


class MeanView(View):
    """The weighted mean of the key result, with its expanded uncertainty (k = 2)."""

    value: float
    expanded: float
    text: str


class ComparisonView(View):
    """The trials of a run side by side: the key result on one scale, all results as a table."""

    label: str
    unit: str
    rows: list[ComparisonRowView]
    mean: MeanView | None
    accepted: float | None
    accepted_text: str
    predictions: list[Prediction]
    results: list[ComparedResultView]
    verdicts: list[Verdict]


class WorkedTrialView(View):
    """One trial's calculation page, what limits its results, and what other choices would buy."""

    label: str
    working: list[WorkingLine]
    budget: list[Share]
    key: str
    labels: dict[str, str]
    advice: list[Advice]


class WorkingPageView(View):
    """The calculation pages of a run."""

    trials: list[WorkedTrialView]


class BalanceView(View):
    """The balance a run uses."""

    name: str
    half_width: str
    decimals: int | None


class InstrumentUseView(View):
    """An instrument that a run uses; the name is empty where a run file told none."""

    name: str
    half_width: str


class SchoolView(View):
    """One question on which practitioners differ, and the answer this run follows."""

    title: str
    answer: str


class SignatureView(View):
    """A name below the record: the answers that it stands for, one a trial, and whether it still speaks of all of it.

    `later` counts the entries that came after it, `changed` says that today's answers are others, `holds` that the rows
    which it covers are to the letter those that were signed.
    """

    uuid: str
    name: str
    at: str
    results: list[str]
    fingerprint: str
    holds: bool
    later: int
    changed: bool


class RunView(View):
    """Everything the bench needs of one run: one `trial` of it, and the others in a line each."""

    uuid: str
    version: int
    title: str
    note: str
    method: str
    method_title: str
    bench: str
    section: str
    date: str
    procedure: str
    caution: str
    schools: list[SchoolView]
    options: dict[str, Any]
    balance: BalanceView
    instruments: dict[str, InstrumentUseView]
    now: str
    steps: list[StepView]
    entry: EntryView | None
    upcoming: list[EntryView]
    observe: list[str]
    readings: list[ReadingView]
    observations: list[ObservationView]
    signatures: list[SignatureView]
    stair: list[Tread]
    losses: list[Loss]
    pictures: Pictures
    # what is done before each weighing of the series; these are empty and 0 where a method weighs none to constancy
    round: str
    tolerance: str
    tolerance_mg: float
    answer: AnswerView
    trial: TrialView
    trials: list[TrialLineView]
    next_trial: str
    predictions: list[Prediction]
    can_predict: bool
    verdicts: list[Verdict]


class RunSummaryView(View):
    """One run in the list and in the strip of other benches."""

    uuid: str
    version: int
    title: str
    bench: str
    method_title: str
    date: str
    changed_at: str
    state: Literal["waiting", "finished", "new"]
    doing: str
    timer_ends_at: str | None
    rest: RestView | None
    level: Literal["good", "watch", "stop"] | None
    answer: AnswerView


class BenchView(View):
    """A place in the laboratory."""

    id: int
    name: str


class InstrumentView(View):
    """An instrument on the shelf; texts as typed, empty where open."""

    id: int
    kind: str
    name: str
    half_width: str
    decimals: int
    resolution: str
    capacity: str
    direction: str


class ChoiceView(View):
    """One question of a procedure."""

    name: str
    title: str
    default: str
    choices: dict[str, str]


class ProcedureView(View):
    """A procedure that a run can follow."""

    name: str
    version: int
    title: str
    caution: str
    schools: list[ChoiceView]
    windows: dict[str, dict[str, str]]


class MethodView(View):
    """A method: the reading that a plan sizes, the kinds of instruments, its options as JSON Schema, its procedures."""

    name: str
    title: str
    planned: str
    reads: list[str]
    options: dict[str, Any]
    procedures: list[ProcedureView]


class ShelfView(View):
    """What a new run can choose from."""

    section: str
    day: str
    benches: list[BenchView]
    balances: list[InstrumentView]
    instruments: list[InstrumentView]
    defaults: dict[str, int]
    elevation: str
    methods: list[MethodView]


class CalibrationView(View):
    """What a run on a known sample tells the next: sentences, and its options by path, as typed."""

    uuid: str
    title: str
    bench: str
    date: str
    texts: list[str]
    options: dict[str, str]


class CalibrationsView(View):
    """The runs of a method that could calibrate another, the latest first."""

    runs: list[CalibrationView]


class RunListView(View):
    """All runs, the latest first, and the server's clock."""

    now: str
    runs: list[RunSummaryView]


class SuspicionView(View):
    """A deviation and all its suspects."""

    found: Suspicion


class ReplayView(View):
    """What a dose of one cause makes of the expected result, in the unit of the key result."""

    result: float


class ElementLineView(View):
    """One element's share of a formula; masses in g/mol."""

    symbol: str
    count: str
    weight: str
    mass: str
    percent: str


class WaterLineView(View):
    """The crystal water of a hydrate."""

    count: str
    mass: str
    percent: str
    rule: str
    anhydrous: str
    anhydrous_mass: str


class FormulaSheetView(View):
    """A formula taken apart: molar mass in g/mol, composition, crystal water, listed hydrates of the same salt."""

    text: str
    charge: int
    lines: list[ElementLineView]
    sum: str
    molar_mass: str
    water: WaterLineView | None
    name: str
    relatives: list[str]


class FormulaDeskView(View):
    """What the formula desk made of a text: a formula taken apart, or the formulas that shares of elements fit."""

    formula: FormulaSheetView | None
    composition: CompositionSheet | None


class EquationSheetView(View):
    """An equation put to use: balanced, mole ratios, and the masses that go with the amounts given."""

    sheet: EquationSheet


class ReagentPlanView(View):
    """A reagent table before anything is weighed; `reagents` is the option as text, as a run is started with it."""

    equation: str
    product: str
    table: ReagentTable
    reagents: str
    results: list[Result]
    verdicts: list[Verdict]
    statements: list[Statement]


class PhotographView(View):
    """Lengths read off a photograph, and what its scale is worth."""

    sheet: PhotographSheet


class FaultView(View):
    """One thing wrong with a file: a stable code, the place, what mends it."""

    code: str
    path: str
    message: str


class OpenedFileView(View):
    """What became of one file of an archive: the run it was kept as, or why it was refused."""

    name: str
    uuid: str | None
    title: str
    faults: list[FaultView]


class OpenedView(View):
    """What became of an archive's files, in its order."""

    files: list[OpenedFileView]


class SizableView(View):
    """What can be sized: its options as JSON Schema, the fields of the setting that bear on it and what is usual."""

    name: str
    title: str
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


class RestingView(View):
    """Something that stands and waits: of which run, what on its label, where, since when, and when it is due."""

    uuid: str
    title: str
    bench: str
    trial: str
    label: str
    doing: str
    rest: RestView
    due: str | None


class PencilView(View):
    """A name to be pencilled on a paper or dish before it is weighed; whether it was weighed already."""

    uuid: str
    trial: str
    label: str
    title: str
    weighed: bool


class DryingView(View):
    """Everything that stands and waits, and the names for papers and dishes."""

    now: str
    places: list[str]
    resting: list[RestingView]
    names: list[PencilView]


class RecipeView(View):
    """How a solution is made."""

    recipe: Recipe


class RoomReadingView(LoggedView):
    """A reading of the room: whether a correction has superseded it, and how many runs use it."""

    corrected: bool
    runs: int


class RoomSlotView(View):
    """What can be read of the room: its name, the unit taken where none is typed, and the reading that stands."""

    slot: str
    label: str
    unit: str
    help: str
    stands: RoomReadingView | None


class TodayView(View):
    """The day: its room and its instruments."""

    section: str
    day: str
    now: str
    elevation: str
    expected: str
    slots: list[RoomSlotView]
    log: list[RoomReadingView]
    instruments: list[InstrumentView]
    defaults: dict[str, int]
    kinds: dict[str, str]
