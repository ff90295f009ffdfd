"""A report for a word processor: an OpenDocument text with real headings, lists and tables, to be written on."""

from __future__ import annotations

import io

from odf import dc, style, table, text
from odf.opendocument import OpenDocumentText

from claykettle.core.report import Document, Items, Paragraph, Section, Span, Table, Text, plain
from claykettle.formats.report.page import SIGNS

COLOURS = {"good": "#1f5a43", "watch": "#7a4b00", "stop": "#8e2a1e"}
SPANS = {
    "sub": {"textposition": "sub 70%"},
    "sup": {"textposition": "super 70%"},
    "struck": {"textlinethroughstyle": "solid"},
    "strong": {"fontweight": "bold"},
}


def report_odt(document: Document) -> bytes:
    """The file's bytes."""
    writer = _Writer(document.title)
    writer.heading(document.title, 1)
    for name, said in document.about:
        writer.paragraph((Span(f"{name}: {said}"),))
    for section in document.sections:
        writer.section(section)
    written = io.BytesIO()
    writer.file.write(written)
    return written.getvalue()


WIDTH, LEAST, MOST = 16.8, 11, 40
"""Of a table, in cm; how many letters a column is given room for at least, and at most."""


def _widths(block: Table) -> list[float]:
    """The columns' widths in cm, by the longest of their texts."""
    rows = (block.head, *block.rows)
    longest = [max(len(plain(row[column])) for row in rows) for column in range(len(block.head))]
    room = [min(max(length, LEAST), MOST) for length in longest]
    return [WIDTH * part / sum(room) for part in room]


class _Writer:
    def __init__(self, title: str):
        self.file = OpenDocumentText()
        self.file.meta.addElement(dc.Title(text=title))
        self.tables = 0
        self._page()
        self.headings = {level: self._heading_style(level) for level in (1, 2)}
        self.appendix = self._heading_style(2, breaks=True)
        self.body = self._style("Text_20_body", display="Text body", margin="0.12cm")
        self.tones = {tone: self._style(f"Verdict {tone}", colour=colour) for tone, colour in COLOURS.items()}
        self.caption = self._style("Table caption", margin="0.2cm", colour="#46423d", keeps=True)
        self.cell = self._style("Table text", size="9.5pt")
        self.figures = self._style("Table figures", size="9.5pt", align="end")
        self.head = self._style("Table heading", size="9.5pt", weight="bold")
        self.head_figures = self._style("Table heading figures", size="9.5pt", weight="bold", align="end")
        self.ruled = self._cell_style("ruled", "0.5pt solid #c9c2b7")
        self.headed = self._cell_style("headed", "1pt solid #25282b")
        self.list = self._style("List text", margin="0.05cm")
        self.spans = {kind: self._span_style(kind) for kind in ("sub", "sup", "struck", "strong")}

    def _page(self) -> None:
        layout = style.PageLayout(name="sheet")
        layout.addElement(
            style.PageLayoutProperties(
                pagewidth="21cm", pageheight="29.7cm", margintop="2cm", marginbottom="2cm", marginleft="2.2cm",
                marginright="2cm",
            )
        )  # fmt: skip
        self.file.automaticstyles.addElement(layout)
        master = style.MasterPage(name="Standard", pagelayoutname=layout)
        footer = style.Footer()
        line = text.P()
        line.addElement(text.PageNumber(selectpage="current"))
        line.addText(" / ")
        line.addElement(text.PageCount())
        footer.addElement(line)
        master.addElement(footer)
        self.file.masterstyles.addElement(master)

    def _style(
        self, name: str, display: str = "", margin: str = "0cm", colour: str = "", size: str = "11pt",
        align: str = "start", weight: str = "normal", keeps: bool = False,
    ) -> style.Style:  # fmt: skip
        made = style.Style(name=name.replace(" ", "_20_"), displayname=display or name, family="paragraph")
        made.addElement(
            style.ParagraphProperties(
                margintop=margin,
                marginbottom=margin,
                textalign=align,
                orphans="2",
                widows="2",
                keepwithnext="always" if keeps else "auto",
            )
        )
        more = {"color": colour} if colour else {}
        made.addElement(style.TextProperties(fontsize=size, fontweight=weight, fontfamily="sans-serif", **more))
        self.file.styles.addElement(made)
        return made

    def _heading_style(self, level: int, breaks: bool = False) -> style.Style:
        name = f"Heading {level}{' appendix' if breaks else ''}"
        made = style.Style(
            name=name.replace(" ", "_20_"), displayname=name, family="paragraph", defaultoutlinelevel=level
        )
        more = {"breakbefore": "page"} if breaks else {}
        made.addElement(
            style.ParagraphProperties(
                margintop="0.5cm" if level > 1 else "0cm", marginbottom="0.15cm", keepwithnext="always", **more
            )
        )
        size = "20pt" if level == 1 else "14pt"
        made.addElement(style.TextProperties(fontsize=size, fontweight="bold", fontfamily="serif"))
        self.file.styles.addElement(made)
        return made

    def _span_style(self, kind: str) -> style.Style:
        made = style.Style(name=f"span_{kind}", family="text")
        made.addElement(style.TextProperties(**SPANS[kind]))
        self.file.automaticstyles.addElement(made)
        return made

    def _table_style(self, name: str) -> style.Style:
        made = style.Style(name=name, family="table")
        made.addElement(
            style.TableProperties(width=f"{WIDTH}cm", align="left", margintop="0.1cm", marginbottom="0.3cm")
        )
        self.file.automaticstyles.addElement(made)
        return made

    def _column_style(self, name: str, width: float) -> style.Style:
        made = style.Style(name=name, family="table-column")
        made.addElement(style.TableColumnProperties(columnwidth=f"{width:.2f}cm"))
        self.file.automaticstyles.addElement(made)
        return made

    def _cell_style(self, name: str, rule: str) -> style.Style:
        made = style.Style(name=name, family="table-cell")
        made.addElement(
            style.TableCellProperties(
                paddingtop="0.07cm", paddingbottom="0.07cm", paddingleft="0cm", paddingright="0.25cm", borderbottom=rule
            )
        )
        self.file.automaticstyles.addElement(made)
        return made

    def heading(self, title: str, level: int, breaks: bool = False) -> None:
        """A heading of this level; `breaks` begins a sheet."""
        kind = self.appendix if breaks else self.headings[level]
        self.file.text.addElement(text.H(outlinelevel=level, stylename=kind, text=title))

    def paragraph(self, line: Text, kind: style.Style | None = None) -> None:
        """A paragraph of its own."""
        self.file.text.addElement(self._line(line, kind or self.body))

    def section(self, section: Section) -> None:
        """A headed part with all its blocks."""
        self.heading(section.title, 2, section.appendix)
        for block in section.blocks:
            match block:
                case Paragraph():
                    sign = Span(SIGNS[block.tone])
                    self.paragraph((sign, *block.text) if sign.text else block.text, self.tones.get(block.tone))
                case Items():
                    self._items(block)
                case Table():
                    self._table(block)

    def _items(self, block: Items) -> None:
        rows = text.List()
        for row in block.rows:
            item = text.ListItem()
            item.addElement(self._line(row, self.list))
            rows.addElement(item)
        self.file.text.addElement(rows)

    def _table(self, block: Table) -> None:
        if block.caption:
            self.paragraph((Span(block.caption),), self.caption)
        self.tables += 1
        name = f"Table_{self.tables}"
        made = table.Table(name=name, stylename=self._table_style(name))
        for column, width in enumerate(_widths(block)):
            made.addElement(table.TableColumn(stylename=self._column_style(f"{name}.{column}", width)))
        heads = table.TableHeaderRows()
        heads.addElement(self._row(block, block.head, is_head=True))
        made.addElement(heads)
        for row in block.rows:
            made.addElement(self._row(block, row))
        self.file.text.addElement(made)

    def _row(self, block: Table, cells: tuple[Text, ...], is_head: bool = False) -> table.TableRow:
        made = table.TableRow()
        for column, cell in enumerate(cells):
            held = table.TableCell(valuetype="string", stylename=self.headed if is_head else self.ruled)
            is_figure = column in block.figures
            kind = (
                (self.head_figures if is_figure else self.head) if is_head else self.figures if is_figure else self.cell
            )
            held.addElement(self._line(cell, kind))
            made.addElement(held)
        return made

    def _line(self, line: Text, kind: style.Style) -> text.P:
        made = text.P(stylename=kind)
        for span in line:
            if span.style == "plain":
                made.addText(span.text)
            else:
                made.addElement(text.Span(stylename=self.spans[span.style], text=span.text))
        return made
