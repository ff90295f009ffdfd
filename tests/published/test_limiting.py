"""Limiting reactants and yields against worked examples of open textbooks.

Sources: P. Flowers and others, Chemistry 2e (OpenStax, 2019), section 4.4; D. W. Ball, Beginning Chemistry (Saylor,
2011), sections 5.5 and 5.6; B. A. Averill, P. Eldredge, Principles of General Chemistry (Saylor, 2012), sections 3.4
and 4.3; CK-12 Chemistry (intermediate), sections 12.7 to 12.9. The problems and their printed answers were typed from
memory of these books.
"""

from __future__ import annotations

import unittest
from dataclasses import dataclass, field
from typing import Any

from claykettle.core.run import TrialEvaluation, evaluate_run
from claykettle.formats.run_file import run_from

OPENSTAX, BALL, AVERILL, CK12 = "Chemistry 2e", "Beginning Chemistry", "Principles of General Chemistry", "CK-12"


@dataclass(frozen=True)
class Example:
    """One worked example: what is taken, and what the book prints (masses in g, None where it prints none)."""

    source: str
    equation: str
    product: str
    taken: dict[str, str]
    limiting: str
    theory: float | None = None
    actual: float | None = None
    percent: float | None = None
    left: dict[str, float] = field(default_factory=dict)
    within: float = 0.004


EXAMPLES = (
    Example(f"{OPENSTAX}, ex. 4.13", "CuSO4 + Zn -> Cu + ZnSO4", "Cu", {"CuSO4": "1.274 g"}, "CuSO4",
            0.5072, 0.392, 77.3),
    Example(f"{OPENSTAX}, ex. 4.12", "3 Si + 2 N2 -> Si3N4", "Si3N4", {"Si": "2.00 g", "N2": "1.50 g"}, "Si"),
    Example(f"{OPENSTAX}, after ex. 4.12", "2 H2 + O2 -> 2 H2O", "H2O", {"H2": "5.00 g", "O2": "10.0 g"}, "O2"),
    Example(f"{OPENSTAX}, after ex. 4.13", "CCl4 + 2 HF -> CF2Cl2 + 2 HCl", "CF2Cl2", {"CCl4": "32.9 g"}, "CCl4",
            25.9, 12.5, 48.3),
    Example(f"{BALL}, 5.5", "Zn + 2 HNO3 -> Zn(NO3)2 + H2", "Zn(NO3)2", {"Zn": "30.5 g"}, "Zn", 88.3, 65.2, 73.8),
    Example(f"{BALL}, 5.5, test yourself", "N2 + 3 H2 -> 2 NH3", "NH3", {"N2": "16.5 g"}, "N2", 20.1, 2.05, 10.2),
    Example(f"{BALL}, 5.6", "2 Rb + MgCl2 -> Mg + 2 RbCl", "Mg", {"Rb": "5.00 g", "MgCl2": "3.44 g"}, "Rb",
            0.711, left={"MgCl2": 0.66}, within=0.01),
    Example(f"{BALL}, 5.6, test yourself", "MgO + H2S -> MgS + H2O", "MgS", {"MgO": "22.7 g", "H2S": "17.9 g"}, "H2S",
            left={"MgO": 1.5}, within=0.03),
    Example(f"{CK12}, 12.7", "2 Ag + S -> Ag2S", "Ag2S", {"Ag": "50.0 g", "S": "10.0 g"}, "Ag", left={"S": 2.57}),
    Example(f"{CK12}, 12.9", "2 KClO3 -> 2 KCl + 3 O2", "O2", {"KClO3": "40.0 g"}, "KClO3", 15.7, 14.9, 94.9),
    Example(f"{AVERILL}, 3.4", "TiCl4 + 2 Mg -> Ti + 2 MgCl2", "Ti", {"TiCl4": "1000 g", "Mg": "200 g"}, "Mg", 197.0),
    Example(f"{AVERILL}, 4.3", "2 AgNO3 + K2Cr2O7 -> Ag2Cr2O7 + 2 KNO3", "Ag2Cr2O7",
            {"K2Cr2O7 0.17 mol/L": "500 mL", "AgNO3 0.57 mol/L": "250 mL"}, "AgNO3", 30.8),
)  # fmt: skip


def evaluated(example: Example) -> TrialEvaluation:
    """The example as a run: the solid, where the book tells it, on a dish of 100 g."""
    readings: dict[str, Any] = {f"reagent_{n}": text for n, text in enumerate(example.taken.values(), start=1)}
    if example.actual is not None:
        readings |= {"dish": "100.000 g", "collected": [f"{100 + example.actual:.3f} g"] * 2}
    options = {
        "equation": example.equation, "product": example.product, "reagents": list(example.taken), "collector": "dish",
    }  # fmt: skip
    file = {"format": "clay-kettle/run", "version": 1, "method": "precipitation", "options": options}
    return evaluate_run(run_from({**file, "trials": [{"label": "1", "readings": readings}]})).trials[0]


class Textbooks(unittest.TestCase):
    def test_what_runs_out_is_what_the_book_says(self) -> None:
        for example in EXAMPLES:
            with self.subTest(example.source):
                self.assertEqual(evaluated(example).said["limiting"], example.limiting)

    def test_yields_are_those_printed(self) -> None:
        compared = 0
        for example in EXAMPLES:
            found = evaluated(example)
            for name, printed in (("theoretical_yield", example.theory), ("percent_yield", example.percent)):
                if printed is None:
                    continue
                result = found.result(name)
                with self.subTest(example.source, result=name):
                    assert result is not None
                    self.assertAlmostEqual(result.value / printed, 1, delta=example.within)
                    compared += 1
        self.assertGreaterEqual(compared, 12)

    def test_what_is_left_over_is_what_is_printed(self) -> None:
        for example in (row for row in EXAMPLES if row.left):
            trial = evaluated(example).trial
            options = trial.options
            for index, reagent in enumerate(options.taken, start=1):
                name = reagent.formula.text
                if name not in example.left:
                    continue
                grams = 1000 * (trial.value(f"excess_{index}") or 0.0) * reagent.formula.molar_mass
                with self.subTest(example.source):
                    self.assertAlmostEqual(grams / example.left[name], 1, delta=example.within)


class Displacements(unittest.TestCase):
    """Masses of two metals that go and come, from the ratio of their molar masses (IUPAC 2021) by hand."""

    def test_a_metal_s_mass_per_mass_of_the_other(self) -> None:
        for equation, solid, metal, ratio in (
            ("CuSO4 + Fe -> Cu + FeSO4", "Cu", "Fe", 63.546 / 55.845),
            ("2 AgNO3 + Cu -> 2 Ag + Cu(NO3)2", "Ag", "Cu", 2 * 107.87 / 63.546),
            ("3 CuSO4 + 2 Al -> 3 Cu + Al2(SO4)3", "Cu", "Al", 3 * 63.546 / (2 * 26.982)),
            ("CoCl2 + Zn -> Co + ZnCl2", "Co", "Zn", 58.933 / 65.38),
        ):
            found = evaluated(Example("", equation, solid, {metal: "1.000 g"}, metal)).result("theoretical_yield")
            with self.subTest(equation):
                assert found is not None
                self.assertAlmostEqual(found.value, ratio, places=4)
