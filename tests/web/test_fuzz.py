"""Requests that follow the API's document by the letter and make no sense: no 500, and no status that it does not name.

Made by schemathesis; bounded here, `KETTLE_FUZZ=400` asks each route so many times as each of two callers.
"""

from __future__ import annotations

import os
from typing import Any
from unittest import mock

import schemathesis
from flask.testing import FlaskClient
from hypothesis import HealthCheck, Phase, given, settings

from claykettle.service.doors import signing_in
from tests.support.tiers import amount, both
from tests.web.test_doors import Doors

EACH = int(os.environ.get("KETTLE_FUZZ", amount("3", "12")))
BOUND = settings(
    max_examples=EACH,
    database=None,
    deadline=None,
    derandomize=True,
    phases=[Phase.generate],
    suppress_health_check=list(HealthCheck),
)


@both
class Fuzzed(Doors):
    def ask_everything(self, enter: Any) -> int:
        """Ask every route; `enter` gives a client anew for each, since some of them sign it out."""
        schema = schemathesis.openapi.from_dict(dict(self.app.api_doc))  # type: ignore[attr-defined]
        schema.app = self.app
        routes = [found.ok() for found in schema.get_all_operations()]
        return sum(self.ask_route(route, enter()) for route in routes)

    def ask_route(self, route: Any, client: FlaskClient) -> int:
        """Ask one route as often as is wanted; how often it was."""
        name, asked = f"{route.method} {route.path}", []
        named = {int(status) for status in route.definition.raw["responses"] if status.isdigit()}
        cookie = client.get_cookie("kettle")
        cookies = {"kettle": cookie.value} if cookie is not None else {}

        @BOUND
        @given(case=route.as_strategy())
        def each(case: Any) -> None:
            answer = case.call(base_url="http://localhost", cookies=cookies)
            asked.append(answer.status_code)
            self.assertLess(answer.status_code, 500, f"{name}: {case.body!r}"[:600])
            self.assertIn(answer.status_code, named, f"{name}: {answer.content[:200]!r}")

        with self.subTest(name):
            each()
        return len(asked)

    def test_as_an_instructor(self) -> None:
        with mock.patch.object(signing_in, "FOR_CODES", 10**9), mock.patch.object(signing_in, "FOR_AN_ADDRESS", 10**9):
            self.weigh_all(self.start(), "32.134", "32.134")
            self.assertGreater(self.ask_everything(lambda: self.signed_in(self.app)), 60 * min(EACH, 3))

    def test_as_a_tablet_at_a_bench(self) -> None:
        self.weigh_all(self.start(), "32.134", "32.134")
        self.assertGreater(self.ask_everything(self.tablet), 60 * min(EACH, 3))
