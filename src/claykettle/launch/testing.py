"""`kettle test`: the tests, those with a browser beside the others, and what became of them in one line.

Two processes take one module after another, one from the front of the list, where those with a browser stand, the other
from its end, until they meet: so both cores of a small machine have work to the last. Only the modules that are wanted
are imported. Everything that a run puts into the temporary folder lies in one of its own, which goes when the run ends,
however it ends.
"""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

from claykettle.launch.paths import ROOT, say
from claykettle.launch.process import stop
from claykettle.launch.setup import set_up

TESTS = ROOT / "tests"
PAGED = ("tests.browser", "tests.launch", "tests.page")
"""Packages whose tests need the built page, or what builds it."""


@dataclass(frozen=True)
class Tally:
    """What became of a run's tests. `not_run` are those of a class or module that did not even begin."""

    passed: int = 0
    failed: int = 0
    skipped: int = 0
    not_run: int = 0

    def __add__(self, other: Tally) -> Tally:
        return Tally(*(one + two for one, two in zip(vars(self).values(), vars(other).values(), strict=True)))


def run_tests(patterns: Sequence[str]) -> int:
    """All tests, or those of modules whose name contains a pattern; the last line is `N passed, N failed`."""
    modules = [name for name in _modules() if not patterns or any(part in name for part in patterns)]
    if any(name.startswith(PAGED) for name in modules) and set_up(tests=True):
        return 1
    begun = time.monotonic()
    with_browser = [name for name in modules if name.startswith("tests.browser")]
    others = [name for name in modules if name not in with_browser]
    ordered = [*with_browser, *others]
    tally = _side_by_side([ordered, ordered[::-1]] if with_browser and len(modules) > 1 else [ordered])
    say(f"took {time.monotonic() - begun:.0f} s")
    if tally.not_run:
        say(f"{tally.not_run} tests did not run: what kept them from it stands above, once")
    skipped = f", {tally.skipped} skipped" if tally.skipped else ""
    print(f"{tally.passed} passed, {tally.failed} failed{skipped}", flush=True)
    return 1 if tally.failed or tally.not_run or not tally.passed else 0


def _modules() -> list[str]:
    """Every test module by its name, none imported."""
    paths = sorted(TESTS.rglob("test_*.py"))
    return [".".join(path.relative_to(ROOT).with_suffix("").parts) for path in paths]


def _side_by_side(orders: Sequence[Sequence[str]]) -> Tally:
    """Run the same modules in a process for each order; each runs those that no other has taken yet."""
    folder = Path(tempfile.mkdtemp(prefix="kettle-tests-"))
    environment = dict(os.environ, TMPDIR=str(folder), PYTHONPATH=f"{ROOT / 'src'}{os.pathsep}{ROOT}")
    children: list[subprocess.Popen[bytes]] = []
    try:
        for number, names in enumerate(orders):
            command = [sys.executable, "-m", "claykettle.launch.testing", str(folder / f"{number}.json"), *names]
            children.append(subprocess.Popen(command, cwd=ROOT, env=environment, start_new_session=True))
        for child in children:
            child.wait()
        found = [_told(folder / f"{number}.json") for number in range(len(orders))]
    finally:
        for child in children:
            stop(child, seconds=60)
        shutil.rmtree(folder, ignore_errors=True)
    return sum(found, Tally())


def _told(path: Path) -> Tally:
    """What a process told of its tests; one that died told nothing, and counts as a failure."""
    try:
        return Tally(**json.loads(path.read_text()))
    except (OSError, ValueError):
        say("a process that ran tests ended before it could tell what became of them")
        return Tally(failed=1)


class _Result(unittest.TextTestResult):
    """Counts what passed, and says which module it is at."""

    def __init__(self, *arguments: Any, **named: Any):
        super().__init__(*arguments, **named)
        self.passed = 0
        self._module = ""

    def startTest(self, test: unittest.TestCase) -> None:  # noqa: N802  # unittest's name
        """Name each module as it begins."""
        if type(test).__module__ != self._module:
            self._module = type(test).__module__
            say(f"testing {self._module.removeprefix('tests.')}")
        super().startTest(test)

    def addSuccess(self, test: unittest.TestCase) -> None:  # noqa: N802  # unittest's name
        """Count it."""
        self.passed += 1
        super().addSuccess(test)


class _Taken(unittest.TestSuite):
    """The modules in this order that nobody else has taken, each loaded when its turn comes."""

    def __init__(self, names: Sequence[str], folder: Path):
        super().__init__()
        self._names, self._folder = names, folder
        self.there = 0

    def run(self, result: unittest.TestResult, debug: bool = False) -> unittest.TestResult:
        """Take and run one after another."""
        for name in self._names:
            if not result.shouldStop and self._take(name):
                suite = unittest.defaultTestLoader.loadTestsFromName(name)
                self.there += suite.countTestCases()
                suite.run(result, debug)
        return result

    def _take(self, name: str) -> bool:
        """Whether this process is the first to make the file that says so."""
        try:
            (self._folder / f"{name}.taken").touch(exist_ok=False)
        except FileExistsError:
            return False
        return True


def run_modules(report: Path, names: Sequence[str]) -> None:
    """Run the tests of these modules here, and write what became of them."""
    suite = _Taken(names, report.parent)
    runner = unittest.TextTestRunner(stream=sys.stderr, verbosity=0, resultclass=_Result, warnings="error", buffer=True)
    result = runner.run(suite)
    assert isinstance(result, _Result)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    not_run = suite.there - result.testsRun
    report.write_text(json.dumps(asdict(Tally(result.passed, failed, len(result.skipped), max(0, not_run)))))


if __name__ == "__main__":
    import signal

    def _stop(*_: object) -> None:
        raise KeyboardInterrupt

    # ended from outside, a run ends as by Ctrl-C, so that what the tests started ends with it
    signal.signal(signal.SIGTERM, _stop)
    run_modules(Path(sys.argv[1]), sys.argv[2:])
