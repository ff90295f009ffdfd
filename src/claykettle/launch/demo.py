"""`kettle demo`: set up, start the private server, migrate, seed once, serve until told to end."""

from __future__ import annotations

from claykettle.launch.folder import held, is_held, running
from claykettle.launch.house import House
from claykettle.launch.paths import STATE, SetupError, say
from claykettle.launch.process import need_port
from claykettle.launch.settings import Settings
from claykettle.launch.setup import set_up
from claykettle.service.demo import hold_the_class, seed_demo
from claykettle.service.laboratory import Laboratory
from claykettle.service.shelf.shelf import first_start
from claykettle.store.database import Database


def run_demo(port: int) -> int:
    """Set up, serve, and end cleanly on Ctrl-C or SIGTERM; the exit status."""
    try:
        if is_held(STATE):
            found = running(STATE)
            raise SetupError(f"the demo is running already: {found.address if found else 'it is just starting'}")
        need_port(port)
        with held(STATE):
            if set_up(tests=False):
                return 1
            address = f"http://127.0.0.1:{port}"
            environment = {"CLAYKETTLE_DEMO": "1", "CLAYKETTLE_ADDRESSES": address}
            return House(Settings(data=STATE, port=port), _prepare, environment, [address]).run()
    except SetupError as error:
        say(str(error))
        return 1


def _prepare(database: Database) -> str:
    laboratory = Laboratory(database)
    laboratory.ask(first_start)
    if laboratory.ask(seed_demo):
        say("filled in the demo's data")
    elif laboratory.ask(hold_the_class):
        say("laid out today's class, in the middle of its evening")
    return "sign in with one tap, or as demo with the password demo"
