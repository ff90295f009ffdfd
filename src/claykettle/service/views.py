"""What a use case answers with, and so the shape of the API: the core's own values, and views made of stored rows."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from claykettle.core.chemistry.equation_sheet import EquationSheet
from claykettle.core.evaluation import Result, Share
from claykettle.core.gas_picture import GasPicture
from claykettle.core.judgement.advice import Advice
from claykettle.core.judgement.composition_sheet import CompositionSheet
from claykettle.core.judgement.predictions import Prediction
from claykettle.core.judgement.suspects import Suspicion
from claykettle.core.method import Statement
from claykettle.core.stair import Loss, Tread
from claykettle.core.verdict import Candidate, Verdict
from claykettle.core.worksheet import WorkingLine


class View(BaseModel):
    """Base of all answers."""

    model_config = ConfigDict(from_attributes=True)


class TimerView(View):
    """A step's timer. Times are ISO 8601 in UTC; `ends_at` is null until it is started."""

    minutes: float
    more_minutes: float | None
    started_at: str | None
    ends_at: str | None


class StepView(View):
    """One step of the procedure as laid out for the run; what to do and its caution come with the step to do now."""

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


class EntryView(View):
    """A reading that can be typed next; `tread` is its short name on the mass stair."""

    slot: str
    position: int
    label: str
    tread: str
    unit: str
    instrument: str
    step: str | None
    hint: str


class ReadingView(View):
    """One row of the log. `current` is false for a row that a correction has superseded."""

    uuid: str
    trial: str
    slot: str
    position: int
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


class TrialLineView(View):
    """One trial of a run in a line: what it waits for, and its key result so far."""

    label: str
    state: Literal["waiting", "finished", "new"]
    doing: str
    timer_ends_at: str | None
    level: Literal["good", "watch", "stop"] | None
    headline: str | None


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


class SchoolView(View):
    """One question on which practitioners differ, and the answer this run follows."""

    title: str
    answer: str


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
    now: str
    steps: list[StepView]
    entry: EntryView | None
    upcoming: list[EntryView]
    observe: list[str]
    readings: list[ReadingView]
    observations: list[ObservationView]
    stair: list[Tread]
    losses: list[Loss]
    gas: GasPicture | None
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
    level: Literal["good", "watch", "stop"] | None
    answer: AnswerView


class BenchView(View):
    """A place in the laboratory."""

    id: int
    name: str


class InstrumentView(View):
    """An instrument on the shelf."""

    id: int
    kind: str
    name: str
    half_width: str
    decimals: int


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
    """A method: the reading that a plan sizes, its options as JSON Schema, and its procedures."""

    name: str
    title: str
    planned: str
    options: dict[str, Any]
    procedures: list[ProcedureView]


class ShelfView(View):
    """What a new run can choose from."""

    section: str
    day: str
    benches: list[BenchView]
    balances: list[InstrumentView]
    methods: list[MethodView]


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
