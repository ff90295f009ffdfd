"""Use cases, carried out by `laboratory.py`. Its rooms import downwards: demo, planning, runs, shelf, views."""
