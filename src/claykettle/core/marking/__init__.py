"""A student's own figures held against the readings, and against their own earlier figures."""

from claykettle.core.marking.asked import (
    OFFERED,
    REPLAYED,
    Answered,
    Choice,
    answer_label,
    choices_of,
    judge_answer,
    kind_of,
)
from claykettle.core.marking.marking import AS_READ, Marking, mark
from claykettle.core.marking.sheet import SPOKEN, Line, Sheet

__all__ = [
    "AS_READ",
    "OFFERED",
    "REPLAYED",
    "SPOKEN",
    "Answered",
    "Choice",
    "Line",
    "Marking",
    "Sheet",
    "answer_label",
    "choices_of",
    "judge_answer",
    "kind_of",
    "mark",
]
