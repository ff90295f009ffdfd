"""Several trials at the bench, by keyboard; predictions; the page that holds the trials side by side."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.test_bench import start_by_keyboard, type_reading
from tests.support.live import TABLET, BrowserCase, themes
from tests.support.tiers import both

FIRST = (("vessel", "29.412"), ("vessel + sample", "31.058"))


def press(page: Page, role: str, name: str) -> None:
    """Reach a link or button and press Enter."""
    page.get_by_role(role, name=name, exact=True).focus()  # type: ignore[arg-type]  # a role by its name
    page.keyboard.press("Enter")


class Trials(BrowserCase):
    def test_two_trials_are_typed_by_keyboard_and_held_side_by_side(self) -> None:
        with self.page() as page:
            start_by_keyboard(page, "Zinc twice", accepted="ZnSO4.7H2O")
            page.get_by_label("Figure or formula").fill("7")
            page.get_by_label("Who says so").fill("Marl")
            page.keyboard.press("Enter")
            expect(page.get_by_text("Marl (demo) expected 7.")).to_be_visible()
            page.get_by_label("vessel", exact=False).first.focus()
            for label, text in FIRST:
                type_reading(page, label, text)
            for number, text in enumerate(("30.351", "30.338", "30.337"), start=1):
                type_reading(page, f"vessel + residue, heating {number}", text)
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer).to_contain_text("Marl (demo) expected 7: inside the band.")
            expect(page.get_by_label("Figure or formula")).to_have_count(0)
            press(page, "button", "Another trial")
            trials = page.get_by_role("navigation", name="Trials of this run")
            expect(trials.get_by_role("link", name="Trial 2")).to_have_attribute("aria-current", "page")
            page.get_by_label("vessel", exact=True).focus()
            for label, text in (("vessel", "29.410"), ("vessel + sample", "31.104")):
                type_reading(page, label, text)
            # a reading that is just being saved leads the focus back to the field, and Enter would send what is typed
            expect(page.get_by_text("all readings saved")).to_be_visible()
            # what is typed in one trial stays there while another is looked at
            page.keyboard.type("30.3")
            press(page, "link", "Trial 1 x = 6.985 ± 0.032")
            expect(answer).to_contain_text("x = 6.985 ± 0.032")
            expect(page.get_by_text("29.412").first).to_be_visible()
            page.get_by_role("link", name="Trial 2").focus()
            page.keyboard.press("Enter")
            # in the trial left behind the same words stand at a button
            field = page.get_by_role("textbox", name="vessel + residue, heating 1")
            expect(field).to_have_value("30.3")
            field.focus()
            page.keyboard.press("End")
            page.keyboard.type("78")
            page.keyboard.press("Enter")
            for number, text in ((2, "30.362"), (3, "30.361")):
                type_reading(page, f"vessel + residue, heating {number}", text)
            expect(page.get_by_text("all readings saved")).to_be_visible()
            expect(answer).to_contain_text("Precise and accurate")
            press(page, "link", "Side by side")
            expect(page.get_by_role("img", name="accepted 7")).to_be_visible()
            expect(page.get_by_text("Marl (demo) expected 7: inside the band of the mean of 2.")).to_be_visible()
            table = page.get_by_role("table")
            expect(table.get_by_role("rowheader", name="percent water, %", exact=True)).to_be_visible()
            press(page, "link", "Trial 2")
            expect(page.get_by_text("= 31.104 g − 29.410 g")).to_be_visible()

    def test_a_prediction_that_is_none_is_said_at_its_field_and_stays_typed(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Zinc expected")
            page.get_by_label("Figure or formula").fill("plenty")
            page.keyboard.press("Enter")
            expect(page.get_by_text("'plenty' is neither")).to_be_visible()
            expect(page.get_by_label("Figure or formula")).to_have_value("plenty")
            expect(page.get_by_label("Figure or formula")).to_have_attribute("aria-invalid", "true")

    def test_working_slip_and_suspects_speak_of_the_trial_that_was_chosen(self) -> None:
        run = self.app.run_named("three trials")
        with self.page(f"/runs/{run['uuid']}?trial=1") as page:
            trials = page.get_by_role("navigation", name="Trials of this run")
            for name, words in (("Working", "31.058 g − 29.412 g"), ("Slip", "6.985"), ("Suspects", "x = 6.985")):
                press(page, "link", name)
                expect(page.get_by_text(words).first).to_be_visible()
                expect(trials.get_by_role("link", name="Trial 1")).to_have_attribute("aria-current", "page")
                press(page, "link", "Back to the bench")
                expect(trials.get_by_role("link", name="Trial 1")).to_have_attribute("aria-current", "page")
            press(page, "link", "Log")
            expect(page.get_by_role("columnheader", name="Trial")).to_be_visible()

    def test_a_reading_that_waits_goes_to_the_trial_it_was_typed_in(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Waits in its trial")
            press(page, "button", "Another trial")
            trials = page.get_by_role("navigation", name="Trials of this run")
            expect(trials.get_by_role("link", name="Trial 2")).to_have_attribute("aria-current", "page")
            page.route("**/api/runs/*/readings", lambda route: route.abort())
            page.locator("#reading").fill("29.410")
            page.locator("#reading").press("Enter")
            expect(page.get_by_text("1 reading waits to be saved")).to_be_visible(timeout=20_000)
            trials.get_by_role("link", name="Trial 1").click()
            expect(page.get_by_label("vessel", exact=True)).to_be_visible()
            page.unroute("**/api/runs/*/readings")
            expect(page.get_by_text("all readings saved")).to_be_visible(timeout=15_000)
            expect(page.get_by_label("vessel", exact=True)).to_be_visible()  # nothing was taken by trial 1
            press(page, "link", "Log")
            row = page.get_by_role("row", name="29.410")
            expect(row).to_have_count(1)
            expect(row.get_by_role("cell").nth(1)).to_have_text("2")

    def test_without_the_server_no_trial_is_begun_and_it_is_said(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "No trial without server")
            page.route("**/api/runs/*/trials", lambda route: route.abort())
            press(page, "button", "Another trial")
            expect(page.get_by_text("The server does not answer just now.")).to_be_visible()
            expect(page.get_by_role("navigation", name="Trials of this run")).to_have_count(0)

    @both
    def test_axe_finds_nothing_serious_in_light_dark_and_on_a_tablet(self) -> None:
        run = self.app.run_named("three trials")
        for path in ("", "/trials"):
            for mode in themes("test_axe_finds_nothing_serious_in_light_dark_and_on_a_tablet"):
                with self.page(f"/runs/{run['uuid']}{path}", size=TABLET, mode=mode) as page:
                    expect(page.get_by_text("Trial 3", exact=True).first).to_be_visible()
                    self.assertEqual(self.serious_faults(page), [])
