"""The form for a run as somebody fills it in who is not sure: choices that set others, faults, second thoughts."""

from __future__ import annotations

from playwright.sync_api import Page, Route, expect

from tests.support.live import BrowserCase


def open_form(page: Page, method: str) -> None:
    """The form with this method chosen."""
    page.get_by_role("button", name="Start a run").click()
    expect(page.get_by_label("Name of the run")).to_be_focused()
    page.get_by_label("Method").select_option(label=method)


class Forms(BrowserCase):
    def test_the_apparatus_chosen_once_brings_what_hangs_on_it(self) -> None:
        with self.page() as page:
            open_form(page, "Gas over water")
            dead = page.get_by_label("Dead volume of the burette")
            expect(dead).to_have_count(0)
            page.get_by_label("Apparatus").select_option(label="Burette, inverted, with its dead volume")
            expect(dead).to_be_visible()
            page.get_by_label("Apparatus").select_option(label="Small cylinder, inverted")
            expect(dead).to_have_count(0)
            page.get_by_label("Apparatus").select_option(label="Burette, inverted, with its dead volume")
            page.get_by_label("Last mark of the tube", exact=True).fill("50 mL")
            page.get_by_label("Reagent that is weighed").fill("Zn")
            page.get_by_label("Equation").fill("Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)")
            page.get_by_label("Name of the run").fill("Zinc by its apparatus")
            page.keyboard.press("Enter")
            expect(page.get_by_label("dead volume", exact=True)).to_be_focused()
        run = self.app.run_named("Zinc by its apparatus")
        self.assertEqual(run["options"]["tube"]["reading"], "inverted_burette")

    def test_a_proposed_equation_is_taken_by_one_tap(self) -> None:
        with self.page(offline_expected=True) as page:
            open_form(page, "Gas over water")
            page.get_by_label("Name of the run").fill("Taken as proposed")
            page.get_by_label("Reagent that is weighed").fill("Mg")
            field = page.get_by_label("Equation")
            field.fill("Mg(s) + HCl(aq) -> MgCl2(aq) + H2(g)")
            page.keyboard.press("Enter")
            expect(page.get_by_text("It does not balance")).to_be_visible()
            expect(field).to_be_focused()
            self.assertEqual(self.serious_faults(page), [])
            page.get_by_role("button", name="Take it").click()
            expect(field).to_have_value("Mg(s) + 2 HCl(aq) -> MgCl2(aq) + H2(g)")
            expect(field).to_be_focused()
            expect(page.get_by_text("It does not balance")).to_have_count(0)
            page.keyboard.press("Enter")
            expect(page.get_by_role("heading", level=1)).to_have_text("Taken as proposed")

    def test_a_substance_is_given_by_its_name(self) -> None:
        with self.page() as page:
            open_form(page, "Water of a hydrate")
            field = page.get_by_label("Salt without its water")
            offered = page.locator("#substances option")
            expect(offered.filter(has_text="aluminium sulfate").first).to_have_attribute("value", "Al2(SO4)3")
            field.fill("aluminium sulfate")
            page.get_by_label("Name of the run").fill("By its name")
            page.keyboard.press("Enter")
            expect(page.get_by_role("heading", level=1)).to_have_text("By its name")
        self.assertEqual(self.app.run_named("By its name")["options"]["salt"], "Al2(SO4)3")

    def test_what_was_typed_stays_from_method_to_method_and_over_a_look_elsewhere(self) -> None:
        with self.page() as page:
            open_form(page, "Gas over water")
            page.get_by_label("Name of the run").fill("Undecided")
            page.get_by_label("Equation").fill("Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)")
            page.get_by_label("Method").select_option(label="Synthesis")
            expect(page.get_by_label("Equation")).to_have_value("Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)")
            page.goto("/today")
            page.goto("/")
            page.get_by_role("button", name="Start a run").click()
            expect(page.get_by_label("Name of the run")).to_have_value("Undecided")
            expect(page.get_by_label("Method")).to_have_value("synthesis")
            expect(page.get_by_label("Equation")).to_have_value("Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)")

    def test_a_form_opened_before_the_laboratory_answers_keeps_what_was_typed_before(self) -> None:
        with self.page() as page:
            open_form(page, "Gas over water")
            page.get_by_label("Name of the run").fill("On a slow network")
            page.goto("/today")
            held: list[Route] = []
            page.route("**/api/shelf", lambda route: held.append(route), times=1)
            with page.expect_request("**/api/shelf"):
                page.goto("/")
            page.get_by_role("button", name="Start a run").click()
            expect(page.get_by_role("dialog", name="Start a run")).to_be_visible()
            expect(page.get_by_label("Name of the run")).to_have_count(0)
            while not held:
                page.wait_for_timeout(50)
            held[0].continue_()
            expect(page.get_by_label("Name of the run")).to_have_value("On a slow network")
            expect(page.get_by_label("Method")).to_have_value("gas_over_water")
