"""The acid over the trials: what the equation takes, by hand, and when it is said to last, to run low, to be short."""

from __future__ import annotations

import unittest
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.run import evaluate_run
from claykettle.formats.run_file import run_from
from tests.support.runs import document

ZINC = {"reagent": "Zn", "equation": "Zn + 2 HCl -> ZnCl2 + H2"}
# 0.6538 g of zinc are 10.00 mmol (65.38 g/mol) and take 20.00 mmol of acid
SAMPLE = {"sample": "0.6538 g", "volume_end": "244 mL", "temperature": "21 degC", "barometer": "1002 hPa"}


def said(
    count: int, volume: str, serves: str | None = None, options: dict[str, Any] | None = None, sample: str = "0.6538 g"
) -> dict[str, str]:
    """Code and text of what is said of 1 mol/L acid after so many trials."""
    acid = {"concentration": "1 mol/L", "volume": volume} | ({"serves": serves} if serves else {})
    trials = [{"label": str(n), "readings": SAMPLE | {"sample": sample}} for n in range(1, count + 1)]
    file = document(options=(ZINC if options is None else options) | {"acid": acid}, trials=trials)
    found = evaluate_run(run_from(file | {"method": "gas_over_water"}))
    return {row.code: row.text for row in found.verdicts if row.about == "acid"}


class OneFilling(unittest.TestCase):
    def test_what_all_trials_take_is_summed(self) -> None:
        text = said(2, "100 mL", "run")["acid-lasts"]
        self.assertIn("100 mL of 1 mol/L HCl hold 100 mmol, 2 trials take 40.0 mmol", text)

    def test_how_many_more_like_the_largest_it_serves(self) -> None:
        """Four fifths of 100 mmol less 40 mmol are 40 mmol: two more of 20 mmol."""
        self.assertIn("enough for 2 more", said(2, "100 mL", "run")["acid-lasts"])
        self.assertIn("enough for 0 more", said(2, "55 mL", "run")["acid-lasts"])

    def test_above_four_fifths_it_runs_low_and_beyond_all_it_is_short(self) -> None:
        self.assertEqual(set(said(2, "45 mL", "run")), {"acid-low"})
        self.assertEqual(set(said(2, "39 mL", "run")), {"acid-short"})
        self.assertEqual(set(said(2, "50.1 mL", "run")), {"acid-lasts"})


class FreshAcid(unittest.TestCase):
    def test_trials_are_not_summed_where_each_has_its_own(self) -> None:
        self.assertEqual(set(said(5, "30 mL")), {"acid-lasts"})
        self.assertIn("the sample takes 20.0 mmol", said(5, "30 mL", "trial")["acid-lasts"])
        self.assertEqual(set(said(1, "19 mL")), {"acid-short"})


class Silent(unittest.TestCase):
    def test_of_an_unknown_metal_and_without_acid_nothing_is_said(self) -> None:
        self.assertEqual(said(1, "50 mL", options={"gas": "H2"}), {})
        trials = [{"label": "1", "readings": SAMPLE}]
        found = evaluate_run(run_from(document(options=ZINC, trials=trials) | {"method": "gas_over_water"}))
        self.assertNotIn("acid", {row.about for row in found.verdicts})


class Refused(unittest.TestCase):
    def test_each_at_its_place(self) -> None:
        for acid, path in (
            ({"concentration": "1 mol/L"}, "options.acid.volume"),
            ({"concentration": "strong", "volume": "50 mL"}, "options.acid.concentration"),
            ({"concentration": "1 mol/L", "volume": "50 g"}, "options.acid.volume"),
            ({"concentration": "1 mol/L", "volume": "50 mL", "serves": "bench"}, "options.acid.serves"),
        ):
            file = document(options=ZINC | {"acid": acid}, trials=[{"label": "1", "readings": SAMPLE}])
            with self.subTest(acid), self.assertRaises(Refusal) as refused:
                run_from(file | {"method": "gas_over_water"})
            self.assertEqual(refused.exception.faults[0].path, path)
