"""What was done at the doors, told for good: who, from where, what, and about whom."""

from __future__ import annotations

from sqlalchemy import select

from claykettle.service.callers import ADMINISTRATOR, may
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.records import iso
from claykettle.store.tables import AuditRow

SHOWN = 200


class AuditLineView(View):
    """One thing that was done."""

    at: str
    who: str
    address: str
    what: str
    about: str


class AuditView(View):
    """The latest that was done at the doors, newest first."""

    lines: list[AuditLineView]


@may(ADMINISTRATOR)
def audit_view(visit: Visit) -> AuditView:
    """What was done at the doors, the latest first."""
    rows = visit.session.scalars(select(AuditRow).order_by(AuditRow.id.desc()).limit(SHOWN))
    return AuditView(
        lines=[
            AuditLineView(at=iso(row.at), who=row.who, address=row.address, what=row.what, about=row.about)
            for row in rows
        ]
    )
