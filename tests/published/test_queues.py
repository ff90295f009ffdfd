"""Queues whose mean waiting time is known in closed form, by the code that passes an evening.

Customers are benches that begin at random moments and do one step at one of c servers. Formulas from memory, as every
textbook of queueing has them: M/M/1 and M/M/c after Erlang (1917), M/D/1 after Pollaczek and Khinchine.
"""

from __future__ import annotations

import math
import unittest
from collections.abc import Callable
from random import Random
from statistics import fmean, stdev

from claykettle.core.planning.evening import Bar, Bench, Evening, Task, run_evening

CUSTOMERS, WARM, BATCHES = 24_000, 4_000, 20


def waits(rate: float, served: Callable[[Random], float], servers: int, seed: int) -> list[float]:
    """How long each customer waited, in the order of their coming."""
    random = Random(seed)
    moment, benches = 0.0, []
    for _ in range(CUSTOMERS):
        moment += random.expovariate(rate)
        benches.append(Bench(moment, [[Task("served", served(random), "server")]]))
    evening = run_evening(benches, {"server": servers})
    found = [0.0] * CUSTOMERS
    for bar in evening.bars:
        found[bar.bench] = bar.waited
    return found[WARM:]


def erlang_c(offered: float, servers: int) -> float:
    """The share of customers who find all servers busy."""
    last = offered**servers / math.factorial(servers) * servers / (servers - offered)
    return last / (sum(offered**k / math.factorial(k) for k in range(servers)) + last)


class MeanWait(unittest.TestCase):
    def compare(self, found: list[float], wanted: float) -> None:
        """Within four standard errors, which batches of the same run tell: neighbours wait alike."""
        size = len(found) // BATCHES
        means = [fmean(found[at * size : (at + 1) * size]) for at in range(BATCHES)]
        error = stdev(means) / math.sqrt(BATCHES)
        self.assertLess(abs(fmean(found) - wanted), 4 * error, (fmean(found), wanted, error))
        self.assertLess(error, 0.1 * wanted)

    def test_one_server_random_service(self) -> None:
        """M/M/1: ρ / (μ − λ)."""
        rate, speed = 0.6, 1.0
        found = waits(rate, lambda random: random.expovariate(speed), 1, 11)
        self.compare(found, rate / speed / (speed - rate))

    def test_one_server_fixed_service(self) -> None:
        """M/D/1: ρ / (2 μ (1 − ρ))."""
        rate, speed = 0.7, 1.0
        found = waits(rate, lambda _: 1 / speed, 1, 12)
        self.compare(found, rate / speed / (2 * speed * (1 - rate / speed)))

    def test_several_servers_random_service(self) -> None:
        """M/M/c: C(c, λ/μ) / (c μ − λ), C after Erlang."""
        for servers, rate in ((2, 1.4), (3, 2.1)):
            found = waits(rate, lambda random: random.expovariate(1.0), servers, 20 + servers)
            self.compare(found, erlang_c(rate, servers) / (servers - rate))

    def test_erlang_s_share_by_hand(self) -> None:
        """One server: ρ itself. Two at ρ = ½ each: 1/3."""
        self.assertAlmostEqual(erlang_c(0.6, 1), 0.6)
        self.assertAlmostEqual(erlang_c(1.0, 2), 1 / 3)


class ByHand(unittest.TestCase):
    """What a timetable says of a queue, counted on paper."""

    @staticmethod
    def bar(bench: int, asked: float, begun: float, done: float) -> Bar:
        """A step at the balance."""
        return Bar(bench, 1, "weigh", "balance", asked, begun, done)

    def test_of_two_each_was_in_use_for_its_share(self) -> None:
        """Two balances, ten minutes: 4 + 5 of 20 minutes."""
        evening = Evening([self.bar(0, 0, 0, 4), self.bar(1, 0, 0, 5)], [10.0, 8.0])
        self.assertAlmostEqual(0.45, evening.busy("balance", 2))
        self.assertAlmostEqual(0.9, evening.busy("balance", 1))
        self.assertEqual(0.0, evening.busy("oven", 1))

    def test_who_is_served_at_a_moment_has_left_the_queue_before_somebody_joins_it(self) -> None:
        """One waits from 0 to 2, the next from 2 to 4: never two at once; a third that comes at 1 makes two."""
        one_by_one = [self.bar(0, 0, 2, 4), self.bar(1, 2, 4, 6)]
        self.assertEqual(1, Evening(one_by_one, [6.0, 6.0]).longest_queue("balance"))
        self.assertEqual(2, Evening([*one_by_one, self.bar(2, 1, 6, 8)], [6.0, 6.0, 8.0]).longest_queue("balance"))
