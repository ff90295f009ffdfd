"""The reagent table filled in before a run: by keyboard from the equation to what can come, and into a run."""

from __future__ import annotations

import csv

from playwright.sync_api import Page, Route, expect

from tests.browser.test_bench import type_reading
from tests.support.live import TABLET, BrowserCase, themes
from tests.support.tiers import both

ASPIRIN = "C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2"


def cell(page: Page, row: str, substance: int) -> str:
    """What was counted for a substance, from 1, under this name."""
    reagent = page.get_by_role("list", name="Reagents").get_by_role("listitem").nth(substance - 1)
    return reagent.locator("dl div", has=page.get_by_text(row, exact=True)).locator("dd").inner_text()


class BeforeTheRun(BrowserCase):
    def test_it_is_filled_in_by_keyboard_and_a_run_started_with_it(self) -> None:
        with self.page("/plan", offline_expected=True) as page:
            page.get_by_role("link", name="Reagent table").click()
            # the page that was left has an equation too
            expect(page.get_by_role("heading", level=1)).to_have_text("Reagent table")
            page.get_by_label("Equation").focus()
            page.keyboard.type(ASPIRIN)
            expect(page.get_by_label("Substance 2", exact=True)).to_have_value("C4H6O3")
            page.get_by_label("Planned of C7H6O3").focus()
            page.keyboard.type("2.0 g")
            page.get_by_label("Density of C4H6O3").focus()
            page.keyboard.type("1.08 g/mL")
            page.get_by_label("Planned of C4H6O3").focus()
            page.keyboard.type("1.5 eq")
            answer = page.get_by_role("region", name="What can come")
            expect(answer).to_contain_text("2.609 g")
            expect(answer).to_contain_text("Atom economy 75")
            expect(answer).to_contain_text("C7H6O3: 14.48 mmol over its coefficient 1 is the least")
            expect(answer).to_contain_text("acetic anhydride: burns skin and eyes")
            self.assertEqual([cell(page, "Take", n) for n in (1, 2)], ["2.000 g", "2.053 mL"])
            self.assertEqual(cell(page, "Equivalents", 2), "1.50")
            self.assertEqual(self.serious_faults(page), [])
            with page.expect_download() as taken:
                page.get_by_role("link", name="CSV").click()
            rows = list(csv.reader(taken.value.path().read_text().splitlines()))
            self.assertEqual(rows[0], ["", "C7H6O3", "C4H6O3"])
            self.assertIn(["Take", "2.000 g", "2.053 mL"], rows)
            page.get_by_role("button", name="Start a run with this").click()
            expect(page.get_by_label("Name of the run")).to_be_focused()
            page.keyboard.type("Planned in a table")
            expect(page.get_by_label("Reagents")).to_have_value("C7H6O3 2.000 g; C4H6O3 1.08 g/mL 2.053 mL")
            page.keyboard.press("Enter")
            expect(page.get_by_text("Planned: 2.000 g")).to_be_visible()
            type_reading(page, "C7H6O3", "2.004")
            expect(page.get_by_text("Planned: 2.053 mL")).to_be_visible()

    def test_what_is_wrong_stands_in_its_cell_and_the_register_helps(self) -> None:
        with self.page("/plan/reagents", offline_expected=True) as page:
            page.get_by_label("Equation").fill(ASPIRIN)
            page.get_by_label("Planned of C7H6O3").fill("2.0 g")
            page.get_by_label("Planned of C4H6O3").fill("5 mL")
            density = page.get_by_label("Density of C4H6O3")
            expect(density).to_have_attribute("aria-invalid", "true")
            expect(density).to_have_accessible_description(
                "5 mL of C4H6O3 says how much only with its density, or a concentration."
            )
            page.get_by_role("button", name="Take 1.08 g/mL").click()
            expect(density).to_have_attribute("aria-invalid", "false")
            expect(page.get_by_role("region", name="What can come")).to_contain_text("2.609 g")
            page.get_by_label("Purity of C7H6O3").fill("120 %")
            expect(page.get_by_label("Purity of C7H6O3")).to_have_accessible_description(
                "A purity lies above 0 and at most at 100 %."
            )
            expect(page.get_by_label("Planned of C4H6O3")).to_have_value("5 mL")
            expect(page.get_by_role("button", name="Start a run with this")).to_be_disabled()

    def test_a_catalyst_stands_beside_the_equation_and_a_reactant_that_is_none_is_asked_for_its_role(self) -> None:
        with self.page("/plan/reagents", offline_expected=True) as page:
            page.get_by_label("Equation").fill(ASPIRIN)
            page.get_by_label("Planned of C7H6O3").fill("2.0 g")
            page.get_by_role("button", name="Reactant").click()
            page.get_by_label("Substance 3", exact=True).fill("H3PO4")
            expect(page.get_by_label("Substance 3", exact=True)).to_have_accessible_description(
                "H3PO4 is none of the reactants, C7H6O3 and C4H6O3, with or without its water. Is it a catalyst or a "
                "solvent?"
            )
            page.get_by_label("Role of H3PO4").select_option("catalyst")
            page.get_by_label("Planned of H3PO4").fill("0.05 eq")
            expect(page.get_by_label("Substance 3", exact=True)).to_have_attribute("aria-invalid", "false")
            expect(page.get_by_role("definition").filter(has_text="0.7240 mmol")).to_be_visible()
            page.get_by_role("button", name="Leave out H3PO4").click()
            expect(page.get_by_label("Substance 3", exact=True)).to_have_count(0)

    def test_another_equation_lays_its_own_columns_and_keeps_what_stays(self) -> None:
        with self.page("/plan/reagents", offline_expected=True) as page:
            equation = page.get_by_label("Equation")
            equation.fill("NaOH + HCl -> NaCl + H2O")
            page.get_by_label("Planned of NaOH").fill("1.0 g")
            equation.fill("2 NaOH + H2SO4 -> Na2SO4 + 2 H2O")
            expect(page.get_by_label("Substance 2", exact=True)).to_have_value("H2SO4")
            expect(page.get_by_label("Planned of NaOH")).to_have_value("1.0 g")

    def test_an_answer_to_the_equation_before_does_not_stand_for_the_one_typed_since(self) -> None:
        with self.page("/plan/reagents", offline_expected=True) as page:
            held: list[Route] = []
            equation = page.get_by_label("Equation")
            equation.fill("NaOH + HCl -> NaCl + H2O")
            expect(page.get_by_label("Substance 2", exact=True)).to_have_value("HCl")
            page.route("**/api/plan/reagents", lambda route: held.append(route), times=1)
            page.get_by_label("Planned of NaOH").fill("1.0 g")
            for _ in range(500):
                if held:
                    break
                page.wait_for_timeout(10)
            # the answer about hydrochloric acid comes in while the next equation has just been typed
            equation.fill("2 NaOH + H2SO4 -> Na2SO4 + 2 H2O")
            held[0].continue_()
            expect(page.get_by_label("Substance 2", exact=True)).to_have_value("H2SO4")
            expect(page.get_by_label("Planned of NaOH")).to_have_value("1.0 g")

    def test_a_water_that_is_missing_is_proposed_and_what_is_typed_survives_a_reload(self) -> None:
        with self.page("/plan/reagents", offline_expected=True) as page:
            page.get_by_label("Equation").fill("C7H6O3 + CH3OH -> C8H8O3")
            expect(page.get_by_text("C7H6O3 + CH3OH -> C8H8O3 + H2O")).to_be_visible()
            page.get_by_label("Equation").fill("C7H6O3 + CH3OH -> C8H8O3 + H2O")
            page.get_by_label("Planned of CH3OH").fill("0.1 mol")
            expect(page.get_by_role("definition").filter(has_text="3.204 g")).to_be_visible()
            page.reload()
            expect(page.get_by_label("Planned of CH3OH")).to_have_value("0.1 mol")
            expect(page.get_by_role("definition").filter(has_text="3.204 g")).to_be_visible()

    @both
    def test_it_fits_a_tablet_in_both_themes(self) -> None:
        for mode in themes("test_it_fits_a_tablet_in_both_themes"):
            with self.subTest(mode), self.page("/plan/reagents", TABLET, mode) as page:
                page.get_by_label("Equation").fill(ASPIRIN)
                expect(page.get_by_label("Substance 2", exact=True)).to_be_visible()
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), TABLET["width"])
                self.assertEqual(self.serious_faults(page), [])
