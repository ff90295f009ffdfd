"""Elements, formulas and (later) equations, conditions and solubility, with their data files."""
