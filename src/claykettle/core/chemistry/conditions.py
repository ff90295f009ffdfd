"""Water, air and pressure at the bench: what every gas measured over water or in air has to be freed of.

Plain SI floats in and out, so that a worksheet's `table` lines can pass derivatives through. Each function refuses
what lies outside the range of its source.
"""

from __future__ import annotations

import math

from claykettle.core.errors import refuse

GAS_CONSTANT = 8.314462618
"""R in J/(mol K), exact to the digits given (CODATA 2018)."""
STANDARD_GRAVITY = 9.80665
"""Standard gravity in m/s² (3rd CGPM, 1901)."""
ATMOSPHERE, BAR = 101325.0, 100000.0
ZERO_CELSIUS = 273.15

_CRITICAL_K, _CRITICAL_PA, _CRITICAL_DENSITY = 647.096, 22.064e6, 322.0
_SATURATION = (
    (-7.85951783, 1.0), (1.84408259, 1.5), (-11.7866497, 3.0), (22.6807411, 3.5), (-15.9618719, 4.0), (1.80122502, 7.5),
)  # fmt: skip
_LIQUID = (
    (1.99274064, 1 / 3), (1.09965342, 2 / 3), (-0.510839303, 5 / 3), (-1.75493479, 16 / 3), (-45.5170352, 43 / 3),
    (-6.74694450e5, 110 / 3),
)  # fmt: skip

LOWEST_PA, HIGHEST_PA = 5.0e4, 1.08e5
"""From a laboratory at 5500 m to the strongest high at sea level."""


def vapour_pressure_pa(temperature_k: float) -> float:
    """Saturation pressure of water in Pa, 0 °C to 100 °C.

    IAPWS equation for saturation (Wagner and Pruss, J. Phys. Chem. Ref. Data 22, 783, 1993). Raises Refusal
    `off-scale` outside.
    """
    _within(temperature_k, 0, 100, "The vapour pressure of water")
    tau = 1 - temperature_k / _CRITICAL_K
    total = math.fsum(a * tau**power for a, power in _SATURATION)
    return _CRITICAL_PA * math.exp(_CRITICAL_K / temperature_k * total)


def water_density(temperature_k: float) -> float:
    """Density of water in kg/m³ at about one atmosphere, 0 °C to 100 °C.

    Up to 40 °C Tanaka et al., Metrologia 38, 301 (2001); above it the saturated liquid of Wagner and Pruss (1993),
    which differs by less than 0.01 % there. Raises Refusal `off-scale` outside.
    """
    _within(temperature_k, 0, 100, "The density of water")
    t = temperature_k - ZERO_CELSIUS
    if t <= 40:
        return 999.974950 * (1 - (t - 3.983035) ** 2 * (t + 301.797) / (522528.9 * (t + 69.34881)))
    tau = 1 - temperature_k / _CRITICAL_K
    return _CRITICAL_DENSITY * (1 + math.fsum(b * tau**power for b, power in _LIQUID))


def mercury_density(temperature_k: float) -> float:
    """Density of mercury in kg/m³, 0 °C to 40 °C: 13595.1 at 0 °C, volume growing by 1.8144e-4 + 7.016e-9 t a degree.

    Expansion as in the handbook's correction of barometers (from memory). Raises Refusal `off-scale` outside.
    """
    _within(temperature_k, 0, 40, "The density of mercury")
    t = temperature_k - ZERO_CELSIUS
    return 13595.1 / (1 + 1.8144e-4 * t + 7.016e-9 * t**2)


_MOLAR_FRACTION = (1.00062, 3.14e-8, 5.6e-7)
_AIR_VAPOUR = (1.2378847e-5, -1.9121316e-2, 33.93711047, -6.3431645e3)
_COMPRESSIBILITY = (1.58123e-6, -2.9331e-8, 1.1043e-10, 5.707e-6, -2.051e-8, 1.9898e-4, -2.376e-6, 1.83e-11, -0.765e-8)


def air_density(temperature_k: float, pressure_pa: float, humidity: float) -> float:
    """Density of moist air in kg/m³ by CIPM-2007, `humidity` from 0 to 1, CO₂ at 400 µmol/mol.

    A. Picard et al., Metrologia 45, 149 (2008), stated there for 600–1100 hPa and 15–27 °C; taken here for 0–40 °C and
    500–1100 hPa, where it stays within a few parts in ten thousand. Raises Refusal `off-scale` outside.
    """
    _within(temperature_k, 0, 40, "The density of air")
    if not 5e4 <= pressure_pa <= 1.1e5:
        raise refuse("off-scale", f"The density of air is known from 500 to 1100 hPa, not at {pressure_pa / 100:.0f}.")
    if not 0 <= humidity <= 1:
        raise refuse("off-scale", f"A relative humidity lies between 0 and 100 %, not at {100 * humidity:.0f} %.")
    t = temperature_k - ZERO_CELSIUS
    a, b, c, d = _AIR_VAPOUR
    vapour = math.exp(a * temperature_k**2 + b * temperature_k + c + d / temperature_k)
    alpha, beta, gamma = _MOLAR_FRACTION
    x = humidity * (alpha + beta * pressure_pa + gamma * t**2) * vapour / pressure_pa
    a0, a1, a2, b0, b1, c0, c1, d0, e0 = _COMPRESSIBILITY
    first = a0 + a1 * t + a2 * t**2 + (b0 + b1 * t) * x + (c0 + c1 * t) * x**2
    ratio = pressure_pa / temperature_k
    z = 1 - ratio * first + ratio**2 * (d0 + e0 * x**2)
    return 3.483740e-3 * pressure_pa / (z * temperature_k) * (1 - 0.3780 * x)


def station_pressure_pa(sea_level_pa: float, elevation_m: float) -> float:
    """The pressure at the bench from one reduced to sea level, in Pa: the standard atmosphere's temperature taken.

    p = p₀ (1 − 0.0065 h / 288.15)^5.25588, ISO 2533:1975; approximate where the air is warmer or colder. Raises Refusal
    `off-scale` outside −500 m to 9000 m.
    """
    if not -500 <= elevation_m <= 9000:
        raise refuse("off-scale", f"An elevation lies between −500 m and 9000 m, not at {elevation_m:.0f} m.")
    return sea_level_pa * float((1 - 0.0065 * elevation_m / 288.15) ** 5.25588)


def _within(temperature_k: float, low: float, high: float, what: str) -> None:
    t = temperature_k - ZERO_CELSIUS
    # a hair outside is the float of a typed limit, not another temperature
    if not low - 1e-6 <= t <= high + 1e-6:
        raise refuse("off-scale", f"{what} is known from {low:g} to {high:g} °C, not at {t:.1f} °C.")
