"""kettle's commands. Each imports what it needs when it runs, so that `evaluate` starts quickly."""

from __future__ import annotations

import argparse
import signal
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

if TYPE_CHECKING:
    from types import FrameType

    from claykettle.core.errors import Refusal
    from claykettle.core.practice import Practised
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
    _add_house(commands)
    commands.add_parser("setup", help="install and build everything, then stop")
    test = commands.add_parser("test", help="run all tests")
    test.add_argument("patterns", nargs="*", help="only test modules whose name contains one of these")
    test.add_argument("--long", action="store_true", help="the tests that are too long for every day")
    test.add_argument("--times", action="store_true", help="print what the slowest modules took")
    test.add_argument("--shuffle", type=int, metavar="SEED", help="in another order; the same seed gives the same one")
    commands.add_parser("check", help="style, types and the import contract")
    commands.add_parser("dev", help="the page with hot reload, against a running demo")
    mutate = commands.add_parser("mutate", help="change every threshold of judgement and see whether a test notices")
    mutate.add_argument("patterns", nargs="*", help="only modules whose name contains one of these")
    mutate.add_argument("--structure", action="store_true", help="conditions, roles, keys and order in their place")
    mutate.add_argument("--most", type=int, default=0, metavar="N", help="so many changes of each module at most")
    mutate.add_argument("--seed", type=int, default=1, metavar="N", help="which of them (default 1)")
    evaluate = commands.add_parser("evaluate", help="evaluate a run file, JSON to standard output")
    evaluate.add_argument("file", help="a run file, or - for standard input")
    evaluate.add_argument(
        "--lines", action="store_true", help="the file holds one run file a line; answer with a line each"
    )
    suspects = commands.add_parser("suspects", help="what could explain a run file's result, JSON to standard output")
    suspects.add_argument("file", help="a run file, or - for standard input")
    suspects.add_argument("--expect", default=None, help="what was expected, in the unit of the key result")
    plan = commands.add_parser(
        "timetable", help="when the benches of a planned class are done, JSON to standard output"
    )
    plan.add_argument("file", help="a plan file, or - for standard input")
    sheet = commands.add_parser("mark", help="mark a student's own figures, JSON to standard output")
    sheet.add_argument("file", help="a sheet file, or - for standard input")
    report = commands.add_parser(
        "report", help="a whole report of a run file, as a page, for print or to be written on"
    )
    report.add_argument("file", help="a run file, or - for standard input")
    report.add_argument("--to", choices=("html", "pdf", "odt"), required=True, help="in which form")
    report.add_argument("-o", "--output", default="", metavar="OUT", help="where to (default: standard output)")
    practise = commands.add_parser(
        "practise", help="a run of a method as a simulated bench records it, a run file to standard output"
    )
    practise.add_argument("method", help="which method, such as hydrate")
    practise.add_argument(
        "--options", default="", metavar="FILE", help="the run's options, as JSON, or - for standard input"
    )
    practise.add_argument("--trials", type=int, default=1, metavar="N", help="how many trials (default 1)")
    practise.add_argument(
        "--faults", default="none", metavar="WHAT", help="none, hidden, or CODE[=DOSE],… of the method's causes"
    )
    practise.add_argument("--skill", choices=("careful", "hasty"), default="careful", help="how the bench works")
    practise.add_argument("--seed", type=int, required=True, metavar="N", help="the same seed gives the same bench")
    practise.add_argument("--truth", default="", metavar="FILE", help="where to write what it really was")
    commands.add_parser("bench", help="how fast things are, as ratios in one run")
    commands.add_parser("documents", help="write docs/run.schema.json and docs/openapi.json anew")
    return parser


def _add_house(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """The commands of a house that is run for real."""
    where = argparse.ArgumentParser(add_help=False)
    where.add_argument("--data", default="", help="the data folder (default: the user's own)")
    serve = commands.add_parser("serve", parents=[where], help="serve a house on a data folder of its own")
    serve.add_argument("--listen", default="", metavar="HOST:PORT", help="where it listens (default 127.0.0.1:8617)")
    serve.add_argument("--database", default="", metavar="URL", help="an outside MariaDB in place of a private one")
    serve.add_argument("--certificate", default="", metavar="FILE", help="a certificate for TLS (PEM)")
    serve.add_argument("--key", default="", metavar="FILE", help="its key (PEM)")
    serve.add_argument("--self-signed", action="store_true", help="TLS by a certificate that this machine makes")
    serve.add_argument("--config", default="", metavar="FILE", help="a configuration file (TOML); flags come before it")
    serve.add_argument(
        "--name", dest="names", action="append", default=[], help="a further name under which it is reached"
    )
    serve.add_argument("--behind-proxy", action="store_true", help="a proxy on this machine brings the requests")
    serve.add_argument(
        "--device", dest="devices", action="append", default=[], metavar="NAME=ADDRESS",
        help="an instrument of the shelf with a line of its own: /dev/ttyUSB0, socket://HOST:PORT, http://… (weather)",
    )  # fmt: skip
    serve.add_argument("--backup-at", default="", metavar="HH:MM", help="when the nightly backup is made (02:30)")
    serve.add_argument("--backups-kept", type=int, default=None, metavar="N", help="how many of them are kept (14)")
    serve.add_argument("--timezone", default="", metavar="NAME", help="where the laboratory lies (this machine's)")
    admin = commands.add_parser("admin", parents=[where], help="make, list, reset and disable accounts")
    admin.add_argument("action", choices=("create", "list", "reset", "disable", "enable"))
    admin.add_argument("login", nargs="?", default="")
    admin.add_argument("--name", default="", help="the name that stands in the log (default: the login)")
    admin.add_argument("--admin", action="store_true", help="an administrator")
    admin.add_argument("--password-stdin", action="store_true", help="read the password from standard input")
    admin.add_argument("--database", default="", metavar="URL", help="an outside MariaDB")
    backup = commands.add_parser("backup", parents=[where], help="write a backup, and restore it once to prove it")
    backup.add_argument("file")
    commands.add_parser("verify", parents=[where], help="hold every record against its seal")
    restore = commands.add_parser("restore", help="bring a backup back into a new data folder")
    restore.add_argument("file")
    restore.add_argument("--data", required=True, help="a new data folder")
    withhold = commands.add_parser(
        "withhold", parents=[where], help="make a student anonymous: a pseudonym in place of the name, everywhere"
    )
    withhold.add_argument("name", help="the whole name, as it stands on the roster")
    export = commands.add_parser("export", parents=[where], help="write everything in open formats")
    export.add_argument("target", help="a new folder, or a file whose name ends with .zip")


def _evaluate(options: argparse.Namespace) -> int:
    from claykettle.core.run import evaluate_run
    from claykettle.formats.evaluation_json import evaluation_document

    def document(run: Run) -> object:
        return evaluation_document(evaluate_run(run))

    return _compute_lines(options.file, document) if options.lines else _compute_run(options.file, document)


def _suspects(options: argparse.Namespace) -> int:
    from dataclasses import asdict

    from claykettle.core.run import evaluate_run

    def document(run: Run) -> object:
        found = evaluate_run(run)
        return {row.label: asdict(found.suspicion(row.label, options.expect)) for row in found.trials}

    return _compute_run(options.file, document)


def _timetable(options: argparse.Namespace) -> int:
    from claykettle.core.planning.timetable import timetable
    from claykettle.formats.plan_file import read_plan, timetable_document

    return _compute(options.file, lambda data: timetable_document(timetable(read_plan(data))))


def _mark(options: argparse.Namespace) -> int:
    from claykettle.core.marking import mark
    from claykettle.formats.sheet_file import marking_document, read_sheet

    return _compute(options.file, lambda data: marking_document(mark(read_sheet(data))))


def _report(options: argparse.Namespace) -> int:
    from claykettle.core.report import report_of
    from claykettle.core.run import evaluate_run
    from claykettle.formats.report import FORMS
    from claykettle.formats.run_file import read_run

    found = _found(options.file, lambda data: FORMS[options.to].write(report_of(evaluate_run(read_run(data)))))
    if found is None:
        return 2
    if not options.output:
        sys.stdout.buffer.write(found)
        return 0
    return 0 if _written(options.output, found) else 2


def _written(name: str, data: bytes) -> bool:
    """Whether a file could be written; where not, it is said why."""
    try:
        Path(name).write_bytes(data)
    except OSError as error:
        print(f"{name}: {error.strerror} [not-written]", file=sys.stderr)
        return False
    return True


def _practise(options: argparse.Namespace) -> int:
    import json

    from claykettle.core.errors import Refusal
    from claykettle.formats.practice_file import practised, truth_document, write_practised

    asked = (options.method, options.seed)
    more = (options.trials, options.faults, options.skill)
    found: Practised | None = None
    if options.options:
        found = _found(options.options, lambda data: practised(*asked, data, *more))
    else:
        try:
            found = practised(*asked, None, *more)
        except Refusal as refusal:
            _say(refusal)
    if found is None:
        return 2
    if options.truth:
        truth = json.dumps(truth_document(found), ensure_ascii=False, indent=2, allow_nan=False) + "\n"
        if not _written(options.truth, truth.encode()):
            return 2
    sys.stdout.write(write_practised(found))
    return 0


def _compute_run(name: str, document: Callable[[Run], object]) -> int:
    """Print what `document` makes of a run file."""
    from claykettle.formats.run_file import read_run

    return _compute(name, lambda data: document(read_run(data)))


def _compute(name: str, document: Callable[[bytes], object]) -> int:
    """Print what `document` makes of a file, as JSON; the exit status."""
    import json

    found = _found(name, document)
    if found is None:
        return 2
    sys.stdout.write(json.dumps(found, ensure_ascii=False, indent=2, allow_nan=False) + "\n")
    return 0


Made = TypeVar("Made")


def _found(name: str, document: Callable[[bytes], Made]) -> Made | None:
    """What `document` makes of a file; refused with a line a fault on standard error, and nothing."""
    from claykettle.core.errors import Refusal
    from claykettle.formats.strict_json import LARGEST_FILE

    try:
        if name == "-":
            data = sys.stdin.buffer.read(LARGEST_FILE + 1)
        else:
            with Path(name).open("rb") as file:
                data = file.read(LARGEST_FILE + 1)
        return document(data)
    except OSError as error:
        print(f"{name}: {error.strerror} [no-file]", file=sys.stderr)
    except Refusal as refusal:
        _say(refusal)
    return None


def _say(refusal: Refusal) -> None:
    """Every fault on a line of its own."""
    for fault in refusal.faults:
        print(fault.line(), file=sys.stderr)


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


def _serve(options: argparse.Namespace) -> int:
    from claykettle.launch.serve import run_serve

    return run_serve(options)


def _admin(options: argparse.Namespace) -> int:
    from claykettle.launch.serve import run_admin

    return run_admin(options)


def _backup(options: argparse.Namespace) -> int:
    from claykettle.launch.serve import run_backup

    return run_backup(options)


def _verify(options: argparse.Namespace) -> int:
    from claykettle.launch.serve import run_verify

    return run_verify(options)


def _restore(options: argparse.Namespace) -> int:
    from claykettle.launch.serve import run_restore

    return run_restore(options)


def _withhold(options: argparse.Namespace) -> int:
    from claykettle.launch.serve import run_withhold

    return run_withhold(options)


def _export(options: argparse.Namespace) -> int:
    from claykettle.launch.serve import run_export

    return run_export(options)


def _setup(_: argparse.Namespace) -> int:
    from claykettle.launch.setup import set_up

    return set_up()


def _test(options: argparse.Namespace) -> int:
    from claykettle.launch.testing import Wanted, run_tests

    return run_tests(Wanted(options.patterns, options.long, options.times, options.shuffle))


def _check(_: argparse.Namespace) -> int:
    from claykettle.launch.checks import run_checks

    return run_checks()


def _dev(_: argparse.Namespace) -> int:
    from claykettle.launch.dev import run_dev

    return run_dev()


def _mutate(options: argparse.Namespace) -> int:
    from claykettle.launch.mutate import Wanted, run_mutate

    kind = "structure" if options.structure else "thresholds"
    return run_mutate(Wanted(options.patterns, kind, options.most, options.seed))


def _bench(_: argparse.Namespace) -> int:
    from claykettle.launch.measure.command import run_bench

    return run_bench()


def _documents(_: argparse.Namespace) -> int:
    from claykettle.launch.documents import write_documents

    return write_documents()


if __name__ == "__main__":
    sys.exit(main())
