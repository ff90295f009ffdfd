"""The run file as pydantic models: the outer form of every method's file, and the JSON Schema made from it."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, JsonValue, StringConstraints, create_model
from pydantic_core import PydanticCustomError

from claykettle.core.method import Method, OptionsSchema
from claykettle.core.methods.registry import all_methods
from claykettle.core.quantity import LONGEST
from claykettle.core.run import INSTRUMENTS, reading_definition, reading_names
from claykettle.core.wording import unseen

FORMAT, VERSION = "clay-kettle/run", 1
MOST_TRIALS, LONGEST_SERIES, LONGEST_TEXT, MOST_STEPS = 200, 100, 4000, 10000
MOST_CHANGES = 1000


YEARS = range(1900, 9999)
"""Years that every calendar and database reaches from every time zone."""


def seconds(text: str) -> float:
    """A time in seconds since 1970, UTC where it names no zone. Raises ValueError for what is no time."""
    moment = datetime.fromisoformat(text)
    return (moment if moment.tzinfo else moment.replace(tzinfo=UTC)).timestamp()


def _is_moment(text: str) -> str:
    try:
        moment = datetime.fromisoformat(text)
    except ValueError:
        raise PydanticCustomError("moment", "A time is written as 2026-03-05T18:42:10+01:00.") from None
    if moment.year not in YEARS:
        raise PydanticCustomError("moment", "A time lies in the years 1900 to 9998.")
    return text


def _is_seen(text: str) -> str:
    said = unseen(text, breaks=True)
    if said:
        raise PydanticCustomError("not-shown", "{text}", {"text": said})
    return text


Words = Annotated[str, StringConstraints(max_length=LONGEST_TEXT), AfterValidator(_is_seen)]
Name = Annotated[str, StringConstraints(max_length=120), AfterValidator(_is_seen)]
ShortName = Annotated[str, StringConstraints(max_length=60), AfterValidator(_is_seen)]
Figure = Annotated[str, StringConstraints(max_length=80), AfterValidator(_is_seen)]
Moment = Annotated[str, StringConstraints(max_length=40), AfterValidator(_is_moment)]


class Model(BaseModel):
    """Base of the file's models: what the schema does not know is refused."""

    model_config = ConfigDict(extra="forbid", strict=True)


class InstrumentModel(Model):
    """One instrument of the run."""

    half_width: str = Field(description="Half-width of what it shows, with its unit, such as '0.001 g'.")


class HistoryModel(Model):
    """A reading with its history."""

    text: str
    at: Moment | None = None
    by: Name | None = None
    instrument: ShortName | None = None
    corrects: Figure | None = None
    reason: Words | None = None
    half_width: Name | None = Field(
        default=None, description="Of the instrument that took it, where it is another than the run's."
    )


class NotTakenModel(Model):
    """A reading that was declared not taken; in the last place of a series it ends it."""

    not_taken: Literal[True]
    reason: Annotated[str, StringConstraints(min_length=1, max_length=LONGEST_TEXT), AfterValidator(_is_seen)]
    at: Moment | None = None
    by: Name | None = None


class ChangeModel(Model):
    """Something that was decided otherwise in a running run: an option, a school, an instrument, the line of a figure.

    `from` and `to` are texts, JSON where it was no text; null where there was, or is, nothing.
    """

    model_config = ConfigDict(extra="forbid", strict=True, populate_by_name=True)

    at: Moment | None = None
    by: Name | None = None
    what: Annotated[str, StringConstraints(min_length=1, max_length=200), AfterValidator(_is_seen)]
    before: Words | None = Field(default=None, alias="from")
    after: Words | None = Field(default=None, alias="to")
    reason: Words = ""


class ObservationModel(Model):
    """Something seen at the bench."""

    tag: Name
    text: Words = ""
    at: Moment | None = None
    by: Name | None = None
    trial: Name | None = None


class WindowModel(Model):
    """A planned window: about, or low and high."""

    about: str | None = None
    low: str | None = None
    high: str | None = None


class ProcedureModel(Model):
    """The procedure that the run followed."""

    name: Name
    version: Annotated[int, Field(ge=1, le=10**6)]
    schools: dict[Name, Name] = {}


class StepModel(Model):
    """Something done about a step of the procedure."""

    trial: Name
    step: Annotated[str, StringConstraints(pattern=r"^[a-z][a-z0-9_]*$", max_length=40)]
    round: Annotated[int, Field(ge=1, le=1000)] = 1
    kind: Literal["done", "skipped", "started", "extended"]
    at: Moment | None = None
    by: Name | None = None
    n: Annotated[int, Field(ge=0, le=1000, description="How often it was done, such as rinses.")] | None = None
    reason: Words | None = None


class TrialModel(Model):
    """One trial; readings are typed by the method afterwards, so that each fault keeps its path."""

    label: Name
    readings: dict[str, JsonValue]


class RunModel(Model):
    """The outer form of a run file."""

    format: Literal["clay-kettle/run"]
    version: Literal[1]
    method: Name
    title: Name = ""
    note: Words = ""
    options: dict[str, JsonValue] = {}
    instruments: dict[str, InstrumentModel] = {}
    shared: dict[str, JsonValue] = {}
    planned: dict[str, WindowModel] = {}
    trials: Annotated[list[TrialModel], Field(min_length=1, max_length=MOST_TRIALS)]
    observations: Annotated[list[ObservationModel], Field(max_length=5000)] = []
    procedure: ProcedureModel | None = None
    steps: Annotated[list[StepModel], Field(max_length=MOST_STEPS)] = []
    changes: Annotated[list[ChangeModel], Field(max_length=MOST_CHANGES)] = []
    practised: bool = Field(default=False, description="Done at a simulated bench: never a class's result.")


def json_schema() -> dict[str, Any]:
    """The JSON Schema of the run file, one alternative a method."""
    alternatives = [_method_model(method) for _, method in sorted(all_methods().items())]
    definitions: dict[str, Any] = {}
    refs: list[dict[str, str]] = []
    for model in alternatives:
        schema = model.model_json_schema(ref_template="#/$defs/{model}", schema_generator=OptionsSchema)
        definitions |= schema.pop("$defs", {})
        definitions[model.__name__] = schema
        refs.append({"$ref": f"#/$defs/{model.__name__}"})
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Clay Kettle run file, version 1",
        "oneOf": refs,
        "$defs": dict(sorted(definitions.items())),
    }


def _method_model(method: Method) -> type[BaseModel]:
    """RunModel with this method's options and reading names put in."""
    literal: Any = Literal[method.name]
    title = method.name.title().replace("_", "")
    fields: dict[str, Any] = {name: (_reading_type(method, name), None) for name in reading_names(method)}
    readings = create_model(f"{title}Readings", __base__=Model, **fields)
    trial = create_model(f"{title}Trial", __base__=Model, label=(Name, ...), readings=(readings, ...))
    instruments: dict[str, Any] = dict.fromkeys(INSTRUMENTS, (InstrumentModel, None))
    trials = Annotated[list[trial], Field(min_length=1, max_length=MOST_TRIALS)]
    return create_model(
        f"{title}Run",
        __base__=RunModel,
        method=(literal, ...),
        options=(method.options, Field(default_factory=dict)),
        instruments=(create_model("Instruments", __base__=Model, **instruments), None),
        shared=(readings, None),
        trials=(trials, ...),
    )


def _reading_type(method: Method, name: str) -> Any:
    definition = reading_definition(method, name)
    typed = Annotated[str, Field(max_length=LONGEST, description="digits and unit as typed")]
    one = typed | HistoryModel | NotTakenModel
    series = definition is not None and definition.series and not name.endswith("_tare")
    return (one | Annotated[list[one], Field(max_length=LONGEST_SERIES)]) if series else one
