"""Is this weighing believable, looked at before it is kept?

Each check knows what the readings before it, the plan and the balance let expect, and asks only where
the figure lies clearly outside. Where a swap of two neighbouring digits would bring it back in, the
question says so and offers the figure. The limits are common practice; how often they ask wrongly and
what they catch is measured in tests/core/test_guards.py.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import dataclass
from decimal import Decimal

from claykettle.core.errors import Refusal
from claykettle.core.judgement.digits import swapped
from claykettle.core.judgement.question import Question
from claykettle.core.judgement.room import question_of_room
from claykettle.core.judgement.window import limits
from claykettle.core.method import Expectation, Trial, Window
from claykettle.core.quantity import Reading, parse_reading, short
from claykettle.core.sheet import ReadingDef

GRAM = Decimal("0.001")
VESSEL = (2 * GRAM, 400 * GRAM)
LID = (4 * GRAM, 60 * GRAM)
FAR = Decimal("0.25")
_WORDS = ("no decimals", "one decimal", "two decimals", "three decimals", "four decimals", "five decimals")


@dataclass(frozen=True)
class Weighing:
    """A reading about to be kept, and what is known before it. `half_width` in SI; `lid` where one may be weighed."""

    definition: ReadingDef
    reading: Reading
    before: Trial
    half_width: Decimal | None = None
    window: Window | None = None
    lid: bool = False
    expected: Expectation | None = None

    @property
    def slack(self) -> float:
        """So far beyond an expectation a figure may lie for the instruments' sake (SI)."""
        return 4 * float(self.half_width if self.half_width is not None else self.reading.last_digit_si)


def question(weighing: Weighing) -> Question | None:
    """The first thing that is doubtful about a weighing, None for a believable one."""
    for check in CHECKS:
        for found in check(weighing):
            return found
    return None


Check = Callable[[Weighing], Iterator[Question]]


def _decimals(weighing: Weighing) -> Iterator[Question]:
    """Another number of decimals than the balance shows."""
    half_width, reading = weighing.half_width, weighing.reading
    if half_width is None or weighing.definition.instrument != "balance":
        return
    shown = -(half_width / GRAM).adjusted()
    typed = -(reading.last_digit_si / GRAM).adjusted()
    if typed != shown and 0 <= shown < len(_WORDS):
        said = f"The balance shows {_WORDS[shown]}, but {reading.shown} has {_named(typed)}."
        meant = _without_mark(weighing, shown)
        if meant is None:
            yield Question("digits", f"{said} Is it typed in full?")
        else:
            text = f"{said} Was the decimal mark left out? {meant.digits} would fit."
            yield Question("digits", text, meant.digits)


def _without_mark(weighing: Weighing, decimals: int) -> Reading | None:
    """What a figure without a decimal mark likely was, None where that would fit no better."""
    reading = weighing.reading
    digits = reading.digits
    if decimals == 0 or not digits.isdigit() or len(digits) <= decimals:
        return None
    meant = with_number(reading, Decimal(f"{digits[:-decimals]}.{digits[-decimals:]}"))
    if weighing.expected is not None:
        return meant if weighing.expected.holds(float(meant.si), weighing.slack) else None
    definition = weighing.definition
    if definition.pan != "empty":
        return None
    low, high = (parse_reading(text, "mass").si for text in definition.usual) if definition.stand else VESSEL
    return meant if low <= meant.si <= high else None


def _named(decimals: int) -> str:
    return _WORDS[decimals] if 0 <= decimals < len(_WORDS) else f"{decimals}"


def _barometer(weighing: Weighing) -> Iterator[Question]:
    """A figure at the bench that no weather brings where the laboratory lies, such as one reduced to sea level."""
    options = weighing.before.options
    if weighing.definition.instrument != "barometer":
        return
    elevation = getattr(options, "elevation", None)
    slot = "sea_level" if options.barometer == "sea_level" else "barometer"
    found = question_of_room(slot, weighing.reading, None if elevation is None else elevation.si)
    if found is not None:
        yield found


def _minus(weighing: Weighing) -> Iterator[Question]:
    """A minus sign before a reading that may have one: what it says is asked, since it is easily typed."""
    reading, said = weighing.reading, weighing.definition.minus
    if not said or reading.number >= 0:
        return
    text = f"{reading.shown}: the minus sign says that {said}. Is it so?"
    yield Question("wrong-sign", text, reading.digits.lstrip("-−"))


def _vessel(weighing: Weighing) -> Iterator[Question]:
    """An empty vessel, paper or dish lighter or heavier than any on a bench."""
    definition = weighing.definition
    if definition.pan != "empty":
        return
    low, high = (parse_reading(text, "mass").si for text in definition.usual) if definition.stand else VESSEL
    if not low <= weighing.reading.si <= high:
        what = definition.label if definition.stand else "vessel"
        yield Question("magnitude", f"{weighing.reading.shown} is an unusual {what}. Is the decimal mark in its place?")


def _one_of_several(weighing: Weighing) -> Iterator[Question]:
    """One of several alike, such as filter papers of one box, far off the others; crystals differ by nature."""
    definition = weighing.definition
    others = [row.si for row in weighing.before.series(definition.name)]
    if not definition.sampled or definition.instrument != "balance" or not others:
        return
    mean = sum(others, Decimal(0)) / len(others)
    if abs(weighing.reading.si - mean) <= FAR * mean:
        return
    text = f"{weighing.reading.shown} lies far off the others, {_grams(mean)} on average."
    fits = sorted(swapped(weighing.reading), key=lambda row: abs(row.si - mean))[:1]
    if fits and abs(fits[0].si - mean) <= FAR * mean:
        yield Question("transposition", f"{text} Digits swapped? {fits[0].digits} would fit.", fits[0].digits)
    else:
        yield Question("magnitude", f"{text} Is the decimal mark in its place?")


def _sample(weighing: Weighing) -> Iterator[Question]:
    """A sample far from its plan, far from any sample, or off by a whole lid."""
    vessel = _empty(weighing)
    sample = _sample_mass(weighing.definition, weighing.reading, vessel)
    if sample is None or sample <= 0:
        return
    if weighing.window is not None:
        low, high, words = limits(weighing.window)
        yield from _against_plan(weighing, vessel, sample, (low, high), words)
    if weighing.lid and LID[0] <= sample <= LID[1] and not _is_planned(weighing, sample):
        text = f"{_grams(sample)} of sample: was the lid weighed once with and once without?"
        yield Question("lid-mismatch", text)
    lightest, heaviest = (parse_reading(text, "mass").si for text in weighing.definition.usual)
    if not lightest <= sample <= heaviest:
        yield Question("magnitude", f"That makes {_grams(sample)} of sample. Is the decimal mark in its place?")


def _empty(weighing: Weighing) -> Reading | None:
    """What stood on the pan before this was put into it, None while it was not weighed."""
    stand = weighing.definition.stand
    rows = (name for name, row in weighing.before.sheet.readings.items() if row.pan == "empty" and row.stand == stand)
    return next((found for name in rows if (found := weighing.before.typed(name)) is not None), None)


def _sample_mass(definition: ReadingDef, reading: Reading, vessel: Reading | None) -> Decimal | None:
    if definition.pan == "loaded":
        return reading.si - vessel.si if vessel is not None else None
    return reading.si if definition.pan == "added" and definition.net else None


def _is_planned(weighing: Weighing, sample: Decimal) -> bool:
    if weighing.window is None:
        return False
    low, high, _ = limits(weighing.window)
    return (low or Decimal(0)) * (1 - FAR) <= sample <= (high or sample) * (1 + FAR)


def _against_plan(
    weighing: Weighing,
    vessel: Reading | None,
    sample: Decimal,
    window: tuple[Decimal | None, Decimal | None],
    words: str,
) -> Iterator[Question]:
    low, high = window

    def fits(mass: Decimal) -> bool:
        return (low is None or mass >= low) and (high is None or mass <= high)

    if (low is None or sample >= low * (1 - FAR)) and (high is None or sample <= high * (1 + FAR)):
        return
    for other in swapped(weighing.reading):
        mass = _sample_mass(weighing.definition, other, vessel)
        if mass is not None and fits(mass):
            text = (
                f"{_grams(sample)} of sample, planned {words}. Digits swapped? "
                f"{other.digits} would make it {_grams(mass)}."
            )
            yield Question("transposition", text, other.digits)
    if weighing.definition.pan == "loaded" and vessel is not None:
        for other in swapped(vessel):
            if fits(weighing.reading.si - other.si):
                text = (
                    f"{_grams(sample)} of sample, planned {words}. Were digits of the empty vessel swapped? "
                    f"{other.digits} in place of {vessel.digits} would fit; correct that in the log."
                )
                yield Question("transposition", text)
    if (low is not None and sample < low / 3) or (high is not None and sample > high * 3):
        yield Question("magnitude", f"{_grams(sample)} of sample, planned {words}. Is it the right line?")


def _series(weighing: Weighing) -> Iterator[Question]:
    """A weighing after heating that goes the wrong way, or further than the one before it did; or off by a lid."""
    if weighing.definition.pan != "heated":
        return
    reading, earlier = weighing.reading, _earlier(weighing)
    foreseen = weighing.expected is not None and weighing.expected.holds(float(reading.si), weighing.slack)
    if earlier and weighing.lid and not foreseen and LID[0] <= abs(reading.si - earlier[-1].si) <= LID[1]:
        text = f"{_grams(reading.si - earlier[-1].si)} from one weighing to the next: was the lid on the pan only once?"
        yield Question("lid-mismatch", text)
    if len(earlier) < 2:
        return
    course = _Course.of(weighing, earlier)
    way = course.way(reading.si - course.previous.si)
    if way < -course.slack and weighing.before.series(weighing.definition.name):
        yield from course.wrong_way(reading)
    elif way > course.drop + course.noise:
        yield from course.too_far(reading)


@dataclass(frozen=True)
class _Course:
    """How a series has gone so far: falling while it dries or decomposes, rising while it combines."""

    previous: Reading
    drop: Decimal
    noise: Decimal
    rises: bool
    round: str

    @classmethod
    def of(cls, weighing: Weighing, earlier: list[Reading]) -> _Course:
        """The course of the weighings before this one."""
        noise = 4 * (weighing.half_width or earlier[-1].last_digit_si)
        return cls(
            earlier[-1],
            abs(earlier[-2].si - earlier[-1].si),
            noise,
            weighing.definition.rises,
            weighing.definition.round,
        )

    def way(self, change: Decimal) -> Decimal:
        """A change counted in the direction in which the series goes."""
        return change if self.rises else -change

    @property
    def slack(self) -> Decimal:
        """How far back a weighing may go unasked: an excess that burns off lets a rising series fall a little."""
        return self.noise + self.drop / 5 if self.rises else self.noise

    def fits(self, change: Decimal, most: Decimal) -> bool:
        """Whether a change goes the right way and no further than `most`."""
        return -self.noise <= self.way(change) <= most

    def wrong_way(self, reading: Reading) -> Iterator[Question]:
        """What two swapped digits, here or in the weighing before, would explain."""
        change = reading.si - self.previous.si
        said = f"{_grams(change)} {'lost while it should gain' if self.rises else 'gained while drying'}."
        for other in swapped(reading):
            if self.fits(other.si - self.previous.si, self.drop + self.noise):
                yield Question("transposition", f"{said} Digits swapped? {other.digits} would fit.", other.digits)
        for other in swapped(self.previous) if not self.rises else ():
            if self.fits(reading.si - other.si, self.drop + self.noise + abs(change)):
                text = (
                    f"{said} Were digits of the weighing before swapped? {other.digits} in place of "
                    f"{self.previous.digits} would fit; correct that in the log."
                )
                yield Question("transposition", text)

    def too_far(self, reading: Reading) -> Iterator[Question]:
        """A change beyond the one before it, where a swap explains it."""
        change = reading.si - self.previous.si
        for other in swapped(reading):
            if self.fits(other.si - self.previous.si, self.drop + self.noise):
                text = (
                    f"{_grams(change)} {'gained' if self.rises else 'lost'}, more than the {_grams(self.drop)} of the "
                    f"{self.round} before. Digits swapped? {other.digits} would fit."
                )
                yield Question("transposition", text, other.digits)


def _earlier(weighing: Weighing) -> list[Reading]:
    """The loaded vessel and the weighings after heating so far."""
    before = weighing.before
    stand = weighing.definition.stand
    rows = (name for name, row in before.sheet.readings.items() if row.pan == "loaded" and row.stand == stand)
    loaded = [before.typed(name) for name in rows]
    return [row for row in loaded if row is not None] + list(before.series(weighing.definition.name))


def _unexpected(weighing: Weighing) -> Iterator[Question]:
    """Outside what the options and the readings so far let expect; with the figure that a common slip would mend."""
    row, reading = weighing.expected, weighing.reading
    if row is None or row.holds(float(reading.si), weighing.slack):
        return
    if weighing.definition.continues and weighing.definition.dimension == "volume" and reading.si <= FRESH:
        return  # the tube was filled anew
    above = float(reading.si) > row.high
    end = f"{short(reading.unit.from_si(row.high if above else row.low), 5)} {reading.unit.shown}"
    side = f"above {end}, the most" if above else f"below {end}, the least"
    said = f"{reading.shown} lies {side} to be expected here: {row.because}."
    for meant, words in _meant(weighing):
        if row.holds(float(meant.si), weighing.slack):
            yield Question(UNEXPECTED, f"{said} {words} {meant.digits} would fit.", meant.digits)
    yield Question(UNEXPECTED, f"{said} Is it the right line, and the right unit?")


UNEXPECTED = "unexpected"
"""The code of a question that knows no more than that a figure lies outside: any other says it better."""
FRESH = Decimal("1e-6")
"""m³: a tube that begins with less was filled anew."""


def _meant(weighing: Weighing) -> Iterator[tuple[Reading, str]]:
    """What may have been read or typed in its place, and what is asked of it."""
    reading = weighing.reading
    for other in swapped(reading):
        yield other, "Digits swapped?"
    most = weighing.before.most(weighing.definition.name)
    if weighing.definition.dimension == "volume" and most is not None and reading.si <= most.si:
        turned = from_si(reading, most.si - reading.si)
        yield turned, "Was the scale read upside down?"
    for step in (1, -1):
        with suppress(Refusal):  # a figure beyond belief is not what was meant
            yield with_number(reading, reading.number.scaleb(step)), "Is the decimal mark in its place?"


def from_si(reading: Reading, value: Decimal) -> Reading:
    """An SI figure in the unit and with the decimals of a reading."""
    places = Decimal(1).scaleb(-reading.decimals)
    return with_number(reading, ((value - reading.unit.offset) / reading.unit.factor).quantize(places))


def with_number(reading: Reading, number: Decimal) -> Reading:
    """Another figure in the unit of a reading."""
    return parse_reading(f"{number:f} {reading.unit.symbol}", reading.unit.dimension)


def _ruler(weighing: Weighing) -> Iterator[Question]:
    """A column of some millimetres with a decimal: it was likely read in centimetres."""
    reading = weighing.reading
    if not weighing.definition.name.startswith("level_difference") or reading.unit.symbol != "mm":
        return
    if 0 < abs(reading.number) < TEN and "." in reading.digits.replace(",", "."):
        meant = with_number(reading, reading.number.scaleb(1))
        text = f"{reading.shown}: no ruler shows tenths of a millimetre. Were centimetres read? {meant.shown} then."
        yield Question("suspect-unit", text, meant.digits)


TEN = 10
"""mm: a column shorter than this with a decimal was likely read in centimetres."""
CHECKS: tuple[Check, ...] = (
    _decimals,
    _vessel,
    _one_of_several,
    _sample,
    _series,
    _barometer,
    _minus,
    _ruler,
    _unexpected,
)


def _grams(mass: Decimal) -> str:
    grams = mass / GRAM
    return f"{abs(grams).quantize(Decimal('0.0001')).normalize():f} g"
