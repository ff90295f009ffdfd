"""The plan of a class as a file, and the timetable as the document that answers it."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, StringConstraints
from pydantic_core import PydanticCustomError

from claykettle.core.errors import Fault, Refusal
from claykettle.core.planning.stock import MOST_BENCHES
from claykettle.core.planning.timetable import Group, Otherwise, Plan, PlannedStep, Spread, Takes, Timetable
from claykettle.core.planning.trial_steps import steps_of_trial
from claykettle.core.quantity import parse_reading
from claykettle.formats.envelope import read_envelope, schema_of
from claykettle.formats.practical_file import PracticalModel, practical_from
from claykettle.formats.run_models import Figure, Model, Name, ShortName

ANSWER, VERSION = "clay-kettle/timetable", 1
MOST_TRIALS, MOST_STEPS, MOST_REPETITIONS = 20, 200, 10_000
MOST_WORK = 5_000_000
"""Steps in all evenings together: some minutes of one processor."""
LONGEST_MIN = 14 * 24 * 60
HOUR = 60


def _is_day(text: str) -> str:
    try:
        date.fromisoformat(text)
    except ValueError:
        raise PydanticCustomError("date", "A day is written as 2026-03-05.") from None
    return text


Day = Annotated[str, StringConstraints(pattern=r"^\d{4}-\d\d-\d\d$"), AfterValidator(_is_day)]
TimeOfDay = Annotated[str, StringConstraints(pattern=r"^([01]\d|2[0-3]):[0-5]\d$")]


class RangeModel(Model):
    """How long a step takes: at least, as a rule, at most; each with its unit."""

    low: Figure
    usual: Figure
    high: Figure


class StepModel(Model):
    """A step: how long, at what of the room (of what the room does not name there is enough), whether attended."""

    id: ShortName
    takes: Figure | RangeModel
    at: ShortName = ""
    attended: bool = True


class GroupModel(Model):
    """Benches that do the same: the steps of one trial, or a practical; so many trials as here, or as the practical."""

    benches: Annotated[list[Name], Field(min_length=1, max_length=MOST_BENCHES)]
    trials: Annotated[int, Field(ge=1, le=MOST_TRIALS)] | None = None
    steps: Annotated[list[StepModel], Field(min_length=1, max_length=MOST_STEPS)] | None = None
    practical: PracticalModel | None = None


class PlanModel(Model):
    """A class as it is planned."""

    format: Literal["clay-kettle/plan"]
    version: Literal[1]
    title: Name = ""
    date: Day
    starts: TimeOfDay
    length: Figure = Field(description="The period, with its unit, such as '150 min'.")
    groups: Annotated[list[GroupModel], Field(min_length=1, max_length=MOST_BENCHES)]
    room: dict[ShortName, Annotated[int, Field(ge=0, le=1000)]] = Field(default_factory=dict)
    stagger: Figure = "0 min"
    overlap: bool = False
    repetitions: Annotated[int, Field(ge=1, le=MOST_REPETITIONS)] = 500
    seed: Annotated[int, Field(ge=0, le=2**53)] = 0


def plan_schema() -> dict[str, Any]:
    """The JSON Schema of the plan file."""
    return schema_of(PlanModel, "Clay Kettle plan of a class, version 1")


def read_plan(data: bytes) -> Plan:
    """The plan that a file's bytes hold. Raises Refusal with every fault found."""
    model, _ = read_envelope(data, PlanModel, "plan")
    return _Reader(model).plan()


class _Reader:
    def __init__(self, model: PlanModel):
        self.model = model
        self.faults: list[Fault] = []

    def plan(self) -> Plan:
        model = self.model
        length = self.minutes(model.length, "length")
        stagger = self.minutes(model.stagger, "stagger")
        groups = tuple(self.group(group, f"groups[{index}]") for index, group in enumerate(model.groups))
        self.check_benches()
        work = model.repetitions * sum(len(row.benches) * row.trials * len(row.steps) for row in groups)
        if work > MOST_WORK:
            most = max(1, model.repetitions * MOST_WORK // work)
            text = f"So many benches, trials and steps are too much for so many repetitions; at most {most} here."
            self.faults.append(Fault("too-much", "repetitions", text))
        if not self.faults and length == 0:
            self.faults.append(Fault("not-positive", "length", "A period lasts longer than nothing."))
        if self.faults:
            raise Refusal(*self.faults)
        hours, minutes = model.starts.split(":")
        return Plan(
            title=model.title,
            date=model.date,
            starts=int(hours) * HOUR + int(minutes),
            length=length,
            groups=groups,
            room=dict(model.room),
            stagger=stagger,
            overlap=model.overlap,
            repetitions=model.repetitions,
            seed=model.seed,
        )

    def check_benches(self) -> None:
        known: set[str] = set()
        for index, group in enumerate(self.model.groups):
            for place, name in enumerate(group.benches):
                if name in known:
                    text = f"Bench {name} stands in the plan twice; each does one thing."
                    self.faults.append(Fault("twice", f"groups[{index}].benches[{place}]", text))
                known.add(name)
        if len(known) > MOST_BENCHES:
            self.faults.append(Fault("too-many", "groups", f"A class has {MOST_BENCHES} benches at most."))

    def group(self, group: GroupModel, path: str) -> Group:
        benches = tuple(group.benches)
        if (group.steps is None) == (group.practical is None):
            text = "Give the group its steps, or its practical; one of the two."
            self.faults.append(Fault("one-of-two", path, text))
        elif group.steps is not None:
            steps = tuple(self.step(step, f"{path}.steps[{index}]") for index, step in enumerate(group.steps))
            return Group(benches, group.trials or 1, steps)
        elif group.practical is not None:
            return self.practical(group.practical, f"{path}.practical", benches, group.trials)
        return Group(benches, 1, ())

    def practical(self, model: PracticalModel, path: str, benches: tuple[str, ...], trials: int | None) -> Group:
        try:
            found = practical_from(model)
            steps = steps_of_trial(found.method, found.options, found.course, found.schools)
        except Refusal as refusal:
            self.faults += refusal.below(path).faults
            return Group(benches, 1, ())
        for at in sorted({step.at for step in steps}):
            self.check_place(at, f"{path}.procedure")
        return Group(benches, trials or found.trials, steps)

    def check_place(self, at: str, path: str) -> None:
        if at and self.model.room.get(at) == 0:
            text = f"The room has no {at.replace('_', ' ')}: a step that is done there can be done by nobody."
            self.faults.append(Fault("none-there", path, text))

    def step(self, step: StepModel, path: str) -> PlannedStep:
        self.check_place(step.at, f"{path}.at")
        if isinstance(step.takes, str):
            fixed = self.minutes(step.takes, f"{path}.takes")
            return PlannedStep(step.id, Takes(fixed, fixed, fixed), step.at, step.attended)
        low, usual, high = (
            self.minutes(getattr(step.takes, name), f"{path}.takes.{name}") for name in ("low", "usual", "high")
        )
        if not low <= usual <= high:
            text = "The usual time lies between the shortest and the longest."
            self.faults.append(Fault("window", f"{path}.takes.usual", text))
        return PlannedStep(step.id, Takes(low, usual, high), step.at, step.attended)

    def minutes(self, text: str, path: str) -> float:
        try:
            found = float(parse_reading(text, "time").si) / 60
        except Refusal as refusal:
            self.faults += refusal.below(path).faults
            return 0.0
        if found > LONGEST_MIN:
            self.faults.append(Fault("too-long", path, "Nothing in a class takes longer than two weeks."))
        return found


def timetable_document(found: Timetable) -> dict[str, Any]:
    """The timetable as the document that answers a plan."""
    return {
        "format": ANSWER,
        "version": VERSION,
        "repetitions": found.repetitions,
        "unit": "min",
        "benches": [
            {"bench": row.bench, "finish": _spread(row.finish), "waited": _spread(row.waited)} for row in found.benches
        ],
        "resources": [
            {
                "name": row.name,
                "count": row.count,
                "busy": round(row.busy, 4),
                "waited_total": _spread(row.waited_total),
                "longest_queue": _spread(row.longest_queue),
            }
            for row in found.resources
        ],
        "finish_last": _spread(found.finish_last),
        "bottleneck": found.bottleneck,
        "fits": round(found.fits, 4),
        "latest_start": time_of_day(found.latest_start) if found.latest_start is not None else None,
        "what_if": [
            {
                "change": _change(row),
                "finish_last": _spread(row.finish_last),
                "waited_total": _spread(row.waited),
                "fits": round(row.fits, 4),
            }
            for row in found.what_if
        ],
    }


def time_of_day(minutes: float) -> str:
    """Minutes since midnight as 18:52, the seconds cut off."""
    hours, rest = divmod(int(minutes), HOUR)
    return f"{hours % 24:02}:{rest:02}"


def _spread(row: Spread) -> dict[str, float]:
    return {name: round(value, 3) for name, value in vars(row).items()}


def _change(row: Otherwise) -> dict[str, Any]:
    told: dict[str, Any] = {"room": dict(row.room)} if row.room else {}
    if row.stagger is not None:
        told["stagger"] = f"{row.stagger:g} min"
    if row.overlap is not None:
        told["overlap"] = row.overlap
    if row.trials is not None:
        told["trials"] = row.trials
    return told
