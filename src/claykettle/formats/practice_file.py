"""What the command for practice reads and prints: options, the run as a bench recorded it, the truth beside it."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime, timedelta
from typing import Any

from claykettle.core.errors import refuse
from claykettle.core.method import Options
from claykettle.core.methods.registry import method_named
from claykettle.core.practice import Practised, lay, parse_faults, practise
from claykettle.formats import strict_json
from claykettle.formats.run_file import parse_options, write_run

TRUTH, VERSION = "clay-kettle/truth", 1
EVENING = datetime(2026, 1, 15, 18, 30, tzinfo=UTC)
"""When every simulated bench of the command begins: the same seed gives the same bytes on every day."""
NONE, HIDDEN = "none", "hidden"
NOTHING = 1e-9
"""Below this a figure is the last bits of its arithmetic."""


def practised(
    name: str, seed: int, options: bytes | None = None, trials: int = 1, faults: str = NONE, skill: str = "careful"
) -> Practised:
    """A run at a simulated bench of the method `name`; `options` are the bytes of a JSON object.

    Raises Refusal with paths `method`, `options.…`, `seed`, `trials`, `faults` and `skill`.
    """
    method = method_named(name)
    chosen: Options | None = None
    if options is not None:
        document = strict_json.loads(options)
        if not isinstance(document, dict):
            raise refuse("not-options", "Options are one JSON object, as in a run file.", "options")
        chosen = parse_options(method, document)
    laid = lay(method, seed, chosen)
    if faults == HIDDEN:
        laid = laid.hidden()
    elif faults != NONE:
        laid = laid.with_faults(parse_faults(faults, method, laid.options))
    return practise(laid, skill, trials, stamp, EVENING.timestamp())


def stamp(seconds: float) -> str:
    """A moment of the evening, so many seconds after it began, as a run file writes it."""
    return (EVENING + timedelta(seconds=round(seconds))).isoformat()


def write_practised(found: Practised) -> str:
    """The run file of it."""
    return write_run(found.run)


def truth_document(found: Practised) -> Mapping[str, Any]:
    """What the matter really is, and what was planted."""
    return {
        "format": TRUTH,
        "version": VERSION,
        "seed": found.laid.seed,
        "true": {name: _plain(value) for name, value in found.true.items()},
        "faults": [
            {"code": row.cause.code, "dose": _plain(row.shown), "unit": row.cause.unit} for row in found.laid.faults
        ],
    }


def _plain(value: float) -> float:
    """A figure without the last bits of its arithmetic."""
    return float(f"{value:.10g}") if abs(value) > NOTHING else 0.0
