"""Filtering as a run of its own: how much solid a liquid held, and what share of a mixture that is."""
