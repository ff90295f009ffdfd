"""Every code that the core can speak is shown by one run, and kept silent by its neighbour."""

from __future__ import annotations

import ast
import unittest
from collections.abc import Callable, Iterator
from importlib import import_module
from pathlib import Path
from typing import Any

import claykettle.core
from claykettle.core.desks.composition_sheet import composition_sheet
from claykettle.core.run import evaluate_run
from claykettle.formats.run_file import run_from
from tests.support.runs import ZINC, document

CORE = Path(claykettle.core.__file__).parent
Codes = Callable[[], set[str]]
ZINC_7 = {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}
MALACHITE = ["Cu2(OH)2CO3(s) -> 2 CuO(s) + H2O(g) + CO2(g)"]


def run(*trials: dict[str, Any], method: str = "hydrate", options: Any = None, **more: Any) -> Codes:
    """The codes of a run, its trials' and its own."""
    file = document(options=options or {"salt": "ZnSO4"}) | {"method": method, **more}
    file["trials"] = [{"label": str(n), "readings": readings} for n, readings in enumerate(trials or (ZINC,), start=1)]

    def codes() -> set[str]:
        found = evaluate_run(run_from(file))
        return {row.code for rows in (found.verdicts, *(trial.verdicts for trial in found.trials)) for row in rows}

    return codes


def zinc(*ends: str, loaded: str = "32.861 g", options: Any = None, **more: Any) -> Codes:
    """One zinc sulfate trial with these weighings after heating."""
    return run({**ZINC, "vessel_sample": loaded, "vessel_residue": list(ends)}, options=options, **more)


def zincs(*ends: str) -> Codes:
    """A zinc sulfate run of several trials, each with its last weighing; hydrate with 7 water accepted."""
    return run(*({**ZINC, "vessel_residue": [end, end]} for end in ends), options=ZINC_7)


def tin(*ends: str, **options: Any) -> Codes:
    """One tin run: 1.188 g of tin with sulfur."""
    readings = {"vessel": "24.318 g", "vessel_element": "25.506 g", "vessel_product": list(ends)}
    return run(readings, method="combination", options={"element": "Sn", "partner": "S", **options})


def malachite(*ends: str) -> Codes:
    """One malachite run of 2.029 g."""
    readings = {"vessel": "26.402 g", "vessel_sample": "28.431 g", "vessel_residue": list(ends)}
    return run(readings, method="decomposition", options={"equations": MALACHITE})


def flask(pressure: str, warm: str = "20.0 degC", **options: Any) -> Codes:
    """One flask of argon."""
    readings = {
        "flask_air": "82.314 g",
        "flask_gas": ["82.429 g", "82.430 g"],
        "flask_water": "331.57 g",
        "temperature": warm,
        "barometer": pressure,
    }
    return run(readings, method="gas_density", options={"gas": "Ar", **options})


def hydrogen(temperature: str, **options: Any) -> Codes:
    """One tube of hydrogen over water."""
    readings = {"sample": "0.0980 g", "volume_end": "36.90 mL", "temperature": temperature, "barometer": "1002 hPa"}
    return run(readings, method="gas_over_water", options=options or {"gas": "H2"})


def hydrogens(*ends: str) -> Codes:
    """Trials of 0.0980 g of zinc each, in one laboratory at one temperature."""
    rows = [
        {"sample": "0.0980 g", "volume_end": end, "temperature": "21 degC", "barometer": "1002 hPa"} for end in ends
    ]
    zinc = {"reagent": "Zn", "equation": "Zn + 2 HCl -> ZnCl2 + H2"}
    return run(*rows, method="gas_over_water", options=zinc)


def in_acid(volume: str) -> Codes:
    """1.500 g of whiting, which takes 29.97 mmol of acid, in so much of 1 mol/L."""
    return whiting(None, acid={"concentration": "1 mol/L", "volume": volume})


def whiting(dissolved: Any, **more: Any) -> Codes:
    """One whiting run: 1.500 g that lost 0.600 g of gas."""
    readings = {"vessel_before": "98.412 g", "sample": "1.500 g", "vessel_after": "99.312 g"}
    options = {"equations": ["CaCO3 + 2 HCl -> CaCl2 + H2O + CO2"], "dissolved": dissolved} | more
    return run(readings, method="gas_by_mass_loss", options=options)


def blanc_fixe(salt: str, *ends: str, seen: tuple[str, ...] = (), **options: Any) -> Codes:
    """So much barium chloride dihydrate with 0.500 g of sodium sulfate (3.520 mmol), on its paper of 0.900 g."""
    readings: dict[str, Any] = {"reagent_1": salt, "reagent_2": "0.500 g", "collected": list(ends or ["1.700 g"])}
    readings |= {"papers": ["0.900 g"] * options.pop("many")} if "many" in options else {"paper": "0.900 g"}
    given = {"equation": "BaCl2 + Na2SO4 -> BaSO4(s) + 2 NaCl", "reagents": ["BaCl2.2H2O", "Na2SO4"], **options}
    notes = [{"tag": tag} for tag in seen]
    return run(readings, method="precipitation", options=given, observations=notes)


def copper(left: str, *seen: str, iron: str = "1.000 g") -> Codes:
    """1.000 g of iron (17.91 mmol) in 10 mmol of copper sulfate, so much of it left; 0.6355 g of copper came."""
    readings = {
        "reagent_1": "20.00 mL", "reagent_2": iron, "leftover_2": left, "paper": "0.900 g",
        "collected": ["1.536 g", "1.536 g"],
    }  # fmt: skip
    given = {"equation": "CuSO4 + Fe -> Cu(s) + FeSO4", "product": "Cu", "reagents": ["CuSO4 0.500 mol/L", "Fe"]}
    return run(readings, method="precipitation", options=given, observations=[{"tag": tag} for tag in seen])


def aspirin(start: str, end: str, acid: str = "2.000 g", pure: str = "1.800 g", third: str = "") -> Codes:
    """2.000 g of salicylic acid in 5 mL of acetic anhydride, its product melted."""
    readings = {
        "reagent_1": acid, "reagent_2": "5.0 mL", "crude": "2.200 g", "pure": pure,
        "pure_melting_start": start, "pure_melting_end": end,
    }  # fmt: skip
    given: dict[str, Any] = {
        "equation": "C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2", "reagents": ["C7H6O3", "C4H6O3 1.08 g/mL"],
        "literature_melting": ["135 degC", "136 degC"],
    }  # fmt: skip
    if third:
        given["reagents"] += [third]
        readings["reagent_3"] = "0.500 g"
    return run(readings, method="synthesis", options=given)


def ammonia(added: str, time: str) -> Codes:
    """Magnetite from 4.0 mL and 1.0 mL of iron solutions of 1 and 2 mol/L, 50 mL of ammonia dripped in."""
    given = {
        "equation": "2 FeCl3 + FeCl2 + 8 NH3 + 4 H2O -> Fe3O4 + 8 NH4Cl", "product": "Fe3O4",
        "reagents": ["FeCl3 1 mol/L", "FeCl2 2 mol/L", "NH3 1.0 mol/L", "H2O solvent"],
    }  # fmt: skip
    readings = {
        "reagent_1": "4.00 mL", "reagent_2": "1.00 mL", "reagent_3": "50.0 mL", "reagent_4": "100 g",
        "addition_volume": added, "addition_time": time,
    }  # fmt: skip
    return run(readings, method="synthesis", options=given)


def grown(slow: list[str], second: str = "20.0 mL", more: tuple[str, ...] = ()) -> Codes:
    """Crystals of a slow portion beside those of a fast one, 3 mm on average."""
    readings = {
        "volume_1": "20.0 mL", "volume_2": second,
        "lengths_1": slow, "lengths_2": ["3.0 mm", "2.8 mm", "3.2 mm", *more],
    }  # fmt: skip
    return run(readings, method="crystal_growth", options={"solute": "KAl(SO4)2.12H2O"})


def nitre(solvent: str) -> Codes:
    """10.00 g of potassium nitrate in so much water at 60 °C, where 100 g hold 110 g."""
    readings = {"crude": "10.00 g", "solvent": solvent, "hot_temperature": "60 degC", "cold_temperature": "20 degC"}
    return run(readings, method="recrystallization", options={"solute": "KNO3"})


def shares(text: str) -> Codes:
    """What the formula desk says of shares."""
    return lambda: {row.code for row in composition_sheet(text).verdicts}


END = "32.134 g"
TWO = {"candidates": ["SnS", "SnS2"]}


# Code: the run that shows it, and one like it that does not.
def timed(*clocks: str) -> Codes:
    """Two rounds, each heated and weighed at its time; ten minutes to cool."""
    series = [
        {"text": text, "at": f"2026-03-05T{clock}"} for text, clock in zip(ZINC["vessel_residue"], clocks, strict=False)
    ]
    marks = [
        {"trial": "1", "step": "heat", "round": number, "kind": "done", "at": f"2026-03-05T{clock}"}
        for number, clock in enumerate(("18:40:00", "18:55:00"), start=1)
    ]
    return run({**ZINC, "vessel_residue": series}, steps=marks)


def eyed(tag: str) -> Codes:
    """What a run of particles says with pass or fail noted."""
    return run(observations=[{"tag": tag, "trial": "1"}])


def dried(end: str) -> Codes:
    """Blanc fixe, of which so much stands on its paper (0.908 g) at the end; 0.986 g can come."""
    options = {
        "equation": "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)",
        "reagents": ["BaCl2.2H2O", "Na2SO4 0.250 mol/L"],
    }
    readings = {"reagent_1": "1.032 g", "reagent_2": "21.5 mL", "paper": "0.908 g", "collected": [end, end]}
    return run(readings, method="precipitation", options=options)


def filtered(kind: str) -> Codes:
    """Blanc fixe, its rinse done or skipped."""
    options = {
        "equation": "BaCl2(aq) + Na2SO4(aq) -> BaSO4(s) + 2 NaCl(aq)",
        "reagents": ["BaCl2.2H2O", "Na2SO4 0.250 mol/L"],
    }
    readings = {"reagent_1": "1.032 g", "reagent_2": "21.5 mL", "paper": "0.908 g", "collected": ["1.889 g", "1.887 g"]}
    names = ("label_paper", "rinse_beaker", "rinse_paper", "wash_test")
    steps = [{"trial": "1", "step": name, "kind": kind if name == "rinse_paper" else "done"} for name in names]
    return run(readings, method="precipitation", options=options, steps=steps)


CASES: dict[str, tuple[Codes, Codes]] = {
    "not-taken": (
        run({"vessel": "31.204 g", "vessel_sample": {"not_taken": True, "reason": "spilled"}}),
        run({"vessel": "31.204 g"}),
    ),
    "provisional": (zinc(END), zinc(END, END)),
    "constant-mass": (zinc("32.136 g", END), zinc("32.151 g", END)),
    "still-losing": (zinc("32.151 g", END), zinc("32.136 g", END)),
    "still-gaining": (zinc("32.120 g", END), zinc("32.132 g", END)),
    "next-heating": (zinc("32.300 g", "32.220 g", "32.180 g"), zinc(END)),
    "loss-too-large": (zinc("31.900 g", "31.900 g", options=ZINC_7), zinc(END, END, options=ZINC_7)),
    "plateau": (zinc("32.238 g", "32.238 g", options=ZINC_7), zinc(END, END, options=ZINC_7)),
    "transposition": (zinc("31.234 g", "31.234 g"), zinc("32.314 g", "32.314 g")),
    "formula-match": (zinc(END, END), tin("25.929 g", "25.929 g")),
    "formula-undecided": (
        run(
            {"vessel": "27.64 g", "vessel_sample": "28.07 g", "vessel_residue": ["27.88 g", "27.88 g"]},
            instruments={"balance": {"half_width": "0.01 g"}},
        ),
        zinc(END, END),
    ),
    "formula-none": (tin("25.7 g", "25.700 g", max_index=1), tin("25.828 g", "25.828 g")),
    "tell-apart": (
        run(
            {"vessel": "30.11 g", "vessel_sample": "31.12 g", "vessel_residue": ["30.64 g", "30.64 g"]},
            options={"listed": True},
            instruments={"balance": {"half_width": "0.01 g"}},
        ),
        run(
            {"vessel": "30.118 g", "vessel_sample": "31.702 g", "vessel_residue": ["30.891 g", "30.891 g"]},
            options={"listed": True},
        ),
    ),
    "mixture": (tin("26.000 g", "26.000 g", **TWO), tin("25.828 g", "25.828 g", **TWO)),
    "unbalanced-charge": (tin("25.934 g", "25.934 g"), tin("25.828 g", "25.828 g")),
    "unfinished": (malachite("28.200 g", "28.200 g"), malachite("27.861 g", "27.861 g")),
    "yield-over-100": (blanc_fixe("0.500 g", "1.500 g", "1.500 g"), malachite("28.200 g", "28.200 g")),
    "out-of-order": (zinc(END, loaded="31.000 g"), zinc(END)),
    "outside-window": (
        zinc(END, END, planned={"sample": {"high": "1.5 g"}}),
        zinc(END, END, planned={"sample": {"high": "1.7 g"}}),
    ),
    "missing-reading": (run({"vessel": "31.204 g"}), run()),
    "assumed-uncertainty": (run(instruments={}), run()),
    "tolerance-below-balance": (
        zinc(END, END, options={"salt": "ZnSO4", "tolerance": "0.0005 g"}),
        zinc(END, END, options={"salt": "ZnSO4", "tolerance": "0.002 g"}),
    ),
    "trend": (zincs("32.124 g", "32.134 g", "32.144 g"), zincs("32.124 g", "32.144 g", "32.134 g")),
    "replicates-agree": (zincs(END, "32.135 g"), zincs(END, "32.180 g")),
    "replicates-disagree": (zincs(END, "32.180 g"), zincs(END, "32.135 g")),
    "odd-trial": (zincs(END, "32.135 g", "32.180 g"), zincs(END, "32.180 g")),
    "precise-and-accurate": (zincs(END, "32.135 g"), zincs("32.180 g", "32.180 g")),
    "precise-not-accurate": (zincs("32.180 g", "32.180 g"), zincs(END, "32.135 g")),
    "accurate-not-precise": (zincs("32.124 g", "32.144 g"), zincs(END, "32.135 g")),
    "neither-precise-nor-accurate": (zincs("32.190 g", "32.180 g"), zincs("32.124 g", "32.144 g")),
    "over-saturation": (whiting({"amount": "3 mmol", "volume": "50 mL"}), whiting({"volume": "50 mL"})),
    "circular": (hydrogen("21 degC"), hydrogen("21 degC", reagent="Zn", equation="Zn + 2 HCl -> ZnCl2 + H2")),
    "out-of-range": (flask("952 hPa", warm="40.1 degC"), flask("952 hPa", warm="40.0 degC")),
    "unphysical": (aspirin("134 degC", "135 degC", acid="0.000 g"), aspirin("134 degC", "135 degC")),
    "gives-off": (
        run({"vessel": "31.204 g"}, options={"salt": "MgCl2"}),
        run({"vessel": "31.204 g"}, options={"salt": "BaCl2"}),
    ),
    "agrees": (zinc(END, END, options=ZINC_7), zinc(END, END)),
    "within-class": (
        zinc("32.160 g", "32.160 g", options=ZINC_7 | {"class_tolerance": "9 %"}),
        zinc("32.160 g", "32.160 g", options=ZINC_7 | {"class_tolerance": "5 %"}),
    ),
    "off-accepted": (zinc("32.160 g", "32.160 g", options=ZINC_7), zinc("32.160 g", "32.160 g")),
    "claim-above-sample": (
        whiting({"volume": "50 mL"}, claim={"mass": "1.600 g"}),
        whiting({"volume": "50 mL"}, claim={"mass": "1.400 g"}),
    ),
    "soluble-gas": (
        hydrogen("21 degC", reagent="CaCO3", equation="CaCO3 + 2 HCl -> CaCl2 + H2O + CO2", gas="CO2"),
        hydrogen("21 degC", reagent="Zn", equation="Zn + 2 HCl -> ZnCl2 + H2"),
    ),
    "yield-good": (aspirin("134 degC", "135 degC"), aspirin("134 degC", "135 degC", pure="0.900 g")),
    "catalyst-large": (aspirin("134 degC", "135 degC", third="H3PO4 catalyst"), aspirin("134 degC", "135 degC")),
    "addition-fast": (ammonia("50.0 mL", "3.0 min"), ammonia("50.0 mL", "6.0 min")),
    "addition-short": (ammonia("40.0 mL", "6.0 min"), ammonia("50.0 mL", "6.0 min")),
    "leftover-contradicts": (copper("0.050 g", iron="0.400 g"), copper("0.442 g")),
    "off-scale": (hydrogen("294 degC"), hydrogen("21 degC")),
    "suspect-unit": (flask("760 kPa"), flask("760 mmHg")),
    "sea-level": (flask("1013 hPa", barometer="sea_level", elevation="520 m"), flask("952 hPa")),
    "sea-level-figure": (flask("1013 hPa", elevation="520 m"), flask("952 hPa", elevation="520 m")),
    "acid-lasts": (in_acid("50 mL"), in_acid("35 mL")),
    "acid-low": (in_acid("35 mL"), in_acid("50 mL")),
    "acid-short": (in_acid("25 mL"), in_acid("35 mL")),
    "alike": (hydrogens("36.90 mL", "36.92 mL"), hydrogens("36.90 mL", "39.20 mL")),
    "not-alike": (hydrogens("36.90 mL", "39.20 mL"), hydrogens("36.90 mL", "36.92 mL")),
    "melting-low": (aspirin("128 degC", "133 degC"), aspirin("134.5 degC", "135.5 degC")),
    "melting-sharp": (aspirin("134.5 degC", "135.5 degC"), aspirin("128 degC", "133 degC")),
    "melting-high": (aspirin("141 degC", "142 degC"), aspirin("134.5 degC", "135.5 degC")),
    "crystals-few": (grown(["6 mm"] * 3), grown(["6 mm"] * 5, more=("3.1 mm", "2.9 mm"))),
    "crystals-enough": (grown(["6 mm"] * 5), grown(["6 mm"] * 3)),
    "fair-test": (grown(["6 mm"]), grown(["6 mm"], second="22.0 mL")),
    "unfair-test": (grown(["6 mm"], second="22.0 mL"), grown(["6 mm"])),
    "sizes-differ": (grown(["6 mm", "7 mm", "6 mm"]), grown(["3.0 mm", "3.4 mm", "2.6 mm"])),
    "sizes-undecided": (grown(["3.0 mm", "3.4 mm", "2.6 mm"]), grown(["6 mm", "7 mm", "6 mm"])),
    "sizes-unusual": (grown(["1.0 mm", "1.2 mm", "1.1 mm"]), grown(["6 mm", "7 mm", "6 mm"])),
    "undissolved": (nitre("8.00 g"), nitre("9.60 g")),
    "limiting-undecided": (blanc_fixe("0.860 g"), blanc_fixe("0.500 g")),
    "limiting-seen": (copper("0.442 g", "metal left"), copper("0.442 g")),
    "limiting-contradicted": (copper("0.442 g", "no metal left"), copper("0.442 g", "metal left")),
    "metal-balance": (copper("0.600 g"), blanc_fixe("0.500 g")),
    "papers-few": (
        blanc_fixe("0.500 g", collector="papers_mean", many=4),
        blanc_fixe("0.500 g", collector="papers_mean", many=10),
    ),
    "papers-weighed": (
        blanc_fixe("0.500 g", collector="papers_mean", many=10),
        blanc_fixe("0.500 g", collector="papers_mean", many=4),
    ),
    "unwashed": (
        blanc_fixe("0.500 g", seen=("still cloudy",)),
        blanc_fixe("0.500 g", seen=("still cloudy", "washings clear")),
    ),
    "shares-off": (shares("Sn 70.0 %, S 21.2 %"), shares("Sn 78.8 %, S 21.2 %")),
    "weighed-warm": (timed("18:45:00", "19:06:00"), timed("18:52:00", "19:06:00")),
    "no-heating-between": (timed("18:52:00", "18:53:00"), timed("18:52:00", "19:06:00")),
    "yield-short": (dried("1.820 g"), dried("1.889 g")),
    "passed": (eyed("pass"), eyed("fail")),
    "failed": (eyed("fail"), eyed("pass")),
    "step-missed": (filtered("skipped"), filtered("done")),
}


def spoken() -> Iterator[str]:
    """Every code that stands as the first word of a Verdict in the core, constants looked up in their module."""
    for path in sorted(CORE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if not (isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "Verdict"):
                continue
            code = node.args[0]
            if isinstance(code, ast.Constant):
                yield str(code.value)
            else:
                module = ".".join(("claykettle", "core", *path.relative_to(CORE).with_suffix("").parts))
                yield getattr(import_module(module), ast.unparse(code))


class EveryVerdict(unittest.TestCase):
    def test_the_table_holds_every_code_and_no_other(self) -> None:
        self.assertEqual(set(spoken()), set(CASES))

    def test_each_is_shown_by_its_run_and_not_by_the_one_beside_it(self) -> None:
        for code, (shows, silent) in CASES.items():
            with self.subTest(code):
                self.assertIn(code, shows())
                self.assertNotIn(code, silent())
