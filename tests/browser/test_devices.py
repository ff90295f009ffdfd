"""A balance on a line of its own, read at the bench: waited for, unplugged, plugged in again; asked where it moves."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path
from typing import Any
from uuid import uuid4

from playwright.sync_api import expect

from claykettle.devices.simulated import Sender, Terminal
from tests.support.live import BrowserCase


class TakeIt(BrowserCase):
    @classmethod
    def setUpClass(cls) -> None:
        """The house with Balance B on a pseudo-terminal."""
        folder = Path(tempfile.mkdtemp(prefix="kettle-device-"))
        cls.sender = Sender(shows="31.204")
        cls.terminal = Terminal(cls.sender, folder / "balance")
        cls.terminal.plug_in()
        cls.addClassCleanup(cls.terminal.plug_out)
        # told to the application as the launcher tells it
        cls.environment = {"CLAYKETTLE_DEVICES": json.dumps({"Balance B": str(folder / "balance")})}
        super().setUpClass()

    def run_begun(self) -> Any:
        """A hydrate at a bench with Balance B."""
        shelf = self.app.json("/api/shelf")
        balance = next(row for row in shelf["balances"] if row["name"] == "Balance B")
        body = {
            "uuid": str(uuid4()), "title": "Read by itself", "method": "hydrate", "options": {"salt": "ZnSO4"},
            "bench_id": shelf["benches"][0]["id"], "balance_id": balance["id"],
        }  # fmt: skip
        return self.app.post("/api/runs", body)

    def readings(self, run: Any) -> list[tuple[str, str]]:
        """What was recorded, and how."""
        rows = self.app.json(f"/api/runs/{run['uuid']}")["readings"]
        return [(row["text"], row["reason"]) for row in rows]

    def test_a_steady_figure_is_recorded_with_the_instrument_that_sent_it(self) -> None:
        run = self.run_begun()
        self.sender.moves, self.sender.shows = False, "31.204"
        with self.page(f"/runs/{run['uuid']}", offline_expected=True) as page:
            page.get_by_role("button", name="It is cool").click()
            take = page.get_by_role("button", name="Take it from the balance")
            # it moves: one sees that it is waited for, and nothing is recorded
            self.sender.moves = True
            take.click()
            expect(page.get_by_text("not steady yet", exact=False)).to_be_visible()
            self.assertEqual(self.readings(run), [])
            self.assertEqual([], self.serious_faults(page))
            # unplugged while one waits, and plugged in again
            self.terminal.plug_out()
            expect(page.get_by_text("is its cable in", exact=False)).to_be_visible()
            self.terminal.plug_in()
            expect(page.get_by_text("not steady yet", exact=False)).to_be_visible()
            self.sender.moves = False
            expect(page.get_by_role("heading", name="Add the sample, weigh again")).to_be_visible()
            self.assertEqual(self.readings(run), [("31.204", "sent by the instrument, steady")])
            # second thoughts: one waits no longer and types
            self.sender.shows = "over"
            take.click()
            expect(page.get_by_text("beyond its range", exact=False)).to_be_visible()
            page.get_by_role("button", name="Wait no longer").click()
            page.get_by_role("textbox", name="Vessel", exact=False).fill("32.861")
            page.keyboard.press("Enter")
            expect(page.get_by_role("heading", name="Heat, round 1")).to_be_visible()
            self.assertEqual(self.readings(run)[1], ("32.861", ""))

    def test_one_that_does_not_stand_is_recorded_only_when_one_says_so_twice(self) -> None:
        run = self.run_begun()
        self.sender.shows, self.sender.moves = "31.204", True
        with self.page(f"/runs/{run['uuid']}", offline_expected=True) as page:
            page.get_by_role("button", name="It is cool").click()
            page.get_by_role("button", name="Take it from the balance").click()
            page.get_by_role("button", name="Take it as it is").click()
            expect(page.get_by_text("The instrument was not steady", exact=False)).to_be_visible()
            self.assertEqual(self.readings(run), [])
            page.get_by_role("button", name="is what the balance shows").click()
            expect(page.get_by_role("heading", name="Add the sample, weigh again")).to_be_visible()
            self.assertEqual(self.readings(run)[0][1], "sent by the instrument, not steady")


if __name__ == "__main__":
    import unittest

    unittest.main()
