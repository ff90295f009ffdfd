"""What the room Practice is told."""

from __future__ import annotations

from typing import Any

from claykettle.core.practice import Point, Seen
from claykettle.service.views.base import View


class OfferView(View):
    """Something that can be done; `stopped` says why it does not go just now, empty where it does. Those of one `group`
    exclude each other, and the `chosen` one is how it stands.
    """

    act: str
    value: str
    label: str
    stopped: str
    group: str
    chosen: bool


class CauseView(View):
    """Something that may have been wrong, and the unit in which its size is told."""

    code: str
    label: str
    unit: str


class DebriefView(View):
    """All that is said at the end; texts are empty where there is nothing of that."""

    planted: str
    points: list[Point]
    total: int
    of: int
    true: str
    measured: str
    first_shown: str
    suspects: str
    guess: str
    own: list[str]
    way: str


class PracticeView(View):
    """A simulated bench as it stands now. `after` counts what was done, so that two people there notice each other.

    `now` is its own clock (ISO 8601), `pace` how many times as fast that goes; `pictures` what its parts look like,
    `closer` what one sees who looks closer.
    """

    uuid: str
    run: str
    title: str
    method: str
    level: int
    seed: str
    now: str
    pace: float
    minutes: float
    after: int
    trial: str
    step: str
    timer_min: float | None
    timed: str
    offers: list[OfferView]
    seen: Seen | None
    noticed: list[str]
    closer: list[str]
    pictures: list[dict[str, Any]]
    result: str
    causes: list[CauseView]
    debrief: DebriefView | None


class PractisedView(View):
    """A practice of before, in the list."""

    uuid: str
    run: str
    title: str
    method: str
    level: int
    seed: str
    began_at: str
    points: int | None
    of: int


class MethodToPractiseView(View):
    """A method that has a simulated bench."""

    name: str
    title: str


class PracticesView(View):
    """What can be practised, and what was."""

    methods: list[MethodToPractiseView]
    practices: list[PractisedView]


class OutcomeView(View):
    """How a bench of a simulated class came out; times in minutes after it began, None where there is none."""

    bench: str
    result: str
    true: str
    off: bool
    behind: str
    first_sign_min: int | None
    first_said: str
    spoken_min: int | None
    finish_min: int
    waited_min: int


class EndedView(View):
    """What is said of a simulated class at its end: how many benches came out off, how many of them nobody went to, how
    many were saved; when the last was done and how long all waited for a balance, and with one balance more.
    """

    benches: list[OutcomeView]
    off: int
    missed: int
    saved: int
    last_min: int
    waited_min: int
    with_one_more_min: int


class EveningView(View):
    """A simulated class as it stands; `day` is its class where one rehearses, `happened` how much has been played."""

    uuid: str
    day: int
    title: str
    seed: str
    now: str
    pace: float
    minutes: float
    benches: int
    balances: int
    happened: int
    ended: EndedView | None


class RehearsedView(View):
    """A class that was rehearsed, in the list."""

    uuid: str
    title: str
    seed: str
    began_at: str
    ended: bool


class RehearsalsView(View):
    """The classes that were rehearsed."""

    classes: list[RehearsedView]
