"""Clay Kettle: plan, record and judge a chemistry practical."""

__version__ = "0.1.0"
