"""Whether a tablet sees the answers of its run yet: as the practical says, until its instructor decides otherwise."""

from __future__ import annotations

from sqlalchemy import ColumnElement, or_, select, true

from claykettle.core.errors import Doubt, HeldBack
from claykettle.core.judgement.revealed import ASKED_AGAIN, is_asked_whole
from claykettle.service.visit import Visit
from claykettle.store.tables import SheetRow

OWN_FIRST = "Your own figures first: hand them in, and this shows what the readings give."
CLOSED = "Your instructor opens the answers."


def held_back(visit: Visit, run: int) -> str:
    """Why a tablet does not see the answers of a run (by its number) yet; empty where it does, and for all others."""
    match visit.caller.reveal:
        case "after_own_figures":
            # a complete sheet opens the answers on the tablet on which it was typed, not on its neighbour's
            handed = select(SheetRow.id).where(SheetRow.run_id == run, SheetRow.day_id == visit.caller.day, own(visit))
            return "" if visit.session.scalar(handed.limit(1)) is not None else OWN_FIRST
        case "when_closed":
            return CLOSED
    return ""


def own(visit: Visit) -> ColumnElement[bool]:
    """The sheets that a tablet sees: those that were typed on it, and those that an instructor typed for its bench; all
    of them for everybody else.
    """
    if visit.caller.tablet is None:
        return true()
    return or_(SheetRow.tablet.is_(None), SheetRow.tablet == visit.caller.tablet)


def refuse_before_time(visit: Visit, run: int) -> None:
    """Raises HeldBack where a tablet does not see the answers of a run yet."""
    why = held_back(visit, run)
    if why:
        raise HeldBack(why)


def asked_without_answer(doubt: Doubt) -> Doubt:
    """A question at the field, without the reason that would tell the answer."""
    return doubt if is_asked_whole(doubt.doubt) else Doubt(doubt.doubt, ASKED_AGAIN)
