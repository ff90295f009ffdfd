"""The calculation page as a class writes it: numbered lines, symbols and fractions, the class's units and its route."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Literal

from claykettle.core.errors import WorksheetError
from claykettle.core.judgement.advice import Advice, advise
from claykettle.core.judgement.limits import label_of
from claykettle.core.judgement.per_hundred import Share as RouteShare
from claykettle.core.judgement.per_hundred import per_hundred_grams
from claykettle.core.method import Share
from claykettle.core.quantity import figures, percent, unit
from claykettle.core.run import Evaluation, TrialEvaluation
from claykettle.core.sheet import WorkingLine, written
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.revealing import refuse_before_time
from claykettle.service.views.base import View
from claykettle.service.views.typeset import figure, line_of, mathml, symbol, typeset
from claykettle.service.visit import Visit

Pressure = Literal["kPa", "mmHg"]
IN_MERCURY = {"kPa": "mmHg", "kPa mL/K": "mmHg mL/K", "J/(mol K)": "mmHg L/(mol K)"}
"""What a class that works in millimetres of mercury writes each unit in."""
MERCURY_PER_WATER = 13.6
"""How many times as dense as water a class takes mercury to be."""


class ShareView(View):
    """How much of a result's variance one reading brings, also as text."""

    result: str
    reading: str
    share: float
    text: str


class ReadLineView(View):
    """A reading on the page: its number, what it is, its symbol (MathML) and the figure as typed."""

    number: int
    name: str
    label: str
    symbol: str
    text: str


class WorkedLineView(View):
    """A computed line: its number, and the rule in words, in symbols (MathML), by the numbers of the lines and with
    the figures (`figures` as MathML where there is a fraction, else empty). `beside` is what a class's shorter way
    gives.
    """

    number: int
    name: str
    label: str
    rule: str
    symbols: str
    by_number: str
    substituted: str
    figures: str
    result: str
    beside: str


class WorkedTrialView(View):
    """One trial's calculation page, what limits its results, and what other choices would buy; `route` is the way by
    100 g to a formula, empty where none is sought.
    """

    label: str
    readings: list[ReadLineView]
    lines: list[WorkedLineView]
    route: list[RouteShare]
    budget: list[ShareView]
    key: str
    labels: dict[str, str]
    advice: list[Advice]


class WorkingPageView(View):
    """The calculation pages of a run; `pressures` tells whether there are any to be written in another unit."""

    trials: list[WorkedTrialView]
    pressures: bool


@may(BENCH, INSTRUCTOR)
def working_view(visit: Visit, uuid: str, pressure: Pressure = "kPa") -> WorkingPageView:
    """The calculation pages of a run, a trial each, with what limits every result."""
    run = visit.run(uuid)
    refuse_before_time(visit, run.id)
    evaluation = run.evaluation
    return WorkingPageView(
        trials=[_worked(evaluation, trial, IN_MERCURY if pressure == "mmHg" else {}) for trial in evaluation.trials],
        pressures=any(line.unit in IN_MERCURY for trial in evaluation.trials for line in trial.trial.sheet.lines),
    )


def _worked(evaluation: Evaluation, trial: TrialEvaluation, shown_in: Mapping[str, str]) -> WorkedTrialView:
    judging = evaluation.run.method.judging
    page = _Page(trial)
    return WorkedTrialView(
        label=trial.label,
        readings=page.readings,
        lines=[page.line(row, _beside(trial, row, judging.columns, shown_in)) for row in page.shown(shown_in)],
        route=per_hundred_grams(trial.trial, judging.parts(evaluation.run.options)),
        budget=[_share(row) for row in trial.budget],
        key=evaluation.key,
        labels={share.reading: label_of(share.reading, trial.trial.sheet) for share in trial.budget},
        advice=advise(trial.trial, evaluation.run.method, evaluation.run.half_widths),
    )


def _beside(trial: TrialEvaluation, row: WorkingLine, columns: Mapping[str, str], shown_in: Mapping[str, str]) -> str:
    """What a class that divides the column by 13.6 writes down for it."""
    if not shown_in or row.name not in columns:
        return ""
    height = trial.trial.value(columns[row.name])
    if height is None:
        return ""
    in_mm = unit("mm").from_si(height)
    return f"As a class does it: {figures(in_mm, 3)} mm / 13.6 = {figures(in_mm / MERCURY_PER_WATER, 3)} mmHg"


class _Page:
    """Numbers and symbols of one trial's page; each label has its place."""

    def __init__(self, trial: TrialEvaluation):
        self.trial = trial
        self.sheet = trial.trial.sheet
        self.labels = tuple(self.sheet.labels.values())
        dimensions = {row.label: unit(row.unit).dimension for row in self.sheet.readings.values()}
        dimensions |= {row.label: row.shown_unit.dimension for row in self.sheet.lines}
        self.symbols = {label: symbol(label, dimension) for label, dimension in dimensions.items()}
        self.numbers: dict[str, int] = {}
        self.texts = {self.sheet.labels[name]: text for name, text in trial.typed.items() if name in self.sheet.labels}
        self.readings = [self._reading(name, text) for name, text in trial.typed.items() if name in self.sheet.labels]

    def _reading(self, name: str, text: str) -> ReadLineView:
        label = self.sheet.labels[name]
        self.numbers[label] = len(self.numbers) + 1
        return ReadLineView(
            number=self.numbers[label], name=name, label=label, symbol=mathml(self.symbols[label]), text=text
        )

    def shown(self, shown_in: Mapping[str, str]) -> list[WorkingLine]:
        """The lines but for those that only repeat another: these share its number, symbol and place."""
        rows: list[WorkingLine] = []
        for row in self.trial.working_in(shown_in):
            self.texts[row.label] = row.result
            repeated = row.rule.strip("()")
            is_chosen = self.sheet.by_name[row.name].kind != "line"
            if repeated in self.numbers and row.substituted == row.result and not is_chosen:
                self.numbers[row.label] = self.numbers[repeated]
                self.symbols[row.label] = self.symbols[repeated]
                continue
            self.numbers[row.label] = max(self.numbers.values(), default=0) + 1
            rows.append(row)
        return rows

    def line(self, row: WorkingLine, beside: str) -> WorkedLineView:
        """A line as it is written; one that is told in words has no symbols."""
        definition = self.sheet.by_name[row.name]
        options, pick = self.sheet.shape.options, self.trial.trial.values.picks.get(row.name)
        symbols = by_number = set_out = ""
        if not definition.is_sentence(options) and definition.rule_text(options, pick) == row.rule:
            try:
                symbols = mathml(line_of(self.symbols, row.label, row.rule, self.labels))
                numbers = {label: f"({number})" for label, number in self.numbers.items()}
                by_number = written(row.rule, self.labels).put(numbers)
                set_out = self._figures(row)
            except (WorksheetError, KeyError):
                # told in words after all
                symbols = by_number = set_out = ""
        return WorkedLineView(
            number=self.numbers[row.label],
            name=row.name,
            label=row.label,
            rule=row.rule,
            symbols=symbols,
            by_number=by_number if "(" in by_number else "",
            substituted=row.substituted,
            figures=set_out,
            result=row.result,
            beside=beside,
        )

    def _figures(self, row: WorkingLine) -> str:
        """The rule with figures; only a fraction gains by being set."""
        if "/" not in re.sub(r"\([^()]*\)", "", row.rule) or row.substituted == row.rule:
            return ""
        return mathml(f"= {typeset(row.rule, self.labels, lambda label: figure(self.texts[label]))}")


def _share(row: Share) -> ShareView:
    return ShareView(result=row.result, reading=row.reading, share=row.share, text=percent(row.share, 0))
