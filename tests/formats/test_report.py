"""A report as a page, a PDF and an OpenDocument text: read back by other programs than those that wrote them."""

from __future__ import annotations

import io
import json
import sys
import tempfile
import unittest
import zipfile
from html.parser import HTMLParser
from pathlib import Path
from typing import Any
from unittest.mock import patch
from xml.etree import ElementTree

import pypdf

from claykettle.core.errors import Refusal
from claykettle.core.report import Document, report_of
from claykettle.core.run import evaluate_run
from claykettle.formats.report import FORMS, report_odt, report_page, report_pdf
from claykettle.formats.run_file import run_from
from tests.support.commands import Done, kettle
from tests.support.runs import document

ODF = "{urn:oasis:names:tc:opendocument:xmlns:text:1.0}"
PLACED = ("1.657 g of ZnSO4 was added", "7.005 ± 0.047", "Your local rules and your safety officer come first.")


def a_report(**more: Any) -> Document:
    """The report of a hydrate's run."""
    return report_of(evaluate_run(run_from(document(**more))))


class _Reader(HTMLParser):
    """Collects text, headings and every address that a page names; refuses tags that do not close."""

    def __init__(self) -> None:
        super().__init__()
        self.words: list[str] = []
        self.addresses: list[str] = []
        self.open: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.addresses += [value or "" for name, value in attrs if name in ("href", "src", "srcset", "action")]
        if tag not in ("meta", "br", "link", "img"):
            self.open.append(tag)

    def handle_endtag(self, tag: str) -> None:
        assert self.open.pop() == tag, tag

    def handle_data(self, data: str) -> None:
        if "style" not in self.open:
            self.words.append(data)


class Page(unittest.TestCase):
    def read(self, page: str) -> _Reader:
        """The page as a browser's parser meets it."""
        reader = _Reader()
        reader.feed(page)
        reader.close()
        self.assertEqual([], reader.open)
        return reader

    def test_it_says_what_the_report_says_and_closes_what_it_opens(self) -> None:
        said = "".join(self.read(report_page(a_report())).words)
        for words in PLACED:
            self.assertIn(words, said)

    def test_nothing_is_fetched_to_show_it(self) -> None:
        page = report_page(a_report())
        self.assertEqual([], self.read(page).addresses)
        self.assertNotRegex(page, r"@import|url\((?!data:)|https?://")

    def test_what_was_typed_is_text_and_never_a_tag(self) -> None:
        title = '<script>alert(1)</script> & "zinc"'
        page = report_page(a_report(title=title, note="</p><img src=x onerror=alert(1)>"))
        self.assertNotIn("<script", page)
        self.assertNotIn("<img", page)
        self.assertIn(title, "".join(self.read(page).words))


class Print(unittest.TestCase):
    def test_a_second_library_reads_the_text_back(self) -> None:
        found = pypdf.PdfReader(io.BytesIO(report_pdf(a_report(title="Water of zinc sulfate"))))
        said = " ".join(" ".join(page.extract_text() for page in found.pages).split())
        for words in PLACED:
            self.assertIn(words, said)
        self.assertEqual("Water of zinc sulfate", (found.metadata or {}).get("/Title"))

    def test_its_letters_are_in_it_and_every_sheet_is_numbered(self) -> None:
        found = pypdf.PdfReader(io.BytesIO(report_pdf(a_report())))
        fonts = {
            font.get_object()["/BaseFont"].partition("+")[2]
            for page in found.pages
            for font in page["/Resources"]["/Font"].values()
        }
        self.assertTrue(any(name.startswith("Bitter") for name in fonts), fonts)
        self.assertTrue(any(name.startswith("Atkinson") for name in fonts), fonts)
        for number, page in enumerate(found.pages, start=1):
            self.assertIn(f"{number} / {len(found.pages)}", page.extract_text())

    def test_it_is_tagged_so_that_it_can_be_read_aloud(self) -> None:
        root = pypdf.PdfReader(io.BytesIO(report_pdf(a_report()))).trailer["/Root"]
        self.assertIn("/StructTreeRoot", root)
        self.assertEqual("en", root["/Lang"])

    def test_a_machine_that_cannot_set_pages_says_what_it_lacks(self) -> None:
        with patch.dict(sys.modules, {"weasyprint": None}), self.assertRaises(Refusal) as caught:
            report_pdf(a_report())
        self.assertIn("libpango", str(caught.exception.faults[0].message))


class Word(unittest.TestCase):
    def test_it_is_an_open_document_with_headings_lists_and_tables(self) -> None:
        with zipfile.ZipFile(io.BytesIO(report_odt(a_report()))) as file:
            self.assertEqual("mimetype", file.namelist()[0])
            self.assertEqual(b"application/vnd.oasis.opendocument.text", file.read("mimetype"))
            self.assertEqual(zipfile.ZIP_STORED, file.getinfo("mimetype").compress_type)
            tree = ElementTree.fromstring(file.read("content.xml"))
        heads = ["".join(row.itertext()) for row in tree.iter(f"{ODF}h")]
        self.assertEqual("Purpose", heads[1])
        self.assertIn("Appendix: the log", heads)
        said = "".join(tree.itertext())
        for words in PLACED:
            self.assertIn(words, said)

    def test_subscripts_and_struck_figures_are_set(self) -> None:
        readings = dict(document()["trials"][0]["readings"], vessel={"text": "31.204 g", "corrects": "31.240 g"})
        with zipfile.ZipFile(io.BytesIO(report_odt(a_report(readings=readings)))) as file:
            tree = ElementTree.fromstring(file.read("content.xml"))
        spans = {(row.get(f"{ODF}style-name"), row.text) for row in tree.iter(f"{ODF}span")}
        self.assertIn(("span_sub", "4"), spans)
        self.assertIn(("span_struck", "31.240 g"), spans)


class Command(unittest.TestCase):
    def run_it(self, *arguments: str, data: bytes) -> Done[bytes]:
        """The command as the launcher runs it."""
        return kettle("report", "-", *arguments, given=data)

    def test_each_form_comes_out_or_is_written_where_it_is_wanted(self) -> None:
        data = json.dumps(document()).encode()
        begins = {"html": b"<!doctype html>", "pdf": b"%PDF-", "odt": b"PK"}
        self.assertEqual(set(begins), set(FORMS))
        with tempfile.TemporaryDirectory() as folder:
            for form, start in begins.items():
                with self.subTest(form):
                    self.assertTrue(self.run_it("--to", form, data=data).stdout.startswith(start))
                    path = Path(folder) / f"report of it.{form}"
                    done = self.run_it("--to", form, "-o", str(path), data=data)
                    self.assertEqual((0, b""), (done.returncode, done.stdout))
                    self.assertTrue(path.read_bytes().startswith(start))

    def test_a_fault_is_told_at_its_place_and_nothing_comes_out(self) -> None:
        faulty = document(readings={"vessel": "31.2 apples"})
        done = self.run_it("--to", "html", data=json.dumps(faulty).encode())
        self.assertEqual((2, b""), (done.returncode, done.stdout))
        self.assertIn(b"trials[0].readings.vessel", done.stderr)
        self.assertNotIn(b"Traceback", done.stderr)

    def test_a_place_that_cannot_be_written_to_is_said(self) -> None:
        done = self.run_it("--to", "html", "-o", "/nowhere/report.html", data=json.dumps(document()).encode())
        self.assertEqual(2, done.returncode)
        self.assertIn(b"not-written", done.stderr)
        self.assertNotIn(b"Traceback", done.stderr)
