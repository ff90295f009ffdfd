"""Composition of a hydrated metal halide: water by heating, metal by displacement, halide as what is left."""
