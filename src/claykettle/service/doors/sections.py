"""Sections: made by an instructor, whose they are, and shared with colleagues."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select

from claykettle.core.errors import NotFound, NotYours, Refusal, refuse
from claykettle.core.wording import fault_in_name
from claykettle.service.callers import INSTRUCTOR, may
from claykettle.service.noting import note
from claykettle.service.views.base import View
from claykettle.service.visit import Visit
from claykettle.store.runs import in_earnest
from claykettle.store.summaries import count_on
from claykettle.store.tables import Account, Day, Membership, RunRow, Section, SignIn


class MemberView(View):
    """A colleague in a section."""

    login: str
    name: str
    is_owner: bool


class SectionView(View):
    """A section of the caller: whose it is, and who else works in it."""

    id: int
    name: str
    is_mine: bool
    is_here: bool
    members: list[MemberView]


class SectionsView(View):
    """The caller's sections."""

    sections: list[SectionView]


@dataclass(frozen=True)
class Share:
    """A section shared with a colleague, or no more."""

    section: int
    login: str
    ends: bool = False


def new_section(visit: Visit, name: str, elevation: str = "") -> Section:
    """A section of this name, the caller its owner; with its first day. Raises Refusal with path `name`."""
    section = Section(name=_free_name(visit, name), elevation=elevation)
    visit.session.add(section)
    visit.session.flush()
    visit.session.add(Day(section_id=section.id, date=visit.today, title="Practical"))
    if visit.caller.account is not None:
        visit.session.add(Membership(account_id=visit.caller.account, section_id=section.id, is_owner=True))
    visit.session.flush()
    return section


def own_what_is_nobody_s(visit: Visit, account: Account) -> int:
    """Make an account the owner of every section that has none, as those of before there were accounts; how many."""
    owned = select(Membership.section_id)
    free = visit.session.scalars(select(Section.id).where(Section.id.not_in(owned), in_earnest(Section.id))).all()
    visit.session.add_all(Membership(account_id=account.id, section_id=number, is_owner=True) for number in free)
    visit.session.flush()
    return len(free)


@may(INSTRUCTOR)
def sections_view(visit: Visit) -> SectionsView:
    """The sections in which the caller may work."""
    caller, here = visit.caller, _here(visit)
    query = (
        select(Membership, Account.login, Account.name, Section.name)
        .join(Account, Membership.account_id == Account.id)
        .join(Section, Membership.section_id == Section.id)
        .where(Membership.section_id.in_(_own(visit)))
        .order_by(Section.name, Membership.id)
    )
    found: dict[int, SectionView] = {}
    for row, login, name, section in visit.session.execute(query):
        blank = SectionView(id=row.section_id, name=section, is_mine=False, is_here=row.section_id == here, members=[])
        view = found.setdefault(row.section_id, blank)
        view.members.append(MemberView(login=login, name=name, is_owner=row.is_owner))
        if row.is_owner and row.account_id == caller.account:
            found[row.section_id] = view.model_copy(update={"is_mine": True})
    return SectionsView(sections=list(found.values()))


@may(INSTRUCTOR, house=True)
def make_section(visit: Visit, name: str) -> SectionsView:
    """A section more, in which the caller works from now on. Raises Refusal with path `name`."""
    section = new_section(visit, name)
    visit.session.get_one(SignIn, visit.caller.number).section_id = section.id
    visit.session.flush()
    return sections_view(visit)


@may(INSTRUCTOR, house=True)
def rename_section(visit: Visit, number: int, name: str) -> SectionsView:
    """A section under another name. Raises NotYours, Refusal with path `name`."""
    section = _owned(visit, number)
    free = _free_name(visit, name, number)
    if free != section.name:
        count_on(visit.session, RunRow.day_id.in_(select(Day.id).where(Day.section_id == number)))
    section.name = free
    visit.session.flush()
    return sections_view(visit)


@may(INSTRUCTOR, house=True)
def go_to_section(visit: Visit, number: int) -> SectionsView:
    """Work in another of the caller's sections from now on. Raises NotYours."""
    if number not in _own(visit):
        raise NotYours("This section is not yours, and was not shared with you.")
    visit.session.get_one(SignIn, visit.caller.number).section_id = number
    visit.session.flush()
    return sections_view(visit)


@may(INSTRUCTOR, house=True)
def share_section(visit: Visit, asked: Share) -> SectionsView:
    """Share a section with a colleague, or end that; its owner stays. Raises NotYours, Refusal with path `login`."""
    _owned(visit, asked.section)
    account = visit.session.scalar(select(Account).where(Account.login == asked.login.strip()))
    if account is None or account.is_disabled:
        raise refuse("unknown-login", "There is no account of this name; the administrator makes one.", "login")
    row = visit.session.scalar(
        select(Membership).where(Membership.section_id == asked.section, Membership.account_id == account.id)
    )
    if asked.ends:
        if row is None or row.is_owner:
            raise refuse("not-shared", "This section is not shared with them, or it is their own.", "login")
        visit.session.delete(row)
    elif row is None:
        visit.session.add(Membership(account_id=account.id, section_id=asked.section, is_owner=False))
    note(visit, "sharing ended" if asked.ends else "section shared", f"section {asked.section} with {account.login}")
    visit.session.flush()
    return sections_view(visit)


def _free_name(visit: Visit, typed: str, own: int = 0) -> str:
    """A name that no other section than its `own` has. Raises Refusal with path `name`."""
    name = " ".join(typed.split())
    fault = fault_in_name(name, "name", "Give the section a name: what a class is called on its sheets.")
    if fault is not None:
        raise Refusal(fault)
    if visit.session.scalar(select(Section.id).where(Section.name == name, Section.id != own)) is not None:
        raise refuse("taken", "There is a section of this name; take another.", "name")
    return name


def _own(visit: Visit) -> set[int]:
    """The caller's sections, one that this visit made among them."""
    wanted = select(Membership.section_id).where(Membership.account_id == visit.caller.account)
    return set(visit.session.scalars(wanted))


def _here(visit: Visit) -> int | None:
    """The section in which the caller works."""
    here = visit.session.scalar(select(SignIn.section_id).where(SignIn.id == visit.caller.number))
    own = _own(visit)
    return here if here in own else min(own, default=None)


def _owned(visit: Visit, number: int) -> Section:
    section = visit.session.get(Section, number)
    if section is None:
        raise NotFound("There is no such section.")
    wanted = select(Membership.id).where(
        Membership.section_id == number, Membership.account_id == visit.caller.account, Membership.is_owner
    )
    if visit.session.scalar(wanted) is None:
        raise NotYours("Only whose section it is may do this.")
    return section
