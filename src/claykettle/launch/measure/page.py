"""How much the page weighs on the wire, in kB gzip."""

from __future__ import annotations

import gzip

from claykettle.launch.paths import BUILT

LIMITS = {".js": ("JavaScript", 150.0), ".css": ("CSS", 30.0)}


def measured() -> list[tuple[str, float, float]]:
    """Name, kB gzip, limit for JavaScript and CSS of the built page."""
    return [
        (name, sum(len(gzip.compress(path.read_bytes())) for path in BUILT.rglob(f"*{ending}")) / 1000, limit)
        for ending, (name, limit) in LIMITS.items()
    ]
