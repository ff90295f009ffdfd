"""What goes wrong with tablets: clocks, queues sent twice or late, two at one weighing, a class that has ended."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from flask.testing import FlaskClient

from tests.support.server import scene
from tests.web.test_lab import LabCase

FIGURES = (("vessel", 1, "45.740"), ("vessel_sample", 1, "47.520"), ("vessel_residue", 1, "46.741"))


class Slips(LabCase):
    @scene
    def play(self) -> None:
        super().play()
        self.flint = self.tablet("Flint")

    def queued(self, *at: str) -> list[dict[str, Any]]:
        """What waits on a tablet, typed at these moments."""
        rows = zip(FIGURES, at or ("2026-11-24T18:01:00Z",) * len(FIGURES), strict=False)
        return [
            {"uuid": str(uuid4()), "slot": slot, "position": n, "text": text, "trial": "1", "typed_at": moment}
            for (slot, n, text), moment in rows
        ]

    def send(self, queue: list[dict[str, Any]], client: FlaskClient | None = None, bench: str = "Flint") -> list[int]:
        """A tablet sends what waits; what is answered to each."""
        path = f"/api/runs/{self.runs[bench]}/readings"
        return [(client or self.flint).post(path, json=row).status_code for row in queue]

    def readings(self) -> list[Any]:
        """What Flint's record holds, by figure and moment."""
        return [(row["text"], row["at"]) for row in self.get(f"/api/runs/{self.runs['Flint']}")["readings"]]

    def test_a_queue_sent_twice_by_two_pages_or_from_a_restored_device_is_kept_once(self) -> None:
        queue = self.queued()
        self.assertEqual([200] * 3, self.send(queue))
        self.assertEqual([200] * 3, self.send(queue))
        self.assertEqual([200] * 3, self.send(queue, self.tablet("Flint")))
        self.assertEqual([text for _, _, text in FIGURES], [text for text, _ in self.readings()])

    def test_a_house_restored_from_before_takes_what_it_has_lost_and_keeps_the_rest_once(self) -> None:
        """The tablet does not know which of its figures the restored house still has, and sends all of them."""
        queue = self.queued()
        self.send(queue[:1])
        self.assertEqual([200] * 3, self.send(queue))
        self.assertEqual(3, len(self.readings()))
        # a run that was begun after the backup is not there any more: that is said, and nothing is taken for it
        self.runs["Flint"] = str(uuid4())
        self.assertEqual([404] * 3, self.send(queue))

    def test_a_tablet_whose_clock_is_wrong_by_years_does_not_move_the_record(self) -> None:
        self.send(self.queued("2019-01-01T00:00:00Z", "2026-11-24T17:29:00Z", "2031-06-01T12:00:00Z"))
        self.assertEqual(
            ["2026-11-24T17:30:00Z", "2026-11-24T17:29:00Z", "2026-11-24T17:30:00Z"], [at for _, at in self.readings()]
        )
        self.assertEqual("", self.get(f"/api/runs/{self.runs['Flint']}")["clock_doubt"])

    def test_two_tablets_at_one_weighing_the_second_is_told_and_nothing_is_written_over(self) -> None:
        other = self.tablet("Flint")
        self.assertEqual([200], self.send(self.queued()[:1]))
        second = self.queued()[0] | {"text": "45.741"}
        answer = other.post(f"/api/runs/{self.runs['Flint']}/readings", json=second)
        self.assertEqual((409, "conflict"), (answer.status_code, answer.json["code"]))
        self.assertIn("45.740", answer.json["title"])
        self.assertEqual(["45.740"], [text for text, _ in self.readings()])

    def test_a_bench_writes_in_no_other_bench_s_run(self) -> None:
        self.assertEqual([403] * 3, self.send(self.queued(), bench="China"))
        self.assertEqual([], self.get(f"/api/runs/{self.runs['China']}")["readings"])

    def test_a_feed_held_open_after_the_class_has_ended_is_told_so_and_goes_on_when_it_is_opened_again(self) -> None:
        since = self.board(client=self.flint)["since"]
        self.post(f"/api/classes/{self.number}/ended", {"ended": True})
        path = f"/api/classes/{self.number}/changes?since={since}"
        told = self.flint.get(path)
        self.assertEqual((403, "not-yours"), (told.status_code, told.json["code"]))
        self.assertIn("closed", told.json["title"])
        self.assertEqual([403] * 3, self.send(self.queued()))
        self.post(f"/api/classes/{self.number}/ended", {"ended": False})
        self.assertEqual(200, self.flint.get(path).status_code)
        self.assertEqual([200] * 3, self.send(self.queued()))

    def test_a_closed_class_is_not_joined(self) -> None:
        code = self.post("/api/class/code", {})["code"]
        self.post(f"/api/classes/{self.number}/ended", {"ended": True})
        answer = self.app.test_client().post("/api/join", json={"code": code, "bench": "Flint"})
        self.assertEqual(422, answer.status_code)

    def test_a_queue_from_a_drawer_is_taken_the_next_day_with_the_time_at_which_it_was_typed(self) -> None:
        queue = self.queued("2026-11-24T17:29:00Z", "2026-11-24T17:29:30Z", "2026-11-24T17:29:40Z")
        self.clock.move(hours=14)
        self.assertEqual([200] * 3, self.send(queue))
        self.assertEqual("2026-11-24T17:29:40Z", self.readings()[-1][1])

    def test_a_body_of_thirty_megabytes_is_refused_before_it_is_read(self) -> None:
        answer = self.flint.post("/api/photograph", data=b"x" * 30_000_000, content_type="application/json")
        self.assertEqual(413, answer.status_code)
        self.assertEqual([200] * 3, self.send(self.queued()))
