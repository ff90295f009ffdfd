"""Lists to be taken along: as a spreadsheet (OpenDocument), a sheet a list, and as one CSV."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass

from odf.opendocument import OpenDocumentSpreadsheet
from odf.style import Style, TableColumnProperties, TextProperties
from odf.table import Table, TableCell, TableColumn, TableRow
from odf.text import P

MEDIA = {"ods": "application/vnd.oasis.opendocument.spreadsheet", "csv": "text/csv; charset=utf-8"}
"""Media types by the ending of the file's name."""
WIDE, NARROW = "9cm", "3.5cm"


@dataclass(frozen=True)
class Listed:
    """A list: what it is called, its headings, its rows of texts and figures."""

    title: str
    headings: tuple[str, ...]
    rows: tuple[tuple[str | float, ...], ...]


def spreadsheet(lists: Sequence[Listed]) -> bytes:
    """The lists as an OpenDocument spreadsheet. Texts stay text: nothing in it is ever taken for a formula."""
    document = OpenDocumentSpreadsheet()
    bold = Style(name="head", family="table-cell")
    bold.addElement(TextProperties(fontweight="bold"))
    document.automaticstyles.addElement(bold)
    widths = []
    for name, width in (("wide", WIDE), ("narrow", NARROW)):
        style = Style(name=name, family="table-column")
        style.addElement(TableColumnProperties(columnwidth=width))
        document.automaticstyles.addElement(style)
        widths.append(style)
    for one in lists:
        table = Table(name=one.title)
        for place in range(len(one.headings)):
            table.addElement(TableColumn(stylename=widths[0 if not place else 1]))
        table.addElement(_row(one.headings, bold))
        for row in one.rows:
            table.addElement(_row(row, None))
        document.spreadsheet.addElement(table)
    out = io.BytesIO()
    document.write(out)
    return out.getvalue()


def _row(cells: Sequence[str | float], style: Style | None) -> TableRow:
    row = TableRow()
    for held in cells:
        kind = {"valuetype": "string"} if isinstance(held, str) else {"valuetype": "float", "value": repr(held)}
        cell = TableCell(**kind, **({"stylename": style} if style is not None else {}))
        cell.addElement(P(text=str(held)))
        row.addElement(cell)
    return row


def csv_of_lists(lists: Sequence[Listed]) -> bytes:
    """The lists as one CSV in UTF-8: the list, then its columns. What begins like a formula is marked as text."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    most = max((len(one.headings) for one in lists), default=0)
    for one in lists:
        for row in (one.headings, *one.rows):
            cells = [*row, *([""] * (most - len(row)))]
            writer.writerow([one.title, *map(_as_text, cells)])
    return ("\ufeff" + out.getvalue()).encode()


def _as_text(held: str | float) -> str:
    """A cell of a CSV; a text that begins like a formula is marked as text."""
    if not isinstance(held, str):
        return repr(held)
    return f"'{held}" if held[:1] in ("=", "+", "-", "@") else held
