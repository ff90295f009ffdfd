"""A name withheld from all records: it stands nowhere any more, and what was signed and sealed holds as before."""

from __future__ import annotations

from uuid import uuid4

from sqlalchemy import text

from claykettle.core.errors import Refusal
from claykettle.service.runs.verifying import faults_in_signatures
from claykettle.store.ledger import check, last_seal
from claykettle.store.withholding import Withheld, fingerprints_before, withhold
from tests.store.test_ledger import KEY, Chained
from tests.support.server import scene

NAME = "Ada Quill"


class Withhold(Chained):
    @scene
    def play(self) -> None:
        """Ada writes, signs and hands in; another run is signed by somebody else."""
        super().play()
        run = self.get(f"/api/runs/{self.uuid}")
        self.weigh(run, "vessel_residue", "29.230", 3, confirmed=True, by=NAME)
        body = {
            "uuid": str(uuid4()),
            "tag": "popping",
            "text": f"{NAME} saw it, not Ada Quillon",
            "by": NAME,
            "trial": "",
        }
        self.post(f"/api/runs/{self.uuid}/observations", body)
        self.post(f"/api/runs/{self.uuid}/signatures", {"uuid": str(uuid4()), "name": NAME})
        other = next(row for row in self.get("/api/runs")["runs"] if "Blanc fixe" in row["title"])
        self.post(f"/api/runs/{other['uuid']}/signatures", {"uuid": str(uuid4()), "name": "Marl"})
        self.seal()
        self.before = self.head()

    def withhold(self, name: str = NAME) -> Withheld:
        """Withhold a name."""
        with self.database.transaction() as session:
            return withhold(session, name, KEY, self.before, self.clock.now, "keeper")

    def everything(self) -> str:
        """Every text of every table."""
        with self.database.engine.begin() as connection:
            tables = [row[0] for row in connection.execute(text("SHOW TABLES"))]
            return "\n".join(str(row) for name in tables for row in connection.execute(text(f"SELECT * FROM `{name}`")))

    def test_the_name_stands_nowhere_and_another_that_begins_alike_stays(self) -> None:
        self.assertIn(NAME, self.everything())
        found = self.withhold()
        told = self.everything()
        self.assertNotRegex(told, r"Ada Quill(?!on)")
        self.assertIn("Student 1 saw it, not Ada Quillon", told)
        self.assertEqual("Student 1", found.pseudonym)
        self.assertGreater(found.rows, 4)

    def test_every_signature_and_the_whole_chain_still_hold(self) -> None:
        found = self.withhold()
        self.assertEqual([], self.laboratory.ask(faults_in_signatures))
        with self.database.transaction() as session:
            self.assertEqual((), check(session, KEY, found.head).faults)
            # also the head that was told outside before, and a slip that bears it
            self.assertEqual((), check(session, KEY, self.before).faults)
            self.assertNotEqual(self.before, last_seal(session))
        names = [row["name"] for row in self.get(f"/api/runs/{self.uuid}")["signatures"]]
        self.assertTrue(any("Student 1" in name for name in names), names)
        self.assertTrue(all(row["holds"] for row in self.get(f"/api/runs/{self.uuid}")["signatures"]))

    def test_the_hashes_that_stood_before_are_found_again(self) -> None:
        with self.database.engine.begin() as connection:
            old = {row.uuid: row.record for row in connection.execute(text("SELECT uuid, record FROM signature"))}
        found = self.withhold()
        with self.database.transaction() as session:
            before = fingerprints_before(session)
        self.assertEqual(found.signatures, len(before))
        for uuid, hashes in before.items():
            self.assertEqual([old[uuid]], hashes)

    def test_signatures_that_speak_of_others_stay_as_they_were(self) -> None:
        with self.database.engine.begin() as connection:
            old = {row.uuid: row.record for row in connection.execute(text("SELECT uuid, record FROM signature"))}
        self.withhold()
        with self.database.engine.begin() as connection:
            now = {row.uuid: row.record for row in connection.execute(text("SELECT uuid, record FROM signature"))}
        self.assertIn(True, [old[uuid] == now[uuid] for uuid in old])
        self.assertIn(False, [old[uuid] == now[uuid] for uuid in old])

    def test_records_that_do_not_hold_are_not_covered_up(self) -> None:
        self.sql("UPDATE reading SET text = '30.000' ORDER BY id LIMIT 1")
        with self.assertRaises(Refusal) as caught:
            self.withhold()
        self.assertEqual("records", caught.exception.faults[0].code)
        self.assertIn(NAME, self.everything())

    def test_somebody_who_is_not_there_and_half_a_name_are_refused(self) -> None:
        for name in ("Nobody Here", "A", " "):
            with self.subTest(name), self.assertRaises(Refusal) as caught:
                self.withhold(name)
            self.assertEqual("name", caught.exception.faults[0].path)

    def test_the_next_one_gets_the_next_pseudonym_and_what_is_changed_then_is_told(self) -> None:
        self.withhold()
        self.before = self.head()
        self.assertEqual("Student 2", self.withhold("Bo Thrush").pseudonym)
        self.sql("UPDATE reading SET text = '30.000' ORDER BY id LIMIT 1")
        with self.database.transaction() as session:
            self.assertNotEqual((), check(session, KEY, "").faults)
