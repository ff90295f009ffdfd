"""A gas set free in an open vessel, found by its loss of mass; backwards to the active substance and the claim."""
