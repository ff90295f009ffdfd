"""What a use case answers with: plain typed values, and so the shape of the API."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict


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
    """One step of the procedure as laid out for the run."""

    key: str
    title: str
    short: str
    say: str
    why: str
    caution: str
    done_label: str
    state: Literal["done", "now", "ahead", "missed"]
    slot: str | None
    position: int | None
    value: str | None
    timer: TimerView | None


class EntryView(View):
    """The reading that can be typed next."""

    slot: str
    position: int
    label: str
    unit: str
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
    at: str
    by: str
    tag: str
    text: str


class TreadView(View):
    """One tread of the mass stair."""

    slot: str
    position: int
    label: str
    text: str
    grams: float
    pan: str
    change: str
    named: str


class LossView(View):
    """What one heating changed, in mg, positive for a loss."""

    position: int
    milligrams: float
    text: str
    settled: bool


class VerdictView(View):
    """A judgement in a sentence."""

    code: str
    level: Literal["good", "watch", "stop"]
    about: str
    text: str


class ResultView(View):
    """A number with its standard uncertainty, and the rounded text."""

    name: str
    label: str
    value: float
    standard_uncertainty: float
    unit: str
    text: str


class WorkingView(View):
    """One line of the calculation page."""

    name: str
    label: str
    rule: str
    substituted: str
    result: str


class ShareView(View):
    """A reading's share of a result's variance."""

    result: str
    reading: str
    share: float


class CandidateView(View):
    """A formula held against the measurement."""

    text: str
    ratio: float | None
    misfit: float
    status: Literal["match", "near", "no"]


class FormulaView(View):
    """The match or null, always the nearest candidate, and how many candidates fit."""

    text: str | None
    nearest: str
    matches: int


class RulerView(View):
    """The ratio ruler: the measured ratio, its expanded uncertainty (k = 2), and the candidates on the scale."""

    value: float
    expanded: float
    low: float
    high: float
    marks: list[CandidateView]


class AnswerView(View):
    """The answer so far, for the bench's right-hand side."""

    label: str
    text: str | None
    formula: FormulaView | None
    provisional: bool
    why_provisional: str
    ruler: RulerView | None
    remarks: list[str]


class TrialView(View):
    """One trial, evaluated."""

    label: str
    results: list[ResultView]
    verdicts: list[VerdictView]
    working: list[WorkingView]
    budget: list[ShareView]
    candidates: list[CandidateView]


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
    """Everything the bench needs of one run."""

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
    observe: list[str]
    readings: list[ReadingView]
    observations: list[ObservationView]
    stair: list[TreadView]
    losses: list[LossView]
    tolerance: str
    tolerance_mg: float
    answer: AnswerView
    trials: list[TrialView]
    verdicts: list[VerdictView]


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
    """A method: its options as JSON Schema, and its procedures."""

    name: str
    title: str
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


class ImportedView(View):
    """What became of one run file."""

    run: RunView
    remarks: list[str]
