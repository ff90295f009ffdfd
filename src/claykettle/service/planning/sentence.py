"""A class in one sentence: its parts in order, each with the key of what can be chosen there."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import cache

from claykettle.core.chemistry.formula import Formula
from claykettle.core.chemistry.substances import Register
from claykettle.core.method import Method, Options, SeriesOptions, Setting
from claykettle.core.methods.registry import procedure_named
from claykettle.core.quantity import exact
from claykettle.core.run import Procedure, reading_definition
from claykettle.service.planning.wishes import HOUR, Read
from claykettle.service.views.base import View

NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")
DAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
MONTHS = (
    "January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November",
    "December",
)  # fmt: skip
PART_OF = {
    "benches": "benches", "trials": "trials", "date": "date", "starts": "date", "length": "length", "title": "date",
    "setting": "apparatus", "instruments": "apparatus", "sample": "sample", "planned": "sample", "spare": "sample",
    "room": "room", "stagger": "room", "method": "method", "procedure": "practical", "before": "practical",
    "after": "practical", "report": "practical", "reveal": "practical", "name": "practical",
}  # fmt: skip
"""By the first word of a fault's path the part at which it is shown."""
OF_THE_ROOM = ("temperature", "barometer", "humidity")
"""What a setting takes from the room's readings, and no sentence needs."""
OF_TOLERANCE = ("tolerance", "constant_value", "class_tolerance")


class PartView(View):
    """A piece of the sentence; `key` is empty for the words between the parts."""

    key: str
    text: str


def part_of(path: str) -> str:
    """The part of the sentence at which a fault stands; empty for one that belongs to the whole."""
    first, _, rest = path.partition(".")
    name = first.partition("[")[0]
    if name == "options":
        return "tolerance" if rest.partition(".")[0] in OF_TOLERANCE else "material"
    if name == "schools":
        return f"school:{rest}"
    return PART_OF.get(name, "")


def sentence_of(read: Read, register: Register) -> list[PartView]:
    """The sentence, as far as it can be said."""
    return list(_parts(read, register))


def matter_of(method: Method, options: Options | None, register: Register) -> str:
    """With what it is done, by name where the register knows one."""
    if options is None:
        return "…"
    template, formulas = method.aim.formulas(options)
    return method.aim.in_words(template, {str(number): _name(row, register) for number, row in enumerate(formulas)})


def weighed_of(method: Method, options: Options, register: Register) -> str:
    """What is weighed out: mostly the matter itself, else the reagent that is sized, or the element that takes up."""
    planned = method.planned
    if planned is None:
        return matter_of(method, options, register)
    definition = reading_definition(method, planned.name, options)
    label = definition.labelled(options) if definition is not None else planned.label
    if label != planned.label:
        # it is called by its formula
        return label
    own = getattr(options, planned.name, None)
    return _name(own, register) if isinstance(own, Formula) else matter_of(method, options, register)


def _name(formula: Formula, register: Register) -> str:
    found = register.find(formula)
    return found.name.partition(",")[0] if found is not None else formula.text


def _parts(read: Read, register: Register) -> Iterator[PartView]:
    method = read.method
    assert method is not None  # a wish without a method is refused before
    count = len(read.benches)
    yield PartView(key="benches", text=f"{counted(count).capitalize()} {'bench' if count == 1 else 'benches'}")
    yield _between(" ")
    yield PartView(key="method", text=method.aim.one if count == 1 else method.aim.says)
    yield _between(" ")
    yield PartView(key="material", text=matter_of(method, read.options, register))
    yield _between(" in ")
    yield PartView(key="trials", text="one trial" if read.trials == 1 else f"{counted(read.trials)} trials")
    yield _between("" if count == 1 else " each")
    course = read.practical.course if read.practical is not None else procedure_named(method.name, None)
    assert course is not None
    yield from _schools(read, method, course)
    if isinstance(read.options, SeriesOptions):
        yield _between(", until the mass is constant within ")
        yield PartView(key="tolerance", text=f"{exact(float(read.options.tolerance_g) * 1000)} mg")
    elif issubclass(method.options, SeriesOptions):
        yield _between(", until the mass is constant within ")
        yield PartView(key="tolerance", text="…")
    if method.foresight is not None:
        yield _between(", with ")
        yield PartView(key="apparatus", text=_apparatus(read, method))
    yield _between(", on ")
    yield PartView(key="date", text=_when(read))
    yield _between(", for ")
    yield PartView(key="length", text=read.wish.length.strip() or "so long")
    yield _between(".")


def _between(text: str) -> PartView:
    return PartView(key="", text=text)


def _schools(read: Read, method: Method, course: Procedure) -> Iterator[PartView]:
    typed = read.wish.practical.get("schools") or {}
    given = {name: str(answer) for name, answer in typed.items()} if isinstance(typed, dict) else {}
    chosen = {name: choice.default for name, choice in course.schools.items()} | given
    for name, choice in course.schools.items():
        if not method.aim.asks(name, chosen):
            continue
        answer: str = chosen.get(name, choice.default)
        usual = choice.choices.get(answer, answer)
        said = method.aim.schools.get(name, {}).get(answer, usual[:1].lower() + usual[1:])
        if said:
            yield _between(", ")
            yield PartView(key=f"school:{name}", text=said)


def _apparatus(read: Read, method: Method) -> str:
    usual = dict(_usual_setting()) | dict(method.foresight.usual if method.foresight is not None else {})
    typed = {name: text.strip() for name, text in read.wish.setting.items() if name not in OF_THE_ROOM}
    other = [text for name, text in typed.items() if text and text != usual.get(name)]
    balance = read.chosen.get("balance")
    named = balance.name if balance is not None else "no balance"
    return ", ".join([named, *other[:3]])


@cache
def _usual_setting() -> Mapping[str, str]:
    """What a setting says where nobody said otherwise, as typed."""
    return {name: str(row.default) for name, row in Setting.model_fields.items() if row.default is not None}


def _when(read: Read) -> str:
    if read.day is None:
        return "a day to be named"
    day = f"{DAYS[read.day.weekday()]} {read.day.day} {MONTHS[read.day.month - 1]}"
    return day if read.starts is None else f"{day}, {read.starts // HOUR:02}:{read.starts % HOUR:02}"


def counted(number: int) -> str:
    """A number in words up to twelve."""
    return NUMBERS[number] if number < len(NUMBERS) else str(number)
