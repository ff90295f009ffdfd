"""The demo's data: Fernhollow Craft College and its evening section. Invented throughout.

A finished run, one still losing, an unknown with swapped digits corrected, one that its balance cannot decide; trials
of which one spattered, and trials that agree without being right.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any
from uuid import NAMESPACE_URL, uuid5

from sqlalchemy import select
from sqlalchemy.orm import Session

from claykettle.service.record import correct_reading, observe, record_reading, start_trial
from claykettle.service.register import keep_instrument
from claykettle.service.room import read_room
from claykettle.service.starting import start_run
from claykettle.service.steps import mark_step
from claykettle.store.records import StoredRun
from claykettle.store.tables import Bench, Day, Instrument, Section

SECTION = "Chemistry for Glaze and Pigment Makers"
SHELF = (
    # kind, name, half-width, capacity, which way it counts
    ("balance", "Balance B", "0.001 g", "200 g", ""),
    ("balance", "Balance C, coarse", "0.01 g", "600 g", ""),
    ("balance", "Balance D, fine", "0.0001 g", "100 g", ""),
    ("volume", "Burette 50 mL", "0.05 mL", "50 mL", "inverted_burette"),
    ("volume", "Long tube 500 mL", "1 mL", "500 mL", "direct"),
)
BENCHES = ("Ball", "China", "Flint", "Grog", "Kaolin", "Marl", "Slip", "Terra")


def seed_demo(session: Session, now: datetime) -> bool:
    """Put the demo in once; False where it is there already. One transaction, so never half of it."""
    if session.scalar(select(Section.id).where(Section.name == SECTION)) is not None:
        return False
    _lay_out(session, now)
    _finished_zinc_sulfate(session, now)
    _losing_borax(session, now)
    _jar_q(session, now)
    _undecided_zinc_sulfate(session, now)
    _three_trials(session, now)
    _two_that_agree(session, now)
    for row in TIN:
        _tin_with_sulfur(session, now, *row)
    for row in MALACHITE:
        _malachite(session, now, *row)
    _whiting(session, now)
    for tube in ZINC_OVER_WATER:
        _zinc_over_water(session, now, *tube)
    _room(session, now)
    _argon(session, now)
    _peroxide(session, now)
    for precipitate in BLANC_FIXE:
        _blanc_fixe(session, now, *precipitate)
    _cobalt_chloride(session, now)
    _alum_from_foil(session, now)
    _alum(session, now)
    _ferrite(session, now)
    _cooling_test(session, now)
    return True


def _lay_out(session: Session, now: datetime) -> None:
    """The section, its evening, the benches and three balances; what a first start made is given their names."""
    section = session.scalars(select(Section).limit(1)).one()
    section.name = SECTION
    day = session.scalars(select(Day).limit(1)).one()
    day.title, day.date = "Waters of crystallization", now.date()
    first = session.scalars(select(Bench).limit(1)).one()
    first.name = BENCHES[0]
    session.add_all(Bench(name=name) for name in BENCHES[1:])
    section.elevation = "520 m"
    for kind, name, half_width, capacity, direction in SHELF:
        keep_instrument(
            session, number=None, kind=kind, name=name, half_width=half_width, capacity=capacity, direction=direction
        )


class _Bench:
    """Plays the hands at one bench: every call happens some minutes after the one before."""

    def __init__(
        self,
        session: Session,
        begun: datetime,
        bench: str,
        balance: str,
        title: str,
        method: str = "hydrate",
        **run: object,
    ):
        self.session, self.now, self.by, self.count = session, begun, bench, 0
        bench_id = session.scalars(select(Bench.id).where(Bench.name == bench)).one()
        balance_id = session.scalars(select(Instrument.id).where(Instrument.name == balance)).one()
        self.title, self.trial = title, "1"
        self.run: StoredRun = start_run(
            session,
            begun,
            uuid=self._uuid(),
            title=title,
            method=method,
            bench_id=bench_id,
            balance_id=balance_id,
            **run,  # type: ignore[arg-type]  # options, schools and plan, checked by start_run
        )

    def _uuid(self) -> str:
        self.count += 1
        return str(uuid5(NAMESPACE_URL, f"claykettle:demo:{self.title}:{self.count}"))

    def _after(self, minutes: float) -> datetime:
        self.now += timedelta(minutes=minutes)
        return self.now

    def weigh(self, slot: str, text: str, position: int = 1, after: float = 2, confirmed: bool = False) -> str:
        """Type a reading; its UUID."""
        uuid = self._uuid()
        record_reading(
            self.session,
            self._after(after),
            self.run.uuid,
            uuid=uuid,
            slot=slot,
            position=position,
            text=text,
            trial=self.trial,
            by=self.by,
            confirmed=confirmed,
        )
        return uuid

    def correct(self, uuid: str, text: str, reason: str) -> None:
        """Correct a reading two minutes later."""
        correct_reading(
            self.session,
            self._after(2),
            self.run.uuid,
            uuid=self._uuid(),
            supersedes=uuid,
            text=text,
            reason=reason,
            by=self.by,
        )

    def step(self, key: str, kind: str, after: float = 0.2) -> None:
        """Start or finish a step."""
        at = self._after(after)
        mark_step(self.session, at, self.run.uuid, uuid=self._uuid(), step=key, kind=kind, trial=self.trial)

    def see(self, tag: str, text: str = "") -> None:
        """Note something."""
        at = self._after(0.5)
        observe(self.session, at, self.run.uuid, uuid=self._uuid(), tag=tag, text=text, by=self.by, trial=self.trial)

    def predict(self, by: str, text: str) -> None:
        """Note what somebody expects."""
        observe(self.session, self._after(0.5), self.run.uuid, uuid=self._uuid(), tag="prediction", text=text, by=by)

    def next_trial(self, label: str) -> None:
        """Go on to a further trial."""
        start_trial(self.session, self._after(3), self.run.uuid, label=label)
        self.trial = label

    def hydrate(self, empty: str, loaded: str, heated: tuple[str, ...], confirmed: bool = False) -> None:
        """A dehydration from the fired dish to the last weighing; `confirmed` keeps a last one that is doubted."""
        self.step("fire", "finished", 8)
        self.weigh("vessel", empty, after=6)
        self.weigh("vessel_sample", loaded)
        for number, text in enumerate(heated, start=1):
            self.step(f"heat#{number}", "finished", 4)
            self.weigh("vessel_residue", text, number, 8, confirmed=confirmed)
        self.step("set_aside", "finished", 1)


def _finished_zinc_sulfate(session: Session, now: datetime) -> None:
    bench = _Bench(
        session,
        now - timedelta(minutes=75),
        "Marl",
        "Balance B",
        "Zinc sulfate from the glaze store",
        options={"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"},
        planned={"sample": {"about": "1.6 g"}},
    )
    bench.step("fire", "started")
    bench.step("fire", "finished", 15)
    bench.weigh("vessel", "31.204")
    bench.weigh("vessel_sample", "32.861")
    bench.step("heat#1", "started")
    bench.see("opaque", "edges first")
    bench.step("heat#1", "finished", 8)
    bench.weigh("vessel_residue", "32.151", 1, 11)
    bench.step("heat#2", "finished", 3)
    bench.weigh("vessel_residue", "32.136", 2, 10)
    bench.step("heat#3", "finished", 3)
    bench.weigh("vessel_residue", "32.134", 3, 10)
    bench.see("done")
    bench.step("set_aside", "finished", 1)


def _losing_borax(session: Session, now: datetime) -> None:
    bench = _Bench(
        session,
        now - timedelta(minutes=39.5),
        "Flint",
        "Balance A",
        "Borax from the glaze store",
        options={"salt": "Na2B4O7"},
        planned={"sample": {"about": "1.5 g"}},
    )
    bench.step("fire", "finished", 10)
    bench.weigh("vessel", "28.417")
    bench.weigh("vessel_sample", "29.936")
    bench.step("heat#1", "started")
    bench.see("popping", "flame moved away")
    bench.step("heat#1", "finished", 7)
    bench.weigh("vessel_residue", "29.288", 1, 8)
    bench.step("heat#2", "finished", 2)
    bench.weigh("vessel_residue", "29.241", 2, 6)
    bench.step("heat#3", "finished", 1)


def _jar_q(session: Session, now: datetime) -> None:
    """The unlabelled jar, held against the built-in list; the second weighing was typed with its digits swapped."""
    bench = _Bench(
        session,
        now - timedelta(minutes=64),
        "Kaolin",
        "Balance B",
        "Jar Q, no label",
        options={"listed": True},
        planned={"sample": {"about": "1.5 g"}},
    )
    bench.step("fire", "finished", 12)
    bench.weigh("vessel", "30.118")
    bench.weigh("vessel_sample", "31.702")
    bench.step("heat#1", "started")
    bench.see("opaque", "white powder")
    bench.step("heat#1", "finished", 8)
    bench.weigh("vessel_residue", "30.916", 1, 10)
    bench.step("heat#2", "finished", 3)
    swapped = bench.weigh("vessel_residue", "30.983", 2, 9, confirmed=True)
    bench.correct(swapped, "30.893", "digits swapped")
    bench.step("heat#3", "finished", 3)
    bench.weigh("vessel_residue", "30.891", 3, 9)


def _undecided_zinc_sulfate(session: Session, now: datetime) -> None:
    """A small sample on the coarse balance: settled, and still the balance cannot decide."""
    bench = _Bench(
        session,
        now - timedelta(minutes=58),
        "Slip",
        "Balance C, coarse",
        "Zinc sulfate, small sample",
        options={"salt": "ZnSO4", "tolerance": "0.02 g"},
        planned={"sample": {"about": "0.8 g"}},
    )
    bench.step("fire", "finished", 12)
    bench.weigh("vessel", "27.64")
    bench.weigh("vessel_sample", "28.47")
    bench.step("heat#1", "finished", 9)
    bench.weigh("vessel_residue", "28.12", 1, 10)
    bench.step("heat#2", "finished", 3)
    bench.weigh("vessel_residue", "28.11", 2, 9)


def _three_trials(session: Session, now: datetime) -> None:
    """Zinc sulfate three times: two agree, the third spattered and lies outside."""
    bench = _Bench(
        session,
        now - timedelta(minutes=165),
        "Terra",
        "Balance B",
        "Zinc sulfate, three trials",
        options={"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"},
        planned={"sample": {"about": "1.6 g"}},
    )
    bench.predict("Terra", "7")
    bench.predict("Slip", "6")
    bench.hydrate("29.412", "31.058", ("30.351", "30.338", "30.337"))
    bench.next_trial("2")
    bench.hydrate("29.410", "31.104", ("30.378", "30.362", "30.361"))
    bench.next_trial("3")
    bench.see("popping", "grains on the gauze")
    bench.hydrate("29.411", "31.070", ("30.332", "30.317", "30.316"), confirmed=True)


def _two_that_agree(session: Session, now: datetime) -> None:
    """Borax from an old jar twice: the trials agree, and both found less water than the formula holds."""
    bench = _Bench(
        session,
        now - timedelta(minutes=120),
        "Ball",
        "Balance B",
        "Borax from the open jar, twice",
        options={"salt": "Na2B4O7", "accepted": "Na2B4O7.10H2O"},
        planned={"sample": {"about": "1.5 g"}},
    )
    bench.predict("Ball", "Na2B4O7.10H2O")
    bench.hydrate("27.905", "29.417", ("28.741", "28.719", "28.718"))
    bench.see("white crust", "on the crystals before heating")
    bench.next_trial("2")
    bench.hydrate("27.904", "29.391", ("28.722", "28.705", "28.704"))


BLANC_FIXE = (
    # bench, more of its title, hours ago, salt, sulfate, paper, the weighings after drying
    ("Marl", "", 22.0, "1.032", "21.5", "0.908", ("1.868", "1.864")),
    ("Slip", ", weighed early", 5.0, "1.018", "21.0", "0.915", ("2.204", "2.091")),
    ("Kaolin", ", left in the oven", 15.0, "1.044", "22.0", "0.902", ()),
)


def _blanc_fixe(
    session: Session,
    now: datetime,
    name: str,
    more: str,
    hours: float,
    salt: str,
    sulfate: str,
    paper: str,
    dried: tuple[str, ...],
) -> None:
    """Blanc fixe from barium chloride and sodium sulfate: a good yield, a wet one, and one that waits in the oven."""
    bench = _Bench(
        session,
        now - timedelta(hours=hours),
        name,
        "Balance A",
        f"Blanc fixe{more}",
        method="precipitation",
        options={
            "equation": "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)",
            "reagents": [{"formula": "BaCl2.2H2O"}, {"formula": "Na2SO4", "concentration": "0.250 mol/L"}],
        },
        planned={"reagent_1": {"about": "1 g"}},
    )
    bench.weigh("reagent_1", salt)
    bench.weigh("reagent_2", sulfate)
    for step, minutes in (("predict", 2), ("dissolve_warm", 6), ("mix", 4), ("label_paper", 3)):
        bench.step(step, "finished", minutes)
    bench.see("solid forms")
    bench.weigh("paper", paper)
    for step, minutes in (("fold_quarter", 2), ("set_up_gravity", 2), ("pour", 14)):
        bench.step(step, "finished", minutes)
    for tag in ("rinse, beaker", "rinse, paper"):
        for _ in range(3):
            bench.see(tag)
    bench.see("washings clear" if not more.endswith("early") else "still cloudy")
    bench.step("wash_test", "finished", 1)
    if more.endswith("oven"):
        bench.see("place", "shelf 2, place 3")
    for number, text in enumerate(dried, start=1):
        hours_dried = (0.75 if more else 15.5) if number == 1 else 0.5
        bench.step(f"dry_oven#{number}", "finished", 60 * hours_dried)
        bench.weigh("collected", text, number, 12, confirmed=True)
    if dried and not more:
        bench.step("set_aside", "finished", 5)


def _alum_from_foil(session: Session, now: datetime) -> None:
    """Potash alum from aluminium foil: crude, and recrystallized in a run of its own."""
    bench = _Bench(
        session,
        now - timedelta(hours=50),
        "Grog",
        "Balance A",
        "Potash alum from foil",
        method="synthesis",
        options={
            "equation": "2 Al(s) + 2 KOH(aq) + 4 H2SO4(aq) + 22 H2O(l) -> 2 KAl(SO4)2.12H2O(s) + 3 H2(g)",
            "product": "KAl(SO4)2.12H2O",
            "reagents": [
                {"formula": "Al", "name": "foil", "planned": "1.0 g"},
                {"formula": "KOH", "concentration": "1.5 mol/L", "planned": "50 mL"},
                {"formula": "H2SO4", "concentration": "4.0 mol/L", "planned": "35 mL"},
            ],
        },
        schools={"melting": "none"},
    )
    for slot, text in (("reagent_1", "1.004"), ("reagent_2", "50.0"), ("reagent_3", "35.0")):
        bench.weigh(slot, text)
    bench.step("react", "started")
    bench.see("gas")
    for step, minutes in (("react", 30), ("work_up", 15), ("set_up_vacuum", 4), ("pour", 6), ("draw_air", 5)):
        bench.step(step, "finished", minutes)
    bench.step("dry_crude", "finished", 60 * 18)
    bench.weigh("crude", "14.862")
    bench.step("purify", "finished", 90)
    bench.step("dry_pure", "finished", 60 * 20)
    bench.weigh("pure", "12.094")


def _ferrite(session: Session, now: datetime) -> None:
    """A black cobalt ferrite by hot sodium hydroxide, dropwise, its base in excess; being washed over a magnet."""
    bench = _Bench(
        session,
        now - timedelta(hours=4),
        "China",
        "Balance A",
        "Cobalt ferrite, black",
        method="synthesis",
        options={
            "equation": "CoCl2(aq) + 2 FeCl3(aq) + 8 NaOH(aq) -> CoFe2O4(s) + 8 NaCl(aq) + 4 H2O(l)",
            "reagents": [
                {"formula": "CoCl2", "concentration": "0.50 mol/L"},
                {"formula": "FeCl3", "concentration": "1.00 mol/L"},
                {"formula": "NaOH", "concentration": "3.0 mol/L"},
            ],
        },
        schools={"addition": "dropwise", "purification": "no", "melting": "none", "filter": "magnet"},
    )
    for slot, text in (("reagent_1", "10.0"), ("reagent_2", "10.0"), ("reagent_3", "50.0")):
        bench.weigh(slot, text)
    bench.step("react", "started")
    bench.see("black")
    bench.step("react", "finished", 20)
    bench.weigh("addition_volume", "50.0")
    bench.weigh("addition_time", "6.0")
    bench.see("past neutral")
    bench.step("work_up", "finished", 10)
    bench.step("settle", "finished", 5)
    bench.see("wash, particles")
    bench.see("wash, particles")


def _cooling_test(session: Session, now: datetime) -> None:
    """Alum cooled slowly and in ice, from one solution in equal portions: a fair test."""
    bench = _Bench(
        session,
        now - timedelta(hours=6),
        "Flint",
        "Balance A",
        "Alum, slow against ice",
        method="crystal_growth",
        options={
            "solute": "KAl(SO4)2.12H2O",
            "portions": [
                {"label": "board", "cooling": "slow, on a board"},
                {"label": "ice", "cooling": "fast, in ice"},
            ],
        },
    )
    bench.step("saturate", "finished", 15)
    bench.weigh("volume_1", "25.0")
    bench.weigh("volume_2", "25.0")
    bench.step("cool", "started")
    bench.see("first crystals")
    bench.step("cool", "finished", 60)
    bench.step("pour_off", "finished", 6)
    for number, lengths in ((1, ("8.5", "7.0", "9.0", "6.5", "8.0")), (2, ("2.5", "2.0", "3.0", "2.5", "2.0"))):
        for position, text in enumerate(lengths, start=1):
            bench.weigh(f"lengths_{number}", text, position, 0.5)


def _alum(session: Session, now: datetime) -> None:
    """Potash alum from water: more water than it needed, so less came back."""
    bench = _Bench(
        session,
        now - timedelta(hours=26),
        "Grog",
        "Balance A",
        "Potash alum, recrystallized",
        method="recrystallization",
        options={"solute": "KAl(SO4)2.12H2O", "solvent_density": "0.998 g/mL"},
        schools={"drying": "air"},
        planned={"crude": {"about": "10 g"}},
    )
    bench.weigh("crude", "10.214")
    bench.step("dissolve", "finished", 12)
    bench.weigh("solvent", "26.5")
    bench.weigh("hot_temperature", "61.0")
    bench.step("cool_slowly", "started")
    bench.see("crystals")
    bench.step("cool_slowly", "finished", 40)
    bench.weigh("cold_temperature", "4.5")
    for step, minutes in (("set_up_vacuum", 4), ("pour", 6)):
        bench.step(step, "finished", minutes)
    for _ in range(2):
        bench.see("rinse, ice-cold")
    bench.step("draw_air", "finished", 5)
    bench.step("dry_air", "finished", 60 * 20)
    bench.weigh("crystals", "8.306")


def _cobalt_chloride(session: Session, now: datetime) -> None:
    """Cobalt(II) chloride hydrate taken apart: its water by heating, its metal by zinc, its chlorine as the rest."""
    bench = _Bench(
        session,
        now - timedelta(hours=21),
        "Terra",
        "Balance A",
        "Cobalt chloride by zinc",
        method="composition",
        options={"metal": "Co", "accepted": "CoCl2.6H2O"},
        planned={"sample": {"about": "1.5 g"}},
    )
    bench.weigh("vessel", "28.104")
    bench.weigh("vessel_sample", "29.611")
    for number, text in enumerate(("28.936", "28.928", "28.927"), start=1):
        bench.step(f"heat#{number}", "finished", 9)
        if number == 1:
            bench.see("colour change", "pink to blue")
        bench.weigh("vessel_residue", text, number, 11)
    bench.step("dissolve", "finished", 5)
    bench.step("displace", "started")
    bench.see("bubbles")
    bench.see("colourless")
    for step, minutes in (("displace", 20), ("clean_up", 8), ("label_paper", 2)):
        bench.step(step, "finished", minutes)
    bench.weigh("paper", "0.911")
    for step, minutes in (("fold_quarter", 2), ("set_up_gravity", 2), ("pour", 9)):
        bench.step(step, "finished", minutes)
    for tag in ("rinse, beaker", "rinse, paper"):
        for _ in range(3):
            bench.see(tag)
    bench.see("washings clear")
    bench.step("wash_test", "finished", 1)
    for number, (text, minutes) in enumerate((("1.287", 930), ("1.284", 60)), start=1):
        bench.step(f"dry_oven#{number}", "finished", minutes)
        bench.weigh("collected", text, number, 12)


def _whiting(session: Session, now: datetime) -> None:
    """Whiting against the percentage on its bag, the gas left in the acid counted by Henry's law."""
    bench = _Bench(
        session,
        now - timedelta(minutes=50),
        "Grog",
        "Balance A",
        "Whiting against its bag",
        method="gas_by_mass_loss",
        options={
            "equations": ["CaCO3(s) + 2 HCl(aq) -> CaCl2(aq) + H2O(l) + CO2(g)"],
            "claim": {"percent": "97 %"},
            "dissolved": {"volume": "50 mL", "temperature": "21 degC"},
        },
        planned={"sample": {"about": "1.5 g"}},
    )
    bench.step("acid", "finished", 4)
    bench.weigh("vessel_before", "112.436")
    bench.weigh("dish_sample", "6.383")
    bench.step("tip", "started")
    bench.see("fizzing")
    bench.step("tip", "finished", 9)
    bench.weigh("dish", "4.871")
    bench.step("swirl", "finished", 3)
    bench.see("quiet")
    bench.weigh("vessel_after", "113.385")


def _room(session: Session, now: datetime) -> None:
    """The evening's barometer, thermometer and hygrometer: for all runs that have not read their own."""
    for minutes, slot, text in ((104, "barometer", "952.4"), (103, "temperature", "21.5"), (102, "humidity", "46")):
        uuid = str(uuid5(NAMESPACE_URL, f"claykettle:demo:room:{slot}"))
        read_room(session, now - timedelta(minutes=minutes), uuid=uuid, slot=slot, text=text, by="demo")


def _argon(session: Session, now: datetime) -> None:
    """Welding argon in a flask: two fillings that agree, the air displaced put back."""
    bench = _Bench(
        session,
        now - timedelta(minutes=70),
        "China",
        "Balance B",
        "Welding argon in a flask",
        method="gas_density",
        options={"gas": "Ar", "elevation": "520 m"},
        schools={"source": "cylinder", "humidity": "read"},
    )
    bench.predict("China", "40")
    bench.step("dry", "finished", 3)
    bench.weigh("flask_air", "84.123")
    bench.step("fill#1", "finished", 18)
    bench.weigh("flask_gas", "84.215", 1)
    bench.step("fill#2", "finished", 6)
    bench.weigh("flask_gas", "84.229", 2)
    bench.step("fill#3", "finished", 6)
    bench.weigh("flask_gas", "84.230", 3)
    bench.weigh("flask_water", "333.06")


ZINC = {"reagent": "Zn", "equation": "Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)"}
BURETTE = {"tube": {"reading": "inverted_burette", "mark": "50 mL"}}
_Tube = tuple[str, str, dict[str, Any], dict[str, str], tuple[tuple[str, str], ...]]
ZINC_OVER_WATER: tuple[_Tube, ...] = (
    # bench, title, further options, schools, readings in the order of the procedure
    (
        "Kaolin",
        "Zinc over water",
        BURETTE,
        {"tube": "burette"},
        (
            ("sample", "0.0982"),
            ("volume_end", "12.70"),
            ("dead_volume", "2.40"),
            ("level_difference", "62"),
            ("temperature", "21.2"),
        ),
    ),
    (
        "Marl",
        "Zinc over water, dead volume subtracted by hand",
        {},
        {"levels": "column"},
        (
            ("sample", "0.1014"),
            ("volume_end", "36.08"),
            ("level_difference", "62"),
            ("temperature", "21.2"),
        ),
    ),
    (
        "Slip",
        "Zinc over water, levels made equal",
        {},
        {"levels": "equal"},
        (("sample", "0.0967"), ("volume_end", "38.85"), ("temperature", "21.2")),
    ),
    (
        "Flint",
        "Zinc over water, the weather service's pressure",
        {},
        {"levels": "equal"},
        (("sample", "0.0991"), ("volume_end", "39.60"), ("temperature", "21.2"), ("barometer", "1013.4")),
    ),
)


def _zinc_over_water(
    session: Session,
    now: datetime,
    at: str,
    title: str,
    options: dict[str, Any],
    schools: dict[str, str],
    readings: tuple[tuple[str, str], ...],
) -> None:
    """Zinc with acid: right, with its dead volume subtracted, at equal levels, and with a sea-level pressure."""
    bench = _Bench(
        session,
        now - timedelta(minutes=110),
        at,
        "Balance D, fine",
        title,
        method="gas_over_water",
        options=ZINC | {"elevation": "520 m"} | options,
        schools=schools,
        planned={"sample": {"about": "0.1 g"}},
    )
    bench.step("leak_test", "finished", 3)
    for slot, text in readings:
        bench.weigh(slot, text, confirmed=True)
    bench.see("bubbles stopped")


def _peroxide(session: Session, now: datetime) -> None:
    """Peroxide over a manganese pigment, the sample by volume."""
    bench = _Bench(
        session,
        now - timedelta(minutes=100),
        "China",
        "Balance B",
        "Peroxide over manganese pigment",
        method="gas_over_water",
        options={
            "reagent": "H2O2",
            "equation": "2 H2O2(aq) -> 2 H2O(l) + O2(g)",
            "gas": "O2",
            "density": {"text": "1.01 g/mL", "half_width": "0.005 g/mL"},
            "elevation": "520 m",
        },
        schools={"sample": "liquid", "levels": "equal"},
    )
    bench.step("leak_test", "finished", 3)
    for slot, text in (
        ("sample_volume", "3.0"),
        ("volume_end", "36.40"),
        ("temperature", "21.2"),
    ):
        bench.weigh(slot, text)
    bench.see("bubbles stopped", "pigment settled")


_Row = tuple[str, str, str, str, str, tuple[str, ...]]

TIN: tuple[_Row, ...] = (
    # bench, balance, title, crucible, crucible + tin, after each heating
    ("Ball", "Balance A", "Tin with sulfur, clean", "24.318", "25.506", ("25.842", "25.831", "25.828")),
    ("China", "Balance A", "Tin with sulfur, under-heated", "25.107", "26.294", ("26.742", "26.738")),
    ("Grog", "Balance B", "Tin with sulfur, smoke lost", "23.884", "25.081", ("25.389", "25.372", "25.370")),
)


def _tin_with_sulfur(
    session: Session, now: datetime, at: str, balance: str, title: str, empty: str, loaded: str, heated: tuple[str, ...]
) -> None:
    """Tin to SnS: clean, with some of the gold-coloured SnS2 kept, and with smoke lost."""
    bench = _Bench(
        session,
        now - timedelta(minutes=95),
        at,
        balance,
        title,
        method="combination",
        options={"element": "Sn", "partner": "S", "product": "SnS", "candidates": ["SnS", "SnS2"]},
        planned={"element": {"about": "1.2 g"}},
        schools={"partner": "sulfur"},
    )
    bench.step("fire", "finished", 20)
    bench.weigh("vessel", empty)
    bench.weigh("vessel_element", loaded)
    bench.step("add_sulfur", "finished", 2)
    for number, text in enumerate(heated, start=1):
        bench.step(f"heat_hood#{number}", "finished", 6)
        bench.weigh("vessel_product", text, number, 11)
    bench.see("colour change", "grey-black" if "clean" in title else "golden flakes" if "under" in title else "smoke")


MALACHITE: tuple[_Row, ...] = (
    ("Terra", "Balance A", "Malachite roasted to black oxide", "26.402", "28.431", ("27.876", "27.863", "27.861")),
    ("Slip", "Balance B", "Malachite, under-heated", "25.933", "27.958", ("27.512", "27.508")),
)


def _malachite(
    session: Session, now: datetime, at: str, balance: str, title: str, empty: str, loaded: str, heated: tuple[str, ...]
) -> None:
    """Malachite pigment to copper(II) oxide: to the end, and with a part left as it was."""
    bench = _Bench(
        session,
        now - timedelta(minutes=80),
        at,
        balance,
        title,
        method="decomposition",
        options={"equations": ["Cu2(OH)2CO3(s) -> 2 CuO(s) + H2O(g) + CO2(g)"]},
        planned={"sample": {"about": "2 g"}},
    )
    bench.step("fire", "finished", 15)
    bench.weigh("vessel", empty)
    bench.weigh("vessel_sample", loaded)
    for number, text in enumerate(heated, start=1):
        bench.step(f"heat#{number}", "finished", 8)
        bench.weigh("vessel_residue", text, number, 11)
    bench.see("colour change", "green to black")
