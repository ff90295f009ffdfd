"""Lost connections, killed servers, broken files: nothing typed is lost and the page says what is going on."""

from __future__ import annotations

import json
import re
import tempfile
from pathlib import Path

from playwright.sync_api import Page, Route, expect

from claykettle.formats.archive import read_archive, write_archive
from tests.browser.test_bench import start_by_keyboard, type_reading, type_reading_at
from tests.support.live import BrowserCase
from tests.support.runs import document


class Away(BrowserCase):
    durable = True

    def assert_one_reading_each(self, page: Page, word: str, *texts: str) -> None:
        expect(page.get_by_text("all readings saved")).to_be_visible(timeout=20_000)
        self.assertEqual([row["text"] for row in self.app.run_named(word)["readings"]], list(texts))

    def type_while_away(self, page: Page, *texts: str) -> None:
        field = page.locator("#reading")
        for count, text in enumerate(texts, start=1):
            field.fill(text)
            field.press("Enter")
            expect(field).to_have_value("")
            words = "1 reading waits" if count == 1 else f"{count} readings wait"
            expect(page.get_by_text(f"{words} to be saved")).to_be_visible(timeout=20_000)
        expect(page.get_by_text("Waiting on this device, to be sent in order")).to_contain_text(texts[-1])

    def await_held(self, page: Page, held: list[Route]) -> Route:
        """The request that is held back: the page says that it saves a moment before its request comes by."""
        for _ in range(500):
            if held:
                return held[0]
            page.wait_for_timeout(20)
        raise AssertionError("no request came by in ten seconds")

    def test_a_reading_typed_while_the_server_is_away_is_sent_when_it_returns(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Server away")
            type_reading_at(page, "31.204")
            self.app.stop_web()
            self.type_while_away(page, "32.861", "32.151", "32.136")
            self.app.start_web()
            expect(page.get_by_text("all readings saved")).to_be_visible(timeout=15_000)
            expect(page.get_by_label("vessel + residue, heating 3")).to_be_visible()
            self.assert_one_reading_each(page, "Server away", "31.204", "32.861", "32.151", "32.136")

    def test_a_full_disk_is_said_at_the_bench_and_what_was_typed_goes_out_when_there_is_room(self) -> None:
        """Answered as the server does on a disk without room; that it does is tried in tests/web/test_serving.py."""
        said = {"code": "disk-full", "title": "The disk of the server is full: nothing is recorded.", "status": 503}
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Full disk")
            page.route("**/readings", lambda route: route.fulfill(status=503, json=said))
            field = page.locator("#reading")
            field.fill("31.204")
            field.press("Enter")
            told = page.get_by_text("The disk of the server is full")
            expect(told).to_contain_text("31.204")
            expect(page.get_by_text("1 reading waits to be saved")).to_be_visible()
            page.reload()
            expect(page.get_by_text("The disk of the server is full")).to_contain_text("31.204")
            page.unroute("**/readings")
            expect(page.get_by_label("vessel + sample")).to_be_visible()
            self.assert_one_reading_each(page, "Full disk", "31.204")

    def test_a_reading_typed_while_the_database_is_killed_is_sent_when_it_returns(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Database killed")
            type_reading_at(page, "31.204")
            self.app.kill_database()
            self.type_while_away(page, "32.861")
            self.app.start_database()
            expect(page.get_by_label("vessel + residue, heating 1")).to_be_visible(timeout=20_000)
            self.assert_one_reading_each(page, "Database killed", "31.204", "32.861")

    def test_what_waits_is_told_on_other_pages_and_goes_out_from_them(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Told elsewhere")
            type_reading(page, "vessel", "31.204")
            expect(page.get_by_text("all readings saved")).to_be_visible()
            # the other pages come by themselves, a while after this one
            for _ in range(200):
                if page.evaluate("performance.getEntriesByType('resource').some((row) => /Today/.test(row.name))"):
                    break
                page.wait_for_timeout(200)
            self.app.stop_web()
            type_reading(page, "vessel + sample", "32.861")
            expect(page.get_by_text("1 reading waits to be saved")).to_be_visible()
            page.get_by_role("link", name="Today").click()
            told = page.get_by_role("link", name=re.compile("1 reading waits to be sent"))
            expect(told).to_be_visible()
            self.app.start_web()
            expect(told).to_have_count(0)
            self.assertEqual(["31.204", "32.861"], [row["text"] for row in self.app.run_named("Told")["readings"]])

    def test_it_survives_a_reload_before_the_server_returns(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Reload away")
            page.route("**/api/runs/*/readings", lambda route: route.abort())
            self.type_while_away(page, "31.204", "32.861")
            page.unroute("**/api/runs/*/readings")
            page.reload()
            expect(page.get_by_label("vessel + residue, heating 1")).to_be_visible(timeout=15_000)
            self.assert_one_reading_each(page, "Reload away", "31.204", "32.861")

    def test_a_start_that_is_not_answered_in_time_is_asked_once_more_and_starts_one_run(self) -> None:
        """As on a tablet that slept: the first request is never answered, though the server took it."""
        with self.page(offline_expected=True) as page:
            asked = []

            def hold_the_first(route: Route) -> None:
                if route.request.method == "POST":
                    asked.append(route.request.post_data)
                    if len(asked) == 1:
                        route.fetch()
                        return
                route.continue_()

            page.route(re.compile("/api/runs$"), hold_the_first)
            start_by_keyboard(page, "Slept")
            self.assertEqual(asked, [asked[0]] * 2)
            self.assertEqual([run["title"] for run in self.app.json("/api/runs")["runs"]].count("Slept"), 1)

    def test_a_server_that_hangs_is_not_asked_again_before_it_answers_and_readings_still_go_out(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Hangs")
            type_reading_at(page, "31.204")
            looks = []
            page.route("**/changes?*", lambda route: looks.append(route.request.url))
            page.wait_for_timeout(4_000)
            self.assertEqual(len(looks), 1, looks)
            type_reading_at(page, "32.861")
            self.assert_one_reading_each(page, "Hangs", "31.204", "32.861")

    def test_who_goes_elsewhere_while_a_reading_is_saved_stays_there(self) -> None:
        """The answer leads the focus back only from where it was; Enter must not send what is half typed."""
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Elsewhere")
            held: list[Route] = []
            page.route("**/api/runs/*/readings", lambda route: held.append(route), times=1)
            page.locator("#reading").fill("31.204")
            page.locator("#reading").press("Enter")
            expect(page.get_by_text("saving …")).to_be_visible()
            page.keyboard.type("32.8")
            page.get_by_role("link", name="Log").focus()
            self.await_held(page, held).continue_()
            expect(page.get_by_text("all readings saved")).to_be_visible()
            expect(page.get_by_role("link", name="Log")).to_be_focused()
            page.keyboard.press("Enter")
            expect(page.get_by_role("heading", name="Log: Elsewhere")).to_be_visible()
            self.assertEqual([row["text"] for row in self.app.run_named("Elsewhere")["readings"]], ["31.204"])

    def test_who_stays_in_the_field_types_on_as_the_reading_is_saved(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Types on")
            held: list[Route] = []
            page.route("**/api/runs/*/readings", lambda route: held.append(route), times=1)
            page.locator("#reading").fill("31.204")
            page.get_by_role("button", name="Record").focus()
            page.keyboard.press("Enter")
            expect(page.get_by_text("saving …")).to_be_visible()
            self.await_held(page, held).continue_()
            expect(page.get_by_label("vessel + sample", exact=True)).to_be_focused()

    def test_a_list_cut_off_on_its_way_is_said_and_fetched_again(self) -> None:
        with self.page("/formula", offline_expected=True) as page:
            page.route(re.compile("/api/runs$"), lambda route: route.fulfill(status=200, body='{"runs": [{"ti'))
            page.goto("/")
            expect(page.get_by_text("The server does not answer")).to_be_visible()
            page.unroute_all()
            expect(page.get_by_role("link", name="Borax").first).to_be_visible()
            expect(page.get_by_text("The server does not answer")).to_have_count(0)

    def test_an_answer_lost_on_its_way_records_once(self) -> None:
        """The server took the reading, the answer never arrived: the same entry is sent again and counts once."""
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Lost answer")
            lost = []

            def lose_the_first(route: object) -> None:
                if lost:
                    route.continue_()  # type: ignore[attr-defined]
                    return
                lost.append(True)
                route.fetch()  # type: ignore[attr-defined]
                route.abort()  # type: ignore[attr-defined]

            page.route("**/api/runs/*/readings", lose_the_first)
            page.locator("#reading").fill("31.204")
            page.locator("#reading").press("Enter")
            expect(page.get_by_text("all readings saved")).to_be_visible(timeout=15_000)
            page.wait_for_timeout(2500)
            self.assertTrue(lost)
            self.assert_one_reading_each(page, "Lost answer", "31.204")

    def test_a_question_met_on_the_way_brings_the_reading_back_and_the_rest_waits(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Question later")
            page.route("**/api/runs/*/readings", lambda route: route.abort())
            self.type_while_away(page, "31.204", "38.261", "32.151")
            page.unroute("**/api/runs/*/readings")
            page.get_by_role("button", name="It is 32.861").click()
            expect(page.get_by_label("vessel + residue, heating 2")).to_be_visible(timeout=15_000)
            self.assert_one_reading_each(page, "Question later", "31.204", "32.861", "32.151")


class TwoTabs(BrowserCase):
    def test_they_see_each_others_readings_within_two_seconds(self) -> None:
        with self.page() as first:
            start_by_keyboard(first, "Two tabs")
            second = first.context.new_page()
            second.goto(first.url)
            expect(second.get_by_label("vessel", exact=True)).to_be_visible()
            type_reading_at(first, "31.204")
            expect(second.get_by_label("vessel + sample", exact=True)).to_be_visible(timeout=5_000)
            type_reading_at(second, "32.861")
            expect(first.get_by_label("vessel + residue, heating 1")).to_be_visible(timeout=5_000)

    def test_the_second_to_correct_is_told_and_keeps_what_was_typed(self) -> None:
        run = self.app.run_named("Borax")
        with self.page(f"/runs/{run['uuid']}/log", offline_expected=True) as first:
            second = first.context.new_page()
            second.goto(first.url)
            for page, text in ((first, "28.471"), (second, "28.741")):
                page.get_by_role("button", name="Correct vessel, 28.417 g").click()
                page.get_by_label("What it should say, in g").fill(text)
                page.get_by_label("Why").fill("digits swapped")
            first.get_by_role("button", name="Correct", exact=True).click()
            expect(first.get_by_text("corrects 28.417")).to_be_visible()
            second.get_by_role("button", name="Correct", exact=True).click()
            expect(second.get_by_text("was already corrected to 28.471 g")).to_be_visible()
            expect(second.get_by_label("What it should say, in g")).to_have_value("28.741")


class Files(BrowserCase):
    def write(self, name: str, data: bytes) -> str:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / name
        path.write_bytes(data)
        return str(path)

    def test_files_are_opened_or_refused_with_the_reason(self) -> None:
        good = self.write("good.json", json.dumps(document(title="From a file")).encode())
        bad = self.write("bad.json", json.dumps(document({"vessel": "abc"}, bogus=1)).encode())
        wrong = self.write("wrong.json", json.dumps(document({"vessel": "abc", "vessel_sample": "1 mL"})).encode())
        broken = self.write("broken.json", b"{")
        large = self.write("large.json", b" " * 10_000_000)
        with self.page(offline_expected=True) as page:
            expect(page.get_by_role("heading", name="On the benches")).to_be_visible()
            page.get_by_label("Run files").set_input_files([good, bad, wrong, broken, large])
            expect(page.get_by_text("was opened as “From a file”")).to_be_visible()
            expect(page.get_by_text("bogus: This field is not known")).to_be_visible()
            expect(page.get_by_text("trials[0].readings.vessel_sample: 'mL' measures a volume")).to_be_visible()
            expect(page.get_by_text("This is not JSON")).to_be_visible()
            expect(page.get_by_text("it has 9.5 MB, a run file has at most 2 MB")).to_be_visible()
            page.get_by_role("link", name="From a file").click()
            expect(page.get_by_role("region", name="Answer so far")).to_contain_text("x = 7.005 ± 0.047")

    def test_an_archive_is_dropped_and_chosen_runs_are_taken_along(self) -> None:
        good = json.dumps(document(title="Out of an archive"))
        archive = self.write("class.zip", write_archive([("001-one.json", good), ("002-two.json", "{")]))
        with self.page(offline_expected=True) as page:
            expect(page.get_by_role("heading", name="On the benches")).to_be_visible()
            page.get_by_label("Run files").set_input_files([archive])
            expect(page.get_by_text("was opened as “Out of an archive”")).to_be_visible()
            expect(page.get_by_text("class.zip: 002-two.json")).to_be_visible()
            page.get_by_role("button", name="Save run files").click()
            page.get_by_label("Save Out of an archive").check()
            with page.expect_download() as download:
                page.get_by_role("link", name="One run file (zip)").click()
            names = [name for name, _ in read_archive(Path(download.value.path()).read_bytes())[0]]
            self.assertEqual(names, ["001-out-of-an-archive.json"])

    def test_a_file_dropped_on_the_page_is_opened(self) -> None:
        with self.page(offline_expected=True) as page:
            expect(page.get_by_role("heading", name="On the benches")).to_be_visible()
            page.evaluate(
                """(text) => {
                    const carried = new DataTransfer();
                    carried.items.add(new File([text], 'dropped.json'));
                    document.querySelector('main').dispatchEvent(
                        new DragEvent('drop', {dataTransfer: carried, bubbles: true, cancelable: true}));
                }""",
                json.dumps(document(title="Dropped")),
            )
            expect(page.get_by_text("was opened as “Dropped”")).to_be_visible()
