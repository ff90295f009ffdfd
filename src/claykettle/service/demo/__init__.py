"""The demo's data: an invented evening, played through the use cases."""

from claykettle.service.demo.player import evening, hold_the_class, seed_demo

__all__ = ["evening", "hold_the_class", "seed_demo"]
