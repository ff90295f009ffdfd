"""The tables. Typed text is stored as text; times are UTC; readings are only ever added, never changed."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any

from sqlalchemy import (
    JSON,
    BigInteger,
    Boolean,
    Date,
    Double,
    ForeignKey,
    Index,
    Integer,
    String,
    Text,
    UniqueConstraint,
)
from sqlalchemy.dialects.mysql import DATETIME, MEDIUMTEXT
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship
from sqlalchemy.types import TypeDecorator

OPTIONS = {
    "mariadb_charset": "utf8mb4",
    "mariadb_collate": "utf8mb4_nopad_bin",
    "mariadb_engine": "InnoDB",
}


class UtcTime(TypeDecorator[datetime]):
    """DATETIME(6) in UTC; refuses a time without a zone."""

    impl = DATETIME(fsp=6)
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Any) -> datetime | None:
        """To UTC, zone dropped."""
        if value is None:
            return None
        if value.tzinfo is None:
            raise ValueError("a time without a zone")
        return value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Any) -> datetime | None:
        """Back with its zone."""
        return None if value is None else value.replace(tzinfo=UTC)


class Base(DeclarativeBase):
    """Base of all tables."""


def _key() -> Mapped[int]:
    return mapped_column(Integer, primary_key=True, autoincrement=True)


class Written:
    """What every row bears that somebody wrote and that is only ever added: its UUID, when, and by whom."""

    uuid: Mapped[str] = mapped_column(String(36), unique=True)
    at: Mapped[datetime] = mapped_column(UtcTime, sort_order=1)
    by: Mapped[str] = mapped_column(String(120), sort_order=1)


class Section(Base):
    """A class group; or the place where one account rehearses (`rehearsal_of`), which nobody else sees."""

    __tablename__ = "section"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    name: Mapped[str] = mapped_column(String(120), unique=True)
    elevation: Mapped[str] = mapped_column(String(60), default="")
    rehearsal_of: Mapped[int | None] = mapped_column(ForeignKey("account.id"), unique=True, default=None)


class Account(Base):
    """Somebody who signs in by name and password (argon2). A disabled one does not; its records stay."""

    __tablename__ = "account"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    login: Mapped[str] = mapped_column(String(60), unique=True)
    name: Mapped[str] = mapped_column(String(120))
    password: Mapped[str] = mapped_column(String(255))
    is_admin: Mapped[bool] = mapped_column(Boolean, default=False)
    is_disabled: Mapped[bool] = mapped_column(Boolean, default=False)
    created_at: Mapped[datetime] = mapped_column(UtcTime)


class Membership(Base):
    """An account that may work in a section: its own, or one that was shared with it."""

    __tablename__ = "membership"
    __table_args__ = (UniqueConstraint("account_id", "section_id"), OPTIONS)
    id: Mapped[int] = _key()
    account_id: Mapped[int] = mapped_column(ForeignKey("account.id"))
    section_id: Mapped[int] = mapped_column(ForeignKey("section.id"))
    is_owner: Mapped[bool] = mapped_column(Boolean)


class SignIn(Base):
    """Somebody who is in: an account's browser, a bench's tablet, or whoever has the board's link.

    `token` is the hash of what the cookie holds. `section_id` is where they work: an account may change it. A tablet
    (`bench`) and a board belong to one day; the tablet to one bench of it. What has `ended` never comes back. With the
    code of which `hand_code` is the hash another tablet takes its place: `tablet` is the number of the first of them,
    None of one that took nobody's.
    """

    __tablename__ = "sign_in"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    token: Mapped[str] = mapped_column(String(64), unique=True)
    kind: Mapped[str] = mapped_column(String(10))
    account_id: Mapped[int | None] = mapped_column(ForeignKey("account.id"))
    section_id: Mapped[int | None] = mapped_column(ForeignKey("section.id"))
    day_id: Mapped[int | None] = mapped_column(ForeignKey("day.id"))
    bench_id: Mapped[int | None] = mapped_column(ForeignKey("bench.id"))
    shows_answers: Mapped[bool] = mapped_column(Boolean, default=False)
    address: Mapped[str] = mapped_column(String(60), default="")
    began_at: Mapped[datetime] = mapped_column(UtcTime)
    until: Mapped[datetime] = mapped_column(UtcTime)
    ended: Mapped[bool] = mapped_column(Boolean, default=False)
    hand_code: Mapped[str | None] = mapped_column(String(64), unique=True, default=None)
    hand_until: Mapped[datetime | None] = mapped_column(UtcTime, default=None)
    tablet: Mapped[int | None] = mapped_column(Integer, default=None)


class Try(Base):
    """A sign-in or a code that was wrong: under which key it counts, and when."""

    __tablename__ = "try"
    __table_args__ = (Index("try_key", "key", "at"), OPTIONS)
    id: Mapped[int] = _key()
    key: Mapped[str] = mapped_column(String(64))
    at: Mapped[datetime] = mapped_column(UtcTime)


class AuditRow(Base):
    """What was done at the doors: signed in and out, joined, shared, reset, exported, restored. Rows are only added."""

    __tablename__ = "audit"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    at: Mapped[datetime] = mapped_column(UtcTime)
    who: Mapped[str] = mapped_column(String(120))
    address: Mapped[str] = mapped_column(String(60))
    what: Mapped[str] = mapped_column(String(40))
    about: Mapped[str] = mapped_column(String(200))


class LinkRow(Base):
    """A link of the chain over everything recorded: up to which row of each table, how many, their hashes, the seal."""

    __tablename__ = "link"
    __table_args__ = (OPTIONS,)
    number: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=False)
    at: Mapped[datetime] = mapped_column(UtcTime)
    upto: Mapped[dict[str, int]] = mapped_column(JSON)
    rows: Mapped[dict[str, int]] = mapped_column(JSON)
    digests: Mapped[dict[str, str]] = mapped_column(JSON)
    seal: Mapped[str] = mapped_column(String(64))


class WithheldRow(Written, Base):
    """A name that was withheld: the pseudonym in its place, how many rows bore it, the hashes that signatures had
    before (`signatures`), and by the seal that each link of the chain had the one that it has since (`seals`). The name
    itself stands nowhere.
    """

    __tablename__ = "withheld"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    pseudonym: Mapped[str] = mapped_column(String(120))
    rows: Mapped[int] = mapped_column(Integer)
    signatures: Mapped[list[dict[str, str]]] = mapped_column(JSON)
    seals: Mapped[dict[str, str]] = mapped_column(JSON)


class Day(Base):
    """A dated practical of a section, and by kind the instruments that it uses where nobody chooses another.

    Tablets join it by its `code` until `code_until`; a closed one takes nothing more from them. A class that was laid
    out begins at `starts` (18:30; empty for a day that nobody planned) and holds its whole `plan`, the practical in the
    words in which it was begun; `practical_version_id` says where those came from, None where nobody kept them.
    `more_min` are minutes that were added to its first session; `reveal` says when its benches see the answers, as its
    practical says until an instructor decides otherwise.
    """

    __tablename__ = "day"
    __table_args__ = (UniqueConstraint("section_id", "date", "title"), OPTIONS)
    id: Mapped[int] = _key()
    section_id: Mapped[int] = mapped_column(ForeignKey("section.id"))
    date: Mapped[date] = mapped_column(Date)
    title: Mapped[str] = mapped_column(String(120))
    instruments: Mapped[dict[str, int]] = mapped_column(JSON, default=dict)
    code: Mapped[str | None] = mapped_column(String(12), unique=True)
    code_until: Mapped[datetime | None] = mapped_column(UtcTime)
    is_closed: Mapped[bool] = mapped_column(Boolean, default=False)
    starts: Mapped[str] = mapped_column(String(5), default="", server_default="")
    plan: Mapped[dict[str, Any] | None] = mapped_column(JSON, default=None)
    practical_version_id: Mapped[int | None] = mapped_column(ForeignKey("practical_version.id"), default=None)
    more_min: Mapped[int] = mapped_column(Integer, default=0, server_default="0")
    reveal: Mapped[str] = mapped_column(String(20), default="always", server_default="always")

    places: Mapped[list[Place]] = relationship(order_by="Place.position", back_populates="day")


class ClassSession(Base):
    """A further session of a class, on another day (18:30, so many minutes, and those added to them): the same benches
    and runs go on.
    """

    __tablename__ = "class_session"
    __table_args__ = (UniqueConstraint("day_id", "date"), Index("class_session_date", "date"), OPTIONS)
    id: Mapped[int] = _key()
    day_id: Mapped[int] = mapped_column(ForeignKey("day.id"))
    date: Mapped[date] = mapped_column(Date)
    starts: Mapped[str] = mapped_column(String(5))
    length_min: Mapped[int] = mapped_column(Integer)
    more_min: Mapped[int] = mapped_column(Integer, default=0, server_default="0")


class PracticalRow(Base):
    """A practical of a section; a shared one may be used by every instructor of the house."""

    __tablename__ = "practical"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    section_id: Mapped[int] = mapped_column(ForeignKey("section.id"))
    is_shared: Mapped[bool] = mapped_column(Boolean, default=False)
    is_retired: Mapped[bool] = mapped_column(Boolean, default=False)

    section: Mapped[Section] = relationship()
    versions: Mapped[list[PracticalVersion]] = relationship(
        order_by="PracticalVersion.number", back_populates="practical"
    )


class PracticalVersion(Base):
    """One version of a practical, whole, as its file says it; a version never changes."""

    __tablename__ = "practical_version"
    __table_args__ = (UniqueConstraint("practical_id", "number"), OPTIONS)
    id: Mapped[int] = _key()
    practical_id: Mapped[int] = mapped_column(ForeignKey("practical.id"))
    number: Mapped[int] = mapped_column(Integer)
    name: Mapped[str] = mapped_column(String(120))
    method: Mapped[str] = mapped_column(String(60))
    body: Mapped[dict[str, Any]] = mapped_column(JSON)
    note: Mapped[str] = mapped_column(Text)
    by: Mapped[str] = mapped_column(String(120))
    at: Mapped[datetime] = mapped_column(UtcTime)

    practical: Mapped[PracticalRow] = relationship(back_populates="versions")


class Student(Base):
    """Somebody on a section's roster. Who has left stays in the classes that were held."""

    __tablename__ = "student"
    __table_args__ = (UniqueConstraint("section_id", "name"), OPTIONS)
    id: Mapped[int] = _key()
    section_id: Mapped[int] = mapped_column(ForeignKey("section.id"))
    name: Mapped[str] = mapped_column(String(120))
    position: Mapped[int] = mapped_column(Integer)
    has_left: Mapped[bool] = mapped_column(Boolean, default=False)


class Place(Base):
    """A bench in a class, in the order of the room, and its run; one that dropped out `is_out`."""

    __tablename__ = "place"
    __table_args__ = (UniqueConstraint("day_id", "bench_id"), OPTIONS)
    id: Mapped[int] = _key()
    day_id: Mapped[int] = mapped_column(ForeignKey("day.id"))
    bench_id: Mapped[int] = mapped_column(ForeignKey("bench.id"))
    position: Mapped[int] = mapped_column(Integer)
    run_id: Mapped[int | None] = mapped_column(ForeignKey("run.id"), default=None)
    is_out: Mapped[bool] = mapped_column(Boolean, default=False)

    day: Mapped[Day] = relationship(back_populates="places")
    bench: Mapped[Bench] = relationship()
    run: Mapped[RunRow | None] = relationship()
    seats: Mapped[list[Seat]] = relationship(order_by="Seat.id", back_populates="place", cascade="all, delete-orphan")


class Seat(Base):
    """A student at a bench of a class."""

    __tablename__ = "seat"
    __table_args__ = (UniqueConstraint("place_id", "student_id"), OPTIONS)
    id: Mapped[int] = _key()
    place_id: Mapped[int] = mapped_column(ForeignKey("place.id"))
    student_id: Mapped[int] = mapped_column(ForeignKey("student.id"))

    place: Mapped[Place] = relationship(back_populates="seats")
    student: Mapped[Student] = relationship()


class RoomRow(Base):
    """A reading of the room, taken once for all runs of a day; a correction is a new row that names the old one."""

    __tablename__ = "room_reading"
    __table_args__ = (Index("room_day", "day_id", "slot"), OPTIONS)
    id: Mapped[int] = _key()
    uuid: Mapped[str] = mapped_column(String(36), unique=True)
    day_id: Mapped[int] = mapped_column(ForeignKey("day.id"))
    slot: Mapped[str] = mapped_column(String(60))
    supersedes_id: Mapped[int | None] = mapped_column(ForeignKey("room_reading.id"), unique=True)
    text: Mapped[str] = mapped_column(String(80))
    unit: Mapped[str] = mapped_column(String(20))
    instrument: Mapped[str] = mapped_column(String(60))
    half_width: Mapped[str] = mapped_column(String(60))
    at: Mapped[datetime] = mapped_column(UtcTime)
    by: Mapped[str] = mapped_column(String(120))
    reason: Mapped[str] = mapped_column(Text)
    doubt: Mapped[str] = mapped_column(Text)

    supersedes: Mapped[RoomRow | None] = relationship(remote_side=[id])


class Bench(Base):
    """A place in the laboratory; a simulated one stands nowhere, and is offered nowhere."""

    __tablename__ = "bench"
    __table_args__ = (UniqueConstraint("name", "is_simulated", name="bench_name"), OPTIONS)
    id: Mapped[int] = _key()
    name: Mapped[str] = mapped_column(String(60))
    retired: Mapped[bool] = mapped_column(Boolean, default=False)
    is_simulated: Mapped[bool] = mapped_column(Boolean, default=False, server_default="0")


class Instrument(Base):
    """An instrument on the shelf: its kind as in the run file, and as typed its half-width, smallest division and
    capacity (empty where open). `direction` tells which way a gas tube counts. A retired one is offered no more.
    """

    __tablename__ = "instrument"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    kind: Mapped[str] = mapped_column(String(40))
    name: Mapped[str] = mapped_column(String(60), unique=True)
    half_width: Mapped[str] = mapped_column(String(60))
    decimals: Mapped[int] = mapped_column(Integer)
    resolution: Mapped[str] = mapped_column(String(60), default="")
    capacity: Mapped[str] = mapped_column(String(60), default="")
    direction: Mapped[str] = mapped_column(String(20), default="")
    retired: Mapped[bool] = mapped_column(Boolean, default=False)


class ProcedureRow(Base):
    """One version of a procedure; a version never changes."""

    __tablename__ = "procedure"
    __table_args__ = (UniqueConstraint("name", "version"), OPTIONS)
    id: Mapped[int] = _key()
    name: Mapped[str] = mapped_column(String(60))
    version: Mapped[int] = mapped_column(Integer)
    method: Mapped[str] = mapped_column(String(60))
    title: Mapped[str] = mapped_column(String(120))
    body: Mapped[dict[str, Any]] = mapped_column(JSON)


class RunRow(Base):
    """One run. `version` counts its changes, so that a page knows when to look again; `is_summed_up` is whether its
    summary is of this version.
    """

    __tablename__ = "run"
    __table_args__ = (Index("run_to_sum_up", "is_summed_up"), OPTIONS)
    id: Mapped[int] = _key()
    uuid: Mapped[str] = mapped_column(String(36), unique=True)
    day_id: Mapped[int] = mapped_column(ForeignKey("day.id"))
    bench_id: Mapped[int] = mapped_column(ForeignKey("bench.id"))
    procedure_id: Mapped[int] = mapped_column(ForeignKey("procedure.id"))
    method: Mapped[str] = mapped_column(String(60))
    title: Mapped[str] = mapped_column(String(120))
    note: Mapped[str] = mapped_column(Text)
    options: Mapped[dict[str, Any]] = mapped_column(JSON)
    schools: Mapped[dict[str, str]] = mapped_column(JSON)
    instruments: Mapped[dict[str, Any]] = mapped_column(JSON)
    planned: Mapped[dict[str, Any]] = mapped_column(JSON)
    balance: Mapped[str] = mapped_column(String(60))
    created_at: Mapped[datetime] = mapped_column(UtcTime)
    changed_at: Mapped[datetime] = mapped_column(UtcTime)
    version: Mapped[int] = mapped_column(Integer)
    is_summed_up: Mapped[bool] = mapped_column(Boolean, default=False, server_default="0")

    bench: Mapped[Bench] = relationship()
    day: Mapped[Day] = relationship()
    procedure: Mapped[ProcedureRow] = relationship()
    trials: Mapped[list[TrialRow]] = relationship(order_by="TrialRow.position", back_populates="run")
    observations: Mapped[list[ObservationRow]] = relationship(order_by="ObservationRow.id")
    step_events: Mapped[list[StepEventRow]] = relationship(order_by="StepEventRow.id")
    changes: Mapped[list[ChangeRow]] = relationship(order_by="ChangeRow.id")


class SummaryRow(Base):
    """What lists say of a run, made once for each version that is listed, so that nothing is evaluated to list it.

    `version` is the run's, `program` the mark of the program that made it: where one of them is another now, it is made
    anew. What it says is JSON: `listed` the line in the list, `drying` what stands and waits and which names its papers
    bear (`waits`: whether there is any), `remains` what it leaves, `calibration` what it tells a run of its `method`
    that comes after (`calibrates`: whether anything), `card` what the board says. `asks` is a question about a figure
    that nobody has answered yet, `asked` counts them; what is kept of the run after it clears it.
    """

    __tablename__ = "summary"
    __table_args__ = (
        Index("summary_list", "section_id", "changed_at", "run_id"),
        Index("summary_bench", "day_id", "bench_id", "changed_at"),
        Index("summary_waits", "section_id", "waits", "changed_at"),
        Index("summary_calibrates", "section_id", "method", "calibrates", "changed_at"),
        OPTIONS,
    )
    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"), primary_key=True, autoincrement=False)
    version: Mapped[int] = mapped_column(Integer)
    program: Mapped[str] = mapped_column(String(16))
    section_id: Mapped[int] = mapped_column(ForeignKey("section.id"))
    day_id: Mapped[int] = mapped_column(ForeignKey("day.id"))
    bench_id: Mapped[int] = mapped_column(ForeignKey("bench.id"))
    method: Mapped[str] = mapped_column(String(60))
    changed_at: Mapped[datetime] = mapped_column(UtcTime)
    waits: Mapped[bool] = mapped_column(Boolean)
    calibrates: Mapped[bool] = mapped_column(Boolean)
    listed: Mapped[str] = mapped_column(MEDIUMTEXT)
    drying: Mapped[str] = mapped_column(MEDIUMTEXT)
    remains: Mapped[str] = mapped_column(MEDIUMTEXT)
    calibration: Mapped[str] = mapped_column(MEDIUMTEXT)
    card: Mapped[str] = mapped_column(MEDIUMTEXT, default="", server_default="")
    asks: Mapped[str] = mapped_column(Text, default="", server_default="")
    asked_at: Mapped[datetime | None] = mapped_column(UtcTime, default=None)
    asked: Mapped[int] = mapped_column(Integer, default=0, server_default="0")


class FoundBy(Base):
    """The words by which a run is found, in small letters, and the marks of how it stands, kept with its summary: in a
    table of their own, since the database reads all of them to look through them.
    """

    __tablename__ = "found_by"
    __table_args__ = (OPTIONS,)
    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"), primary_key=True, autoincrement=False)
    words: Mapped[str] = mapped_column(Text)
    marks: Mapped[str] = mapped_column(String(80))


class CallAnswer(Written, Base):
    """A call of the board that somebody answered: `reached`, `snoozed` until a moment, or `noted`; rows are only added.

    `call_key` is what was called, so that another thing at the same bench is called anew.
    """

    __tablename__ = "call_answer"
    __table_args__ = (Index("call_answer_day", "day_id", "id"), OPTIONS)
    id: Mapped[int] = _key()
    day_id: Mapped[int] = mapped_column(ForeignKey("day.id"))
    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"))
    code: Mapped[str] = mapped_column(String(20))
    call_key: Mapped[str] = mapped_column(String(400))
    kind: Mapped[str] = mapped_column(String(10))
    reason: Mapped[str] = mapped_column(Text)
    until: Mapped[datetime | None] = mapped_column(UtcTime, default=None)


class Message(Written, Base):
    """What an instructor says to a bench of a class, or to all of them (`bench_id` None); rows are only added."""

    __tablename__ = "message"
    __table_args__ = (Index("message_day", "day_id", "id"), OPTIONS)
    id: Mapped[int] = _key()
    day_id: Mapped[int] = mapped_column(ForeignKey("day.id"))
    bench_id: Mapped[int | None] = mapped_column(ForeignKey("bench.id"), default=None)
    text: Mapped[str] = mapped_column(Text)


class SheetRow(Written, Base):
    """The figures that a student of a bench (empty: the bench) hands in of a trial, as typed, by line, and the
    `tablet` on which they were typed; None where an instructor typed them. Rows are only added: of several versions the
    first counts, unless an instructor chooses another.
    """

    __tablename__ = "sheet"
    __table_args__ = (Index("sheet_day", "day_id", "id"), OPTIONS)
    id: Mapped[int] = _key()
    day_id: Mapped[int] = mapped_column(ForeignKey("day.id"))
    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"))
    trial: Mapped[str] = mapped_column(String(120))
    student: Mapped[str] = mapped_column(String(120))
    claims: Mapped[dict[str, str]] = mapped_column(JSON)
    tablet: Mapped[int | None] = mapped_column(Integer, default=None)


class AnswerRow(Written, Base):
    """An answer that a student of a bench (empty: the bench) gave to a question `before` or `after` the work, as typed,
    with the question as it was asked then; rows are only added, the latest counts.
    """

    __tablename__ = "answer"
    __table_args__ = (Index("answer_day", "day_id", "id"), OPTIONS)
    id: Mapped[int] = _key()
    day_id: Mapped[int] = mapped_column(ForeignKey("day.id"))
    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"))
    trial: Mapped[str] = mapped_column(String(120))
    student: Mapped[str] = mapped_column(String(120))
    place: Mapped[str] = mapped_column(String(6))
    number: Mapped[int] = mapped_column(Integer)
    ask: Mapped[str] = mapped_column(Text)
    text: Mapped[str] = mapped_column(Text)


class MarkRow(Written, Base):
    """The marks that a person gives a line of a sheet in place of those reckoned (None: those reckoned after all), and
    why; rows are only added, of a line the latest counts.
    """

    __tablename__ = "mark"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    sheet_id: Mapped[int] = mapped_column(ForeignKey("sheet.id"))
    line: Mapped[str] = mapped_column(String(60))
    marks: Mapped[int | None] = mapped_column(Integer)
    note: Mapped[str] = mapped_column(Text)


class GivenBackRow(Written, Base):
    """A sheet that was given back, marked, to whoever handed it in; rows are only added."""

    __tablename__ = "given_back"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    sheet_id: Mapped[int] = mapped_column(ForeignKey("sheet.id"))


class ChoiceRow(Written, Base):
    """What an instructor chose of a sheet: that this version `counts`, or that it is marked against the readings as
    they stood `then`, when it came in, or as they stand `now`. Rows are only added, the latest holds.
    """

    __tablename__ = "sheet_choice"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    sheet_id: Mapped[int] = mapped_column(ForeignKey("sheet.id"))
    choice: Mapped[str] = mapped_column(String(10))


class ChangeRow(Written, Base):
    """Something that was decided otherwise in a running run: what (`options.accepted`), from what, to what, and why."""

    __tablename__ = "run_change"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"))
    what: Mapped[str] = mapped_column(String(200))
    before: Mapped[Any] = mapped_column(JSON)
    after: Mapped[Any] = mapped_column(JSON)
    reason: Mapped[str] = mapped_column(Text)


class WithdrawalRow(Written, Base):
    """A tap that was taken back: the row of a step or an observation (its UUID), or a trial (`trial 2`, by its
    position), counts no more.
    """

    __tablename__ = "withdrawal"
    __table_args__ = (UniqueConstraint("run_id", "row_uuid"), OPTIONS)
    id: Mapped[int] = _key()
    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"))
    row_uuid: Mapped[str] = mapped_column(String(36))
    reason: Mapped[str] = mapped_column(Text)


class SubstanceRow(Written, Base):
    """A substance that was added here; rows are never changed, of one formula the latest counts."""

    __tablename__ = "substance"
    __table_args__ = (Index("substance_formula", "formula"), OPTIONS)
    id: Mapped[int] = _key()
    formula: Mapped[str] = mapped_column(String(200))
    name: Mapped[str] = mapped_column(String(120))
    density: Mapped[str] = mapped_column(String(60))
    hazards: Mapped[list[str]] = mapped_column(JSON)
    dissolved: Mapped[str] = mapped_column(String(40))
    solid: Mapped[str] = mapped_column(String(40))
    remarks: Mapped[str] = mapped_column(Text)
    source: Mapped[str] = mapped_column(Text)


class TrialRow(Base):
    """One trial of a run; position 0 holds the readings that all trials share."""

    __tablename__ = "trial"
    __table_args__ = (UniqueConstraint("run_id", "position"), OPTIONS)
    id: Mapped[int] = _key()
    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"))
    position: Mapped[int] = mapped_column(Integer)
    label: Mapped[str] = mapped_column(String(120))

    run: Mapped[RunRow] = relationship(back_populates="trials")
    readings: Mapped[list[ReadingRow]] = relationship(order_by="ReadingRow.id", back_populates="trial")


class ReadingRow(Base):
    """One typed reading. A correction is a new row with the next revision that names the old one and a reason.

    `state` is `taken`, `not-taken` where it was declared so, or `withdrawn` where its figure belongs to another line.
    """

    __tablename__ = "reading"
    __table_args__ = (
        UniqueConstraint("trial_id", "slot", "position", "revision"),
        Index("reading_trial", "trial_id", "slot"),
        OPTIONS,
    )
    id: Mapped[int] = _key()
    uuid: Mapped[str] = mapped_column(String(36), unique=True)
    trial_id: Mapped[int] = mapped_column(ForeignKey("trial.id"))
    slot: Mapped[str] = mapped_column(String(60))
    position: Mapped[int] = mapped_column(Integer)
    revision: Mapped[int] = mapped_column(Integer)
    supersedes_id: Mapped[int | None] = mapped_column(ForeignKey("reading.id"), unique=True)
    text: Mapped[str] = mapped_column(String(80))
    unit: Mapped[str] = mapped_column(String(20))
    instrument: Mapped[str] = mapped_column(String(60))
    half_width: Mapped[str] = mapped_column(String(60), default="")
    at: Mapped[datetime] = mapped_column(UtcTime)
    by: Mapped[str] = mapped_column(String(120))
    reason: Mapped[str] = mapped_column(Text)
    doubt: Mapped[str] = mapped_column(Text)
    state: Mapped[str] = mapped_column(String(12), default="taken")

    trial: Mapped[TrialRow] = relationship(back_populates="readings")
    supersedes: Mapped[ReadingRow | None] = relationship(remote_side=[id])


class ObservationRow(Base):
    """Something seen at the bench."""

    __tablename__ = "observation"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    uuid: Mapped[str] = mapped_column(String(36), unique=True)
    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"))
    trial: Mapped[str] = mapped_column(String(120))
    at: Mapped[datetime] = mapped_column(UtcTime)
    by: Mapped[str] = mapped_column(String(120))
    tag: Mapped[str] = mapped_column(String(60))
    text: Mapped[str] = mapped_column(Text)


class SignatureRow(Base):
    """A name below a run's record: which rows it covers, the answers as they stood, and the hashes of both."""

    __tablename__ = "signature"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    uuid: Mapped[str] = mapped_column(String(36), unique=True)
    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"))
    name: Mapped[str] = mapped_column(String(120))
    at: Mapped[datetime] = mapped_column(UtcTime)
    covers: Mapped[list[str]] = mapped_column(JSON)
    results: Mapped[dict[str, Any]] = mapped_column(JSON)
    record: Mapped[str] = mapped_column(String(64))
    seal: Mapped[str] = mapped_column(String(64))
    format: Mapped[int] = mapped_column(Integer, default=1)


class StepEventRow(Base):
    """A step started (its timer runs), extended, finished or skipped; `count` is how often, 0 where nobody counts."""

    __tablename__ = "step_event"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    uuid: Mapped[str] = mapped_column(String(36), unique=True)
    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"))
    trial: Mapped[str] = mapped_column(String(120))
    step: Mapped[str] = mapped_column(String(60))
    kind: Mapped[str] = mapped_column(String(20))
    seconds: Mapped[int] = mapped_column(Integer)
    at: Mapped[datetime] = mapped_column(UtcTime)
    by: Mapped[str] = mapped_column(String(120), default="")
    count: Mapped[int] = mapped_column(Integer, default=0)
    reason: Mapped[str] = mapped_column(Text, default="")


class RehearsalRow(Base):
    """The clock of a place where somebody rehearses: it stood at `clock` when the real one stood at `as_of`, and goes
    on `pace` times as fast, but not beyond `until`.
    """

    __tablename__ = "rehearsal"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    section_id: Mapped[int] = mapped_column(ForeignKey("section.id"), unique=True)
    clock: Mapped[datetime] = mapped_column(UtcTime)
    as_of: Mapped[datetime] = mapped_column(UtcTime)
    pace: Mapped[float] = mapped_column(Double, default=0.0)
    until: Mapped[datetime] = mapped_column(UtcTime)


class PracticeRow(Base):
    """A simulated bench that somebody practises at: what it is set up from, when it began by its own clock, and what
    was answered. What is wrong with it follows from its seed and level.
    """

    __tablename__ = "practice"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    uuid: Mapped[str] = mapped_column(String(36), unique=True)
    section_id: Mapped[int] = mapped_column(ForeignKey("section.id"))
    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"), unique=True)
    method: Mapped[str] = mapped_column(String(60))
    seed: Mapped[int] = mapped_column(BigInteger)
    level: Mapped[int] = mapped_column(Integer)
    began_at: Mapped[datetime] = mapped_column(UtcTime)
    answer: Mapped[dict[str, Any] | None] = mapped_column(JSON, default=None)
    points: Mapped[int | None] = mapped_column(Integer, default=None)

    acts: Mapped[list[PracticeAct]] = relationship(order_by="PracticeAct.id", back_populates="practice")


class PracticeAct(Base):
    """Something done at a simulated bench, so many seconds after it was begun. Rows are only added."""

    __tablename__ = "practice_act"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    uuid: Mapped[str] = mapped_column(String(36), unique=True)
    practice_id: Mapped[int] = mapped_column(ForeignKey("practice.id"))
    trial: Mapped[str] = mapped_column(String(120))
    seconds: Mapped[float] = mapped_column(Double)
    act: Mapped[str] = mapped_column(String(40))
    value: Mapped[str] = mapped_column(String(40))

    practice: Mapped[PracticeRow] = relationship(back_populates="acts")


class PracticeClass(Base):
    """A simulated class: what its benches are set up from, its day where somebody rehearses, and by bench how much of
    its evening has been played (`played`); `ended` once it was debriefed.
    """

    __tablename__ = "practice_class"
    __table_args__ = (OPTIONS,)
    id: Mapped[int] = _key()
    uuid: Mapped[str] = mapped_column(String(36), unique=True)
    section_id: Mapped[int] = mapped_column(ForeignKey("section.id"))
    day_id: Mapped[int] = mapped_column(ForeignKey("day.id"), unique=True)
    seed: Mapped[int] = mapped_column(BigInteger)
    balances: Mapped[int] = mapped_column(Integer)
    began_at: Mapped[datetime] = mapped_column(UtcTime)
    played: Mapped[dict[str, Any]] = mapped_column(JSON)
    ended: Mapped[bool] = mapped_column(Boolean, default=False)
