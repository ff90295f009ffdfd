"""Runs a worksheet once with numbers that carry units, so that no line can mix its dimensions."""

from __future__ import annotations

from typing import Any

import pint

from claykettle.core.quantity import si_symbol
from claykettle.core.sheet import LineDef, Pick, Worksheet

REGISTRY = pint.UnitRegistry()
_NAMES = {
    "m3": "m**3",
    "mol/m3": "mol/m**3",
    "kg/m3": "kg/m**3",
    "m3/mol": "m**3/mol",
    "m/s2": "m/s**2",
    "m3/kg": "m**3/kg",
    "m3/s": "m**3/s",
    "1": "dimensionless",
}


def with_unit(value: Any, dimension: str) -> Any:
    """A float, or a list of them, as quantities in the SI unit of a dimension."""
    name = _NAMES.get(si_symbol(dimension), si_symbol(dimension))
    if isinstance(value, list):
        return [REGISTRY.Quantity(one, name) for one in value]
    return REGISTRY.Quantity(value, name)


def check_dimensions(sheet: Worksheet, inputs: dict[str, Any]) -> dict[str, Any]:
    """Evaluate with units; raises AssertionError naming the first line whose dimension is not the declared one."""
    plain = dict(inputs)
    for name, row in sheet.readings.items():
        if row.given is not None:
            plain.setdefault(name, float(row.given(sheet.shape.options).reading.si))
    typed = {name: with_unit(plain[name], sheet.readings[name].dimension) for name in sheet.readings}

    def call(line: LineDef, arguments: dict[str, Any]) -> Any:
        bare = set(line.takes.values()) <= {"options"}
        if bare:
            return with_unit(line.function(**arguments), line.shown_unit.dimension)
        if line.kind == "table":
            plain = {name: getattr(value, "magnitude", value) for name, value in arguments.items()}
            return with_unit(line.function(**plain), line.shown_unit.dimension)
        value = line.function(**arguments)
        found = value.value if isinstance(value, Pick) else value
        wanted = with_unit(1.0, line.shown_unit.dimension)
        if not REGISTRY.Quantity(1, getattr(found, "units", "dimensionless")).is_compatible_with(wanted):
            raise AssertionError(f"line '{line.name}' is declared in {line.unit} but comes out as {found.units}")
        factor = REGISTRY.Quantity(1, getattr(found, "units", "dimensionless")).to(wanted.units).magnitude
        if abs(factor - 1) > 1e-12:
            raise AssertionError(f"line '{line.name}' is off by the factor {factor}")
        return value

    return dict(sheet.evaluate(typed, call=call).numbers)
