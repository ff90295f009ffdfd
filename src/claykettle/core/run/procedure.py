"""Procedures as data: steps, schools that add, drop and reorder them, repeats until a verdict, timers, cautions.

A procedure is a YAML file in the method's folder. `steps_of` lays it out for one run: which steps
there are under the schools chosen, which are done, and which one is to be done now.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

import yaml
from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from claykettle.core.errors import Fault, Refusal, refuse

When = dict[str, list[str]]
Identifier = Annotated[str, Field(pattern=r"^[a-z][a-z0-9_]*$", max_length=40)]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Timer(_Part):
    """How long a step takes; `again` minutes in repeats after the first; `auto` starts it with the step."""

    minutes: Annotated[float, Field(gt=0, le=7 * 24 * 60)]
    again: Annotated[float, Field(gt=0, le=7 * 24 * 60)] | None = None
    more: Annotated[float, Field(gt=0, le=24 * 60)] | None = None
    auto: bool = False


class Count(_Part):
    """Something done several times, one tap each: what is noted, and how often."""

    tag: Annotated[str, Field(max_length=40)]
    times: Annotated[int, Field(ge=1, le=50)]


class Step(_Part):
    """One thing to do. `reads` names the reading that it takes; `{n}` in texts is the number of the repeat, `{reading}`
    what is read, such as the reagent's name.

    `if_needed` leaves the step out where the run's options have no use for its reading. `counts` is done when it was
    noted so often. `waits_in` names the place in which it waits, such as the oven: a run that waits there is listed
    with the place and since when. `card` names a drawing of the technique.
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
    """A whole procedure of a method, in one version."""

    name: Identifier
    version: Annotated[int, Field(ge=1)]
    method: str
    title: str
    caution: str
    schools: dict[str, Choice] = {}
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
            known = self.schools.get(school)
            if known is None or not set(answers) <= set(known.choices):
                raise ValueError(f"'when' asks for {school}: {answers}, which no school offers")

    def all_steps(self) -> Iterator[Step]:
        """Every step, those inside repeats too."""
        for row in self.steps:
            yield from row.repeat if isinstance(row, Repeat) else [row]

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


State = Literal["done", "now", "ahead", "missed"]
"""`missed`: a weighing was taken after this one, which is still lacking."""


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

    def text(self, template: str) -> str:
        """A text of the step with the number of the repeat and the name of its reading put in."""
        return template.replace("{n}", str(self.number)).replace("{reading}", self.reading)

    @property
    def minutes(self) -> float | None:
        """How long this step takes this time."""
        timer = self.step.timer
        if timer is None:
            return None
        return timer.again if timer.again is not None and self.number > 1 else timer.minutes


@dataclass(frozen=True)
class Progress:
    """What the procedure needs to know of a run: weighings taken by slot, verdicts, steps marked done.

    `elsewhere` names readings that were not taken in the trial, such as the room's: they prove nothing of its steps.
    `needed` names the readings that the options have a use for, None where that is not asked; `noted` counts by tag
    what was seen, `labels` says what each reading is called.
    """

    taken: Mapping[str, int]
    verdicts: Collection[tuple[str, str]]
    finished: Collection[str]
    elsewhere: Collection[str] = ()
    needed: Collection[str] | None = None
    noted: Mapping[str, int] = field(default_factory=dict)
    labels: Mapping[str, str] = field(default_factory=dict)


class Piece(_Part):
    """A part that several procedures share, such as filtering and drying: its schools, steps, moves, tags and kit."""

    schools: dict[str, Any] = {}
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
    asked = {school for row in steps for school in row.get("when", {})}
    kit = [row for row in piece.kit if row.get("when") and set(row["when"]) <= asked]
    return Piece(schools={name: row for name, row in piece.schools.items() if name in asked}, steps=steps, kit=kit)


def _under(piece: Piece, when: Mapping[str, Any]) -> Piece:
    """The piece, its steps taken only in these schools; a step that asks about one of them itself keeps its answer."""

    def under(row: Any) -> Any:
        if "repeat" in row:
            return row | {"repeat": [under(step) for step in row["repeat"]]}
        return row | {"when": when | row.get("when", {})}

    return piece.model_copy(update={"steps": [under(row) for row in piece.steps]}) if when else piece


def steps_of(procedure: Procedure, schools: Mapping[str, str], progress: Progress) -> list[PlannedStep]:
    """The run's steps in order: what is done, the one thing to do now, what lies ahead."""
    rows = list(_laid_out(procedure, procedure.chosen(schools), progress))
    done = [_is_done(key, step, position, progress) for key, _, step, position in rows]
    # a weighing proves that the steps before it were done, whether marked or not
    own = [step.reads is not None and step.reads not in progress.elsewhere for _, _, step, _ in rows]
    read_up_to = max((i for i in range(len(rows)) if done[i] and own[i]), default=-1)
    states: list[State] = []
    for index, (_, _, step, _) in enumerate(rows):
        passed = index < read_up_to
        states.append("done" if done[index] or (passed and not step.reads) else "missed" if passed else "ahead")
    if "ahead" in states:
        states[states.index("ahead")] = "now"
    return [
        PlannedStep(
            key,
            number,
            step,
            state,
            position,
            progress.labels.get(step.reads or "", ""),
            progress.noted.get(step.counts.tag, 0) if step.counts else 0,
        )
        for (key, number, step, position), state in zip(rows, states, strict=True)
    ]


_Row = tuple[str, int, Step, int | None]


def _laid_out(procedure: Procedure, chosen: Mapping[str, str], progress: Progress) -> Iterator[_Row]:
    for row in _ordered(procedure, chosen):
        if isinstance(row, Step):
            if _applies(row.when, chosen) and _is_needed(row, progress):
                yield row.id, 1, row, 1 if row.reads else None
            continue
        steps = [step for step in row.repeat if _applies(step.when, chosen) and _is_needed(step, progress)]
        for number in range(1, _rounds(row, progress) + 1):
            for step in steps:
                yield f"{step.id}#{number}", number, step, number if step.reads else None


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
    procedure: Procedure, schools: Mapping[str, str], needed: Collection[str] | None = None
) -> tuple[str, ...]:
    """The readings that a run under these schools takes, in order; of steps taken `if_needed` those that are."""
    nothing = Progress({}, (), (), needed=needed)
    rows = _laid_out(procedure, procedure.chosen(schools), nothing)
    return tuple(dict.fromkeys(step.reads for _, _, step, _ in rows if step.reads))


@dataclass(frozen=True)
class KitLine:
    """How many of something lie ready, for a bench or once for the room."""

    item: str
    count: int
    place: Literal["bench", "room"]


def kit_of(procedure: Procedure, schools: Mapping[str, str], trials: int) -> list[KitLine]:
    """What one bench needs for so many trials under these schools, then what the room needs once."""
    chosen = procedure.chosen(schools)
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
