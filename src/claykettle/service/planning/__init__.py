"""Use cases before the day: sizes of samples, reagent tables, solutions."""
