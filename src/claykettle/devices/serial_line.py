"""A device on a serial line: a port of this machine, a pseudo-terminal, or a line that a small server passes on.

Addresses are pyserial's: `/dev/ttyUSB0`, `socket://HOST:PORT`, `rfc2217://HOST:PORT`.
"""

from __future__ import annotations

import time

import serial

from claykettle.devices.device import STEADY_S, Line, Look, is_steady, judged, read_line

BAUD = 9600
TICK_S = 0.1
MOST_BYTES = 64 * 1024
"""More within one look is a flood: the rest is left, the line closed."""


class SerialLine:
    """A line at an address; opened for each look. `baud` is its speed where it has one."""

    def __init__(self, address: str, baud: int = BAUD):
        self.address, self.baud = address, baud

    def look(self, seconds: float) -> Look:
        """What it shows; steady as soon as that is known."""
        try:
            line = serial.serial_for_url(self.address, baudrate=self.baud, timeout=TICK_S)
        except (serial.SerialException, OSError, ValueError):
            return Look("", "", "away", "It cannot be reached: is its cable in, and is it free?")
        try:
            return self._read(line, seconds)
        except (serial.SerialException, OSError, TypeError):
            # a cable pulled while one looks
            return Look("", "", "away", "It went away while it was read: is its cable in?")
        finally:
            line.close()

    def _read(self, line: serial.SerialBase, seconds: float) -> Look:
        began = time.monotonic()
        kept: list[Line] = []
        nonsense = taken = 0
        rest = b""
        first = True
        while (now := time.monotonic() - began) < seconds and taken < MOST_BYTES:
            came = line.read(256)
            taken += len(came)
            *whole, rest = (rest + came).replace(b"\r", b"\n").split(b"\n")
            rest = rest[-4096:]
            for raw in whole:
                text = raw.decode("ascii", "replace").strip()
                # what was under way when the line was opened began somewhere in its middle
                if first or not text:
                    first = first and not text
                    continue
                row = read_line(text, now)
                if row is None:
                    nonsense += 1
                else:
                    kept.append(row)
            if kept and is_steady(kept):
                break
        return judged(kept, nonsense)


LOOK_S = STEADY_S + 1.2
"""Long enough to see that something stands still."""
