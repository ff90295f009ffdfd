"""A report for print: the web page set on sheets of paper. Nothing but what the page holds itself is ever fetched."""

from __future__ import annotations

from claykettle.core.errors import refuse
from claykettle.core.report import Document
from claykettle.formats.report.page import report_page

LACKING = "A PDF wants Debian's packages libpango-1.0-0, libpangoft2-1.0-0 and fonts-dejavu-core on this machine."


def report_pdf(document: Document) -> bytes:
    """The PDF's bytes. Raises Refusal `no-pdf` where the machine cannot set pages."""
    try:
        from weasyprint import HTML
        from weasyprint.urls import URLFetcher
    except (OSError, ImportError):
        raise refuse("no-pdf", LACKING) from None
    fetcher = URLFetcher(allowed_protocols={"data"})
    page = HTML(string=report_page(document), url_fetcher=fetcher)
    found: bytes = page.write_pdf(pdf_variant="pdf/ua-1")
    return found
