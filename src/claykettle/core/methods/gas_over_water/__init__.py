"""Gas collected over water: molar volume from a known reagent, or equivalent and molar mass of an unknown metal."""
