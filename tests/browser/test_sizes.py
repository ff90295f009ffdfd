"""Every page at every size that it is met at, by keyboard and by screen reader, also with what opens on it."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.test_bench import start_by_keyboard, type_reading
from tests.support.live import DESKTOP, LAPTOP, PHONE, SIZES, TABLET, BrowserCase, themes
from tests.support.tiers import both

TWICE = {"width": 640, "height": 400}
"""What is left of 1280 × 800 when the page is enlarged to twice its size."""


class Bench(BrowserCase):
    def in_sight(self, page: Page, selector: str) -> bool:
        return bool(
            page.evaluate(
                """(selector) => { const node = document.querySelector(selector);
                const box = node.getBoundingClientRect();
                const over = document.elementFromPoint(box.x + box.width / 2, box.y + box.height / 2);
                return box.top >= 0 && box.left >= 0 && box.bottom <= innerHeight + 0.5 && box.right <= innerWidth + 0.5
                    && (node.contains(over) || over?.contains(node)) }""",
                selector,
            )
        )

    def test_verdict_field_keys_and_step_are_in_sight_at_every_size(self) -> None:
        for title in ("Borax from the glaze", "Zinc over water", "Potash alum", "Cobalt"):
            run = self.app.run_named(title)
            for sizes, touch in (((DESKTOP,), False), ((LAPTOP, TABLET, PHONE), True)):
                with self.page(f"/runs/{run['uuid']}", size=sizes[0], touch=touch) as page:
                    expect(page.locator(".entry .box")).to_be_visible()
                    page.wait_for_timeout(500)
                    for size in sizes:
                        page.set_viewport_size(size)  # type: ignore[arg-type]  # a width and a height
                        page.wait_for_timeout(150)
                        with self.subTest(title, size=size):
                            self.verdict_field_and_page_fit(page, size)

    def verdict_field_and_page_fit(self, page: Page, size: dict[str, int]) -> None:
        if page.locator("[data-said=first] li").count():
            self.assertTrue(self.in_sight(page, "[data-said=first] li"), "verdict")
        self.assertTrue(self.in_sight(page, ".entry .box"), "field")
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), size["width"])
        self.assertLessEqual(page.evaluate("document.documentElement.scrollHeight"), size["height"])

    def test_a_long_name_never_costs_the_page_its_controls(self) -> None:
        name = (
            "Zinc sulfate heptahydrate from the new bag of the third delivery, dried over night, second half of class"
        )
        with self.page() as page:
            start_by_keyboard(page, name)
            url = page.url
            for size in SIZES:
                page.set_viewport_size(size)  # type: ignore[arg-type]  # a width and a height
                page.goto(url)
                expect(page.get_by_role("heading", level=1)).to_have_text(name)
                expect(page.get_by_role("button", name="Dark colours")).to_be_in_viewport()
                expect(page.locator("#reading")).to_be_in_viewport()
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), size["width"])

    def test_enlarged_to_twice_its_size_the_field_stays_in_reach(self) -> None:
        run = self.app.run_named("Borax from the glaze")
        with self.page(f"/runs/{run['uuid']}", size=TWICE) as page:
            field = page.locator("#reading")
            expect(field).to_be_in_viewport()
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), TWICE["width"])
            for name in ("Measured", "Answer", "Now"):
                page.get_by_role("button", name=name, exact=True).click()
                expect(field).to_be_in_viewport()
                self.assertEqual(self.serious_faults(page), [])

    def test_the_bench_is_worked_at_on_a_phone(self) -> None:
        with self.page(size=SIZES[-1], touch=True) as page:
            page.get_by_role("button", name="Start a run").tap()
            page.get_by_label("Name of the run").fill("On a phone")
            page.get_by_label("Salt without its water").fill("ZnSO4")
            page.get_by_role("button", name="Start", exact=True).tap()
            for key in "31.204":
                page.get_by_role("button", name=key, exact=True).tap()
            page.get_by_role("button", name="Record").tap()
            expect(page.get_by_role("button", name="Correct vessel, 31.204 g")).to_be_visible()
            page.get_by_role("button", name="Measured").tap()
            expect(page.get_by_text("What each weighing held")).to_be_visible()
            page.get_by_role("button", name="Answer", exact=True).tap()
            expect(page.get_by_role("region", name="Answer so far")).to_be_visible()
            page.get_by_role("button", name="Other pages").tap()
            page.get_by_role("link", name="Today").tap()
            expect(page.get_by_role("heading", name="Today")).to_be_visible()


class EveryPage(BrowserCase):
    def pages(self) -> list[str]:
        borax = self.app.run_named("Borax from the glaze")["uuid"]
        parts = ("", "/working", "/log", "/slip", "/suspects", "/trials", "/waste")
        # a result, an unknown, a mass that was weighed early, one in the oven, a synthesis
        titles = ("Zinc sulfate from", "Jar Q", "weighed early", "left in the oven", "Cobalt")
        others = [self.app.run_named(title)["uuid"] for title in titles]
        rooms = (
            "/",
            "/today",
            "/prepare",
            "/plan",
            "/plan/reagents",
            "/drying",
            "/waste",
            "/substances",
            "/formula?f=KAl(SO4)2.12H2O",
            "/equation?e=Mg + O2 -> MgO",
            "/nowhere",
        )
        of_zinc = (f"/runs/{others[0]}{part}" for part in ("/working", "/log", "/slip"))
        of_all = (f"/runs/{uuid}" for uuid in others)
        return [*rooms, *(f"/runs/{borax}{part}" for part in parts), *of_all, *of_zinc, f"/runs/{others[-1]}/waste"]

    @both
    def test_no_page_is_wider_than_its_window_or_hard_to_read(self) -> None:
        """A run without a result has no suspects, which its page says."""
        for path in self.pages():
            self.assert_fits(path, lambda page: page.wait_for_timeout(400), (*SIZES, TWICE), offline_expected=True)


class Opened(BrowserCase):
    def checked(self, page: Page) -> None:
        page.wait_for_timeout(250)
        self.assertEqual(self.serious_faults(page), [])

    @both
    def test_nothing_that_opens_at_the_bench_has_a_serious_fault(self) -> None:
        for mode in themes("opened"):
            with self.subTest(mode), self.page(mode=mode, offline_expected=True) as page:
                start_by_keyboard(page, f"Opened, {mode}")
                page.get_by_role("button", name="Skip this step …").click()
                self.checked(page)
                page.get_by_role("button", name="Leave it").click()
                page.get_by_role("button", name="Not taken …").click()
                self.checked(page)
                page.get_by_role("button", name="Leave it").click()
                type_reading(page, "vessel", "31.204")
                page.get_by_role("button", name="Correct vessel, 31.204 g").click()
                for choice in ("its line", "it should not count", "the figure"):
                    page.get_by_label(choice).check()
                    self.checked(page)
                page.get_by_role("button", name="Leave it").click()
                page.get_by_role("button", name="Change …").click()
                expect(page.get_by_label("Why it is changed")).to_be_visible()
                page.get_by_text("More: ").click()
                self.checked(page)
                page.get_by_role("button", name="Leave it").click()
                type_reading(page, "vessel + sample", "30.9")
                expect(page.get_by_role("button", name="Read it again")).to_be_visible()
                self.checked(page)

    def test_the_skip_link_comes_first_and_leads_past_the_bar(self) -> None:
        with self.page("/today") as page:
            expect(page.get_by_role("heading", name="Instruments")).to_be_visible()
            page.keyboard.press("Tab")
            expect(page.get_by_role("link", name="To the page")).to_be_focused()
            page.keyboard.press("Enter")
            page.keyboard.press("Tab")
            self.assertTrue(page.evaluate("document.querySelector('main').contains(document.activeElement)"))
