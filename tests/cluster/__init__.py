"""Three databases as one cluster, tried by hand: see `docs/operating.md`."""
