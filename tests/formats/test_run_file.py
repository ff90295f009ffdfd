"""The run file: read, written, refused with every fault at its path."""

from __future__ import annotations

import json
import unittest
from typing import Any

from claykettle.core.errors import Refusal
from claykettle.core.run import evaluate_run
from claykettle.formats.run_file import read_run, run_document, run_from, write_run
from tests.support.runs import ZINC, document


def faults_of(data: dict[str, Any] | bytes) -> dict[str, str]:
    """Path and code of every fault of a document."""
    try:
        read_run(data if isinstance(data, bytes) else json.dumps(data).encode())
    except Refusal as refusal:
        return {fault.path: fault.code for fault in refusal.faults}
    return {}


class OwnHalfWidth(unittest.TestCase):
    """A reading that another instrument took bears its own half-width."""

    def read(self, half_width: str) -> dict[str, Any]:
        """A run file with one such reading."""
        vessel = {"text": "31.204 g", "instrument": "Balance D", "half_width": half_width}
        return document({**ZINC, "vessel": vessel})

    def test_it_counts_before_the_run_s_instrument(self) -> None:
        """The vessel's share is that of ± 0.01 g among ± 0.001 g: the ratio of variances is 100."""
        file = self.read("0.01 g")
        shares = {row.reading: row.share for row in evaluate_run(run_from(file)).trials[0].shares("sample_mass")}
        self.assertAlmostEqual(shares["vessel"] / shares["vessel_sample"], 100, places=6)

    def test_it_is_written_as_it_was_read(self) -> None:
        file = self.read("0.01 g")
        self.assertEqual(run_document(run_from(file))["trials"][0]["readings"]["vessel"]["half_width"], "0.01 g")
        self.assertEqual(read_run(write_run(run_from(file)).encode()), run_from(file))

    def test_what_is_none_is_refused_with_its_path(self) -> None:
        path = "trials[0].readings.vessel.half_width"
        for text, code in (("0 g", "not-positive"), ("fine", "not-a-number"), ("0.1 mL", "wrong-dimension")):
            with self.subTest(text):
                self.assertEqual(faults_of(self.read(text)), {path: code})


class Read(unittest.TestCase):
    def test_readings_come_in_every_form(self) -> None:
        run = run_from(
            document(
                {
                    "vessel": {
                        "text": "31,204 g",
                        "by": "Marl",
                        "at": "2026-03-05T18:42:10+01:00",
                        "corrects": "31.240 g",
                        "reason": "digits swapped",
                    },
                    "vessel_sample": "32.861 g",
                    "vessel_residue": "32.151 g",
                }
            )
        )
        entries = run.trials[0].entries
        self.assertEqual(entries["vessel"][0].reading.text, "31,204 g")
        self.assertEqual(entries["vessel"][0].reason, "digits swapped")
        self.assertEqual(len(entries["vessel_residue"]), 1)

    def test_the_examples_of_the_contract(self) -> None:
        full = document(
            title="Zinc sulfate from the glaze store", note="evening",
            options={"salt": "ZnSO4", "tolerance": "0.005 g", "candidates": [], "accepted": None,
                     "max_ratio": 12, "halves": False,
                     "constant_value": "mean", "level": "formula"},
            planned={"sample": {"low": "1 g", "high": "2 g"}},
            observations=[{"at": "2026-03-05T18:42:10Z", "by": "Marl", "trial": "1", "tag": "popping"}],
            procedure={"name": "hydrate_constant_mass", "version": 1, "schools": {"cover": "on"}},
        )  # fmt: skip
        run = run_from(full)
        self.assertEqual(run.title, "Zinc sulfate from the glaze store")
        self.assertEqual(run.observations[0].tag, "popping")

    def test_shared_readings_hold_for_every_trial(self) -> None:
        readings = {"vessel_sample": "32.861 g", "vessel_residue": ["32.134 g", "32.134 g"]}
        run = run_from(
            document(shared={"vessel": "31.204 g"}, trials=[{"label": n, "readings": readings} for n in "12"])
        )
        self.assertIn("vessel", run.shared)


class Written(unittest.TestCase):
    def test_what_is_written_reads_as_the_same_run(self) -> None:
        first = run_from(
            document(
                title="Borax",
                planned={"sample": {"about": "1.50 g"}},
                options={"salt": "Na2B4O7", "tolerance": "0.009 g"},
            )
        )
        again = read_run(write_run(first).encode())
        self.assertEqual(run_document(again), run_document(first))
        self.assertEqual(again.half_widths, first.half_widths)

    def test_readings_are_written_digit_for_digit(self) -> None:
        readings = {"vessel": "31.20 g", "vessel_sample": "32,90 g", "vessel_residue": ["3.2e1 g"]}
        written = run_document(run_from(document(readings)))
        self.assertEqual(written["trials"][0]["readings"], readings)


class Refused(unittest.TestCase):
    def test_every_fault_of_a_file_is_found_at_its_path(self) -> None:
        found = faults_of(
            document(
                {"vessel": "abc", "vessel_sample": None, "vessel_residue": ["32.1 g", "2 mL"], "colour": "blue"},
                {"salt": "Znso4", "spin": 1},
                instruments={"balance": {"half_width": "0 g"}, "abacus": {"half_width": "1 g"}},
                planned={"vessel": {"about": "1 g", "low": "1 g"}},
            )
        )
        self.assertEqual(
            found,
            {
                "options.salt": "unknown-element",
                "options.spin": "unknown-field",
                "instruments.balance.half_width": "not-positive",
                "instruments.abacus": "unknown-field",
                "planned.vessel": "window",
                "trials[0].readings.vessel": "not-a-number",
                "trials[0].readings.vessel_sample": "not-a-reading",
                "trials[0].readings.vessel_residue[1]": "wrong-dimension",
                "trials[0].readings.colour": "unknown-field",
            },
        )

    def test_the_outer_form(self) -> None:
        cases: list[tuple[dict[str, Any], str]] = [
            (document(bogus=1), "bogus"),
            (document(version=2), "version"),
            (document(format="other"), "format"),
            (document(method="alchemy"), "method"),
            (document(trials=[]), "trials"),
            (document(trials=[{"label": "1", "readings": {}}] * 2), "trials[1].label"),
            (document(trials=[{"label": str(n), "readings": {}} for n in range(201)]), "trials"),
            (document({**ZINC, "vessel_residue": ["32.1 g"] * 101}), "trials[0].readings.vessel_residue"),
            (document({**ZINC, "vessel_residue": []}), "trials[0].readings.vessel_residue"),
            (document({**ZINC, "vessel": ["1 g", "2 g"]}), "trials[0].readings.vessel"),
            (document({**ZINC, "vessel": {"text": "1 g", "colour": "red"}}), "trials[0].readings.vessel.colour"),
            (document({**ZINC, "vessel": {"text": "1 g", "at": "yesterday"}}), "trials[0].readings.vessel.at"),
            (document({**ZINC, "vessel": 31.2}), "trials[0].readings.vessel"),
            (document({**ZINC, "sample": "1 g"}), "trials[0].readings.vessel_sample"),
            (document({"sample": "1 g", "sample_tare": "1 g"}), "trials[0].readings.sample"),
            (document(options={"salt": "ZnSO4.7H2O"}), "options.salt"),
            (document(options={"salt": "ZnSO4", "accepted": "CuSO4.5H2O"}), "options.accepted"),
            (document(options={"candidates": ["ZnSO4"]}), "options.candidates"),
            (document(options={"salt": "(" * 5000}), "options.salt"),
            (document(options={"salt": "ZnSO4", "tolerance": "5"}), "options.tolerance"),
            (document(options={"salt": "ZnSO4", "max_ratio": 0}), "options.max_ratio"),
            (document(options={"salt": "ZnSO4", "max_ratio": "18"}), "options.max_ratio"),
            (document(options={"salt": "ZnSO4", "constant_value": "best"}), "options.constant_value"),
        ]
        for data, path in cases:
            with self.subTest(path):
                self.assertIn(path, faults_of(data))

    def test_json_traps(self) -> None:
        text = json.dumps(document())
        for data, code in (
            (b"{", "json"),
            (b"", "json"),
            (b"[1]", "not-a-run"),
            (b"\xff\xfe{}", "not-text"),
            (text.replace('"method"', '"method": "hydrate", "method"').encode(), "duplicate-key"),
            (b'{"a": NaN}', "not-finite"),
            (b'{"a": -Infinity}', "not-finite"),
            (b'{"a": 1e999}', "not-finite"),
            (b'{"a": ' + b"9" * 5000 + b"}", "not-finite"),
            (b'{"a": "\\ud800"}', "not-text"),
            (b"[" * 100_000, "json"),
            (b" " * (2 * 1024 * 1024 + 1), "too-large"),
        ):
            with self.subTest(data[:20]):
                self.assertEqual(list(faults_of(data).values()), [code])
