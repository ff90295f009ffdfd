"""Procedures as data: steps, schools that add, drop and reorder them, repeats until a verdict, timers, cautions.

A procedure is a YAML file in the method's folder. `steps_of` lays it out for one run: which steps
there are under the schools chosen, which are done, and which one is to be done now.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Annotated, Any, Literal, NamedTuple

import yaml
from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from claykettle.core.errors import Fault, Refusal, refuse

When = dict[str, list[str]]
Identifier = Annotated[str, Field(pattern=r"^[a-z][a-z0-9_]*$", max_length=40)]


Minutes = Annotated[float, Field(gt=0, le=7 * 24 * 60)]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Timer(_Part):
    """How long a step takes; `again` minutes in repeats after the first, or so many in each of them, the last for all
    that follow; `auto` starts it with the step.
    """

    minutes: Minutes
    again: Minutes | Annotated[list[Minutes], Field(min_length=1, max_length=10)] | None = None
    more: Annotated[float, Field(gt=0, le=24 * 60)] | None = None
    auto: bool = False

    def in_round(self, number: int) -> float:
        """How long the step takes in the round of this number, from 1."""
        if self.again is None or number == 1:
            return self.minutes
        later = self.again if isinstance(self.again, list) else [self.again]
        return later[min(number - 2, len(later) - 1)]


class Count(_Part):
    """Something done several times, one tap each: what is noted, and how often."""

    tag: Annotated[str, Field(max_length=40)]
    times: Annotated[int, Field(ge=1, le=50)]


class Wording(_Part):
    """Other words for a step where something holds: what is given takes the place of the step's own.

    `caution` is added to the step's own caution instead: a caution is never taken away.
    """

    when: When
    title: str | None = None
    say: str | None = None
    why: str | None = None
    short: str | None = None
    done: str | None = None
    card: str | None = None
    caution: str = ""
    timer: Timer | None = None


class Step(_Part):
    """One thing to do. `reads` names the reading that it takes; `{n}` in texts is the number of the repeat, `{reading}`
    what is read, such as the reagent's name.

    `if_needed` leaves the step out where the run's options have no use for its reading. `counts` is done when it was
    noted so often. `waits_in` names the place in which it waits, such as the oven: a run that waits there is listed
    with the place and since when. `card` names a drawing of the technique. `bears` says, as a clause, what comes of it
    for the result when the step is passed over; `cools` that its timer is one of cooling. A step of a repeat that is
    done `once` belongs to its first round, one that `neutralises` says what happens to the acid that is left. `words`
    are other words for it where something holds.
    """

    id: Identifier
    title: str
    say: str
    why: str = ""
    caution: str = ""
    reads: str | None = None
    done: str = "Done"
    short: str = ""
    timer: Timer | None = None
    when: When = {}
    observe: list[str] = []
    if_needed: bool = False
    counts: Count | None = None
    waits_in: str = ""
    card: str = ""
    bears: str = ""
    cools: bool = False
    once: bool = False
    neutralises: bool = False
    words: list[Wording] = []

    def under(self, chosen: Mapping[str, str]) -> Step:
        """The step as it is worded under these schools and facts."""
        fitting = [row for row in self.words if _applies(row.when, chosen)]
        if not fitting:
            return self
        changed: dict[str, Any] = {}
        cautions = [self.caution] if self.caution else []
        for row in fitting:
            given = {name: getattr(row, name) for name in row.model_fields_set - {"when", "caution"}}
            changed |= given
            cautions += [row.caution] if row.caution else []
        return self.model_copy(update=changed | {"caution": " ".join(cautions)})

    @model_validator(mode="after")
    def _needed_for_a_reading(self) -> Step:
        if self.if_needed and self.reads is None:
            raise ValueError("'if_needed' asks about a reading, and this step takes none")
        return self


class Repeat(_Part):
    """Steps done again and again until a verdict with the code `until` stands on `about`."""

    id: Identifier
    repeat: list[Step]
    until: str
    about: str


class Move(_Part):
    """A school does these steps in another place: before the step named."""

    when: When
    steps: list[str]
    before: str


class Choice(_Part):
    """One question on which schools differ, its answers and the usual one."""

    title: str
    default: str
    choices: dict[str, str]

    @model_validator(mode="after")
    def _default_is_a_choice(self) -> Choice:
        if self.default not in self.choices:
            raise ValueError(f"default '{self.default}' is not one of its choices")
        return self


class Window(_Part):
    """Where a planned reading should lie, as typed."""

    about: str | None = None
    low: str | None = None
    high: str | None = None


class KitItem(_Part):
    """What lies ready: `count` of it for each trial, each bench, or once for the room."""

    item: str
    per: Literal["trial", "bench", "room"] = "bench"
    count: Annotated[int, Field(ge=1, le=1000)] = 1
    when: When = {}


class Procedure(_Part):
    """A whole procedure of a method, in one version.

    `facts` are the words in which the method tells what the run's options are, such as the gas, each with all that it
    can be, the usual one first (none: a text of its own); steps and kit ask for them as they ask for schools.
    """

    name: Identifier
    version: Annotated[int, Field(ge=1)]
    method: str
    title: str
    caution: str
    schools: dict[str, Choice] = {}
    facts: dict[str, list[str]] = {}
    windows: dict[str, Window] = {}
    observe: list[str] = []
    steps: list[Step | Repeat]
    moves: list[Move] = []
    kit: list[KitItem] = []

    @model_validator(mode="after")
    def _names_fit(self) -> Procedure:
        identifiers = [step.id for step in self.all_steps()]
        if len(set(identifiers)) != len(identifiers):
            raise ValueError("two steps bear the same id")
        for step in self.all_steps():
            self._check_when(step.when)
            for words in step.words:
                self._check_when(words.when)
        for item in self.kit:
            self._check_when(item.when)
        for move in self.moves:
            self._check_when(move.when)
            for name in [*move.steps, move.before]:
                if name not in {row.id for row in self.steps}:
                    raise ValueError(f"a move names '{name}', which is no step")
        return self

    def _check_when(self, when: When) -> None:
        for school, answers in when.items():
            known = self.schools[school].choices if school in self.schools else self.facts.get(school, ())
            if not known or not set(answers) <= set(known):
                raise ValueError(f"'when' asks for {school}: {answers}, which no school offers and no fact can be")

    def all_steps(self) -> Iterator[Step]:
        """Every step, those inside repeats too."""
        for row in self.steps:
            yield from row.repeat if isinstance(row, Repeat) else [row]

    def step(self, name: str, number: int) -> tuple[Step | None, str]:
        """The step of this name, None where there is none, and its key in the round of this number."""
        for row in self.steps:
            if isinstance(row, Step):
                if row.id == name:
                    return row, name
            elif any(step.id == name for step in row.repeat):
                return next(step for step in row.repeat if step.id == name), f"{name}#{number}"
        return None, name if number == 1 else f"{name}#{number}"

    def holding(self, schools: Mapping[str, str], facts: Mapping[str, str]) -> dict[str, str]:
        """Schools and facts together: the usual answer of each question, the first word of each fact not told."""
        usual = {name: words[0] if words else "" for name, words in self.facts.items()}
        return self.chosen(schools) | usual | dict(facts)

    def chosen(self, schools: Mapping[str, str]) -> dict[str, str]:
        """The answers for every question, defaults filled in. Raises Refusal `unknown-school`."""
        faults = [
            Fault("unknown-school", f"schools.{name}", f"'{answer}' is not offered for '{name}' in this procedure.")
            for name, answer in schools.items()
            if name not in self.schools or answer not in self.schools[name].choices
        ]
        if faults:
            raise Refusal(*faults)
        return {name: choice.default for name, choice in self.schools.items()} | dict(schools)


State = Literal["done", "now", "ahead", "missed", "passed"]
"""`missed`: a weighing was taken after this one, which is lacking; `passed`: the same of a step that was not marked."""


NO_FACTS: Mapping[str, str] = {}
"""Where nothing is told of the options."""


@dataclass(frozen=True)
class PlannedStep:
    """A step laid out for a run: its key (`heat#2` in a repeat), number of the repeat and state."""

    key: str
    number: int
    step: Step
    state: State
    position: int | None
    reading: str = ""
    counted: int = 0
    facts: Mapping[str, str] = field(default_factory=dict)

    def text(self, template: str) -> str:
        """A text of the step with the number of the repeat, the name of its reading and what the options are put in."""
        return worded(template, self.number, self.reading, self.facts)

    @property
    def minutes(self) -> float | None:
        """How long this step takes this time."""
        return minutes_of(self.step, self.number)


def minutes_of(step: Step, number: int) -> float | None:
    """How long a step takes in its round of this number; None where it has no timer."""
    return None if step.timer is None else step.timer.in_round(number)


def worded(template: str, number: int, reading: str, facts: Mapping[str, str]) -> str:
    """A text of a step with `{n}`, `{reading}` and the facts by name put in, a sentence beginning with a capital."""
    if "{" not in template:
        return template
    text = template.replace("{n}", str(number)).replace("{reading}", reading)
    for name, fact in facts.items():
        text = text.replace("{" + name + "}", fact)
    return text[:1].upper() + text[1:]


@dataclass(frozen=True)
class Progress:
    """What the procedure needs to know of a run: weighings taken by slot, verdicts, steps marked done.

    `elsewhere` names readings not taken in the trial, such as the room's: they prove nothing of its steps.
    `needed` names the readings that the options have a use for, None where that is not asked; `noted` counts by tag
    what was seen, `labels` says what each reading is called, `facts` tell in the procedure's words how the options are.
    """

    taken: Mapping[str, int]
    verdicts: Collection[tuple[str, str]]
    finished: Collection[str]
    elsewhere: Collection[str] = ()
    needed: Collection[str] | None = None
    noted: Mapping[str, int] = field(default_factory=dict)
    labels: Mapping[str, str] = field(default_factory=dict)
    facts: Mapping[str, str] = field(default_factory=dict)


class Piece(_Part):
    """A part that several procedures share, such as filtering and drying: its schools, steps, moves, tags and kit."""

    schools: dict[str, Any] = {}
    facts: dict[str, Any] = {}
    observe: list[str] = []
    steps: list[Any]
    kit: list[Any] = []


def parse_procedure(text: str, pieces: Mapping[str, Piece] | None = None) -> Procedure:
    """A procedure from YAML or JSON text; a step `use: NAME` stands for the steps of the piece with this name.

    Raises Refusal `procedure` with the place of every fault.
    """
    try:
        return Procedure.model_validate(_with_pieces(yaml.safe_load(text), pieces or {}))
    except yaml.YAMLError as error:
        raise refuse("procedure", f"The procedure is not YAML: {error}") from None
    except ValidationError as error:
        faults = [Fault("procedure", ".".join(map(str, row["loc"])), row["msg"]) for row in error.errors()]
        raise Refusal(*faults) from None


def _with_pieces(document: Any, pieces: Mapping[str, Piece]) -> Any:
    """The document with every piece that it uses put in the place of its step."""
    steps = document.get("steps") if isinstance(document, dict) else None
    if not isinstance(steps, list):
        return document
    whole = dict(document) | {"steps": []}
    for step in steps:
        name = step.get("use") if isinstance(step, dict) else None
        if name is None:
            whole["steps"].append(step)
            continue
        if name not in pieces:
            raise refuse("procedure", f"There is no piece '{name}' that a step could use.", "steps")
        piece = _under(_part_of(pieces[name], step.get("only")), step.get("when", {}))
        whole["steps"] += piece.steps
        # what the procedure asks itself, such as another usual answer, comes before what the piece would ask
        whole["schools"] = piece.schools | dict(whole.get("schools", {}))
        whole["facts"] = piece.facts | dict(whole.get("facts", {}))
        whole["observe"] = list(dict.fromkeys([*whole.get("observe", []), *piece.observe]))
        whole["kit"] = [*whole.get("kit", []), *(row for row in piece.kit if row not in whole.get("kit", []))]
    return whole


def _part_of(piece: Piece, only: Any) -> Piece:
    """The piece, or only those of its steps that are named, with the schools that they ask about."""
    if only is None:
        return piece
    known = {row["id"] for row in piece.steps}
    for identifier in only:
        if identifier not in known:
            raise refuse("procedure", f"The piece has no step '{identifier}'.", "steps")
    steps = [row for row in piece.steps if row["id"] in only]
    asked = {school for row in steps for one in (row, *row.get("words", ())) for school in one.get("when", {})}
    kit = [row for row in piece.kit if row.get("when") and set(row["when"]) <= asked]
    schools = {name: row for name, row in piece.schools.items() if name in asked}
    return Piece(schools=schools, facts=piece.facts, steps=steps, kit=kit)


def _under(piece: Piece, when: Mapping[str, Any]) -> Piece:
    """The piece, its steps taken only in these schools; a step that asks about one of them itself keeps its answer."""

    def under(row: Any) -> Any:
        if "repeat" in row:
            return row | {"repeat": [under(step) for step in row["repeat"]]}
        return row | {"when": when | row.get("when", {})}

    return piece.model_copy(update={"steps": [under(row) for row in piece.steps]}) if when else piece


def steps_of(procedure: Procedure, schools: Mapping[str, str], progress: Progress) -> list[PlannedStep]:
    """The run's steps in order: what is done, the one thing to do now, what lies ahead."""
    rows = list(laid_out(procedure, schools, progress))
    done = [_is_done(row.key, row.step, row.position, progress) for row in rows]
    # work goes on after a weighing, and what was not marked before it was passed over
    own = [row.step.reads is not None and row.step.reads not in progress.elsewhere for row in rows]
    read_up_to = max((i for i in range(len(rows)) if done[i] and own[i]), default=-1)
    states: list[State] = []
    for index, row in enumerate(rows):
        passed: State = "missed" if row.step.reads else "passed"
        states.append("done" if done[index] else passed if index < read_up_to else "ahead")
    if "ahead" in states:
        states[states.index("ahead")] = "now"
    return [
        PlannedStep(
            row.key,
            row.number,
            row.step,
            state,
            row.position,
            progress.labels.get(row.step.reads or "", ""),
            progress.noted.get(row.step.counts.tag, 0) if row.step.counts else 0,
            progress.facts,
        )
        for row, state in zip(rows, states, strict=True)
    ]


class Row(NamedTuple):
    """A step in its place: its key, the number of its round, what it reads there, and the repeat that it belongs to."""

    key: str
    number: int
    step: Step
    position: int | None
    group: str = ""

    @property
    def minutes(self) -> float | None:
        """How long the step takes this time."""
        return minutes_of(self.step, self.number)


def laid_out(procedure: Procedure, schools: Mapping[str, str], progress: Progress) -> Iterator[Row]:
    """The run's steps in order, under its schools and what its options are, the rounds of a repeat one by one."""
    chosen = procedure.holding(schools, progress.facts)
    for row in _ordered(procedure, chosen):
        if isinstance(row, Step):
            if _applies(row.when, chosen) and _is_needed(row, progress):
                yield Row(row.id, 1, row.under(chosen), 1 if row.reads else None)
            continue
        steps = [
            step.under(chosen) for step in row.repeat if _applies(step.when, chosen) and _is_needed(step, progress)
        ]
        for number in range(1, _rounds(row, progress) + 1):
            for step in steps if number == 1 else [step for step in steps if not step.once]:
                yield Row(f"{step.id}#{number}", number, step, number if step.reads else None, row.id)


def _ordered(procedure: Procedure, chosen: Mapping[str, str]) -> list[Step | Repeat]:
    rows = list(procedure.steps)
    for move in procedure.moves:
        if not _applies(move.when, chosen):
            continue
        moved = [row for row in rows if row.id in move.steps]
        rows = [row for row in rows if row.id not in move.steps]
        place = next(index for index, row in enumerate(rows) if row.id == move.before)
        rows[place:place] = moved
    return rows


def _rounds(repeat: Repeat, progress: Progress) -> int:
    """How many rounds of a repeat there are: those weighed, and one more until the verdict ends it."""
    weighed = progress.taken.get(repeat.about, 0)
    return weighed if (repeat.until, repeat.about) in progress.verdicts else weighed + 1


def _applies(when: When, chosen: Mapping[str, str]) -> bool:
    return all(chosen.get(school) in answers for school, answers in when.items())


def _is_needed(step: Step, progress: Progress) -> bool:
    return not step.if_needed or progress.needed is None or step.reads in progress.needed


def _is_done(key: str, step: Step, position: int | None, progress: Progress) -> bool:
    if step.reads:
        return progress.taken.get(step.reads, 0) >= (position or 1)
    return key in progress.finished or (
        step.counts is not None and progress.noted.get(step.counts.tag, 0) >= step.counts.times
    )


def slots_of(
    procedure: Procedure,
    schools: Mapping[str, str],
    needed: Collection[str] | None = None,
    facts: Mapping[str, str] = NO_FACTS,
) -> tuple[str, ...]:
    """The readings that a run under these schools takes, in order; of steps taken `if_needed` those that are."""
    nothing = Progress({}, (), (), needed=needed, facts=facts)
    rows = laid_out(procedure, schools, nothing)
    return tuple(dict.fromkeys(row.step.reads for row in rows if row.step.reads))


@dataclass(frozen=True)
class KitLine:
    """How many of something lie ready, for a bench or once for the room."""

    item: str
    count: int
    place: Literal["bench", "room"]


def kit_of(
    procedure: Procedure, schools: Mapping[str, str], trials: int, facts: Mapping[str, str] = NO_FACTS
) -> list[KitLine]:
    """What one bench needs for so many trials under these schools, then what the room needs once."""
    chosen = procedure.holding(schools, facts)
    rows = (item for item in procedure.kit if _applies(item.when, chosen))
    lines = [
        KitLine(
            item.item, item.count * (trials if item.per == "trial" else 1), "room" if item.per == "room" else "bench"
        )
        for item in rows
    ]
    return sorted(lines, key=lambda line: line.place)


def school_titles(procedure: Procedure, schools: Mapping[str, str]) -> Iterable[tuple[str, str]]:
    """Question and answer of each school chosen, as words."""
    for name, answer in procedure.chosen(schools).items():
        yield procedure.schools[name].title, procedure.schools[name].choices[answer]


def procedure_body(procedure: Procedure) -> dict[str, Any]:
    """The procedure as plain values, for keeping the version that a run froze."""
    return procedure.model_dump(mode="json", exclude_defaults=True)
