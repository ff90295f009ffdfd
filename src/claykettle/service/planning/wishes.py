"""A class as it is wished: the sentence's parts as typed, read together, with everything that is wrong with them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from decimal import Decimal
from typing import Any

from pydantic import ValidationError
from sqlalchemy import select

from claykettle.core.errors import Fault, Refusal
from claykettle.core.method import Method, Options, Setting
from claykettle.core.methods.registry import method_named
from claykettle.core.planning.practical import Practical
from claykettle.core.planning.probe import Instruments
from claykettle.core.planning.sizing import Sizing, size
from claykettle.core.planning.stock import MOST_BENCHES
from claykettle.core.planning.timetable import Takes
from claykettle.core.planning.trial_steps import learnt_from
from claykettle.core.quantity import parse_half_width, parse_reading
from claykettle.core.run import INSTRUMENTS, shape_of, slots_of, usable_readings
from claykettle.core.sheet import Shape
from claykettle.core.wording import fault_in_name
from claykettle.formats.practical_file import FORMAT, MOST_TRIALS, VERSION, PracticalModel, practical_from
from claykettle.formats.run_file import model_faults, parse_options, read_options
from claykettle.service.shelf.day import instruments_by_kind, the_day
from claykettle.service.visit import Visit
from claykettle.store.paces import durations
from claykettle.store.tables import Bench, Instrument

LONGEST = timedelta(days=1)
ASKED = frozenset({"before", "after", "report"})
"""What of a practical students are asked for."""
HOUR = 60


@dataclass(frozen=True)
class Wish:
    """A class as it is wished: the practical as its file says it, the setting as typed, when and how long, the benches.

    `room` says how many there are of what steps are done at; `sample` is how much is weighed, empty for what fits best.
    With `learnt` steps take what they took in the classes that were held.
    """

    practical: Mapping[str, Any]
    setting: Mapping[str, str] = field(default_factory=dict)
    sample: str = ""
    spare: str = "20 %"
    title: str = ""
    date: str = ""
    starts: str = ""
    length: str = ""
    benches: Sequence[int] = ()
    room: Mapping[str, int] = field(default_factory=dict)
    stagger: str = "0 min"
    overlap: bool = False
    learnt: bool = True


@dataclass
class Read:
    """What a wish comes to, as far as it can be read; `faults` say what cannot."""

    wish: Wish
    faults: list[Fault]
    method: Method | None = None
    options: Options | None = None
    practical: Practical | None = None
    setting: Setting | None = None
    shape: Shape | None = None
    sizing: Sizing | None = None
    instruments: Instruments | None = None
    chosen: dict[str, Instrument] = field(default_factory=dict)
    benches: list[Bench] = field(default_factory=list)
    day: date | None = None
    starts: int | None = None
    """Minutes since midnight."""
    length: float | None = None
    stagger: float = 0.0
    spare: float = 0.0
    learnt: dict[str, Takes] = field(default_factory=dict)
    """How long steps took in the classes that were held, whether it is used or not."""

    @property
    def trials(self) -> int:
        """How many each bench does, as far as that was said."""
        trials = self.wish.practical.get("trials", 1)
        return trials if isinstance(trials, int) and 1 <= trials <= MOST_TRIALS else 1

    @property
    def times(self) -> int:
        """How many trials the class does in all."""
        return self.trials * len(self.benches)


def read_wish(visit: Visit, wish: Wish) -> Read:
    """Read a wish part by part. Raises Refusal for a method that is not known; anything else is among the faults."""
    found = Read(wish, [])
    found.method = method_named(str(wish.practical.get("method", "")))
    _Reader(visit, found, found.method).read()
    return found


def _read_practical(typed: Mapping[str, Any]) -> tuple[Practical | None, Sequence[Fault]]:
    try:
        return practical_from(PracticalModel.model_validate(typed)), ()
    except ValidationError as error:
        return None, model_faults(error)
    except Refusal as refusal:
        return None, refusal.faults


class _Reader:
    def __init__(self, visit: Visit, found: Read, method: Method):
        self.visit, self.found, self.method = visit, found, method
        self.wish, self.faults = found.wish, found.faults

    def read(self) -> None:
        found, wish = self.found, self.wish
        self.benches()
        self.when()
        found.stagger = self.minutes(wish.stagger or "0 min", "stagger") or 0.0
        found.options = self.gathered(lambda: parse_options(self.method, wish.practical.get("options") or {}))
        found.practical = self.practical()
        usual = self.method.foresight.usual if self.method.foresight else {}
        typed = dict(usual) | {name: text for name, text in wish.setting.items() if text.strip()}
        typed |= self._told()
        found.setting = self.gathered(lambda: read_options(Setting, typed, "setting"))
        spare = self.gathered(lambda: parse_reading(wish.spare or "0", "ratio", "%"), "spare")
        found.spare = float(spare.si) if spare is not None else 0.0
        for name, count in wish.room.items():
            if count < 0:
                self.wrong("negative", f"room.{name}", "There are none, or some: not less than none.")
        self.read_with()
        self.size()
        found.learnt = learnt_from(durations(self.visit.session, self.visit.caller.whose, self.method.name))
        title = fault_in_name(wish.title, "title", "Give the class a name.") if wish.title.strip() else None
        self.faults += [title] if title is not None else []

    def _told(self) -> dict[str, str]:
        """What of the setting the options tell themselves: how strong the solution is that the sample reacts with."""
        foresight, options = self.method.foresight, self.found.options
        if foresight is None or options is None or "concentration" not in foresight.asks:
            return {}
        first = next(iter(foresight.solutions(options).values()), None)
        return {"concentration": first[1]} if first is not None else {}

    def practical(self) -> Practical | None:
        if self.found.options is None:
            return None
        own = {"format": FORMAT, "version": VERSION, "name": self.method.title}
        typed = {name: value for name, value in self.wish.practical.items() if value not in ("", None)}
        # the instruments are names on the shelf, held against it below
        read, faults = _read_practical(own | typed)
        self.faults += faults
        if read is None:
            # a question half written bears on nothing that is set out: the rest is told without what is asked
            read, _ = _read_practical(own | {name: value for name, value in typed.items() if name not in ASKED})
        return read

    def benches(self) -> None:
        rows = {row.id: row for row in self.visit.session.scalars(select(Bench).where(Bench.id.in_(self.wish.benches)))}
        missing = [number for number in self.wish.benches if number not in rows]
        self.found.benches = [rows[number] for number in dict.fromkeys(self.wish.benches) if number in rows]
        if missing:
            self.wrong("unknown-bench", "benches", "One of the benches is not on the list any more; choose again.")
        elif not self.found.benches:
            self.wrong("no-bench", "benches", "A class has one bench at least: choose which.")
        elif len(self.found.benches) > MOST_BENCHES:
            self.wrong("too-many", "benches", f"A class has {MOST_BENCHES} benches at most.")

    def when(self) -> None:
        found, wish = self.found, self.wish
        found.day = self._day(wish.date)
        if not wish.starts.strip():
            self.wrong("missing-field", "starts", "Say when the class begins, such as 18:30.")
        else:
            try:
                time = datetime.strptime(wish.starts.strip().replace(".", ":"), "%H:%M")
                found.starts = time.hour * HOUR + time.minute
            except ValueError:
                self.wrong("time", "starts", "Write the time as 18:30.")
        if not wish.length.strip():
            self.wrong("missing-field", "length", "Say how long the class lasts, such as 150 min.")
        else:
            found.length = self.minutes(wish.length, "length")
            if found.length is not None and not 1 <= found.length <= LONGEST.total_seconds() / HOUR:
                self.wrong("out-of-range", "length", "A class lasts from one minute to one day.")
                found.length = None
        if found.day is not None and found.starts is not None:
            self._is_there(found.day, found.starts)

    def _day(self, text: str) -> date | None:
        if not text.strip():
            self.wrong("missing-field", "date", "Say on which day, such as 2026-03-05.")
            return None
        try:
            day = date.fromisoformat(text.strip())
        except ValueError:
            self.wrong("date", "date", "Write the day as 2026-03-05.")
            return None
        if day < self.visit.today:
            self.wrong("past", "date", f"That day is over: today is {self.visit.today.isoformat()}.")
        elif day > self.visit.today + timedelta(days=5 * 366):
            self.wrong("far", "date", "That lies more than five years ahead; look at the year.")
        return day

    def _is_there(self, day: date, minutes: int) -> None:
        """Where clocks are put forward an hour is left out: no class begins in it."""
        begins = datetime(day.year, day.month, day.day, minutes // HOUR, minutes % HOUR, tzinfo=self.visit.zone)
        shown = datetime.fromtimestamp(begins.timestamp(), self.visit.zone)
        if (shown.hour, shown.minute) != (begins.hour, begins.minute):
            self.wrong("no-such-time", "starts", "The clocks are put forward in that hour: there is no such time then.")

    def read_with(self) -> None:
        """The instruments: by kind the one that the practical names, else the one that is usual here."""
        names = self.wish.practical.get("instruments") or {}
        rows = self.visit.session.scalars(select(Instrument).where(~Instrument.retired))
        by_name = {(row.kind, row.name): row.id for row in rows}
        chosen: dict[str, int] = {}
        for kind, name in names.items() if isinstance(names, dict) else ():
            if (kind, name) in by_name:
                chosen[kind] = by_name[kind, name]
            else:
                text = f"There is no '{str(name)[:40]}' on the shelf; choose another, or put it there."
                self.wrong("unknown-instrument", f"instruments.{kind}", text)
        self.found.chosen = instruments_by_kind(self.visit, the_day(self.visit), chosen)
        if "balance" not in self.found.chosen:
            self.wrong("no-balance", "instruments.balance", "There is no balance on the shelf: put one there first.")
        widths: dict[str, Decimal] = {}
        capacities: dict[str, Decimal] = {}
        for kind, row in self.found.chosen.items():
            widths[kind] = parse_half_width(row.half_width, INSTRUMENTS[kind])
            if row.capacity:
                capacities[kind] = parse_reading(row.capacity, INSTRUMENTS[kind]).si
        self.found.instruments = Instruments(widths, capacities)

    def size(self) -> None:
        found, wish = self.found, self.wish
        practical = found.practical
        if practical is None or found.setting is None or found.instruments is None:
            return
        options, method = practical.options, self.method
        slots = slots_of(practical.course, practical.schools, usable_readings(method, options), method.facts(options))
        found.shape = shape_of(method, options, frozenset(slots))
        if method.foresight is None:
            return
        try:
            found.sizing = size(method, found.shape, found.setting, found.instruments, wish.sample, "sample")
        except Refusal as refusal:
            self.faults += refusal.faults

    def minutes(self, text: str, path: str) -> float | None:
        reading = self.gathered(lambda: parse_reading(text, "time", "min"), path)
        return float(reading.si) / HOUR if reading is not None else None

    def gathered(self, read: Any, path: str = "") -> Any:
        try:
            return read()
        except Refusal as refusal:
            self.faults += (refusal.below(path) if path else refusal).faults
            return None

    def wrong(self, code: str, path: str, message: str) -> None:
        self.faults.append(Fault(code, path, message))
