"""The bench as a person uses it: by keyboard, by labels, with slips of the finger."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from claykettle.store.database import Database
from tests.support.live import TABLET, BrowserCase, themes
from tests.support.tiers import both


def type_reading(page: Page, label: str, text: str) -> None:
    """Type into the one field, found by its label, and press Enter."""
    field = page.get_by_label(label, exact=False)
    expect(field).to_be_focused()
    page.keyboard.type(text)
    page.keyboard.press("Enter")


def start_by_keyboard(page: Page, title: str, salt: str = "ZnSO4", accepted: str = "") -> None:
    """From the list of runs to the bench without a mouse."""
    page.get_by_role("button", name="Start a run").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_label("Name of the run")).to_be_focused()
    page.keyboard.type(title)
    for _ in range(3):
        page.keyboard.press("Tab")
    expect(page.get_by_label("Sample planned, about")).to_be_focused()
    page.keyboard.type("1.6")
    page.keyboard.press("Tab")
    expect(page.get_by_label("Salt without its water")).to_be_focused()
    page.keyboard.type(salt)
    for _ in range(3):
        page.keyboard.press("Tab")
    expect(page.get_by_label("Accepted hydrate")).to_be_focused()
    page.keyboard.type(accepted)
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text(title)


class FromStartToFormula(BrowserCase):
    def test_a_hydrate_is_typed_by_keyboard_to_its_formula(self) -> None:
        with self.page() as page:
            start_by_keyboard(page, "Zinc by keyboard", accepted="ZnSO4.7H2O")
            type_reading(page, "vessel", "31.204")
            type_reading(page, "vessel + sample", "32.861")
            type_reading(page, "vessel + residue, heating 1", "32.151")
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer).to_contain_text("Provisional: the mass has not settled")
            type_reading(page, "vessel + residue, heating 2", "32.136")
            expect(answer).to_contain_text("Heating 2 lost 15 mg, your limit is 5 mg")
            type_reading(page, "vessel + residue, heating 3", "32.134")
            expect(answer).to_contain_text("Constant: heating 3 changed the mass by 2 mg")
            expect(answer).to_contain_text("x = 7.005 ± 0.047")
            expect(answer.locator(".formula").first).to_have_text("ZnSO4·7H2O")
            self.assertEqual(answer.locator(".formula sub").all_inner_texts()[:2], ["4", "2"])
            expect(page.get_by_role("img", name="Measured 7.005")).to_be_visible()
            # typed in a second, so that nothing can have been heated in between: that is no constant mass
            expect(page.get_by_text("Weighed twice, with nothing in between.")).to_be_visible()
            page.get_by_role("link", name="Working").focus()
            page.keyboard.press("Enter")
            expect(page.get_by_text("= 32.861 g − 31.204 g")).to_be_visible()
            expect(page.get_by_role("img", name="= 0.727 g / (18.015 g/mol)")).to_be_visible()

    def test_a_mass_that_was_heated_to_constancy_is_called_so(self) -> None:
        run = self.app.run_named("Jar Q")
        with self.page(f"/runs/{run['uuid']}") as page:
            expect(page.get_by_text("Constant mass.", exact=True)).to_be_visible()

    def test_a_faulty_form_says_so_at_its_fields_and_keeps_what_was_typed(self) -> None:
        with self.page(offline_expected=True) as page:
            page.get_by_role("button", name="Start a run").click()
            page.get_by_label("Salt without its water").fill("Znso4")
            page.get_by_role("button", name="Start", exact=True).click()
            expect(page.get_by_text("Give the run a name")).to_be_visible()
            expect(page.get_by_text("Zn▸so4")).to_be_visible()
            expect(page.get_by_label("Salt without its water")).to_have_value("Znso4")
            expect(page.get_by_label("Name of the run")).to_be_focused()


class EveryForm(BrowserCase):
    def test_every_field_of_every_method_shows_what_a_person_would_type(self) -> None:
        with self.page() as page:
            page.get_by_role("button", name="Start a run").click()
            method = page.get_by_label("Method")
            page.get_by_text("More: ").click()
            for name in method.locator("option").all_inner_texts():
                method.select_option(label=name)
                shown = page.locator("form input").evaluate_all("fields => fields.map((field) => field.value)")
                with self.subTest(name):
                    self.assertEqual([text for text in shown if "object" in text], [])
            method.select_option(label="Water of a hydrate")
            expect(page.get_by_label("Constant within")).to_have_value("0.005 g")

    def test_a_literature_melting_range_is_typed_as_it_stands_in_the_book(self) -> None:
        with self.page(offline_expected=True) as page:
            page.get_by_role("button", name="Start a run").click()
            page.get_by_label("Method").select_option(label="Synthesis")
            page.get_by_label("Name of the run").fill("Aspirin")
            page.get_by_label("Equation").fill("C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2")
            page.get_by_text("More: ").click()
            field = page.get_by_label("Literature melting range")
            field.fill("hot")
            page.get_by_role("button", name="Start", exact=True).click()
            expect(page.get_by_text("Type both ends and the unit")).to_be_visible()
            expect(field).to_have_value("hot")
            field.fill("135–136 °C")
            page.get_by_role("button", name="Start", exact=True).click()
            expect(page.get_by_role("heading", level=1)).to_have_text("Aspirin")
        self.assertEqual(self.app.run_named("Aspirin")["options"]["literature_melting"], ["135 °C", "136 °C"])


class UnknownSalt(BrowserCase):
    def test_the_jar_is_held_against_the_list(self) -> None:
        run = self.app.run_named("Jar Q")
        with self.page(f"/runs/{run['uuid']}") as page:
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer.locator(".formula").first).to_have_text("MgSO4·7H2O")
            expect(answer).to_contain_text("51.20 ± 0.17 % water")
            row = answer.get_by_role("row", name="MgSO4·7H2O")
            expect(row).to_contain_text("> 99 %")
            expect(page.get_by_role("img", name="inside: MgSO4·7H2O")).to_be_visible()
            page.get_by_role("link", name="Log").click()
            expect(page.get_by_text("corrects 30.983: digits swapped")).to_be_visible()
            expect(page.get_by_text("confirmed although")).to_be_visible()

    def test_a_balance_that_cannot_decide_says_so(self) -> None:
        run = self.app.run_named("small sample")
        with self.page(f"/runs/{run['uuid']}") as page:
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer).to_contain_text("nearest of 2 that fit")
            expect(answer).to_contain_text("cannot decide between 2 formulas")
            page.get_by_role("link", name="All runs").click()
            expect(page.get_by_role("link", name="Zinc sulfate, small sample")).to_contain_text("cannot decide")

    def test_an_unknown_is_started_from_the_form(self) -> None:
        with self.page() as page:
            page.get_by_role("button", name="Start a run").click()
            page.get_by_label("Name of the run").fill("Another jar")
            page.get_by_label("Unknown salt: hold it against the list").check()
            page.get_by_role("button", name="Start", exact=True).click()
            for text in ("30.118", "31.702", "30.893"):
                type_reading_at(page, text)
            type_reading(page, "vessel + residue, heating 2", "30.891")
            answer = page.get_by_role("region", name="Answer so far")
            expect(answer.locator(".formula").first).to_have_text("MgSO4·7H2O")


class FormulaDesk(BrowserCase):
    def test_a_formula_is_taken_apart_as_it_is_typed(self) -> None:
        with self.page("/formula", offline_expected=True) as page:
            field = page.get_by_label("Formula", exact=True)
            expect(field).to_be_focused()
            page.keyboard.type("CuSO4.5H2O")
            expect(page.get_by_text("249.68 g/mol")).to_be_visible()
            expect(page.get_by_role("row", name="Cu", exact=False).first).to_contain_text("63.546")
            expect(page.get_by_text("5 × 18.015 / 249.68 × 100 % = 36.08 %")).to_be_visible()
            field.fill("CuSo4")
            expect(page.get_by_text("'So' is not an element")).to_be_visible()
            expect(field).to_have_value("CuSo4")
            self.assertEqual(self.serious_faults(page), [])

    def test_a_formula_anywhere_leads_to_the_desk(self) -> None:
        run = self.app.run_named("Zinc sulfate from")
        with self.page(f"/runs/{run['uuid']}") as page:
            page.get_by_role("link", name="ZnSO4·7H2O").first.click()
            expect(page.get_by_role("heading", name="Formula desk")).to_be_visible()
            expect(page.get_by_label("Formula", exact=True)).to_have_value("ZnSO4·7H2O")
            expect(page.get_by_text("287.54 g/mol")).to_be_visible()


class Touch(BrowserCase):
    def test_a_tablet_gets_our_keypad_and_no_system_keyboard(self) -> None:
        with self.page(size=TABLET, touch=True) as page:
            start_by_keyboard(page, "By thumb")
            field = page.get_by_label("vessel", exact=True)
            expect(field).to_have_attribute("inputmode", "none")
            for key in "31.2049":
                page.get_by_role("button", name=key, exact=True).tap()
            page.get_by_role("button", name="Take back the last digit").tap()
            expect(field).to_have_value("31.204")
            page.get_by_role("button", name="Record").tap()
            expect(page.get_by_label("vessel + sample", exact=True)).to_have_value("")
            expect(page.get_by_text("all readings saved")).to_be_visible()
            page.get_by_role("button", name="Keypad on the screen").tap()
            expect(page.get_by_role("group", name="Keypad")).to_be_hidden()
            page.reload()
            expect(page.get_by_label("vessel + sample", exact=True)).to_have_attribute("inputmode", "decimal")

    def test_everything_to_touch_is_48_pixels_high_or_wide_enough(self) -> None:
        """Buttons, fields and links that stand alone; links within a sentence are WCAG 2.5.8's exception."""
        borax = self.app.run_named("Borax")["uuid"]
        for path in ("/", f"/runs/{borax}", f"/runs/{borax}/log", f"/runs/{borax}/slip", "/formula?f=MgSO4.7H2O"):
            with self.subTest(path), self.page(path, size=TABLET, touch=True) as page:
                expect(page.get_by_role("heading", level=1)).to_be_visible()
                page.wait_for_timeout(400)
                small = page.evaluate(
                    """() => [...document.querySelectorAll(
                            'button, select, input:not([type=checkbox]), nav a, footer a, li > a')]
                        .filter((node) => node.checkVisibility() && !node.closest('.hidden-text')
                            && !node.matches('.hidden-text, .formula'))
                        .map((node) => [node.outerHTML.slice(0, 80), node.getBoundingClientRect().height])
                        .filter(([, height]) => height < 47.5)"""
                )
                self.assertEqual(small, [])

    def test_what_no_button_names_is_noted_in_words(self) -> None:
        with self.page() as page:
            start_by_keyboard(page, "Seen")
            page.get_by_role("button", name="other …").click()
            page.get_by_label("What was seen").fill("smells of eggs")
            page.keyboard.press("Enter")
            expect(page.get_by_text("Noted: smells of eggs")).to_be_visible()

    def test_a_step_is_skipped_with_its_reason_and_stands_so_in_the_log(self) -> None:
        with self.page() as page:
            start_by_keyboard(page, "Skipped")
            page.get_by_role("button", name="Skip this step …").click()
            # without a reason nothing happens; second thoughts leave it as it was
            page.keyboard.press("Enter")
            expect(page.get_by_label("Why is it skipped?")).to_have_accessible_description("Say why, in a word or two.")
            page.get_by_role("button", name="Leave it").click()
            page.get_by_role("button", name="Skip this step …").click()
            page.keyboard.type("fired this morning")
            page.keyboard.press("Enter")
            expect(page.get_by_role("heading", name="Weigh the empty vessel")).to_be_visible()
            type_reading(page, "vessel", "31.204")
            page.get_by_role("link", name="Log", exact=True).click()
            expect(page.get_by_role("region", name="Steps")).to_contain_text("skipped: fired this morning")
            self.assertEqual(self.serious_faults(page), [])


class Slip(BrowserCase):
    def test_the_slip_holds_the_run_on_half_a_sheet(self) -> None:
        run = self.app.run_named("Zinc sulfate from")
        with self.page(f"/runs/{run['uuid']}") as page:
            page.get_by_role("link", name="Slip", exact=True).click()
            slip = page.get_by_role("article", name="Result slip")
            for text in ("31.204 g", "x = 7.005 ± 0.047", "Marl", "Worked by"):
                expect(slip).to_contain_text(text)
            page.emulate_media(media="print")
            expect(page.get_by_role("button", name="Print the slip")).to_be_hidden()
            self.assertLess(slip.bounding_box()["height"], 620)  # type: ignore[index]  # it is there


class Slips(BrowserCase):
    def test_bad_input_is_answered_at_its_place_and_stays_typed(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Slips")
            field = page.get_by_label("vessel", exact=True)
            for text, message in (
                ("thirty", "is not a number"),
                ("31.2 mL", "measures a volume"),
                ("-3", "cannot be below zero"),
                ("99999999", "beyond anything"),
            ):
                field.fill(text)
                page.keyboard.press("Enter")
                expect(page.locator("#reading-fault")).to_contain_text(message)
                expect(field).to_have_value(text)
                expect(field).to_have_attribute("aria-invalid", "true")

    def test_an_impossible_weighing_asks_and_is_corrected_or_kept(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Doubts")
            type_reading(page, "vessel", "31.204")
            type_reading(page, "vessel + sample", "30.861")
            expect(page.get_by_text("is not heavier than the empty vessel")).to_be_visible()
            page.get_by_role("button", name="Read it again").click()
            field = page.get_by_label("vessel + sample", exact=True)
            expect(field).to_be_focused()
            expect(field).to_have_value("30.861")
            page.keyboard.press("Enter")
            page.get_by_role("button", name="is what the balance shows").click()
            expect(page.get_by_role("region", name="Answer so far")).to_contain_text("something cannot be right")
            page.get_by_role("link", name="Log").click()
            expect(page.get_by_text("confirmed although")).to_be_visible()

    def test_the_button_that_confirms_keeps_the_figure_that_it_shows(self) -> None:
        """A figure typed anew after a question is another figure: it is asked about, or kept, by itself."""
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Second thoughts")
            type_reading(page, "vessel", "40.600")
            type_reading(page, "vessel + sample", "40.60")
            confirm = page.get_by_role("button", name="is what the balance shows")
            expect(confirm).to_have_text("40.60 is what the balance shows")
            field = page.get_by_label("vessel + sample")
            field.fill("48.60")
            expect(confirm).to_have_count(0)
            page.keyboard.press("Enter")
            expect(confirm).to_have_text("48.60 is what the balance shows")
            field.fill("42.103")
            page.keyboard.press("Enter")
            expect(page.get_by_label("vessel + residue, heating 1")).to_be_focused()
            page.get_by_role("link", name="Log").click()
            rows = page.get_by_role("row", name="vessel + sample")
            expect(rows).to_have_count(1)
            expect(rows).to_contain_text("42.103")

    def test_a_doubt_that_is_confirmed_keeps_that_figure(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Sure of it")
            type_reading(page, "vessel", "31.204")
            type_reading(page, "vessel + sample", "32.86")
            page.get_by_label("vessel + sample").fill("32.8")
            page.get_by_label("vessel + sample").fill("32.86")
            page.keyboard.press("Enter")
            page.get_by_role("button", name="32.86 is what the balance shows").click()
            expect(page.get_by_label("vessel + residue, heating 1")).to_be_focused()
            page.get_by_role("link", name="Log").click()
            expect(page.get_by_role("row", name="vessel + sample")).to_contain_text("confirmed although")

    def test_what_is_half_typed_and_a_running_timer_survive_a_reload(self) -> None:
        with self.page() as page:
            start_by_keyboard(page, "Reload")
            page.get_by_role("button", name="Start 15 min").click()
            expect(page.get_by_role("timer")).to_contain_text("of 15 min left")
            page.get_by_label("vessel", exact=True).fill("31.2")
            page.reload()
            expect(page.get_by_label("vessel", exact=True)).to_have_value("31.2")
            expect(page.get_by_role("timer")).to_contain_text("of 15 min left")

    def test_heating_done_starts_the_cooling_and_one_tap_notes_what_is_seen(self) -> None:
        with self.page() as page:
            start_by_keyboard(page, "Steps")
            page.get_by_role("button", name="It is cool").click()
            type_reading_at(page, "31.204")
            type_reading_at(page, "32.861")
            page.get_by_role("button", name="Heating done").click()
            expect(page.get_by_role("timer")).to_contain_text("of 10 min left")
            expect(page.get_by_text("Still cooling: a warm vessel reads light.")).to_be_visible()
            page.get_by_role("button", name="popping").click()
            expect(page.get_by_text("Noted: popping")).to_be_visible()


def type_reading_at(page: Page, text: str) -> None:
    """Type into the field wherever the focus was, and wait until it was taken."""
    field = page.locator("#reading")
    field.fill(text)
    field.press("Enter")
    expect(field).to_have_value("")
    expect(page.get_by_text("all readings saved")).to_be_visible()


class Log(BrowserCase):
    def test_two_partners_sign_by_keyboard_and_a_correction_shows_at_their_names(self) -> None:
        run = self.app.run_named("Borax from the open jar")
        with self.page(f"/runs/{run['uuid']}/log#sign", offline_expected=True) as page:
            signed = page.get_by_role("region", name="Signed")
            field = page.get_by_label("Your name")
            expect(field).to_be_focused()
            page.keyboard.press("Enter")
            expect(field).to_have_accessible_description("Write your name: it stands below the record.")
            page.keyboard.type("Marl")
            page.keyboard.press("Enter")
            expect(signed).to_contain_text("Marl (demo) has signed; the partner signs too.")
            page.keyboard.type("marl")
            page.keyboard.press("Enter")
            expect(signed.get_by_role("alert")).to_contain_text("the partner signs with another name")
            expect(field).to_have_value("marl")
            field.fill("Terra")
            page.keyboard.press("Enter")
            expect(signed.get_by_role("listitem").filter(has_text="Terra")).to_contain_text("Na2B4O7")
            self.assertEqual(self.serious_faults(page), [])
            page.get_by_role("button", name="Correct vessel,").first.click()
            page.get_by_label("What it should say, in g").fill("27.906")
            page.get_by_label("Why").fill("wrong line")
            page.get_by_role("button", name="Correct", exact=True).click()
            expect(signed).to_contain_text("1 entry came after this signature")

    def test_a_row_changed_past_the_log_stops_at_the_names_and_the_slip_bears_them(self) -> None:
        run = self.app.run_named("Jar Q")
        with self.page(f"/runs/{run['uuid']}/log") as page:
            for name in ("Kaolin", "Terra"):
                page.get_by_label("Your name").fill(name)
                page.keyboard.press("Enter")
                expect(page.get_by_role("region", name="Signed")).to_contain_text(name)
            expect(page.get_by_text("What stands here is not what was signed")).to_have_count(0)
            page.goto(f"/runs/{run['uuid']}/slip")
            expect(page.get_by_text("Signed by Kaolin")).to_be_visible()
            page.goto(f"/runs/{run['uuid']}")
            expect(page.get_by_role("heading", level=1)).to_have_text(run["title"])
        database = Database(self.app.server.url)
        with database.engine.begin() as connection:
            connection.exec_driver_sql("UPDATE reading SET `by` = 'nobody' WHERE text = '30.891'")
            connection.exec_driver_sql("UPDATE run SET version = version + 1")
        database.close()
        with self.page(f"/runs/{run['uuid']}/log") as page:
            expect(page.get_by_text("What stands here is not what was signed")).to_have_count(2)

    def test_a_correction_asks_why_and_strikes_the_old_digits_through(self) -> None:
        run = self.app.run_named("Borax")
        with self.page(f"/runs/{run['uuid']}/log", offline_expected=True) as page:
            page.get_by_role("button", name="Correct vessel, 28.417 g").click()
            page.get_by_label("What it should say, in g").fill("28.471")
            page.get_by_role("button", name="Correct", exact=True).click()
            expect(page.get_by_text("Say why")).to_be_visible()
            expect(page.get_by_label("What it should say, in g")).to_have_value("28.471")
            page.get_by_label("Why").fill("digits swapped")
            page.get_by_role("button", name="Correct", exact=True).click()
            expect(page.get_by_text("corrects 28.417: digits swapped")).to_be_visible()
            expect(page.locator("s")).to_have_text("28.417 g")

    def test_the_run_can_be_taken_along(self) -> None:
        run = self.app.run_named("Zinc sulfate from")
        with self.page(f"/runs/{run['uuid']}/log") as page:
            for name, ending in (("Run file", ".json"), ("CSV", ".csv")):
                with page.expect_download() as download:
                    page.get_by_role("link", name=name).click()
                self.assertTrue(download.value.suggested_filename.endswith(ending))


class Everywhere(BrowserCase):
    @both
    def test_the_form_of_a_new_run_has_no_serious_fault_for_a_screen_reader_in_either_theme(self) -> None:
        for mode in themes("start"):
            with self.subTest(mode=mode), self.page(mode=mode) as page:
                page.get_by_role("button", name="Start a run").click()
                expect(page.get_by_label("Name of the run")).to_be_visible()
                page.wait_for_timeout(300)
                self.assertEqual(self.serious_faults(page), [])

    def test_dark_and_light_by_hand_survive_a_reload(self) -> None:
        with self.page() as page:
            page.get_by_role("button", name="Dark colours").click()
            page.reload()
            expect(page.locator("html")).to_have_attribute("data-mode", "dark")

    def test_a_run_that_is_not_here_leads_back(self) -> None:
        with self.page("/runs/00000000-0000-4000-8000-000000000000", offline_expected=True) as page:
            page.get_by_role("link", name="All runs").last.click()
            expect(page.get_by_role("heading", name="On the benches")).to_be_visible()
