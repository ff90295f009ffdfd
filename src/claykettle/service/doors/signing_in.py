"""Signing in and out, and who one is. A sign-in is a row; the browser holds a secret of which only the hash is kept."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import timedelta

from sqlalchemy import select, update

from claykettle.core.errors import NotSignedIn, Refusal, TooMany, refuse
from claykettle.service.callers import BENCH, EVERYBODY, WHO_IS_IN, Caller, may
from claykettle.service.doors.accounts import NewAccount, create_account, has_accounts
from claykettle.service.doors.knocking import new_code, new_secret, token_of
from claykettle.service.doors.passwords import agrees
from claykettle.service.doors.sections import new_section, own_what_is_nobody_s
from claykettle.service.doors.trying import (
    ADDRESS_PAUSE_S,
    CODES,
    FOR_A_LOGIN,
    FOR_AN_ADDRESS,
    FOR_CODES,
    LOGIN_PAUSE_S,
    Limit,
    Tries,
    count,
    key_of,
    refused,
    take_back,
)
from claykettle.service.noting import note
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.records import iso
from claykettle.store.runs import in_earnest
from claykettle.store.tables import Account, Bench, Day, Membership, Place, Section, SignIn

ACCOUNT_STAYS = timedelta(days=14)
TABLET_STAYS = timedelta(hours=16)
HAND_OVER_LENGTH = 8
"""Longer than the code of a class, so that the two are told apart."""
HAND_OVER_LASTS = timedelta(minutes=10)
WRONG = "Name and password do not belong together."


class WhoView(View):
    """Who one is: the kind of caller, the name that the log gives, and where one works."""

    kind: str
    login: str
    name: str
    is_admin: bool
    section: str
    bench: str
    sections: int


class HandOverView(View):
    """The code for another tablet, and until when it is good (ISO 8601, UTC)."""

    code: str
    until: str


class JoinView(View):
    """A class to join: what it is, when it begins (empty where nobody planned it), its benches as they stand."""

    title: str
    starts: str
    benches: list[str]


@dataclass(frozen=True)
class SignInAs:
    """Login and password as typed."""

    login: str
    password: str


@dataclass(frozen=True)
class Join:
    """The code of a class, and the bench where the tablet stands."""

    code: str
    bench: str


@dataclass(frozen=True)
class FirstAccount:
    """The house's first account: the code that stands on the terminal, and who it is."""

    code: str
    login: str
    name: str
    password: str
    section: str


@dataclass(frozen=True)
class Let:
    """Somebody let in: the secret for the cookie, None where they were refused with `refusal`, and for how long."""

    secret: str | None
    stays_s: int
    refusal: Refusal | NotSignedIn | TooMany | None = None


@may(*EVERYBODY)
def begin_sign_in(visit: Visit, typed: SignInAs) -> Tries:
    """Count a try to sign in, before it is looked at."""
    login, address = _login(typed), visit.caller.address
    if _is_known_here(visit, login):
        # somebody's own browser: what strangers do behind the same address is nothing to it
        return count(visit, Limit(key_of("login", login, "browser", visit.caller.device), FOR_A_LOGIN, LOGIN_PAUSE_S))
    return count(
        visit,
        Limit(key_of("login", login, address), FOR_A_LOGIN, LOGIN_PAUSE_S),
        Limit(key_of("address", address), FOR_AN_ADDRESS, ADDRESS_PAUSE_S),
    )


def _login(typed: SignInAs) -> str:
    return typed.login.strip().lower()[:200]


def _is_known_here(visit: Visit, login: str) -> bool:
    """Whether this account has been signed in with this browser before."""
    wanted = select(SignIn.id).join(Account, SignIn.account_id == Account.id)
    return bool(visit.caller.device) and (
        visit.session.scalar(wanted.where(SignIn.token == visit.caller.device, Account.login == login)) is not None
    )


@may(*EVERYBODY)
def sign_in(visit: Visit, typed: SignInAs, tries: Tries) -> Let:
    """Sign in by login and password. A wrong try stays counted, hence an answer."""
    too_many = refused(visit, tries)
    if too_many is not None:
        return Let(None, 0, too_many)
    login = _login(typed)
    account = visit.session.scalar(select(Account).where(Account.login == login))
    right = agrees(account.password if account is not None else None, typed.password)
    if not right or account is None or account.is_disabled:
        note(visit, "sign-in refused", login[:60], who="nobody")
        return Let(None, 0, NotSignedIn(WRONG))
    take_back(visit, tries)
    note(visit, "signed in", account.login, who=account.login)
    # whoever was signed in with this browser is not any more: a secret from before is worth nothing
    _end(visit, visit.caller.number)
    return let_in(visit, account)


def let_in(visit: Visit, account: Account, here: int | None = None) -> Let:
    """A new sign-in of an account, in a new secret: `here` or where it worked last."""
    wanted = select(Membership.section_id).where(Membership.account_id == account.id)
    last = select(SignIn.section_id).where(SignIn.account_id == account.id).order_by(SignIn.id.desc()).limit(1)
    own = set(visit.session.scalars(wanted))
    before = here or visit.session.scalar(last)
    secret = new_secret()
    visit.session.add(
        SignIn(
            token=token_of(secret), kind="account", account_id=account.id,
            section_id=before if before in own else min(own, default=None),
            address=visit.caller.address[:60], began_at=visit.now, until=visit.now + ACCOUNT_STAYS,
        )
    )  # fmt: skip
    return Let(secret, int(ACCOUNT_STAYS.total_seconds()))


@may(BENCH)
def hand_over(visit: Visit) -> HandOverView:
    """A code with which another tablet takes the place of this one, good once and for ten minutes."""
    row = visit.session.get_one(SignIn, visit.caller.number)
    code = new_code(HAND_OVER_LENGTH)
    row.hand_code, row.hand_until = token_of(code), visit.now + HAND_OVER_LASTS
    visit.session.flush()
    return HandOverView(code=code, until=iso(row.hand_until))


def _handed_over(visit: Visit, code: str) -> SignIn | None:
    """The tablet that gave out this code, where it is still good: its class is open, and it is in."""
    query = select(SignIn).where(SignIn.hand_code == token_of(code), ~SignIn.ended, SignIn.until > visit.now)
    row = visit.session.scalar(query.with_for_update()) if len(code) == HAND_OVER_LENGTH else None
    if row is None or row.hand_until is None or row.hand_until <= visit.now:
        return None
    return None if visit.session.get_one(Day, row.day_id).is_closed else row


@may(*EVERYBODY)
def begin_join(visit: Visit) -> Tries:
    """Count a try to join, before it is looked at."""
    return count(visit, Limit(key_of("code", visit.caller.address), FOR_CODES, ADDRESS_PAUSE_S), also=(CODES,))


@may(*EVERYBODY)
def join(visit: Visit, typed: Join, tries: Tries) -> Let:
    """Join a bench with the code of its class, or take a tablet's place with its own.

    A wrong code stays counted, hence an answer. So is an unknown bench at a right code, with path `bench`.
    """
    too_many = refused(visit, tries)
    if too_many is not None:
        return Let(None, 0, too_many)
    code = _code(typed.code)
    before = _handed_over(visit, code)
    if before is not None:
        take_back(visit, tries)
        return _take_over(visit, before)
    day = _class_with(visit, code)
    if day is None:
        return Let(None, 0, _unknown_code())
    take_back(visit, tries)
    benches = benches_of(visit, day)
    bench = next((row for row in benches if row.name == typed.bench.strip()), None)
    if bench is None:
        names = ", ".join(row.name for row in benches)
        text = f"There is no such bench in this class. The benches are: {names}."
        return Let(None, 0, refuse("unknown-bench", text, "bench"))
    sits = _sits(visit)
    refusal = _elsewhere(visit, sits, day, bench)
    if refusal is not None:
        return Let(None, 0, refusal)
    note(visit, "tablet joined", f"bench {bench.name}", who=f"bench {bench.name}")
    # one that comes back to its bench is the same tablet: what was handed in on it is its own
    same = sits is not None and (sits.day_id, sits.bench_id) == (day.id, bench.id)
    return _at_bench(visit, day, bench, (sits.tablet or sits.id) if sits is not None and same else None)


def benches_of(visit: Visit, day: Day) -> Sequence[Bench]:
    """The benches of a class, as they stand in the room; of one that nobody laid out, all that are in use."""
    laid = select(Bench).join(Place, Place.bench_id == Bench.id).where(Place.day_id == day.id).order_by(Place.position)
    there = visit.session.scalars(laid).all()
    usual = select(Bench).where(~Bench.retired, ~Bench.is_simulated).order_by(Bench.id)
    return there or visit.session.scalars(usual).all()


@may(*EVERYBODY)
def to_join(visit: Visit, typed: str, tries: Tries) -> JoinView | Refusal | TooMany:
    """The benches of the class that has this code. A wrong one stays counted, hence an answer (path `code`)."""
    too_many = refused(visit, tries)
    if too_many is not None:
        return too_many
    day = _class_with(visit, _code(typed))
    if day is None:
        return _unknown_code()
    take_back(visit, tries)
    return JoinView(title=day.title, starts=day.starts, benches=[row.name for row in benches_of(visit, day)])


def _code(typed: str) -> str:
    return "".join(typed.split()).replace("-", "").upper()[:20]


def _class_with(visit: Visit, code: str) -> Day | None:
    """The class that tablets join with this code now."""
    day = visit.session.scalar(select(Day).where(Day.code == code, in_earnest(Day.section_id))) if code else None
    is_open = day is not None and not day.is_closed and day.code_until is not None and day.code_until > visit.now
    return day if is_open else None


def _unknown_code() -> Refusal:
    return refuse("unknown-code", "No class has this code now. Look at the board, or ask for a new one.", "code")


def _take_over(visit: Visit, before: SignIn) -> Let:
    """Another tablet in the place of this one, which is out."""
    bench = visit.session.get_one(Bench, before.bench_id)
    before.ended, before.hand_code = True, None
    note(visit, "tablet handed over", f"bench {bench.name}", who=f"bench {bench.name}")
    return _at_bench(visit, visit.session.get_one(Day, before.day_id), bench, before.tablet or before.id)


def _sits(visit: Visit) -> SignIn | None:
    """As what this device sat at a bench last, whether it is still in or was turned out."""
    wanted = select(SignIn).where(SignIn.token == visit.caller.device, SignIn.kind == "bench")
    return visit.session.scalar(wanted) if visit.caller.device else None


def _elsewhere(visit: Visit, sits: SignIn | None, day: Day, bench: Bench) -> Refusal | None:
    """A tablet that sits at a bench of the class does not go to another by itself."""
    if sits is None or sits.day_id != day.id or sits.bench_id == bench.id:
        return None
    if sits.ended or sits.until <= visit.now:
        return None
    there = visit.session.get_one(Bench, sits.bench_id).name
    text = f"This tablet is at bench {there}. Ask your instructor to turn it out there; then it can join here."
    return refuse("elsewhere", text, "bench")


def _at_bench(visit: Visit, day: Day, bench: Bench, tablet: int | None = None) -> Let:
    _end(visit, visit.caller.number)
    secret = new_secret()
    visit.session.add(
        SignIn(
            token=token_of(secret), kind="bench", section_id=day.section_id, day_id=day.id, bench_id=bench.id,
            address=visit.caller.address[:60], began_at=visit.now, until=visit.now + TABLET_STAYS, tablet=tablet,
        )
    )  # fmt: skip
    return Let(secret, int(TABLET_STAYS.total_seconds()))


@may(*EVERYBODY)
def begin_first(visit: Visit) -> Tries:
    """Count a try to make the first account, before it is looked at."""
    return count(visit, Limit(key_of("first", visit.caller.address), FOR_A_LOGIN, LOGIN_PAUSE_S))


@may(*EVERYBODY)
def first_account(visit: Visit, typed: FirstAccount, code: str, tries: Tries) -> Let:
    """The first account of the house, its administrator, and their section; with the code that the terminal shows.

    Raises Refusal (path `code`, `login`, `name`, `password`, `section`).
    """
    too_many = refused(visit, tries)
    if too_many is not None:
        return Let(None, 0, too_many)
    if has_accounts(visit):
        raise refuse("not-first", "This house has an account already: sign in, or ask its administrator.")
    if not code or "".join(typed.code.split()).upper() != code.upper():
        return Let(None, 0, refuse("unknown-code", "The code stands on the terminal where it was started.", "code"))
    take_back(visit, tries)
    account = create_account(visit, NewAccount(typed.login, typed.name, typed.password, is_admin=True))
    maker = replace(visit, caller=replace(visit.caller, account=account.id, login=account.login))
    # a house of before there were accounts has sections already: they are theirs who opens it
    here = None
    if not own_what_is_nobody_s(visit, account) or typed.section.strip():
        try:
            here = new_section(maker, typed.section).id
        except Refusal as refusal:
            raise Refusal(*(replace(fault, path="section") for fault in refusal.faults)) from None
    return let_in(visit, account, here)


@may(*EVERYBODY)
def withdraw(visit: Visit, tries: Tries) -> None:
    """A try that was no guess: something else in it has to be mended."""
    take_back(visit, tries)


@may(*EVERYBODY)
def who_asks(visit: Visit) -> Caller:
    """Whoever asks, also nobody."""
    return visit.caller


@may(*WHO_IS_IN)
def who(visit: Visit) -> WhoView:
    """Who one is."""
    caller = visit.caller
    kind = "instructor" if caller.account is not None else "bench" if BENCH in caller.roles else "board"
    section = visit.session.get(Section, caller.section) if caller.section is not None else None
    return WhoView(
        kind=kind,
        login=caller.login,
        name=caller.name,
        is_admin="administrator" in caller.roles,
        section=section.name if section is not None else "",
        bench=caller.name if kind == "bench" else "",
        sections=len(caller.sections),
    )


@may(*WHO_IS_IN)
def sign_out(visit: Visit) -> None:
    """End this sign-in: its secret is worth nothing from now on."""
    note(visit, "signed out", visit.caller.words)
    _end(visit, visit.caller.number)


@may("instructor", "administrator")
def sign_out_everywhere(visit: Visit) -> None:
    """End every sign-in of one's own account."""
    note(visit, "signed out everywhere", visit.caller.words)
    visit.session.execute(update(SignIn).where(SignIn.account_id == visit.caller.account).values(ended=True))


def _end(visit: Visit, number: int) -> None:
    visit.session.execute(update(SignIn).where(SignIn.id == number).values(ended=True))
