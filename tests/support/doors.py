"""Somebody signed in, without the second that a password takes."""

from __future__ import annotations

from sqlalchemy import select

from claykettle.service.doors.knocking import Knock
from claykettle.service.doors.signing_in import let_in
from claykettle.service.laboratory import Laboratory
from claykettle.service.visit import Visit
from claykettle.store.tables import Account, Membership, Section

TEACHER = "kiln"
"""The instructor of the tests, whose name the log gives."""


def account_of(visit: Visit, login: str, is_admin: bool = False, owns: bool = True) -> Account:
    """The account of this login, made where there is none; `owns` the section that there is."""
    account = visit.session.scalar(select(Account).where(Account.login == login))
    if account is None:
        account = Account(login=login, name=login, password="-", is_admin=is_admin, created_at=visit.now)
        visit.session.add(account)
        visit.session.flush()
        section = visit.session.scalars(select(Section).order_by(Section.id).limit(1)).one_or_none()
        if owns and section is not None:
            visit.session.add(Membership(account_id=account.id, section_id=section.id, is_owner=True))
            visit.session.flush()
    return account


def secret_of(laboratory: Laboratory, login: str = TEACHER, is_admin: bool = False, owns: bool = True) -> str:
    """What the cookie of somebody holds who has just signed in."""

    def signed_in(visit: Visit) -> str:
        let = let_in(visit, account_of(visit, login, is_admin, owns))
        assert let.secret is not None
        return let.secret

    return laboratory.ask(signed_in)


def as_teacher(laboratory: Laboratory) -> Laboratory:
    """The laboratory as the tests' instructor uses it."""
    return laboratory.opened_to(Knock(secret_of(laboratory), "127.0.0.1"))
