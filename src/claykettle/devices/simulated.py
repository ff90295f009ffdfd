"""Stand-ins for devices, which ship: a balance and a gas tube that send lines, a weather service on loopback.

`python -m claykettle.devices.simulated balance` opens a pseudo-terminal and says its name; what it shows is typed
there, such as `31.238`, `moving`, `over`, `noise`, `silent`, `flood`.
"""

from __future__ import annotations

import contextlib
import json
import os
import socket
import sys
import threading
import time
import tty
from collections.abc import Callable
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path

PER_S = 8.0
"""Lines a second, as balances send them."""


class Sender:
    """What a stand-in sends: a figure that stands (`31.238`), or one that `moves`, or whatever else is asked of it."""

    def __init__(self, unit: str = "g", shows: str = "0.000"):
        self.unit, self.shows, self.moves = unit, shows, False
        self._count = 0

    def line(self) -> bytes:
        """The next line."""
        self._count += 1
        if self.shows == "silent":
            return b""
        if self.shows == "over":
            return b"-------- over\r\n"
        if self.shows == "noise":
            return bytes((37 * self._count + 11 * i) % 256 for i in range(24)) + b"\n"
        if self.shows == "flood":
            return b"31.238 g 31.2" * 4000
        if self.shows == "broken":
            return b"31.2"
        if self.moves:
            number = float(self.shows) + 0.007 * (self._count % 5 - 2)
            return f"{number:+11.3f} {self.unit} moving\r\n".encode()
        return f"{float(self.shows):+11.3f} {self.unit}\r\n".encode()


class Terminal:
    """A stand-in on a pseudo-terminal; `plugged` out it is gone, and back at the same address when plugged in again."""

    def __init__(self, sender: Sender, link: Path):
        self.sender, self.link = sender, link
        self._stop = threading.Event()
        self._thread: threading.Thread | None = None
        self._ends: tuple[int, int] | None = None

    def plug_in(self) -> None:
        """Begin to send."""
        ours, theirs = os.openpty()
        tty.setraw(theirs)
        os.set_blocking(ours, False)
        self._ends = (ours, theirs)
        self.link.unlink(missing_ok=True)
        self.link.symlink_to(os.ttyname(theirs))
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._send, args=(ours, self._stop), daemon=True)
        self._thread.start()

    def plug_out(self) -> None:
        """The cable pulled."""
        self._stop.set()
        if self._thread is not None:
            self._thread.join()
        self.link.unlink(missing_ok=True)
        if self._ends is not None:
            for end in self._ends:
                os.close(end)
        self._ends = None

    def _send(self, end: int, stop: threading.Event) -> None:
        while not stop.wait(1 / PER_S):
            # nobody reads: a line that is full takes nothing more, as a real one
            with contextlib.suppress(BlockingIOError):
                os.write(end, self.sender.line())


class Passed:
    """A stand-in whose line a small server passes on."""

    def __init__(self, sender: Sender):
        self.sender = sender
        self._server = socket.create_server(("127.0.0.1", 0))
        self.address = f"socket://127.0.0.1:{self._server.getsockname()[1]}"
        threading.Thread(target=self._serve, daemon=True).start()

    def _serve(self) -> None:
        while True:
            try:
                one, _ = self._server.accept()
            except OSError:
                return
            threading.Thread(target=self._send, args=(one,), daemon=True).start()

    def _send(self, one: socket.socket) -> None:
        with one, contextlib.suppress(OSError):
            while True:
                one.sendall(self.sender.line())
                time.sleep(1 / PER_S)

    def close(self) -> None:
        """End it."""
        self._server.close()


class Weather:
    """A weather service on loopback that gives `pressure`."""

    def __init__(self, pressure: Callable[[], str], reduced: bool = True):
        def answer(handler: BaseHTTPRequestHandler) -> None:
            body = json.dumps({"pressure": pressure(), "reduced": reduced}).encode()
            handler.send_response(200)
            handler.send_header("Content-Type", "application/json")
            handler.send_header("Content-Length", str(len(body)))
            handler.end_headers()
            handler.wfile.write(body)

        made = type("Handler", (BaseHTTPRequestHandler,), {"do_GET": answer, "log_message": lambda *_: None})
        self._server = ThreadingHTTPServer(("127.0.0.1", 0), made)
        self.address = f"http://127.0.0.1:{self._server.server_port}/now"
        threading.Thread(target=self._server.serve_forever, daemon=True).start()

    def close(self) -> None:
        """End it."""
        self._server.shutdown()
        self._server.server_close()


def main(words: list[str]) -> int:
    """Run a stand-in until its input ends: `balance [LINK]` or `weather`."""
    kind = words[0] if words else "balance"
    if kind == "weather":
        shown = ["1013.2 hPa"]
        service = Weather(lambda: shown[0])
        print(service.address, flush=True)
        for line in sys.stdin:
            shown[0] = line.strip() or shown[0]
        service.close()
        return 0
    if kind != "balance":
        print("simulated: balance [LINK] or weather", file=sys.stderr)
        return 2
    sender = Sender()
    terminal = Terminal(sender, Path(words[1] if len(words) > 1 else f"balance-{os.getpid()}"))
    terminal.plug_in()
    print(terminal.link.absolute(), flush=True)
    for line in sys.stdin:
        typed = line.strip()
        if typed == "moving":
            sender.moves = True
        elif typed:
            sender.moves, sender.shows = False, typed
    terminal.plug_out()
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
