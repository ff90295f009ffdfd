"""Devices that read for themselves, against the stand-ins that ship."""
