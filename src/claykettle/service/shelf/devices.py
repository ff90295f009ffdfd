"""Instruments that read for themselves: which there are, and what one shows now."""

from __future__ import annotations

from claykettle.core.errors import NotFound
from claykettle.devices import Attached, device_at
from claykettle.devices.serial_line import LOOK_S
from claykettle.service.callers import BENCH, INSTRUCTOR, may
from claykettle.service.views.base import View
from claykettle.service.visit import Visit


class DevicesView(View):
    """The instruments of the shelf that have a line of their own, by name."""

    names: list[str]


class LookView(View):
    """What a device shows: digits and unit, how it stands (`steady`, `moving`, `over`, `silent`, `nonsense`, `away`),
    and that in a sentence.
    """

    figure: str
    unit: str
    state: str
    said: str


@may(BENCH, INSTRUCTOR)
def devices_there(visit: Visit, attached: Attached) -> DevicesView:
    """Which there are."""
    return DevicesView(names=list(attached.names))


@may(BENCH, INSTRUCTOR)
def may_look(visit: Visit, attached: Attached, name: str) -> str:
    """The address of a device. Raises NotFound for an instrument without a line."""
    address = attached.addresses.get(name)
    if address is None:
        raise NotFound("This instrument has no line of its own: type what it shows.")
    return address


def looked_at(address: str) -> LookView:
    """What is shown there now. No transaction waits for a balance."""
    return LookView.model_validate(device_at(address).look(LOOK_S))
