"""Runs and classes found again by words, substance, method, student, time and state."""

from __future__ import annotations

from typing import Any
from urllib.parse import urlencode
from uuid import uuid4

from tests.support.server import scene
from tests.web.test_desk import DeskCase


class Search(DeskCase):
    @scene
    def play(self) -> None:
        """A class of zinc sulfate, Flint done and signed, and a run of its own with sulfur."""
        super().play()
        self.settled("Flint")
        self.settled("Grog", "46.860")
        tin = {"element": "Sn", "partner": "S"}
        self.tin = self.start(title="Tin_50% & sulfur", method="combination", options=tin)["uuid"]

    def find(self, status: int = 200, **wanted: Any) -> Any:
        """What is found."""
        return self.get(f"/api/search?{urlencode(wanted)}", status)

    def at(self, **wanted: Any) -> set[str]:
        """The benches of the runs that are found."""
        return {row["run"]["bench"] for row in self.find(**wanted)["runs"]}

    def test_by_words_that_must_all_be_there_in_any_order_large_or_small(self) -> None:
        self.assertEqual({"Flint"}, self.at(words="ZINC flint"))
        self.assertEqual(set(), self.at(words="zinc nowhere"))

    def test_by_substance_its_formula_or_its_name(self) -> None:
        for words in ("ZnSO4", "znso4.7h2o", "zinc sulfate heptahydrate"):
            with self.subTest(words):
                self.assertIn("Flint", self.at(words=words))
        self.assertEqual([self.tin], [row["run"]["uuid"] for row in self.find(words="tin")["runs"]])

    def test_by_student_also_of_part_of_the_name(self) -> None:
        found = self.find(words="quill")["runs"]
        self.assertEqual(1, len(found))
        self.assertEqual(["Ada Quill", "Bo Thrush"], found[0]["students"])

    def test_by_method_days_and_state(self) -> None:
        self.assertEqual([self.tin], [row["run"]["uuid"] for row in self.find(method="combination")["runs"]])
        self.assertEqual({"Grog"}, self.at(words="zinc", state="watch"))
        self.assertEqual({"Flint"}, self.at(words="zinc", state="good"))
        self.assertEqual(set(), self.at(since="2031-01-01"))
        self.assertIn("Flint", self.at(since="2020-01-01", until="2030-01-01"))
        self.post(f"/api/runs/{self.runs['Flint']}/signatures", {"uuid": str(uuid4()), "name": "Ada"})
        self.assertEqual({"Flint"}, self.at(state="signed"))
        self.assertNotIn("Flint", self.at(state="unsigned"))

    def test_a_class_by_its_title_or_its_practical(self) -> None:
        self.assertEqual(["Zinc"], [row["title"] for row in self.find(words="zinc")["classes"]])
        self.assertEqual([], self.find(words="tin")["classes"])

    def test_a_class_by_the_state_of_one_of_its_runs(self) -> None:
        self.assertEqual(["Zinc"], [row["title"] for row in self.find(words="zinc", state="watch")["classes"]])
        self.assertEqual([], self.find(words="zinc", state="signed")["classes"])
        self.post(f"/api/runs/{self.runs['Flint']}/signatures", {"uuid": str(uuid4()), "name": "Ada"})
        self.assertEqual(["Zinc"], [row["title"] for row in self.find(words="zinc", state="signed")["classes"]])

    def test_signs_that_mean_something_to_a_database_are_only_signs(self) -> None:
        self.assertEqual([self.tin], [row["run"]["uuid"] for row in self.find(words="tin_50%")["runs"]])
        self.assertEqual([], self.find(words="t_n")["runs"])
        self.assertEqual([], self.find(words="%zzz%")["runs"])
        self.find(words="' OR 1=1 --")
        # nor can a word ask for a state
        self.assertEqual([], self.find(words="unsigned")["runs"])

    def test_what_cannot_be_asked_is_refused_at_its_place(self) -> None:
        for wanted, path in (
            ({"method": "alchemy"}, "method"),
            ({"since": "yesterday"}, "since"),
            ({"state": "blue"}, "state"),
        ):
            with self.subTest(path):
                self.assertEqual(path, self.find(422, **wanted)["faults"][0]["path"].rpartition(".")[2])

    def test_only_ones_own_and_only_an_instructor(self) -> None:
        self.assertEqual(403, self.flint.get("/api/search?words=zinc").status_code)
        self.assertEqual(401, self.app.test_client().get("/api/search").status_code)

    def test_a_page_at_a_time(self) -> None:
        everything = self.find()
        self.assertFalse(everything["more"])
        count = len(everything["runs"])
        self.assertEqual(count - 1, len(self.find(skip=1)["runs"]))
        self.assertEqual([], self.find(skip=1000)["runs"])
