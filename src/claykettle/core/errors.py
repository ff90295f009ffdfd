"""Everything that Clay Kettle refuses, as one tree.

KettleError
├── Refusal          input that cannot be taken; carries one or more faults
├── Conflict         somebody else was there first; nothing was changed
├── NotFound         no such run, reading or procedure
├── NotSignedIn      nobody asks; somebody may
├── NotYours         somebody asks whose it is not
│   └── HeldBack     not yet: their own figures come first
├── TooMany          asked too often; later
├── Doubt            believable only on a second look: ask, then record with the confirmation
└── WorksheetError   a method's own declarations contradict each other (a mistake in the program)
"""

from __future__ import annotations

from dataclasses import dataclass, replace


@dataclass(frozen=True)
class Fault:
    """One thing that is wrong: a stable code, where it stands, what mends it, and (where there is one) the very text
    that could stand there instead.
    """

    code: str
    path: str
    message: str
    suggestion: str = ""

    def line(self) -> str:
        """The fault on one line, path first."""
        text = " ".join(self.message.split())
        return f"{self.path}: {text} [{self.code}]" if self.path else f"{text} [{self.code}]"


class KettleError(Exception):
    """Root of all errors that a user can cause or must be told."""

    code = "error"


class Refusal(KettleError):
    """Input that cannot be taken as it is. `faults` holds at least one fault."""

    code = "refused"

    def __init__(self, *faults: Fault):
        super().__init__("; ".join(fault.line() for fault in faults))
        self.faults = faults

    def below(self, path: str) -> Refusal:
        """The same refusal with every fault moved below `path`."""
        return Refusal(*(replace(fault, path=join(path, fault.path)) for fault in self.faults))


class Conflict(KettleError):
    """Two people did the same thing; the second is told and loses nothing."""

    code = "conflict"


class Overtaken(Conflict):
    """Somebody else was first with a change of the same record; done once more on what stands now, it may well go."""


class NotFound(KettleError):
    """What was asked for is not there."""

    code = "not-found"


class NotSignedIn(KettleError):
    """Whoever asks has to say first who it is."""

    code = "not-signed-in"


class NotYours(KettleError):
    """What was asked for belongs to somebody else, or is not for whoever asks."""

    code = "not-yours"


class HeldBack(NotYours):
    """An answer that a bench is to find itself first."""

    code = "held-back"


class TooMany(KettleError):
    """Tried too often. `wait_s` is how many seconds from now it may be tried again."""

    code = "too-many"

    def __init__(self, message: str, wait_s: int):
        super().__init__(message)
        self.wait_s = wait_s


class Doubt(KettleError):
    """A reading that cannot be right unless somebody says so."""

    code = "doubt"

    def __init__(self, code: str, message: str, suggestion: str | None = None):
        super().__init__(message)
        self.doubt = code
        self.suggestion = suggestion


class WorksheetError(KettleError):
    """A method's lines have a loop, an unknown name or two active definitions."""

    code = "worksheet"


def refuse(code: str, message: str, path: str = "", suggestion: str = "") -> Refusal:
    """A refusal of one fault."""
    return Refusal(Fault(code, path, message, suggestion))


def join(path: str, rest: str) -> str:
    """`trials[0].readings` and `vessel` joined as a path; an index follows without a dot."""
    if not path or not rest:
        return path or rest
    return f"{path}{rest}" if rest.startswith("[") else f"{path}.{rest}"
