"""A class while it runs: which bench to go to, what its results come to, when the last one will be done."""
