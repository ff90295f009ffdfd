"""Which devices a house has: instruments of the shelf by name, each with the address of its line."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass

from claykettle.devices.device import Device
from claykettle.devices.serial_line import SerialLine
from claykettle.devices.weather import WeatherService

SERIAL = ("/", "socket://", "rfc2217://")
"""A path is a port of this machine, or a link to one."""
HTTP = ("http://", "https://")


@dataclass(frozen=True)
class Attached:
    """The instruments that have a line of their own, by name as on the shelf, and its address."""

    addresses: Mapping[str, str]

    @property
    def names(self) -> tuple[str, ...]:
        """The instruments' names."""
        return tuple(self.addresses)


def device_at(address: str) -> Device:
    """What is at an address. Raises ValueError for one of no known kind."""
    if address.startswith(HTTP):
        return WeatherService(address)
    if address.startswith(SERIAL):
        return SerialLine(address)
    raise ValueError(f"'{address[:60]}' is no address of a device: {', '.join((*SERIAL, *HTTP))} are known.")


def attached_from(text: str) -> Attached:
    """The devices that an environment names, as JSON; none where it is empty."""
    return Attached(json.loads(text) if text else {})
