"""What the crucible methods share, no method itself: weigh empty, weigh loaded, heat and weigh until constant.

A method names its vessel, what goes in and what comes out; from these words follow the readings, the lines down to
the masses, the verdicts on the weighings, the readings of the bench model and the causes that every balance knows.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from claykettle.core.judgement.constancy import (
    DRYING,
    Process,
    judge_constancy,
    settled_rules,
    settled_value,
)
from claykettle.core.judgement.weighing_order import judge_heated, judge_loading
from claykettle.core.method import Expectation, Expectations, PlainReadings, SeriesOptions, Trial
from claykettle.core.quantity import Number
from claykettle.core.sheet import SETTLING, Page, Pick, Shape, always
from claykettle.core.verdict import Verdict

EMPTIED = "Empty, clean and dry it at the end, and weigh it then."
"""How the mass of a vessel may be had that was not weighed before it was filled."""
USUAL = {"vessel_mass": "30 g", "vessel_volume": "30 mL"}
"""A porcelain crucible with its lid, as most schools have."""


def lidded(schools: Mapping[str, str]) -> bool:
    """Whether the schools chosen put a lid on the pan: a crucible has one, a dish has none."""
    return schools.get("vessel") == "crucible" or "lid" in schools


def too_far(trial: Trial, about: str) -> float:
    """So far beyond its bound a result cannot lie by chance: two standard uncertainties, or three of what further
    rounds cannot better, where a series still settles.
    """
    return min(2 * trial.uncertainty(about), 3 * trial.firm_uncertainty(about))


@dataclass(frozen=True)
class Crucible:
    """The words of one method for its weighings.

    `change` and `change_label` name the line with the mass that went off, or came on where it `rises`; `moved` is
    what the mass stair writes beside that step.
    """

    page: Page
    vessel: str
    before: str
    after: str
    change: str
    change_label: str
    moved: str
    rises: bool = False
    process: Process = DRYING
    heated: Callable[[Shape], bool] = always
    """Whether the vessel is weighed after heating: a method may know another way where that was forgotten."""
    instead: Callable[[Any], str] | None = None
    """What that way is, in words."""

    @property
    def loaded(self) -> str:
        """The reading of the vessel with what goes in."""
        return f"vessel_{self.before}"

    @property
    def series(self) -> str:
        """The reading of the vessel after each heating."""
        return f"vessel_{self.after}"

    def net(self, shape: Shape) -> bool:
        """Whether what goes in was weighed by itself."""
        return self.before in shape.net

    def gross(self, shape: Shape) -> bool:
        """Whether what goes in was weighed in the vessel."""
        return not self.net(shape)

    def declare(self) -> None:
        """Put the weighings and the lines down to the masses on the page."""
        self._readings()
        self._masses()
        self._change()

    def _readings(self) -> None:
        reading, vessel, before = self.page.reading, self.vessel, self.before
        reading("vessel", vessel, "g", "balance", pan="empty", late=EMPTIED)
        loaded = f"{vessel} + {before}"
        reading(self.loaded, loaded, "g", "balance", instead_of=before, pan="loaded", change=before)
        reading(before, before, "g", "balance", net=True, pan="added", change=before)
        heated = f"{vessel} + {self.after}"
        reading(
            self.series,
            heated,
            "g",
            "balance",
            series=True,
            pan="heated",
            change=self.moved,
            rises=self.rises,
            when=self.heated,
            late="While it still stands there it can be weighed.",
            instead=self.instead,
        )

    def _masses(self) -> None:
        page, vessel, before, after = self.page, self.vessel, self.before, self.after
        label, name = f"mass of {before}", f"{before}_mass"

        @page.line(
            label,
            "g",
            f"({vessel} + {before}) − ({vessel})",
            when=self.gross,
            positive=True,
            name=name,
            takes={"loaded": self.loaded},
        )
        def mass_in_vessel(loaded: Number, vessel: Number) -> Number:
            return loaded - vessel

        @page.line(label, "g", f"({before})", when=self.net, positive=True, name=name, takes={"alone": before})
        def mass_alone(alone: Number) -> Number:
            return alone

        heated = f"{vessel} + {after}"

        @page.choice(
            f"settled {heated}",
            "g",
            settled_rules(f"({heated})"),
            when=self.heated,
            name=f"settled_{after}",
            takes={"series": self.series, "settling": self.series + SETTLING},
        )
        def settled(series: Sequence[Number], settling: Number, options: SeriesOptions) -> Pick:
            return settled_value(series, settling, options)

        @page.line(
            f"mass of {after}",
            "g",
            f"(settled {heated}) − ({vessel})",
            when=self.heated,
            positive=True,
            name=f"{after}_mass",
            takes={"settled": f"settled_{after}"},
        )
        def mass_after(settled: Number, vessel: Number) -> Number:
            return settled - vessel

    def _change(self) -> None:
        """The mass that went off or came on: between the two weighings of the vessel where both are there."""
        in_vessel = (f"{self.vessel} + {self.before}", f"settled {self.vessel} + {self.after}")
        by_mass = (f"mass of {self.before}", f"mass of {self.after}")
        for words, names, when in (
            (in_vessel, (self.loaded, f"settled_{self.after}"), self.gross),
            (by_mass, (f"{self.before}_mass", f"{self.after}_mass"), self.net),
        ):
            self._difference(*((words[::-1], names[::-1]) if self.rises else (words, names)), when)

    def _difference(self, words: Sequence[str], names: Sequence[str], when: Callable[[Shape], bool]) -> None:
        @self.page.line(
            self.change_label,
            "g",
            f"({words[0]}) − ({words[1]})",
            when=lambda shape: when(shape) and self.heated(shape),
            positive=self.rises,
            name=self.change,
            takes={"more": names[0], "less": names[1]},
        )
        def change(more: Number, less: Number) -> Number:
            return more - less

    # Judgement

    def judge(self, trial: Trial) -> list[Verdict]:
        """What can be said of the weighings alone: their order, and whether the mass is constant."""
        bound = "above" if self.rises else "below"
        verdicts = [
            *judge_loading(trial, "vessel", self.loaded),
            *judge_heated(trial, self.series, "vessel", **{bound: self.loaded}),
        ]
        series = trial.series(self.series)
        if series:
            verdicts.append(judge_constancy(self.series, series, trial.options, self.process))
        return verdicts

    # What is to be expected

    def expected(
        self, trial: Trial, least: float, most: float, because: str, about: float | None = None, when: str = ""
    ) -> Expectations:
        """Where the next weighing after heating lies, from the shares of what went in that may be there."""
        vessel, added = trial.value("vessel"), trial.value(f"{self.before}_mass")
        if vessel is None or added is None or added <= 0:
            return {}
        likely = None if about is None else vessel + about * added
        return {self.series: Expectation(vessel + least * added, vessel + most * added, because, likely, when)}

    # The bench model

    def weighed(self, shape: Shape, empty: float, added: float, heated: Sequence[float]) -> PlainReadings:
        """The readings in kg of a vessel, of what went in and of the vessel after each heating, in the shape's form."""
        readings: PlainReadings = {"vessel": empty, self.series: list(heated)}
        if self.before in shape.split:
            return readings | {f"{self.before}_tare": empty, f"{self.before}_gross": empty + added}
        if self.net(shape):
            return readings | {self.before: added}
        return readings | {self.loaded: empty + added}

    def forms(self) -> Iterator[tuple[frozenset[str], frozenset[str]]]:
        """`net` and `split` of every form in which what goes in may be weighed."""
        alone = frozenset({self.before})
        yield frozenset(), frozenset()
        yield alone, frozenset()
        yield alone, alone

    @property
    def names(self) -> dict[str, str]:
        """What stands for the braces in crucible.toml."""
        return {"series": self.series, "after": self.after, "vessel": self.vessel}
