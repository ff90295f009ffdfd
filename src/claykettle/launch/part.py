"""One part of a running house, watched: started again whenever it died, after pauses that grow, for ever.

A part that is slow is left alone. What keeps a part from starting is said, and tried again: only whoever started the
house ends it.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import pymysql

from claykettle.launch.paths import SetupError, say

STEADY_S = 60.0
"""A part that ran for so long is well again: after its next death it is started at once."""
FIRST_PAUSE_S, LONGEST_PAUSE_S = 1.0, 60.0


@dataclass
class Part:
    """A part of the house. `start` begins it, and may raise SetupError, OSError or the driver's error."""

    name: str
    is_dead: Callable[[], bool]
    start: Callable[[], None]
    clock: Callable[[], float] = time.monotonic
    began: float = 0.0
    due: float = 0.0
    pause_s: float = 0.0
    deaths: int = 0
    told: str = ""
    is_down: bool = field(default=False)

    def look(self) -> bool:
        """Start it again where it died and its pause is over; whether that was done."""
        now = self.clock()
        if not self.is_dead():
            if now - self.began >= STEADY_S:
                self.pause_s = 0.0
            return False
        if not self.is_down:
            self.is_down, self.deaths = True, self.deaths + 1
            self.due = now + self.pause_s
            soon = f" in {self.pause_s:.0f} s" if self.pause_s else ""
            say(f"{self.name} ended by itself; starting it again{soon}")
        if now < self.due:
            return False
        self.pause_s = min(max(FIRST_PAUSE_S, 2 * self.pause_s), LONGEST_PAUSE_S)
        try:
            self.start()
        except (SetupError, OSError, pymysql.Error) as error:
            self.due = self.clock() + self.pause_s
            self._tell(f"{self.name} could not be started: {error}")
            return False
        self.is_down, self.began, self.told = False, self.clock(), ""
        return True

    def _tell(self, text: str) -> None:
        """Say it once, and how long the pauses are by now."""
        if text != self.told:
            self.told = text
            say(text)
        say(f"trying again in {self.pause_s:.0f} s")


@dataclass
class Patience:
    """Says that the house does not answer, at growing intervals, and that it does again."""

    answers: Callable[[], bool]
    clock: Callable[[], float] = time.monotonic
    since: float | None = None
    next_word: float = 0.0
    is_told: bool = False
    """Whether it was said that it does not answer: what nobody was told is not taken back."""

    def look(self, down: Sequence[str]) -> None:
        """Ask once; `down` are the parts of which it was said already that they are away."""
        if down or self.answers():
            if self.is_told and not down:
                say("the application answers again")
            self.since, self.is_told = None, False
            return
        now = self.clock()
        if self.since is None:
            self.since, self.next_word = now, now + SLOW_S
        elif now >= self.next_word:
            waited = now - self.since
            self.next_word, self.is_told = now + waited, True
            say(f"the application has not answered for {waited:.0f} s; it goes on, and is waited for")


SLOW_S = 30.0
"""So long a busy machine may be silent before a word is said."""
