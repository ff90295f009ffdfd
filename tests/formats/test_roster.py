"""Rosters in whatever shape a school's lists come in."""

from __future__ import annotations

import csv
import io
import unittest

from claykettle.core.errors import Refusal
from claykettle.formats.roster import read_roster, roster_csv

THREE = ["Ada Quill", "Bo Thrush", "Cy Wren"]


class Read(unittest.TestCase):
    def test_one_name_a_line_whatever_ends_the_lines(self) -> None:
        for text in (
            "Ada Quill\nBo Thrush\nCy Wren",
            "Ada Quill\r\nBo Thrush\r\n\r\nCy Wren\r\n",
            " Ada  Quill \n\nBo Thrush\nCy Wren ",
        ):
            with self.subTest(text=text):
                self.assertEqual(read_roster(text), THREE)

    def test_a_table_with_headings_in_any_separator(self) -> None:
        for separator in (",", ";", "\t"):
            rows = [["No", "Surname", "First name", "Group"], ["1", "Quill", "Ada", "x"], ["2", "Thrush", "Bo", ""]]
            text = "\n".join(separator.join(row) for row in rows)
            with self.subTest(separator=separator):
                self.assertEqual(read_roster(text), ["Ada Quill", "Bo Thrush"])
        self.assertEqual(read_roster("number;Name\n1;Ada Quill\n2;Bo Thrush\n"), ["Ada Quill", "Bo Thrush"])

    def test_numbers_before_the_names_are_no_names(self) -> None:
        """Lists of other schools: a running number, headings in another language, or none that is known."""
        for text in (
            "Nr;Nachname;Vorname\n1;Quill;Ada\n2;Thrush;Bo\n",
            "No.;Pupil\n1;Ada Quill\n2;Bo Thrush\n",
            "1;Ada Quill;7b\n2;Bo Thrush;7b\n",
            "4711\tAda Quill\n4712\tBo Thrush\n",
        ):
            with self.subTest(text):
                self.assertEqual(read_roster(text), ["Ada Quill", "Bo Thrush"])

    def test_family_names_first_without_a_heading(self) -> None:
        self.assertEqual(read_roster("Quill, Ada\nThrush, Bo\n"), ["Ada Quill", "Bo Thrush"])

    def test_the_encodings_that_spreadsheets_write(self) -> None:
        for encoding in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
            with self.subTest(encoding=encoding):
                self.assertEqual(read_roster("Zoë Müller\nJosé Ñandú\n".encode(encoding)), ["Zoë Müller", "José Ñandú"])

    def test_what_a_spreadsheet_quotes(self) -> None:
        self.assertEqual(read_roster('name\n"Quill, Ada (Mrs ""Q"")"\n'), ['Quill, Ada (Mrs "Q")'])

    def test_names_that_stand_there_twice_are_told_line_by_line(self) -> None:
        with self.assertRaises(Refusal) as caught:
            read_roster("Ada Quill\nBo Thrush\nada quill\n")
        self.assertEqual([row.path for row in caught.exception.faults], ["names[2]"])
        self.assertIn("lines 1 and 3", caught.exception.faults[0].message)

    def test_five_thousand_are_read_and_one_more_is_not(self) -> None:
        many = "\n".join(f"Student {number}" for number in range(5000))
        self.assertEqual(len(read_roster(many)), 5000)
        with self.assertRaises(Refusal):
            read_roster(many + "\nOne more")

    def test_what_is_no_list_is_refused_in_a_sentence(self) -> None:
        for data in (b"PK\x03\x04\0\0\0", b"\xff\xfe\x00", "x" * 200, "a\tb\0c"):
            with self.subTest(data=data[:10]), self.assertRaises(Refusal):
                read_roster(data)

    def test_nothing_is_nobody(self) -> None:
        self.assertEqual(read_roster(""), [])
        self.assertEqual(read_roster("name\n"), [])


class Written(unittest.TestCase):
    def test_it_comes_back_as_it_was(self) -> None:
        odd = [*THREE, "Zoë Müller", 'Ann "Annie" O\'Neil', "Quill, Ada", "=SUM(A1)", "-Dash", "'t Hart"]
        self.assertEqual(read_roster(roster_csv(odd)), odd)

    def test_a_spreadsheet_takes_no_name_for_a_formula(self) -> None:
        rows = list(csv.reader(io.StringIO(roster_csv(["=1+1", "@x", "Ada"]).decode("utf-8-sig"))))
        self.assertEqual(rows, [["name"], ["'=1+1"], ["'@x"], ["Ada"]])
