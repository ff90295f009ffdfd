"""The application as it runs for people, with a browser on it; its server and database can be stopped and killed."""

from __future__ import annotations

import atexit
import json
import shutil
import tempfile
import time
import unittest
import urllib.request
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from functools import cache, cached_property
from pathlib import Path
from typing import Any, ClassVar
from urllib.error import URLError
from zlib import crc32

from playwright.sync_api import Browser, Page, Request, expect, sync_playwright
from playwright.sync_api import Error as PlaywrightError

from claykettle.launch.mariadb import PrivateServer
from claykettle.launch.paths import BUILT, FRONTEND
from claykettle.launch.process import free_port
from claykettle.launch.serving import serve_command
from claykettle.service.laboratory import Laboratory
from claykettle.store.database import Database
from claykettle.web.context import COOKIE
from tests.support.demo import demo_rows
from tests.support.doors import secret_of
from tests.support.forking import Served, serve
from tests.support.kept import migrated_folder
from tests.support.tiers import amount

AXE = FRONTEND / "node_modules/axe-core/axe.min.js"
FIRST_CODE = "CLAY-2345"
"""What would stand on the terminal of a house without accounts."""
DESKTOP, TABLET = {"width": 1280, "height": 800}, {"width": 768, "height": 1024}
LAPTOP, PHONE = {"width": 1024, "height": 768}, {"width": 390, "height": 844}
SIZES = (DESKTOP, LAPTOP, TABLET, PHONE)


def themes(of: str) -> tuple[Any, ...]:
    """The themes in which something is looked at: every day one of them, by its name; in the long run both.

    Contrasts of both are reckoned for every colour in tests/architecture.
    """
    every_day = ("light", "dark")[crc32(of.encode()) // 8 % 2]
    return amount((every_day,), ("light", "dark"))


@cache
def shared_browser() -> Browser:
    """One browser for the whole process; every page has a context of its own in it."""
    playwright = sync_playwright().start()
    atexit.register(playwright.stop)
    browser = playwright.chromium.launch(
        executable_path=shutil.which("chromium-headless-shell") or "/usr/bin/chromium",
        args=["--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1"],
    )
    atexit.register(browser.close)
    # the page itself asks a second time after 6 s, so that a machine that stood still for a while is no fault
    expect.set_options(timeout=20_000)
    return browser


class LiveApp:
    """A private database with the demo's data, and gunicorn in front of it. `durable`: its kills are real."""

    def __init__(self, environment: Mapping[str, str] | None = None, durable: bool = False) -> None:
        self.environment = dict(environment or {})
        self.folder = Path(tempfile.mkdtemp(prefix="kettle-live-"))
        self.server = PrivateServer(self.folder, fast=not durable)
        self.port = free_port()
        self.web: Served | None = None

    def begin(self) -> None:
        """Start database and application; whoever made this has said before how it is closed."""
        shutil.copytree(migrated_folder(), self.folder, dirs_exist_ok=True)
        self.server.start()
        self.database_port = self.server.port
        self.lay_demo()
        self.start_web()

    def begin_again(self) -> None:
        """The same house with the demo as it was at first."""
        if self.web is not None:
            self.web.kill()
        self.lay_demo()
        self.start_web()

    def lay_demo(self) -> None:
        """Nothing but the demo is in the database."""
        database = Database(self.server.url)
        try:
            demo_rows().lay(database, None)
        finally:
            database.close()
        vars(self).pop("secret", None)

    @cached_property
    def secret(self) -> str:
        """What the cookie of the demo's instructor holds."""
        database = Database(self.server.url)
        try:
            return secret_of(Laboratory(database), "demo")
        finally:
            database.close()

    @property
    def address(self) -> str:
        """Where it serves."""
        return f"http://127.0.0.1:{self.port}"

    def start_web(self, ahead_h: float = 0) -> None:
        """Start gunicorn, its clock so many hours ahead, and wait until it answers."""
        environment = {
            "CLAYKETTLE_DATABASE_URL": self.server.url,
            "CLAYKETTLE_BUILT": str(BUILT),
            "CLAYKETTLE_CLOCK_AHEAD_H": str(ahead_h),
            "CLAYKETTLE_DEMO": "1",
            "CLAYKETTLE_FIRST_CODE": FIRST_CODE,
            "CLAYKETTLE_ADDRESSES": self.address,
        } | self.environment
        self.web = serve(serve_command(self.port, grace_s=1), self.folder / "web.log", environment)
        deadline = time.monotonic() + 120
        while time.monotonic() < deadline:
            try:
                with urllib.request.urlopen(f"{self.address}/healthz", timeout=2):
                    return
            except (URLError, OSError):
                time.sleep(0.1)
        raise AssertionError((self.folder / "web.log").read_text()[-2000:])

    def stop_web(self) -> None:
        """End gunicorn."""
        if self.web is not None:
            self.web.stop()
            self.web = None

    def kill_database(self) -> None:
        """End the database as a power cut would."""
        self.server.kill()

    def start_database(self) -> None:
        """Start it again where it was."""
        self.server.start(self.database_port)

    def close(self) -> None:
        """End everything."""
        self.stop_web()
        self.server.stop()
        shutil.rmtree(self.folder, ignore_errors=True)

    def json(self, path: str) -> Any:
        """What the API answers the demo's instructor."""
        asked = urllib.request.Request(f"{self.address}{path}", headers={"Cookie": f"{COOKIE}={self.secret}"})
        with urllib.request.urlopen(asked, timeout=60) as answer:
            return json.load(answer)

    def post(self, path: str, body: Any) -> Any:
        """What it answers when the demo's instructor sends something."""
        headers = {
            "Cookie": f"{COOKIE}={self.secret}", "Content-Type": "application/json", "Origin": self.address
        }  # fmt: skip
        sent = urllib.request.Request(f"{self.address}{path}", json.dumps(body).encode(), headers)
        with urllib.request.urlopen(sent, timeout=60) as answer:
            return json.load(answer)

    def run_named(self, word: str) -> Any:
        """The run whose title holds a word."""
        row = next(run for run in self.json("/api/runs")["runs"] if word in run["title"])
        return self.json(f"/api/runs/{row['uuid']}")


@cache
def shared_live() -> LiveApp:
    """The house of this test process; each class of tests finds the demo in it as it was at first."""
    app = LiveApp()
    atexit.register(app.close)
    app.begin()
    return app


class Pane:
    """A page in a context of its own that one test after another looks through, each finding nothing of the one before:
    to open a page costs half as much where its process runs already.

    One whose test failed, that keeps itself on the device or that cannot be emptied is thrown away.
    """

    _spare: ClassVar[dict[tuple[Any, ...], list[Pane]]] = {}

    @classmethod
    def spare(cls, sort: tuple[Any, ...]) -> Pane | None:
        """One of this sort that nobody looks through."""
        kept = cls._spare.get(sort)
        return kept.pop() if kept else None

    def __init__(self, browser: Browser, sort: tuple[Any, ...]) -> None:
        self.sort = sort
        self.address, touch, self.is_installed = sort
        self.case: BrowserCase | None = None
        self.told = False
        self.context = browser.new_context(
            base_url=self.address, has_touch=touch, is_mobile=touch,
            service_workers="allow" if self.is_installed else "block",
        )  # fmt: skip
        self.page = self.context.new_page()
        self.page.on("pageerror", lambda error: self._tell(str(error)))
        self.page.on("request", self._look)
        self.page.on("console", lambda said: self._tell(said.text) if self.told and said.type == "error" else None)

    def _look(self, asked: Request) -> None:
        if not asked.url.startswith((self.address, f"blob:{self.address}", "data:")):
            self._tell(asked.url)

    def _tell(self, wrong: str) -> None:
        if self.case is not None:
            self.case.wrong.append(wrong)

    def shown_to(self, case: BrowserCase, size: Any, mode: Any, offline_expected: bool) -> Page:
        """The page, as large and as light as a test wants it; the test is told what goes wrong on it."""
        self.case, self.told = case, not offline_expected
        self.page.set_viewport_size(size)
        self.page.emulate_media(color_scheme=mode, media="null")
        return self.page

    def put_back(self) -> None:
        """Leave nothing of what was done, and keep it for the next."""
        self.case = None
        try:
            if self.is_installed or len(self.context.pages) > 1:
                raise PlaywrightError("not to be used again")
            self.context.set_offline(False)
            self.page.unroute_all(behavior="ignoreErrors")
            self.context.clear_cookies()
            # an image of the same place: no script of the page goes on, its process stays
            self.page.goto("/mark.svg", timeout=5_000)
            self.page.evaluate("sessionStorage.clear()")
            session = self.context.new_cdp_session(self.page)
            session.send("Storage.clearDataForOrigin", {"origin": self.address, "storageTypes": "all"})
            session.detach()
        except PlaywrightError:
            self.close()
        else:
            self._spare.setdefault(self.sort, []).append(self)

    def close(self) -> None:
        """Throw it away."""
        self.case = None
        self.context.close()


class BrowserCase(unittest.TestCase):
    """A test with the live application and a fresh browser context; console errors fail it."""

    app: ClassVar[LiveApp]
    browser: ClassVar[Browser]
    environment: ClassVar[Mapping[str, str]] = {}
    """What the application is told beside the usual."""
    durable: ClassVar[bool] = False
    """Whether it has a house of its own whose database keeps what it acknowledged when it is killed."""

    @classmethod
    def setUpClass(cls) -> None:
        """Start the application once a class."""
        if cls.durable or cls.environment:
            cls.app = LiveApp(cls.environment, cls.durable)
            cls.addClassCleanup(cls.app.close)
            cls.app.begin()
        else:
            cls.app = shared_live()
            cls.app.begin_again()
        cls.browser = shared_browser()

    def setUp(self) -> None:
        """Nothing wrong in the console so far."""
        self.wrong: list[str] = []

    def tearDown(self) -> None:
        """Fail on what the page complained of."""
        self.assertEqual(self.wrong, [])

    @contextmanager
    def page(
        self,
        path: str = "/",
        size: Any = None,
        mode: Any = "light",
        offline_expected: bool = False,
        touch: bool = False,
        signed_in: bool = True,
        installed: bool = False,
    ) -> Iterator[Page]:
        """A page in a context of its own, everything it asks elsewhere noted as wrong.

        With `installed` it may keep itself on the device, to open without a server.
        """
        sort = (self.app.address, touch, installed)
        pane = Pane.spare(sort) or Pane(self.browser, sort)
        page = pane.shown_to(self, size or DESKTOP, mode, offline_expected)
        try:
            if signed_in:
                page.context.add_cookies([{"name": COOKIE, "value": self.app.secret, "url": self.app.address}])
            page.goto(path)
            # a page comes in parts: whoever types waits until it is there
            page.wait_for_selector("main", state="attached")
            yield page
        except BaseException:
            pane.close()
            raise
        pane.put_back()

    def assert_fits(self, path: str, ready: Callable[[Page], Any], sizes: Sequence[Any] = SIZES, **more: Any) -> None:
        """A page fits its window at each size, and axe finds nothing serious on it.

        Every day it is opened in one theme and resized, and axe looks at one of the sizes, another one for every page;
        in the long run it is opened anew for each theme, and axe looks at each size.
        """
        looked = crc32(path.encode()) % len(sizes)
        for mode in themes(path):
            with self.subTest(path, mode=mode), self.page(path, sizes[0], mode, **more) as page:
                ready(page)
                for number, size in enumerate(sizes):
                    page.set_viewport_size(size)
                    page.wait_for_timeout(150)
                    self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth - innerWidth"), 0, size)
                    if number == looked or amount(False, True):
                        self.assertEqual([], self.serious_faults(page), size)

    def code(self, page: Page) -> str:
        """A new code of the class, read off the Shelf; what stood there before it is not taken for it."""
        page.goto("/shelf")
        button, shown = (
            page.get_by_role("button", name="code", exact=False).first,
            page.get_by_label("Code of the class"),
        )
        expect(button).to_be_visible()
        before = shown.inner_text() if shown.count() else "none so far"
        button.click()
        expect(shown).to_be_visible()
        expect(shown).not_to_have_text(before)
        return shown.inner_text()

    def serious_faults(self, page: Page) -> list[str]:
        """What axe finds serious or critical on the page."""
        page.evaluate(AXE.read_text(encoding="utf-8"))
        found = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
        return [
            f"{row['id']}: {node['target']} {node.get('failureSummary', '')}"
            for row in found["violations"]
            if row["impact"] in ("serious", "critical")
            for node in row["nodes"]
        ]
