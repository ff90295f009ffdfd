"""A synthesis by keyboard to its yield and its melting range."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.test_bench import type_reading
from tests.browser.test_crucible import start
from tests.browser.test_precipitation import done
from tests.support.live import TABLET, BrowserCase


class ToTheAnswer(BrowserCase):
    def test_a_synthesis_is_typed_by_keyboard_to_its_yield(self) -> None:
        fields = {
            "Equation": "C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2",
            "Reagents": "C7H6O3; C4H6O3 1,08 g/mL; H3PO4 85 % 1,69 g/mL catalyst",
        }
        with self.page() as page:
            start(page, "Synthesis", "Aspirin by keyboard", fields)
            for label, text in (("C7H6O3", "2.000"), ("C4H6O3", "5.0"), ("H3PO4", "0.25")):
                type_reading(page, label, text)
            expect(page.get_by_text("runs out first", exact=True)).to_be_visible()
            table = page.get_by_role("region", name="Reagent table")
            expect(table.get_by_role("row", name="equivalents")).to_contain_text("3.65")
            expect(table.get_by_role("link", name="CSV")).to_have_attribute("download", "reagents.csv")
            done(
                page,
                "Reaction time over",
                "pH as it should be",
                "It draws",
                "All is on the paper",
                "Vacuum broken",
                "Dry",
            )
            type_reading(page, "dry crude", "2.200")
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer).to_contain_text("2.609 g C9H8O4 can come")
            done(page, "Collected", "Dry")
            type_reading(page, "dry pure", "1.800")
            expect(answer).to_contain_text("69.0")
            expect(table.get_by_text("kept by the mother liquor, or lost")).to_be_visible()
            type_reading(page, "pure begins to melt", "134")
            type_reading(page, "pure is molten", "135.5")
            page.get_by_role("link", name="Working").click()
            expect(page.get_by_text("E factor").first).to_be_visible()

    def test_particles_are_washed_over_a_magnet_and_pass(self) -> None:
        """Magnetite: iron(III) to iron(II) 2 : 1, ammonia above 8, 50 mL in six minutes (common practice)."""
        fields = {
            "Equation": "FeCl2 + 2 FeCl3 + 8 NH3 + 4 H2O -> Fe3O4 + 8 NH4Cl",
            "Reagents": "FeCl2 0.5 mol/L; FeCl3 1 mol/L; NH3 1 mol/L",
        }
        schools = {
            "Addition": "Dropwise, timed",
            "How it is filtered": "By a magnet: washed, poured off",
            "Purification": "Crude only",
            "Melting range": "Not taken",
        }
        with self.page() as page:
            page.get_by_role("button", name="Start a run").focus()
            page.keyboard.press("Enter")
            page.get_by_label("Name of the run").focus()
            page.keyboard.type("Magnetite by keyboard")
            page.get_by_label("Method").select_option(label="Synthesis")
            for label, answer in schools.items():
                page.get_by_label(label, exact=True).select_option(label=answer)
            for label, text in fields.items():
                page.get_by_label(label).focus()
                page.keyboard.type(text)
            page.keyboard.press("Enter")
            for label, text in (("FeCl2", "5.0"), ("FeCl3", "5.0"), ("NH3", "50.0")):
                type_reading(page, label, text)
            table = page.get_by_role("region", name="Reagent table")
            expect(table.get_by_role("row", name="of the need, times")).to_contain_text("2.50")
            done(page, "Reaction time over")
            type_reading(page, "volume added", "50")
            type_reading(page, "time of the addition", "6")
            expect(page.get_by_text("do not acidify")).to_be_visible()
            done(page, "It is black")
            expect(page.get_by_text("Keep them away from pacemakers")).to_be_visible()
            expect(page.get_by_role("button", name="Drawing: Held by a magnet")).to_be_visible()
            done(page, "Poured off")
            for count in range(3):
                page.get_by_role("button", name=f"Rinsed: {count} of 3").click()
            page.get_by_role("button", name="pass", exact=True).click()
            expect(page.get_by_text("Noted: pass")).to_be_visible()
            done(page, "Noted", "Dry")
            type_reading(page, "dry crude", "0.520")
            expect(page.get_by_role("region", name="Answer so far")).to_contain_text("0.5788 g Fe3O4 can come")
            page.get_by_role("link", name="Working").click()
            expect(page.get_by_text("drip rate").first).to_be_visible()

    def test_axe_finds_nothing_serious_and_nothing_is_wider_than_a_tablet(self) -> None:
        for word in ("alum from foil", "Cobalt ferrite"):
            run = self.app.run_named(word)["uuid"]
            with self.subTest(word), self.page(f"/runs/{run}", TABLET) as page:
                expect(page.get_by_role("heading", level=1)).to_be_visible()
                page.wait_for_timeout(400)
                self.assertEqual(self.serious_faults(page), [])
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), TABLET["width"])
