"""`kettle test`: the tests in several processes, and what became of them in one line.

Each process takes one module after another, the one that took longest last time first, so that both cores of a small
machine have work to the end. A test that fails is told at once. Everything that a run puts into the temporary folder
lies in one of its own, which goes when the run ends, however it ends.

Why no runner of others is used: docs/decisions/0074.
"""

from __future__ import annotations

import json
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from pathlib import Path
from typing import Any

from claykettle.launch.paths import ROOT, SETUP, say
from claykettle.launch.process import stop
from claykettle.launch.setup import set_up

TESTS = ROOT / "tests"
PAGED = ("tests.browser", "tests.launch", "tests.page")
"""Packages whose tests need the built page, or what builds it."""
TIMES, LONG_RUN = SETUP / "tests/times.json", SETUP / "tests/long.json"
"""Seconds that each module took last; when the long tests ran last, and how that went."""
LONG = "KETTLE_LONG"
"""Set in the environment where the long tests run."""
ROOM = 8 * 2**30
"""Bytes that the databases of a run have room in, with much to spare."""
WORKERS = 3
"""One more than a small machine has cores: a browser test waits for its page half of the time."""
SLOWEST = 25


@dataclass(frozen=True)
class Wanted:
    """What is to be tested: modules whose name contains a pattern, the long tests or those of every day."""

    patterns: Sequence[str] = ()
    is_long: bool = False
    shows_times: bool = False
    shuffle: int | None = None


@dataclass(frozen=True)
class Tally:
    """What became of a run's tests. `not_run` are those of a class or module that did not even begin."""

    passed: int = 0
    failed: tuple[str, ...] = ()
    skipped: int = 0
    not_run: int = 0
    seconds: Mapping[str, float] = field(default_factory=dict)

    def __add__(self, other: Tally) -> Tally:
        return Tally(
            self.passed + other.passed,
            (*self.failed, *other.failed),
            self.skipped + other.skipped,
            self.not_run + other.not_run,
            {**self.seconds, **other.seconds},
        )


def run_tests(wanted: Wanted) -> int:
    """Run what is wanted; the last line is `N passed, N failed`."""
    names = [name for name in _modules() if not wanted.patterns or any(part in name for part in wanted.patterns)]
    if any(name.startswith(PAGED) for name in names) and set_up(tests=True):
        return 1
    begun = time.monotonic()
    tally = _side_by_side(wanted, _ordered(names, wanted))
    _remember(wanted, tally)
    if wanted.shows_times:
        for name, seconds in sorted(tally.seconds.items(), key=lambda row: -row[1])[:SLOWEST]:
            print(f"{seconds:7.1f} s  {name.removeprefix('tests.')}")
    for name in tally.failed:
        print(f"failed: {name}")
    say(f"took {time.monotonic() - begun:.0f} s{'' if wanted.is_long else _of_the_long()}")
    if tally.not_run:
        say(f"{tally.not_run} tests did not run: the reason stands above, once")
    skipped = f", {tally.skipped} skipped" if tally.skipped else ""
    print(f"{tally.passed} passed, {len(tally.failed)} failed{skipped}", flush=True)
    return 1 if tally.failed or tally.not_run or not tally.passed else 0


def _modules() -> list[str]:
    """Every test module by its name, none imported."""
    paths = sorted(TESTS.rglob("test_*.py"))
    return [".".join(path.relative_to(ROOT).with_suffix("").parts) for path in paths]


def _ordered(names: Sequence[str], wanted: Wanted) -> list[str]:
    """Those that took longest last time first; one that never ran counts as long, one with a browser as longer."""
    if wanted.shuffle is not None:
        return random.Random(wanted.shuffle).sample(names, len(names))
    known = _read(TIMES)
    usual = {name: 60.0 if name.startswith("tests.browser") else 20.0 for name in names}
    return sorted(names, key=lambda name: -known.get(name, usual[name]))


def _read(path: Path) -> dict[str, Any]:
    try:
        return dict(json.loads(path.read_text()))
    except (OSError, ValueError):
        return {}


def _remember(wanted: Wanted, tally: Tally) -> None:
    TIMES.parent.mkdir(parents=True, exist_ok=True)
    if not wanted.is_long:
        TIMES.write_text(json.dumps({**_read(TIMES), **tally.seconds}, indent=1))
    elif not wanted.patterns:
        told = {"at": datetime.now().isoformat(timespec="minutes"), "passed": tally.passed, "failed": len(tally.failed)}
        LONG_RUN.write_text(json.dumps(told))


def _of_the_long() -> str:
    told = _read(LONG_RUN)
    if not told:
        return "; the long tests (./kettle test --long) never ran here"
    at = datetime.fromisoformat(told["at"])
    return f"; the long tests ran last on {at:%a} {at.day} {at:%b %Y}: {told['passed']} passed, {told['failed']} failed"


def _side_by_side(wanted: Wanted, names: Sequence[str]) -> Tally:
    """Run the modules side by side; each takes the first that no other has taken yet."""
    folder = Path(tempfile.mkdtemp(prefix="kettle-tests-", dir=_quick_folder()))
    environment = dict(os.environ, TMPDIR=str(folder), PYTHONPATH=f"{ROOT / 'src'}{os.pathsep}{ROOT}")
    environment[LONG] = "1" if wanted.is_long else ""
    children: list[subprocess.Popen[bytes]] = []
    try:
        for number in range(min(WORKERS, len(names))):
            seed = "" if wanted.shuffle is None else str(wanted.shuffle)
            command = [sys.executable, "-m", "claykettle.launch.testing", str(folder / f"{number}.json"), seed, *names]
            children.append(subprocess.Popen(command, cwd=ROOT, env=environment, start_new_session=True))
        for child in children:
            child.wait()
        return sum((_told(folder / f"{number}.json") for number in range(len(children))), Tally())
    finally:
        for child in children:
            stop(child, seconds=60)
        shutil.rmtree(folder, ignore_errors=True)


def _quick_folder() -> str | None:
    """Where databases of tests lie: in memory where the machine has plenty of it, else where it keeps such things."""
    there = Path("/dev/shm")
    has_room = there.is_dir() and os.access(there, os.W_OK) and shutil.disk_usage(there).free > ROOM
    return str(there) if has_room else None


def _told(path: Path) -> Tally:
    """What a process told of its tests; one that died told nothing, and counts as a failure."""
    try:
        told = json.loads(path.read_text())
        return Tally(**told | {"failed": tuple(told["failed"])})
    except (OSError, ValueError):
        say("a process that ran tests ended before it could tell what became of them")
        return Tally(failed=("a process that ran tests",))


class _Result(unittest.TextTestResult):
    """Counts what passed, tells at once what failed, and says which module it is at."""

    def __init__(self, *arguments: Any, **named: Any):
        super().__init__(*arguments, **named)
        self.passed = 0
        self.failed: list[str] = []

    def addSuccess(self, test: unittest.TestCase) -> None:  # noqa: N802  # unittest's name
        """Count it."""
        self.passed += 1
        super().addSuccess(test)

    def addFailure(self, test: unittest.TestCase, err: Any) -> None:  # noqa: N802  # unittest's name
        """Tell it."""
        super().addFailure(test, err)
        self._tell(test, self.failures[-1][1])

    def addError(self, test: unittest.TestCase, err: Any) -> None:  # noqa: N802  # unittest's name
        """Tell it."""
        super().addError(test, err)
        self._tell(test, self.errors[-1][1])

    def addSubTest(self, test: unittest.TestCase, subtest: unittest.TestCase, err: Any) -> None:  # noqa: N802
        """Tell it where it failed."""
        super().addSubTest(test, subtest, err)
        if err is not None:
            kind = self.failures if issubclass(err[0], test.failureException) else self.errors
            self._tell(subtest, kind[-1][1])

    def addUnexpectedSuccess(self, test: unittest.TestCase) -> None:  # noqa: N802  # unittest's name
        """Tell it."""
        super().addUnexpectedSuccess(test)
        self._tell(test, "it passed, where a failure was expected\n")

    def _tell(self, test: unittest.TestCase, trace: str) -> None:
        name = test.id()
        self.failed.append(name)
        # past the buffer into which a test's own output goes
        print(f"\nFAILED {name}\n{trace}", file=sys.__stderr__, flush=True)

    def printErrors(self) -> None:  # noqa: N802  # unittest's name
        """Nothing more: each was told when it failed."""


class _Taken(unittest.TestSuite):
    """The modules in this order that nobody else has taken, each loaded when its turn comes."""

    def __init__(self, names: Sequence[str], folder: Path, shuffle: int | None):
        super().__init__()
        self._names, self._folder, self._shuffle = names, folder, shuffle
        self.there = 0
        self.seconds: dict[str, float] = {}

    def run(self, result: unittest.TestResult, debug: bool = False) -> unittest.TestResult:
        """Take and run one after another."""
        for name in self._names:
            if not result.shouldStop and self._take(name):
                begun = time.monotonic()
                suite = _of_this_tier(unittest.defaultTestLoader.loadTestsFromName(name), self._shuffle)
                count = suite.countTestCases()
                if count:
                    self.there += count
                    say(f"testing {name.removeprefix('tests.')}")
                    suite.run(result, debug)
                    self.seconds[name] = round(time.monotonic() - begun, 2)
        return result

    def _take(self, name: str) -> bool:
        """Whether this process is the first to make the file that says so."""
        try:
            (self._folder / f"{name}.taken").touch(exist_ok=False)
        except FileExistsError:
            return False
        return True


def _of_this_tier(suite: unittest.TestSuite, shuffle: int | None) -> unittest.TestSuite:
    """The tests that are for now: the long run holds only those that are marked for it (tests/support/tiers.py)."""
    by_class: dict[type, list[unittest.TestCase]] = {}
    for test in _flat(suite):
        if is_for_now(test):
            by_class.setdefault(type(test), []).append(test)
    groups = list(by_class.values())
    if shuffle is not None:
        chance = random.Random(shuffle)
        groups = chance.sample([chance.sample(group, len(group)) for group in groups], len(groups))
    return unittest.TestSuite(unittest.TestSuite(group) for group in groups)


def _flat(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    for test in suite:
        if isinstance(test, unittest.TestSuite):
            yield from _flat(test)
        else:
            yield test


def is_for_now(test: unittest.TestCase) -> bool:
    """Whether a test belongs to the run that is under way."""
    own = getattr(test, test._testMethodName, None)
    return not os.environ.get(LONG) or any(getattr(one, "in_the_long", False) for one in (own, type(test)))


def run_modules(report: Path, shuffle: int | None, names: Sequence[str]) -> None:
    """Run the tests of these modules here, and write what became of them."""
    suite = _Taken(names, report.parent, shuffle)
    runner = unittest.TextTestRunner(stream=_Quiet(), verbosity=0, resultclass=_Result, warnings="error", buffer=True)
    result = runner.run(suite)
    assert isinstance(result, _Result)
    not_run = max(0, suite.there - result.testsRun)
    told = Tally(result.passed, tuple(result.failed), len(result.skipped), not_run, suite.seconds)
    report.write_text(json.dumps(vars(told)))


class _Quiet:
    """Takes what the runner writes itself: all of it is told elsewhere."""

    def write(self, text: str) -> None:
        """Nothing."""

    def flush(self) -> None:
        """Nothing."""


if __name__ == "__main__":
    import signal

    def _stop(*_: object) -> None:
        raise KeyboardInterrupt

    # ended from outside, a run ends as by Ctrl-C, so that what the tests started ends with it
    signal.signal(signal.SIGTERM, _stop)
    run_modules(Path(sys.argv[1]), int(sys.argv[2]) if sys.argv[2] else None, sys.argv[3:])
