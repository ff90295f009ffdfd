"""The web: application factory, a blueprint a resource. No chemistry, no SQL."""

from claykettle.web.application import create_app

__all__ = ["create_app"]
