"""Amounts and yields of syntheses against printed procedures and worked examples.

Sources: Organic Syntheses, Collective Volumes 1 (2nd ed., 1941) and 2 (1943); Inorganic Syntheses 2 (1946); B. A.
Averill, P. Eldredge, Principles of General Chemistry (Saylor, 2012), section 3.4. What is taken, the moles and the
yields were typed from memory of these books; the older ones print moles and yields rounded, so each has its own margin.
"""

from __future__ import annotations

import unittest
from dataclasses import dataclass

from claykettle.core.run import TrialEvaluation, evaluate_run
from claykettle.formats.run_file import run_from
from tests.support.runs import value

ORGANIC, INORGANIC, AVERILL = "Organic Syntheses", "Inorganic Syntheses", "Principles of General Chemistry, 3.4"


@dataclass(frozen=True)
class Printed:
    """One procedure: what is taken and its moles as printed, what came (g) and the yield (%) or theory (g) printed.

    `limiting` is empty where the reactants are taken in proportion; `within` is the margin of the yield in percent.
    """

    source: str
    equation: str
    product: str
    taken: dict[str, str]
    moles: tuple[float, ...]
    limiting: str
    came: float
    percent: float = 0.0
    theory: float = 0.0
    within: float = 0.5


PROCEDURES = (
    Printed(f"{ORGANIC} 1, benzalacetophenone", "C8H8O + C7H6O -> C15H12O + H2O", "C15H12O",
            {"C8H8O": "520 g", "C7H6O": "460 g"}, (4.3, 4.3), "", 770.0, 85.0),
    Printed(f"{ORGANIC} 1, benzoin", "2 C7H6O -> C14H12O2", "C14H12O2",
            {"C7H6O": "500 g"}, (4.7,), "C7H6O", 450.0, 90.0),
    Printed(f"{ORGANIC} 1, benzoin, upper", "2 C7H6O -> C14H12O2", "C14H12O2",
            {"C7H6O": "500 g"}, (4.7,), "C7H6O", 460.0, 92.0),
    Printed(f"{ORGANIC} 1, methyl m-nitrobenzoate", "C8H8O2 + HNO3 -> C8H7NO4 + H2O", "C8H7NO4",
            {"C8H8O2": "204 g"}, (1.5,), "C8H8O2", 220.0, 81.0),
    Printed(f"{ORGANIC} 1, methyl m-nitrobenzoate, upper", "C8H8O2 + HNO3 -> C8H7NO4 + H2O", "C8H7NO4",
            {"C8H8O2": "204 g"}, (1.5,), "C8H8O2", 230.0, 85.0),
    Printed(f"{ORGANIC} 2, dibenzalacetone", "2 C7H6O + C3H6O -> C17H14O + 2 H2O", "C17H14O",
            {"C7H6O": "106 g", "C3H6O": "29 g"}, (1.0, 0.5), "", 105.0, 90.0),
    Printed(f"{ORGANIC} 2, dibenzalacetone, upper", "2 C7H6O + C3H6O -> C17H14O + 2 H2O", "C17H14O",
            {"C7H6O": "106 g", "C3H6O": "29 g"}, (1.0, 0.5), "", 110.0, 94.0),
    Printed(f"{INORGANIC} 2, hexaamminecobalt(III) chloride",
            "4 CoCl2 + 4 NH4Cl + 20 NH3 + O2 -> 4 Co(NH3)6Cl3 + 2 H2O", "Co(NH3)6Cl3",
            {"CoCl2.6H2O": "240 g", "NH4Cl": "160 g"}, (1.0, 3.0), "CoCl2·6H2O", 230.0, 85.0),
    Printed(f"{AVERILL}, procaine", "C7H7NO2 + C6H15NO -> C13H20N2O2 + H2O", "C13H20N2O2",
            {"C7H7NO2": "10.0 g", "C6H15NO": "10.0 g"}, (0.0729, 0.0853), "C7H7NO2", 15.7, 91.3),
    Printed(f"{AVERILL}, ethyl acetate", "C2H5OH + HC2H3O2 -> C4H8O2 + H2O", "C4H8O2",
            {"C2H5OH 0.7893 g/mL": "10.0 mL", "HC2H3O2 1.0492 g/mL": "10.0 mL"}, (0.171, 0.175), "C2H5OH", 15.1,
            theory=15.1),
    Printed(f"{AVERILL}, acrylonitrile", "2 C3H6 + 2 NH3 + 3 O2 -> 2 C3H3N + 6 H2O", "C3H3N",
            {"C3H6": "5000 g", "NH3": "5000 g", "O2": "5000 g"}, (119.0, 294.0, 156.0), "O2", 5000.0, theory=5520.0),
)  # fmt: skip


def carried_out(row: Printed) -> TrialEvaluation:
    """The procedure as a run that ends with the crude product."""
    readings = {f"reagent_{n}": text for n, text in enumerate(row.taken.values(), start=1)}
    document = {
        "format": "clay-kettle/run", "version": 1, "method": "synthesis",
        "options": {"equation": row.equation, "product": row.product, "reagents": list(row.taken)},
        "trials": [{"label": "1", "readings": readings | {"crude": f"{row.came} g"}}],
    }  # fmt: skip
    return evaluate_run(run_from(document)).trials[0]


class AsPrinted(unittest.TestCase):
    def test_moles_are_those_of_the_book(self) -> None:
        for row in PROCEDURES:
            found = carried_out(row)
            for number, moles in enumerate(row.moles, start=1):
                with self.subTest(row.source, reagent=number):
                    self.assertAlmostEqual(value(found, f"amount_{number}") / moles, 1, delta=0.013)

    def test_what_runs_out_is_what_the_book_counts_from(self) -> None:
        """Where it takes them in proportion, neither is more than half a percent above its need."""
        for row in PROCEDURES:
            found = carried_out(row)
            with self.subTest(row.source):
                if row.limiting:
                    self.assertEqual(found.said["limiting"], row.limiting)
                else:
                    self.assertLess(max(value(found, f"supply_{n}") for n in (1, 2)), 1.005)

    def test_the_yield_is_that_of_the_book(self) -> None:
        for row in (one for one in PROCEDURES if one.percent):
            with self.subTest(row.source):
                self.assertAlmostEqual(value(carried_out(row), "crude_percent_yield"), row.percent, delta=row.within)

    def test_the_theoretical_yield_is_that_of_the_book(self) -> None:
        for row in (one for one in PROCEDURES if one.theory):
            with self.subTest(row.source):
                self.assertAlmostEqual(value(carried_out(row), "theoretical_yield") / row.theory, 1, delta=0.003)


# Literature melting points, °C (CRC Handbook of Chemistry and Physics, 90th ed., section 3; from memory), to a degree.
MELTING = {"aspirin": 135, "benzoic acid": 122, "acetanilide": 114, "salicylic acid": 158, "naphthalene": 80}


class MeltingRanges(unittest.TestCase):
    def verdicts(self, literature: int, start: float, end: float) -> dict[str, str]:
        """What is said of a product that melts so."""
        document = {
            "format": "clay-kettle/run", "version": 1, "method": "synthesis",
            "options": {
                "equation": "C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2",
                "literature_melting": [f"{literature} degC", f"{literature + 1} degC"],
            },
            "trials": [{"label": "1", "readings": {
                "reagent_1": "2.000 g", "reagent_2": "2.000 g", "crude": "1.500 g",
                "crude_melting_start": f"{start} degC", "crude_melting_end": f"{end} degC",
            }}],
        }  # fmt: skip
        return {row.code: row.text for row in evaluate_run(run_from(document)).trials[0].verdicts}

    def test_a_pure_solid_melts_sharply_at_its_literature(self) -> None:
        """Common practice: within two degrees, and near the handbook."""
        for name, literature in MELTING.items():
            with self.subTest(name):
                self.assertIn("melting-sharp", self.verdicts(literature, literature - 0.5, literature + 0.5))

    def test_an_impure_or_wet_one_melts_low_and_over_a_range(self) -> None:
        """Common practice: a second substance lowers the range and widens it."""
        for name, literature in MELTING.items():
            with self.subTest(name):
                said = self.verdicts(literature, literature - 8, literature - 3)
                self.assertIn("wet or impure", said["melting-low"])

    def test_another_substance_melts_higher(self) -> None:
        """What was left of the salicylic acid, 158 °C, was taken for aspirin, 135 °C."""
        self.assertIn("another substance", self.verdicts(135, 157.5, 158.5)["melting-high"])
