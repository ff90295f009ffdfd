"""What a run leaves, as the store keeps it beside the run: formulas as text, amounts in SI."""

from __future__ import annotations

from collections.abc import Iterator

from claykettle.core.chemistry.formula import parse_formula
from claykettle.core.method import Form, Remain
from claykettle.core.planning.waste import Left
from claykettle.core.planning.waste import left_of as left_of_run
from claykettle.service.views.base import View
from claykettle.store.records import StoredRun


class KeptRemain(View):
    """Something left: its formula (empty where it is not known), amount in mol, volume in m³."""

    formula: str
    what: str
    form: Form
    mol: float | None
    liquid: str
    volume: float | None


class KeptLeft(View):
    """What one trial leaves."""

    remains: list[KeptRemain]
    neutralised: bool
    rinses: int


class LeftOfRun(View):
    """What a run leaves, and its title."""

    title: str
    trials: list[KeptLeft]

    def left(self) -> tuple[Left, ...]:
        """As the waste sheet takes it."""
        return tuple(
            Left(tuple(_remain(one) for one in row.remains), row.neutralised, row.rinses) for row in self.trials
        )


def left_of(run: StoredRun) -> LeftOfRun:
    """What a run leaves."""
    return LeftOfRun(title=run.title, trials=list(_trials(run)))


def remains_text(run: StoredRun) -> str:
    """The same as JSON."""
    return left_of(run).model_dump_json()


def _remain(kept: KeptRemain) -> Remain:
    formula = parse_formula(kept.formula) if kept.formula else None
    return Remain(formula, kept.what, kept.form, kept.mol, kept.liquid, kept.volume)


def _trials(run: StoredRun) -> Iterator[KeptLeft]:
    for left in left_of_run(run.evaluation):
        remains = [
            KeptRemain(
                formula=row.formula.text if row.formula is not None else "",
                what=row.what,
                form=row.form,
                mol=row.mol,
                liquid=row.liquid,
                volume=row.volume,
            )
            for row in left.remains
        ]
        yield KeptLeft(remains=remains, neutralised=left.neutralised, rinses=left.rinses)
