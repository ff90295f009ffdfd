"""The callers of a use case, and the one place where it is asked whether this one may.

A use case says by `@may(...)` whom it is for; one that says nothing is for the program itself only. Whose runs a caller
sees, `Visit` asks with every run that it hands out.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, fields, is_dataclass, replace
from typing import Any, Literal, TypeVar

from claykettle.core.errors import NotSignedIn, NotYours
from claykettle.core.planning.practical import Reveal
from claykettle.store.runs import Whose

Role = Literal["nobody", "bench", "board", "instructor", "administrator"]

NOBODY: Role = "nobody"
BENCH: Role = "bench"
BOARD: Role = "board"
INSTRUCTOR: Role = "instructor"
ADMINISTRATOR: Role = "administrator"
EVERYBODY: tuple[Role, ...] = (NOBODY, BENCH, BOARD, INSTRUCTOR, ADMINISTRATOR)
WHO_IS_IN: tuple[Role, ...] = (BENCH, BOARD, INSTRUCTOR, ADMINISTRATOR)

Case = TypeVar("Case", bound=Callable[..., Any])
Command = TypeVar("Command")
_CALLERS, _HOUSE = "__callers__", "__house__"


@dataclass(frozen=True)
class Caller:
    """Who asks. `section` is where they work now, `sections` where they may; a tablet has its day and bench, and of its
    class when it may see the answers (`reveal`).

    `roles` is empty for the program itself, which may do everything: it is not reached from outside.
    """

    roles: frozenset[Role]
    number: int = 0
    account: int | None = None
    login: str = ""
    name: str = ""
    sections: frozenset[int] = frozenset()
    section: int | None = None
    day: int | None = None
    bench: int | None = None
    is_open: bool = True
    shows_answers: bool = True
    reveal: Reveal = "always"
    address: str = ""
    tablet: int | None = None
    """Which tablet it is, also after another took its place; None for all others."""
    device: str = ""
    """What is kept of the secret that came along, also where it opens nothing any more; empty where none came."""
    rehearses: bool = False
    """Whether they are where they rehearse: by a clock of its own, and nothing there counts."""

    @property
    def is_program(self) -> bool:
        """Whether it is the program itself."""
        return not self.roles

    @property
    def whose(self) -> Whose:
        """The runs that this caller may see."""
        return Whose() if self.is_program else Whose(self.sections, self.day, self.bench)

    @property
    def whose_here(self) -> Whose:
        """The runs of the section where this caller works."""
        return self.whose if self.section is None else replace(self.whose, sections=frozenset({self.section}))

    @property
    def whose_elsewhere(self) -> Whose:
        """Those of the other sections."""
        return replace(self.whose, sections=self.sections - {self.section})

    @property
    def words(self) -> str:
        """Who it is, as the audit says it."""
        return self.login or self.name or "nobody"

    def signed(self, typed: str) -> str:
        """The name under which something is recorded: what was typed stands, and beside it who was signed in."""
        typed = " ".join(typed.split())
        if self.is_program:
            return typed
        if self.account is None:
            # a tablet stands at its bench: whoever writes there is one of its students
            return f"{typed}, {self.name}"[:120] if typed and typed != self.name else self.name
        return f"{typed} ({self.login})"[:120] if typed and typed not in (self.name, self.login) else self.name


PROGRAM = Caller(frozenset())
NO_ONE = Caller(frozenset({NOBODY}))


def may(*roles: Role, house: bool = False) -> Callable[[Case], Case]:
    """Declare a use case to be for these callers; one that changes what is the whole `house`'s is not for somebody who
    rehearses, for whom nothing counts.
    """

    def declare(case: Case) -> Case:
        setattr(case, _CALLERS, frozenset(roles))
        setattr(case, _HOUSE, house)
        return case

    return declare


def callers_of(case: Callable[..., Any]) -> frozenset[Role]:
    """The callers for whom a use case is; none where it was not declared."""
    found: frozenset[Role] = getattr(case, _CALLERS, frozenset())
    return found


def admit(caller: Caller, case: Callable[..., Any]) -> None:
    """Raises NotSignedIn for nobody, NotYours for somebody, where the use case is not for them, or not there."""
    if caller.is_program:
        return
    refuse_others(caller, callers_of(case))
    if caller.rehearses and getattr(case, _HOUSE, False):
        raise NotYours("This belongs to the whole house, and in Practice nothing counts: do it outside Practice.")


def refuse_others(caller: Caller, allowed: frozenset[Role]) -> None:
    """Raises NotSignedIn for nobody, NotYours for somebody who is none of these."""
    if NOBODY in allowed:
        return
    if NOBODY in caller.roles:
        raise NotSignedIn("Sign in first, or join a bench with the code of the class.")
    if not allowed & caller.roles:
        if caller.account is None:
            raise NotYours("This is not for a tablet at a bench, nor for the board: ask the instructor.")
        raise NotYours("Your account may not do this; the administrator can.")
    if not caller.is_open:
        raise NotYours("The class is closed: nothing more can be recorded at this bench. Ask the instructor.")


def signed(caller: Caller, command: Command) -> Command:
    """A command with the name that it is recorded under; anything without one as it is."""
    if caller.is_program or not is_dataclass(command) or isinstance(command, type):
        return command
    if "by" not in {row.name for row in fields(command)}:
        return command
    made: Any = replace(command, by=caller.signed(getattr(command, "by")))  # noqa: B009
    found: Command = made
    return found
