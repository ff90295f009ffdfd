"""The desks by keyboard: shares of elements, an equation with its amounts, what is stale and what is wrong."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.support.live import TABLET, BrowserCase, themes
from tests.support.tiers import both

SHARES = "Na 43.4 %, C 11.3 %, O rest"


class FormulaDesk(BrowserCase):
    def test_shares_are_typed_to_their_formula_with_every_step(self) -> None:
        with self.page("/formula", offline_expected=True) as page:
            expect(page.get_by_label("Formula", exact=True)).to_be_focused()
            page.keyboard.type(SHARES)
            expect(page.get_by_text("only Na2CO3 lies inside the band")).to_be_visible()
            steps = page.get_by_role("table", name="From shares to ratios")
            row = steps.get_by_role("row", name="Na", exact=False).first
            expect(row).to_contain_text("43.4 %")
            expect(row).to_contain_text("22.990")
            expect(row).to_contain_text("1.8878 ± 0.0050")
            formulas = page.get_by_role("table", name="Formulas with indices up to 12")
            expect(formulas.get_by_role("row").nth(1)).to_contain_text("fits")
            expect(formulas.get_by_role("row").nth(2)).to_contain_text("no")

    def test_what_cannot_be_read_is_said_and_the_last_sheet_stays_marked_as_such(self) -> None:
        with self.page("/formula", offline_expected=True) as page:
            page.keyboard.type(SHARES)
            expect(page.get_by_text("only Na2CO3 lies inside the band")).to_be_visible()
            page.keyboard.type(", O 45 %")
            expect(page.get_by_text("O stands twice")).to_be_visible()
            expect(page.get_by_text("Below: the last formula that could be read.")).to_be_visible()
            expect(page.get_by_label("Formula", exact=True)).to_have_value(f"{SHARES}, O 45 %")
            expect(page.get_by_label("Formula", exact=True)).to_have_attribute("aria-invalid", "true")

    def test_a_compound_is_drawn_as_a_brick_of_its_elements(self) -> None:
        """Borax, Na2B4O7·10H2O, by hand from 22.990, 10.81, 15.999 and 1.008: 12.06, 11.34, 71.32 and 5.29 %."""
        with self.page("/formula") as page:
            page.get_by_label("Formula", exact=True).fill("Na2B4O7.10H2O")
            brick = page.get_by_role("img", name="By mass: Na 12.06 %, B 11.34 %, O 71.32 %, H 5.29 %")
            expect(brick).to_be_visible()
            self.assertEqual(self.serious_faults(page), [])

    def test_a_desk_opens_beside_the_page_and_leaves_what_is_typed_there(self) -> None:
        run = self.app.run_named("Borax from the glaze")
        with self.page(f"/runs/{run['uuid']}", offline_expected=True) as page:
            page.get_by_label("vessel + residue, heating 3").fill("29.2")
            page.get_by_role("link", name="Formulas").click()
            desk = page.get_by_role("dialog", name="Formula desk")
            expect(desk.get_by_label("Formula", exact=True)).to_be_focused()
            page.keyboard.type("borax")
            expect(desk.get_by_text("381.36 g/mol")).to_be_visible()
            self.assertEqual(self.serious_faults(page), [])
            page.keyboard.press("Escape")
            expect(desk).to_have_count(0)
            field = page.get_by_label("vessel + residue, heating 3")
            expect(field).to_have_value("29.2")
            # from a bar and from a menu that folds itself away: the next figure is typed at once
            expect(field).to_be_focused()
            page.set_viewport_size({"width": 1024, "height": 768})
            page.get_by_role("button", name="Other pages").click()
            page.get_by_role("link", name="Equations").click()
            expect(page.get_by_role("dialog", name="Equation desk")).to_be_visible()
            page.keyboard.press("Escape")
            expect(field).to_be_focused()
            expect(field).to_have_value("29.2")

    def test_what_a_desk_found_is_handed_back_to_the_field(self) -> None:
        with self.page() as page:
            page.get_by_role("button", name="Start a run").click()
            page.get_by_label("Method").select_option(label="Gas over water")
            page.get_by_label("Equation", exact=True).fill("Mg + HCl -> MgCl2 + H2")
            page.locator(".field", has_text="Equation").get_by_role("button", name="Look it up").click()
            desk = page.get_by_role("dialog", name="Equation desk")
            # 24.305 + 72.916 = 95.205 + 2.016 by hand, to the last digit of the weights
            expect(desk.get_by_role("img", name="97.221 g on each side")).to_be_visible()
            desk.get_by_role("button", name="Take it into the field").click()
            expect(page.get_by_label("Equation", exact=True)).to_have_value("Mg + 2 HCl -> MgCl2 + H2")
            expect(page.get_by_label("Equation", exact=True)).to_be_focused()


class EquationDesk(BrowserCase):
    def test_it_is_worked_by_keyboard_alone(self) -> None:
        with self.page("/equation", offline_expected=True) as page:
            expect(page.get_by_label("Equation", exact=True)).to_be_focused()
            page.keyboard.type("BaCl2 + Na2SO4 -> BaSO4 + NaCl")
            expect(page.get_by_text("these coefficients do")).to_be_visible()
            page.get_by_label("Given of BaCl2").focus()
            page.keyboard.type("2.08 g")
            # BaSO4 over BaCl2 is 233.39 over 208.23 (common practice, from atomic weights)
            expect(page.get_by_role("row", name="BaSO4")).to_contain_text("2.331")
            page.keyboard.press("Tab")  # the formula itself leads to the formula desk
            page.keyboard.press("Tab")
            expect(page.get_by_label("Given of Na2SO4")).to_be_focused()
            page.keyboard.type("plenty")
            expect(page.get_by_text("The figures are those of the last amounts that could be read.")).to_be_visible()
            expect(page.get_by_label("Given of Na2SO4")).to_have_value("plenty")
            expect(page.get_by_label("Given of BaCl2")).to_have_value("2.08 g")

    def test_what_comes_out_and_what_is_driven_out_is_said(self) -> None:
        with self.page("/equation", offline_expected=True) as page:
            page.keyboard.type("Zn + CoCl2 -> ZnCl2 + Co")
            expected = page.get_by_role("region", name="What to expect in water")
            expect(expected).to_contain_text("+0.48 V")
            expect(expected).to_contain_text("Bubbles are hydrogen")
            page.get_by_label("Equation", exact=True).fill("BaCl2 + Na2SO4 -> BaSO4 + NaCl")
            expect(expected).to_contain_text("comes out: sulfates dissolve, but not those of barium")

    def test_an_impossible_equation_says_why(self) -> None:
        with self.page("/equation", offline_expected=True) as page:
            page.keyboard.type("NO + O2 -> N2O")
            expect(page.get_by_text("It balances only with O2 on the other side of the arrow.")).to_be_visible()


class BothDesks(BrowserCase):
    @both
    def test_axe_finds_nothing_serious_and_nothing_is_wider_than_a_tablet(self) -> None:
        for path, typed, shown in (
            ("/formula", SHARES, "Formulas with indices up to 12"),
            ("/equation", "MnO4^- + Fe^2+ + H^+ -> Mn^2+ + Fe^3+ + H2O", "these coefficients do"),
        ):
            for mode in themes("test_axe_finds_nothing_serious_and_nothing_is_wider_than_a_tablet"):
                with self.subTest(path, mode=mode), self.page(path, TABLET, mode, offline_expected=True) as page:
                    page.keyboard.type(typed)
                    expect(page.get_by_text(shown).first).to_be_visible()
                    self.assertEqual(self.serious_faults(page), [])
                    self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), TABLET["width"])
