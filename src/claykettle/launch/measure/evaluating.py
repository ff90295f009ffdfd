"""How much the worksheet costs over the same chain written by hand, and the cold command over its libraries."""

from __future__ import annotations

import subprocess
import sys
import tempfile
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

from uncertainties import ufloat, wrap

from claykettle.core.chemistry.conditions import vapour_pressure_pa, water_density
from claykettle.core.chemistry.equation import balance, matter_matrix, parse_equation
from claykettle.core.judgement.empirical import formulas_near
from claykettle.core.judgement.suspects import suspicion
from claykettle.core.method import Setting
from claykettle.core.planning.probe import Instruments
from claykettle.core.planning.sizing import size
from claykettle.core.run import Run, evaluate_run, figures_of, shape_of
from claykettle.formats.run_file import read_run
from claykettle.launch.measure.ratios import Ratio, compare

RUN_FILE = b"""{"format": "clay-kettle/run", "version": 1, "method": "hydrate", "title": "Zinc sulfate",
 "options": {"salt": "ZnSO4", "accepted": "ZnSO4.7H2O"}, "instruments": {"balance": {"half_width": "0.001 g"}},
 "trials": [{"label": "1", "readings": {"vessel": "31.204 g", "vessel_sample": "32.861 g",
   "vessel_residue": ["32.151 g", "32.136 g", "32.134 g"]}}]}"""
_LOADED = """
import sys
import claykettle.cli, claykettle.core.run.evaluation, claykettle.formats.evaluation_json, claykettle.formats.run_file
from claykettle.core.methods.registry import all_methods
all_methods()
print(*(name for name in sys.modules if not name.startswith(("claykettle", "__"))))
"""


def by_hand() -> list[tuple[float, float]]:
    """The results of the run above and their uncertainties, written out with `uncertainties`."""
    u = 0.001 / 3**0.5
    vessel, loaded = ufloat(31.204, u), ufloat(32.861, u)
    residues = [ufloat(value, u) for value in (32.151, 32.136, 32.134)]
    settled: Any = residues[-1] + ufloat(0, abs(residues[-1].nominal_value - residues[-2].nominal_value) / 3**0.5)
    sample, residue, water = loaded - vessel, settled - vessel, loaded - settled
    percent = water / sample * 100
    water_amount, salt_amount = water / 18.015, residue / 161.436
    ratio = water_amount / salt_amount
    theory = 7 * 18.015 / 287.541 * 100
    error = (percent - theory) / theory * 100
    rows = (sample, residue, water, percent, water_amount, salt_amount, ratio, error)
    return [(row.nominal_value, row.std_dev) for row in rows]


GAS_FILE = b"""{"format": "clay-kettle/run", "version": 1, "method": "gas_over_water", "title": "Zinc over water",
 "options": {"reagent": "Zn", "equation": "Zn(s) + 2 HCl(aq) -> ZnCl2(aq) + H2(g)"},
 "instruments": {"balance": {"half_width": "0.0005 g"}, "volume": {"half_width": "0.05 mL"},
   "thermometer": {"half_width": "0.5 degC"}, "barometer": {"half_width": "0.5 hPa"},
   "ruler": {"half_width": "0.5 mm"}},
 "trials": [{"label": "1", "readings": {"sample": "0.0980 g", "volume_end": "36.90 mL", "temperature": "21.0 degC",
   "barometer": "1002.0 hPa", "level_difference": "62 mm"}}]}"""


def gas_by_hand() -> list[tuple[float, float]]:
    """The same chain for a gas trial, its two tables wrapped as anybody would who works with `uncertainties`."""
    vapour_of, water_of = wrap(vapour_pressure_pa), wrap(water_density)
    sample, volume = ufloat(0.0980e-3, 0.0005e-3 / 3**0.5), ufloat(36.90e-6, 0.05e-6 / 3**0.5)
    temperature, barometer = ufloat(294.15, 0.5 / 3**0.5), ufloat(100200.0, 50 / 3**0.5)
    level = ufloat(0.062, 0.0005 / 3**0.5)
    vapour: Any = vapour_of(temperature)
    head: Any = water_of(temperature) * 9.80665 * level
    dry = barometer - vapour - head
    reduced = dry * volume / temperature
    gas = reduced / 8.314462618
    amount = sample / 65.38e-3
    standard = reduced * 273.15 / 101325 / amount
    ideal, real = 22.41396954e-3, 22.4285e-3
    rows = (
        sample, volume, vapour, head, barometer, dry, gas, amount, amount * 1.0, volume / amount, standard,
        (standard - ideal) / ideal, (standard - real) / real, gas / amount, gas / amount, volume / sample,
        sample / (2 * gas),
    )  # fmt: skip
    return [(row.nominal_value, row.std_dev) for row in rows]


def measured() -> Iterator[Ratio]:
    """The ratios of the core."""
    run: Run = read_run(RUN_FILE)

    def results() -> object:
        return figures_of(run)

    def everything() -> object:
        return [(trial.working, trial.candidates, trial.budget) for trial in evaluate_run(run).trials]

    yield compare("results and uncertainties of a hydrate trial", results, "the same by hand", by_hand, 3)
    yield compare("… with working, candidates and budget", everything, "the same by hand", by_hand, 8)
    tube: Run = read_run(GAS_FILE)

    def gas_results() -> object:
        return figures_of(tube)

    yield compare("results and uncertainties of a gas trial", gas_results, "the same by hand", gas_by_hand, 3)
    yield _sizing(tube)
    trial = evaluate_run(run).trials[0].trial
    plain = trial.plain

    def one_evaluation() -> object:
        return trial.sheet.evaluate(plain)

    # no method of the family knows twelve causes; two are counted twice
    causes = run.method.bench.causes
    bench = replace(run.method.bench, causes=(*causes, *causes[: 12 - len(causes)]))
    twelve = replace(run.method, bench=bench)

    def all_suspects() -> object:
        return suspicion(trial, twelve, "7.2")

    yield compare(
        f"suspects with {len(bench.causes)} causes, doses solved", all_suspects, "one evaluation on plain floats",
        one_evaluation, 100, 40,
    )  # fmt: skip
    amounts = [ufloat(*row) for row in ((0.6798, 0.0004), (0.6799, 0.0003), (2.3795, 0.0009))]

    def search() -> object:
        return formulas_near(("K", "Cr", "O"), amounts, 12)

    yield compare("candidate search to index 12, three elements", search, "one full evaluation", everything, 10)
    yield from _balancing()
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "run.json"
        file.write_bytes(RUN_FILE)

        def evaluate() -> object:
            return _python("-m", "claykettle.cli", "evaluate", str(file))

        imports = f"import {', '.join(_libraries())}"

        def libraries() -> object:
            return _python("-c", imports)

        yield compare(
            "kettle evaluate of one file, cold", evaluate, "an empty Python with its libraries", libraries, 2, 15
        )


EQUATIONS = (
    "C3H8 + O2 -> CO2 + H2O", "KMnO4 + HCl -> KCl + MnCl2 + Cl2 + H2O", "Cu + HNO3 -> Cu(NO3)2 + NO + H2O",
    "FeS2 + O2 -> Fe2O3 + SO2", "Al2(SO4)3 + Ca(OH)2 -> Al(OH)3 + CaSO4", "MnO4^- + Fe^2+ + H^+ -> Mn^2+ + Fe^3+ + H2O",
)  # fmt: skip
TIMES = 10


def _balancing() -> Iterator[Ratio]:
    """Sixty balances, the parsing left out on both sides, against sympy's null space, scaled to whole numbers."""
    import sympy

    equations = [parse_equation(text) for text in EQUATIONS] * TIMES

    def ours() -> object:
        return [balance(equation) for equation in equations]

    def theirs() -> object:
        return [_scaled(sympy, sympy.Matrix(matter_matrix(equation)).nullspace()[0]) for equation in equations]

    yield compare(f"balancing {len(equations)} equations", ours, "the same through sympy", theirs, 0.2, 5)


def _scaled(sympy: Any, vector: Any) -> list[Any]:
    scale = sympy.ilcm(*(value.q for value in vector))
    whole = [value * scale for value in vector]
    divisor = sympy.igcd(*whole)
    return [value / divisor for value in whole]


def _libraries() -> list[str]:
    """Every module that the command loads and that is not ours: what an empty Python has to import too."""
    return [name for name in _python("-c", _LOADED).decode().split() if name.replace(".", "").isidentifier()]


def _python(*arguments: str) -> bytes:
    return subprocess.run([sys.executable, *arguments], capture_output=True, check=True).stdout


def _sizing(tube: Run) -> Ratio:
    """The window of a gas trial's sample, its ends found and its curve drawn, over the run itself evaluated once."""
    options = tube.method.options.model_validate(tube.options.model_dump(mode="json") | {"tube": {"mark": "50 mL"}})
    shape = shape_of(tube.method, options, frozenset(tube.trials[0].entries))
    setting, instruments = Setting(), Instruments(tube.half_widths)

    def window() -> object:
        return size(tube.method, shape, setting, instruments)

    def once() -> object:
        return evaluate_run(tube)

    return compare("a sample's window, with its uncertainty", window, "the run evaluated once", once, 60)
