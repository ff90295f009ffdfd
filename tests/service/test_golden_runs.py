"""The demo's runs as run files, to the letter: what golden evaluations start from is what the demo holds."""

from __future__ import annotations

import json
import re

from claykettle.service.runs.files import run_file
from claykettle.service.visit import Visit
from tests.golden import FOLDER, as_text, run_files
from tests.support.demo import DemoCase


def name_of(title: str) -> str:
    """A run's title as a file's name."""
    return re.sub(r"[^a-z0-9]+", "-", title.casefold()).strip("-")


CLASS = "Water of zinc sulfate"


class GoldenRuns(DemoCase):
    def test_the_demo_holds_what_the_golden_evaluations_start_from(self) -> None:
        runs = self.laboratory.ask(Visit.runs)
        # the class of the evening goes on after they were frozen
        found = {f"{name_of(run.title)}.run.json": run_file(run) for run in runs if run.title != CLASS}
        self.assertEqual(sorted(found), [path.name for path in run_files()])
        for name, document in found.items():
            with self.subTest(name):
                self.assertEqual(as_text(document), (FOLDER / name).read_text(encoding="utf-8"))
                json.loads(as_text(document))
