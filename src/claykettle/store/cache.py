"""What one process remembers of the store: the runs read last, what lists say of each, and what never changes.

A run is held under its version, so one that did not change is not read again. What a list says of a run is held under
the same version, for many more runs than are held whole: a list evaluates only what has changed since it was last asked
for. Procedures never change under their number; equal options are one object, so that looking up by them is quick.
"""

from __future__ import annotations

import json
from collections import OrderedDict
from collections.abc import Callable, Iterable, Mapping
from threading import Lock
from typing import Any

from claykettle.core.method import Method, Options, same
from claykettle.store.records import StoredProcedure, StoredRun

MOST = 300
"""Runs that are held whole."""
MOST_DIGESTS = 20_000
"""Of each kind; beyond them the newest is made each time, so that a long list never throws out what it needs next."""
MOST_OPTIONS = 1000


class RunCache:
    """Least recently used runs by their id. Only what is committed may be put in."""

    def __init__(self) -> None:
        self._runs: OrderedDict[int, StoredRun] = OrderedDict()
        self._ids: dict[str, int] = {}
        self._digests: dict[str, dict[int, tuple[int, Any]]] = {}
        self._procedures: dict[int, StoredProcedure] = {}
        self._options: dict[tuple[str, str], Options] = {}
        self._lock = Lock()

    def get(self, run_id: int, version: int) -> StoredRun | None:
        """The run in this very version, None where it is not held."""
        with self._lock:
            run = self._runs.get(run_id)
            if run is None or run.version != version:
                return None
            self._runs.move_to_end(run_id)
            return run

    def held(self, uuid: str) -> StoredRun | None:
        """The run as it was last seen here; somebody else may have changed it since."""
        with self._lock:
            run_id = self._ids.get(uuid)
            return None if run_id is None else self._runs.get(run_id)

    def put(self, runs: Iterable[StoredRun]) -> None:
        """Hold committed runs; an older version never replaces a newer one."""
        with self._lock:
            for run in runs:
                held = self._runs.get(run.id)
                if held is None or held.version <= run.version:
                    self._runs[run.id] = run
                    self._ids[run.uuid] = run.id
                    self._runs.move_to_end(run.id)
            while len(self._runs) > MOST:
                _, oldest = self._runs.popitem(last=False)
                self._ids.pop(oldest.uuid, None)

    def digest(self, kind: str, run_id: int, version: int) -> tuple[Any] | None:
        """What was made of the run in this version, in a tuple since it may be nothing; None where it was not made."""
        held = self._digests.get(kind, {}).get(run_id)
        return (held[1],) if held is not None and held[0] == version else None

    def keep_digest(self, kind: str, run: StoredRun, made: Any) -> None:
        """Hold what was made of a run."""
        with self._lock:
            rows = self._digests.setdefault(kind, {})
            if run.id in rows or len(rows) < MOST_DIGESTS:
                rows[run.id] = (run.version, made)

    def procedure(self, number: int, make: Callable[[], StoredProcedure]) -> StoredProcedure:
        """The procedure of this number, made once."""
        if number not in self._procedures:
            self._procedures[number] = make()
        return self._procedures[number]

    def options(self, method: Method, written: Mapping[str, Any]) -> Options:
        """The options of a method, parsed: one object for equal ones. Raises pydantic's ValidationError."""
        key = method.name, json.dumps(written)
        found = self._options.get(key)
        if found is None:
            model: type[Options] = method.options
            found = same(model.model_validate(written))
            if len(self._options) >= MOST_OPTIONS:
                self._options.clear()
            self._options[key] = found
        return found
