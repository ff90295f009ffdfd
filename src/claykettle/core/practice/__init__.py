"""Practice: a bench that exists only here, with its matter, its instruments, its hidden faults and its hands."""

from claykettle.core.practice.debrief import (
    MOST_POINTS,
    NOTHING,
    TOO_LARGE,
    TOO_SMALL,
    Debrief,
    Guess,
    Point,
    balance_told,
    debrief,
)
from claykettle.core.practice.hands import CAREFUL, HASTY, SKILLS, Hands, Record
from claykettle.core.practice.instruments import Instrument, Shown
from claykettle.core.practice.laid import Laid, check_seed, lay, rehearsal_of, set_up
from claykettle.core.practice.planted import Planted, can_be_planted, parse_faults
from claykettle.core.practice.practise import Practised, practise
from claykettle.core.practice.sitting import Deed, Seen, Sitting

__all__ = [
    "CAREFUL",
    "HASTY",
    "MOST_POINTS",
    "NOTHING",
    "SKILLS",
    "TOO_LARGE",
    "TOO_SMALL",
    "Debrief",
    "Deed",
    "Guess",
    "Hands",
    "Instrument",
    "Laid",
    "Planted",
    "Point",
    "Practised",
    "Record",
    "Seen",
    "Shown",
    "Sitting",
    "balance_told",
    "can_be_planted",
    "check_seed",
    "debrief",
    "lay",
    "parse_faults",
    "practise",
    "rehearsal_of",
    "set_up",
]
