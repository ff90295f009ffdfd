"""Formula by combination: an element heated with a second one in a lidded crucible; ratio, formula, yield, mixture."""
