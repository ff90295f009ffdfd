"""`kettle evaluate`: JSON to standard output, faults to standard error, without database, Node or build."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from typing import Any

from claykettle.launch.paths import ROOT
from tests.support.commands import Done, kettle, told
from tests.support.runs import document


def evaluate(*arguments: str, data: bytes = b"") -> Done[bytes]:
    """Run the command as the launcher does."""
    return kettle("evaluate", *arguments, given=data)


class Evaluate(unittest.TestCase):
    def file(self, data: Any) -> str:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / "run.json"
        path.write_bytes(data if isinstance(data, bytes) else json.dumps(data).encode())
        return str(path)

    def test_a_file_and_standard_input_give_the_same(self) -> None:
        data = json.dumps(document()).encode()
        from_file, from_input = evaluate(self.file(data)), evaluate("-", data=data)
        self.assertEqual((from_file.returncode, from_file.stderr), (0, b""))
        self.assertEqual(from_file.stdout, from_input.stdout)
        found = json.loads(from_file.stdout)
        self.assertEqual(found["format"], "clay-kettle/evaluation")
        trial = found["trials"][0]
        self.assertEqual(trial["results"]["formula"], {"text": "ZnSO4·7H2O", "nearest": "ZnSO4·7H2O"})
        self.assertEqual(trial["results"]["water_percent"]["text"], "43.87 ± 0.16 %")
        self.assertEqual(trial["candidates"][0]["status"], "match")
        self.assertAlmostEqual(sum(row["share"] for row in trial["budget"] if row["result"] == "water_ratio"), 1)
        self.assertEqual(set(found["summary"]["water_ratio"]), {"mean", "standard_deviation", "n", "unit"})

    def test_a_refusal_is_one_line_a_fault_and_an_empty_output(self) -> None:
        bad = document({"vessel": "abc", "vessel_sample": "1 mL"}, {"salt": "Znso4"})
        done = evaluate(self.file(bad))
        self.assertEqual((done.returncode, done.stdout), (2, b""))
        lines = done.stderr.decode().splitlines()
        self.assertEqual(
            [line.split(":")[0] for line in lines],
            ["options.salt", "trials[0].readings.vessel", "trials[0].readings.vessel_sample"],
        )

    def test_no_stack_trace_for_any_broken_file(self) -> None:
        for data in (b"", b"{", b"null", b"[" * 100_000, b"x" * 10_000_000, b'{"format": 5}', b"\x00"):
            with self.subTest(data[:10]):
                done = evaluate("-", data=data)
                self.assertEqual((done.returncode, done.stdout), (2, b""))
                self.assertNotIn(b"Traceback", done.stderr)

    def test_a_file_of_lines_is_answered_line_by_line(self) -> None:
        good, bad = json.dumps(document()), json.dumps(document({"vessel": "abc"}))
        lines = "\n".join([good, "", bad, "{", good]).encode()
        for name, data in ((self.file(lines), b""), ("-", lines)):
            done = evaluate("--lines", name, data=data)
            self.assertEqual((done.returncode, done.stderr), (0, b""))
            rows = [json.loads(line) for line in done.stdout.splitlines()]
            self.assertEqual(len(rows), 4)
            self.assertEqual(rows[0], json.loads(evaluate("-", data=good.encode()).stdout))
            self.assertEqual(rows[0], rows[3])
            self.assertIn("trials[0].readings.vessel", rows[1]["refused"][0])
            self.assertEqual(list(rows[2]), ["refused"])
        self.assertEqual(evaluate("--lines", "/nowhere/at/all").returncode, 2)

    def test_a_file_that_is_not_there(self) -> None:
        done = evaluate("nowhere.json")
        self.assertEqual(done.returncode, 2)
        self.assertIn(b"nowhere.json", done.stderr)

    def test_it_needs_neither_database_nor_web(self) -> None:
        """The command's imports hold no Flask, no SQLAlchemy, no driver."""
        code = (
            "import sys, claykettle.cli as c; c.main(['evaluate', sys.argv[1]]); "
            "print([m for m in ('flask', 'sqlalchemy', 'pymysql', 'gunicorn') if m in sys.modules], file=sys.stderr)"
        )
        environment = dict(os.environ, PYTHONPATH=str(ROOT / "src"))
        command = [sys.executable, "-c", code, self.file(document())]
        done = subprocess.run(command, env=environment, capture_output=True, check=False, timeout=60)
        self.assertEqual(done.stderr.strip(), b"[]")


class Suspects(unittest.TestCase):
    def command(self, *arguments: str, text: str = "") -> Done[str]:
        return told(kettle("suspects", *arguments, given=text.encode()))

    def test_the_suspects_of_every_trial_as_json(self) -> None:
        done = self.command("-", "--expect", "7.2", text=json.dumps(document()))
        self.assertEqual(done.returncode, 0, done.stderr)
        found = json.loads(done.stdout)["1"]
        self.assertEqual((found["key"], found["expected"]), ("water_ratio", 7.2))
        self.assertEqual(found["suspects"][0]["standing"], "believable")

    def test_a_faulty_expectation_and_a_faulty_file_are_refused_alike(self) -> None:
        for arguments, text, words in (
            (("-", "--expect", "seven"), json.dumps(document()), "expect: 'seven' is no figure"),
            (("-",), "{", "not JSON"),
            (("nowhere.json",), "", "no-file"),
        ):
            done = self.command(*arguments, text=text)
            self.assertEqual((done.returncode, done.stdout), (2, ""))
            self.assertIn(words, done.stderr)
