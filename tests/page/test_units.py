"""The page's own classes (queue, watcher, bench, forms), tested without a browser by vitest: here as one test."""

from __future__ import annotations

import json
import subprocess
import tempfile
import unittest
from pathlib import Path

from claykettle.launch.node import npm_environment
from claykettle.launch.paths import FRONTEND

LEAST = 19


class Units(unittest.TestCase):
    def test_every_unit_of_the_page_does_what_its_test_says(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            report = Path(folder) / "report.json"
            command = ["npx", "vitest", "run", "--reporter=json", f"--outputFile={report}"]
            done = subprocess.run(
                command, cwd=FRONTEND, env=npm_environment(), capture_output=True, text=True, check=False
            )
            self.assertTrue(report.is_file(), (done.stdout + done.stderr)[-2000:])
            found = json.loads(report.read_text())
        for file in found["testResults"]:
            for row in file["assertionResults"]:
                with self.subTest(row["fullName"]):
                    self.assertEqual(row["status"], "passed", "\n".join(row["failureMessages"]))
        self.assertEqual(done.returncode, 0, (done.stdout + done.stderr)[-2000:])
        self.assertGreaterEqual(found["numPassedTests"], LEAST)
