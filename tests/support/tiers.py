"""Which tests are for every day, and which for `./kettle test --long`.

A test without a mark runs every day. One marked `both` runs in the long run too, with another `amount` of what it goes
through.
"""

from __future__ import annotations

import os
from typing import TypeVar

from claykettle.launch.testing import LONG

Test = TypeVar("Test")
Amount = TypeVar("Amount")


def both(test: Test) -> Test:
    """Every day and in the long run."""
    test.in_the_long = True  # type: ignore[attr-defined]
    return test


def amount(every_day: Amount, in_the_long: Amount) -> Amount:
    """How much a test goes through in the run that is under way."""
    return in_the_long if os.environ.get(LONG) else every_day
