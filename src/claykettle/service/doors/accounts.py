"""Accounts: made, reset and disabled by the administrator; the first one by whoever starts the house."""

from __future__ import annotations

import re
import secrets
from dataclasses import dataclass

from sqlalchemy import func, select, update

from claykettle.core.errors import Fault, NotFound, Refusal, TooMany, refuse
from claykettle.core.wording import fault_in_name
from claykettle.service.callers import ADMINISTRATOR, INSTRUCTOR, may
from claykettle.service.doors.passwords import agrees, fault_in_password, hashed
from claykettle.service.doors.trying import FOR_A_LOGIN, LOGIN_PAUSE_S, Limit, Tries, count, key_of, refused, take_back
from claykettle.service.noting import note
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.records import iso
from claykettle.store.tables import Account, SignIn

LOGIN = re.compile(r"[a-z0-9][a-z0-9._-]{0,59}")


class AccountView(View):
    """Somebody who may sign in."""

    id: int
    login: str
    name: str
    is_admin: bool
    is_disabled: bool
    created_at: str


class AccountsView(View):
    """All accounts; `password` is the new one where one was reset, told this once."""

    accounts: list[AccountView]
    password: str = ""


@dataclass(frozen=True)
class NewAccount:
    """An account as typed."""

    login: str
    name: str
    password: str
    is_admin: bool = False


@dataclass(frozen=True)
class NewPassword:
    """One's own password changed: the old one and the new one."""

    old: str
    new: str


def has_accounts(visit: Visit) -> bool:
    """Whether there is any account."""
    return visit.session.scalar(select(Account.id).limit(1)) is not None


def create_account(visit: Visit, typed: NewAccount) -> Account:
    """Make an account. Raises Refusal with paths `login`, `name`, `password`."""
    login, name = typed.login.strip(), " ".join(typed.name.split()) or typed.login.strip()
    faults = [fault_in_name(name, "name", "A name, as it shall stand in the log.")]
    faults.append(fault_in_password(typed.password, "password", login, name))
    if not LOGIN.fullmatch(login):
        text = "A login has small letters, digits, dots and hyphens, such as k.marl; at most 60."
        faults.append(Fault("login", "login", text))
    elif visit.session.scalar(select(Account.id).where(Account.login == login)) is not None:
        faults.append(Fault("taken", "login", "There is an account of this name; take another."))
    found = [fault for fault in faults if fault is not None]
    if found:
        raise Refusal(*found)
    account = Account(
        login=login, name=name, password=hashed(typed.password), is_admin=typed.is_admin, is_disabled=False,
        created_at=visit.now,
    )  # fmt: skip
    visit.session.add(account)
    visit.session.flush()
    note(visit, "account made", login)
    return account


@may(ADMINISTRATOR)
def accounts_view(visit: Visit) -> AccountsView:
    """All accounts by login."""
    rows = visit.session.scalars(select(Account).order_by(Account.login))
    return AccountsView(
        accounts=[
            AccountView(
                id=row.id, login=row.login, name=row.name, is_admin=row.is_admin, is_disabled=row.is_disabled,
                created_at=iso(row.created_at),
            )
            for row in rows
        ]
    )  # fmt: skip


@may(ADMINISTRATOR, house=True)
def add_account(visit: Visit, typed: NewAccount) -> AccountsView:
    """An account more. Raises as `create_account`."""
    create_account(visit, typed)
    return accounts_view(visit)


@may(ADMINISTRATOR, house=True)
def reset_account(visit: Visit, number: int) -> AccountsView:
    """A new password for somebody who forgot theirs: told once, and every browser of theirs signed out.

    Raises NotFound.
    """
    account = _account(visit, number)
    password = "-".join(secrets.token_hex(2) for _ in range(4))
    set_password(visit, account, password)
    note(visit, "password reset", account.login)
    return accounts_view(visit).model_copy(update={"password": password})


@may(ADMINISTRATOR, house=True)
def disable_account(visit: Visit, number: int, disabled: bool) -> AccountsView:
    """Let somebody sign in no more, or again; their records stay.

    Raises NotFound, Refusal for the last administrator.
    """
    set_disabled(visit, _account(visit, number), disabled)
    return accounts_view(visit)


@may(INSTRUCTOR, ADMINISTRATOR, house=True)
def begin_change(visit: Visit) -> Tries:
    """Count a try to change one's own password, before it is looked at."""
    key = key_of("login", visit.caller.login, "browser", visit.caller.device)
    return count(visit, Limit(key, FOR_A_LOGIN, LOGIN_PAUSE_S))


@may(INSTRUCTOR, ADMINISTRATOR, house=True)
def change_password(visit: Visit, typed: NewPassword, tries: Tries) -> Refusal | TooMany | None:
    """One's own password, which signs out every other browser. Raises Refusal with path `new`.

    A wrong old one stays counted, hence an answer: somebody at a browser left open does not guess it.
    """
    too_many = refused(visit, tries)
    if too_many is not None:
        return too_many
    account = visit.session.get_one(Account, visit.caller.account)
    if not agrees(account.password, typed.old):
        return refuse("wrong-password", "This is not your password.", "old")
    take_back(visit, tries)
    fault = fault_in_password(typed.new, "new", account.login, account.name)
    if fault is not None:
        raise Refusal(fault)
    set_password(visit, account, typed.new, but=visit.caller.number)
    note(visit, "password changed", account.login)
    return None


def account_named(visit: Visit, login: str) -> Account:
    """The account of this login. Raises NotFound."""
    account = visit.session.scalar(select(Account).where(Account.login == login))
    if account is None:
        raise NotFound(f"There is no account '{login[:60]}'.")
    return account


def set_password(visit: Visit, account: Account, password: str, but: int = 0) -> None:
    """Give an account a password and sign out its browsers (all `but` one). Raises Refusal with path `password`."""
    fault = fault_in_password(password, "password", account.login, account.name)
    if fault is not None:
        raise Refusal(fault)
    account.password = hashed(password)
    visit.session.execute(update(SignIn).where(SignIn.account_id == account.id, SignIn.id != but).values(ended=True))


def set_disabled(visit: Visit, account: Account, disabled: bool) -> None:
    """Let an account sign in no more, or again. Raises Refusal for the last administrator."""
    others = select(func.count()).where(Account.is_admin, ~Account.is_disabled, Account.id != account.id)
    if disabled and account.is_admin and not visit.session.scalar(others):
        raise refuse("last-administrator", "This is the only administrator: make another one first.", "login")
    account.is_disabled = disabled
    if disabled:
        visit.session.execute(update(SignIn).where(SignIn.account_id == account.id).values(ended=True))
    note(visit, "account disabled" if disabled else "account enabled", account.login)


def _account(visit: Visit, number: int) -> Account:
    account = visit.session.get(Account, number)
    if account is None:
        raise NotFound("There is no such account.")
    return account
