"""Preparative synthesis: the reagent table, what limits, crude and pure yield, melting range, drip of an addition."""
