"""Lengths off a photograph over HTTP, and kept as what they are: read by no ruler, with a half-width of their own."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from tests.support.server import AppCase

BAR = [[100, 650], [300, 650]]


class Photographs(AppCase):
    def measure(self, status: int = 200, **more: Any) -> Any:
        body = {"bar": "10 mm", "scale": BAR, "things": [[[0, 0], [160, 0]]], "click": 2}
        return self.post("/api/photograph", body | more, status)

    def cooling(self) -> Any:
        return self.start(method="crystal_growth", options={"solute": "KAl(SO4)2.12H2O"})

    def test_points_become_lengths(self) -> None:
        sheet = self.measure()["sheet"]
        self.assertEqual(sheet["lengths"], [{"text": "8.0 mm", "half_width": "0.2 mm", "shown": "8.00 ± 0.21 mm"}])

    def test_what_is_wrong_stands_at_its_place(self) -> None:
        for more, path in (
            ({"bar": "10"}, "bar"),
            ({"scale": [[0, 0], [3, 0]]}, "scale"),
            ({"things": [[[1, 1], [1, 1]]]}, "things[0]"),
        ):
            with self.subTest(path):
                self.assertEqual([fault["path"] for fault in self.measure(422, **more)["faults"]], [path])

    def test_points_that_are_none_are_refused(self) -> None:
        for more in ({"scale": [[0, 0]]}, {"click": 0}, {"things": [[[-1, 0], [1, 1]]]}, {"picture": "x"}):
            with self.subTest(more):
                self.measure(422, **more)

    def test_a_measured_length_is_kept_with_its_instrument_and_counts_with_its_half_width(self) -> None:
        run = self.cooling()
        more = {"instrument": "photograph", "half_width": "0.2 mm"}
        found = self.weigh(run, "lengths_1", "8.0 mm", **more)
        row = next(row for row in found["readings"] if row["slot"] == "lengths_1")
        self.assertEqual((row["text"], row["unit"], row["instrument"]), ("8.0", "mm", "photograph"))
        exported = self.get(f"/api/runs/{run['uuid']}/run-file")["trials"][0]["readings"]["lengths_1"][0]
        self.assertEqual(exported["instrument"], "photograph")

    def test_a_half_width_is_asked_of_a_photograph_and_of_nothing_else(self) -> None:
        run = self.cooling()
        for slot, more, path in (
            ("lengths_1", {"instrument": "photograph"}, "half_width"),
            ("lengths_1", {"instrument": "photograph", "half_width": "0 mm"}, "half_width"),
            ("lengths_1", {"half_width": "0.2 mm"}, "half_width"),
            ("volume_1", {"instrument": "photograph", "half_width": "0.2 mL"}, "half_width"),
        ):
            with self.subTest(slot, **more):
                answer = self.weigh(run, slot, "8.0", status=422, **more)
                self.assertEqual([fault["path"] for fault in answer["faults"]], [path])
        self.assertEqual(self.get(f"/api/runs/{run['uuid']}")["readings"], [])

    def test_the_same_length_sent_twice_is_one_reading(self) -> None:
        run, uuid = self.cooling(), str(uuid4())
        more = {"instrument": "photograph", "half_width": "0.2 mm", "uuid": uuid}
        for _ in range(2):
            found = self.weigh(run, "lengths_1", "8.0 mm", **more)
        self.assertEqual(len(found["readings"]), 1)
