"""The desk: questions answered, marks that a person gives, sheets given back, the class's table, reports."""

from __future__ import annotations

import csv
import io
import json
import re
import zipfile
from base64 import b64decode
from datetime import timedelta
from typing import Any
from uuid import uuid4

import pypdf
from flask.testing import FlaskClient
from python_calamine import CalamineWorkbook

from tests.support.server import scene
from tests.web.test_classes import FOUR
from tests.web.test_lab import LabCase
from tests.web.test_revealing import OWN, PRACTICAL, RevealCase

BEFORE = [
    {"ask": "How much of it is water?", "kind": "number", "answer": "43.9 %", "about": "water_percent"},
    {"ask": "Why gently at first?", "kind": "text"},
]
AFTER = [
    {"ask": "Too high or too low?", "kind": "choice", "about": "direction"},
    {"ask": "What could have done it?", "kind": "choice", "about": "cause"},
]
ASKING = PRACTICAL | {"before": BEFORE, "after": AFTER}


class DeskCase(RevealCase):
    @scene
    def play(self) -> None:
        """A class of four benches whose practical asks questions and keeps the answers back."""
        super(LabCase, self).play()
        self.more_benches(*FOUR)
        seats = dict(zip(self.benches(), ([], [], ["Ada Quill", "Bo Thrush"], []), strict=True))
        self.laid = self.lay_out(title="Zinc", starts="17:30", sample="1.7 g", practical=ASKING, students=seats)
        self.number = self.laid["id"]
        self.runs = {place["bench"]: place["run"] for place in self.laid["places"]}
        self.flint = self.tablet("Flint")

    def reply(self, text: str, status: int = 200, client: FlaskClient | None = None, **more: Any) -> Any:
        """Answer a question from Flint's tablet."""
        body = {"uuid": str(uuid4()), "place": "before", "number": 1, "ask": BEFORE[0]["ask"], "text": text} | more
        response = (client or self.flint).post(f"/api/runs/{self.runs['Flint']}/answers", json=body)
        self.assertEqual(status, response.status_code, response.text)
        return response.json

    def of_class(self, what: str, status: int = 200) -> Any:
        """Something of the class."""
        return self.get(f"/api/classes/{self.number}/{what}", status)

    def sheet(self) -> Any:
        """Flint's one sheet, marked."""
        (found,) = next(row for row in self.of_class("marking")["benches"] if row["name"] == "Flint")["sheets"]
        return found

    def mark(self, status: int = 200, **more: Any) -> Any:
        """Change a mark of that sheet."""
        sheet = self.sheet()
        body = {
            "uuid": str(uuid4()), "sheet": sheet["uuid"], "line": "water_ratio", "marks": 1, "note": "half of it",
            "after": sheet["last_mark"],
        }  # fmt: skip
        return self.post(f"/api/classes/{self.number}/marks", body | more, status)


class Questions(DeskCase):
    def test_what_is_asked_and_what_it_offers(self) -> None:
        asked = self.get(f"/api/runs/{self.runs['Flint']}/own-figures")["questions"]
        self.assertEqual(
            [("before", 1, "number"), ("before", 2, "text"), ("after", 1, "choice"), ("after", 2, "choice")],
            [(row["place"], row["number"], row["kind"]) for row in asked],
        )
        self.assertEqual(["high", "low", "inside"], [row["value"] for row in asked[2]["choices"]])
        self.assertIn("spatter", [row["value"] for row in asked[3]["choices"]])

    def test_an_answer_is_kept_as_typed_and_judged_only_when_that_may_be_told(self) -> None:
        (found,) = self.reply(" 43,9 % ", student="Ada Quill")["answers"]
        self.assertEqual(("43,9 %", "", ""), (found["text"], found["verdict"], found["said"]))
        self.settled("Flint")
        self.hand_in()
        (told,) = self.flint.get(f"/api/runs/{self.runs['Flint']}/own-figures").json["answers"]
        self.assertEqual("right", told["verdict"])

    def test_what_is_blamed_is_replayed(self) -> None:
        """46.660 g is less than the salt alone (0.999 g of it in 1.780 g): some was lost, and x is too high."""
        self.settled("Flint", "46.660", confirmed=True)
        self.reply("low", place="after", number=1, ask=AFTER[0]["ask"], trial="1")
        self.reply("not-fully-heated", place="after", number=2, ask=AFTER[1]["ask"], trial="1")
        self.hand_in()
        rows = self.get(f"/api/runs/{self.runs['Flint']}/own-figures")["answers"]
        self.assertEqual(["wrong", "wrong"], [row["verdict"] for row in rows])
        self.assertIn("too small; yours is too large", rows[1]["said"])
        self.assertEqual("not fully heated", rows[1]["label"])

    def test_the_latest_answer_of_each_student_counts(self) -> None:
        self.reply("40 %", student="Ada Quill")
        self.reply("45 %", student="Bo Thrush")
        rows = self.reply("43.9 %", student="Ada Quill")["answers"]
        self.assertEqual(
            {("Ada Quill", "43.9 %"), ("Bo Thrush", "45 %")}, {(row["student"], row["text"]) for row in rows}
        )

    def test_bad_answers_are_refused_at_their_place(self) -> None:
        for text, more in (
            ("", {}),
            ("about half", {}),
            ("x" * 2001, {"number": 2, "ask": BEFORE[1]["ask"]}),
            ("sideways", {"place": "after", "number": 1, "ask": AFTER[0]["ask"], "trial": "1"}),
        ):
            with self.subTest(text[:20]):
                self.assertEqual("text", self.reply(text, 422, **more)["faults"][0]["path"])
        self.assertEqual("number", self.reply("1", 422, number=9)["faults"][0]["path"])

    def test_a_question_that_was_changed_meanwhile_takes_no_answer_to_the_old_one(self) -> None:
        told = self.reply("43.9 %", 409, ask="How much of it is salt?")
        self.assertIn("How much of it is water?", told["title"])

    def test_a_tablet_does_not_read_right_or_wrong_before_it_may(self) -> None:
        """The instructor does at once; the tablet when its own figures are in."""
        given = self.reply("12 %")["answers"][0]
        self.assertEqual(("", ""), (given["verdict"], given["said"]))
        path = f"/api/runs/{self.runs['Flint']}/own-figures"
        self.assertEqual("", self.flint.get(path).json["answers"][0]["verdict"])
        self.settled("Flint")
        self.hand_in()
        self.assertEqual("wrong", self.flint.get(path).json["answers"][0]["verdict"])

    def test_the_same_answer_sent_twice_is_one_and_another_bench_gives_none(self) -> None:
        same = str(uuid4())
        self.reply("43.9 %", uuid=same)
        self.assertEqual(1, len(self.reply("43.9 %", uuid=same)["answers"]))
        self.reply("43.9 %", 403, client=self.tablet("China"))


class Marks(DeskCase):
    @scene
    def play(self) -> None:
        """One sheet with a slip: 0.781 g written as 0.871 g."""
        super().play()
        self.settled("Flint")
        self.hand_in(student="Ada Quill", claims=OWN | {"water_mass": "0.871 g", "water_ratio": "7.81"})

    def test_other_marks_stand_with_who_gave_them_and_why(self) -> None:
        self.assertEqual((4, 5), (self.sheet()["marks"], self.sheet()["of"]))
        self.mark()
        sheet = self.sheet()
        line = next(row for row in sheet["lines"] if row["name"] == "water_ratio")
        self.assertEqual((1, 2, 2, "half of it"), (line["marks"], line["of"], line["reckoned"], line["note"]))
        self.assertTrue(line["changed_by"])
        self.assertEqual(3, sheet["marks"])

    def test_those_reckoned_come_back(self) -> None:
        self.mark()
        self.mark(marks=None, note="after all")
        line = next(row for row in self.sheet()["lines"] if row["name"] == "water_ratio")
        self.assertEqual((2, "", ""), (line["marks"], line["note"], line["changed_by"]))

    def test_two_at_one_sheet_do_not_undo_each_other(self) -> None:
        self.mark()
        told = self.mark(409, after="", marks=0, note="none")
        self.assertIn("changed a mark of this sheet meanwhile", told["title"])
        self.assertEqual(3, self.sheet()["marks"])

    def test_marks_out_of_range_and_without_a_reason_are_refused_at_their_place(self) -> None:
        for more, path in (
            ({"marks": 3}, "marks"),
            ({"marks": -1}, "marks"),
            ({"note": " "}, "note"),
            ({"line": "x"}, "line"),
        ):
            with self.subTest(path):
                self.assertEqual(path, self.mark(422, **more)["faults"][0]["path"])
        self.mark(404, sheet=str(uuid4()))

    def test_given_back_the_bench_sees_it_with_the_worked_line_beside_the_wrong_one(self) -> None:
        (before,) = self.flint.get(f"/api/runs/{self.runs['Flint']}/own-figures").json["handed"]
        self.assertIsNone(before["marked"])
        body = {"uuid": str(uuid4()), "sheets": [self.sheet()["uuid"]]}
        found = self.post(f"/api/classes/{self.number}/given-back", body, 200)
        self.assertEqual((1, 1), (found["handed"], found["given_back"]))
        (handed,) = self.flint.get(f"/api/runs/{self.runs['Flint']}/own-figures").json["handed"]
        wrong = handed["marked"]["lines"][0]
        self.assertEqual("wrong", wrong["status"])
        self.assertIn("= 0.781 g", wrong["worked"])
        self.assertEqual(4, handed["marked"]["marks"])
        # nothing changes a sheet that was returned; a classmate's own is another one
        refused = self.hand_in(student="Ada Quill", status=422)
        self.assertEqual(["returned"], [row["code"] for row in refused["faults"]])
        self.assertEqual(4, self.sheet()["marks"])
        self.hand_in(student="Bo Thrush")

    def test_what_is_still_open_is_told_in_one_place(self) -> None:
        told = " ".join(self.of_class("marking")["still_open"])
        for words in (
            "Not finished: ",
            "1 sheet to be given back.",
            "No own figures of Bench 1, China and Grog.",
            "4 of 4",
        ):
            self.assertIn(words, told)
        self.post(
            f"/api/classes/{self.number}/given-back", {"uuid": str(uuid4()), "sheets": [self.sheet()["uuid"]]}, 200
        )
        self.assertNotIn("to be given back", " ".join(self.of_class("marking")["still_open"]))

    def test_only_who_teaches_the_section_marks(self) -> None:
        body = {"uuid": str(uuid4()), "sheets": [self.sheet()["uuid"]]}
        for client in (self.flint, self.projector(True)):
            self.assertEqual(403, client.post(f"/api/classes/{self.number}/given-back", json=body).status_code)
        self.post(f"/api/classes/{self.number}/given-back", body | {"sheets": [str(uuid4())]}, 404)


class Table(DeskCase):
    @scene
    def play(self) -> None:
        """Four benches: three near seven, one not dry."""
        super().play()
        for bench, residue in (("Bench 1", "46.740"), ("China", "46.739"), ("Flint", "46.738"), ("Grog", "46.860")):
            self.settled(bench, residue)
        self.hand_in(student="Ada Quill")

    def test_benches_results_marks_and_who_lies_outside_with_why(self) -> None:
        found = self.of_class("table")
        self.assertEqual(["Bench 1", "China", "Flint", "Grog"], [row["name"] for row in found["rows"]])
        rows = {row["name"]: row for row in found["rows"]}
        self.assertEqual((5, 5), (rows["Flint"]["marks"], rows["Flint"]["of"]))
        self.assertIsNone(rows["China"]["marks"])
        self.assertTrue(rows["Grog"]["is_outside"])
        self.assertIn("it would take", rows["Grog"]["why"])
        self.assertEqual("", rows["Bench 1"]["why"])
        self.assertIn("their instruments explain", found["spread"])
        self.assertIn("1 sheet, 100 % of the marks", found["marks"])
        self.assertIsNone(found["beside"])

    def test_an_earlier_class_with_the_same_work_stands_beside_it(self) -> None:
        first = self.number
        self.clock.now += timedelta(days=7)
        self.laid = self.lay_out(title="Zinc again", starts="17:30", sample="1.7 g", practical=ASKING)
        self.number = self.laid["id"]
        self.runs = {place["bench"]: place["run"] for place in self.laid["places"]}
        for bench in ("Bench 1", "China", "Flint"):
            self.settled(bench, "46.739")
        found = self.of_class("table")
        self.assertEqual([first], [row["id"] for row in found["earlier"]])
        self.assertEqual("Zinc", found["beside"]["title"])
        self.assertIn("agree within their bands", found["beside"]["said"])
        self.assertEqual(4, len(found["beside"]["scale"]["dots"]))

    def test_csv_and_spreadsheet_say_the_same_and_another_reader_reads_the_figures(self) -> None:
        as_csv = self.client.get(f"/api/classes/{self.number}/table/file?written=csv").data.decode("utf-8-sig")
        rows = [row for row in csv.reader(io.StringIO(as_csv)) if row[0] == "Results" and row[4] == "ratio x"]
        self.assertEqual(["Bench 1", "China", "Flint", "Grog"], [row[1] for row in rows])
        # by hand: 0.782 g of water over 0.998 g of salt
        self.assertAlmostEqual(0.782 / 18.015 / (0.998 / 161.436), float(rows[2][5]), 4)
        book = CalamineWorkbook.from_filelike(
            io.BytesIO(self.client.get(f"/api/classes/{self.number}/table/file?written=ods").data)
        )
        self.assertEqual(["Results", "Marks"], book.sheet_names)
        read = [row for row in book.get_sheet_by_name("Results").to_python() if row[3] == "ratio x"]
        self.assertEqual([float(row[5]) for row in rows], [row[4] for row in read])
        marks = book.get_sheet_by_name("Marks").to_python()
        self.assertEqual(["Flint", "Ada Quill", "1", "water driven off", "0.781 g"], marks[1][:5])


class Signed(Table):
    def test_every_bench_is_signed_at_once_and_one_fingerprint_stands_for_all(self) -> None:
        before = self.of_class("signatures")
        self.assertEqual({"unsigned"}, {row["standing"] for row in before["benches"]})
        self.assertEqual("", before["fingerprint"])
        body = {"uuid": str(uuid4()), "name": "Hana Birch"}
        found = self.post(f"/api/classes/{self.number}/signatures", body, 200)
        self.assertEqual({"signed"}, {row["standing"] for row in found["benches"]})
        self.assertRegex(found["fingerprint"], r"^([0-9a-f]{4} ){3}[0-9a-f]{4}$")
        self.assertIn("4 of 4 signed", found["said"])
        # sent once more, or by the same name, nothing is signed twice
        again = self.post(f"/api/classes/{self.number}/signatures", body, 200)
        self.assertEqual(found, again)
        self.assertEqual(found, self.post(f"/api/classes/{self.number}/signatures", body | {"uuid": str(uuid4())}, 200))

    def test_what_was_changed_after_signing_shows_and_the_fingerprint_is_another_when_signed_anew(self) -> None:
        body = {"uuid": str(uuid4()), "name": "Hana Birch"}
        first = self.post(f"/api/classes/{self.number}/signatures", body, 200)["fingerprint"]
        run = self.get(f"/api/runs/{self.runs['Grog']}")
        vessel = next(row for row in run["readings"] if row["slot"] == "vessel")
        change = {"uuid": str(uuid4()), "supersedes": vessel["uuid"], "text": "45.710", "reason": "read again"}
        self.post(f"/api/runs/{self.runs['Grog']}/corrections", change | {"confirmed": True})
        found = self.of_class("signatures")
        grog = next(row for row in found["benches"] if row["name"] == "Grog")
        self.assertEqual("later", grog["standing"])
        self.assertIn("the answers are others now", grog["said"])
        self.assertIn("changed after signing: Grog", found["said"])
        anew = self.post(f"/api/classes/{self.number}/signatures", body | {"uuid": str(uuid4())}, 200)
        self.assertNotEqual(first, anew["fingerprint"])
        self.assertIn("4 of 4 signed", anew["said"])

    def test_a_bench_with_nothing_stays_unsigned_and_a_name_is_asked_for(self) -> None:
        body = {"uuid": str(uuid4()), "name": " "}
        self.assertEqual("name", self.post(f"/api/classes/{self.number}/signatures", body, 422)["faults"][0]["path"])
        for client in (self.flint, self.projector(True)):
            self.assertEqual(403, client.post(f"/api/classes/{self.number}/signatures", json=body).status_code)


class Reports(Table):
    def read(self, path: str) -> str:
        """The text of a PDF, by another library than the one that set it."""
        response = self.client.get(path)
        self.assertEqual(200, response.status_code)
        found = pypdf.PdfReader(io.BytesIO(response.data))
        return " ".join(" ".join(page.extract_text() for page in found.pages).split())

    def test_of_a_run_in_every_form_for_who_may_see_it(self) -> None:
        path = f"/api/runs/{self.runs['Flint']}/report"
        for form, begins in (("html", b"<!doctype"), ("pdf", b"%PDF"), ("odt", b"PK")):
            response = self.client.get(f"{path}?to={form}")
            self.assertTrue(response.data.startswith(begins), form)
            self.assertIn(f".{form}", response.headers["Content-Disposition"])
        self.assertEqual(403, self.tablet("China").get(path).status_code)
        self.assertEqual(401, self.app.test_client().get(path).status_code)
        self.assertEqual(422, self.client.get(f"{path}?to=docx").status_code)

    def copies(self) -> list[str]:
        """What students get of Flint's report: on their tablet, and from the archive that is printed for them."""
        found = [self.flint.get(f"/api/runs/{self.runs['Flint']}/report?to=html").text]
        lines = self.client.get(f"/api/classes/{self.number}/reports?to=html").text.splitlines()
        with zipfile.ZipFile(io.BytesIO(b64decode(json.loads(lines[-1])["archive"]))) as held:
            found += [held.read(name).decode() for name in held.namelist() if "flint" in name.lower()]
        self.assertEqual(2, len(found))
        return [re.sub("<[^>]+>", "", re.sub("(?s)<style.*?</style>", "", row)) for row in found]

    def test_what_an_unknown_is_held_to_be_stands_on_no_student_s_copy(self) -> None:
        """No label, held to be barium chloride; then the jar turns out to be a known one."""
        path = f"/api/runs/{self.runs['Flint']}"
        self.open("always")
        for salt, said in (("", False), ("BaCl2", True)):
            options = {"accepted": "BaCl2.2H2O"} | ({"salt": salt} if salt else {})
            known = len(self.get(path)["changes"])
            body = {"uuid": str(uuid4()), "options": options, "reason": "the jar", "known": known}
            self.post(f"{path}/changes", body, 200)
            own = re.sub("<[^>]+>", "", self.client.get(f"{path}/report?to=html").text)
            self.assertIn("BaCl2·2H2O", own)
            for copy in self.copies():
                with self.subTest(salt):
                    self.assertIn("StudentsAda Quill, Bo Thrush", copy)
                    self.assertEqual(said, "BaCl2·2H2O" in copy)
                    self.assertEqual(said, "2 H2O" in copy or "accepted" in copy.lower())

    def test_the_log_stands_in_it_with_who_wrote(self) -> None:
        run = self.get(f"/api/runs/{self.runs['Flint']}")
        vessel = next(row for row in run["readings"] if row["slot"] == "vessel")
        body = {"uuid": str(uuid4()), "supersedes": vessel["uuid"], "text": "45.001", "reason": "digits swapped"}
        self.post(f"/api/runs/{self.runs['Flint']}/corrections", body | {"confirmed": True, "by": "Marl"})
        told = self.read(f"/api/runs/{self.runs['Flint']}/report")
        self.assertIn("digits swapped", told)
        self.assertIn("Marl", told)

    def test_a_tablet_before_its_time_gets_it_without_the_answers(self) -> None:
        china = self.tablet("China")
        page = china.get(f"/api/runs/{self.runs['China']}/report?to=html")
        self.assertEqual(200, page.status_code)
        self.assertNotIn("ratio x", page.text)
        self.assertNotIn("7H", page.text.replace("<sub>", "").split("</style>")[1])
        self.assertIn("46.739", page.text)

    def test_a_page_of_it_may_do_nothing_but_be_read(self) -> None:
        response = self.client.get(f"/api/runs/{self.runs['Flint']}/report?to=html")
        self.assertIn("default-src 'none'", response.headers["Content-Security-Policy"])

    def test_of_the_class_its_slips_and_a_student(self) -> None:
        told = self.read(f"/api/classes/{self.number}/report")
        for words in ("Zinc", "Flint", "Grog", "middle of the class", "Waste of the class", "5 of 5"):
            self.assertIn(words, told)
        slips = self.read(f"/api/classes/{self.number}/report?of=slips")
        for bench in ("Bench 1", "China", "Flint", "Grog"):
            self.assertIn(bench, slips)
        student = self.read(f"/api/classes/{self.number}/report?of=student&student=Ada%20Quill")
        self.assertIn("Own figures, trial 1", student)
        self.assertIn("0.781 g", student)
        self.of_class("report?of=student&student=Nobody", 404)

    def test_what_a_bench_handed_in_together_stands_in_the_report_of_each_of_them_and_of_no_other(self) -> None:
        theirs = {"uuid": str(uuid4()), "trial": "1", "claims": OWN | {"water_mass": "0.790 g"}}
        path = f"/api/runs/{self.runs['China']}/own-figures"
        self.assertEqual(200, self.tablet("China").post(path, json=theirs).status_code)
        self.hand_in()
        for student, told, other in (("Bo Thrush", "0.781 g", "0.790 g"), ("Ada Quill", "0.781 g", "0.790 g")):
            found = self.read(f"/api/classes/{self.number}/report?of=student&student={student.replace(' ', '%20')}")
            with self.subTest(student):
                self.assertIn("by the bench together", found)
                self.assertIn(told, found)
                self.assertNotIn(other, found)

    def test_a_right_formula_that_their_own_ratio_does_not_give_is_told_as_such(self) -> None:
        self.hand_in(student="Ada Quill", claims=OWN | {"water_ratio": "7.81"})
        _, second = self.sheet()["versions"]
        body = {"uuid": str(uuid4()), "sheet": second["uuid"], "choice": "counts"}
        self.post(f"/api/classes/{self.number}/sheets", body, 200)
        line = next(row for row in self.sheet()["lines"] if row["name"] == "formula")
        self.assertEqual("right", line["status"])
        found = self.read(f"/api/classes/{self.number}/report?of=student&student=Ada%20Quill")
        self.assertIn("though your own ratio x, 7.81, does not", found)
        self.assertNotIn("As the readings give it.", found)

    def test_all_reports_come_in_one_archive_and_tell_how_far_they_are(self) -> None:
        response = self.client.get(f"/api/classes/{self.number}/reports?to=odt")
        lines = [json.loads(line) for line in response.text.splitlines()]
        self.assertEqual([1, 2, 3, 4, 5], [row["done"] for row in lines])
        self.assertEqual(["Bench 1", "China", "Flint", "Grog", "Zinc"], [row["whose"] for row in lines])
        with zipfile.ZipFile(io.BytesIO(b64decode(lines[-1]["archive"]))) as held:
            self.assertEqual(
                ["00-class.odt", "01-bench-1.odt", "02-china.odt", "03-flint.odt", "04-grog.odt"],
                sorted(held.namelist()),
            )
            self.assertIsNone(held.testzip())

    def test_a_report_of_a_run_with_nothing_in_it(self) -> None:
        self.assertIn("Nothing was weighed", self.read(f"/api/runs/{self.start()['uuid']}/report"))
