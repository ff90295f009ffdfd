"""Pass or fail, by eye: a run can be finished by what is seen, where nothing is weighed. The last word counts."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence

from claykettle.core.verdict import Verdict

PASS, FAIL = "pass", "fail"
PASSED, FAILED = "passed", "failed"


def judge_passing(tags: Sequence[str], key: str) -> Iterator[Verdict]:
    """`passed` or `failed`, by the last that was noted; the one before it is named where it was the other."""
    noted = [tag for tag in tags if tag in (PASS, FAIL)]
    if not noted:
        return
    other = FAIL if noted[-1] == PASS else PASS
    before = f" Before that {other} was noted: the last counts." if other in noted else ""
    if noted[-1] == PASS:
        yield Verdict(PASSED, "good", key, f"Seen at the bench: pass.{before}")
    else:
        yield Verdict(FAILED, "watch", key, f"Seen at the bench: fail.{before} Say in the log what was seen.")


def ended_by_eye(codes: Collection[str]) -> str:
    """The word that ended a trial by eye, empty where none did."""
    return "Passed" if PASSED in codes else "Failed" if FAILED in codes else ""
