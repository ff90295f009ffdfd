"""The desk after the class: sheets marked, gone through by keyboard."""

from __future__ import annotations

import io
import re
import zipfile
from typing import Any
from uuid import uuid4

import pypdf
from playwright.sync_api import Page, expect

from tests.browser.test_own_figures import OwnCase
from tests.support.live import PHONE, TABLET, BrowserCase
from tests.support.tiers import both


class Desk(BrowserCase):
    def test_the_demo_s_sheets_are_gone_through_by_keyboard(self) -> None:
        with self.page("/desk") as page:
            expect(page.get_by_text("2 sheets handed in")).to_be_visible()
            expect(page.get_by_role("heading", name="Flint, Eli Marsh: own figures")).to_be_visible()
            expect(page.get_by_text("10 of 10").last).to_be_visible()
            page.keyboard.press("ArrowDown")
            expect(page.get_by_role("heading", name="Kaolin, Ivo Plover: own figures")).to_be_visible()
            expect(page.get_by_text("First wrong line: 6, amount of salt.")).to_be_visible()
            expect(page.get_by_text("another reading or line was taken")).to_be_visible()
            expect(page.get_by_text("though your own ratio x, 12.5, does not")).to_be_visible()
            page.keyboard.press("ArrowUp")
            expect(page.get_by_role("heading", name="Flint, Eli Marsh: own figures")).to_be_visible()
            page.get_by_role("button", name="Next: Kaolin").click()
            expect(page.get_by_role("button", name="Kaolin, Ivo Plover, trial 1: 9 of 10")).to_have_attribute(
                "aria-pressed", "true"
            )
            self.assertEqual([], self.serious_faults(page))

    @both
    def test_it_is_fit_for_every_size_and_both_themes(self) -> None:
        pages = (("/desk", "Flint, Eli Marsh: own figures"), ("/desk/0/table", "Signatures"), ("/find", "Runs"))
        for path, heading in pages:
            shown = lambda page: expect(page.get_by_role("heading", name=heading, exact=True)).to_be_visible()  # noqa: B023, E731
            self.assert_fits(path, shown)


TYPED = {
    "mass of sample": "1.550 g", "mass of residue": "0.928 g", "water driven off": "0.262 g", "percent water": "16.9 %",
    "amount of water": "14.5 mmol", "amount of salt": "5.749 mmol", "ratio x": "0.396", "formula": "ZnSO4.7H2O",
}  # fmt: skip
"""0.622 g with its digits exchanged, carried on; then 14.5 over 5.749 upside down."""
RIGHT = {
    "mass of sample": "1.550 g", "mass of residue": "0.928 g", "water driven off": "0.622 g", "percent water": "40.1 %",
    "amount of water": "34.5 mmol", "amount of salt": "5.749 mmol", "formula": "ZnSO4.6H2O",
}  # fmt: skip
"""The same without a slip."""


class HandedInTwice(OwnCase):
    def hand_in(self, run: str, ratio: str) -> None:
        """Figures of a student, typed by the instructor from paper."""
        names = {row["label"]: row["name"] for row in self.app.json(f"/api/runs/{run}/own-figures")["lines"]}
        claims = {
            name: ratio if label.startswith("ratio") else next(t for key, t in RIGHT.items() if label.startswith(key))
            for label, name in names.items()
        }
        body = {"uuid": str(uuid4()), "trial": "1", "student": "Nat Teasel", "claims": claims}
        self.app.post(f"/api/runs/{run}/own-figures", body)

    def test_versions_are_weighed_up_and_a_later_correction_stands_beside_the_sheet(self) -> None:
        benches = self.app.json("/api/classes/0/changes")["benches"]
        run = next(row["run"] for row in benches if row["name"] == "Slip")
        self.hand_in(run, "9.9")
        self.hand_in(run, "6.0")
        with self.page("/desk") as page:
            page.get_by_role("button", name="Slip, Nat Teasel", exact=False).click()
            versions = page.get_by_role("button", name=re.compile(r"^\d\d:\d\d: "))
            expect(versions).to_have_count(2)
            expect(versions.first).to_have_text(re.compile("counts"))
            versions.last.click()
            expect(versions.last).to_have_text(re.compile("counts"))
            expect(versions.first).to_be_enabled()
            expect(page.get_by_text("Nothing went wrong on the way.")).to_be_visible()
            # the bench corrects a reading afterwards: their figures were right as they stood
            readings = self.app.json(f"/api/runs/{run}")["readings"]
            loaded = next(row for row in readings if row["slot"] == "vessel_sample" and row["current"])
            other = f"{float(loaded['text']) + 0.09:.3f}"
            body = {"uuid": str(uuid4()), "supersedes": loaded["uuid"], "text": other, "reason": "misread"}
            self.app.post(f"/api/runs/{run}/corrections", body | {"confirmed": True})
            expect(page.get_by_text(f"was corrected to {other} g after this sheet came in: misread")).to_be_visible()
            expect(page.get_by_text("Nothing went wrong on the way.")).to_be_visible()
            page.get_by_role("button", name="Mark against the corrected ones").click()
            expect(page.get_by_text("First wrong line", exact=False)).to_be_visible()
            page.get_by_role("button", name="Mark against those that they had").click()
            expect(page.get_by_text("Nothing went wrong on the way.")).to_be_visible()
            self.assertEqual([], self.serious_faults(page))
            page.get_by_role("button", name="Give back", exact=True).click()
            expect(page.get_by_text("Given back", exact=False).first).to_be_visible()
            expect(versions.first).to_be_disabled()
            expect(page.get_by_role("button", name="Mark against the corrected ones")).to_have_count(0)


class GivenBack(OwnCase):
    def test_two_slips_marked_by_keyboard_and_given_back_to_the_tablet(self) -> None:
        with self.tablet("Slip") as tablet, self.page("/desk", offline_expected=True) as desk:
            tablet.get_by_role("link", name="Own figures").click()
            tablet.get_by_label("Who writes here").select_option("Nat Teasel")
            # a prediction, typed with second thoughts
            asked = tablet.get_by_label("What percentage of the crystals", exact=False)
            asked.fill("about half")
            asked.press("Tab")
            expect(tablet.get_by_text("Begin with the figure, its unit behind it.")).to_be_visible()
            asked.fill("43.9 %")
            asked.press("Tab")
            expect(tablet.get_by_text("kept").first).to_be_visible()
            for label, text in TYPED.items():
                tablet.get_by_label(label, exact=False).last.fill(text)
            tablet.get_by_role("button", name="Hand in").click()
            expect(tablet.get_by_role("status").filter(has_text="Handed in")).to_be_visible()
            # what is blamed is replayed: x came out too low, and spatter would have raised it
            tablet.get_by_label("Did your x come out too high or too low?").select_option(label="too high")
            expect(tablet.get_by_text("too low.", exact=False).first).to_be_visible()
            tablet.get_by_label("Did your x come out too high or too low?").select_option(label="too low")
            cause = tablet.get_by_label("Which cause fits the sign and the size of that?")
            cause.select_option(label="spatter, popping or grains lost")
            expect(tablet.get_by_text("yours is too small", exact=False)).to_be_visible()
            self.assertEqual([], self.serious_faults(tablet))
            self.mark_and_give_back(desk)
            tablet.reload()
            back = tablet.get_by_role("region", name="Given back: Nat Teasel", exact=False)
            expect(back).to_contain_text("First wrong line: 3, water driven off.")
            expect(back).to_contain_text("= 0.622 g")
            expect(back).to_contain_text("half of it: the way is right")
            expect(back).to_contain_text("6 of 10")
            self.assertEqual([], self.serious_faults(tablet))

    def mark_and_give_back(self, desk: Page) -> None:
        """By keyboard: to the sheet, a mark changed with a second thought, given back."""
        expect(desk.get_by_role("button", name="Slip, Nat Teasel", exact=False)).to_be_visible()
        headings = desk.get_by_role("heading", name=": own figures")
        for _ in range(4):
            expect(headings).to_have_count(1)
            at = headings.inner_text()
            if at.startswith("Slip, Nat Teasel"):
                break
            desk.keyboard.press("ArrowDown")
            expect(headings).not_to_have_text(at)
        expect(headings).to_have_text("Slip, Nat Teasel: own figures")
        expect(desk.get_by_text("two digits are the other way round", exact=False)).to_be_visible()
        expect(desk.get_by_text("the fraction stands upside down", exact=False)).to_be_visible()
        desk.keyboard.press("m")
        marks = desk.get_by_label("Marks, of", exact=False)
        expect(marks).to_be_focused()
        # left, and begun anew at another line
        desk.keyboard.press("Escape")
        expect(marks).to_have_count(0)
        desk.get_by_role("button", name="0 of 2 for ratio x: change it").click()
        marks.fill("5")
        desk.keyboard.press("Enter")
        expect(desk.get_by_text("Between 0 and 2: so much is the line worth.")).to_be_visible()
        marks.fill("1")
        desk.keyboard.press("Enter")
        expect(desk.get_by_text("Say why, in a word or two", exact=False)).to_be_visible()
        desk.get_by_label("Why", exact=True).fill("half of it: the way is right")
        desk.keyboard.press("Enter")
        expect(desk.get_by_text("6 of 10").last).to_be_visible()
        self.assertEqual([], self.serious_faults(desk))
        desk.keyboard.press("g")
        expect(desk.get_by_role("status").filter(has_text="its bench sees it marked")).to_be_visible()


class OnPaper(BrowserCase):
    def test_all_reports_come_as_one_archive_while_it_is_told_how_far_they_are(self) -> None:
        with self.page("/desk") as page:
            page.get_by_label("As", exact=True).select_option(label="web page")
            with page.expect_download() as waited:
                page.get_by_role("button", name="Every bench’s report").click()
            with zipfile.ZipFile(waited.value.path()) as held:
                self.assertEqual(9, len(held.namelist()))
                self.assertIn("02-china.html", held.namelist())

    def test_the_report_of_a_run_as_a_page_says_what_the_pdf_says(self) -> None:
        run = self.app.run_named("Zinc sulfate from the glaze store")
        with self.page(f"/runs/{run['uuid']}/log") as page:
            link = page.get_by_role("link", name="Report, as a page")
            with page.context.expect_page() as opened:
                link.click()
            report = opened.value
            report.wait_for_load_state()
            expect(report.get_by_role("heading", level=1)).to_have_text("Zinc sulfate from the glaze store")
            told = report.locator("main").inner_text()
            self.assertIn("was weighed empty", told)
            for size in ((1280, 800), (390, 844)):
                report.set_viewport_size({"width": size[0], "height": size[1]})
                self.assertLessEqual(report.evaluate("document.documentElement.scrollWidth - innerWidth"), 0)
            response = page.context.request.get(f"/api/runs/{run['uuid']}/report?to=pdf")
            found = pypdf.PdfReader(io.BytesIO(response.body()))
            printed = re.sub(r"\s+", "", "".join(sheet.extract_text() for sheet in found.pages))
            for line in ("was weighed empty", "Your local rules and your safety officer come first."):
                self.assertIn(line.replace(" ", ""), printed)

    def test_the_class_table_is_read_signed_and_fit_for_every_size(self) -> None:
        with self.page("/desk", offline_expected=True) as page:
            page.get_by_role("link", name="Class table").click()
            expect(page.get_by_role("heading", name="An earlier class beside it")).to_be_visible()
            table = page.get_by_role("table").first
            expect(table.get_by_role("row").filter(has_text="Slip")).to_contain_text("outside the class")
            page.get_by_label("Your name, below every bench’s record").fill(" ")
            page.get_by_role("button", name="Sign the class").click()
            expect(page.get_by_text("Write your name", exact=False)).to_be_visible()
            page.get_by_label("Your name, below every bench’s record").fill("Hana Birch")
            page.keyboard.press("Enter")
            expect(page.get_by_text("8 of 8 signed as they stand", exact=False)).to_be_visible()
            expect(page.get_by_text("One fingerprint over all of them", exact=False)).to_be_visible()
            for size in ({"width": 1280, "height": 800}, TABLET, PHONE):
                page.set_viewport_size(size)
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth - innerWidth"), 0)
            self.assertEqual([], self.serious_faults(page))


class Finding(BrowserCase):
    def found(self, page: Page) -> Any:
        """The runs that are listed."""
        return page.get_by_role("region", name="Runs", exact=True)

    def test_words_typed_narrow_what_is_found_and_stand_in_the_address(self) -> None:
        with self.page("/") as page:
            page.get_by_role("link", name="Find").click()
            words = page.get_by_role("searchbox")
            expect(words).to_be_focused()
            page.keyboard.type("borax flint")
            expect(self.found(page)).to_contain_text("Borax from the glaze store")
            expect(self.found(page)).not_to_contain_text("Blanc fixe")
            words.fill("nothing like that")
            expect(page.get_by_text("Fewer words find more.", exact=False)).to_be_visible()
            words.fill("quill")
            expect(self.found(page)).to_contain_text("Ada Quill")
            page.get_by_label("How it stands").select_option("finished")
            expect(page).to_have_url(re.compile("words=quill&state=finished"))
            page.reload()
            expect(words).to_have_value("quill")
            expect(self.found(page)).to_contain_text("Ball")
            self.assertEqual([], self.serious_faults(page))
            for size in (TABLET, PHONE):
                page.set_viewport_size(size)
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth - innerWidth"), 0)

    def test_a_term_is_saved_and_what_cannot_be_had_is_said(self) -> None:
        with self.page("/find", offline_expected=True) as page:
            page.get_by_label("A term, from").fill("2020-01-01")
            page.get_by_label("to", exact=True).fill("2020-06-30")
            page.get_by_role("button", name="Save it as one package").click()
            expect(page.get_by_text("Nothing was recorded on these days.")).to_be_visible()
            page.get_by_label("to", exact=True).fill("2099-12-31")
            with page.expect_download() as waited:
                page.get_by_role("button", name="Save it as one package").click()
            with zipfile.ZipFile(waited.value.path()) as held:
                self.assertIn("ro-crate-metadata.json", held.namelist())
            page.get_by_label("What is kept of a student").fill("Ada Quill")
            with page.expect_download() as other:
                page.get_by_role("button", name="Save it as one document").click()
            self.assertEqual("ada-quill.json", other.value.suggested_filename)
