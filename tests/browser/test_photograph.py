"""Crystals measured on a photograph: by mouse, by keyboard, and what is no photograph."""

from __future__ import annotations

from playwright.sync_api import FilePayload, Page, expect

from tests.browser.test_bench import type_reading
from tests.browser.test_crucible import start
from tests.browser.test_precipitation import done
from tests.support.live import TABLET, BrowserCase, themes
from tests.support.tiers import amount, both

# a scale bar of 400 px, and two "crystals" of 320 and 280 px on dark paper
DRAWN = """<body style="margin:0;background:#223">
<div style="position:absolute;left:50px;top:400px;width:400px;height:8px;background:white"></div>
<div style="position:absolute;left:60px;top:100px;width:320px;height:60px;background:#9bc"></div>
<div style="position:absolute;left:60px;top:250px;width:280px;height:50px;background:#9bc"></div>"""


class OnAPhotograph(BrowserCase):
    def drawn(self) -> FilePayload:
        """A picture as a camera would leave it, 600 × 450 px."""
        page = self.browser.new_page(viewport={"width": 600, "height": 450})
        page.set_content(DRAWN)
        buffer = page.screenshot()
        page.close()
        return {"name": "crystals.png", "mimeType": "image/png", "buffer": buffer}

    def to_the_crystals(self, page: Page, title: str) -> None:
        start(page, "Crystal growth, a fair test", title, {"Substance that crystallizes": "KNO3"})
        done(page, "Clear and hot")
        type_reading(page, "volume of A", "25.0")
        type_reading(page, "volume of B", "25.0")
        done(page, "All are cold", "They lie apart, named")
        expect(page.get_by_label("lengths of A, crystal 1")).to_be_focused()
        page.get_by_role("button", name="Measure on a photograph").click()

    def click(self, page: Page, *points: tuple[float, float]) -> None:
        """Click places of the picture, given in its own pixels."""
        picture = page.get_by_role("application", name="Photograph")
        expect(picture).to_be_visible()
        box = picture.bounding_box()
        assert box is not None
        for x, y in points:
            page.mouse.click(box["x"] + x * box["width"] / 600, box["y"] + y * box["height"] / 450)

    @both
    def test_a_camera_s_thirty_megabytes_are_measured_on_the_tablet_and_never_sent(self) -> None:
        """A picture with so much behind its end as a camera leaves of other versions of it; every day a tenth."""
        with self.page(size=TABLET) as page:
            self.to_the_crystals(page, "Thirty megabytes")
            sent: list[int] = []
            page.on("request", lambda asked: sent.append(len(asked.post_data_buffer or b"")))
            drawn = self.drawn()
            large = FilePayload(
                name="large.png", mimeType="image/png", buffer=drawn["buffer"] + bytes(amount(3_000_000, 30_000_000))
            )
            page.get_by_label("Choose a photograph").set_input_files(files=[large])
            expect(page.get_by_role("status").filter(has_text="one end of the scale bar")).to_be_visible()
            self.click(page, (50, 404), (450, 404), (60, 130), (380, 130))
            lengths = page.get_by_role("list", name="Lengths").get_by_role("listitem")
            expect(lengths.nth(0)).to_contain_text("8.0")
            self.assertLess(max(sent, default=0), 10_000)

    def test_two_clicks_set_the_scale_and_two_a_crystal(self) -> None:
        with self.page() as page:
            self.to_the_crystals(page, "By mouse")
            page.get_by_label("Choose a photograph").set_input_files(files=[self.drawn()])
            expect(page.get_by_role("status").filter(has_text="one end of the scale bar")).to_be_visible()
            self.click(page, (50, 404), (450, 404))
            expect(page.get_by_text("10 mm over 400 pixels")).to_be_visible()
            self.click(page, (60, 130), (380, 130), (60, 275), (340, 275))
            lengths = page.get_by_role("list", name="Lengths").get_by_role("listitem")
            expect(lengths.nth(0)).to_contain_text("8.0")
            expect(lengths.nth(1)).to_contain_text("7.0")
            self.assertEqual(self.serious_faults(page), [])
            page.get_by_role("button", name="Record 2 lengths").click()
            expect(page.get_by_label("lengths of A, crystal 3")).to_be_visible()
            expect(page.get_by_text("Noted: photograph")).to_be_visible()
            expect(page.get_by_text("all readings saved")).to_be_visible()
            page.get_by_role("link", name="Log").click()
            row = page.get_by_role("row").filter(has_text="lengths of A, crystal 2")
            expect(row).to_contain_text("photograph")
            expect(row).to_contain_text("7.0")
            expect(page.get_by_text("lengths of A on crystals.png: scale bar 10 mm over 400 pixels")).to_be_visible()

    def test_a_photograph_is_dropped_in_also_beside_the_field(self) -> None:
        with self.page() as page:
            for title, target in (("Dropped", "group"), ("Dropped beside", "dialog")):
                self.to_the_crystals(page, title)
                dropped = page.evaluate_handle(
                    """bytes => {
                        const data = new DataTransfer();
                        data.items.add(new File([new Uint8Array(bytes)], 'crystals.png', { type: 'image/png' }));
                        return data;
                    }""",
                    list(self.drawn()["buffer"]),
                )
                place = page.get_by_role("group", name="The photograph")
                (place if target == "group" else page.get_by_role("dialog")).dispatch_event(
                    "drop", {"dataTransfer": dropped}
                )
                expect(page.get_by_role("application", name="Photograph")).to_be_visible()
                page.get_by_role("button", name="Cancel").click()
                page.get_by_role("link", name="All runs").click()

    def test_a_crystal_is_measured_by_arrow_keys_and_a_point_taken_back(self) -> None:
        with self.page() as page:
            self.to_the_crystals(page, "By keys")
            page.get_by_role("button", name="Try it on drawn crystals").click()
            picture = page.get_by_role("application", name="Photograph")
            picture.focus()
            page.keyboard.press("Enter")
            for _ in range(20):
                page.keyboard.press("ArrowRight")
            page.keyboard.press("Enter")
            expect(page.get_by_text("one end of crystal 1")).to_be_visible()
            page.keyboard.press("Enter")
            for _ in range(10):
                page.keyboard.press("ArrowUp")
            page.keyboard.press("Enter")
            lengths = page.get_by_role("list", name="Lengths").get_by_role("listitem")
            expect(lengths).to_contain_text("5.0")
            page.keyboard.press("Backspace")
            expect(lengths).to_have_count(0)
            expect(page.get_by_text("other end of crystal 1")).to_be_visible()
            page.get_by_role("button", name="Cancel").click()
            expect(page.get_by_label("lengths of A, crystal 1")).to_be_visible()

    def test_what_is_no_picture_and_a_bar_without_a_length_are_said_at_their_places(self) -> None:
        with self.page(offline_expected=True) as page:
            self.to_the_crystals(page, "No picture")
            for name, kind, buffer in (
                ("notes.txt", "text/plain", b"8.5, 7.0, 9.0"),
                ("broken.png", "image/png", b"\x89PNG\r\n\x1a\nand then nothing of the kind"),
            ):
                payload: FilePayload = {"name": name, "mimeType": kind, "buffer": buffer}
                page.get_by_label("Choose a photograph").set_input_files(files=[payload])
                expect(page.get_by_role("alert")).to_contain_text(f"{name} is no picture that can be shown here")
            page.get_by_label("Choose a photograph").set_input_files(files=[self.drawn()])
            self.click(page, (50, 404), (450, 404), (60, 130), (380, 130))
            bar = page.get_by_label("Length of the scale bar")
            bar.fill("ten")
            expect(bar).to_have_attribute("aria-invalid", "true")
            expect(bar).to_have_accessible_description("'ten' is not a number; type digits such as 31.204.")
            expect(page.get_by_role("button", name="Record 0 lengths")).to_be_disabled()
            bar.fill("20 mm")
            expect(page.get_by_role("list", name="Lengths")).to_contain_text("16.0")

    def test_a_scale_set_too_short_is_said_and_set_anew_with_the_crystals_kept(self) -> None:
        with self.page(offline_expected=True) as page:
            self.to_the_crystals(page, "Short bar")
            page.get_by_label("Choose a photograph").set_input_files(files=[self.drawn()])
            self.click(page, (50, 404), (60, 404), (60, 130), (380, 130))
            expect(page.get_by_role("alert")).to_contain_text("too close for a scale")
            page.get_by_role("button", name="Set the scale bar anew").click()
            expect(page.get_by_role("alert")).to_have_count(0)
            self.click(page, (50, 404), (450, 404))
            expect(page.get_by_role("list", name="Lengths").get_by_role("listitem")).to_contain_text("8.0")
            page.get_by_role("button", name="Leave out crystal 1").click()
            expect(page.get_by_role("list", name="Lengths").get_by_role("listitem")).to_have_count(0)
            expect(page.get_by_text("10 mm over 400 pixels")).to_be_visible()

    def test_a_server_that_is_away_leaves_the_points_where_they_are(self) -> None:
        with self.page(offline_expected=True) as page:
            self.to_the_crystals(page, "Away")
            page.get_by_label("Choose a photograph").set_input_files(files=[self.drawn()])
            page.route("**/api/photograph", lambda route: route.abort())
            self.click(page, (50, 404), (450, 404), (60, 130), (380, 130))
            expect(page.get_by_role("alert")).to_contain_text("The server does not answer just now")
            page.unroute("**/api/photograph")
            self.click(page, (60, 275), (340, 275))
            expect(page.get_by_role("list", name="Lengths").get_by_role("listitem")).to_have_count(2)

    @both
    def test_it_fits_a_tablet_in_both_themes(self) -> None:
        for mode in themes("test_it_fits_a_tablet_in_both_themes"):
            with self.subTest(mode), self.page(size=TABLET, mode=mode) as page:
                self.to_the_crystals(page, f"Tablet, {mode}")
                page.get_by_role("button", name="Try it on drawn crystals").click()
                expect(page.get_by_role("application", name="Photograph")).to_be_visible()
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), TABLET["width"])
                self.assertEqual(self.serious_faults(page), [])
