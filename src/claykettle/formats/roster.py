"""A roster as text or CSV: a line a student. Read out of whatever encoding and separator a school's lists come in."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Sequence

from claykettle.core.errors import Fault, Refusal
from claykettle.core.wording import fault_in_name

MOST = 5000
LONGEST = 120
HEADINGS = ("name", "student", "students", "full name")
FAMILY = ("last name", "surname", "family name", "nachname", "familienname", "nom", "apellido", "apellidos", "cognome")
GIVEN = ("first name", "given name", "forename", "vorname", "prénom", "prenom", "nombre", "nome")
MARKED = re.compile(r"^'(?=[=+\-@])")
"""How a text that would be a formula is marked as text: that mark is no part of a name, as it is in 't Hooft."""
BOMS = ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16"))


def read_roster(data: bytes | str) -> list[str]:
    """The names of a roster, in order; a heading row is passed over, empty lines too.

    Of a table it is the column `name`, or first and last name together, or else the first that holds words and no
    numbers. Raises Refusal for what is no list, and as `checked_names`.
    """
    text = data if isinstance(data, str) else _decoded(data)
    if "\0" in text:
        raise Refusal(Fault("not-text", "names", "This is no text: save the list as CSV, and open that."))
    try:
        rows = [row for row in csv.reader(io.StringIO(text, newline=""), _dialect(text)) if any(map(str.strip, row))]
    except csv.Error as error:
        raise Refusal(Fault("not-a-table", "names", f"This is not read as a list: {error}.")) from None
    return checked_names(_names(rows))


def checked_names(typed: Sequence[str]) -> list[str]:
    """Names of students without stray spaces, empty ones left out.

    Raises Refusal with a fault a line (path `names[N]`, from 0) for a name that stands there twice, is none, or is too
    long.
    """
    names = [name for name in (" ".join(one.split()) for one in typed) if name]
    if len(names) > MOST:
        raise Refusal(Fault("too-many", "names", f"A section has {MOST} students at most; this list has {len(names)}."))
    faults: list[Fault] = []
    first: dict[str, int] = {}
    for place, name in enumerate(names):
        path = f"names[{place}]"
        fault = fault_in_name(name, path, "Write a name, or leave the line out.")
        if fault is not None:
            faults.append(fault)
        elif len(name) > LONGEST:
            faults.append(Fault("too-long", path, f"At most {LONGEST} characters: '{name[:30]}…'."))
        elif name.casefold() in first:
            text = f"{name} stands there twice (lines {first[name.casefold()] + 1} and {place + 1}): tell them apart."
            faults.append(Fault("twice", path, text))
        first.setdefault(name.casefold(), place)
    if faults:
        raise Refusal(*faults)
    return names


def roster_csv(names: Sequence[str]) -> bytes:
    """The roster as CSV in UTF-8, with a heading."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(["name"])
    # a name that a spreadsheet would take for a formula is text
    writer.writerows([[f"'{name}" if name[:1] in "=+-@" else name] for name in names])
    return ("\ufeff" + out.getvalue()).encode()


def _decoded(data: bytes) -> str:
    encoding = next((name for mark, name in BOMS if data.startswith(mark)), None)
    for one in (encoding,) if encoding is not None else ("utf-8", "cp1252"):
        try:
            return data.decode(one)
        except UnicodeDecodeError:
            continue
    raise Refusal(Fault("encoding", "names", "The letters of this file are not understood: save it as UTF-8."))


def _dialect(text: str) -> type[csv.Dialect]:
    """The separator that the first lines hold; a comma between names of one column is no separator of a list."""
    first = text.splitlines()[:1]
    head = first[0] if first else ""
    separator = max((";", "\t", ","), key=head.count)

    class Found(csv.excel):
        delimiter = separator
        skipinitialspace = True

    return Found


def _names(rows: Sequence[Sequence[str]]) -> list[str]:
    head = [cell.strip().casefold() for cell in rows[0]] if rows else []
    whole = next((place for place, cell in enumerate(head) if cell in HEADINGS), None)
    family = next((place for place, cell in enumerate(head) if cell in FAMILY), None)
    given = next((place for place, cell in enumerate(head) if cell in GIVEN), None)
    if whole is not None:
        picked = [_cell(row, whole) for row in rows[1:]]
    elif family is not None:
        picked = [f"{_cell(row, given)} {_cell(row, family)}" for row in rows[1:]]
    elif rows and all(len(row) == 2 and not any(map(_is_number, row)) for row in rows):
        # `Family, Given` without a heading
        picked = [f"{row[1]} {row[0]}" for row in rows]
    else:
        column = _of_words(rows)
        # above a column of numbers stands what they are: that row names no student
        below = rows[1:] if column and not all(map(_is_number, rows[0][:column])) else rows
        picked = [_cell(row, column) for row in below]
    return [MARKED.sub("", one.strip()) for one in picked]


def _of_words(rows: Sequence[Sequence[str]]) -> int:
    """The first column in which words stand; the first where there is none."""
    width = max(map(len, rows), default=1)
    return next((at for at in range(width) if not all(_is_number(_cell(row, at)) for row in rows[1:] or rows)), 0)


def _is_number(text: str) -> bool:
    return not any(map(str.isalpha, text))


def _cell(row: Sequence[str], place: int | None) -> str:
    return row[place] if place is not None and place < len(row) else ""
