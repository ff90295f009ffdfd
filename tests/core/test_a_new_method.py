"""Adding a method touches its folder and its tests, and nothing else: a small one is added here and must be whole."""

from __future__ import annotations

import io
import unittest
from pathlib import Path
from unittest import mock

from claykettle.core import methods
from claykettle.core.methods import registry
from claykettle.core.run import evaluate_run
from claykettle.formats.run_file import run_from
from claykettle.formats.run_models import json_schema

FOLDER = Path(__file__).parents[1] / "support" / "added"
RUN = {
    "format": "clay-kettle/run",
    "version": 1,
    "method": "stone_density",
    "instruments": {"balance": {"half_width": "0.01 g"}, "liquid_volume": {"half_width": "0.5 mL"}},
    "trials": [
        {"label": "1", "readings": {"stone": "26.50 g", "volume_before": "30.0 mL", "volume_after": "40.0 mL"}},
        {"label": "2", "readings": {"stone": "2.00 g", "volume_before": "30.0 mL", "volume_after": "40.0 mL"}},
    ],
}


class ANewMethod(unittest.TestCase):
    def setUp(self) -> None:
        for found in (registry.folders, registry._method_of, registry.all_methods):
            found.cache_clear()
            self.addCleanup(found.cache_clear)
        patched = mock.patch.object(methods, "__path__", [*methods.__path__, str(FOLDER)])
        patched.start()
        self.addCleanup(patched.stop)

    def test_it_evaluates_and_judges(self) -> None:
        first, second = evaluate_run(run_from(RUN)).trials
        found = first.result("density")
        assert found is not None
        self.assertEqual(found.text, "2.65 ± 0.22 g/mL")  # 2 × 2.65 × √2 × 0.5/√3 / 10 by hand: 0.216
        self.assertEqual([line.substituted for line in first.working], ["40.0 mL − 30.0 mL", "26.50 g / 10.0 mL"])
        self.assertIn("floats", {verdict.code for verdict in second.verdicts})

    def test_run_file_form_and_procedure_know_it(self) -> None:
        self.assertIn("StoneDensityRun", json_schema()["$defs"])
        self.assertIn("stone_density", {row.method for row in registry.shipped_procedures()})

    def test_what_holds_for_every_method_holds_for_it(self) -> None:
        """The shared tests themselves, with the new method among the methods."""
        names = ["tests.core.test_methods", "tests.core.test_suspects.Signs", "tests.core.test_suspects.Doses"]
        said = io.StringIO()
        found = unittest.TextTestRunner(said).run(unittest.TestLoader().loadTestsFromNames(names))
        self.assertTrue(found.wasSuccessful(), said.getvalue()[-3000:])
        self.assertGreater(found.testsRun, 10)
