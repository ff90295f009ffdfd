"""kettle's commands. Each imports what it needs when it runs, so that `evaluate` starts quickly."""

from __future__ import annotations

import argparse
import signal
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from types import FrameType

    from claykettle.core.run import Run


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; the exit status is 0 done, 1 failed, 2 refused."""
    parser = _parser()
    options = parser.parse_args(arguments)
    command = globals()[f"_{options.command.replace('-', '_')}"]
    signal.signal(signal.SIGTERM, _stop)
    try:
        return int(command(options))
    except (KeyboardInterrupt, BrokenPipeError):
        print("kettle: stopped; nothing is left running.", file=sys.stderr)
        return 130


def _stop(number: int, frame: FrameType | None) -> None:
    """SIGTERM ends a command as Ctrl-C does: what it started ends with it."""
    raise KeyboardInterrupt


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="kettle", description="Clay Kettle, for chemistry lab instructors.")
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")
    demo = commands.add_parser("demo", help="set everything up, fill in the demo, serve it")
    demo.add_argument("--port", type=int, default=8617, help="port on 127.0.0.1 (default 8617)")
    commands.add_parser("setup", help="install and build everything, then stop")
    test = commands.add_parser("test", help="run all tests")
    test.add_argument("patterns", nargs="*", help="only test modules whose name contains one of these")
    commands.add_parser("check", help="style, types and the import contract")
    commands.add_parser("dev", help="the page with hot reload, against a running demo")
    mutate = commands.add_parser("mutate", help="change every threshold of judgement and see whether a test notices")
    mutate.add_argument("patterns", nargs="*", help="only modules whose name contains one of these")
    evaluate = commands.add_parser("evaluate", help="evaluate a run file, JSON to standard output")
    evaluate.add_argument("file", help="a run file, or - for standard input")
    evaluate.add_argument(
        "--lines", action="store_true", help="the file holds one run file a line; answer with a line each"
    )
    suspects = commands.add_parser("suspects", help="what could explain a run file's result, JSON to standard output")
    suspects.add_argument("file", help="a run file, or - for standard input")
    suspects.add_argument("--expect", default=None, help="what was expected, in the unit of the key result")
    commands.add_parser("bench", help="how fast things are, as ratios in one run")
    commands.add_parser("documents", help="write docs/run.schema.json and docs/openapi.json anew")
    return parser


def _evaluate(options: argparse.Namespace) -> int:
    from claykettle.core.run import evaluate_run
    from claykettle.formats.evaluation_json import evaluation_document

    def document(run: Run) -> object:
        return evaluation_document(evaluate_run(run))

    return _compute_lines(options.file, document) if options.lines else _compute(options.file, document)


def _suspects(options: argparse.Namespace) -> int:
    from dataclasses import asdict

    from claykettle.core.judgement.suspects import suspicion
    from claykettle.core.run import evaluate_run, evidence_of

    def document(run: Run) -> object:
        trials = evaluate_run(run).trials
        return {
            row.label: asdict(suspicion(row.trial, run.method, options.expect, evidence_of(run, row.label)))
            for row in trials
        }

    return _compute(options.file, document)


def _compute(name: str, document: Callable[[Run], object]) -> int:
    """Print what `document` makes of a run file; refused with a line a fault on standard error and status 2."""
    import json

    from claykettle.core.errors import Refusal
    from claykettle.formats.run_file import read_run
    from claykettle.formats.strict_json import LARGEST_FILE

    try:
        if name == "-":
            data = sys.stdin.buffer.read(LARGEST_FILE + 1)
        else:
            with Path(name).open("rb") as file:
                data = file.read(LARGEST_FILE + 1)
        found = document(read_run(data))
    except OSError as error:
        print(f"{name}: {error.strerror} [no-file]", file=sys.stderr)
        return 2
    except Refusal as refusal:
        for fault in refusal.faults:
            print(fault.line(), file=sys.stderr)
        return 2
    sys.stdout.write(json.dumps(found, ensure_ascii=False, indent=2, allow_nan=False) + "\n")
    return 0


def _compute_lines(name: str, document: Callable[[Run], object]) -> int:
    """Print a line for each line of a file: what `document` makes of its run file, or why it was refused."""
    import json

    from claykettle.core.errors import Refusal
    from claykettle.formats.run_file import read_run

    def answer(line: bytes) -> object:
        try:
            return document(read_run(line))
        except Refusal as refusal:
            return {"refused": [fault.line() for fault in refusal.faults]}

    try:
        with sys.stdin.buffer if name == "-" else Path(name).open("rb") as lines:
            for line in lines:
                if line.strip():
                    print(json.dumps(answer(line), ensure_ascii=False, allow_nan=False), flush=name == "-")
    except OSError as error:
        print(f"{name}: {error.strerror} [no-file]", file=sys.stderr)
        return 2
    return 0


def _demo(options: argparse.Namespace) -> int:
    from claykettle.launch.demo import run_demo

    return run_demo(options.port)


def _setup(_: argparse.Namespace) -> int:
    from claykettle.launch.setup import set_up

    return set_up()


def _test(options: argparse.Namespace) -> int:
    from claykettle.launch.testing import run_tests

    return run_tests(options.patterns)


def _check(_: argparse.Namespace) -> int:
    from claykettle.launch.checks import run_checks

    return run_checks()


def _dev(_: argparse.Namespace) -> int:
    from claykettle.launch.dev import run_dev

    return run_dev()


def _mutate(options: argparse.Namespace) -> int:
    from claykettle.launch.mutate import run_mutate

    return run_mutate(options.patterns)


def _bench(_: argparse.Namespace) -> int:
    from claykettle.launch.measure.command import run_bench

    return run_bench()


def _documents(_: argparse.Namespace) -> int:
    from claykettle.launch.documents import write_documents

    return write_documents()


if __name__ == "__main__":
    sys.exit(main())
