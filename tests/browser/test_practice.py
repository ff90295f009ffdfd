"""The room Practice as somebody practises alone: a whole hydrate by keyboard, its hidden fault found and debriefed."""

from __future__ import annotations

from playwright.sync_api import Locator, Page, expect

from tests.support.live import TABLET, BrowserCase
from tests.support.tiers import amount, both

PHONE, LAPTOP = {"width": 390, "height": 844}, {"width": 1024, "height": 768}
SPATTERS = ("1", "4")
"""Level and seed of a hydrate in which grains are lost."""


class Room(BrowserCase):
    def set_up(self, page: Page, level: str, seed: str, method: str = "Water of a hydrate") -> None:
        """A bench of this level and seed."""
        page.get_by_label("What is done").select_option(label=method)
        page.get_by_label("What is hidden").select_option(level)
        page.get_by_label("Seed", exact=True).fill(seed)
        self.press(page.get_by_role("button", name="Set it up"))
        expect(page.get_by_text("The step at hand")).to_be_visible()

    def press(self, what: Locator) -> None:
        """A button, by keyboard."""
        expect(what).to_be_enabled()
        what.focus()
        what.press("Enter")

    def act(self, page: Page, group: str, name: str) -> None:
        """Something done at the bench, by keyboard."""
        self.press(page.get_by_role("group", name=group, exact=True).get_by_role("button", name=name, exact=True))

    def note(self, page: Page) -> None:
        """What the balance shows, once it stands, into the bench's page and recorded there."""
        self.act(page, "Vessel", "Onto the pan")
        self.act(page, "Wait", "1 min")
        display = page.get_by_role("region", name="balance, ", exact=False)
        expect(display.get_by_role("status")).to_have_text("steady")
        self.press(page.get_by_role("button", name="Note this figure"))
        frame = page.frame_locator("iframe")
        expect(frame.locator("input.figure")).to_be_focused()
        page.keyboard.press("Enter")
        shows = frame.get_by_role("button", name="is what the balance shows")
        expect(frame.locator("input.figure").or_(shows).first).to_be_visible()
        page.wait_for_timeout(700)
        if shows.count():
            self.press(shows)

    def test_a_whole_hydrate_by_keyboard_its_fault_found_and_debriefed(self) -> None:
        with self.page("/practice", offline_expected=True) as page:
            self.set_up(page, *SPATTERS)
            frame = page.frame_locator("iframe")
            self.assertEqual([], self.serious_faults(page))
            # second thoughts: onto the pan while it burns is refused, with the reason
            self.act(page, "Flame", "Full")
            self.act(page, "Wait", "5 min")
            self.act(page, "Vessel", "Onto the pan")
            expect(page.get_by_role("alert")).to_have_text("It stands in the flame: take it off first.")
            self.act(page, "Vessel", "Onto gauze")
            self.act(page, "Wait", "15 min")
            self.press(frame.get_by_role("button", name="It is cool"))
            expect(frame.get_by_role("heading", name="Weigh the empty vessel")).to_be_visible()
            self.note(page)
            self.press(page.get_by_role("button", name="Put the sample in"))
            expect(frame.get_by_role("heading", name="Add the sample, weigh again")).to_be_visible()
            self.note(page)
            done = frame.get_by_role("button", name="Heating done")
            expect(done).to_be_visible()
            rounds = 0
            while done.count() and rounds < 5:
                rounds += 1
                self.act(page, "Flame", "Low")
                for _ in range(2 if rounds == 1 else 1):
                    self.act(page, "Wait", "5 min")
                expect(page.get_by_text("You see: popping.")).to_be_visible()
                self.act(page, "Vessel", "Onto gauze")
                self.press(done)
                expect(frame.get_by_role("heading", name=f"Cool, then weigh after heating {rounds}")).to_be_visible()
                self.act(page, "Wait", "15 min")
                self.note(page)
                expect(done.or_(frame.get_by_role("button", name="Set aside")).first).to_be_visible()
            self.press(page.get_by_role("button", name="What it was"))
            expect(page.get_by_text("no result yet")).to_have_count(0)
            # an answer without a cause is none; then one with second thoughts
            answer = page.get_by_role("button", name="That is my answer")
            expect(answer).to_be_disabled()
            cause = page.get_by_label("It was", exact=True)
            cause.select_option(label="moisture taken up on cooling")
            cause.select_option(label="spatter, popping or grains lost")
            page.get_by_label("It makes the result").select_option("too large")
            size = page.get_by_label("This much of it would do, in g")
            size.fill("a little")
            self.press(answer)
            expect(page.get_by_text("How much is a figure in g", exact=False)).to_be_visible()
            size.fill("0.03")
            self.press(answer)
            expect(page.get_by_role("heading", name="4 of 4 points")).to_be_visible()
            expect(page.get_by_text("Hidden was: spatter", exact=False)).to_be_visible()
            self.assertEqual([], self.serious_faults(page))
            self.press(page.get_by_role("link", name="Another bench"))
            done = page.get_by_role("row", name="4 of 4")
            expect(done).to_contain_text("Water of a hydrate")
            # the same bench again: by a link that says all of it
            done.get_by_role("link", name="The same bench").click()
            expect(page.get_by_label("Seed", exact=True)).to_have_value(SPATTERS[1])
        with self.page("/") as page:
            expect(page.get_by_text("Practice: water of a hydrate")).to_have_count(0)

    def test_its_clock_runs_ten_times_as_fast_on_both_pages_and_a_reload_finds_all_as_it_stood(self) -> None:
        with self.page("/practice") as page:
            self.set_up(page, "0", "5")
            self.act(page, "Flame", "Low")
            self.press(page.get_by_role("button", name="ten times faster"))
            expect(page.get_by_text("1 min after it was set up", exact=False)).to_be_visible()
            self.press(page.get_by_role("button", name="stands"))
            page.reload()
            low = page.get_by_role("group", name="Flame").get_by_role("button", name="Low")
            expect(low).to_have_attribute("aria-pressed", "true")

    @both
    def test_every_method_s_bench_is_drawn_and_fit_for_every_size_and_both_themes(self) -> None:
        with self.page("/practice") as page:
            methods = page.get_by_label("What is done").locator("option")
            expect(methods).to_have_count(12)
            names = methods.all_inner_texts()
        # every day each size with another method, in the long run all of them
        for number, name in list(enumerate(names))[:: amount(3, 1)]:
            size = (None, LAPTOP, TABLET, PHONE)[number % 4]
            with (
                self.subTest(name, size=size),
                self.page("/practice", size, "dark" if number % 2 else "light") as page,
            ):
                self.set_up(page, "0", "1", name)
                expect(page.get_by_role("img").first).to_be_visible()
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth - innerWidth"), 0)
                self.assertEqual([], self.serious_faults(page))


class Class(BrowserCase):
    def test_a_simulated_class_plays_on_the_board_and_is_debriefed(self) -> None:
        with self.page("/practice", offline_expected=True) as page:
            # second thoughts: no class has no bench
            page.get_by_label("Benches").fill("0")
            page.get_by_label("Seed of the class").fill("5")
            page.get_by_role("button", name="Let it begin").click()
            expect(page.get_by_text("A simulated class has 1 to 16 benches.")).to_be_visible()
            page.get_by_label("Benches").fill("8")
            page.get_by_role("button", name="Let it begin").click()
            board = page.frame_locator("iframe")
            expect(board.get_by_role("listitem").filter(has_text="Practice 8")).to_be_visible()
            expect(board.get_by_text("Practice: nothing here counts")).to_be_visible()
            self.assertEqual([], self.serious_faults(page))
            on = page.get_by_role("button", name="5 min on")
            for _ in range(8):
                expect(on).to_be_enabled()
                on.click()
            # the board calls; whoever goes says so there
            was_there = board.get_by_role("button", name="Was there", exact=False).first
            expect(was_there).to_be_visible()
            was_there.click()
            for _ in range(12):
                expect(on).to_be_enabled()
                on.click()
            page.get_by_role("button", name="End it", exact=False).click()
            expect(page.get_by_text("came out off", exact=False)).to_be_visible()
            expect(page.get_by_role("row", name="Practice 1", exact=False).first).to_be_visible()
            expect(page.get_by_text("min", exact=False).first).to_be_visible()
            self.assertEqual([], self.serious_faults(page))
        with self.page("/lab") as page:
            expect(page.get_by_role("listitem").first).to_be_visible()
            expect(page.get_by_text("Practice 8")).to_have_count(0)

    @both
    def test_the_pages_are_fit_for_every_size_and_both_themes(self) -> None:
        for path, heading in (("/practice", "Rehearse a class"), ("/practice/drills", "What does the burette read?")):
            self.assert_fits(path, lambda page: expect(page.get_by_role("heading", name=heading)).to_be_visible())  # noqa: B023


class Drills(BrowserCase):
    def test_a_drill_is_answered_at_once_and_says_why(self) -> None:
        with self.page("/practice/drills", offline_expected=True) as page:
            field = page.get_by_label("As you read it, in mL")
            field.fill("about ten")
            field.press("Enter")
            expect(page.get_by_text("Type the volume as you read it", exact=False)).to_be_visible()
            field.fill("99.99")
            field.press("Enter")
            expect(page.get_by_text("Not so:", exact=False)).to_be_visible()
            expect(page.get_by_text("Eye level with it", exact=False)).to_be_visible()
            expect(page.get_by_text("0 of 1 right")).to_be_visible()
            page.get_by_role("button", name="Which waste bottle").click()
            page.get_by_role("button", name="ask first").press("Enter")
            expect(page.get_by_text("your safety officer come first", exact=False)).to_be_visible()
            page.get_by_role("button", name="Fold a paper").click()
            # by keyboard: the name first, whatever stands above it
            earlier = page.get_by_role("button", name="Earlier: Write the name on it in pencil")
            while earlier.is_enabled():
                earlier.press("Enter")
            expect(page.get_by_role("listitem").first).to_contain_text("Write the name on it in pencil")
            page.get_by_role("button", name="In this order").press("Enter")
            expect(page.get_by_text("The name weighs too", exact=False)).to_be_visible()
            self.assertEqual([], self.serious_faults(page))


if __name__ == "__main__":
    import unittest

    unittest.main()
