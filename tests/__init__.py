"""All tests. A machine that stands still for a moment is no fault: drawn examples have no deadline."""

from hypothesis import settings

settings.register_profile("patient", deadline=None)
settings.load_profile("patient")
