"""Writes a report: one document, as a web page, for print or for a word processor."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import NamedTuple

from claykettle.core.report import Document
from claykettle.formats.report.page import report_page
from claykettle.formats.report.print import report_pdf
from claykettle.formats.report.word import report_odt


class Form(NamedTuple):
    """A form that a report can be had in: what writes it, and its media type."""

    write: Callable[[Document], bytes]
    media: str


def _page(document: Document) -> bytes:
    return report_page(document).encode("utf-8")


FORMS: Mapping[str, Form] = {
    "html": Form(_page, "text/html; charset=utf-8"),
    "pdf": Form(report_pdf, "application/pdf"),
    "odt": Form(report_odt, "application/vnd.oasis.opendocument.text"),
}
"""By the ending of the file's name."""

__all__ = ["FORMS", "Form", "report_odt", "report_page", "report_pdf"]
