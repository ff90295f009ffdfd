"""Devices that read for themselves: a balance on a line, a thermometer, a gas tube, a weather service. One interface.

A device is opened when somebody looks at it and closed again: whoever stands at another tablet may look next.
"""

from claykettle.devices.device import Device, Look, State
from claykettle.devices.opening import Attached, attached_from, device_at
from claykettle.devices.serial_line import SerialLine
from claykettle.devices.weather import WeatherService

__all__ = ["Attached", "Device", "Look", "SerialLine", "State", "WeatherService", "attached_from", "device_at"]
