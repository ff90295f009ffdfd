"""A class from its sentence: what is said, what follows from it at once, and what is wrong at which part."""

from __future__ import annotations

import json
from itertools import pairwise
from typing import Any

from claykettle.core.methods.registry import all_methods
from claykettle.store.tables import Bench
from tests.support.classes import BLANC_FIXE, ZINC, PrepareCase


class TheSentence(PrepareCase):
    def test_it_is_said_whole_and_every_part_can_be_opened(self) -> None:
        self.more_benches("China", "Flint")
        found = self.prepared()
        self.assertRegex(
            self.said(found),
            r"^Three benches find the water of zinc sulfate heptahydrate in two trials each, in dishes, weighed in the "
            r"vessel, over a hot blue flame, no cover, until the mass is constant within 5 mg, with Balance A, on "
            r"\w+ \d+ \w+, 18:30, for 150 min\.$",
        )
        keys = [part["key"] for part in found["sentence"] if part["key"]]
        schools = [f"school:{name}" for name in ("vessel", "weighing", "heat", "cover")]
        self.assertEqual(
            keys, ["benches", "method", "material", "trials", *schools, "tolerance", "apparatus", "date", "length"]
        )
        self.assertEqual(found["faults"], [])

    def test_one_bench_finds_and_several_find(self) -> None:
        self.assertTrue(self.said(self.prepared()).startswith("One bench finds the water of "))

    def test_every_method_has_words_for_every_answer(self) -> None:
        """What a school says in the sentence is written for it, not its label."""
        for name, method in all_methods().items():
            course = self.get("/api/shelf")["methods"]
            schools = next(row for row in course if row["name"] == name)["procedures"][0]["schools"]
            for school in schools:
                with self.subTest(method=name, school=school["name"]):
                    self.assertEqual(set(method.aim.schools.get(school["name"], {})), set(school["choices"]))

    def test_a_question_that_does_not_arise_is_not_in_it(self) -> None:
        blanc = {"method": "precipitation", "options": BLANC_FIXE}
        by_gravity = self.prepared(blanc)
        self.assertIn("the paper folded in quarters", self.said(by_gravity))
        self.assertNotIn("the paper", self.said(self.prepared(blanc | {"schools": {"filter": "vacuum"}})))

    def test_a_salt_without_a_label_is_said_to_be_one(self) -> None:
        found = self.prepared({"method": "hydrate", "options": {}})
        self.assertIn("the water of a salt without a label", self.said(found))


class WhatFollows(PrepareCase):
    def test_a_hydrate_for_eight_benches_by_hand(self) -> None:
        """ZnSO4·7H2O is 43.86 % water (IUPAC weights): of 2.5 g are 1.096 g, the residue is 1.404 g."""
        self.more_benches("China", "Flint", "Grog", "Kaolin", "Marl", "Slip", "Terra")
        found = self.prepared(sample="2.5 g")
        look = found["sizing"]["asked"]
        residue = next(row["text"] for row in look["readings"] if "residue" in row["label"])
        self.assertEqual(residue, "31.404 g")  # 30 g of vessel, 2.5 × (1 − 0.43857) of salt
        self.assertEqual([row["amount"] for row in found["order"]], ["48.0 g"])  # 8 × 2 × 2.5 g × 1.2
        waste = {box["name"]: box["lines"] for box in found["waste"]["containers"]}
        amounts = [line["amount"] for lines in waste.values() for line in lines if line["amount"]]
        self.assertEqual(amounts, ["22.5 g"])  # 16 × 1.404 g
        pencil = [row["text"] for row in found["labels"] if row["on"] == "pencil"]
        self.assertEqual(len(pencil), 16)
        self.assertTrue(pencil[0].startswith("Bench 1 1 · "), pencil[0])

    def test_what_is_typed_over_changes_everything_that_hangs_on_it(self) -> None:
        first, second = self.prepared(sample="2.5 g"), self.prepared(ZINC | {"trials": 3}, sample="1.5 g", spare="0 %")
        self.assertEqual(first["order"][0]["amount"], "6.00 g")
        self.assertEqual(second["order"][0]["amount"], "4.50 g")
        self.assertIn("three trials", self.said(second))

    def test_a_solution_is_made_for_all_and_its_concentrate_ordered(self) -> None:
        """Zinc in hydrochloric acid: Zn + 2 HCl, 65.38 g/mol; 0.12 g take 3.671 mmol, 2.447 mL of 3 mol/L with 100 %
        more than that.
        """
        zinc = {
            "method": "gas_over_water",
            "options": {"reagent": "Zn", "equation": "Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)"},
            "trials": 1,
        }
        found = self.prepared(zinc, sample="0.12 g")
        self.assertEqual(self.wrong(found), {})
        need = next(row for row in found["sizing"]["asked"]["needs"] if row["formula"] == "HCl")
        self.assertEqual(need["volume_text"], "2.45 mL")
        [recipe] = found["recipes"]
        self.assertTrue(recipe["title"].startswith("HCl 3 mol/L"))
        self.assertIn("acid", " ".join(step["caution"] for step in recipe["steps"]).lower())
        bottle = next(row for row in found["order"] if row["makes"])
        self.assertEqual((bottle["what"], bottle["amount"], bottle["makes"]), ("HCl", recipe["take"], recipe["title"]))
        self.assertIn("bottle", [row["on"] for row in found["labels"]])

    def test_what_is_weighed_is_ordered_and_not_what_comes_of_it(self) -> None:
        """Barium chloride for blanc fixe, tin for its sulfide: 1 g a trial, a fifth to spare."""
        tin = {"method": "combination", "options": {"element": "Sn", "partner": "S", "product": "SnS"}}
        for practical, what in (({"method": "precipitation", "options": BLANC_FIXE}, "BaCl2·2H2O"), (tin, "tin")):
            with self.subTest(what=what):
                found = self.prepared(practical, sample="1 g")
                self.assertIn({"what": what, "amount": "1.20 g", "makes": ""}, found["order"])

    def test_a_synthesis_shows_its_table_and_orders_its_reagents(self) -> None:
        """2.0 g of salicylic acid for each of two trials, half of it more: 6.0 g."""
        aspirin = {
            "method": "synthesis",
            "options": {
                "equation": "C7H6O3 + C4H6O3 -> C9H8O4 + C2H4O2",
                "product": "C9H8O4",
                "reagents": ["C7H6O3 2.0 g", "C4H6O3 1.08 g/mL 5 mL"],
            },
            "trials": 2,
        }
        found = self.prepared(aspirin, spare="50 %")
        self.assertEqual(self.wrong(found), {})
        self.assertEqual([column["formula"] for column in found["table"]["columns"]][:2], ["C7H6O3", "C4H6O3"])
        self.assertEqual([row["amount"] for row in found["order"]], ["6.00 g", "15.0 mL"])

    def test_the_solutions_of_a_synthesis_are_made_and_what_they_are_made_from_is_ordered(self) -> None:
        """50 mL of 1.5 mol/L potassium hydroxide for one bench: a 50 mL flask, 0.075 mol of 56.106 g/mol, 4.208 g."""
        alum = {
            "method": "synthesis",
            "options": {
                "equation": "2 Al(s) + 2 KOH(aq) + 4 H2SO4(aq) + 22 H2O(l) -> 2 KAl(SO4)2.12H2O(s) + 3 H2(g)",
                "product": "KAl(SO4)2.12H2O",
                "reagents": [
                    {"formula": "Al", "planned": "1.0 g"},
                    {"formula": "KOH", "concentration": "1.5 mol/L", "planned": "50 mL"},
                    {"formula": "H2SO4", "concentration": "4.0 mol/L", "planned": "35 mL"},
                ],
            },
            "trials": 1,
        }
        found = self.prepared(alum, spare="0 %")
        orders = {row["what"]: (row["amount"], row["makes"]) for row in found["order"]}
        self.assertEqual(orders["Al"], ("1.00 g", ""))
        self.assertEqual(orders["KOH"], ("4.208 g KOH", "KOH 1.5 mol/L"))
        self.assertEqual(orders["H2SO4"][1], "H2SO4 4.0 mol/L")
        self.assertEqual(len(found["recipes"]), 2)
        cautions = " ".join(step["caution"] for row in found["recipes"] for step in row["steps"])
        self.assertIn("little by little", cautions)

    def test_how_strong_a_solution_is_the_practical_says_and_not_the_room(self) -> None:
        """1.000 g BaCl2·2H2O is 4.094 mmol (244.26 g/mol); a fifth more sodium sulfate is 4.913 mmol: 9.83 mL of
        0.500 mol/L.
        """
        reagents = [{"formula": "BaCl2.2H2O"}, {"formula": "Na2SO4", "concentration": "0.500 mol/L"}]
        practical = {"method": "precipitation", "options": BLANC_FIXE | {"reagents": reagents}}
        found = self.prepared(practical, sample="1 g", setting={"concentration": "0.25 mol/L"})
        need = next(row for row in found["sizing"]["asked"]["needs"] if row["formula"] == "Na2SO4")
        self.assertEqual(need["volume_text"], "9.83 mL")
        self.assertEqual(found["recipes"][0]["title"], "Na2SO4 0.500 mol/L")

    def test_every_method_can_be_prepared_as_it_first_stands(self) -> None:
        """What is open is said at its part; nothing ends in a fault of the program."""
        for name in all_methods():
            with self.subTest(method=name):
                found = self.prepared({"method": name})
                self.assertTrue(self.said(found).startswith("One bench "))
                self.assertTrue(all(row["part"] for row in found["faults"]), found["faults"])


class WhatIsWrong(PrepareCase):
    def test_each_fault_stands_at_its_part_and_the_rest_of_the_page_is_there(self) -> None:
        cases: list[tuple[dict[str, Any], str, str]] = [
            ({"date": "2020-01-01"}, "date", "That day is over"),
            ({"date": "yesterday"}, "date", "Write the day as"),
            ({"date": "2999-01-01"}, "date", "look at the year"),
            ({"starts": "25:00"}, "date", "Write the time as"),
            ({"length": ""}, "length", "how long"),
            ({"length": "0 min"}, "length", "one minute"),
            ({"length": "3 g"}, "length", ""),
            ({"benches": []}, "benches", "one bench at least"),
            ({"benches": [1, 99999]}, "benches", "not on the list"),
            ({"sample": "100 kg"}, "", ""),
            ({"sample": "much"}, "sample", ""),
            ({"spare": "some"}, "sample", ""),
            ({"setting": {"vessel_mass": "heavy"}}, "apparatus", ""),
            ({"room": {"balance": -1}}, "room", "not less than none"),
            ({"stagger": "a while"}, "room", ""),
        ]
        for more, part, words in cases:
            with self.subTest(**more):
                found = self.prepared(**more)
                if part:
                    self.assertIn(part, self.wrong(found))
                    self.assertIn(words, self.wrong(found)[part])
                self.assertTrue(found["sentence"])
                self.assertTrue(found["kit"])

    def test_faults_of_the_practical_stand_at_theirs(self) -> None:
        for practical, part in (
            (ZINC | {"options": {"salt": "Xx"}}, "material"),
            (ZINC | {"options": ZINC["options"] | {"tolerance": "soon"}}, "tolerance"),  # type: ignore[operator]
            (ZINC | {"schools": {"vessel": "bucket"}}, "school:vessel"),
            (ZINC | {"trials": 21}, "trials"),
            (ZINC | {"trials": 0}, "trials"),
            (ZINC | {"trials": 10**9}, "trials"),
            (ZINC | {"trials": "many"}, "trials"),
            (ZINC | {"instruments": {"balance": "None such"}}, "apparatus"),
            (ZINC | {"report": [{"line": "no_such_line"}]}, "practical"),
            (ZINC | {"colour": "blue"}, ""),
        ):
            with self.subTest(part=part):
                self.assertIn(part, self.wrong(self.prepared(practical)))

    def test_a_question_half_written_takes_nothing_from_the_page(self) -> None:
        whole = self.prepared()
        for more in (
            {"before": [{"ask": "", "kind": "text"}]},
            {"after": [{"ask": "Which?", "kind": "choice", "choices": []}]},
            {"report": [{"line": ""}]},
        ):
            with self.subTest(**more):
                found = self.prepared(ZINC | more)
                self.assertIn("practical", self.wrong(found))
                for part in ("sizing", "kit", "order", "sentence"):
                    self.assertEqual(whole[part], found[part])
                self.post("/api/classes", self.wish(ZINC | more), 422)

    def test_a_method_nobody_knows_is_refused(self) -> None:
        self.post("/api/prepare", self.wish({"method": "alchemy"}), 422)

    def test_no_class_begins_in_the_hour_that_is_left_out(self) -> None:
        """In central Europe the clocks go from 2:00 to 3:00 on the last Sunday of March, on 2027-03-28."""
        self.in_zone("Europe/Berlin")
        self.assertIn("no such time", self.wrong(self.prepared(date="2027-03-28", starts="02:30")).get("date", ""))
        self.assertNotIn("date", self.wrong(self.prepared(date="2027-03-28", starts="03:30")))
        # in October an hour comes twice: the first of the two is meant
        self.assertNotIn("date", self.wrong(self.prepared(date="2027-10-31", starts="02:30")))


class TheTimetable(PrepareCase):
    def lines(self, wish: dict[str, Any], session: int = 1, status: int = 200) -> list[Any]:
        """The timetable as it becomes known."""
        response = self.client.post(f"/api/prepare/timetable?session={session}", json=wish)
        self.assertEqual(response.status_code, status, response.text[:500])
        return [json.loads(line) for line in response.text.splitlines()]

    def test_it_is_told_early_grows_and_is_whole_at_the_end(self) -> None:
        self.more_benches("China", "Flint", "Grog", "Kaolin", "Marl", "Slip", "Terra")
        lines = self.lines(self.wish())
        done = [row["done"] for row in lines]
        self.assertEqual(done, sorted(done))
        self.assertEqual(done[-1], 1.0)
        tables = [row["table"] for row in lines if row["table"]]
        self.assertLess(tables[0]["evenings"], 50)
        self.assertEqual(tables[-1]["evenings"], 500)
        self.assertEqual([lane["bench"] for lane in tables[-1]["lanes"]][:2], ["Bench 1", "China"])
        self.assertEqual(tables[-1]["bottleneck"], "balance")
        self.assertIn("a third balance", [row["text"] for row in tables[-1]["otherwise"]])
        self.assertIn("balance", " ".join(tables[-1]["said"]))

    def test_nobody_is_at_a_balance_that_another_has(self) -> None:
        """In the evening that is drawn never more are weighing than there are balances."""
        self.more_benches("China", "Flint", "Grog", "Kaolin")
        table = self.lines(self.wish(room={"balance": 1}))[-1]["table"]
        weighing = sorted(
            (bar["begun"], bar["done"]) for lane in table["lanes"] for bar in lane["bars"] if bar["at"] == "balance"
        )
        self.assertGreater(len(weighing), 20)
        for (_, done), (begun, _) in pairwise(weighing):
            self.assertGreaterEqual(begun + 0.02, done)

    def test_ten_minutes_are_too_short_and_it_says_so(self) -> None:
        table = self.lines(self.wish(length="10 min"))[-1]["table"]
        self.assertEqual(table["fits"], 0)
        self.assertEqual(table["said"][0], "No evening ends in time.")
        self.assertIsNone(table["latest_start"])

    def test_what_dries_over_night_is_another_session(self) -> None:
        wish = self.wish({"method": "precipitation", "options": BLANC_FIXE})
        first, second = self.lines(wish)[-1], self.lines(wish, 2)[-1]
        self.assertEqual((first["sessions"], first["after"]), (2, ""))
        self.assertIn("oven", second["after"].lower())
        self.assertNotEqual(first["table"]["lanes"][0]["bars"], second["table"]["lanes"][0]["bars"])
        self.post("/api/prepare/timetable?session=3", wish, 422)

    def test_a_room_without_a_balance_is_refused_at_the_room(self) -> None:
        problem = self.post("/api/prepare/timetable", self.wish(room={"balance": 0}), 422)
        self.assertEqual(problem["faults"][0]["path"], "room.balance")

    def test_two_hundred_benches_of_twenty_trials_pass_fewer_evenings(self) -> None:
        with self.database.transaction() as session:
            session.add_all(Bench(name=f"B{number}") for number in range(199))
        lines = self.client.post("/api/prepare/timetable", json=self.wish(ZINC | {"trials": 20})).iter_encoded()
        first = next(json.loads(line) for line in lines if b'"table":{' in line)
        self.assertEqual((first["table"]["evenings"], len(first["table"]["lanes"])), (4, 200))
        self.assertEqual(first["table"]["fits"], 0)

    def test_without_the_amount_it_is_timed_all_the_same(self) -> None:
        """How much is weighed does not bear on when."""
        self.assertTrue(self.lines(self.wish({"method": "hydrate", "options": {}}))[-1]["table"])
