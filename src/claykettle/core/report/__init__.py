"""A run told as a report: a document of sections that `formats` writes as a page, for print or for a word processor."""

from claykettle.core.report.beside import Asked, Beside, Logged, Signed
from claykettle.core.report.document import (
    Block,
    Document,
    Items,
    Paragraph,
    Section,
    Span,
    Table,
    Text,
    plain,
    said,
    table,
    text,
)
from claykettle.core.report.report import report_of, verdicts_told, waste_told
from claykettle.core.report.told import Told, told

__all__ = [
    "Asked",
    "Beside",
    "Block",
    "Document",
    "Items",
    "Logged",
    "Paragraph",
    "Section",
    "Signed",
    "Span",
    "Table",
    "Text",
    "Told",
    "plain",
    "report_of",
    "said",
    "table",
    "text",
    "told",
    "verdicts_told",
    "waste_told",
]
