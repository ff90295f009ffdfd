"""A page that opens without a server: what is typed waits on the device, and goes out from whatever page is open."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.test_bench import start_by_keyboard, type_reading_at
from tests.support.live import BrowserCase

KEPT = """async () => (await Promise.all((await caches.keys()).map(
    async (name) => (await (await caches.open(name)).keys()).map((row) => row.url.split('?')[0])))).flat()"""
IS_INSTALLED = "async () => { await navigator.serviceWorker.ready; return (await caches.keys()).length > 0 }"


class WithoutAServer(BrowserCase):
    def typed(self, page: Page, text: str) -> None:
        """A figure typed while nobody answers: it waits."""
        field = page.locator("#reading")
        expect(field).to_be_visible()
        field.fill(text)
        field.press("Enter")
        expect(field).to_have_value("")
        expect(page.get_by_text("Waiting on this device, to be sent in order")).to_contain_text(text)

    def await_installed(self, page: Page) -> None:
        page.wait_for_function(IS_INSTALLED)

    def readings(self, word: str) -> list[str]:
        return [row["text"] for row in self.app.run_named(word)["readings"]]

    def await_readings(self, page: Page, word: str, *texts: str) -> None:
        for _ in range(100):
            if len(self.readings(word)) >= len(texts):
                break
            page.wait_for_timeout(200)
        self.assertEqual(self.readings(word), list(texts))

    def test_a_bench_reloaded_without_a_server_goes_on_and_another_page_sends_what_waits(self) -> None:
        with self.page(offline_expected=True, installed=True) as page:
            start_by_keyboard(page, "In a drawer")
            type_reading_at(page, "31.204")
            self.await_installed(page)
            self.app.stop_web()
            self.typed(page, "32.861")
            page.reload()
            expect(page.get_by_role("heading", name="In a drawer")).to_be_visible()
            kept = page.evaluate(KEPT)
            self.assertTrue(any(url.endswith("/index.html") for url in kept), kept[:3])
            self.assertEqual([], [url for url in kept if "/api/" in url])
            expect(page.get_by_text("Waiting on this device, to be sent in order")).to_contain_text("32.861")
            expect(page.get_by_text("31.204").first).to_be_visible()
            self.typed(page, "32.151")
            page.reload()
            self.typed(page, "32.136")
            # somewhere else, where nothing of this bench is open
            page.goto("/today")
            told = page.get_by_role("link", name=re.compile("3 readings wait to be sent"))
            expect(told).to_be_visible()
            self.app.start_web()
            expect(told).to_be_hidden(timeout=30_000)
            self.await_readings(page, "In a drawer", "31.204", "32.861", "32.151", "32.136")

    def test_a_question_that_comes_while_another_page_is_open_leads_back_to_its_bench(self) -> None:
        with self.page(offline_expected=True, installed=True) as page:
            start_by_keyboard(page, "Asked elsewhere")
            type_reading_at(page, "31.204")
            self.await_installed(page)
            page.context.set_offline(True)
            # lighter than the empty vessel
            self.typed(page, "13.286")
            self.typed(page, "32.151")
            page.goto("/today")
            expect(page.get_by_role("link", name=re.compile("2 readings wait to be sent"))).to_be_visible()
            page.context.set_offline(False)
            told = page.get_by_role("link", name=re.compile("1 reading comes back with a question"))
            expect(told).to_be_visible()
            self.assertEqual(self.readings("Asked elsewhere"), ["31.204"])
            told.click()
            field = page.locator("#reading")
            expect(field).to_have_value("13.286")
            expect(page.get_by_role("button", name="Read it again")).to_be_visible()
            # and a reload does not lose the question
            page.reload()
            expect(field).to_have_value("13.286")
            expect(page.get_by_role("button", name="Read it again")).to_be_visible()
            field.fill("32.861")
            field.press("Enter")
            expect(page.get_by_text("all readings saved")).to_be_visible()
            self.await_readings(page, "Asked elsewhere", "31.204", "32.861", "32.151")

    def test_two_pages_of_one_browser_send_what_waits_once(self) -> None:
        with self.page(offline_expected=True, installed=True) as page:
            start_by_keyboard(page, "Two pages")
            self.await_installed(page)
            page.context.set_offline(True)
            for text in ("31.204", "32.861", "32.151", "32.136"):
                self.typed(page, text)
            others = [page.context.new_page() for _ in range(2)]
            for other in others:
                other.goto("/today")
                expect(other.get_by_role("link", name=re.compile("4 readings wait to be sent"))).to_be_visible()
            sent: list[str] = []
            page.context.on("request", lambda asked: sent.append(asked.url) if asked.method == "POST" else None)
            page.context.set_offline(False)
            for other in others:
                expect(other.get_by_role("link", name=re.compile("to be sent"))).to_be_hidden(timeout=30_000)
            expect(page.get_by_text("all readings saved")).to_be_visible(timeout=30_000)
            self.await_readings(page, "Two pages", "31.204", "32.861", "32.151", "32.136")
            self.assertEqual(len([url for url in sent if url.endswith("/readings")]), 4)

    def test_signed_out_the_door_tells_what_waits_and_it_goes_out_after_signing_in(self) -> None:
        with self.page(offline_expected=True, installed=True) as page:
            start_by_keyboard(page, "At the door")
            page.context.set_offline(True)
            self.typed(page, "31.204")
            page.context.clear_cookies()
            page.context.set_offline(False)
            expect(page.get_by_text("1 reading waits to be sent")).to_be_visible()
            page.get_by_role("button", name="Come in").click()
            expect(page.get_by_text("all readings saved")).to_be_visible(timeout=30_000)
            self.await_readings(page, "At the door", "31.204")

    def test_what_was_seen_is_not_shown_to_whoever_signs_in_next(self) -> None:
        with self.page(offline_expected=True, installed=True) as page:
            start_by_keyboard(page, "Not theirs")
            type_reading_at(page, "31.204")
            self.await_installed(page)
            address = page.url
            page.context.clear_cookies()
            page.goto("/sign-in")
            # the door asks nobody: looked at when the next page is opened
            page.goto(address)
            expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
            page.context.set_offline(True)
            page.goto(address)
            expect(page.get_by_text("The server does not answer", exact=False)).to_be_visible()
            expect(page.get_by_text("Not theirs")).to_be_hidden()
