"""What the Shelf shows beside the class: where the house is reached, and how its last backup went."""

from __future__ import annotations

import json
from collections.abc import Sequence
from contextlib import suppress
from datetime import datetime, timedelta
from pathlib import Path

import segno

from claykettle.service.callers import ADMINISTRATOR, INSTRUCTOR, may
from claykettle.service.doors.classes import valid_code
from claykettle.service.shelf.day import day_numbered
from claykettle.service.views.base import View
from claykettle.service.visit import Visit

OLD = timedelta(hours=36)
"""A nightly backup that is older was missed."""


class AddressView(View):
    """An address of the house, and a drawing of it that a tablet's camera reads (a data URI)."""

    address: str
    code: str


class AddressesView(View):
    """Where the house is reached, the likeliest first."""

    addresses: list[AddressView]


class BackupsView(View):
    """How the last backup went: when one was tried, what was wrong (empty: nothing), when the last good one was made.

    All empty where the house makes none by itself; `is_old` where a night was missed since.
    """

    is_kept: bool
    is_old: bool = False
    tried_at: str = ""
    fault: str = ""
    made_at: str = ""
    file: str = ""
    rows: int = 0


@may(INSTRUCTOR)
def addresses_view(visit: Visit, addresses: Sequence[str], number: int = 0) -> AddressesView:
    """Where tablets reach the house: the page at which they join, with the code of the class where one is given out."""
    code = valid_code(visit, day_numbered(visit, number))
    page = f"/join?code={code}" if code else "/join"
    return AddressesView(
        addresses=[
            AddressView(address=row, code=segno.make(f"{row}{page}", error="m").svg_data_uri(scale=6, border=3))
            for row in addresses
        ]
    )


@may(INSTRUCTOR, ADMINISTRATOR)
def backups_view(visit: Visit, folder: str) -> BackupsView:
    """How the last backup went, by what the house left word of in its backups' folder."""
    if not folder:
        return BackupsView(is_kept=False)
    told: dict[str, object] = {}
    with suppress(OSError, ValueError):
        told = dict(json.loads((Path(folder) / "last.json").read_text()))
    found = BackupsView.model_validate({"is_kept": True, **told})
    is_old = bool(found.made_at) and visit.now - datetime.fromisoformat(found.made_at) > OLD
    return found.model_copy(update={"is_old": is_old})
