"""All pictures that a trial can have beside its mass stair; a method fills those it knows."""

from __future__ import annotations

from dataclasses import dataclass

from claykettle.core.pictures.curve import CurvePicture
from claykettle.core.pictures.gas import GasPicture
from claykettle.core.pictures.reacting import Reacting
from claykettle.core.pictures.reagent_table import ReagentTable
from claykettle.core.pictures.sizes import SizesPicture


@dataclass(frozen=True)
class Pictures:
    """`gas` is the tube and the fall of the pressure, `reacting` what reacts with what, `curve` that of solubility.

    `sizes` are measured crystals side by side, `table` is the reagent table. None where a method has none.
    """

    gas: GasPicture | None = None
    reacting: Reacting | None = None
    curve: CurvePicture | None = None
    sizes: SizesPicture | None = None
    table: ReagentTable | None = None
