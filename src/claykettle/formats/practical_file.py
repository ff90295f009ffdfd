"""A practical as a file: read as strictly as a run file, written as it stands."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from decimal import Decimal, InvalidOperation
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints, ValidationError

from claykettle.core.errors import Fault, Refusal
from claykettle.core.marking import OFFERED, REPLAYED, SPOKEN
from claykettle.core.method import Method, Options
from claykettle.core.methods.registry import method_named, procedure_named
from claykettle.core.planning.practical import Kind, Practical, Question, ReportLine, Reveal, faults_in_course
from claykettle.core.quantity import parse_reading, unit
from claykettle.core.run import Procedure, procedure_body, shape_of, slots_of, usable_readings
from claykettle.core.sheet import Worksheet
from claykettle.formats.envelope import read_envelope, schema_of
from claykettle.formats.run_file import model_faults, parse_options, read_window
from claykettle.formats.run_models import Figure, Model, Name, ShortName, Words

FORMAT, VERSION = "clay-kettle/practical", 1
MOST_TRIALS, MOST_QUESTIONS, MOST_CHOICES, MOST_LINES, MOST_MARKS = 20, 50, 12, 100, 100


class QuestionModel(Model):
    """Something asked before or after the work."""

    ask: Annotated[Words, StringConstraints(min_length=1)]
    kind: Kind
    choices: Annotated[list[Name], Field(max_length=MOST_CHOICES)] = Field(default_factory=list)
    answer: Figure = ""
    about: ShortName = ""


class ReportModel(Model):
    """A line that students hand in."""

    line: ShortName
    number: Annotated[int, Field(ge=0, le=999)] = 0
    marks: Annotated[int, Field(ge=0, le=MOST_MARKS)] = 1


class PracticalModel(Model):
    """A practical."""

    format: Literal["clay-kettle/practical"]
    version: Literal[1]
    name: Annotated[Name, StringConstraints(min_length=1)]
    method: ShortName
    options: dict[str, Any] = Field(default_factory=dict)
    trials: Annotated[int, Field(ge=1, le=MOST_TRIALS)] = 1
    procedure: dict[str, Any] | None = Field(default=None, description="Whole; without one the method's own.")
    schools: dict[ShortName, ShortName] = Field(default_factory=dict)
    planned: dict[ShortName, dict[Literal["about", "low", "high"], Figure]] = Field(default_factory=dict)
    instruments: dict[ShortName, ShortName] = Field(default_factory=dict, description="By kind the name on the shelf.")
    reveal: Reveal = "always"
    before: Annotated[list[QuestionModel], Field(max_length=MOST_QUESTIONS)] = Field(default_factory=list)
    after: Annotated[list[QuestionModel], Field(max_length=MOST_QUESTIONS)] = Field(default_factory=list)
    report: Annotated[list[ReportModel], Field(max_length=MOST_LINES)] = Field(default_factory=list)


def practical_schema() -> dict[str, Any]:
    """The JSON Schema of the practical file."""
    return schema_of(PracticalModel, "Clay Kettle practical, version 1")


def read_practical(data: bytes) -> Practical:
    """The practical that a file's bytes hold. Raises Refusal with every fault found."""
    model, _ = read_envelope(data, PracticalModel, "practical")
    return practical_from(model)


def practical_from(model: PracticalModel) -> Practical:
    """The practical of a model. Raises Refusal with every fault found."""
    return _Reader(method_named(model.method), model).practical()


class _Reader:
    def __init__(self, method: Method, model: PracticalModel):
        self.method, self.model = method, model
        self.faults: list[Fault] = []

    def practical(self) -> Practical:
        model = self.model
        options, course = self.options(), self.course()
        schools = self.schools(course) if course is not None else None
        if options is None or course is None or schools is None:
            raise Refusal(*self.faults)
        shipped = procedure_named(self.method.name, None)
        assert shipped is not None
        self.faults += faults_in_course(self.method, options, course, schools, shipped)
        windows = {
            name: read_window(self.method, options, name, {str(key): text for key, text in row.items()})
            for name, row in model.planned.items()
        }
        self.faults += [fault for _, faults in windows.values() for fault in faults]
        sheet = self.sheet(options, course, schools)
        before = self.questions("before", model.before, sheet)
        after = self.questions("after", model.after, sheet)
        report = self.report(sheet)
        if self.faults:
            raise Refusal(*self.faults)
        return Practical(
            name=model.name,
            method=self.method,
            options=options,
            trials=model.trials,
            course=course,
            schools=schools,
            planned={name: window for name, (window, _) in windows.items()},
            instruments=dict(model.instruments),
            reveal=model.reveal,
            before=before,
            after=after,
            report=report,
        )

    def options(self) -> Options | None:
        try:
            return parse_options(self.method, self.model.options)
        except Refusal as refusal:
            self.faults += refusal.faults
            return None

    def course(self) -> Procedure | None:
        if self.model.procedure is None:
            return procedure_named(self.method.name, None)
        try:
            return Procedure.model_validate(self.model.procedure)
        except ValidationError as error:
            self.faults += model_faults(error, "procedure")
            return None

    def schools(self, course: Procedure) -> dict[str, str] | None:
        try:
            return course.chosen(self.model.schools)
        except Refusal as refusal:
            self.faults += refusal.faults
            return None

    def sheet(self, options: Options, course: Procedure, schools: Mapping[str, str]) -> Worksheet | None:
        """The working that these options and this course lead to; None where they do not fit each other."""
        if self.faults:
            return None
        slots = slots_of(course, schools, usable_readings(self.method, options), self.method.facts(options))
        return self.method.page.build(shape_of(self.method, options, frozenset(slots)))

    def questions(self, place: str, rows: Sequence[QuestionModel], sheet: Worksheet | None) -> tuple[Question, ...]:
        return tuple(self.question(row, f"{place}[{index}]", sheet) for index, row in enumerate(rows))

    def question(self, row: QuestionModel, path: str, sheet: Worksheet | None) -> Question:
        if row.about and row.about not in REPLAYED:
            self.name_of_a_line(row.about, f"{path}.about", sheet, tuple(REPLAYED))
        if row.about in OFFERED and row.kind == "choice" and not row.choices:
            # its choices follow from what it is about
            return Question(row.ask, row.kind, (), row.answer, row.about)
        if row.kind == "choice":
            if len(set(row.choices)) < 2:
                self.faults.append(Fault("choices", f"{path}.choices", "Give two choices or more, each another one."))
            elif row.answer and row.answer not in row.choices:
                self.faults.append(
                    Fault("answer", f"{path}.answer", "The answer is one of the choices, to the letter.")
                )
        elif row.choices:
            self.faults.append(Fault("choices", f"{path}.choices", "Only a question of the kind 'choice' has choices."))
        elif row.kind == "number" and row.answer:
            self.number(row, path, sheet)
        return Question(row.ask, row.kind, tuple(row.choices), row.answer, row.about)

    def number(self, row: QuestionModel, path: str, sheet: Worksheet | None) -> None:
        line = sheet.by_name.get(row.about) if sheet is not None and row.about else None
        try:
            if line is not None:
                parse_reading(row.answer, unit(line.shown_unit.symbol).dimension, line.shown_unit.symbol)
            else:
                # whatever unit stands behind it
                Decimal(row.answer.replace(",", ".").split()[0])
        except Refusal as refusal:
            self.faults += refusal.below(f"{path}.answer").faults
        except (InvalidOperation, IndexError):
            self.faults.append(
                Fault("not-a-number", f"{path}.answer", "The answer begins with a figure, as in 43.9 %.")
            )

    def report(self, sheet: Worksheet | None) -> tuple[ReportLine, ...]:
        seen: set[str] = set()
        for index, row in enumerate(self.model.report):
            self.name_of_a_line(row.line, f"report[{index}].line", sheet)
            if row.line in seen:
                self.faults.append(Fault("twice", f"report[{index}].line", "This line is asked for already."))
            seen.add(row.line)
        return tuple(ReportLine(row.line, row.number, row.marks) for row in self.model.report)

    def name_of_a_line(self, name: str, path: str, sheet: Worksheet | None, also: tuple[str, ...] = ()) -> None:
        if sheet is None or name in SPOKEN or name in sheet.by_name:
            return
        known = ", ".join([*sheet.by_name, *SPOKEN, *also])
        text = f"'{name[:40]}' is no line of this working; its lines are {known}."
        self.faults.append(Fault("unknown-line", path, text))


def practical_document(practical: Practical) -> dict[str, Any]:
    """The practical as a file: everything that it says, its procedure whole."""
    found: dict[str, Any] = {
        "format": FORMAT,
        "version": VERSION,
        "name": practical.name,
        "method": practical.method.name,
        "options": practical.options.model_dump(mode="json", exclude_defaults=True),
        "trials": practical.trials,
        "procedure": procedure_body(practical.course),
        "schools": dict(practical.schools),
        "planned": {
            name: {key: f"{row.digits} {row.unit.symbol}" for key, row in vars(window).items() if row is not None}
            for name, window in practical.planned.items()
        },
        "instruments": dict(practical.instruments),
        "reveal": practical.reveal,
    }
    for place, rows in (("before", practical.before), ("after", practical.after)):
        found[place] = [
            {name: list(value) if isinstance(value, tuple) else value for name, value in vars(row).items() if value}
            for row in rows
        ]
    found["report"] = [
        {name: value for name, value in vars(row).items() if name != "number" or value} for row in practical.report
    ]
    return found
