"""A weather service: the pressure of the air over HTTP, as JSON with `pressure`, its unit in it, such as "1013.2 hPa".

Most give it reduced to sea level; `reduced` says so, and whoever takes it is told. A figure that does not fit the
place's elevation is asked about as a typed one is.
"""

from __future__ import annotations

import json
import urllib.request
from typing import Any

from claykettle.devices.device import Look, judged, read_line

LARGEST = 64 * 1024


class WeatherService:
    """A service at an address."""

    def __init__(self, address: str):
        self.address = address

    def look(self, seconds: float) -> Look:
        """The pressure that it gives now."""
        try:
            with urllib.request.urlopen(self.address, timeout=max(seconds, 0.5)) as answer:
                found: Any = json.loads(answer.read(LARGEST))
            text = str(found["pressure"])
        except (OSError, ValueError):
            return Look("", "", "away", "The weather service does not answer.")
        except (KeyError, TypeError):
            return Look("", "", "nonsense", "The weather service gives no pressure.")
        line = read_line(text, 0.0)
        if line is None or line.is_over or not line.figure:
            return judged([], 1)
        where = "reduced to sea level" if found.get("reduced", True) else "of the place itself"
        return Look(line.figure, line.unit, "steady", f"from the weather service, {where}")
