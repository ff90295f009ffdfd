"""A student's own figures held against the readings, and against their own earlier figures."""

from claykettle.core.marking.marking import Marking, mark
from claykettle.core.marking.sheet import SPOKEN, Line, Sheet

__all__ = ["SPOKEN", "Line", "Marking", "Sheet", "mark"]
