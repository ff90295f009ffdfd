"""People who record without a pause, each figure until it is acknowledged, whatever dies meanwhile."""

from __future__ import annotations

import http.client
import json
import threading
import time
from collections.abc import Sequence
from typing import Any
from urllib.parse import quote
from uuid import uuid4

from claykettle.web.context import COOKIE

PATIENCE_S = 60.0
PASSING = (200, 502, 503, 504)
"""What a server may answer while something of it is away."""


def asked(port: int, secret: str, method: str, path: str, body: Any = None, timeout: float = 10) -> tuple[int, Any]:
    """Ask a server on loopback: the status, and what it answered. Raises OSError, HTTPException where it does not."""
    line = http.client.HTTPConnection("127.0.0.1", port, timeout=timeout)
    headers = {"Content-Type": "application/json", "Cookie": f"{COOKIE}={secret}"}
    try:
        line.request(method, path, json.dumps(body) if body is not None else None, headers)
        answer = line.getresponse()
        text = answer.read()
        return answer.status, json.loads(text) if text[:1] in (b"{", b"[") else text
    finally:
        line.close()


class Recorder(threading.Thread):
    """Weighs in a hydrate run, from one of its trials on; asks the servers on these ports in turn."""

    def __init__(self, uuid: str, trial: str, ports: Sequence[int], secret: str, pause_s: float = 0.0):
        super().__init__(daemon=True)
        self.uuid, self.trial, self.ports, self.secret, self.pause_s = uuid, trial, ports, secret, pause_s
        self.ended = threading.Event()
        self.acknowledged: list[str] = []
        self.wrong: list[str] = []
        self.longest, self.again, self.turn = 0.0, 0, 0

    def run(self) -> None:
        """Record until it is ended: a hundred weighings a trial, then another one."""
        while not self.ended.is_set():
            self._weigh()
            if not self.ended.is_set():
                self.trial += "+"
                self._until_acknowledged("trials", {"label": self.trial})

    def _weigh(self) -> None:
        for number in range(102):
            if self.ended.is_set():
                return
            first = (("vessel", 1, "31.204"), ("vessel_sample", 1, "32.861"))
            later = ("vessel_residue", number - 1, f"{32.151 - 0.0005 * number:.4f}")
            slot, position, text = first[number] if number < 2 else later
            body = {"uuid": str(uuid4()), "slot": slot, "position": position, "text": text}
            if self._until_acknowledged("readings", {**body, "trial": self.trial, "confirmed": True}):
                self.acknowledged.append(str(body["uuid"]))
            self.ended.wait(self.pause_s)

    def _until_acknowledged(self, what: str, body: dict[str, Any]) -> bool:
        begun = time.monotonic()
        while not self._is_acknowledged(what, body):
            self.again += 1
            if time.monotonic() - begun > PATIENCE_S:
                self.wrong.append(f"never acknowledged: {body}")
                self.ended.set()
                return False
            time.sleep(0.2)
        self.longest = max(self.longest, time.monotonic() - begun)
        return True

    def _is_acknowledged(self, what: str, body: dict[str, Any]) -> bool:
        self.turn += 1
        port = self.ports[self.turn % len(self.ports)]
        try:
            status, answer = asked(port, self.secret, "POST", f"/api/runs/{self.uuid}/{what}", body)
        except (OSError, http.client.HTTPException):
            return False
        if status not in PASSING:
            self.wrong.append(f"{status} {str(answer)[:200]}")
        return status == 200


class Watcher(threading.Thread):
    """A page that has the board of a class open, and puts together what it is told."""

    def __init__(self, number: int, ports: Sequence[int], secret: str, pause_s: float = 0.5):
        super().__init__(daemon=True)
        self.path, self.ports, self.secret, self.pause_s = f"/api/classes/{number}/changes", ports, secret, pause_s
        self.ended = threading.Event()
        self.since, self.turn, self.told, self.missed = "", 0, 0, 0
        self.cards: dict[int, Any] = {}
        self.versions: dict[str, int] = {}
        self.wrong: list[str] = []

    def run(self) -> None:
        """Look until it is ended."""
        while not self.ended.is_set():
            self.look()
            self.ended.wait(self.pause_s)

    def look(self) -> bool:
        """Ask what has changed; whether that was answered."""
        self.turn += 1
        port = self.ports[self.turn % len(self.ports)]
        try:
            status, answer = asked(port, self.secret, "GET", f"{self.path}?since={quote(self.since)}")
        except (OSError, http.client.HTTPException):
            self.missed += 1
            return False
        if status != 200:
            self.missed += 1
            if status not in PASSING:
                self.wrong.append(f"{status} {str(answer)[:200]}")
            return False
        self.told += 1
        self.since = answer["since"]
        for card in answer["benches"]:
            self.cards[card["bench"]] = card
        self.versions |= answer["runs"]
        return True
