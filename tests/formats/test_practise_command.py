"""`kettle practise`: a run file of a bench that exists only here, the truth beside it; a fault at its place."""

from __future__ import annotations

import json
import tempfile
import unittest
from pathlib import Path
from typing import Any

from claykettle.core.methods.registry import all_methods
from claykettle.core.run import evaluate_run
from claykettle.formats.practice_file import practised, truth_document, write_practised
from claykettle.formats.run_file import read_run
from tests.support.commands import Done, kettle


def command(*words: str, given: bytes = b"") -> Done[bytes]:
    """The command as the launcher runs it."""
    return kettle("practise", *words, given=given)


class Prints(unittest.TestCase):
    def test_a_run_file_and_the_truth_beside_it(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            truth = Path(folder) / "truth.json"
            done = command("hydrate", "--seed", "7", "--faults", "spatter=0.05", "--trials", "2", "--truth", str(truth))
            self.assertEqual((done.returncode, done.stderr), (0, b""))
            found: dict[str, Any] = json.loads(truth.read_text(encoding="utf-8"))
        self.assertEqual((found["format"], found["version"], found["seed"]), ("clay-kettle/truth", 1, 7))
        self.assertEqual(found["faults"], [{"code": "spatter", "dose": 0.05, "unit": "g"}])
        self.assertEqual(found["true"]["water_ratio"], 7.0)
        run = json.loads(done.stdout)
        self.assertEqual((run["method"], run["practised"], len(run["trials"])), ("hydrate", True, 2))
        self.assertTrue(run["steps"] and run["instruments"] and run["procedure"])
        times = [row["at"] for row in run["steps"]]
        self.assertTrue(all(row.startswith("20") for row in times))

    def test_the_same_seed_gives_the_same_bytes_and_another_does_not(self) -> None:
        once, again, other = (command("gas_over_water", "--seed", seed).stdout for seed in ("12", "12", "13"))
        self.assertEqual(once, again)
        self.assertNotEqual(once, other)

    def test_options_of_a_file_count(self) -> None:
        options = b'{"salt": "CuSO4", "accepted": "CuSO4.5H2O"}'
        done = command("hydrate", "--seed", "3", "--options", "-", given=options)
        self.assertEqual(done.returncode, 0, done.stderr)
        evaluation = evaluate_run(read_run(done.stdout))
        result = evaluation.trials[0].result("water_ratio")
        assert result is not None
        self.assertAlmostEqual(result.value, 5.0, delta=3 * result.standard_uncertainty)

    def test_every_method_s_run_is_read_again_as_it_was_written_and_its_truth_begins_with_the_key(self) -> None:
        for name in all_methods():
            with self.subTest(name):
                found = practised(name, 5, faults="hidden", skill="hasty")
                text = write_practised(found)
                self.assertEqual(write_practised(found), text)
                run = read_run(text.encode())
                self.assertTrue(run.practised)
                for read, made in zip(run.trials, found.run.trials, strict=True):
                    for slot, rows in made.entries.items():
                        shown = [(entry.reading.text, entry.at) for entry in read.entries[slot]]
                        self.assertEqual(shown, [(entry.reading.text, entry.at) for entry in rows])
                key = evaluate_run(run).key
                self.assertEqual(next(iter(truth_document(found)["true"])), key)


class Refuses(unittest.TestCase):
    def test_each_with_its_place_and_nothing_on_standard_output(self) -> None:
        for words, place in (
            (("nothing", "--seed", "1"), "method: "),
            (("hydrate", "--seed", "-1"), "seed: "),
            (("hydrate", "--seed", "1000000000000000001"), "seed: "),
            (("hydrate", "--seed", "1", "--trials", "0"), "trials: "),
            (("hydrate", "--seed", "1", "--faults", "rain"), "faults: "),
            (("gas_over_water", "--seed", "1", "--faults", "vapour-ignored"), "faults: "),
            (("hydrate", "--seed", "1", "--options", "/nowhere.json"), "/nowhere.json: "),
        ):
            with self.subTest(words):
                done = command(*words)
                self.assertEqual((done.returncode, done.stdout), (2, b""))
                self.assertTrue(done.stderr.decode().startswith(place), done.stderr)
                self.assertNotIn(b"Traceback", done.stderr)

    def test_options_that_are_none(self) -> None:
        for given, said in ((b"[]", "options: "), (b'{"salt": 7}', "options.salt"), (b"{", "not JSON")):
            done = command("hydrate", "--seed", "1", "--options", "-", given=given)
            self.assertEqual((done.returncode, done.stdout), (2, b""))
            self.assertIn(said, done.stderr.decode())

    def test_a_truth_that_cannot_be_written(self) -> None:
        done = command("hydrate", "--seed", "1", "--truth", "/nowhere/at/all.json")
        self.assertEqual((done.returncode, done.stdout), (2, b""))
        self.assertIn("not-written", done.stderr.decode())


if __name__ == "__main__":
    unittest.main()
