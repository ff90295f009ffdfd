"""What a page is declared with: readings, lines, the shape that chooses among them."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, Literal

from claykettle.core.quantity import Number, Quantity, Unit, unit

Options = Any


Kind = Literal["line", "choice", "table"]


Rule = str | Mapping[str, str] | Callable[[Options], str | Mapping[str, str]]
"""How a line is worked out, in words; of a choice a text for each outcome; where it depends on them, of the options."""
Function = Callable[..., Number]
"""What works a line out: its parameters name what it needs."""


SETTLING, SPREAD = "_settling", "_spread"
"""Behind a series' name: what its last round still changed; for a sampled one: how far one may lie off the mean."""


@dataclass(frozen=True)
class Shape:
    """What decides the form of a worksheet: options, which net readings are given and how, which optional are taken,
    and which readings are `missed`: declared not taken, so that the run goes on another way.
    """

    options: Options
    net: frozenset[str] = frozenset()
    split: frozenset[str] = frozenset()
    taken: frozenset[str] = frozenset()
    missed: frozenset[str] = frozenset()


Guard = Callable[[Shape], bool]


def always(_: Shape) -> bool:
    return True


@dataclass(frozen=True)
class ReadingDef:
    """A reading of the bench. `series` is weighed again and again; `net` may be given as tare and gross.

    `pan` says what stands on the balance (empty, added, loaded, heated) and `change` what came or went since the
    weighing before: the mass stair draws both. `rises` says that a series is expected to gain, `round` what is done
    before each of its weighings. An `optional` reading stands on the page only where it was taken; a `sole` net one
    always, since no other form stands in for it. `given` takes the quantity from the options in place of the bench,
    such as a concentration on a label: the bench never asks for it. `continues` names the reading of the trial before
    with which this one goes on, such as the end of a tube's last filling. `usual` is the range outside which a sample
    is asked about, as typed; `most` the largest figure that the instrument shows, None where it is open.
    `room` tells which reading of the room, taken once for all runs of a day, this one may be.
    `tipped_from` names the reading of a dish before its content went into the vessel; this one is the dish after it.
    A `sampled` series holds several of a kind, such as ten filter papers, whose mean stands for one not weighed.
    `naming` gives the label where it depends on the options, such as a reagent's formula. `stand` tells what the pan
    carries where a method weighs more than one thing: readings of one stand belong on one stair. `planned` gives what
    the options plan for it, as typed, empty where they do not; `minus` what a minus sign says of a reading that may lie
    below zero. A reading is left out `by_eye` in a course that ends with pass or fail. `drawn` names what stands on the
    pan where that is not the vessel of the procedure: paper, glass, beaker, flask, boat, tablet. Of a reading that was
    not taken, `instead` says in a sentence what stands in for it, empty where nothing does, and `late` how it may still
    be had.
    """

    name: str
    label: str
    unit: str
    instrument: str
    series: bool = False
    net: bool = False
    instead_of: str | None = None
    pan: str = ""
    change: str = ""
    rises: bool = False
    round: str = "heating"
    optional: bool = False
    sole: bool = False
    when: Guard = always
    given: Callable[[Options], Quantity] | None = None
    tipped_from: str = ""
    continues: str = ""
    usual: tuple[str, str] = ("0.05 g", "40 g")
    most: Callable[[Options], Quantity | None] | None = None
    room: Callable[[Options], str] | None = None
    sampled: bool = False
    naming: Callable[[Options], str] | None = None
    stand: str = ""
    planned: Callable[[Options], str] | None = None
    minus: str = ""
    by_eye: bool = False
    drawn: str | Callable[[Options], str] = ""
    instead: Callable[[Options], str] | None = None
    late: str = ""

    def labelled(self, options: Options) -> str:
        """The label under these options."""
        return self.naming(options) if self.naming else self.label

    def drawn_with(self, options: Options) -> str:
        """What stands on the pan under these options; empty for the vessel of the procedure."""
        return self.drawn if isinstance(self.drawn, str) else self.drawn(options)

    @property
    def settles(self) -> bool:
        """Whether it is weighed again and again until it is constant."""
        return self.series and not self.sampled

    @property
    def dimension(self) -> str:
        """The dimension of the reading, as in data/units.toml."""
        return unit(self.unit).dimension


@dataclass(frozen=True)
class LineDef:
    """One line of the page. `positive` lines must lie above zero before anything is built on them.

    `naming` gives the label where it depends on the options, such as the gas it speaks of; `taking` what it needs, by
    parameter, where that does, such as the amounts of all reactants.
    """

    name: str
    label: str
    unit: str
    rule: Rule
    function: Function
    kind: Kind = "line"
    positive: bool = False
    when: Guard = always
    takes: Mapping[str, str] = field(default_factory=dict)
    naming: Callable[[Options], str] | None = None
    taking: Callable[[Options], Mapping[str, str]] | None = None

    def under(self, options: Options) -> LineDef:
        """The line as it stands under these options."""
        if self.naming is None and self.taking is None:
            return self
        label = self.naming(options) if self.naming else self.label
        return replace(self, label=label, takes=self.taking(options) if self.taking else self.takes)

    @cached_property
    def needs(self) -> tuple[str, ...]:
        """The names of the readings and lines that this one is computed from."""
        return tuple(self.takes.values())

    @cached_property
    def shown_unit(self) -> Unit:
        """The unit in which the line is shown; it computes in SI."""
        return unit(self.unit)

    def rule_text(self, options: Options, pick: str | None = None) -> str:
        """The rule as it stands under these options and, for a choice, after this decision."""
        rule = self.rule(options) if callable(self.rule) else self.rule
        if isinstance(rule, str):
            return rule
        return rule[pick] if pick is not None else ""

    def is_sentence(self, options: Options) -> bool:
        """Whether the rule is told in words: a choice that has no formula for each way it may fall."""
        if self.kind == "line":
            return False
        return isinstance(self.rule(options) if callable(self.rule) else self.rule, str)


@dataclass(frozen=True)
class Pick:
    """What a choice line decided, by name, and the value it goes on with."""

    key: str
    value: Number


def beside(row: ReadingDef) -> str:
    """The name of the number that a series brings beside its values."""
    return row.name + (SPREAD if row.sampled else SETTLING)
