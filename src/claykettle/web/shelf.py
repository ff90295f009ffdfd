"""What a new run can choose from, and how far the records are sealed."""

from __future__ import annotations

from flask import Response
from flask_openapi import APIBlueprint

from claykettle.service.runs.verifying import SealView, sealed
from claykettle.service.shelf.shelf import ShelfView, shelf
from claykettle.web.context import answer, callers, laboratory
from claykettle.web.problems import ASKED

blueprint = APIBlueprint("shelf", __name__, url_prefix="/api", abp_responses=ASKED)


@blueprint.get("/seal", responses={200: SealView}, openapi_extensions=callers(sealed))
def get_seal() -> Response:
    """How far the chain over all records reaches."""
    return answer(laboratory().ask(sealed))


@blueprint.get("/shelf", responses={200: ShelfView}, openapi_extensions=callers(shelf))
def get_shelf() -> Response:
    """Benches, balances, methods and procedures for a new run."""
    return answer(laboratory().ask(shelf))
