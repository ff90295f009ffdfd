"""Swapped neighbours among the digits of a typed figure: the commonest slip at a balance."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from claykettle.core.errors import Refusal
from claykettle.core.quantity import Reading, parse_reading


def swapped(reading: Reading) -> Iterator[Reading]:
    """The readings that a swap of two neighbouring digits would have turned into this one, unlike it."""
    digits = reading.digits
    places = [index for index, character in enumerate(digits) if character.isdigit()]
    for left, right in pairwise(places):
        if digits[left] == digits[right]:
            continue
        characters = list(digits)
        characters[left], characters[right] = characters[right], characters[left]
        try:
            yield parse_reading(f"{''.join(characters)} {reading.unit.symbol}", reading.unit.dimension)
        except Refusal:
            continue
