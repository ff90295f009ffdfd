"""What methods with a gas tube share, no method itself: its scale, the pressures in it, and what the gas comes to.

An inverted burette counts down from its last mark, and its dead volume is added. The gas is wet and stands above a
column of water: barometer, less vapour, less column, leaves the dry gas. A tube that holds gas already starts with its
own.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Annotated

from pydantic import Field, model_validator

from claykettle.core.chemistry.conditions import STANDARD_GRAVITY, vapour_pressure_pa
from claykettle.core.chemistry.conditions import water_density as density_of_water
from claykettle.core.method import (
    GivenAcceleration,
    GivenVolume,
    Options,
    Trial,
    field_error,
    in_words,
    known,
)
from claykettle.core.methods.parts.room import RoomOptions, declare_gas_law, declare_pressure
from claykettle.core.pictures import gas
from claykettle.core.quantity import Number, Quantity, figures, nominal, parse_half_width, parse_reading, short
from claykettle.core.sheet import Guard, Page, Pick, Shape

GRAVITY = Quantity(parse_reading(f"{STANDARD_GRAVITY} m/s2", "acceleration"))
NO_CORRECTION = Quantity(parse_reading("0 mL", "volume"))


TAKEN_AS_EQUAL_MM = 50
"""So far apart levels may have stood that nobody looked at (common practice: a hand's breadth)."""
LEVELS_EQUAL = Quantity(parse_reading("0 mm", "length"), parse_half_width(f"{TAKEN_AS_EQUAL_MM} mm", "length"))


def _as_at_the_end(_: object) -> str:
    return "it is taken as it was at the end."


LOWER = "the water inside stands lower than outside, as the drawing now shows it"


class Tube(Options):
    """The gas tube: read from zero, or an inverted burette read down from its mark."""

    reading: Annotated[str, Field(pattern="^(direct|inverted_burette)$")] = Field(
        default="direct",
        title="How the tube counts",
        description="Which end bears the zero of the scale.",
        json_schema_extra=in_words({"direct": "zero at the closed end", "inverted_burette": "burette turned over"})
        | {"first": False, "told_by": "volume.direction", "schools": {"inverted_burette": {"tube": "burette"}}},
    )
    mark: GivenVolume | None = Field(
        default=None,
        title="Last mark of the tube",
        description="Such as 50 mL; an inverted burette needs it.",
        json_schema_extra={"told_by": "volume.capacity"},
    )
    dead_volume: GivenVolume | None = Field(
        default=None,
        title="Dead volume of the burette",
        description="Beyond its last mark: used only where it was not measured at the bench.",
        json_schema_extra={"only_with": {"tube.reading": "inverted_burette"}},
    )

    @model_validator(mode="after")
    def _burette_has_a_mark(self) -> Tube:
        if self.reading == "inverted_burette" and self.mark is None:
            text = "An inverted burette is read from its last mark down: give it, such as 50 mL."
            raise field_error("missing-field", text, "mark")
        return self


class TubeOptions(RoomOptions):
    """How the tube stands, counts and is read."""

    tube: Tube = Field(default_factory=Tube, json_schema_extra={"first": True, "order": 1})
    meniscus_correction: GivenVolume | None = Field(
        default=None, title="Meniscus correction", description="Taken off every gas volume that was read."
    )
    gravity: GivenAcceleration | None = Field(
        default=None, title="Gravity", description="At the place; standard gravity where none is given."
    )


def taken(name: str) -> Guard:
    """A guard that holds where this optional reading was taken."""
    return lambda shape: name in shape.taken


def not_taken(name: str) -> Guard:
    """A guard that holds where it was not."""
    return lambda shape: name not in shape.taken


def is_burette(options: TubeOptions) -> bool:
    """Whether the tube is a burette turned over."""
    return options.tube.reading == "inverted_burette"


def counted(name: str) -> Guard:
    """A guard that holds where this optional reading was taken, or was to be and something stands in for it."""
    return lambda shape: name in shape.taken or name in shape.missed


def _own_dead_volume(shape: Shape) -> bool:
    """Whether the dead volume that the burette is known to have stands in for one that was not measured."""
    return inverted(shape) and "dead_volume" in shape.missed and shape.options.tube.dead_volume is not None


def dead_volume_read(shape: Shape) -> bool:
    """Whether it is read at the bench."""
    return inverted(shape) and not _own_dead_volume(shape)


def _said_dead_volume(options: TubeOptions) -> str:
    own = options.tube.dead_volume
    return "" if own is None else f"the burette's own, {own.reading.shown}, stands in for it."


def inverted(shape: Shape) -> bool:
    """The same as a guard."""
    return is_burette(shape.options)


def direct(shape: Shape) -> bool:
    """Its opposite."""
    return not inverted(shape)


def both(*guards: Guard) -> Guard:
    """A guard that holds where all of these hold."""
    return lambda shape: all(guard(shape) for guard in guards)


def column(shape: Shape) -> bool:
    """Whether a column of water was measured, at the end or at the start."""
    return bool({"level_difference", "level_difference_start"} & shape.taken) or "level_difference" in shape.missed


def equal_levels(shape: Shape) -> bool:
    """Its opposite: the levels were made equal."""
    return not column(shape)


started = taken("volume_start")
_END, _START = "gas in the tube at the end", "gas in the tube at the start"
_REDUCED_END = f"(pressure of the dry gas) × ({_END}) / (water temperature in kelvin)"
_REDUCED_START = f"(dry gas at the start) × ({_START}) / (start temperature in kelvin)"


def declare_readings(page: Page) -> None:
    """Put what is read at the tube, in the water and in the room on the page."""
    page.reading(
        "volume_start",
        "tube at the start",
        "mL",
        "volume",
        optional=True,
        continues="volume_end",
        most=lambda o: o.tube.mark,
        instead=lambda _: "the tube is taken as full of water at the start.",
    )
    page.reading(
        "volume_end",
        "tube at the end",
        "mL",
        "volume",
        most=lambda o: o.tube.mark,
        late="While the tube stands it can still be read.",
    )
    page.reading(
        "dead_volume",
        "dead volume",
        "mL",
        "volume",
        when=dead_volume_read,
        instead=_said_dead_volume,
        late="Ask for the burette's own, and give it among the options.",
    )
    page.given("dead_volume", "dead volume", "mL", lambda o: known(o.tube.dead_volume), _own_dead_volume)
    page.reading(
        "temperature",
        "water temperature",
        "degC",
        "thermometer",
        continues="temperature",
        late="While the water stands there it can still be read.",
    )
    page.reading(
        "temperature_start",
        "water temperature at the start",
        "degC",
        "thermometer",
        optional=True,
        continues="temperature",
        instead=_as_at_the_end,
    )
    declare_pressure(page)
    page.reading(
        "level_difference",
        "water inside above outside",
        "mm",
        "ruler",
        optional=True,
        minus=LOWER,
        instead=lambda _: f"both levels are taken as equal, within {TAKEN_AS_EQUAL_MM} mm.",
    )
    page.reading(
        "level_difference_start",
        "water inside above outside at the start",
        "mm",
        "ruler",
        optional=True,
        continues="level_difference",
        minus=LOWER,
        instead=_as_at_the_end,
    )


def declare_given(page: Page) -> None:
    """Put what the options say of the tube on the page."""
    page.given("mark", "last mark", "mL", lambda o: known(o.tube.mark), inverted)
    page.given("meniscus_correction", "meniscus correction", "mL", lambda o: o.meniscus_correction or NO_CORRECTION)
    page.given(
        "level_difference",
        "water inside above outside",
        "mm",
        lambda _: LEVELS_EQUAL,
        lambda shape: "level_difference" in shape.missed,
    )
    page.given("gravity", "gravity", "m/s2", lambda o: o.gravity or GRAVITY, column)


def _direct_rule(end: str) -> Callable[[TubeOptions], str]:
    return lambda options: f"(tube at the {end}){_correction(options)}"


def _inverted_rule(end: str) -> Callable[[TubeOptions], str]:
    return lambda options: f"((last mark) − (tube at the {end})) + (dead volume){_correction(options)}"


def _correction(options: TubeOptions) -> str:
    return "" if options.meniscus_correction is None else " − (meniscus correction)"


def _start_rules(options: TubeOptions) -> dict[str, str]:
    return {"read": _direct_rule("start")(options), "empty": "(tube at the start)"}


def declare_volumes(page: Page) -> None:
    """Put the volumes on the page: at the end, at the start where the tube held gas, and between."""

    @page.line(_END, "mL", _direct_rule("end"), when=direct, positive=True, name="end_volume")
    def end_direct(volume_end: Number, meniscus_correction: Number) -> Number:
        return volume_end - meniscus_correction

    @page.line(_END, "mL", _inverted_rule("end"), when=inverted, positive=True, name="end_volume")
    def end_inverted(mark: Number, volume_end: Number, dead_volume: Number, meniscus_correction: Number) -> Number:
        return (mark - volume_end) + dead_volume - meniscus_correction

    @page.choice(_START, "mL", _start_rules, when=both(started, direct), name="start_volume")
    def start_direct(volume_start: Number, meniscus_correction: Number) -> Pick:
        # a start of zero was not read: no meniscus stands there
        if nominal(volume_start) == 0:
            return Pick("empty", volume_start)
        return Pick("read", volume_start - meniscus_correction)

    @page.line(_START, "mL", _inverted_rule("start"), when=both(started, inverted), name="start_volume")
    def start_inverted(mark: Number, volume_start: Number, dead_volume: Number, meniscus_correction: Number) -> Number:
        return (mark - volume_start) + dead_volume - meniscus_correction

    @page.line("gas volume", "mL", f"({_END}) − ({_START})", when=started, positive=True, name="gas_volume")
    def volume_between(end_volume: Number, start_volume: Number) -> Number:
        return end_volume - start_volume

    @page.line("gas volume", "mL", f"({_END})", when=not_taken("volume_start"), positive=True, name="gas_volume")
    def volume_from_zero(end_volume: Number) -> Number:
        return end_volume


def declare_dry_gas(page: Page) -> None:
    """Put the pressures on the page, and P × V / T of what was collected."""
    _declare_end(page)
    _declare_start(page)
    _declare_reduced(page)


def _declare_end(page: Page) -> None:
    @page.table("vapour pressure of water", "kPa", "IAPWS, at the water temperature")
    def vapour_pressure(temperature: Number) -> Number:
        return vapour_pressure_pa(temperature)

    @page.table("density of the water", "g/mL", "water at its temperature, Tanaka 2001", when=column)
    def water_density(temperature: Number) -> Number:
        return density_of_water(temperature)

    @page.line(
        "pressure of the column",
        "kPa",
        "(density of the water) × (gravity) × (water inside above outside)",
        when=counted("level_difference"),
    )
    def head_pressure(water_density: Number, gravity: Number, level_difference: Number) -> Number:
        return water_density * gravity * level_difference

    @page.line(
        "pressure of the dry gas",
        "kPa",
        "(pressure at the bench) − (vapour pressure of water) − (pressure of the column)",
        when=counted("level_difference"),
        positive=True,
        name="dry_gas_pressure",
    )
    def dry_below_column(station_pressure: Number, vapour_pressure: Number, head_pressure: Number) -> Number:
        return station_pressure - vapour_pressure - head_pressure

    @page.line(
        "pressure of the dry gas",
        "kPa",
        "(pressure at the bench) − (vapour pressure of water)",
        when=lambda shape: not counted("level_difference")(shape),
        positive=True,
        name="dry_gas_pressure",
    )
    def dry_at_equal_levels(station_pressure: Number, vapour_pressure: Number) -> Number:
        return station_pressure - vapour_pressure

    declare_gas_law(page, "temperature", "water temperature")


def _declare_start(page: Page) -> None:
    cold_start = both(started, taken("temperature_start"))
    same_start = both(started, not_taken("temperature_start"))

    @page.line(
        "start temperature in kelvin", "K", "(water temperature at the start)", when=cold_start, name="start_kelvin"
    )
    def kelvin_at_start(temperature_start: Number) -> Number:
        return temperature_start

    @page.line("start temperature in kelvin", "K", "(water temperature)", when=same_start, name="start_kelvin")
    def kelvin_as_at_end(temperature: Number) -> Number:
        return temperature

    @page.table("vapour pressure at the start", "kPa", "IAPWS, at the start temperature", when=started)
    def start_vapour(start_kelvin: Number) -> Number:
        return vapour_pressure_pa(start_kelvin)

    own_column = both(started, taken("level_difference_start"))
    same_column = both(started, not_taken("level_difference_start"), counted("level_difference"))
    of_the_start = "(pressure at the bench) − (vapour pressure at the start)"

    @page.line(
        "pressure of the column at the start",
        "kPa",
        "(density of the water) × (gravity) × (water inside above outside at the start)",
        when=own_column,
    )
    def start_head(water_density: Number, gravity: Number, level_difference_start: Number) -> Number:
        return water_density * gravity * level_difference_start

    def start_below_column(station_pressure: Number, start_vapour: Number, head: Number) -> Number:
        return station_pressure - start_vapour - head

    for when, name, words in (
        (own_column, "start_head", "(pressure of the column at the start)"),
        (same_column, "head_pressure", "(pressure of the column)"),
    ):
        page.line(
            "dry gas at the start",
            "kPa",
            f"{of_the_start} − {words}",
            when=when,
            name="start_pressure",
            takes={"head": name},
        )(start_below_column)

    @page.line(
        "dry gas at the start",
        "kPa",
        of_the_start,
        when=both(started, equal_levels),
        name="start_pressure",
    )
    def start_at_equal_levels(station_pressure: Number, start_vapour: Number) -> Number:
        return station_pressure - start_vapour


def _declare_reduced(page: Page) -> None:
    @page.line(
        "P × V / T of the gas",
        "kPa mL/K",
        f"{_REDUCED_END} − {_REDUCED_START}",
        when=started,
        positive=True,
        name="reduced",
    )
    def reduced_between(
        dry_gas_pressure: Number,
        end_volume: Number,
        kelvin: Number,
        start_pressure: Number,
        start_volume: Number,
        start_kelvin: Number,
    ) -> Number:
        return dry_gas_pressure * end_volume / kelvin - start_pressure * start_volume / start_kelvin

    @page.line(
        "P × V / T of the gas", "kPa mL/K", _REDUCED_END, when=not_taken("volume_start"), positive=True, name="reduced"
    )
    def reduced_from_zero(dry_gas_pressure: Number, end_volume: Number, kelvin: Number) -> Number:
        return dry_gas_pressure * end_volume / kelvin


COLUMNS = {"head_pressure": "level_difference", "start_head": "level_difference_start"}
"""The lines with the pressure of a column of water, and the reading of its height."""


@dataclass(frozen=True)
class TubeSetting:
    """How the tube stands beside what it collects: volumes in m³, levels in m, K; None for what was not read."""

    start: float | None
    start_kelvin: float | None
    level: float | None
    level_start: float | None
    dead: float | None


def as_read(setting: TubeSetting, shape: Shape) -> TubeSetting:
    """The setting without what this form does not read: the levels are equal then; at the start as at the end."""
    taken = shape.taken
    level = setting.level if "level_difference" in taken else 0.0 if "level_difference" in shape.missed else None
    return replace(
        setting,
        start_kelvin=setting.start_kelvin if "temperature_start" in taken else None,
        level=level,
        level_start=setting.level_start if "level_difference_start" in taken else level,
    )


def on_scale(options: TubeOptions, volume: float, dead: float | None) -> float:
    """What the tube reads where it holds this much gas."""
    correction = (options.meniscus_correction or NO_CORRECTION).si
    if options.tube.reading == "direct":
        return volume + correction if volume else volume
    return known(options.tube.mark).si + known(dead) - correction - volume


def _no_vapour(temperature: Number) -> Number:
    return 0.0 * temperature


def _no_start_vapour(start_kelvin: Number) -> Number:
    return 0.0 * start_kelvin


def _no_column(water_density: Number, gravity: Number, level_difference: Number) -> Number:
    return 0.0 * water_density * gravity * level_difference


def _nostart_column(water_density: Number, gravity: Number, level_difference_start: Number) -> Number:
    return 0.0 * water_density * gravity * level_difference_start


def _end_subtracted(mark: Number, volume_end: Number, dead_volume: Number, meniscus_correction: Number) -> Number:
    return (mark - volume_end) - dead_volume - meniscus_correction


def _start_subtracted(mark: Number, volume_start: Number, dead_volume: Number, meniscus_correction: Number) -> Number:
    return (mark - volume_start) - dead_volume - meniscus_correction


WORDS = {
    "no_vapour": _no_vapour,
    "no_start_vapour": _no_start_vapour,
    "no_column": _no_column,
    "no_start_column": _nostart_column,
    "end_subtracted": _end_subtracted,
    "start_subtracted": _start_subtracted,
    "is_burette": is_burette,
}
"""What tube.toml calls by name."""


# The picture

PLACES = 2
"""After the mark of a volume in mL: a burette is read to a hundredth."""


def drawn(trial: Trial, counts_down: bool) -> gas.GasPicture:
    """The picture of a trial whose page names its lines as the gas methods do."""
    end, level = _shown(trial, "end_volume", 1e6), _shown(trial, "level_difference", 1e3)
    start = _shown(trial, "start_volume", 1e6)
    held = f"{(start or 0.0) if end is None else end:.{PLACES}f} mL"
    name = "Burette turned over" if counts_down else "Gas tube"
    told = trial.options.tube.mark
    mark = _shown(trial, "mark", 1e6) if told is None else 1e6 * float(told.si)
    tube = gas.Tube(
        counts_down,
        mark,
        _shown(trial, "dead_volume", 1e6),
        start,
        end,
        level,
        _shown(trial, "level_difference_start", 1e3),
        held if end or start else "",
        _said(name, held, level),
        {"volume_end": "end", "level_difference": "level"},
        name,
        PLACES,
    )
    return gas.GasPicture(tube, _fall(trial))


def _said(name: str, held: str, level: float | None) -> str:
    if level is None:
        return f"{name}, {held} of gas"
    side = "below" if level < 0 else "above"
    return f"{name}, {held} of gas, water inside {short(abs(level))} mm {side} that outside"


def _shown(trial: Trial, name: str, factor: float) -> float | None:
    value = trial.value(name)
    return None if value is None or value != value else factor * value


def _fall(trial: Trial) -> tuple[gas.Fall, ...]:
    station = _shown(trial, "station_pressure", 1e-3)
    if station is None:
        return ()
    steps = [gas.Fall("pressure at the bench", station, 0.0, f"{figures(station, 5)} kPa")]
    at = station
    for name, label in (("vapour_pressure", "less vapour"), ("head_pressure", "less column")):
        part = _shown(trial, name, 1e-3)
        if part is None:
            continue
        steps.append(gas.Fall(label, max(at, at - part), min(at, at - part), f"{figures(part, 3)} kPa"))
        at -= part
    dry = _shown(trial, "dry_gas_pressure", 1e-3)
    if dry is not None:
        steps.append(gas.Fall("dry gas", dry, 0.0, f"{figures(dry, 5)} kPa"))
    return tuple(steps)
