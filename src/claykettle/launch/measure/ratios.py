"""A measured ratio with its limit, and how times are taken: alternately, so that a busy machine slows both alike."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass
from statistics import median

Work = Callable[[], object]


@dataclass(frozen=True)
class Ratio:
    """One row of the table: what is measured, against what, and the largest ratio wanted. Times in seconds."""

    name: str
    against: str
    ours: float
    theirs: float
    limit: float

    @property
    def value(self) -> float:
        """Ours over theirs."""
        return self.ours / self.theirs

    @property
    def holds(self) -> bool:
        """Whether the ratio is within its limit."""
        return self.value <= self.limit


def compare(name: str, ours: Work, against: str, theirs: Work, limit: float, rounds: int = 200) -> Ratio:
    """The ratio of the medians of two pieces of work, done by turns `rounds` times after a tenth for warming up."""
    for _ in range(max(1, rounds // 10)):
        ours()
        theirs()
    times: tuple[list[float], list[float]] = ([], [])
    for _ in range(rounds):
        for work, row in ((ours, times[0]), (theirs, times[1])):
            begun = time.perf_counter()
            work()
            row.append(time.perf_counter() - begun)
    return Ratio(name, against, median(times[0]), median(times[1]), limit)


def table(rows: list[Ratio]) -> str:
    """The rows as text, the ratio last but one."""
    lines = [f"{'measured':58} {'against':50} {'ours':>10} {'theirs':>10} {'ratio':>7} {'limit':>6}"]
    for row in rows:
        sign = "" if row.holds else "  OVER"
        lines.append(
            f"{row.name:58} {row.against:50} {_time(row.ours):>10} {_time(row.theirs):>10} "
            f"{row.value:7.2f} {row.limit:6g}{sign}"
        )
    return "\n".join(lines)


def _time(seconds: float) -> str:
    return f"{seconds * 1000:.2f} ms" if seconds < 1 else f"{seconds:.2f} s"
