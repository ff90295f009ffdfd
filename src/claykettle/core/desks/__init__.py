"""The desks: formulas taken apart, equations put to use, photographs measured; they need no run."""
