"""The worksheet: readings at the top, named lines below, each a small pure function of other lines."""

from claykettle.core.sheet.definitions import SETTLING, SPREAD, Guard, LineDef, Options, Pick, ReadingDef, Shape, always
from claykettle.core.sheet.page import Page
from claykettle.core.sheet.rule import SERIES_WORDS, Token, compute, tokens, written
from claykettle.core.sheet.worksheet import Values, WorkingLine, Worksheet

__all__ = [
    "SERIES_WORDS",
    "SETTLING",
    "SPREAD",
    "Guard",
    "LineDef",
    "Options",
    "Page",
    "Pick",
    "ReadingDef",
    "Shape",
    "Token",
    "Values",
    "WorkingLine",
    "Worksheet",
    "always",
    "compute",
    "tokens",
    "written",
]
