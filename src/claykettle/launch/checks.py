"""`kettle check` and `kettle test`."""

from __future__ import annotations

import subprocess
import sys
import time
import unittest
from collections.abc import Iterator, Sequence
from typing import Any

from claykettle.launch.node import npm_environment
from claykettle.launch.page import install_packages
from claykettle.launch.paths import FRONTEND, ROOT, VENV, SetupError, say
from claykettle.launch.setup import set_up


def run_checks() -> int:
    """Style, types and the import contract; the exit status."""
    try:
        install_packages()
    except SetupError as error:
        say(str(error))
        return 1
    python = [sys.executable, "-m"]
    commands: list[tuple[str, list[str], Any]] = [
        ("ruff check", [*python, "ruff", "check", "src", "tests"], ROOT),
        ("ruff format", [*python, "ruff", "format", "--check", "-q", "src", "tests"], ROOT),
        ("mypy --strict", [*python, "mypy"], ROOT),
        (
            "import contract",
            [str(VENV / "bin/lint-imports"), "--no-cache"],
            ROOT,
        ),
        ("svelte-check", ["npm", "run", "--silent", "check"], FRONTEND),
        ("eslint and prettier", ["npm", "run", "--silent", "lint"], FRONTEND),
    ]
    failed = 0
    for name, command, folder in commands:
        done = subprocess.run(command, cwd=folder, env=_environment(), capture_output=True, text=True, check=False)
        say(f"{name}: {'failed' if done.returncode else 'fine'}")
        if done.returncode:
            failed += 1
            print((done.stdout + done.stderr)[-6000:], flush=True)
    return 1 if failed else 0


def _environment() -> dict[str, str]:
    return npm_environment() | {"PYTHONPATH": str(ROOT / "src")}


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


def run_tests(patterns: Sequence[str]) -> int:
    """All tests, or those of modules whose name contains a pattern; the last line is `N passed, N failed`."""
    if set_up(tests=True):
        return 1
    sys.path.insert(0, str(ROOT))
    suite = unittest.defaultTestLoader.discover(str(ROOT / "tests"), "test_*.py", str(ROOT))
    if patterns:
        chosen = [test for test in _tests(suite) if any(part in _module_of(test) for part in patterns)]
        suite = unittest.TestSuite(chosen)
    begun = time.monotonic()
    runner = unittest.TextTestRunner(stream=sys.stderr, verbosity=0, resultclass=_Result, warnings="error", buffer=True)
    result = runner.run(suite)
    assert isinstance(result, _Result)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    say(f"took {time.monotonic() - begun:.0f} s")
    skipped = f", {len(result.skipped)} skipped" if result.skipped else ""
    print(f"{result.passed} passed, {failed} failed{skipped}", flush=True)
    return 1 if failed or not result.passed else 0


def _module_of(test: unittest.TestCase) -> str:
    """The test's module; that of one which could not be imported stands in its id only."""
    module = type(test).__module__
    return test.id() if module.startswith("unittest") else module


def _tests(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    for row in suite:
        if isinstance(row, unittest.TestSuite):
            yield from _tests(row)
        else:
            yield row
