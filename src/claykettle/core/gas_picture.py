"""What a gas tube shows: the gas it holds, which way it counts, both water levels; and the fall of the pressure."""

from __future__ import annotations

from dataclasses import dataclass

from claykettle.core.method import Trial
from claykettle.core.rounding import figures


@dataclass(frozen=True)
class Tube:
    """The tube as it stands, volumes of gas in mL and levels in mm (water inside above that outside).

    `counts_down` tells a burette turned over, whose zero is at the open end; `mark` is its last mark, `dead` the volume
    beyond it. What is not known yet is None.
    """

    counts_down: bool
    mark: float | None
    dead: float | None
    start: float | None
    end: float | None
    level: float | None
    level_start: float | None


@dataclass(frozen=True)
class Fall:
    """One step of the fall from the barometer to the dry gas: what it is, from where to where, in kPa and as text."""

    label: str
    upper: float
    lower: float
    text: str


@dataclass(frozen=True)
class GasPicture:
    """The tube, and the fall of the pressure as far as it is known."""

    tube: Tube
    fall: tuple[Fall, ...]


def gas_picture(trial: Trial, counts_down: bool) -> GasPicture:
    """The picture of a trial whose page names its lines as the gas methods do."""
    tube = Tube(
        counts_down,
        _shown(trial, "mark", 1e6),
        _shown(trial, "dead_volume", 1e6),
        _shown(trial, "start_volume", 1e6),
        _shown(trial, "end_volume", 1e6),
        _shown(trial, "level_difference", 1e3),
        _shown(trial, "level_difference_start", 1e3),
    )
    return GasPicture(tube, _fall(trial))


def _shown(trial: Trial, name: str, factor: float) -> float | None:
    value = trial.value(name)
    return None if value is None or value != value else factor * value


def _fall(trial: Trial) -> tuple[Fall, ...]:
    station = _shown(trial, "station_pressure", 1e-3)
    if station is None:
        return ()
    steps = [Fall("pressure at the bench", station, 0.0, f"{figures(station, 5)} kPa")]
    at = station
    for name, label in (("vapour_pressure", "less vapour"), ("head_pressure", "less column")):
        part = _shown(trial, name, 1e-3)
        if part is None:
            continue
        steps.append(Fall(label, max(at, at - part), min(at, at - part), f"{figures(part, 3)} kPa"))
        at -= part
    dry = _shown(trial, "dry_gas_pressure", 1e-3)
    if dry is not None:
        steps.append(Fall("dry gas", dry, 0.0, f"{figures(dry, 5)} kPa"))
    return tuple(steps)
