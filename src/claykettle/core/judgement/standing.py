"""How a run stands, in a word: for lists, slips and the board. Green is earned, by every verdict of every trial."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass

from claykettle.core.judgement.passing import FAILED, PASSED, ended_by_eye
from claykettle.core.verdict import Level, Verdict

BESIDE = {
    "assumed-uncertainty", "tolerance-below-balance", "sea-level", "outside-window", "papers-few", "acid-low",
    "acid-lasts", "circular", "gives-off",
}  # fmt: skip
"""Watches on how it was measured: they widen the band or plan the next trial, and take nothing from the result."""
OPEN = {"missing-reading", "provisional", "still-losing", "still-gaining"}
"""Watches that go by themselves as the run goes on."""
GOING = ("not yet", "provisional")
"""Words of a standing that go by themselves as the run goes on."""
WORDS = {
    FAILED: "failed",
    "mixture": "a mixture",
    "unfinished": "unfinished",
    "off-accepted": "off",
    "formula-none": "no match",
    "formula-undecided": "cannot decide",
    "plateau": "plateau",
    "not-alike": "trials differ",
    "replicates-disagree": "trials differ",
    "yield-over-100": "over 100 %",
}
"""What some watches are called in a word, the weightiest first; any other is just to be looked at."""


@dataclass(frozen=True)
class Standing:
    """Level and word of a run, and the sentence of the verdict that decided; empty where nothing did."""

    level: Level
    word: str
    why: str


def standing(verdicts: Collection[Verdict], has_result: bool, doubts: Collection[str]) -> Standing:
    """How a run stands by all its verdicts; `doubts` are the questions that somebody answered with *it is so*."""
    return next(_found(verdicts, has_result, doubts))


def _found(verdicts: Collection[Verdict], has_result: bool, doubts: Collection[str]) -> Iterator[Standing]:
    for row in verdicts:
        if row.level == "stop":
            yield Standing("stop", "look now", row.text)
    watches = [row for row in verdicts if row.level == "watch" and row.code not in BESIDE]
    for row in watches:
        if row.code in OPEN:
            yield Standing("watch", "provisional", row.text)
    if not has_result and not ended_by_eye({row.code for row in verdicts}):
        yield Standing("watch", "not yet", "")
    for code, word in WORDS.items():
        for row in watches:
            if row.code == code:
                yield Standing("watch", word, row.text)
    for row in watches:
        yield Standing("watch", "look", row.text)
    for doubt in doubts:
        yield Standing("watch", "confirmed doubt", doubt)
    for code, word in (("within-class", "within the class"), ("agrees", "agrees"), (PASSED, "passed")):
        for row in verdicts:
            if row.code == code:
                yield Standing("good", word, row.text)
    yield Standing("good", "settled", "")
