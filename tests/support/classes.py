"""Classes as tests prepare them."""

from __future__ import annotations

from typing import Any
from zoneinfo import ZoneInfo

from claykettle.service.laboratory import Laboratory
from tests.support.server import AppCase

ZINC: dict[str, Any] = {"method": "hydrate", "options": {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}, "trials": 2}
BLANC_FIXE: dict[str, Any] = {
    "equation": "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)",
    "product": "BaSO4",
    "reagents": [
        {"formula": "BaCl2.2H2O"},
        {"formula": "Na2SO4", "concentration": "0.25 mol/L"},
    ],
}


class PrepareCase(AppCase):
    def benches(self) -> list[int]:
        """The benches of the room."""
        return [row["id"] for row in self.get("/api/shelf")["benches"]]

    def wish(self, practical: dict[str, Any] | None = None, **more: Any) -> dict[str, Any]:
        """A class of zinc sulfate on the day that it is, or another."""
        today = self.get("/api/today")["now"][:10]
        return {
            "practical": practical or ZINC,
            "date": today,
            "starts": "18:30",
            "length": "150 min",
            "benches": self.benches(),
            "room": {"balance": 2},
        } | more

    def prepared(self, practical: dict[str, Any] | None = None, **more: Any) -> Any:
        """What the server makes of it."""
        return self.post("/api/prepare", self.wish(practical, **more))

    def more_benches(self, *names: str) -> None:
        """Name benches beside the first."""
        for name in names:
            self.post("/api/class/benches", {"name": name})

    def in_zone(self, name: str) -> None:
        """Let days begin where the laboratory lies."""
        self.laboratory = Laboratory(self.database, self.clock, zone=ZoneInfo(name))
        self.app.extensions["claykettle"] = self.laboratory

    def said(self, found: Any) -> str:
        """The sentence as one reads it."""
        return "".join(part["text"] for part in found["sentence"])

    def wrong(self, found: Any) -> dict[str, str]:
        """By part what is wrong there."""
        return {row["part"]: row["message"] for row in found["faults"]}
