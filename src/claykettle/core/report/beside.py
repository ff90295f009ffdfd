"""What a run file does not say of a run and a report tells where it is known: whose it is, questions, signatures."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class Asked:
    """A question with the answer that was given; empty where none was."""

    ask: str
    answer: str
    said: str = ""


@dataclass(frozen=True)
class Signed:
    """A signature: who, when, and what was changed behind it (empty where nothing was)."""

    name: str
    at: str
    changed: str = ""


@dataclass(frozen=True)
class Logged:
    """A line of the log: when, by whom, what."""

    at: str
    by: str
    what: str
    is_struck: bool = False


@dataclass(frozen=True)
class Beside:
    """All of that. `about` stands below the title as name and text; `instruments` says with what each kind was read;
    `log` is told in place of what the run file holds of it.
    """

    about: Sequence[tuple[str, str]] = ()
    instruments: Sequence[tuple[str, str]] = ()
    questions: Sequence[Asked] = ()
    signatures: Sequence[Signed] = ()
    log: Sequence[Logged] = ()
    tells_answers: bool = True


NOTHING_BESIDE = Beside()
