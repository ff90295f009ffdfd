"""Time zones: the laboratory's own, by name, or this machine's."""

from __future__ import annotations

from datetime import UTC, datetime, tzinfo
from pathlib import Path
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from claykettle.launch.paths import SetupError

HERE = Path("/etc/localtime")


def zone_named(name: str) -> tzinfo:
    """The zone of this name; without one, that of this machine. Raises SetupError for one that is not known."""
    if name:
        try:
            return ZoneInfo(name)
        except (ZoneInfoNotFoundError, ValueError, OSError):
            raise SetupError(f"timezone {name!r} is not known here; such as Europe/Vienna, or UTC.") from None
    try:
        with HERE.open("rb") as file:
            return ZoneInfo.from_file(file)
    except (OSError, ValueError):
        return datetime.now().astimezone().tzinfo or UTC
