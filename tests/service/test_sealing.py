"""What the formats of a signature make of one record: were these figures to change, no signed record would hold."""

from __future__ import annotations

import unittest

from claykettle.store.records import StoredChange, StoredSignature, StoredStepEvent, StoredWithdrawal
from claykettle.store.sealing import record_hash, seal
from tests.service.test_signing import AT, reading, run

COVERS = ("r1", "r2", "o1")
RECORD_1 = "b0ed11fcc37bbafad274b8354f625563133d9d0144c293924e47f92f2177e77d"
"""Made by the version of this program that signed first, before formats had a number."""

RECORD_2 = "13c89b4cdd62546d30a2731dc7c37be93442298ee51c27484dfd855b83fa2c8d"
"""The same with its steps, changes and what was taken back: the second format, as it was first made."""


class Golden(unittest.TestCase):
    def test_the_first_format(self) -> None:
        second = reading("r2", position=2, text="31,20", half_width="0.01 g", doubt="sure?", reason="why")
        self.assertEqual(record_hash(run(reading(), second), COVERS, form=1), RECORD_1)

    def test_the_second_format(self) -> None:
        second = reading("r2", position=2, text="31,20", half_width="0.01 g", doubt="sure?", reason="why")
        event = StoredStepEvent("e1", "1", "heat#1", "finished", 0, AT, "Marl", 1, "")
        change = StoredChange("c1", "options.salt", "MgSO4", "ZnSO4", "wrong jar", AT, "Marl")
        gone = StoredWithdrawal("w1", "e1", "slip", AT, "Marl")
        whole = run(reading(), second, step_events=(event,), changes=(change,), withdrawals=(gone,))
        self.assertEqual(record_hash(whole, (*COVERS, "e1", "c1", "w1"), form=2), RECORD_2)

    def test_the_seal_of_a_first_signature_and_of_one_behind_another(self) -> None:
        signature = StoredSignature("s1", "Flint", AT, COVERS, {"1": "x = 7.00 ± 0.02"}, RECORD_1, "")
        self.assertEqual(seal("", signature), "5f1d09e8d634249ac43d86b422cc7e0abc3561b39e5e0dc885d2924c02cadfef")
        self.assertEqual(seal("ab" * 32, signature), "ec38d32416089604affacf2af76cf0b5d0fd0e873204a876b54caa5c7b872586")

    def test_a_format_that_is_not_known_is_no_hash(self) -> None:
        with self.assertRaises(KeyError):
            record_hash(run(reading()), COVERS, form=99)
