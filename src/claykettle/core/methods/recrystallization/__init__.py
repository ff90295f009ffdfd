"""Recrystallization: how much solvent, how much can come back, how much came."""
