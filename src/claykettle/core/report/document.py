"""What a report is made of before it becomes a page: sections, paragraphs, lists, tables, text with its formulas."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal, NamedTuple

from claykettle.core.chemistry.elements import is_element

Style = Literal["plain", "sub", "sup", "struck", "strong"]
Tone = Literal["plain", "good", "watch", "stop"]


class Span(NamedTuple):
    """A piece of text and how it stands on the line."""

    text: str
    style: Style = "plain"


Text = tuple[Span, ...]


@dataclass(frozen=True)
class Paragraph:
    """A paragraph; `tone` is the level of the verdict that it tells."""

    text: Text
    tone: Tone = "plain"


@dataclass(frozen=True)
class Items:
    """A list."""

    rows: tuple[Text, ...]


@dataclass(frozen=True)
class Table:
    """A table with its heads; the columns of these numbers (from 0) hold figures and stand flush right."""

    head: tuple[Text, ...]
    rows: tuple[tuple[Text, ...], ...]
    caption: str = ""
    figures: frozenset[int] = frozenset()


Block = Paragraph | Items | Table


@dataclass(frozen=True)
class Section:
    """A headed part; one that begins on a sheet of its own is an appendix."""

    title: str
    blocks: tuple[Block, ...]
    appendix: bool = False


@dataclass(frozen=True)
class Document:
    """A whole document: title, what stands below it as name and text, sections."""

    title: str
    about: tuple[tuple[str, str], ...]
    sections: tuple[Section, ...]


_ATOM = r"(?:[A-Z][a-z]?)"
_WORD = re.compile(
    rf"(?<![A-Za-wyz0-9_.])(?:[(\[]*{_ATOM}[)\]\d]*)(?:[(\[]*{_ATOM}[)\]\d]*|·\d*(?:\.\d+)?|\^\d?[+-])*(?![\w])"
)
_PART = re.compile(r"\^(?P<charge>\d?[+-])|(?P<count>(?<=[A-Za-z)\]])\d+)|(?P<rest>[^\d^]+|\d+(?:\.\d+)?)")


def text(*pieces: str | Span) -> Text:
    """A line of text; formulas in it are set with their subscripts, a span stays as it is."""
    spans: list[Span] = []
    for piece in pieces:
        spans += [piece] if isinstance(piece, Span) else _set(piece)
    return tuple(spans)


def plain(line: Text) -> str:
    """The same without its settings."""
    return "".join(span.text for span in line)


def _set(line: str) -> Iterator[Span]:
    at = 0
    for found in _WORD.finditer(line):
        word = found.group()
        if not _is_formula(word):
            continue
        if found.start() > at:
            yield Span(line[at : found.start()])
        yield from _formula(word)
        at = found.end()
    if at < len(line):
        yield Span(line[at:])


def _is_formula(word: str) -> bool:
    atoms = re.findall(_ATOM, word)
    return bool(re.search(r"\d|\^", word)) and bool(atoms) and all(map(is_element, atoms))


def _formula(word: str) -> Iterator[Span]:
    for found in _PART.finditer(word):
        if found.group("charge"):
            yield Span(found.group("charge").replace("-", "−"), "sup")
        elif found.group("count"):
            yield Span(found.group("count"), "sub")
        else:
            yield Span(found.group("rest"))


def said(line: str) -> Paragraph:
    """A plain paragraph."""
    return Paragraph(text(line))


def table(
    head: Sequence[str], rows: Sequence[Sequence[str | Text]], caption: str = "", figures: Sequence[int] = ()
) -> Table:
    """A table of texts."""
    cells = tuple(tuple(text(cell) if isinstance(cell, str) else cell for cell in row) for row in rows)
    return Table(tuple(text(row) for row in head), cells, caption, frozenset(figures))
