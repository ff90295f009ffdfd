"""Thermal decomposition: heat, weigh what stays, and see which equation it speaks for."""
