"""A report as one web page: everything in it, styles and letters too, so that nothing is fetched to show it."""

from __future__ import annotations

from base64 import b64encode
from collections.abc import Iterator
from functools import cache
from html import escape
from importlib.resources import files

from claykettle.core.report import Document, Items, Paragraph, Section, Span, Table, Text

HERE = "claykettle.formats.report"
TAGS = {"plain": "", "sub": "sub", "sup": "sup", "struck": "s", "strong": "b"}
SIGNS = {"plain": "", "good": "✓ ", "watch": "▲ ", "stop": "■ "}
"""What stands before a verdict of each level: never colour alone."""
LETTERS = (
    ("Bitter", 600, "bitter-600"),
    ("Atkinson Hyperlegible Next", 400, "atkinson-hyperlegible-next-400"),
    ("Atkinson Hyperlegible Next", 600, "atkinson-hyperlegible-next-600"),
)


def report_page(document: Document) -> str:
    """The page as text (HTML)."""
    about = "".join(f"<dt>{escape(name)}</dt><dd>{escape(said)}</dd>" for name, said in document.about)
    body = "".join(_section(row) for row in document.sections)
    title = escape(document.title)
    return (
        '<!doctype html>\n<html lang="en"><head><meta charset="utf-8">'
        '<meta name="viewport" content="width=device-width, initial-scale=1">'
        f"<title>{title}</title><style>{_style()}</style></head>"
        f"<body><main><header><h1>{title}</h1><dl>{about}</dl></header>{body}</main></body></html>\n"
    )


@cache
def _style() -> str:
    """The style sheet, the letters put into it."""
    folder = files(HERE)
    faces = (
        f"@font-face{{font-family:'{family}';font-weight:{weight};"
        f"src:url(data:font/woff2;base64,{b64encode(folder.joinpath(f'fonts/{name}.woff2').read_bytes()).decode()})}}"
        for family, weight, name in LETTERS
    )
    return "".join(faces) + folder.joinpath("report.css").read_text(encoding="utf-8")


def _section(section: Section) -> str:
    kind = ' class="appendix"' if section.appendix else ""
    return f"<section{kind}><h2>{escape(section.title)}</h2>{''.join(_blocks(section))}</section>"


def _blocks(section: Section) -> Iterator[str]:
    for block in section.blocks:
        match block:
            case Paragraph():
                yield f'<p class="{block.tone}">{SIGNS[block.tone]}{_text(block.text)}</p>'
            case Items():
                yield f"<ul>{''.join(f'<li>{_text(row)}</li>' for row in block.rows)}</ul>"
            case Table():
                yield _table(block)


def _table(block: Table) -> str:
    caption = f"<caption>{escape(block.caption)}</caption>" if block.caption else ""
    head = "".join(
        f'<th scope="col"{_kind(block, column)}>{_text(cell)}</th>' for column, cell in enumerate(block.head)
    )
    rows = "".join(f"<tr>{''.join(_cells(block, row))}</tr>" for row in block.rows)
    return f"<table>{caption}<thead><tr>{head}</tr></thead><tbody>{rows}</tbody></table>"


def _cells(block: Table, row: tuple[Text, ...]) -> Iterator[str]:
    for column, cell in enumerate(row):
        tag = 'th scope="row"' if column == 0 else f"td{_kind(block, column)}"
        yield f"<{tag}>{_text(cell)}</{tag.partition(' ')[0]}>"


def _kind(block: Table, column: int) -> str:
    return ' class="figures"' if column in block.figures else ""


def _text(line: Text) -> str:
    return "".join(map(_span, line))


def _span(span: Span) -> str:
    tag = TAGS[span.style]
    return f"<{tag}>{escape(span.text)}</{tag}>" if tag else escape(span.text)
