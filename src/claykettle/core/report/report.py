"""The whole report of a run: what it was for, how it was done, what was read, what came of it, what to think of that.

Every figure comes from the evaluation, as texts that were rounded there.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace

from claykettle.core.chemistry.substances import Register
from claykettle.core.method import Options
from claykettle.core.methods.registry import procedure_named
from claykettle.core.planning.waste import WasteSheet, formulas_of, left_of, waste_sheet
from claykettle.core.quantity import COVERAGE, exact, percent, unit
from claykettle.core.report.beside import NOTHING_BESIDE, Beside, Logged
from claykettle.core.report.document import (
    Block,
    Document,
    Items,
    Paragraph,
    Section,
    Span,
    Table,
    Text,
    said,
    table,
    text,
)
from claykettle.core.report.told import Told, matter_of, times, told
from claykettle.core.run import (
    INSTRUMENTS,
    Entry,
    Evaluation,
    Procedure,
    Run,
    StepMark,
    TrialEvaluation,
    TrialRecord,
    reading_definition,
    worded,
)
from claykettle.core.verdict import Level, Verdict
from claykettle.core.wording import listed

UNITS = {
    "mass": "g", "volume": "mL", "temperature": "K", "pressure": "hPa", "length": "mm", "ratio": "%", "time": "s",
}  # fmt: skip
"""In what the half-width of an instrument is told, by what it measures."""
SIDE_BY_SIDE = 4
"""So many trials stand beside one another on a sheet."""
SIGNED = ("signed", "signed elsewhere")
"""The tags under which signatures leave in a run file."""
PRACTISED = ("Practised", "at a simulated bench: nothing of it was really done, and it counts as no class's result")
NOT_RECORDED = "Nothing was recorded of this."


def report_of(evaluation: Evaluation, beside: Beside = NOTHING_BESIDE, register: Register | None = None) -> Document:
    """The report of a run, finished or not: what cannot be told yet says so."""
    writer = _Writer(evaluation, beside, register or Register())
    return Document(
        title=evaluation.run.title or evaluation.run.method.title,
        about=(
            *(beside.about or (("Method", evaluation.run.method.title),)),
            *((PRACTISED,) if evaluation.run.practised else ()),
        ),
        sections=tuple(writer.sections()),
    )


class _Writer:
    def __init__(self, evaluation: Evaluation, beside: Beside, register: Register):
        self.evaluation, self.beside, self.register = evaluation, beside, register
        self.run: Run = evaluation.run
        self.matter = matter_of(self.run.method, self.named)

    @property
    def named(self) -> Options:
        """The options as far as they may be told: without those that are answers, where these are kept back."""
        if self.beside.tells_answers:
            return self.run.options
        fields = type(self.run.options).model_fields
        kept = {name: fields[name].default for name in self.run.method.judging.answers if name in fields}
        return self.run.options.model_copy(update=kept)

    def sections(self) -> Iterator[Section]:
        yield Section("Purpose", tuple(self.purpose()))
        yield Section("Reagents and instruments", tuple(self.used()))
        yield Section("Procedure", tuple(self.procedure()))
        yield Section("Readings", tuple(self.readings()))
        yield Section("Results", tuple(self.results()))
        if len(self.run.trials) > 1:
            yield Section("The trials together", tuple(self.together()))
        yield Section("Discussion", tuple(self.discussion()))
        yield Section("Waste", tuple(self.waste()))
        yield Section("Questions", tuple(self.questions()))
        yield Section("Signatures", tuple(self.signatures()))
        yield Section("Appendix: the log", tuple(self.log()), appendix=True)

    # what for, with what, how

    def purpose(self) -> Iterator[Block]:
        says = self.run.method.aim.says
        yield said(f"The aim was to {says} {self.matter}.")
        if self.run.note:
            yield said(self.run.note)
        equations = list(self._equations())
        if equations:
            yield Items(tuple(text(row) for row in equations))

    def _equations(self) -> Iterator[str]:
        """What reacted: as the options have it, or as the method tells it of what was found."""
        decided = (
            trial for trial in self.evaluation.trials if sum(row.status == "match" for row in trial.candidates) < 2
        )
        found = next((row.text for trial in decided for row in trial.words.values() if row.text), None)
        told_of = self.run.method.judging.reaction(self.named, found if self.beside.tells_answers else None)
        if told_of:
            yield told_of.replace("->", "→")
            return
        one, several = (getattr(self.named, name, None) for name in ("equation", "equations"))
        rows = several if several else (one,) if one is not None else ()
        yield from (row.text.replace("->", "→") for row in rows)

    def used(self) -> Iterator[Block]:
        formulas = formulas_of(self.named)
        if not self.beside.tells_answers:
            # what it does without its water is told; how much of that there is, is to be found
            formulas = tuple({row.anhydrous.text: row.anhydrous for row in formulas}.values())
        found = [(formula, self.register.find(formula)) for formula in formulas]
        if found:
            rows = [
                (formula.text, row.name if row else "", "; ".join(row.hazards) if row else "not in the register: ask")
                for formula, row in found
            ]
            yield table(("Substance", "Name", "Hazards"), rows, "Substances that were worked with or that came of it")
        instruments = list(self.beside.instruments) or [
            (name.replace("_", " "), _half_width(name, float(width))) for name, width in self.run.half_widths.items()
        ]
        if instruments:
            yield table(("Instrument", "How exact"), instruments, "Instruments")
        if not found and not instruments:
            yield said(NOT_RECORDED)

    @property
    def course(self) -> Procedure | None:
        """The procedure that the run followed; the shipped one where it is not known here."""
        return self.run.course or procedure_named(self.run.method.name, None)

    def procedure(self) -> Iterator[Block]:
        course = self.course
        if course is None or not any(row.entries for row in self.run.trials):
            yield said(NOT_RECORDED)
            return
        first, *others = [
            (row.label, told(self.evaluation, row.label, course, self.matter)) for row in self.run.trials if row.entries
        ]
        if first[1].sentences:
            yield said(" ".join(first[1].sentences))
        if not first[1].is_marked:
            yield said(
                f"Between the readings the procedure “{course.title}” (version {course.version}) was followed; no step "
                "of it was marked."
            )
        for label, row in others:
            yield said(f"Trial {label} was done in the same way{_otherwise(first[1], row)}.")
        for label, row in (first, *others):
            if row.passed:
                yield Paragraph(text(f"Trial {label}: passed over were {listed(row.passed)}."), "watch")
        rows = (row for row in self.run.observations if row.tag not in SIGNED)
        seen = [f"{row.tag}{f' ({row.text})' if row.text else ''}" for row in rows]
        if seen:
            yield said(f"Seen on the way: {'; '.join(dict.fromkeys(seen))}.")

    # what was read

    def readings(self) -> Iterator[Block]:
        names = list(dict.fromkeys(name for row in self.run.trials for name in (*row.entries, *row.not_taken)))
        shared = [name for name in (*self.run.shared, *self.run.shared_not_taken) if name not in names]
        if not names and not shared:
            yield said("Nothing was weighed or measured yet.")
            return
        if shared:
            held = [(self._label(name), self._entries(self.run.shared.get(name, ()))) for name in shared]
            yield table(("For all trials", "As typed"), held, "", (1,))
        begun = [row for row in self.run.trials if row.entries or row.not_taken]
        for part in _sheets(len(begun)) if names else ():
            trials = begun[part]
            read: list[list[str | Text]] = [
                [self._label(name), *(self._cell(row, name) for row in trials)] for name in names
            ]
            caption = "Readings as typed; what was corrected is struck out"
            yield _side_by_side("Reading", (row.label for row in trials), read, caption)
        reasons = [
            (f"{self._label(name)}, {entry.corrects}", entry.reason or "no reason given")
            for _, name, entry in self._all_entries()
            if entry.corrects
        ]
        reasons += [
            (f"{self._label(name)}, not taken", row.reason)
            for record in self.run.trials
            for name, why in {**self.run.shared_not_taken, **record.not_taken}.items()
            for row in why
        ]
        if reasons:
            yield table(("What", "Why"), list(dict.fromkeys(reasons)), "Corrected or left out")
        if self.run.changes:
            rows_changed = [
                (row.what, row.before or "nothing", row.after or "nothing", row.reason) for row in self.run.changes
            ]
            yield table(("Decided otherwise", "Before", "Then", "Why"), rows_changed)

    def _label(self, name: str) -> str:
        definition = reading_definition(self.run.method, name, self.run.options)
        if definition is None:
            return name
        label = definition.labelled(self.run.options)
        return label if name == definition.name else f"{label}, {name.rpartition('_')[2]}"

    def _cell(self, record: TrialRecord, name: str) -> Text:
        if name in record.entries:
            return self._entries(record.entries[name])
        return text("not taken" if name in record.not_taken else "")

    def _entries(self, entries: Sequence[Entry]) -> Text:
        spans: list[Span] = []
        for number, entry in enumerate(entries):
            if number:
                spans.append(Span(", "))
            if entry.corrects:
                spans += [Span(entry.corrects, "struck"), Span(" ")]
            spans.append(Span(entry.reading.shown))
        return tuple(spans)

    def _all_entries(self) -> Iterator[tuple[str, str, Entry]]:
        for name, entries in self.run.shared.items():
            yield from (("", name, entry) for entry in entries)
        for record in self.run.trials:
            for name, entries in record.entries.items():
                yield from ((record.label, name, entry) for entry in entries)

    # what came of it

    def results(self) -> Iterator[Block]:
        if not self.beside.tells_answers:
            yield said("The results are worked out by those who did the run; they are told when that is handed in.")
            return
        begun = {row.label for row in self.run.trials if row.entries or row.not_taken}
        trials = [trial for trial in self.evaluation.trials if trial.label in begun]
        names = list(dict.fromkeys(row.name for trial in trials for row in trial.results))
        if not names:
            yield said("No result can be worked out yet.")
            return
        labels = {row.name: row.label for trial in trials for row in trial.results}
        words = list(dict.fromkeys(name for trial in trials for name in trial.words))
        for part in _sheets(len(trials)):
            rows = [[labels[name], *(_result(trial, name) for trial in trials[part])] for name in names]
            rows += [[name.replace("_", " "), *(_word(trial, name) for trial in trials[part])] for name in words]
            shown = (trial.label for trial in trials[part])
            yield _side_by_side("Result", shown, rows, "Results with their expanded uncertainty (k = 2)")
        worked = next((trial for trial in trials if trial.working), None)
        if worked is not None:
            lines = [(row.label, row.rule, _set_out(row.rule, row.substituted), row.result) for row in worked.working]
            yield table(("Line", "Rule", "With the figures", "Gives"), lines, f"Working of trial {worked.label}", (3,))
            limits = [row for row in worked.shares(self.evaluation.key) if row.share > 0.01][:4]
            if limits:
                told_by = [(self._share_label(worked, row.reading), percent(row.share, 0)) for row in limits]
                caption = "What makes the result uncertain: shares of its variance"
                yield table(("Reading", "Share"), told_by, caption, (1,))

    @staticmethod
    def _share_label(trial: TrialEvaluation, name: str) -> str:
        base, _, more = name.partition(".")
        label = trial.trial.sheet.labels.get(base, base)
        return f"{label}, {more}" if more else label

    def together(self) -> Iterator[Block]:
        if not self.beside.tells_answers:
            yield said("The trials are held together when the results are told.")
            return
        mean = self.evaluation.mean
        if mean is not None:
            yield said(f"Weighted mean of the {mean.label}: {mean.text}.")
        yield from _verdicts(self.evaluation.verdicts)
        if mean is None and not self.evaluation.verdicts:
            yield said("There are not two results yet that could be held together.")

    def discussion(self) -> Iterator[Block]:
        if not self.beside.tells_answers:
            yield said("What the figures say is told with the results.")
            return
        for trial in self.evaluation.trials:
            if len(self.evaluation.trials) > 1:
                yield Paragraph((Span(f"Trial {trial.label}", "strong"),))
            yield from _verdicts(trial.verdicts)
            found = self.evaluation.deviation(trial.label)
            if found is None:
                continue
            yield said(f"Expected was {found.expected_text}, found {found.measured_text}. {found.text}")
            if found.gap > COVERAGE and found.believable:
                yield said("What could explain it, by replaying it through the same calculation:")
                yield Items(tuple(text(row.text) for row in found.believable[:4]))

    # afterwards

    def waste(self) -> Iterator[Block]:
        yield from waste_told(waste_sheet(left_of(self.evaluation), self.register))

    def questions(self) -> Iterator[Block]:
        if not self.beside.questions:
            yield said("None were asked.")
            return
        rows = [(row.ask, row.answer or "not answered", row.said) for row in self.beside.questions]
        yield table(("Question", "Answer", "What is to say of it"), rows)

    def signatures(self) -> Iterator[Block]:
        in_file = [row for row in self.run.observations if row.tag in SIGNED]
        if self.beside.signatures:
            rows = [(row.name, row.at, row.changed or "nothing") for row in self.beside.signatures]
            yield table(("Signed by", "When", "Changed since"), rows)
        elif in_file:
            told = [(row.by or "", (row.at or "").replace("T", " "), row.text) for row in in_file]
            yield table(("Signed by", "When", "What it stands for"), told, "As the run file says; the record proves it")
        else:
            yield said("Not signed on the record. By hand:")
            yield table(("Name", "Date", "Signature"), [("\u00a0", "", ""), ("\u00a0", "", "")])

    def log(self) -> Iterator[Block]:
        rows = list(self.beside.log) or list(self._logged())
        if not rows:
            yield said(NOT_RECORDED)
            return
        yield table(("When", "Who", "What"), [(row.at, row.by, _struck(row)) for row in rows])

    def _logged(self) -> Iterator[Logged]:
        """The log as the run file holds it: what has a time in order of time, the rest before it."""
        rows: list[Logged] = []
        for label, name, entry in self._all_entries():
            where = f"trial {label}, " if label else ""
            corrected = f" (before: {entry.corrects}; {entry.reason or 'no reason given'})" if entry.corrects else ""
            what = f"{where}{self._label(name)}: {entry.reading.shown}{corrected}"
            rows.append(Logged(entry.at or "", entry.by or "", what))
        for seen in self.run.observations:
            where = f"trial {seen.trial}, " if seen.trial else ""
            rows.append(
                Logged(seen.at or "", seen.by or "", f"{where}seen: {seen.tag}{f', {seen.text}' if seen.text else ''}")
            )
        for mark in self.run.steps:
            more = f" ({mark.reason})" if mark.reason else ""
            rows.append(
                Logged(mark.at or "", mark.by or "", f"trial {mark.trial}, {self._step(mark)}: {mark.kind}{more}")
            )
        yield from sorted((replace(row, at=row.at.replace("T", " ")) for row in rows), key=lambda row: row.at)

    def _step(self, mark: StepMark) -> str:
        course = self.course
        found = next((row for row in course.all_steps() if row.id == mark.step), None) if course is not None else None
        return (
            worded(found.short or found.title, mark.round, self._label(found.reads or ""), {}) if found else mark.step
        )


def waste_told(sheet: WasteSheet) -> Iterator[Block]:
    """A waste sheet as a table, and whose rules come first."""
    rows = [
        (part.title, f"{row.what}{f' ({row.name})' if row.name else ''}", row.amount, row.first)
        for part in sheet.containers
        for row in part.lines
    ]
    yield table(("Where to", "What", "How much", "First"), rows)
    yield said(sheet.rules)


def verdicts_told(rows: Iterable[tuple[str, Level]]) -> Iterator[Block]:
    """Verdicts, each with its level."""
    yield from (Paragraph(text(line), level) for line, level in rows)


def _half_width(instrument: str, width: float) -> str:
    shown = unit(UNITS[INSTRUMENTS[instrument]])
    return f"± {exact(shown.step_from_si(width))} {shown.shown}"


def _sheets(count: int) -> Iterator[slice]:
    """So many trials as stand side by side on a sheet of paper, and the next ones."""
    yield from (slice(at, at + SIDE_BY_SIDE) for at in range(0, count, SIDE_BY_SIDE))


def _side_by_side(what: str, labels: Iterable[str], rows: Sequence[Sequence[str | Text]], caption: str) -> Table:
    heads = [f"Trial {label}" for label in labels]
    return table((what, *heads), rows, caption, range(1, len(heads) + 1))


def _word(trial: TrialEvaluation, name: str) -> str:
    return (trial.words[name].text or "none fits") if name in trial.words else ""


def _otherwise(first: Told, row: Told) -> str:
    """How often another trial did what the first did another number of times."""
    other = [times(number) for group, number in row.rounds.items() if number and number != first.rounds.get(group)]
    return f", the rounds {listed(other)} in all" if other else ""


def _verdicts(rows: Iterable[Verdict]) -> Iterator[Block]:
    return verdicts_told((row.text, row.level) for row in rows)


def _result(trial: TrialEvaluation, name: str) -> str:
    found = trial.result(name)
    return found.text if found is not None else ""


def _set_out(rule: str, substituted: str) -> str:
    return "" if rule == substituted else substituted


def _struck(row: Logged) -> Text:
    return (Span(row.what, "struck"),) if row.is_struck else text(row.what)
