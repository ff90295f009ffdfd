"""Procedures as data: steps, schools that add, drop and reorder them, repeats until a verdict, timers, cautions.

A procedure is a YAML file in the method's folder (pieces.py reads it); layout.py lays it out for one run.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, PrivateAttr, model_validator

from claykettle.core.errors import Fault, Refusal

When = dict[str, list[str]]
Identifier = Annotated[str, Field(pattern=r"^[a-z][a-z0-9_]*$", max_length=40)]


Minutes = Annotated[float, Field(gt=0, le=7 * 24 * 60)]


MOST_REMEMBERED = 64


class _Part(BaseModel):
    # built when a procedure is read first: to evaluate a run file none is
    model_config = ConfigDict(extra="forbid", frozen=True, defer_build=True)


def applies(when: When, chosen: Mapping[str, str]) -> bool:
    """Whether what is asked holds under these schools and facts."""
    return all(chosen.get(school) in answers for school, answers in when.items())


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
    past: str | None = None
    why: str | None = None
    short: str | None = None
    done: str | None = None
    card: str | None = None
    caution: str = ""
    timer: Timer | None = None


class Span(_Part):
    """How long something takes in minutes: at least, as a rule, at most."""

    low: Annotated[float, Field(ge=0, le=14 * 24 * 60)]
    usual: Annotated[float, Field(ge=0, le=14 * 24 * 60)]
    high: Annotated[float, Field(ge=0, le=14 * 24 * 60)]

    @model_validator(mode="after")
    def _in_order(self) -> Span:
        if not self.low <= self.usual <= self.high:
            raise ValueError("the usual time lies between the shortest and the longest")
        return self


class Step(_Part):
    """One thing to do. `reads` names the reading that it takes; `{n}` in texts is the number of the repeat, `{reading}`
    what is read, such as the reagent's name.

    `past` is a report's sentence on it once it is done: `{figure}` is what was read, `{minutes}` how long it took,
    `{times}` how often, `{matter}` what the run works on, and the name of any line of the page its figure.
    `if_needed` leaves the step out where the run's options have no use for its reading. `counts` is done when it was
    noted so often. `waits_in` names the place in which it waits, such as the oven: a run that waits there is listed
    with the place and since when. `card` names a drawing of the technique. `bears` says, as a clause, what comes of it
    for the result when the step is passed over; `cools` that its timer is one of cooling. A step of a repeat that is
    done `once` belongs to its first round, one that `neutralises` says what happens to the acid that is left. `words`
    are other words for it where something holds. For the timetable: how long it `takes`, `at` what of the room, and
    whether somebody has to stay (`attended`), where that is not as such steps usually are. `sign_off` is what an
    instructor looks at before the step counts as done, such as the pH of the rinsed burette.
    """

    id: Identifier
    title: str
    say: str
    past: str = ""
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
    takes: Span | None = None
    at: Annotated[str, Field(max_length=60)] = ""
    attended: bool | None = None
    sign_off: Annotated[str, Field(max_length=160)] = ""

    def under(self, chosen: Mapping[str, str]) -> Step:
        """The step as it is worded under these schools and facts."""
        fitting = [row for row in self.words if applies(row.when, chosen)]
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
    """What lies ready: `count` of it for each trial, each bench, or once for the room.

    `drawn` names the part that the picture of the apparatus shows with it: cage, flask, thistle.
    """

    item: str
    per: Literal["trial", "bench", "room"] = "bench"
    count: Annotated[int, Field(ge=1, le=1000)] = 1
    when: When = {}
    drawn: Literal["", "cage", "flask", "thistle"] = ""


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
    _under: dict[Any, tuple[Step | Repeat, ...]] = PrivateAttr(default_factory=dict)

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

    def __eq__(self, other: object) -> bool:
        """Two are the same by what they say, whatever they remember."""
        return isinstance(other, Procedure) and self.__dict__ == other.__dict__

    def under(self, schools: Mapping[str, str], facts: Mapping[str, str]) -> tuple[Step | Repeat, ...]:
        """The steps in order as they are under these schools and facts, worded for them; remembered for the next time.

        Raises Refusal `unknown-school`.
        """
        key = (tuple(schools.items()), tuple(facts.items()))
        if key not in self._under:
            if len(self._under) >= MOST_REMEMBERED:
                self._under.clear()
            self._under[key] = tuple(self._worded(self.holding(schools, facts)))
        return self._under[key]

    def _worded(self, chosen: Mapping[str, str]) -> Iterator[Step | Repeat]:
        for row in self._ordered(chosen):
            if isinstance(row, Step):
                if applies(row.when, chosen):
                    yield row.under(chosen)
            else:
                steps = [step.under(chosen) for step in row.repeat if applies(step.when, chosen)]
                yield row.model_copy(update={"repeat": steps})

    def _ordered(self, chosen: Mapping[str, str]) -> list[Step | Repeat]:
        rows = list(self.steps)
        for move in self.moves:
            if not applies(move.when, chosen):
                continue
            moved = [row for row in rows if row.id in move.steps]
            rows = [row for row in rows if row.id not in move.steps]
            place = next(index for index, row in enumerate(rows) if row.id == move.before)
            rows[place:place] = moved
        return rows

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


class Piece(_Part):
    """A part that several procedures share, such as filtering and drying: its schools, steps, moves, tags and kit."""

    schools: dict[str, Any] = {}
    facts: dict[str, Any] = {}
    observe: list[str] = []
    steps: list[Any]
    kit: list[Any] = []


def procedure_body(procedure: Procedure) -> dict[str, Any]:
    """The procedure as plain values, for keeping the version that a run froze."""
    return procedure.model_dump(mode="json", exclude_defaults=True)
