"""Reads and writes the run file. All faults of a file are found in one pass, each with its path."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from decimal import Decimal
from typing import Any, TypeVar, cast

from pydantic import ValidationError

from claykettle.core.errors import Fault, Refusal, join
from claykettle.core.method import Method, Observation, Options, Window, same
from claykettle.core.methods.registry import method_named, procedure_named
from claykettle.core.quantity import Reading, parse_half_width, parse_reading
from claykettle.core.run import (
    INSTRUMENTS,
    Change,
    Entry,
    NotTaken,
    ProcedureUse,
    Run,
    StepMark,
    TrialRecord,
    depends_on_options,
    reading_definition,
    reading_names,
    shape_of,
    usable_readings,
    with_hint,
)
from claykettle.formats import strict_json
from claykettle.formats.run_models import (
    FORMAT,
    LONGEST_SERIES,
    VERSION,
    HistoryModel,
    NotTakenModel,
    RunModel,
    seconds,
)

_PLAIN_MESSAGES = {
    "extra_forbidden": ("unknown-field", "This field is not known here; remove it or check its spelling."),
    "missing": ("missing-field", "This field is missing."),
}


Read = TypeVar("Read", bound=Options)


def read_run(data: bytes) -> Run:
    """The run that the file's bytes hold. Raises Refusal with every fault found."""
    document = strict_json.loads(data)
    if not isinstance(document, dict):
        raise Refusal(Fault("not-a-run", "", "A run file is one JSON object."))
    return run_from(document)


def run_from(document: Mapping[str, Any]) -> Run:
    """The run in a parsed document. Raises Refusal with every fault found."""
    try:
        outer = RunModel.model_validate(document)
    except ValidationError as error:
        raise Refusal(*model_faults(error)) from None
    method = method_named(outer.method)
    reader = _Reader(method)
    options = reader.options(outer.options)
    half_widths = reader.half_widths({name: row.half_width for name, row in outer.instruments.items()})
    shared, shared_left = reader.readings(outer.shared, "shared")
    planned = {name: reader.window(name, row.model_dump(exclude_none=True)) for name, row in outer.planned.items()}
    trials = [
        TrialRecord(trial.label, *reader.readings(trial.readings, f"trials[{index}].readings"))
        for index, trial in enumerate(outer.trials)
    ]
    reader.labels(trials)
    reader.steps([row.trial for row in outer.steps], trials)
    if reader.faults or options is None:
        raise Refusal(*reader.faults)
    for index, record in enumerate(trials):
        names = frozenset(record.entries) | frozenset(shared)
        shape_of(method, options, names, f"trials[{index}].readings")
    left = frozenset(name for name in shared_left if name not in shared)
    _refuse_unused(method, options, left, [(f"trials[{index}].readings", row) for index, row in enumerate(trials)])
    procedure = ProcedureUse(**outer.procedure.model_dump()) if outer.procedure else None
    course = procedure_named(method.name, procedure.name if procedure else None) if outer.steps else None
    observations = tuple(Observation(**row.model_dump()) for row in outer.observations)
    return Run(
        method,
        options,
        tuple(trials),
        half_widths,
        shared,
        planned,
        observations,
        outer.title,
        outer.note,
        procedure,
        tuple(StepMark(**row.model_dump(), moment=_seconds(row.at)) for row in outer.steps),
        course,
        shared_left,
        tuple(Change(**row.model_dump()) for row in outer.changes),
        outer.practised,
    )


def _refuse_unused(
    method: Method, options: Options, left: frozenset[str], rows: Iterable[tuple[str, TrialRecord]]
) -> None:
    """Refuse readings that these options have no use for, such as a third reagent where two are named."""
    count = len(getattr(options, "taken", ()))
    more = f" (it names {count} reagents)" if count else ""
    faults = [
        Fault("unused-reading", join(path, name), f"The run's options have no use for '{name}'{more}: change one.")
        for path, row in rows
        for name in (*row.entries, *row.not_taken)
        if name not in usable_readings(method, options) | usable_readings(method, options, left | _left(row))
    ]
    if faults:
        raise Refusal(*faults)


def _left(row: TrialRecord) -> frozenset[str]:
    return frozenset(name for name in row.not_taken if name not in row.entries)


def parse_options(method: Method, options: Mapping[str, Any]) -> Options:
    """A method's options from plain JSON values. Raises Refusal with paths below `options`."""
    model: type[Options] = method.options
    return same(read_options(model, options, "options"))


def read_options(model: type[Read], given: Mapping[str, Any], path: str) -> Read:
    """Options of any kind from plain JSON values. Raises Refusal with paths below `path`."""
    try:
        return model.model_validate(given)
    except ValidationError as error:
        raise Refusal(*model_faults(error, path)) from None


class _Reader:
    """Collects faults while it parses what depends on the method."""

    def __init__(self, method: Method):
        self.method = method
        self.parsed: Options | None = None
        self.faults: list[Fault] = []

    def options(self, given: Mapping[str, Any]) -> Options | None:
        try:
            self.parsed = parse_options(self.method, given)
        except Refusal as refusal:
            self.faults += refusal.faults
        return self.parsed

    def half_widths(self, given: Mapping[str, str]) -> dict[str, Decimal]:
        found: dict[str, Decimal] = {}
        for name, text in given.items():
            if name not in INSTRUMENTS:
                message = f"'{name[:40]}' is not an instrument known here; use one of {', '.join(INSTRUMENTS)}."
                self.faults.append(Fault("unknown-field", f"instruments.{name}", message))
                continue
            try:
                found[name] = parse_half_width(text, INSTRUMENTS[name])
            except Refusal as refusal:
                self.faults += refusal.below(f"instruments.{name}.half_width").faults
        return found

    def readings(
        self, given: Mapping[str, Any], path: str
    ) -> tuple[dict[str, tuple[Entry, ...]], dict[str, tuple[NotTaken, ...]]]:
        """Readings by name, and what was declared not taken."""
        left: dict[str, tuple[NotTaken, ...]] = {}
        kept: dict[str, Any] = {}
        for name, value in given.items():
            rows = value if isinstance(value, list) else [value]
            said = [
                self._not_taken(row, join(path, name) + (f"[{index}]" if isinstance(value, list) else ""), index + 1)
                for index, row in enumerate(rows)
                if isinstance(row, dict) and "not_taken" in row
            ]
            if not said:
                kept[name] = value
                continue
            if reading_definition(self.method, name, self.parsed) is None:
                kept[name] = value  # refused there, with the names that the method has
                continue
            left[name] = tuple(row for row in said if row is not None)
            if len(said) < len(rows):
                kept[name] = [row for row in rows if not (isinstance(row, dict) and "not_taken" in row)]
        return self.entries(kept, path), left

    def _not_taken(self, value: Mapping[str, Any], where: str, position: int) -> NotTaken | None:
        try:
            row = NotTakenModel.model_validate(value)
        except ValidationError as error:
            self.faults += model_faults(error, where)
            return None
        return NotTaken(row.reason, position, row.at, row.by)

    def entries(self, given: Mapping[str, Any], path: str) -> dict[str, tuple[Entry, ...]]:
        found: dict[str, tuple[Entry, ...]] = {}
        for name, value in given.items():
            definition = reading_definition(self.method, name, self.parsed)
            where = join(path, name)
            if definition is None:
                known = ", ".join(reading_names(self.method))
                message = f"'{name[:40]}' is not a reading of {self.method.name}; it has {known}."
                self.faults.append(Fault("unknown-field", where, message))
                continue
            if self.parsed is None and depends_on_options(self.method, name):
                continue  # what it measures is open while the options are refused
            series = definition.series and not name.endswith("_tare")
            rows = self._series(value, definition.dimension, where) if series else None
            if rows is None:
                before = len(self.faults)
                entry = self._entry(value, definition.dimension, where)
                rows = [entry] if entry else []
                if len(self.faults) > before:
                    self.faults[before:] = with_hint(Refusal(*self.faults[before:]), self.method, name).faults
            if rows:
                found[name] = tuple(rows)
        return found

    def _series(self, value: Any, dimension: str, where: str) -> list[Entry] | None:
        if not isinstance(value, list):
            return None
        if not 1 <= len(value) <= LONGEST_SERIES:
            message = f"A series holds 1 to {LONGEST_SERIES} values; this one has {len(value)}."
            self.faults.append(Fault("series-length", where, message))
            return []
        rows = [self._entry(one, dimension, f"{where}[{index}]") for index, one in enumerate(value)]
        return [row for row in rows if row]

    def _entry(self, value: Any, dimension: str, where: str) -> Entry | None:
        try:
            if isinstance(value, dict):
                history = HistoryModel.model_validate(value)
                reading = parse_reading(history.text, dimension)
                width = _own_width(history.half_width, dimension)
                known = history.model_dump(exclude={"text", "half_width"})
                return Entry(reading, **known, half_width=width, moment=_seconds(history.at))
            if isinstance(value, str):
                return Entry(parse_reading(value, dimension))
        except Refusal as refusal:
            self.faults += refusal.below(where).faults
            return None
        except ValidationError as error:
            self.faults += model_faults(error, where)
            return None
        given = "null" if value is None else type(value).__name__
        message = f"A reading is a text with digits and unit such as '31.204 g', not {given}."
        self.faults.append(Fault("not-a-reading", where, message))
        return None

    def window(self, name: str, given: Mapping[str, str]) -> Window:
        found, faults = read_window(self.method, self.parsed, name, given)
        self.faults += faults
        return found

    def labels(self, trials: Iterable[TrialRecord]) -> None:
        seen: set[str] = set()
        for index, trial in enumerate(trials):
            if trial.label in seen:
                message = f"The label '{trial.label}' stands on two trials; give each its own."
                self.faults.append(Fault("duplicate-label", f"trials[{index}].label", message))
            seen.add(trial.label)

    def steps(self, names: Iterable[str], trials: Iterable[TrialRecord]) -> None:
        """Steps belong to a trial of the file."""
        labels = {row.label for row in trials}
        for index, name in enumerate(names):
            if name not in labels:
                message = f"The file has no trial '{name[:40]}'; a step names the label of its trial."
                self.faults.append(Fault("unknown-trial", f"steps[{index}].trial", message))


def _seconds(at: str | None) -> float | None:
    return None if at is None else seconds(at)


def read_window(
    method: Method, options: Options | None, name: str, given: Mapping[str, str]
) -> tuple[Window, list[Fault]]:
    """Where a planned reading should lie, from texts with units; and what is wrong with them, below `planned`."""
    path = f"planned.{name}"
    definition = reading_definition(method, name, options)
    if definition is None:
        return Window(), [Fault("unknown-field", path, f"'{name[:40]}' is not a reading of {method.name}.")]
    faults: list[Fault] = []
    if not given or ("about" in given and len(given) > 1):
        faults.append(Fault("window", path, "Give either 'about', or 'low' and 'high' (one of them is enough)."))
    read: dict[str, Reading] = {}
    for key, text in given.items():
        try:
            read[key] = parse_reading(text, definition.dimension)
        except Refusal as refusal:
            faults += refusal.below(f"{path}.{key}").faults
    if "low" in read and "high" in read and read["low"].si > read["high"].si:
        faults.append(Fault("window", path, "'low' lies above 'high'; exchange them."))
    return Window(**read), faults


def model_faults(error: ValidationError, below: str = "") -> list[Fault]:
    """What is wrong with a document's form, each at its place."""
    found: list[Fault] = []
    for row in error.errors(include_url=False, include_input=False):
        context = cast(Mapping[str, Any], row.get("ctx") or {})
        path = join(below, _path((*row["loc"], *([context["field"]] if "field" in context else []))))
        said = row["msg"] if row["msg"].endswith((".", "?", "!")) else f"{row['msg']}."
        code, message = _PLAIN_MESSAGES.get(row["type"], (row["type"].replace("_", "-"), said))
        found.append(Fault(code, path, message, str(context.get("suggestion", ""))))
    return found


def _path(location: Iterable[str | int]) -> str:
    path = ""
    for piece in location:
        path = join(path, f"[{piece}]" if isinstance(piece, int) else str(piece))
    return path


# Writing


def write_run(run: Run) -> str:
    """The run as a run file: readings digit for digit as typed, defaults left out."""
    return json.dumps(run_document(run), ensure_ascii=False, indent=2) + "\n"


def run_document(run: Run) -> dict[str, Any]:
    """The run as plain JSON values in the order of RUNFILE."""
    document: dict[str, Any] = {"format": FORMAT, "version": VERSION, "method": run.method.name}
    if run.practised:
        document["practised"] = True
    optional = {
        "title": run.title,
        "note": run.note,
        "options": run.options.model_dump(mode="json", exclude_defaults=True),
        "procedure": _procedure(run.procedure),
        "instruments": {name: {"half_width": half_width_of(name, width)} for name, width in run.half_widths.items()},
        "planned": {name: _window(window) for name, window in run.planned.items()},
        "shared": _readings(run.method, run.shared, run.shared_not_taken),
    }
    document |= {key: value for key, value in optional.items() if value}
    document["trials"] = [
        {"label": trial.label, "readings": _readings(run.method, trial.entries, trial.not_taken)}
        for trial in run.trials
    ]
    if run.observations:
        document["observations"] = [_without_empty(vars(row)) for row in run.observations]
    if run.steps:
        document["steps"] = [_step(row) for row in run.steps]
    if run.changes:
        document["changes"] = [_change(row) for row in run.changes]
    return document


def _step(mark: StepMark) -> dict[str, Any]:
    fields = {name: value for name, value in vars(mark).items() if name != "moment"}
    return {name: value for name, value in _without_empty(fields).items() if (name, value) != ("round", 1)}


def _change(change: Change) -> dict[str, Any]:
    names = {"before": "from", "after": "to"}
    order = ("at", "by", "what", "before", "after", "reason")
    return {
        names.get(name, name): value
        for name in order
        if (value := getattr(change, name)) not in (None, "") or name in names
    }


def _readings(
    method: Method, entries: Mapping[str, tuple[Entry, ...]], left: Mapping[str, tuple[NotTaken, ...]]
) -> dict[str, Any]:
    written: dict[str, Any] = {}
    for name in dict.fromkeys((*entries, *left)):
        definition = reading_definition(method, name)
        values = [_entry_value(row) for row in entries.get(name, ())]
        for row in left.get(name, ()):
            values.insert(row.position - 1, _not_taken_value(row))
        series = definition is not None and definition.series and not name.endswith("_tare")
        written[name] = values if series and len(values) > len(left.get(name, ())) else values[0]
    return written


def _not_taken_value(row: NotTaken) -> dict[str, Any]:
    return {"not_taken": True, **_without_empty({"reason": row.reason, "at": row.at, "by": row.by})}


def _entry_value(entry: Entry) -> Any:
    fields = {key: value for key, value in vars(entry).items() if key not in ("reading", "moment")}
    history = _without_empty(fields | {"half_width": half_width_text(entry)})
    return {"text": entry.reading.text, **history} if history else entry.reading.text


def half_width_text(entry: Entry) -> str:
    """The half-width that an entry has of its own, with its unit; empty where it is the run's."""
    return "" if entry.half_width is None else _width_text(entry.reading.unit.dimension, entry.half_width)


def _own_width(text: str | None, dimension: str) -> Decimal | None:
    try:
        return None if text is None else parse_half_width(text, dimension)
    except Refusal as refusal:
        raise refusal.below("half_width") from None


def half_width_of(instrument: str, width: Decimal) -> str:
    """A half-width (SI) of a kind of instrument with the unit that a run file gives it in."""
    return _width_text(INSTRUMENTS[instrument], width)


def _width_text(dimension: str, width: Decimal) -> str:
    units: dict[str, tuple[str, Decimal | int]] = {
        "mass": ("g", 1000),
        "volume": ("mL", 10**6),
        "temperature": ("K", 1),
        "pressure": ("kPa", Decimal("1e-3")),
    }
    units |= {"length": ("mm", 1000), "ratio": ("%", 100), "time": ("s", 1)}
    symbol, scale = units[dimension]
    return f"{(width * scale).normalize():f} {symbol}"


def _window(window: Window) -> dict[str, str]:
    return {name: row.text for name, row in vars(window).items() if row is not None}


def _procedure(procedure: ProcedureUse | None) -> dict[str, Any] | None:
    return None if procedure is None else _without_empty(vars(procedure))


def _without_empty(fields: Mapping[str, Any]) -> dict[str, Any]:
    return {key: value for key, value in fields.items() if value not in (None, "", {}, ())}
