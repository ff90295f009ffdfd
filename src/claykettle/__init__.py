"""Clay Kettle: plan, record and judge a chemistry practical."""

__version__ = "0.5.0"
"""The one place where the version stands."""
