"""A class prepared from its sentence by keyboard, with second thoughts; practicals, students, the evening, the set."""

from __future__ import annotations

import re
from datetime import date, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory

from playwright.sync_api import Locator, Page, expect

from tests.browser.test_bench import type_reading
from tests.support.live import PHONE, SIZES, TABLET, BrowserCase, themes
from tests.support.tiers import amount, both


def thursday() -> date:
    """The next Thursday that is not today."""
    ahead = (3 - date.today().weekday()) % 7 or 7
    return date.today() + timedelta(days=ahead)


def part(page: Page, words: str) -> Locator:
    """A part of the sentence, found by its words."""
    sentence = page.get_by_role("region", name="The class in one sentence")
    return sentence.get_by_role("button", name=words, exact=True)


def open_part(page: Page, words: str) -> None:
    """Reach a part of the sentence and press Enter."""
    part(page, words).focus()
    page.keyboard.press("Enter")


class TheSentence(BrowserCase):
    def test_thursday_is_prepared_and_laid_out_by_keyboard(self) -> None:
        """From an empty sentence to eight benches without a mouse, with a choice taken back on the way."""
        day = thursday()
        with self.page("/prepare", offline_expected=True) as page:
            open_part(page, "a salt without a label")
            expect(page.get_by_label("Salt without its water")).to_be_focused()
            page.keyboard.type("ZnSO4")
            page.get_by_label("Accepted hydrate").focus()
            page.keyboard.type("ZnSO4.7H2O")
            page.keyboard.press("Enter")
            # what was typed is said, and the focus is back at the part
            expect(part(page, "zinc sulfate heptahydrate")).to_be_focused()
            window = page.get_by_role("img", name="About 2.50 g;")
            expect(window).to_be_visible()
            open_part(page, "in dishes")
            expect(page.get_by_role("radio", name="Evaporating dish")).to_be_focused()
            page.keyboard.press("ArrowDown")
            expect(part(page, "in crucibles")).to_be_visible()
            page.keyboard.press("ArrowUp")
            page.keyboard.press("Escape")
            expect(part(page, "in dishes")).to_be_focused()
            open_part(page, "two trials")
            expect(page.get_by_label("Trials a bench")).to_be_focused()
            page.keyboard.press("Control+a")
            page.keyboard.type("1")
            page.keyboard.press("Escape")
            expect(part(page, "one trial")).to_be_visible()
            open_part(page, "one trial")
            expect(page.get_by_label("Trials a bench")).to_be_focused()
            page.keyboard.press("Control+a")
            page.keyboard.type("2")
            page.keyboard.press("Escape")
            page.get_by_role("button", name="change it").focus()
            page.keyboard.press("Enter")
            expect(page.get_by_role("textbox", name="How much to weigh")).to_be_focused()
            page.keyboard.type("1.5 g")
            page.keyboard.press("Escape")
            # 8 benches × 2 trials × 1.5 g and a fifth to spare
            expect(page.get_by_role("row", name="zinc sulfate heptahydrate")).to_contain_text("28.8 g")
            page.get_by_role("button", name="18:30").focus()
            page.keyboard.press("Enter")
            page.get_by_label("Day", exact=True).fill(day.isoformat())
            page.get_by_label("Name of the class").fill("Zinc on Thursday")
            page.keyboard.press("Escape")
            expect(part(page, f"Thursday {day.day} {day:%B}, 18:30")).to_be_visible()
            evening = page.get_by_role("region", name="How the evening runs")
            expect(evening.get_by_text("500 evenings")).to_be_visible()
            self.assertEqual(self.serious_faults(page), [])
            page.get_by_role("button", name="Lay out the benches").focus()
            page.keyboard.press("Enter")
            expect(page.get_by_role("heading", name="Zinc on Thursday")).to_be_visible()
            expect(page.get_by_role("row")).to_have_count(9)
            self.assertEqual(self.serious_faults(page), [])
            page.get_by_role("row", name="Marl").get_by_role("link", name="to its bench").focus()
            page.keyboard.press("Enter")
            expect(page.get_by_role("link", name="Trial 2")).to_be_visible()
            # what was sized is what the bench expects
            type_reading(page, "vessel", "30.000")
            expect(page.get_by_text(re.compile(r"about 1\.50? g was planned")).first).to_be_visible()

    def test_what_is_wrong_stands_at_its_part_and_nothing_typed_is_lost(self) -> None:
        with self.page("/prepare", offline_expected=True) as page:
            open_part(page, "a salt without a label")
            page.keyboard.type("ZnSO4")
            page.get_by_label("Accepted hydrate").fill("CuSO4.5H2O")
            expect(page.get_by_text("CuSO4·5H2O is not a hydrate of ZnSO4").first).to_be_visible()
            expect(page.get_by_label("Accepted hydrate")).to_have_attribute("aria-invalid", "true")
            page.keyboard.press("Escape")
            wrong = page.get_by_role("list", name="What is to be mended")
            expect(wrong).to_contain_text("is not a hydrate of")
            # laying out leads to it instead
            page.get_by_role("button", name="Lay out the benches").click()
            expect(page.get_by_label("Accepted hydrate")).to_have_value("CuSO4.5H2O")
            page.get_by_label("Accepted hydrate").fill("ZnSO4.7H2O")
            expect(page.get_by_label("Accepted hydrate")).not_to_have_attribute("aria-invalid", "true")
            page.keyboard.press("Escape")
            expect(wrong).to_have_count(0)
            open_part(page, "150 min")
            page.get_by_label("How long").fill("a while")
            expect(page.locator("#length-help")).to_contain_text("'a while'")
            page.reload()
            expect(part(page, "a while")).to_be_visible()
            expect(part(page, "zinc sulfate heptahydrate")).to_be_visible()

    def test_a_server_that_is_away_is_said_and_the_sentence_goes_on_when_it_is_back(self) -> None:
        with self.page("/prepare", offline_expected=True) as page:
            open_part(page, "a salt without a label")
            page.keyboard.type("ZnSO4")
            expect(part(page, "zinc sulfate")).to_be_visible()
            self.app.stop_web()
            page.get_by_label("Accepted hydrate").fill("ZnSO4.7H2O")
            expect(page.get_by_role("alert")).to_contain_text("The server does not answer")
            self.app.start_web()
            # nobody strikes a key: what was typed is asked about again
            expect(part(page, "zinc sulfate heptahydrate")).to_be_visible()
            expect(page.get_by_role("alert")).to_have_count(0)


class TheEvening(BrowserCase):
    def test_what_would_help_is_taken_by_one_tap_and_the_next_change_draws_anew(self) -> None:
        with self.page("/prepare", offline_expected=True) as page:
            page.get_by_role("button", name="What the room has").click()
            page.get_by_label("balance: how many").fill("1")
            page.keyboard.press("Escape")
            evening = page.get_by_role("region", name="How the evening runs")
            expect(evening.get_by_text("for the 1 balance").first).to_be_visible()
            evening.get_by_role("button", name="a second balance").click()
            expect(evening.get_by_text("for the 2 balances").first).to_be_visible()
            page.get_by_role("button", name="What the room has").click()
            expect(page.get_by_label("balance: how many")).to_have_value("2")
            evening.get_by_text("The same as text").click()
            expect(evening.get_by_role("table").get_by_role("row")).to_have_count(9)
            evening.get_by_role("button", name="The range").click()
            expect(evening.get_by_text("when each bench is done")).to_be_visible()
            # no balance at all: nobody can weigh
            page.get_by_label("balance: how many").fill("0")
            expect(evening.get_by_text("The room has no balance")).to_be_visible()

    def test_ten_minutes_are_said_to_be_too_short(self) -> None:
        with self.page("/prepare", offline_expected=True) as page:
            open_part(page, "150 min")
            page.get_by_label("How long").fill("10 min")
            expect(page.get_by_role("main").get_by_text("No evening ends in time.")).to_be_visible()


class Kept(BrowserCase):
    def test_a_practical_is_taken_changed_kept_and_compared(self) -> None:
        with self.page("/prepare", offline_expected=True) as page:
            page.get_by_role("button", name="Practicals").click()
            page.get_by_role("button", name="Take Malachite roasted to black oxide").click()
            expect(part(page, "decompose by heat")).to_be_visible()
            page.get_by_role("region", name="Steps", exact=True).get_by_role("button", name="change them").click()
            page.get_by_role("button", name="A step at the end").click()
            page.get_by_label("What it is called").fill("Show the instructor")
            page.get_by_label("Usually, min").last.fill("3")
            page.get_by_label("Usually, min").last.press("Tab")
            page.get_by_role("region", name="Before and after").get_by_role("button", name="change them").click()
            page.get_by_role("button", name="A question after").click()
            page.get_by_role("textbox", name="Question 1").last.fill("What is the black solid?")
            page.get_by_role("button", name="Practicals").click()
            page.get_by_label("What is new in it").fill("shown before it is put away")
            page.get_by_role("button", name="Keep as version 2").click()
            expect(page.get_by_role("dialog")).to_have_count(0)
            page.get_by_role("button", name="Practicals").click()
            row = page.get_by_role("dialog").locator(".practical", has_text="Malachite roasted")
            expect(row).to_contain_text("version 2: shown before it is put away")
            row.locator("summary").first.click()
            row.get_by_role("button", name="What changed since 1").click()
            expect(row.get_by_role("table")).to_contain_text("Show the instructor")
            expect(row.get_by_role("table")).to_contain_text("What is the black solid?")
            self.assertEqual(self.serious_faults(page), [])

    def test_of_two_who_edit_one_the_second_is_told_and_keeps_what_they_wrote(self) -> None:
        with self.page("/prepare", offline_expected=True) as one, self.page("/prepare", offline_expected=True) as other:
            for page, trials in ((one, "4"), (other, "5")):
                page.get_by_role("button", name="Practicals").click()
                page.get_by_role("button", name="Take Whiting against its bag").click()
                open_part(page, "two trials")
                page.get_by_label("Trials a bench").fill(trials)
                page.keyboard.press("Escape")
            for page in (one, other):
                page.get_by_role("button", name="Practicals").click()
                page.get_by_role("button", name="Keep as version 2").click()
            expect(one.get_by_role("dialog")).to_have_count(0)
            expect(other.get_by_role("alert")).to_contain_text("kept version 2 of this practical meanwhile")
            other.get_by_label("Keep what stands in the sentence as").fill("Whiting, five times")
            other.get_by_role("button", name="Keep as a new practical").click()
            expect(other.get_by_role("dialog")).to_have_count(0)
            expect(part(other, "five trials")).to_be_visible()

    def test_second_thoughts_about_what_is_done_lose_nothing(self) -> None:
        """Arrow keys run through the methods; a practical taken by mistake is put back."""
        with self.page("/prepare", offline_expected=True) as page:
            open_part(page, "a salt without a label")
            page.keyboard.type("ZnSO4")
            page.keyboard.press("Escape")
            open_part(page, "find the water of")
            expect(page.get_by_role("radio", name="Water of a hydrate")).to_be_focused()
            page.keyboard.press("ArrowDown")
            page.keyboard.press("ArrowUp")
            page.keyboard.press("Escape")
            expect(part(page, "zinc sulfate")).to_be_visible()
            page.get_by_role("button", name="Practicals").click()
            page.get_by_role("button", name="Take Tin with sulfur").click()
            expect(part(page, "tin and sulfur")).to_be_visible()
            page.get_by_role("button", name="Back to what stood here before").click()
            expect(part(page, "zinc sulfate")).to_be_visible()

    def test_a_caution_of_one_s_own_is_added_and_taken_away_and_the_built_in_one_stays(self) -> None:
        with self.page("/prepare", offline_expected=True) as page:
            page.get_by_role("button", name="Practicals").click()
            page.get_by_role("button", name="Take Water of zinc sulfate").click()
            steps = page.get_by_role("region", name="Steps", exact=True)
            steps.get_by_role("button", name="change them").click()
            steps.get_by_role("button", name="Fire the vessel, cool it", exact=True).click()
            own = steps.get_by_label("And also beware")
            own.fill("The gauze stays hot too.")
            own.press("Tab")
            steps.get_by_role("button", name="done", exact=True).click()
            steps.get_by_role("button", name="change them").click()
            expect(own).to_have_value("The gauze stays hot too.")
            expect(steps.get_by_text("Hot looks like cold.").first).to_be_visible()
            own.fill("")
            own.press("Tab")
            expect(steps.locator(".fault")).to_have_count(0)
            # steps that only a weigh boat needs go, and no school moves them any more
            for name in ("Weigh the empty boat", "Weigh out the sample"):
                steps.get_by_role("button", name=name, exact=False).first.click()
                steps.get_by_role("button", name="Drop it").click()
            expect(steps.get_by_role("button", name="Weigh the empty boat")).to_have_count(0)
            expect(page.get_by_role("main").get_by_text("500 evenings")).to_be_visible()
            expect(steps.locator(".fault")).to_have_count(0)

    def test_a_reading_that_has_no_step_any_more_is_said(self) -> None:
        with self.page("/prepare", offline_expected=True) as page:
            page.get_by_role("button", name="Practicals").click()
            page.get_by_role("button", name="Take Water of zinc sulfate").click()
            steps = page.get_by_role("region", name="Steps", exact=True)
            steps.get_by_role("button", name="change them").click()
            steps.get_by_role("button", name="Weigh the empty vessel", exact=False).first.click()
            steps.get_by_role("button", name="Drop it").click()
            expect(steps.locator(".fault").first).to_be_visible()
            steps.get_by_role("button", name="Back to the method's own steps").click()
            expect(steps.locator(".fault")).to_have_count(0)

    def test_a_run_that_went_well_becomes_a_practical(self) -> None:
        run = self.app.run_named("Whiting against its bag")
        with self.page(f"/runs/{run['uuid']}/log", offline_expected=True) as page:
            page.get_by_role("link", name="Make a practical of it").click()
            expect(part(page, "weigh the gas given off by")).to_be_visible()
            expect(part(page, "calcium carbonate")).to_be_visible()

    def test_a_practical_goes_out_as_a_file_and_comes_back(self) -> None:
        with self.page("/prepare", offline_expected=True) as page, TemporaryDirectory() as folder:
            page.get_by_role("button", name="Practicals").click()
            row = page.get_by_role("dialog").locator(".practical", has_text="Blanc fixe")
            row.locator("summary").first.click()
            with page.expect_download() as got:
                row.get_by_role("link", name="Take it along").click()
            path = Path(folder) / got.value.suggested_filename
            got.value.save_as(path)
            page.get_by_label("File of a practical").set_input_files(path)
            expect(part(page, "make and collect")).to_be_visible()
            page.get_by_role("button", name="Practicals").click()
            expect(page.get_by_role("dialog").locator(".practical", has_text="Blanc fixe")).to_have_count(2)
            bad = Path(folder) / "bad.json"
            bad.write_text('{"format": "clay-kettle/practical", "version": 9}')
            page.get_by_label("File of a practical").set_input_files(bad)
            expect(page.get_by_role("alert")).to_contain_text("newer Clay Kettle")


class Students(BrowserCase):
    def test_the_roster_is_dealt_out_typed_over_and_a_bench_drops_out(self) -> None:
        with self.page("/prepare", offline_expected=True) as page:
            page.get_by_role("button", name="Practicals").click()
            page.get_by_role("button", name="Take Tin with sulfur").click()
            open_part(page, "Eight benches")
            page.get_by_role("button", name="Deal them out over the benches").click()
            expect(page.get_by_label("Students at Ball")).to_have_value("Ada Quill, Bo Thrush")
            expect(page.get_by_text("16 on the roster, all at a bench.")).to_be_visible()
            page.get_by_label("Terra", exact=True).uncheck()
            expect(part(page, "Seven benches")).to_be_visible()
            expect(page.get_by_text("2 without a bench: Ona Martin, Pip Reed")).to_be_visible()
            page.get_by_role("button", name="Change the roster").click()
            page.get_by_label("Roster, one student per line").fill("Ada Quill\nada quill")
            page.get_by_role("button", name="Save the roster").click()
            expect(page.get_by_role("alert").filter(has_text="stands there twice")).to_be_visible()
            expect(page.get_by_label("Roster, one student per line")).to_have_value("Ada Quill\nada quill")
            page.get_by_role("button", name="Cancel").click()
            # a list from elsewhere is shown as it is read, and nothing of the roster is gone before it is saved
            file = {
                "name": "class.csv",
                "mimeType": "text/csv",
                "buffer": b"Nr;Nachname;Vorname\n1;Quill;Ada\n2;Wren;Cy\n",
            }
            with page.expect_file_chooser() as chooser:
                page.get_by_role("button", name="Open a list").click()
            chooser.value.set_files(file)  # type: ignore[arg-type]
            expect(page.get_by_text("2 names were read from class.csv.")).to_contain_text("they come off the roster")
            expect(page.get_by_label("Roster, one student per line")).to_have_value("Ada Quill\nCy Wren")
            self.assertEqual(16, len(self.app.json("/api/roster")["students"]))
            self.assertEqual(self.serious_faults(page), [])
            page.get_by_role("button", name="Cancel").click()
            page.keyboard.press("Escape")
            page.get_by_role("button", name="Lay out the benches").click()
            expect(page.get_by_role("row", name="Ball")).to_contain_text("Ada Quill, Bo Thrush")
            page.get_by_role("button", name="Drops out : China").or_(
                page.get_by_role("button", name="Drops out: China")
            ).click()
            expect(page.get_by_role("row", name="China")).to_contain_text("dropped out")
            page.get_by_role("button", name="Comes back").click()
            expect(page.get_by_role("row", name="China")).not_to_contain_text("dropped out")
            page.get_by_label("A bench that comes late").select_option("Terra")
            page.get_by_role("button", name="Begin it now").click()
            expect(page.get_by_role("row", name="Terra").get_by_role("link", name="to its bench")).to_be_visible()

    def test_a_class_is_prepared_again_from_an_earlier_one(self) -> None:
        with self.page("/prepare", offline_expected=True) as page:
            page.get_by_role("button", name="Practicals").click()
            page.get_by_role("button", name="Take Blanc fixe").click()
            # the reagents stand in the practical's table, and not in one field
            expect(page.get_by_role("row", name="Na2SO4")).to_be_visible()
            open_part(page, "150 min")
            page.get_by_label("How long").fill("3 h")
            page.keyboard.press("Escape")
            page.get_by_role("button", name="Lay out the benches").click()
            expect(page.get_by_role("heading", name="Blanc fixe")).to_be_visible()
            page.get_by_role("link", name="Prepare another").click()
            expect(part(page, "a salt without a label")).to_be_visible()
            page.get_by_role("button", name="Practicals").click()
            page.get_by_role("button", name=re.compile("Prepare it again ?: Blanc fixe")).first.click()
            expect(part(page, "make and collect")).to_be_visible()
            expect(part(page, "3 h")).to_be_visible()
            # the same name on the same day is told, at its part
            page.get_by_role("button", name="Lay out the benches").click()
            expect(
                page.get_by_role("list", name="What is to be mended").or_(page.locator("#title-help"))
            ).to_contain_text("There is a class of this name on that day")


class OnPaperAndScreen(BrowserCase):
    def test_the_set_is_printed_on_a4_with_everything_unfolded(self) -> None:
        with self.page("/prepare", offline_expected=True) as page:
            page.get_by_role("button", name="Practicals").click()
            page.get_by_role("button", name="Take Molar volume of hydrogen, by zinc").click()
            expect(page.get_by_role("region", name="Solution HCl 3 mol/L")).to_be_visible()
            expect(page.get_by_text("500 evenings")).to_be_visible()
            page.emulate_media(media="print")
            printed = page.get_by_role("article", name="To be printed")
            for words in ("From the store", "Kit", "Make", "Benches", "Waste", "Labels", "In pencil", "nine of ten by"):
                expect(printed).to_contain_text(words)
            expect(printed).to_contain_text("acid")
            self.assertEqual(page.locator("main").is_visible(), False)
            self.assertGreater(len(page.pdf(format="A4")), 10_000)

    @both
    def test_it_fits_four_sizes_and_axe_finds_no_serious_fault(self) -> None:
        for mode in themes("prepare"):
            with self.page("/prepare", mode=mode, offline_expected=True) as page:
                expect(page.get_by_text("500 evenings")).to_be_visible()
                self.every_size(page, mode, looked=PHONE)
                open_part(page, "Eight benches")
                expect(page.get_by_label("Students at Ball")).to_be_visible()
                self.every_size(page, mode, looked=TABLET)

    def every_size(self, page: Page, mode: str, looked: dict[str, int]) -> None:
        """No wider than the window; axe looks at one of the sizes, in the long run at each."""
        for size in SIZES:
            with self.subTest(size=size, mode=mode):
                page.set_viewport_size(size)  # type: ignore[arg-type]  # a width and a height
                page.wait_for_timeout(150)
                wide = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
                self.assertLessEqual(wide, 0)
                if size == looked or amount(False, True):
                    self.assertEqual(self.serious_faults(page), [])
