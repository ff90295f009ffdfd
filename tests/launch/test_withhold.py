"""`kettle withhold`: a name withheld from a house that stands still, which holds and is served as before."""

from __future__ import annotations

from claykettle.launch.folder import opened
from claykettle.service.laboratory import Laboratory
from claykettle.service.planning.roster import KeepRoster, keep_roster
from claykettle.service.shelf.shelf import first_start
from tests.launch.test_serve import PASSWORD, House
from tests.launch.test_server import folder_for


class Withheld(House):
    def test_a_name_goes_and_the_house_verifies(self) -> None:
        data = folder_for(self) / "house"
        made = self.run_command("admin", "create", "kaolin", "--password-stdin", "--data", str(data), typed=PASSWORD)
        self.assertEqual(0, made.returncode, made.stderr)
        with opened(data) as records:
            laboratory = Laboratory(records.database)
            laboratory.ask(first_start)
            laboratory.ask(keep_roster, KeepRoster(["Ada Quill", "Bo Thrush"]))
        done = self.run_command("withhold", "Ada Quill", "--data", str(data))
        self.assertEqual(0, done.returncode, done.stderr)
        self.assertIn("'Student 1' stands now in 1 rows", done.stderr)
        held = self.run_command("verify", "--data", str(data))
        self.assertEqual(0, held.returncode, held.stderr)
        again = self.run_command("withhold", "Ada Quill", "--data", str(data))
        self.assertEqual(2, again.returncode)
        self.assertIn("stands nowhere in these records", again.stderr)
        self.assertNotIn("Traceback", again.stderr)
