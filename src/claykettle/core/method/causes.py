"""Error causes as typed disturbances, read from the `causes.toml` of a method's folder.

No sign and no size of an effect stands in any file: a cause says *what* it disturbs, `judgement/replay.py` says what
that does to the result. Five kinds: a reading shifted, a reading scaled, a line replaced, an option replaced, or the
truth itself changed (then the method's own bench model makes the readings). Doses stand in the unit that is shown.
"""

from __future__ import annotations

import tomllib
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from importlib.resources import files
from typing import Any

from pydantic import BaseModel, ConfigDict, ValidationError

from claykettle.core.errors import WorksheetError
from claykettle.core.quantity import parse_reading, unit

FILE, SHARED = "causes.toml", "parts"
"""The file of a folder, and the folder beside it that holds what several methods share."""


@dataclass(frozen=True)
class ReadingShifted:
    """`reading` shows `factor` × dose more than it should (dose in SI); every weighing of a series alike."""

    reading: str
    factor: float = 1.0


@dataclass(frozen=True)
class ReadingScaled:
    """`reading` shows (1 + dose) times what it should."""

    reading: str


@dataclass(frozen=True)
class LineReplaced:
    """The calculation uses other functions for lines, by name, such as leaving a correction out. No dose.

    Lines that the page does not have stay out of it.
    """

    functions: Mapping[str, Callable[..., Any]]


@dataclass(frozen=True)
class OptionReplaced:
    """The calculation believes another option. No dose."""

    option: str
    value: object


@dataclass(frozen=True)
class TruthChanged:
    """The matter in the vessel is not what it should be; `fault` is a field of the method's truth."""

    fault: str


Kind = ReadingShifted | ReadingScaled | LineReplaced | OptionReplaced | TruthChanged
Words = Mapping[str, Any]
"""What a file of causes may call by name: conditions on the options, and functions that stand in for lines."""


def _always(_: object) -> bool:
    return True


@dataclass(frozen=True)
class Evidence:
    """What is known of a trial beside its readings: answers of its procedure's schools, and tags of what was seen.

    `passed` are steps that were passed over and `early` readings that were taken before their time, both by name with
    what is said of it.
    """

    schools: Mapping[str, str] = field(default_factory=dict)
    tags: tuple[str, ...] = ()
    passed: Mapping[str, str] = field(default_factory=dict)
    early: Mapping[str, str] = field(default_factory=dict)


NO_EVIDENCE = Evidence()


@dataclass(frozen=True)
class Cause:
    """One thing that can have gone wrong: its name, kind, usual and largest believable dose (SI), and why no more.

    `when` tells from the options whether it can happen at all, `schools` under which answers of the procedure;
    `bounded` tells the most that the options allow, such as what a liquid can hold; `seen` are tags of observations
    that speak for it, as do steps `passed` over and readings taken too `early`; `least` is the smallest dose (SI) that
    there is, such as a whole lid; `ask` is what to ask about it at the bench.
    """

    code: str
    label: str
    kind: Kind
    unit: str = "g"
    usual: float = 0.0
    believable: float = 0.0
    limit: str = ""
    when: Callable[[Any], bool] = _always
    schools: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    bounded: Callable[[Any], float | None] | None = None
    seen: tuple[str, ...] = ()
    least: float = 0.0
    passed: tuple[str, ...] = ()
    early: tuple[str, ...] = ()
    ask: str = ""

    def happens(self, options: object, evidence: Evidence) -> bool:
        """Whether it can happen at all under these options and, where they are told, these schools."""
        asked = evidence.schools
        return self.when(options) and all(asked.get(name, rows[0]) in rows for name, rows in self.schools.items())

    def noted(self, evidence: Evidence) -> tuple[str, ...]:
        """What the record holds that speaks for it, each once, in order."""
        said = [tag for tag in evidence.tags if tag in self.seen]
        said += [text for step, text in evidence.passed.items() if step in self.passed]
        said += [text for reading, text in evidence.early.items() if reading in self.early]
        return tuple(dict.fromkeys(said))

    def most(self, options: object) -> float:
        """The largest believable dose (SI): what the file says, or less where matter itself sets a bound."""
        bound = self.bounded(options) if self.bounded is not None else None
        return self.believable if bound is None else min(self.believable, bound)


class _Row(BaseModel):
    """A cause as the file writes it: exactly one of the six words that say what it disturbs."""

    model_config = ConfigDict(extra="forbid")
    code: str
    label: str
    raises: str | None = None
    lowers: str | None = None
    scales: str | None = None
    truth: str | None = None
    lines: str | dict[str, str] | None = None
    usual: str | None = None
    most: str | None = None
    limit: str = ""
    when: str | None = None
    schools: dict[str, tuple[str, ...]] = {}
    bounded: str | None = None
    seen: tuple[str, ...] = ()
    passed: tuple[str, ...] = ()
    early: tuple[str, ...] = ()
    least: str | None = None
    ask: str = ""

    def kind(self, words: Words) -> Kind:
        """What it disturbs."""
        match self:
            case _Row(raises=str(reading)):
                return ReadingShifted(reading)
            case _Row(lowers=str(reading)):
                return ReadingShifted(reading, -1.0)
            case _Row(scales=str(reading)):
                return ReadingScaled(reading)
            case _Row(truth=str(fault)):
                return TruthChanged(fault)
            case _Row(lines=str(name)):
                return LineReplaced(words[name])
            case _Row(lines=dict(names)):
                return LineReplaced({line: words[name] for line, name in names.items()})
        raise WorksheetError(f"cause '{self.code}' disturbs nothing")


def read_causes(package: str, words: Words | None = None, names: Mapping[str, str] | None = None) -> tuple[Cause, ...]:
    """The causes of a method, in the order of its file.

    `package` is the method's folder; `words` are what `when` and `lines` call by name, `names` what stands for `{…}` in
    causes that several methods share. Raises WorksheetError for a file that says what nobody knows.
    """
    try:
        return tuple(_cause(row, words or {}) for row in _rows(package, FILE, names or {}))
    except (ValidationError, KeyError) as error:
        raise WorksheetError(f"{package}: a cause is not understood: {error}") from None


def _rows(package: str, file: str, names: Mapping[str, str]) -> Iterator[_Row]:
    """The rows of a file; a row `use` stands for those of a file that methods share, or `only` some of them."""
    for row in tomllib.loads(files(package).joinpath(file).read_text(encoding="utf-8"))["cause"]:
        if "use" not in row:
            yield _Row.model_validate(_put(row, names))
            continue
        wanted = [_put(code, names) for code in row.get("only", ())]
        shared = list(_rows(f"{package.rpartition('.')[0]}.{SHARED}", row["use"], names))
        if set(wanted) - {one.code for one in shared}:
            raise WorksheetError(f"{package}: {row['use']} has no {wanted}")
        yield from (one for one in shared if not wanted or one.code in wanted)


def _put(value: object, names: Mapping[str, str]) -> object:
    if isinstance(value, dict):
        return {key: _put(one, names) for key, one in value.items()}
    if isinstance(value, list):
        return [_put(one, names) for one in value]
    return value.format_map(names) if isinstance(value, str) else value


def _cause(row: _Row, words: Words) -> Cause:
    usual, most = _dose(row.usual), _dose(row.most)
    return Cause(
        row.code,
        row.label,
        row.kind(words),
        most[1] if row.most else "g",
        usual[0],
        most[0],
        row.limit,
        words[row.when] if row.when else _always,
        row.schools,
        words[row.bounded] if row.bounded else None,
        row.seen,
        _dose(row.least)[0],
        row.passed,
        row.early,
        row.ask,
    )


def _dose(text: str | None) -> tuple[float, str]:
    """A dose in SI, as a difference, and the unit in which it is shown."""
    if text is None:
        return 0.0, ""
    symbol = text.rpartition(" ")[2]
    reading = parse_reading(text, unit(symbol).dimension)
    return float(reading.unit.step_to_si(reading.number)), reading.unit.symbol
