"""What a new run can choose from, formulas looked at, and whether the server is well."""

from __future__ import annotations

from flask import Response
from flask_openapi import APIBlueprint
from pydantic import BaseModel

from claykettle import __version__
from claykettle.service.shelf.shelf import ShelfView, shelf
from claykettle.web.context import answer, laboratory
from claykettle.web.problems import Problem

blueprint = APIBlueprint("shelf", __name__, url_prefix="/api", abp_responses={503: Problem})


class Health(BaseModel):
    """The server answers, and so does its database."""

    version: str
    now: str


@blueprint.get("/health", responses={200: Health})
def health() -> Response:
    """Whether server and database answer."""
    here = laboratory()
    here.database.ping()
    return answer(Health(version=__version__, now=here.clock().isoformat()))


@blueprint.get("/shelf", responses={200: ShelfView})
def get_shelf() -> Response:
    """Benches, balances, methods and procedures for a new run."""
    return answer(laboratory().ask(shelf))
