"""A simulated bench, set up: which method under which options, what is really in the jar, and what is wrong with it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from decimal import Decimal
from functools import cached_property
from itertools import product
from typing import Any

from claykettle.core.errors import Refusal, refuse
from claykettle.core.matter import LARGEST_SEED, Air, Chance, Matter
from claykettle.core.method import (
    Cause,
    Evidence,
    Jar,
    Method,
    Options,
    ReadingScaled,
    ReadingShifted,
    Rehearsal,
    Setting,
    TruthChanged,
    Usual,
)
from claykettle.core.methods.registry import procedure_named
from claykettle.core.practice.instruments import Instrument
from claykettle.core.practice.planted import Planted, can_be_planted, hide
from claykettle.core.quantity import nominal, parse_half_width, parse_reading, unit
from claykettle.core.run import (
    INSTRUMENTS,
    Entry,
    Procedure,
    Run,
    TrialRecord,
    course_faults,
    evaluate_run,
    reading_definition,
    shape_of,
    slots_of,
    usable_readings,
)
from claykettle.core.sheet import Shape

SHOWS = 5.0
"""So many standard uncertainties a hidden fault moves the result at least: less would be nobody's to find."""
LEAST_HALF_WIDTHS = {
    "balance": "0.001 g",
    "coarse_balance": "0.1 g",
    "volume": "0.05 mL",
    "liquid_volume": "0.1 mL",
    "thermometer": "0.2 K",
    "barometer": "1 hPa",
    "ruler": "0.5 mm",
    "hygrometer": "3 %",
    "clock": "1 s",
}
"""The instruments of a bench where the method's own file names none (common practice)."""


def rehearsal_of(method: Method) -> Rehearsal:
    """How a method is practised. Raises Refusal `not-practised`."""
    if method.rehearsal is None:
        raise refuse("not-practised", f"{method.title} has no simulated bench yet.", "method")
    return method.rehearsal()


def check_seed(seed: int) -> int:
    """A seed that a bench can begin from. Raises Refusal `seed`."""
    if not 0 <= seed <= LARGEST_SEED:
        raise refuse("seed", f"A seed is a whole number from 0 to {LARGEST_SEED:.0e}, not {seed}.", "seed")
    return seed


@dataclass(frozen=True, eq=False)
class Laid:
    """A bench on which a run of several trials can be done. `faults` are planted at all of them."""

    method: Method
    options: Options
    course: Procedure
    schools: Mapping[str, str]
    seed: int
    faults: tuple[Planted, ...] = ()
    real: Options | None = None
    """The options as they really are, where what was written down is not so."""
    own_half_widths: Mapping[str, str] = field(default_factory=dict)

    @property
    def usual(self) -> Usual:
        """What the method's file says of its practice."""
        return rehearsal_of(self.method).usual

    @property
    def chance(self) -> Chance:
        """The draws of this bench."""
        return Chance(self.seed, self.method.name)

    @cached_property
    def facts(self) -> Mapping[str, str]:
        """What the options are in the procedure's words."""
        return self.method.facts(self.options)

    @cached_property
    def needed(self) -> frozenset[str]:
        """The readings that the options have a use for."""
        return usable_readings(self.method, self.options)

    @cached_property
    def slots(self) -> tuple[str, ...]:
        """The readings that the course takes."""
        return slots_of(self.course, self.schools, self.needed, self.facts)

    @cached_property
    def shape(self) -> Shape:
        """The form of the page."""
        return shape_of(self.method, self.options, frozenset(self.slots))

    @cached_property
    def sampled(self) -> frozenset[str]:
        """The readings that hold several of a kind."""
        rows = ((slot, reading_definition(self.method, slot, self.options)) for slot in self.slots)
        return frozenset(slot for slot, row in rows if row is not None and row.sampled)

    @cached_property
    def half_widths(self) -> dict[str, Decimal]:
        """The half-widths (SI) of the instruments that the course uses."""
        known = {**LEAST_HALF_WIDTHS, **self.usual.half_widths, **self.own_half_widths}
        rows = (reading_definition(self.method, slot, self.options) for slot in self.slots)
        kinds = dict.fromkeys(row.instrument for row in rows if row is not None)
        return {kind: parse_half_width(known[kind], INSTRUMENTS[kind]) for kind in kinds}

    def instrument(self, slot: str) -> Instrument:
        """What takes a reading."""
        row = reading_definition(self.method, slot, self.options)
        assert row is not None  # a course takes readings of its method only
        return Instrument(float(self.half_widths[row.instrument]), unit(row.unit))

    # What is really there

    def truth(self, trial: int) -> tuple[Any, Air]:
        """What is in the jar of a trial, and the air of the room: the same for all trials of a bench."""
        rehearsal, chance = rehearsal_of(self.method), self.chance.stream(f"trial {trial}")
        setting = self._setting()
        air = Air(setting.temperature.si, setting.barometer.si, setting.humidity.si)
        options = self.real or self.options
        if self.method.foresight is None:
            return rehearsal.drawn(options, chance), air
        amount = chance.between(*self.usual.amount)
        for _ in range(20):
            found = self._foreseen(rehearsal, options, amount, setting, chance)
            if self._fits(found):
                break
            amount *= 0.75
        return rehearsal.class_of(found, options, chance.stream("class")), air

    def _foreseen(self, rehearsal: Rehearsal, options: Options, amount: float, setting: Setting, chance: Chance) -> Any:
        """The truth of so much of it; of a jar that the options leave open, what chance puts into it."""
        foresight = self.method.foresight
        assert foresight is not None  # asked for only where there is one
        try:
            return foresight.truth(options, amount, setting)
        except Refusal:
            named = rehearsal.named(options, chance.stream("named"))
            found = rehearsal.drawn(options, chance.stream("drawn")) if named is None else None
            if named is None and found is None:
                raise
            return found if named is None else foresight.truth(named, amount, setting)

    def _fits(self, truth: Any) -> bool:
        """Whether what comes of it stays on the scales of its instruments."""
        readings = self.method.bench.play(self.shape, truth, {})
        for slot, value in readings.items():
            row = reading_definition(self.method, slot, self.options)
            most = row.most(self.options) if row is not None and row.most is not None else None
            if most is not None and max(value if isinstance(value, list) else [value]) > float(most.reading.si):
                return False
            if row is not None and row.instrument == "volume" and not isinstance(value, list) and value < 0:
                return False
        return True

    def _setting(self) -> Setting:
        """The room and its vessels, drawn between the ends that the method's file gives."""
        chance = self.chance.stream("room")
        rows: dict[str, Any] = {}
        for name, (low, high) in self.usual.setting.items():
            (first, symbol), (last, _) = low.split(), high.split()
            rows[name] = f"{chance.between(float(first), float(last)):.4f} {symbol}"
        return Setting.model_validate(rows)

    def matter(self, trial: int) -> Matter:
        """The matter of a trial, as it stands before anything is done."""
        truth, air = self.truth(trial)
        chance = self.chance.stream(f"trial {trial}").stream("matter")
        parts = rehearsal_of(self.method).parts(Jar(self.shape, truth, air, chance))
        kinds = [(row.cause.kind, row.dose, row.cause) for row in self.faults]
        truths = [(kind.fault, dose, cause) for kind, dose, cause in kinds if isinstance(kind, TruthChanged)]
        shifted: dict[str, float] = {}
        scaled: dict[str, float] = {}
        for kind, dose, _ in kinds:
            if isinstance(kind, ReadingShifted):
                for name in self._forms(kind.reading):
                    shifted[name] = shifted.get(name, 0.0) + kind.factor * dose
            elif isinstance(kind, ReadingScaled):
                scaled[kind.reading] = scaled.get(kind.reading, 1.0) * (1 + dose)
        if "papers" in self.sampled:
            # the paper under the solid is one of them, and not their mean
            shifted["collected"] = shifted.get("collected", 0.0) + chance.about(0.0, self.scatter("papers"))
        return Matter(
            self.shape,
            truth,
            self.method.bench.play,
            air,
            parts,
            planted={fault: dose for fault, dose, _ in truths},
            fractions=frozenset(fault for fault, _, cause in truths if cause.unit == "%"),
            shifted=shifted,
            scaled=scaled,
        )

    def _forms(self, reading: str) -> list[str]:
        """The reading as it is taken: a net one by its gross weighing, where the course does so."""
        gross = f"{reading}_gross"
        return [gross] if gross in self.slots else [reading]

    def scatter(self, slot: str) -> float:
        """How far the members of a sampled series differ (standard deviation, SI)."""
        values = self.honest(1).get(slot)
        if not isinstance(values, list) or len(values) < 2:
            return 0.0
        middle = sum(values) / len(values)
        return float((sum((one - middle) ** 2 for one in values) / (len(values) - 1)) ** 0.5)

    def honest(self, trial: int) -> Mapping[str, float | list[float]]:
        """What honest instruments show of the truth of a trial, with nothing wrong."""
        found: Mapping[str, float | list[float]] = self.method.bench.play(self.shape, self.truth(trial)[0], {})
        return found

    def true_results(self, trial: int) -> dict[str, float]:
        """What the matter of a trial really is: the key result first, then whatever else it fixes, in shown units."""
        sheet = self.method.page.build(self.shape)
        values = sheet.evaluate(self.honest(trial))
        key = self.method.key_on(sheet)
        names = dict.fromkeys((key, *self.method.results))
        found = {name: values.get(name) for name in names if name in sheet.by_name}
        return {
            name: float(sheet.by_name[name].shown_unit.from_si(nominal(value)))
            for name, value in found.items()
            if isinstance(value, float) or hasattr(value, "nominal_value")
        }

    # What may be hidden

    def hidden(self, level: int = 2, own_hands: bool = False) -> Laid:
        """The same bench with one fault hidden that shows, chosen by its seed.

        Where somebody works there with `own_hands`, none that hands make: they weigh too early themselves, or do not.
        """
        evidence = Evidence(self.course.chosen(self.schools))
        rows = [(row, self._least_that_shows(row)) for row in self.method.bench.causes]
        open_to = [
            (cause, least)
            for cause, least in rows
            if least is not None
            and can_be_planted(cause, self.options, evidence)
            and cause.code not in self.usual.never_hidden
            and not (own_hands and (cause.early or (cause.passed and not cause.seen)))
        ]
        planted = hide(open_to, self.chance.stream("hidden"), level)
        return self if planted is None else self.with_faults((planted,))

    def with_faults(self, faults: tuple[Planted, ...]) -> Laid:
        """The same bench with these faults planted."""
        real = self.options
        for row in faults:
            if isinstance(row.cause.kind, ReadingScaled) and row.cause.kind.reading not in self.slots:
                real = rehearsal_of(self.method).really(real, row.cause.kind.reading, 1 + row.dose)
        return replace(self, faults=faults, real=real if real is not self.options else None)

    @cached_property
    def _plain(self) -> Run:
        """The first trial as honest instruments show it, for what its uncertainty will be."""
        return self.run_of(self.honest(1))

    def run_of(self, readings: Mapping[str, float | list[float]]) -> Run:
        """A run of one trial with these readings (SI), to be evaluated."""
        entries: dict[str, tuple[Entry, ...]] = {}
        for slot in self.slots:
            tool, value = self.instrument(slot), readings.get(slot)
            if value is None:
                continue
            rows = value if isinstance(value, list) else [value]
            rows = rows if slot in self.sampled else rows[-2:]
            texts = [tool.show(one, 0.0).text for one in rows]
            entries[slot] = tuple(Entry(parse_reading(text, tool.unit.dimension)) for text in texts)
        return Run(self.method, self.options, (TrialRecord("1", entries),), self.half_widths)

    def _least_that_shows(self, cause: Cause) -> float | None:
        """The dose (SI) from which on a cause moves the result by so much that it shows; None where none does."""
        if not cause.usual:
            return None
        laid = self.with_faults((Planted(cause, cause.usual),))
        readings = dict(laid._with_faults())
        sheet = self.method.page.build(self.shape)
        key = self.method.key_on(sheet)
        before, after = sheet.evaluate(self.honest(1)).get(key), sheet.evaluate(readings).get(key)
        trial = evaluate_run(self._plain).trials[0].trial
        spread = trial.uncertainty(key)
        if before is None or after is None or spread <= 0:
            return None
        moved = abs(nominal(after) - nominal(before))
        return SHOWS * spread / moved * cause.usual if moved > 0 else None

    def with_readings_of_faults(self) -> float | None:
        """The key result (in its unit) that honest instruments give with the faults that are planted here."""
        sheet = self.method.page.build(self.shape)
        key = self.method.key_on(sheet)
        found = sheet.evaluate(dict(self._with_faults())).get(key)
        return None if found is None else float(sheet.by_name[key].shown_unit.from_si(nominal(found)))

    def disturbed_slots(self) -> tuple[str, ...]:
        """The readings that the planted faults make others than they would be, by more than their instruments err."""
        honest, faulty = self.honest(1), self._with_faults()
        return tuple(
            slot
            for slot in self.slots
            if slot in honest
            and slot in faulty
            and abs(last(faulty[slot]) - last(honest[slot])) > 2 * self.instrument(slot).half_width
        )

    def _with_faults(self) -> Mapping[str, float | list[float]]:
        """What honest instruments show of the first trial with the faults that are planted here."""
        matter = self.matter(1)
        readings = dict(self.method.bench.play(self.shape, matter.truth, matter.planted))
        for slot, shift in matter.shifted.items():
            readings[slot] = _each(readings[slot], 1.0, shift) if slot in readings else 0.0
        for slot, factor in matter.scaled.items():
            if slot in readings:
                readings[slot] = _each(readings[slot], factor, 0.0)
        return {slot: value for slot, value in readings.items() if slot in self.slots}


def last(value: float | list[float]) -> float:
    """A reading, or the last of a series."""
    return value[-1] if isinstance(value, list) else value


def _each(value: float | list[float], factor: float, shift: float) -> float | list[float]:
    return [one * factor + shift for one in value] if isinstance(value, list) else value * factor + shift


def lay(
    method: Method,
    seed: int,
    options: Options | None = None,
    schools: Mapping[str, str] | None = None,
) -> Laid:
    """A simulated bench of a method; what is not said is as its practice file has it.

    Raises Refusal `not-practised`, `seed`, and `course` with all that does not fit where no schools fit the options.
    """
    usual = rehearsal_of(method).usual
    chosen = options if options is not None else method.options.model_validate(usual.options)
    course = procedure_named(method.name, None)
    assert course is not None  # every method ships one
    asked = schools if schools is not None else _fitting(method, chosen, course, usual)
    laid = Laid(method, chosen, course, dict(asked), check_seed(seed))
    faults = course_faults(method, chosen, laid.slots)
    if faults:
        raise Refusal(*faults)
    return laid


HONEST = 1 / 6
"""In so many of the benches where something may be hidden nothing is: that is an answer too."""
NOTHING_HIDDEN, HIDES_LITTLE = 0, 3
"""The levels: nothing hidden; what leaves a trace; anything; what leaves none."""


def set_up(method: Method, seed: int, level: int, options: Options | None = None) -> Laid:
    """A bench to practise at; what is wrong with it, if anything, follows from seed and level.

    Raises Refusal as `lay`, and `level`.
    """
    if not NOTHING_HIDDEN <= level <= HIDES_LITTLE:
        raise refuse("level", "A level is 0 (nothing hidden), 1, 2 or 3.", "level")
    laid = lay(method, seed, options)
    if level == NOTHING_HIDDEN or laid.chance.stream("honest").happens(HONEST):
        return laid
    return laid.hidden(level, own_hands=True)


def _fitting(method: Method, options: Options, course: Procedure, usual: Usual) -> Mapping[str, str]:
    """The schools of the practice file where they fit the options, else those nearest to them that do."""
    needed, facts = usable_readings(method, options), method.facts(options)

    def fits(schools: Mapping[str, str]) -> bool:
        return not course_faults(method, options, slots_of(course, schools, needed, facts))

    known = course.chosen(usual.schools)
    rows = [
        dict(zip(known, answers, strict=True)) for answers in product(*(course.schools[name].choices for name in known))
    ]
    rows.sort(key=lambda row: sum(row[name] != known[name] for name in known))
    found = next((row for row in rows if fits(row)), known)
    return {name: answer for name, answer in found.items() if answer != course.schools[name].default}
