"""Practice: a bench that exists only here, with its matter, its instruments, its hidden faults and its hands."""

from claykettle.core.practice.hands import CAREFUL, HASTY, SKILLS, Hands, Record
from claykettle.core.practice.instruments import Instrument, Shown
from claykettle.core.practice.laid import Laid, check_seed, lay, rehearsal_of
from claykettle.core.practice.planted import Planted, can_be_planted, parse_faults
from claykettle.core.practice.practise import Practised, practise

__all__ = [
    "CAREFUL",
    "HASTY",
    "SKILLS",
    "Hands",
    "Instrument",
    "Laid",
    "Planted",
    "Practised",
    "Record",
    "Shown",
    "can_be_planted",
    "check_seed",
    "lay",
    "parse_faults",
    "practise",
    "rehearsal_of",
]
