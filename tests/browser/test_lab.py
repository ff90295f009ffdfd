"""The board while a class runs: who is called and answered, what the projector shows, tablets at their benches."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from datetime import datetime
from uuid import uuid4

from playwright.sync_api import Locator, Page, expect

from tests.browser.test_bench import type_reading
from tests.support.live import PHONE, TABLET, BrowserCase
from tests.support.tiers import both

BEAMER = {"width": 1920, "height": 1080}

PASTE = """(field, text) => {
    const data = new DataTransfer();
    data.setData('text', text);
    field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
}"""


class LabCase(BrowserCase):
    def card(self, page: Page, bench: str) -> Locator:
        """A bench on the board."""
        return (
            page.get_by_role("list", name="Benches")
            .get_by_role("listitem")
            .filter(has_text=re.compile(rf"^\s*{bench}\b"))
        )

    def go_now(self, page: Page) -> Locator:
        """Who is called."""
        return page.get_by_role("region", name="Go now").get_by_role("listitem")


class TheThursday(LabCase):
    """The demo's class, in the middle of its evening."""

    def test_every_state_stands_on_it_once(self) -> None:
        with self.page("/lab") as page:
            expect(page.get_by_role("heading", level=1)).to_have_text("Water of zinc sulfate")
            states = {
                "Ball": "After heating 2",
                "China": "waits for Balance B, Grog is there",
                "Flint": "agrees",
                "Grog": "asks",
                "Kaolin": "agrees",
                "Marl": "look now",
                "Slip": "off",
                "Terra": "time",
            }
            for bench, words in states.items():
                expect(self.card(page, bench)).to_contain_text(words)
            expect(self.go_now(page)).to_have_count(3)
            expect(self.go_now(page).nth(0)).to_contain_text("Marl")
            expect(self.go_now(page).nth(0)).to_contain_text("“Did anything jump out of the dish?”")
            expect(self.go_now(page).nth(1)).to_contain_text("Terra")
            expect(page.get_by_text("middle of the class 6.992")).to_be_visible()
            expect(page.get_by_text("Last bench done about")).to_be_visible()
            self.assertEqual(self.serious_faults(page), [])


class Answering(LabCase):
    def test_calls_are_answered_by_keyboard_with_a_second_thought(self) -> None:
        with self.page("/lab", offline_expected=True) as page:
            first = self.go_now(page).nth(0)
            name = first.get_by_role("heading").inner_text().split()[-1]
            page.get_by_role("button", name=f"Note: {name}").focus()
            page.keyboard.press("Enter")
            expect(page.get_by_label(f"For the log of {name}")).to_be_focused()
            page.keyboard.press("Enter")
            expect(page.get_by_text("Say what is to be noted.")).to_be_visible()
            page.get_by_role("button", name="Leave it").click()
            page.get_by_role("button", name=f"Note: {name}").click()
            page.keyboard.type("Saw the grains beside the stand")
            page.keyboard.press("Enter")
            expect(self.go_now(page).filter(has_text=name)).to_have_count(0)
            self.card(page, name).get_by_role("link").click()
            page.get_by_role("link", name="Log").first.click()
            expect(page.get_by_text("Saw the grains beside the stand")).to_be_visible()

    def test_a_tap_without_the_server_is_said_and_can_be_done_again(self) -> None:
        with self.page("/lab", offline_expected=True) as page:
            call = self.go_now(page).last
            name = call.get_by_role("heading").inner_text().split()[-1]
            page.context.set_offline(True)
            page.get_by_role("button", name=f"In 5 min: {name}").click()
            expect(page.get_by_role("alert")).to_contain_text("does not answer")
            page.context.set_offline(False)
            page.get_by_role("button", name=f"In 5 min: {name}").click()
            expect(self.go_now(page).filter(has_text=name)).to_have_count(0)
            expect(page.get_by_role("alert")).to_have_count(0)

    @both
    def test_it_is_fit_for_every_size_and_both_themes(self) -> None:
        self.assert_fits("/lab", lambda page: expect(self.card(page, "Terra")).to_be_visible())


class ItsEnd(LabCase):
    def test_the_class_is_ended_with_a_second_thought_and_goes_on_next_week(self) -> None:
        number = self.app.json("/api/classes/0/changes")["head"]["id"]
        with self.page("/lab", offline_expected=True) as page:
            page.get_by_role("button", name="End the class").click()
            page.get_by_role("button", name="Not yet").click()
            page.get_by_role("button", name="End the class").click()
            page.get_by_role("button", name="End it now").click()
            expect(page.get_by_text("This class is closed")).to_be_visible()
            expect(page.get_by_role("region", name="Go now")).to_contain_text("The class is closed.")
            page.get_by_role("button", name="Open the class again").click()
            expect(page.get_by_text("This class is closed")).to_have_count(0)
            page.goto(f"/classes/{number}")
            page.get_by_role("button", name="Another session").click()
            page.get_by_label("Lasts").fill("as long as it takes")
            page.keyboard.press("Enter")
            expect(page.get_by_text("Write how long it lasts as 90 min.")).to_be_visible()
            expect(page.get_by_label("Lasts")).to_be_focused()
            page.get_by_label("Lasts").fill("90 min")
            page.keyboard.press("Enter")
            expect(page.get_by_text("90 min", exact=False)).to_be_visible()
            self.assertEqual(self.serious_faults(page), [])
            page.get_by_role("button", name=re.compile("^Not then")).click()
            expect(page.get_by_text("In one session.")).to_be_visible()


class AClass(LabCase):
    """A whole hydrate class of two benches: instructor, projector, two tablets."""

    @contextmanager
    def everybody(self) -> Iterator[tuple[Page, Page, Page, Page]]:
        """The class laid out, and its four browsers at their places."""
        shelf = self.app.json("/api/shelf")
        ids = {row["name"]: row["id"] for row in shelf["benches"]}
        now = datetime.fromisoformat(self.app.json("/api/today")["now"])
        wish = {
            "practical": {
                "method": "hydrate",
                "options": {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"},
                "trials": 1,
            },
            "title": "Two benches",
            "date": now.date().isoformat(),
            "starts": f"{now:%H:%M}",
            "length": "150 min",
            "benches": [ids["Ball"], ids["China"]],
            "sample": "1.7 g",
        }
        students = {str(ids["Ball"]): ["Ada Quill", "Bo Thrush"], str(ids["China"]): ["Cy Wren"]}
        laid = self.app.post("/api/classes", {"uuid": str(uuid4()), "wish": wish, "students": students})
        with ExitStack() as stack:
            desk = stack.enter_context(self.page(f"/lab/{laid['id']}", offline_expected=True))
            door = stack.enter_context(self.page("/shelf"))
            code = self.code(door)
            door.get_by_role("button", name="Make a link").click()
            link = door.get_by_text("/board#").inner_text().removeprefix(self.app.address)
            projector = stack.enter_context(self.page(link, BEAMER, signed_in=False, offline_expected=True))
            tablets = []
            for bench in ("Ball", "China"):
                tablet = stack.enter_context(self.page("/join", TABLET, signed_in=False, offline_expected=True))
                tablet.get_by_label("Code of the class").fill(code)
                tablet.get_by_role("button", name=bench, exact=True).click()
                # a tablet goes to what its bench does, and there is nothing to lead elsewhere
                expect(tablet.get_by_role("heading", level=1)).to_have_text("Two benches")
                tablets.append(tablet)
            yield desk, projector, tablets[0], tablets[1]

    def test_a_hydrate_class_from_the_first_weighing_to_the_scale(self) -> None:
        with self.everybody() as (desk, projector, ball, china):
            expect(desk.get_by_role("heading", level=1)).to_have_text("Two benches")
            expect(projector.get_by_role("heading", level=1)).to_have_text("Two benches")
            for name in ("Prepare", "Runs", "Shelf"):
                expect(ball.get_by_role("link", name=name, exact=True)).to_have_count(0)
            ball.get_by_label("Who writes on this device").select_option("Ada Quill")
            for tablet, sample in ((ball, "32.861"), (china, "32.900")):
                type_reading(tablet, "vessel", "31.204")
                type_reading(tablet, "vessel + sample", sample)
            # what a bench records is on the board at once, and the other tablet hears nothing of it
            expect(self.card(desk, "Ball")).to_contain_text("Heated, round 1")
            expect(self.card(projector, "Ball")).to_contain_text("Heated, round 1")
            expect(self.card(projector, "Ball")).not_to_contain_text("Ada")
            expect(self.card(desk, "Ball")).to_contain_text("Ada Quill, Bo Thrush")

            # the network goes: what is typed waits, is told, and is sent in order when it is back
            ball.context.set_offline(True)
            type_reading(ball, "vessel + residue, heating 1", "32.151")
            type_reading(ball, "vessel + residue, heating 2", "32.136")
            expect(ball.get_by_text("2 readings wait")).to_be_visible()
            expect(self.card(desk, "Ball")).to_contain_text("Heated, round 1")
            ball.context.set_offline(False)
            expect(ball.get_by_text("32.136").first).to_be_visible()
            expect(self.card(desk, "Ball")).to_contain_text("round 3")

            # a bench in trouble is found through Go now, and spoken to
            type_reading(china, "vessel + residue, heating 1", "31.720")
            expect(china.get_by_text("more than all the water").first).to_be_visible()
            expect(self.go_now(desk).filter(has_text="China")).to_contain_text("more than all the water")
            expect(projector.get_by_text("more than all the water")).to_have_count(0)
            desk.get_by_label("To whom").select_option("to China")
            desk.get_by_label("What is to be said").fill("Read the balance again, please")
            desk.keyboard.press("Enter")
            expect(china.get_by_text("Read the balance again, please")).to_be_visible()
            expect(ball.get_by_text("Read the balance again, please")).to_have_count(0)
            china.get_by_role("button", name="Read", exact=True).click()
            expect(china.get_by_text("Read the balance again, please")).to_have_count(0)
            field = china.get_by_label("vessel + residue, heating 1")
            field.fill("32.172")
            china.keyboard.press("Enter")
            expect(self.go_now(desk).filter(has_text="more than all the water")).to_have_count(0)

            # both settle; the class has its scale, the projector no figure of it
            type_reading(ball, "vessel + residue, heating 3", "32.134")
            for number, text in ((2, "32.160"), (3, "32.158")):
                type_reading(china, f"vessel + residue, heating {number}", text)
            expect(desk.get_by_text("2 results")).to_be_visible()
            expect(projector.get_by_text("results")).to_have_count(0)

            # two devices of one bench: the second sees what the first typed within two seconds
            log = self.app.json("/api/classes/0/changes")
            run = next(row["run"] for row in log["benches"] if row["name"] == "Ball")
            with self.page(f"/runs/{run}") as beside:
                expect(beside.get_by_role("heading", level=1)).to_have_text("Two benches")
                ball.get_by_role("button", name="Set aside", exact=True).click()
                expect(ball.get_by_text("Nothing is left to do")).to_be_visible()
                expect(beside.get_by_text("Nothing is left to do")).to_be_visible(timeout=5_000)
                expect(self.card(desk, "Ball")).to_contain_text("done")
            readings = self.app.json(f"/api/runs/{run}")["readings"]
            typed = [row for row in readings if row["slot"] == "vessel_residue"]
            self.assertEqual(["32.151", "32.136", "32.134"], [row["text"] for row in typed])
            self.assertTrue(all(row["by"].startswith("Ada Quill") for row in typed), typed)

    def test_a_tablet_stays_at_its_bench_and_is_told_that_the_class_is_closed(self) -> None:
        with self.page("/shelf") as door, self.page("/join", PHONE, signed_in=False, offline_expected=True) as tablet:
            code = self.code(door)
            tablet.get_by_label("Code of the class").fill(code)
            tablet.get_by_role("button", name="Ball", exact=True).click()
            expect(tablet).to_have_url(re.compile("/runs/"))
            at = tablet.url
            for elsewhere in ("/lab", "/shelf", "/prepare", "/today"):
                tablet.goto(elsewhere)
                expect(tablet).to_have_url(at)
            door.get_by_role("button", name="Close the class").click()
            expect(tablet.get_by_text("The class is closed").first).to_be_visible()
            door.get_by_role("button", name="Open it again").click()


class ARound(LabCase):
    def test_every_bench_is_weighed_from_one_place_by_keyboard_and_by_paste(self) -> None:
        with self.page("/lab", offline_expected=True) as page:
            page.get_by_role("link", name="A round: weigh every bench").click()
            expect(page.get_by_role("heading", level=1)).to_have_text("Round: Water of zinc sulfate")
            china, terra = page.get_by_label("China"), page.get_by_label("Terra")
            expect(china).to_be_visible()
            # who is done has nothing to weigh
            expect(page.get_by_label("Flint")).to_have_count(0)
            self.assertEqual(self.serious_faults(page), [])
            # a figure with its digits swapped is asked about at its row, and typed anew there
            china.fill("28.608")
            china.press("Enter")
            row = page.get_by_role("listitem").filter(has=china)
            expect(row).to_contain_text("28.608 g is what it shows")
            expect(china).to_be_focused()
            china.fill("28.806")
            expect(row).not_to_contain_text("is what it shows")
            # a reload loses nothing that is typed
            page.reload()
            expect(china).to_have_value("28.806")
            china.press("Enter")
            expect(page.get_by_text("28.806 g")).to_be_visible()
            # pasted lines find their benches by name
            terra.evaluate(PASTE, "Terra 37.309\nBall\t32.140")
            expect(terra).to_have_value("37.309")
            expect(page.get_by_label("Ball")).to_have_value("32.140")
            page.get_by_role("button", name="Record all 2").click()
            expect(page.get_by_text("37.309 g").first).to_be_visible()
            expect(page.get_by_text("✓ saved")).to_have_count(3)
            run = next(
                row["run"] for row in self.app.json("/api/classes/0/changes")["benches"] if row["name"] == "Terra"
            )
            self.assertEqual("37.309", self.app.json(f"/api/runs/{run}")["readings"][-1]["text"])

    def test_without_the_server_what_is_typed_waits_on_the_device(self) -> None:
        with self.page("/lab/0/round", offline_expected=True) as page:
            field = page.get_by_label("Slip").or_(page.get_by_label("Grog")).first
            expect(field).to_be_visible()
            page.context.set_offline(True)
            field.fill("33.969")
            field.press("Enter")
            expect(page.get_by_text("waits on this device")).to_be_visible()
            expect(page.get_by_role("link", name=re.compile("1 reading waits to be sent"))).to_be_visible()
            page.context.set_offline(False)
