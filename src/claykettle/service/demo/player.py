"""Plays the demo's evening, bench by bench, through the same use cases that a page calls."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from datetime import UTC, datetime, time, timedelta
from functools import cache
from importlib.resources import files
from typing import Any
from uuid import NAMESPACE_URL, uuid5

import yaml
from sqlalchemy import select

from claykettle.core.errors import Doubt
from claykettle.core.methods.registry import procedure_named
from claykettle.core.run import procedure_body
from claykettle.service.callers import INSTRUCTOR, Caller
from claykettle.service.desk.asking import Place, asked_questions
from claykettle.service.desk.marking import GiveBack, give_back
from claykettle.service.desk.own_figures import GiveAnswer, HandIn, give_answer, hand_in
from claykettle.service.doors.accounts import has_accounts
from claykettle.service.doors.passwords import hashed
from claykettle.service.doors.sections import own_what_is_nobody_s
from claykettle.service.lab.acting import end_class
from claykettle.service.planning.laying_out import LayOut, lay_out
from claykettle.service.planning.practicals import KeepPractical, keep_practical
from claykettle.service.planning.roster import KeepRoster, keep_roster
from claykettle.service.planning.wishes import Wish
from claykettle.service.practice.bench import Begin, begin_practice
from claykettle.service.practice.evening import Act as ClockSet
from claykettle.service.practice.evening import BeginClass, begin_class, pace_evening
from claykettle.service.runs.record import (
    CorrectReading,
    Observe,
    RecordReading,
    StartTrial,
    correct_reading,
    observe,
    record_reading,
    start_trial,
)
from claykettle.service.runs.starting import StartRun, start_run
from claykettle.service.runs.steps import MarkStep, mark_step
from claykettle.service.shelf.register import KeepInstrument, keep_instrument
from claykettle.service.shelf.room import ReadRoom, read_room
from claykettle.service.summaries import sum_up
from claykettle.service.views.steps import timer_end
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun
from claykettle.store.summaries import keep_asking
from claykettle.store.tables import (
    Account,
    Bench,
    Day,
    Instrument,
    PracticalVersion,
    RunRow,
    Section,
    SheetRow,
    Student,
)

Act = Mapping[str, Any]


@cache
def evening() -> Mapping[str, Any]:
    """The evening as evening.yaml tells it."""
    return _read("evening.yaml")


def _read(name: str) -> Mapping[str, Any]:
    text = files("claykettle.service.demo").joinpath(name).read_text(encoding="utf-8")
    found: Mapping[str, Any] = yaml.safe_load(text)
    return found


def seed_demo(visit: Visit) -> bool:
    """Put the demo in once; False where it is there already. One transaction, so never half of it.

    It is there where there is any run, whatever its section is called by now. One of before there were accounts gets
    its own.
    """
    told = evening()
    if visit.session.scalar(select(RunRow.id).limit(1)) is not None:
        if not has_accounts(visit):
            _open_the_door(visit, told)
        return False
    day = _lay_out(visit, told)
    _open_the_door(visit, told)
    # one evening, whatever the clock says of its first hours
    visit = replace(visit, caller=replace(visit.caller, day=day.id))
    _put_on_the_shelf(visit)
    for run in told["runs"]:
        if "room" in run:
            _read_room(visit, run["room"])
        else:
            _Hands(visit, run).play(run["acts"])
    visit = replace(visit, caller=replace(visit.caller, day=None))
    _hold_last_week(visit)
    hold_the_class(visit)
    _rehearse(visit, told)
    return True


def hold_the_class(visit: Visit) -> bool:
    """The class of the evening, laid out and then played bench by bench up to now; False where today has one already.

    A demo that is started on another day begins in the middle of its class again; what was done on the days before
    stays. Where its benches or its practical have other names by now, nothing is played.
    """
    told = _read("thursday.yaml")
    is_held = select(Day.id).where(Day.date == visit.today, Day.title == told["title"]).limit(1)
    if visit.session.scalar(is_held) is not None:
        return False
    midnight = datetime.combine(visit.today, time(), visit.zone)
    began = max(visit.now - timedelta(minutes=told["minutes_ago"]), midnight.astimezone(UTC))
    return _hold(visit, told, began) is not None


def _rehearse(visit: Visit, told: Mapping[str, Any]) -> None:
    """A class of simulated benches, in the middle of its evening, and a bench of its own with a fault hidden."""
    login = told["account"]["login"]
    number = visit.session.scalars(select(Account.id).where(Account.login == login)).one()
    caller = Caller(frozenset({INSTRUCTOR}), account=number, login=login, name=told["account"]["name"])
    own, asked = replace(visit, caller=caller), told["rehearsal"]
    uuids = [str(uuid5(NAMESPACE_URL, f"claykettle:demo:rehearsal:{what}")) for what in ("class", "bench")]
    benches = {"benches": asked["benches"], "balances": asked["balances"], "seed": str(asked["seed"])}
    begin_class(own, BeginClass(uuids[0], asked["method"], **benches))
    for _ in range(asked["minutes"] // STEP_MIN):
        pace_evening(own, uuids[0], ClockSet(pace="still", minutes=STEP_MIN))
    begin_practice(own, Begin(uuids[1], asked["method"], level=2, seed=str(asked["seed"])))


STEP_MIN = 5


def _hold_last_week(visit: Visit) -> None:
    """The class of a week ago: over, marked, and most of its sheets given back."""
    told = _read("last_week.yaml")
    hour, minute = map(int, told["starts"].split(":"))
    day = visit.today - timedelta(days=told["days_ago"])
    began = datetime.combine(day, time(hour, minute), visit.zone).astimezone(UTC)
    then = replace(visit, now=began + timedelta(minutes=told["minutes_ago"]))
    number = _hold(then, told, began)
    if number is None:
        return
    end_class(then, number, ended=True)
    wanted = select(SheetRow.uuid).where(SheetRow.day_id == number, SheetRow.student.not_in(told["not_given_back"]))
    sheets = visit.session.scalars(wanted.order_by(SheetRow.id)).all()
    uuid = str(uuid5(NAMESPACE_URL, "claykettle:demo:given back"))
    give_back(replace(then, now=then.now + timedelta(minutes=45)), number, GiveBack(uuid, sheets, by="demo"))


def _hold(visit: Visit, told: Mapping[str, Any], began: datetime) -> int | None:
    """A class as it is told, laid out when it began and played bench by bench; its number."""
    names = evening()["benches"]
    ids = {row.name: row.id for row in visit.session.scalars(select(Bench).where(Bench.name.in_(names)))}
    version = visit.session.scalars(
        select(PracticalVersion).where(PracticalVersion.name == told["practical"]).order_by(PracticalVersion.id)
    ).first()
    if version is None or len(ids) != len(names):
        return None
    students = list(visit.session.scalars(select(Student.name).order_by(Student.position)))
    day = began.astimezone(visit.zone).date()
    wish = Wish(
        practical={**version.body, "trials": told["trials"]},
        title=told["title"],
        date=day.isoformat(),
        starts=f"{began.astimezone(visit.zone):%H:%M}",
        length=told["length"],
        benches=[ids[name] for name in names],
        room=told["room"],
        sample=told["sample"],
    )
    seats = {ids[name]: students[2 * place : 2 * place + 2] for place, name in enumerate(names)}
    uuid = str(uuid5(NAMESPACE_URL, f"claykettle:demo:class:{day.isoformat()}"))
    command = LayOut(uuid, wish, seats, version.practical_id, version.number)
    laid = lay_out(replace(visit, now=began), command)
    runs = {place.bench: place.run for place in laid.places}
    for bench in told["benches"]:
        _Hands(visit, {**told, **bench}, runs[bench["bench"]]).play(bench["acts"])
    return laid.id


def _lay_out(visit: Visit, told: Mapping[str, Any]) -> Day:
    """The section, its evening, benches and instruments; what a first start made is given their names."""
    session = visit.session
    section = session.scalars(select(Section).limit(1)).one()
    section.name, section.elevation = told["section"], told["elevation"]
    day = session.scalars(select(Day).limit(1)).one()
    day.title, day.date = told["day"], visit.today
    first, *others = told["benches"]
    session.scalars(select(Bench).limit(1)).one().name = first
    session.add_all(Bench(name=name) for name in others)
    for row in told["shelf"]:
        keep_instrument(visit, KeepInstrument(number=None, **row))
    return day


def _put_on_the_shelf(visit: Visit) -> None:
    """The college's practicals, each in its first version, and the section's roster."""
    told = _read("practicals.yaml")
    for row in told["practicals"]:
        keep_practical(visit, KeepPractical(_with_sign_offs(row), by="demo"))
    keep_roster(visit, KeepRoster(told["roster"]))


def _with_sign_offs(row: Mapping[str, Any]) -> dict[str, Any]:
    """A practical whose steps are looked at, by their names (`sign_off`), as a file: with its procedure whole."""
    wanted = row.get("sign_off", {})
    found = {name: value for name, value in row.items() if name != "sign_off"}
    shipped = procedure_named(row["method"], None)
    if not wanted or shipped is None:
        return found
    body = procedure_body(shipped)
    for step in body["steps"]:
        if step.get("id") in wanted:
            step["sign_off"] = wanted[step["id"]]
    return found | {"procedure": body}


def _open_the_door(visit: Visit, told: Mapping[str, Any]) -> None:
    """The instructor's account, which the demo's door says and their section."""
    login, name, password = (told["account"][key] for key in ("login", "name", "password"))
    account = Account(login=login, name=name, password=hashed(password), is_admin=False, created_at=visit.now)
    visit.session.add(account)
    visit.session.flush()
    own_what_is_nobody_s(visit, account)


def _read_room(visit: Visit, rows: list[Act]) -> None:
    for row in rows:
        at = replace(visit, now=visit.now - timedelta(minutes=row["minutes_ago"]))
        uuid = str(uuid5(NAMESPACE_URL, f"claykettle:demo:room:{row['slot']}"))
        read_room(at, ReadRoom(uuid, row["slot"], row["text"], by="demo"))


class _Hands:
    """The hands at one bench: every act happens some minutes after the one before."""

    def __init__(self, visit: Visit, told: Mapping[str, Any], run: str = ""):
        self.visit = replace(visit, now=visit.now - timedelta(minutes=told["minutes_ago"]))
        self.title, self.by, self.trial, self.count = told["title"], told["bench"], "1", 0
        self.last: dict[tuple[str, int], str] = {}
        if run:
            self.title, self.uuid = f"{self.title}, {self.by}, {visit.today.isoformat()}", run
            return
        form = {name: told[name] for name in ("title", "method", "options", "schools", "planned") if name in told}
        self.uuid = start_run(
            self.visit,
            StartRun(
                uuid=self._uuid(),
                bench_id=self._id_of(Bench, told["bench"]),
                balance_id=self._id_of(Instrument, told["balance"]),
                **form,
            ),
        ).uuid

    def play(self, acts: list[Act]) -> None:
        """Everything that the bench does, in order."""
        for act in acts:
            word = next(iter(act))
            getattr(self, f"_{word}")(**act)

    def _id_of(self, table: type[Bench] | type[Instrument], name: str) -> int:
        return int(self.visit.session.scalars(select(table.id).where(table.name == name)).one())

    def _uuid(self) -> str:
        self.count += 1
        return str(uuid5(NAMESPACE_URL, f"claykettle:demo:{self.title}:{self.count}"))

    def _do(self, use_case: Callable[[Visit, StoredRun, Any], StoredRun], command: Any, after: float) -> None:
        self.visit = replace(self.visit, now=self.visit.now + timedelta(minutes=after))
        use_case(self.visit, self.visit.run(self.uuid, lock=True), command)

    def _weigh(self, weigh: str, text: str, after: float = 2, confirmed: bool = False) -> None:
        n = 1 + sum(slot == weigh for slot, _ in self.last)
        uuid = self.last[weigh, n] = self._uuid()
        after = max(after, self._minutes_to_cool(weigh))
        typed = RecordReading(uuid, weigh, n, text, trial=self.trial, by=self.by, confirmed=confirmed)
        self._do(record_reading, typed, after)

    def _asked(self, asked: str, text: str, after: float) -> None:
        """A figure is typed and asked about, and nobody answers."""
        n = 1 + sum(slot == asked for slot, _ in self.last)
        try:
            self._do(record_reading, RecordReading(self._uuid(), asked, n, text, trial=self.trial, by=self.by), after)
        except Doubt as doubt:
            run = self.visit.run(self.uuid)
            sum_up(self.visit, run)
            keep_asking(self.visit.session, run.id, str(doubt), self.visit.now)

    def _minutes_to_cool(self, slot: str) -> float:
        """Until the timer of a weighing that wants something cold has run out."""
        run = self.visit.run(self.uuid)
        step = run.step_now(self.trial)
        if step is None or step.step.reads != slot or not step.step.cools:
            return 0.0
        end = timer_end(run.events(self.trial), step.key)
        return 0.0 if end is None else (end - self.visit.now).total_seconds() / 60 + 0.1

    def _correct(self, correct: str, n: int, text: str, reason: str) -> None:
        old = self.last[correct, n]
        self._do(correct_reading, CorrectReading(self._uuid(), old, text, reason, self.by), after=2)

    def _step(self, step: str, kind: str = "finished", after: float = 0.2) -> None:
        self._do(mark_step, MarkStep(self._uuid(), step, kind, self.trial), after)

    def _own(self, own: str, claims: Mapping[str, str], after: float = 4) -> None:
        """Figures of their own, handed in by a student."""
        self.visit = replace(self.visit, now=self.visit.now + timedelta(minutes=after))
        hand_in(self.visit, self.uuid, HandIn(self._uuid(), self.trial, claims, own, own))

    def _answer(self, answer: str, place: Place, number: int, text: str) -> None:
        """An answer of a student to a question of the practical, as it is asked there."""
        asked = asked_questions(self.visit, self.visit.run(self.uuid))[place, number]
        command = GiveAnswer(self._uuid(), place, number, asked.ask, text, self.trial, answer, answer)
        give_answer(self.visit, self.uuid, command)

    def _see(self, see: str, text: str = "") -> None:
        self._do(observe, Observe(self._uuid(), see, text, self.by, self.trial), after=0.5)

    def _predict(self, predict: str, by: str) -> None:
        self._do(observe, Observe(self._uuid(), "prediction", predict, by), after=0.5)

    def _trial(self, trial: str) -> None:
        self._do(start_trial, StartTrial(trial), after=3)
        self.trial, self.last = trial, {}
