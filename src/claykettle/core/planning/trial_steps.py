"""How long the steps of a trial take: as its procedure says, else as such steps take as a rule. Minutes.

The usual times are common practice in teaching laboratories; a procedure's step overrules them (`takes`, `at`,
`attended`).
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

from claykettle.core.method import Method, Options
from claykettle.core.planning.timetable import PlannedStep, Takes, spread
from claykettle.core.run import PlannedStep as Laid
from claykettle.core.run import (
    Procedure,
    Progress,
    Repeat,
    Row,
    laid_out,
    reading_definition,
    usable_readings,
    worded,
)

BALANCES = ("balance", "coarse_balance")
"""Instruments of which a room has few, so that one waits for them."""
WEIGHING, READING, HANDS = Takes(1, 2, 4), Takes(0.5, 1, 3), Takes(1, 2, 5)
"""A weighing with its way there and back, any other reading, a step of the hands without a timer."""
QUICKER, SLOWER = 0.8, 1.5
"""So much shorter and longer than its timer somebody is at a step that wants looking at, such as heating; what cools or
dries never takes less than its time.
"""
ROUNDS = 2
"""As a rule a series agrees after so many rounds: the fewest that can."""


LEAST = 5
"""Of fewer times than these nothing is learnt."""


def learnt_from(durations: Mapping[str, Sequence[float]]) -> dict[str, Takes]:
    """What steps take by how long they took: the median, between the tenth and the ninetieth percentile."""
    found = {name: spread(rows) for name, rows in durations.items() if len(rows) >= LEAST}
    return {name: Takes(round(row.p10, 1), round(row.median, 1), round(row.p90, 1)) for name, row in found.items()}


def steps_of_trial(
    method: Method,
    options: Options,
    course: Procedure,
    schools: Mapping[str, str],
    learnt: Mapping[str, Takes] | None = None,
) -> tuple[PlannedStep, ...]:
    """The steps of one trial in order, with the usual number of rounds. Raises Refusal for a school not offered.

    What was `learnt` of a step takes the place of what its procedure says, except of one whose `takes` was written for
    it.
    """
    repeats = [row for row in course.steps if isinstance(row, Repeat)]
    progress = Progress(
        {row.about: ROUNDS for row in repeats},
        {(row.until, row.about) for row in repeats},
        (),
        needed=usable_readings(method, options),
        facts=method.facts(options),
    )
    rows = _planned(method, options, laid_out(course, course.chosen(schools), progress))
    own = {step.id for step in course.all_steps() if step.takes is not None}
    known = {name: takes for name, takes in (learnt or {}).items() if name.partition("#")[0] not in own}
    return tuple(replace(row, takes=known[row.name]) if row.name in known else row for row in rows)


def steps_left(
    method: Method, options: Options, steps: Sequence[Laid], planned: Sequence[PlannedStep]
) -> tuple[PlannedStep, ...]:
    """What a trial that is under way has still to do: of its steps as they stand that of now and those ahead, and the
    rounds that a series needs at least (`planned`, as `steps_of_trial` has them), which are laid out one by one.
    """
    rows = (Row(row.key, row.number, row.step, row.position) for row in steps if row.state in ("now", "ahead"))
    left = list(_planned(method, options, rows))
    known, wanted = {row.key for row in steps}, [row.name for row in planned]
    if not left:
        return ()
    left += [row for row in planned if _key(row) not in known]
    # a round more than the usual ones comes before what is done after the series
    place = {name: number for number, name in enumerate(wanted)}
    return tuple(sorted(left, key=lambda row: place.get(row.name, -1)))


def _key(row: PlannedStep) -> str:
    return row.name.partition(",")[0]


def _planned(method: Method, options: Options, rows: Iterator[Row]) -> Iterator[PlannedStep]:
    for row in rows:
        step, minutes = row.step, row.minutes
        reading = reading_definition(method, step.reads, options) if step.reads else None
        instrument = reading.instrument if reading is not None else ""
        at = step.at or (instrument if instrument in BALANCES else "")
        rests = step.cools or bool(step.waits_in)
        stays = not rests if step.attended is None else step.attended
        named = reading.labelled(options) if reading is not None else ""
        said = worded(step.short or step.title, row.number, named, method.facts(options))
        timed = Takes(minutes * (1 if rests else QUICKER), minutes, minutes * SLOWER) if minutes is not None else None
        if step.takes is not None:
            own = Takes(step.takes.low, step.takes.usual, step.takes.high)
            yield PlannedStep(row.key, own, at, step.attended is not False, said)
        elif step.reads:
            if timed is not None:
                # it cools, or dries, and is weighed then: nobody holds a balance meanwhile
                yield PlannedStep(f"{row.key}, before", timed, "", stays, said)
            yield PlannedStep(row.key, WEIGHING if instrument in BALANCES else READING, at, True, said)
        elif timed is not None:
            yield PlannedStep(row.key, timed, at, stays, said)
        else:
            yield PlannedStep(row.key, HANDS, at, step.attended is not False, said)
