"""A network between a tablet and the house that can be cut, also in the middle of an answer."""

from __future__ import annotations

import contextlib
import socket
import threading


class Network:
    """Carries connections on a port of its own to another; while it is cut nothing comes through."""

    def __init__(self, to: int):
        self.to = to
        self.ends: set[socket.socket] = set()
        self.is_cut = False
        self.lock = threading.Lock()
        self.door = socket.create_server(("127.0.0.1", 0), backlog=64)
        self.port: int = self.door.getsockname()[1]
        threading.Thread(target=self._serve, daemon=True).start()

    def cut(self) -> None:
        """Everything under way breaks off, and nothing new is let through."""
        with self.lock:
            self.is_cut = True
            for end in self.ends:
                with contextlib.suppress(OSError):
                    end.shutdown(socket.SHUT_RDWR)

    def mend(self) -> None:
        """It carries again."""
        with self.lock:
            self.is_cut = False

    def close(self) -> None:
        """End it."""
        self.cut()
        self.door.close()

    def _serve(self) -> None:
        while True:
            try:
                near, _ = self.door.accept()
            except OSError:
                return
            try:
                far = socket.create_connection(("127.0.0.1", self.to), 5)
            except OSError:
                near.close()
                continue
            with self.lock:
                if self.is_cut:
                    near.close()
                    far.close()
                    continue
                self.ends |= {near, far}
            for one, other in ((near, far), (far, near)):
                threading.Thread(target=self._carry, args=(one, other), daemon=True).start()

    def _carry(self, one: socket.socket, other: socket.socket) -> None:
        with contextlib.suppress(OSError):
            while piece := one.recv(65536):
                other.sendall(piece)
        for end in (one, other):
            with contextlib.suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)
        with self.lock:
            self.ends -= {one, other}
        one.close()
