"""The desks: formulas taken apart. They need no run and no database."""

from __future__ import annotations

from typing import Annotated

from flask import Response
from flask_openapi import APIBlueprint
from pydantic import StringConstraints

from claykettle.core.chemistry.formula_sheet import formula_sheet
from claykettle.service.views import FormulaSheetView
from claykettle.web.context import Query, answer
from claykettle.web.problems import Problem

blueprint = APIBlueprint("desks", __name__, url_prefix="/api", abp_responses={422: Problem})


class FormulaQuery(Query):
    """A formula as typed; the core says what is wrong with it."""

    text: Annotated[str, StringConstraints(max_length=1000)] = ""


@blueprint.get("/formula", responses={200: FormulaSheetView})
def get_formula(query: FormulaQuery) -> Response:
    """A formula's molar mass, composition and crystal water, with their working."""
    return answer(FormulaSheetView.model_validate(formula_sheet(query.text)))
