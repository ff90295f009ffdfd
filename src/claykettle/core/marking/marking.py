"""Marks a sheet: every claim against the readings and against the student's own earlier figures, errors carried on.

A claim agrees with a figure X where |claim − X| is no more than half a unit in its last digit, what the rounding of the
claims above it can make, and a thousandth of |X| (other published atomic weights and constants) together.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property

from claykettle.core.chemistry.equation import Equation, parse_equation
from claykettle.core.chemistry.formula import Formula, parse_formula
from claykettle.core.errors import Fault, Refusal, refuse
from claykettle.core.marking.carried import Own, Stretch
from claykettle.core.marking.claims import Claim, read_claim
from claykettle.core.marking.sheet import EARNS, SPOKEN, Line, Sheet, Status
from claykettle.core.marking.slips import WORDS, Looking, slips_of
from claykettle.core.method import LIMITING
from claykettle.core.quantity import COVERAGE, Unit, intermediate, nominal, unit
from claykettle.core.run import Evaluation, TrialEvaluation, evaluate_run
from claykettle.core.sheet import LineDef
from claykettle.core.verdict import Candidate

OTHER_WEIGHTS = 1e-3
"""So much of a figure other published weights and constants may make."""
AS_READ = "As the readings give it."
"""What is said of a line that is simply right."""
A_TENTH = 0.1
"""A ratio agrees with a formula's within so much at least."""


@dataclass(frozen=True)
class Marking:
    """A sheet, marked, its lines in the order of the working; `first_wrong` is where it first went wrong, or None."""

    lines: tuple[Line, ...]
    first_wrong: str | None
    marks: int
    of: int


def mark(sheet: Sheet, evaluation: Evaluation | None = None) -> Marking:
    """Mark a sheet; `evaluation` is that of its run, where it is there already.

    Raises Refusal with every fault: an unknown trial or line, marks below nothing.
    """
    marker = _Marker(sheet, evaluation or evaluate_run(sheet.run))
    lines = tuple(marker.lines())
    wrong = next((row.name for row in lines if row.status in ("wrong", "unit")), None)
    return Marking(lines, wrong, sum(row.marks for row in lines), sum(row.of for row in lines))


class _Marker:
    def __init__(self, sheet: Sheet, evaluation: Evaluation):
        self.sheet, self.evaluation = sheet, evaluation
        found = next((row for row in self.evaluation.trials if row.label == sheet.trial), None)
        if found is None:
            names = ", ".join(row.label for row in self.evaluation.trials)
            raise refuse("unknown-trial", f"The run has no trial '{sheet.trial[:40]}'; it has {names}.", "trial")
        self.found: TrialEvaluation = found
        self.page = found.trial.sheet
        faults = list(self._faults())
        if faults:
            raise Refusal(*faults)
        read = {
            name: claim
            for name, text in sheet.claims.items()
            if name in self.page.by_name and (claim := read_claim(name, text, self.page.by_name[name].unit)) is not None
        }
        self.own = Own(sheet.run.method, found.trial, read)

    def _faults(self) -> Iterator[Fault]:
        for where, names in (("claims", self.sheet.claims), ("marks", self.sheet.marks)):
            for name in names:
                if name not in SPOKEN and name not in self.page.by_name:
                    known = ", ".join([*self.page.by_name, *SPOKEN])
                    text = f"'{name[:40]}' is no line of this working; its lines are {known}."
                    yield Fault("unknown-line", f"{where}.{name[:60]}", text)
        for name, marks in self.sheet.marks.items():
            if marks < 0:
                yield Fault("negative", f"marks.{name}", "A line earns nothing, or something: not less than nothing.")

    def lines(self) -> Iterator[Line]:
        """Every line that is claimed or asked for, in the order of the working; what is said in words behind it."""
        asked = {**dict.fromkeys(self.sheet.claims), **dict.fromkeys(self.sheet.marks)}
        for name in self.page.by_name:
            if name == LIMITING and "limiting" in asked:
                yield self._spoken("limiting")
            if name in asked:
                yield self._line(name)
        rest = [name for name in SPOKEN if name in asked and not (name == "limiting" and LIMITING in self.page.by_name)]
        yield from (self._spoken(name) for name in rest)

    def _of(self, name: str) -> int:
        return self.sheet.marks.get(name, 1)

    def _made(
        self, name: str, label: str, status: Status, text: str, true: str = "", carried: str = "",
        slip: str | None = None, remarks: tuple[str, ...] = (),
    ) -> Line:  # fmt: skip
        of = self._of(name)
        claimed = self.sheet.claims.get(name, "")
        earned = of if status in EARNS else 0
        return Line(name, label, claimed, true, carried, status, earned, of, slip, text, remarks)

    # the lines of the working

    def _line(self, name: str) -> Line:
        line = self.page.by_name[name]
        claimed = self.sheet.claims.get(name, "").strip()
        true, spread = self.found.trial.value(name), self.found.trial.uncertainty(name)
        claim = self.own.claims.get(name)
        shown = claim.unit if claim is not None and not claim.is_other_kind else unit(line.unit)

        def said(value: float | None) -> str:
            if value is None:
                return ""
            step = shown.step_from_si(spread)
            return f"{intermediate(shown.from_si(value), step)} {shown.shown}".rstrip()

        if not claimed:
            return self._made(name, line.label, "missing", "Nothing was claimed here.", said(true))
        if claim is None:
            text = "This is no figure: it begins with digits, its unit behind them."
            return self._made(name, line.label, "wrong", text, said(true))
        carried = self.own.carried(name)
        told = said(true), said(carried.value)
        remarks = tuple(_remarks(claim, spread))
        if claim.amiss:
            return self._made(name, line.label, "unit", claim.amiss, *told, remarks=remarks)
        if true is None and carried.value is None:
            text = "The readings do not go so far: this cannot be held against anything."
            return self._made(name, line.label, "wrong", text, *told)
        if self._agrees(claim, true, carried.rounding):
            return self._made(name, line.label, "right", AS_READ, *told, remarks=remarks)
        if self._agrees(claim, carried.value, carried.rounding):
            text = "It follows from your own figures above; what went wrong, went wrong there."
            return self._made(name, line.label, "follows", text, *told, remarks=remarks)
        slips = self._slips(claim)
        return self._made(
            name, line.label, "wrong", self._why(slips, told), *told, slip=slips[0] if slips else None, remarks=remarks
        )

    @staticmethod
    def _agrees(claim: Claim, figure: float | None, rounding: float) -> bool:
        if figure is None:
            return False
        return abs(claim.value - figure) <= (claim.half + rounding + OTHER_WEIGHTS * abs(figure)) * (1 + 1e-9)

    def _slips(self, claim: Claim) -> list[str]:
        carried = self.own.carried(claim.name)
        if carried.value is None:
            return []
        looking = Looking(
            self.own, claim, Stretch.of(self.own, claim.name), carried.value,
            lambda figure: self._agrees(claim, figure, carried.rounding), self._expected,
        )  # fmt: skip
        return slips_of(looking)

    def _why(self, slips: list[str], told: tuple[str, str]) -> str:
        true, carried = told
        from_own = f"From your own figures above it comes to {carried}" if carried else "It cannot be worked out so far"
        beside = f"; from the readings, {true}." if true and true != carried else "."
        if not slips:
            return f"{from_own}{beside} No slip that is known here gives your figure."
        first, *others = (WORDS[code] for code in slips)
        also = f" The same figure would come where {' or '.join(others[:3])}." if others else ""
        return f"{from_own}{beside} Your figure comes where {first}.{also}"

    @cached_property
    def _expected(self) -> Mapping[str, float]:
        """What lines were to be before anything was weighed: for whoever writes that down in place of their own."""
        method, trial = self.sheet.run.method, self.found.trial
        judging, found = method.judging, {}
        accepted = judging.held_against(trial.options, trial.values)
        if accepted is not None:
            found[method.key_on(self.page)] = nominal(accepted)
        for line in judging.marks(trial.options):
            value = trial.value(line)
            if value is not None:
                found.setdefault(method.key_on(self.page), value)
        for name in self.page.by_name:
            theory = trial.value(f"theoretical_{name}")
            if theory is not None:
                found.setdefault(name, theory)
        return found

    # what is said in words

    def _spoken(self, name: str) -> Line:
        claimed = self.sheet.claims.get(name, "").strip()
        if name == "limiting":
            return self._limiting(claimed)
        return self._chosen(name, claimed)

    def _limiting(self, claimed: str) -> Line:
        name, label = "limiting", SPOKEN["limiting"]
        true = self._reagent(self.found.trial.values.picks.get(LIMITING))
        if not claimed:
            return self._made(name, label, "missing", "Nothing was claimed here.", true)
        carried = self._reagent(self.own.carried(LIMITING).values.picks.get(LIMITING))
        formula = _formula(claimed)
        if formula is None:
            return self._made(name, label, "wrong", "Name the reagent by its formula.", true, carried)
        if true and _is_same(formula, true):
            return self._made(name, label, "right", AS_READ, true, carried)
        if carried and _is_same(formula, carried):
            return self._made(name, label, "follows", "It follows from your own amounts above.", true, carried)
        text = f"From your own amounts it is {carried}." if carried else "Your own amounts do not say it."
        return self._made(name, label, "wrong", text, true, carried, "limiting-swapped")

    def _reagent(self, pick: str | None) -> str:
        if pick is None or not pick.isdigit():
            return ""
        found: str = self.found.trial.options.reagent(int(pick)).formula.text
        return found

    def _chosen(self, name: str, claimed: str) -> Line:
        """A formula or an equation, by the figure that it would give."""
        label, word = SPOKEN[name], self.found.words.get(name)
        true = (word.text or "") if word is not None else ""
        if not claimed:
            return self._made(name, label, "missing", "Nothing was claimed here.", true)
        candidate = self._equation(claimed) if name == "equation" else self._formula(claimed)
        if isinstance(candidate, str):
            return self._made(name, label, "wrong", candidate, true)
        measured, own = self.found.trial.value(self.key.name), self._own_key
        held = candidate.expected if candidate.expected is not None else candidate.ratio
        if held is None or measured is None:
            return self._made(name, label, "wrong", "The readings do not go so far as to say it.", true)

        def gives(value: float | None) -> bool:
            return value is not None and abs(self.key_unit.from_si(value) - held) <= self._reach

        nearest = self._nearest(own)
        if gives(measured):
            text = AS_READ
            if own is not None and not gives(own):
                text = f"As the readings give it, though your own {self.key.label}, {self._own_text(own)}, does not."
            return self._made(name, label, "right", text, true, nearest)
        if gives(own):
            return self._made(name, label, "follows", "It follows from your own figure above.", true, nearest)
        theirs = self._own_text(own if own is not None else measured)
        text = f"Your own {self.key.label} is {theirs}; {candidate.text} would be {held:.3g}: {WORDS['ratio-forced']}."
        return self._made(name, label, "wrong", text, true, nearest, "ratio-forced")

    @property
    def key(self) -> LineDef:
        """The line whose figure tells the formula or the equation."""
        return self.evaluation.key_line

    @property
    def key_unit(self) -> Unit:
        """The unit of that line, in which candidates tell their figures."""
        return unit(self.key.unit)

    @property
    def _reach(self) -> float:
        """How far from a formula's figure one may be and still give it."""
        return max(COVERAGE * self.key_unit.step_from_si(self.found.trial.uncertainty(self.key.name)), A_TENTH)

    @property
    def _own_key(self) -> float | None:
        """The student's own key figure (SI): as claimed, or as it comes from what they claimed."""
        claim = self.own.claims.get(self.key.name)
        return claim.value if claim is not None and not claim.is_other_kind else self.own.carried(self.key.name).value

    def _own_text(self, own: float) -> str:
        """The student's own key figure as they wrote it, or as it comes from what they wrote."""
        claim = self.own.claims.get(self.key.name)
        if claim is not None and not claim.is_other_kind:
            return claim.text.strip()
        spread = self.key_unit.step_from_si(self.found.trial.uncertainty(self.key.name))
        return f"{intermediate(self.key_unit.from_si(own), spread)} {self.key_unit.shown}".rstrip()

    def _nearest(self, own: float | None) -> str:
        """The candidate that the student's own key figure gives."""
        rows = [row for row in self.found.candidates if row.charges is not False and row.expected is not None]
        if own is None or not rows:
            return ""
        figure = self.key_unit.from_si(own)
        return min(rows, key=lambda row: abs((row.expected or 0.0) - figure)).text

    def _formula(self, claimed: str) -> Candidate | str:
        """What is claimed among the formulas that are possible, or what is wrong with it."""
        formula = _formula(claimed)
        if formula is None:
            return "This is no formula: write it as CuSO4.3H2O."
        found = (row for row in self.found.candidates if _is_same(formula, row.text))
        return next(found, f"{formula.text} is none of the formulas that the readings were held against.")

    def _equation(self, claimed: str) -> Candidate | str:
        """What is claimed among the equations that are possible, or what is wrong with it; where no others were, the
        one that was settled at the start.
        """
        equation = _equation(claimed)
        if equation is None:
            return "This is no equation: write it as 2 A -> B + C, with formulas."
        rows, word = self.found.candidates, self.found.words.get("equation")
        if not rows and word is not None and word.text:
            figure = self.key_unit.from_si(self.found.trial.value(self.key.name) or 0.0)
            rows = (Candidate(word.text, None, 0.0, figure, None, "", "match", None),)
        for row in rows:
            known = _equation(row.text)
            if known is not None and _is_same_equation(equation, known):
                return row
        return "This equation is none of those that the readings were held against."


def _remarks(claim: Claim, spread: float) -> Iterator[str]:
    """Whether the digits say more or less than is known; of a figure without uncertainty nothing is remarked."""
    if spread <= 0:
        return
    if claim.half > 2 * spread:
        yield "too-few-digits"
    elif claim.half < spread / 50:
        yield "too-many-digits"


def _formula(text: str) -> Formula | None:
    try:
        return parse_formula(text.strip())
    except Refusal:
        return None


def _equation(text: str) -> Equation | None:
    try:
        return parse_equation(text.strip())
    except Refusal:
        return None


def _is_same(formula: Formula, text: str) -> bool:
    other = _formula(text)
    return other is not None and formula.counts == other.counts


def _is_same_equation(one: Equation, other: Equation) -> bool:
    """Whether both say the same, in whatever order and multiples."""

    def sides(equation: Equation) -> list[dict[tuple[tuple[str, object], ...], float]]:
        return [
            {tuple(sorted(row.formula.counts.items())): float(row.coefficient) for row in side}
            for side in (equation.reactants, equation.products)
        ]

    ours, theirs = sides(one), sides(other)
    if [set(side) for side in ours] != [set(side) for side in theirs]:
        return False
    factors = [ours[n][key] / theirs[n][key] for n in (0, 1) for key in ours[n]]
    return max(factors) - min(factors) <= 1e-9 * max(factors)
