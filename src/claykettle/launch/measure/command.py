"""`kettle bench`: measures, prints the table, and fails where a limit is passed."""

from __future__ import annotations

from claykettle.launch.measure import board, evaluating, growing, page, practice, preparing, recording
from claykettle.launch.measure.ratios import Ratio, table
from claykettle.launch.paths import say
from claykettle.launch.setup import set_up


def run_bench() -> int:
    """Everything measured in one run; the exit status is 1 where a ratio or a size is over its limit."""
    if set_up(tests=False):
        return 1
    rows: list[Ratio] = []
    parts = (
        ("the core", evaluating),
        ("recording over HTTP", recording),
        ("preparing a class", preparing),
        ("the board of a class", board),
        ("practice", practice),
        ("a house of many runs", growing),
    )
    for name, part in parts:
        say(f"measuring {name}")
        rows += part.measured()
    print(table(rows))
    sizes = page.measured()
    for kind, kilobytes, limit in sizes:
        sign = "" if kilobytes <= limit else "  OVER"
        print(f"{kind}: {kilobytes:.1f} kB gzip, limit {limit:g} kB{sign}")
    fine = all(row.holds for row in rows) and all(size <= limit for _, size, limit in sizes)
    return 0 if fine else 1
