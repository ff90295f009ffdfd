"""What methods share that collect a solid, no method itself: the paper or dish, the drying series, its judgement.

Three schools (PRACTICE.md 5): the paper is weighed and subtracted; it was forgotten and the mean of several others
stands for it, with their wider uncertainty; or it is never weighed and the solid is scraped into a weighed dish.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from statistics import mean
from typing import Annotated, Any

from pydantic import Field

from claykettle.core.judgement.constancy import Process, judge_constancy, settled_rules, settled_value
from claykettle.core.judgement.weighing_order import STEP, judge_heated
from claykettle.core.method import Expectation, Expectations, PlainReadings, SeriesOptions, Trial, in_words
from claykettle.core.methods.parts.crucible import EMPTIED
from claykettle.core.quantity import Number, exact
from claykettle.core.sheet import SETTLING, SPREAD, Page, Pick, Shape
from claykettle.core.verdict import Verdict

SERIES, STAND = "collected", "collector"
PAPER_KG, DISH_KG = 0.0009, 0.0200
"""A filter paper of 11 cm weighs about 0.9 g, a watch glass about 20 g (common practice)."""
SCATTER = 0.01
"""By so much of itself papers of one box differ (common practice)."""
ENOUGH = 10
"""So many papers stand for one that was not weighed (common practice)."""

DRYING = Process(
    "One weighing after drying cannot show that it is dry. Dry, cool and weigh again.",
    "still drying. Drying {next} decides.",
    "A gain is moisture taken up while it cooled, or a draught. Cool it in the desiccator, dry and weigh again.",
    round="drying",
)
CLEAN, CLOUDY = "washings clear", "still cloudy"


class CollectorOptions(SeriesOptions):
    """Options of a method that collects a solid."""

    collector: Annotated[str, Field(pattern="^(paper|papers_mean|dish)$")] = Field(
        default="paper",
        title="What carries the solid",
        description="Weighed empty and subtracted.",
        json_schema_extra=in_words(
            {
                "paper": "its own paper, weighed before",
                "papers_mean": "a paper not weighed: the mean of others",
                "dish": "a weighed dish; the paper never",
            }
        )
        | {"first": True, "order": 1},
    )


def paper(shape: Shape) -> bool:
    """Whether the paper itself was weighed."""
    return bool(shape.options.collector == "paper" and "paper" not in shape.missed)


def papers(shape: Shape) -> bool:
    """Whether the mean of other papers stands for it: it was to be so, or its own weighing was forgotten."""
    return bool(shape.options.collector == "papers_mean" or _forgotten(shape))


def _forgotten(shape: Shape) -> bool:
    return bool(shape.options.collector == "paper" and "paper" in shape.missed)


def dish(shape: Shape) -> bool:
    """Whether the solid is scraped into a weighed dish."""
    return bool(shape.options.collector == "dish")


@dataclass(frozen=True)
class Collecting:
    """The words of one method for the solid it collects; `name` and `label` are of the line with its mass."""

    page: Page
    name: str
    label: str

    def declare(self) -> None:
        """Put the weighings and the lines down to the mass of the solid on the page."""
        reading = self.page.reading
        own: dict[str, Any] = {"pan": "empty", "stand": STAND}
        reading(
            "paper",
            "paper",
            "g",
            "balance",
            when=paper,
            usual=("0.1 g", "12 g"),
            drawn="paper",
            instead=lambda _: "the mean of ten others of its box stands in for it, with how much they differ.",
            **own,
        )
        reading("papers", "papers", "g", "balance", series=True, sampled=True, round="paper", when=papers, stand=STAND)
        reading("dish", "dish", "g", "balance", when=dish, usual=("2 g", "400 g"), drawn="glass", late=EMPTIED, **own)
        for words, when in (("paper", lambda shape: not dish(shape)), ("dish", dish)):
            self._series(words, when)
        self._mean()
        for words, name, when in (
            ("paper", "paper", paper),
            ("mean paper", "mean_paper", papers),
            ("dish", "dish", dish),
        ):
            self._mass(words, name, when)

    def _series(self, words: str, when: Callable[[Shape], bool]) -> None:
        label = f"{words} + dry solid"
        drawn = "glass" if words == "dish" else "paper"
        more: dict[str, Any] = {
            "series": True,
            "drawn": drawn,
            "pan": "heated",
            "change": "solid",
            "round": "drying",
            "stand": STAND,
            "late": "While the solid is there it can still be weighed.",
        }
        self.page.reading(SERIES, label, "g", "balance", when=when, **more)

        @self.page.choice(
            f"settled {label}",
            "g",
            settled_rules(f"({label})"),
            when=when,
            name=f"settled_{SERIES}",
            takes={"series": SERIES, "settling": SERIES + SETTLING},
        )
        def settled(series: Sequence[Number], settling: Number, options: SeriesOptions) -> Pick:
            return settled_value(series, settling, options)

    def _mean(self) -> None:
        @self.page.line(
            "mean paper", "g", "mean of (papers)", when=papers, name="mean_paper", takes={"spread": f"papers{SPREAD}"}
        )
        def mean_paper(papers: Sequence[Number], spread: Number) -> Number:
            return sum(papers[1:], papers[0]) / len(papers) + spread

    def _mass(self, words: str, empty: str, when: Callable[[Shape], bool]) -> None:
        settled = "settled dish + dry solid" if empty == "dish" else "settled paper + dry solid"

        @self.page.line(
            self.label,
            "g",
            f"({settled}) − ({words})",
            when=when,
            positive=True,
            name=self.name,
            takes={"loaded": f"settled_{SERIES}", "empty": empty},
        )
        def mass(loaded: Number, empty: Number) -> Number:
            return loaded - empty

    # Judgement

    def judge(self, trial: Trial) -> list[Verdict]:
        """Their order, how many papers there are, and whether the solid is dry."""
        empty = "dish" if trial.options.collector == "dish" else "paper"
        verdicts = list(judge_heated(trial, SERIES, empty)) if empty in trial.sheet.readings else []
        verdicts += _judge_papers(trial)
        series = trial.series(SERIES)
        if series:
            verdicts.append(judge_constancy(SERIES, series, trial.options, DRYING))
        return verdicts

    # What is to be expected

    def expected(self, trial: Trial, about: float | None, most: float, because: str) -> Expectations:
        """Where the next weighing of the dry solid lies, from what can have come (kg); `about` is the likely one."""
        names = ("dish",) if trial.options.collector == "dish" else ("paper", "mean_paper")
        empty = next((value for name in names if (value := trial.value(name)) is not None), None)
        if empty is None:
            return {}
        likely = () if about is None else (empty + about, "if all of it is there and dry")
        return {SERIES: Expectation(empty, empty + most, because, *likely)}

    # The bench model

    def weighed(self, shape: Shape, solid: float) -> PlainReadings:
        """The readings in kg of the collector and of it with so much dry solid."""
        empty = DISH_KG if dish(shape) else PAPER_KG
        found: PlainReadings = {SERIES: [empty + 1.02 * solid, empty + solid, empty + solid]}
        if papers(shape):
            # half of them a hundredth heavier, half lighter: their mean is the paper's
            return found | {"papers": [empty * (1 + SCATTER * side) for side in (1, -1) * (ENOUGH // 2)]}
        return found | {"dish" if dish(shape) else "paper": empty}


def _judge_papers(trial: Trial) -> Iterator[Verdict]:
    rows = trial.series("papers")
    if not rows:
        return
    first = float(min(row.si for row in trial.series(SERIES))) if trial.series(SERIES) else math.inf
    average = mean(float(row.si) for row in rows)
    if first <= average:
        shown = trial.series(SERIES)[0].shown
        text = (
            f"Paper + dry solid ({shown}) is not heavier than the mean paper ({exact(round(1000 * average, 4))} g): "
            "check both."
        )
        yield Verdict(STEP, "stop", SERIES, text)
    if len(rows) < ENOUGH:
        text = (
            f"{len(rows)} of {ENOUGH} papers weighed: each more makes the mean, and how far one may lie off it, surer."
        )
        yield Verdict("papers-few", "watch", "papers", text)
    else:
        text = f"{len(rows)} papers stand for the one that was not weighed: their scatter counts in full."
        yield Verdict("papers-weighed", "good", "papers", text)


def judge_washing(tags: Sequence[str]) -> Iterator[Verdict]:
    """What the last wash test showed, from what was seen in order."""
    tests = [tag for tag in tags if tag in (CLEAN, CLOUDY)]
    if tests and tests[-1] == CLOUDY:
        text = (
            "The last wash test was still cloudy: dissolved salt stays in the solid and is weighed with it. Wash again."
        )
        yield Verdict("unwashed", "watch", SERIES, text)


def _by_paper(options: CollectorOptions) -> bool:
    return bool(options.collector != "dish")


WORDS = {"by_paper": _by_paper}
"""What collecting.toml calls by name."""
