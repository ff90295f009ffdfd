"""Precipitation and composition by keyboard to their answers; a solid left in the oven is finished the next day."""

from __future__ import annotations

from collections.abc import Mapping

from playwright.sync_api import Page, expect

from tests.browser.test_bench import type_reading
from tests.browser.test_crucible import start
from tests.support.live import BrowserCase

METHOD = "Precipitation and displacement"
BARIUM = {
    "Equation": "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)",
    "What is taken": "BaCl2.2H2O; Na2SO4 0,250 mol/L",
}


def done(page: Page, *names: str) -> None:
    """Finish handwork by its button, from the keyboard."""
    for name in names:
        page.get_by_role("button", name=name, exact=True).focus()
        page.keyboard.press("Enter")


def rinsed(page: Page) -> None:
    """Both rinsings, a tap each."""
    for _ in range(2):
        for count in range(3):
            page.get_by_role("button", name=f"Rinsed: {count} of 3").click()


def to_the_paper(page: Page, title: str) -> None:
    """A blanc fixe run as far as the weighed paper."""
    start(page, METHOD, title, BARIUM)
    type_reading(page, "BaCl2·2H2O", "1.000")
    type_reading(page, "Na2SO4 solution", "25.0")
    done(page, "Predicted", "All dissolved", "Nothing more changes", "It bears its name")
    type_reading(page, "paper", "0.912")


def into_the_oven(page: Page) -> None:
    """Filtered, rinsed, tested, put into the oven."""
    done(page, "It lies in the funnel", "It stands", "All is on the paper")
    rinsed(page)
    page.get_by_role("button", name="washings clear").click()
    done(page, "Tested", "It lies on its glass")
    expect(page.get_by_role("heading", name="In the oven, drying 1")).to_be_visible()


class ToTheAnswer(BrowserCase):
    def test_a_precipitation_is_typed_by_keyboard_to_its_yield(self) -> None:
        with self.page() as page:
            to_the_paper(page, "Blanc fixe by keyboard")
            expect(page.get_by_text("runs out first", exact=True)).to_be_visible()
            expect(page.get_by_text("2.16 mmol left")).to_be_visible()
            into_the_oven(page)
            done(page, "Out of the oven")
            type_reading(page, "paper + dry solid, drying 1", "1.862")
            done(page, "Out of the oven")
            type_reading(page, "paper + dry solid, drying 2", "1.860")
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer).to_contain_text("% yield")
            expect(answer).to_contain_text("99.2")
            expect(answer).to_contain_text("Constant: drying 2 changed the mass by 2 mg")
            page.get_by_role("link", name="Working").click()
            expect(page.get_by_role("img", name="= 1.000 g / (244.26 g/mol)")).to_be_visible()
            expect(page.get_by_text("limiting amount").first).to_be_visible()

    def test_a_halide_is_typed_by_keyboard_to_its_formula(self) -> None:
        with self.page() as page:
            start(page, "Composition of a hydrated halide", "Cobalt by keyboard", {"Metal": "Co"})
            for label, text in (
                ("vessel", "28.104"), ("vessel + sample", "29.604"), ("vessel + residue, heating 1", "28.923"),
                ("vessel + residue, heating 2", "28.922"), ("paper", "0.915"), ("paper + dry solid, drying 1", "1.287"),
                ("paper + dry solid, drying 2", "1.286"),
            ):  # fmt: skip
                type_reading(page, label, text)
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer.locator("p.formula")).to_have_text("CoCl2·6H2O")
            expect(answer).to_contain_text("Cl per Co")
            # each thing weighed has a stair of its own
            page.get_by_role("button", name="Vessel", exact=True).click()
            expect(page.get_by_role("button", name="Vessel", exact=True)).to_have_attribute("aria-pressed", "true")

    def test_a_paper_that_was_not_weighed_asks_for_others(self) -> None:
        with self.page(offline_expected=True) as page:
            page.get_by_role("button", name="Start a run").click()
            page.get_by_label("Method").select_option(label=METHOD)
            for label, text in ({"Name of the run": "Ten papers"} | BARIUM).items():
                page.get_by_label(label).fill(text)
            page.get_by_label("What carries the solid").select_option(label="a paper not weighed: the mean of others")
            page.get_by_role("button", name="Start", exact=True).click()
            type_reading(page, "BaCl2·2H2O", "1.000")
            type_reading(page, "Na2SO4 solution", "25.0")
            type_reading(page, "papers, paper 1", "0.912")
            type_reading(page, "papers, paper 2", "0.908")
            page.get_by_label("papers, paper 3").fill("9.010")
            page.keyboard.press("Enter")
            expect(page.get_by_text("lies far off the others")).to_be_visible()


class Wrong(BrowserCase):
    def refused(self, page: Page, fields: Mapping[str, str]) -> None:
        """Fill the form and try to start."""
        page.get_by_role("button", name="Start a run").click()
        page.get_by_label("Method").select_option(label=METHOD)
        for label, text in ({"Name of the run": "Refused"} | dict(fields)).items():
            page.get_by_label(label).fill(text)
        page.get_by_role("button", name="Start", exact=True).click()

    def test_each_is_answered_at_its_field_and_nothing_typed_is_lost(self) -> None:
        for fields, field, words in (
            (BARIUM | {"What is taken": "BaCl2.2H2O; KCl"}, "What is taken", "KCl is none of the reactants"),
            (BARIUM | {"What is taken": "BaCl2.2H2O; BaCl2"}, "What is taken", "stand for the same reactant"),
            (BARIUM | {"Solid that is collected": "BaCO3"}, "Solid that is collected", "forms no BaCO3"),
            (BARIUM | {"What is taken": "Na2SO4 lots"}, "What is taken", "is not a number"),
        ):
            with self.subTest(words), self.page(offline_expected=True) as page:
                self.refused(page, fields)
                expect(page.get_by_text(words)).to_be_visible()
                expect(page.get_by_label(field)).to_have_attribute("aria-invalid", "true")
                expect(page.get_by_label(field)).to_have_value(fields[field])

    def test_a_paper_with_product_lighter_than_the_paper_is_asked_about(self) -> None:
        with self.page(offline_expected=True) as page:
            to_the_paper(page, "Too light")
            page.locator("#reading").fill("0.812")
            page.keyboard.press("Enter")
            expect(page.get_by_text("below the empty paper")).to_be_visible()


class NextDay(BrowserCase):
    def test_a_run_left_in_the_oven_is_found_and_finished_next_day(self) -> None:
        with self.page() as page:
            to_the_paper(page, "Left overnight")
            into_the_oven(page)
            page.goto("/drying")
            page.locator("li", has_text="Left overnight").get_by_label("Stands on").select_option("shelf 3, place 2")
            expect(page.get_by_role("img", name="Three shelves of four places")).to_contain_text("Ball")
        self.app.stop_web()
        self.app.start_web(ahead_h=17)
        with self.page("/") as page:
            row = page.locator("li", has_text="Left overnight")
            expect(row).to_contain_text("In the oven since")
            expect(row).to_contain_text("shelf 3, place 2")
            expect(row).to_contain_text("due since")
            row.get_by_role("link").click()
            done(page, "Out of the oven")
            type_reading(page, "paper + dry solid, drying 1", "1.862")
            expect(page.get_by_role("heading", name="In the oven, drying 2")).to_be_visible()
            # typed at once, without another hour in the oven: it agrees with itself, and that is no answer
            type_reading(page, "paper + dry solid, drying 2", "1.860")
            expect(page.get_by_text("is weighed twice agrees with itself")).to_be_visible()
            done(page, "Sorted")
            expect(page.get_by_text("Nothing is left to do; 1 not marked.")).to_be_visible()
            page.goto("/")
            expect(page.locator("li", has_text="Left overnight")).to_contain_text("Finished")


class Afterwards(BrowserCase):
    def test_the_waste_sheet_says_what_where_and_defers_to_local_rules(self) -> None:
        run = self.app.run_named("weighed early")["uuid"]
        with self.page(f"/runs/{run}") as page:
            page.get_by_role("link", name="Waste", exact=True).click()
            expect(page.get_by_text("Your local rules and your safety officer come first.")).to_be_visible()
            container = page.get_by_role("region", name="Jar for solid waste without heavy metals")
            expect(container).to_contain_text("BaSO4")
            expect(page.get_by_text("poisonous if swallowed")).to_be_visible()

    def test_filtering_by_itself_ends_in_a_mass_and_asks_what_was_dissolved(self) -> None:
        with self.page() as page:
            start(page, "Filtering, washing, drying", "Sand out of its brine", {"Mass that should come": "1.250 g"})
            done(page, "It bears its name")
            type_reading(page, "paper", "0.908")
            into_the_oven(page)
            done(page, "Out of the oven")
            type_reading(page, "paper + dry solid, drying 1", "2.114")
            done(page, "Out of the oven")
            type_reading(page, "paper + dry solid, drying 2", "2.112")
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer).to_contain_text("1.204")
            expect(answer).to_contain_text("0.046 g of the solid did not reach the balance")
            page.get_by_role("link", name="Waste", exact=True).click()
            opened = page.get_by_role("region", name="Open: ask before it is poured away")
            expect(opened).to_contain_text("Ask about what was dissolved")
            self.assertEqual(self.serious_faults(page), [])

    def test_the_day_s_bottles_say_what_they_hold_and_how_full_they_get(self) -> None:
        with self.page("/waste") as page:
            bottle = page.get_by_role("region", name="Bottle for heavy-metal solutions")
            expect(bottle).to_contain_text("full")
            expect(bottle.get_by_role("list", name="What it holds").first).to_contain_text("ZnCl2")

    def test_a_substance_is_added_and_one_without_hazards_refused(self) -> None:
        with self.page("/substances", offline_expected=True) as page:
            page.get_by_label("Look for").fill("cobalt")
            expect(page.get_by_text("may cause cancer when breathed").first).to_be_visible()
            page.get_by_role("button", name="Add a substance").click()
            fields = {"Formula": "NiCl2.6H2O", "Name": "nickel(II) chloride hexahydrate", "Density": "1,92"}
            for label, text in fields.items():
                page.get_by_label(label, exact=True).fill(text)
            page.get_by_role("button", name="Add", exact=True).click()
            expect(page.get_by_text("Say what it does to people")).to_be_visible()
            expect(page.get_by_label("Formula", exact=True)).to_have_value("NiCl2.6H2O")
            page.get_by_label("What it does to people").fill("May cause cancer as dust\nMay cause allergy")
            page.get_by_role("button", name="Add", exact=True).click()
            page.get_by_label("Look for").fill("nickel(II) chloride")
            row = page.locator("li", has_text="nickel(II) chloride hexahydrate")
            expect(row).to_contain_text("open: ask")
            expect(row).to_contain_text("237.68 g/mol, 1.92 g/mL")
