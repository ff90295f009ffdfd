"""What an instructor does from the board: answer a call, speak to benches, give more time."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from typing import Literal

from sqlalchemy import select

from claykettle.core.errors import NotFound, refuse
from claykettle.core.lab.calls import ORDER
from claykettle.core.planning.practical import Reveal
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.lab.board import BoardView, board
from claykettle.service.lab.state import class_at
from claykettle.service.noting import note, note_change
from claykettle.service.runs.record import Observe, observe
from claykettle.service.runs.steps import MarkStep, mark_step
from claykettle.service.views.steps import asked_at
from claykettle.service.visit import Visit
from claykettle.store.records import StoredRun
from claykettle.store.tables import Bench, CallAnswer, ClassSession, Day, Message

SNOOZED = timedelta(minutes=5)
NOTED = "instructor"
"""The tag under which a bench's log holds what an instructor noted there."""
LONGEST_MORE = 12 * 60
LONGEST_TEXT = 400
Answer = Literal["reached", "snoozed", "noted", "signed"]


@dataclass(frozen=True)
class AnswerCall:
    """A call answered: somebody was there, will be asked again in five minutes, noted something at the bench, or
    signed off its step with what was seen.
    """

    uuid: str
    run: str
    code: str
    key: str
    kind: Answer
    text: str = ""
    by: str = ""


@dataclass(frozen=True)
class Say:
    """Something said to a bench, or to all of them (None)."""

    uuid: str
    text: str
    bench: int | None = None
    by: str = ""


@may(INSTRUCTOR)
def answer_call(visit: Visit, number: int, command: AnswerCall, since: str = "") -> BoardView:
    """Answer a call; the same UUID twice answers it once. What is noted stands in the bench's own log.

    Raises NotFound, NotYours, Refusal (path `text`, `code`).
    """
    state = class_at(visit, number)
    run = visit.run(command.run, lock=True)
    if run.day_id != state.number:
        raise NotFound("This bench does not belong to the class.")
    if command.code not in ORDER:
        raise refuse("unknown-code", "There is no such call.", "code")
    text = command.text.strip()
    if command.kind in ("noted", "signed") and not text:
        raise refuse("empty", "Say what is to be noted." if command.kind == "noted" else "Say what you saw.", "text")
    if visit.session.scalar(select(CallAnswer.id).where(CallAnswer.uuid == command.uuid)) is None:
        if command.kind == "noted":
            observe(visit.not_before(run), run, Observe(command.uuid, NOTED, text, command.by))
        elif command.kind == "signed":
            _sign_off(visit.not_before(run), run, command)
        visit.session.add(
            CallAnswer(
                uuid=command.uuid, day_id=state.number, run_id=run.id, code=command.code, call_key=command.key[:400],
                kind=command.kind, reason=text[:2000], at=visit.now, by=command.by[:120],
                until=visit.now + SNOOZED if command.kind == "snoozed" else None,
            )
        )  # fmt: skip
        visit.session.flush()
    return board(visit, state.number, since)


def _sign_off(visit: Visit, run: StoredRun, command: AnswerCall) -> None:
    """End the step that the bench asked about. Raises Refusal where it asks for nothing any more."""
    for trial in run.own_trials:
        step = run.step_now(trial.label)
        if step is not None and asked_at(run, trial.label, step) is not None:
            mark = MarkStep(command.uuid, step.key, "finished", trial.label, command.by, command.text.strip()[:400])
            mark_step(visit, run, mark)
            return
    raise refuse("not-asked", "This bench has nothing to be signed off now.", "text")


@may(INSTRUCTOR)
def say(visit: Visit, number: int, command: Say, since: str = "") -> BoardView:
    """Say something to a bench of the class, or to all; the same UUID twice says it once.

    Raises NotFound, NotYours, Refusal (path `text`, `bench`).
    """
    state = class_at(visit, number)
    text = " ".join(command.text.split())
    if not text:
        raise refuse("empty", "Type what is to be said.", "text")
    if len(text) > LONGEST_TEXT:
        raise refuse("too-long", f"At most {LONGEST_TEXT} characters: it is read at arm's length.", "text")
    if command.bench is not None and visit.session.get(Bench, command.bench) is None:
        raise refuse("unknown-bench", "This bench is not on the list any more; choose another.", "bench")
    if visit.session.scalar(select(Message.id).where(Message.uuid == command.uuid)) is None:
        row = Message(
            uuid=command.uuid, day_id=state.number, bench_id=command.bench, text=text, at=visit.now,
            by=command.by[:120],
        )  # fmt: skip
        visit.session.add(row)
        visit.session.flush()
    return board(visit, state.number, since)


@may(INSTRUCTOR)
def open_answers(visit: Visit, number: int, reveal: Reveal, since: str = "") -> BoardView:
    """Let the benches of a class see the answers: always, after their own figures, or not yet.

    Raises NotFound, NotYours.
    """
    state = class_at(visit, number)
    day = visit.session.get_one(Day, state.number)
    if day.reveal != reveal:
        note_change(visit, "answers", day.reveal.replace("_", " "), reveal.replace("_", " "))
        day.reveal = reveal
        visit.session.flush()
    return board(visit, state.number, since)


@may(INSTRUCTOR)
def end_class(visit: Visit, number: int, ended: bool, since: str = "") -> BoardView:
    """End a class: its tablets record nothing more; or open it again. Raises NotFound, NotYours."""
    state = class_at(visit, number)
    day = visit.session.get_one(Day, state.number)
    if day.is_closed != ended:
        day.is_closed = ended
        note(visit, "class closed" if ended else "class opened", f"class of {day.date.isoformat()}")
        visit.session.flush()
    return board(visit, state.number, since)


@may(INSTRUCTOR)
def extend(visit: Visit, number: int, minutes: int, since: str = "") -> BoardView:
    """Let the session that is held end so many minutes later than planned.

    Raises NotFound, NotYours, Refusal (`minutes`).
    """
    state = class_at(visit, number)
    if not state.is_planned:
        raise refuse("not-planned", "This class has no end that could be moved: it was not planned.", "minutes")
    if not 0 <= minutes <= LONGEST_MORE:
        raise refuse("out-of-range", "Give it from 0 to 720 minutes more.", "minutes")
    held = state.session(visit)
    if held.more_min != minutes:
        again = visit.session.scalar(select(ClassSession).filter_by(day_id=state.number, date=held.date))
        kept = again if again is not None else visit.session.get_one(Day, state.number)
        kept.more_min = minutes
        note(visit, "class extended", f"{state.title}, {minutes} min")
        visit.session.flush()
    return board(visit, state.number, since)
