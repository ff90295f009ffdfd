"""Honest and disturbed readings of every method in every form of its page, from its own sample and bench model."""

from __future__ import annotations

import random
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from claykettle.core.judgement import replay as replaying
from claykettle.core.method import Cause, Method
from claykettle.core.methods.gas_density.bench import GasDensityTruth
from claykettle.core.methods.registry import all_methods
from claykettle.core.methods.synthesis.bench import SynthesisTruth
from claykettle.core.sheet import Shape


def truth_for(method: Method, shape: Shape, draw: random.Random) -> Any:
    """A random truth; a humidity that is not read is the one assumed, what is not purified counts as pure."""
    truth = method.bench.sample(draw.uniform)
    if isinstance(truth, GasDensityTruth) and "humidity" not in shape.taken:
        return replace(truth, humidity=0.5)
    if isinstance(truth, SynthesisTruth) and "pure" not in shape.taken:
        return replace(truth, pure=truth.crude)
    return truth


def forms() -> Iterator[tuple[Method, Shape, random.Random]]:
    """Every form of every method, with its own source of random readings."""
    for method in all_methods().values():
        for seed, shape in enumerate(method.bench.shapes()):
            yield method, shape, random.Random(seed)


def weighings(method: Method, shape: Shape, draw: random.Random) -> dict[str, Any]:
    """Random but sensible readings in SI."""
    readings = method.bench.play(shape, method.bench.sample(draw.uniform), {})
    return {
        name: [one + draw.uniform(0, 1e-6) for one in value] if isinstance(value, list) else value
        for name, value in readings.items()
    }


def shape_with(method: Method, cause: Cause) -> Shape:
    """The first form of a method in which a cause moves the key result, else one in which it can happen at all."""
    rows = [shape for shape in method.bench.shapes() if cause.when(shape.options)] or [next(method.bench.shapes())]
    for shape in rows:
        readings = method.bench.play(shape, method.bench.sample(random.Random(1).uniform), {})
        if replaying.replay(method, shape, readings, cause, cause.usual, method.judging.key(shape.options)).shift:
            return shape
    return rows[0]
