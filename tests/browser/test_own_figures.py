"""A tablet finds its answer itself: own figures, second thoughts, answers opened; sign-off; hand-over."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime
from typing import Any
from uuid import uuid4

from playwright.sync_api import Page, expect

from tests.browser.test_lab import LabCase
from tests.support.live import TABLET
from tests.support.tiers import both
from tests.web.test_sign_off import WANTED, signed_practical

OWN = {
    "mass of sample": "1.550 g", "mass of residue": "0.928 g", "water driven off": "0.622 g", "percent water": "40,1 %",
    "amount of water": "34.5 mmol", "amount of salt": "5.749 mmol", "ratio x": "6.0", "formula": "ZnSO4.6H2O",
}  # fmt: skip


class OwnCase(LabCase):
    @contextmanager
    def tablet(self, bench: str, code: str = "", size: Any = TABLET) -> Iterator[Page]:
        """A tablet at its bench."""
        code = code or self.app.post("/api/class/code", {})["code"]
        with self.page(f"/join?code={code}", size, signed_in=False, offline_expected=True) as page:
            page.get_by_role("button", name=bench, exact=True).click()
            expect(page.get_by_text(f"Bench {bench}")).to_be_visible()
            yield page


class OwnFigures(OwnCase):
    def test_a_bench_works_it_out_with_second_thoughts_and_sees_the_answer_then(self) -> None:
        with self.tablet("Slip") as page:
            expect(page.get_by_text("Your own figures first")).to_be_visible()
            for hidden in ("6.006", "agrees with", "Suspects", "Working"):
                expect(page.get_by_text(hidden, exact=False)).to_have_count(0)
            page.get_by_role("link", name="Own figures").click()
            for label, text in OWN.items():
                page.get_by_label(label).fill(text)
            # one was forgotten, one is in words
            page.get_by_label("ratio x").fill("six")
            page.get_by_label("amount of salt").fill("")
            page.get_by_role("button", name="Hand in").click()
            expect(page.get_by_text("Begin with the figure")).to_be_visible()
            expect(page.get_by_text("Still to be worked out")).to_be_visible()
            expect(page.get_by_label("amount of salt")).to_be_focused()
            self.assertEqual([], self.serious_faults(page))
            # gone and back: everything that was typed is there
            page.go_back()
            page.get_by_role("link", name="Own figures").click()
            expect(page.get_by_label("mass of sample")).to_have_value("1.550 g")
            expect(page.get_by_label("ratio x")).to_have_value("six")
            page.get_by_label("ratio x").fill("6.0")
            page.get_by_label("amount of salt").fill("5.749 mmol")
            # the server is away for a moment
            page.context.set_offline(True)
            page.get_by_role("button", name="Hand in").click()
            expect(page.get_by_role("alert").filter(has_text="still here")).to_be_visible()
            page.context.set_offline(False)
            page.get_by_label("Who writes here").select_option("Nat Teasel")
            page.get_by_label("ratio x").press("Enter")
            expect(page.get_by_role("status").filter(has_text="Handed in")).to_be_visible()
            expect(page.get_by_role("heading", name=re.compile("Nat Teasel"))).to_be_visible()
            page.get_by_role("link", name="bench", exact=False).first.click()
            expect(page.get_by_text("6.006").first).to_be_visible()
            expect(page.get_by_role("link", name="Suspects")).to_be_visible()
        with self.page("/lab") as board:
            expect(self.card(board, "Slip")).to_contain_text("own figures handed in")

    def test_the_instructor_opens_the_answers_from_the_board_and_closes_them(self) -> None:
        with self.page("/lab") as board, self.tablet("Marl") as page:
            expect(page.get_by_text("Your own figures first")).to_be_visible()
            board.get_by_label("Benches see the answers").select_option(label="at once")
            expect(page.get_by_text("Your own figures first")).to_have_count(0)
            expect(page.get_by_role("link", name="Suspects")).to_be_visible()
            board.get_by_label("Benches see the answers").select_option(label="not yet")
            expect(page.get_by_text("Your instructor opens the answers.")).to_be_visible()
            board.get_by_label("Benches see the answers").select_option(label="after their own figures")
            expect(page.get_by_text("Your own figures first")).to_be_visible()

    def test_what_the_bench_changes_leaves_what_is_to_be_found_as_the_instructor_decided(self) -> None:
        uuid = self.run_at("Marl")
        before = self.app.json(f"/api/runs/{uuid}")["options"]
        self.assertIn("accepted", before)
        with self.tablet("Marl") as page:
            page.get_by_role("button", name="Change …").click()
            sheet = page.get_by_role("dialog")
            expect(sheet.get_by_label("Salt without its water")).to_have_value(before["salt"])
            expect(sheet.get_by_label("Accepted hydrate")).to_have_count(0)
            # the salt was mistaken for another: that does not go with what was laid down, and nothing of it is told
            sheet.get_by_label("Salt without its water").fill("CuSO4")
            sheet.get_by_label("Why it is changed").fill("wrong salt")
            sheet.get_by_role("button", name="Change it").click()
            expect(sheet.get_by_text("ask them to change it")).to_be_visible()
            expect(sheet.get_by_text("7H2O")).to_have_count(0)
            sheet.get_by_label("Salt without its water").fill(before["salt"])
            sheet.get_by_text("More:").click()
            sheet.get_by_label("Most water considered").fill("12")
            sheet.get_by_role("button", name="Change it").click()
            expect(sheet).to_have_count(0)
        after = self.app.json(f"/api/runs/{uuid}")["options"]
        self.assertEqual((before["accepted"], 12), (after["accepted"], after["max_ratio"]))

    def run_at(self, bench: str) -> str:
        """The run of a bench."""
        rows = self.app.json("/api/classes/0/changes")["benches"]
        return next(row["run"] for row in rows if row["name"] == bench)

    @both
    def test_it_is_fit_for_every_size_and_both_themes(self) -> None:
        path = f"/runs/{self.run_at('Kaolin')}/own-figures"
        self.assert_fits(path, lambda page: expect(page.get_by_label("water driven off")).to_be_visible())


class HandedOver(OwnCase):
    def test_another_tablet_takes_the_place_with_the_code_that_this_one_shows(self) -> None:
        with self.tablet("Ball") as first:
            first.get_by_role("button", name="Hand over").click()
            code = first.get_by_label("Code for the other tablet").inner_text()
            with self.page("/join", TABLET, signed_in=False, offline_expected=True) as other:
                other.get_by_label("Code of the class").fill(code.lower())
                expect(other.get_by_text("which bench is this?")).to_have_count(0)
                other.get_by_role("button", name="Join").click()
                expect(other.get_by_text("Bench Ball")).to_be_visible()
                # the one before is at the door, by itself
                expect(first.get_by_role("heading", name="Join your bench")).to_be_visible()


class SignedOff(OwnCase):
    def test_a_bench_asks_the_board_calls_and_signs_off(self) -> None:
        """A class of its own whose last step is looked at."""
        benches = {row["name"]: row["id"] for row in self.app.json("/api/class")["benches"]}
        now = datetime.now()
        wish = {
            "practical": signed_practical() | {"name": "Lids", "reveal": "always"}, "title": "Lids",
            "date": now.date().isoformat(), "starts": "00:00", "length": "1430 min", "benches": [benches["Terra"]],
            "room": {"balance": 2}, "sample": "1.7 g",
        }  # fmt: skip
        laid = self.app.post("/api/classes", {"uuid": str(uuid4()), "students": {}, "wish": wish})
        run = laid["places"][0]["run"]
        for slot, position, text in (
            ("vessel", 1, "45.740"), ("vessel_sample", 1, "47.520"), ("vessel_residue", 1, "46.739"),
            ("vessel_residue", 2, "46.739"),
        ):  # fmt: skip
            body = {"uuid": str(uuid4()), "slot": slot, "position": position, "text": text, "trial": "1"}
            self.app.post(f"/api/runs/{run}/readings", body)
        with self.page(f"/runs/{run}", offline_expected=True) as page:
            field = page.get_by_label(re.compile("What you see: "))
            expect(field).to_be_visible()
            expect(page.get_by_role("button", name="Sign it off")).to_be_disabled()
        with self.page(f"/lab/{laid['id']}", offline_expected=True) as board:
            step = next(row for row in self.app.json(f"/api/runs/{run}")["steps"] if row["state"] == "now")
            body = {"uuid": str(uuid4()), "tag": "asks for sign-off", "text": step["key"], "trial": "1"}
            self.app.post(f"/api/runs/{run}/observations", body)
            call = self.go_now(board).filter(has_text=WANTED)
            expect(call).to_contain_text("Terra")
            expect(self.card(board, "Terra")).to_contain_text("sign-off")
            board.get_by_role("button", name="Sign off: Terra").click()
            board.get_by_role("button", name="Sign it off").click()
            expect(board.get_by_text("Say what you saw.")).to_be_visible()
            board.get_by_label("What you saw at Terra").fill("lid on, label legible")
            board.get_by_role("button", name="Sign it off").click()
            expect(call).to_have_count(0)
            expect(self.card(board, "Terra")).to_contain_text("done")
        with self.page(f"/runs/{run}/log") as log:
            expect(log.get_by_text("lid on, label legible")).to_be_visible()
