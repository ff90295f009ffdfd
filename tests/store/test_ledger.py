"""One chain over all records: what was done past the program is told, what the program does is not."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from uuid import uuid4

from sqlalchemy import text

from claykettle.store.ledger import Agreement, check, highest, last_seal, seal_new
from tests.support.demo import DemoCase
from tests.support.server import scene

KEY = hashlib.sha256(b"of the tests").digest()


class Chained(DemoCase):
    @scene
    def play(self) -> None:
        super().play()
        run = next(row for row in self.get("/api/runs")["runs"] if "Borax from the glaze" in row["title"])
        self.uuid = run["uuid"]
        self.post(f"/api/runs/{self.uuid}/signatures", {"uuid": str(uuid4()), "name": "Marl"})
        self.post("/api/class/code", {})
        self.seal()

    def seal(self) -> None:
        with self.database.transaction() as session:
            seal_new(session, KEY, self.clock.now, highest(session))

    def sql(self, *statements: str) -> None:
        with self.database.engine.begin() as connection:
            for statement in statements:
                connection.execute(text(statement))

    def found(self, key: bytes = KEY, head: str = "") -> Agreement:
        with self.database.transaction() as session:
            return check(session, key, head)

    def head(self) -> str:
        with self.database.transaction() as session:
            return last_seal(session)

    def told(self, *statements: str) -> str:
        """What a check says after these statements."""
        self.sql(*statements)
        return "; ".join(self.found().faults)


class Agrees(Chained):
    def test_whatever_the_program_does(self) -> None:
        self.assertEqual(self.found().faults, ())
        run = self.get(f"/api/runs/{self.uuid}")
        reading = next(row for row in run["readings"] if row["current"])
        acts: list[Callable[[], object]] = [
            lambda: self.weigh(run, "vessel_residue", "29.230", 3, confirmed=True),
            lambda: self.post(f"/api/runs/{self.uuid}/corrections", {
                "uuid": str(uuid4()), "supersedes": reading["uuid"], "text": "28.418", "reason": "misread",
                "confirmed": True}),
            lambda: self.post(f"/api/runs/{self.uuid}/changes", {
                "uuid": str(uuid4()), "known": 0, "reason": "a claim",
                "options": {"salt": "Na2B4O7", "accepted": "Na2B4O7.10H2O"}}),
            lambda: self.post(f"/api/runs/{self.uuid}/trials", {"label": "2"}),
            lambda: self.post("/api/class/code", {}),
            self.start,
        ]  # fmt: skip
        for act in acts:
            act()
            self.assertEqual(self.found().faults, ())
            self.assertGreater(self.found().unsealed, 0)
            self.seal()
            agreed = self.found()
            self.assertEqual((agreed.faults, agreed.unsealed), ((), 0))
        self.assertEqual(self.found().links, 1 + len(acts))

    def test_a_slip_bears_its_head(self) -> None:
        told = self.get("/api/seal")
        self.assertEqual(told["head"].replace(" ", ""), self.head()[:16])
        self.sql("DELETE FROM link")
        self.assertEqual(self.get("/api/seal"), {"head": "", "at": ""})

    def test_nothing_new_makes_no_link(self) -> None:
        self.seal()
        self.assertEqual(self.found().links, 1)


class Told(Chained):
    def test_a_row_changed(self) -> None:
        for table, statement in (
            ("reading", "UPDATE reading SET text = '29.999' ORDER BY id LIMIT 1"),
            ("signature", "UPDATE signature SET name = 'Terra'"),
            ("step_event", "UPDATE step_event SET seconds = seconds + 1 ORDER BY id LIMIT 1"),
            ("room_reading", "UPDATE room_reading SET text = '1013' LIMIT 1"),
            ("audit", "UPDATE audit SET who = 'nobody'"),
            ("procedure", "UPDATE `procedure` SET title = 'Another' LIMIT 1"),
        ):
            with self.subTest(table):
                self.assertIn("a row was changed", self.told(statement))
                self.assertRegex("; ".join(self.found().faults), rf"\b{table} \d+ to")

    def test_a_run_put_on_another_bench_day_or_title(self) -> None:
        for statement in (
            "UPDATE run SET bench_id = (SELECT MAX(id) FROM bench) ORDER BY id LIMIT 1",
            "UPDATE run SET title = 'Another' LIMIT 1",
            "UPDATE run SET balance = 'Balance Z' LIMIT 1",
            """UPDATE run SET options = '{"salt": "CuSO4"}' WHERE method = 'hydrate' LIMIT 1""",
            "UPDATE day SET date = '2026-01-01' LIMIT 1",
        ):
            with self.subTest(statement):
                self.assertRegex(self.told(statement), r"\brun \d+ to")

    def test_the_newest_row_taken_away_and_one_slipped_in(self) -> None:
        self.assertIn("1 row missing", self.told("DELETE FROM signature"))
        self.assertIn("observation", self.told("DELETE FROM observation ORDER BY id DESC LIMIT 1"))

    def test_a_link_slipped_in_before_the_first(self) -> None:
        self.sql(
            "UPDATE audit SET who = 'x' ORDER BY id LIMIT 1",
            "INSERT INTO link (number, at, upto, `rows`, digests, seal) VALUES (0, NOW(6), '{}', '{}', '{}', '')",
        )
        said = "; ".join(self.found().faults)
        self.assertIn("a row was changed", said)
        self.assertIn("link 0 of", said)

    def test_a_link_changed_recomputed_without_the_key_or_cut_off(self) -> None:
        self.post("/api/class/code", {})
        self.seal()
        head = self.head()
        self.assertEqual(self.found(head=head).faults, ())
        self.assertIn(
            "does not bear this house's seal", self.told("UPDATE link SET seal = SHA2('x', 256) WHERE number = 2")
        )
        self.sql("DELETE FROM link WHERE number = 2")
        # the last link cut off: the head that was told outside is not there
        self.assertEqual(self.found().faults, ())
        self.assertIn("the chain was cut", "; ".join(self.found(head=head).faults))
        self.clock.move(seconds=1)
        self.seal()
        self.assertIn("the chain was cut", "; ".join(self.found(head=head).faults))

    def test_a_link_taken_out_of_the_middle(self) -> None:
        for _ in range(2):
            self.post("/api/class/code", {})
            self.seal()
        self.assertIn("link 2 of the chain is missing", self.told("DELETE FROM link WHERE number = 2"))

    def test_another_key_makes_no_seal_of_this_house(self) -> None:
        self.assertIn("does not bear", "; ".join(self.found(hashlib.sha256(b"guessed").digest()).faults))
