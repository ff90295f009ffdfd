"""The desk after the class: sheets marked, gone through by keyboard."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.support.live import TABLET, BrowserCase

PHONE, LAPTOP = {"width": 390, "height": 844}, {"width": 1024, "height": 768}


class Desk(BrowserCase):
    def test_the_demo_s_sheets_are_gone_through_by_keyboard(self) -> None:
        with self.page("/desk") as page:
            expect(page.get_by_text("2 sheets handed in")).to_be_visible()
            expect(page.get_by_role("heading", name="Flint, Eli Marsh: own figures")).to_be_visible()
            expect(page.get_by_text("10 of 10").last).to_be_visible()
            page.keyboard.press("ArrowDown")
            expect(page.get_by_role("heading", name="Kaolin, Ivo Plover: own figures")).to_be_visible()
            expect(page.get_by_text("First wrong line: 6, amount of salt.")).to_be_visible()
            expect(page.get_by_text("another reading or line was taken")).to_be_visible()
            expect(page.get_by_text("though your own ratio x, 12.5, does not")).to_be_visible()
            page.keyboard.press("ArrowUp")
            expect(page.get_by_role("heading", name="Flint, Eli Marsh: own figures")).to_be_visible()
            page.get_by_role("button", name="Next: Kaolin").click()
            expect(page.get_by_role("button", name="Kaolin, Ivo Plover, trial 1: 9 of 10")).to_have_attribute(
                "aria-pressed", "true"
            )
            self.assertEqual([], self.serious_faults(page))

    def test_it_is_fit_for_every_size_and_both_themes(self) -> None:
        for size in (None, LAPTOP, TABLET, PHONE):
            for mode in ("light", "dark"):
                with self.subTest(size=size, mode=mode), self.page("/desk", size, mode) as page:
                    expect(page.get_by_role("heading", level=2)).to_be_visible()
                    self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth - innerWidth"), 0)
                    self.assertEqual([], self.serious_faults(page))
