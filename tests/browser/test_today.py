"""The day by keyboard: the room read once, questioned, corrected in every run; the register of instruments."""

from __future__ import annotations

from playwright.sync_api import Page, Route, expect

from tests.browser.test_bench import type_reading
from tests.browser.test_crucible import start
from tests.support.live import TABLET, BrowserCase, themes
from tests.support.tiers import both

ZINC = {"Reagent that is weighed": "Zn", "Equation": "Zn + 2 HCl -> ZnCl2 + H2", "Last mark of the tube": "50 mL"}


def room(page: Page, label: str, unit: str, text: str) -> None:
    """Type a reading of the room."""
    card = page.get_by_role("article").filter(has_text=label)
    card.get_by_label(f"in {unit}").fill(text)
    page.keyboard.press("Enter")


class Room(BrowserCase):
    def test_a_reading_goes_into_the_next_run_and_its_correction_too(self) -> None:
        with self.page("/today", offline_expected=True) as page:
            room(page, "Barometer at the bench", "hPa", "954.1")
            expect(page.get_by_role("article").filter(has_text="Barometer at the bench")).to_contain_text("954.1 hPa")
            page.get_by_role("link", name="Runs", exact=True).click()
            start(page, "Gas over water", "Zinc in this room", ZINC)
            run = page.url
            type_reading(page, "sample", "0.098")
            type_reading(page, "tube at the end", "36.90")
            type_reading(page, "water inside above outside", "0")
            type_reading(page, "water temperature", "21.0")
            expect(page.get_by_text("All readings are taken.")).to_be_visible()
            page.get_by_role("link", name="Today").click()
            page.get_by_role("button", name="Correct barometer at the bench, 954.1 hPa").click()
            page.get_by_label("What it should say, in hPa").fill("951.4")
            page.get_by_role("button", name="Correct", exact=True).last.click()
            expect(page.get_by_text("Say why, in a word or two")).to_be_visible()
            page.get_by_label("Why", exact=True).fill("digits swapped")
            page.get_by_role("button", name="Correct", exact=True).last.click()
            expect(page.get_by_role("dialog")).to_have_count(0)
            page.goto(f"{run}/log")
            expect(page.get_by_role("row", name="951.4 hPa")).to_contain_text("digits swapped")
            expect(page.get_by_role("row", name="barometer 954.1 hPa superseded")).to_have_count(1)

    def test_a_sea_level_figure_at_the_bench_is_asked_about_and_stays_typed(self) -> None:
        with self.page("/today", offline_expected=True) as page:
            expect(page.get_by_text("A barometer here shows 909 to 986 hPa")).to_be_visible()
            room(page, "Barometer at the bench", "hPa", "1013.6")
            expect(page.get_by_text("1013.6 hPa looks like a figure reduced to sea level")).to_be_visible()
            card = page.get_by_role("article").filter(has_text="Barometer at the bench")
            expect(card.get_by_label("in hPa")).to_have_value("1013.6")
            expect(card).not_to_contain_text("confirmed")
            card.get_by_label("in hPa").fill("warm")
            page.keyboard.press("Enter")
            expect(card).to_contain_text("'warm' is not a number")

    def test_a_server_that_is_away_costs_nothing_typed_and_a_lost_answer_counts_once(self) -> None:
        with self.page("/today", offline_expected=True) as page:
            card = page.get_by_role("article").filter(has_text="Humidity")
            self.app.stop_web()
            card.get_by_label("in %").fill("44")
            page.keyboard.press("Enter")
            expect(card).to_contain_text("What you typed is still here.")
            expect(card.get_by_label("in %")).to_have_value("44")
            self.app.start_web()
            lost: list[bool] = []

            def lose_the_first(route: Route) -> None:
                if lost:
                    route.continue_()
                    return
                lost.append(True)
                route.fetch()
                route.abort()

            page.route("**/api/today/room", lose_the_first)
            card.get_by_label("in %").focus()
            page.keyboard.press("Enter")
            expect(card).to_contain_text("What you typed is still here.")
            page.keyboard.press("Enter")
            expect(card.get_by_label("in %")).to_have_value("")
            expect(card).to_contain_text("44 %")
            rows = [row for row in self.app.json("/api/today")["log"] if row["text"] == "44"]
            self.assertEqual(len(rows), 1)

    @both
    def test_the_page_fits_a_tablet_and_screen_readers(self) -> None:
        for mode in themes("test_the_page_fits_a_tablet_and_screen_readers"):
            with self.page("/today", TABLET, mode) as page:
                expect(page.get_by_role("heading", name="Instruments")).to_be_visible()
                self.assertEqual(self.serious_faults(page), [])
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), TABLET["width"])


class Register(BrowserCase):
    def test_an_instrument_is_put_on_the_shelf_by_keyboard_and_reads_one_figure(self) -> None:
        with self.page("/today", offline_expected=True) as page:
            page.get_by_role("button", name="Put another on the shelf").focus()
            page.keyboard.press("Enter")
            page.get_by_label("What it is").select_option(label="Thermometer")
            page.get_by_role("button", name="Keep", exact=True).last.click()
            expect(page.get_by_text("Give it the name that stands on it.")).to_be_visible()
            page.get_by_label("Name", exact=True).fill("Digital thermometer")
            page.get_by_label("Division").fill("0.2 °C")
            page.get_by_role("button", name="Keep", exact=True).last.click()
            expect(page.get_by_role("radio", name="Digital thermometer ± 0.1 °C")).to_be_visible()
            page.get_by_role("link", name="Runs", exact=True).click()
            start(page, "Gas over water", "Zinc with two thermometers", ZINC)
            type_reading(page, "sample", "0.098")
            type_reading(page, "tube at the end", "36.90")
            type_reading(page, "water inside above outside", "0")
            page.get_by_label("Read with").select_option(label="Digital thermometer, ± 0.1 °C")
            type_reading(page, "water temperature", "21.0")
            expect(page.get_by_text("All readings are taken.")).to_be_visible()
            # taken is not yet saved: an address that is typed in ends a request on its way, and the reading waits
            expect(page.get_by_text("all readings saved")).to_be_visible()
            page.goto(f"{page.url}/log")
            expect(page.get_by_role("row", name="water temperature")).to_contain_text("Digital thermometer")

    def test_a_tube_of_the_shelf_fills_in_its_mark_and_how_it_counts(self) -> None:
        with self.page(offline_expected=True) as page:
            page.get_by_role("button", name="Start a run").click()
            page.get_by_label("Method").select_option(label="Gas over water")
            page.get_by_text("Read with: ").click()
            page.get_by_label("Gas tube").select_option(label="Burette 50 mL, ± 0.05 mL")
            expect(page.get_by_label("Last mark of the tube", exact=True)).to_have_value("50 mL")
            expect(page.get_by_label("Apparatus")).to_have_value("burette")
            expect(page.get_by_label("Apparatus")).to_have_value("burette")


class NextTrial(BrowserCase):
    def test_a_long_tube_goes_on_from_where_the_trial_before_ended(self) -> None:
        with self.page(offline_expected=True) as page:
            page.get_by_role("button", name="Start a run").click()
            page.get_by_label("Name of the run").fill("Long tube")
            page.get_by_label("Method").select_option(label="Gas over water")
            for label, text in ZINC.items():
                page.get_by_label(label, exact=True).fill(text)
            page.get_by_label("Apparatus").select_option(label="Long tube, several trials in one filling")
            page.get_by_label("Water levels").select_option(label="Levels made equal")
            page.get_by_role("button", name="Start", exact=True).click()
            expect(page.get_by_role("heading", level=1)).to_have_text("Long tube")
            for label, text in (
                ("sample", "0.048"), ("tube at the start", "0.00"), ("tube at the end", "19.20"),
                ("water temperature", "21.0"),
            ):  # fmt: skip
                type_reading(page, label, text)
            page.get_by_role("button", name="Another trial").click()
            type_reading(page, "sample", "0.047")
            expect(page.get_by_label("tube at the start")).to_be_visible()
            page.get_by_role("button", name="Go on from 19.20").focus()
            page.keyboard.press("Enter")
            expect(page.get_by_label("tube at the end")).to_be_visible()
            # a volume per gram far off the first trial's is asked about before it is kept
            type_reading(page, "tube at the end", "26.00")
            expect(page.get_by_text("mL/g of volume per gram; the other trials gave 400 mL/g")).to_be_visible()
            page.get_by_role("button", name="Read it again").click()
            page.get_by_label("tube at the end").fill("38.10")
            page.keyboard.press("Enter")
            expect(page.get_by_label("water temperature")).to_be_visible()


class KnownSample(BrowserCase):
    def test_a_run_on_a_known_sample_fills_in_what_stays_dissolved(self) -> None:
        with self.page(offline_expected=True) as page:
            page.get_by_role("button", name="Start a run").click()
            page.get_by_label("Name of the run").fill("Calibrated")
            page.get_by_label("Method").select_option(label="Gas by loss of mass")
            page.get_by_label("Equations to tell apart").fill("CaCO3 + 2 HCl -> CaCl2 + H2O + CO2")
            page.get_by_label("Take from a run on a known sample").select_option(index=1)
            expect(page.get_by_label("Gas left dissolved")).to_have_value("1.861 ± 0.037 mmol")
            page.get_by_role("button", name="Start", exact=True).click()
            expect(page.get_by_role("heading", level=1)).to_have_text("Calibrated")
            page.goto(f"{page.url}/log")
            expect(page.get_by_text("From the run “Whiting against its bag”")).to_be_visible()
