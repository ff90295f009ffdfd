"""Questions before and after the work: an answer held against what was to be said, or against what the readings say.

What is asked may be `about` a line of the working, about `direction` (is the result too high or too low?), `deviation`
(by how much?) or `cause` (what could have done it?), which a replay through the method's causes answers: no sign or
size of a cause stands in any file.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.errors import Refusal
from claykettle.core.judgement.suspects import Suspect, Suspicion
from claykettle.core.marking.claims import Claim, read_claim
from claykettle.core.marking.marking import OTHER_WEIGHTS
from claykettle.core.method import LIMITING, LineReplaced
from claykettle.core.planning.practical import Kind, Question
from claykettle.core.quantity import COVERAGE, Unit, claimed_unit, short, unit, with_uncertainty
from claykettle.core.run import Evaluation, Run, TrialEvaluation, evidence_of
from claykettle.core.sheet import LineDef

Verdict = Literal["right", "wrong", "open"]
"""`open`: nothing here decides it, a person reads it."""
DIRECTION, DEVIATION, CAUSE = "direction", "deviation", "cause"
REPLAYED = {
    DIRECTION: "whether the result is too high or too low",
    DEVIATION: "by how much it is off",
    CAUSE: "which cause could have done it",
}
"""What a question may be about beside a line of the working, and what that is called."""
OFFERED = (DIRECTION, CAUSE)
"""What brings its own choices."""
HIGH, LOW, INSIDE, NONE = "high", "low", "inside", "none"
WAYS = ((HIGH, "too high"), (LOW, "too low"), (INSIDE, "as expected, within its band"))
NO_CAUSE = "none is needed, it lies within its band"
NOTHING_EXPECTED = "Nothing was accepted beforehand that the result could be held against."
TO_BE_READ = "For a person to read."


@dataclass(frozen=True)
class Choice:
    """One of the answers that are offered: as it is kept, and as it is read."""

    value: str
    label: str


@dataclass(frozen=True)
class Answered:
    """How an answer stands, and why as a sentence."""

    verdict: Verdict
    text: str


def choices_of(question: Question, run: Run, trial: str) -> tuple[Choice, ...]:
    """The answers that are offered: the question's own, or those that follow from what it is about."""
    if question.about == DIRECTION:
        return tuple(Choice(value, label) for value, label in WAYS)
    if question.about == CAUSE:
        evidence = evidence_of(run, trial)
        rows = [row for row in run.method.bench.causes if row.happens(run.options, evidence)]
        offered = [Choice(row.code, row.label) for row in rows if not isinstance(row.kind, LineReplaced)]
        return (Choice(NONE, NO_CAUSE), *sorted(offered, key=lambda row: row.label.casefold()))
    return tuple(Choice(row, row) for row in question.choices)


def kind_of(question: Question) -> Kind:
    """How a question is answered: text, number or choice."""
    if question.about in OFFERED:
        return "choice"
    return "number" if question.about == DEVIATION else question.kind


def judge_answer(question: Question, said: str, evaluation: Evaluation, trial: str) -> Answered:
    """Hold an answer against what was to be said, else against what the readings of a trial say."""
    return _Judge(question, said.strip(), evaluation, trial).answered()


class _Judge:
    def __init__(self, question: Question, said: str, evaluation: Evaluation, trial: str):
        self.question, self.said, self.evaluation = question, said, evaluation
        self.label = trial
        self.found: TrialEvaluation = evaluation.trial(trial)

    def answered(self) -> Answered:
        if self.question.about in REPLAYED:
            return self._replayed()
        if self.question.answer:
            return self._against_answer()
        if self.question.about and self.question.kind == "number":
            return self._against_line()
        if self.question.about == "limiting":
            return self._against_limiting()
        return Answered("open", TO_BE_READ)

    # against what was written down for it

    def _against_answer(self) -> Answered:
        wanted = self.question.answer
        if self.question.kind == "number":
            claim, held = self._claim(self.said), self._claim(wanted)
            if claim is None or held is None:
                return Answered("wrong", f"A figure is asked for; it is {wanted}.")
            if claim.amiss:
                return Answered("wrong", f"{claim.amiss} It is {wanted}.")
            reach = claim.half + held.half + OTHER_WEIGHTS * abs(held.value)
            is_right = abs(claim.value - held.value) <= reach * (1 + 1e-9)
            return _held(is_right, "" if is_right else f"It is {wanted}.")
        if self.question.kind == "choice":
            is_right = self.said == wanted
            return _held(is_right, "" if is_right else f"It is: {wanted}.")
        if self.said.casefold() == wanted.casefold() or _same_formula(self.said, wanted):
            return Answered("right", "")
        return Answered("open", f"{TO_BE_READ} Written down for it was: {wanted}.")

    def _claim(self, text: str) -> Claim | None:
        line = self._line(self.question.about)
        return read_claim("answer", text, line.unit if line is not None else _unit_of(text, self.question.answer))

    def _line(self, name: str) -> LineDef | None:
        return self.found.trial.sheet.by_name.get(name)

    # against what came of it

    def _against_line(self) -> Answered:
        """A prediction against the outcome."""
        line = self._line(self.question.about)
        value = self.found.trial.value(self.question.about)
        if line is None or value is None:
            return Answered("open", "The readings do not tell it yet.")
        claim = read_claim("answer", self.said, line.unit)
        if claim is None:
            return Answered("wrong", "A figure is asked for.")
        shown, spread = line.shown_unit, self.found.trial.uncertainty(line.name)
        came = with_uncertainty(shown.from_si(value), shown.step_from_si(spread), shown.shown)
        if claim.amiss:
            return Answered("wrong", f"{claim.amiss} It came to {came}.")
        reach = claim.half + COVERAGE * spread + OTHER_WEIGHTS * abs(value)
        return _held(abs(claim.value - value) <= reach * (1 + 1e-9), f"It came to {came}.")

    def _against_limiting(self) -> Answered:
        pick = self.found.trial.values.picks.get(LIMITING)
        if pick is None or not pick.isdigit():
            return Answered("open", "The readings do not tell it yet.")
        true: str = self.found.trial.options.reagent(int(pick)).formula.text
        is_right = _same_formula(self.said, true)
        return _held(is_right, "" if is_right else f"It is {true}.")

    # against a replay of what could have gone wrong

    def _replayed(self) -> Answered:
        case = self.evaluation.deviation(self.label)
        if case is None:
            return Answered("open", NOTHING_EXPECTED)
        match self.question.about:
            case "direction":
                return self._direction(case)
            case "deviation":
                return self._deviation(case)
        return self._cause(case)

    def _direction(self, case: Suspicion) -> Answered:
        way = _way(case)
        return _held(self.said == way, f"{_told(case)}: {dict(WAYS)[way]}.")

    def _deviation(self, case: Suspicion) -> Answered:
        """By how much, in the unit of the result or as a percentage of what was expected."""
        shown = self.evaluation.key_unit
        off = case.measured - case.expected
        percent = unit("%")
        claim = read_claim("answer", self.said, shown.symbol)
        in_percent = read_claim("answer", self.said, percent.symbol)
        rows: list[tuple[Claim, Unit, float]] = []
        if claim is not None and not claim.amiss:
            rows.append((claim, shown, off))
        if in_percent is not None and not in_percent.amiss and case.expected:
            rows.append((in_percent, percent, 100 * off / case.expected))
        if not rows:
            return Answered("wrong", f"{_told(case)}: it is off by {_signed(off)} {case.unit}".rstrip() + ".")
        is_right = any(self._is_so_far(row, kind, figure) for row, kind, figure in rows)
        more = f" ({_signed(100 * off / case.expected)} %)" if case.expected and case.unit != "%" else ""
        return _held(is_right, f"{_told(case)}: off by {_signed(off)} {case.unit}".rstrip() + f"{more}.")

    @staticmethod
    def _is_so_far(claim: Claim, kind: Unit, figure: float) -> bool:
        """Whether a figure agrees; the sign may be left to the other question."""
        value, half = kind.from_si(claim.value), kind.step_from_si(claim.half)
        reach = (half + 10 * OTHER_WEIGHTS * abs(figure)) * (1 + 1e-9)
        return abs(value - figure) <= reach or (value >= 0 and abs(value - abs(figure)) <= reach)

    def _cause(self, case: Suspicion) -> Answered:
        if _way(case) == INSIDE:
            return _held(self.said == NONE, f"{_told(case)}: no cause is needed, it lies inside.")
        if self.said == NONE:
            return Answered("wrong", f"{_told(case)}: it lies outside its band, and something did that.")
        blamed = next((row for row in case.suspects if row.code == self.said), None)
        if blamed is None:
            return Answered("open", TO_BE_READ)
        others = [row.label for row in case.believable[:3]] if not blamed.is_believable else []
        instead = f" Believable would be: {', '.join(others)}." if others else ""
        return _held(blamed.is_believable, f"{self._sized(blamed, case)}{instead}")

    @staticmethod
    def _sized(blamed: Suspect, case: Suspicion) -> str:
        """What the cause does to the result, and how much of it would be needed."""
        if not blamed.shift:
            return f"{blamed.label}: it does nothing to the {case.label}."
        makes = f"{blamed.label} makes the {case.label} too {'large' if blamed.shift > 0 else 'small'}"
        if blamed.standing == "wrong-sign":
            return f"{makes}; yours is too {'large' if _way(case) == HIGH else 'small'}."
        if blamed.dose is None:
            return f"{makes}; no dose of it would be enough."
        needed = f"{makes}; {blamed.dose_text} of it would be needed"
        if blamed.standing == "too-large":
            return f"{needed}, and {short(blamed.most)} {blamed.unit} is usually the most."
        return f"{needed}{'.' if blamed.is_believable else ', and another of the results speaks against it.'}"


def _held(is_right: bool, text: str) -> Answered:
    return Answered("right" if is_right else "wrong", text)


def _way(case: Suspicion) -> str:
    return INSIDE if case.gap <= COVERAGE else HIGH if case.measured > case.expected else LOW


def _told(case: Suspicion) -> str:
    return f"Found was {case.measured_text}, expected {case.expected_text}"


def _signed(value: float) -> str:
    return f"{'+' if value > 0 else '−' if value < 0 else ''}{short(abs(value))}"


def _unit_of(said: str, wanted: str) -> str:
    """The unit that the figure written down bears, so that both are read alike; none where it bears none."""
    for text in (wanted, said):
        _, _, rest = text.strip().partition(" ")
        try:
            return claimed_unit(rest).symbol if rest else "1"
        except Refusal:
            continue
    return "1"


def _same_formula(one: str, other: str) -> bool:
    try:
        return parse_formula(one).counts == parse_formula(other).counts
    except Refusal:
        return False


def answer_label(question: Question, said: str, run: Run, trial: str) -> str:
    """An answer as it is read."""
    return next((row.label for row in choices_of(question, run, trial) if row.value == said), said)
