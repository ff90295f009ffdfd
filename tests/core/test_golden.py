"""What a run evaluates to stays the same to the letter, whatever is moved or renamed behind it."""

from __future__ import annotations

import unittest

from tests.golden import evaluated, evaluation_file, run_files


class GoldenEvaluations(unittest.TestCase):
    maxDiff = 4000

    def test_every_demo_run_evaluates_as_it_did(self) -> None:
        self.assertGreaterEqual(len(run_files()), 26)
        for path in run_files():
            with self.subTest(path.name):
                kept = evaluation_file(path).read_text(encoding="utf-8").splitlines()
                self.assertEqual(evaluated(path).splitlines(), kept)
