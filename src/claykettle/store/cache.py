"""The runs read last, kept in memory under their version: a run that did not change is not read again."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterable
from threading import Lock

from claykettle.store.records import StoredRun

MOST = 300


class RunCache:
    """Least recently used runs by their id. Only what is committed may be put in."""

    def __init__(self) -> None:
        self._runs: OrderedDict[int, StoredRun] = OrderedDict()
        self._ids: dict[str, int] = {}
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
