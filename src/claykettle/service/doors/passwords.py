"""Passwords: argon2 hashes, and as few of them at once as a small computer can bear."""

from __future__ import annotations

from threading import BoundedSemaphore

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

from claykettle.core.errors import Fault

LEAST, MOST = 8, 200
LOOKED_AT = 72
"""So many of its characters are reckoned with; what is longer is guessed by nobody for its end."""
LEAST_SCORE = 2
"""zxcvbn's second of five: more than 10**6 tries, where a dozen wrong ones in a row already cost minutes."""
AT_ONCE = 4
"""Hashes made at once by a process: each takes 64 MiB."""

_HASHER = PasswordHasher()
_ROOM = BoundedSemaphore(AT_ONCE)
_NOBODYS = "$argon2id$v=19$m=65536,t=3,p=4$c29tZSBzYWx0IGhlcmU$Y3N8uBlkT3xkq1ARt3Lr2yWc0wQb4X1hB0zq7u1rJ9Y"
"""What is held against a password under an unknown name, so that both answers take as long."""


def hashed(password: str) -> str:
    """The hash that is kept."""
    with _ROOM:
        return _HASHER.hash(password)


def agrees(kept: str | None, password: str) -> bool:
    """Whether a password is the one that was hashed; False, after as long, where nothing is kept."""
    with _ROOM:
        try:
            return _HASHER.verify(kept or _NOBODYS, password) and kept is not None
        except (VerificationError, InvalidHashError):
            return False


def fault_in_password(password: str, path: str, *own: str) -> Fault | None:
    """Why a password cannot be taken, None where it can: long enough, not endless, and none that is soon guessed, such
    as a word, a row of keys, or the person's `own` names with a year behind them.
    """
    if len(password) < LEAST:
        return Fault("password-short", path, f"At least {LEAST} characters; several words are easy to remember.")
    if len(password) > MOST:
        return Fault("password-long", path, f"At most {MOST} characters.")
    if is_soon_guessed(password, *own):
        text = "Anybody would try this one early. Take several words that do not belong together."
        return Fault("password-weak", path, text)
    return None


def is_soon_guessed(password: str, *own: str) -> bool:
    """Whether about a million tries would find a password, as zxcvbn reckons them."""
    from zxcvbn import zxcvbn  # its lists of words take as long to read as a whole command

    return int(zxcvbn(password[:LOOKED_AT], list(own))["score"]) < LEAST_SCORE
