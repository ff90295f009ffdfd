"""The audit: what was done at the doors, and what was set that bears on results; rows are only added."""

from __future__ import annotations

from claykettle.service.visit import Visit
from claykettle.store.tables import AuditRow


def note(visit: Visit, what: str, about: str = "", who: str | None = None) -> None:
    """Add a line to the audit; never a password, a code, or what a student wrote."""
    caller = visit.caller
    name = who if who is not None else "the command line" if caller.is_program else caller.words
    visit.session.add(AuditRow(at=visit.now, who=name[:120], address=caller.address[:60], what=what, about=about[:200]))


def note_change(visit: Visit, what: str, before: object, after: object) -> None:
    """Add a line about a setting that bears on results, where it is another now."""
    if before != after:
        note(visit, what, f"{before or 'open'} → {after or 'open'}")
