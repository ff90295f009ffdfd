"""How much the page weighs on the wire, in kB gzip: what a bench needs before it can be worked at, what a room
brings, and all pages.
"""

from __future__ import annotations

import gzip
import json
from collections.abc import Iterable, Mapping
from pathlib import Path
from typing import Any

from claykettle.launch.paths import BUILT

BENCH = "src/bench/BenchPage.svelte"
WORKER = "offline.js"
"""It belongs to no page: the browser fetches it beside them, once."""
LIMITS = (("JavaScript of the bench", ".js", 150.0), ("CSS of the bench", ".css", 30.0))
ROOM = (("JavaScript that the heaviest other room brings", ".js", 30.0), ("CSS that it brings", ".css", 6.0))
"""Beside what every page has: a house with more rooms is no slower to enter."""
ALL = (("JavaScript of all pages, fetched when all is quiet", ".js", 320.0), ("CSS of all pages", ".css", 64.0))


def measured() -> list[tuple[str, float, float]]:
    """Name, kB gzip, limit for JavaScript and CSS of the built page."""
    manifest = json.loads((BUILT / ".vite" / "manifest.json").read_text(encoding="utf-8"))
    bench = _needed(manifest, ["index.html", BENCH])
    shell = _needed(manifest, ["index.html"])
    rooms = [
        _needed(manifest, ["index.html", name]) - shell
        for name in manifest
        if name.startswith("src/") and name.endswith("Page.svelte") and name != BENCH
    ]
    worker = BUILT / WORKER
    every = [path for path in BUILT.rglob("*") if path.is_file() and path != worker]
    return [
        *((name, _weight(bench, ending), limit) for name, ending, limit in LIMITS),
        *((name, max(_weight(room, ending) for room in rooms), limit) for name, ending, limit in ROOM),
        *((name, _weight(every, ending), limit) for name, ending, limit in ALL),
        ("what opens the page without a server", _weight([worker], ".js"), 10.0),
    ]


def _needed(manifest: Mapping[str, Any], entries: Iterable[str]) -> set[Path]:
    """The files that these entries bring with them before they can be shown."""
    waiting, seen = list(entries), set[str]()
    while waiting:
        name = waiting.pop()
        if name not in seen:
            seen.add(name)
            waiting += manifest[name].get("imports", [])
    rows = [manifest[name] for name in seen]
    return {BUILT / file for row in rows for file in (row["file"], *row.get("css", []))}


def _weight(files: Iterable[Path], ending: str) -> float:
    return sum(len(gzip.compress(path.read_bytes())) for path in files if path.suffix == ending) / 1000
