"""The demo's data, seeded once in a process and laid down as rows for every test that looks at them."""

from __future__ import annotations

from claykettle.service.demo import seed_demo
from claykettle.service.laboratory import Laboratory
from claykettle.service.shelf.shelf import first_start
from tests.support.rows import Rows
from tests.support.server import AppCase, Clock, rows_of_this_run, scene, shared_database


def seeded(laboratory: Laboratory) -> None:
    """Seed the demo on a first start."""
    laboratory.ask(first_start)
    assert laboratory.ask(seed_demo)


def demo_rows() -> Rows:
    """The demo as it stands now, seeded by one process of a test run for all of them."""
    return rows_of_this_run("demo-now", lambda: seeded(Laboratory(shared_database())))


class DemoCase(AppCase):
    """A test on the demo's data."""

    @scene
    def play(self) -> None:
        """What the demo holds, and an instructor who signs in to it."""
        self.open_on(rows_of_this_run("demo-then", lambda: seeded(Laboratory(shared_database(), Clock()))))
        self.client = self.signed_in(self.app)
