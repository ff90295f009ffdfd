"""A house after some evenings: the list goes back page by page, and a run of many trials answers with what changed."""

from __future__ import annotations

from uuid import uuid4

from playwright.sync_api import expect
from sqlalchemy import func, select

from claykettle.launch.measure.many import multiply
from claykettle.service.views.listing import PAGE
from claykettle.store.database import Database
from claykettle.store.runs import in_earnest
from claykettle.store.tables import Day, RunRow
from tests.support.live import BrowserCase

EVENINGS = 3


class Years(BrowserCase):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        database = Database(cls.app.server.url)
        with database.transaction() as session:
            once = session.scalar(select(func.count()).select_from(RunRow)) or 0
            earnest = select(func.count()).select_from(RunRow).join(Day).where(in_earnest(Day.section_id))
            listed = session.scalar(earnest) or 0
        # what is rehearsed is copied with the rest and stands in no list
        cls.all = multiply(database, EVENINGS * once) // once * listed
        database.close()

    def test_the_list_goes_back_and_the_latest_stays_on_top(self) -> None:
        with self.page("/") as page:
            rows = page.locator("ul.runs > li")
            expect(rows).to_have_count(PAGE)
            page.get_by_role("button", name="Older runs").focus()
            page.keyboard.press("Enter")
            for pages in range(2, 2 + self.all // PAGE):
                expect(rows).to_have_count(min(pages * PAGE, self.all))
                if pages * PAGE < self.all:
                    page.get_by_role("button", name="Older runs").click()
            expect(rows).to_have_count(self.all)
            expect(page.get_by_role("button", name="Older runs")).to_have_count(0)
            # what changes elsewhere is looked at anew, and neither doubles them nor throws them away
            run = self.app.json("/api/runs")["runs"][0]["uuid"]
            with page.expect_response(lambda answer: answer.url.endswith("/api/runs")):
                body = {"uuid": str(uuid4()), "trial": "1", "tag": "seen", "text": "from another page"}
                self.app.post(f"/api/runs/{run}/observations", body)
            expect(rows).to_have_count(self.all)
            self.assertEqual(self.serious_faults(page), [])

    def test_the_runs_of_a_day_and_back(self) -> None:
        runs = self.app.json("/api/runs")
        newest = max(row["date"] for row in runs["runs"])
        on_that_day = len(self.app.json(f"/api/runs?day={newest}")["runs"])
        self.assertLess(on_that_day, PAGE)
        with self.page("/") as page:
            rows = page.locator("ul.runs > li")
            expect(rows).to_have_count(PAGE)
            page.get_by_label("Runs of the day").fill("1999-12-31")
            expect(page.get_by_text("Nothing of this day is under way.")).to_be_visible()
            expect(page.get_by_role("button", name="Older runs")).to_have_count(0)
            page.get_by_label("Runs of the day").fill(newest)
            expect(rows).to_have_count(on_that_day)
            page.get_by_role("button", name="All days").click()
            expect(rows).to_have_count(PAGE)
            expect(page.get_by_label("Runs of the day")).to_have_value("")

    def test_a_reading_in_one_trial_leaves_the_lines_of_the_others_in_sight(self) -> None:
        run = self.app.run_named("Zinc sulfate, three trials")
        before = {row["label"]: row["headline"] for row in run["trials"]}
        with self.page(f"/runs/{run['uuid']}") as page:
            trials = page.get_by_role("navigation", name="Trials of this run")
            expect(trials.get_by_role("link", name="Trial")).to_have_count(3)
            page.get_by_role("button", name="Another trial").click()
            expect(trials.get_by_role("link", name="Trial")).to_have_count(4)
            field = page.get_by_label("vessel", exact=True)
            field.fill("31.204")
            page.keyboard.press("Enter")
            expect(page.get_by_label("vessel + sample")).to_be_visible()
            expect(trials.get_by_role("link", name="Trial")).to_have_count(4)
            for label, headline in before.items():
                self.assertIn(
                    headline.split()[2], trials.get_by_role("link", name="Trial").nth(int(label) - 1).inner_text()
                )
