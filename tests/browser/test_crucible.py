"""Combination, decomposition, suspects and the equation desk, as a person uses them."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.test_bench import type_reading, type_reading_at
from tests.support.live import TABLET, BrowserCase


def start(page: Page, method: str, title: str, fields: dict[str, str]) -> None:
    """Start a run of a method by keyboard, its options found by their labels."""
    page.get_by_role("button", name="Start a run").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_label("Name of the run")).to_be_focused()
    page.keyboard.type(title)
    page.get_by_label("Method").select_option(label=method)
    for label, text in fields.items():
        page.get_by_label(label).focus()
        page.keyboard.type(text)
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text(title)


class FromStartToAnswer(BrowserCase):
    def test_a_combination_is_typed_by_keyboard_to_its_formula(self) -> None:
        with self.page() as page:
            fields = {"Element that is weighed": "Sn", "Element it takes up": "S", "Product expected": "SnS"}
            start(page, "Formula by combination", "Tin by keyboard", fields)
            type_reading(page, "crucible", "24.318")
            type_reading(page, "crucible + element", "25.506")
            answer = page.get_by_role("region", name="Answer so far")
            type_reading(page, "crucible + product, heating 1", "25.800")
            type_reading(page, "crucible + product, heating 2", "25.826")
            expect(answer).to_contain_text("It is still reacting")
            type_reading(page, "crucible + product, heating 3", "25.828")
            expect(answer.locator(".formula").first).to_have_text("SnS")
            expect(answer).to_contain_text("S : Sn = 1.0036 ± 0.0093")
            for words in ("The data say", "Chemistry allows", "You expected"):
                expect(answer.get_by_text(words)).to_be_visible()
            page.get_by_role("link", name="Working").click()
            expect(page.get_by_text("= 25.828 g − 25.506 g")).to_be_visible()
            expect(page.get_by_role("heading", name="What limits the answer")).to_be_visible()
            expect(page.get_by_text("Twice the element:")).to_be_visible()

    def test_a_decomposition_is_typed_by_keyboard_to_its_equation(self) -> None:
        with self.page() as page:
            equation = "2 NaHCO3(s) -> Na2CO3(s) + H2O(g) + CO2(g)"
            start(page, "Thermal decomposition", "Soda by keyboard", {"Equations to tell apart": equation})
            for text in ("25.000", "27.000", "26.270"):
                type_reading_at(page, text)
            type_reading(page, "crucible + residue, heating 2", "26.262")
            type_reading(page, "crucible + residue, heating 3", "26.261")
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer).to_contain_text("63.050 ± 0.092 % left")
            expect(answer).to_contain_text("Na2CO3")
            expect(answer).to_contain_text("decomposed")
            expect(page.get_by_text("Weighed twice, with nothing in between.")).to_be_visible()

    def test_an_unbalanced_equation_is_answered_at_its_field(self) -> None:
        with self.page(offline_expected=True) as page:
            page.get_by_role("button", name="Start a run").click()
            page.get_by_label("Method").select_option(label="Thermal decomposition")
            page.get_by_label("Name of the run").fill("Unbalanced")
            page.get_by_label("Equations to tell apart").fill("CaCO3(s) -> 2 CaO(s) + CO2(g)")
            page.get_by_role("button", name="Start", exact=True).click()
            expect(page.get_by_text("Balanced: CaCO3(s) -> CaO(s) + CO2(g)")).to_be_visible()
            expect(page.get_by_label("Equations to tell apart")).to_have_value("CaCO3(s) -> 2 CaO(s) + CO2(g)")

    def test_a_lid_weighed_only_once_is_asked_at_the_reading(self) -> None:
        with self.page(offline_expected=True) as page:
            fields = {"Element that is weighed": "Sn", "Element it takes up": "S"}
            start(page, "Formula by combination", "Lid", fields)
            for text in ("24.318", "25.506"):
                type_reading_at(page, text)
            page.locator("#reading").fill("34.180")
            page.keyboard.press("Enter")
            expect(page.get_by_text("was the lid on the pan only once?")).to_be_visible()


class Suspects(BrowserCase):
    def test_the_likeliest_cause_stands_first_and_its_dose_can_be_tried(self) -> None:
        run = self.app.run_named("smoke lost")
        with self.page(f"/runs/{run['uuid']}") as page:
            page.get_by_role("link", name="Suspects").click()
            expect(page.get_by_text("Something happened at the bench.")).to_be_visible()
            first = page.get_by_role("row").nth(1)
            expect(first).to_contain_text("Element left unreacted", ignore_case=True)
            expect(first).to_contain_text("believable")
            expect(page.get_by_role("row", name="excess of the second element")).to_contain_text("wrong sign")
            trying = page.get_by_role("region", name="Try a dose")
            expect(trying).to_contain_text("→ 0.894")
            slider = trying.get_by_role("slider")
            slider.focus()
            page.keyboard.press("Home")
            expect(trying).to_contain_text("0 % → 1")
            trying.get_by_role("button", name="Note it in the log").click()
            expect(page.get_by_text("Noted in the log.")).to_be_visible()
            self.assertEqual(self.serious_faults(page), [])

    def test_another_expectation_and_a_wrong_one(self) -> None:
        run = self.app.run_named("under-heated")
        with self.page(f"/runs/{run['uuid']}/suspects", size=TABLET, mode="dark", offline_expected=True) as page:
            expect(page.get_by_label("expected")).to_be_visible()
            page.get_by_label("expected").fill("abc")
            page.get_by_role("button", name="Compare").click()
            expect(page.get_by_text("is no figure above zero")).to_be_visible()
            expect(page.get_by_label("expected")).to_have_value("abc")
            self.assertEqual(self.serious_faults(page), [])
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 768)


class EquationDesk(BrowserCase):
    def test_an_equation_is_balanced_and_masses_follow(self) -> None:
        with self.page("/equation", offline_expected=True) as page:
            field = page.get_by_label("Equation", exact=True)
            expect(field).to_be_focused()
            field.fill("Mg + O2 -> MgO")
            expect(page.get_by_text("It did not balance as typed; these coefficients do.")).to_be_visible()
            page.get_by_label("Given of Mg", exact=True).fill("4.86 g")
            expect(page.get_by_role("row", name="MgO")).to_contain_text("8.059")
            page.get_by_label("Given of O2").fill("1 g")
            expect(page.get_by_text("runs out first").first).to_be_visible()
            page.get_by_label("Given of O2").fill("one")
            expect(page.get_by_text("is not a number")).to_be_visible()
            expect(page.get_by_label("Given of O2")).to_have_value("one")
            self.assertEqual(self.serious_faults(page), [])
            field.fill("Mg -> MgO")
            expect(page.get_by_text("O stands only behind the arrow")).to_be_visible()
