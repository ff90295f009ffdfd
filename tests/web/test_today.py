"""The room's readings over HTTP: taken once, held by every run of the day; the register of instruments."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime
from typing import Any
from uuid import uuid4
from zoneinfo import ZoneInfo

from claykettle.service.laboratory import Laboratory
from claykettle.service.visit import Visit
from tests.support.server import AppCase

ZINC = {"reagent": "Zn", "equation": "Zn + 2 HCl -> ZnCl2 + H2"}
LEVEL = {"levels": "equal"}


class RoomCase(AppCase):
    def room(self, slot: str, text: str, status: int = 200, **more: Any) -> Any:
        """Record a reading of the room."""
        return self.post("/api/today/room", {"uuid": str(uuid4()), "slot": slot, "text": text} | more, status)

    def zinc(self, **more: Any) -> Any:
        """Start zinc over water."""
        return self.start(method="gas_over_water", options=ZINC | more.pop("options", {}), schools=LEVEL, **more)

    def seen(self, run: Any) -> Any:
        """The run as it stands."""
        return self.get(f"/api/runs/{run['uuid']}")

    def barometer(self, run: Any) -> list[tuple[str, str, bool]]:
        """Text, time and whether it stands, of every barometer figure in the run's log."""
        rows = [row for row in self.seen(run)["readings"] if row["slot"] == "barometer"]
        return [(row["text"], row["at"], row["current"]) for row in rows]


class TakenOnce(RoomCase):
    def test_a_run_begins_with_the_reading_that_stands_and_its_time(self) -> None:
        self.room("barometer", "952.4")
        at = self.get("/api/today")["log"][0]["at"]
        self.clock.move(minutes=30)
        run = self.zinc()
        self.assertEqual(self.barometer(run), [("952.4", at, True)])
        self.assertNotIn("barometer", [row["slot"] for row in run["upcoming"]])

    def test_it_proves_nothing_of_the_steps_before_it(self) -> None:
        """The barometer stands late in the course; that the room was read says not that the tube was."""
        self.room("barometer", "952.4")
        states = {row["key"]: row["state"] for row in self.zinc()["steps"]}
        self.assertEqual(states["leak_test"], "now")
        self.assertEqual(states["pressure"], "done")
        self.assertNotIn("missed", states.values())

    def test_a_run_that_began_before_takes_the_first_that_comes(self) -> None:
        runs = [self.zinc(), self.zinc()]
        self.assertIn("barometer", [row["slot"] for row in runs[0]["upcoming"]])
        today = self.room("barometer", "952.4")
        self.assertEqual([len(self.barometer(run)) for run in runs], [1, 1])
        self.assertEqual(today["log"][0]["runs"], 2)

    def test_it_is_one_variable_of_all_trials(self) -> None:
        self.room("barometer", "952.4")
        run = self.zinc()
        for trial, volume in (("1", "36.90"), ("2", "36.95")):
            if trial == "2":
                self.post(f"/api/runs/{run['uuid']}/trials", {"label": "2"})
            for slot, text in (("sample", "0.0930"), ("volume_end", volume), ("temperature", "21.0")):
                self.weigh(run, slot, text, trial=trial, confirmed=True)
        file = self.get(f"/api/runs/{run['uuid']}/run-file")
        self.assertEqual(list(file["shared"]), ["barometer"])
        self.assertEqual(file["shared"]["barometer"]["half_width"], "0.05 kPa")
        self.assertNotIn("barometer", file["trials"][0]["readings"])

    def test_later_readings_are_for_later_runs(self) -> None:
        self.room("barometer", "952.4")
        early = self.zinc()
        self.clock.move(hours=2)
        self.room("barometer", "950.1")
        late = self.zinc()
        self.assertEqual([row[0] for row in self.barometer(early)], ["952.4"])
        self.assertEqual([row[0] for row in self.barometer(late)], ["950.1"])

    def test_what_a_run_read_itself_stays(self) -> None:
        run = self.zinc()
        self.weigh(run, "barometer", "951.0")
        self.room("barometer", "952.4")
        self.assertEqual([row[0] for row in self.barometer(run)], ["951.0"])

    def test_a_run_that_asks_for_sea_level_takes_no_station_figure(self) -> None:
        self.post("/api/today/elevation", {"elevation": "520 m"})
        run = self.zinc(options={"barometer": "sea_level", "elevation": "520 m"})
        self.room("barometer", "952.4")
        self.assertEqual(self.barometer(run), [])
        self.room("sea_level", "1013.6")
        self.assertEqual([row[0] for row in self.barometer(run)], ["1013.6"])

    def test_a_run_that_came_in_a_file_takes_nothing_of_this_room(self) -> None:
        """It was read somewhere else; a barometer that it lacks stays missing."""
        run = self.zinc()
        self.weigh(run, "sample", "0.098")
        file = self.get(f"/api/runs/{run['uuid']}/run-file")
        opened = self.client.post("/api/runs/import", json=file).get_json()
        today = self.room("barometer", "952.4")
        self.assertEqual(self.barometer(opened), [])
        self.assertEqual([row[0] for row in self.barometer(run)], ["952.4"])
        self.assertEqual(today["log"][0]["runs"], 1)

    def test_looking_at_the_day_waits_for_nobody(self) -> None:
        """The page looks every few seconds; a bench that is just recording keeps its run to itself meanwhile."""
        run = self.zinc()
        self.room("barometer", "952.4")
        with self.database.transaction() as session:
            Visit(session, self.clock.now).run(run["uuid"], lock=True)
            with ThreadPoolExecutor(1) as pool:
                looked = pool.submit(lambda: self.signed_in(self.app).get("/api/today").status_code)
                self.assertEqual(looked.result(timeout=5), 200)

    def test_yesterday_s_reading_is_not_today_s(self) -> None:
        self.room("barometer", "952.4")
        self.clock.move(days=1)
        self.assertEqual(self.barometer(self.zinc()), [])

    def test_the_humidity_goes_only_where_the_course_reads_it(self) -> None:
        self.room("humidity", "42")
        self.room("temperature", "20.5")
        assumed = self.start(method="gas_density", options={"gas": "Ar"})
        read = self.start(method="gas_density", options={"gas": "Ar"}, schools={"humidity": "read"})
        slots = [sorted(row["slot"] for row in self.seen(run)["readings"]) for run in (assumed, read)]
        self.assertEqual(slots, [["temperature"], ["humidity", "temperature"]])

    def test_the_same_reading_sent_twice_is_one(self) -> None:
        body = {"uuid": str(uuid4()), "slot": "barometer", "text": "952.4"}
        self.post("/api/today/room", body)
        self.assertEqual(len(self.post("/api/today/room", body)["log"]), 1)


class Clocks(RoomCase):
    """A clock that jumps a day either way, and a laboratory that lies west of Greenwich."""

    def test_a_clock_once_ahead_dates_no_later_run(self) -> None:
        self.clock.move(days=1)
        ahead = self.start(title="Dated tomorrow")
        self.room("barometer", "951.0")
        self.clock.move(days=-1)
        after = self.start(title="Dated today")
        self.assertEqual((ahead["date"], after["date"]), ("2026-11-25", "2026-11-24"))
        # what was read of tomorrow's room is not today's
        self.assertEqual(self.get("/api/today")["log"], [])

    def test_in_a_record_time_never_runs_backwards_and_a_doubtful_clock_is_said(self) -> None:
        run = self.start()
        self.weigh(run, "vessel", "31.204")
        self.clock.move(hours=-3)
        run = self.weigh(run, "vessel_sample", "32.861")
        times = [datetime.fromisoformat(row["at"]) for row in run["readings"]]
        self.assertEqual(times, sorted(times))
        self.assertIn("stands 3 h before the last entry", run["clock_doubt"])
        self.clock.move(hours=3, minutes=5)
        run = self.weigh(run, "vessel_residue", "32.134")
        self.assertEqual(run["clock_doubt"], "")
        self.assertGreater(datetime.fromisoformat(run["readings"][-1]["at"]), times[-1])

    def test_an_evening_in_the_west_is_of_its_own_day(self) -> None:
        """At 17:30 and at 20:30 in Vancouver it is one evening; in Greenwich it is the next day by then."""
        self.laboratory = Laboratory(self.database, self.clock, zone=ZoneInfo("America/Vancouver"))
        self.app.extensions["claykettle"] = self.laboratory
        self.clock.now = datetime(2026, 11, 25, 1, 30, tzinfo=UTC)
        self.room("barometer", "951.0")
        self.clock.now = datetime(2026, 11, 25, 4, 30, tzinfo=UTC)
        run = self.zinc()
        self.assertEqual(run["date"], "2026-11-24")
        self.assertEqual([row[0] for row in self.barometer(run)], ["951.0"])


class AtOnce(RoomCase):
    def test_the_room_and_a_bench_at_the_same_moment_lose_nothing(self) -> None:
        """Both write to the run: whoever comes second does it once more on what the first one left."""
        for number in range(4):
            run = self.zinc(title=f"Run {number}")

            def weigh(slot: str, uuid: str = run["uuid"]) -> int:
                client = self.signed_in(self.app)
                if slot == "room":
                    body = {"uuid": str(uuid4()), "slot": "barometer", "text": "952.4"}
                    return client.post("/api/today/room", json=body).status_code
                text = {"sample": "0.098", "volume_end": "36.9", "temperature": "21.0"}[slot]
                body = {"uuid": str(uuid4()), "slot": slot, "position": 1, "text": text}
                return client.post(f"/api/runs/{uuid}/readings", json=body).status_code

            with ThreadPoolExecutor(4) as pool:
                found = list(pool.map(weigh, ("sample", "room", "volume_end", "temperature")))
            self.assertEqual(found, [200] * 4)
            slots = sorted(row["slot"] for row in self.seen(run)["readings"])
            self.assertEqual(slots, ["barometer", "sample", "temperature", "volume_end"])

    def test_two_corrections_of_one_reading_end_in_one(self) -> None:
        uuid = self.room("barometer", "925.4")["log"][0]["uuid"]
        run = self.zinc()

        def correct(text: str) -> int:
            body = {"uuid": str(uuid4()), "supersedes": uuid, "text": text, "reason": "digits swapped"}
            return self.signed_in(self.app).post("/api/today/room/corrections", json=body).status_code

        with ThreadPoolExecutor(2) as pool:
            found = sorted(pool.map(correct, ("952.4", "952.5")))
        self.assertEqual(found, [200, 409])
        self.assertEqual(len([row for row in self.barometer(run) if row[2]]), 1)


class Corrected(RoomCase):
    def correct(self, uuid: str, text: str, status: int = 200, reason: str = "digits swapped") -> Any:
        """Correct a reading of the room."""
        body = {"uuid": str(uuid4()), "supersedes": uuid, "text": text, "reason": reason}
        return self.post("/api/today/room/corrections", body, status)

    def test_every_run_that_took_it_gets_the_correction_with_its_reason(self) -> None:
        today = self.room("barometer", "925.4")
        runs = [self.zinc(), self.zinc()]
        self.clock.move(minutes=20)
        self.correct(today["log"][0]["uuid"], "952.4")
        for run in runs:
            self.assertEqual([(row[0], row[2]) for row in self.barometer(run)], [("925.4", False), ("952.4", True)])
            log = [row for row in self.seen(run)["readings"] if row["slot"] == "barometer"]
            self.assertEqual((log[1]["corrects"], log[1]["reason"]), ("925.4", "digits swapped"))

    def test_a_run_that_corrected_its_own_keeps_it(self) -> None:
        today = self.room("barometer", "925.4")
        run = self.zinc()
        row = next(row for row in self.seen(run)["readings"] if row["slot"] == "barometer")
        self.clock.move(minutes=5)
        body = {"uuid": str(uuid4()), "supersedes": row["uuid"], "text": "951.9", "reason": "read again"}
        self.post(f"/api/runs/{run['uuid']}/corrections", body)
        self.correct(today["log"][0]["uuid"], "952.4")
        self.assertEqual([row[0] for row in self.barometer(run) if row[2]], ["951.9"])

    def test_it_needs_a_reason_and_is_corrected_once(self) -> None:
        uuid = self.room("barometer", "925.4")["log"][0]["uuid"]
        self.assertEqual(self.correct(uuid, "952.4", 422, "")["faults"][0]["path"], "reason")
        today = self.correct(uuid, "952.4")
        rows = [(row["text"], row["current"], row["corrected"]) for row in today["log"]]
        self.assertEqual(rows, [("952.4", True, False), ("925.4", False, True)])
        self.assertEqual(self.correct(uuid, "953.0", 409)["code"], "conflict")


class Questioned(RoomCase):
    def test_sea_level_at_a_high_place_is_asked_about_and_kept_when_confirmed(self) -> None:
        self.post("/api/today/elevation", {"elevation": "520"})
        problem = self.room("barometer", "1013.6", 409)
        self.assertEqual((problem["code"], problem["doubt"]), ("doubt", "sea-level-figure"))
        self.assertEqual(self.get("/api/today")["log"], [])
        kept = self.room("barometer", "1013.6", confirmed=True)
        self.assertIn("reduced to sea level", kept["log"][0]["doubt"])

    def test_a_run_with_its_elevation_asks_at_its_own_barometer(self) -> None:
        run = self.zinc(options={"elevation": "520 m"})
        problem = self.weigh(run, "barometer", "1013.6", status=409)
        self.assertEqual(problem["doubt"], "sea-level-figure")
        self.weigh(run, "barometer", "952.4")

    def test_bad_input_is_said_at_its_field(self) -> None:
        for slot, text, path in (("barometer", "high", "text"), ("barometer", "12 mm", "text"), ("wind", "3", "slot")):
            with self.subTest(text):
                self.assertEqual(self.room(slot, text, 422)["faults"][0]["path"], path)
        self.assertIn("elevation", self.room("sea_level", "1013", 422)["title"])
        fault = self.post("/api/today/elevation", {"elevation": "high up"}, 422)["faults"][0]
        self.assertEqual(fault["path"], "elevation")


class OffTheOthers(RoomCase):
    def test_a_volume_per_gram_off_the_other_trials_is_asked_about(self) -> None:
        self.room("barometer", "1002.0")
        run = self.start(method="gas_over_water", options={"gas": "H2"})
        self.weigh(run, "sample", "0.098")
        self.weigh(run, "volume_end", "36.90")
        self.post(f"/api/runs/{run['uuid']}/trials", {"label": "2"})
        self.weigh(run, "sample", "0.097", trial="2")
        problem = self.weigh(run, "volume_end", "63.50", trial="2", status=409)
        self.assertEqual((problem["doubt"], problem["suggestion"]), ("off-others", "36.50"))
        kept = self.weigh(run, "volume_end", "63.50", trial="2", confirmed=True)
        self.assertIn("other trials", kept["readings"][-1]["doubt"])

    def test_of_a_known_metal_the_figure_itself_is_expected(self) -> None:
        self.room("barometer", "1002.0")
        run = self.weigh(self.zinc(), "sample", "0.098")
        entry = next(row for row in run["upcoming"] if row["slot"] == "volume_end")
        self.assertRegex(entry["expected"], r"^about 3[67]\.\d+ mL when it has ended$")
        self.assertIn("0.098 g of sample", entry["because"])
        problem = self.weigh(run, "volume_end", "63.50", status=409)
        self.assertEqual((problem["doubt"], problem["suggestion"]), ("unexpected", "36.50"))
        self.assertIn("Digits swapped?", problem["message"] if "message" in problem else str(problem))


class WrongSign(RoomCase):
    def test_a_minus_sign_is_asked_about_and_the_other_sign_offered(self) -> None:
        run = self.start(method="gas_over_water", options=ZINC)
        problem = self.weigh(run, "level_difference", "-62", status=409)
        self.assertEqual((problem["doubt"], problem["suggestion"]), ("wrong-sign", "62"))
        self.weigh(run, "level_difference", "-62", confirmed=True)
        self.assertEqual(self.seen(run)["readings"][-1]["text"], "-62")


class Register(RoomCase):
    def keep(self, status: int = 200, **fields: Any) -> Any:
        """Put an instrument on the shelf."""
        return self.post("/api/today/instruments", fields, status)

    def named(self, name: str) -> Any:
        """The instrument of this name."""
        return next(row for row in self.get("/api/today")["instruments"] if row["name"] == name)

    def test_half_a_division_is_taken_where_only_that_is_known(self) -> None:
        self.keep(kind="volume", name="Burette 50 mL", resolution="0.1", capacity="50", direction="inverted_burette")
        row = self.named("Burette 50 mL")
        self.assertEqual((row["half_width"], row["capacity"], row["decimals"]), ("0.05 mL", "50 mL", 2))

    def test_every_fault_of_the_form_is_said_at_once(self) -> None:
        problem = self.keep(422, kind="balance", name="Balance A", half_width="fine", direction="direct")
        paths = {fault["path"] for fault in problem["faults"]}
        self.assertEqual(paths, {"name", "half_width", "direction"})
        self.assertEqual(self.keep(422, kind="sextant", name="S")["faults"][0]["path"], "kind")
        burette = self.keep(422, kind="volume", name="B", half_width="0.05", direction="inverted_burette")
        self.assertEqual(burette["faults"][0]["path"], "capacity")

    def test_what_is_chosen_for_the_day_reads_its_runs(self) -> None:
        self.keep(kind="barometer", name="Aneroid", half_width="2 hPa")
        self.post("/api/today/defaults", {"kind": "barometer", "instrument": self.named("Aneroid")["id"]})
        self.assertEqual(self.zinc()["instruments"]["barometer"], {"name": "Aneroid", "half_width": "2 hPa"})
        wrong = {"kind": "ruler", "instrument": self.named("Aneroid")["id"]}
        self.assertEqual(self.post("/api/today/defaults", wrong, 422)["faults"][0]["path"], "instruments.ruler")

    def test_a_start_may_choose_another(self) -> None:
        self.keep(kind="thermometer", name="Digital", half_width="0.1 K")
        run = self.zinc(instruments={"thermometer": self.named("Digital")["id"]})
        self.assertEqual(run["instruments"]["thermometer"]["half_width"], "0.1 K")
        self.assertEqual(self.zinc()["instruments"]["thermometer"]["name"], "Thermometer")

    def test_a_single_reading_may_be_taken_with_another(self) -> None:
        self.keep(kind="balance", name="Balance D", half_width="0.0001")
        run = self.zinc()
        self.weigh(run, "sample", "0.0980", instrument="Balance D")
        row = self.seen(run)["readings"][0]
        self.assertEqual(row["instrument"], "Balance D")
        file = self.get(f"/api/runs/{run['uuid']}/run-file")
        self.assertEqual(file["trials"][0]["readings"]["sample"]["half_width"], "0.0001 g")
        self.assertEqual(file["instruments"]["balance"]["half_width"], "0.001 g")
        fault = self.weigh(run, "volume_end", "36.9", instrument="Balance D", status=422)["faults"][0]
        self.assertEqual((fault["path"], fault["code"]), ("instrument", "unknown-instrument"))

    def test_a_change_leaves_runs_as_they_were(self) -> None:
        run = self.zinc()
        old = self.named("Thermometer")
        self.keep(number=old["id"], kind="thermometer", name="Thermometer", half_width="1 K")
        self.assertEqual(self.seen(run)["instruments"]["thermometer"]["half_width"], "0.5 degC")
        self.assertEqual(self.zinc()["instruments"]["thermometer"]["half_width"], "1 K")

    def test_the_last_of_a_kind_stays_and_a_retired_one_is_offered_no_more(self) -> None:
        number = self.named("Thermometer")["id"]
        self.post(f"/api/today/instruments/{number}/retire", {}, 422)
        self.keep(kind="thermometer", name="Digital", half_width="0.1 K")
        self.post(f"/api/today/instruments/{number}/retire", {})
        self.assertNotIn("Thermometer", [row["name"] for row in self.get("/api/shelf")["instruments"]])
        self.post("/api/today/instruments/999/retire", {}, 404)
        self.post(f"/api/today/instruments/{number}/restore", {})
        self.assertIn("Thermometer", [row["name"] for row in self.get("/api/shelf")["instruments"]])
        self.post("/api/today/instruments/999/restore", {}, 404)


class RunFiles(RoomCase):
    def test_a_file_with_room_and_instruments_comes_back_as_it_went(self) -> None:
        self.room("barometer", "952.4")
        run = self.zinc()
        self.weigh(run, "sample", "0.098")
        file = self.get(f"/api/runs/{run['uuid']}/run-file")
        again = self.client.post("/api/runs/import", json=file)
        self.assertEqual(again.status_code, 201, again.text)
        assert again.json is not None
        back = self.get(f"/api/runs/{again.json['uuid']}/run-file")
        self.assertEqual(back["shared"], file["shared"])
        self.assertEqual(back["trials"], file["trials"])


class Calibrated(RoomCase):
    SODA = ("NaHCO3 + HCl -> NaCl + H2O + CO2", "2 NaHCO3 -> Na2CO3 + H2O + CO2")

    def test_a_run_on_a_known_sample_gives_the_next_its_figure(self) -> None:
        known = self.start(method="gas_by_mass_loss", title="Known", options={"equations": list(self.SODA)})
        for slot, text in (
            ("vessel_before", "90.000"), ("dish_sample", "6.880"), ("dish", "5.200"), ("vessel_after", "90.875"),
        ):  # fmt: skip
            self.weigh(known, slot, text)
        self.start(method="gas_by_mass_loss", title="Not weighed yet", options={"equations": [self.SODA[0]]})
        rows = self.get("/api/runs/calibrations?method=gas_by_mass_loss")["runs"]
        self.assertEqual([row["title"] for row in rows], ["Known"])
        options = {"equations": [rows[0]["options"]["equations"]]}
        options["dissolved"] = {"amount": rows[0]["options"]["dissolved.amount"]}
        run = self.start(method="gas_by_mass_loss", options=options, note="Dissolved gas from the run 'Known'.")
        self.assertEqual(run["options"]["dissolved"]["amount"]["text"], "1.707 mmol")
        self.assertIn("half_width", run["options"]["dissolved"]["amount"])
        self.assertEqual(run["note"], "Dissolved gas from the run 'Known'.")

    def test_methods_that_calibrate_nothing_say_so(self) -> None:
        self.assertEqual(self.get("/api/runs/calibrations?method=hydrate")["runs"], [])
        self.get("/api/runs/calibrations?method=alchemy", 422)
