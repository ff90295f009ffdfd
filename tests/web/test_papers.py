"""Ten papers stand for the one that was not weighed: one far off the others is asked about before it is kept."""

from __future__ import annotations

from typing import Any

from tests.support.server import AppCase, scene


class OfOneBox(AppCase):
    @scene
    def play(self) -> None:
        super().play()
        options = {
            "equation": "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)",
            "reagents": ["BaCl2.2H2O", "Na2SO4 0.250 mol/L"],
            "collector": "papers_mean",
        }
        self.filtered = self.start(method="precipitation", options=options)
        for position, text in enumerate(("0.912", "0.909", "0.915"), start=1):
            self.weigh(self.filtered, "papers", text, position)

    def paper(self, text: str, status: int = 200, **more: Any) -> Any:
        """The fourth paper."""
        return self.weigh(self.filtered, "papers", text, 4, status, **more)

    def test_one_like_the_others_is_kept(self) -> None:
        rows = [row for row in self.paper("0.911")["readings"] if row["slot"] == "papers"]
        self.assertEqual([row["text"] for row in rows], ["0.912", "0.909", "0.915", "0.911"])

    def test_swapped_digits_are_offered_in_their_right_order(self) -> None:
        """0.192 may be 0.912 or 1.092; the first is nearer to the others."""
        problem = self.paper("0.192", 409)
        self.assertEqual((problem["code"], problem["suggestion"]), ("doubt", "0.912"))
        self.assertIn("far off the others", problem["title"])

    def test_a_decimal_mark_in_the_wrong_place_is_asked_about(self) -> None:
        problem = self.paper("9.120", 409)
        self.assertIn("Is the decimal mark in its place?", problem["title"])
        self.assertIsNone(problem["suggestion"])

    def test_what_is_asked_about_can_be_kept_with_its_doubt(self) -> None:
        found = self.paper("1.204", 200, confirmed=True)
        row = next(row for row in found["readings"] if row["text"] == "1.204")
        self.assertIn("far off the others", row["doubt"])
