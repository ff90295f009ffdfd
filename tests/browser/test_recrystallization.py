"""Recrystallization by keyboard to what came back, its curve, and what is refused at its field."""

from __future__ import annotations

from itertools import product

from playwright.sync_api import expect

from tests.browser.test_bench import type_reading
from tests.browser.test_crucible import start
from tests.browser.test_precipitation import done
from tests.support.live import TABLET, BrowserCase


class ToTheAnswer(BrowserCase):
    def test_a_recrystallization_is_typed_by_keyboard_to_its_recovery(self) -> None:
        with self.page() as page:
            start(page, "Recrystallization", "Nitre by keyboard", {"Substance, as it is weighed": "KNO3"})
            type_reading(page, "crude", "10.000")
            done(page, "It just dissolved")
            type_reading(page, "solvent", "10.000")
            type_reading(page, "hot temperature", "60")
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer).to_contain_text("9.09 g would just dissolve it hot")
            done(page, "Cold, crystals there")
            type_reading(page, "cold temperature", "20")
            expect(page.get_by_role("img", name="at 20 °C it keeps 31.6 g")).to_be_visible()
            expect(answer).to_contain_text("68.4 % at most")
            type_reading(page, "dry crystals", "6.500")
            expect(answer).to_contain_text("of what can come")
            page.get_by_role("link", name="Working").click()
            expect(page.get_by_text("least solvent").first).to_be_visible()

    def test_a_temperature_beyond_the_curve_is_said_and_nothing_is_made_up(self) -> None:
        with self.page(offline_expected=True) as page:
            start(page, "Recrystallization", "Too hot", {"Substance, as it is weighed": "KNO3"})
            type_reading(page, "crude", "10.000")
            done(page, "It just dissolved")
            type_reading(page, "solvent", "10.000")
            type_reading(page, "hot temperature", "104")
            asked = page.get_by_text("The curve of potassium nitrate goes from 0 to 100 °C, not to 104.0 °C.")
            expect(asked.first).to_be_visible()
            page.get_by_role("button", name="104 is what I read").click()
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer).to_contain_text("lies beyond the curve of potassium nitrate, 0 to 100 °C")

    def test_a_substance_without_a_curve_asks_for_points(self) -> None:
        with self.page(offline_expected=True) as page:
            page.get_by_role("button", name="Start a run").click()
            page.get_by_label("Method").select_option(label="Recrystallization")
            page.get_by_label("Name of the run").fill("No curve")
            page.get_by_label("Substance, as it is weighed").fill("C8H9NO")
            page.get_by_role("button", name="Start", exact=True).click()
            expect(page.get_by_text("No solubility of C8H9NO in H2O is listed: give points.")).to_be_visible()
            page.get_by_label("Solubility", exact=True).fill("20 degC 0,5; 80 degC 3,5")
            page.get_by_role("button", name="Start", exact=True).click()
            expect(page.get_by_role("heading", level=1)).to_have_text("No curve")

    def test_a_cooling_test_is_typed_by_keyboard_to_its_verdict(self) -> None:
        with self.page() as page:
            start(page, "Crystal growth, a fair test", "Slow by keyboard", {"Substance that crystallizes": "KNO3"})
            done(page, "Clear and hot")
            type_reading(page, "volume of A", "25.0")
            type_reading(page, "volume of B", "25.0")
            done(page, "All are cold", "They lie apart, named")
            for label, texts in (
                ("A", ("8.5", "7.0", "9.0", "6.5", "8.0")),
                ("B", ("2.5", "2.0", "3.0", "2.5", "2.0")),
            ):
                for number, text in enumerate(texts, start=1):
                    type_reading(page, f"lengths of {label}, crystal {number}", text)
            sizes = page.get_by_role("img", name="The crystals of each portion")
            expect(sizes).to_contain_text("mean 7.8 mm")
            expect(sizes).to_contain_text("mean 2.4 mm")
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer).to_contain_text("A (slow) grew the larger crystals")
            expect(answer).to_contain_text("a fair test of the cooling")

    def test_axe_finds_nothing_serious_and_nothing_is_wider_than_a_tablet(self) -> None:
        runs = (("Potash alum", "For each 100 g"), ("Alum, slow against ice", "The crystals of each portion"))
        for (title, picture), mode in product(runs, ("light", "dark")):
            uuid = self.app.run_named(title)["uuid"]
            with self.subTest(mode, title=title), self.page(f"/runs/{uuid}", TABLET, mode) as page:
                expect(page.get_by_role("img", name=picture)).to_be_visible()
                self.assertEqual(self.serious_faults(page), [])
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), TABLET["width"])
