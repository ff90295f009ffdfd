"""Precipitation and displacement: what runs out, how much can come, how much came, what is left over."""
