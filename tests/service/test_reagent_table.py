"""The reagent table as the page gets it before a run: to take, to run out, to come."""

from __future__ import annotations

import unittest

from claykettle.core.errors import Refusal
from claykettle.service.planning.planning import planned_table

ASPIRIN = "C7H6O3 + C4H6O3 -> C9H8O4 + HC2H3O2"


class Table(unittest.TestCase):
    def test_it_says_what_to_take_what_runs_out_and_what_can_come(self) -> None:
        """By hand: 14.48 mmol of each reactant's share; 14.48 mmol × 180.159 g/mol = 2.609 g."""
        reagents = ["C7H6O3 2.000 g", "C4H6O3 1.08 g/mL 1.5 eq"]
        found = planned_table("synthesis", {"equation": ASPIRIN, "reagents": reagents})
        first, second = found.table.columns
        self.assertEqual((first.actual, first.amount, first.is_limiting), ("2.000 g", "14.48 mmol", True))
        self.assertEqual((second.actual, second.equivalents, second.is_limiting), ("2.053 mL", "1.50", False))
        self.assertEqual(found.table.path[0].text, "2.609 g")
        self.assertEqual([row.name for row in found.results], ["theoretical_yield", "atom_economy"])
        self.assertEqual(found.values["reagents"], "C7H6O3 2.000 g; C4H6O3 1.08 g/mL 2.053 mL")

    def test_an_equation_alone_gives_its_reactants_as_columns(self) -> None:
        found = planned_table("synthesis", {"equation": "FeCl2 + 2 FeCl3 + 8 NH3 + 4 H2O -> Fe3O4 + 8 NH4Cl"})
        self.assertEqual([row.formula for row in found.table.columns], ["FeCl2", "FeCl3", "NH3", "H2O"])
        self.assertEqual({row.actual for row in found.table.columns}, {""})
        self.assertEqual(found.table.path, ())

    def test_equal_shares_are_said_to_run_out_together(self) -> None:
        reagents = ["C7H6O3 0.02 mol", "C4H6O3 1 eq"]
        found = planned_table("synthesis", {"equation": ASPIRIN, "reagents": reagents})
        self.assertEqual([row.code for row in found.verdicts], ["limiting-undecided"])

    def test_a_run_that_is_started_with_it_plans_the_same(self) -> None:
        reagents = ["C7H6O3 0.02 mol", "C4H6O3 98 % 1.08 g/mL 1.5 eq", "H3PO4 85 % 1.69 g/mL 0.05 eq catalyst"]
        found = planned_table("synthesis", {"equation": ASPIRIN, "reagents": reagents})
        again = planned_table("synthesis", {"equation": ASPIRIN, "reagents": found.values["reagents"].split("; ")})
        self.assertEqual([row.actual for row in again.table.columns], [row.actual for row in found.table.columns])
        self.assertEqual(again.table.path, found.table.path)

    def test_a_method_without_a_reagent_table_has_none(self) -> None:
        with self.assertRaises(Refusal) as caught:
            planned_table("hydrate", {"salt": "ZnSO4"})
        self.assertEqual([(row.code, row.path) for row in caught.exception.faults], [("plan-open", "method")])
