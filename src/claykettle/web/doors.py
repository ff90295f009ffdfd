"""The doors over HTTP: signing in, joining a bench, accounts, sections, the class of the day."""

from __future__ import annotations

from typing import Annotated

from flask import Response, current_app, request
from flask_openapi import APIBlueprint
from pydantic import BaseModel, Field, StringConstraints

from claykettle.core.errors import NotSignedIn, Refusal
from claykettle.service.callers import BOARD
from claykettle.service.doors.accounts import (
    AccountsView,
    NewAccount,
    NewPassword,
    accounts_view,
    add_account,
    begin_change,
    change_password,
    disable_account,
    has_accounts,
    reset_account,
)
from claykettle.service.doors.audit import AuditView, audit_view
from claykettle.service.doors.classes import (
    BOARD_LASTS,
    ClassView,
    board_link,
    class_view,
    close_class,
    name_bench,
    renew_code,
    turn_out,
)
from claykettle.service.doors.knocking import Knock
from claykettle.service.doors.sections import (
    SectionsView,
    Share,
    go_to_section,
    make_section,
    rename_section,
    sections_view,
    share_section,
)
from claykettle.service.doors.shown import AddressesView, BackupsView, addresses_view, backups_view
from claykettle.service.doors.signing_in import (
    FirstAccount,
    HandOverView,
    Join,
    JoinView,
    Let,
    SignInAs,
    WhoView,
    begin_first,
    begin_join,
    begin_sign_in,
    first_account,
    hand_over,
    join,
    sign_in,
    sign_out,
    sign_out_everywhere,
    to_join,
    who,
    who_asks,
    withdraw,
)
from claykettle.web.context import COOKIE, Query, answer, callers, house, laboratory
from claykettle.web.problems import LOOKED_UP, Problem
from claykettle.web.runs import LARGEST_NUMBER, Body, NumberPath, Short

blueprint = APIBlueprint(
    "doors",
    __name__,
    url_prefix="/api",
    abp_responses=LOOKED_UP | {429: Problem},
)
front = APIBlueprint("front", __name__, url_prefix="/door", abp_responses={422: Problem, 429: Problem, 503: Problem})

Password = Annotated[str, StringConstraints(max_length=1000)]


class SignInBody(Body):
    """Login and password."""

    login: Short
    password: Password


class JoinBody(Body):
    """The code of a class and the name of a bench."""

    code: Short
    bench: Short


class FirstBody(Body):
    """The first account of the house."""

    code: Short
    login: Short
    name: Short = ""
    password: Password
    section: Short = ""


class PasswordBody(Body):
    """One's own password, old and new."""

    old: Password
    new: Password


class AccountBody(Body):
    """A new account."""

    login: Short
    name: Short = ""
    password: Password
    is_admin: bool = False


class DisabledBody(Body):
    """Whether an account may not sign in."""

    disabled: bool


class NameBody(Body):
    """A name."""

    name: Short


class HereBody(Body):
    """The section in which one works."""

    section: int


class ShareBody(Body):
    """With whom a section is shared, or no more."""

    login: Short
    ends: bool = False


class ClosedBody(Body):
    """Whether the class is closed."""

    closed: bool


class ClassQuery(Query):
    """Which class is meant; 0 is the one at work now."""

    number: Annotated[int, Field(ge=0, le=LARGEST_NUMBER)] = 0


class BoardBody(Body):
    """Whether the board shows answers and names."""

    answers: bool = False


class LinkBody(Body):
    """What the board's link holds."""

    link: Short


class BenchBody(Body):
    """A bench: a new one without a number."""

    number: int | None = None
    name: Short
    retired: bool = False


class CodeBody(Body):
    """The code of a class, as typed."""

    code: Short


class DoorView(BaseModel):
    """What stands at the door for everybody: whether the house is new, and whether it is the demo."""

    is_new: bool
    is_demo: bool


def _let(found: Let) -> Response:
    """The cookie of somebody let in; the refusal of somebody not, whose wrong try is counted by then."""
    if found.secret is None:
        assert found.refusal is not None
        raise found.refusal
    response = Response(status=204)
    secure, stays_s = request.is_secure, found.stays_s
    response.set_cookie(COOKIE, found.secret, max_age=stays_s, httponly=True, samesite="Strict", secure=secure)
    return response


def _out() -> Response:
    # the cookie stays: what it holds opens nothing any more, and says only that this browser has been in before
    return Response(status=204)


@front.get("", responses={200: DoorView})
def get_door() -> Response:
    """Whether the house has accounts yet, and whether it is the demo."""
    is_new = not house().ask(has_accounts)
    return answer(DoorView(is_new=is_new, is_demo=bool(current_app.config.get("KETTLE_DEMO"))))


@front.post("/first", responses={204: None})
def post_first(body: FirstBody) -> Response:
    """Make the first account with the code that the terminal shows."""
    code = str(current_app.config.get("KETTLE_FIRST_CODE", ""))
    tries = laboratory().ask(begin_first)
    try:
        return _let(laboratory().ask(first_account, FirstAccount(**body.model_dump()), code, tries))
    except Refusal as refusal:
        if refusal.faults[0].code != "unknown-code":
            laboratory().ask(withdraw, tries)
        raise


@front.post("/board", responses={204: None, 401: Problem})
def post_board(body: LinkBody) -> Response:
    """Come in by the board's link: what it holds becomes a cookie, and nothing of it stays in the address."""
    caller = house().opened_to(Knock(body.link, request.remote_addr or "")).ask(who_asks)
    if BOARD not in caller.roles:
        raise NotSignedIn("This link does not open the board any more: ask the instructor for another one.")
    return _let(Let(body.link, int(BOARD_LASTS.total_seconds())))


@blueprint.get("/session", responses={200: WhoView}, openapi_extensions=callers(who))
def get_session() -> Response:
    """Who one is."""
    return answer(laboratory().ask(who))


@blueprint.post("/session", responses={204: None}, openapi_extensions=callers(sign_in))
def post_session(body: SignInBody) -> Response:
    """Sign in by login and password."""
    typed = SignInAs(**body.model_dump())
    return _let(laboratory().ask(sign_in, typed, laboratory().ask(begin_sign_in, typed)))


@blueprint.delete("/session", responses={204: None}, openapi_extensions=callers(sign_out))
def delete_session() -> Response:
    """Sign out."""
    laboratory().ask(sign_out)
    return _out()


@blueprint.delete("/session/everywhere", responses={204: None}, openapi_extensions=callers(sign_out_everywhere))
def delete_sessions() -> Response:
    """Sign out in every browser."""
    laboratory().ask(sign_out_everywhere)
    return _out()


@blueprint.post("/session/password", responses={204: None}, openapi_extensions=callers(change_password))
def post_password(body: PasswordBody) -> Response:
    """Change one's own password; every other browser is signed out."""
    tries = laboratory().ask(begin_change)
    try:
        refusal = laboratory().ask(change_password, NewPassword(**body.model_dump()), tries)
    except Refusal:
        laboratory().ask(withdraw, tries)
        raise
    if refusal is not None:
        raise refusal
    return Response(status=204)


@blueprint.post("/session/hand-over", responses={200: HandOverView}, openapi_extensions=callers(hand_over))
def post_hand_over() -> Response:
    """A code with which another tablet takes the place of this one."""
    return answer(laboratory().ask(hand_over))


@blueprint.post("/join/benches", responses={200: JoinView}, openapi_extensions=callers(to_join))
def post_to_join(body: CodeBody) -> Response:
    """The benches of the class that has this code."""
    found = laboratory().ask(to_join, body.code, laboratory().ask(begin_join))
    if not isinstance(found, JoinView):
        raise found
    return answer(found)


@blueprint.post("/join", responses={204: None}, openapi_extensions=callers(join))
def post_join(body: JoinBody) -> Response:
    """Join a bench with the code of the class."""
    return _let(laboratory().ask(join, Join(**body.model_dump()), laboratory().ask(begin_join)))


@blueprint.get("/accounts", responses={200: AccountsView}, openapi_extensions=callers(accounts_view))
def get_accounts() -> Response:
    """All accounts."""
    return answer(laboratory().ask(accounts_view))


@blueprint.post("/accounts", responses={201: AccountsView}, openapi_extensions=callers(add_account))
def post_account(body: AccountBody) -> Response:
    """Make an account."""
    return answer(laboratory().ask(add_account, NewAccount(**body.model_dump())), 201)


@blueprint.post(
    "/accounts/<int:number>/reset", responses={200: AccountsView}, openapi_extensions=callers(reset_account)
)
def post_reset(path: NumberPath) -> Response:
    """Give an account a new password, told this once."""
    return answer(laboratory().ask(reset_account, path.number))


@blueprint.post(
    "/accounts/<int:number>/disabled", responses={200: AccountsView}, openapi_extensions=callers(disable_account)
)
def post_disabled(path: NumberPath, body: DisabledBody) -> Response:
    """Let an account sign in no more, or again."""
    return answer(laboratory().ask(disable_account, path.number, body.disabled))


@blueprint.get("/audit", responses={200: AuditView}, openapi_extensions=callers(audit_view))
def get_audit() -> Response:
    """What was done at the doors."""
    return answer(laboratory().ask(audit_view))


@blueprint.get("/sections", responses={200: SectionsView}, openapi_extensions=callers(sections_view))
def get_sections() -> Response:
    """One's own sections and those shared with one."""
    return answer(laboratory().ask(sections_view))


@blueprint.post("/sections", responses={201: SectionsView}, openapi_extensions=callers(make_section))
def post_section(body: NameBody) -> Response:
    """Make a section."""
    return answer(laboratory().ask(make_section, body.name), 201)


@blueprint.post("/sections/here", responses={200: SectionsView}, openapi_extensions=callers(go_to_section))
def post_here(body: HereBody) -> Response:
    """Work in another section."""
    return answer(laboratory().ask(go_to_section, body.section))


@blueprint.post(
    "/sections/<int:number>/name", responses={200: SectionsView}, openapi_extensions=callers(rename_section)
)
def post_section_name(path: NumberPath, body: NameBody) -> Response:
    """Rename a section."""
    return answer(laboratory().ask(rename_section, path.number, body.name))


@blueprint.post(
    "/sections/<int:number>/shares", responses={200: SectionsView}, openapi_extensions=callers(share_section)
)
def post_share(path: NumberPath, body: ShareBody) -> Response:
    """Share a section with a colleague, or end that."""
    return answer(laboratory().ask(share_section, Share(path.number, body.login, body.ends)))


@blueprint.get("/class", responses={200: ClassView}, openapi_extensions=callers(class_view))
def get_class(query: ClassQuery) -> Response:
    """The class of the day: code, tablets, benches."""
    return answer(laboratory().ask(class_view, query.number))


@blueprint.get("/class/addresses", responses={200: AddressesView}, openapi_extensions=callers(addresses_view))
def get_addresses(query: ClassQuery) -> Response:
    """Where tablets reach the house, each address drawn for a camera."""
    return answer(laboratory().ask(addresses_view, current_app.config["KETTLE_ADDRESSES"], query.number))


@blueprint.get("/backups", responses={200: BackupsView}, openapi_extensions=callers(backups_view))
def get_backups() -> Response:
    """How the last backup went."""
    return answer(laboratory().ask(backups_view, current_app.config["KETTLE_BACKUPS"]))


@blueprint.post("/class/code", responses={200: ClassView}, openapi_extensions=callers(renew_code))
def post_code(query: ClassQuery) -> Response:
    """Give out a new code."""
    return answer(laboratory().ask(renew_code, query.number))


@blueprint.post("/class/closed", responses={200: ClassView}, openapi_extensions=callers(close_class))
def post_closed(query: ClassQuery, body: ClosedBody) -> Response:
    """Close the class, or open it again."""
    return answer(laboratory().ask(close_class, body.closed, query.number))


@blueprint.post("/class/board", responses={200: ClassView}, openapi_extensions=callers(board_link))
def post_board_link(query: ClassQuery, body: BoardBody) -> Response:
    """A link for the projector, told this once."""
    return answer(laboratory().ask(board_link, body.answers, query.number))


@blueprint.post("/class/benches", responses={200: ClassView}, openapi_extensions=callers(name_bench))
def post_bench(body: BenchBody) -> Response:
    """Add, rename or retire a bench."""
    return answer(laboratory().ask(name_bench, body.number, body.name, body.retired))


@blueprint.delete("/class/tablets/<int:number>", responses={200: ClassView}, openapi_extensions=callers(turn_out))
def delete_tablet(path: NumberPath, query: ClassQuery) -> Response:
    """Let a tablet in no more."""
    return answer(laboratory().ask(turn_out, path.number, query.number))
