"""Lost connections, killed servers, broken files: nothing typed is lost and the page says what is going on."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.test_bench import start_by_keyboard, type_reading_at
from tests.support.live import BrowserCase
from tests.support.runs import document


class Away(BrowserCase):
    def assert_one_reading_each(self, word: str, *texts: str) -> None:
        self.assertEqual([row["text"] for row in self.app.run_named(word)["readings"]], list(texts))

    def type_while_away(self, page: Page, text: str) -> None:
        field = page.locator("#reading")
        field.fill(text)
        field.press("Enter")
        expect(page.get_by_text("is kept here and sent as soon as it does")).to_be_visible(timeout=20_000)
        expect(page.get_by_text("1 reading waits to be saved")).to_be_visible()
        expect(field).to_have_value(text)

    def test_a_reading_typed_while_the_server_is_away_is_sent_when_it_returns(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Server away")
            type_reading_at(page, "31.204")
            self.app.stop_web()
            self.type_while_away(page, "32.861")
            self.app.start_web()
            expect(page.get_by_label("vessel + residue, heating 1")).to_be_visible(timeout=15_000)
            expect(page.get_by_text("all readings saved")).to_be_visible()
            self.assert_one_reading_each("Server away", "31.204", "32.861")

    def test_a_reading_typed_while_the_database_is_killed_is_sent_when_it_returns(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Database killed")
            type_reading_at(page, "31.204")
            self.app.kill_database()
            self.type_while_away(page, "32.861")
            self.app.start_database()
            expect(page.get_by_label("vessel + residue, heating 1")).to_be_visible(timeout=20_000)
            self.assert_one_reading_each("Database killed", "31.204", "32.861")

    def test_it_survives_a_reload_before_the_server_returns(self) -> None:
        with self.page(offline_expected=True) as page:
            start_by_keyboard(page, "Reload away")
            page.route("**/api/runs/*/readings", lambda route: route.abort())
            self.type_while_away(page, "31.204")
            page.unroute("**/api/runs/*/readings")
            page.reload()
            expect(page.get_by_label("vessel + sample", exact=True)).to_be_visible(timeout=15_000)
            self.assert_one_reading_each("Reload away", "31.204")

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
            expect(page.get_by_label("vessel + sample", exact=True)).to_be_visible(timeout=15_000)
            self.assertTrue(lost)
            self.assert_one_reading_each("Lost answer", "31.204")


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
