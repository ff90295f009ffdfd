"""Whatever stands above the field at once, at every size: nothing lies over what can be tapped."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager
from uuid import uuid4
from zlib import crc32

from playwright.sync_api import Page, expect

from tests.support.live import SIZES, BrowserCase
from tests.support.tiers import amount, both

ENLARGED = tuple({"width": size["width"] // 2, "height": size["height"] // 2} for size in SIZES)
"""What is left of each size at 200 %."""
OVER = """() => [...document.querySelectorAll('button, a[href], input, select, textarea, summary')].flatMap((node) => {
    if (node.matches('.skip') || !node.checkVisibility({visibilityProperty: true, opacityProperty: true})) return [];
    node.scrollIntoView({block: 'center', inline: 'center', behavior: 'instant'});
    const box = node.getBoundingClientRect();
    const there = document.elementFromPoint(box.x + box.width / 2, box.y + box.height / 2);
    const label = node.labels?.[0];
    if (there && (node.contains(there) || label?.contains(there))) return [];
    const name = (of) => of?.getAttribute?.('aria-label') || of?.textContent?.trim().slice(0, 40) || of?.className;
    return [`${name(node)} lies under ${name(there)}`];
})"""
"""What cannot be tapped in its middle, once it was scrolled to."""
LONG = "Everybody: the gas is turned off at half past. Let the crucibles cool on the mat, and weigh before you wash."


class ATablet(BrowserCase):
    def assert_tapped(self, page: Page, state: str) -> None:
        """Each thing that can be tapped is reached at each size; enlarged, every day at one of them."""
        for size in (*SIZES, *amount((ENLARGED[crc32(state.encode()) % len(SIZES)],), ENLARGED)):
            page.set_viewport_size(size)  # type: ignore[arg-type]  # a width and a height
            page.wait_for_timeout(150)
            with self.subTest(state, size=size):
                self.assertEqual([], page.evaluate(OVER))
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth - innerWidth"), 0)

    @contextmanager
    def tablet(self, bench: str) -> Iterator[tuple[Page, str]]:
        """A tablet that joined its bench, and its run."""
        with self.page("/join", SIZES[2], signed_in=False, offline_expected=True, touch=True) as page:
            page.get_by_label("Code of the class").fill(self.app.post("/api/class/code", {})["code"])
            page.get_by_role("button", name=bench, exact=True).tap()
            expect(page).to_have_url(re.compile("/runs/"))
            expect(page.locator("#reading")).to_be_visible()
            yield page, page.url.split("/runs/")[1].split("?")[0]

    def record(self, run: str, slot: str, position: int, text: str) -> None:
        body = {"uuid": str(uuid4()), "slot": slot, "position": position, "text": text, "confirmed": True}
        self.app.post(f"/api/runs/{run}/readings", body)

    @both
    def test_all_that_a_bench_can_be_told_at_once_leaves_everything_in_reach(self) -> None:
        with self.tablet("China") as (page, run):
            self.assert_tapped(page, "at work")
            self.app.post("/api/classes/0/messages", {"uuid": str(uuid4()), "text": LONG})
            expect(page.get_by_text(LONG)).to_be_visible()
            self.assert_tapped(page, "a message")
            # a mass below the vessel's own: the longest verdicts stand beside it
            self.record(run, "vessel_residue", 2, "26.806")
            expect(page.locator("[data-said=first] li").first).to_be_visible()
            self.assert_tapped(page, "a verdict")
            page.set_viewport_size(SIZES[2])  # type: ignore[arg-type]  # a width and a height
            page.get_by_role("button", name="Another trial").first.tap()
            expect(page.get_by_role("navigation", name="Trials of this run")).to_be_visible()
            page.go_back()
            page.locator("#reading").fill("234.431")
            page.get_by_role("button", name=re.compile("Record")).tap()
            expect(page.locator(".asks")).to_be_visible()
            self.assert_tapped(page, "two trials and a question")
            page.context.set_offline(True)
            page.get_by_role("button", name=re.compile("is what (I|the balance)")).tap()
            expect(page.get_by_text("Waiting on this device")).to_be_visible()
            self.assert_tapped(page, "no server")
            self.app.post("/api/class/closed", {"closed": True})
            page.context.set_offline(False)
            expect(page.get_by_text("The class is closed").first).to_be_visible()
            self.assert_tapped(page, "closed")
