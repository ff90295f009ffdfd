"""What one process remembers of the store: the runs read last, and what never changes.

A run is held under its version, so one that did not change is not read again. Procedures never change under their
number; equal options are one object, so that looking up by them is quick.
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
MOST_OPTIONS = 1000


class RunCache:
    """Least recently used runs by their id. Only what is committed may be put in."""

    def __init__(self) -> None:
        self._runs: OrderedDict[int, StoredRun] = OrderedDict()
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

    def latest(self, run_id: int) -> StoredRun | None:
        """The run in whatever version it is held."""
        with self._lock:
            return self._runs.get(run_id)

    def put(self, runs: Iterable[StoredRun]) -> None:
        """Hold committed runs; an older version never replaces a newer one."""
        with self._lock:
            for run in runs:
                held = self._runs.get(run.id)
                if held is None or held.version <= run.version:
                    self._runs[run.id] = run
                    self._runs.move_to_end(run.id)
            while len(self._runs) > MOST:
                self._runs.popitem(last=False)

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
