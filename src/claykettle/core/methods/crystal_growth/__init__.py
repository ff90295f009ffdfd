"""Crystal growth: one solution in equal portions, cooled in different ways, the crystals measured and compared."""
