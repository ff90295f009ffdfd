"""Chance that can be repeated: figures drawn from a seed, a stream of its own for everything that draws.

What one part draws moves no figure of another, so that the same seed stays the same bench when a part is added.
"""

from __future__ import annotations

from random import Random

LARGEST_SEED = 10**18


class Chance:
    """The draws of one seed; a stream is had by its name."""

    def __init__(self, seed: int, name: str = ""):
        self.seed, self.name = seed, name
        self._random = Random(f"{seed}:{name}")

    def stream(self, name: str) -> Chance:
        """The stream of this name below this one."""
        return Chance(self.seed, f"{self.name}/{name}")

    def between(self, low: float, high: float) -> float:
        """Any figure between two, all alike."""
        return low + (high - low) * self._random.random()

    def about(self, middle: float, spread: float) -> float:
        """A figure scattered about a middle with this standard deviation, normally."""
        return self._random.gauss(middle, spread)

    def happens(self, share: float) -> bool:
        """True in this share of cases."""
        return self._random.random() < share

    def one_of(self, count: int) -> int:
        """A place among so many, from 0."""
        return min(int(self._random.random() * count), count - 1)
