"""The demo's data: an invented evening, played through the use cases."""

from claykettle.service.demo.player import evening, seed_demo

__all__ = ["evening", "seed_demo"]
