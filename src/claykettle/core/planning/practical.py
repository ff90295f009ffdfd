"""A practical: what an instructor prepares once and teaches for years."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Literal

from claykettle.core.errors import Fault
from claykettle.core.method import Method, Options, Window
from claykettle.core.run import Procedure, course_faults, slots_of, usable_readings

Reveal = Literal["always", "after_own_figures", "when_closed"]
Kind = Literal["text", "number", "choice"]


@dataclass(frozen=True)
class Question:
    """Something asked before or after the work; `about` names a line of the working whose value is the answer."""

    ask: str
    kind: Kind
    choices: tuple[str, ...] = ()
    answer: str = ""
    about: str = ""


@dataclass(frozen=True)
class ReportLine:
    """A line that students hand in: its name, its number on their sheet (0 for none), the marks that it is worth."""

    line: str
    number: int = 0
    marks: int = 1


@dataclass(frozen=True)
class Practical:
    """A practical, ready to be taught. `reveal` says when a bench sees accepted values, answers and verdicts."""

    name: str
    method: Method
    options: Options
    trials: int
    course: Procedure
    schools: Mapping[str, str]
    planned: Mapping[str, Window] = field(default_factory=dict)
    instruments: Mapping[str, str] = field(default_factory=dict)
    reveal: Reveal = "always"
    before: tuple[Question, ...] = ()
    after: tuple[Question, ...] = ()
    report: tuple[ReportLine, ...] = ()


def faults_in_course(
    method: Method, options: Options, course: Procedure, schools: Mapping[str, str], shipped: Procedure
) -> Iterator[Fault]:
    """What an edited procedure may not lack: a step for every reading that is needed, and the cautions built in."""
    if course.method != method.name:
        text = f"This procedure is one of {course.method}, the practical's method is {method.name}."
        yield Fault("other-method", "procedure.method", text)
        return
    slots = slots_of(course, course.chosen(schools), usable_readings(method, options), method.facts(options))
    for fault in course_faults(method, options, slots):
        yield Fault(fault.code, fault.path or "procedure", fault.message)
    if shipped.caution not in course.caution:
        yield Fault("caution", "procedure.caution", f"This stays, whatever is added: {shipped.caution}")
    own = {step.id: step for step in shipped.all_steps()}
    for step in course.all_steps():
        built_in = own[step.id].caution if step.id in own else ""
        if built_in not in step.caution:
            yield Fault("caution", f"procedure.steps.{step.id}.caution", f"This stays with the step: {built_in}")
