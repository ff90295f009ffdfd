"""The gas methods by keyboard, from the form to the answer."""

from __future__ import annotations

from uuid import uuid4

from playwright.sync_api import expect

from tests.browser.test_bench import type_reading
from tests.browser.test_crucible import start
from tests.support.live import TABLET, BrowserCase, themes
from tests.support.tiers import both

WHITING = "CaCO3(s) + 2 HCl(aq) -> CaCl2(aq) + H2O(l) + CO2(g)"


class ByThumb(BrowserCase):
    def test_a_minus_sign_has_a_key_where_a_figure_may_lie_below_zero(self) -> None:
        """The water inside stands lower than outside; a volume before it has no such key."""
        shelf = self.app.json("/api/shelf")
        started = self.app.post("/api/runs", {
            "uuid": str(uuid4()), "title": "By thumb", "method": "gas_over_water",
            "options": {"equation": "Zn + 2 HCl -> ZnCl2 + H2", "gas": "H2", "reagent": "Zn"},
            "bench_id": shelf["benches"][0]["id"], "balance_id": shelf["balances"][0]["id"],
        })  # fmt: skip
        run, figures = started, {"g": "0.0312", "mL": "20.0", "mm": "0"}
        with self.page(f"/runs/{started['uuid']}", size=TABLET, touch=True) as page:
            minus = page.get_by_role("button", name="Minus sign")
            expect(page.get_by_role("group", name="Keypad")).to_be_visible()
            expect(minus).to_have_count(0)
            while not run["upcoming"][0]["signed"]:
                entry = run["upcoming"][0]
                body = {"uuid": str(uuid4()), "slot": entry["slot"], "position": entry["position"], "confirmed": True}
                run = self.app.post(f"/api/runs/{started['uuid']}/readings", body | {"text": figures[entry["unit"]]})
            expect(minus).to_be_visible()
            field = page.locator("#reading")
            for key in "12.5":
                page.get_by_role("button", name=key, exact=True).tap()
            minus.tap()
            expect(field).to_have_value("-12.5")
            minus.tap()
            expect(field).to_have_value("12.5")
            self.assertEqual(self.serious_faults(page), [])


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
            expect(page.get_by_text("All readings are taken.")).to_be_visible()
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

    @both
    def test_the_bench_is_read_by_screen_readers_and_fits_a_tablet(self) -> None:
        run = self.app.run_named("Whiting against")
        for mode in themes("test_the_bench_is_read_by_screen_readers_and_fits_a_tablet"):
            with self.page(f"/runs/{run['uuid']}", size=TABLET, mode=mode) as page:
                expect(page.get_by_text("All readings are taken.")).to_be_visible()
                self.assertEqual(self.serious_faults(page), [])
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), TABLET["width"])


class Flask(BrowserCase):
    def test_argon_is_typed_by_keyboard_to_its_molar_mass(self) -> None:
        with self.page() as page:
            start(page, "Gas weighed in a flask", "Argon by keyboard", {"Gas, where it is known": "Ar"})
            # temperature and barometer are the room's, read once for the evening
            for label, text in (
                ("flask with air", "84.123"),
                ("flask with gas, filling 1", "84.215"),
                ("flask with gas, filling 2", "84.229"),
            ):
                type_reading(page, label, text)
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer).to_contain_text("It is still filling")
            type_reading(page, "flask with gas, filling 3", "84.230")
            type_reading(page, "flask with water", "333.06")
            expect(answer.locator(".formula").first).to_have_text("Ar")
            expect(answer).to_contain_text("g/mol")
            expect(answer).not_to_contain_text("Nobody said how exact")
            expect(page.get_by_role("button", name="Fill and weigh once more")).to_be_visible()
            page.get_by_role("link", name="Suspects").focus()
            page.keyboard.press("Enter")
            expect(page.get_by_role("row", name="fingerprints or breath")).to_be_visible()
            # a slip of the calculation that this program made itself is no suspect
            expect(page.get_by_role("row", name="the air displaced left out")).to_have_count(0)
            self.assertEqual(self.serious_faults(page), [])

    def test_a_barometer_in_another_unit_is_asked_about_before_it_is_kept(self) -> None:
        with self.page(offline_expected=True) as page:
            page.get_by_role("button", name="Start a run").click()
            page.get_by_label("Name of the run").fill("Argon in mmHg")
            page.get_by_label("Method").select_option(label="Gas weighed in a flask")
            page.get_by_label("Gas, where it is known").fill("Ar")
            page.get_by_label("Barometer figure").select_option(label="reduced to sea level")
            page.get_by_role("button", name="Start", exact=True).click()
            type_reading(page, "barometer", "760 kPa")
            expect(page.get_by_text("760 kPa is no air pressure here. Were mmHg meant?")).to_be_visible()
            expect(page.get_by_role("button", name="760 kPa is what I read")).to_be_visible()
            page.get_by_role("button", name="Read it again").click()
            page.get_by_label("barometer").fill("760 mmHg")
            page.keyboard.press("Enter")
            expect(page.get_by_label("flask with air")).to_be_visible()


class Tube(BrowserCase):
    def test_zinc_is_typed_by_keyboard_to_its_molar_volume(self) -> None:
        with self.page(offline_expected=True) as page:
            fields = {
                "Reagent that is weighed": "Zn",
                "Equation": "Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)",
                "Last mark of the tube": "50 mL",
            }
            page.get_by_role("button", name="Start a run").click()
            page.get_by_label("Name of the run").fill("Zinc over water by keyboard")
            page.get_by_label("Method").select_option(label="Gas over water")
            page.get_by_label("Apparatus").select_option(label="Burette, inverted, with its dead volume")
            page.get_by_label("Apparatus").select_option(label="Burette, inverted, with its dead volume")
            for label, text in fields.items():
                page.get_by_label(label, exact=True).fill(text)
            page.keyboard.press("Enter")
            expect(page.get_by_role("heading", level=1)).to_have_text("Zinc over water by keyboard")
            type_reading(page, "dead volume", "2.40")
            type_reading(page, "sample", "0.098")
            # the level follows what is typed, before it is kept
            field = page.get_by_label("tube at the end")
            expect(field).to_be_focused()
            page.keyboard.type("12.70")
            expect(page.get_by_role("img", name="Burette turned over, 39.70 mL of gas")).to_be_visible()
            page.keyboard.press("Enter")
            expect(page.get_by_role("img", name="39.70 mL of gas")).to_be_visible()
            # a minus sign is asked about, with the drawing as it would then stand
            type_reading(page, "water inside above outside", "-62")
            expect(page.get_by_role("img", name="water inside 62 mm below that outside")).to_be_visible()
            page.get_by_role("button", name="It is 62").focus()
            page.keyboard.press("Enter")
            expect(page.get_by_role("img", name="water inside 62 mm above that outside")).to_be_visible()
            type_reading(page, "water temperature", "21.2")
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer).to_contain_text("L/mol at 0 °C, 1 atm")
            expect(answer).to_contain_text("ideal 22.41, real 22.43 L/mol; found inside the band.")
            fall = page.get_by_role("listitem").filter(has_text="dry gas: 92.114 kPa")
            expect(fall).to_have_count(1)
            page.get_by_role("link", name="Working").focus()
            page.keyboard.press("Enter")
            expect(page.get_by_text("= (50 mL − 12.70 mL) + 2.40 mL")).to_be_visible()
            self.assertEqual(self.serious_faults(page), [])

    def test_a_course_that_does_not_fit_the_tube_is_told_and_nothing_typed_is_lost(self) -> None:
        with self.page(offline_expected=True) as page:
            page.get_by_role("button", name="Start a run").click()
            page.get_by_label("Name of the run").fill("Ribbon by its length")
            page.get_by_label("Method").select_option(label="Gas over water")
            page.get_by_label("Apparatus").select_option(label="Burette, inverted, with its dead volume")
            page.get_by_label("Last mark of the tube", exact=True).fill("50 mL")
            page.get_by_label("How the sample is measured").select_option(value="ribbon")
            page.get_by_role("button", name="Start", exact=True).click()
            expect(page.get_by_role("alert")).to_contain_text("Not started yet: see the fields above.")
            # the field stands under "More", which opens for it
            field = page.get_by_label("Mass per length of the ribbon")
            expect(field).to_be_focused()
            expect(page.get_by_text("This procedure needs the mass per length: fill it in.")).to_be_visible()
            expect(page.get_by_label("Name of the run")).to_have_value("Ribbon by its length")
            page.keyboard.type("1.02 mg/mm")
            page.get_by_role("button", name="Start", exact=True).click()
            expect(page.get_by_role("heading", level=1)).to_have_text("Ribbon by its length")

    def test_an_unknown_metal_is_a_list_by_charge(self) -> None:
        with self.page() as page:
            start(page, "Gas over water", "Metal without a name", {"Last mark of the tube": "50 mL"})
            for label, text in (
                ("sample", "0.096"),
                ("tube at the end", "36.90"),
                ("water inside above outside", "62"),
                ("water temperature", "21.0"),
            ):
                type_reading(page, label, text)
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer).to_contain_text("At charge 2")
            expect(answer).to_contain_text("No molar volume is given for an unknown metal")
            expect(answer.locator("p.formula")).to_have_count(0)

    @both
    def test_both_tubes_are_read_by_screen_readers_in_both_themes_and_fit_a_tablet(self) -> None:
        for title in ("Zinc over water", "levels made equal"):
            run = self.app.run_named(title)
            for mode in themes("test_both_tubes_are_read_by_screen_readers_in_both_themes_and_fit_a_tablet"):
                with self.page(f"/runs/{run['uuid']}", size=TABLET, mode=mode) as page:
                    expect(page.get_by_text("The fall of the pressure")).to_be_visible()
                    self.assertEqual(self.serious_faults(page), [])
                    self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), TABLET["width"])
