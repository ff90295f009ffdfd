"""The colours of both themes hold the contrast that WCAG 2.2 asks for, computed from the style sheet itself.

Relative luminance and contrast ratio: W3C, WCAG 2.2, definitions; 4.5 : 1 for text (1.4.3), 3 : 1 for large text
and for the parts of a picture or control that carry meaning (1.4.11).
"""

from __future__ import annotations

import re
import unittest

from claykettle.launch.paths import FRONTEND

GROUNDS = ("paper", "raised")
TEXT = ("ink", "quiet", "act", "settled", "watch", "stop")
PARTS = ("bar", "clay-edge", "salt-edge")


def themes() -> dict[str, dict[str, str]]:
    """Our colours by name, for light and for dark."""
    sheet = (FRONTEND / "src/app.css").read_text(encoding="utf-8")
    light = re.search(r":root \{(.*?)\n\}", sheet, re.S)
    dark = re.search(r"\[data-mode='dark'\] \{(.*?)\n\}", sheet, re.S)
    assert light is not None and dark is not None
    return {
        name: dict(re.findall(r"--([\w-]+): (#\w+);", block[1])) for name, block in (("light", light), ("dark", dark))
    }


def luminance(colour: str) -> float:
    """Relative luminance of #rgb or #rrggbb, 0 to 1."""
    digits = colour[1:] if len(colour) == 7 else "".join(2 * digit for digit in colour[1:])
    channels = [int(digits[at : at + 2], 16) / 255 for at in (0, 2, 4)]
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in channels]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(one: str, other: str) -> float:
    """The contrast ratio of two colours, 1 to 21."""
    high, low = sorted((luminance(one), luminance(other)), reverse=True)
    return (high + 0.05) / (low + 0.05)


class Contrast(unittest.TestCase):
    def test_the_formula_itself(self) -> None:
        """Black on white is 21 : 1, and #767676 on white 4.54 : 1 (W3C's own examples)."""
        self.assertAlmostEqual(contrast("#000", "#fff"), 21, places=9)
        self.assertAlmostEqual(contrast("#767676", "#ffffff"), 4.54, places=2)

    def test_text_in_both_themes(self) -> None:
        for mode, colours in themes().items():
            for ground in GROUNDS:
                for text in TEXT:
                    with self.subTest(mode=mode, text=text, ground=ground):
                        self.assertGreaterEqual(contrast(colours[text], colours[ground]), 4.5)
            for text, ground in (
                ("on-act", "act"),
                ("settled", "settled-wash"),
                ("stop", "stop-wash"),
                ("ink", "band"),
            ):
                with self.subTest(mode=mode, text=text, ground=ground):
                    self.assertGreaterEqual(contrast(colours[text], colours[ground]), 4.5)

    def test_parts_of_pictures_in_both_themes(self) -> None:
        for mode, colours in themes().items():
            for part in PARTS:
                with self.subTest(mode=mode, part=part):
                    self.assertGreaterEqual(contrast(colours[part], colours["paper"]), 3)
