"""The gas methods by keyboard, from the form to the answer."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.test_bench import type_reading
from tests.browser.test_crucible import start
from tests.support.live import TABLET, BrowserCase

WHITING = "CaCO3(s) + 2 HCl(aq) -> CaCl2(aq) + H2O(l) + CO2(g)"


class MassLoss(BrowserCase):
    def test_whiting_is_typed_by_keyboard_to_its_purity_and_its_label(self) -> None:
        with self.page() as page:
            fields = {
                "Equations to tell apart": WHITING,
                "Claimed percentage": "97 %",
                "Volume of the liquid": "50 mL",
                "Temperature of the liquid": "21 degC",
            }
            start(page, "Gas by loss of mass", "Whiting by keyboard", fields)
            for label, text in (
                ("vessel + acid", "112.436"),
                ("dish + sample", "6.383"),
                ("dish after tipping", "4.871"),
                ("vessel after", "113.385"),
            ):
                type_reading(page, label, text)
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer).to_contain_text("96.73 ± 0.28 % CaCO3")
            expect(answer).to_contain_text("97 %. Found: 99.72 ± 0.29 % of that, inside the band.")
            expect(page.get_by_text("Everything is weighed.")).to_be_visible()
            expect(page.get_by_text("Changed at each heating")).to_have_count(0)
            page.get_by_role("link", name="Working").focus()
            page.keyboard.press("Enter")
            expect(page.get_by_text("= 6.383 g − 4.871 g")).to_be_visible()
            expect(page.get_by_text("Henry's law").first).to_be_visible()
            self.assertEqual(self.serious_faults(page), [])

    def test_a_claim_in_two_forms_is_answered_at_its_field(self) -> None:
        with self.page(offline_expected=True) as page:
            page.get_by_role("button", name="Start a run").click()
            page.get_by_label("Name of the run").fill("Two claims")
            page.get_by_label("Method").select_option(label="Gas by loss of mass")
            page.get_by_label("Equations to tell apart").fill(WHITING)
            page.get_by_label("Claimed mass per unit").fill("0.5 g")
            page.get_by_label("Claimed percentage").fill("97 %")
            page.get_by_role("button", name="Start", exact=True).click()
            expect(page.get_by_text("A claim is either a mass per unit, or a percentage.")).to_be_visible()
            expect(page.get_by_label("Claimed percentage")).to_have_value("97 %")

    def test_the_bench_is_read_by_screen_readers_and_fits_a_tablet(self) -> None:
        run = self.app.run_named("Whiting against")
        for mode in ("light", "dark"):
            with self.page(f"/runs/{run['uuid']}", size=TABLET, mode=mode) as page:
                expect(page.get_by_text("Everything is weighed.")).to_be_visible()
                self.assertEqual(self.serious_faults(page), [])
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), TABLET["width"])


class Flask(BrowserCase):
    def test_argon_is_typed_by_keyboard_to_its_molar_mass(self) -> None:
        with self.page() as page:
            start(page, "Gas weighed in a flask", "Argon by keyboard", {"Gas, where it is known": "Ar"})
            for label, text in (
                ("room temperature", "21.5"),
                ("barometer", "968.4"),
                ("flask with air", "84.123"),
                ("flask with gas, filling 1", "84.217"),
                ("flask with gas, filling 2", "84.231"),
            ):
                type_reading(page, label, text)
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer).to_contain_text("It is still filling")
            type_reading(page, "flask with gas, filling 3", "84.232")
            type_reading(page, "flask with water", "333.06")
            expect(answer.locator(".formula").first).to_have_text("Ar")
            expect(answer).to_contain_text("g/mol")
            expect(answer).not_to_contain_text("No half-width is given")
            expect(page.get_by_role("button", name="Fill and weigh once more")).to_be_visible()
            page.get_by_role("link", name="Suspects").focus()
            page.keyboard.press("Enter")
            row = page.get_by_role("row", name="the air displaced left out")
            expect(row).to_contain_text("—")
            self.assertEqual(self.serious_faults(page), [])

    def test_a_barometer_in_another_unit_is_asked_about_before_it_is_kept(self) -> None:
        with self.page(offline_expected=True) as page:
            start(page, "Gas weighed in a flask", "Argon in mmHg", {"Gas, where it is known": "Ar"})
            type_reading(page, "room temperature", "21.5")
            type_reading(page, "barometer", "760 kPa")
            expect(page.get_by_text("760 kPa is no air pressure of a room. Were hPa or mmHg meant?")).to_be_visible()
            page.get_by_role("button", name="Let me correct it").click()
            page.get_by_label("barometer").fill("760 mmHg")
            page.keyboard.press("Enter")
            expect(page.get_by_label("flask with air")).to_be_visible()
