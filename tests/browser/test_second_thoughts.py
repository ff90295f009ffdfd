"""A bench where things go wrong: a forgotten paper, a wrong school, a wrong line, a changed option, a tap too many."""

from __future__ import annotations

from datetime import date, timedelta

from playwright.sync_api import Page, expect

from tests.browser.test_bench import start_by_keyboard, type_reading, type_reading_at
from tests.browser.test_crucible import start
from tests.support.live import BrowserCase

AT_ONCE = """(text) => {
    const asked = new MutationObserver(() => {
        if (!document.body.innerText.includes('Read it again')) return;
        asked.disconnect();
        document.execCommand('insertText', false, text);
    });
    asked.observe(document.body, { childList: true, subtree: true });
}"""


def answer(page: Page) -> str:
    """What stands in the answer."""
    return page.get_by_role("region", name="Answer so far").inner_text()


class NotTaken(BrowserCase):
    def test_a_forgotten_paper_is_made_good_by_the_mean_of_others(self) -> None:
        """The sand weighs what was collected less the mean of the papers that were weighed in its place."""
        papers = ("0.902", "0.911", "0.897", "0.905", "0.908", "0.899")
        with self.page(offline_expected=True) as page:
            start(page, "Filtering, washing, drying", "Sand, paper forgotten", {"Mass that should come": "1.000 g"})
            page.get_by_role("button", name="Not taken …").click()
            expect(page.get_by_label("Why was it not taken?")).to_be_focused()
            # nothing goes without a reason, and the reason never becomes a figure
            page.keyboard.press("Enter")
            expect(page.get_by_text("Say why, in a word or two")).to_be_visible()
            page.keyboard.type("forgotten")
            page.keyboard.press("Enter")
            for number, text in enumerate(papers, 1):
                type_reading(page, f"papers, paper {number}", text)
            page.get_by_role("button", name="No more of these …").click()
            page.keyboard.type("the box is empty")
            page.keyboard.press("Enter")
            type_reading(page, "paper +", "1.893")
            mean = sum(map(float, papers)) / len(papers)
            expect(page.get_by_role("region", name="Answer so far")).to_contain_text(f"{1.893 - mean:.3f}"[:4])
            self.assertIn("not taken", answer(page))
            page.get_by_role("link", name="Log").click()
            expect(page.get_by_role("row", name="not taken").first).to_contain_text("forgotten")
            self.assertEqual(self.serious_faults(page), [])

    def test_second_thoughts_leave_the_field_as_it_was(self) -> None:
        with self.page() as page:
            start_by_keyboard(page, "Second thoughts")
            page.get_by_label("vessel", exact=True).fill("31.2")
            page.get_by_role("button", name="Not taken …").click()
            page.get_by_role("button", name="Leave it").click()
            expect(page.get_by_label("vessel", exact=True)).to_be_focused()
            expect(page.get_by_label("vessel", exact=True)).to_have_value("31.2")

    def test_what_was_left_out_is_taken_after_all(self) -> None:
        with self.page(offline_expected=True) as page:
            start(page, "Filtering, washing, drying", "Sand, paper found", {"Mass that should come": "1.000 g"})
            page.get_by_role("button", name="Not taken …").click()
            page.keyboard.type("forgotten")
            page.keyboard.press("Enter")
            expect(page.get_by_label("papers, paper 1")).to_be_focused()
            page.get_by_role("button", name="Paper, empty: not taken").click()
            type_reading(page, "paper", "0.905")
            expect(page.get_by_label("paper +")).to_be_focused()


class WrongLine(BrowserCase):
    def test_a_figure_on_the_wrong_line_is_moved_in_one_gesture(self) -> None:
        """The weighing with the sample was typed where the empty vessel belongs."""
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Wrong line")
            type_reading(page, "vessel", "32.861")
            page.get_by_role("button", name="Correct vessel, 32.861 g").click()
            page.get_by_label("its line").check()
            expect(page.get_by_label("It belongs to")).to_contain_text("vessel + sample")
            page.get_by_role("button", name="Move it").click()
            expect(page.get_by_label("vessel", exact=True)).to_be_focused()
            page.keyboard.type("31.204")
            page.keyboard.press("Enter")
            type_reading(page, "vessel + residue, heating 1", "32.134")
            expect(page.get_by_role("region", name="Answer so far")).to_contain_text("x = 7.00")
            page.get_by_role("link", name="Log").click()
            expect(page.locator("s")).to_have_text("32.861 g")

    def test_two_that_changed_places_are_exchanged(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Exchanged")
            type_reading(page, "vessel", "32.861")
            type_reading(page, "vessel + sample", "31.204")
            page.get_by_role("button", name="31.204 is what the balance shows").click()
            page.get_by_role("button", name="Correct vessel, 32.861 g").click()
            page.get_by_label("its line").check()
            page.get_by_label("It belongs to").select_option(label="vessel + sample, now 31.204 g")
            page.get_by_role("button", name="Exchange the two").click()
            expect(page.get_by_role("button", name="Correct vessel, 31.204 g")).to_be_visible()
            type_reading(page, "vessel + residue, heating 1", "32.134")
            expect(page.get_by_role("region", name="Answer so far")).to_contain_text("x = 7.00")

    def test_a_figure_is_corrected_where_it_stands_and_the_field_is_ready_again(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Corrected")
            type_reading(page, "vessel", "31.240")
            page.get_by_role("button", name="Correct vessel, 31.240 g").click()
            field = page.get_by_label("What it should say, in g")
            field.fill("31,2x4")
            page.keyboard.press("Enter")
            expect(field).to_be_focused()
            expect(field).to_have_attribute("aria-invalid", "true")
            field.fill("31.204")
            page.keyboard.press("Enter")
            expect(page.get_by_role("button", name="Correct vessel, 31.204 g")).to_be_visible()
            expect(page.get_by_label("vessel + sample", exact=True)).to_be_focused()

    def test_a_weighing_that_should_not_count_is_left_out(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Spilled")
            for label, text in (("vessel", "31.204"), ("vessel + sample", "32.861"), ("heating 1", "32.151")):
                type_reading(page, label, text)
            page.get_by_role("button", name="Correct vessel + residue, heating 1").click()
            page.get_by_label("it should not count").check()
            page.get_by_role("button", name="Leave it out").click()
            expect(page.get_by_label("Why", exact=True)).to_be_focused()
            page.keyboard.type("read before it was cool")
            self.assertEqual(self.serious_faults(page), [])
            page.keyboard.press("Enter")
            expect(page.get_by_label("vessel + residue, heating 1", exact=True)).to_be_focused()
            self.assertNotIn("x =", answer(page))

    def test_a_figure_that_came_back_with_a_question_is_typed_anew_at_once(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Typed anew")
            type_reading(page, "vessel", "31.204")
            type_reading(page, "vessel + sample", "30.861")
            expect(page.get_by_role("button", name="Read it again")).to_be_visible()
            page.keyboard.type("32.861")
            expect(page.get_by_label("vessel + sample", exact=True)).to_have_value("32.861")
            page.keyboard.press("Enter")
            expect(page.get_by_role("button", name="Correct vessel + sample, 32.861 g")).to_be_visible()

    def test_who_types_in_the_moment_the_question_comes_types_anew_too(self) -> None:
        """Typed in the same breath as the question is drawn, before anything else of the page has its turn."""
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Typed at once")
            type_reading(page, "vessel", "31.204")
            expect(page.get_by_role("button", name="Correct vessel, 31.204 g")).to_be_visible()
            page.evaluate(AT_ONCE, "32.861")
            type_reading(page, "vessel + sample", "30.861")
            field = page.get_by_label("vessel + sample", exact=True)
            expect(field).to_have_value("32.861")
            page.keyboard.type("5")
            expect(field).to_have_value("32.8615")


class ChangedRun(BrowserCase):
    def test_a_wrong_school_is_changed_and_its_figure_set_aside_only_when_said_so(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Tared")
            type_reading(page, "vessel", "31.204")
            type_reading(page, "vessel + sample", "32.861")
            page.get_by_role("button", name="Change …").click()
            page.get_by_label("How the sample is weighed").select_option(index=1)
            page.get_by_role("button", name="Change it").click()
            expect(page.get_by_label("Why it is changed")).to_be_focused()
            page.keyboard.type("the balance was tared")
            self.assertEqual(self.serious_faults(page), [])
            page.keyboard.press("Enter")
            expect(page.get_by_text("no use for it then")).to_be_visible()
            page.get_by_role("button", name="Set it aside and change").click()
            expect(page.get_by_label("sample", exact=True)).to_be_focused()
            type_reading(page, "sample", "1.657")
            expect(page.get_by_role("button", name="Correct sample, 1.657 g")).to_be_visible()
            page.get_by_role("link", name="Log").click()
            expect(page.get_by_role("region", name="Decided otherwise")).to_contain_text("the balance was tared")
            expect(page.locator("s")).to_have_text("32.861 g")

    def test_the_right_salt_judges_everything_anew(self) -> None:
        """CuSO4·5H2O is 36.08 % water (by hand from 249.68 and 18.015 g/mol): of 1.600 g of it 1.023 g stay."""
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Which salt", salt="ZnSO4")
            for label, text in (("vessel", "31.204"), ("vessel + sample", "32.804"), ("heating 1", "32.227")):
                type_reading(page, label, text)
            shown = page.get_by_role("region", name="Answer so far")
            expect(shown).to_contain_text("water")
            self.assertNotIn("CuSO4", shown.inner_text())
            page.get_by_role("button", name="Change …").click()
            page.get_by_label("Salt without its water").fill("CuSo4")
            page.get_by_label("Why it is changed").fill("label found")
            page.get_by_role("button", name="Change it").click()
            expect(page.get_by_label("Salt without its water")).to_be_focused()
            page.get_by_label("Salt without its water").fill("CuSO4")
            page.keyboard.press("Enter")
            expect(shown.locator(".formula").first).to_contain_text("CuSO4·5H2O")
            expect(page.get_by_label("heating 2")).to_be_focused()

    def test_a_run_on_a_wrong_day_is_put_on_its_own_after_a_second_thought(self) -> None:
        with self.page("/", offline_expected=True) as page:
            start_by_keyboard(page, "Dated by a wrong clock")
            type_reading_at(page, "31.204")
            page.get_by_role("button", name="Change …").click()
            day = page.get_by_label("Day to which it belongs")
            today = date.fromisoformat(day.input_value())
            day.fill((today + timedelta(days=3)).isoformat())
            page.get_by_label("Why it is changed").fill("the clock was wrong")
            page.keyboard.press("Enter")
            expect(page.get_by_text("This day is still to come")).to_be_visible()
            expect(day).to_be_focused()
            expect(page.get_by_label("Why it is changed")).to_have_value("the clock was wrong")
            self.assertEqual(self.serious_faults(page), [])
            day.fill((today - timedelta(days=1)).isoformat())
            expect(page.get_by_text("This day is still to come")).to_have_count(0)
            page.get_by_role("button", name="Change it").click()
            expect(page.get_by_role("dialog")).to_have_count(0)
            page.goto("/")
            row = page.get_by_role("listitem").filter(has_text="Dated by a wrong clock")
            expect(row).to_contain_text((today - timedelta(days=1)).isoformat())

    def test_who_changes_what_somebody_changed_meanwhile_is_told(self) -> None:
        with self.page() as mine, self.page(offline_expected=True) as theirs:
            start_by_keyboard(mine, "Two tabs")
            theirs.goto(mine.url)
            theirs.get_by_role("button", name="Change …").click()
            mine.get_by_role("button", name="Change …").click()
            mine.get_by_label("Salt without its water").fill("CuSO4")
            mine.get_by_label("Why it is changed").fill("label found")
            mine.get_by_role("button", name="Change it").click()
            expect(mine.get_by_role("dialog")).to_have_count(0)
            theirs.get_by_label("Salt without its water").fill("MgSO4")
            theirs.get_by_label("Why it is changed").fill("other label")
            theirs.get_by_role("button", name="Change it").click()
            expect(theirs.get_by_text("Somebody else changed this run")).to_be_visible()
            expect(theirs.get_by_label("Salt without its water")).to_have_value("MgSO4")


class Undone(BrowserCase):
    def test_a_step_done_too_soon_is_taken_back_by_a_key(self) -> None:
        with self.page() as page:
            start_by_keyboard(page, "Too soon")
            expect(page.get_by_label("vessel", exact=True)).to_be_focused()
            page.keyboard.press("Enter")
            expect(page.get_by_role("heading", name="Weigh the empty vessel")).to_be_visible()
            page.keyboard.press("u")
            expect(page.get_by_role("group", name="To do now")).to_be_visible()
            expect(page.get_by_label("vessel", exact=True)).to_be_focused()
            page.get_by_role("link", name="Log").click()
            expect(page.get_by_role("region", name="Steps").locator("s")).to_have_count(1)

    def test_what_was_noted_by_mistake_and_a_trial_too_many_go_again(self) -> None:
        with self.page() as page:
            start_by_keyboard(page, "Too many")
            page.get_by_role("button", name="popping").click()
            expect(page.get_by_text("Noted: popping")).to_be_visible()
            page.get_by_role("button", name="Undo").click()
            expect(page.get_by_text("Noted: popping")).to_have_count(0)
            page.get_by_role("button", name="Another trial").click()
            expect(page.get_by_role("link", name="Trial 2")).to_be_visible()
            page.get_by_role("button", name="Undo").click()
            expect(page.get_by_role("link", name="Trial 2")).to_have_count(0)
            type_reading(page, "vessel", "31.204")


class ByKeys(BrowserCase):
    def test_a_hydrate_with_all_its_steps_takes_no_more_than_45_keys(self) -> None:
        """Figures with their decimal points, every step marked; what is typed is counted as pressed."""
        with self.page() as page:
            start_by_keyboard(page, "Forty-five keys")
            pressed = 0

            def press(*keys: str) -> None:
                nonlocal pressed
                for key in keys:
                    page.keyboard.press(key)
                pressed += len(keys)

            def figure(label: str, text: str) -> None:
                expect(page.get_by_label(label, exact=True)).to_be_focused()
                press(*text, "Enter")
                expect(page.get_by_role("button", name=f"Correct {label}, {text}")).to_be_visible()
                page.wait_for_timeout(700)

            def step_done() -> None:
                group = page.get_by_role("group", name="To do now")
                before = group.inner_text()
                press("Enter")
                expect(page.get_by_text(before, exact=True)).to_have_count(0)
                page.wait_for_timeout(100)

            def all_steps() -> None:
                while page.get_by_role("group", name="To do now").count():
                    step_done()

            all_steps()
            figure("vessel", "31.204")
            all_steps()
            figure("vessel + sample", "32.861")
            all_steps()
            figure("vessel + residue, heating 1", "32.136")
            all_steps()
            figure("vessel + residue, heating 2", "32.134")
            expect(page.get_by_role("region", name="Answer so far")).to_contain_text("ZnSO4·7H2O")
            self.assertLessEqual(pressed, 45)
            self.assertGreaterEqual(pressed, 4 * 7)
