"""Who may come in, and as whom: five callers at every route, somebody else's runs, wrong tries, what a cookie is worth.

The statuses are the contract of the doors: 401 for nobody, 403 for somebody else.
"""

from __future__ import annotations

import json
import re
import threading
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from unittest import mock
from uuid import uuid4

from flask.testing import FlaskClient
from sqlalchemy import text

from claykettle.service.doors import passwords, signing_in
from claykettle.service.doors.accounts import NewAccount, create_account
from claykettle.service.visit import Visit
from tests.support.server import AppCase, scene

PASSWORD = "slip and glaze"


class Doors(AppCase):
    def stranger(self) -> FlaskClient:
        """A browser that nobody has signed in with."""
        return self.app.test_client()

    def account(self, login: str, is_admin: bool = False) -> None:
        def made(visit: Visit) -> None:
            create_account(visit, NewAccount(login, login, PASSWORD, is_admin))

        self.laboratory.ask(made)

    def enter(self, login: str, password: str = PASSWORD, status: int = 204) -> FlaskClient:
        client = self.stranger()
        answer = client.post("/api/session", json={"login": login, "password": password})
        self.assertEqual(answer.status_code, status, answer.text)
        return client

    def tablet(self, bench: str = "Bench 1") -> FlaskClient:
        """A tablet joined to a bench of the tests' class."""
        code = self.post("/api/class/code", {})["code"]
        client = self.stranger()
        answer = client.post("/api/join", json={"code": f" {code[:3].lower()}-{code[3:]} ", "bench": bench})
        self.assertEqual(answer.status_code, 204, answer.text)
        return client

    def board(self, answers: bool = False) -> FlaskClient:
        link = self.post("/api/class/board", {"answers": answers})["link"]
        client = self.stranger()
        client.set_cookie("kettle", link)
        return client

    def colleague(self, login: str = "colleague") -> FlaskClient:
        """An instructor with a section of their own."""
        self.account(login)
        client = self.enter(login)
        self.assertEqual(client.post("/api/sections", json={"name": f"Evening of {login}"}).status_code, 201)
        return client


class Five(Doors):
    def callers(self) -> dict[str, FlaskClient]:
        self.account("keeper", is_admin=True)
        return {
            "nobody": self.stranger(),
            "bench": self.tablet(),
            "board": self.board(),
            "instructor": self.colleague(),
            "administrator": self.enter("keeper"),
        }

    def test_every_route_says_who_may_and_lets_nobody_else(self) -> None:
        """Asked with somebody else's run and an empty body: a refusal of who asks comes before one of what is asked."""
        run = self.weigh_all(self.start(), "32.134")
        callers, seen = self.callers(), 0
        for path, routes in self.app.api_doc["paths"].items():  # type: ignore[attr-defined]
            if not path.startswith("/api/"):
                continue
            for method, route in routes.items():
                allowed = set(route["x-callers"])
                address = path.replace("{uuid}", run["uuid"]).replace("{number}", "999999")
                for name, client in callers.items():
                    roles = {name, "instructor"} if name == "administrator" else {name}
                    with self.subTest(f"{method} {path}", caller=name):
                        if path.startswith("/api/session") and method == "delete" and name != "nobody":
                            continue
                        status = client.open(address, method=method, json={} if method == "post" else None).status_code
                        seen += 1
                        if "nobody" in allowed:
                            self.assertNotIn(status, (401, 403))
                        elif name == "nobody":
                            self.assertEqual(status, 401)
                        elif not roles & allowed:
                            self.assertEqual(status, 403)
                        elif path.startswith("/api/practice/") and "{uuid}" in path and name != "bench":
                            # what somebody else practises is not even told to be there
                            self.assertIn(status, (404, 422))
                        elif "{uuid}" in path and name != "bench":
                            # a run of somebody else: told so, or that the empty body is no question
                            self.assertIn(status, (403, 422))
                        else:
                            self.assertNotEqual(status, 401)
        self.assertGreater(seen, 250)

    def test_somebody_else_s_runs_are_theirs_whatever_is_asked(self) -> None:
        run = self.weigh_all(self.start(), "32.134")
        uuid, other = run["uuid"], self.colleague()
        reading = run["readings"][0]["uuid"]
        asked: dict[str, Any] = {
            "readings": {"slot": "vessel_residue", "position": 2, "text": "32.134"},
            "corrections": {"supersedes": reading, "text": "31.205", "reason": "wrong"},
            "not-taken": {"slot": "vessel_residue", "position": 2, "reason": "cracked"},
            "moves": {"reading": reading, "slot": "vessel_sample", "trial": "1"},
            "changes": {"known": 0, "reason": "otherwise", "options": {"salt": "CuSO4"}},
            "undo": {"row": reading},
            "observations": {"tag": "popping"},
            "signatures": {"name": "Marl"},
            "steps": {"step": "heat#2", "kind": "finished"},
            "trials": {"label": "2"},
        }
        for path, body in asked.items():
            whole = body if path == "trials" else body | {"uuid": str(uuid4())}
            answer = other.post(f"/api/runs/{uuid}/{path}", json=whole)
            self.assertEqual((answer.status_code, answer.json["code"]), (403, "not-yours"), path)
        for path in (
            "",
            "/working",
            "/steps",
            "/suspects",
            "/comparison",
            "/run-file",
            "/csv",
            "/substances",
            "/waste",
        ):
            self.assertEqual(other.get(f"/api/runs/{uuid}{path}").status_code, 403, path)
        self.assertEqual(other.get("/api/runs/archive", query_string={"uuid": uuid}).status_code, 403)
        self.assertEqual(other.get("/api/runs").json["runs"], [])
        self.assertNotIn("Zinc sulfate", str(other.get("/api/waste").json) + str(other.get("/api/drying").json))
        # the same UUID for a run of one's own does not tell whose it is, nor change it
        shelf = other.get("/api/shelf").json
        form = {"uuid": uuid, "title": "Mine", "method": "hydrate", "options": {"salt": "ZnSO4"}}
        form |= {"bench_id": shelf["benches"][0]["id"], "balance_id": shelf["balances"][0]["id"]}
        self.assertEqual(other.post("/api/runs", json=form).status_code, 403)
        self.assertEqual(self.get(f"/api/runs/{uuid}")["version"], run["version"])

    def test_what_is_shared_is_open_and_ends_when_that_ends(self) -> None:
        run, other = self.start(), self.colleague()
        section = self.get("/api/sections")["sections"][0]["id"]
        self.assertEqual(other.get(f"/api/runs/{run['uuid']}").status_code, 403)
        self.post(f"/api/sections/{section}/shares", {"login": "colleague"})
        self.assertEqual(other.get(f"/api/runs/{run['uuid']}").status_code, 200)
        # who was let in may not share on
        self.assertEqual(other.post(f"/api/sections/{section}/shares", json={"login": "kiln"}).status_code, 403)
        self.post(f"/api/sections/{section}/shares", {"login": "colleague", "ends": True})
        self.assertEqual(other.get(f"/api/runs/{run['uuid']}").status_code, 403)

    def test_the_administrator_has_no_right_to_a_section_by_that_alone(self) -> None:
        run = self.start()
        self.account("keeper", is_admin=True)
        keeper = self.enter("keeper")
        self.assertEqual(keeper.get("/api/accounts").status_code, 200)
        for path in (f"/api/runs/{run['uuid']}", "/api/today", "/api/class"):
            self.assertEqual(keeper.get(path).status_code, 403, path)

    def test_a_board_shows_no_answers_unless_it_may(self) -> None:
        self.weigh_all(self.start(title="Marl and Terra's"), "32.134", "32.134")
        hidden, shown = self.board().get("/api/runs").text, self.board(answers=True).get("/api/runs").text
        for word in ("Marl", "ZnSO4", "x = "):
            self.assertNotIn(word, hidden)
            self.assertIn(word, shown)
        # a new link ends the one before
        first = self.board()
        self.board()
        self.assertEqual(first.get("/api/runs").status_code, 401)


class Tablets(Doors):
    def test_a_tablet_records_at_its_own_bench_and_nowhere_else(self) -> None:
        self.post("/api/class/benches", {"name": "Flint"})
        elsewhere = self.start()
        flint = self.tablet("Flint")
        self.assertEqual([row["name"] for row in flint.get("/api/shelf").json["benches"]], ["Flint"])
        self.assertEqual(flint.get("/api/runs").json["runs"], [])
        self.assertEqual(flint.get(f"/api/runs/{elsewhere['uuid']}").status_code, 403)
        shelf, own = self.get("/api/shelf"), flint.get("/api/shelf").json["benches"][0]["id"]
        form = {"uuid": str(uuid4()), "title": "Ours", "method": "hydrate", "options": {"salt": "ZnSO4"}}
        form |= {"balance_id": shelf["balances"][0]["id"]}
        other = next(row["id"] for row in shelf["benches"] if row["name"] != "Flint")
        self.assertEqual(flint.post("/api/runs", json=form | {"bench_id": other}).status_code, 403)
        self.assertEqual(flint.post("/api/runs", json=form | {"bench_id": own}).status_code, 201)
        body = {"uuid": str(uuid4()), "slot": "vessel", "position": 1, "text": "31.204", "by": "Ann"}
        run = flint.post(f"/api/runs/{form['uuid']}/readings", json=body).json
        self.assertEqual(run["readings"][0]["by"], "Ann, Flint")
        # the instructor sees it, and their hand in it is told as theirs
        self.assertEqual(self.weigh(run, "vessel_sample", "32.861", by="Ann")["readings"][1]["by"], "Ann (kiln)")

    def test_a_closed_class_takes_nothing_more_and_an_open_one_goes_on(self) -> None:
        run, tablet = self.start(), self.tablet()
        body = {"slot": "vessel", "position": 1, "text": "31.204"}
        self.post("/api/class/closed", {"closed": True})
        path = f"/api/runs/{run['uuid']}/readings"
        self.assertEqual(tablet.post(path, json=body | {"uuid": str(uuid4())}).status_code, 403)
        self.post("/api/class/closed", {"closed": False})
        self.assertEqual(tablet.post(path, json=body | {"uuid": str(uuid4())}).status_code, 200)

    def test_a_tablet_is_turned_out_by_itself(self) -> None:
        first, second = self.tablet(), self.tablet()
        rows = self.get("/api/class")["tablets"]
        self.assertEqual(len(rows), 2)
        left = self.client.delete(f"/api/class/tablets/{rows[0]['id']}").json["tablets"]
        self.assertEqual([row["id"] for row in left], [rows[1]["id"]])
        self.assertEqual((first.get("/api/runs").status_code, second.get("/api/runs").status_code), (401, 200))

    def test_a_code_expires_and_is_renewed(self) -> None:
        code = self.post("/api/class/code", {})["code"]
        self.assertRegex(code, r"^[2-9BCDFGHJKLMNPQRTVWXZ]{6}$")
        self.assertNotEqual(self.post("/api/class/code", {})["code"], code)
        asked = {"code": code, "bench": "Bench 1"}
        self.assertEqual(self.stranger().post("/api/join", json=asked).status_code, 422)
        newest = self.get("/api/class")["code"]
        self.clock.move(hours=13)
        self.assertEqual(self.stranger().post("/api/join", json=asked | {"code": newest}).status_code, 422)

    def test_five_hundred_wrong_codes_are_stopped_and_a_class_that_errs_is_not(self) -> None:
        code, client = self.post("/api/class/code", {})["code"], self.stranger()
        wrong = [client.post("/api/join", json={"code": "BBBBBB", "bench": "x"}).status_code for _ in range(500)]
        # sixteen tablets may each err three times
        self.assertEqual(set(wrong[:48]), {422})
        self.assertEqual(set(wrong[60:]), {429})
        answer = client.post("/api/join", json={"code": code, "bench": "Bench 1"})
        self.assertEqual(answer.status_code, 429)
        # it is slow and not shut: behind one address stands a whole school
        self.assertLessEqual(int(answer.headers["Retry-After"]), 5)
        self.clock.move(seconds=6)
        self.assertEqual(client.post("/api/join", json={"code": code, "bench": "Bench 1"}).status_code, 204)
        self.assertEqual(self.stranger().post("/api/join", json={"code": "BBBBBB", "bench": "x"}).status_code, 422)
        self.assertEqual(self.stranger().post("/api/join", json={"code": code, "bench": "Bench 1"}).status_code, 429)
        # who joined before, or is signed in, goes on; so does another address
        self.assertEqual(self.client.get("/api/runs").status_code, 200)
        elsewhere = client.post(
            "/api/join", json={"code": code, "bench": "Bench 1"}, environ_overrides={"REMOTE_ADDR": "127.0.0.2"}
        )
        self.assertEqual(elsewhere.status_code, 204)
        self.clock.move(minutes=11)
        self.assertEqual(client.post("/api/join", json={"code": code, "bench": "Bench 1"}).status_code, 204)


class SigningIn(Doors):
    def test_the_cookie_is_out_of_a_script_s_and_another_site_s_reach(self) -> None:
        self.account("slip")
        answer = self.stranger().post("/api/session", json={"login": "slip", "password": PASSWORD})
        cookie = answer.headers["Set-Cookie"]
        for word in ("HttpOnly", "SameSite=Strict", "Path=/"):
            self.assertIn(word, cookie)
        self.assertNotIn("Secure", cookie)
        safe = {"login": "slip", "password": PASSWORD}
        under_tls = self.stranger().post("/api/session", json=safe, base_url="https://localhost")
        self.assertIn("Secure", under_tls.headers["Set-Cookie"])

    def test_who_one_is_and_that_it_ends(self) -> None:
        self.account("slip")
        client = self.enter("slip")
        self.assertEqual(client.get("/api/session").json["login"], "slip")
        self.assertEqual(client.delete("/api/session").status_code, 204)
        answer = client.get("/api/session")
        self.assertEqual((answer.status_code, answer.json["code"]), (401, "not-signed-in"))

    def test_a_secret_from_before_is_worth_nothing_after(self) -> None:
        """Neither one that somebody put into the browser, nor that of the sign-in before in the same browser."""
        self.account("slip")
        client = self.stranger()
        client.set_cookie("kettle", "planted")
        client.post("/api/session", json={"login": "slip", "password": PASSWORD})
        first = client.get_cookie("kettle")
        assert first is not None
        self.assertNotEqual(first.value, "planted")
        client.post("/api/session", json={"login": "slip", "password": PASSWORD})
        old = self.stranger()
        old.set_cookie("kettle", first.value)
        self.assertEqual(old.get("/api/session").status_code, 401)

    def test_the_database_holds_no_secret_that_opens_a_door(self) -> None:
        cookie = self.client.get_cookie("kettle")
        assert cookie is not None
        with self.database.engine.connect() as connection:
            tokens = connection.execute(text("SELECT token FROM sign_in")).scalars().all()
            hashes = connection.execute(text("SELECT password FROM account")).scalars().all()
        self.assertNotIn(cookie.value, tokens)
        forged = self.stranger()
        forged.set_cookie("kettle", tokens[0])
        self.assertEqual(forged.get("/api/runs").status_code, 401)
        self.assertNotIn(PASSWORD, hashes)

    def test_an_old_sign_in_ends_by_itself(self) -> None:
        self.account("slip")
        client = self.enter("slip")
        self.clock.move(days=15)
        self.assertEqual(client.get("/api/session").status_code, 401)

    def test_wrong_passwords_are_limited_for_that_login_and_no_other(self) -> None:
        self.account("slip")
        self.account("marl")
        for _ in range(8):
            self.enter("slip", "wrong password", 401)
        self.enter("slip", PASSWORD, 429)
        self.enter("marl")
        # from elsewhere the owner still comes in: nobody is locked out by somebody else's guesses
        client = self.stranger()
        safe = {"login": "slip", "password": PASSWORD}
        answer = client.post("/api/session", json=safe, environ_overrides={"REMOTE_ADDR": "127.0.0.3"})
        self.assertEqual(answer.status_code, 204)
        self.clock.move(seconds=61)
        self.enter("slip", "wrong password", 401)
        self.enter("slip", PASSWORD, 429)
        self.clock.move(seconds=61)
        self.enter("slip")

    def test_an_owner_s_own_browser_is_not_shut_out_by_strangers_behind_the_same_address(self) -> None:
        self.account("slip")
        own = self.enter("slip")
        self.assertEqual(own.delete("/api/session").status_code, 204)
        self.assertEqual(own.get("/api/session").status_code, 401)
        for _ in range(12):
            self.stranger().post("/api/session", json={"login": "slip", "password": "guessed"})
        self.enter("slip", PASSWORD, 429)
        asked = {"login": "slip", "password": PASSWORD}
        self.assertEqual(own.post("/api/session", json=asked).status_code, 204)

    def test_a_whole_address_that_guesses_makes_others_slow_and_never_shuts_them_out(self) -> None:
        self.account("slip")
        for number in range(110):
            self.stranger().post("/api/session", json={"login": f"nobody{number}", "password": "guessed"})
        answer = self.stranger().post("/api/session", json={"login": "slip", "password": PASSWORD})
        self.assertEqual(answer.status_code, 429)
        self.assertLessEqual(int(answer.headers["Retry-After"]), 5)
        self.clock.move(seconds=6)
        self.enter("slip")

    def test_of_sixty_wrong_passwords_at_once_no_more_are_looked_at_than_one_after_the_other(self) -> None:
        self.account("slip")
        begun, asked = threading.Barrier(60), []

        def guess() -> None:
            client = self.app.test_client()
            begun.wait(20)
            asked.append(client.post("/api/session", json={"login": "slip", "password": "guessed"}).status_code)

        with mock.patch.object(signing_in, "agrees", return_value=False) as looked:
            guesses = [threading.Thread(target=guess) for _ in range(60)]
            for one in guesses:
                one.start()
            for one in guesses:
                one.join()
        self.assertEqual(len(asked), 60)
        self.assertLessEqual(set(asked), {401, 429})
        self.assertLessEqual(looked.call_count, 8)
        # what was not looked at lengthens nothing
        self.clock.move(minutes=11)
        self.enter("slip")

    def test_an_unknown_name_costs_one_verification_as_a_wrong_password_does(self) -> None:
        """How long an answer takes tells nobody which names there are: the costly part is done for both."""
        self.account("slip")
        for login in ("slip", "nobody.at.all"):
            with mock.patch.object(passwords, "_HASHER", wraps=passwords._HASHER) as hasher:
                self.enter(login, "wrong password", 401)
            self.assertEqual(hasher.verify.call_count, 1, login)
        # and what stands in for a hash that is not there costs what one does
        kept = passwords.hashed("anything")
        cost = re.compile(r"\$m=\d+,t=\d+,p=\d+\$")
        self.assertEqual(cost.findall(kept), cost.findall(passwords._NOBODYS))

    def test_a_changed_password_ends_the_other_browsers(self) -> None:
        self.account("slip")
        here, there = self.enter("slip"), self.enter("slip")
        new = {"old": PASSWORD, "new": "short"}
        self.assertEqual(here.post("/api/session/password", json=new).status_code, 422)
        self.assertEqual(here.post("/api/session/password", json=new | {"new": "another clay"}).status_code, 204)
        self.assertEqual((here.get("/api/session").status_code, there.get("/api/session").status_code), (200, 401))
        self.enter("slip", PASSWORD, 401)
        self.enter("slip", "another clay")

    def test_nobody_guesses_the_password_at_a_browser_left_open(self) -> None:
        self.account("slip")
        here = self.enter("slip")
        new = {"old": "guessed", "new": "another clay"}
        for _ in range(8):
            self.assertEqual(here.post("/api/session/password", json=new).json["faults"][0]["path"], "old")
        self.assertEqual(here.post("/api/session/password", json=new | {"old": PASSWORD}).status_code, 429)
        self.clock.move(minutes=11)
        self.assertEqual(here.post("/api/session/password", json=new | {"old": PASSWORD}).status_code, 204)

    def test_a_name_is_read_to_the_letter_at_every_request(self) -> None:
        """Who it is comes out of the database as one text."""
        name = 'O\'Kiln "Glaze" \\ 🏺 {"a": [1]}'
        self.account("slip")
        with self.database.engine.begin() as connection:
            connection.execute(text("UPDATE account SET name = :name WHERE login = 'slip'"), {"name": name})
        self.assertEqual(self.enter("slip").get("/api/session").json["name"], name)

    def test_out_everywhere(self) -> None:
        self.account("slip")
        here, there = self.enter("slip"), self.enter("slip")
        self.assertEqual(here.delete("/api/session/everywhere").status_code, 204)
        self.assertEqual((here.get("/api/session").status_code, there.get("/api/session").status_code), (401, 401))


class Keeping(Doors):
    def test_an_account_is_made_reset_and_disabled(self) -> None:
        self.account("keeper", is_admin=True)
        keeper = self.enter("keeper")
        made = keeper.post("/api/accounts", json={"login": "terra", "name": "Terra K.", "password": PASSWORD}).json
        number = next(row["id"] for row in made["accounts"] if row["login"] == "terra")
        terra = self.enter("terra")
        password = keeper.post(f"/api/accounts/{number}/reset").json["password"]
        self.assertEqual(terra.get("/api/session").status_code, 401)
        terra = self.enter("terra", password)
        keeper.post(f"/api/accounts/{number}/disabled", json={"disabled": True})
        self.assertEqual(terra.get("/api/session").status_code, 401)
        self.enter("terra", password, 401)
        keeper.post(f"/api/accounts/{number}/disabled", json={"disabled": False})
        self.enter("terra", password)
        lines = keeper.get("/api/audit").json["lines"]
        said = " ".join(f"{row['what']} {row['about']}" for row in lines)
        for word in ("account made terra", "password reset terra", "account disabled terra", "signed in terra"):
            self.assertIn(word, said)
        self.assertNotIn(password, str(lines))

    def test_a_setting_that_bears_on_results_has_its_history(self) -> None:
        self.post("/api/today/elevation", {"elevation": "520 m"})
        self.post("/api/today/elevation", {"elevation": "530"})
        self.post("/api/today/elevation", {"elevation": "530 m"})
        balance = next(row for row in self.get("/api/today")["instruments"] if row["kind"] == "balance")
        told = {"kind": "balance", "name": balance["name"], "half_width": "0.002 g", "capacity": "200 g"}
        self.post("/api/today/instruments", told | {"number": balance["id"]})
        self.account("keeper", is_admin=True)
        lines = [
            (row["who"], row["what"], row["about"]) for row in self.enter("keeper").get("/api/audit").json["lines"]
        ]
        self.assertIn(("kiln", "elevation changed", "520 m → 530 m"), lines)
        self.assertEqual(sum(what == "elevation changed" for _, what, _ in lines), 2)
        changed = next(about for _, what, about in lines if what == "instrument changed")
        self.assertRegex(changed, r"± 0\.001 g.* → .*± 0\.002 g")

    def test_the_last_administrator_stays(self) -> None:
        self.account("keeper", is_admin=True)
        keeper = self.enter("keeper")
        rows = {row["login"]: row["id"] for row in keeper.get("/api/accounts").json["accounts"]}
        number = rows["keeper"]
        self.assertEqual(keeper.post(f"/api/accounts/{number}/disabled", json={"disabled": True}).status_code, 422)

    def test_faults_stand_at_their_fields(self) -> None:
        self.account("keeper", is_admin=True)
        keeper = self.enter("keeper")
        answer = keeper.post("/api/accounts", json={"login": "Not So", "name": "", "password": "short"})
        self.assertEqual({row["path"] for row in answer.json["faults"]}, {"login", "password"})
        answer = keeper.post("/api/accounts", json={"login": "keeper", "password": PASSWORD})
        self.assertEqual([(row["path"], row["code"]) for row in answer.json["faults"]], [("login", "taken")])


class Backups(Doors):
    def shelf(self, **told: object) -> Any:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        if told:
            (Path(folder.name) / "last.json").write_text(json.dumps(told))
        self.app.config["KETTLE_BACKUPS"] = folder.name
        self.addCleanup(self.app.config.__setitem__, "KETTLE_BACKUPS", "")
        return self.get("/api/backups")

    def test_the_shelf_tells_when_the_last_was_made_and_whether_that_is_long_ago(self) -> None:
        self.assertEqual((self.shelf()["is_kept"], self.shelf()["made_at"]), (True, ""))
        made = self.clock.now.isoformat()
        told = {"made_at": made, "tried_at": made, "fault": "", "file": "night.kettle", "rows": 812}
        self.assertEqual((self.shelf(**told)["rows"], self.shelf(**told)["is_old"]), (812, False))
        self.clock.move(hours=37)
        self.assertTrue(self.shelf(**told)["is_old"])
        self.assertEqual(self.shelf(**told | {"fault": "the disk is full"})["fault"], "the disk is full")

    def test_where_none_is_made_that_is_said(self) -> None:
        self.app.config["KETTLE_BACKUPS"] = ""
        self.assertFalse(self.get("/api/backups")["is_kept"])


class First(Doors):
    @scene
    def play(self) -> None:
        """A house in which nobody has an account, its code on the terminal."""
        super().play()
        self.without("sign_in", "membership", "account")
        self.body = {
            "code": "clay-2345",
            "login": "kaolin",
            "name": "K. Aolin",
            "password": PASSWORD,
            "section": "Glaze",
        }

    def setUp(self) -> None:
        super().setUp()
        self.app.config["KETTLE_FIRST_CODE"] = "CLAY-2345"
        self.addCleanup(self.app.config.__setitem__, "KETTLE_FIRST_CODE", "")

    def without(self, *tables: str) -> None:
        with self.database.engine.begin() as connection:
            for table in tables:
                connection.execute(text(f"DELETE FROM `{table}`"))

    def faults(self, **changed: str) -> list[str]:
        answer = self.stranger().post("/door/first", json=self.body | changed)
        self.assertEqual(answer.status_code, 422, answer.text)
        return [row["path"] for row in answer.json["faults"]]

    def test_it_needs_the_code_a_section_and_to_be_the_first(self) -> None:
        self.without("day", "section")
        client = self.stranger()
        self.assertTrue(client.get("/door").json["is_new"])
        self.assertEqual(self.faults(code="CLAY-9999"), ["code"])
        # nothing is invented, and a fault keeps nothing of the rest
        self.assertEqual(self.faults(section=" "), ["section"])
        self.assertEqual(self.faults(login="K Aolin", password="short"), ["password", "login"])
        self.assertTrue(client.get("/door").json["is_new"])
        self.assertEqual(client.post("/door/first", json=self.body).status_code, 204)
        who = client.get("/api/session").json
        self.assertEqual((who["login"], who["is_admin"], who["section"]), ("kaolin", True, "Glaze"))
        self.assertFalse(client.get("/door").json["is_new"])
        self.assertEqual(self.faults(login="thief"), [""])

    def test_a_password_that_anybody_would_try_is_refused_and_one_of_several_words_is_not(self) -> None:
        """What guessers try first is common practice: a word, one letter, a row of keys, a name with a year."""
        for early in ("password", "aaaaaaaaaaaa", "chemistry", "qwertzuiop", "kaolin2026", "12345678", "Password1"):
            with self.subTest(early):
                self.assertEqual(self.faults(password=early), ["password"])
        told = self.stranger().post("/door/first", json=self.body | {"password": "hydrogen"}).json["faults"][0]
        self.assertEqual(told["code"], "password-weak")
        long = "several words of a hundred signs and more, " * 4
        self.assertEqual(self.stranger().post("/door/first", json=self.body | {"password": long}).status_code, 204)

    def test_a_house_of_before_there_were_accounts_is_theirs_who_opens_it(self) -> None:
        client = self.stranger()
        self.assertEqual(client.post("/door/first", json=self.body | {"section": ""}).status_code, 204)
        names = [row["name"] for row in client.get("/api/sections").json["sections"]]
        self.assertEqual(names, ["My section"])

    def test_one_with_a_name_for_another_section_begins_in_that(self) -> None:
        client = self.stranger()
        client.post("/door/first", json=self.body)
        here = {row["name"]: row["is_here"] for row in client.get("/api/sections").json["sections"]}
        self.assertEqual(here, {"Glaze": True, "My section": False})

    def test_without_a_code_there_is_no_first_account(self) -> None:
        self.app.config["KETTLE_FIRST_CODE"] = ""
        self.assertEqual(self.faults(code=""), ["code"])


class Health(Doors):
    def test_whoever_watches_needs_no_sign_in(self) -> None:
        answer = self.stranger().get("/healthz")
        self.assertEqual((answer.status_code, answer.json), (200, {"status": "ok"}))

    def test_the_document_names_callers_for_every_route(self) -> None:
        known = {"nobody", "bench", "board", "instructor", "administrator"}
        for path, routes in self.app.api_doc["paths"].items():  # type: ignore[attr-defined]
            for method, route in routes.items():
                if re.match("/api/", path):
                    self.assertTrue(set(route.get("x-callers", [])) <= known and route.get("x-callers"), (path, method))
