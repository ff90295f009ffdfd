"""Several trials in a run: each has its own steps, timers, questions and result; together they have a mean."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from tests.support.runs import document
from tests.support.server import AppCase, scene

ENDS = ("30.351", "30.338", "30.337")


class SeveralTrials(AppCase):
    @scene
    def play(self) -> None:
        super().play()
        self.run_view = self.start(options={"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"})
        self.uuid = self.run_view["uuid"]

    def another(self, label: str = "2", status: int = 200) -> Any:
        return self.post(f"/api/runs/{self.uuid}/trials", {"label": label}, status)

    def dehydrate(self, trial: str, empty: str, loaded: str, *ends: str, **more: Any) -> Any:
        for slot, text in (("vessel", empty), ("vessel_sample", loaded)):
            found = self.weigh(self.run_view, slot, text, trial=trial)
        for position, text in enumerate(ends, start=1):
            found = self.weigh(self.run_view, "vessel_residue", text, position, trial=trial, **more)
        return found

    def mark(self, trial: str, step: str, kind: str) -> Any:
        body = {"uuid": str(uuid4()), "step": step, "kind": kind, "trial": trial}
        return self.post(f"/api/runs/{self.uuid}/steps", body)

    def now(self, view: Any) -> Any:
        return next(step for step in view["steps"] if step["state"] == "now")

    def test_a_further_trial_begins_at_the_first_step_and_leaves_the_first_alone(self) -> None:
        first = self.dehydrate("1", "29.412", "31.058", *ENDS)
        second = self.another(first["next_trial"])
        self.assertEqual((first["trial"]["label"], first["next_trial"]), ("1", "2"))
        self.assertEqual((second["trial"]["label"], second["next_trial"]), ("2", "3"))
        self.assertEqual([row["label"] for row in second["trials"]], ["1", "2"])
        self.assertEqual(second["entry"]["slot"], "vessel")
        self.assertEqual(second["stair"], [])
        self.assertIsNone(second["answer"]["headline"])
        again = self.get(f"/api/runs/{self.uuid}?trial=1")
        self.assertEqual(again["answer"]["headline"], first["answer"]["headline"])

    def test_the_same_label_twice_is_one_trial(self) -> None:
        self.another()
        self.assertEqual(self.another()["trials"], [])
        self.assertEqual([row["label"] for row in self.get(f"/api/runs/{self.uuid}")["trials"]], ["1", "2"])

    def test_a_trial_needs_a_label_and_a_run_holds_two_hundred(self) -> None:
        self.assertEqual(self.another(" ", 422)["faults"][0]["path"], "label")
        trials = [{"label": str(number), "readings": {"vessel": "29.412 g"}} for number in range(1, 200)]
        self.uuid = self.client.post("/api/runs/import", json=document() | {"trials": trials}).json["uuid"]
        self.assertEqual(len(self.another("200")["trials"]), 200)
        self.assertIn("200 trials", self.another("201", 422)["faults"][0]["message"])

    def test_steps_and_timers_belong_to_their_trial(self) -> None:
        self.mark("1", "fire", "started")
        self.another()
        self.assertIsNone(self.now(self.get(f"/api/runs/{self.uuid}?trial=2"))["timer"]["ends_at"])
        self.assertIsNotNone(self.now(self.get(f"/api/runs/{self.uuid}?trial=1"))["timer"]["ends_at"])
        moved_on = self.mark("2", "fire", "finished")
        self.assertEqual(self.now(moved_on)["slot"], "vessel")
        self.assertEqual(self.now(self.get(f"/api/runs/{self.uuid}?trial=1"))["key"], "fire")

    def test_the_list_names_the_trial_whose_timer_ends_first(self) -> None:
        self.mark("1", "fire", "started")
        self.another()
        row = self.get("/api/runs")["runs"][0]
        self.assertTrue(row["doing"].startswith("Trial 1: "), row["doing"])
        self.mark("1", "fire", "finished")
        self.mark("2", "fire", "started")
        row = self.get("/api/runs")["runs"][0]
        self.assertTrue(row["doing"].startswith("Trial 2: "), row["doing"])
        self.assertIsNotNone(row["timer_ends_at"])

    def test_a_reading_is_doubted_against_its_own_trial(self) -> None:
        self.dehydrate("1", "29.412", "31.058")
        self.another()
        self.weigh(self.run_view, "vessel", "33.000", trial="2")
        doubt = self.weigh(self.run_view, "vessel_sample", "31.104", trial="2", status=409)
        self.assertEqual(doubt["code"], "doubt")
        self.assertIn("33.000", doubt["title"])

    def test_without_a_word_the_trial_that_has_its_turn_is_shown(self) -> None:
        self.another()
        self.assertEqual(self.get(f"/api/runs/{self.uuid}")["trial"]["label"], "1")
        self.dehydrate("1", "29.412", "31.058", *ENDS)
        self.assertEqual(self.get(f"/api/runs/{self.uuid}")["trial"]["label"], "2")

    def test_an_unknown_trial_is_said(self) -> None:
        for path in ("?trial=9", "/suspects?trial=9", "/suspects/replay?trial=9&code=x&dose=1"):
            self.assertIn("no trial '9'", self.get(f"/api/runs/{self.uuid}{path}", 404)["title"])
        reading = self.weigh(self.run_view, "vessel", "31.204", trial="9", status=404)
        self.assertIn("no trial '9'", reading["title"])
        body = {"uuid": str(uuid4()), "tag": "popping", "trial": "9"}
        self.post(f"/api/runs/{self.uuid}/observations", body, 404)

    def test_a_correction_moves_only_its_trial(self) -> None:
        first = self.dehydrate("1", "29.412", "31.058", *ENDS)
        self.another()
        second = self.dehydrate("2", "29.410", "31.104", "30.378", "30.362", "30.361")
        row = next(one for one in second["readings"] if one["trial"] == "2" and one["slot"] == "vessel")
        body = {"uuid": str(uuid4()), "supersedes": row["uuid"], "text": "29.411"}
        self.post(f"/api/runs/{self.uuid}/corrections", body)
        self.assertNotEqual(
            self.get(f"/api/runs/{self.uuid}?trial=2")["answer"]["headline"], second["answer"]["headline"]
        )
        self.assertEqual(self.get(f"/api/runs/{self.uuid}?trial=1")["answer"]["headline"], first["answer"]["headline"])

    def test_three_side_by_side_name_the_one_that_spattered(self) -> None:
        self.dehydrate("1", "29.412", "31.058", *ENDS)
        self.another()
        self.dehydrate("2", "29.410", "31.104", "30.378", "30.362", "30.361")
        self.another("3")
        self.assertIsNone(self.get(f"/api/runs/{self.uuid}/comparison")["rows"][2]["value"])
        self.dehydrate("3", "29.411", "31.070", "30.332", "30.317", "30.316", confirmed=True)
        found = self.get(f"/api/runs/{self.uuid}/comparison")
        codes = [row["code"] for row in found["verdicts"]]
        self.assertEqual(codes, ["replicates-disagree", "odd-trial", "accurate-not-precise"])
        self.assertEqual(next(row["about"] for row in found["verdicts"] if row["code"] == "odd-trial"), "3")
        self.assertEqual((found["accepted"], found["accepted_text"]), (7, "7"))
        results = {row["label"]: row for row in found["results"]}
        self.assertEqual(results["mass of sample"]["mean"], "")  # masses go with the sample: no mean
        self.assertEqual(len(results["percent water"]["values"]), 3)
        self.assertNotEqual(results["percent water"]["deviation"], "")
        self.assertIn("mean of 3", self.get("/api/runs")["runs"][0]["answer"]["headline"])

    def test_suspects_are_those_of_the_trial_asked_about(self) -> None:
        self.dehydrate("1", "29.412", "31.058", *ENDS)
        self.another()
        self.dehydrate("2", "29.410", "31.104", "30.500", "30.499")
        first = self.get(f"/api/runs/{self.uuid}/suspects?trial=1")["found"]
        second = self.get(f"/api/runs/{self.uuid}/suspects?trial=2")["found"]
        self.assertNotEqual(first["measured"], second["measured"])
        code = second["suspects"][0]["code"]
        path = f"/api/runs/{self.uuid}/suspects/replay?trial=2&code={code}&dose={second['suspects'][0]['dose']}"
        self.assertAlmostEqual(self.get(path)["result"], second["measured"], places=4)

    def test_a_run_file_with_two_trials_comes_back_with_two(self) -> None:
        self.dehydrate("1", "29.412", "31.058", *ENDS)
        self.another()
        self.dehydrate("2", "29.410", "31.104")
        taken = self.client.get(f"/api/runs/{self.uuid}/run-file").data
        opened = self.client.post("/api/runs/import", data=taken).json
        self.assertEqual([row["label"] for row in opened["trials"]], ["1", "2"])
        self.assertEqual(opened["trial"]["label"], "2")
        self.assertEqual(opened["entry"]["slot"], "vessel_residue")

    def test_a_tube_goes_on_where_the_trial_before_ended(self) -> None:
        zinc = {"reagent": "Zn", "equation": "Zn + 2 HCl -> ZnCl2 + H2"}
        run = self.start(method="gas_over_water", options=zinc, schools={"tube": "long", "levels": "equal"})
        for slot, text in (
            ("sample", "0.048"), ("volume_start", "0.00"), ("volume_end", "18.20"), ("temperature", "21.0"),
            ("barometer", "952.4"),
        ):  # fmt: skip
            self.weigh(run, slot, text)
        further = self.post(f"/api/runs/{run['uuid']}/trials", {"label": "2"})
        hints = {row["slot"]: row["hint"] for row in further["upcoming"]}
        self.assertEqual(hints["volume_start"], "Trial 1: 18.20 mL")
        self.assertEqual(hints["barometer"], "Trial 1: 952.4 hPa")
        self.assertEqual(hints["temperature"], "Trial 1: 21.0 °C")
        self.assertEqual(hints["volume_end"], "")

    def test_a_reading_that_all_trials_share_is_not_asked_for_again(self) -> None:
        readings = {"vessel_sample": "31.058 g"}
        file = document(readings, shared={"vessel": "29.412 g"})
        opened = self.client.post("/api/runs/import", json=file).json
        self.assertEqual(opened["entry"]["slot"], "vessel_residue")
        self.assertEqual([step["value"] for step in opened["steps"] if step["slot"] == "vessel"], ["29.412"])
        further = self.post(f"/api/runs/{opened['uuid']}/trials", {"label": "2"})
        self.assertEqual(further["entry"]["slot"], "vessel_sample")


class Predictions(AppCase):
    @scene
    def play(self) -> None:
        super().play()
        self.uuid = self.start(options={"salt": "ZnSO4"})["uuid"]

    def predict(self, text: str, by: str = "Marl", status: int = 200) -> Any:
        body = {"uuid": str(uuid4()), "tag": "prediction", "text": text, "by": by}
        return self.post(f"/api/runs/{self.uuid}/observations", body, status)

    def test_they_stand_beside_the_result_that_comes_later(self) -> None:
        self.predict("7")
        self.predict("6,5", "Grog")
        self.predict("ZnSO4.7H2O", "Flint")
        view = self.predict("CuSO4", "Slip")
        self.assertTrue(view["can_predict"])
        self.assertEqual([row["inside"] for row in view["predictions"]], [None] * 4)
        view = self.weigh_all({"uuid": self.uuid}, "32.151", "32.136", "32.134")
        self.assertFalse(view["can_predict"])
        said = [row["said"] for row in view["predictions"]]
        self.assertEqual(said[0], "Marl (kiln) expected 7: inside the band.")
        self.assertRegex(said[1], r"^Grog \(kiln\) expected 6,5: off by \d+ times the band\.$")
        self.assertEqual(said[2], "Flint (kiln) expected ZnSO4·7H2O: inside the band.")
        self.assertEqual(said[3], "Slip (kiln) expected CuSO4; the data are nearest to ZnSO4·7H2O.")

    def test_one_that_comes_after_the_result_is_refused(self) -> None:
        self.weigh_all({"uuid": self.uuid}, "32.151")
        fault = self.predict("7", status=422)["faults"][0]
        self.assertEqual((fault["code"], fault["path"]), ("too-late", "text"))

    def test_one_that_is_neither_figure_nor_formula_is_refused(self) -> None:
        for text in ("", "many", "-7", "0", "1e12", "nan"):
            fault = self.predict(text, status=422)["faults"][0]
            self.assertEqual((fault["code"], fault["path"]), ("not-a-prediction", "text"), text)

    def test_it_travels_in_the_run_file(self) -> None:
        self.predict("7")
        self.weigh_all({"uuid": self.uuid}, "32.151", "32.136", "32.134")
        taken = self.client.get(f"/api/runs/{self.uuid}/run-file").data
        opened = self.client.post("/api/runs/import", data=taken).json
        self.assertEqual([row["said"] for row in opened["predictions"]], ["Marl (kiln) expected 7: inside the band."])

    def test_words_from_a_run_file_stand_as_they_are(self) -> None:
        file = document(observations=[{"tag": "prediction", "text": "quite a lot", "by": "Marl"}])
        opened = self.client.post("/api/runs/import", json=file).json
        self.assertEqual([row["said"] for row in opened["predictions"]], ["Marl expected: quite a lot"])
