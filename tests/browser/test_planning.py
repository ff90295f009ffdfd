"""The plan by keyboard: a window, whether a sample fits, the class, a solution, and a run that starts with it."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.test_bench import type_reading
from tests.support.live import TABLET, BrowserCase, themes
from tests.support.tiers import both


def magnesium(page: Page) -> None:
    """A burette turned over, and magnesium on the fine balance."""
    page.get_by_label("Reagent that is weighed").fill("Mg")
    page.get_by_label("Equation").fill("Mg + 2 HCl -> MgCl2 + H2")
    page.get_by_label("Apparatus").select_option(label="Burette, inverted, with its dead volume")
    page.get_by_label("Last mark of the tube").fill("50 mL")
    page.get_by_label("Balance", exact=True).select_option(label="Balance D, fine, ± 0.0001 g, up to 100 g")


class Window(BrowserCase):
    def test_the_window_is_found_and_a_sample_held_against_it(self) -> None:
        with self.page("/plan", offline_expected=True) as page:
            expect(page.get_by_role("heading", name="How much to weigh")).to_be_visible()
            magnesium(page)
            # what the room's barometer and thermometer said is taken over
            expect(page.get_by_label("Pressure at the bench")).to_have_value("952.4 hPa")
            expect(page.get_by_role("heading", name="0.0144 to 0.0441 g sample")).to_be_visible()
            expect(page.get_by_role("img", name="at most 0.0441 g, tube full")).to_be_visible()
            field = page.get_by_label("This much sample, in g")
            field.focus()
            page.keyboard.type("0.06")
            expect(page.get_by_text("0.0600 g is more than fits, at most 0.0441 g.")).to_be_visible()
            expect(page.get_by_role("row", name="tube at the end")).to_contain_text("beyond the scale")
            field.fill("plenty")
            expect(page.get_by_text("'plenty' is not a number")).to_be_visible()
            expect(field).to_have_attribute("aria-invalid", "true")
            field.fill("30 mg")
            expect(page.get_by_text("0.0300 g fits")).to_be_visible()
            self.assertEqual(self.serious_faults(page), [])

    def test_a_fault_stands_at_its_field_and_nothing_typed_is_lost(self) -> None:
        with self.page("/plan", offline_expected=True) as page:
            magnesium(page)
            page.get_by_label("Equation").fill("Mg + HCl -> MgCl2 + H2")
            expect(page.get_by_label("Equation")).to_have_attribute("aria-invalid", "true")
            page.get_by_label("Result within").fill("very good")
            expect(page.get_by_text("'very good' is not a number")).to_be_visible()
            expect(page.get_by_label("Last mark of the tube")).to_have_value("50 mL")
            page.reload()
            expect(page.get_by_label("Reagent that is weighed")).to_have_value("Mg")

    def test_a_server_that_is_away_is_said_and_the_plan_goes_on_when_it_is_back(self) -> None:
        with self.page("/plan", offline_expected=True) as page:
            magnesium(page)
            expect(page.get_by_text("Take about")).to_be_visible()
            self.app.stop_web()
            page.get_by_label("Result within").fill("2 %")
            expect(page.get_by_role("alert")).to_contain_text("The server does not answer")
            expect(page.get_by_label("Last mark of the tube")).to_have_value("50 mL")
            self.app.start_web()
            page.get_by_label("Result within").fill("3 %")
            expect(page.get_by_role("alert")).to_have_count(0)
            expect(page.get_by_text("± 3 %").first).to_be_visible()

    def test_the_class_and_its_acid(self) -> None:
        with self.page("/plan", offline_expected=True) as page:
            magnesium(page)
            page.get_by_label("This much sample, in g").fill("0.03")
            page.get_by_label("Trials a bench").first.fill("2")
            row = page.get_by_role("row", name="HCl 3 mol/L")
            # 0.03 g of 24.305 g/mol take 2.469 mmol; twice that in 3 mol/L is 1.646 mL, 8 × 2 × 1.2 times 31.6 mL
            expect(row).to_contain_text("31.6 mL")
            expect(page.get_by_text("2 × cage of copper wire")).to_be_visible()
            row.get_by_role("button", name="Make it").focus()
            page.keyboard.press("Enter")
            solution = page.get_by_role("region", name="Make a solution")
            expect(solution.get_by_text("In the hood: it fumes. Acid into water, slowly, stirring.")).to_be_visible()
            expect(solution.get_by_text("50 mL", exact=True)).to_be_visible()
            solution.get_by_label("Concentration wanted").fill("30 mol/L")
            expect(solution.get_by_text("weaker than the solution wanted")).to_be_visible()
            self.assertEqual(self.serious_faults(page), [])

    def test_a_run_starts_with_what_was_planned(self) -> None:
        with self.page("/plan", offline_expected=True) as page:
            magnesium(page)
            page.get_by_role("button", name="Start a run with this").click()
            expect(page.get_by_label("Reagent that is weighed")).to_have_value("Mg")
            expect(page.get_by_label("Last mark of the tube", exact=True)).to_have_value("50 mL")
            page.get_by_label("Name of the run").fill("Magnesium as planned")
            page.get_by_role("button", name="Start", exact=True).click()
            expect(page.get_by_role("heading", level=1)).to_have_text("Magnesium as planned")
            type_reading(page, "dead volume", "2.4")
            expect(page.get_by_text("Planned sample: low 0.0144 g high 0.0441 g")).to_be_visible()

    def test_a_precipitation_is_planned_too(self) -> None:
        with self.page("/plan", offline_expected=True) as page:
            page.get_by_label("What is planned").select_option(label="Precipitation and displacement")
            page.get_by_label("Equation").fill("BaCl2 + Na2SO4 -> BaSO4(s) + 2 NaCl")
            page.get_by_label("What is taken").fill("BaCl2.2H2O; Na2SO4 0.250 mol/L")
            expect(page.get_by_role("heading", name="first reagent")).to_be_visible()
            expect(page.get_by_text("soluble barium, lead and other heavy-metal salts")).to_be_visible()
            expect(page.get_by_text("barium chloride dihydrate: poisonous if swallowed")).to_be_visible()

    @both
    def test_axe_finds_nothing_serious_and_nothing_is_wider_than_a_tablet(self) -> None:
        for mode in themes("test_axe_finds_nothing_serious_and_nothing_is_wider_than_a_tablet"):
            with self.page("/plan", TABLET, mode, offline_expected=True) as page:
                magnesium(page)
                expect(page.get_by_text("Take about")).to_be_visible()
                self.assertEqual(self.serious_faults(page), [])
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), TABLET["width"])
